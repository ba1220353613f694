"""A pull tab on the front of a card: a strip under a bridge, and on its head what it moves."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, How, When, Where
from jadeite.core.nets.model import Floats, Joint, Kind, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.mounted import lying_on, plate
from jadeite.core.shapes.ornaments import ornament
from jadeite.core.shapes.registry import Option, OptionValue

__all__ = ["PULL", "PULL_OPTIONS", "PULL_PARTS", "PullTab", "pull_tab"]

PULL, STRIP, BRIDGE = "pulled-thing", "pull-strip", "bridge"
PULL_PARTS = ((PULL, "What is pulled"), (STRIP, "Strip"), (BRIDGE, "Bridge"))
STEM, HEAD, HEAD_LONG = (
    11.0,
    20.0,
    8.0,
)  # mm; from memory, across the strip and its head, along the head
AROUND, GLUED, BAND = (
    1.0,
    9.0,
    10.0,
)  # mm; from memory, beside the strip, glued of the bridge, across it
EDGE, GRIP = 4.0, 10.0  # mm; from memory, kept from the edges, and of the strip beside the bridge
LEAST = {
    "star": 46.0,
    "round": 30.0,
}  # mm; from memory, of what is pulled, so that it hides the head
MOST = 64.0  # mm; from memory
SHARE = 0.4  # of the panel's lesser side, of what is pulled; from memory
LEAST_WAY = 12.0  # mm; from memory, a shorter way is no fun

# from memory
PULL_OPTIONS = (
    Option(
        "pull", "Pull tab", "none",
        "A strip under a bridge on the front moves an ornament along; its head cannot slip out.",
        choices=(("none", "none"), ("star", "a star"), ("round", "a disc")),
    ),
    Option(
        "pulled", "Pulled out by", 0.0, "As it is drawn.", "%", 0.0, 100.0,
        only=(("pull", ("star", "round")),),
    ),
)  # fmt: skip
LAY = "Loose, its head to the left; nothing of it is glued."
OVER = (
    "Glue on both ends only, none under the strip, so that it slides: pull the strip to and fro "
    "before the glue sets."
)
ON_HEAD = "Glue on the middle of its back only, over the head; nothing on the card."


@dataclass(frozen=True, eq=False)
class PullTab:
    """Strip, bridge and ornament with their places, joints and arrivals; how far it goes, mm."""

    pieces: tuple[Piece, ...]
    placements: dict[str, Floats]
    joints: tuple[Joint, ...]
    arrivals: tuple[Arrival, ...]
    way: Reckoning
    raised: float


def pull_tab(
    under: Piece, place: Floats, on: Where, boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
) -> PullTab:  # fmt: skip
    """A pull tab on a rectangular panel of a piece that is ``place``d, 4 x 4.

    Raises
    ------
    FieldError
        The panel is too small for one.
    """
    outline = under.panel(on[1]).outline
    low, high = outline.min(axis=0), outline.max(axis=0)
    wide, tall = (high - low).tolist()
    middle = float(low[1] + high[1]) / 2
    size = min(max(SHARE * min(wide, tall), LEAST[str(options["pull"])]), MOST)
    first = float(low[0]) + EDGE + size / 2  # the middle of the ornament and of the head
    bridge = float(high[0]) - EDGE - GRIP - BAND
    way = bridge - AROUND - (first + size / 2)
    across = STEM / 2 + AROUND + GLUED
    if way < LEAST_WAY or tall < 2 * (across + EDGE) or tall < size + 2 * EDGE:
        words = f"the front is too small for one ({wide:.0f} × {tall:.0f} mm)"
        raise FieldError("pull", words, "Use none.", (option_way("pull", "none"),))
    out = float(options["pulled"]) / 100 * way
    a, b, end = -HEAD_LONG / 2, HEAD_LONG / 2, float(high[0]) - EDGE - first
    ring = np.array([
        [a, -HEAD / 2], [b, -HEAD / 2], [b, -STEM / 2], [end, -STEM / 2],
        [end, STEM / 2], [b, STEM / 2], [b, HEAD / 2], [a, HEAD / 2],
    ])  # fmt: skip
    band = np.array([[0.0, -across], [BAND, -across], [BAND, across], [0.0, across]])
    strip = plate(STRIP, "strip", Role.OVERLAY, ring, boards[STRIP])
    over = plate(BRIDGE, "bridge", Role.OVERLAY, band, boards[BRIDGE])
    thing = plate(PULL, str(options["pull"]), Role.OVERLAY, ornament(str(options["pull"]), size),
                  boards[PULL])  # fmt: skip
    t = strip.board.thickness

    def at(x: float, piece: Piece, pad: float) -> Floats:
        moved = np.eye(4)
        moved[:2, 3] = (x, middle)
        return np.asarray(lying_on(under, place, on[1], piece, front=True, pad=pad) @ moved)

    panel = Role.OVERLAY.value
    placements = {
        STRIP: at(first + out, strip, 0.0),
        BRIDGE: at(bridge, over, t),
        PULL: at(first + out, thing, t),
    }
    head = tuple((float(x), float(y)) for x, y in ring[[0, 1, 6, 7]] * 0.8)
    ends = [
        tuple((float(x), float(y)) for x, y in (
            (0.0, s * across), (BAND, s * across), (BAND, s * (across - GLUED)),
            (0.0, s * (across - GLUED)))[::int(-s)])
        for s in (-1, 1)
    ]  # fmt: skip
    joints = (
        Joint(Kind.SLIDE, (STRIP, panel), on, "strip along the card", "outside"),
        *(
            Joint(Kind.GLUE, (BRIDGE, panel), on, f"{side} end of the bridge", "outside",
                  region=region, gives=t)
            for side, region in zip(("lower", "upper"), ends, strict=True)
        ),
        Joint(Kind.GLUE, (PULL, panel), (STRIP, panel), f"{thing.title} on the strip", "outside",
              region=head),
    )  # fmt: skip
    arrivals = (
        Arrival(STRIP, When.FOLDED, on, How.PUT, hint=LAY),
        Arrival(BRIDGE, When.FOLDED, on, hint=OVER, after=(STRIP,)),
        Arrival(PULL, When.FOLDED, (STRIP, panel), hint=ON_HEAD, after=(BRIDGE,)),
    )
    goes = reckon(
        "Pulls out by", way, "until the ornament comes to the bridge; its head does not pass there",
        given("front, wide", wide), given("what is pulled, wide", size),
        constant("bridge and grip", BAND + GRIP, "mm", Mark.MEMORY),
    )  # fmt: skip
    raised = t + max(over.board.thickness, thing.board.thickness)
    return PullTab((strip, over, thing), placements, joints, arrivals, goes, raised)
