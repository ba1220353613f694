"""Curls by hand: over what, which way, and how long a curved seam wants to be held."""

from __future__ import annotations

import math
from collections.abc import Iterable

from jadeite.core.boards.fit_rules import smallest_roll
from jadeite.core.nets.bends import ROLLED, tightest_roll
from jadeite.core.nets.model import Design, Joint, Piece
from jadeite.core.nets.roles import Role

__all__ = ["curl_words", "seconds_held"]

OPENS = 1.6  # times the tool's diameter to which a curl springs back; from memory
HOLD, HAND = 30.0, 85.0  # s for a hand's width of a curved seam, and mm; from memory
THICK = 60.0  # mm; from memory, a thicker rod is not at hand, a bottle or a tin is


def curl_words(design: Design, piece: Piece) -> str:
    """How a piece is curled: a tool's diameter, where the good side comes, what goes along."""
    folds = [f for f in piece.tree if f.kind == ROLLED and abs(f.angle) > 1]
    out = {f.mark for f in folds if piece.panel(f.child).role is Role.GORE}
    side = {"mountain": "good side outwards, ", "valley": "good side inwards, "}
    way = side[out.pop()] if len(out) == 1 else ""
    along = ", with the ply glued behind it" if _behind(design, piece) else ""
    return f"Over {_tool(design, piece)}, {way}along the faint lines{along}; it springs back a bit."


def _behind(design: Design, piece: Piece) -> list[Piece]:
    """Pieces whose bends are made with those of this one."""
    ridden = design.arrivals.ridden
    names = dict.fromkeys(own for (own, _), (carrier, _) in ridden.items() if carrier == piece.name)
    return [design.piece(name) for name in names]


def _tool(design: Design, piece: Piece) -> str:
    """Words for what it is curled over: thinner than the curl, not so thin that board kinks."""
    wanted = tightest_roll(piece)
    plies = [piece, *_behind(design, piece)]
    least = sum(smallest_roll(p.board).value for p in plies)
    across = math.ceil(max(least, (wanted or 0.0) / OPENS))
    what = "a rod" if across <= THICK else "a bottle or a tin"
    return f"{what} of {across} mm"


def seconds_held(design: Design, joints: Iterable[Joint]) -> float:
    """Time in s for which curved seams are held while their glue takes, beyond straight ones."""
    long = 0.0
    for joint in joints:
        tab = design.piece(joint.tab[0]).panel(joint.tab[1])
        if tab.role is Role.TAB and _is_bent(design.piece(joint.target[0]), joint.target[1]):
            long += tab.size[0]
    return HOLD * long / HAND


def _is_bent(piece: Piece, panel: str) -> bool:
    """Whether a panel is a facet of something curled."""
    return piece.panel(panel).role is Role.GORE and any(
        f.kind == ROLLED and abs(f.angle) > 1 and panel in (f.parent, f.child) for f in piece.tree
    )
