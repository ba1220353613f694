"""Petal lantern: three star bases, each with its ring of petals, stacked round a light."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.fans import Fan
from jadeite.core.nets.model import Design, Dimension, Floats, Joint, Kind, Piece
from jadeite.core.nets.petals import FACETS, PetalRing, copies, petal, petal_ring, star_base
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.shapes.rings import MEASURED, hollow_of
from jadeite.core.units import number_text

__all__ = ["PETAL_LANTERN"]

MIN_INSIDE = 15.0  # mm; from memory, less holds no light
MAX_INSIDE = 250.0  # mm; from memory, beyond any board here
NAMES = ("inner", "middle", "outer")
BETWEEN = 1.0  # mm; from memory, between a base's tips and the notches of the next
BEYOND = 20.0  # mm; from memory, a petal goes on at least this far beyond its feet
USUAL_RING = 40.0  # mm; from memory, that each base reaches out, for the quick reckoning
SLIDE_IN = (
    "Slide its feet under the two points beside a notch, until both folds lie along the sides; "
    "press the points down on them."
)
LAY_ON = "Lay the points over the feet, so that every petal stands in its notch; press them down."
STACK = "Glue under the feet: dot on dot, triangle on triangle, so that the petals stand in turn."


def _count(number: int, default: float) -> Option:
    name = NAMES[number - 1]
    return Option(
        f"petals-{number}",
        f"Petals, {name}",
        default,
        f"How many petals stand in the {name} ring.",
        unit="count",
        low=3.0,
        high=6.0,
    )


def _lean(number: int, default: float) -> Option:
    name = NAMES[number - 1]
    return Option(
        f"lean-{number}",
        f"Lean, {name}",
        default,
        f"How steeply the middle of each {name} petal rises: 0° lies flat, 90° is upright. "
        "Its two feet are cut for this lean, so a petal fits its own base only.",
        unit="deg",
        low=20.0,
        high=80.0,
    )


# defaults and ranges from memory
OPTIONS = (
    Option(
        "made-as",
        "Petals cut",
        "single",
        "One by one for a narrow cutter; or each ring in one piece, on a hub, for a wide one.",
        choices=(("single", "one by one"), ("whole", "as whole rings")),
    ),
    MEASURED,
    Option(
        "above",
        "Above the light",
        20.0,
        "How far the tips of the inner petals stand above what is inside.",
        unit="mm",
        low=5.0,
        high=150.0,
    ),
    _count(1, 3.0),
    _lean(1, 75.0),
    _count(2, 5.0),
    _lean(2, 58.0),
    _count(3, 5.0),
    _lean(3, 40.0),
)


@dataclass
class _Made:
    """What the rings are made of so far."""

    pieces: list[Piece] = field(default_factory=list)
    placements: dict[str, Floats] = field(default_factory=dict)
    joints: list[Joint] = field(default_factory=list)
    arrivals: list[Arrival] = field(default_factory=list)
    stacked: str = ""  # what was last put on the ring below it

    def piece(self, name: str) -> Piece:
        """The piece with this name."""
        return next(piece for piece in self.pieces if piece.name == name)


def build_petal_lantern(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """Rings of petals round a light of the given inside (mm), which stands on the inner base.

    Raises
    ------
    FieldError
        An inside length out of range, or a ring that is steeper than the one inside it.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    for i in (1, 2):
        within, lean = float(options[f"lean-{i}"]), float(options[f"lean-{i + 1}"])
        if lean > within:
            raise FieldError(
                f"lean-{i + 1}",
                f"the {NAMES[i]} petals would run into the {NAMES[i - 1]} ones, "
                f"which lean at {number_text(within)}°",
                f"Use {number_text(math.floor(10 * within) / 10)}°.",
                (option_way(f"lean-{i + 1}", math.floor(10 * within) / 10),),
            )
    radius = _radius(inside, options)
    rings = _rings(inside[2], radius, boards, options, fits)
    made = _Made()
    whole = options["made-as"] == "whole"
    for ring in reversed(rings):
        _add(made, ring, rings, whole=whole)
    t = boards["base"].thickness
    return Design(
        family="petal-lantern",
        title="Petal lantern",
        pieces=tuple(made.pieces),
        placements=made.placements,
        joints=tuple(made.joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=_sizes(inside, rings, radius),
        dimensions=(
            Dimension("inside, across", "base-1", "base-1", (-radius, 0.0, t / 2),
                      (radius, 0.0, t / 2), (0.0, 1.0, 0.0), 2 * radius),
        ),
        surfaces={"floor": 0.0, "rim": inside[2]},
        arrivals=Arrivals(made.arrivals),
    )  # fmt: skip


def _radius(inside: Size, options: Mapping[str, OptionValue]) -> float:
    """Of the circle round what stands inside, in mm."""
    if options["measured"] == "round":
        return max(inside[0], inside[1]) / 2
    return math.hypot(inside[0], inside[1]) / 2


def _rings(
    height: float,
    radius: float,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits,
) -> list[PetalRing]:
    """The three rings from the inside out: each base inside the notches of the next."""
    base = boards["base"]
    length = (height + float(options["above"])) / math.sin(math.radians(float(options["lean-1"])))
    level, needs, turn = 0.0, radius + fits.feet, -90.0
    rings: list[PetalRing] = []
    for number in (1, 2, 3):
        board = boards[f"petal-{number}"]
        level -= base.thickness if number == 1 else base.thickness + rings[-1].board.thickness
        count = round(float(options[f"petals-{number}"]))
        lean = math.radians(float(options[f"lean-{number}"]))
        fan = Fan(2 * math.pi / count, lean, FACETS)
        ring = PetalRing(
            number, fan, count, 1.0, level - board.thickness / 2, turn, length, base, board
        )
        plies = max(board.thickness, rings[-1].board.thickness if rings else 0.0)
        apex = max(needs + ring.apex - ring.notch + plies / math.sin(lean), ring.least_apex)
        ring = replace(ring, apex=apex, length=max(length, ring.foot_end + BEYOND))
        needs = ring.outmost + BETWEEN
        turn += 180.0 / count
        rings.append(ring)
    for i in (0, 1):
        rings[i] = replace(rings[i], behind=(rings[i + 1].apex, rings[i + 1].fan.lean))
    return rings


def _add(made: _Made, ring: PetalRing, rings: list[PetalRing], *, whole: bool) -> None:
    """The pieces of a ring, how they are joined, and onto which base below it they go."""
    k, name = ring.number, NAMES[ring.number - 1]
    base = f"base-{k}"
    below = f"base-{k + 1}" if k < len(rings) else ""
    star = np.eye(4)
    star[2, 3] = ring.level + (ring.board.thickness + ring.base.thickness) / 2
    if whole:
        sheet, place = petal_ring(ring, f"ring-{k}", f"{name} ring", f"petal-{k}")
        petals = [(sheet, place)]
    else:
        first, place = petal(ring, f"petal-{k}", f"{name} petal")
        petals = copies(first, ring, place)
    stars = [(star_base(ring, base, f"{name} base", "base"), star)]
    for piece, place in [*petals, *stars] if whole else [*stars, *petals]:
        made.pieces.append(piece)
        made.placements[piece.name] = place
    glued = petals if whole else stars  # the outer ring carries the others
    top = (glued[0][0].name, glued[0][0].panels[0].name)
    if whole:
        made.arrivals.append(Arrival(base, When.FOLDED, top, hint=LAY_ON))
        waits = [base]
    else:
        for i, (piece, _) in enumerate(petals):
            x, y, z = ring.turn(i)[:3, 0].tolist()
            arrival = Arrival(piece.name, When.FOLDED, top, path=(x, y, z), hint=SLIDE_IN)
            made.arrivals.append(arrival)
        waits = [piece.name for piece, _ in petals]
    if below:
        waits += [made.stacked] if made.stacked else []
        onto = (below, made.piece(below).panels[0].name)
        made.arrivals.append(Arrival(top[0], When.FOLDED, onto, hint=STACK, after=tuple(waits)))
        made.stacked = top[0]
    for piece, _ in petals:
        under = [p.name for p in piece.panels if p.role in (Role.TAB, Role.FLOOR)]
        title = f"the feet of the {piece.title} under the points"
        made.joints += [
            Joint(Kind.GLUE, (piece.name, panel), (base, base), title, "outside") for panel in under
        ]
        if below:
            title = f"the {name} ring on the {NAMES[k]} base"
            made.joints += [
                Joint(Kind.GLUE, (piece.name, panel), (below, below), title) for panel in under
            ]


def _sizes(inside: Size, rings: list[PetalRing], radius: float) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inside-across"] = given("Inside, across", 2 * radius)
    for ring in rings:
        k, name, fan = ring.number, NAMES[ring.number - 1], ring.fan
        foot = reckon(
            f"Between the feet, {name}",
            math.degrees(fan.foot),
            "the points have parallel sides: 360° by the number of petals",
            given("petals", ring.count, ""),
            unit="deg",
        )
        half = reckon(
            f"Half-angle of the cone, {name}",
            math.degrees(fan.half_angle),
            "the cone through both feet and a middle that leans as wanted",
            foot,
            given("lean", math.degrees(fan.lean), "deg"),
            unit="deg",
        )
        spread = reckon(
            f"Spread about the cone's axis, {name}",
            math.degrees(fan.spread),
            "sin(spread / 2) = sin(angle between the feet / 2) / sin(half-angle)",
            foot,
            half,
            unit="deg",
        )
        out[f"petal-sector-{k}"] = reckon(
            f"Fan of a flat petal, {name}",
            math.degrees(fan.sector),
            "spread × sin(half-angle); it is wider than the angle between the feet, "
            "so the petal must bend",
            spread,
            half,
            unit="deg",
        )
    out["petal-length"] = reckon(
        "Petal, from its apex to its tip",
        rings[0].length,
        "(height inside + above the light) / sin(lean of the inner petals)",
        given("inside height", inside[2]),
        given("lean", math.degrees(rings[0].fan.lean), "deg"),
    )
    last = rings[-1]
    out["across"] = reckon(
        "Flower, across",
        2 * (last.apex + last.length * math.cos(last.fan.lean)),
        "twice the distance of the outer notches and what the outer petals lean out",
        given("outer notches from the middle", last.apex),
        given("outer petal", last.length),
        given("lean", math.degrees(last.fan.lean), "deg"),
    )
    return out


def petal_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², as full fans and round bases; rises with every length."""
    radius = np.hypot(inside[0], inside[1]) / 2
    length = (inside[2] + float(options["above"])) / math.sin(
        math.radians(float(options["lean-1"]))
    )
    area = 0.0
    for number in (1, 2, 3):
        count = round(float(options[f"petals-{number}"]))
        fan = Fan(2 * math.pi / count, math.radians(float(options[f"lean-{number}"])), FACETS)
        radius = radius + USUAL_RING
        area = area + count * fan.sector / 2 * length**2 + math.pi * radius**2
    return area


PETAL_LANTERN = register(
    ShapeFamily(
        key="petal-lantern",
        title="Petal lantern",
        short="Petals",
        purpose="light",
        about="Three star bases, each with a ring of petals on two feet that bend and lean them.",
        parts=(("base", "Bases"), ("petal-1", "Inner petals"), ("petal-2", "Middle petals"),
               ("petal-3", "Outer petals")),
        options=OPTIONS,
        build=build_petal_lantern,
        board_area=petal_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        follows={"petal-2": "petal-1", "petal-3": "petal-1"},
        smaller={
            f"petal-{k}": ("Cut the petals one by one", (("shape.options.made-as", "single"),))
            for k in (1, 2, 3)
        },
    )
)  # fmt: skip
