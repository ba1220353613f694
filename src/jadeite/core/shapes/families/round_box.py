"""Round box: a wall rolled from one strip, upright or flared, on a floor; a lid rolled likewise."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board, smallest_roll
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, inside_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.model import Design, Dimension, Joint, Kind
from jadeite.core.nets.rolled import Rolled, Teeth, disc, facets_for, rolled_wall
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
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
from jadeite.core.shapes.rings import MEASURED, hollow_of

__all__ = ["ROUND_BOX"]

MIN_INSIDE = 12.0  # mm; from memory, smaller walls cannot be rolled evenly
MAX_INSIDE = 400.0  # mm; from memory, beyond any board here
LEAST_ACROSS = 41.0  # mm; from memory, less leaves no room for teeth; a tea light fits
# longer than a tab: the floor covers a tooth only from the wall's inside on; from memory
TOOTH = 14.0  # mm
TOOTH_LEAST, TOOTH_MOST = 0.12, 0.7  # of the inside radius that teeth reach in; from memory
LEAST_FLARE = 1e-3  # degrees; rounding, no blade leans a wall by less
LAP_UP = 0.5  # mm; from memory, the lap ends this far above the floor
USUAL_ROUND = 1.02  # from memory, for the quick reckoning: what lap and plies add all round

# defaults and ranges from memory
OPTIONS = (
    MEASURED,
    Option(
        "flare",
        "Flare",
        0.0,
        "How far the wall leans outwards: none is a cylinder, more is a cup, cut as a sector.",
        unit="deg",
        low=0.0,
        high=25.0,
    ),
    Option(
        "floor",
        "Floor",
        "two",
        "Teeth round the foot are glued to a disc; a second disc, inside, hides them.",
        choices=(("two", "two discs"), ("one", "one disc")),
    ),
    Option(
        "lid",
        "Lid",
        "lift-off",
        "A lid that is a little larger lifts off; none leaves it open.",
        choices=(("lift-off", "lift-off"), ("none", "none")),
    ),
    Option(
        "lid-depth",
        "Lid depth",
        18.0,
        "How far the lid reaches down, inside. A lid that would pass the table stops at it.",
        unit="mm",
        low=8.0,
        high=MAX_INSIDE,
        only=(("lid", ("lift-off",)),),
    ),
)


@dataclass(frozen=True)
class _Form:
    """What stands where; mm, z = 0 is what the contents stand on."""

    clear: float  # radius round what is inside
    teeth: float  # height of the teeth's middle surface, where the wall's score is
    depth: float  # of a tooth
    wall: Rolled
    under: float  # where the base ends


def _flare(options: Mapping[str, OptionValue]) -> float:
    """How far the wall leans out, degrees; so little that no rim is an arc is none."""
    flare = float(options["flare"])
    return flare if flare > LEAST_FLARE else 0.0


def build_round_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A round box of the given inside (mm): round a block, or as wide as something round.

    Raises
    ------
    FieldError
        An inside length out of range, or too little across for teeth.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    form = _form(inside, boards, options)
    two, wall_board = options["floor"] == "two", boards["wall"]
    t, t_base, t_floor = (boards[part].thickness for part in ("wall", "base", "floor"))
    lean = form.wall.lean
    clear = (-form.teeth + LAP_UP) / math.cos(lean)
    wall = rolled_wall(
        "wall", "wall", wall_board, form.wall, Teeth(form.depth), lap=(clear, 0.0), fits=fits
    )
    place = wall.placement.copy()
    place[2, 3] += form.teeth
    base = disc("base", "base", boards["base"], form.wall.low + t / 2)
    down = np.diag([1.0, -1.0, -1.0, 1.0])
    down[2, 3] = form.teeth - (t + t_base) / 2
    pieces, placements = [base, wall.piece], {"base": down, "wall": place}
    joints = [*wall.joints, *(
        Joint(Kind.GLUE, ("wall", tooth), ("base", "base"), "the teeth on the base")
        for tooth in wall.teeth
    )]  # fmt: skip
    arrivals = [Arrival("wall", When.FOLDED, ("base", "base"))]
    sizes = _sizes(inside, form, options, boards)
    if two:
        low = form.wall.inradius(-t_floor - form.teeth)
        radius = low - t / 2 / math.cos(lean) - fits.disc
        pieces.append(disc("floor", "floor", boards["floor"], radius, "inside"))
        placements["floor"] = np.eye(4)
        placements["floor"][2, 3] = -t_floor / 2
        joints += [
            Joint(
                Kind.GLUE,
                ("wall", tooth),
                ("floor", "floor"),
                "the floor on the teeth",
                "outside",
            )
            for tooth in wall.teeth
        ]
        arrivals.append(Arrival("floor", When.STANDING, ("base", "base")))
        sizes["floor-across"] = reckon(
            "Floor, across", 2 * radius, "inside of the wall, less a little all round",
            given("wall inside", 2 * (radius + fits.disc)),
            constant("all round", fits.disc, "mm", Mark.MEMORY),
        )  # fmt: skip
    if options["lid"] == "lift-off":
        more = _lid(inside, form, boards, options, wall.facets, fits)
        pieces += more.pieces
        placements |= more.placements
        joints += more.joints
        sizes |= more.sizes
        arrivals += more.arrivals
    return Design(
        family="round-box",
        title="Cup" if _flare(options) else "Round box",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=sizes,
        dimensions=(
            Dimension("inside, across", "base", "base",
                      (-form.clear, 0.0, form.under), (form.clear, 0.0, form.under),
                      (0.0, 1.0, 0.0), 2 * form.clear),
        ),
        arrivals=Arrivals(arrivals),
        surfaces={"floor": 0.0, "rim": inside[2]},
    )  # fmt: skip


def _form(inside: Size, boards: Mapping[str, Board], options: Mapping[str, OptionValue]) -> _Form:
    t, t_base = boards["wall"].thickness, boards["base"].thickness
    t_floor = boards["floor"].thickness if options["floor"] == "two" else 0.0
    round_ = options["measured"] == "round"
    clear = max(inside[0], inside[1]) / 2 if round_ else math.hypot(inside[0], inside[1]) / 2
    if 2 * clear < LEAST_ACROSS:
        raise FieldError(
            "inside length",
            f"{2 * clear:.1f} mm across leaves no room for the teeth round its foot",
            f"Use {LEAST_ACROSS:.0f} mm.",
            (inside_way("length", LEAST_ACROSS),),
        )
    flare = math.radians(_flare(options))
    teeth = -t_floor - t / 2
    height = inside[2] - teeth
    # the lap is a second ply inside; the wall is narrowest where the contents stand
    inradius = clear + 1.5 * t / math.cos(flare) + teeth * math.tan(flare)
    facets = facets_for(clear)
    cosine = math.cos(math.pi / facets)

    def shaped(out: float) -> Rolled:
        low = inradius / cosine / out
        return Rolled(low, low + height * math.tan(flare) / cosine / out, height, facets)

    wall = shaped(1.0)
    for _ in range(3):  # the corners lie outside the circles by the sector, which depends on them
        wall = shaped(wall.out)
    depth = min(max(TOOTH, TOOTH_LEAST * clear), TOOTH_MOST * clear)
    return _Form(clear, teeth, depth, wall, t_floor + t + t_base)


@dataclass(frozen=True)
class _Lid:
    pieces: list[Any]
    placements: dict[str, Any]
    joints: list[Joint]
    sizes: dict[str, Reckoning]
    arrivals: list[Arrival]


def _lid(
    inside: Size,
    form: _Form,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    facets: tuple[str, ...],
    fits: Fits,
) -> _Lid:
    """A rim rolled as the wall is, its teeth at the top, glued under a disc."""
    board, top = boards["lid"], boards["lid-top"]
    clearance = fits.lid_over(max(board, boards["wall"], key=lambda b: b.thickness))
    wall, t = form.wall, boards["wall"].thickness
    outside = wall.inradius(wall.height) + t / 2 / math.cos(wall.lean)
    inradius = outside + clearance.value / 2 + 1.5 * board.thickness
    rim_top = inside[2] + wall.bulge
    full = rim_top + form.under
    depth = min(float(options["lid-depth"]), full)
    height = depth + board.thickness / 2
    cylinder = Rolled(1.0, 1.0, height, wall.facets)
    radius = inradius / cylinder.inradius(0.0)
    shape = Rolled(radius, radius, height, wall.facets)
    rim = rolled_wall(
        "lid",
        "lid rim",
        board,
        shape,
        Teeth(form.depth, upper=True),
        lap=(0.0, board.thickness),
        fits=fits,
    )
    place = rim.placement.copy()
    place[2, 3] += rim_top + board.thickness / 2 - height
    cover = np.eye(4)
    cover[2, 3] = rim_top + board.thickness + top.thickness / 2
    joints = [*rim.joints]
    joints += [
        Joint(Kind.GLUE, ("lid", tooth), ("lid-top", "lid-top"), "the lid's top on its rim")
        for tooth in rim.teeth
    ]
    if not _flare(options):
        joints += [
            Joint(Kind.SLIDE, ("lid", mine), ("wall", its), "lid over the wall", "outside")
            for mine, its in zip(rim.facets, facets, strict=True)
        ]
    sizes = {
        "lid-clearance": clearance,
        "lid-inside-across": reckon(
            "Lid inside, across",
            2 * outside + clearance.value,
            "wall outside at its rim, and the lid's clearance",
            given("wall outside", 2 * outside),
            clearance,
        ),
        "lid-length": reckon(
            "Rim of the lid, without its lap",
            2 * math.pi * radius,
            "2 π times the radius of its middle surface",
            given("radius", radius),
        ),
        "lid-depth": reckon(
            "Lid depth",
            depth,
            "as wanted, but it stops where the rim meets the table",
            given("wanted", float(options["lid-depth"])),
            given("down to the table", full),
        ),
        "outside-height": reckon(
            "Closed height",
            full + board.thickness + top.thickness,
            "inside height, and all plies below and above",
            given("down to the table", full),
            given("rim's teeth", board.thickness),
            given("lid's top", top.thickness),
        ),
    }
    return _Lid(
        [rim.piece, disc("lid-top", "lid top", top, radius + board.thickness / 2)],
        {"lid": place, "lid-top": cover},
        joints,
        sizes,
        [
            Arrival("lid", When.LAST, how=How.PUT),
            Arrival("lid-top", When.FOLDED, ("lid", rim.piece.panels[0].name), after=("wall",)),
        ],
    )


def _sizes(
    inside: Size, form: _Form, options: Mapping[str, OptionValue], boards: Mapping[str, Board]
) -> dict[str, Reckoning]:
    wall, t = form.wall, boards["wall"].thickness
    out = inside_sizes(inside)
    round_ = options["measured"] == "round"
    across = reckon(
        "Inside, across",
        2 * form.clear,
        "as wide as what is round" if round_ else "√(length² + width²): the corners decide",
        out["inside-length"],
        out["inside-width"],
    )
    foot = reckon(
        "Radius at the foot, of the wall's middle surface",
        wall.low,
        "inside, the lap within, half the wall; a little more so that its facets clear as well",
        across,
        given("board thickness", t),
    )
    out["inside-across"] = across
    out["strip-length"] = reckon(
        "Wall along its foot, without its lap",
        2 * math.pi * wall.low,
        "2 π times the radius of its middle surface",
        foot,
    )
    out["strip-height"] = reckon(
        "Wall, score to rim",
        wall.slant,
        "√(height² + what it leans²)",
        given("height above the teeth", wall.height),
        given("leans outwards by", wall.high - wall.low),
    )
    if wall.sector:
        out["sector-angle"] = reckon(
            "Angle of the sector",
            math.degrees(wall.sector),
            "360° times the radius, by its distance from the cone's point",
            foot,
            given("from the cone's point", wall.from_apex(wall.low)),
            unit="deg",
        )
    out["tooth-depth"] = reckon(
        "Teeth",
        form.depth,
        "a little longer than a tab; on small floors 0.7 of the radius, on large ones 0.12",
        constant("usual length", TOOTH, "mm", Mark.MEMORY),
        given("inside radius", form.clear),
    )
    out["smallest-curl"] = smallest_roll(boards["wall"])
    return out


def round_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without lap and teeth; rises with every length."""
    length, width, height = inside
    tangent = math.tan(math.radians(_flare(options)))
    low = USUAL_ROUND * np.hypot(length, width) / 2
    high = low + height * tangent
    area = math.pi * (low + high) * height * math.hypot(1.0, tangent)
    area = area + (2.0 if options["floor"] == "two" else 1.0) * math.pi * low**2
    if options["lid"] == "lift-off":
        depth = smaller(height, float(options["lid-depth"]))
        area = area + math.pi * high**2 + 2 * math.pi * high * depth
    return area


ROUND_BOX = register(
    ShapeFamily(
        key="round-box",
        title="Round box",
        short="Round",
        about="A wall rolled from one strip on a round floor, upright or flared; a lid to match.",
        parts=(("base", "Base"), ("wall", "Wall"), ("floor", "Floor, inside"),
               ("lid", "Lid rim"), ("lid-top", "Lid top")),
        options=OPTIONS,
        build=build_round_box,
        board_area=round_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"floor": ("floor", "two"), "lid": ("lid", "lift-off"),
              "lid-top": ("lid", "lift-off")},
        follows={"wall": "base", "floor": "base", "lid-top": "lid"},
        roof="lid-top",
    )
)  # fmt: skip
