"""The open document: its history, what is computed from it, and its safety.

Widgets read ``work`` and ``sheets`` and ask for changes; they never keep a
document of their own.
"""

from __future__ import annotations

import logging
import os
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Protocol

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jadeite.core.contents import Arrangement
from jadeite.core.errors import FieldError, FileError
from jadeite.core.findings import Finding
from jadeite.core.formats import load_project, save_project
from jadeite.core.formats.journal import Journal
from jadeite.core.pipeline import JobWork, SheetWork, Work, boards_of, circle_findings
from jadeite.core.project import (
    Item,
    Project,
    Task,
    edited,
    task_of,
    with_item_change,
    with_task,
)
from jadeite.core.shapes import family_by_key, resolve_options
from jadeite.desktop.history import History
from jadeite.desktop.jobs import Job
from jadeite.desktop.library import Library
from jadeite.desktop.workbench import SETTLE, Workbench

__all__ = ["Session"]

PATIENCE = 10  # ms; from memory, that the window waits for an answer before it goes on

log = logging.getLogger(__name__)
SheetsKey = tuple[Project, tuple[tuple[float, float, float], ...]]


def _check_options(project: Project) -> None:
    """Whether the shapes exist and have the options that are chosen.

    Raises
    ------
    FieldError
        One does not.
    """
    for item in project.items:
        resolve_options(family_by_key(item.shape.key), item.shape.options)


class Closing(Protocol):
    """What ends with the session."""

    def close(self) -> None:
        """Nothing is begun after that."""


class Session(QObject):
    """One open project, and the item of it that the stations speak of."""

    changed = pyqtSignal()  # the document or what is computed from it
    sheets_changed = pyqtSignal()
    arranging = pyqtSignal(bool)
    saved_changed = pyqtSignal()
    trouble = pyqtSignal(str)
    said = pyqtSignal(str)  # what was done, where nothing else shows it

    def __init__(
        self, journal_folder: Path, parent: QObject | None = None, library: Library | None = None
    ) -> None:
        super().__init__(parent)
        self.library = library or Library(journal_folder / "boards", self)
        self.library.trouble.connect(self.trouble)
        self.extra_jobs: list[Closing] = []  # of the stations; ended with the session
        self.path: Path | None = None
        self.history = History(Project())
        self.chosen = self.project.names[0]
        self._saved: Project | None = self.project
        self.sheets: SheetWork | None = None
        self._sheets_for: SheetsKey | None = None
        self._drafted: SheetsKey | None = None  # of which a first layout is there
        self.sheets_busy = False
        self.journal_folder = journal_folder
        self._journal = self._new_journal()
        self.bench = Workbench(self.project, self)
        self.bench.changed.connect(self._on_work)
        self.bench.arranging.connect(self.arranging)
        self.bench.trouble.connect(self.trouble)
        self.sheets_job = Job("sheets", self)
        self.sheets_job.part.connect(self._on_first_sheets)
        self.sheets_job.succeeded.connect(self._on_sheets)
        self.sheets_job.failed.connect(self._on_sheets_failed)
        self.sheets_job.cancelled.connect(self._on_sheets_stopped)
        self.size_job = Job("size", self)  # asked for by hand
        self.patience = PATIENCE
        self._told = False  # whether the document as it now is was shown
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE)
        self._settle.timeout.connect(self._ask_sheets)
        self._work: tuple[str, Work] = (self.chosen, self.bench.work(self.chosen))

    # ------------------------------------------------------------- document

    @property
    def project(self) -> Project:
        """The document as it now is."""
        return self.history.present

    @property
    def item(self) -> Item:
        """The chosen item, as it is kept in the document."""
        return self.project.item(self.chosen)

    @property
    def task(self) -> Task:
        """The chosen item with its job."""
        return self.bench.task(self.chosen) or task_of(self.project, self.chosen, None)

    @property
    def work(self) -> Work:
        """What is known of the chosen item, the last that was worked up."""
        return self._work[1]

    @property
    def dirty(self) -> bool:
        """Whether something is not saved."""
        return self.project != self._saved

    @property
    def findings(self) -> tuple[Finding, ...]:
        """Everything to be said of the job, worst first; of another item with its name."""
        found = [*self.work.findings]
        for name, work in self.bench.works.items():
            if name != self.chosen:
                found += [replace(f, item=name) for f in work.findings]
        found += [f for f in circle_findings(self.project) if f.item != self.chosen]
        found += self.sheets.findings if self.sheets else ()
        named = [
            replace(f, message=f"{f.item}: {f.message}") if f.item not in ("", self.chosen) else f
            for f in found
        ]
        return tuple(sorted(named, key=lambda f: -f.level))

    def choose(self, name: str) -> None:
        """Let the stations speak of another item.

        Raises
        ------
        FieldError
            There is no such item.
        """
        self.chosen = self.project.item(name).name
        self.recompute()
        self._on_work()

    def apply(self, project: Project, chosen: str = "") -> None:
        """Make a changed document the present one; an option of another shape is refused.

        ``chosen`` is the item that the stations then speak of, the same as before if none.
        """
        if project == self.project:
            return
        try:
            _check_options(project)
        except FieldError as error:  # of an editor that still shows the shape before
            self.trouble.emit(str(error))
            return
        self.history.put(project)
        self._document_changed(chosen)

    def apply_task(self, task: Task) -> None:
        """Make what a task says of the chosen item and the job the present document."""
        self.trying(lambda: with_task(self.project, self.chosen, task))

    def trying(self, change: Callable[[], Project], chosen: str = "") -> None:
        """Make a change; a refused value is said, nothing is lost."""
        try:
            project = change()
        except FieldError as error:
            self.trouble.emit(str(error))
            return
        self.apply(project, chosen)

    def drag(self, going_on: bool) -> None:
        """A number begins or ends to be dragged: what changes between is one change."""
        self.history.drag(going_on)

    def edit(self, **fields: object) -> None:
        """Change fields of the chosen item or of the job."""
        self.trying(lambda: edited(self.project, self.chosen, **fields))

    def set_field(self, path: str, value: object) -> None:
        """Change one dotted field of the chosen item or of the job."""
        self.trying(lambda: with_item_change(self.project, self.chosen, path, value))

    def cure(self, finding: Finding) -> None:
        """Make the change that ends a finding, in the item that it speaks of."""
        if finding.cure is None:
            return
        changes, name = finding.cure.changes, finding.item or self.chosen

        def cured() -> Project:
            project = self.project
            for path, value in changes:
                project = with_item_change(project, name, path, value)
            return project

        self.trying(cured)

    def undo(self) -> None:
        """Back to the document before."""
        if self.history.can_undo:
            self.history.undo()
            self._document_changed()

    def redo(self) -> None:
        """Forward again."""
        if self.history.can_redo:
            self.history.redo()
            self._document_changed()

    def _document_changed(self, chosen: str = "") -> None:
        if chosen or self.chosen not in self.project.names:
            self.chosen = chosen or self.project.names[0]
        try:
            self._journal.record(self.project, self.path)
        except FileError as error:
            log.warning("journal: %s", error)
            self.trouble.emit(f"Autosave does not work: {error}")
        self.recompute()
        self.saved_changed.emit()

    # ------------------------------------------------------------- computing

    @property
    def arrangements(self) -> dict[str, Arrangement]:
        """The arrangements of the chosen item, by objective."""
        return self.bench.arrangements(self.chosen)

    def arrangement(self) -> Arrangement | None:
        """The arrangement of the chosen item that is in use."""
        return self.bench.arrangement(self.chosen)

    @property
    def job_work(self) -> JobWork:
        """The whole job as far as it is known."""
        project, works = self.project, self.bench.works
        known = {name: works[name] for name in project.names if name in works}
        return JobWork(project, known, circle_findings(project))

    def recompute(self) -> None:
        """Ask for everything anew; what is quick is there when this returns."""
        self._told = False
        self.bench.show(self.project, self.chosen, self.patience)
        here = self._work[0] == self.chosen
        if not self._told and not (here and self.bench.work_job.busy):
            self._on_work()  # nothing had to be worked up, or it waits for another item

    def _on_work(self) -> None:
        """An item is worked up: show what is known of the chosen one."""
        self._told = True
        self._work = (self.chosen, self.bench.work(self.chosen))
        self._settle.start()
        self.changed.emit()

    def _sheets_key(self) -> SheetsKey:
        """What a layout is for: a better arrangement of the same document needs another."""
        works = self.bench.works
        return self.project, tuple(works[n].inside for n in self.project.names if n in works)

    @property
    def sheets_current(self) -> bool:
        """Whether the layout is that of the designs as they now are."""
        return self.sheets is not None and self._sheets_for == self._sheets_key()

    def _ask_sheets(self) -> None:
        if self.bench.work_job.busy:
            self._settle.start()
            return
        if not self.bench.whole:
            self.sheets, self._sheets_for = None, None
            self.sheets_job.cancel()
            self.sheets_changed.emit()
            return
        key = self._sheets_key()
        if self._sheets_for == key and self.sheets is not None:
            return
        self.sheets_busy = True
        best = {name: self.bench.arrangement(name) for name in self.project.names}
        self.sheets_job.start(key, self.project, best)
        self.sheets_changed.emit()

    def _on_sheets(self, result: object, wanted: object) -> None:
        self.sheets_busy = False
        if wanted != self._sheets_key():
            return
        self.sheets = result if isinstance(result, SheetWork) else None
        self._sheets_for = self._sheets_key()
        self.sheets_changed.emit()

    def _on_first_sheets(self, sheets: object) -> None:
        """A layout that may still become better is shown, but not written."""
        if isinstance(sheets, SheetWork):
            self.sheets, self._sheets_for = sheets, None
            self._drafted = self._sheets_key()
            self.sheets_changed.emit()

    def show_sheets(self, sheets: SheetWork) -> None:
        """Sheets as a hand or a long search has laid them, until they are planned anew."""
        self.sheets, self._sheets_for = sheets, None
        self.sheets_changed.emit()

    def _on_sheets_failed(self, words: str) -> None:
        self.sheets_busy = False
        self.trouble.emit(words)
        self.sheets_changed.emit()

    def _on_sheets_stopped(self) -> None:
        """The layout of the last finished document, or the first of this one, stays."""
        self.sheets_busy = False
        if self._drafted == self._sheets_key():
            self._sheets_for = self._drafted
        self.sheets_changed.emit()

    def settled(self) -> bool:
        """Whether nothing is being computed."""
        jobs = (self.sheets_job, self.size_job)
        return not (self._settle.isActive() or self.bench.busy or any(job.busy for job in jobs))

    # ------------------------------------------------------------- files

    def _new_journal(self) -> Journal:
        number = (
            sum(1 for _ in self.journal_folder.glob(f"{os.getpid()}-*"))
            if (self.journal_folder.is_dir())
            else 0
        )
        return Journal(self.journal_folder, f"{os.getpid()}-{number}")

    def _open(self, project: Project, path: Path | None, saved: Project | None) -> None:
        _check_options(project)
        self._journal.close()
        self.history = History(project)
        self.path, self._saved = path, saved
        self.chosen = project.names[0]
        self.bench.forget()
        self.sheets, self._sheets_for = None, None
        self.recompute()
        self.saved_changed.emit()

    def new(self) -> None:
        """An empty document."""
        self._open(Project(), None, Project())

    def load(self, path: Path) -> None:
        """Open a file.

        Raises
        ------
        JadeiteError
            It cannot be read; the present document stays.
        """
        project = load_project(path)
        for item in project.items:  # unknown keys are refused here
            boards_of(task_of(project, item.name, None), family_by_key(item.shape.key))
        self._open(project, path.resolve(), project)

    def open_copy(self, project: Project, path: Path | None = None) -> None:
        """Open a document that is not saved: the demo, or a recovered one."""
        self._open(project, path, None)
        try:
            self._journal.record(project, path)
        except FileError as error:
            self.trouble.emit(f"Autosave does not work: {error}")

    def save(self, path: Path) -> None:
        """Write the document whole.

        Raises
        ------
        FileError
            Nothing was written; the document stays unsaved.
        """
        kept = save_project(self.project, path)
        if kept != self.project:  # its pictures lie beside it by now
            self.history.amend(kept)
            self._document_changed()
        self.path, self._saved = path.resolve(), self.project
        self._journal.close()
        self.saved_changed.emit()

    def close(self) -> None:
        """End the jobs; the journal of a saved document is removed."""
        self._settle.stop()
        self.bench.close()
        self.sheets_job.close()
        self.size_job.close()
        for job in self.extra_jobs:
            job.close()
        if not self.dirty:
            self._journal.close()

    def discard(self) -> None:
        """Close without saving, as the maker wished."""
        self._saved = self.project
        self.close()
