"""What is put on a chest and into it: hinge strips, latch and catch, handle, stand-up pieces."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, How, When, made_at
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Floats, Hollow, Joint, Kind, Piece
from jadeite.core.nets.openings import slot_for, window
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.chest_form import LID, ChestForm
from jadeite.core.shapes.fittings import (
    folded_strap,
    held_plate,
    standing_plate,
    strap_handle,
    upright_plate,
)
from jadeite.core.shapes.registry import Size

__all__ = [
    "EDGE",
    "FOOT",
    "GRIP",
    "HANDLE",
    "LEAST_GRIP",
    "ChestMade",
    "add_handle",
    "add_latch",
    "add_stand_ups",
    "add_strips",
]

STRIP, STRIP_DEEP, STRIP_SHARE = 20.0, 12.0, 0.35  # mm, mm, of the length; from memory
EDGE = 2.0  # mm; from memory, what is glued keeps this far from floor, ceiling and corner
LATCH, LATCH_HANGS, LATCH_UP = 24.0, 22.0, 14.0  # mm wide, below and above the rims; from memory
CATCH_WIDE, CATCH_TALL, LIP = 13.0, 8.0, 1.5  # mm, and how far it reaches over its pad; from memory
CATCH_BELOW = 11.0  # mm; from memory, the catch's middle below the rims
HANDLE, RISE, FOOT, GRIP = 14.0, 20.0, 12.0, 35.0  # mm wide, high, foot, half long; from memory
LEAST_GRIP = 12.0  # mm; from memory, half of what two fingers need
FINE = 1e-6  # mm; rounding
BELOW_RIM = 1.0  # mm; from memory, flaps on a wall end below its rim
LEG = 10.0  # mm; from memory, a folded leg glued to the floor
LEAST_BAY = 16.0  # mm; from memory, less between stand-up pieces takes no finger
FOAM = 2.0  # mm; common practice, of pads that stick on both sides
FOAM = 2.0  # mm; common practice, of pads that stick on both sides
STRIP_ON = (
    "On the back of the lid, its fold level with the rim; the lower half stays free. Let it dry."
)
CATCH_ON = "Peel one side of the foam pad, press it on the front, then the other, and the catch on."
THREADED = "Each end through its slot from outside, until the strap stands up as high as drawn."
FEET = (
    "From inside the lid: fold the foot outwards, flat under the lid, a little glue on it, and "
    "press it until it holds."
)
HELD_IN = (
    "Glue on both flaps; set it down square between front and back, and press the flaps against "
    "the walls. Hold it upright until it stands by itself, and let the lid down once over it."
)
STAND_IN = (
    "A little glue under its leg; let it set, then close the lid by hand and see that it passes."
)


class ChestMade:
    """Pieces as they are added, with their places and joints."""

    def __init__(self, form: ChestForm) -> None:
        self.form, self.lid = form, form.lid.piece
        self.pieces: list[Piece] = []
        self.placements: dict[str, Floats] = {}
        self.joints: list[Joint] = []
        self.arrivals: list[Arrival] = []
        self.sizes: dict[str, Reckoning] = {}
        self.bought: list[Bought] = []

    def add(
        self,
        piece: Piece,
        place: Floats,
        *joints: Joint,
        after: tuple[str, ...] = (),
        how: How = How.GLUED,
        hint: str = "",
        when: When = When.FOLDED,
    ) -> None:
        """A piece that comes to another, by the first of its joints.

        ``place`` is (4, 4) float.
        """
        self.pieces.append(piece)
        self.placements[piece.name] = place
        first = joints[0]
        on = first.target if first.tab[0] == piece.name else first.tab
        self.arrivals.append(Arrival(piece.name, when, on, how, after=after, hint=hint))
        self.joints += joints


def add_strips(made: ChestMade, inside: Size, board: Board) -> None:
    """Two strips across the rims at the back."""
    form = made.form
    wide = min(STRIP, STRIP_SHARE * inside[0])
    deep = min(STRIP_DEEP, form.lid.floor_top + float(inside[2]) - EDGE,
               form.lid_at - form.rim - EDGE - form.t)  # fmt: skip
    y = form.front + board.thickness / 2
    for number, x in enumerate((-inside[0] / 4, inside[0] / 4), start=1):
        name = f"strip-{number}"
        piece, place = folded_strap(
            name, f"hinge strip {number}", board, (x, y), wide,
            (form.rim - deep, form.rim, form.rim + deep),
            ("strip, on the chest", "strip, on the lid"),
        )  # fmt: skip
        made.add(
            replace(piece, part="strip"), place,
            Joint(Kind.GLUE, (name, "upper"), (LID, "back"), f"{piece.title} to the lid",
                  "outside"),
            Joint(Kind.GLUE, (name, "lower"), ("tray", "back"), f"{piece.title} to the chest",
                  "outside"),
            after=("latch", "pad"), hint=STRIP_ON,
        )  # fmt: skip
    made.sizes["hinge-strip"] = reckon(
        "Hinge strip, each side of its fold",
        deep,
        "the usual depth, but no more than the lid is deep",
        constant("usual depth", STRIP_DEEP, "mm", Mark.MEMORY),
        given("lid, rim to ceiling", form.lid_at - form.rim),
    )


def add_latch(made: ChestMade, boards: Mapping[str, Board], on: str, fits: Fits) -> None:
    """A strap on the lid with a window, and a catch on a pad that stands through it.

    Raises
    ------
    FieldError
        On `catch-on` or the pad's board, when the pad is no thicker than the latch.
    """
    form = made.form
    strap, pad, catch = boards["latch"], boards["pad"], boards["catch"]
    front = -form.front
    up = min(LATCH_UP, form.lid_at - form.rim - EDGE - form.t)
    y = front - strap.thickness / 2
    piece, place = folded_strap(
        "latch", "latch", strap, (0.0, y), LATCH,
        (form.rim - LATCH_HANGS, form.rim, form.rim + up),
        ("latch, lower end", "latch, on the lid"),
    )  # fmt: skip
    middle = form.rim - CATCH_BELOW
    half = np.array([CATCH_WIDE / 2 + fits.latch, CATCH_TALL / 2 + fits.latch])
    spot = (np.linalg.inv(place) @ np.array([0.0, y, middle, 1.0]))[:2]
    lower = piece.panel("lower")
    marked = replace(lower, openings=(window(spot - half, spot + half),))
    piece = replace(piece, panels=tuple(marked if p.name == "lower" else p for p in piece.panels))
    made.add(
        piece, place,
        Joint(Kind.GLUE, ("latch", "upper"), (LID, "front"), "latch to the lid", "outside"),
        Joint(Kind.TUCK, ("latch", "lower"), ("tray", "front"), "latch over its catch", "outside"),
    )  # fmt: skip
    tall = CATCH_TALL / 2
    proud = FOAM if on == "foam" else pad.thickness
    plate, place = upright_plate(
        "catch", "catch", catch, front - proud - catch.thickness / 2, CATCH_WIDE,
        middle - tall, middle + tall,
    )  # fmt: skip
    if on == "foam":
        joint = Joint(Kind.GLUE, ("catch", "catch"), ("tray", "front"), "catch on its foam pad",
                      "outside", pad=FOAM)  # fmt: skip
        made.add(plate, place, joint, how=How.PADDED, hint=CATCH_ON)
        made.bought.append(Bought("foam pad", CATCH_WIDE - 2 * LIP, 0.0, "", "", ("tray", "front"),
                                  thick=FOAM))  # fmt: skip
    else:
        block, at = upright_plate(
            "pad", "latch pad", pad, front - pad.thickness / 2, CATCH_WIDE - 2 * LIP,
            middle - tall + LIP, middle + tall - LIP,
        )  # fmt: skip
        made.add(block, at, Joint(Kind.GLUE, ("pad", "pad"), ("tray", "front"),
                                  "latch pad to the chest", "outside"))  # fmt: skip
        joint = Joint(Kind.GLUE, ("pad", "pad"), ("catch", "catch"), "catch on its pad", "outside")
        made.add(plate, place, joint, after=("pad",))
    made.sizes["catch-proud"] = reckon(
        "Catch stands proud by",
        proud,
        "the pad under it; it must be more than the latch is thick",
        given("pad", proud),
        given("latch board", strap.thickness),
    )
    if proud <= strap.thickness:
        field, cure, way = (
            ("catch-on", "Use a board pad, or a thinner latch.", option_way("catch-on", "board"))
            if on == "foam"
            else ("board of the latch pad", "Use chipboard.", (("boards.pad", "chipboard"),))
        )
        raise FieldError(
            field,
            f"a pad of {proud:.2f} mm is no thicker than the latch, which would slip off",
            cure,
            (way,),
        )


def add_handle(made: ChestMade, half: float, board: Board, fits: Fits) -> None:
    """A strap that rises through two slots of the lid; its feet are glued under the ceiling."""
    form, h = made.form, board.thickness
    low, high = form.ceiling - h / 2, form.lid_at + RISE
    piece, place = strap_handle("handle", "handle", board, half, HANDLE, low, high, FOOT)
    ceiling = form.lid.piece.panel("floor")
    slots = tuple(
        slot_for(board, np.array([x, 0.0]), np.array([0.0, 1.0]), HANDLE, fits)
        for x in (half, -half)
    )
    marked = replace(ceiling, openings=slots)
    made.lid = replace(
        form.lid.piece,
        panels=tuple(marked if p.name == "floor" else p for p in form.lid.piece.panels),
    )
    made.add(
        piece, place,
        *(Joint(Kind.GLUE, ("handle", f"foot.{n}"), (LID, "floor"), f"handle, {n} foot")
          for n in ("right", "left")),
        *(Joint(Kind.TONGUE, ("handle", f"riser.{n}"), (LID, "floor"),
                f"handle through its {n} slot")
          for n in ("right", "left")),
        how=How.PUT, hint=THREADED,
    )  # fmt: skip
    made.arrivals += made_at(When.JOINED, "handle", ("foot.right", "foot.left"), FEET)


def add_stand_ups(
    made: ChestMade,
    hollow: Hollow,
    board: Board,
    count: int,
    under: float,
    fits: Fits,
    *,
    walls: bool,
) -> tuple[Hollow, ...]:
    """Pieces across the chest on folded legs, or held by flaps on its front and back ``walls``.

    Returns the bays that are left between them.

    Raises
    ------
    FieldError
        On field `stand-ups`, when they would stand closer than a finger can reach.
    """
    form, t = made.form, board.thickness
    (long, deep, tall), middle = hollow.size, hollow.centre[1]
    bay = long / (count + 1)
    if bay < LEAST_BAY:
        most = int(long // LEAST_BAY) - 1
        raise FieldError(
            "stand-ups",
            f"{count} pieces stand too close in {long:.0f} mm",
            f"Use {max(0, most)}." if most > 9 else f"Use {max(0, most)}.0.",
            (option_way("stand-ups", float(max(0, most))),),
        )
    floor = form.tray.floor_top
    high = under - fits.headroom
    deepest = min(LEG, bay / 2)
    if walls:
        wide = form.tray.outside[1] - 2 * form.t - t  # between the middles of both flaps
        tab = deepest, min(form.tray.rim_top - BELOW_RIM, high)
        front = form.swing.edge(-wide / 2, high)
        if front[0, 0] > -wide / 2 + FINE:  # upright as far as its flap goes
            front = np.vstack([[-wide / 2, tab[1]], front])
        made_by = {
            way: held_plate("stand-up-1", "stand-up piece 1", board, wide, floor, high, tab, way,
                            front)
            for way in (1.0, -1.0)
        }  # fmt: skip
    else:
        wide = form.within[1] - 2 * fits.stand
        one = standing_plate("stand-up-1", "stand-up piece 1", board, wide, floor + t / 2, high,
                             deepest, form.swing.edge(-wide / 2, high))  # fmt: skip
        made_by = dict.fromkeys((1.0, -1.0), one)
    cells = []
    for i in range(count + 1):
        x = -long / 2 + i * bay
        if i:
            name = f"stand-up-{i}"
            # flaps point to the middle, away from the tabs in the tray's corners
            first, beside = made_by[1.0 if x < 0 else -1.0]
            place = beside.copy()
            place[0, 3] += x
            piece = replace(first, name=name, title=f"stand-up piece {i}", part="stand-up")
            feet = (
                [Joint(Kind.GLUE, (name, f"tab.{side}"), ("tray", side),
                       f"{side} flap of stand-up piece {i}") for side in ("front", "back")]
                if walls
                else [Joint(Kind.GLUE, (name, "leg"), ("tray", "floor"),
                            f"leg of stand-up piece {i}")]
            )  # fmt: skip
            hint = HELD_IN if walls else STAND_IN
            made.add(piece, place, *feet, hint=hint, when=When.STANDING)
        left = x + (t / 2 if i else 0.0)
        right = x + bay - (t / 2 if i < count else 0.0)
        half = (wide - t) / 2 if walls else math.inf  # what flaps leave
        near, far = max(middle - deep / 2, -half), min(middle + deep / 2, half)
        size = (right - left, far - near, tall)
        at = ((left + right) / 2, (near + far) / 2, hollow.centre[2])
        cells.append(Hollow(size, at))
    made.sizes["stand-up-height"] = reckon(
        "Stand-up pieces, height",
        high - floor,
        "inside with the lid on, less the headroom and what hangs under the lid; their front is "
        "cut to the circle on which the lid's front comes round",
        given("floor to what is lowest under the lid", under - floor),
        constant("headroom", fits.headroom, "mm", Mark.MEMORY),
        given("lid's front from the hinge", form.swing.reach),
        constant("air", form.swing.air, "mm", Mark.MEMORY),
    )
    return tuple(cells)
