"""Tri-fold holder: a pocket folded over the middle, a cover over both, a ribbon tied round it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import MIN_FOLD_BACK, MIN_TAB
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When, made_at
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.builder import ROLL_EASE, NetBuilder
from jadeite.core.nets.model import Design, Dimension, Floats, Hollow, Joint, Kind, Opening, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.ties import BOW, Strip, wrapped
from jadeite.core.nets.turns import closed_matrix, transform
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.flat_things import check_pouch, outside_of, pouch_inside, taken_by_holder
from jadeite.core.shapes.mounted import lying_on, plate, round_off
from jadeite.core.shapes.ornaments import ornament
from jadeite.core.shapes.registry import (
    SOME,
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    register,
)
from jadeite.core.units import number_text, rounded_down

__all__ = ["TRI_FOLD_HOLDER"]

HOLDER, SEAL = "holder", "seal"
MIDDLE, POCKET, COVER = "middle", "flap.pocket", "flap.cover"
SMALLEST, LARGEST = 40.0, 300.0  # mm; from memory
THIN, THICK = 0.1, 8.0  # mm of what lies in it; from memory, more asks for a box
USUAL_THICK = 0.8  # mm; from memory, a card or a folded chart
STARTS = (
    83.0,
    95.0,
)  # mm closed; common practice, 9.75 x 3.75 in flat, scores 3.25 in from each end
SHORT = 1.0  # mm; from memory, a folded-in panel keeps from the fold on its far side
CLEAR = 3.0  # mm; from memory, of the foot's tab from the folds
APART = 14.0  # mm between the slits; from memory, less than a seal hides
SEAL_SIZE, FOAM, DOT = 34.0, 1.0, 8.0  # mm; from memory: a seal on a thin foam pad
MOSS, MOON = "#8A9A6B", "#FFFDF8"  # from memory
AROUND = 6.0  # mm; from memory, board round what is cut or glued on the cover

# from memory where nothing else is said
OPTIONS = (
    Option(
        "pocket-height", "Pocket, high", 68.0,
        "How far the pocket covers what lies in it, from its foot up.", "%", 35.0, 100.0,
    ),
    Option("foot", "Foot flap", 12.0, "It closes the pocket's foot, glued inside.", "mm",
           MIN_TAB, 40.0),
    Option(
        "opens-to", "Cover opens", "left",
        "Which hand the cover is on; the pocket then comes in from the other.",
        choices=(("left", "to the left"), ("right", "to the right")),
    ),
    Option(
        "corner", "Corners, radius", 6.0,
        "Of the cover's free corners; 6 or 13 mm are usual with corner punches.", "mm", 0.5, 20.0,
    ),
    Option(
        "ribbon", "Ribbon, wide", 10.0, "It runs through two slits in the cover and ties it shut.",
        "mm", 3.0, 30.0,
    ),
    Option(
        "seal", "Seal", "round", "On foam over the ribbon, where it runs on the cover.",
        choices=(("none", "none"), ("round", "disc"), ("star", "star")),
    ),
    Option(
        "seal-size", "Seal, across", SEAL_SIZE, "It hides both slits.", "mm", 24.0, 80.0,
        only=(("seal", ("round", "star")),),
    ),
)  # fmt: skip


def within(
    face: tuple[float, float], boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Size:
    """The inside of a holder that is closed as wide and high as this, in mm."""
    t = boards[HOLDER].thickness
    return face[0] - 2 * t, face[1] - 2 * t, USUAL_THICK


def build_holder(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A holder of the given inside: width, height, thickness of what lies in it; mm.

    The middle is the base, good side down; its foot is the net's upper edge.

    Raises
    ------
    FieldError
        An inside length out of range, or parts that leave no room for one another.
    """
    check_pouch(inside, (THIN, THICK), SMALLEST, LARGEST, "a holder")
    board = boards[HOLDER]
    t, thick = board.thickness, max(inside[2], MIN_FOLD_BACK - board.thickness)
    width, height = inside[0] + t, inside[1] + t
    foot = float(options["foot"])
    high = float(options["pocket-height"]) / 100 * height
    if foot > high / 2:
        most = rounded_down(high / 2)
        raise FieldError(
            "foot", f"{number_text(foot)} mm reaches more than half way up the pocket",
            f"Use {number_text(most)} mm.", (option_way("foot", most),),
        )  # fmt: skip
    net = NetBuilder(HOLDER, "holder", board)
    face = net.base(MIDDLE, width, height, "middle")
    hands = ("right", "left") if options["opens-to"] == "left" else ("left", "right")
    pocket = _flap(net, face, hands[0], "pocket", thick + 2 * t, width - SHORT)
    if hands[0] == "right":  # its mouth is at the net's lower end
        pocket.end_inset += height - high
    else:
        pocket.start_inset += height - high
    edge = net.wall("edge.foot", face.side("back"), thick + 2 * t, title="foot edge",
                    role=Role.EDGE)  # fmt: skip
    edge.start_inset = edge.end_inset = t / 2 + ROLL_EASE
    end = "start" if hands[0] == "right" else "end"
    near, far = CLEAR + t, CLEAR + SHORT + t
    net.tab(
        "foot", edge.side("far"), pocket, end, foot,
        clear=near if hands[0] == "right" else far,
        rim_clear=far if hands[0] == "right" else near, title="foot flap",
    )  # fmt: skip
    _flap(net, face, hands[1], "cover", thick + 4 * t, width - SHORT)
    piece = _finished(net.build(), options, fits)
    low = t / 2
    made = (inside[0], inside[1], thick)
    placements = {HOLDER: np.diag([1.0, -1.0, -1.0, 1.0])}
    pieces, joints = [piece], list(net.joints)
    arrivals = list(made_at(When.FILLED, HOLDER, (f"edge.{hands[1]}", COVER)))
    ribbon = float(options["ribbon"])
    sizes = _sizes(inside, thick, board, ribbon, high)
    bought = [
        Bought("ribbon", ribbon, sizes["ribbon-length"].value, "Draw the ribbon through its slits",
               "From the outside in through one slit and out through the other; pull it through "
               "until both ends are even.", (HOLDER, COVER), first=True, holds=False),
        Bought("", 0.0, 0.0, "Tie the ribbon round it in a bow",
               "Both ends round the back and to the front again; the bow over or beside the seal.",
               (HOLDER, COVER), holds=False, strips=_tied(piece, placements[HOLDER], ribbon)),
    ]  # fmt: skip
    if options["seal"] != "none":
        seal, place, joint = _seal(piece, placements[HOLDER], boards[SEAL], options)
        pieces.append(seal)
        placements[SEAL] = place
        joints.append(joint)
        words = "A thin foam pad in the middle of its back; over the ribbon, between the slits."
        arrivals.append(Arrival(SEAL, When.FOLDED, (HOLDER, COVER), How.PADDED, hint=words))
        bought.append(Bought("foam dot", DOT, 0.0, "", "", (HOLDER, COVER), thick=FOAM))
    return Design(
        family="tri-fold-holder",
        title="Tri-fold holder",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=Hollow(made, (0.0, 0.0, low + thick / 2)),
        sizes=sizes,
        dimensions=_dimensions(inside, width, height),
        surfaces={"floor": low, "rim": low + thick},
        mouth=(0.0, 1.0, 0.0),
        arrivals=Arrivals(arrivals),
        bought=tuple(bought),
    )


def _tied(piece: Piece, place: Floats, width: float) -> tuple[Strip, ...]:
    """The ribbon as it lies round the closed holder."""
    slits = [
        transform(closed_matrix(piece, place, COVER), slit.points)
        for slit in piece.panel(COVER).openings
    ]
    corners = np.concatenate(
        [transform(closed_matrix(piece, place, p.name), p.outline) for p in piece.panels]
    )
    half = np.array([0.0, 0.0, piece.board.thickness / 2])
    up = slits[0][1] - slits[0][0]
    up = up if up[1] > 0 else -up  # as it is read
    middles = slits[0].mean(axis=0), slits[1].mean(axis=0)
    return wrapped(
        middles, corners.min(axis=0) - half, corners.max(axis=0) + half,
        up / np.linalg.norm(up), width,
    )  # fmt: skip


def _flap(net: NetBuilder, face: Any, side: str, name: str, rise: float, depth: float) -> Any:
    """A panel over an edge as high as what it folds over, in mm."""
    edge = net.wall(f"edge.{side}", face.side(side), rise, title=f"{side} edge", role=Role.EDGE)
    return net.wall(f"flap.{name}", edge.side("far"), depth, title=name, role=Role.FLAP)


def _finished(piece: Piece, options: Mapping[str, OptionValue], fits: Fits) -> Piece:
    """With the cover's free corners rounded, and the ribbon's slits in it."""
    cover = piece.panel(COVER)
    fold = next(f for f in piece.folds if f.child == COVER)
    hinge = (np.array(fold.start) + np.array(fold.end)) / 2
    away = np.linalg.norm(cover.outline - hinge, axis=1)
    free = [int(i) for i in np.argsort(away)[-2:]]
    outline = round_off(cover.outline, free, float(options["corner"]))
    middle = (cover.outline.min(axis=0) + cover.outline.max(axis=0)) / 2
    half = fits.ribbon_slit(float(options["ribbon"])) / 2
    slits = tuple(
        Opening("slit", middle + np.array([[x, -half], [x, half]])) for x in (-APART / 2, APART / 2)
    )
    most = rounded_down(
        2 * (float(np.ptp(cover.outline[:, 1])) / 2 - AROUND) - 2 * half + float(options["ribbon"])
    )
    if float(options["ribbon"]) > most:
        raise FieldError(
            "ribbon", f"{number_text(float(options['ribbon']))} mm is too wide for the cover",
            f"Use {number_text(most)} mm.", (option_way("ribbon", most),),
        )  # fmt: skip
    changed = replace(cover, outline=outline, openings=slits)
    panels = tuple(changed if p.name == COVER else p for p in piece.panels)
    return replace(piece, panels=panels)


def _seal(
    piece: Piece, place: Floats, board: Board, options: Mapping[str, OptionValue]
) -> tuple[Piece, Floats, Joint]:
    """A seal in the middle of the cover, on foam: its piece, place and joint."""
    cover = piece.panel(COVER)
    low, high = cover.outline.min(axis=0), cover.outline.max(axis=0)
    size = float(options["seal-size"])
    most = rounded_down(float((high - low).min()) - 2 * AROUND)
    if size > most:
        raise FieldError(
            "seal-size", f"{number_text(size)} mm reaches to the edges of the cover",
            f"Use {number_text(most)} mm.", (option_way("seal-size", most),),
        )  # fmt: skip
    outline = ornament(str(options["seal"]), size)
    made = plate(SEAL, "seal", Role.OVERLAY, outline + (low + high) / 2, board)
    dot = ornament("round", DOT) + (low + high) / 2
    region = tuple((float(x), float(y)) for x, y in dot)
    own = (SEAL, made.panels[0].name)
    joint = Joint(Kind.GLUE, own, (HOLDER, COVER), "seal on its pad", "outside", FOAM, region)
    return made, lying_on(piece, place, COVER, made, front=True, pad=FOAM), joint


def _sizes(
    inside: Size, thick: float, board: Board, ribbon: float, high: float
) -> dict[str, Reckoning]:
    t = board.thickness
    out = pouch_inside("Holder", inside)
    out["inside-thickness"] = reckon(
        "Holder inside, thickness", thick,
        "what lies in it; two scores cannot lie closer than half a millimetre",
        given("asked for", inside[2]),
        constant("scores apart, least", MIN_FOLD_BACK, "mm", Mark.MEMORY),
    )  # fmt: skip
    out |= outside_of("Holder", inside, t)
    out["outside-thickness"] = reckon(
        "Holder outside, thickness", thick + 4 * t,
        "what lies in it, and four boards: the foot flap is one of them",
        given("inside", thick), given("board thickness", t),
    )  # fmt: skip
    out["pocket-height"] = reckon(
        "Pocket, high", high, "so much of the height is covered, and keeps the thing in",
        given("inside height", inside[1]),
    )  # fmt: skip
    round_ = 2 * (inside[0] + thick + 6 * t)
    out["ribbon-length"] = reckon(
        "Ribbon", 2 * round_ + BOW, "each end once round the closed holder, and a bow",
        given("round", round_), constant("for a bow", BOW, "mm", Mark.MEMORY),
    )  # fmt: skip
    return out


def _dimensions(inside: Size, width: float, height: float) -> tuple[Dimension, ...]:
    (x, y), half = (inside[0] / 2, inside[1] / 2), (width / 2, height / 2)
    return (
        Dimension("inside, width", HOLDER, MIDDLE, (-x, -half[1], 0.0), (x, -half[1], 0.0),
                  (0.0, -1.0, 0.0), inside[0]),
        Dimension("inside, height", HOLDER, MIDDLE, (-half[0], -y, 0.0), (-half[0], y, 0.0),
                  (-1.0, 0.0, 0.0), inside[1]),
    )  # fmt: skip


def holder_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    width, height, thick = inside
    return width * (3 * height + float(options["foot"])) + 2 * thick * (width + height)


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """A seal that stands out."""
    return {HOLDER: MOSS, SEAL: MOON}


TRI_FOLD_HOLDER = register(
    ShapeFamily(
        key="tri-fold-holder",
        title="Tri-fold holder",
        short="Holder",
        purpose="write",
        about="A pocket for a card, a chart or a sachet, a cover over it, and a ribbon with a bow.",
        parts=((HOLDER, "Holder"), (SEAL, "Seal")),
        options=OPTIONS,
        build=build_holder,
        board_area=holder_area,
        smallest=SMALLEST,
        largest=LARGEST,
        mouth=1,
        thin=(THIN, THICK),
        starts=STARTS,
        when={SEAL: ("seal", SOME)},
        answers=("hollow", "face"),
        within=within,
        takes=taken_by_holder,
        tones=tones,
    )
)
