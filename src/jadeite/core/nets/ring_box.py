"""An n-sided open box: floor, walls all round, a glue tab from each wall to the next."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board, fold_back_gap
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.builder import ROLL_EASE, NetBuilder, Spec, reach_over
from jadeite.core.nets.model import Floats, Joint, Piece
from jadeite.core.reckoning import Reckoning
from jadeite.core.units import number_text

__all__ = ["RingBox", "ngon", "ring_box"]

TAB_GAP = 0.5  # mm; from memory, between a tab's tip and the next corner
LEAST_TAB = 3.0  # mm; from memory, with a shallower tab no finger can press the seam
TIP_TRIANGLE = 0.05  # from memory, a triangle keeps a tip that the blade can turn at
FOOT_ROOM = 2.5  # mm; from memory, keeps the feet of rolled-over walls apart
WEDGE_SHARE = 0.7  # of a tab's root is the most that its lower end draws in; from memory
WEDGE_AIR = 0.2  # mm; from memory, between a tab and the next wall in the flat net
FOOT_SLOPE = 0.08  # from memory, feet draw in by this more than their corner asks


@dataclass(frozen=True)
class RingBox:
    """An n-sided box: its net, and where its surfaces lie, from the floor's middle; mm.

    ``outside`` is the inradius over every ply, ``middle`` that of the walls'
    own middle surface.
    """

    piece: Piece
    joints: tuple[Joint, ...]
    outside: float
    middle: float
    floor_top: float
    rim_top: float
    tab_depth: Reckoning
    wall_height: float
    side: float


def ngon(inradius: float, sides: int, phase: float) -> Floats:
    """Corners (sides, 2) in mm, counter-clockwise; side i looks to ``phase`` + 360 i / sides."""
    around = inradius / math.cos(math.pi / sides)
    turns = math.radians(phase) + (2 * np.arange(sides) - 1) * math.pi / sides
    return np.column_stack([around * np.cos(turns), around * np.sin(turns)])


def ring_box(
    name: str,
    title: str,
    board: Board,
    inradius: float,
    height: float,
    sides: int,
    *,
    phase: float = -90.0,
    double: bool = False,
    good_side: str = "outside",
    turned: bool = True,
    fits: Fits = USUAL,
) -> RingBox:
    """Floor, ``sides`` walls, a tab on each wall's end that is glued inside the next.

    Parameters
    ----------
    inradius, height : float
        mm, inside, clear of every ply.
    phase : float
        Where wall 1 looks in the closed thing, in degrees.
    double : bool
        Whether the walls roll over; their tabs are then triangles, which the
        rolled wall covers.
    turned : bool
        Whether the flat piece is turned over, about its length, in the closed thing.

    Raises
    ------
    FieldError
        A side is too short for a tab; the text names fewer sides that work.
    """
    t, turn = board.thickness, 360.0 / sides
    half_turn = math.tan(math.pi / sides)
    gap = fold_back_gap(t, 2)
    # from the walls' middle surface to the inside: the tab, or the tab and the rolled wall
    plies = gap + t / 2 if double else 1.5 * t
    middle = inradius + plies
    side = 2 * middle * half_turn
    offset = t / math.sin(math.radians(turn))
    room = side - offset - TAB_GAP
    if room < LEAST_TAB:
        fewer = next((n for n in range(sides, 2, -1) if _tab_room(middle, n, t) >= LEAST_TAB), 0)
        raise FieldError(
            "sides",
            f"a wall of {number_text(side)} mm is too short for a glue tab",
            f"Use {fewer} sides." if fewer else "Use a larger inside.",
            (option_way("sides", float(fewer)),) if fewer else (),
        )
    depth = fits.tab(room, "the wall it lies on, up to its next corner")
    net = NetBuilder(name, title, board, good_side)
    flat_phase = -phase if turned else phase
    floor = net.polygon("floor", ngon(middle, sides, flat_phase), f"{title} floor")
    wall_height = height + (t if double else t / 2)
    # flat on the table the walls stand apart by a wedge of ``turn``: the tab must lie in it
    wedge = 1 / math.tan(math.radians(turn)) if turn < 90 else 0.0
    root = wall_height - t - (t if double else 0.0)
    if wedge:
        low = min(depth.value, WEDGE_SHARE * root / wedge)
        if low < depth.value:
            depth = fits.tab(low, "the wedge between two walls of the flat net")
    walls: list[Spec] = []
    for i in range(sides):
        number = 1 + ((-i) % sides if turned else i)
        walls.append(
            net.wall(f"wall-{number}", floor.side(str(i)), wall_height, title=f"wall {number}")
        )
    tabs = []
    for i, wall in enumerate(walls):
        target = walls[(i + 1) % sides]
        tabs.append(
            net.tab(
                f"tab.{wall.name.removeprefix('wall-')}",
                wall.side("start"),
                target,
                "end",
                depth.value,
                turn=turn,
                clear=t,
                rim_clear=t if double else 0.0,
                foot_taper=depth.value * wedge + WEDGE_AIR if wedge else 0.0,
                tip_share=TIP_TRIANGLE if double else 0.5,
                title=f"{title}, {wall.title} to {target.title}",
            )
        )
    if double:
        inner = side / 2 - (gap + t / 2) * half_turn - ROLL_EASE
        slope = half_turn + FOOT_SLOPE
        foot = min(fits.tab_depth, 0.8 * inner / slope, inradius - FOOT_ROOM)
        for i, wall in enumerate(walls):
            net.roll_over(
                wall,
                layers=2,
                covers=(tabs[i - 1],),
                # measured from the corner, from which the wall's ends keep away already
                inset=(
                    side / 2 - inner - wall.start_inset,
                    side / 2 - inner - wall.end_inset,
                ),
                foot=foot,
                floor=floor,
                foot_slope=slope,
            )
    floor_top = 1.5 * t if double else t / 2
    reach = reach_over(t, turn) * math.sin(math.radians(turn))
    cosine = max(0.0, math.cos(math.radians(turn)))
    return RingBox(
        net.build(),
        tuple(net.joints),
        middle + max(t / 2, reach + t / 2 * cosine),
        middle,
        floor_top,
        floor_top + height,
        depth,
        wall_height,
        side,
    )


def _tab_room(middle: float, sides: int, t: float) -> float:
    side = 2 * middle * math.tan(math.pi / sides)
    return side - t / math.sin(2 * math.pi / sides) - TAB_GAP
