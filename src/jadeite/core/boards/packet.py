"""Read a board off its packet: “65 lb cover”, “176 gsm”, “10 pt”, “2 mm”.

What the words do not say is estimated and marked so: thickness from grammage
and a usual bulk, or the other way round.
"""

from __future__ import annotations

import math
import re
from dataclasses import replace

from jadeite.core.boards.board import (
    HEAVIEST,
    THICKEST,
    Board,
    BoardError,
    Pressure,
    ScoreKind,
    estimated_grammage,
    estimated_thickness,
)
from jadeite.core.boards.grammage import (
    BASIS_SIZES,
    grammage_from_basis_weight,
    kinds_of_pounds,
)
from jadeite.core.reckoning import Mark

__all__ = ["POINT", "board_from_words", "handling", "key_from"]

POINT = 0.0254  # mm in a point of caliper, a thousandth of an inch; exact
SAMPLES = "65 lb cover, 176 gsm, 10 pt or 2 mm"
# thinnest and lightest board that makes sense; from memory
THINNEST, LIGHTEST = 0.01, 8.0
SAME_KINDS = {"book": "text", "offset": "text", "ledger": "bond", "writing": "bond"}
# up to this thickness in mm: how folds are prepared; from memory, as in the catalogue
SCORES: tuple[tuple[float, ScoreKind], ...] = (
    (0.125, "no"),
    (0.175, "light"),
    (0.31, "yes"),
    (0.75, "wheel"),
    (math.inf, "hinge"),
)
PASSES_PER_MM = 6.0  # from memory, as chipboard of 1 and 2 mm
ONE_PASS, TWO_PASSES, FIRMER = 0.31, 0.75, 0.255  # mm; from memory, as in the catalogue

_NUMBER = r"(\d+(?:[.,]\d+)?|[.,]\d+)"
_POUNDS = re.compile(_NUMBER + r"\s*(?:lbs?\b\.?|pounds?\b|#)", re.IGNORECASE)
_GSM = re.compile(_NUMBER + r"\s*(?:gsm\b|g\s*/\s*m(?:2|²|\^2)|g(?:rams?)?\b)", re.IGNORECASE)
_POINTS = re.compile(_NUMBER + r"\s*(?:pts?\b\.?|points?\b|mils?\b)", re.IGNORECASE)
_MM = re.compile(_NUMBER + r"\s*(?:mm\b|millimet(?:re|er)s?\b)", re.IGNORECASE)
_INCH = re.compile(
    r"(?:(\d+)\s*/\s*(\d+)|" + _NUMBER + r")\s*(?:in\b\.?|inch(?:es)?\b|\"|″)", re.IGNORECASE
)
_KINDS = re.compile(r"\b(" + "|".join([*BASIS_SIZES, *SAME_KINDS]) + r")\b", re.IGNORECASE)
_LEFT = re.compile(r"^[\s,;:/()-]+|[\s,;:/()-]+$|\b(?:card\s*stock|weight|wt)\b", re.IGNORECASE)


def _take(pattern: re.Pattern[str], text: str) -> tuple[re.Match[str] | None, str]:
    found = pattern.search(text)
    if found is None:
        return None, text
    return found, f"{text[: found.start()]} {text[found.end() :]}"


def _number(word: str) -> float:
    return float(word.replace(",", "."))


def handling(thickness: float) -> tuple[ScoreKind, int, Pressure]:
    """How a board of a thickness in mm is scored and cut: score, passes, pressure."""
    score = next(kind for limit, kind in SCORES if thickness <= limit)
    if thickness <= ONE_PASS:
        return score, 1, "firmer" if thickness > FIRMER else "usual"
    passes = 2 if thickness <= TWO_PASSES else math.ceil(PASSES_PER_MM * thickness)
    return score, min(60, passes), "usual"


def key_from(title: str) -> str:
    """A key for a title: lower case with hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:60] or "board"


def _range(what: str, value: float, low: float, high: float, unit: str) -> float:
    if not low <= value <= high:
        raise BoardError(what, f"{value:g} {unit} is no board", f"Use {low:g} to {high:g} {unit}.")
    return value


def board_from_words(text: str) -> Board:
    """A board from what its packet says.

    Pounds need the kind of paper beside them, because the same number of
    pounds means another weight for each.  Words that are no measure become
    the title.

    Raises
    ------
    BoardError
        Nothing to go by, pounds without a kind, or a measure out of range; the
        text says what would do.
    """
    words = " ".join(text.split())[:120]
    pounds, rest = _take(_POUNDS, words)
    gsm, rest = _take(_GSM, rest) if pounds is None else (None, rest)
    points, rest = _take(_POINTS, rest)
    mm, rest = _take(_MM, rest) if points is None else (None, rest)
    inch, rest = _take(_INCH, rest) if points is None and mm is None else (None, rest)
    if not any((pounds, gsm, points, mm, inch)):
        raise BoardError(
            "board",
            f"“{words[:40]}” says no weight and no thickness",
            f"Type what the packet says, as {SAMPLES}.",
        )
    basis: tuple[str, float] | None = None
    grammage = thickness = None
    if pounds is not None:
        value = _number(pounds[1])
        kind, rest = _take(_KINDS, rest)
        if kind is None:
            _range("basis weight", value, 0.5, 2000, "lb")
            raise BoardError(
                "board", f"{value:g} lb of what", f"Say the kind: {kinds_of_pounds(value)}."
            )
        name = SAME_KINDS.get(kind[1].lower(), kind[1].lower())
        basis = (name, value)
        grammage = grammage_from_basis_weight(_range("basis weight", value, 0.5, 2000, "lb"), name)
    elif gsm is not None:
        grammage = _number(gsm[1])
    if points is not None:
        thickness = _number(points[1]) * POINT
    elif mm is not None:
        thickness = _number(mm[1])
    elif inch is not None:
        share = _number(inch[3]) if inch[3] else float(inch[1]) / max(float(inch[2]), 1e-9)
        thickness = share * POINT * 1000
    if thickness is not None:
        _range("thickness", thickness, THINNEST, THICKEST, "mm")
    if grammage is not None:
        _range("grammage", grammage, LIGHTEST, HEAVIEST, "g/m²")
    measured = thickness is not None
    t = thickness if thickness is not None else estimated_thickness(grammage or 0.0)
    g = grammage if grammage is not None else estimated_grammage(t)
    _range("thickness", t, THINNEST, THICKEST, "mm")
    _range("grammage", g, LIGHTEST, HEAVIEST, "g/m²")
    title = " ".join(_LEFT.sub(" ", rest).split()).strip(" ,;:-")
    said = " ".join(words.split())
    shown = said if not title else title[0].upper() + title[1:]
    score, passes, pressure = handling(t)
    board = Board(
        key_from(said),
        shown[:60],
        g,
        t,
        score,
        passes,
        pressure,
        note=f"as its packet says: {said}" if title else "",
        mark=Mark.PUBLISHED if basis else Mark.GIVEN,
        basis=basis,
        thickness_from="measured" if measured else "grammage",
        grammage_from="given" if grammage is not None else "thickness",
    )
    if score == "hinge":  # thick enough to be greyboard: it dusts when cut
        board = replace(board, dusty=True, stiff_along=3.5, stiff_across=2.0)
    return board
