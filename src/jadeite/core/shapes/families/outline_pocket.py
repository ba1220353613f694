"""Pocket of an outline: front, lining and back glued along every edge but the mouth."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon, box
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents import AnyThing
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.model import Design, Floats, Hollow, Joint, Kind, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.flat_things import check_pouch, face_dimensions, taken_flat
from jadeite.core.shapes.mounted import plate
from jadeite.core.shapes.own_outlines import own_words
from jadeite.core.shapes.pocket_outlines import OUTLINES, Pocket, inner_room, outline_for
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    register,
)

__all__ = ["OUTLINE_POCKET"]

FRONT, LINING, BACK, CUFF = "front", "lining", "back", "cuff"
SMALLEST, LARGEST = 20.0, 250.0  # mm of what lies in it; from memory
THIN, THICK = 0.1, 6.0  # mm; from memory, more asks for a box
BAND = 5.0  # mm; from memory, a thin line of glue with some paper on either side
CUFF_HIGH = 18.0  # mm; from memory
LESS = 1e-3  # of a share; rounding


def _outline(words: str) -> str:
    """A key of ours, or an outline of the maker's own as it is kept."""
    return words if words in dict(OUTLINES) else own_words(words, "outline")


HANDED = ("mitten", "boot")  # those of which there is a left one and a right one
# from memory
OPTIONS = (
    Option(
        "outline", "Outline", "shield",
        "Its mouth is on top; the outline grows round the thing. Or your own, from a drawing or "
        "the letters of a word.", "drawing", choices=OUTLINES, words=_outline,
    ),
    Option("tall", "Stretched to", 100.0, "Of its usual height.", "%", 70.0, 180.0),
    Option(
        "hand", "Turned to", "right",
        "A mitten's thumb and a boot's foot; make one of either for a pair.",
        choices=(("right", "the right"), ("left", "the left")),
        only=(("outline", HANDED),),
    ),
    Option(
        "lining", "Lining", "one", "Between front and back, seen in the mouth.",
        choices=(("one", "one"), ("none", "none")),
    ),
    Option(
        "band", "Glued edge", BAND, "Along every edge but the mouth; what goes in keeps off it.",
        "mm", 3.0, 15.0,
    ),
    Option(
        "cuff", "Cuff", "one", "A strip along the mouth, put on last.",
        choices=(("one", "one"), ("none", "none")),
    ),
    Option("cuff-height", "Cuff, high", CUFF_HIGH, "From the mouth down.", "mm", 6.0, 60.0,
           only=(("cuff", ("one",)),)),
)  # fmt: skip


def takes(thing: AnyThing, options: Mapping[str, OptionValue]) -> AnyThing:
    """A flat thing as it goes in, upright.

    Raises
    ------
    FieldError
        It is not flat.
    """
    return taken_flat(thing, way="pocket", lying=False, what="a pocket")


def build_pocket(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A pocket for what lies in it: width, height, thickness in mm.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_pouch(inside, (THIN, THICK), SMALLEST, LARGEST, "a flat pocket")
    width, height, thick = inside
    band = float(options["band"])
    key, tall = str(options["outline"]), float(options["tall"]) / 100
    left = key in HANDED and options["hand"] == "left"
    pocket = outline_for(key, (width + thick, height), band, tall=tall, left=left)
    glued = _band(pocket, band)
    mirrored = _mirrored(pocket.outline)
    front = plate(FRONT, "front", Role.PLATE, pocket.outline, boards[FRONT])
    back = plate(BACK, "back", Role.PLATE, mirrored, boards[BACK])
    pieces, joints = [back, front], []
    arrivals = [Arrival(FRONT, When.FOLDED, (BACK, _panel(back)), hint=LAY_FRONT)]
    placements = {FRONT: _level(0.0)}
    z = boards[FRONT].thickness / 2
    low, lowest = -z, front
    if options["lining"] == "one":
        lining = plate(LINING, "lining", Role.PLATE, mirrored, boards[LINING])
        pieces.append(lining)
        t = lining.board.thickness
        placements[LINING] = _turned(low - t / 2)
        joints.append(_joint(lining, front, glued, "lining on the front"))
        on = (FRONT, _panel(front))
        called = "the lining on the back of the front"
        arrivals.append(Arrival(LINING, When.BEHIND, on, hint=LAY_LINING, called=called))
        low, lowest = low - t, lining
    placements[BACK] = _turned(low - thick - back.board.thickness / 2)
    joints.append(_joint(back, lowest, glued, "front on the back", thick))
    if options["cuff"] == "one":
        cuff = _cuff(pocket, float(options["cuff-height"]), boards[CUFF])
        pieces.append(cuff)
        placements[CUFF] = _level(z + cuff.board.thickness / 2)
        own, on = (CUFF, _panel(cuff)), (FRONT, _panel(front))
        joints.append(Joint(Kind.GLUE, own, on, "cuff on the front", "outside"))
        arrivals.append(Arrival(CUFF, When.FOLDED, on, hint=LAY_CUFF, after=(FRONT,)))
    made = (width, height, thick)
    middle = (pocket.middle, -height / 2, low - thick / 2)
    return Design(
        family="outline-pocket",
        title="Pocket",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=Hollow(made, middle),
        sizes=_sizes(inside, pocket, glued, placements, pieces, options),
        dimensions=face_dimensions(FRONT, Role.PLATE.value, pocket.low, (pocket.high, 0.0)),
        surfaces={"floor": low - thick, "rim": low},
        mouth=(0.0, 1.0, 0.0),
        arrivals=Arrivals(arrivals),
    )


LAY_LINING = (
    "A thin line of glue round the edge, none along the mouth; the lining edge on edge, its good "
    "side up. Press it from the middle outwards."
)
LAY_FRONT = (
    "The back lies good side down. A thin line of glue round its edge, none along the mouth; the "
    "front edge on edge. Press, and leave it until it is quite dry before anything goes in."
)
LAY_CUFF = "Its upper edge on the mouth, glue on its back; nothing over the mouth itself."


def _level(z: float) -> Floats:
    out = np.eye(4)
    out[2, 3] = z
    return out


def _turned(z: float) -> Floats:
    """Turned over its foot, its good side away: as the lift turns what lies on its good side."""
    out = np.diag([1.0, -1.0, -1.0, 1.0])
    out[2, 3] = z
    return out


def _mirrored(outline: Floats) -> Floats:
    """As it is cut when its other side is seen; (n, 2), ccw."""
    return np.asarray((outline * np.array([1.0, -1.0]))[::-1])


def _panel(piece: Piece) -> str:
    return piece.panels[0].name


def _joint(piece: Piece, upper: Piece, glued: Floats, title: str, gives: float = 0.0) -> Joint:
    """A ply glued to the one above along the band; it was turned over, as its outline was."""
    region = tuple((float(x), float(y)) for x, y in _mirrored(glued))
    own, on = (piece.name, _panel(piece)), (upper.name, _panel(upper))
    return Joint(Kind.GLUE, own, on, title, "inside", region=region, gives=gives)


def _band(pocket: Pocket, band: float) -> Floats:
    """What is glued: along every edge but the mouth; (n, 2) ccw, mm."""
    free = inner_room(pocket.shape, band)
    x0, y0, x1, _ = free.bounds
    open_ = free.union(box(pocket.mouth[0] + band, y0, pocket.mouth[1] - band, 1.0).intersection(
        box(x0 - 1, -band, x1 + 1, 1.0)))  # fmt: skip
    left = pocket.shape.difference(open_)
    part = max(shapely.get_parts(left), key=lambda p: p.area)
    return np.array(orient(Polygon(part.exterior)).exterior.coords)[:-1]


def _cuff(pocket: Pocket, high: float, board: Board) -> Piece:
    """A strip along the mouth as wide as the pocket is there."""
    x0, y0, x1, _ = pocket.shape.bounds
    high = min(high, -y0 / 3)
    strip = pocket.shape.intersection(box(x0 - 1, -high, x1 + 1, 1.0))
    part = max(shapely.get_parts(strip), key=lambda p: p.area)
    outline = np.array(orient(Polygon(part.exterior)).exterior.coords)[:-1]
    return plate(CUFF, "cuff", Role.OVERLAY, outline, board)


def _sizes(
    inside: Size,
    pocket: Pocket,
    glued: Floats,
    placements: Mapping[str, Floats],
    pieces: list[Piece],
    options: Mapping[str, OptionValue],
) -> dict[str, Reckoning]:
    x0, y0, x1, _ = pocket.shape.bounds
    out = {
        f"inside-{name}": given(f"Pocket inside, {name}", value)
        for name, value in zip(("width", "height", "thickness"), inside, strict=True)
    }
    out["outside-width"] = reckon(
        "Pocket outside, width", x1 - x0,
        "the smallest of this outline in which the thing has room",
        given("inside width", inside[0]), given("what lies in it is thick", inside[2]),
        given("glued edge", float(options["band"])),
    )  # fmt: skip
    out["outside-height"] = reckon(
        "Pocket outside, height", -y0, "its outline from the mouth to the foot",
        given("inside height", inside[1]),
    )  # fmt: skip
    whole = sum(p.board.thickness for p in pieces) + inside[2]
    out["outside-thickness"] = reckon(
        "Pocket outside, thickness", whole, "all plies, and what lies between",
        given("inside", inside[2]),
    )  # fmt: skip
    out["mouth"] = reckon(
        "Mouth", pocket.mouth[1] - pocket.mouth[0] - 2 * float(options["band"]),
        "between the glued edges: no glue lies along it",
        given("its edge", pocket.mouth[1] - pocket.mouth[0]),
        constant("usual glued edge", BAND, "mm", Mark.MEMORY),
    )  # fmt: skip
    out["glued-area"] = reckon(
        "Glued", float(Polygon(glued).area) / 100, "the band along every edge but the mouth",
        given("glued edge", float(options["band"])), unit="cm²",
    )  # fmt: skip
    return out


def pocket_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm² of two plies, as if they were rectangles; rises with every length."""
    width, height, thick = inside
    return 2 * (width + thick + 2 * BAND) * (height + width / 2)


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """A lining and a cuff that are told from the front."""
    return {FRONT: NIGHT, BACK: NIGHT, LINING: OCHRE, CUFF: MOON}


NIGHT, OCHRE, MOON = "#33405E", "#D9B978", "#FFFDF8"  # from memory
OUTLINE_POCKET = register(
    ShapeFamily(
        key="outline-pocket",
        title="Pocket of an outline",
        short="Pocket",
        purpose="write",
        about="Front, lining and back of one outline, glued all round but the mouth, with a cuff.",
        parts=((FRONT, "Front"), (LINING, "Lining"), (BACK, "Back"), (CUFF, "Cuff")),
        options=OPTIONS,
        build=build_pocket,
        board_area=pocket_area,
        smallest=SMALLEST,
        largest=LARGEST,
        mouth=1,
        thin=(THIN, THICK),
        when={LINING: ("lining", "one"), CUFF: ("cuff", "one")},
        usual={LINING: "text"},
        follows={BACK: FRONT},
        answers=("hollow",),
        takes=takes,
        tones=tones,
    )
)
