"""Lengths as makers type and read them; inside the program all is mm.

A typed length keeps its exact value.  Fractions of an inch are a display:
:func:`format_length` puts ``~`` before a fraction that is not the value.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from fractions import Fraction
from typing import Literal

from jadeite.core.errors import FieldError

__all__ = [
    "INCH",
    "MAX_LENGTH",
    "System",
    "all_of",
    "check_length",
    "counted",
    "format_area",
    "format_duration",
    "format_length",
    "format_size",
    "in_runs",
    "in_system",
    "listed",
    "number_text",
    "numbered",
    "parse_face",
    "parse_length",
    "parse_size",
    "plural",
    "rounded_down",
    "rounded_up",
]

INCH = 25.4  # mm; exact by definition (international inch, 1959)
MAX_LENGTH = 5000.0  # mm; from memory, beyond any sheet or roll of paper
FINE_INCH = 0.125  # of an inch; common practice, less is told in thousandths
FRACTION = 16  # parts of an inch in a display; common practice
TINY = 1e-9  # mm; rounding
EXACT = 0.005  # mm; from memory, a display closer than this counts as exact

System = Literal["mm", "inches"]

# mm in one of each; exact
_FACTORS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": INCH, '"': INCH}
_NUMBER = r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?"
_LENGTH = re.compile(
    rf"""\s*(?:
        (?P<whole>\d+)\s*[\s-]\s*(?P<top>\d+)\s*/\s*(?P<bottom>\d+)
      | (?P<ftop>\d+)\s*/\s*(?P<fbottom>\d+)
      | (?P<number>{_NUMBER})
    )\s*(?P<unit>mm|cm|m|inches|inch|in\.?|"|″|'')?\s*""",
    re.VERBOSE,
)
_EXAMPLE = 'Type a length such as 70, 7 cm, 2 3/4 in or 2.75".'


def _unit(word: str | None, fraction: bool, system: System) -> str:
    if word is None:  # nobody writes 2-3/4 of a millimetre
        return "in" if fraction or system == "inches" else "mm"
    if word in ("inches", "inch", "in", "in.", '"', "″", "''"):
        return "in"
    return word


def parse_length(
    text: str,
    system: System = "mm",
    *,
    field: str = "length",
    low: float = 0.0,
    high: float = MAX_LENGTH,
) -> float:
    """Read a length as a person writes it.

    Parameters
    ----------
    text : str
        ``70``, ``7 cm``, ``7,5 cm``, ``2 3/4 in``, ``2.75"``, ``2-3/4``.
        A bare number is in the unit of ``system``; a bare fraction is inches.
    system : "mm" or "inches"
        What a number without a unit means.
    field : str
        Named in the error.
    low, high : float
        mm; the range allowed, both ends included, but 0 itself is refused
        when ``low`` is 0.

    Returns
    -------
    float
        mm, exact.

    Raises
    ------
    FieldError
        Not a length, or outside the range.
    """
    match = _LENGTH.fullmatch(text[:60].strip().removeprefix("~")) if len(text) <= 60 else None
    if match is None:
        shown = text if len(text) <= 24 else text[:24] + "…"
        raise FieldError(field, f"“{shown}” is not a length", _EXAMPLE)
    part = match.groupdict()
    fraction = part["number"] is None
    if fraction:
        bottom = int(part["bottom"] or part["fbottom"])
        if bottom == 0:
            raise FieldError(field, "a fraction cannot have 0 below its line", _EXAMPLE)
        value = int(part["whole"] or 0) + int(part["top"] or part["ftop"]) / bottom
    else:
        value = float(part["number"].replace(",", "."))
    mm = value * _FACTORS[_unit(part["unit"], fraction, system)]
    return check_length(mm, field=field, low=low, high=high, system=system)


def check_length(
    mm: float,
    *,
    field: str = "length",
    low: float = 0.0,
    high: float = MAX_LENGTH,
    system: System = "mm",
) -> float:
    """Return ``mm`` if it is a finite length in range, else raise FieldError.

    Raises
    ------
    FieldError
        It is no length, or out of range.
    """
    cure = (
        f"Use {format_length(max(low, 0.1), system)} to {format_length(high, system)}."
        if low > 0
        else f"Use more than 0 and no more than {format_length(high, system)}."
    )
    if not math.isfinite(mm):
        raise FieldError(field, "it is not a finite number", cure)
    if mm < low or mm > high or (low == 0 and mm <= 0):
        raise FieldError(field, f"{number_text(mm)} mm is outside the range", cure)
    return mm


def parse_size(text: str, *, field: str = "size") -> tuple[float, float, float]:
    """Read ``96x64x41mm`` (also with × or *, any unit) as three lengths in mm.

    A unit at the end holds for all three unless one carries its own.
    """
    names = ("length", "width", "height")
    x, y, z = _lengths(text, field, names, "three lengths", "Type it as 96x64x41mm.")
    return x, y, z


def parse_face(text: str, *, field: str = "face") -> tuple[float, float]:
    """Read ``105x148mm`` as a width and a height in mm; see :func:`parse_size`."""
    names = ("width", "height")
    x, y = _lengths(text, field, names, "a width and a height", "Type it as 105x148mm.")
    return x, y


def _lengths(text: str, field: str, names: tuple[str, ...], what: str, cure: str) -> list[float]:
    """Lengths in mm with a cross between them."""
    parts = re.split(r"\s*[x×*]\s*", text.strip())
    if len(parts) != len(names):
        raise FieldError(field, f"“{text[:24]}” is not {what}", cure)
    tail = re.search(r'(mm|cm|inches|inch|in|m|")\s*$', parts[-1])
    unit = tail.group(1) if tail else ""
    return [
        parse_length(p if re.search(r'[a-z"]\s*$', p) else p + unit, field=f"{field}, {name}")
        for p, name in zip(parts, names, strict=True)
    ]


def number_text(value: float, places: int = 1) -> str:
    """A number with fixed places, a true minus sign and no negative zero."""
    if not math.isfinite(value):
        return "–"
    if abs(value) >= 1e15:
        return f"{value:.3g}"
    text = f"{value:.{places}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def counted(count: int, word: str) -> str:
    """A number of things: “1 sheet”, “2 sheets”."""
    return f"{count} {word if count == 1 else plural(word)}"


def all_of(count: int, word: str) -> str:
    """So many things together: “the piece”, “both pieces”, “all 7 pieces”."""
    if count == 1:
        return f"the {word}"
    return f"both {plural(word)}" if count == 2 else f"all {count} {plural(word)}"


def listed(words: Sequence[str]) -> str:
    """Words in a row: "a, b and c"."""
    if len(words) == 1:
        return words[0]
    return ", ".join(words[:-1]) + " and " + words[-1]


def numbered(titles: Sequence[str]) -> str:
    """Words for one title, or for several that are counted: "gores 1 to 6"."""
    stem, _, number = titles[0].rpartition(" ")
    if len(titles) == 1 or not number.isdigit():
        return titles[0]
    numbers = [title.rpartition(" ")[2] for title in titles]
    if len(numbers) == 2:
        return f"{plural(stem)} {numbers[0]} and {numbers[1]}"
    if numbers == [str(int(number) + i) for i in range(len(numbers))]:
        return f"{plural(stem)} {number} to {numbers[-1]}"
    return f"{plural(stem)} {listed(numbers)}"


def in_runs(words: Sequence[str]) -> str:
    """The same, numbered ones together: "the leaf ring and rings 1 to 4"."""
    runs: list[tuple[str, list[int]]] = []
    for word in words:
        name, _, end = word.rpartition(" ")
        number = int(end) if name and end.isdecimal() else 0
        if number and runs and runs[-1][0] == name and runs[-1][1][-1:] == [number - 1]:
            runs[-1][1].append(number)
        else:
            runs.append((name, [number]) if number else (word, []))
    out = []
    for name, numbers in runs:
        first, *more = numbers or [0]
        if not numbers:
            out.append(name)
        elif len(more) > 1:
            out.append(f"{plural(name)} {first} to {more[-1]}")
        else:
            out += [f"{name} {number}" for number in numbers]
    return listed(out)


def plural(word: str) -> str:
    """What several of a thing are called: sheets, plies, leaves, passes."""
    if word.endswith(("leaf", "half")):
        return f"{word[:-1]}ves"
    if word.endswith(("s", "x", "ch", "sh")):
        return f"{word}es"
    if word.endswith("y") and word[-2:-1] not in "aeiou":
        return f"{word[:-1]}ies"
    return f"{word}s"


def rounded_up(value: float, places: int = 1) -> float:
    """The least number with so many decimals that is no smaller: a cure must suffice."""
    scale = 10.0**places
    up = math.ceil(value * scale - TINY * scale) / scale
    return up if up >= value else math.ceil(value * scale) / scale


def rounded_down(value: float, places: int = 1) -> float:
    """The largest number with so many decimals that is no larger."""
    return -rounded_up(-value, places)


def _inches(mm: float) -> str:
    inches = Fraction(round(abs(mm) / INCH * FRACTION), FRACTION)
    whole, rest = divmod(inches, 1)
    text = f"{whole} {rest}" if whole and rest else str(rest or whole)
    sign = "−" if mm < 0 and inches else ""
    exact = abs(float(inches) * INCH - abs(mm)) <= EXACT
    return f"{'' if exact else '~'}{sign}{text}"


def format_length(mm: float, system: System = "mm", *, places: int = 1, unit: bool = True) -> str:
    """Show a length: ``70.0 mm``, ``2 3/4 in``, ``~2 3/4 in``.

    Millimetres are rounded to ``places``; inches to 1/16, and the text begins
    with ``~`` when that is not the value.
    """
    if not math.isfinite(mm):
        return "–"
    if system == "mm":
        return f"{number_text(mm, places)} mm" if unit else number_text(mm, places)
    return f"{_inches(mm)} in" if unit else _inches(mm)


_IN_WORDS = re.compile(
    r"(?<![\w.])(?P<all>\d+(?:\.\d+)?(?:(?: × | to | or | and )\d+(?:\.\d+)?)*) ?mm(?![\w²³])"
)


def in_system(words: str, system: System) -> str:
    """A sentence whose lengths are in mm, with these in the wanted system.

    Sixteenths of an inch where that says enough; under an eighth of one, thousandths.
    """
    if system == "mm" or "mm" not in words:
        return words

    def shown(found: re.Match[str]) -> str:
        parts = re.split(r"( × | to | or | and )", found["all"])
        return (
            "".join(_in_words(float(p)) if i % 2 == 0 else p for i, p in enumerate(parts)) + " in"
        )

    return _IN_WORDS.sub(shown, words)


def _in_words(mm: float) -> str:
    if 0 < mm < FINE_INCH * INCH:
        return f"{mm / INCH:.3f}"
    return _inches(mm)


def format_size(
    sizes: tuple[float, ...], system: System = "mm", *, places: int = 1, unit: bool = True
) -> str:
    """Show several lengths as ``96.0 × 64.0 × 41.0 mm``."""
    if system == "mm":
        text = " × ".join(number_text(s, places) for s in sizes)
        return f"{text} mm" if unit else text
    shown = [_inches(s) for s in sizes]
    about = "~" if any(s.startswith("~") for s in shown) else ""
    text = about + " × ".join(s.removeprefix("~") for s in shown)
    return f"{text} in" if unit else text


def format_area(mm2: float, system: System = "mm") -> str:
    """Show an area given in mm² as cm², from a m² on as m², or as square inches."""
    if system == "mm" and mm2 < 1e6:
        return f"{number_text(mm2 / 100, 0)} cm²"
    if system == "mm":
        return f"{number_text(mm2 / 1e6, 2)} m²"
    return f"{number_text(mm2 / INCH**2, 0)} sq in"


def format_duration(seconds: float) -> str:
    """Show a time as ``40 s``, ``14 min`` or ``1 h 06``."""
    if seconds < 60:
        return f"{round(seconds)} s"
    minutes = round(seconds / 60)
    return f"{minutes} min" if minutes < 60 else f"{minutes // 60} h {minutes % 60:02d}"
