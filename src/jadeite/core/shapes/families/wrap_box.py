"""Box of two halves: glued end to end, over a base of interlocking flaps, under a lid."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.findings import Finding
from jadeite.core.nets.arrivals import Arrival, Arrivals, When, made_at
from jadeite.core.nets.builder import half_round
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Design, Dimension, Hollow, Joint, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.lift_off import LID_DEPTH, THUMB_NOTCHES, lift_off_lid
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
    smaller,
)

__all__ = ["WRAP_BOX"]

HALVES = ("first half", "second half")
WALLS = {"front": ("half-1", "long"), "right": ("half-1", "short"),
         "back": ("half-2", "long"), "left": ("half-2", "short")}  # fmt: skip
MIN_INSIDE = 20.0  # mm; from memory, smaller flaps cannot hold one another
MAX_INSIDE = 600.0  # mm; from memory, beyond any board here
PAST = 0.25  # of the width, that each long flap reaches past the middle; from memory
MOST_PAST = 15.0  # mm; from memory, more holds no better
SIDE_SHARE, SIDE_MOST = 0.4, 30.0  # of the length, and mm, that a side flap reaches; from memory
LIFT = 1.5  # thicknesses by which the flaps rise on one side and sink on the other; from memory
SLOT_LEAST = 0.5  # mm; from memory, the blade cannot cut a narrower open slot
DEEPER = 0.5  # mm beyond the middle that each half-lap slot goes; from memory
NOTCH, NOTCH_SHARE = 10.0, 0.25  # mm, and of the long wall; from memory
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

LOCKED = (
    "Stand the box upside down. Both side flaps first; over them the long flaps, each pushed into "
    "the other's slot, so that one end of each lies on top. Press from inside."
)
WITH_LID = (("lid", ("lift-off",)),)
# from memory
OPTIONS = (
    Option(
        "lid",
        "Lid",
        "lift-off",
        "A lid that is a little larger lifts off; none leaves an open box.",
        choices=(("lift-off", "lift-off"), ("none", "none")),
    ),
    replace(LID_DEPTH, only=WITH_LID),
    replace(THUMB_NOTCHES, only=WITH_LID),
    Option(
        "finger-notch",
        "Finger notches",
        "two",
        "Half-round notches in the rims of the long walls, to take hold of what is inside.",
        choices=(("two", "two"), ("none", "none")),
        only=(("lid", ("none",)),),
    ),
)


@dataclass(frozen=True)
class _Form:
    """Middle planes; mm.  The hollow's floor is z = 0; both halves turn into one another."""

    x: float
    y: float
    side: float  # height of the side flaps' middle surface
    flap: float  # of the long flaps' middle, where they cross
    tilt: float  # their rise per mm along the length
    rim: float


def build_wrap_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A box of the given inside (mm): two equal halves, each of a long and a short wall; and a lid.

    The two long flaps of the base are slotted half through in their middles and
    hook into one another: at the left the front one lies above, at the right
    the back one.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board = boards["half"]
    t = board.thickness
    # the seams' tabs lie inside the long walls
    x, y = inside[0] / 2 + t / 2, inside[1] / 2 + 1.5 * t
    side = -t / 2
    tilt = LIFT * t / x
    form = _Form(x, y, side, side - t - LIFT * t, tilt, inside[2])
    net = ClosedForm("half-1", "first half", board, part="half", fits=fits)
    front = net.base(
        "long",
        np.array(
            [
                [-x, -y, form.flap - tilt * x],
                [x, -y, form.flap + tilt * x],
                [x, -y, form.rim],
                [-x, -y, form.rim],
            ]
        ),
        title="long wall",
        role=Role.WALL,
    )
    short = net.face(
        "short",
        np.array([[x, -y, side], [x, y, side], [x, y, form.rim], [x, -y, form.rim]]),
        front,
        title="short wall",
    )
    _long_flap(net, form, front, inside, board)
    deep = min(SIDE_SHARE * inside[0], SIDE_MOST)
    inset = 2 * t + fits.flap
    reach = 2 * y - 2 * inset
    taper = min(deep / 2, reach / 5)
    side_flap = net.flap(
        "side-flap",
        short,
        short.side_towards((0, 0, -1)),
        np.array([[0, 0], [reach, 0], [reach - taper, deep], [taper, deep]]),
        90.0,
        title="side flap",
        start=inset,
    )
    after = about_z(180.0)[:3, :3]
    ghost = net.ghost("next-long", front.space() @ after.T, front)
    low, high = form.flap - 2 * LIFT * t, t
    shut = np.array([[-2 * x, y, low], [2 * x, y, low], [2 * x, y, high], [-2 * x, y, high]])
    net.keep_clear(ghost, ghost.flat(shut))
    net.tab("tab", short, ghost, title="seam")
    half = min(NOTCH, NOTCH_SHARE * inside[0], NOTCH_SHARE * inside[2])
    closed = options["lid"] == "lift-off"
    if not closed and options["finger-notch"] == "two":
        top = front.side_towards((0, 0, 1))
        a, b = front.outline[top], front.outline[(top + 1) % 4]
        front.bites[top] = half_round(a, b, half)
    first = net.build()
    pieces, placements, glued = [], {}, []
    for i in range(2):
        name, other = f"half-{i + 1}", f"half-{2 - i}"
        pieces.append(replace(first, name=name, title=HALVES[i]))
        placements[name] = about_z(180.0 * i) @ net.placement
        glued.append(
            Joint(Kind.GLUE, (name, "tab"), (other, "long"), f"{HALVES[i]} to {HALVES[1 - i]}")
        )
    late = ("long-flap", side_flap.name)
    sizes = _sizes(inside, form, board, fits)
    findings: tuple[Finding, ...] = ()
    lids: list[Arrival] = []
    if closed:
        under = form.flap - form.tilt * (form.x - t / 2 - fits.flap) - t / 2
        cover = lift_off_lid(
            boards["lid"], max(boards["lid"], board, key=lambda b: b.thickness),
            (2 * x + t, 2 * y + t), (under, form.rim), WALLS, float(options["lid-depth"]),
            notches=options["thumb-notches"] == "two", fits=fits,
        )  # fmt: skip
        pieces.append(cover.lid.piece)
        placements["lid"] = cover.place
        glued += cover.joints
        sizes |= cover.sizes
        findings = cover.findings
        lids.append(cover.arrival)
    return Design(
        family="wrap-box",
        title="Box of two halves",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(glued),
        hollow=Hollow(inside, (0.0, 0.0, inside[2] / 2)),
        sizes=sizes,
        findings=findings,
        dimensions=_dimensions(front, form, inside),
        surfaces={"floor": 0.0, "rim": inside[2]},
        arrivals=Arrivals(
            (
                Arrival("half-2", When.FOLDED, ("half-1", first.panels[0].name)),
                *made_at(When.JOINED, "half-1", late, LOCKED),
                *made_at(When.JOINED, "half-2", late, LOCKED),
                *lids,
            )
        ),
    )


def _long_flap(net: ClosedForm, form: _Form, front: Face, inside: Size, board: Board) -> None:
    """The base flap of a long wall, with the slot that hooks into the other's."""
    t, x, y = board.thickness, form.x, form.y
    past = min(PAST * inside[1], MOST_PAST)
    end = t / 2 + net.fits.flap
    wide = max(t + net.fits.slot_ease(t), SLOT_LEAST) / 2
    draw = min(past, x / 3)

    def at(px: float, py: float) -> list[float]:
        return [px, py, form.flap + form.tilt * px]

    # clockwise from above: counter-clockwise from outside, which is below
    corners = [at(-x + end, -y), at(-x + end + draw, past), at(-wide, past),
               at(-wide, -DEEPER), at(wide, -DEEPER), at(wide, past),
               at(x - end - draw, past), at(x - end, -y)]  # fmt: skip
    net.face("long-flap", np.array(corners), front, title="long flap", role=Role.HOOK)


def _sizes(inside: Size, form: _Form, board: Board, fits: Fits) -> dict[str, Reckoning]:
    t = board.thickness
    out = inside_sizes(inside)
    for name, value, whole in (("length", inside[0], form.x), ("width", inside[1], form.y)):
        out[f"between-{name}"] = reckon(
            f"{name.capitalize()}, score to score",
            2 * whole,
            "inside, the tabs of both seams, and half a board on either side",
            given(f"inside {name}", value),
            given("board thickness", t),
        )
    out["flap-slot"] = reckon(
        "Slot of the long flaps",
        max(t + fits.slot_ease(t), SLOT_LEAST),
        "board and ease, but no narrower than can be cut",
        given("board thickness", t),
        constant("ease", fits.slot_ease(t), "mm", Mark.MEMORY),
    )
    return out


def _dimensions(front: Face, form: _Form, inside: Size) -> tuple[Dimension, ...]:
    ends = front.flat(np.array([[-inside[0] / 2, -form.y, 0.0], [inside[0] / 2, -form.y, 0.0],
                                [inside[0] / 2, -form.y, inside[2]]]))  # fmt: skip
    (ax, ay), (bx, by), (_cx, cy) = ends.tolist()
    return (
        Dimension("inside, length", "half-1", "long", (ax, ay, 0.0), (bx, by, 0.0),
                  (0.0, -1.0, 0.0), inside[0]),
        Dimension("inside, height", "half-1", "long", (ax, ay, 0.0), (ax, cy, 0.0),
                  (-1.0, 0.0, 0.0), inside[2]),
    )  # fmt: skip


def wrap_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    length, width, height = inside
    walls = 2 * (length + width + USUAL_TAB) * height
    past = smaller(PAST * width, MOST_PAST)
    if options["lid"] == "lift-off":
        deep = smaller(height, float(options["lid-depth"]))
        walls += length * width + 2 * (length + width) * deep
    return walls + 2 * length * (width / 2 + past) + 2 * smaller(SIDE_SHARE * length, 30.0) * width


WRAP_BOX = register(
    ShapeFamily(
        key="wrap-box",
        title="Box of two halves",
        short="Two halves",
        about="Two equal halves glued end to end; the flaps of the base lock without glue, and a "
        "lid lifts off.",
        parts=(("half", "Halves"), ("lid", "Lid")),
        options=OPTIONS,
        build=build_wrap_box,
        board_area=wrap_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"lid": ("lid", "lift-off")},
        follows={"lid": "half"},
        roof="lid",
    )
)
