"""Everything known of a task at once: sizes, design, proof, findings."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from jadeite.core.assembly import (
    AssemblyPlan,
    Lift,
    adhesive_by_key,
    assembly_plan,
    lift_of,
)
from jadeite.core.boards import Board, Sag
from jadeite.core.choice import Comparison, Remedy, compare, floor_of, plies_on, remedies_for
from jadeite.core.contents import Arrangement, Light
from jadeite.core.dressings import (
    DIVIDER,
    boards_of,
    piece_colours,
)
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.folding import Body, JointReport
from jadeite.core.judgement import (
    board_findings,
    cautions,
    contents_findings,
    mass_of_contents,
    overlay_findings,
    round_findings,
    showing_findings,
    strength_findings,
)
from jadeite.core.nets import Design, piece_area
from jadeite.core.pipeline.cures import offered, refusal
from jadeite.core.pipeline.made import Made, builder, make, roomier
from jadeite.core.pipeline.room import Size, arrange_contents, bodies_of, inside_of, thing_names
from jadeite.core.project import Task, changed
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes import OptionValue, ShapeFamily, family_by_key, resolve_options
from jadeite.core.units import format_length

__all__ = ["Work", "work_up"]


@dataclass(frozen=True, eq=False)
class Work:
    """Everything known of a task at once; ``design`` is None when refused."""

    task: Task
    arrangement: Arrangement | None
    inside: Size
    family: ShapeFamily
    boards: Mapping[str, Board]
    design: Design | None
    joints: tuple[JointReport, ...]
    sizes: Mapping[str, Reckoning]
    findings: tuple[Finding, ...]
    sag: Sag | None

    @property
    def blocked(self) -> bool:
        """Whether a finding blocks."""
        return any(f.level is Level.BLOCKED for f in self.findings)

    @property
    def options(self) -> Mapping[str, OptionValue]:
        """Every option as it is made: chosen, usual, or what took the place of the usual."""
        chosen = resolve_options(self.family, self.task.shape.options)
        return chosen | (dict(self.design.settled) if self.design else {})

    @property
    def lit(self) -> bool:
        """Whether a light is among the contents."""
        return any(isinstance(thing, Light) for thing in self.task.contents)

    @cached_property
    def lift(self) -> Lift | None:
        """The movement from flat to closed."""
        return None if self.design is None else lift_of(self.design)

    @cached_property
    def assembly(self) -> AssemblyPlan | None:
        """Steps and times."""
        if self.design is None or self.lift is None:
            return None
        adhesive = adhesive_by_key(self.task.adhesive)
        return assembly_plan(self.design, self.lift, adhesive, thing_names(self.task))

    def comparison(self, focus: Sequence[str] = ()) -> Comparison:
        """What every board at hand means here, in the parts of ``focus`` or in all."""
        return compare(self.task, self.arrangement, self.inside, focus)

    def remedies(self, comparison: Comparison) -> tuple[Remedy, ...]:
        """What would make it hold; empty when it does."""
        task, between = self.task, None
        if task.dividers == "none" and sum(t.count for t in task.contents) > 1:
            other = changed(task, dividers="fitted")
            cells = arrange_contents(other, quick=True)
            if cells is not None:
                between = (cells, inside_of(other, cells, boards_of(other, self.family)))
        return remedies_for(task, self.arrangement, self.inside, comparison, between)

    @cached_property
    def colours(self) -> Mapping[str, str]:
        """Colour of each piece that has one."""
        return {} if self.design is None else piece_colours(self.task, self.design)

    @cached_property
    def bodies(self) -> tuple[Body, ...]:
        """The contents in the closed design."""
        if self.design is None:
            return ()
        return bodies_of(self.task, self.arrangement, self.design)


def _roomier(
    found: Sequence[Finding],
    task: Task,
    arrangement: Arrangement | None,
    inside: Size,
    build: Callable[[Size], Design],
) -> list[Finding]:
    """What cannot go in, with the inside that lets it in as the cure, if one of a few does."""
    codes = ("thing-cannot-pass", "thing-hits-board")
    if not any(f.code in codes for f in found):
        return list(found)
    more = roomier(task, arrangement, inside, build)
    if more is None:
        return list(found)
    words = " × ".join(format_length(v) for v in more[1])
    cure = Cure(f"Use {words} inside", (("brief.size", more[1]),))
    return [replace(f, cure=cure) if f.code in codes else f for f in found]


def work_up(task: Task, arrangement: Arrangement | None, *, cures: bool = True) -> Work:
    """Sizes, design, proof and findings of a task with an arrangement.

    Parameters
    ----------
    cures : bool
        Whether cures are offered, each tried on paper first: it takes a design and
        its proof for each.

    Raises
    ------
    FieldError
        Only for a key that does not exist (shape, board, option); a size that
        cannot be is a finding.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    mass = mass_of_contents(task)
    made: Made | None = None
    found: list[Finding] = []
    inside: Size = (0.0, 0.0, 0.0)
    sag = None

    def tried(then: Task) -> Sequence[Finding] | None:
        same = (then.contents, then.dividers) == (task.contents, task.dividers)
        same = same and then.brief.kind == task.brief.kind
        places = arrangement if same else arrange_contents(then, quick=True)
        work = work_up(then, places, cures=False)
        return None if work.design is None else work.findings

    try:
        inside = inside_of(task, arrangement, boards)
        made = make(task, arrangement, family, boards, options)
        inside, design = made.inside, made.design
        found += contents_findings(task, arrangement, inside)
        found += round_findings(task, arrangement, design)
        build = builder(task, arrangement, family, boards, options)
        known = made.findings
        found += _roomier(known, task, arrangement, inside, build) if cures else known
        found += overlay_findings(design, made.joints)
        found += showing_findings(design, family)
        found += design.findings
        if mass > 0 and design.hollow is not None and family.thin is None:  # a flat one lies
            floor = floor_of(task.contents, arrangement, inside, family.mouth)
            sag = floor.sag(boards[family.parts[0][0]], *plies_on(design), boards[DIVIDER])
        found += board_findings(task, arrangement, family, design, sag, inside, cures=cures)
        found += strength_findings(task, family, design, mass + _weight(design))
        found += cautions(task, design)
        if cures:
            found = offered(task, found, tried)
    except FieldError as error:
        if error.field == "contents":
            words = f"{error.problem[0].upper()}{error.problem[1:]}. {error.cure}"
            empty = Finding(Level.NOTE, "nothing-inside", words, "contents", "contents")
            found.append(empty)
        elif cures:
            found.append(refusal(error, task, inside, family, tried))
        else:
            found.append(
                Finding(Level.BLOCKED, "size-refused", str(error), error.field, "contents")
            )
    design_made = made.design if made else None
    joints = made.joints if made else ()
    sizes = dict(design_made.sizes) if design_made else {}
    sizes |= _totals(design_made, mass, joints)
    if sag is not None:
        sizes["floor-sag"], sizes["floor-sag-limit"] = sag.sag, sag.limit
    order = sorted(found, key=lambda f: -f.level)
    return Work(
        task, arrangement, inside, family, boards, design_made, joints, sizes, tuple(order), sag
    )


def _weight(design: Design) -> float:
    """Of all pieces, in g."""
    return sum(piece_area(p) * p.board.grammage / 1e6 for p in design.pieces)


def _totals(
    design: Design | None, mass: float, joints: tuple[JointReport, ...]
) -> dict[str, Reckoning]:
    if design is None:
        return {}
    areas = [(piece, piece_area(piece)) for piece in design.pieces]
    board = reckon(
        "Board used",
        sum(a for _, a in areas),
        "all panels of all pieces",
        *(given(piece.title, a, "mm2") for piece, a in areas),
        unit="mm2",
    )
    weight = reckon(
        "Finished weight",
        sum(a * p.board.grammage / 1e6 for p, a in areas),
        "area times grammage, contents not counted",
        *(
            given(f"{p.title}, {p.board.grammage:.0f} g/m²", a * p.board.grammage / 1e6, "g")
            for p, a in areas
        ),
        unit="g",
    )
    glued = [r for r in joints if r.joint.kind == "glue"]
    apart = max((abs(r.distance - r.wanted) for r in glued), default=0.0)
    closes = reckon(
        "Largest gap in a seam",
        apart,
        "distance of the plies against half of both thicknesses",
        given("glue joints", len(glued), ""),
    )
    return {
        "board-area": board,
        "weight": weight,
        "contents-mass": given("Contents", mass, "g"),
        "seam-gap": closes,
    }
