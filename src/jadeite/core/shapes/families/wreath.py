"""Wreath: flowers of two sizes and leaves on a ring of board, placed without gaps or crowds."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from jadeite.core.blooms import KINDS, MIDDLE, LeafSpot, Spot, petal_from_words
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.colours import mix
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, When, Where
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.gores import about_z
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
    Shaping,
)
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.blooming import LEAF_COLOUR, PETAL_COLOUR, holds_nothing, rod_finding
from jadeite.core.shapes.leaf_pieces import FOOT, Place, leaf_piece
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.shapes.ring_gluing import Glued, glued_stack
from jadeite.core.shapes.ring_options import counts_in_words
from jadeite.core.shapes.ring_shaping import shaping_of
from jadeite.core.shapes.wreaths import (
    FOOT_DEEP,
    INNER,
    LARGE,
    LARGEST,
    LEAF_CREASE,
    LEAF_RISE,
    ROD,
    SMALL,
    SMALLEST,
    Wreath,
    counts_of,
    part_of,
    wreath_of,
)
from jadeite.core.units import number_text

__all__ = ["WREATH"]

STARTS = (300.0, 0.0)  # mm; from memory
SORTS = (LARGE, SMALL)
LEAF, BASE = "leaf", "base"
BEGIN, END, WHOLE = "begin", "end", "arc"
MOST_RINGS = 4  # of a flower; from memory
SAGITTA = 0.02  # mm by which a chord of an arc may leave it; design rule
MOST_FLOWERS, MOST_LEAVES, MOST_ARCS, SEEDS = 120.0, 80.0, 12.0, 999.0
FRONT = 1.16  # of its half width, where its width is written; from memory
BARE = 62.0  # %; from memory, a wreath of which less is covered looks bare
PARTS = (
    (LARGE, "Large flowers"),
    (LARGE + INNER, "Their inner rings"),
    (SMALL, "Small flowers"),
    (LEAF, "Leaves"),
    (BASE, "Ring under it"),
)

# from memory
OPTIONS = (
    Option("opening", "Opening", 46.0, "Its width, of that of the whole.", "%", 25.0, 75.0),
    Option("sizes", "Flowers of", "two", "Small ones fill the gaps between large ones.",
           choices=(("two", "two sizes"), ("one", "one size"))),
    Option("flowers", "Number of flowers", 0.0,
           "0 is as many as fit at the sizes below; any other number makes them just so small that "
           "so many fit.", "count", 0.0, MOST_FLOWERS, lowest="all that fit"),
    Option("large", "Large flowers", 84.0, "Their width, of that from the opening to the rim.",
           "%", 50.0, 100.0),
    Option("small", "Small flowers", 56.0, "Their width, of that of the large ones.",
           "%", 45.0, 90.0),
    Option("lap", "Flowers lap by", 12.0,
           "Of their widths at the most: petals stand in one another's gaps.", "%", 0.0, 25.0),
    Option("petals", "Petals of each ring", "6 5 4",
           "From the outermost ring to the innermost; small flowers are without the outermost.",
           "counts", 3.0, 12.0, words=counts_in_words(MOST_RINGS),
           most=MOST_RINGS, shows=("5 4", "6 5 4", "8 6 5", "6 6 5 4")),
    Option("outline", "Outline", "round", "Of all petals. Numbers may follow: heart width=80.",
           "outlines", choices=tuple((key, label) for key, (label, _) in KINDS.items()),
           words=lambda words: petal_from_words(words).words),
    Option("rise", "Outer petals rise by", 16.0, "From the plane of the wreath.",
           "deg", 12.0, 45.0),
    Option("inner-rise", "Inner petals rise by", 52.0, "The rings between are between.",
           "deg", 12.0, 75.0),
    Option("leaves", "Leaves", 36.0,
           "At the most; as many as are seen, half of them mirror images of the others.",
           "count", 0.0, MOST_LEAVES),
    Option("leaf", "Leaves, long", 58.0, "Of the width from the opening to the rim.",
           "%", 30.0, 80.0),
    Option("leaf-outline", "Leaf outline", "lance width=44",
           "Of all leaves. Numbers may follow: toothed waves=8.", "outlines",
           choices=tuple((key, label) for key, (label, _) in KINDS.items()),
           words=lambda words: petal_from_words(words, "leaf-outline").words),
    Option("arcs", "Ring of board, arcs", 6.0,
           "As many pieces as each of its two plies is cut in, seam over middle; 1 is one ring of "
           "one ply.", "count", 1.0, MOST_ARCS),
    Option("seed", "Arrangement", 1.0, "Another number is another arrangement.",
           "count", 1.0, SEEDS),
)  # fmt: skip

RING = "the arcs to a ring, seam over middle"
ARCS = (
    "Lay the lower arcs out in a ring, end to end, good side up. Each upper arc lies over a seam, "
    "with one half on either side of it. Keep it flat under a weight until it is dry."
)
ON_RING = (
    "Lay all flowers out first, as the picture from above shows: large ones near the rim and near "
    "the opening by turns, one petal to the edge. Then glue on the middle of each, and press it "
    "with the blunt end of a pencil."
)
IN_GAPS = (
    "Into the gaps that are left, one petal to the nearer edge: glue on the middle of each, and "
    "press it with the blunt end of a pencil."
)
TUCKED = (
    "Flowers first, then greenery into the gaps. A little glue on each foot only; slide it in "
    "under the petals, with its tip at the edge, left and right ones as the picture shows."
)


# ---------------------------------------------------------- ring of board


def _sector(start: float, end: float, radii: tuple[float, float]) -> Floats:
    """An outline from one angle to another, radians, between two radii, mm; (n, 2) float.

    Its first edge leads outwards at ``start``.
    """
    inner, outer = radii
    count = max(2, math.ceil((end - start) / (2 * math.acos(1 - SAGITTA / outer))))
    turns = np.linspace(start, end, count + 1)
    way = np.column_stack([np.cos(turns), np.sin(turns)])
    return np.vstack([inner * way[:1], outer * way, inner * way[:0:-1]])


def _ring_pieces(wreath: Wreath, options: Mapping[str, OptionValue], board: Board) -> Glued:
    """The ring under the flowers: two plies of arcs, seam over middle, or one whole ring."""
    arcs, radii = int(float(options["arcs"])), wreath.band.base
    wide = (2 * radii[1], 2 * radii[1])
    if arcs == 1:
        turns = np.linspace(0.0, 2 * math.pi, 4 * len(_sector(0.0, math.pi / 4, radii)))[:-1]
        way = np.column_stack([np.cos(turns), np.sin(turns)])
        hole = Opening("opening", radii[0] * way)
        panel = Panel(WHOLE, "ring", Role.PLATE, radii[1] * way, wide, (hole,))
        piece = Piece(BASE, "ring", board, (panel,), (), "inside", part=BASE)
        return Glued((piece,), {BASE: np.eye(4)}, (), ())
    step = 2 * math.pi / arcs
    size = (radii[1] * step, radii[1] - radii[0])
    halves = [_sector(-step / 2, 0.0, radii), _sector(0.0, step / 2, radii)]
    begin = Panel(BEGIN, "arc", Role.PLATE, halves[0], size)
    end = Panel(END, "arc", Role.PLATE, halves[1], size)
    seam = Fold(BEGIN, END, (radii[0], 0.0), (radii[1], 0.0), 0.0, ROLLED)
    upper = Panel(WHOLE, "arc", Role.PLATE, _sector(0.0, step, radii), size)
    pieces: list[Piece] = []
    joints: list[Joint] = []
    arrivals: list[Arrival] = []
    places: dict[str, Floats] = {}
    lower = Piece("", "", board, (begin, end), (seam,), "inside", part=BASE)
    for n in range(1, arcs + 1):
        name, title = f"lower-{n}", f"lower arc {n}"
        pieces.append(replace(lower, name=name, title=title))
        places[name] = np.array(about_z(360.0 / arcs * (n - 1)))
    first = Piece("upper-1", "upper arc 1", board, (upper,), (), "inside", part=BASE)
    for n in range(1, arcs + 1):
        over = replace(first, name=f"upper-{n}", title=f"upper arc {n}")
        place = np.array(about_z(360.0 / arcs * (n - 1)))
        place[2, 3] = board.thickness
        pieces.append(over)
        places[over.name] = place
        ends = ((f"lower-{n}", END), (f"lower-{n % arcs + 1}", BEGIN))
        joints += [Joint(Kind.GLUE, one, (over.name, WHOLE), "arcs", "outside") for one in ends]
        arrivals.append(Arrival(over.name, When.FLAT, ends[0], hint=ARCS, called=RING))
        if n < arcs:  # it lies under the one that joins it to the last
            turn = step * n
            out = (math.cos(turn), math.sin(turn), 0.0)
            arrivals.append(
                Arrival(ends[1][0], When.FLAT, (over.name, WHOLE), path=out, hint=ARCS, called=RING)
            )
    return Glued(tuple(pieces), places, tuple(joints), tuple(arrivals))


def _under(spot: Spot | LeafSpot, arcs: int) -> Where:
    """The panel of board under a place."""
    if arcs == 1:
        return BASE, WHOLE
    turn = math.atan2(spot.y, spot.x) % (2 * math.pi)
    return f"upper-{int(turn / (2 * math.pi / arcs)) % arcs + 1}", WHOLE


# --------------------------------------------------------- flowers, leaves


class _Made:
    """Pieces of a wreath, as they come onto its ring."""

    def __init__(
        self, wreath: Wreath, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
    ) -> None:
        self.wreath, self.boards = wreath, boards
        self.arcs = int(float(options["arcs"]))
        ring = _ring_pieces(wreath, options, boards[BASE])
        self.pieces, self.places = [*ring.pieces], dict(ring.placements)
        self.joints, self.arrivals = [*ring.joints], [*ring.arrivals]
        plies = 0 if self.arcs == 1 else 1
        self.top = boards[BASE].thickness * (plies + 0.5)  # of the ring, over its lower middle
        self.flowers: list[str] = []  # the pieces by which they sit on the ring
        self.names: dict[str, list[str]] = {}  # of each ring of a sort
        for sort in range(len(wreath.stacks)):
            self._flowers(sort, counts_of(SORTS[sort], options))
        self._leaves()

    def _flowers(self, sort: int, counts: list[int]) -> None:
        stack = self.wreath.stacks[sort]
        parts = {la.part: part_of(SORTS[sort], i, len(counts)) for i, la in enumerate(stack.layers)}
        once = glued_stack(stack, {key: self.boards[part] for key, part in parts.items()}, 0.0)
        earlier = tuple(self.flowers)
        for number, spot in enumerate(self.wreath.of(sort), start=1):
            own = {piece.name: f"{piece.name}-{number}" for piece in once.pieces}
            at = np.array(about_z(self.wreath.turn(spot) - stack.turns.turns[0]))
            at[:3, 3] = spot.x, spot.y, self.top + once.pieces[0].board.thickness / 2
            for piece in once.pieces:
                title, part = f"{piece.title} {number}", parts[piece.part]
                new = replace(piece, name=own[piece.name], title=title, part=part)
                self.pieces.append(new)
                self.places[new.name] = at @ once.placements[piece.name]
                self.names.setdefault(piece.name, []).append(new.name)
            self.joints += [
                replace(j, tab=(own[j.tab[0]], j.tab[1]), target=(own[j.target[0]], j.target[1]))
                for j in once.joints
            ]
            for come in once.arrivals:
                onto = None if come.onto is None else (own[come.onto[0]], come.onto[1])
                after = tuple(own[name] for name in come.after)
                self.arrivals.append(replace(come, piece=own[come.piece], onto=onto, after=after))
            self._onto_ring(
                own[once.pieces[0].name],
                MIDDLE,
                spot,
                hint=IN_GAPS if sort else ON_RING,
                after=(*earlier, *(own[come.piece] for come in once.arrivals)),
                called=f"{SORTS[sort]} flower {number}",
            )

    def _leaves(self) -> None:
        """Leaves of two kinds, each the mirror image of the other."""
        leaf, board = self.wreath.leaf, self.boards[LEAF]
        kinds: dict[bool, Piece] = {}
        leaves = sorted(self.wreath.leaves, key=lambda spot: spot.mirrored)
        for number, spot in enumerate(leaves, start=1):
            if spot.mirrored not in kinds:
                own = np.diag([1.0, -1.0 if spot.mirrored else 1.0, 1.0])
                kinds[spot.mirrored] = leaf_piece(Place(leaf, own), LEAF, LEAF, board, LEAF,
                                                  FOOT_DEEP)  # fmt: skip
            piece = replace(kinds[spot.mirrored], name=f"{LEAF}-{number}", title=f"leaf {number}")
            at = np.array(about_z(spot.turn))
            at[:3, 3] = spot.x, spot.y, self.top + board.thickness / 2
            self.pieces.append(piece)
            self.places[piece.name] = at
            self._onto_ring(piece.name, FOOT, spot, hint=TUCKED, after=tuple(self.flowers))

    def _onto_ring(
        self,
        name: str,
        panel: str,
        spot: Spot | LeafSpot,
        *,
        hint: str,
        after: tuple[str, ...],
        called: str = "",
    ) -> None:
        on = _under(spot, self.arcs)
        title = "on the ring" if called else "leaves"
        self.joints.append(Joint(Kind.GLUE, (name, panel), on, title, "inside"))
        self.arrivals.append(Arrival(name, When.FOLDED, on, hint=hint, after=after, called=called))
        if called:
            self.flowers.append(name)


def build_wreath(
    span: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A wreath of a finished width in mm; its height comes by itself.

    Raises
    ------
    FieldError
        It cannot be so wide, its flowers would be too small, or too many; the text names what
        works.
    """
    width, _, _ = span
    if not SMALLEST <= width <= LARGEST:  # refuses nan too
        near = LARGEST if width > LARGEST else SMALLEST
        raise FieldError(
            "width",
            f"{number_text(width)} mm is outside what a wreath can be",
            f"Use {number_text(near)} mm.",
            ((("brief.width", near),),),
        )
    wreath = wreath_of(width, boards, options)
    made = _Made(wreath, boards, options)
    return Design(
        family="wreath",
        title="Wreath",
        pieces=tuple(made.pieces),
        placements=made.places,
        joints=tuple(made.joints),
        hollow=None,
        sizes=_sizes(wreath, made, width, options),
        dimensions=_dimensions(wreath, made.pieces[0]),
        arrivals=Arrivals(made.arrivals),
        shaping=_shaping(wreath, made),
        findings=_findings(wreath, boards, options),
    )


def _shaping(wreath: Wreath, made: _Made) -> tuple[Shaping, ...]:
    layers = [layer for stack in wreath.stacks for layer in stack.layers]
    petals = shaping_of(
        [la for la in layers if la.name in made.names], lambda layer: made.names[layer.name]
    )
    names = tuple(p.name for p in made.pieces if p.part == LEAF)
    if not names:
        return petals
    words = (
        f"Bend each along its crease by about {number_text(LEAF_CREASE, 0)}°, like a shallow "
        f"gutter, and its foot back until the leaf rises by about {number_text(LEAF_RISE, 0)}°. "
        "Lay mirrored ones in two rows, so that none is confused."
    )
    return (*petals, Shaping("Bend all leaves", words, names, len(names)))


# ------------------------------------------------------------------- words


def _sizes(
    wreath: Wreath, made: _Made, width: float, options: Mapping[str, OptionValue]
) -> dict[str, Reckoning]:
    highest = max(
        (float(made.places[names[0]][2, 3]) + ring.heights[1] + ring.asked.thickness / 2
         for stack in wreath.stacks
         for layer, ring in zip(stack.layers, stack.rings, strict=True)
         for names in [made.names.get(layer.name, [])] if names),
        default=made.top,
    )  # fmt: skip
    half = made.boards[BASE].thickness / 2
    low, high = wreath.band.base
    wide = [2 * stack.reach for stack in wreath.stacks]
    out = {
        "finished-width": reckon(
            "Finished width",
            2 * wreath.reach,
            "twice from the middle to the farthest tip of a petal or leaf, bent as it is",
            given("asked for", width),
        ),
        "finished-height": reckon(
            "Finished height",
            highest + half,
            "from the back of the ring to the highest petal: an estimate, paper springs back",
            given("ring of board", made.top + half),
        ),
        "opening": reckon(
            "Opening",
            2 * wreath.opening,
            "twice from the middle to the nearest tip of a petal or leaf",
            given("asked for", width * float(options["opening"]) / 100),
        ),
        "fullness": reckon(
            "Fullness",
            100 * wreath.covered,
            "share of the wreath, from its opening to its rim, that flowers and leaves cover",
            constant("bare below", BARE, "%", Mark.MEMORY),
            unit="%",
        ),
        "flowers": reckon(
            "Flowers",
            float(len(wreath.spots)),
            "large and small ones that sit on the ring",
            *(given(f"{sort} ones", float(len(wreath.of(i))), "") for i, sort in enumerate(SORTS)),
            unit="",
        ),
        "leaves": reckon(
            "Leaves",
            float(len(wreath.leaves)),
            "those of which enough is seen",
            given("wanted", float(options["leaves"]), ""),
            unit="",
        ),
        "base-width": reckon(
            "Ring of board, wide",
            high - low,
            "so that petals hide its edges",
            given("inner edge, across", 2 * low),
            given("outer edge, across", 2 * high),
        ),
    }
    for sort, value in zip(SORTS, wide, strict=False):
        out[f"{sort}-width"] = reckon(
            f"{sort.capitalize()} flowers",
            value,
            "finished width, from tip to tip through the middle",
            given("from the opening to the rim", wreath.band.outer - wreath.band.inner),
        )
    return out


def _findings(
    wreath: Wreath, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> tuple[Finding, ...]:
    """Bare places, and a rod over which a board kinks."""
    out = []
    covered = 100 * wreath.covered
    if covered < BARE:
        words = (
            f"It looks bare: flowers and leaves cover {covered:.0f} % of it, and from "
            f"{BARE:.0f} % it looks full."
        )
        out.append(Finding(Level.NOTE, "wreath-bare", words, BASE, "shape"))
    petals = [boards[part_of(SORTS[i], n, len(stack.layers))]
              for i, stack in enumerate(wreath.stacks)
              for n in range(len(stack.layers))]  # fmt: skip
    out += [replace(f, cure=None) for f in rod_finding(ROD, petals)]
    return tuple(out)


def _dimensions(wreath: Wreath, first: Piece) -> tuple[Dimension, ...]:
    half, hole = wreath.reach, wreath.opening
    where = (first.name, first.panels[0].name)
    front = -FRONT * half  # in front of the disc that shows the scale
    whole = Dimension("finished, width", *where, (-half, front, 0.0), (half, front, 0.0),
                      (0.0, -1.0, 0.0), 2 * half)  # fmt: skip
    inner = Dimension("opening", *where, (-hole, 0.0, 0.0), (hole, 0.0, 0.0),
                      (0.0, -1.0, 0.0), 2 * hole)  # fmt: skip
    return whole, inner


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """Large flowers in the usual tone, darker inside; small ones darker; green leaves and ring."""
    large = colours.get(LARGE, PETAL_COLOUR)
    small = colours.get(SMALL, mix(large, "#B5724F", 0.45))
    leaf = colours.get(LEAF, LEAF_COLOUR)
    return {LARGE: large, LARGE + INNER: mix(large, "#B5724F", 0.22), SMALL: small, LEAF: leaf,
            BASE: leaf}  # fmt: skip


def wreath_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about that of flowers, leaves and ring; rises with the width."""
    share = 1 - (float(options["opening"]) / 100) ** 2
    return 2.4 * share * span[0] * span[0]


WREATH = register(
    ShapeFamily(
        key="wreath",
        title="Wreath",
        short="Wreath",
        purpose="bloom",
        about="Large flowers in and out round a ring, small ones and leaves in the gaps.",
        parts=PARTS,
        options=OPTIONS,
        build=build_wreath,
        board_area=wreath_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        when={LARGE + INNER: ("petals", 2.0), SMALL: ("sizes", "two"), LEAF: ("leaves", 1.0)},
        follows={LARGE + INNER: LARGE, SMALL: LARGE, LEAF: LARGE},
        usual={BASE: "craft-board"},
        answers=("span",),
        starts=STARTS,
        takes=holds_nothing,
        tones=tones,
        smaller={BASE: ("Cut the ring in more arcs", (("shape.options.arcs", MOST_ARCS),))},
    )
)
