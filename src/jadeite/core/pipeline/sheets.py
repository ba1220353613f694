"""The pieces on the sheets at hand, and the plan of cutting them."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence, Set
from dataclasses import dataclass, field, replace

import numpy as np

from jadeite.core.cutting import CuttingPlan, cutting_plan, profile_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets import Design, Piece
from jadeite.core.nets.halves import HALVES
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.nets.split import Split, best_split, extent_of, split_along
from jadeite.core.pipeline.cures import cured
from jadeite.core.pipeline.job import JobPiece, JobWork, pieces_of
from jadeite.core.pipeline.room import arrange_contents
from jadeite.core.pipeline.work import work_up
from jadeite.core.project import Printer, Project, Stock, Task
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from jadeite.core.sheets import Layout, lay_out, usable_area
from jadeite.core.sheets.marks import CLEAR, PAPERS, ink_beyond, paper_stock, printed
from jadeite.core.units import format_length

__all__ = ["SheetWork", "plan_job_sheets", "plan_sheets"]


MOST_CUTS = 5  # of one piece; from memory, more parts are a puzzle


@dataclass(frozen=True, eq=False)
class SheetWork:
    """The layout, the cutting plan, and what they have to say.

    ``pieces`` are all that are cut, by the name that they have on the sheets.
    """

    layout: Layout
    cutting: CuttingPlan
    findings: tuple[Finding, ...]
    pieces: Mapping[str, JobPiece] = field(default_factory=dict)
    printer: Printer = field(default_factory=Printer)

    @property
    def colours(self) -> dict[str, str]:
        """Colour of each piece that has one."""
        return {name: piece.colour for name, piece in self.pieces.items() if piece.colour}


Known = dict[str, bool]  # by part


def plan_sheets(
    task: Task, design: Design, step: Callable[[float, str], None] | None = None
) -> SheetWork:
    """Lay the pieces of one item out on the stock and plan the cutting."""
    pieces = pieces_of(task, design)
    known: Known = {}
    return _planned(task, pieces, step, lambda piece: _cure(task, design, piece.piece, known))


def plan_job_sheets(job: JobWork, step: Callable[[float, str], None] | None = None) -> SheetWork:
    """Lay the pieces of every item out together and plan the cutting."""

    known: dict[str, Known] = {}

    def cure(piece: JobPiece) -> Cure | None:
        name = piece.item or job.project.names[0]
        work = job.works[name]
        assert work.design is not None
        own = work.design.piece(piece.own)
        return _cure(work.task, work.design, own, known.setdefault(name, {}))

    return _planned(job.project, job.pieces, step, cure)


def _planned(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None,
    cure_of: Callable[[JobPiece], Cure | None],
) -> SheetWork:
    layout = _laid_out(job, pieces, step)
    by_name = {piece.piece.name: piece for piece in pieces}
    found = []
    short = any(stock.count is not None for stock in job.stock)
    for name, copies in Counter(name for name, _ in layout.unplaced).items():
        piece = by_name[name].piece
        points = np.concatenate([panel.outline for panel in piece.panels])
        width, height = np.ptp(points, axis=0)
        size = f"{format_length(width)} × {format_length(height)}"
        if printed(piece):
            found.append(
                _off_paper(job, by_name[name], copies, (float(width), float(height)), size)
            )
            continue
        why = (
            "The stock does not suffice for"
            if short
            else "No sheet at hand that the cutter reaches holds"
        )
        cure = None if short else cure_of(by_name[name])
        words = f", or {cure.label[:1].lower()}{cure.label[1:]}" if cure else ""
        found.append(
            Finding(
                Level.LOOK,
                "piece-fits-no-sheet",
                f"{why} {copies} × {piece.title} ({size}): add a larger sheet or another cutter"
                f"{words}.",
                by_name[name].own,
                "sheets",
                cure,
                by_name[name].item,
            )
        )
    profile = profile_by_key(job.cutter)
    plan = cutting_plan([piece.piece for piece in pieces], layout, profile, job.heavier)
    return SheetWork(layout, plan, tuple(found), by_name, job.printer)


def _off_paper(
    job: Task | Project, cut: JobPiece, copies: int, flat: tuple[float, float], size: str
) -> Finding:
    """A printed piece that no paper in the printer holds; with larger paper where that does."""
    profile = profile_by_key(job.cutter)
    around = 2 * ink_beyond(cut.piece)

    def holds(paper: str) -> bool:
        *_, wide, high = usable_area(PAPERS[paper], profile.reach, CLEAR)
        lying = sorted((wide, high))
        return all(a + around <= b for a, b in zip(sorted(flat), lying, strict=True))

    larger = next((paper for paper in PAPERS if holds(paper)), None)
    name = f"{paper_stock(job.printer.paper).name.split(',')[0]}"
    words = (
        f"{copies} × {cut.piece.title} ({size}) does not lie on {name} within its marks: make it "
        "smaller, or print on larger paper."
    )
    cure = None
    if larger is not None:
        title = paper_stock(larger).name.split(",")[0]
        cure = Cure(f"Print on {title}", (("printer.paper", larger),))
    return Finding(Level.LOOK, "print-fits-no-paper", words, cut.own, "sheets", cure, cut.item)


def _laid_out(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None = None,
) -> Layout:
    """What is printed lies on the printer's paper, all else on the stock."""
    by_printer = [piece for piece in pieces if printed(piece.piece)]
    others = [piece for piece in pieces if not printed(piece.piece)]
    layouts = [_on_printed(job, by_printer, step)] if by_printer else []
    if others or not layouts:
        layouts.append(_on(job, others, job.stock, step))
    if len(layouts) == 1:
        return layouts[0]
    first, second = layouts
    return Layout((*first.sheets, *second.sheets), (*first.unplaced, *second.unplaced))


def _on_printed(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None,
) -> Layout:
    """Printed pieces, with room for ink past their cuts and for the marks of the sheet."""
    around = max(ink_beyond(piece.piece) for piece in pieces)
    stock = (paper_stock(job.printer.paper),)
    layout = _on(job, pieces, stock, step, around=around, margin=CLEAR)
    area = {piece.piece.name: float(piece_polygon(piece.piece).area) for piece in pieces}
    sheets = tuple(
        replace(
            sheet,
            used=sum(area[place.piece] for place in sheet.placed) / math.prod(sheet.size),
            printed=True,
        )
        for sheet in layout.sheets
    )
    return Layout(sheets, layout.unplaced)


def _on(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    stock: Sequence[Stock],
    step: Callable[[float, str], None] | None,
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
    )


def _cure(task: Task, design: Design, piece: Piece, known: Known) -> Cure | None:
    """What lets all of a piece lie on a sheet; tried, so that it does.

    ``known`` are the parts whose own cure has been tried, with what came of it.
    """
    family = family_by_key(task.shape.key)
    other = family.smaller.get(piece.part)
    if other is not None:
        if piece.part not in known:
            known[piece.part] = _all_lie(task, Cure(*other), piece.part)
        if known[piece.part]:
            return Cure(*other)
    return _cuts(task, design, piece.name)


def _all_lie(task: Task, cure: Cure, part: str) -> bool:
    """Whether every piece of a part lies on a sheet once a cure is taken."""
    try:
        task = cured(task, cure)
        work = work_up(task, arrange_contents(task, quick=True), cures=False)
    except FieldError:
        return False
    if work.design is None or work.blocked:
        return False
    own = {piece.name for piece in work.design.pieces if piece.part == part}
    return not _too_large(task, work.design, own)


def _too_large(task: Task, design: Design, names: Set[str]) -> set[str]:
    """Which of some pieces lie on no sheet, even alone; alike ones are tried once."""
    pieces = [piece for piece in pieces_of(task, design) if piece.own in names]
    once = {id(piece.piece.panels): replace(piece, count=1) for piece in pieces}
    left = {name for name, _ in _laid_out(task, tuple(once.values())).unplaced}
    kinds = {kind for kind, piece in once.items() if piece.piece.name in left}
    return {piece.own for piece in pieces if id(piece.piece.panels) in kinds}


def _cuts(task: Task, design: Design, name: str) -> Cure | None:
    """The cut, or the few cuts, after which every part of a piece lies on a sheet."""
    profile, margin = profile_by_key(task.cutter), 2 * profile_by_key(task.cutter).margin
    rooms = [
        (min(w, profile.reach[0]) - margin, min(h, profile.reach[1]) - margin)
        for stock in task.stock
        for w, h in ((stock.width, stock.height), (stock.height, stock.width))
    ]
    made, parts = design, {name}
    splits: list[Split] = []
    while len(splits) < MOST_CUTS:
        unplaced = _too_large(task, made, parts)
        if not unplaced:
            break
        worst = max(unplaced, key=lambda n: extent_of(made.piece(n).panels))
        if worst in task.splits or any(split.piece == worst for split in splits):
            return None  # a task keeps one cut for each piece
        split = best_split(made, made.piece(worst), rooms, _closes)
        if split is None:
            return None
        before = {p.name for p in made.pieces}
        made = split_along(made, worst, split.child)
        parts |= {p.name for p in made.pieces} - before
        splits.append(split)
    else:
        return None
    changes = tuple((f"splits.{split.piece}", split.child) for split in splits)
    if len(splits) > 1:
        return Cure(f"Cut it into {len(splits) + 1} parts", changes)
    half = splits[0].child == HALVES
    return Cure(f"Cut it {'' if half else 'in two '}{splits[0].title}", changes)


def _closes(design: Design) -> bool:
    try:
        return not any(f.level is Level.BLOCKED for f in prove(design)[1])
    except ValueError:  # a cut beside a fold leaves panels that do not meet
        return False
