"""A petal's outline from the maker's own drawing: chosen as a file, read in a process."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog

from jadeite.core.blooms import petal_from_words
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.stations.petal_editors import OutlineEdit

__all__ = ["PetalReader"]


class PetalReader(QObject):
    """Reads drawings for the outlines of one station."""

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self.session = session
        self.job = Job("petal", self)
        self.job.succeeded.connect(self._on_read)
        self.job.failed.connect(lambda words: session.trouble.emit(f"Outline: {words}"))
        session.extra_jobs.append(self.job)

    def serve(self, editor: OutlineEdit) -> None:
        """Ask for a drawing whenever an editor wants one."""
        editor.wants_drawing.connect(lambda: self._ask(editor))

    def _ask(self, editor: OutlineEdit) -> None:
        name, _ = QFileDialog.getOpenFileName(
            editor, "An outline for petals", "", "Drawings (*.svg);;All files (*)"
        )
        if name:
            self.take_in(editor, Path(name))

    def take_in(self, editor: OutlineEdit, path: Path) -> None:
        """Use the outline of a drawing in an editor."""
        self.job.start(editor, str(path))

    def _on_read(self, words: object, editor: object) -> None:
        if isinstance(words, str) and isinstance(editor, OutlineEdit) and editor.isVisible():
            editor.take(petal_from_words(words))
