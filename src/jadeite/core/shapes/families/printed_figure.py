"""Printed figure: a picture cut to its outline, flat or on a board, maybe standing in a base."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from shapely.geometry import Polygon, box
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When, made_at
from jadeite.core.nets.model import (
    Design,
    Dimension,
    Floats,
    Fold,
    Joint,
    Kind,
    Opening,
    Panel,
    Piece,
    Register,
    Trace,
    Vein,
)
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.nets.roles import Role
from jadeite.core.photos import words_of_rings
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.blooming import check_width
from jadeite.core.shapes.figure_outline import (
    DRAWN,
    CutFigure,
    cut_figure,
    drawn_figure,
    outline_words,
    rings_of,
)
from jadeite.core.shapes.mounted import bears_nothing, plate, rounded
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text

__all__ = ["PRINTED_FIGURE"]

FIGURE, BACKING, BASE, FOOT = "figure", "backing", "base", "foot"
SMALLEST, LARGEST = 15.0, 280.0  # mm; from memory, what is cut by a blade and printed at home
START = 90.0  # mm; from memory
BORDER, BLEED, ROUND = 3.0, 2.5, 1.0  # mm; common practice the second, from memory the others
TONGUE = 0.34  # of the figure's width; from memory
LEAST_TONGUE, MOST_TONGUE = 12.0, 60.0  # mm; from memory
PLINTH, SHOULDER = 3.0, 4.0  # mm; from memory, of white above the base, and beside the tongue
FOOT_DEEP, CORNER_CUT = 8.0, 1.0  # mm; from memory, a finger presses it; and it slips through
STEADY = 12.0  # degrees by which it may be tipped before it falls; from memory
SHALLOW = 26.0  # mm; from memory, a base that can be held
BASE_WIDE = 0.8  # of the figure's width; from memory
CORNER = 6.0  # mm; from memory
SLIT = 1.0  # mm; a narrower slot is a line, as in every net
GROUND = 5.0  # mm; common practice, of board round a slot

# from memory where nothing else is said
OPTIONS = (
    Option(
        "outline", "Outline", "owl",
        "Found in a picture of yours, or drawn: an owl, a moon to colour.", "figure",
        choices=DRAWN, words=outline_words,
    ),
    Option(
        "edge", "Its edge", "border",
        "A white border hides a cut that is a little off; without one, ink runs past the cut.",
        choices=(("border", "white border"), ("bleed", "ink to the cut")),
    ),
    Option("border", "Border, wide", BORDER, "Even, from the figure to the cut.", "mm", 1.0, 15.0,
           only=(("edge", ("border",)),)),
    Option("bleed", "Ink past the cut", BLEED, "So that no white shows where the cut is off.",
           "mm", 1.0, 6.0, only=(("edge", ("bleed",)),)),
    Option("round", "Rounded to", ROUND,
           "No corner is tighter, and nothing narrower than twice that is left to tear.", "mm",
           0.4, 6.0),
    Option(
        "backing", "Behind it", "board", "A board of the same outline keeps it flat.",
        choices=(("board", "a board"), ("none", "nothing")),
    ),
    Option(
        "stands", "Stands", "flat", "In a base it stands by itself; else it is glued on something.",
        choices=(("flat", "no, flat"), ("base", "in a base")),
    ),
)  # fmt: skip

Options = Mapping[str, OptionValue]


def build_printed_figure(
    span: Size, boards: Mapping[str, Board], options: Options, fits: Fits = USUAL
) -> Design:
    """A figure of a finished width and, unless it is 0, no more than a height, in mm.

    Raises
    ------
    FieldError
        The width is out of range, or nothing of the figure can be cut.
    """
    width, height, _ = span
    check_width(width, "printed figure", SMALLEST, LARGEST)
    words = str(options["outline"])
    border = float(options["border"]) if options["edge"] == "border" else 0.0
    cut = _cut_within(words, width, height, border, float(options["round"]))
    stands, backed = options["stands"] == "base", options["backing"] == "board"
    plies = [boards[FIGURE], boards[BACKING]] if backed else [boards[FIGURE]]
    foot = _Foot(cut, plies, boards[BASE], fits) if stands else None
    bare = cut.outline if foot is None else foot.bare
    holes = tuple(Opening("window", ring) for ring in cut.holes)
    lines: list[Floats] = []
    if words in dict(DRAWN):
        at = np.array(cut.centre)
        lines = [line * cut.side + at for line in drawn_figure(words)[1]]
    veins = tuple(Vein(line, Trace.PRINT) for line in lines)
    front = _ply(FIGURE, "figure", bare, holes, boards[FIGURE])
    front = replace(front, veins=veins, good_side="outside" if stands else "inside")
    if foot is not None and not backed:
        front = foot.standing(front)
    on = (FIGURE, front.panels[0].name)
    pieces, joints, arrivals = [front], [], []
    placements = {FIGURE: np.eye(4) if foot is None else foot.place(boards)}
    if backed:
        back = _ply(BACKING, "backing", bare, holes, boards[BACKING])
        pieces.append(back if foot is None else foot.standing(back))
        apart = np.eye(4)
        apart[2, 3] = -(boards[FIGURE].thickness + boards[BACKING].thickness) / 2
        placements[BACKING] = placements[FIGURE] @ apart
        own = (BACKING, back.panels[0].name)
        joints.append(Joint(Kind.GLUE, own, on, "backing behind the figure", "inside"))
        arrivals.append(Arrival(BACKING, When.BEHIND, on, hint=BEHIND,
                                called="the backing behind the figure"))  # fmt: skip
    if foot is not None:
        last = pieces[-1]  # the board behind, where there is one, carries the tongue
        base = foot.base(boards[BASE])
        pieces.insert(0, base)
        placements[BASE] = np.eye(4)
        placements[BASE][2, 3] = boards[BASE].thickness / 2
        under, own = (BASE, base.panels[0].name), (last.name, last.panels[0].name)
        arrivals.append(Arrival(FIGURE, When.FOLDED, under, How.PUT, hint=STAND_IT))
        arrivals += made_at(When.JOINED, last.name, (FOOT,))
        joints.append(Joint(Kind.TONGUE, own, under, "tongue through the base"))
        joints.append(Joint(Kind.GLUE, (last.name, FOOT), under, "foot under the base", "inside"))
    bleed = float(options["bleed"]) if options["edge"] == "bleed" else 0.0
    return Design(
        family="printed-figure",
        title="Printed figure",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=None,
        sizes=_sizes(cut, pieces, plies, foot, options),
        dimensions=_dimensions(cut),
        findings=_lost(cut, border),
        arrivals=Arrivals(arrivals),
        ground=None,
        put_away=None if foot else (*cut.size, sum(b.thickness for b in plies)),
        registers={on: Register(cut.side, cut.centre, words_of_rings(rings_of(words)),
                                bleed / cut.side)},
    )  # fmt: skip


BEHIND = (
    "Glue stick to the edges, edge on edge, and leave both under a weight until they are dry: they "
    "then stay flat."
)
STAND_IT = "Its tongue through the slot from above, as far as it goes."


def _ply(name: str, title: str, outline: Floats, holes: tuple[Opening, ...], board: Board) -> Piece:
    """One board of the figure's outline, with its openings."""
    piece = plate(name, title, Role.PLATE, outline, board)
    return replace(piece, panels=(replace(piece.panels[0], openings=holes),))


def _cut_within(words: str, width: float, height: float, border: float, round_: float) -> CutFigure:
    """The figure as it is cut.

    Raises
    ------
    FieldError
        Nothing of it can be; it names a width that works where there is one.
    """
    try:
        return cut_figure(words, width, height, border, round_)
    except FieldError as error:
        for wide in (1.5 * width, 2 * width, 3 * width, LARGEST):
            wide = float(math.ceil(min(wide, LARGEST)))
            try:
                cut_figure(words, wide, 0.0, border, round_)
            except FieldError:
                continue
            way = (("brief.width", wide), ("brief.height", None))
            raise FieldError("width", error.problem, f"Use {wide:.0f} mm.", (way,)) from None
        raise


class _Foot:
    """The tongue of a figure and the base in which it stands, mm; its outline with the tongue."""

    def __init__(self, cut: CutFigure, plies: list[Board], base: Board, fits: Fits) -> None:
        wide, high = cut.size
        shape = Polygon(cut.outline, cut.holes)
        low = -high / 2
        self.tongue = min(max(TONGUE * wide, LEAST_TONGUE), MOST_TONGUE, wide)
        x = float(shape.centroid.x)
        half = self.tongue / 2
        plinth = box(x - half - SHOULDER, low, x + half + SHOULDER, low + self._reach(cut, x, half))
        whole = shape.union(plinth)
        self.bare = np.array(orient(whole).exterior.coords)[:-1]
        thick = plies[-1].thickness
        # its score lies under the base, at the middle of the foot
        self.fold = low - base.thickness - thick / 2
        neck = box(x - half, self.fold, x + half, low)
        self.whole = np.array(orient(whole.union(neck)).exterior.coords)[:-1]
        self.low, self.x = low, x
        self.plies, self.thick = plies, plies[-1].thickness
        self.slot = (self.tongue + fits.tongue, self.thick + fits.slot_ease(self.thick))
        middle = float(Polygon(self.bare).centroid.y) - low
        self.middle = middle
        deep = 2 * (middle + base.thickness) * math.tan(math.radians(STEADY))
        self.deep = max(SHALLOW, deep, self.slot[1] + 2 * GROUND)
        self.wide = max(BASE_WIDE * wide, self.slot[0] + 2 * GROUND)

    @staticmethod
    def _reach(cut: CutFigure, x: float, half: float) -> float:
        """How far up white goes to meet the figure over the whole tongue."""
        ring = Polygon(cut.outline)
        low = -cut.size[1] / 2
        strip = ring.intersection(box(x - half, low, x + half, -low))
        left, right = strip.bounds[0], strip.bounds[2]
        edges = [ring.intersection(box(v - 0.1, low, v + 0.1, -low)) for v in
                 (max(left, x - half) + 0.1, min(right, x + half) - 0.1)]  # fmt: skip
        ends = [e.bounds[1] - low for e in edges if not e.is_empty]
        return max(PLINTH, *ends) + PLINTH if ends else 2 * PLINTH

    def standing(self, piece: Piece) -> Piece:
        """A ply with the tongue, and the foot that is folded back under the base."""
        left, right = self.x - self.tongue / 2, self.x + self.tongue / 2
        in_ = CORNER_CUT
        ring = np.array([[left, self.fold], [left + in_, self.fold - FOOT_DEEP],
                         [right - in_, self.fold - FOOT_DEEP], [right, self.fold]])  # fmt: skip
        foot = Panel(FOOT, "foot", Role.FOOT, ring, (self.tongue, FOOT_DEEP))
        main = replace(piece.panels[0], outline=self.whole)
        score = Fold(main.name, FOOT, (right, self.fold), (left, self.fold), -90.0)
        return replace(piece, panels=(main, foot), folds=(score,))

    def place(self, boards: Mapping[str, Board]) -> Floats:
        """Upright on the base, its picture to the front, its last ply over the slot; 4 x 4."""
        out = np.eye(4)
        out[:3, 1], out[:3, 2] = (0.0, 0.0, 1.0), (0.0, -1.0, 0.0)
        apart = (self.plies[0].thickness + self.thick) / 2 if len(self.plies) > 1 else 0.0
        out[:3, 3] = (-self.x, -apart, boards[BASE].thickness - self.low)
        return out

    def base(self, board: Board) -> Piece:
        """What it stands in, its slot in the middle."""
        ring = rounded((-self.wide / 2, -self.deep / 2), (self.wide / 2, self.deep / 2), CORNER)
        long, across = self.slot
        if across < SLIT:
            slot = Opening("slit", np.array([[-long / 2, 0.0], [long / 2, 0.0]]), self.thick)
        else:
            x, y = long / 2, across / 2
            corners = np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
            slot = Opening("slot", corners, self.thick)
        panel = Panel(BASE, "base", Role.PLATE, ring, (self.wide, self.deep), (slot,))
        return Piece(BASE, "base", board, (panel,), (), "inside")


def _lost(cut: CutFigure, border: float) -> tuple[Finding, ...]:
    """Parts that hang on nothing."""
    if not cut.lost:
        return ()
    count = len(cut.lost)
    parts = "a part is" if count == 1 else f"{count} parts are"
    words = (
        f"The figure falls apart: {parts} left out, {number_text(sum(cut.lost) / 100)} cm² in all. "
        "Join them with the brush, or give it a wider border."
    )
    return (Finding(Level.LOOK, "figure-parts", words, FIGURE, "shape"),)


def _sizes(
    cut: CutFigure,
    pieces: list[Piece],
    plies: list[Board],
    foot: _Foot | None,
    options: Options,
) -> dict[str, Reckoning]:
    wide, high = cut.size
    bordered = options["edge"] == "border"
    border = float(options["border"]) if bordered else 0.0
    tall = high if foot is None else high + pieces[0].board.thickness
    out = {
        "finished-width": reckon(
            "Finished width", wide, "as it is cut" + ", its border with it" * bordered,
            given("border on either side", border),
        ),
        "finished-height": reckon(
            "Finished height", tall,
            "the same upwards" if foot is None else "the same upwards, on its base",
        ),
        "picture-side": reckon(
            "Picture, longer side", cut.side, "all of it, its background with it",
            given("finished width", wide),
        ),
        "thickness": reckon(
            "Thickness", sum(b.thickness for b in plies), "all plies",
            *(given(b.title.lower(), b.thickness) for b in plies),
        ),
        "cut-length": reckon(
            "Outline, long", float(piece_polygon(pieces[-1]).length), "once round, along the cut",
        ),
    }  # fmt: skip
    if foot is not None:
        tips = math.degrees(math.atan2(foot.deep / 2, foot.middle + pieces[0].board.thickness))
        out["base-deep"] = reckon(
            "Base, deep", foot.deep, "so that it may be tipped a little before it falls",
            given("its middle is high", foot.middle),
            constant("steady up to", STEADY, "°", Mark.MEMORY),
        )  # fmt: skip
        out["tips-at"] = reckon(
            "Falls when tipped by", tips, "half of the base's depth over the height of its middle",
            given("half depth", foot.deep / 2), given("middle", foot.middle), unit="°",
        )  # fmt: skip
    return out


def _dimensions(cut: CutFigure) -> tuple[Dimension, ...]:
    """Its width above it, its height at its right."""
    (wide, high), own = cut.size, (FIGURE, Role.PLATE.value)
    x, y = wide / 2, high / 2
    up, right = (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)
    return (
        Dimension("width", *own, (-x, y, 0.0), (x, y, 0.0), up, wide, finished=True),
        Dimension("height", *own, (x, -y, 0.0), (x, y, 0.0), right, high, finished=True),
    )


def figure_area(span: Any, boards: Mapping[str, Board], options: Options) -> Any:
    """Board in mm², about that of a square for each ply; rises with the width."""
    return 2.5 * span[0] * span[0]


def tones(colours: Mapping[str, str], options: Options) -> Mapping[str, str]:
    """White paper for a picture, a dark base."""
    return {FIGURE: WHITE, BACKING: MOON, BASE: NIGHT}


WHITE, MOON, NIGHT = "#FFFFFF", "#FFFDF8", "#33405E"  # from memory
PRINTED_FIGURE = register(
    ShapeFamily(
        key="printed-figure",
        title="Printed figure",
        short="Figure",
        purpose="stand",
        about="A picture cut to its outline: to glue on a card, or to stand in a base.",
        parts=((FIGURE, "Figure"), (BACKING, "Backing"), (BASE, "Base")),
        options=OPTIONS,
        build=build_printed_figure,
        board_area=figure_area,
        smallest=SMALLEST,
        largest=LARGEST,
        answers=("span",),
        starts=(START, 0.0),
        when={BACKING: ("backing", "board"), BASE: ("stands", "base")},
        usual={FIGURE: "light-card", BACKING: "medium-card", BASE: "heavy-card"},
        takes=bears_nothing,
        tones=tones,
    )
)
