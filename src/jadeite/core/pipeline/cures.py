"""Cures are tried on paper before they are offered: each ends what it is offered for.

A cure that does not end its finding, or brings a worse one, is left out; a
refusal that nothing ends says that this is no shape for what goes in.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from jadeite.core.errors import FieldError, JadeiteError, Way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.pipeline.made import AXES
from jadeite.core.pipeline.room import Size
from jadeite.core.project import Task, with_change
from jadeite.core.shapes import ShapeFamily
from jadeite.core.units import format_size, number_text, rounded_up

__all__ = ["cured", "ends", "offered", "refusal"]

SIZED = {"hollow": "contents", "span": "finished width"}  # what a shape goes by
LARGER = (1.15, 1.4, 1.8, 2.5)  # times the inside, tried where nothing better is known; from memory
MOST_TRIED = 8  # cures of one task; from memory, nobody takes more before the next look
OPTION, BOARD = "shape.options.", "boards."
# what is known of a task once it is changed: its findings, None where it is refused
Tried = Callable[[Task], Sequence[Finding] | None]


def cured(task: Task, cure: Cure) -> Task:
    """The task with a cure taken.

    Raises
    ------
    FieldError
        The document does not allow it.
    """
    for path, value in cure.changes:
        task = with_change(task, path, value)
    return task


def ends(finding: Finding, before: Sequence[Finding], after: Sequence[Finding] | None) -> bool:
    """Whether a finding is gone, and nothing worse came in its place."""
    if after is None:
        return False
    if any(f.code == finding.code and f.where == finding.where for f in after):
        return False
    known = {(f.code, f.where) for f in before}
    fresh = [f for f in after if (f.code, f.where) not in known]
    return all(f.level <= finding.level and f.level < Level.BLOCKED for f in fresh)


def offered(task: Task, found: Sequence[Finding], tried: Tried) -> list[Finding]:
    """The findings, worst first, with only those cures that end them; a few are tried at once."""
    out, left = [], MOST_TRIED
    for finding in sorted(found, key=lambda f: -f.level):
        if finding.cure is not None:
            works = left > 0 and _works(task, finding.cure, finding, found, tried)
            left -= 1
            finding = finding if works else replace(finding, cure=None)
        out.append(finding)
    return out


def _works(
    task: Task, cure: Cure, finding: Finding, found: Sequence[Finding], tried: Tried
) -> bool:
    try:
        then = cured(task, cure)
        return then != task and ends(finding, found, tried(then))
    except (JadeiteError, KeyError, IndexError):
        return False


def refusal(
    error: FieldError, task: Task, inside: Size, family: ShapeFamily, tried: Tried
) -> Finding:
    """What a shape refuses, with the first cure that makes it; or that it is no shape for this."""
    finding = Finding(Level.BLOCKED, "size-refused", str(error), error.field, "contents")
    for cure in _candidates(error, inside, family):
        if _works(task, cure, finding, (finding,), tried):
            return replace(finding, message=_words(error, cure), cure=cure)
    words = (
        f"{error.problem[0].upper()}{error.problem[1:]}. It is no shape for this: choose another."
    )
    return replace(finding, code="no-shape-for-it", message=words)


def _words(error: FieldError, cure: Cure) -> str:
    """What is refused; the words for its cure only where they say what the button does."""
    number = cure.label.removeprefix("Use ").rstrip(".")
    if error.cure and (number in error.cure or not error.ways):
        return str(error)
    return f"{error.field}: {error.problem}. {cure.label}."


def _candidates(error: FieldError, inside: Size, family: ShapeFamily) -> Iterator[Cure]:
    """What might end a refusal: its own ways, what the shape can be, a larger inside."""
    for way in error.ways:
        yield Cure(_label(way, family), tuple(_change(path, value, inside) for path, value in way))
    if not any(inside):
        return
    near = _fitted(inside, family)
    if near != inside:
        yield _inside_cure(near)
    for times in LARGER:
        yield _inside_cure(_fitted([rounded_up(times * v) for v in inside], family))


def _fitted(inside: Iterable[float], family: ShapeFamily) -> Size:
    ends = zip(inside, family.least, family.most, strict=True)
    x, y, z = (min(max(v, low), high) for v, low, high in ends)
    return x, y, z


def _inside_cure(inside: Size) -> Cure:
    return Cure(f"Use {format_size(inside)} inside", (("brief.size", inside),))


def _change(path: str, value: Any, inside: Size) -> tuple[str, Any]:
    axis = path.removeprefix("inside.")
    if axis not in AXES:
        return path, value
    changed = list(inside)
    changed[AXES.index(axis)] = float(value)
    return "brief.size", (changed[0], changed[1], changed[2])


def _label(way: Way, family: ShapeFamily) -> str:
    """What the button says."""
    words = []
    for path, value in way:
        if path.startswith("splits."):
            words.append("Leave it whole")
        elif path == "brief.size":
            words.append("Use " + " × ".join(number_text(v) for v in value) + " mm")
        elif path == "brief":
            words.append(f"Size it by its {SIZED.get(value['kind'], value['kind'])}")
        elif path.startswith(OPTION):
            option = next(o for o in family.options if o.key == path.removeprefix(OPTION))
            if option.choices or option.words is not None:
                words.append(f"{option.label}: {dict(option.choices).get(value, value)}")
            else:
                places = 0 if option.unit == "count" else 1
                words.append(f"Use {number_text(value, places)}{option.suffix}")
        elif path.startswith(BOARD):
            part = dict(family.parts)[path.removeprefix(BOARD)]
            words.append(f"{part}: use {value.replace('-', ' ')}")
        else:
            words.append(f"Use {number_text(value)} mm")
    return ", ".join(words)
