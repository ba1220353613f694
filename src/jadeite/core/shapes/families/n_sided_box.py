"""N-sided box: 3 to 12 walls, single or double, with a lift-off lid."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.model import Design, Dimension, Joint, Kind
from jadeite.core.nets.ring_box import RingBox, ring_box
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
    smaller,
)
from jadeite.core.shapes.rings import MEASURED, Ring, hollow_of, ring_for, sides_option

__all__ = ["N_SIDED_BOX"]

MIN_INSIDE = 15.0  # mm; from memory, smaller walls leave no room for a tab
MAX_INSIDE = 1000.0  # mm; from memory, beyond any board here
MOST_SIDES = 12.0  # from memory; with more, the walls are narrower than their tabs
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    sides_option(6.0, 3.0, MOST_SIDES, "How many walls stand round the floor."),
    MEASURED,
    Option(
        "walls",
        "Walls",
        "single",
        "Double walls roll over, cover the tabs and are glued down: sturdy, and no raw rim.",
        choices=(("single", "single"), ("double", "double")),
    ),
    Option(
        "lid",
        "Lid",
        "lift-off",
        "A lid that is a little larger lifts off; none leaves an open tray.",
        choices=(("lift-off", "lift-off"), ("none", "none")),
    ),
    Option(
        "lid-depth",
        "Lid depth",
        18.0,
        "How far the lid reaches down, inside. A lid that would pass the table stops at it.",
        unit="mm",
        low=6.0,
        high=MAX_INSIDE,
        only=(("lid", ("lift-off",)),),
    ),
)


def build_n_sided_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A box of the given inside (mm): a block, or something round as wide as the longer side.

    Raises
    ------
    FieldError
        An inside length out of range, or walls too short for a tab.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    sides = round(float(options["sides"]))
    ring = ring_for(inside, sides, options)
    double = options["walls"] == "double"
    tray = ring_box(
        "tray", "tray", boards["tray"], ring.inradius, inside[2], sides,
        phase=ring.phase, double=double, fits=fits,
    )  # fmt: skip
    place = np.diag([1.0, -1.0, -1.0, 1.0])
    pieces, placements, joints = [tray.piece], {"tray": place}, list(tray.joints)
    sizes = _sizes(inside, ring, tray)
    lids: list[Arrival] = []
    if options["lid"] == "lift-off":
        thicker = max(boards["lid"], boards["tray"], key=lambda b: b.thickness)
        clearance = fits.lid_over(thicker)
        full = tray.rim_top + boards["tray"].thickness / 2
        depth = min(float(options["lid-depth"]), full)
        lid = ring_box(
            "lid", "lid", boards["lid"], tray.outside + clearance.value / 2, depth, sides,
            phase=ring.phase, turned=False, fits=fits,
        )  # fmt: skip
        lid_place = np.eye(4)
        lid_place[2, 3] = tray.rim_top + lid.floor_top
        pieces.append(lid.piece)
        placements["lid"] = lid_place
        joints += lid.joints
        joints += [
            Joint(Kind.SLIDE, ("lid", f"wall-{k}"), ("tray", f"wall-{k}"), f"lid over tray, {k}",
                  "outside")
            for k in range(1, sides + 1)
        ]  # fmt: skip
        lids.append(Arrival("lid", When.LAST, how=How.PUT))
        sizes |= _lid_sizes(tray, lid, clearance, depth, full, float(options["lid-depth"]))
    return Design(
        family="n-sided-box",
        title=f"Box with {sides} sides",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=hollow_of(inside, options, tray.floor_top),
        sizes=sizes,
        dimensions=_dimensions(inside, tray),
        arrivals=Arrivals(lids),
        surfaces={"floor": tray.floor_top, "rim": tray.rim_top},
    )


def _sizes(inside: Size, ring: Ring, tray: RingBox) -> dict[str, Reckoning]:
    t = tray.piece.board.thickness
    out = inside_sizes(inside)
    out["inradius"] = ring.why
    out["side"] = reckon(
        "Side of the floor, score to score",
        tray.side,
        "twice middle to side of the walls times tan(180° / sides)",
        reckon(
            "middle to side of the walls",
            tray.middle,
            "inside, and the plies within the wall's middle surface",
            ring.why,
            given("board thickness", t),
        ),
        given("sides", len(tray.piece.panels[0].outline), ""),
    )
    out["outside-across"] = reckon(
        "Outside, across two sides",
        2 * tray.outside,
        "twice middle to side over every ply",
        given("over the tray's walls", tray.outside),
    )
    out["tab-depth"] = tray.tab_depth
    out["wall-height"] = reckon(
        "Wall, score to rim",
        tray.wall_height,
        "inside height, and what lies under it",
        given("inside height", inside[2]),
        given("board thickness", t),
    )
    return out


def _lid_sizes(
    tray: RingBox, lid: RingBox, clearance: Reckoning, depth: float, full: float, wanted: float
) -> dict[str, Reckoning]:
    return {
        "lid-inside-across": reckon(
            "Lid inside, across two sides",
            2 * tray.outside + clearance.value,
            "tray outside and the lid's clearance",
            given("tray outside", 2 * tray.outside),
            clearance,
        ),
        "lid-clearance": clearance,
        "lid-depth": reckon(
            "Lid depth",
            depth,
            "as wanted, but it stops where the rim meets the table",
            given("wanted", wanted),
            given("down to the table", full),
        ),
        "outside-height": reckon(
            "Closed height",
            full + lid.floor_top + lid.piece.board.thickness / 2,
            "tray to its rim and the lid's ceiling on it",
            given("tray, to its rim", full),
            given("lid board", lid.piece.board.thickness),
        ),
    }


def _dimensions(inside: Size, tray: RingBox) -> tuple[Dimension, ...]:
    (x, y, _z), top = inside, -tray.floor_top
    wall = tray.piece.panel("wall-1")
    a, b = wall.outline[0], wall.outline[1]
    return (
        Dimension("inside, length", "tray", "floor", (-x / 2, y / 2, top), (x / 2, y / 2, top),
                  (0.0, 1.0, 0.0), x),
        Dimension("inside, width", "tray", "floor", (-x / 2, -y / 2, top), (-x / 2, y / 2, top),
                  (-1.0, 0.0, 0.0), y),
        Dimension("side", "tray", "floor", (float(a[0]), float(a[1]), 0.0),
                  (float(b[0]), float(b[1]), 0.0), _outward(a, b), tray.side),
    )  # fmt: skip


def _outward(a: Any, b: Any) -> tuple[float, float, float]:
    way = (b - a) / np.linalg.norm(b - a)
    return (-float(way[1]), float(way[0]), 0.0)


def n_sided_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    length, width, height = inside
    sides = round(float(options["sides"]))
    # a ring round the block's diagonal never needs more; it rises with both lengths
    inradius = np.hypot(length, width) / 2
    factor = math.tan(math.pi / sides)
    layers = 2.0 if options["walls"] == "double" else 1.0
    floor = sides * factor * inradius**2
    round_it = 2 * sides * factor * inradius
    area = floor + (round_it + sides * USUAL_TAB) * height * layers
    if options["lid"] == "lift-off":
        depth = smaller(height, float(options["lid-depth"]))
        area = area + floor + (round_it + sides * USUAL_TAB) * depth
    return area


N_SIDED_BOX = register(
    ShapeFamily(
        key="n-sided-box",
        title="N-sided box",
        short="N-sided",
        about="Three to twelve walls round a floor, single or double, with a lift-off lid.",
        parts=(("tray", "Tray"), ("lid", "Lid")),
        options=OPTIONS,
        build=build_n_sided_box,
        board_area=n_sided_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"lid": ("lid", "lift-off")},
        roof="lid",
        cures=(
            (
                "double-walls",
                "Double the walls",
                ("wall", "tall"),
                (("shape.options.walls", "double"),),
            ),
        ),
    )
)
