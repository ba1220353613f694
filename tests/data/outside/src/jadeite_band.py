"""A band of four walls round a bundle, open at both ends: a shape from outside the project."""

from __future__ import annotations

import numpy as np

from jadeite.core.findings import Finding, Level
from jadeite.core.nets import Design, Hollow, NetBuilder
from jadeite.core.reckoning import given
from jadeite.core.shapes import Option, ShapeFamily
from jadeite.core.shapes.registry import check_inside

LEAST, MOST = 8.0, 400.0  # mm; from memory
CLEAR = 0.5  # mm; from memory, between the tab and the folds beside it
WIDTH = Option("band", "Band, width", 30.0, "How wide it is.", unit="mm", low=12.0, high=200.0)


def build_band(inside, boards, options, fits):
    """A band of the given inside (width, depth, thickness; mm), as wide as its option says."""
    check_inside(inside, ("width", "depth", "thickness"), LEAST, MOST)
    board, band = boards["band"], float(options["band"])
    t = board.thickness
    width, rise = inside[0] + t, inside[2] + 2 * t
    net = NetBuilder("band", "band", board)
    back = net.base("back", width, band, "back")
    right = net.wall("right", back.side("right"), rise, title="right side")
    front = net.wall("front", right.side("far"), width, title="front")
    left = net.wall("left", front.side("far"), rise, title="left side")
    seam = fits.tab(inside[0] - CLEAR, "the back it lies on")
    net.tab(
        "seam", left.side("far"), back, "left", seam.value,
        clear=t + CLEAR, rim_clear=CLEAR, title="seam",
    )  # fmt: skip
    floor = 1.5 * t
    return Design(
        family="band",
        title="Band",
        pieces=(net.build(),),
        placements={"band": np.diag([1.0, -1.0, -1.0, 1.0])},
        joints=tuple(net.joints),
        hollow=Hollow((inside[0], band, inside[2]), (0.0, 0.0, floor + inside[2] / 2)),
        sizes={"inside-width": given("Band inside, width", inside[0])},
        surfaces={"floor": floor, "rim": floor + inside[2]},
        mouth=(0.0, 1.0, 0.0),
    )


def judge_band(design, options):
    """A band of its own has its own to say."""
    if options["band"] >= design.room.size[0]:
        return ()
    words = "It is narrower than it is long: it holds a bundle in its middle only."
    return (Finding(Level.NOTE, "band-narrow", words, "band"),)


BAND = ShapeFamily(
    key="band",
    title="Band",
    short="Band",
    about="Four walls round a bundle, open at both ends.",
    parts=(("band", "Band"),),
    options=(WIDTH,),
    build=build_band,
    board_area=lambda inside, boards, options: 2 * options["band"] * (inside[0] + inside[2] + 10.0),
    smallest=LEAST,
    largest=MOST,
    mouth=1,
    judge=judge_band,
)
