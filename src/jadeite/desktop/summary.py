"""The words on the docket, from what is computed."""

from __future__ import annotations

from jadeite.core.assembly import batch_seconds
from jadeite.core.boards import weight_words
from jadeite.core.findings import Level
from jadeite.core.nets.model import Kind
from jadeite.core.pipeline import Work
from jadeite.core.units import (
    System,
    counted,
    format_duration,
    format_length,
    format_size,
    in_system,
    number_text,
)
from jadeite.desktop.docket import Entry
from jadeite.desktop.session import Session
from jadeite.desktop.slip_row import Slip

__all__ = ["docket_entries", "docket_totals", "slips_of"]

TENTH = 0.05  # mm; rounding, a closed size that is no whole number shows its tenth


def _state(session: Session, station: str) -> str:
    levels = [f.level for f in session.findings if f.station == station]
    worst = max(levels, default=Level.NOTE)
    return {Level.BLOCKED: "blocked", Level.LOOK: "look", Level.NOTE: "settled"}[worst]


def _contents(session: Session, system: System) -> Entry:
    task, work = session.task, session.work
    count = sum(thing.count for thing in task.contents)
    if work.design is None and not task.contents:
        return Entry("nothing yet: add a thing", "waiting")
    if work.family.answers[0] == "span":
        keys = ("finished-width", "finished-height")
        wide, high = (work.sizes[k].value if k in work.sizes else 0.0 for k in keys)
        words = (
            f"{format_length(wide, system, places=0)} wide · "
            f"{format_length(high, system, places=0)} high"
        )
        return Entry(words if wide else "no size yet", _state(session, "contents"))
    if work.family.answers[0] == "face":
        width, height, _ = work.inside
        whole = all(abs(v - round(v)) < TENTH for v in (width, height))
        size = " × ".join(
            format_length(v, system, places=0 if whole else 1) for v in (width, height)
        )
        mounted = counted(count, "thing") + " on it · " if count else ""
        if task.names and work.family.names:
            mounted = f"{counted(len(task.names), 'name')} · "
        words = f"{mounted}{size}" if work.design is not None else "no size yet"
        return Entry(words, _state(session, "contents"))
    size = format_size(work.inside, system, places=0)
    things = counted(count, "thing") if count else "fixed size"
    return Entry(f"{things} · {size}", _state(session, "contents"))


def _shape(session: Session) -> Entry:
    work = session.work
    if work.design is None:
        return Entry(work.family.short, "waiting" if not session.task.contents else "blocked")
    count = work.design.seams
    gape = len({r.joint.title for r in work.joints if r.joint.kind is Kind.GLUE and not r.closed})
    words = counted(count, "glue joint") if not gape else f"{count - gape} of {count} close"
    return Entry(f"{work.family.short} · {words}", _state(session, "shape"))


def _board(session: Session, system: System) -> Entry:
    work = session.work
    part = work.family.parts[0][0]
    board = work.boards[part]
    words = weight_words(board, system).partition(" · ")[0]
    if work.sag is not None:
        sag = work.sag.sag.value
        words += f" · floor sags {in_system(f'{number_text(sag, 1)} mm', system)}"
    elif work.design is not None:
        words += f" · {board.title.lower()}"
    return Entry(words, _state(session, "board") if work.design else "waiting")


def _sheets(session: Session) -> tuple[Entry, Entry]:
    sheets = session.sheets
    if sheets is None:
        words = "laying out …" if session.sheets_busy else "nothing to lay out"
        return Entry(words, "waiting"), Entry("no cutting yet", "waiting")
    count = len(sheets.layout.sheets)
    words = f"{counted(count, 'sheet')} · {sheets.layout.used:.0%} used"
    if sheets.layout.unplaced:
        left = len(sheets.layout.unplaced)
        words = f"{left} pieces fit no sheet" if left > 1 else "1 piece fits no sheet"
    changes = sheets.cutting.tool_changes
    cut = f"{format_duration(sheets.cutting.seconds)} · {counted(changes, 'tool change')}"
    return Entry(words, _state(session, "sheets")), Entry(
        cut if count else "no sheet to cut", _state(session, "cutting") if count else "waiting"
    )


def docket_entries(session: Session, system: System) -> dict[str, Entry]:
    """A line for every station."""
    work = session.work
    sheets, cutting = _sheets(session)
    plan = work.assembly
    works = session.job_work.works
    planned = [made for made in works.values() if made.assembly is not None]
    if len(session.project.items) > 1 and planned:
        whole = format_duration(sum(_seconds(session, each) for each in planned))
        assembly = Entry(f"{whole} · {counted(len(planned), 'made thing')}", "settled")
    elif plan is not None:
        for_all = f" for {work.task.count}" if work.task.count > 1 else ""
        taken = format_duration(_seconds(session, work))
        words = f"{taken}{for_all} · last seam: {plan.last_seam}"
        assembly = Entry(words, "settled")
    else:
        assembly = Entry("no steps yet", "waiting")
    trials = session.project.trials
    if trials:
        words = {"right": "right", "too-tight": "too tight", "too-loose": "too loose"}
        count = counted(len(trials), "trial")
        notebook = Entry(
            f"{count} · last: {words[trials[-1].verdict]}",
            "settled" if trials[-1].verdict == "right" else "look",
        )
    else:
        notebook = Entry("nothing tried yet", "waiting")
    return {
        "contents": _contents(session, system),
        "shape": _shape(session),
        "board": _board(session, system),
        "sheets": sheets,
        "cutting": cutting,
        "assembly": assembly,
        "notebook": notebook,
    }


def _seconds(session: Session, work: Work) -> float:
    """Time by hand for all copies of a made thing, in the order of the batch that was chosen."""
    assert work.assembly is not None
    if work.task.count == 1:
        return work.assembly.seconds
    return batch_seconds(work.assembly, work.task.count)[session.project.batch_order]


def slips_of(session: Session) -> list[Slip]:
    """What each slip says: its name, how many, how it stands, what it holds."""
    made = session.job_work.works
    out = []
    for item in session.project.items:
        work = session.work if item.name == session.chosen else made.get(item.name)
        levels = [f.level for f in work.findings] if work is not None else []
        state = {Level.BLOCKED: "blocked", Level.LOOK: "look", Level.NOTE: "settled"}[
            max(levels, default=Level.NOTE)
        ]
        if work is None or (work.design is None and state != "blocked"):
            state = "waiting"
        out.append(Slip(item.name, item.count, state, item.carried))
    return out


def docket_totals(session: Session) -> tuple[tuple[str, str], ...]:
    """Sheets, time and weight of the whole job."""
    works, sheets = session.job_work.works.values(), session.sheets
    if sheets is None or not works:
        return ()
    seconds, weight = sheets.cutting.seconds, 0.0
    for work in works:
        if work.design is None or work.assembly is None:
            return ()
        seconds += _seconds(session, work)
        weight += work.sizes["weight"].value * work.task.count
    return (
        (str(len(sheets.layout.sheets)), "sheet" if len(sheets.layout.sheets) == 1 else "sheets"),
        (format_duration(seconds), "in all"),
        (f"{weight:.0f} g", "board"),
    )
