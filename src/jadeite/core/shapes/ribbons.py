"""Ribbons that tie a shape: how they lie on it, and how much is cut off."""

from __future__ import annotations

import math
from collections.abc import Sequence

from jadeite.core.nets.bought import Bought
from jadeite.core.nets.closed_form import Face
from jadeite.core.nets.ties import ribbon_length, round_it, slit_in

__all__ = ["ribbon_round"]


def ribbon_round(
    piece: str, faces: Sequence[Face], at: float, width: float, ground: float
) -> Bought:
    """A ribbon through a slit in each of some faces that stand round a middle, with its bow.

    ``at`` is the height of the slits above each face's foot, ``ground`` that of the table; mm.
    """
    slits = [slit_in(face.space(), at) for face in faces]
    strips = round_it(slits, width, ground)
    length = float(math.ceil(ribbon_length(strips)))
    return Bought("ribbon", width, length, "", "", (piece, faces[0].name), strips=strips)
