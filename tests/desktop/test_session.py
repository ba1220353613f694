"""The open document: history, stale results, journal, trouble."""

from __future__ import annotations

from pathlib import Path

import pytest

from jadeite.core.contents import OBJECTIVES, Block, Cylinder
from jadeite.core.errors import FileError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.formats.journal import left_over
from jadeite.core.pipeline import plan_sheets
from jadeite.core.project import Hollow, Project, edited
from jadeite.desktop import history
from jadeite.desktop.session import Session
from jadeite.desktop.summary import docket_entries, docket_totals

BLOCK = Block(name="block", length=60, width=40, height=25, mass=50, turn="upright")


@pytest.fixture
def session(qtbot, tmp_path: Path):  # type: ignore[no-untyped-def]
    """An open document."""
    made = Session(tmp_path / "journal")
    yield made
    made.discard()


def settle(qtbot, session: Session) -> None:  # type: ignore[no-untyped-def]
    """Wait until nothing is being computed."""
    qtbot.waitUntil(session.settled, timeout=60_000)


def test_history_forgets_the_future_on_a_change(session) -> None:  # type: ignore[no-untyped-def]
    """Undo, then another change: redo has nowhere to go."""
    session.edit(title="one")
    session.edit(title="two")
    session.undo()
    assert session.history.can_redo
    session.edit(title="three")
    assert not session.history.can_redo
    session.undo()
    assert session.project.title == "one"
    session.undo()
    session.undo()
    assert session.project == Project()


def test_the_same_document_is_no_change(session) -> None:  # type: ignore[no-untyped-def]
    """Nothing to undo, nothing unsaved."""
    session.edit(copies=1)
    assert not session.history.can_undo
    assert not session.dirty


def test_history_is_bounded(session, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """The oldest documents go first."""
    monkeypatch.setattr(history, "MOST", 5)
    for n in range(12):
        session.edit(notes=str(n))
    for _ in range(20):
        session.undo()
    assert session.project.notes == "7"


def test_a_refused_change_is_said(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The document stays as it was."""
    for act in (
        lambda: session.edit(copies=0),
        lambda: session.set_field("copies", "many"),
        lambda: session.cure(Finding(Level.LOOK, "x", "x", cure=Cure("c", (("copies", -1),)))),
    ):
        with qtbot.waitSignal(session.trouble) as got:
            act()
        assert "copies" in got.args[0]
        assert session.project == Project()
    session.cure(Finding(Level.LOOK, "x", "x"))


def test_a_better_arrangement_arrives_later(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """At once a good one, then the exact ones for every objective."""
    session.edit(contents=(BLOCK, Cylinder(name="round", count=2, diameter=30, height=40)))
    first = session.arrangement()
    assert first is not None
    assert not first.exact
    settle(qtbot, session)
    assert session.arrangement().exact
    assert session.arrangement().board_area <= first.board_area + 1e-9
    assert set(session.arrangements) == set(OBJECTIVES)
    assert session.sheets is not None


def test_a_result_for_an_older_document_is_dropped(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Also when it arrives late."""
    session.edit(contents=(BLOCK,))
    settle(qtbot, session)
    kept = session.arrangements
    session.bench._on_arranged({"least-board": "stale"}, (session.chosen, "another key"))
    assert session.arrangements is kept
    sheets = session.sheets
    session._on_sheets("stale", (edited(session.project, "box", copies=7), (session.work.inside,)))
    assert session.sheets is sheets


def test_the_layout_follows_a_better_arrangement(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """What is laid out is the design that is shown, not the quick one before it."""
    things = (
        BLOCK,
        Cylinder(name="round", count=2, diameter=31, height=52),
        Block(name="case", length=48, width=34, height=14),
    )
    for objective in ("least-board", "lowest"):
        session.edit(contents=things, objective=objective)
        qtbot.waitUntil(
            lambda: session.sheets is not None and not session.sheets_busy, timeout=30_000
        )
        settle(qtbot, session)
        fresh = plan_sheets(session.task, session.work.design)
        assert session.sheets.layout == fresh.layout


def test_changing_an_option_keeps_the_arrangement_until_the_next(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """No flicker between two good answers."""
    session.edit(contents=(BLOCK,))
    settle(qtbot, session)
    before = session.arrangement()
    session.set_field("shape.options.lid-depth", 12.0)
    assert session.arrangement() is before
    settle(qtbot, session)
    assert session.arrangement() is not None
    session.edit(contents=())
    assert session.arrangement() is None
    assert session.work.design is None


def test_an_unknown_key_is_a_finding_and_undo_ends_it(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The window never falls over a document."""
    session.edit(contents=(BLOCK,))
    session.edit(boards={"tray": "plywood"})
    assert session.work.design is None
    assert "plywood" in session.findings[0].message
    assert session.work.blocked
    session.undo()
    assert session.work.design is not None


def test_journal_follows_and_ends(session, qtbot, tmp_path, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Every change is in it; a save or a clean close removes it."""
    session.edit(title="journalled")
    assert session._journal.path.exists()
    assert left_over(tmp_path / "journal") == []  # this process lives
    session.save(tmp_path / "a.jadeite")
    assert not session._journal.path.exists()
    assert not session.dirty
    session.edit(title="again")
    session.load(tmp_path / "a.jadeite")
    assert session.project.title == "journalled"
    assert not session._journal.path.exists()


def test_a_journal_that_cannot_be_written_is_said(session, qtbot, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """A full disk: the change is made all the same."""

    def refuse(*_: object) -> None:
        raise FileError("journal", "the disk is full")

    monkeypatch.setattr(session._journal, "record", refuse)
    with qtbot.waitSignal(session.trouble) as got:
        session.edit(title="kept")
    assert "Autosave does not work" in got.args[0]
    assert session.project.title == "kept"


def test_cancelling_keeps_what_was_found(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The quick arrangement stays."""
    things = tuple(
        Block(name=n, length=60 - 3 * i, width=41 - 2 * i, height=23 + i)
        for i, n in enumerate("abcdef")
    )
    session.edit(contents=things)
    quick = session.arrangement()
    qtbot.waitUntil(lambda: session.bench.arrange_job.busy, timeout=5000)
    session.bench.arrange_job.cancel()
    assert session.arrangement() is quick
    settle(qtbot, session)
    assert session.work.design is not None


def test_the_docket_in_words(session, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Each station's line and state; totals once everything is known."""
    entries = docket_entries(session, "mm")
    assert {e.state for e in entries.values()} == {"waiting"}
    assert docket_totals(session) == ()
    session.edit(contents=(BLOCK,), copies=3)
    settle(qtbot, session)
    entries = docket_entries(session, "mm")
    assert entries["contents"].words == "1 thing · 63 × 43 × 26 mm"
    assert entries["notebook"].state == "waiting"
    assert " for 3 · last seam" in entries["assembly"].words
    totals = docket_totals(session)
    session.edit(batch_order="piece")  # each waits for its own glue
    settle(qtbot, session)
    assert docket_entries(session, "mm")["assembly"].words != entries["assembly"].words
    assert docket_totals(session)[1] != totals[1]
    assert [words for _, words in totals][1:] == ["in all", "board"]
    session.edit(brief=Hollow(size=(40.0, 40.0, 30.0)))
    settle(qtbot, session)
    assert docket_entries(session, "mm")["contents"].state == "blocked"
