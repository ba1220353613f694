"""Pieces of a job laid on paper: printed ones on the printer's, all else on the stock."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from jadeite.core.cutting import profile_of
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.pipeline.job import JobPiece
from jadeite.core.project import Laid, Project, Stock, Task
from jadeite.core.sheets import SEARCH, Layout, Rules, SheetPlan, laid_from, lay_by
from jadeite.core.sheets.marks import CLEAR, ink_beyond, paper_stock, printed

__all__ = ["Lot", "laid_out", "lots_of", "marked"]


@dataclass(frozen=True, eq=False)
class Lot:
    """Pieces that lie on sheets of one stock: what the printer prints on, or all else."""

    pieces: Sequence[JobPiece]
    stock: Sequence[Stock]
    rules: Rules

    @property
    def often(self) -> dict[str, int]:
        """How many of each piece are cut."""
        return {piece.piece.name: piece.count for piece in self.pieces}


def lots_of(job: Task | Project, pieces: Sequence[JobPiece]) -> tuple[Lot, ...]:
    """What is printed, on the printer's paper, with room for ink past its cuts; then all else."""
    by_printer = [piece for piece in pieces if printed(piece.piece)]
    others = [piece for piece in pieces if not printed(piece.piece)]
    lots = []
    if by_printer:
        around = max(ink_beyond(piece.piece) for piece in by_printer)
        paper = (paper_stock(job.printer.paper),)
        lots.append(Lot(by_printer, paper, _rules(job, by_printer, around, CLEAR)))
    if others or not lots:
        lots.append(Lot(others, job.stock, _rules(job, others, 0.0, 0.0)))
    return tuple(lots)


def _rules(job: Task | Project, pieces: Sequence[JobPiece], around: float, margin: float) -> Rules:
    profile = profile_of(job)
    return Rules(
        [piece.piece for piece in pieces],
        profile.reach,
        max(margin, profile.margin),
        job.free_turns,
        {piece.piece.name: piece.colour for piece in pieces},
        job.grain,
        around,
        job.together,
    )


def marked(job: Task | Project, pieces: Sequence[JobPiece]) -> str:
    """What tells the pieces and the stock of a layout from any others: 16 hexadecimal digits."""
    stock = [
        (s.name, s.width, s.height, s.free, s.grain, s.board, s.colour, s.outline)
        for s in job.stock
    ]
    cut = [
        (p.piece.name, p.piece.board.key, p.colour, p.count, round(piece_polygon(p.piece).area))
        for p in pieces
    ]
    how = (profile_of(job).reach, job.together, job.grain, job.free_turns, job.printer.paper)
    return hashlib.sha256(repr((stock, cut, how)).encode()).hexdigest()[:16]


def laid_out(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None = None,
    *,
    seek: bool = False,
) -> Layout:
    """What is printed lies on the printer's paper, all else on the stock.

    What the project keeps of an earlier layout stays as it lies.  With ``seek`` a better
    order is sought where fewer sheets might do.
    """
    laid = job.laid if isinstance(job, Project) else Laid()
    of = marked(job, pieces) if laid.sheets else ""
    layouts = []
    for lot in lots_of(job, pieces):
        fixed = laid_from(laid, of, lot.rules, lot.stock, lot.often)
        layout = lay_by(
            lot.rules,
            lot.stock,
            lot.often,
            step=step,
            seek=SEARCH if seek else 0.0,
            fixed=fixed,
        )
        if lot.pieces and printed(lot.pieces[0].piece):
            layout = replace(layout, sheets=tuple(map(_as_printed(lot), layout.sheets)))
        layouts.append(layout)
    return Layout(
        tuple(sheet for layout in layouts for sheet in layout.sheets),
        tuple(asked for layout in layouts for asked in layout.unplaced),
        sum(layout.fewest for layout in layouts),
        all(layout.kept for layout in layouts),
    )


def _as_printed(lot: Lot) -> Callable[[SheetPlan], SheetPlan]:
    """Sheets that are printed; what is used of them is what is cut, not the ink around it."""
    area = {piece.piece.name: float(piece_polygon(piece.piece).area) for piece in lot.pieces}

    def out(sheet: SheetPlan) -> SheetPlan:
        used = sum(area[place.piece] for place in sheet.placed) / math.prod(sheet.size)
        return replace(sheet, used=used, printed=True)

    return out
