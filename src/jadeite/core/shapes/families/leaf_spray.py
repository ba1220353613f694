"""Leaf spray: creased leaves in mirrored pairs on a stem, of one side or of two."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import shapely

from jadeite.core.blooms import KINDS, LINES_BESIDE, petal_from_words
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.colours import mix
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.model import (
    Design,
    Dimension,
    Floats,
    Joint,
    Kind,
    Panel,
    Piece,
    Shaping,
)
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.blooming import LEAF_COLOUR, check_width, holds_nothing
from jadeite.core.shapes.finishing import STAYS_OPTION, finish_findings, finish_for
from jadeite.core.shapes.leaf_pieces import FAR, FOOT, NEAR, back_piece, leaf_piece
from jadeite.core.shapes.leaf_wires import BETWEEN, WIRE_OPTION, wire_size, wires_for
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.shapes.ring_options import PRESSED
from jadeite.core.shapes.ring_shaping import press_leaves
from jadeite.core.shapes.sprays import BARE, LARGEST, SMALLEST, TIP_FOOT, Spray, spray_of
from jadeite.core.units import number_text

__all__ = ["LEAF_SPRAY"]

STARTS = (110.0, 0.0)  # mm; from memory
PAIRS, MOST_PAIRS = 3, 8  # common practice: six leaves look natural; from memory
SCALE = 68.0  # % of the lowest pair is the highest; from memory
OFF, RISE, CREASE = 48.0, 10.0, 22.0  # degrees; from memory
SPACING = 50.0  # % of a leaf's length from pair to pair; from memory, they just do not lap
STEM = 9.0  # mm; from memory, wide enough for two feet
BESIDE = 0.4  # mm; from memory, that a foot ends short of the stem's other edge
BEYOND = 0.04  # of a back's half may lie beyond the crease; design rule, 95 % of a joint lands
LAPS = 0.01  # of a leaf may lap over the next unsaid; from memory
STEM_PART, COVER, LEAF, BACK = "stem", "cover", "leaf", "back"

# from memory
OPTIONS = (
    Option("pairs", "Pairs of leaves", float(PAIRS),
           "On both sides of the stem, each the mirror image of the other; two smaller ones among "
           "them look natural.", "count", 1.0, float(MOST_PAIRS)),
    Option("outline", "Outline", "lance width=48",
           "Of all leaves. Numbers may follow: toothed waves=8.", "outlines",
           choices=tuple((key, label) for key, (label, _) in KINDS.items()),
           words=lambda words: petal_from_words(words).words),
    Option("scale", "Highest pair", SCALE,
           "Its size, of that of the lowest; the pairs between step down evenly.",
           "%", 40.0, 100.0),
    Option("tip", "At the tip", "leaf", "One more leaf, as large as the highest pair.",
           choices=(("leaf", "a leaf"), ("none", "nothing"))),
    Option("off", "Leaves stand off by", OFF, "From the stem, as seen from above.",
           "deg", 25.0, 75.0),
    Option("rise", "Leaves rise by", RISE, "From the plane of the stem.", "deg", 0.0, 60.0),
    Option("crease", "Creased by", CREASE,
           "Along the middle of each leaf: what is left of the fold once it is let go.",
           "deg", 4.0, 80.0),
    Option("leaf-lines", "Lines on leaves", "none", PRESSED, choices=LINES_BESIDE),
    Option("spacing", "From pair to pair", SPACING,
           "Of the lowest leaf's length, where no height is asked for.", "%", 20.0, 120.0),
    Option("stem", "Stem, wide", STEM, "A strip on which the leaves' feet are glued.",
           "mm", 8.0, 16.0),
    Option("cover", "Over the feet", "strip", "A second strip hides the feet and makes it stiff.",
           choices=(("strip", "a second strip"), ("none", "nothing"))),
    Option("sides", "Leaves of", "one",
           "Two sides are two papers back to back: they are bent while the glue is wet, and keep "
           "it.",
           choices=(("one", "one side"), ("two", "two sides"))),
    WIRE_OPTION,
    STAYS_OPTION,
)  # fmt: skip


# ------------------------------------------------------------------ pieces


def _strip(name: str, title: str, spray: Spray, wide: float, board: Board) -> Piece:
    half, end = wide / 2, spray.stem
    outline = np.array([[-half, 0.0], [half, 0.0], [half, end], [-half, end]])
    panel = Panel(name, title, Role.STRAP, outline, (wide, end))
    return Piece(name, title, board, (panel,), (), "inside", part=name)


BEHIND = (
    "Back to back: thin glue on the whole blade{wire}, and press from the crease outwards. Go on "
    "at once: it keeps the form that it dries in."
)
ON_STEM = (
    "A little glue on each foot, none on the crease beside it; each foot lies across the "
    "stem, its crease on the stem's edge, the left one a little higher. Begin with the lowest pair."
)
OVER = "Glue on all of it; press it down between the leaves, and keep the leaves out of the glue."


def build_spray(
    span: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A spray of a finished width and, unless it is 0, a height along its stem; mm.

    Raises
    ------
    FieldError
        It cannot be so wide or so high; the text names what works.
    """
    width, height, _ = span
    check_width(width, "leaf spray", SMALLEST, LARGEST)
    spray = spray_of(width, height, options)
    if options["sides"] == "two":
        _check_backs(spray, (boards[LEAF].thickness + boards[BACK].thickness) / 2)
    wide = float(options["stem"])
    stem = _strip(STEM_PART, "stem", spray, wide, boards[STEM_PART])
    level = (stem.board.thickness + boards[LEAF].thickness) / 2
    pieces, places = [stem], {STEM_PART: np.eye(4)}
    joints, arrivals = [], []
    on_stem = (STEM_PART, STEM_PART)
    leaves, backs = [], []
    behind = BEHIND.format(wire=BETWEEN if options["wire"] == "along" else "")
    for n, place in enumerate(spray.places, start=1):
        deep = TIP_FOOT if place.leaf.off == 0.0 else float(options["stem"]) - BESIDE
        leaf = leaf_piece(place, f"{LEAF}-{n}", f"leaf {n}", boards[LEAF], LEAF, deep)
        leaves.append(leaf)
        places[leaf.name] = _raised(level)
        joints.append(Joint(Kind.GLUE, (leaf.name, FOOT), on_stem, "feet", "inside"))
        arrivals.append(Arrival(leaf.name, When.FOLDED, on_stem, hint=ON_STEM))
        if options["sides"] == "two":
            back = back_piece(place, f"{BACK}-{n}", f"back {n}", boards[BACK], BACK)
            backs.append(back)
            apart = (leaf.board.thickness + back.board.thickness) / 2
            own = place.space @ place.leaf.behind(apart) @ np.linalg.inv(place.space)
            places[back.name] = _raised(level) @ own
            joints += [
                Joint(Kind.GLUE, (back.name, half), (leaf.name, half), "backs", "inside")
                for half in (NEAR, FAR)
            ]
            arrivals.append(Arrival(back.name, When.BEHIND, (leaf.name, NEAR), hint=behind))
    pieces += [*leaves, *backs]
    if options["cover"] == "strip":
        cover = _strip(COVER, "second strip", spray, wide, boards[COVER])
        pieces.append(cover)
        places[COVER] = _raised(level + (cover.board.thickness + boards[LEAF].thickness) / 2)
        joints += [
            Joint(Kind.GLUE, (leaf.name, FOOT), (COVER, COVER), "second strip", "outside")
            for leaf in leaves
        ]
        names = tuple(leaf.name for leaf in leaves)
        arrivals.append(Arrival(COVER, When.FOLDED, on_stem, hint=OVER, after=names))
    wires = wires_for(spray, leaves[0].name, options)
    return Design(
        family="leaf-spray",
        title="Leaf spray",
        pieces=tuple(pieces),
        placements=places,
        joints=tuple(joints),
        hollow=None,
        sizes=_sizes(spray, width, boards, options) | wire_size(wires),
        dimensions=_dimensions(spray),
        arrivals=Arrivals(arrivals),
        shaping=_shaping(leaves, backs, options),
        bought=(*wires, *finish_for((STEM_PART, STEM_PART), options)),
        findings=(*_findings(spray), *finish_findings(options)),
    )


def _check_backs(spray: Spray, apart: float) -> None:
    """Refuse backs on leaves so narrow that at the crease too little of a back lies on its half.

    Raises
    ------
    FieldError
        The text names leaves of one side.
    """
    for leaf in (place.leaf for place in spray.places):
        beyond = apart * math.tan(math.radians(leaf.crease) / 2) * float(np.hypot(*leaf.tip))
        if beyond > BEYOND * min(shapely.Polygon(half).area for half in leaf.blade):
            raise FieldError(
                "sides",
                f"a leaf of {number_text(leaf.length)} mm is too narrow for a back of this board",
                "Use leaves of one side, or a thinner board.",
                (option_way("sides", "one"),),
            )


def _raised(level: float) -> Floats:
    out = np.eye(4)
    out[2, 3] = level
    return out


def _shaping(
    leaves: Sequence[Piece], backs: Sequence[Piece], options: Mapping[str, OptionValue]
) -> tuple[Shaping, ...]:
    """How the leaves are bent, backs with them."""
    names = tuple(piece.name for piece in (*leaves, *backs))
    wet = "While the glue is wet bend" if backs else "Bend"
    words = (
        f"{wet} each along its crease by about {number_text(float(options['crease']), 0)}°, like a "
        "shallow gutter, and its foot back until the leaf rises by about "
        f"{number_text(float(options['rise']), 0)}°. Lay mirrored ones in two rows, so that none "
        "is confused."
    )
    pressed = press_leaves([leaf.name for leaf in leaves], str(options["leaf-lines"]))
    return (*pressed, Shaping("Bend all leaves", words, names, len(leaves)))


# ------------------------------------------------------------------- words


def _sizes(
    spray: Spray, width: float, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> dict[str, Reckoning]:
    wide, high, deep = spray.extent.tolist()
    shapes = [shapely.Polygon(h[:, :2]).buffer(0) for place in spray.places for h in place.solid]
    half = float(options["stem"]) / 2
    shapes.append(shapely.box(-half, 0.0, half, spray.stem))
    covered = shapely.union_all(shapes)
    longest, shortest = (f(place.leaf.length for place in spray.places) for f in (max, min))
    lengths = given("lowest leaf, from the stem", longest)
    return {
        "finished-width": reckon(
            "Finished width",
            wide,
            "from tip to tip of the widest pair, bent as it is",
            given("asked for", width),
            lengths,
            constant("leaves stand off by", float(options["off"]), "deg", Mark.MEMORY),
        ),
        "finished-height": reckon(
            "Finished height",
            high,
            "along the stem, from its foot to the highest tip",
            given("stem", spray.stem),
            given("from pair to pair", spray.pitch),
        ),
        "depth": reckon(
            "Rises by",
            deep,
            "the highest tip over the stem: an estimate, paper springs back",
            constant("leaves rise by", float(options["rise"]), "deg", Mark.MEMORY),
            constant("creased by", float(options["crease"]), "deg", Mark.MEMORY),
        ),
        "fullness": reckon(
            "Fullness",
            100 * covered.area / covered.convex_hull.area,
            "share of what the tips go round that paper covers, seen from above",
            given("covered", covered.area / 100, "cm²"),
            unit="%",
        ),
        "leaf-length": reckon(
            "Lowest leaves",
            longest,
            "from the stem's edge to the tip, flat",
            given("asked for", width),
        ),
        "smallest-leaf": reckon(
            "Highest leaves",
            shortest,
            "the lowest, by the share that is asked for",
            lengths,
            given("share", float(options["scale"]), "%"),
        ),
        "stem-length": reckon(
            "Stem",
            spray.stem,
            "bare below the lowest pair, and from pair to pair",
            given("from pair to pair", spray.pitch),
            constant("bare, of the lowest leaf", 100 * BARE, "%", Mark.MEMORY),
        ),
    }


def _findings(spray: Spray) -> tuple[Finding, ...]:
    """Leaves that lap over the next pair."""
    shapes = [
        shapely.union_all([shapely.Polygon(h[:, :2]).buffer(0) for h in place.solid])
        for place in spray.places
    ]
    laps = [
        one.intersection(other).area / one.area
        for i, one in enumerate(shapes)
        for other in shapes[i + 1 :]
    ]
    worst = max(laps, default=0.0)
    if worst <= LAPS:
        return ()
    words = (
        f"Seen from above a leaf laps over the next by up to {100 * worst:.0f} % of its area; let "
        "it lean on it, or set the pairs further apart."
    )
    return (Finding(Level.NOTE, "leaves-lap", words, f"{STEM_PART}/{STEM_PART}", "shape"),)


def _dimensions(spray: Spray) -> tuple[Dimension, ...]:
    low, high = spray.bounds
    start, end = (float(low[0]), float(low[1]), 0.0), (float(high[0]), float(low[1]), 0.0)
    wide = Dimension("finished, width", STEM_PART, STEM_PART, start, end, (0.0, -1.0, 0.0),
                     float(high[0] - low[0]), finished=True)  # fmt: skip
    start, end = (float(low[0]), float(low[1]), 0.0), (float(low[0]), float(high[1]), 0.0)
    tall = Dimension("finished, height", STEM_PART, STEM_PART, start, end, (-1.0, 0.0, 0.0),
                     float(high[1] - low[1]), finished=True)  # fmt: skip
    return wide, tall


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """The usual greens; backs are a shade browner, as of most leaves."""
    leaf = colours.get(LEAF, LEAF_COLOUR)
    return {LEAF: leaf, BACK: mix(leaf, "#B5724F", 0.35), STEM_PART: leaf, COVER: leaf}


def spray_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about that of the squares round the leaves; rises with the width."""
    count = 2 * float(options["pairs"]) * (2 if options["sides"] == "two" else 1)
    return 0.12 * count * span[0] * span[0]


LEAF_SPRAY = register(
    ShapeFamily(
        key="leaf-spray",
        title="Leaf spray",
        short="Leaf spray",
        purpose="bloom",
        about="Creased leaves in mirrored pairs on a stem; of two sides, with a wire between.",
        parts=((LEAF, "Leaves"), (BACK, "Backs of the leaves"), (STEM_PART, "Stem"),
               (COVER, "Second strip")),
        options=OPTIONS,
        build=build_spray,
        board_area=spray_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        when={BACK: ("sides", "two"), COVER: ("cover", "strip")},
        follows={BACK: LEAF, COVER: STEM_PART},
        answers=("span",),
        starts=STARTS,
        takes=holds_nothing,
        tones=tones,
    )
)  # fmt: skip
