"""What needs a look about the boards: whether the floor holds, whether they fold and roll."""

from __future__ import annotations

from jadeite.core.boards import DEFAULT_BOARD, Sag, smallest_roll, with_own
from jadeite.core.choice import lightest_for_floor, stiffener_for
from jadeite.core.contents import Arrangement
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.judgement.contents import mass_of_contents
from jadeite.core.nets import Design, Piece
from jadeite.core.nets.bends import tightest_roll
from jadeite.core.project import Task
from jadeite.core.shapes import ShapeFamily
from jadeite.core.units import number_text

__all__ = ["board_findings"]

ROUNDING = 1e-9  # of a length; rounding
Size = tuple[float, float, float]


def board_findings(
    task: Task,
    arrangement: Arrangement | None,
    family: ShapeFamily,
    design: Design,
    sag: Sag | None,
    inside: Size,
    *,
    cures: bool = True,
) -> list[Finding]:
    """Whether the floor holds, and what would, with ``cures``; folds that no board makes."""
    out: list[Finding] = []
    part = family.parts[0][0]
    if sag is not None and not sag.holds:
        cure = _floor_cure(task, arrangement, inside, part, design) if cures else None
        tail = (
            ""
            if cure or not cures
            else " No board here holds it: divide the load among more floors."
        )
        mass = mass_of_contents(task)
        out.append(
            Finding(
                Level.LOOK,
                "floor-sags",
                f"The floor sags {number_text(sag.sag.value)} mm under {number_text(mass, 0)} g; "
                f"beyond {number_text(sag.limit.value)} mm the eye sees it.{tail}",
                f"{part}/{design.body.panels[0].name}",
                "board",
                cure,
            )
        )
    for piece in design.pieces:
        if piece.folds and not piece.board.folds:
            out.append(
                Finding(
                    Level.LOOK,
                    "board-does-not-fold",
                    f"{piece.title[0].upper()}{piece.title[1:]}: {piece.board.title.lower()} does "
                    "not fold. Cut each fold through and hinge it with a paper strip, or fold it "
                    "from card and glue this board on.",
                    piece.name,
                    "board",
                    Cure("Use medium card", ((f"boards.{piece.part}", DEFAULT_BOARD),)),
                )
            )
            break
    out += _roll_findings(task, design)
    return out


def _floor_cure(
    task: Task, arrangement: Arrangement | None, inside: Size, part: str, design: Design
) -> Cure | None:
    """The lightest board that holds the floor, else what stiffens it; None where nothing does."""
    better = lightest_for_floor(task, arrangement, inside, design)
    if better is None:
        return stiffener_for(task, arrangement, inside)
    return Cure(f"Use {better.title.lower()}", ((f"boards.{part}", better.key),))


def _roll_findings(task: Task, design: Design) -> list[Finding]:
    """A piece that is rolled tighter than its board allows; the worst one, with a thinner board."""
    worst: tuple[float, float, Piece] | None = None
    for piece in design.pieces:
        asked = tightest_roll(piece)
        if asked is None:
            continue
        over = smallest_roll(piece.board).value / asked
        if over > 1 + ROUNDING and (worst is None or over > worst[0]):
            worst = (over, asked, piece)
    if worst is None:
        return []
    over, asked, piece = worst
    rolls = [
        board
        for board in with_own(task.own_boards)
        if board.folds and smallest_roll(board).value <= asked
    ]
    cure = None
    if rolls:
        board = max(rolls, key=lambda b: b.thickness)
        cure = Cure(f"Use {board.title.lower()}", ((f"boards.{piece.part}", board.key),))
    title = piece.title[0].upper() + piece.title[1:]
    return [
        Finding(
            Level.LOOK,
            "rolled-tight",
            f"{title}: it bends to {number_text(asked)} mm across; "
            f"{piece.board.title.lower()} kinks under {number_text(over * asked)} mm.",
            piece.name,
            "board",
            cure,
        )
    ]
