"""The hollow and the design of a task; a hollow sized by its contents gives way to the shape."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from jadeite.core.boards import Board
from jadeite.core.contents import Arrangement
from jadeite.core.dressings import build_design
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.folding import JointReport
from jadeite.core.judgement import body_findings, passing_findings, swing_findings
from jadeite.core.nets import Design
from jadeite.core.pipeline.room import Size, asked_of, bodies_of, inside_of
from jadeite.core.project import Task
from jadeite.core.proof import prove
from jadeite.core.shapes import OptionValue, ShapeFamily
from jadeite.core.units import format_size, rounded_up

__all__ = ["AXES", "Made", "builder", "make", "roomier"]

ROOMIER = (1.0, 2.0, 3.0, 5.0, 10.0, 20.0, 40.0)  # mm added until a thing passes; from memory
SMALL = frozenset({"fold-short", "tab-shallow", "slot-near-edge"})
WIDER = (2.0, 5.0, 10.0)  # mm; from memory, by which a hollow may give way to folds and tabs
TRIES = 6  # lengths that may give way in one design; from memory
AXES = ("length", "width", "height")
Builder = Callable[[Size], Design]


@dataclass(frozen=True, eq=False)
class Made:
    """A design with its proof, the inside that it has (mm), and how things get in."""

    design: Design
    inside: Size
    joints: tuple[JointReport, ...]
    findings: tuple[Finding, ...]


def make(
    task: Task,
    arrangement: Arrangement | None,
    family: ShapeFamily,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
) -> Made:
    """Build and prove a task; sized by its contents, it is as large as the shape asks.

    Raises
    ------
    FieldError
        There is no size, or the shape cannot be of that size or board.
    """
    build = builder(task, arrangement, family, boards, options)
    inside = inside_of(task, arrangement, boards)
    free = asked_of(task, family, boards, options) is None
    design, inside, notes = _as_asked(build, inside, free=free)
    joints, found = prove(design)
    if any(f.level is Level.BLOCKED for f in found):
        return Made(design, inside, joints, (*found, *notes))
    if free and (more := _wider(build, inside, found)) is not None:
        design, inside, joints, found = more
        text = (
            f"Wider than the things need, so that it folds and holds: {format_size(inside)} inside."
        )
        notes.append(Finding(Level.NOTE, "made-wider", text, "inside", "contents"))
    ways = _getting_in(task, arrangement, design)
    if ways and free:
        room = roomier(task, arrangement, inside, build)
        if room is not None:
            larger, inside = room
            joints, found = prove(larger)
            text = f"Larger than the things need, so that they go in: {format_size(inside)} inside."
            note = Finding(Level.NOTE, "made-roomier", text, "inside", "contents")
            return Made(larger, inside, joints, (*found, *notes, note))
    return Made(design, inside, joints, (*found, *ways, *notes))


def _as_asked(build: Builder, inside: Size, *, free: bool) -> tuple[Design, Size, list[Finding]]:
    """The design; where the inside is free, lengths that are too short for it are made longer."""
    notes: list[Finding] = []
    for _ in range(TRIES):
        try:
            return build(inside), inside, notes
        except FieldError as error:
            larger = _larger(error, inside) if free else None
            if larger is None:
                raise
            axis, inside = larger
            why = f"{error.problem[0].upper()}{error.problem[1:]}"
            text = f"{why}: the inside is made {inside[AXES.index(axis)]:.1f} mm in {axis}."
            notes = [*notes, Finding(Level.NOTE, "made-larger", text, "inside", "contents")]
    return build(inside), inside, notes


def _wider(
    build: Builder, inside: Size, found: Sequence[Finding]
) -> tuple[Design, Size, tuple[JointReport, ...], tuple[Finding, ...]] | None:
    """The design with one length a little larger, where folds or tabs are too small as it is."""
    small = {f.code for f in found} & SMALL
    if not small:
        return None
    for more in WIDER:
        for axis in sorted(range(3), key=lambda a: inside[a]):
            grown = list(inside)
            grown[axis] = rounded_up(grown[axis] + more)
            x, y, z = grown
            try:
                design = build((x, y, z))
            except FieldError:
                continue
            joints, after = prove(design)
            if not any(f.level > Level.NOTE for f in after):
                return design, (x, y, z), joints, after
    return None


def _larger(error: FieldError, inside: Size) -> tuple[str, Size] | None:
    """The axis and the inside of the first way that makes one length longer."""
    for way in error.ways:
        path, value = way[0]
        axis = path.removeprefix("inside.")
        if len(way) == 1 and axis in AXES and value > inside[AXES.index(axis)]:
            grown = list(inside)
            grown[AXES.index(axis)] = float(value)
            return axis, (grown[0], grown[1], grown[2])
    return None


def _getting_in(task: Task, arrangement: Arrangement | None, design: Design) -> tuple[Finding, ...]:
    """Things that a ply runs into, else those that do not pass the mouth."""
    if design.hollow is None:
        return ()  # what lies on a face goes nowhere
    bodies = bodies_of(task, arrangement, design)
    hit = body_findings(bodies, design) or passing_findings(bodies, design)
    return (*hit, *swing_findings(bodies, design))


def roomier(
    task: Task, arrangement: Arrangement | None, inside: Size, build: Builder
) -> tuple[Design, Size] | None:
    """The design with the least of a few larger insides into which everything goes; mm."""
    for more in ROOMIER:
        x, y, z = (rounded_up(length + more) for length in inside)
        try:
            larger = build((x, y, z))
        except FieldError:
            return None
        if not _getting_in(task, arrangement, larger):
            return larger, (x, y, z)
    return None


def builder(
    task: Task,
    arrangement: Arrangement | None,
    family: ShapeFamily,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
) -> Builder:
    """A function from an inside in mm to the design of a task."""
    return lambda inside: build_design(family, inside, boards, options, arrangement, task)
