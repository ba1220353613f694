"""What a board means for a design: every figure with the limit beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jadeite.core.boards import Board, Sag, floor_sag, smallest_roll, wall_bulge
from jadeite.core.boards.plates import GRAVITY
from jadeite.core.choice.floor import Floor, plies_on
from jadeite.core.contents import AnyThing, Arrangement, Loose
from jadeite.core.cutting.profiles import CutterProfile
from jadeite.core.cutting.settings import Setting, setting_for
from jadeite.core.folding import transform
from jadeite.core.nets import Design, Panel, Piece, piece_area
from jadeite.core.nets.bends import petal_length, tightest_roll
from jadeite.core.nets.checks import MIN_FOLD
from jadeite.core.nets.grain import preferred_grain
from jadeite.core.nets.outline import drawn_folds
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.project import Learned
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.extra import DIVIDER, FLOOR_PLY
from jadeite.core.units import number_text

__all__ = ["Figure", "Meaning", "figures_of"]

Verdict = Literal["", "holds", "look", "fails"]
# a wall taller than this many thicknesses leans and dents in the hand, a petal hangs; from memory
WALL_SLENDER = 400.0
# N for each mm of a paper strip glued over a cut edge, before it peels; from memory
STRIP_PEEL = 0.15
ROLLED = "rolled"
LEVEL = 0.999  # of a normal, upwards; from memory, a panel that leans less lies level


@dataclass(frozen=True, slots=True)
class Figure:
    """One figure: its value, its limit, and what it says.

    ``least`` says that the value must reach the limit rather than keep below
    it.  ``verdict`` is empty for a figure that nothing limits, ``look`` for one
    that wants care, ``fails`` for one that the board does not hold.
    """

    key: str
    title: str
    value: Reckoning
    limit: Reckoning | None
    verdict: Verdict
    words: str
    least: bool = False


@dataclass(frozen=True)
class Meaning:
    """A board in the parts that are compared, or why it cannot be made of it."""

    board: Board
    figures: tuple[Figure, ...]
    refused: str = ""

    @property
    def holds(self) -> bool:
        """Whether nothing fails."""
        return not self.refused and all(f.verdict != "fails" for f in self.figures)

    @property
    def failing(self) -> str:
        """Why it does not hold, in words; empty when it does."""
        if self.refused:
            return self.refused
        return next((f.words for f in self.figures if f.verdict == "fails"), "")

    def figure(self, key: str) -> Figure | None:
        """The figure with this key, where the design has it."""
        return next((f for f in self.figures if f.key == key), None)


def _sag_figure(key: str, title: str, sag: Sag, verb: str) -> Figure:
    value, limit = number_text(sag.sag.value, 2), number_text(sag.limit.value, 2)
    return Figure(
        key,
        title,
        sag.sag,
        sag.limit,
        "holds" if sag.holds else "fails",
        f"{verb} {value} mm, up to {limit} mm is hardly seen",
    )


def figures_of(
    design: Design,
    boards: Mapping[str, Board],
    focus: Sequence[str],
    floor: Floor,
    things: Sequence[AnyThing],
    arrangement: Arrangement | None,
    roof: str,
    heavier: str,
    cutter: CutterProfile,
    learned: Sequence[Learned] = (),
) -> tuple[Figure, ...]:
    """The figures of the parts in ``focus``, mechanical ones first.

    Parameters
    ----------
    design : Design
        Built of ``boards``.
    focus : sequence of str
        Parts that are made of the board in question.
    roof : str
        The part that closes the hollow; empty where none does.
    heavier : str
        What is done where a board is not cut through; see
        :func:`~jadeite.core.cutting.settings.setting_for`.
    """
    out: list[Figure] = []
    pieces = [p for p in design.pieces if p.part in focus]
    body = design.body
    first = body.part
    if floor.mass > 0 and {first, FLOOR_PLY, DIVIDER} & set(focus):
        glued, laid = plies_on(design)
        sag = floor.sag(boards[first], glued, laid, boards[DIVIDER])
        out.append(_sag_figure("floor", "Floor sags", sag, "the floor sags"))
    if first in focus:
        if (bulge := _bulge(design, boards[first], things, arrangement)) is not None:
            out.append(_sag_figure("wall", "Wall bulges", bulge, "the wall bulges"))
        out += _walls(design, body)
    if roof in focus and (over := _over(design, roof)) is not None:
        out.append(_roof(*over))
    if first in focus and not boards[first].folds:
        out.append(_strips(floor, boards[first]))
    if pieces:
        out += _petals(pieces)
        out += _folding(pieces)
        out += _whole(pieces, design, setting_for(pieces[0].board, heavier, cutter, learned))
    return tuple(out)


def _double(piece: Piece) -> bool:
    return any(panel.role is Role.LINING_WALL for panel in piece.panels)


def _bulge(
    design: Design,
    board: Board,
    things: Sequence[AnyThing],
    arrangement: Arrangement | None,
) -> Sag | None:
    """Bulge of the longest wall under the loose fill that lies against it."""
    if arrangement is None or design.hollow is None:
        return None
    length, _, height = design.hollow.size
    found = []
    for place in arrangement.places:
        thing = things[place.thing]
        if isinstance(thing, Loose) and thing.bulk_density > 0:
            walls = 2 if _double(design.body) else 1
            run = min(length, place.cell[0])
            found.append(
                wall_bulge(board, run, height, thing.bulk_density, place.solid[2], walls=walls)
            )
    return max(found, key=lambda s: s.sag.value, default=None)


def _walls(design: Design, piece: Piece) -> list[Figure]:
    """Whether the tallest wall stands by itself."""
    walls = [
        transform(closed_matrix(piece, design.placements[piece.name], p.name), p.outline)
        for p in piece.panels
        if p.role is Role.WALL
    ]
    if not walls:
        return []
    tall = max(float(np.ptp(points[:, 2])) for points in walls)
    plies = 2 if _double(piece) else 1
    most = WALL_SLENDER * piece.board.thickness * plies
    limit = reckon(
        "Stands up to",
        most,
        "400 times the thickness of its walls; taller, it leans and dents in the hand",
        given("board thickness", piece.board.thickness),
        given("walls, one in the other", plies, ""),
        constant("thicknesses", WALL_SLENDER, "", Mark.MEMORY),
    )
    return [
        Figure(
            "tall",
            "Tallest wall",
            given("Tallest wall", tall),
            limit,
            "holds" if tall <= most else "fails",
            f"its wall is {number_text(tall)} mm high; this board stands up to "
            f"{number_text(most, 0)} mm",
        )
    ]


def _petals(pieces: Sequence[Piece]) -> list[Figure]:
    """Whether the longest petal stands up by itself."""
    board, long = pieces[0].board, max(map(petal_length, pieces))
    if not long:
        return []
    most = WALL_SLENDER * board.thickness
    limit = reckon(
        "Stands up to",
        most,
        "400 times its thickness; a longer petal hangs",
        given("board thickness", board.thickness),
        constant("thicknesses", WALL_SLENDER, "", Mark.MEMORY),
    )
    return [
        Figure(
            "petal",
            "Longest petal",
            given("Longest petal", long),
            limit,
            "holds" if long <= most else "fails",
            f"its longest petal is {number_text(long)} mm; of this board petals stand up to "
            f"{number_text(most, 0)} mm",
        )
    ]


def _over(design: Design, roof: str) -> tuple[Piece, Panel] | None:
    """The largest level panel of a part that lies over the hollow."""
    panels = [
        (panel.size[0] * panel.size[1], piece, panel)
        for piece in design.pieces
        if piece.part == roof
        for panel in piece.panels
        if not panel.role.traits.glue
    ]
    for _, piece, panel in sorted(panels, key=lambda one: -one[0]):
        at = closed_matrix(piece, design.placements[piece.name], panel.name)
        height = transform(at, panel.outline)[:, 2].mean()
        if abs(at[2, 2]) > LEVEL and height > design.room.centre[2]:
            return piece, panel
    return None


def _roof(piece: Piece, panel: Panel) -> Figure:
    """How far a lid sags under its own weight."""
    length, width = panel.size
    mass = piece.board.grammage * length * width / 1e6
    sag = floor_sag(piece.board, length, width, mass, name="Lid sags")
    return _sag_figure("lid", "Lid sags", sag, "the lid sags under its own weight by")


def _strips(floor: Floor, board: Board) -> Figure:
    """What the paper strips at the cut edges of a board that does not fold must carry."""
    around = 2 * (floor.length + floor.width)
    pull = reckon(
        "Hinge strips carry",
        floor.mass / 1000 * GRAVITY / around,
        "the load shared out along the edges of the floor, in N for each mm",
        given("load", floor.mass, "g"),
        given("around the floor", around),
        unit="",
    )
    limit = constant("Hinge strips hold", STRIP_PEEL, "", Mark.MEMORY)
    strong = "hold" if pull.value <= STRIP_PEEL else "would peel"
    return Figure(
        "strips",
        "Hinge strips pull, N/mm",
        pull,
        limit,
        "fails",
        f"{board.title.lower()} does not fold: cut through, glue paper strips over the cuts "
        f"(they {strong}), and use it as a stiffener rather",
    )


def _folding(pieces: Sequence[Piece]) -> list[Figure]:
    """Score, grain, shortest fold and smallest curl."""
    board = pieces[0].board
    grains = [preferred_grain(p) for p in pieces]
    across = sum(g.across for g in grains)
    lines = [(line, p.folds[i]) for p in pieces for line, i in drawn_folds(p)]
    words = {
        "no": "folds without a score",
        "light": "a light score is enough",
        "yes": "score every fold",
        "wheel": "score with a wheel, or folds across the grain crack",
        "hinge": "does not fold: cut through each fold and hinge it with paper",
    }[board.score]
    cracks = board.score == "wheel" and across > 0 and board.grain != "none"
    out = [
        Figure(
            "grain",
            "Folds across the grain",
            reckon(
                "Folds across the grain",
                across,
                "with the grain along the longer part of the folds; heavy board cracks across it",
                given("folds along the grain", sum(g.along for g in grains)),
            ),
            None,
            "look" if cracks else "",
            words,
        )
    ]
    folds = [
        float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())
        for line, fold in lines
        if fold.kind != ROLLED
    ]
    if folds:
        shortest = min(folds)
        out.append(
            Figure(
                "fold",
                "Shortest fold",
                given("Shortest fold", shortest),
                constant("Easy from", MIN_FOLD, "mm", Mark.MEMORY),
                "holds" if shortest >= MIN_FOLD else "look",
                f"its shortest fold is {number_text(shortest)} mm; under {MIN_FOLD:.0f} mm score "
                "it before you trim the piece",
                least=True,
            )
        )
    asked = min((d for d in map(tightest_roll, pieces) if d is not None), default=None)
    curl = smallest_roll(board)
    if asked is None:
        out.append(Figure("curl", "Smallest curl", curl, None, "", "nothing is rolled here"))
    else:
        out.append(
            Figure(
                "curl",
                "Smallest curl",
                curl,
                given("This shape rolls to", asked),
                "holds" if curl.value <= asked else "fails",
                f"it curls to {number_text(curl.value)} mm across, the shape asks for "
                f"{number_text(asked)} mm",
            )
        )
    return out


def _whole(pieces: Sequence[Piece], design: Design, setting: Setting) -> list[Figure]:
    """Passes and weight."""
    grams = [(p, piece_area(p) * p.board.grammage / 1e6) for p in design.pieces]
    passes = given("Cutting passes", setting.passes, "")
    return [
        Figure("passes", "Cutting passes", passes, None, "", setting.short),
        Figure(
            "weight",
            "Finished weight",
            reckon(
                "Finished weight",
                sum(g for _, g in grams),
                "area times grammage of every piece, contents not counted",
                *(given(p.title, g, "g") for p, g in grams),
                unit="g",
            ),
            None,
            "",
            f"weighs {number_text(sum(g for _, g in grams), 0)} g",
        ),
    ]
