"""The folded lock of a bottom with four walls: no glue, and it carries."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jadeite.core.errors import FieldError, inside_way, option_way
from jadeite.core.nets.arrivals import Arrival, When, made_at
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Kind
from jadeite.core.nets.roles import Role
from jadeite.core.shapes.registry import Size

__all__ = ["REACH", "LockBase", "check_lock", "lock_arrivals", "locked"]

# how the flaps are folded, one after another, once the tube is glued
FIRST = (
    "Once the seam is dry, stand the tube upside down; this flap first, square over the opening."
)
SIDES = "Both over the notched flap."
LAST = (
    "Over both side flaps; push its tongue into the notch of the first one, until it is in as far "
    "as it goes. Press from the inside with your fingertips: it locks."
)

LOCK_LENGTH, LOCK_WIDTH = 30.0, 24.0  # mm; from memory, a smaller lock bottom has no tongue left
# from memory: the lock bottom, as shares of its width (along the tongue) and length (across)
REACH, NOTCH_DEEP, TONGUE, TONGUE_WIDE = 0.65, 0.2, 0.3, 0.4


@dataclass(frozen=True)
class LockBase:
    """Half the distances of the walls' middle surfaces, the inside, the thickness; mm."""

    x: float
    y: float
    length: float
    width: float
    t: float

    @property
    def feet(self) -> tuple[float, float, float]:
        """Heights of the feet of back, side and front walls under the hollow's floor."""
        return -1.5 * self.t, -2.5 * self.t, -3.5 * self.t


def check_lock(inside: Size) -> None:
    """Refuse an inside (mm) that leaves a lock no tongue.

    Raises
    ------
    FieldError
        It names the length, and the least that works.
    """
    for axis, value, least in (
        ("length", inside[0], LOCK_LENGTH),
        ("width", inside[1], LOCK_WIDTH),
    ):
        if value < least:
            raise FieldError(
                f"inside {axis}",
                f"{value:.1f} mm leaves no room for a folded lock bottom",
                f"Use {least:.0f} mm, or a glued bottom.",
                (option_way("bottom", "glued"), inside_way(axis, least)),
            )


def lock_arrivals(piece: str) -> tuple[Arrival, ...]:
    """The flaps of a lock are folded when the walls stand and their seam is glued."""
    return (
        *made_at(When.JOINED, piece, ("lock-back",), FIRST),
        *made_at(When.JOINED, piece, ("lock-right", "lock-left"), SIDES),
        *made_at(When.JOINED, piece, ("lock-front", "lock-step", "lock-tongue"), LAST),
    )


def locked(net: ClosedForm, body: LockBase, walls: tuple[Face, Face, Face, Face]) -> None:
    """The folded lock: the notched flap, both sides, and a last one that tucks under the first.

    ``walls`` are back, right, left and front; their feet stand at ``body.feet``.
    """
    back, right, left, front = walls
    length, width, t = body.length, body.width, body.t
    down, play = (0.0, 0.0, -1.0), net.fits.flap
    end = t / 2 + play
    across = 2 * body.x - 2 * end
    tongue = TONGUE_WIDE * length
    deep, cut = REACH * width, NOTCH_DEEP * width
    notch = tongue / 2 + 2 * play
    c = across / 2
    slope = min(4.0, c / 6)
    first = net.flap(
        "lock-back",
        back,
        back.side_towards(down),
        np.array(
            [[0, 0], [across, 0], [across - slope, deep], [c + notch, deep],
             [c + notch, deep - cut], [c - notch, deep - cut], [c - notch, deep], [slope, deep]]
        ),
        90.0,
        title="notched flap",
        start=end,
    )  # fmt: skip
    inset = 2 * t + 1.0
    reach = 2 * body.y - 2 * inset
    side_deep = body.x - tongue / 2 - 2 * play
    taper = min(side_deep / 2, reach / 5)
    sides = [
        net.flap(
            f"lock-{wall.name}",
            wall,
            wall.side_towards(down),
            np.array([[0, 0], [reach, 0], [reach - taper, side_deep], [taper, side_deep]]),
            90.0,
            title=f"{wall.title} side flap",
            start=inset,
        )
        for wall in (right, left)
    ]
    # the tongue steps up just before the edge of the notch
    step_at = body.y - (deep - cut) - t / 2 - play
    last_deep = step_at + body.y
    last = net.flap(
        "lock-front",
        front,
        front.side_towards(down),
        np.array([[0, 0], [across, 0], [c + tongue / 2, last_deep], [c - tongue / 2, last_deep]]),
        90.0,
        title="last flap",
        start=end,
    )
    step = net.flap(
        "lock-step",
        last,
        2,
        np.array([[0, 0], [tongue, 0], [tongue, 3 * t], [0, 3 * t]]),
        90.0,
        title="tongue, bend",
        role=Role.GUSSET,
        kind="rolled",
    )
    far = TONGUE * width
    draw = min(3.0, tongue / 6)
    tip = net.flap(
        "lock-tongue",
        step,
        2,
        np.array([[0, 0], [tongue, 0], [tongue - draw, far], [draw, far]]),
        -90.0,
        title="tongue",
        role=Role.GUSSET,
        kind="rolled",
    )
    for one in sides:
        net.before(first, one)
        net.before(one, last)
        net.joint(Kind.TUCK, one, last, f"{one.title} over the last flap")
        net.joint(Kind.TUCK, one, first, f"{one.title} under the notched flap")
    net.joint(Kind.TUCK, tip, first, "tongue into the notched flap")
