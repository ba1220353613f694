"""What is said where sheets are wanting: of a board, or too few of them; with what ends it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.pipeline.job import JobPiece
from jadeite.core.pipeline.laying import laid_out
from jadeite.core.project import Project, Stock, Task
from jadeite.core.sheets import used_of
from jadeite.core.units import counted, listed

__all__ = ["of_no_board", "running_out"]


def _suit(job: Task | Project, piece: JobPiece) -> list[Stock]:
    """Sheets at hand from which a piece may be cut."""
    return [entry for entry in job.stock if entry.suits(piece.piece.board.key, piece.colour)]


def of_no_board(
    job: Task | Project, pieces: Sequence[JobPiece], copies: Mapping[str, int]
) -> tuple[list[Finding], set[str]]:
    """Findings for boards and colours of which there is no sheet, and the pieces that they tell of.

    The first size at hand is offered in that board and colour.
    """
    wanting: dict[tuple[str, str], list[JobPiece]] = {}
    for piece in pieces:
        if piece.piece.name in copies and not _suit(job, piece):
            wanting.setdefault((piece.piece.board.key, piece.colour), []).append(piece)
    found: list[Finding] = []
    for (board, colour), group in wanting.items():
        title = group[0].piece.board.title.lower()
        other = any(entry.board in ("", board) for entry in job.stock)
        what = f"{title} in this colour" if other else title
        count = counted(sum(copies[piece.piece.name] for piece in group), "piece")
        base = next((entry for entry in job.stock if entry.whole), job.stock[0])
        words = f"{base.name.partition(',')[0]}, {title}"[:60]
        more = Stock(name=words, width=base.width, height=base.height, board=board, colour=colour)
        found.append(
            Finding(
                Level.LOOK,
                "no-sheet-of-board",
                f"No sheet at hand is of {what}, for {count}: add one.",
                group[0].own,
                "sheets",
                Cure(f"Add {words}", (("stock", (*job.stock, more)),)),
                group[0].item,
            )
        )
    return found, {piece.piece.name for group in wanting.values() for piece in group}


def running_out(
    job: Task | Project, pieces: Sequence[JobPiece], copies: Mapping[str, int]
) -> tuple[list[Finding], set[str]]:
    """A finding where there are too few sheets, with how many more are needed.

    And the pieces that lie on sheets once there are as many: laid out, so that it is true.
    """
    limited = [entry.whole and entry.count is not None for entry in job.stock]
    if not any(limited) or not copies:
        return [], set()
    plenty = tuple(
        entry.model_copy(update={"count": None}) if few else entry
        for entry, few in zip(job.stock, limited, strict=True)
    )
    layout = laid_out(job.model_copy(update={"stock": plenty}), pieces)
    left = {name for name, _ in layout.unplaced}
    helped = {name for name in copies if name not in left}
    used = used_of(layout, plenty)
    more = [
        max(0, taken - (entry.free or 0)) if few else 0
        for entry, few, taken in zip(job.stock, limited, used, strict=True)
    ]
    if not helped or not any(more):
        return [], set()
    stock = tuple(
        entry.model_copy(update={"count": (entry.count or 0) + extra}) if extra else entry
        for entry, extra in zip(job.stock, more, strict=True)
    )
    needed = listed(
        [
            f"{extra} more of {entry.name}"
            for entry, extra in zip(job.stock, more, strict=True)
            if extra
        ]
    )
    first = next(piece for piece in pieces if piece.piece.name in helped)
    count = counted(sum(copies[name] for name in helped), "piece")
    finding = Finding(
        Level.LOOK,
        "stock-runs-out",
        f"The sheets at hand do not suffice for {count}: {needed} will do.",
        first.own,
        "sheets",
        Cure(f"Have {needed}", (("stock", stock),)),
        first.item,
    )
    return [finding], helped
