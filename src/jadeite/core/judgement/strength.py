"""Whether a board is stout enough for what the hand does with it: walls, and handles."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.boards import Board, with_own
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.folding import folded_faces
from jadeite.core.nets import Design, Piece
from jadeite.core.nets.bends import petal_length
from jadeite.core.nets.roles import Role
from jadeite.core.project import Task
from jadeite.core.shapes import ShapeFamily
from jadeite.core.units import number_text

__all__ = ["strength_findings"]

LIMP = 0.12  # mm; from memory, a thinner paper gives way in the hand whatever its size
SLENDER = 800.0  # thicknesses; from memory, twice what stands well: taller, it folds when lifted
NARROW = 2.0  # widths; from memory, folds at both sides hold a wall that is taller than so many
TEARS = 20.0  # N/mm2; from memory, tensile strength of card across its grain
SAFE = 5.0  # from memory: a jerk, and the slits through which a strap passes
GRAVITY = 9.81  # m/s2; published: standard gravity, rounded


def strength_findings(
    task: Task, family: ShapeFamily, design: Design, mass: float
) -> list[Finding]:
    """Walls and petals too limp to stand, and a handle that does not carry what hangs on it (g)."""
    boards = with_own(task.own_boards)
    out = _walls(design, boards)
    if family.carries:
        straps = [p for p in design.pieces if p.part == family.carries]
        if straps:
            out += _handle(family, straps, boards, mass)
    return out


def _lightest(boards: Iterable[Board], thickness: float) -> Board | None:
    fit = [b for b in boards if b.folds and b.thickness >= max(LIMP, thickness)]
    return min(fit, key=lambda b: b.grammage, default=None)


def _walls(design: Design, boards: Sequence[Board]) -> list[Finding]:
    """The piece whose walls, or petals, are tallest for their board, measured as it stands.

    A narrow wall counts no taller than its width allows: the folds beside it keep it straight.
    """
    walls = {
        (piece.name, panel.name)
        for piece in design.pieces
        for panel in piece.panels
        if panel.role is Role.WALL
    }
    stand = []
    for face in folded_faces(design):
        if (face.piece, face.panel) in walls:
            tall = float(np.ptp(face.points[:, 2]))
            outline = design.piece(face.piece).panel(face.panel).outline
            width = float(Polygon(outline).area) / max(tall, 1.0)
            stand.append((min(tall, NARROW * width), tall, face.piece, face.panel))
    petals = {p.name: long for p in design.pieces if (long := petal_length(p)) > 0}
    stand += [
        (long, long, name, design.piece(name).panels[0].name) for name, long in petals.items()
    ]
    worst: tuple[float, float, float, str, str] | None = None
    for free, tall, name, panel in stand:
        board = design.piece(name).board
        over = free / (SLENDER * board.thickness)
        if (board.thickness < LIMP or over > 1) and (worst is None or over > worst[0]):
            worst = (over, free, tall, name, panel)
    if worst is None:
        return []
    _, free, tall, name, panel = worst
    piece = design.piece(name)
    better = _lightest(boards, free / SLENDER)
    why = f"walls {number_text(tall)} mm high fold when it is lifted by its rim"
    if name in petals:
        why = f"petals {number_text(tall)} mm long hang"
    elif piece.board.thickness < LIMP:
        why = "as a wall it gives way in the hand"
    return [
        Finding(
            Level.LOOK,
            "board-limp",
            f"{piece.title[0].upper()}{piece.title[1:]}: {piece.board.title.lower()} is too limp, "
            f"{why}.",
            f"{name}/{panel}",
            "board",
            Cure(f"Use {better.title.lower()}", ((f"boards.{piece.part}", better.key),))
            if better is not None
            else None,
        )
    ]


def _handle(
    family: ShapeFamily, straps: Sequence[Piece], boards: Sequence[Board], mass: float
) -> list[Finding]:
    """Whether the strap holds what hangs on it, where it is narrowest."""
    piece = straps[0]
    width = min((fold.length for fold in piece.folds), default=0.0)
    board, load = piece.board, mass / 1000 * GRAVITY
    holds = width * board.thickness * TEARS / SAFE
    if width <= 0 or (holds >= load and board.thickness >= LIMP):
        return []
    better = _lightest(boards, load * SAFE / TEARS / width)
    cure = None
    if better is not None:
        change = (f"boards.{family.carries}", better.key)
        cure = Cure(f"Handle: use {better.title.lower()}", (change,))
    elif family.carries in family.when:  # no board folds that would hold: lift it by its walls
        key, value = family.when[family.carries]
        option = next(o for o in family.options if o.key == key)
        other = next(((k, words) for k, words in option.choices if k != value), None)
        if other is not None:
            cure = Cure(f"{option.label}: {other[1]}", ((f"shape.options.{key}", other[0]),))
    kilos = number_text(mass / 1000, 1 if mass >= 1000 else 2)
    words = f"carries about {number_text(holds / GRAVITY, 1)} kg; {kilos} kg hang on it"
    if board.thickness < LIMP:
        words = "gives way in the hand"
    return [
        Finding(
            Level.LOOK,
            "handle-tears",
            f"The handle of {board.title.lower()} {words}.",
            piece.name,
            "board",
            cure,
        )
    ]
