"""Pieces of a job laid on paper: printed ones on the printer's, all else on the stock."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from jadeite.core.cutting import profile_by_key
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.pipeline.job import JobPiece
from jadeite.core.project import Project, Stock, Task
from jadeite.core.sheets import SEARCH, Layout, lay_out
from jadeite.core.sheets.marks import CLEAR, ink_beyond, paper_stock, printed

__all__ = ["laid_out"]


def laid_out(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None = None,
    *,
    seek: bool = False,
) -> Layout:
    """What is printed lies on the printer's paper, all else on the stock.

    With ``seek`` a better order is sought where fewer sheets might do.
    """
    by_printer = [piece for piece in pieces if printed(piece.piece)]
    others = [piece for piece in pieces if not printed(piece.piece)]
    layouts = [_on_printed(job, by_printer, step, seek)] if by_printer else []
    if others or not layouts:
        layouts.append(_on(job, others, job.stock, step, seek))
    if len(layouts) == 1:
        return layouts[0]
    first, second = layouts
    return Layout(
        (*first.sheets, *second.sheets),
        (*first.unplaced, *second.unplaced),
        first.fewest + second.fewest,
    )


def _on_printed(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None,
    seek: bool,
) -> Layout:
    """Printed pieces, with room for ink past their cuts and for the marks of the sheet."""
    around = max(ink_beyond(piece.piece) for piece in pieces)
    stock = (paper_stock(job.printer.paper),)
    layout = _on(job, pieces, stock, step, seek, around=around, margin=CLEAR)
    area = {piece.piece.name: float(piece_polygon(piece.piece).area) for piece in pieces}
    sheets = tuple(
        replace(
            sheet,
            used=sum(area[place.piece] for place in sheet.placed) / math.prod(sheet.size),
            printed=True,
        )
        for sheet in layout.sheets
    )
    return replace(layout, sheets=sheets)


def _on(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    stock: Sequence[Stock],
    step: Callable[[float, str], None] | None,
    seek: bool,
    *,
    around: float = 0.0,
    margin: float = 0.0,
) -> Layout:
    profile = profile_by_key(job.cutter)
    return lay_out(
        [piece.piece for piece in pieces],
        stock,
        copies={piece.piece.name: piece.count for piece in pieces},
        reach=profile.reach,
        margin=max(margin, profile.margin),
        free_turns=job.free_turns,
        colours={piece.piece.name: piece.colour for piece in pieces},
        grain=job.grain,
        step=step,
        around=around,
        seek=SEARCH if seek else 0.0,
    )
