"""The rings of a figure in shares of its picture, and the words in which they are kept."""

from __future__ import annotations

import re

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon

from jadeite.core.errors import FieldError

__all__ = ["Rings", "regions_of", "rings_from_words", "words_of_rings"]

Rings = tuple[NDArray[np.float64], ...]
MOST_RINGS, MOST_CORNERS = 24, 900  # of an outline; from memory, more no blade follows
MOST_WORDS = 250_000  # letters of an outline as it is kept; as many corners as may be
WHOLE = 10_000  # parts of the longer side in which an outline is kept: 0.02 mm on a whole page
RING = re.compile(r"-?\d{1,5},-?\d{1,5}( -?\d{1,5},-?\d{1,5}){2,}")


def words_of_rings(rings: Rings) -> str:
    """Rings in shares as they are kept: whole numbers, ``x,y x,y …``, rings parted by ``;``."""
    return ";".join(
        " ".join(f"{x},{y}" for x, y in np.round(ring * WHOLE).astype(int).tolist())
        for ring in rings
    )


def rings_from_words(words: str, field: str) -> Rings:
    """The other way round.

    Raises
    ------
    FieldError
        It is no outline, or one that cannot be cut.
    """
    cure = "Find the outline in a picture, or read a drawing."
    parts = words.split(";")
    if len(words) > MOST_WORDS or len(parts) > MOST_RINGS or not all(map(RING.fullmatch, parts)):
        raise FieldError(field, f"“{words[:30]}” is no outline", cure)
    rings = tuple(
        np.array([pair.split(",") for pair in part.split()], float) / WHOLE for part in parts
    )
    if any(np.abs(ring).max() > 1.0 for ring in rings) or regions_of(rings).is_empty:
        raise FieldError(field, "its outline reaches beyond its picture", cure)
    return rings


def regions_of(rings: Rings) -> MultiPolygon:
    """What rings enclose, even-odd; (n, 2) each."""
    out = MultiPolygon()
    for ring in rings:
        out = out.symmetric_difference(shapely.make_valid(Polygon(ring)))
    return MultiPolygon(
        [p for p in shapely.get_parts(out) if isinstance(p, Polygon) and p.area > 0]
    )
