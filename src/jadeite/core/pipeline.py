"""From the document to everything that is computed from it.

    Project -> fit -> design -> proof and findings
                        |-> layout -> cutting plan
                        '-> lift -> assembly plan

Each arrow is one function with one result; :func:`work_up` runs the quick
ones, :func:`plan_sheets` lays out and plans the cutting.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial

import numpy as np

from jadeite.core.assembly import (
    AssemblyPlan,
    Lift,
    adhesive_by_key,
    assembly_plan,
    lift_of,
)
from jadeite.core.boards import Board, Sag, least_grammage, with_own
from jadeite.core.choice import Comparison, Remedy, compare, floor_of, plies_on, remedies_for
from jadeite.core.contents import OBJECTIVES, Arrangement, Light, Room, arrange, arrange_all
from jadeite.core.cutting import CuttingPlan, cutting_plan, profile_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.folding import Body, JointReport
from jadeite.core.judgement import (
    board_findings,
    body_findings,
    cautions,
    contents_findings,
    mass_of_contents,
    overlay_findings,
    passing_findings,
    round_findings,
    showing_findings,
)
from jadeite.core.nets import Design, piece_area
from jadeite.core.nets.halves import HALVES
from jadeite.core.nets.split import best_split
from jadeite.core.parts import (
    DIVIDER,
    LINING,
    boards_of,
    build_design,
    divided,
    lining_room,
    pane_of,
    parts_of,
    piece_colours,
)
from jadeite.core.placing import bodies_in
from jadeite.core.project import Project, Window, changed
from jadeite.core.proof import prove
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes import ShapeFamily, family_by_key, resolve_options
from jadeite.core.shapes.windows import with_window
from jadeite.core.sheets import Layout, lay_out
from jadeite.core.units import format_length, number_text

__all__ = [
    "SheetWork",
    "Work",
    "arrange_contents",
    "arrangements_of",
    "boards_of",
    "bodies_of",
    "divided",
    "mass_of_contents",
    "parts_of",
    "plan_sheets",
    "room_of",
    "thing_names",
    "windows_from",
    "windows_in_walls",
    "work_up",
]

ROOMIER = (5.0, 10.0, 20.0, 40.0)  # mm added to an inside until a thing passes; from memory
Size = tuple[float, float, float]


def room_of(project: Project) -> Room:
    """What the project's shape says of its hollow."""
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    boards = boards_of(project, family)
    return Room(
        lambda size: family.board_area(size, boards, options),
        least_grammage(with_own(project.own_boards), mass_of_contents(project)),
        project.inside,
        family.smallest,
        family.mouth,
        project.clearance,
        project.dividers if divided(project, family) else "none",
        boards[DIVIDER].thickness,
    )


def arrange_contents(
    project: Project, step: Callable[[float, str], None] | None = None, *, quick: bool = False
) -> Arrangement | None:
    """The best arrangement of the project's contents; may take seconds unless ``quick``."""
    return arrange(project.contents, room_of(project), project.objective, step=step, quick=quick)


def arrangements_of(
    project: Project, step: Callable[[float, str], None] | None = None
) -> dict[str, Arrangement]:
    """The best arrangement for every objective, the project's own first."""
    keys = [project.objective, *(k for k in OBJECTIVES if k != project.objective)]
    return arrange_all(project.contents, room_of(project), keys, step=step)


def thing_names(project: Project) -> list[str]:
    """Names of the things, with their counts."""
    return [t.name if t.count == 1 else f"{t.count} × {t.name}" for t in project.contents]


def bodies_of(
    project: Project, arrangement: Arrangement | None, design: Design, facets: int = 24
) -> tuple[Body, ...]:
    """The things in their places in the shared space of the closed design."""
    if arrangement is None:
        return ()
    mouth = family_by_key(project.shape.key).mouth
    return bodies_in(project.contents, arrangement, design, mouth, facets)


@dataclass(frozen=True, eq=False)
class Work:
    """Everything known of a project at once; ``design`` is None when refused."""

    project: Project
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
    def lit(self) -> bool:
        """Whether a light is among the contents."""
        return any(isinstance(thing, Light) for thing in self.project.contents)

    @cached_property
    def lift(self) -> Lift | None:
        """The movement from flat to closed."""
        return None if self.design is None else lift_of(self.design)

    @cached_property
    def assembly(self) -> AssemblyPlan | None:
        """Steps and times."""
        if self.design is None or self.lift is None:
            return None
        adhesive = adhesive_by_key(self.project.adhesive)
        return assembly_plan(self.design, self.lift, adhesive, thing_names(self.project))

    def comparison(self, focus: Sequence[str] = ()) -> Comparison:
        """What every board at hand means here, in the parts of ``focus`` or in all."""
        return compare(self.project, self.arrangement, self.inside, focus)

    def remedies(self, comparison: Comparison) -> tuple[Remedy, ...]:
        """What would make it hold; empty when it does."""
        project, between = self.project, None
        if project.dividers == "none" and sum(t.count for t in project.contents) > 1:
            other = changed(project, dividers="fitted")
            cells = arrange_contents(other, quick=True)
            if cells is not None:
                between = (cells, _inside(other, cells, boards_of(other, self.family)))
        return remedies_for(project, self.arrangement, self.inside, comparison, between)

    @cached_property
    def colours(self) -> Mapping[str, str]:
        """Colour of each piece that has one."""
        return {} if self.design is None else piece_colours(self.project, self.design)

    @cached_property
    def bodies(self) -> tuple[Body, ...]:
        """The contents in the closed design."""
        if self.design is None:
            return ()
        return bodies_of(self.project, self.arrangement, self.design)


@dataclass(frozen=True, eq=False)
class SheetWork:
    """The layout, the cutting plan, and what they have to say."""

    layout: Layout
    cutting: CuttingPlan
    findings: tuple[Finding, ...]


def _inside(project: Project, arrangement: Arrangement | None, boards: Mapping[str, Board]) -> Size:
    if project.inside is not None:
        return project.inside
    if arrangement is None:
        raise FieldError(
            "contents",
            "nothing is to go in yet",
            "Add a thing, or type the inside size.",
        )
    x, y, z = arrangement.inside
    dx, dy, dz = lining_room(project, boards)
    return x + dx, y + dy, z + dz


def _with_more_room(
    found: list[Finding],
    project: Project,
    arrangement: Arrangement | None,
    inside: Size,
    build: Callable[..., Design],
) -> list[Finding]:
    """What cannot pass, with the inside that lets it pass as the cure, if one of a few does."""
    for more in ROOMIER:
        x, y, z = (math.ceil(10 * (length + more)) / 10 for length in inside)
        try:
            larger = build(inside=(x, y, z))
        except FieldError:
            break
        if not passing_findings(bodies_of(project, arrangement, larger), larger):
            words = " × ".join(format_length(v) for v in (x, y, z))
            cure = Cure(f"Use {words} inside", (("inside", (x, y, z)),))
            return [replace(finding, cure=cure) for finding in found]
    return found


def work_up(project: Project, arrangement: Arrangement | None) -> Work:
    """Sizes, design, proof and findings of a project with an arrangement.

    Raises
    ------
    FieldError
        Only for a key that does not exist (shape, board, option); a size that
        cannot be is a finding.
    """
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    boards = boards_of(project, family)
    mass = mass_of_contents(project)
    design: Design | None = None
    joints: tuple[JointReport, ...] = ()
    found: list[Finding] = []
    inside: Size = (0.0, 0.0, 0.0)
    sag = None
    try:
        inside = _inside(project, arrangement, boards)
        found += contents_findings(project, arrangement, inside)
        design = build_design(family, inside, boards, options, arrangement, project)
        joints, proof = prove(design)
        found += proof
        found += round_findings(project, arrangement, design)
        if not any(f.level is Level.BLOCKED for f in found):
            bodies = bodies_of(project, arrangement, design)
            hits = body_findings(bodies, design)
            found += hits
            if not hits and (passing := passing_findings(bodies, design)):
                build = partial(build_design, family, boards=boards, options=options,
                                arrangement=arrangement, project=project)  # fmt: skip
                found += _with_more_room(passing, project, arrangement, inside, build)
        found += overlay_findings(design, joints)
        found += showing_findings(design, family)
        found += design.findings
        if mass > 0:
            floor = floor_of(project.contents, arrangement, inside, family.mouth)
            sag = floor.sag(boards[family.parts[0][0]], *plies_on(design), boards[DIVIDER])
        found += board_findings(project, arrangement, family, design, sag, inside)
        found += cautions(project, design)
    except FieldError as error:
        empty = error.field == "contents"
        found.append(
            Finding(
                Level.NOTE if empty else Level.BLOCKED,
                "nothing-inside" if empty else "size-refused",
                f"{error.problem[0].upper()}{error.problem[1:]}. {error.cure}"
                if empty
                else str(error),
                error.field,
                "contents",
                _nearest(inside, family),
            )
        )
    sizes = dict(design.sizes) if design else {}
    sizes |= _totals(design, mass, joints)
    if sag is not None:
        sizes["floor-sag"], sizes["floor-sag-limit"] = sag.sag, sag.limit
    order = sorted(found, key=lambda f: -f.level)
    return Work(
        project, arrangement, inside, family, boards, design, joints, sizes, tuple(order), sag
    )


def windows_in_walls(
    project: Project, arrangement: Arrangement | None, window: Window, *, vary: bool
) -> tuple[Window, ...]:
    """The same window in every wall of its piece that can have one.

    ``vary`` lets its pattern move on from wall to wall.
    """
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    boards = boards_of(project, family)
    bare = changed(project, windows=(), overlays=())
    inside = _inside(project, arrangement, boards)
    design = build_design(family, inside, boards, options, arrangement, bare)
    each = window.lined and project.linings == "each"
    lining = boards[LINING] if each else None

    def frame_of(one: Window) -> float | None:
        """The frame that a window gets in a panel; None where it has no place."""
        try:
            made = with_window(design, one.piece, one.panel, pane_of(one, project), lining)
        except FieldError:
            return None  # glued over, or too small: it stays whole
        return made.sizes["window-1-frame"].value

    walls = [p.name for p in design.piece(window.piece).panels if p.role == "wall"]
    wanted = [
        _moved_on(window, name, k if vary else window.number, window.frame)
        for k, name in enumerate(walls)
    ]
    frames = [frame for frame in map(frame_of, wanted) if frame is not None]
    # one frame for all: an uneven one is seen first
    widest = math.ceil(10 * max(frames, default=window.frame)) / 10
    even = [_moved_on(one, one.panel, one.number, widest) for one in wanted]
    return tuple(one for one in even if frame_of(one) is not None)


def windows_from(
    project: Project, arrangement: Arrangement | None, where: str, motif: str, *, lined: bool
) -> tuple[Window, ...]:
    """Windows as they are named in words: ``piece/panel``, or ``walls`` of the first piece.

    Raises
    ------
    FieldError
        There is no such piece or pattern, or no wall is wide enough.
    """
    pane_of(Window(piece="walls", panel="walls", motif=motif), project)
    if where != "walls":
        piece, _, panel = where.partition("/")
        return (Window(piece=piece, panel=panel or piece, motif=motif, lined=lined),)
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    boards = boards_of(project, family)
    inside = _inside(project, arrangement, boards)
    design = build_design(family, inside, boards, options, arrangement, project)
    first = design.pieces[0].name
    wanted = Window(piece=first, panel="walls", motif=motif, lined=lined)
    made = windows_in_walls(project, arrangement, wanted, vary=True)
    if not made:
        raise FieldError(
            "windows", "no wall is wide enough for its frame", "Use a larger inside, or no lining."
        )
    return made


def _moved_on(window: Window, panel: str, number: int, frame: float) -> Window:
    """A window in another panel, its pattern moved on."""
    return Window(**{**window.model_dump(), "panel": panel, "number": number, "frame": frame})


def _nearest(inside: Size, family: ShapeFamily) -> Cure | None:
    """The nearest inside that the shape can have."""
    if not any(inside):
        return None
    near = tuple(min(max(v, family.smallest), family.largest) for v in inside)
    if near == inside:
        return None
    text = " × ".join(number_text(v) for v in near)
    return Cure(f"Use {text} mm", (("inside", near),))


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


def plan_sheets(
    project: Project, design: Design, step: Callable[[float, str], None] | None = None
) -> SheetWork:
    """Lay the pieces out on the stock and plan the cutting."""
    profile = profile_by_key(project.cutter)
    layout = lay_out(
        design.pieces,
        project.stock,
        copies=project.copies,
        reach=profile.reach,
        margin=profile.margin,
        free_turns=project.free_turns,
        colours=piece_colours(project, design),
        grain=project.grain,
        step=step,
    )
    found = []
    for name, copies in _count(layout.unplaced).items():
        piece = design.piece(name)
        points = np.concatenate([panel.outline for panel in piece.panels])
        width, height = np.ptp(points, axis=0)
        size = f"{format_length(width)} × {format_length(height)}"
        short = any(stock.count is not None for stock in project.stock)
        why = (
            "The stock does not suffice for"
            if short
            else "No sheet at hand that the cutter reaches holds"
        )
        rooms = [
            (min(s.width, profile.reach[0]) - 2 * profile.margin,
             min(s.height, profile.reach[1]) - 2 * profile.margin)
            for s in project.stock
        ] + [
            (min(s.height, profile.reach[0]) - 2 * profile.margin,
             min(s.width, profile.reach[1]) - 2 * profile.margin)
            for s in project.stock
        ]  # fmt: skip
        other = family_by_key(project.shape.key).smaller.get(name.rpartition("-")[0])
        split = None if short or other else best_split(design, piece, rooms, _closes)
        words, cure = "", None
        if other:
            words, cure = f", or {other[0][:1].lower()}{other[0][1:]}", Cure(*other)
        in_two = "" if split is None or split.child == HALVES else "in two "
        if split:
            words = f", or cut it {in_two}{split.title}"
            cure = Cure(f"Cut it {split.title}", ((f"splits.{name}", split.child),))
        found.append(
            Finding(
                Level.LOOK,
                "piece-fits-no-sheet",
                f"{why} {copies} × {piece.title} ({size}): add a larger sheet or another cutter"
                f"{words}.",
                name,
                "sheets",
                cure,
            )
        )
    return SheetWork(
        layout, cutting_plan(design.pieces, layout, profile, project.heavier), tuple(found)
    )


def _closes(design: Design) -> bool:
    return not any(f.level is Level.BLOCKED for f in prove(design)[1])


def _count(unplaced: tuple[tuple[str, int], ...]) -> dict[str, int]:
    out: dict[str, int] = {}
    for name, _ in unplaced:
        out[name] = out.get(name, 0) + 1
    return out
