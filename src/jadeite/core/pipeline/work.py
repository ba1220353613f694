"""Everything known of a task at once: sizes, design, proof, findings."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.assembly import (
    AssemblyPlan,
    Lift,
    School,
    adhesive_by_key,
    assembly_plan,
    lift_of,
    schools_of,
)
from jadeite.core.boards import Board, Sag
from jadeite.core.choice import Comparison, Remedy, compare, remedies_for
from jadeite.core.contents import Arrangement, Light
from jadeite.core.contents.things import Triple
from jadeite.core.dressings import (
    boards_of,
    piece_colours,
)
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.folding import Body, JointReport, folded_faces
from jadeite.core.nets import Design
from jadeite.core.pictures.seen import Seen, seen_from_above
from jadeite.core.pipeline.room import (
    Size,
    arrange_contents,
    bodies_of,
    bought_bodies,
    inside_of,
    thing_names,
)
from jadeite.core.pipeline.stages import STAGES, begun, refused
from jadeite.core.project import Task, changed
from jadeite.core.reckoning import Reckoning
from jadeite.core.shapes import OptionValue, ShapeFamily, resolve_options

__all__ = ["Work", "work_up"]


@dataclass(frozen=True, eq=False)
class Work:
    """Everything known of a task at once; ``design`` is None when refused.

    ``task`` is as it stands in the document, ``settled`` with the boards that took the
    place of usual ones that would not hold.
    """

    task: Task
    settled: Task
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
    def holds(self) -> bool:
        """Whether things stand in it, on a floor."""
        return self.family.answers[0] == "hollow"

    @property
    def lit(self) -> bool:
        """Whether a light is among the contents."""
        return bool(self.lamps)

    @property
    def lamps(self) -> frozenset[str]:
        """Names of the lights among the contents."""
        return frozenset(t.name for t in self.task.contents if isinstance(t, Light))

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

    @cached_property
    def schools(self) -> tuple[School, ...]:
        """What each adhesive would mean for it."""
        if self.design is None or self.lift is None:
            return ()
        return schools_of(self.design, self.lift, thing_names(self.task))

    @property
    def school(self) -> School | None:
        """What the chosen adhesive means for it."""
        return next((s for s in self.schools if s.adhesive.key == self.task.adhesive), None)

    @cached_property
    def solid(self) -> tuple[Triple, float] | None:
        """Extents in mm over every ply as it is put away, and its mass with contents in g.

        None where it is not made.
        """
        if self.design is None:
            return None
        mass = self.sizes["weight"].value + self.sizes["contents-mass"].value
        if self.design.put_away is not None:
            return self.design.put_away, mass
        ends = []
        for face in folded_faces(self.design):
            half = face.thickness / 2 * face.normal
            ends += [face.points + half, face.points - half]
        ends += [points for body in bought_bodies(self.design) for points in body.faces]
        x, y, z = np.ptp(np.concatenate(ends), axis=0).tolist()
        return (x, y, z), mass

    @cached_property
    def seen(self) -> tuple[Seen, ...]:
        """What is seen of each part from above, where layers that are seen are counted."""
        if self.design is None or "layers-seen" not in self.sizes:
            return ()
        return seen_from_above(self.design)

    def comparison(self, focus: Sequence[str] = ()) -> Comparison:
        """What every board at hand means here, in the parts of ``focus`` or in all."""
        return compare(self.settled, self.arrangement, self.inside, focus)

    def remedies(self, comparison: Comparison) -> tuple[Remedy, ...]:
        """What would make it hold; empty when it does."""
        task, between = self.settled, None
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
        """The contents in the closed design, and what is bought and seen on it."""
        if self.design is None:
            return ()
        return (*bodies_of(self.task, self.arrangement, self.design), *bought_bodies(self.design))


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

    def tried(then: Task) -> Sequence[Finding] | None:
        same = (then.contents, then.dividers) == (task.contents, task.dividers)
        same = same and then.brief.kind == task.brief.kind
        places = arrangement if same else arrange_contents(then, quick=True)
        work = work_up(then, places, cures=False)
        return None if work.design is None else work.findings

    known = begun(task, arrangement, tried if cures else None)
    for stage in STAGES:
        try:
            known = stage(known)
        except FieldError as error:
            known = refused(known, error)
            break
    made = known.made
    return Work(
        task,
        known.task,
        arrangement,
        known.inside,
        known.family,
        known.boards,
        made.design if made else None,
        made.joints if made else (),
        known.sizes,
        tuple(sorted(known.found, key=lambda f: -f.level)),
        known.sag,
    )
