"""Place cards: a tent with a label that bears a name, and an ornament on foam in a corner."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Point, Polygon
from shapely.ops import nearest_points

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.builder import NetBuilder
from jadeite.core.nets.model import Blank, Design, Floats, Joint, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.flat_things import check_face, face_dimensions
from jadeite.core.shapes.mounted import bears_nothing, lying_on, plate, rounded, standing_leaf
from jadeite.core.shapes.named import HAND, NAME_OPTIONS, blank_for
from jadeite.core.shapes.ornaments import ORNAMENTS, ornament
from jadeite.core.shapes.registry import SOME, Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text, rounded_down

__all__ = ["PLACE_CARDS"]

CARD, LABEL, ORNAMENT = "card", "label", "ornament"
FRONT, ORNAMENT_PANEL = "front", Role.OVERLAY.value
SMALLEST, LARGEST = 30.0, 300.0  # mm of a leaf; from memory
STARTS = (89.0, 66.5)  # mm closed; common practice, 3.5 x 5.25 in flat
WIDE, HIGH = 70.0, 44.0  # mm of the label; common practice, 2.75 x 1.75 in
NOTHING = (0.0, 1.0)  # mm; design rule, nothing is mounted on it
CORNER = 1 - 1 / math.sqrt(2)  # of a radius, how far the corner of a square keeps off
LEAST_SHOWN = 2.0  # mm; from memory, of the card round its label
LEAST = 12.0  # mm; from memory, a smaller label bears no name
MARGIN = 3.0  # mm; from memory, between a name and the edge of its label
ORNAMENT_SIZE, FOAM = 32.0, 1.5  # mm; common practice
LEAST_ORNAMENT = 10.0  # mm; from memory, a smaller one cannot be handled
DOT = 8.0  # mm across; common practice, a foam dot
INSIDE = 4.0  # mm; from memory, an ornament keeps from the edges of the card
DARK, PALE, BRIGHT = "#33405E", "#FFFDF8", "#D9B978"  # from memory, night, moon, ochre
CLEAR = 2.0  # mm; from memory, between a name and the ornament

# from memory where nothing else is said
OPTIONS = (
    Option(
        "label",
        "Label",
        "one",
        "Of light card, with rounded corners; without one the name stands on the card itself.",
        choices=(("one", "one"), ("none", "none")),
    ),
    Option(
        "label-width", "Label, wide", WIDE, "In the middle of the front.", "mm", LEAST, LARGEST,
        only=(("label", ("one",)),),
    ),
    Option(
        "label-height", "Label, high", HIGH, "In the middle of the front.", "mm", LEAST, LARGEST,
        only=(("label", ("one",)),),
    ),
    Option(
        "corner", "Corners, radius", 5.0, "Rounded corners do not lift.",
        "mm", 0.5, 30.0, only=(("label", ("one",)),),
    ),
    Option(
        "ornament",
        "Ornament",
        "star",
        "Small and plain, of one outline, on a foam dot in the lower right corner.",
        choices=ORNAMENTS,
    ),
    Option(
        "ornament-size", "Ornament, across", ORNAMENT_SIZE, "Its longer side.", "mm",
        LEAST_ORNAMENT, 80.0, only=(("ornament", tuple(k for k, _ in ORNAMENTS[1:])),),
    ),
    *NAME_OPTIONS,
    Option(
        "opens", "Stands open by", 50.0, "The angle between its leaves as it stands.",
        "deg", 20.0, 120.0,
    ),
)  # fmt: skip


def build_place_card(
    face: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """One place card of a closed width and height in mm; names are written on its blanks.

    Raises
    ------
    FieldError
        The face is out of range, or label and ornament do not lie on it.
    """
    width, height, _ = face
    check_face(width, height, SMALLEST, LARGEST, "a place card")
    opens = float(options["opens"])
    net = NetBuilder(CARD, "card", boards[CARD])
    front = net.base(FRONT, width, height, "front")
    front.role = Role.LEAF
    net.wall("back", front.side("back"), height, turn=180.0 - opens, title="back", role=Role.LEAF)
    card = net.build()
    pieces, placements = [card], {CARD: standing_leaf(opens, height, top=True)}
    joints: list[Joint] = []
    laid: list[Arrival] = []
    bought: list[Bought] = []
    thick = 0.0
    on, box = (CARD, FRONT), _box(width - 2 * MARGIN, height - 2 * MARGIN)
    if options["label"] == "one":
        box = _label_box(width, height, options)
        label = plate(
            LABEL, "label", Role.OVERLAY,
            rounded(box[:2], box[2:], float(options["corner"])), boards[LABEL],
        )  # fmt: skip
        pieces.append(label)
        placements[LABEL] = lying_on(card, placements[CARD], FRONT, label, front=True)
        own = (LABEL, label.panels[0].name)
        joints.append(Joint(Kind.GLUE, own, on, "label on the card", "outside"))
        words = "In the middle, the same border on both sides; with names, by the list."
        laid.append(Arrival(LABEL, When.FLAT, on, hint=words, called="the label on the card"))
        thick += label.board.thickness
        clear = max(MARGIN, CORNER * float(options["corner"]) + MARGIN / 4)
        on, box = own, (box[0] + clear, box[1] + clear, box[2] - clear, box[3] - clear)
    blanks = blank_for(*on, box, options)
    if options["ornament"] != ORNAMENTS[0][0]:
        outline, dot = _ornament(width, height, pieces[-1].panel(on[1]).outline, options)
        piece = plate(ORNAMENT, "ornament", Role.OVERLAY, outline, boards[ORNAMENT])
        under = pieces[-1]
        pieces.append(piece)
        placements[ORNAMENT] = lying_on(
            under, placements[on[0]], on[1], piece, front=True, pad=FOAM
        )
        own = (ORNAMENT, piece.panels[0].name)
        joints.append(
            Joint(Kind.GLUE, own, on, "ornament on its dot", "outside", FOAM,
                  tuple((float(x), float(y)) for x, y in dot))
        )  # fmt: skip
        words = "A foam dot in the middle of its back; low in the right corner, clear of the name."
        called = "the ornament on its foam dot"
        laid.append(Arrival(ORNAMENT, When.FLAT, on, How.PADDED, hint=words, called=called))
        bought.append(Bought("foam dot", DOT, 0.0, "", "", own, thick=FOAM))
        blanks = _beside(blanks, box, outline, options)
        thick += FOAM + piece.board.thickness
    sizes = _sizes(width, height, boards[CARD], thick)
    if options["label"] == "one":
        sizes |= _borders(width, height, options)
    return Design(
        family="place-cards",
        title="Place cards",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=None,
        sizes=sizes,
        dimensions=face_dimensions(CARD, FRONT, (-width / 2, -height / 2), (width / 2, height / 2)),
        arrivals=Arrivals(laid),
        ground=on,
        put_away=(width, height, sizes["thickness"].value),
        bought=tuple(bought),
        blanks=blanks,
    )


def _box(width: float, height: float) -> tuple[float, float, float, float]:
    """A rectangle about the middle of the front."""
    return -width / 2, -height / 2, width / 2, height / 2


def _label_box(
    width: float, height: float, options: Mapping[str, OptionValue]
) -> tuple[float, float, float, float]:
    """Where the label lies: as asked, in the middle; corners in mm."""
    wide, high = float(options["label-width"]), float(options["label-height"])
    for key, value, room in (("label-width", wide, width), ("label-height", high, height)):
        most = room - 2 * LEAST_SHOWN
        if value > most + 1e-9:
            most = rounded_down(most)
            raise FieldError(
                key,
                f"{number_text(value)} mm leaves nothing of the card round its label",
                f"Use {number_text(most)} mm.",
                (option_way(key, most),),
            )
    return _box(wide, high)


def _ornament(
    width: float,
    height: float,
    under: Floats,
    options: Mapping[str, OptionValue],
) -> tuple[Floats, Floats]:
    """The outline of the ornament and of its foam dot where they lie, (n, 2), mm.

    ``under`` is the outline, (m, 2), of what bears the dot: the label, where there is one.
    """
    size = float(options["ornament-size"])
    most = rounded_down(min(width, height) - 2 * INSIDE)
    if size > most:
        raise FieldError(
            "ornament-size",
            f"{number_text(size)} mm reaches over the edge of the card",
            f"Use {number_text(most)} mm.",
            (option_way("ornament-size", most),),
        )
    outline = ornament(str(options["ornament"]), size)
    corner = np.array([width / 2 - INSIDE, -height / 2 + INSIDE])
    middle = corner - np.array([outline[:, 0].max(), outline[:, 1].min()])
    seat = _seat(outline)  # the dot must lie under the ornament and on what bears it
    share = min(DOT / 2, size / 6)
    room = Polygon(under).buffer(-share)
    spot = Point(middle + seat)
    if not room.covers(spot):
        spot = nearest_points(room, spot)[0]
    middle = np.array([spot.x, spot.y]) - seat
    turn = np.linspace(0, 2 * math.pi, 16, endpoint=False)
    dot = middle + seat + share * np.column_stack([np.cos(turn), np.sin(turn)])
    return outline + middle, dot


def _seat(outline: Floats) -> Floats:
    """Where most of an outline lies round a foam dot: the middle of its largest inner circle."""
    line = shapely.maximum_inscribed_circle(Polygon(outline))
    return np.array(line.coords[0])


def _beside(
    blanks: tuple[Blank, ...],
    box: tuple[float, float, float, float],
    outline: Floats,
    options: Mapping[str, OptionValue],
) -> tuple[Blank, ...]:
    """Blanks that the ornament does not cover: the name above or left of it, the table beside."""
    if not blanks:
        return ()
    x0, y0, x1, y1 = box
    left, top = float(outline[:, 0].min()) - CLEAR, float(outline[:, 1].max()) + CLEAR
    first = blanks[0]
    name, more = (x0, top, x1, y1), (x0, y0, left, top)
    if y1 - top < min(first.wanted, left - x0):  # it stands higher beside the ornament
        middle = (y0 + y1) / 2 if y1 - y0 > 3 * first.wanted else y0
        name, more = (x0, middle, left, y1), (x0, y0, left, middle)
    out = blank_for(first.piece, first.panel, name, options)
    return out + blank_for(first.piece, first.panel, more, options, column=1) if out else ()


def judge_place_card(design: Design, options: Mapping[str, OptionValue]) -> tuple[Finding, ...]:
    """Whether there is room for a name at all."""
    if design.blanks or options["names-by"] == HAND:
        return ()
    words = "The ornament leaves no room for a name. Make it smaller, or leave it off."
    cure = Cure("Leave the ornament off", option_way("ornament", ORNAMENTS[0][0]))
    if not design.has((ORNAMENT, ORNAMENT_PANEL)):
        words = "There is no room for a name on it. Make it larger, or write by hand."
        cure = Cure("Write names by hand", option_way("names-by", HAND))
    where = "shape.options.ornament"
    return (Finding(Level.LOOK, "no-room-for-name", words, where, cure=cure),)


def _borders(
    width: float, height: float, options: Mapping[str, OptionValue]
) -> dict[str, Reckoning]:
    out = {}
    for axis, whole, key in (
        ("sides", width, "label-width"),
        ("top and foot", height, "label-height"),
    ):
        own = float(options[key])
        out[f"label-{axis.split()[0]}"] = reckon(
            f"Border of the label, {axis}",
            (whole - own) / 2,
            "half of what the label leaves of the card, the same on both",
            given("card", whole),
            given("label", own),
        )
    return out


def _sizes(width: float, height: float, board: Board, thick: float) -> dict[str, Reckoning]:
    return {
        "face-width": given("Closed, width", width),
        "face-height": given("Closed, height", height),
        "flat-length": reckon(
            "Flat, across the fold", 2 * height, "twice the closed height, the fold in the middle",
            given("closed, height", height),
        ),
        "thickness": reckon(
            "Thickness, shut", 2 * board.thickness + thick,
            "both leaves, the label, and the ornament on its dot",
            given("card", board.thickness), given("on the front", thick),
            constant("foam dot", FOAM, "mm", Mark.PRACTICE),
        ),
    }  # fmt: skip


def place_card_area(
    face: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², the label as large as the card; rises with both lengths."""
    width, height, _ = face
    return 3 * width * height


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """A pale label and an ornament that stands out, on a dark card."""
    return {CARD: DARK, LABEL: PALE, ORNAMENT: BRIGHT}


# setting: the openings at which it is proved
PLACE_CARDS = register(
    ShapeFamily(
        key="place-cards",
        title="Place cards",
        short="Place cards",
        purpose="write",
        about="A tent for each name of a list: a label that bears it, an ornament in its corner.",
        parts=((CARD, "Card"), (LABEL, "Label"), (ORNAMENT, "Ornament")),
        options=OPTIONS,
        build=build_place_card,
        board_area=place_card_area,
        smallest=SMALLEST,
        largest=LARGEST,
        when={LABEL: ("label", "one"), ORNAMENT: ("ornament", SOME)},
        usual={LABEL: "text"},
        answers=("face",),
        thin=NOTHING,
        judge=judge_place_card,
        takes=bears_nothing,
        tones=tones,
        names=True,
        moves=(("opens",), (20.0, 50.0, 80.0, 120.0)),  # degrees
        starts=STARTS,
    )
)
