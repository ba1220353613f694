"""Folded card: two leaves, a gate or three; layers outside, maybe on foam, panels inside."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents import AnyThing, Disc
from jadeite.core.contents.standards import CARDS, standard_of
from jadeite.core.contents.things import MadeThing
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When, Where
from jadeite.core.nets.model import Design, Joint, Kind, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.card_leaves import CARD, LEAVES, leaves_of
from jadeite.core.shapes.flat_things import check_face, face_dimensions
from jadeite.core.shapes.mounted import lying_on, plate_within
from jadeite.core.shapes.named import NAME_OPTIONS, blank_for
from jadeite.core.shapes.pull_tab import BRIDGE, PULL, PULL_OPTIONS, PULL_PARTS, pull_tab
from jadeite.core.shapes.registry import SOME, Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text, rounded_down

__all__ = ["FOLDED_CARD"]

SMALLEST, LARGEST = 30.0, 600.0  # mm of a leaf; from memory
LEAST = 12.0  # mm; from memory, a smaller layer cannot be glued straight
STARTS = (105.0, 148.0)  # mm, A6; published: ISO 216
MOUNTED = 4.0  # mm; from memory, a thicker thing makes no card
BLOOM = 9.0  # mm; from memory, of a flower made here: an envelope for flat things takes no more
RAISED = (0.0, BLOOM)  # mm; from memory, by what is mounted on it
LEAST_BORDER = 2.0  # mm; from memory, a narrower one is never even
LEAST_STEP = 1.0  # mm; from memory, a narrower one looks like a slip
OPENINGS = (20.0, 50.0, 80.0, 115.0, 150.0)  # degrees; setting, at which it is proved
LAYERS = 5  # from memory, more are a pile
INSET = "inset"
FINE = 1e-9  # mm; rounding
NAME_EDGE = 4.0  # mm; from memory, words keep from the edge of their layer
USUAL_BORDER, USUAL_STEP = 6.0, 4.0  # mm; from memory, an even border of 3 to 6 reads as one

# from memory
OPTIONS = (
    Option(
        "leaves",
        "Leaves",
        "two",
        "Two; a gate, whose front opens in the middle; or three, folded as a letter is.",
        choices=LEAVES,
    ),
    Option(
        "fold",
        "Fold",
        "side",
        "At the side it opens like a book; at the top it stands like a tent.",
        choices=(("side", "at the side"), ("top", "at the top")),
        only=(("leaves", ("two",)),),
    ),
    Option(
        "inset",
        "Panel inside",
        "one",
        "A lighter panel on the inside, with an even border, to write on.",
        choices=(("none", "none"), ("one", "one"), ("all", "on every leaf")),
    ),
    Option(
        "layers",
        "Layers on the front",
        1.0,
        "Panels one on the other, each smaller by the step; the first lies on the card.",
        "count",
        0.0,
        float(LAYERS),
    ),
    Option(
        "border",
        "Border",
        USUAL_BORDER,
        "From the card's edges to the panel inside, and to the first layer: the same all round.",
        "mm",
        LEAST_BORDER,
        60.0,
    ),
    Option(
        "step",
        "Step",
        USUAL_STEP,
        "By how much each layer is smaller than the one below it, on every side.",
        "mm",
        LEAST_STEP,
        30.0,
    ),
    Option(
        "foam",
        "Top layer",
        "0",
        "Glued, or raised on foam pads, which counts against the envelope.",
        choices=(("0", "glued"), ("1", "foam, 1 mm"), ("2", "foam, 2 mm"), ("3", "foam, 3 mm")),
    ),
    *PULL_OPTIONS,
    *(
        replace(option, default="hand" if option.key == "names-by" else option.default)
        for option in NAME_OPTIONS
    ),
    Option(
        "opens",
        "Stands open by",
        50.0,
        "The angle between its leaves as it is drawn; folded shut it is flat.",
        "deg",
        20.0,
        150.0,
    ),
)


ON_FOAM = (
    "Pads at its corners and in the middle, none at the edges where they show; lay it on from one "
    "side, with the border even: it holds at once."
)


def _layer(number: int) -> str:
    return f"layer-{number}"


def border_of(options: Mapping[str, OptionValue]) -> float:
    """From the card's edge to what is mounted on its layers, in mm."""
    return float(options["border"]) + float(options["layers"]) * float(options["step"])


def takes(thing: AnyThing, options: Mapping[str, OptionValue]) -> AnyThing:
    """What is mounted on a card lies flat on it.

    Raises
    ------
    FieldError
        It is not flat.
    """
    made = isinstance(thing, MadeThing)
    flat = thing.flat or isinstance(thing, Disc) or made
    thick, most = min(thing.size), BLOOM if made else MOUNTED
    if flat and thick > most:
        raise FieldError(
            "thing",
            f"{thing.name} is {number_text(thick)} mm thick; a card carries up to "
            f"{number_text(most)} mm",
            "Mount something flatter.",
        )
    if options["leaves"] == "gate":
        raise FieldError(
            "thing",
            f"{thing.name} would lie across the opening of a gate",
            "Choose two leaves, or three.",
            (option_way("leaves", "two"),),
        )
    if options["pull"] != "none":
        raise FieldError(
            "thing",
            f"{thing.name} would lie where the pull tab moves",
            "Leave the pull tab out.",
            (option_way("pull", "none"),),
        )
    if not flat:
        raise FieldError(
            "thing",
            f"{thing.name} is not flat, so it cannot be mounted on a card",
            "Choose a shape that holds it.",
        )
    return thing.model_copy(update={"turn": "lying"})


def build_card(
    face: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A card of a closed width and height; the third length is what is mounted on it; mm.

    Raises
    ------
    FieldError
        The face is out of range, or the borders leave nothing of a panel.
    """
    width, height, mounted = face
    _check(width, height, options)
    made = leaves_of(width, height, boards[CARD], options)
    card, foam = made.card, float(options["foam"])
    pieces, placements = [card], {CARD: made.place}
    joints: list[Joint] = []
    laid: list[Arrival] = []
    sizes = {
        "face-width": given("Closed, width", width),
        "face-height": given("Closed, height", height),
        **made.sizes,
    }
    border, step = float(options["border"]), float(options["step"])
    count, tops, raised = int(float(options["layers"])), [], 0.0
    for leaf in made.fronts:
        below, on = card, (CARD, leaf)
        for number in range(1, count + 1):
            part, edge = _layer(number), border if number == 1 else step
            name = part if leaf == made.fronts[0] else f"{part}-right"
            title = f"layer {number}" if len(made.fronts) == 1 else f"{_side(leaf)} layer {number}"
            plate = plate_within(below.panel(on[1]), name, title, Role.OVERLAY, edge, boards[part])
            plate, own = replace(plate, part=part), (name, plate.panels[0].name)
            pad = foam if number == count else 0.0
            pieces.append(plate)
            placements[name] = lying_on(
                below, placements[below.name], on[1], plate, front=True, pad=pad
            )
            joints.append(Joint(Kind.GLUE, own, on, plate.title, "outside", pad))
            laid.append(_laid(plate, on, pad))
            sizes[f"{name}-border"] = _border(f"{title[0].upper()}{title[1:]}, border", edge)
            below, on = plate, own
        tops.append(on)
        raised = sum(boards[_layer(n)].thickness for n in range(1, count + 1))
    raised += foam if count else 0.0
    insides = {"none": (), "one": made.inner[:1], "all": made.inner}[str(options["inset"])]
    for number, leaf in enumerate(insides, start=1):
        name = INSET if number == 1 else f"{INSET}-{number}"
        title = "panel inside" if number == 1 else f"panel inside, {card.panel(leaf).title}"
        plate = plate_within(card.panel(leaf), name, title, Role.INSET, border, boards[INSET])
        plate = replace(plate, part=INSET)
        pieces.append(plate)
        placements[name] = lying_on(card, placements[CARD], leaf, plate, front=False)
        own = (name, plate.panels[0].name)
        joints.append(Joint(Kind.GLUE, own, (CARD, leaf), plate.title, "inside"))
        laid.append(Arrival(name, When.BEHIND, (CARD, leaf)))
        sizes[f"{name}-border"] = _border(f"{title[0].upper()}{title[1:]}, border", border)
    pulls = options["pull"] != "none"
    if pulls and len(tops) > 1:
        raise FieldError(
            "pull", "a gate's front is parted", "Use none.", (option_way("pull", "none"),)
        )
    if pulls:
        under = next(p for p in pieces if p.name == tops[0][0])
        pulled = pull_tab(under, placements[under.name], tops[0], boards, options)
        pieces += pulled.pieces
        placements |= pulled.placements
        joints += pulled.joints
        laid += pulled.arrivals
        sizes["pull-way"], raised = pulled.way, raised + pulled.raised
    within = 0.0 if not insides else boards[INSET].thickness * (1 if len(insides) == 1 else 2)
    sizes["thickness"] = closed = reckon(
        "Thickness, shut",
        made.plies * card.board.thickness + raised + within + mounted,
        "its leaves, and all that is glued on and in",
        given("card", card.board.thickness),
        given("layers, and foam under them", raised),
        given("panels inside", within),
        given("mounted on it", mounted),
    )
    first = card.panels[0].name
    piece, panel = tops[0]
    low, high = (
        f(next(p for p in pieces if p.name == piece).panel(panel).outline, axis=0)
        for f in (np.min, np.max)
    )
    box = (*(low + NAME_EDGE), *(high - NAME_EDGE))
    return Design(
        family="folded-card",
        title="Folded card",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=None,
        sizes=sizes,
        dimensions=face_dimensions(CARD, first, (-width / 2, -height / 2), (width / 2, height / 2)),
        arrivals=Arrivals(laid),
        ground=tops[0] if len(tops) == 1 and not pulls else None,
        put_away=(width, height, closed.value),
        blanks=() if pulls else blank_for(piece, panel, box, options),
    )


def _side(leaf: str) -> str:
    return leaf.rpartition("-")[2]


def _laid(plate: Piece, on: Where, pad: float) -> Arrival:
    """A layer on what lies below it: glued, or on foam."""
    if not pad:
        return Arrival(plate.name, When.FLAT, on)
    return Arrival(plate.name, When.FOLDED, on, How.PADDED, hint=ON_FOAM)


def _check(width: float, height: float, options: Mapping[str, OptionValue]) -> None:
    check_face(width, height, SMALLEST, LARGEST, "a card")
    border, step = float(options["border"]), float(options["step"])
    leaf = width / 2 - 0.5 if options["leaves"] == "gate" else width
    count, side = float(options["layers"]), min(leaf, height)
    room = side - 2 * border - LEAST  # by how much the first layer may get smaller
    if room < 0:
        most = rounded_down((side - LEAST) / 2)
        if most < LEAST_BORDER and options["leaves"] == "gate":
            words = "half a front is too narrow for a panel within a border"
            raise FieldError("leaves", words, "Use two leaves.", (option_way("leaves", "two"),))
        raise FieldError(
            "border",
            f"{border:.1f} mm on every side leaves nothing of a panel",
            f"Use {most:.1f} mm.",
            (option_way("border", most),),
        )
    if count > 1 and 2 * step * (count - 1) > room + FINE:
        most = rounded_down(room / 2 / (count - 1))
        fewer = 1.0 + math.floor(room / 2 / step)
        words = f"{count:.0f} layers with a step of {step:.1f} mm leave nothing of the last"
        narrower, less = option_way("step", most), option_way("layers", fewer)
        if most < LEAST_STEP:
            raise FieldError("layers", words, f"Use {fewer:.0f}.", (less,))
        raise FieldError("step", words, f"Use {most:.1f} mm.", (narrower, less))


def _border(name: str, value: float) -> Reckoning:
    return reckon(
        name,
        value,
        "the same on every side: an uneven one is seen first",
        given("wanted", value),
        constant("usual", USUAL_BORDER, "mm", Mark.MEMORY),
    )


def judge_card(design: Design, options: Mapping[str, OptionValue]) -> tuple[Finding, ...]:
    """Whether envelopes for it are sold."""
    width, height = (design.sizes[f"face-{axis}"].value for axis in ("width", "height"))
    found = standard_of(width, height, CARDS)
    if found is None:
        return ()
    words = f"Closed it is {found.name} ({found.source}): envelopes for it can be bought."
    return (Finding(Level.NOTE, "standard-card", words, "size", "contents"),)


def card_board_area(
    face: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², layers as large as the card; rises with both lengths."""
    width, height, _ = face
    more = float(options["layers"]) + {"none": 0, "one": 1, "all": 2}[str(options["inset"])]
    return (2 + (options["leaves"] == "three") + more) * width * height


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """What is pulled is told from the card."""
    return {PULL: OCHRE, BRIDGE: MOSS}


OCHRE, MOSS = "#D9B978", "#8A9A6B"  # from memory
FOLDED_CARD = register(
    ShapeFamily(
        key="folded-card",
        title="Folded card",
        short="Card",
        purpose="write",
        about="Two leaves, a gate or three, with layers on the front and panels inside.",
        parts=(
            (CARD, "Card"),
            (INSET, "Panel inside"),
            *((_layer(n), f"Layer {n}") for n in range(1, LAYERS + 1)),
            *PULL_PARTS,
        ),
        options=OPTIONS,
        build=build_card,
        board_area=card_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        when={
            INSET: ("inset", SOME),
            **dict.fromkeys((part for part, _ in PULL_PARTS), ("pull", SOME)),
            **{_layer(n): ("layers", float(n)) for n in range(1, LAYERS + 1)},
        },
        usual={INSET: "text"},
        answers=("face",),
        thin=RAISED,
        starts=STARTS,
        border=border_of,
        takes=takes,
        judge=judge_card,
        tones=tones,
        names=True,
        moves=(("opens",), OPENINGS),
    )
)
