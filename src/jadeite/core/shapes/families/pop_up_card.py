"""Pop-up card: parts between its leaves stand up as it opens, and fold flat inside as it shuts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.model import (
    Design,
    Floats,
    Fold,
    Panel,
    Piece,
    Shaping,
    Trace,
    Vein,
)
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import across, closed_matrix
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.flat_things import check_face, face_dimensions
from jadeite.core.shapes.mounted import bears_nothing
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.shapes.standing_parts import Opened, lying_open, standing_open, turn_of
from jadeite.core.shapes.stood import (
    BACK,
    CARD,
    FLOOR,
    MOST_REACH,
    MOST_WIDE,
    POP,
    Leaf,
    Standing,
    stand,
)
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = ["POP_UP_CARD"]

SMALLEST, LARGEST = 60.0, 400.0  # mm of a leaf; from memory
STARTS = (148.0, 105.0)  # mm, A6 lying; published: ISO 216
NOTHING = (0.0, 1.0)  # mm; design rule, nothing is mounted on it
TICK, UNDER = 5.0, 1.6  # mm; from memory: a tick, and how far under its tab it is hidden
EDGE = 2.0  # mm; from memory, what folds flat keeps from the edges of the shut card
SHUT = 0.02  # degrees; setting, as good as shut
ALMOST = 0.01  # mm; rounding
OPENINGS = (2.0, 30.0, 60.0, 90.0, 120.0, 150.0, 178.0)  # degrees; setting, at which it is proved
GRID = 40  # setting: spots along each side at which plies are counted
PALE, BRIGHT = "#33405E", "#D9B978"  # from memory, night and ochre

LYING = ("v-fold", "floating")  # what stands over the fold of a card that lies like a book
# from memory
OPTIONS = (
    Option(
        "kind",
        "Stands up",
        "stage",
        "Steps are boxes over the fold; a stage has layers one behind another; a V stands over the "
        "fold of a card that lies open; a floating layer hovers above both leaves.",
        choices=(
            ("step", "steps"),
            ("stage", "a stage"),
            ("v-fold", "a V"),
            ("floating", "a floating layer"),
        ),
    ),
    Option(
        "count", "How many", 2.0, "Side by side, or one behind another.", "count", 1.0, 4.0,
        only=(("kind", ("step", "stage")),),
    ),
    Option(
        "reach", "From the fold", 36.0,
        "How far from the fold it is glued, as a share of the leaf.", "%", 12.0, MOST_REACH,
    ),
    Option(
        "height", "High", 44.0,
        "How high it is, as a share of the leaf: shut, it must not reach past the card.",
        "%", 12.0, 85.0,
    ),
    Option(
        "wide", "Wide", 76.0, "All of it together, as a share of the fold.", "%", 15.0, MOST_WIDE,
        only=(("kind", ("step", "stage", "floating")),),
    ),
    Option(
        "edge", "Upper edge", "hills", "Of layers, and of a V's walls: hills, peaks, or level.",
        choices=(("hills", "hills"), ("peaks", "peaks"), ("plain", "level")),
        only=(("kind", ("stage", "v-fold")),),
    ),
    Option(
        "slant", "Foot to the fold", 45.0,
        "The angle between a V's feet and the fold of the card.", "deg", 25.0, 65.0,
        only=(("kind", ("v-fold",)),),
    ),
    Option(
        "lean", "Foot to the ridge", 80.0,
        "The angle in each wall between foot and ridge: at 90° the ridge stands straight once the "
        "card lies flat; less leans it over its feet. It is never less than that of the feet.",
        "deg", 40.0, 110.0,
        only=(("kind", ("v-fold",)),),
    ),
    Option("tabs", "Tabs, deep", 9.0, "What is glued on the leaves.", "mm", 6.0, 20.0),
    Option(
        "fold", "Fold", "long", "Along the long side, or along the short one.",
        choices=(("long", "long side"), ("short", "short side")),
    ),
    Option(
        "opens", "Stands open by", 100.0, "The angle between its leaves as it is drawn.",
        "deg", 2.0, 178.0, only=(("kind", ("step", "stage")),),
    ),
    Option(
        "lies-open", "Lies open by", 150.0, "The angle between its leaves as it is drawn.",
        "deg", 2.0, 178.0, only=(("kind", LYING),),
    ),
)  # fmt: skip


def _leaf(face: Size, options: Mapping[str, OptionValue]) -> Leaf:
    """The leaf by its fold: along the long side or the short one, mm."""
    width, height, _ = face
    long, short = max(width, height), min(width, height)
    return Leaf(long, short) if options["fold"] == "long" else Leaf(short, long)


def _opened(options: Mapping[str, OptionValue], angle: float | None = None) -> Opened:
    """A card lies open like a book for what stands over its fold; else one leaf stands."""
    if options["kind"] in LYING:
        return lying_open(float(options["lies-open"]) if angle is None else angle)
    return standing_open(float(options["opens"]) if angle is None else angle)


def _card(leaf: Leaf, board: Board, open_: Opened) -> tuple[Piece, Floats]:
    """Both leaves, their inside up, and where the near one is."""
    x, y = leaf.long / 2, leaf.deep
    near = np.array([[-x, -y], [x, -y], [x, 0.0], [-x, 0.0]])
    far = np.array([[-x, 0.0], [x, 0.0], [x, y], [-x, y]])
    size = (leaf.long, leaf.deep)
    ways = -open_.first, open_.second
    turn = turn_of(open_.along, *(across(open_.along, way) for way in ways))
    fold = Fold(FLOOR, BACK, (-x, 0.0), (x, 0.0), turn)
    panels = (
        Panel(FLOOR, "near leaf", Role.LEAF, near, size),
        Panel(BACK, "far leaf", Role.LEAF, far, size),
    )
    place = np.eye(4)
    place[:3, 0], place[:3, 1] = open_.along, ways[0]
    place[:3, 2] = across(open_.along, ways[0])
    return Piece(CARD, "card", board, panels, (fold,), good_side="inside"), place


def build_pop_up(
    face: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A pop-up card of a closed width and height in mm, open by the angle that is asked.

    Its nets are the same for every angle.

    Raises
    ------
    FieldError
        The face is out of range, or a V could not open so far.
    """
    _check(face, options)
    leaf, open_ = _leaf(face, options), _opened(options)
    card, place = _card(leaf, boards[CARD], open_)
    standing = stand(leaf, boards[POP], options, open_)
    card = replace(card, veins=_ticks(card, place, standing))
    low = min(float((_space(card, place, panel.name))[:, 2].min()) for panel in card.panels)
    lift = np.array([0.0, 0.0, -low])
    placements = {CARD: _raised(place, lift)}
    placements |= {s.piece.name: _raised(s.place, lift) for s in standing.stood}
    shut = _shut(leaf, boards, options)
    return Design(
        family="pop-up-card",
        title="Pop-up card",
        pieces=(card, *(s.piece for s in standing.stood)),
        placements=placements,
        joints=tuple(standing.joints),
        hollow=None,
        sizes=_sizes(leaf, boards, standing, open_, shut),
        dimensions=face_dimensions(CARD, FLOOR, (-leaf.long / 2, -leaf.deep), (leaf.long / 2, 0.0)),
        arrivals=Arrivals(_arrivals(standing)),
        shaping=(_flattened(standing),),
        ground=(CARD, FLOOR),
        put_away=(
            face[0],
            face[1],
            2 * boards[CARD].thickness + shut.plies * boards[POP].thickness,
        ),
    )


def _raised(place: Floats, by: Floats) -> Floats:
    out = place.copy()
    out[:3, 3] += by
    return out


def _space(piece: Piece, place: Floats, panel: str) -> Floats:
    """Corners of a panel in space, (n, 3)."""
    outline = piece.panel(panel).outline
    matrix = closed_matrix(piece, place, panel)
    return np.asarray(outline @ matrix[:3, :2].T + matrix[:3, 3])


def _arrivals(standing: Standing) -> list[Arrival]:
    """Each piece onto what carries it, when both are folded; those that carry others first."""
    out = []
    for number, stood in enumerate(standing.stood):
        name = stood.piece.name
        before = tuple(s.piece.name for s in standing.stood[:number])
        onto, hint = standing.onto[name], standing.hints[name]
        out.append(Arrival(name, When.FOLDED, onto, hint=hint, after=before))
    return out


def _flattened(standing: Standing) -> Shaping:
    """How what stands up is creased, so that it moves."""
    pieces = tuple(s.piece.name for s in standing.stood)
    folds = sum(len(s.piece.folds) for s in standing.stood)
    words = (
        "Fold each crease flat one way, then flat the other way, so that it moves without force; "
        "only what moves freely lets the card shut."
    )
    return Shaping("Fold every crease both ways", words, pieces, folds)


def _ticks(card: Piece, place: Floats, standing: Standing) -> tuple[Vein, ...]:
    """Ticks of the pen along the creases of feet on the card, under the tabs that hide them."""
    stood = {s.piece.name: s for s in standing.stood}
    out = []
    for joint in standing.joints:
        name, tab = joint.tab
        if joint.target[0] != CARD or standing.onto[name] != joint.target:
            continue
        piece = stood[name].piece
        fold = next(f for f in piece.folds if tab in (f.parent, f.child))
        back = np.linalg.inv(closed_matrix(card, place, joint.target[1]))
        carry = back @ closed_matrix(piece, stood[name].place, tab)
        middle = piece.panel(tab).outline.mean(axis=0)
        ends = np.array([fold.start, fold.end])
        inside = (middle - ends.mean(axis=0)) / np.linalg.norm(middle - ends.mean(axis=0))
        way = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0])
        long = min(TICK, fold.length / 4)
        for end, sign in ((ends[0], 1.0), (ends[1], -1.0)):
            begin = end + UNDER * (sign * way + inside)
            line = np.array([begin, begin + sign * long * way])
            out.append(Vein(line @ carry[:2, :2].T + carry[:2, 3], Trace.PEN))
    return tuple(out)


class _Shut:
    """What lies between the leaves of the shut card: how far it reaches, and how thick it is."""

    def __init__(self, outlines: list[Floats], leaf: Leaf) -> None:
        points = np.concatenate(outlines)
        self.aside = float(np.abs(points[:, 0]).max()) - leaf.long / 2
        self.beyond = float(points[:, 1].max()) - leaf.deep
        self.plies = _most_plies(outlines)

    @property
    def peeps(self) -> float:
        """How far it reaches past the card, less what it should keep from its edges; mm."""
        return max(self.aside, self.beyond) + EDGE


def _most_plies(outlines: list[Floats]) -> int:
    """How many lie on one another in one place at most."""
    points = np.concatenate(outlines)
    low, high = points.min(axis=0), points.max(axis=0)
    x, y = np.meshgrid(*(np.linspace(low[k], high[k], GRID + 2)[1:-1] for k in (0, 1)))
    count = np.zeros(x.shape, int)
    for outline in outlines:
        shape = Polygon(outline).buffer(0)
        count += shapely.contains_xy(shape, x, y)
    return int(count.max())


def _shut(leaf: Leaf, boards: Mapping[str, Board], options: Mapping[str, OptionValue]) -> _Shut:
    """The same parts with the card shut: along the fold, and out from it."""
    open_ = _opened(options, SHUT)
    standing = stand(leaf, boards[POP], options, open_)
    outlines = []
    for stood in standing.stood:
        for panel in stood.piece.panels:
            points = _space(stood.piece, stood.place, panel.name)
            outlines.append(np.column_stack([points @ open_.along, points @ open_.first]))
    return _Shut(outlines, leaf)


def _check(face: Size, options: Mapping[str, OptionValue]) -> None:
    check_face(face[0], face[1], SMALLEST, LARGEST, "a pop-up card")
    foot, wall = float(options["slant"]), float(options["lean"])
    if options["kind"] == "v-fold" and wall < foot:
        raise FieldError(
            "lean",
            f"at {number_text(wall)}° the walls are too narrow at their foot, and the card would "
            "not open flat",
            f"Use {number_text(rounded_up(foot))}°.",
            (option_way("lean", rounded_up(foot)),),
        )


def _sizes(
    leaf: Leaf, boards: Mapping[str, Board], standing: Standing, open_: Opened, shut: _Shut
) -> dict[str, Reckoning]:
    near = across(open_.along, -open_.first)
    points = np.concatenate(
        [_space(s.piece, s.place, p.name) for s in standing.stood for p in s.piece.panels]
    )
    far = np.asarray(across(open_.along, open_.second))
    stands = float(np.minimum(points @ near, points @ far).max())
    up = float(points[:, 2].max())
    card, own = boards[CARD].thickness, boards[POP].thickness
    return {
        "face-width": given("Closed, along the fold", leaf.long),
        "face-height": given("Closed, out from the fold", leaf.deep),
        "flat-length": reckon(
            "Flat, across the fold", 2 * leaf.deep, "both leaves, the fold in the middle",
            given("a leaf", leaf.deep),
        ),
        "stands-up": reckon(
            "Stands above the table", up, "its highest point with the card open as drawn",
            given("opened by", open_.angle, "°"),
        ),
        "stands-clear": reckon(
            "Clear of both leaves", stands, "how far the farthest point is from the nearer leaf",
            given("opened by", open_.angle, "°"),
        ),
        "shut-border": reckon(
            "Shut, clear of the edges", EDGE - shut.peeps,
            "what lies between the leaves keeps so far from the edges of the card",
            given("out from the fold", -shut.beyond), given("along the fold", -shut.aside),
        ),
        "thickness": reckon(
            "Thickness, shut", 2 * card + shut.plies * own, "both leaves, and what lies between",
            given("card", card), given("stand-up board", own),
            given("plies in one place", float(shut.plies), ""),
        ),
    }  # fmt: skip


def judge_pop_up(design: Design, options: Mapping[str, OptionValue]) -> tuple[Finding, ...]:
    """Whether something peeps out of the shut card, with the height at which nothing does."""
    border = design.sizes["shut-border"]
    if border.value >= EDGE - ALMOST:
        return ()
    leaf = Leaf(design.sizes["face-width"].value, design.sizes["face-height"].value)
    boards = {CARD: design.piece(CARD).board, POP: design.pieces[1].board}
    out = border.value
    words = (
        f"Shut, it peeps out of the card by {number_text(-out)} mm."
        if out < 0
        else f"Shut, it is {number_text(out)} mm from an edge; {number_text(EDGE)} mm hide it."
    )
    cure = None
    for key, least in (("height", 12.0), ("wide", 15.0), ("reach", 12.0)):
        value = _largest(leaf, boards, options, key, least)
        if value is not None:
            label = next(o.label.lower() for o in OPTIONS if o.key == key)
            cure = Cure(f"Make it {number_text(value)} % {label}", option_way(key, value))
            break
    where = "shape.options.height"
    return (Finding(Level.LOOK, "peeps-out", words, where, cure=cure),)


def _largest(
    leaf: Leaf,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    key: str,
    least: float,
) -> float | None:
    """The largest whole share with which nothing peeps out; None where none is."""
    value = rounded_down(float(options[key])) - 1.0
    while value >= least:
        if _shut(leaf, boards, {**options, key: float(int(value))}).peeps <= ALMOST:
            return float(int(value))
        value -= 1.0
    return None


def pop_up_area(face: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]) -> Any:
    """Board in mm², the parts as large as the card; rises with both lengths."""
    width, height, _ = face
    return 4 * width * height


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """What stands up is told from the card."""
    return {CARD: PALE, POP: BRIGHT}


POP_UP_CARD = register(
    ShapeFamily(
        key="pop-up-card",
        title="Pop-up card",
        short="Pop-up card",
        purpose="write",
        about="Steps, a stage, a V or a floating layer stand up between its leaves as it opens.",
        parts=((CARD, "Card"), (POP, "What stands up")),
        options=OPTIONS,
        build=build_pop_up,
        board_area=pop_up_area,
        smallest=SMALLEST,
        largest=LARGEST,
        answers=("face",),
        thin=NOTHING,
        starts=STARTS,
        judge=judge_pop_up,
        takes=bears_nothing,
        tones=tones,
        moves=(("opens", "lies-open"), OPENINGS),
    )
)
