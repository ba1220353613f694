"""Hinged chest: a tray and a lid joined by strips, with a hook-over latch and a handle."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, inside_way, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When, made_at
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Design, Dimension, Floats, Hollow, Joint, Kind, Piece
from jadeite.core.nets.open_box import OpenBox, open_box
from jadeite.core.nets.openings import slot_for, window
from jadeite.core.nets.swing import AIR, Swing
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.fittings import (
    folded_strap,
    standing_plate,
    strap_handle,
    upright_plate,
)
from jadeite.core.shapes.registry import (
    SOME,
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)

__all__ = ["CHEST"]

MIN_INSIDE = 30.0  # mm; from memory, smaller leaves no room for strips and latch
MAX_INSIDE = 600.0  # mm; from memory, beyond any board here
GAP = 0.2  # mm; from memory, between the rims of chest and lid, so that the strips can bend
STRIP, STRIP_DEEP, STRIP_SHARE = 20.0, 12.0, 0.35  # mm, mm, of the length; from memory
LEAST_TRAY = 15.0  # mm; from memory, a lower tray has no hold for the hinge strips
EDGE = 2.0  # mm; from memory, what is glued keeps this far from floor, ceiling and corner
LATCH_HIGH = 28.0  # mm; from memory, a lower front leaves no room for latch and catch
LATCH, LATCH_HANGS, LATCH_UP = 24.0, 22.0, 14.0  # mm wide, below and above the rims; from memory
CATCH_WIDE, CATCH_TALL, LIP = 13.0, 8.0, 1.5  # mm, and how far it reaches over its pad; from memory
CATCH_BELOW = 11.0  # mm; from memory, the catch's middle below the rims
HANDLE, RISE, FOOT, GRIP = 14.0, 20.0, 12.0, 35.0  # mm wide, high, foot, half long; from memory
LEAST_GRIP = 12.0  # mm; from memory, half of what two fingers need
LEG = 10.0  # mm; from memory, a folded leg glued to the floor
LEAST_BAY = 16.0  # mm; from memory, less between stand-up pieces takes no finger
LID = "tray-2"  # the lid is made of the tray's board: they are one part
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

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
STAND_IN = (
    "A little glue under its leg; let it set, then close the lid by hand and see that it passes."
)

# defaults and ranges from memory
OPTIONS = (
    Option(
        "lid-depth",
        "Lid depth",
        22.0,
        "How far the lid reaches down to the rim, inside.",
        unit="mm",
        low=14.0,
        high=200.0,
    ),
    Option(
        "room",
        "Room for things",
        "lid",
        "Up to the closed lid, or below the rim only. Up to the lid, the chest is a little wider "
        "than its contents, so that the lid's front passes them as it swings.",
        choices=(("lid", "up to the lid"), ("rim", "below the rim")),
    ),
    Option(
        "latch",
        "Latch",
        "hook-over",
        "A strap on the lid hooks over a catch, which stands proud of the front on a pad.",
        choices=(("hook-over", "hook-over"), ("none", "none")),
    ),
    Option(
        "catch-on",
        "Catch on",
        "foam",
        "What holds the catch off the front: a dot of foam that sticks on both sides, or a pad "
        "of chipboard, which stays as it is for longer.",
        choices=(("foam", "a foam pad"), ("board", "a board pad")),
        only=(("latch", ("hook-over",)),),
    ),
    Option(
        "handle",
        "Handle",
        "strap",
        "A strap through two slots of the lid, its feet glued inside.",
        choices=(("strap", "strap"), ("none", "none")),
    ),
    Option(
        "stand-ups",
        "Stand-up pieces",
        0.0,
        "Pieces that stand across the chest on folded legs, up to just under the closed lid.",
        unit="count",
        low=0.0,
        high=6.0,
    ),
)


@dataclass(frozen=True)
class _Form:
    """Where the closed chest's surfaces are; mm.  The tray's floor has its middle at z = 0."""

    tray: OpenBox
    lid: OpenBox
    within: Size  # the tray's own inside below its rim
    rim: float  # middle of the gap between the rims
    lid_at: float  # height of the lid's ceiling
    t: float
    swing: Swing

    @property
    def ceiling(self) -> float:
        """Underside of the lid's ceiling."""
        return self.lid_at - self.t / 2

    @property
    def front(self) -> float:
        """How far the outside of front and back is from the middle."""
        return self.tray.outside[1] / 2


def build_chest(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A chest of the given inside below its rim (mm); the lid adds its depth above.

    Raises
    ------
    FieldError
        An inside length out of range, or too little of it for latch, handle or
        stand-up pieces.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    form = _form(inside, boards, options, fits)
    made = _Made(form)
    _strips(made, form.within, boards["strip"])
    if options["latch"] == "hook-over":
        if form.within[2] < LATCH_HIGH:
            raise FieldError(
                "inside height",
                "the front is too low for a latch and its catch",
                f"Use {LATCH_HIGH:.0f} mm, or no latch.",
                (option_way("latch", "none"), inside_way("height", LATCH_HIGH)),
            )
        _latch(made, boards, str(options["catch-on"]), fits)
    under = form.ceiling
    if options["handle"] == "strap":
        half = min(GRIP, inside[0] / 2 - FOOT - EDGE)
        if half < LEAST_GRIP or inside[1] < HANDLE + 2 * (SLOT_AROUND + EDGE):
            axis, least = ("length", 2 * (LEAST_GRIP + FOOT + EDGE)) if half < LEAST_GRIP else (
                "width", HANDLE + 2 * (SLOT_AROUND + EDGE))  # fmt: skip
            raise FieldError(
                f"inside {axis}",
                "the lid is too small for a handle",
                f"Use {least:.0f} mm, or no handle.",
                (option_way("handle", "none"), inside_way(axis, least)),
            )
        _handle(made, half, boards["handle"], fits)
        under -= boards["handle"].thickness
    count = round(float(options["stand-ups"]))
    hollow = _hollow(inside, form)
    cells = _stand_ups(made, hollow, boards["stand-up"], count, under, fits) if count else ()
    return Design(
        family="chest",
        title="Hinged chest",
        pieces=(form.tray.piece, made.lid, *made.pieces),
        placements={"tray": np.diag([1.0, -1.0, -1.0, 1.0]), LID: _raised(form.lid_at)}
        | made.placements,
        joints=(*form.tray.joints, *form.lid.joints, *made.joints),
        hollow=hollow,
        sizes=_sizes(inside, form, made),
        dimensions=_dimensions(form.within, form),
        arrivals=Arrivals([Arrival(LID, When.LAST, how=How.PUT), *made.arrivals]),
        surfaces={"floor": form.tray.floor_top, "rim": form.ceiling},
        cells=cells,
        swing=form.swing,
        bought=tuple(made.bought),
    )


def _hollow(inside: Size, form: _Form) -> Hollow:
    """Against the back, where the lid's front has no need to pass."""
    back = form.within[1] / 2
    return Hollow(inside, (0.0, back - inside[1] / 2, form.tray.floor_top + inside[2] / 2))


class _Made:
    """Pieces as they are added, with their places and joints."""

    def __init__(self, form: _Form) -> None:
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


def _raised(z: float) -> Floats:
    out = np.eye(4)
    out[2, 3] = z
    return out


def _form(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits,
) -> _Form:
    """Chest and lid of one board, so that the strips lie flat on both."""
    depth = float(options["lid-depth"])
    high = inside[2]
    if options["room"] == "lid":
        least = LATCH_HIGH if options["latch"] == "hook-over" else LEAST_TRAY
        hangs = boards["handle"].thickness if options["handle"] == "strap" else 0.0
        high = max(least, inside[2] - (GAP + depth - fits.headroom - hangs))
    trial = _boxed((inside[0], inside[1], high), depth, boards, fits)
    above = trial.tray.floor_top + inside[2] - trial.swing.z
    behind = trial.swing.y - inside[1] / 2
    wide = trial.swing.wide_enough(inside[1], above, behind)
    if wide <= inside[1]:
        return trial
    return _boxed((inside[0], wide, high), depth, boards, fits)


def _boxed(within: Size, depth: float, boards: Mapping[str, Board], fits: Fits) -> _Form:
    """A tray of an inside in mm, its lid, and the line about which this swings."""
    board = boards["tray"]
    long_axis = 0 if within[0] >= within[1] else 1

    def box(name: str, title: str, size: Size, turned: bool) -> OpenBox:
        return open_box(
            name, title, board, size, long_axis=long_axis, tabs="inside", double=False,
            notches=False, good_side="outside", turned=turned, part="tray", fits=fits,
        )  # fmt: skip

    tray = box("tray", "tray", within, True)
    lid = box(LID, "lid", (within[0], within[1], depth), False)
    rim = tray.rim_top + GAP / 2
    axis = tray.outside[1] / 2 + boards["strip"].thickness / 2
    return _Form(tray, lid, within, rim, tray.rim_top + GAP + lid.rim_top, board.thickness,
                 Swing(axis, rim, axis + within[1] / 2))  # fmt: skip


def _strips(made: _Made, inside: Size, board: Board) -> None:
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


def _latch(made: _Made, boards: Mapping[str, Board], on: str, fits: Fits) -> None:
    """A strap on the lid with a window, and a catch on a pad that stands through it."""
    form = made.form
    strap, pad, catch = boards["latch"], boards["pad"], boards["catch"]
    front = -form.front
    up = min(LATCH_UP, form.lid_at - form.rim - EDGE - form.t)
    y = front - strap.thickness / 2
    piece, place = folded_strap(
        "latch", "latch", strap, (0.0, y), LATCH,
        (form.rim - LATCH_HANGS, form.rim, form.rim + up), ("latch, hook", "latch, on the lid"),
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


def _handle(made: _Made, half: float, board: Board, fits: Fits) -> None:
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


def _stand_ups(
    made: _Made,
    hollow: Hollow,
    board: Board,
    count: int,
    under: float,
    fits: Fits,
) -> tuple[Hollow, ...]:
    """Pieces across the chest on folded legs; returns the bays that are left between them."""
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
    wide = form.within[1] - 2 * fits.stand
    first, beside = standing_plate("stand-up-1", "stand-up piece 1", board, wide, floor + t / 2,
                                   high, min(LEG, bay / 2), form.swing.edge(-wide / 2, high)
                                   )  # fmt: skip
    cells = []
    for i in range(count + 1):
        x = -long / 2 + i * bay
        if i:
            name = f"stand-up-{i}"
            place = beside.copy()
            place[0, 3] += x
            made.add(
                replace(first, name=name, title=f"stand-up piece {i}", part="stand-up"), place,
                Joint(Kind.GLUE, (name, "leg"), ("tray", "floor"), f"leg of stand-up piece {i}"),
                hint=STAND_IN, when=When.STANDING,
            )  # fmt: skip
        left = x + (t / 2 if i else 0.0)
        right = x + bay - (t / 2 if i < count else 0.0)
        size = (right - left, deep, tall - t)
        cells.append(Hollow(size, ((left + right) / 2, middle, floor + t + size[2] / 2)))
    made.sizes["stand-up-height"] = reckon(
        "Stand-up pieces, height",
        high - floor,
        "inside with the lid on, less the headroom and what hangs under the lid; their front is "
        "cut to the circle on which the lid's front comes round",
        given("floor to what is lowest under the lid", under - floor),
        constant("headroom", fits.headroom, "mm", Mark.MEMORY),
        given("lid's front from the hinge", form.swing.reach),
        constant("air", AIR, "mm", Mark.MEMORY),
    )
    return tuple(cells)


def _sizes(inside: Size, form: _Form, made: _Made) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inside-closed"] = reckon(
        "Inside height, lid closed",
        form.ceiling - form.tray.floor_top,
        "inside below the rim, and the lid's depth",
        given("below the rim", form.within[2]),
        given("lid", form.ceiling - form.rim),
    )
    out["inside-swing"] = reckon(
        "Inside width of the chest",
        form.within[1],
        "as wide as the contents; where these stand above the rim, as wide as lets the lid's "
        "front pass their upper edge on its circle about the hinge",
        given("contents", inside[1]),
        given("above the hinge", max(0.0, form.tray.floor_top + inside[2] - form.rim)),
        constant("air", AIR, "mm", Mark.MEMORY),
    )
    out["tab-depth"] = form.tray.tab_depth
    out["rim-gap"] = constant("Gap between the rims", GAP, "mm", Mark.MEMORY)
    return out | made.sizes


def _dimensions(inside: Size, form: _Form) -> tuple[Dimension, ...]:
    x, y, z = inside
    floor = form.tray.piece.panels[0].outline
    right, back, top = float(floor[1, 0]), float(floor[2, 1]), -form.tray.floor_top
    return (
        Dimension("inside, length", "tray", "floor", (-x / 2, back, top), (x / 2, back, top),
                  (0.0, 1.0, 0.0), x),
        Dimension("inside, width", "tray", "floor", (-right, -y / 2, top), (-right, y / 2, top),
                  (-1.0, 0.0, 0.0), y),
        Dimension("inside, height", "tray", "right", (right, -y / 2, -top),
                  (right + z, -y / 2, -top), (0.0, -1.0, 0.0), z),
    )  # fmt: skip


def chest_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without latch and strips; rises with every length."""
    length, width, height = inside
    round_it = 2 * (length + width + 2 * USUAL_TAB)
    stand_ups = float(options["stand-ups"]) * width * (height + float(options["lid-depth"]))
    return 2 * length * width + round_it * (height + float(options["lid-depth"])) + stand_ups


CHEST = register(
    ShapeFamily(
        key="chest",
        title="Hinged chest",
        short="Chest",
        about="A tray and a lid joined by strips, with a latch, a handle and stand-up pieces.",
        parts=(("tray", "Chest and lid"), ("strip", "Hinge strips"), ("latch", "Latch"),
               ("pad", "Latch pad"), ("catch", "Catch"), ("handle", "Handle"),
               ("stand-up", "Stand-up pieces")),
        options=OPTIONS,
        build=build_chest,
        board_area=chest_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"latch": ("latch", "hook-over"), "pad": ("catch-on", "board"),
              "catch": ("latch", "hook-over"), "handle": ("handle", "strap"),
              "stand-up": ("stand-ups", SOME)},
        follows={"strip": "tray", "latch": "tray", "catch": "tray",
                 "handle": "tray", "stand-up": "tray"},
        usual={"pad": "chipboard"},
        roof="tray",
        carries="handle",
    )
)  # fmt: skip
