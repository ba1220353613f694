"""The words on the docket, from what is computed."""

from __future__ import annotations

from jadeite.core.findings import Level
from jadeite.core.units import System, counted, format_duration, format_size, number_text
from jadeite.desktop.docket import Entry
from jadeite.desktop.session import Session

__all__ = ["docket_entries", "docket_totals"]


def _state(session: Session, station: str) -> str:
    levels = [f.level for f in session.findings if f.station == station]
    worst = max(levels, default=Level.NOTE)
    return {Level.BLOCKED: "blocked", Level.LOOK: "look", Level.NOTE: "settled"}[worst]


def _contents(session: Session, system: System) -> Entry:
    task, work = session.task, session.work
    count = sum(thing.count for thing in task.contents)
    if work.design is None and not task.contents:
        return Entry("nothing yet: add a thing", "waiting")
    size = format_size(work.inside, system, places=0)
    things = counted(count, "thing") if count else "fixed size"
    return Entry(f"{things} · {size}", _state(session, "contents"))


def _shape(session: Session) -> Entry:
    work = session.work
    if work.design is None:
        return Entry(work.family.short, "waiting" if not session.task.contents else "blocked")
    count = work.design.seams
    gape = len({r.joint.title for r in work.joints if r.joint.kind == "glue" and not r.closed})
    words = counted(count, "glue joint") if not gape else f"{count - gape} of {count} close"
    return Entry(f"{work.family.short} · {words}", _state(session, "shape"))


def _board(session: Session, system: System) -> Entry:
    work = session.work
    part = work.family.parts[0][0]
    board = work.boards[part]
    words = f"{board.grammage:.0f} g/m²"
    if work.sag is not None:
        sag = work.sag.sag.value
        words += f" · floor sags {number_text(sag, 1)} mm"  # too little for a fraction of an inch
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
    assembly = (
        Entry(f"{format_duration(plan.seconds)} · last seam: {plan.last_seam}", "settled")
        if plan is not None
        else Entry("no steps yet", "waiting")
    )
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


def docket_totals(session: Session) -> tuple[tuple[str, str], ...]:
    """Sheets, time and weight of the whole job."""
    work, sheets = session.work, session.sheets
    if work.design is None or work.assembly is None or sheets is None:
        return ()
    copies = session.task.copies
    seconds = work.assembly.seconds * copies + sheets.cutting.seconds
    weight = work.sizes["weight"].value * copies
    return (
        (str(len(sheets.layout.sheets)), "sheet" if len(sheets.layout.sheets) == 1 else "sheets"),
        (format_duration(seconds), "in all"),
        (f"{weight:.0f} g", "board"),
    )
