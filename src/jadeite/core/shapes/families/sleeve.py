"""Sleeve: a flat tube, closed at the bottom or open at both ends; things slide in."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.builder import ROLL_EASE, NetBuilder, Spec
from jadeite.core.nets.model import Design, Dimension, Hollow
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)

__all__ = ["SLEEVE"]

MIN_INSIDE = 5.0  # mm; from memory, narrower sides cannot be creased
THINNEST = 1.0  # mm; from memory, a thinner one is an envelope: its two scores become one
MAX_INSIDE = 1000.0  # mm; from memory, beyond any board here
NOTCH = 9.0  # mm; from memory, half the width of a fingertip notch
MIN_NOTCH = 4.0  # mm; from memory, a smaller notch helps no finger
NOTCH_SHARE = 1 / 3  # of the front's width and depth; from memory
TAB_CLEAR = 0.5  # mm; from memory, between a tab and the fold beside it
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# from memory
OPTIONS = (
    Option(
        "bottom",
        "Bottom",
        "closed",
        "Closed: a pocket with one mouth. Open: a band that slides over.",
        choices=(("closed", "closed"), ("open", "open at both ends")),
    ),
    Option(
        "finger-notch",
        "Finger notch",
        "one",
        "A half-round notch in the front's mouth, to pull the thing out by.",
        choices=(("none", "none"), ("one", "one")),
    ),
)


def build_sleeve(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A sleeve of the given inside: width, depth from mouth to bottom, thickness; mm.

    The back is the base; side, front and side follow it round, and the seam's
    tab is glued inside the back.  The piece is folded good side down, about
    its width, so the mouth is the net's lower edge.

    Raises
    ------
    FieldError
        An inside length out of range; the text names the value that works.
    """
    thick = max(inside[2], MIN_INSIDE)
    check_inside((*inside[:2], thick), ("width", "depth", "thickness"), MIN_INSIDE, MAX_INSIDE)
    check_inside(
        (THINNEST, THINNEST, inside[2]), ("width", "depth", "thickness"), THINNEST, MAX_INSIDE
    )
    board = boards["sleeve"]
    t = board.thickness
    closed = options["bottom"] == "closed"
    width = inside[0] + t
    depth = inside[1] + (t / 2 if closed else 0.0)
    rise = inside[2] + (3 * t if closed else 2 * t)  # between the scores of back and front
    net = NetBuilder("sleeve", "sleeve", board)
    back = net.base("back", width, depth, "back")
    right = net.wall("right", back.side("right"), rise, title="right side")
    front = net.wall("front", right.side("far"), width, title="front")
    left = net.wall("left", front.side("far"), rise, title="left side")
    notch = _notch(front, inside, options)
    seam = fits.tab(inside[0] - TAB_CLEAR, "the back it lies on")
    net.tab(
        "tab.seam",
        left.side("far"),
        back,
        "left",
        seam.value,
        clear=t + TAB_CLEAR,
        rim_clear=(t if closed else 0.0) + TAB_CLEAR,
        title="seam",
    )
    if closed:
        bottom = net.wall("bottom", back.side("back"), rise, title="bottom")
        bottom.start_inset = bottom.end_inset = t / 2 + ROLL_EASE
        low = fits.tab(inside[1] - TAB_CLEAR - notch, "the front, up to its notch")
        net.tab("tab.bottom", bottom.side("far"), front, "end", low.value, title="bottom")
    sizes = _sizes(inside, board, width, depth, rise, seam, notch)
    low_face = 1.5 * t
    half = depth / 2
    centre = (0.0, (t / 4 if closed else 0.0), low_face + inside[2] / 2)
    return Design(
        family="sleeve",
        title="Sleeve",
        pieces=(net.build(),),
        placements={"sleeve": np.diag([1.0, -1.0, -1.0, 1.0])},
        joints=tuple(net.joints),
        hollow=Hollow(inside, centre),
        sizes=sizes,
        dimensions=_dimensions(inside, width, half, t),
        surfaces={"floor": low_face, "rim": low_face + inside[2]},
        mouth=(0.0, 1.0, 0.0),
    )


def _notch(front: Spec, inside: Size, options: Mapping[str, OptionValue]) -> float:
    """Cut the finger notch into the front's mouth; its depth in mm, 0 where there is no room."""
    half = min(NOTCH, inside[0] * NOTCH_SHARE, inside[1] * NOTCH_SHARE)
    if options["finger-notch"] == "none" or half < MIN_NOTCH:
        return 0.0
    front.notch, front.notch_side = (half, half), "end"
    return half


def _sizes(
    inside: Size,
    board: Board,
    width: float,
    depth: float,
    rise: float,
    seam: Reckoning,
    notch: float,
) -> dict[str, Reckoning]:
    t = board.thickness
    out: dict[str, Reckoning] = {}
    names = ("width", "depth", "thickness")
    for name, value in zip(names, inside, strict=True):
        out[f"inside-{name}"] = given(f"Sleeve inside, {name}", value)
    outside = (width + t, depth + t / 2, rise + t)
    rules = (
        "inside and a board on either side",
        "inside, and the bottom's board where it is closed",
        "inside, front, back, and the tabs glued to them",
    )
    for name, value, whole, rule in zip(names, inside, outside, rules, strict=True):
        out[f"outside-{name}"] = reckon(
            f"Sleeve outside, {name}",
            whole,
            rule,
            given(f"inside {name}", value),
            given("board thickness", t),
        )
    out["tab-depth"] = seam
    if notch:
        out["finger-notch"] = constant("Finger notch, depth", notch, "mm", Mark.MEMORY)
    return out


def _dimensions(inside: Size, width: float, half: float, t: float) -> tuple[Dimension, ...]:
    x, y, z = inside
    mouth = (0.0, -1.0, 0.0)
    return (
        Dimension(
            "inside, width", "sleeve", "back", (-x / 2, -half, 0.0), (x / 2, -half, 0.0), mouth, x
        ),
        Dimension(
            "inside, depth",
            "sleeve",
            "back",
            (-width / 2, -half, 0.0),
            (-width / 2, y - half, 0.0),
            (-1.0, 0.0, 0.0),
            y,
        ),
        Dimension(
            "inside, thickness",
            "sleeve",
            "right",
            (width / 2 + 1.5 * t, -half, 0.0),
            (width / 2 + 1.5 * t + z, -half, 0.0),
            mouth,
            z,
        ),
    )


def sleeve_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without notch and tapers; rises with every length."""
    width, depth, thick = inside
    area = 2 * depth * (width + thick) + USUAL_TAB * depth
    if options["bottom"] == "closed":
        area = area + width * (thick + USUAL_TAB)
    return area


SLEEVE = register(
    ShapeFamily(
        key="sleeve",
        title="Sleeve",
        short="Sleeve",
        about="A flat pocket or band that something slides into; its mouth stays open.",
        parts=(("sleeve", "Sleeve"),),
        options=OPTIONS,
        build=build_sleeve,
        board_area=sleeve_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        thin=(THINNEST, MAX_INSIDE),
        mouth=1,
    )
)
