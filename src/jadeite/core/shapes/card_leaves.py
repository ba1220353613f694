"""The leaves of a folded card: two, a front of two halves like a gate, or three as a letter's."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.nets.builder import NetBuilder
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.mounted import standing_leaf
from jadeite.core.shapes.registry import OptionValue

__all__ = ["CARD", "LEAVES", "Leaves", "leaves_of"]

CARD, FRONT, BACK = "card", "front", "back"
TWO, GATE, THREE = "two", "gate", "three"
LEAVES = ((TWO, "two"), (GATE, "gate"), (THREE, "three"))
GAP = 1.0  # mm between the halves of a gate; from memory, so that they do not catch
LESS = 1.5  # mm by which the leaf that lies inside is narrower; from memory
WIDER = 75.0  # degrees: three leaves stand at least so far open, or they would cross


@dataclass(frozen=True, eq=False)
class Leaves:
    """A card's net, and how it stands open; ``fronts`` bear layers, ``inner`` a panel inside.

    ``plies`` are the leaves that lie on one another where it is thickest.
    """

    card: Piece
    place: Floats
    fronts: tuple[str, ...]
    inner: tuple[str, ...]
    plies: int
    sizes: Mapping[str, Reckoning]


def leaves_of(
    width: float, height: float, board: Board, options: Mapping[str, OptionValue]
) -> Leaves:
    """The leaves of a card of a closed width and height in mm."""
    how, opens = options["leaves"], float(options["opens"])
    if how == TWO:
        return _two(width, height, board, opens, top=options["fold"] == "top")
    net = NetBuilder(CARD, CARD, board)
    back = net.base(BACK, width, height, BACK)
    back.role = Role.LEAF
    place = np.diag([-1.0, 0.0, 0.0, 1.0])  # upright, its good side away from the one who looks
    place[:3, 1], place[:3, 2], place[2, 3] = (0.0, 0.0, 1.0), (0.0, 1.0, 0.0), height / 2
    if how == GATE:
        half = (width - GAP) / 2
        for side, name in (("right", "front-left"), ("left", "front-right")):
            title = f"{name.removeprefix('front-')} front"
            net.wall(name, back.side(side), half, turn=180.0 - opens, title=title, role=Role.LEAF)
        flat = reckon(
            "Flat, across the folds", 2 * width - GAP,
            "the back and both halves of the front, which meet in the middle",
            given("closed, width", width), constant("between the halves", GAP, "mm", Mark.MEMORY),
        )  # fmt: skip
        folds = reckon("Folds from either edge", half, "half of the width, less half of the gap",
                       given("closed, width", width))  # fmt: skip
        sizes = {"flat-length": flat, "fold-from-edge": folds}
        fronts = ("front-left", "front-right")
        return Leaves(net.build(), place, fronts, (BACK, *fronts), 2, sizes)
    turn = 180.0 - max(WIDER, WIDER + opens / 2)
    inside = width - LESS
    net.wall(FRONT, back.side("right"), width, turn=turn, title=FRONT, role=Role.LEAF)
    net.wall("flap", back.side("left"), inside, turn=turn, title="leaf inside", role=Role.LEAF)
    flat = reckon(
        "Flat, across the folds", 3 * width - LESS,
        "three leaves; the one that lies inside is a little narrower, so that it does not bind",
        given("closed, width", width), constant("narrower by", LESS, "mm", Mark.MEMORY),
    )  # fmt: skip
    edge = reckon("Fold from the front's edge", width, "the closed width",
                  given("closed, width", width))  # fmt: skip
    other = reckon("Fold from the inner edge", inside, "a little less", given("flat", 3 * width))
    sizes = {"flat-length": flat, "fold-from-edge": edge, "fold-from-inner-edge": other}
    return Leaves(net.build(), place, (FRONT,), (BACK, FRONT), 3, sizes)


def _two(width: float, height: float, board: Board, opens: float, *, top: bool) -> Leaves:
    """Two leaves and one fold, exactly in the middle."""
    net = NetBuilder(CARD, CARD, board)
    front = net.base(FRONT, width, height, FRONT)
    front.role = Role.LEAF
    side, deep = (BACK, height) if top else ("left", width)
    net.wall(BACK, front.side(side), deep, turn=180.0 - opens, title=BACK, role=Role.LEAF)
    whole = 2 * (height if top else width)
    sizes = {
        "flat-length": reckon(
            "Flat, across the fold", whole,
            "twice the closed size: the fold is exactly in the middle",
            given("closed, height" if top else "closed, width", whole / 2),
        ),
        "fold-from-edge": reckon(
            "Fold from either edge", whole / 2, "half of the flat size", given("flat", whole),
        ),
    }  # fmt: skip
    place = standing_leaf(opens, height, top=top)
    return Leaves(net.build(), place, (FRONT,), (BACK, FRONT), 2, sizes)
