"""An envelope closed by a string: a button on either flap, the string round both in an eight."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from shapely.geometry import Point, Polygon

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, How, When
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Floats, Joint, Kind, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.ties import figure_eight
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.mounted import lying_on, plate
from jadeite.core.shapes.ornaments import ornament
from jadeite.core.units import number_text

__all__ = ["BUTTON", "BUTTON_FOAM", "StringClosing", "string_closing"]

BUTTON = "button"  # the part
WIDE, DOT, BUTTON_FOAM = 18.0, 8.0, 1.5  # mm of a button, of the foam under it; from memory
FROM_TIP, APART = 12.0, 26.0  # mm from the flap's tip, and from button to button; from memory
EDGE = 2.0  # mm; from memory, a button keeps from the edges of its flap
THICK = 1.5  # mm, of the string; from memory
ROUNDS, TAIL = 3, 120.0  # times round both, and mm to hold; from memory
STICK = (
    "A foam dot in the middle of each, so that the string runs under its rim; one near the tip of "
    "the top flap, one on the bottom flap below where the tip will lie."
)
TIE = (
    "Knot it round the foam of the upper button. Wound round both in an eight it closes, and opens "
    "again."
)
CAUTION = (
    "Keep the string and the small buttons from children under three. Local rules and the makers' "
    "instructions come first."
)


@dataclass(frozen=True, eq=False)
class StringClosing:
    """Two buttons with their places, joints and arrivals, and what is bought."""

    pieces: tuple[Piece, ...]
    placements: dict[str, Floats]
    joints: tuple[Joint, ...]
    arrivals: tuple[Arrival, ...]
    bought: tuple[Bought, ...]
    length: Reckoning


def string_closing(
    piece: Piece, place: Floats, top: str, bottom: str, board: Board
) -> StringClosing:
    """Buttons on the top and the bottom flap of an envelope that is ``place``d closed, 4 x 4.

    Raises
    ------
    FieldError
        The bottom flap has no room for one; it names another closing.
    """
    outline = piece.panel(top).outline
    tip = float(outline[:, 1].min())
    first = np.array([float(outline[:, 0].mean()), tip + FROM_TIP])
    over, under = (closed_matrix(piece, place, name) for name in (top, bottom))
    spot = over @ np.array([*first, 0.0, 1.0]) - over @ np.array([0.0, APART, 0.0, 0.0])
    second = (np.linalg.inv(under) @ spot)[:2]
    room = Polygon(piece.panel(bottom).outline)
    if not room.contains(Point(*second).buffer(WIDE / 2 + EDGE)):
        raise FieldError(
            "closing", "the bottom flap has no room for a button below the tip of the top flap",
            "Use glue dots.", (option_way("closing", "glue"),),
        )  # fmt: skip
    pieces, placements, joints, arrivals, dots = [], {}, [], [], []
    ring, dot = ornament("round", WIDE), ornament("round", DOT)
    for number, (panel, at) in enumerate(((top, first), (bottom, second)), start=1):
        name = f"{BUTTON}-{number}"
        made = plate(name, f"button {number}", Role.OVERLAY, ring + at, board)
        made = Piece(name, made.title, board, made.panels, (), part=BUTTON)
        pieces.append(made)
        placements[name] = lying_on(piece, place, panel, made, front=True, pad=BUTTON_FOAM)
        out = placements[name][:3, 2]
        amid = -(board.thickness + BUTTON_FOAM) / 2  # the foam
        dots.append((placements[name] @ np.array([*at, amid, 1.0]))[:3])
        region = tuple((float(x), float(y)) for x, y in dot + at)
        own, on = (name, made.panels[0].name), (piece.name, panel)
        joints.append(Joint(Kind.GLUE, own, on, f"{made.title} on its flap", "outside",
                            BUTTON_FOAM, region))  # fmt: skip
        arrivals.append(Arrival(name, When.FOLDED, on, How.PADDED, hint=STICK))
    length = reckon(
        "String", ROUNDS * (2 * APART + math.pi * DOT) + TAIL,
        f"{ROUNDS} times round both buttons in an eight, and a tail to hold",
        given("from button to button", APART),
        constant("tail", TAIL, "mm", Mark.MEMORY),
    )  # fmt: skip
    on = (piece.name, top)
    strips = figure_eight((dots[0], dots[1]), out, DOT / 2 + THICK / 2, THICK, TAIL / 3)
    bought = (
        Bought("foam dot", DOT, 0.0, "", "", on, count=2, thick=BUTTON_FOAM),
        Bought("string", THICK, length.value, "Tie the string under the upper button",
               f"{number_text(length.value, 0)} mm of it. {TIE}", on, holds=False,
               caution=CAUTION, strips=strips),
    )  # fmt: skip
    return StringClosing(tuple(pieces), placements, tuple(joints), tuple(arrivals), bought, length)
