"""Folded card: two leaves and one fold, exactly in the middle; layers outside, a panel inside."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents import AnyThing, Disc
from jadeite.core.contents.standards import CARDS, standard_of
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.builder import NetBuilder
from jadeite.core.nets.model import Design, Joint, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.flat_things import check_face, face_dimensions
from jadeite.core.shapes.mounted import lying_on, plate_within, standing_leaf
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text, rounded_down

__all__ = ["FOLDED_CARD"]

SMALLEST, LARGEST = 30.0, 600.0  # mm of a leaf; from memory
LEAST = 12.0  # mm; from memory, a smaller layer cannot be glued straight
STARTS = (105.0, 148.0)  # mm, A6; published: ISO 216
MOUNTED = 4.0  # mm; from memory, a thicker thing makes no card
RAISED = (0.0, MOUNTED)  # mm; from memory, by what is mounted on it
LEAST_STEP = 1.0  # mm; from memory, a narrower one looks like a slip
LAYERS = 5  # from memory, more are a pile
CARD, INSET = "card", "inset"
USUAL_BORDER, USUAL_STEP = 6.0, 4.0  # mm; from memory, an even border of 3 to 6 reads as one

# from memory
OPTIONS = (
    Option(
        "fold",
        "Fold",
        "side",
        "At the side it opens like a book; at the top it stands like a tent.",
        choices=(("side", "at the side"), ("top", "at the top")),
    ),
    Option(
        "inset",
        "Panel inside",
        "one",
        "A lighter panel on the inside, with an even border, to write on.",
        choices=(("none", "none"), ("one", "one")),
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
        2.0,
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
        "opens",
        "Stands open by",
        50.0,
        "The angle between its leaves as it is drawn; folded shut it is flat.",
        "deg",
        20.0,
        150.0,
    ),
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
    flat = thing.flat or isinstance(thing, Disc)
    thick = min(thing.size)
    if flat and thick > MOUNTED:
        raise FieldError(
            "thing",
            f"{thing.name} is {number_text(thick)} mm thick; a card carries up to "
            f"{number_text(MOUNTED)} mm",
            "Mount something flatter.",
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
    board = boards[CARD]
    opens, top = float(options["opens"]), options["fold"] == "top"
    net = NetBuilder(CARD, "card", board)
    front = net.base("front", width, height, "front")
    front.role = Role.LEAF
    side, deep = ("back", height) if top else ("left", width)
    net.wall("back", front.side(side), deep, turn=180.0 - opens, title="back", role=Role.LEAF)
    card = net.build()
    pieces, placements = [card], {CARD: standing_leaf(opens, height, top=top)}
    joints: list[Joint] = []
    laid: list[Arrival] = []
    sizes = _sizes(width, height, top=top)
    border, step = float(options["border"]), float(options["step"])
    below, on = card, (CARD, "front")
    for number in range(1, int(float(options["layers"])) + 1):
        name, edge = _layer(number), border if number == 1 else step
        plate = plate_within(
            below.panel(on[1]), name, f"layer {number}", Role.OVERLAY, edge, boards[name]
        )
        pieces.append(plate)
        placements[name] = lying_on(below, placements[below.name], on[1], plate, front=True)
        joints.append(Joint(Kind.GLUE, (name, plate.panels[0].name), on, plate.title, "outside"))
        laid.append(Arrival(name, When.FLAT, on))
        sizes[f"{name}-border"] = _border(f"Layer {number}, border", edge)
        below, on = plate, (name, plate.panels[0].name)
    ground = on
    thick = sum(piece.board.thickness for piece in pieces[1:])
    if options["inset"] == "one":
        on = (CARD, "back")
        plate = plate_within(
            card.panel("back"), INSET, "panel inside", Role.INSET, border, boards[INSET]
        )
        pieces.append(plate)
        placements[INSET] = lying_on(card, placements[CARD], "back", plate, front=False)
        joints.append(Joint(Kind.GLUE, (INSET, plate.panels[0].name), on, plate.title, "inside"))
        laid.append(Arrival(INSET, When.BEHIND, on))
        sizes[f"{INSET}-border"] = _border("Panel inside, border", border)
        thick += plate.board.thickness
    sizes["thickness"] = closed = reckon(
        "Thickness, shut",
        2 * board.thickness + thick + mounted,
        "both leaves, and all that is glued on and in",
        given("card", board.thickness),
        given("layers and panels", thick),
        given("mounted on it", mounted),
    )
    return Design(
        family="folded-card",
        title="Folded card",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=None,
        sizes=sizes,
        dimensions=face_dimensions(
            CARD, "front", (-width / 2, -height / 2), (width / 2, height / 2)
        ),
        arrivals=Arrivals(laid),
        ground=ground,
        put_away=(width, height, closed.value),
    )


def _check(width: float, height: float, options: Mapping[str, OptionValue]) -> None:
    check_face(width, height, SMALLEST, LARGEST, "a card")
    border, step = float(options["border"]), float(options["step"])
    count, side = float(options["layers"]), min(width, height)
    room = side - 2 * border - LEAST  # by how much the first layer may get smaller
    if room < 0:
        most = rounded_down((side - LEAST) / 2)
        raise FieldError(
            "border",
            f"{border:.1f} mm on every side leaves nothing of a panel",
            f"Use {most:.1f} mm.",
            (option_way("border", most),),
        )
    if count > 1 and 2 * step * (count - 1) > room:
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


def _sizes(width: float, height: float, *, top: bool) -> dict[str, Reckoning]:
    whole = 2 * (height if top else width)
    return {
        "face-width": given("Closed, width", width),
        "face-height": given("Closed, height", height),
        "flat-length": reckon(
            "Flat, across the fold",
            whole,
            "twice the closed size: the fold is exactly in the middle",
            given("closed, height" if top else "closed, width", whole / 2),
        ),
        "fold-from-edge": reckon(
            "Fold from either edge",
            whole / 2,
            "half of the flat size",
            given("flat", whole),
        ),
    }


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
    more = float(options["layers"]) + (options["inset"] == "one")
    return (2 + more) * width * height


FOLDED_CARD = register(
    ShapeFamily(
        key="folded-card",
        title="Folded card",
        short="Card",
        purpose="write",
        about="Two leaves and a fold in the middle, with layers on the front and a panel inside.",
        parts=(
            (CARD, "Card"),
            (INSET, "Panel inside"),
            *((_layer(n), f"Layer {n}") for n in range(1, LAYERS + 1)),
        ),
        options=OPTIONS,
        build=build_card,
        board_area=card_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        when={
            INSET: ("inset", "one"),
            **{_layer(n): ("layers", float(n)) for n in range(1, LAYERS + 1)},
        },
        usual={INSET: "text"},
        answers=("face",),
        thin=RAISED,
        starts=STARTS,
        border=border_of,
        takes=takes,
        judge=judge_card,
    )
)
