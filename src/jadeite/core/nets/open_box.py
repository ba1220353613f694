"""An open box: floor, four walls, a glue tab at each corner.

Trays and lids are open boxes.  All that depends on the board (how far apart
the scores are for a wanted inside, which wall rolls between which) is here.
"""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.boards import Board, fold_back_gap
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.builder import ROLL_EASE, NetBuilder, Spec
from jadeite.core.nets.model import Joint, Piece
from jadeite.core.reckoning import Reckoning

__all__ = ["OpenBox", "open_box"]

TAB_GAP = 0.5  # mm; from memory, two tabs on one wall stay this far apart
NOTCH = 10.0  # mm; from memory, half the width of a fingertip notch
MIN_NOTCH = 4.0  # mm; from memory, a smaller notch helps no finger
NOTCH_SHARE = 0.5  # of the lid's depth; from memory
NOTCH_SIDE = 3.0  # mm of board kept beside a notch; from memory
FOOT_ROOM = 2.5  # mm; from memory, keeps opposite and neighbouring feet apart


@dataclass(frozen=True)
class OpenBox:
    """An open box: its net, and where its surfaces lie, from the floor's middle; mm."""

    piece: Piece
    joints: tuple[Joint, ...]
    outside: tuple[float, float]
    floor_top: float
    rim_top: float
    tab_depth: Reckoning
    wall_height: float
    notch: float
    long_walls: tuple[str, str]


def _plies(board: Board, double: bool, tabs: str) -> tuple[float, float]:
    """Plies inside a bare wall, mm: (walls that receive tabs, walls that carry them)."""
    t = board.thickness
    if double:
        return fold_back_gap(t, 2 if tabs == "inside" else 1), fold_back_gap(t, 1)
    return (t if tabs == "inside" else 0.0), 0.0


def open_box(
    name: str,
    title: str,
    board: Board,
    inside: tuple[float, float, float],
    *,
    long_axis: int,
    tabs: str,
    double: bool,
    notches: bool,
    good_side: str,
    turned: bool,
    ply: float = 0.0,
    part: str = "",
    fits: Fits = USUAL,
) -> OpenBox:
    """Floor, four walls, a tab on each end of the two short walls.

    Parameters
    ----------
    inside : length, width, height
        mm, clear of every ply.
    long_axis : 0 or 1
        Along which the long walls run; these receive the tabs, since two tabs
        have more room on them.
    tabs : "inside" or "outside"
    double : bool
        Whether the walls roll over.
    notches : bool
        Thumb notches in the long walls, where there is room.
    turned : bool
        Whether the flat piece is turned over, about its length, in the closed
        thing.  Walls are named as they stand there: front is then at +y.
    ply : float
        mm, a second ply on the floor: the walls are the higher by it.
    part : str
        That the piece belongs to, where it is not of its name.
    """
    t = board.thickness
    on_long, on_short = _plies(board, double, tabs)
    across = (on_short, on_long) if long_axis == 0 else (on_long, on_short)
    length = inside[0] + t + 2 * across[0]
    width = inside[1] + t + 2 * across[1]
    height = inside[2] + ply + (t if double else t / 2)
    net = NetBuilder(name, title, board, good_side, part=part)
    floor = net.base("floor", length, width, f"{title} floor")
    order = ("back", "right", "front", "left") if turned else ("front", "right", "back", "left")
    walls: dict[str, Spec] = {
        name: net.wall(name, floor.side(side), height, title=name)
        for name, side in zip(order, ("front", "right", "back", "left"), strict=True)
    }
    longs, shorts = (("front", "back"), ("right", "left"))
    if long_axis == 1:
        longs, shorts = shorts, longs
    long = (length, width)[long_axis]
    room = long / 2 - TAB_GAP - (t if tabs == "inside" else 0.0)
    depth = fits.tab(room, "half of the wall it lies on, so that two tabs do not meet")
    tab_specs: dict[str, list[Spec]] = {side: [] for side in longs}
    for side in shorts:
        i = order.index(side)
        for end, target in (("start", order[(i + 1) % 4]), ("end", order[i - 1])):
            tab = net.tab(
                f"tab.{side}.{target}",
                walls[side].side(end),
                walls[target],
                "end" if end == "start" else "start",
                depth.value,
                side=tabs,
                clear=t,
                rim_clear=t if double else 0.0,
                title=f"{title}, {target} {side}",
            )
            tab_specs[target].append(tab)
    half = min(NOTCH, long / 2 - depth.value - NOTCH_SIDE)
    drop = min(half, inside[2] * NOTCH_SHARE)
    notch = min(half, drop) if notches and min(half, drop) >= MIN_NOTCH else 0.0
    if notch:
        for side in longs:
            walls[side].notch = (half, drop)
    if double:
        foot = min(fits.tab_depth, min(inside[:2]) / 2 - FOOT_ROOM)
        end_play = t / 2 + ROLL_EASE
        for side in (*longs, *shorts):
            covers = tuple(tab_specs.get(side, ())) if tabs == "inside" else ()
            # a long wall rolls between the short walls, then a short one between both
            inset = end_play if side in longs else end_play + on_long
            outer = walls[side].start_inset  # already shorter than the corner by this
            net.roll_over(
                walls[side],
                layers=2 if covers else 1,
                covers=covers,
                inset=inset - outer,
                foot=foot,
                floor=floor,
            )
    extra = 2 * t if tabs == "outside" else 0.0  # tabs lie outside the long walls
    outside = (
        length + t + (extra if long_axis == 1 else 0.0),
        width + t + (extra if long_axis == 0 else 0.0),
    )
    floor_top = (1.5 * t if double else t / 2) + ply
    return OpenBox(
        net.build(),
        tuple(net.joints),
        outside,
        floor_top,
        floor_top + inside[2],
        depth,
        height,
        notch,
        longs,
    )
