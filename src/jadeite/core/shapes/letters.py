"""An envelope as a letter: which standard it is, and what the post may ask more for."""

from __future__ import annotations

from collections.abc import Mapping

from jadeite.core.contents.standards import ENVELOPES, next_larger, standard_of
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.model import Design
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.units import listed, number_text

__all__ = ["judge_letter"]

POST_THICK = 6.35  # mm (0.25 in); common practice, a thicker letter usually costs extra
POST_STIFF = 2.0  # mm of what lies in it; from memory, so much board does not bend
POST_SQUARE = 1.05  # long side over short; from memory, a letter nearer to a square costs extra


def judge_letter(design: Design, options: Mapping[str, OptionValue]) -> tuple[Finding, ...]:
    """Which standard it is, or which would do, and what the post may ask more for."""
    width, height, whole = (
        design.sizes[f"outside-{axis}"].value for axis in ("width", "height", "thickness")
    )
    found = []
    standard = standard_of(width, height, ENVELOPES)
    larger = next_larger(width, height, ENVELOPES)
    words = ""
    if standard is not None:
        words = f"Closed it is {standard.name} ({standard.source})."
    elif larger is not None:
        words = (
            f"The next envelope that is sold is {larger.name}, {number_text(larger.long, 0)} × "
            f"{number_text(larger.short, 0)} mm ({larger.source})."
        )
    if words:
        found.append(Finding(Level.NOTE, "standard-envelope", words, "size", "contents"))
    long = max(width, height) / min(width, height)
    why = ["thicker than 6.35 mm (¼ in)"] if whole > POST_THICK else []
    why += ["square"] if long < POST_SQUARE else []
    stiff = design.sizes["inside-thickness"].value >= POST_STIFF
    why += ["too stiff for the rollers that sort it"] if stiff else []
    why += ["closed by a string"] if options["closing"] == "string" else []
    if why:
        words = f"A letter that is {listed(why)} usually costs extra: ask at your post office."
        found.append(Finding(Level.NOTE, "post-extra", words, "size", "contents"))
    return tuple(found)
