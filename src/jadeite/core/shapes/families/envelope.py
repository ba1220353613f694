"""Envelope: a face, two side flaps, a bottom flap glued to them, and a top flap that closes it.

Every flap folds over two scores, as far apart as what lies under it is thick,
so that a thick card lies in it without bowing it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import MIN_FOLD_BACK, MIN_TAB
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents import AnyThing
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, When, made_at
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.builder import ROLL_EASE, NetBuilder, Spec
from jadeite.core.nets.model import Design, Dimension, Hollow, Joint, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.envelope_liner import APART, liner_for
from jadeite.core.shapes.flat_things import check_pouch, outside_of, pouch_inside, taken_flat
from jadeite.core.shapes.letters import judge_letter
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    register,
)
from jadeite.core.shapes.string_closing import BUTTON, BUTTON_FOAM, string_closing
from jadeite.core.units import number_text

__all__ = ["ENVELOPE"]

SMALLEST, LARGEST = 40.0, 600.0  # mm; from memory, a smaller one holds no card
THIN, THICK = 0.1, 20.0  # mm of what lies in it; from memory, more asks for a box
USUAL_THICK = 0.8  # mm; from memory, a card with a panel inside
POCKET_SHARE = 0.6  # of the height that the bottom flap covers; from memory
SIDE_FLAP, OVERLAP = 15.0, 22.0  # mm; from memory
CLEAR = 2.0  # mm; from memory, between a side flap and the bottom edge
MOUTH = 5.0  # mm; from memory, no glue at the mouth, where the card goes in
BETWEEN = 4.0  # mm; from memory, between the two side flaps
TAPER = 0.35  # of a pointed flap's depth that it draws in on either side; from memory
SQUARE_TAPER = 2.0  # mm; from memory, so that a square flap's corners do not catch
LINER, LINER_BORDER = "liner", 7.0  # mm; from memory
GLUE_IT_IN = (
    "The envelope lies good side down. Glue stick along the liner's edges only, its scores on "
    "those of the envelope, the border even; under a weight until it is dry. Crease both in one."
)
HOW_CLOSED = {
    "glue": "Over its two scores; a seal, a bow, glue dots or a strip of tape closes it.",
    "string": "Over its two scores, flat on the bottom flap.",
    "tuck": "Over its two scores: its tip goes in between the bottom flap and what lies in it, "
    "as far as it will go.",
}
OCHRE = "#D9B978"  # from memory
FACE = "face"

# from memory
OPTIONS = (
    Option(
        "mouth",
        "Mouth",
        "long",
        "On the long side a card goes in by its long edge, as into most envelopes for cards.",
        choices=(("long", "on the long side"), ("short", "on the short side")),
    ),
    Option(
        "flap",
        "Top flap",
        "pointed",
        "Pointed draws in on both sides; square reaches from edge to edge.",
        choices=(("pointed", "pointed"), ("square", "square")),
    ),
    Option(
        "overlap",
        "Flap over flap",
        OVERLAP,
        "How far the top flap lies over the bottom flap, or behind it: room for a seal, glue dots "
        "or buttons, and what holds a tucked flap.",
        "mm",
        8.0,
        60.0,
    ),
    Option(
        "closing",
        "Closed by",
        "glue",
        "Glue dots, tape or a seal, once; a string round two buttons, or tucked in behind the "
        "bottom flap, which open again.",
        choices=(("glue", "glue or a seal"), ("string", "a string"), ("tuck", "tucked in")),
    ),
    Option(
        "liner",
        "Liner",
        "none",
        "On the face and the top flap, its scores on those of the envelope; glued in while all is "
        "flat.",
        choices=(("none", "none"), ("one", "one")),
    ),
    Option(
        "liner-border",
        "Liner's border",
        LINER_BORDER,
        "Of the envelope round the liner: on the flap it leaves room for the glue that closes it.",
        "mm",
        2.0,
        20.0,
        only=(("liner", ("one",)),),
    ),
    Option(
        "side-flap",
        "Side flaps",
        SIDE_FLAP,
        "Their depth: the bottom flap is glued to them, and to nothing else.",
        "mm",
        MIN_TAB,
        40.0,
    ),
)


def takes(thing: AnyThing, options: Mapping[str, OptionValue]) -> AnyThing:
    """A flat thing as it goes in: by its long edge where the mouth is on the long side.

    Raises
    ------
    FieldError
        It is not flat.
    """
    return taken_flat(thing, way="envelope", lying=options["mouth"] == "long", what="an envelope")


@dataclass(frozen=True)
class _Depths:
    """Lengths in mm: the bottom and the top flap, and a side flap."""

    bottom: float
    top: float
    side: float


def _depths(inside: Size, t: float, options: Mapping[str, OptionValue]) -> _Depths:
    """How deep the flaps are.

    Raises
    ------
    FieldError
        An option leaves no room for the others.
    """
    width, height, _ = inside
    side, over = float(options["side-flap"]), float(options["overlap"])
    most = math.floor(10 * ((width - BETWEEN) / 2 - t)) / 10
    if side > most:
        raise FieldError(
            "side-flap",
            f"two flaps of {number_text(side)} mm meet in the middle",
            f"Use {number_text(most)} mm.",
            (option_way("side-flap", most),),
        )
    bottom = POCKET_SHARE * height
    top = height - bottom + over
    if top > height:
        most = math.floor(10 * bottom) / 10
        raise FieldError(
            "overlap",
            f"{number_text(over)} mm over the bottom flap reaches past its foot",
            f"Use {number_text(most)} mm.",
            (option_way("overlap", most),),
        )
    return _Depths(bottom, top, side)


def within(
    face: tuple[float, float], boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Size:
    """The inside of an envelope that is closed as wide and high as this, in mm."""
    t = boards["envelope"].thickness
    lined = boards[LINER].thickness if options["liner"] == "one" else 0.0
    return face[0] - 2 * t, face[1] - 2 * t - lined, USUAL_THICK


def build_envelope(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """An envelope of the given inside: width, height, thickness of what lies in it; mm.

    The face is the base, good side down; its foot is the net's upper edge, so
    that the mouth opens towards the maker.

    Raises
    ------
    FieldError
        An inside length out of range, or flaps that leave no room; the text
        names the value that works.
    """
    check_pouch(inside, (THIN, THICK), SMALLEST, LARGEST, "an envelope")
    board = boards["envelope"]
    t, thick = board.thickness, _thick(inside, board)
    lined = boards[LINER].thickness if options["liner"] == "one" else 0.0
    room = thick + lined
    flaps = _depths(inside, t, options)
    width, height = inside[0] + t, inside[1] + t + lined
    tucked = options["closing"] == "tuck"
    over, under = room + 3 * t + lined, room + 2 * t
    if tucked:  # the top flap next to what lies in it, the bottom flap over both
        over, under = room + t + lined, room + 3 * t + lined
    net = NetBuilder("envelope", "envelope", board)
    face = net.base(FACE, width, height, "face")
    bottom = _flap(net, face, "back", "bottom", under, flaps.bottom)
    for side, start in (("right", True), ("left", False)):
        edge = net.wall(
            f"edge.{side}", face.side(side), under, title=f"{side} edge", role=Role.EDGE
        )
        edge.start_inset = edge.end_inset = t / 2 + ROLL_EASE  # clear of the flaps' edges
        foot, mouth = CLEAR + t, height - flaps.bottom + MOUTH
        net.tab(
            f"side.{side}",
            edge.side("far"),
            bottom,
            "start" if start else "end",
            flaps.side,
            clear=foot if start else mouth,
            rim_clear=mouth if start else foot,
            title=f"{side} flap",
        )
    top = _flap(net, face, "front", "top", over, flaps.top)
    if tucked:
        assert top.on is not None
        rise = top.on.spec
        rise.start_inset = rise.end_inset = t / 2 + fits.flap  # it slides in between the edges
    draw = TAPER * flaps.top if options["flap"] == "pointed" else SQUARE_TAPER
    top.start_taper = top.end_taper = min(draw, width / 3)
    low = t / 2 + lined
    made = (inside[0], inside[1], thick)
    piece = net.build()
    pieces, joints = [piece], list(net.joints)
    if tucked:
        ends = ("envelope", "flap.top"), ("envelope", "flap.bottom")
        joints.append(Joint(Kind.TUCK, *ends, "top flap behind the bottom flap"))
    placements = {"envelope": np.diag([1.0, -1.0, -1.0, 1.0])}
    late = ("edge.top", "flap.top")
    arrivals = list(made_at(When.FILLED, "envelope", late, HOW_CLOSED[str(options["closing"])]))
    sizes = _sizes(inside, thick, board, flaps, lined)
    if lined:
        border = float(options["liner-border"])
        own = [piece.panel(name).outline for name in (FACE, "edge.top", "flap.top")]
        liner = liner_for(LINER, boards[LINER], own[0], own[1], own[2], border)
        pieces.append(liner)
        placements[LINER] = np.eye(4)
        placements[LINER][2, 3] = APART
        for panel, target in (("liner", FACE), ("flap", "flap.top")):
            title = f"liner on the {piece.panel(target).title}"
            joints.append(Joint(Kind.GLUE, (LINER, panel), ("envelope", target), title, flush=True))
        arrivals.append(
            Arrival(
                LINER,
                When.BEHIND,
                ("envelope", FACE),
                hint=GLUE_IT_IN,
                called="the liner in the envelope",
                rides=(("edge", "edge.top"), ("flap", "flap.top")),
            )
        )
        sizes["liner-border"] = given("Liner, border", border)
    bought: tuple[Bought, ...] = ()
    if options["closing"] == "string":
        tied = string_closing(
            piece, placements["envelope"], "flap.top", "flap.bottom", boards[BUTTON]
        )
        pieces += tied.pieces
        placements |= tied.placements
        joints += tied.joints
        arrivals += tied.arrivals
        bought, sizes["string-length"] = tied.bought, tied.length
        sizes["outside-thickness"] = reckon(
            "Envelope outside, thickness",
            sizes["outside-thickness"].value + BUTTON_FOAM + boards[BUTTON].thickness,
            "what lies in it, the plies over one another, and a button on its foam",
            sizes["outside-thickness"],
            given("foam and button", BUTTON_FOAM + boards[BUTTON].thickness),
        )
    return Design(
        family="envelope",
        title="Envelope",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=Hollow(made, (0.0, -lined / 2, low + thick / 2)),
        sizes=sizes,
        dimensions=_dimensions(inside, width, height),
        surfaces={"floor": low, "rim": low + thick},
        mouth=(0.0, 1.0, 0.0),
        arrivals=Arrivals(arrivals),
        bought=bought,
    )


def _flap(net: NetBuilder, face: Spec, side: str, name: str, rise: float, depth: float) -> Spec:
    """A flap over an edge as high as what it folds over, in mm."""
    edge = net.wall(f"edge.{name}", face.side(side), rise, title=f"{name} edge", role=Role.EDGE)
    return net.wall(f"flap.{name}", edge.side("far"), depth, title=f"{name} flap", role=Role.FLAP)


def _thick(inside: Size, board: Board) -> float:
    """Room through the thickness, in mm: two scores cannot lie closer than a least distance."""
    return max(inside[2], MIN_FOLD_BACK - board.thickness)


def _sizes(
    inside: Size, thick: float, board: Board, flaps: _Depths, lined: float
) -> dict[str, Reckoning]:
    t = board.thickness
    out = pouch_inside("Envelope", inside)
    out["inside-thickness"] = reckon(
        "Envelope inside, thickness",
        thick,
        "what lies in it; two scores cannot lie closer than half a millimetre",
        given("asked for", inside[2]),
        constant("scores apart, least", MIN_FOLD_BACK, "mm", Mark.MEMORY),
        given("board thickness", t),
    )
    out |= outside_of("Envelope", (inside[0], inside[1] + lined, inside[2]), t)
    out["outside-thickness"] = reckon(
        "Envelope outside, thickness",
        thick + 4 * t + 2 * lined,
        "what lies in it, the face, three flaps over one another, and a liner on face and flap",
        given("inside", thick),
        given("board thickness", t),
        given("liner", lined),
    )
    out["bottom-flap"] = reckon(
        "Bottom flap",
        flaps.bottom,
        "covers so much of the height that the card stays in",
        given("inside height", inside[1]),
        constant("share", 100 * POCKET_SHARE, "%", Mark.MEMORY),
    )
    out["top-flap"] = reckon(
        "Top flap",
        flaps.top,
        "what the bottom flap leaves, and what lies over it",
        given("inside height", inside[1]),
        given("bottom flap", flaps.bottom),
        given("flap over flap", flaps.top + flaps.bottom - inside[1]),
    )
    out["side-flap"] = given("Side flaps", flaps.side)
    return out


def _dimensions(inside: Size, width: float, height: float) -> tuple[Dimension, ...]:
    (x, y), half = (inside[0] / 2, inside[1] / 2), (width / 2, height / 2)
    return (
        Dimension(
            "inside, width",
            "envelope",
            FACE,
            (-x, -half[1], 0.0),
            (x, -half[1], 0.0),
            (0.0, -1.0, 0.0),
            inside[0],
        ),
        Dimension(
            "inside, height",
            "envelope",
            FACE,
            (-half[0], -y, 0.0),
            (-half[0], y, 0.0),
            (-1.0, 0.0, 0.0),
            inside[1],
        ),
    )


def envelope_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    width, height, thick = inside
    flaps = width * (2 * height * 1.0 + float(options["overlap"]))
    sides = 2 * height * POCKET_SHARE * float(options["side-flap"])
    return flaps + sides + thick * 2 * (width + height)


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """A liner that is told from its envelope."""
    return {LINER: OCHRE, BUTTON: OCHRE}


ENVELOPE = register(
    ShapeFamily(
        key="envelope",
        title="Envelope",
        short="Envelope",
        purpose="write",
        about="For a card or a letter, as thick as it is; glued only where the card cannot stick.",
        parts=(("envelope", "Envelope"), (LINER, "Liner"), (BUTTON, "Buttons")),
        options=OPTIONS,
        build=build_envelope,
        board_area=envelope_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        mouth=1,
        thin=(THIN, THICK),
        when={LINER: ("liner", "one"), BUTTON: ("closing", "string")},
        usual={"envelope": "text", LINER: "text", BUTTON: "heavy-card"},
        posted=True,
        tones=tones,
        answers=("hollow", "face"),
        within=within,
        takes=takes,
        judge=judge_letter,
    )
)
