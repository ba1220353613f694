"""The shipped typeface, for PDF and for measuring text."""

from __future__ import annotations

from functools import cache
from importlib.resources import as_file, files

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

__all__ = ["FONT_FILES", "font_name", "spelled", "text_width", "wrapped"]

FONT_FILES = {weight: f"AtkinsonHyperlegibleNext-{weight}.ttf" for weight in (400, 600, 700)}


# signs that the shipped typeface does not have, as words
WORDS = str.maketrans(
    {"√": "root of ", "π": "pi", "α": "alpha", "δ": "delta", "∞": "infinity",
     "≥": "at least ", "≤": "at most "}
)  # fmt: skip


def spelled(text: str) -> str:
    """Text with signs that the typeface lacks spelled out: a printed box says nothing."""
    return text.translate(WORDS)


@cache
def _register() -> None:
    folder = files("jadeite.assets") / "fonts"
    for weight, name in FONT_FILES.items():
        with as_file(folder / name) as path:
            pdfmetrics.registerFont(TTFont(f"Jadeite{weight}", str(path)))


def font_name(weight: int) -> str:
    """Name under which the PDF writer knows a weight."""
    _register()
    return f"Jadeite{min(FONT_FILES, key=lambda w: abs(w - weight))}"


def text_width(text: str, size: float, weight: int = 400) -> float:
    """Width of a line of text, in the unit of ``size``."""
    return float(pdfmetrics.stringWidth(spelled(text), font_name(weight), size))


def wrapped(text: str, size: float, width: float, weight: int = 400) -> list[str]:
    """Text broken into lines no wider than ``width``."""
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if line and text_width(longer, size, weight) > width:
            lines.append(line)
            line = word
        else:
            line = longer
    return [*lines, line] if line else lines
