"""What a family of shapes offers; nothing imports a shape by name."""

from __future__ import annotations

import importlib
import importlib.metadata
import math
import pkgutil
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any

import numpy as np

from jadeite.core.boards import Board, Fits
from jadeite.core.contents.things import AnyThing
from jadeite.core.errors import FieldError, inside_way
from jadeite.core.findings import Cure, Finding
from jadeite.core.nets.model import Design
from jadeite.core.units import check_length, number_text, parse_length

__all__ = [
    "PURPOSES",
    "SOME",
    "Option",
    "OptionValue",
    "ShapeFamily",
    "all_families",
    "check_inside",
    "family_by_key",
    "left_out",
    "register",
    "resolve_options",
    "smaller",
]

OptionValue = float | str
AXES = ("length", "width", "height")
# what shapes are for, in the order of the shelf
PURPOSES = {
    "hold": "To hold",
    "light": "To light",
    "bloom": "To bloom",
    "write": "To write on",
    "stand": "To stand",
}
SOME, NONE = "some", "none"  # a part is made when a count is above 0, or a choice is not none
Size = tuple[float, float, float]


@dataclass(frozen=True)
class Option:
    """One thing that a maker may decide about a shape.

    A length has ``unit`` ``mm``, an angle ``deg``, a share ``%``, a whole number
    ``count``, each with ``low`` and ``high``; a choice has ``choices`` as pairs of
    key and label.  What is written in words of its own (``counts``, ``outlines``) is
    checked by ``words``, and kept as they give it back; ``shows`` are values that show
    what it does, ``most`` is how many such words there may be; ``lowest`` says what the least
    of a whole number means, where it is no number of something.  Where it acts ``only`` with
    some choices of others, those are named: one of them is enough.
    """

    key: str
    label: str
    default: OptionValue
    help: str
    unit: str = ""
    low: float = 0.0
    high: float = 0.0
    choices: tuple[tuple[str, str], ...] = ()
    by_form: bool = False  # its usual value stands for the choice named like what goes in
    ends: tuple[
        tuple[str, OptionValue, str], ...
    ] = ()  # code of a finding, value that ends it, words
    words: Callable[[str], str] | None = None
    shows: tuple[OptionValue, ...] = ()
    most: int = 1
    lowest: str = ""
    only: tuple[tuple[str, tuple[OptionValue, ...]], ...] = ()

    def acts(self, options: Mapping[str, OptionValue]) -> bool:
        """Whether it changes anything, as the others are chosen."""
        return not self.only or any(options[key] in values for key, values in self.only)

    @property
    def suffix(self) -> str:
        """What stands behind its numbers."""
        return {"mm": " mm", "deg": "°", "%": " %"}.get(self.unit, "")

    def accept(self, value: Any) -> OptionValue:
        """Check a value, typed or read from a file.

        Raises
        ------
        FieldError
            Not one of the choices, not a length, or out of range.
        """
        if self.words is not None:
            return self.words(value if isinstance(value, str) else f"{value:g}")
        if self.choices:
            keys = [key for key, _ in self.choices]
            if not isinstance(value, str) or value not in keys:
                raise FieldError(
                    self.key, f"“{str(value)[:40]}” is no choice", f"Use one of: {', '.join(keys)}."
                )
            return value
        if self.unit in ("count", "deg", "%"):
            return self._number(value)
        if isinstance(value, str):
            return parse_length(value, field=self.key, low=self.low, high=self.high)
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise FieldError(
                self.key,
                "it is not a number",
                f"Use {number_text(self.low)} to {number_text(self.high)} mm.",
            )
        return check_length(float(value), field=self.key, low=self.low, high=self.high)

    def _number(self, value: Any) -> float:
        """A count or an angle, typed or read."""
        cure = f"Use {number_text(self.low)} to {number_text(self.high)}{self.suffix}."
        try:
            number = float(value.strip().rstrip("°% ")) if isinstance(value, str) else float(value)
        except (TypeError, ValueError):
            number = math.nan
        if isinstance(value, bool) or not self.low <= number <= self.high:  # refuses nan too
            shown = str(value)[:20]
            raise FieldError(self.key, f"“{shown}” is outside the range", cure)
        if self.unit == "count" and number != round(number):
            raise FieldError(self.key, f"“{number_text(number)}” is no whole number", cure)
        return number

    def to_json(self) -> dict[str, Any]:
        """The record of ``jadeite shapes --json``."""
        out: dict[str, Any] = {
            "key": self.key,
            "label": self.label,
            "unit": self.unit,
            "default": self.default,
        }
        if self.choices:
            out["choices"] = [key for key, _ in self.choices]
        else:
            out["min"], out["max"] = self.low, self.high
        out["help"] = self.help
        if self.only:
            out["only-with"] = {key: list(values) for key, values in self.only}
        return out


@dataclass(frozen=True)
class ShapeFamily:
    """A family: its options, its parts, and its pure builder.

    ``build(inside, boards, options, fits)`` takes the inside size in mm, a board for each part, a
    value for every option, and the eases and gaps. ``board_area(inside, boards, options)`` gives
    the board it takes in mm², quickly and rising with every length: arranging contents compares
    with it. No inside
    length is less than ``smallest`` or more than ``largest`` (mm); ``short`` is the title on
    the docket. ``mouth`` is the axis along which things go in; a part in ``when`` is made only
    with that value of an option, with so much of it or more where it is a number; one in
    ``follows`` has the board of another until it is given its own, one in ``usual`` the board
    named there; ``roof`` closes the hollow, ``carries`` is the part by which all is lifted.
    ``cures`` are changes that make it stronger: key, words, the figures that they are good for,
    and dotted fields with their values. ``smaller`` names for parts what makes several small
    pieces of one that fits no sheet: words, and dotted fields with their values; ``lessens``
    an option of which less makes its pieces smaller: key, the least that still does, steps in
    which it is tried, and words with a place for it. ``answers``
    are the kinds of briefs that it answers, its usual one first; ``build`` is for that one: the
    size of a face is its width, its height, and by how much what it carries raises it.
    ``within`` gives the inside (mm) of a closed width and height, where a shape with a hollow
    answers a face as well. ``way`` is how things go in that are simply put in; on a face they
    keep the ``border`` that its options say (mm).
    ``judge(design, options)`` says what of this shape needs a look, besides what holds for
    everything; a cure of an option that nobody chose is taken by itself.
    ``tones(colours, options)`` gives the colours (#rrggbb) of parts that were given none,
    from those that were.
    ``window`` is the pattern that its walls have at first, lined: it is there to let light out;
    ``sheet`` that it is lined then by sheets, one behind each net.
    ``names`` says that each copy bears a name of its own, ``posted`` that it goes by post.
    ``moves`` are options that no net depends on, such as how far a card is open, with values at
    which all must close as well.
    ``purpose`` is a key of :data:`PURPOSES`; ``thin`` is the range of the third length
    where that is another; ``starts`` is the width and height in mm of one of which nothing
    is known, 0 where the height is as it comes.
    """

    key: str
    title: str
    short: str
    about: str
    parts: tuple[tuple[str, str], ...]
    options: tuple[Option, ...]
    build: Callable[[Size, Mapping[str, Board], Mapping[str, OptionValue], Fits], Design]
    board_area: Callable[[Any, Mapping[str, Board], Mapping[str, OptionValue]], Any]
    smallest: float
    largest: float
    mouth: int = 2
    when: Mapping[str, tuple[str, OptionValue]] = field(default_factory=dict)
    follows: Mapping[str, str] = field(default_factory=dict)
    usual: Mapping[str, str] = field(default_factory=dict)
    roof: str = ""
    carries: str = ""
    cures: tuple[tuple[str, str, tuple[str, ...], tuple[tuple[str, object], ...]], ...] = ()
    purpose: str = "hold"
    answers: tuple[str, ...] = ("hollow",)
    within: (
        Callable[[tuple[float, float], Mapping[str, Board], Mapping[str, OptionValue]], Size] | None
    ) = None
    takes: Callable[[AnyThing, Mapping[str, OptionValue]], AnyThing] | None = None
    thin: tuple[float, float] | None = None
    starts: tuple[float, float] = (100.0, 100.0)
    border: Callable[[Mapping[str, OptionValue]], float] | None = None
    judge: Callable[[Design, Mapping[str, OptionValue]], Sequence[Finding]] | None = None
    tones: Callable[[Mapping[str, str], Mapping[str, OptionValue]], Mapping[str, str]] | None = None
    smaller: Mapping[str, tuple[str, tuple[tuple[str, object], ...]]] = field(default_factory=dict)
    lessens: Mapping[str, tuple[str, float, float, str]] = field(default_factory=dict)
    window: str = ""
    sheet: bool = False
    names: bool = False
    posted: bool = False
    moves: tuple[tuple[str, ...], tuple[float, ...]] | None = None

    @property
    def least(self) -> Size:
        """The least of each length of what it is sized by, in mm."""
        return self.smallest, self.smallest, self.thin[0] if self.thin else self.smallest

    @property
    def most(self) -> Size:
        """The most of each length of what it is sized by, in mm."""
        return self.largest, self.largest, self.thin[1] if self.thin else self.largest

    @property
    def flat(self) -> bool:
        """Whether it is never thick: an envelope, a pocket.  It bears nothing."""
        return self.thin is not None and self.thin[1] < self.largest

    @property
    def parts_for_one_board(self) -> list[str]:
        """The parts that have a board which is chosen for all: others follow, or need their own."""
        free = [p for p, _ in self.parts if p not in self.follows and p not in self.usual]
        return free or [self.parts[0][0]]

    def __reduce__(self) -> tuple[Callable[[str], ShapeFamily], tuple[str]]:
        """Between processes only its key travels."""
        return family_by_key, (self.key,)

    def cure_for(self, code: str) -> Cure | None:
        """The option that ends findings of a code, if there is one."""
        for option in self.options:
            for known, value, words in option.ends:
                if known == code:
                    return Cure(words, ((f"shape.options.{option.key}", value),))
        return None

    def parts_made(self, options: Mapping[str, OptionValue]) -> tuple[tuple[str, str], ...]:
        """The parts that are made with these options, as key and title."""
        return tuple(
            (part, title)
            for part, title in self.parts
            if part not in self.when or self._asked(options, *self.when[part])
        )

    @staticmethod
    def _asked(options: Mapping[str, OptionValue], key: str, wanted: OptionValue) -> bool:
        value = options[key]
        if isinstance(wanted, float):  # so much, or so many in a list
            much = len(value.split()) if isinstance(value, str) else value
            return much >= wanted
        if wanted == SOME:
            return value != NONE if isinstance(value, str) else value > 0
        return value == wanted


def check_inside(inside: Size, names: tuple[str, str, str], low: float, high: float) -> None:
    """Refuse an inside length in mm that a shape cannot have.

    Raises
    ------
    FieldError
        It names the length, and the nearest that works.
    """
    for axis, value in zip(names, inside, strict=True):
        if not low <= value <= high:  # refuses nan too
            near = high if value > low else low
            raise FieldError(
                f"inside {axis}",
                f"{number_text(value)} mm is outside what this shape can be",
                f"Use {number_text(near)} mm.",
                (inside_way(axis, near),) if axis in AXES else (),
            )


def smaller(length: Any, other: float) -> Any:
    """The lesser of a length, or of each of an array of lengths, and a number; mm."""
    return np.minimum(length, other) if isinstance(length, np.ndarray) else min(length, other)


GROUP = "jadeite.families"  # entry points by which installed packages bring their families
_FAMILIES: dict[str, ShapeFamily] = {}
_PROBLEMS: list[str] = []


def register(family: ShapeFamily) -> ShapeFamily:
    """Put a family on the shelf.

    Raises
    ------
    ValueError
        Another has its key.
    """
    if family.key in _FAMILIES:
        raise ValueError(f"a family {family.key!r} is there already; none is registered twice")
    _FAMILIES[family.key] = family
    return family


@cache
def _load() -> None:
    package = importlib.import_module("jadeite.core.shapes.families")
    for module in pkgutil.iter_modules(package.__path__):
        importlib.import_module(f"{package.__name__}.{module.name}")
    for entry in importlib.metadata.entry_points(group=GROUP):
        try:
            family = entry.load()
            if not isinstance(family, ShapeFamily):
                raise TypeError(f"{entry.value} is no ShapeFamily")
            register(family)
        except Exception as error:  # whatever it is, it is not ours to fall over
            _PROBLEMS.append(f"Shape “{entry.name}” of an installed package is left out: {error}.")


def left_out() -> tuple[str, ...]:
    """Why families of installed packages are not on the shelf, a sentence for each."""
    _load()
    return tuple(_PROBLEMS)


def all_families() -> tuple[ShapeFamily, ...]:
    """Every family, in the order of their titles."""
    _load()
    return tuple(sorted(_FAMILIES.values(), key=lambda f: f.title))


def family_by_key(key: str) -> ShapeFamily:
    """The family with this key.

    Raises
    ------
    FieldError
        No such family; the text lists the keys.
    """
    _load()
    if key not in _FAMILIES:
        raise FieldError(
            "shape", f"there is no shape “{key[:40]}”", f"Use one of: {', '.join(_FAMILIES)}."
        )
    return _FAMILIES[key]


def resolve_options(family: ShapeFamily, chosen: Mapping[str, Any]) -> dict[str, OptionValue]:
    """Every option of a family with its chosen or default value.

    Raises
    ------
    FieldError
        An option the family does not have, or a value out of range.
    """
    known = {option.key: option for option in family.options}
    for key in chosen:
        if key not in known:
            raise FieldError(
                "shape options",
                f"{family.key} has no option “{key[:40]}”",
                f"Use one of: {', '.join(known)}.",
            )
    return {
        key: option.accept(chosen[key]) if key in chosen else option.default
        for key, option in known.items()
    }
