"""The open document: its history, what is computed from it, and its safety.

Widgets read ``work`` and ``sheets`` and ask for changes; they never keep a
document of their own.
"""

from __future__ import annotations

import logging
import os
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jadeite.core.contents import Arrangement
from jadeite.core.errors import FieldError, FileError
from jadeite.core.findings import Finding, Level
from jadeite.core.formats import load_project, save_project
from jadeite.core.formats.journal import Journal
from jadeite.core.pipeline import SheetWork, Work, boards_of, work_up
from jadeite.core.project import Project, changed, with_change
from jadeite.core.shapes import family_by_key, resolve_options
from jadeite.desktop.jobs import Job
from jadeite.desktop.library import Library

__all__ = ["Session"]

HISTORY = 400  # documents kept for undo; from memory
PATIENCE = 10  # ms; from memory, that the window waits for an answer before it goes on
SETTLE = 120  # ms without a change before long jobs are asked for; from memory

log = logging.getLogger(__name__)
ArrangeKey = tuple[object, ...]
SheetsKey = tuple[Project, tuple[float, float, float]]


def _arrange_key(project: Project) -> ArrangeKey:
    """What an arrangement depends on."""
    shape, boards = project.shape, tuple(sorted(project.boards.items()))
    return (
        project.contents,
        project.inside,
        project.clearance,
        project.dividers,
        shape.key,
        tuple(sorted(shape.options.items())),
        boards,
        project.own_boards,
    )


def _check_options(project: Project) -> None:
    """Whether the shape exists and has the options that are chosen.

    Raises
    ------
    FieldError
        It does not.
    """
    resolve_options(family_by_key(project.shape.key), project.shape.options)


class Session(QObject):
    """One open project."""

    changed = pyqtSignal()  # the document or what is computed from it
    sheets_changed = pyqtSignal()
    arranging = pyqtSignal(bool)
    saved_changed = pyqtSignal()
    trouble = pyqtSignal(str)

    def __init__(
        self, journal_folder: Path, parent: QObject | None = None, library: Library | None = None
    ) -> None:
        super().__init__(parent)
        self.library = library or Library(journal_folder / "boards", self)
        self.library.trouble.connect(self.trouble)
        self.extra_jobs: list[Job] = []  # of the stations; ended with the session
        self.path: Path | None = None
        self._history: list[Project] = [Project()]
        self._now = 0
        self._drag = ""
        self._saved: Project | None = self._history[0]
        self.arrangements: dict[str, Arrangement] = {}
        self._arranged_for: ArrangeKey | None = None
        self.sheets: SheetWork | None = None
        self._sheets_for: SheetsKey | None = None
        self.sheets_busy = False
        self.journal_folder = journal_folder
        self._journal = self._new_journal()
        self.arrange_job = Job("arrange", self)
        self.arrange_job.succeeded.connect(self._on_arranged)
        self.arrange_job.failed.connect(self._on_arrange_failed)
        self.arrange_job.cancelled.connect(lambda: self.arranging.emit(False))
        self.sheets_job = Job("sheets", self)
        self.sheets_job.succeeded.connect(self._on_sheets)
        self.sheets_job.failed.connect(self._on_sheets_failed)
        self.sheets_job.cancelled.connect(self._on_sheets_stopped)
        self.size_job = Job("size", self)  # asked for by hand
        self.patience = PATIENCE
        self.work_job = Job("work", self, queue=True)
        self.work_job.succeeded.connect(self._on_work)
        self.work_job.failed.connect(self._on_work_failed)
        self.work_job.warm()
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE)
        self._settle.timeout.connect(self._ask_sheets)
        self._arrange_later = QTimer(self)
        self._arrange_later.setSingleShot(True)
        self._arrange_later.setInterval(SETTLE)
        self._arrange_later.timeout.connect(self._ask_arrangement)
        self.work: Work = work_up(self.project, None)

    # ------------------------------------------------------------- document

    @property
    def project(self) -> Project:
        """The document as it now is."""
        return self._history[self._now]

    @property
    def dirty(self) -> bool:
        """Whether something is not saved."""
        return self.project != self._saved

    @property
    def can_undo(self) -> bool:
        """Whether there is an earlier document."""
        return self._now > 0

    @property
    def can_redo(self) -> bool:
        """Whether there is a later document."""
        return self._now + 1 < len(self._history)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """Everything to be said, worst first."""
        found = [*self.work.findings, *(self.sheets.findings if self.sheets else ())]
        return tuple(sorted(found, key=lambda f: -f.level))

    def apply(self, project: Project) -> None:
        """Make a changed document the present one; an option of another shape is refused."""
        if project == self.project:
            return
        try:
            _check_options(project)
        except FieldError as error:  # of an editor that still shows the shape before
            self.trouble.emit(str(error))
            return
        if self._drag == "moving" and self._now > 0:  # one drag is one change to take back
            self._history[self._now] = project
            del self._history[self._now + 1 :]
            self._document_changed()
            return
        if self._drag == "begun":
            self._drag = "moving"
        del self._history[self._now + 1 :]
        self._history.append(project)
        if len(self._history) > HISTORY:
            del self._history[0]
        self._now = len(self._history) - 1
        self._document_changed()

    def drag(self, going_on: bool) -> None:
        """A number begins or ends to be dragged: what changes between is one change."""
        self._drag = "begun" if going_on else ""

    def edit(self, **fields: object) -> None:
        """Change fields of the document; a refused value is said, nothing is lost."""
        try:
            self.apply(changed(self.project, **fields))
        except FieldError as error:
            self.trouble.emit(str(error))

    def set_field(self, path: str, value: object) -> None:
        """Change one dotted field."""
        try:
            self.apply(with_change(self.project, path, value))
        except FieldError as error:
            self.trouble.emit(str(error))

    def cure(self, finding: Finding) -> None:
        """Make the change that ends a finding."""
        if finding.cure is None:
            return
        project = self.project
        try:
            for path, value in finding.cure.changes:
                project = with_change(project, path, value)
        except FieldError as error:
            self.trouble.emit(str(error))
            return
        self.apply(project)

    def undo(self) -> None:
        """Back to the document before."""
        if self.can_undo:
            self._now -= 1
            self._document_changed()

    def redo(self) -> None:
        """Forward again."""
        if self.can_redo:
            self._now += 1
            self._document_changed()

    def _document_changed(self) -> None:
        try:
            self._journal.record(self.project, self.path)
        except FileError as error:
            log.warning("journal: %s", error)
            self.trouble.emit(f"Autosave does not work: {error}")
        self.recompute()
        self.saved_changed.emit()

    # ------------------------------------------------------------- computing

    def arrangement(self) -> Arrangement | None:
        """The arrangement in use."""
        return self.arrangements.get(self.project.objective)

    def recompute(self) -> None:
        """Ask for everything anew; what is quick is there when this returns."""
        project = self.project
        key = _arrange_key(project)
        if key != self._arranged_for:
            self._arrange(project, key)
        self.work_job.start((project, key), project, self.arrangement())
        self.work_job.wait(self.patience)

    def _on_work(self, result: object, wanted: object) -> None:
        """The document is worked up; what belongs to an older one is dropped."""
        if not isinstance(result, tuple) or not isinstance(wanted, tuple):
            return
        if wanted[0] != self.project or wanted[1] != self._arranged_for:
            return
        arrangement, self.work = result
        if arrangement is not None:
            self.arrangements.setdefault(self.project.objective, arrangement)
        self._settle.start()
        self.changed.emit()

    def _on_work_failed(self, words: str) -> None:
        """A key that does not exist: say so, and keep the rest of the work."""
        finding = Finding(Level.BLOCKED, "unknown-key", words)
        self.work = replace(self.work, findings=(finding,), design=None)  # the last project's
        self._settle.start()
        self.changed.emit()

    def _arrange(self, project: Project, key: ArrangeKey) -> None:
        before = self._arranged_for
        self._arranged_for = key
        if not project.contents:
            self.arrangements = {}
            self._arrange_later.stop()
            self.arrange_job.cancel()
            return
        same_things = before is not None and before[:4] == key[:4]
        if not same_things or self.arrangement() is None:
            self.arrangements = {}
        self._arrange_later.start()

    def _ask_arrangement(self) -> None:
        self.arrange_job.start(self._arranged_for, self.project)
        self.arranging.emit(True)

    def _on_arranged(self, result: object, wanted: object) -> None:
        self.arranging.emit(False)
        if wanted != self._arranged_for or not isinstance(result, dict):
            return
        self.arrangements = result
        self.work_job.start((self.project, self._arranged_for), self.project, self.arrangement())

    def _on_arrange_failed(self, words: str) -> None:
        self.arranging.emit(False)
        self.trouble.emit(words)

    def _sheets_key(self) -> SheetsKey:
        """What a layout is for: a better arrangement of the same document needs another."""
        return self.project, self.work.inside

    @property
    def sheets_current(self) -> bool:
        """Whether the layout is that of the design as it now is."""
        return self.sheets is not None and self._sheets_for == self._sheets_key()

    def _ask_sheets(self) -> None:
        if self.work.design is None:
            self.sheets, self._sheets_for = None, None
            self.sheets_job.cancel()
            self.sheets_changed.emit()
            return
        key = self._sheets_key()
        if self._sheets_for == key and self.sheets is not None:
            return
        self.sheets_busy = True
        self.sheets_job.start(key, self.project, self.arrangement())
        self.sheets_changed.emit()

    def _on_sheets(self, result: object, wanted: object) -> None:
        self.sheets_busy = False
        if wanted != self._sheets_key():
            return
        self.sheets = result if isinstance(result, SheetWork) else None
        self._sheets_for = self._sheets_key()
        self.sheets_changed.emit()

    def _on_sheets_failed(self, words: str) -> None:
        self.sheets_busy = False
        self.trouble.emit(words)
        self.sheets_changed.emit()

    def _on_sheets_stopped(self) -> None:
        """The layout of the last finished document stays until something changes."""
        self.sheets_busy = False
        self.sheets_changed.emit()

    def settled(self) -> bool:
        """Whether nothing is being computed."""
        waiting = self._settle.isActive() or self._arrange_later.isActive()
        jobs = (self.work_job, self.arrange_job, self.sheets_job, self.size_job)
        return not (waiting or any(job.busy for job in jobs))

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
        self._history, self._now = [project], 0
        self.path, self._saved = path, saved
        self.arrangements, self._arranged_for, self._sheets_for = {}, None, None
        self.sheets = None
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
        boards_of(project, family_by_key(project.shape.key))  # unknown keys are refused here
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
        save_project(self.project, path)
        self.path, self._saved = path.resolve(), self.project
        self._journal.close()
        self.saved_changed.emit()

    def close(self) -> None:
        """End the jobs; the journal of a saved document is removed."""
        self._settle.stop()
        self._arrange_later.stop()
        self.work_job.close()
        self.arrange_job.close()
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
