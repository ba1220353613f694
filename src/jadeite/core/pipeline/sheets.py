"""The pieces on the sheets at hand, and the plan of cutting them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from jadeite.core.cutting import CuttingPlan, cutting_plan, profile_of
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets import Design
from jadeite.core.pipeline.job import JobPiece, JobWork, pieces_of
from jadeite.core.pipeline.laying import Lot, laid_out, lots_of, marked
from jadeite.core.pipeline.sheet_cures import Known, sheet_cure
from jadeite.core.pipeline.stock_findings import of_no_board, running_out
from jadeite.core.pipeline.tool_findings import without_tool
from jadeite.core.project import Printer, Project, Task
from jadeite.core.sheets import Layout, Rules, usable_area
from jadeite.core.sheets.marks import CLEAR, PAPERS, ink_beyond, paper_stock, printed
from jadeite.core.sheets.tighten import tighten
from jadeite.core.units import format_length, numbered

__all__ = ["SheetWork", "plan_job_sheets", "plan_sheets", "tightened"]


@dataclass(frozen=True, eq=False)
class SheetWork:
    """The layout, the cutting plan, and what they have to say.

    ``pieces`` are all that are cut, by the name that they have on the sheets; ``lots`` say
    how they may lie, and ``of`` tells them and their stock from any others.
    """

    layout: Layout
    cutting: CuttingPlan
    findings: tuple[Finding, ...]
    pieces: Mapping[str, JobPiece] = field(default_factory=dict)
    printer: Printer = field(default_factory=Printer)
    lots: tuple[Lot, ...] = ()
    of: str = ""

    def rules_of(self, piece: str) -> Rules:
        """How a piece may lie."""
        return next(lot.rules for lot in self.lots if piece in lot.rules.shapes)

    @property
    def colours(self) -> dict[str, str]:
        """Colour of each piece that has one."""
        return {name: piece.colour for name, piece in self.pieces.items() if piece.colour}


def plan_sheets(
    task: Task, design: Design, step: Callable[[float, str], None] | None = None
) -> SheetWork:
    """Lay the pieces of one item out on the stock and plan the cutting."""
    pieces = pieces_of(task, design)
    known = Known()
    return _planned(task, pieces, step, lambda piece: sheet_cure(task, design, piece.piece, known))


def plan_job_sheets(
    job: JobWork, step: Callable[[float, str], None] | None = None, *, seek: bool = False
) -> SheetWork:
    """Lay the pieces of every item out together and plan the cutting.

    With ``seek`` a better order is sought where fewer sheets might do, for some 2 s.
    """

    known: dict[str, Known] = {}

    def cure(piece: JobPiece) -> Cure | None:
        name = piece.item or job.project.names[0]
        work = job.works[name]
        assert work.design is not None
        own = work.design.piece(piece.own)
        return sheet_cure(work.task, work.design, own, known.setdefault(name, Known()))

    return _planned(job.project, job.pieces, step, cure, seek=seek)


def _planned(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    step: Callable[[float, str], None] | None,
    cure_of: Callable[[JobPiece], Cure | None],
    *,
    seek: bool = False,
) -> SheetWork:
    return _told(job, pieces, laid_out(job, pieces, step, seek=seek), cure_of)


def tightened(
    project: Project,
    sheets: SheetWork,
    seconds: float,
    step: Callable[[float], None] | None = None,
    better: Callable[[SheetWork], None] | None = None,
    seed: int = 0,
) -> SheetWork:
    """The sheets of a job packed tighter, as far as that is found in so many seconds."""

    def planned(layout: Layout) -> SheetWork:
        profile = profile_of(project)
        cut = [piece.piece for piece in sheets.pieces.values()]
        plan = cutting_plan(cut, layout, profile, project.heavier, project.learned)
        return replace(sheets, layout=layout, cutting=plan)

    def tell(layout: Layout) -> None:
        if better is not None:
            better(planned(layout))

    found = tighten(
        sheets.layout, sheets.rules_of, seconds=seconds, seed=seed, step=step, better=tell
    )
    return planned(found)


def _told(
    job: Task | Project,
    pieces: Sequence[JobPiece],
    layout: Layout,
    cure_of: Callable[[JobPiece], Cure | None],
) -> SheetWork:
    """A layout with its plan of cutting, and what is to be said of it."""
    by_name = {piece.piece.name: piece for piece in pieces}
    copies = Counter(name for name, _ in layout.unplaced)
    found = [
        _off_paper(job, by_name[name], count)
        for name, count in copies.items()
        if printed(by_name[name].piece)
    ]
    unprinted = [piece for piece in pieces if not printed(piece.piece)]
    for wanting in (of_no_board, running_out):
        told, names = wanting(job, unprinted, copies)
        found += told
        copies = Counter({name: count for name, count in copies.items() if name not in names})
    others: dict[tuple[object, ...], list[tuple[JobPiece, Cure | None]]] = {}
    for name in copies:
        piece = by_name[name]
        if not printed(piece.piece):
            cure = cure_of(piece)
            alike = (piece.item, id(piece.piece.panels), cure.label if cure else "")
            others.setdefault(alike, []).append((piece, cure))
    for group in others.values():
        count = sum(copies[piece.piece.name] for piece, _ in group)
        found.append(_off_sheets(job, group, count))
    profile = profile_of(job)
    found += without_tool(pieces, profile)
    plan = cutting_plan(
        [piece.piece for piece in pieces], layout, profile, job.heavier, job.learned
    )
    lots, of = lots_of(job, pieces), marked(job, pieces)
    return SheetWork(layout, plan, tuple(found), by_name, job.printer, lots, of)


def _flat(piece: JobPiece) -> tuple[tuple[float, float], str]:
    """Width and height of a piece as it lies (mm), and in words."""
    points = np.concatenate([panel.outline for panel in piece.piece.panels])
    width, height = np.ptp(points, axis=0).tolist()
    return (width, height), f"{format_length(width)} × {format_length(height)}"


def _too_large(job: Task | Project, piece: JobPiece) -> str:
    """By how much a piece is larger than the best sheet at hand for it; empty where it is not."""
    profile = profile_of(job)
    flat = sorted(_flat(piece)[0])
    over = []
    for entry in job.stock:
        if entry.suits(piece.piece.board.key, piece.colour):
            *_, wide, high = usable_area((entry.width, entry.height), profile.reach, profile.margin)
            gaps = [a - b for a, b in zip(flat, sorted((wide, high)), strict=True)]
            over.append(max(gaps))
    return f", {format_length(min(over))} too large" if over and min(over) > 0 else ""


def _off_sheets(
    job: Task | Project, group: Sequence[tuple[JobPiece, Cure | None]], count: int
) -> Finding:
    """Like pieces that no sheet holds, with what lets all of them lie on one."""
    cut, cure = group[0]
    why = "No sheet at hand that the cutter reaches holds"
    title = numbered([piece.piece.title for piece, _ in group])
    if cure is not None:
        changes = [change for _, own in group if own is not None for change in own.changes]
        cure = Cure(cure.label, tuple(dict.fromkeys(changes)))
    words = f", or {cure.label[:1].lower()}{cure.label[1:]}" if cure else ""
    return Finding(
        Level.LOOK,
        "piece-fits-no-sheet",
        f"{why} {count} × {title} ({_flat(cut)[1]}{_too_large(job, cut)}): add a larger sheet or "
        f"another cutter{words}.",
        cut.own,
        "sheets",
        cure,
        cut.item,
    )


def _off_paper(job: Task | Project, cut: JobPiece, copies: int) -> Finding:
    """A printed piece that no paper in the printer holds; with larger paper where that does."""
    flat, size = _flat(cut)
    profile = profile_of(job)
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
