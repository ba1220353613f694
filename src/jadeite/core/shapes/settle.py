"""An option that is left alone takes what works: a usual value never refuses the usual shape."""

from __future__ import annotations

from collections.abc import Mapping, Set
from dataclasses import replace

from jadeite.core.boards import USUAL, Board, Fits
from jadeite.core.errors import FieldError, Way
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.model import Design
from jadeite.core.shapes.registry import OptionValue, ShapeFamily, Size

__all__ = ["measured_for", "settled_design"]

OPTION = "shape.options."
TRIES = 6  # options that may give way in one design; from memory

ROUNDER = {"ball": "round", "round": "block"}  # what else a form may be measured as


def measured_for(
    family: ShapeFamily, options: Mapping[str, OptionValue], form: str = "block"
) -> dict[str, OptionValue]:
    """The options, with the form of what goes in for each that asks for it."""
    out = dict(options)
    for option in family.options:
        if option.by_form and out[option.key] == option.default:
            taken = form
            while taken not in dict(option.choices):
                taken = ROUNDER[taken]
            out[option.key] = taken
    return out


def settled_design(
    family: ShapeFamily,
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    free: Set[str] = frozenset(),
    fits: Fits = USUAL,
) -> Design:
    """Build a family; options that are ``free`` (nobody chose them) give way to a refusal.

    What gave way stands in the design's ``settled``, with a note for each.  A usual value
    never warns about itself: what such an option alone would end is not said.

    Raises
    ------
    FieldError
        It cannot be built, whatever the free options are.
    """
    taken: dict[str, OptionValue] = {}
    why: list[str] = []
    for _ in range(TRIES):
        try:
            design = _built(family, inside, boards, {**options, **taken}, fits)
        except FieldError as error:
            way = next((w for w in error.ways if _within(w, free - set(taken))), None)
            if way is None:
                raise
            taken |= {path.removeprefix(OPTION): value for path, value in way}
            why.append(error.problem)
            continue
        ways = [(f, f.cure.changes) for f in design.findings if f.cure and f.level > Level.NOTE]
        found = next(((f, w) for f, w in ways if _within(w, free - set(taken))), None)
        if found is None:
            break
        taken |= {path.removeprefix(OPTION): value for path, value in found[1]}
        why.append(found[0].message.rstrip("."))
    left = free - set(taken)
    told = [f for f in design.findings if not (f.cure and _within(f.cure.changes, left))]
    design = replace(design, findings=tuple(told))
    if not taken:
        return design
    notes = tuple(_note(family, *item) for item in zip(taken.items(), why, strict=False))
    return replace(design, settled=taken, findings=(*design.findings, *notes))


def _built(
    family: ShapeFamily,
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits,
) -> Design:
    try:
        design = replace(family.build(inside, boards, options, fits), fits=fits)
    except ValueError as error:  # faces that shrink to nothing share no edge any more
        raise FieldError(
            "inside",
            "the board is too thick for so small a shape",
            "Use a thinner board, or a larger inside.",
        ) from error
    if family.judge is None:
        return design
    return replace(design, findings=(*design.findings, *family.judge(design, options)))


def _within(way: Way, free: Set[str]) -> bool:
    return bool(way) and all(
        p.startswith(OPTION) and p.removeprefix(OPTION) in free for p, _ in way
    )


def _note(family: ShapeFamily, setting: tuple[str, OptionValue], why: str) -> Finding:
    key, value = setting
    option = next(o for o in family.options if o.key == key)
    words = dict(option.choices).get(str(value), str(value))
    if option.unit and not isinstance(value, str):
        words = f"{value:g}"
    reason = f"{why[0].lower()}{why[1:]}"
    text = f"{option.label}: {words}, because with the usual choice {reason}."
    return Finding(Level.NOTE, "usual-gave-way", text, f"shape.options.{key}")
