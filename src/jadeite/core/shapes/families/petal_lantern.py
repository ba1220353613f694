"""Petal lantern: three star bases, each with its ring of petals, stacked round a light."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.fans import Fan
from jadeite.core.nets.model import Design, Dimension, Floats, Joint, Kind, Piece
from jadeite.core.nets.petal_ring import FACETS, PetalRing
from jadeite.core.nets.petals import MARKS, copies, petal, petal_ring, star_base
from jadeite.core.nets.roles import Role
from jadeite.core.shapes.petal_options import NAMES, OPTIONS
from jadeite.core.shapes.petal_sizes import petal_sizes
from jadeite.core.shapes.petal_view import PetalView, seen
from jadeite.core.shapes.registry import (
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.shapes.rings import hollow_of
from jadeite.core.units import number_text

__all__ = ["PETAL_LANTERN"]

MIN_INSIDE = 15.0  # mm; from memory, less holds no light
MAX_INSIDE = 250.0  # mm; from memory, beyond any board here
BETWEEN = 1.0  # mm; from memory, between a base's tips and the notches of the next
BEYOND = 20.0  # mm; from memory, a petal goes on at least this far beyond its feet
OPENING = 2.0  # times the inner notches' distance is the opening's width
THIN = 70.0  # %; from memory, a flower less full than this shows its bases and gaps first
MORE = 0.05  # of the opening's width, in which a fuller flower is looked for; from memory
REACH_LESS = "Let petals reach only {} % beyond the base"
LEAST_SPREAD, SPREAD_STEP = 45.0, 5.0  # %; measured: with less, gaps show at most lights
USUAL_RING = 20.0  # mm; from memory, that each base reaches out, for the quick reckoning
SLIDE_IN = (
    "Slide its feet under the two points beside a notch, until both folds lie along the sides; "
    "press the points down on them. Where both folds line up with the sides at once, petal and "
    "base belong together; where one stands off, it is a petal of another ring: look at the "
    "{mark} in its feet."
)
LAST_TWO = (
    "They crowd each other: slide the feet of both in side by side, a little at a time, and only "
    "then press the points down."
)
LAY_ON = "Lay the points over the feet, so that every petal stands in its notch; press them down."
STACK = (
    "Glue under its feet. Push a pin through the hole in the middle of both, and one through the "
    "hole beside it: so the petals stand in the gaps of those below."
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
    whole = options["made-as"] == "whole"
    rings = _rings(inside[2], radius, boards, options, fits)
    views = seen(rings, radius)
    made = _Made()
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
        sizes=petal_sizes(inside, rings, radius, views),
        dimensions=(
            Dimension("inside, across", "base-1", "base-1", (-radius, 0.0, t / 2),
                      (radius, 0.0, t / 2), (0.0, 1.0, 0.0), 2 * radius),
        ),
        surfaces={"floor": 0.0, "rim": inside[2]},
        arrivals=Arrivals(made.arrivals),
        findings=_thin(inside, boards, options, fits, rings, views),
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
    level, needs, turn = 0.0, radius + fits.feet, -90.0
    rings: list[PetalRing] = []
    for number in (1, 2, 3):
        board = boards[f"petal-{number}"]
        level -= base.thickness if number == 1 else base.thickness + rings[-1].board.thickness
        count = round(float(options[f"petals-{number}"]))
        lean = math.radians(float(options[f"lean-{number}"]))
        fan = Fan(2 * math.pi / count, lean, FACETS)
        broad = float(options[f"broad-{number}"]) / 100
        together = options["made-as"] == "whole"
        ring = PetalRing(number, fan, count, 1.0, level - board.thickness / 2, turn, 1.0, base,
                         board, broad, together)  # fmt: skip
        plies = max(board.thickness, rings[-1].board.thickness if rings else 0.0)
        apex = max(needs + ring.apex - ring.notch + plies / math.sin(lean), ring.least_apex)
        ring = replace(ring, apex=apex)
        needs = ring.outmost + BETWEEN
        turn += 180.0 / count
        rings.append(ring)
    rings = _long_enough(rings, height, options)
    for i in (0, 1):
        rings[i] = replace(rings[i], behind=(rings[i + 1].apex, rings[i + 1].fan.lean))
    return rings


def _half_across(
    rings: list[PetalRing], height: float, options: Mapping[str, OptionValue]
) -> float:
    """Half the flower's width in mm: beyond its outer base, and the inner tips above the light."""
    inner = rings[0]
    beyond = float(options["spread"]) / 100 * OPENING * inner.apex
    steep = (height + float(options["above"])) / math.tan(inner.fan.lean)
    return max(rings[-1].outmost + beyond, inner.apex + steep)


def _long_enough(
    rings: list[PetalRing], height: float, options: Mapping[str, OptionValue]
) -> list[PetalRing]:
    """The rings with petals that reach as far out as is wanted, the inner ones high enough."""
    wide = _half_across(rings, height, options)
    least = (height + float(options["above"])) / math.sin(rings[0].fan.lean)
    out = []
    for ring in rings:
        reach = float(options[f"reach-{ring.number}"]) / 100 * wide
        length = max((reach - ring.apex) / math.cos(ring.fan.lean), ring.foot_end + BEYOND)
        out.append(replace(ring, length=max(length, least) if ring.number == 1 else length))
    return out


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
        first_in = tuple(piece.name for piece, _ in petals[:-2])
        for i, (piece, _) in enumerate(petals):
            x, y, z = ring.turn(i)[:3, 0].tolist()
            last = i >= len(first_in)
            arrival = Arrival(
                piece.name, When.FOLDED, top, path=(x, y, z),
                hint=LAST_TWO if last else SLIDE_IN.format(mark=MARKS[k - 1]),
                after=first_in if last else (),
            )  # fmt: skip
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


def _thin(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits,
    rings: list[PetalRing],
    views: tuple[PetalView, PetalView],
) -> tuple[Finding, ...]:
    """Whether the flower looks thin, with a reach beyond its base that makes it full, as tried."""
    full = 100 * min(view.petals for view in views)
    if full >= THIN:
        return ()
    words = f"Petals cover {full:.0f} % of what is seen of the flower: bases and gaps show."
    spread = next(o for o in OPTIONS if o.key == "spread")
    assert spread.high is not None
    now, radius = float(options["spread"]), _radius(inside, options)
    tries = np.arange(now / 100 + MORE, spread.high / 100 + 1e-9, 4 * MORE) * 100
    wider = [float(more) for more in np.ceil(tries)]

    def is_full(more: float) -> bool:
        reaching = _rings(inside[2], radius, boards, {**options, "spread": more}, fits)
        return 100 * min(view.petals for view in seen(reaching, radius)) >= THIN

    cure = None
    if wider and is_full(wider[-1]):  # the farther they reach the fuller it is: the least is found
        more = wider[bisect_left(wider, True, key=is_full)]
        label = f"Reach {number_text(more)} % beyond the base"
        cure = Cure(label, (("shape.options.spread", more),))
    return (Finding(Level.LOOK, "flower-thin", words, "spread", "shape", cure),)


def petal_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², as full fans and round bases; rises with every length."""
    radius = np.hypot(inside[0], inside[1]) / 2
    opening, area = radius, 0.0
    for _ in NAMES:
        radius = radius + USUAL_RING
        area = area + math.pi * radius**2
    high = (inside[2] + float(options["above"])) / math.tan(math.radians(float(options["lean-1"])))
    wide = np.maximum(radius + float(options["spread"]) / 100 * OPENING * opening, opening + high)
    for number in (1, 2, 3):
        count, lean = round(float(options[f"petals-{number}"])), float(options[f"lean-{number}"])
        fan = Fan(2 * math.pi / count, math.radians(lean), FACETS)
        length = wide * float(options[f"reach-{number}"]) / 100 / math.cos(fan.lean)
        area = area + count * fan.sector / 2 * length**2
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
        lessens={
            f"petal-{k}": ("spread", LEAST_SPREAD, SPREAD_STEP, REACH_LESS)
            for k in (1, 2, 3)
        },
    )
)  # fmt: skip
