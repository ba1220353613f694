"""An outline: one of ours, the letters of a word, or a drawing of the maker's own."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFileDialog, QLineEdit, QVBoxLayout, QWidget

from jadeite.core.shapes import Option
from jadeite.core.shapes.own_outlines import LETTERS
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session

__all__ = ["DrawingEdit"]

TEXT, FILE, OWN = "text", "file", "own"
USUAL = f"{LETTERS}STAR"  # until another word is typed
WIDTH = 150


class DrawingEdit(QWidget):
    """The choices in a list; a field for a word; a file that is read in a process."""

    chosen = pyqtSignal(str)

    def __init__(self, option: Option, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setAccessibleName(option.label)
        self._drawn = dict(option.choices)
        self._now = str(option.default)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.box = QComboBox()
        self.box.setFixedWidth(WIDTH)
        self.box.setAccessibleName(option.label)
        self.box.setToolTip(option.help)
        self.box.activated.connect(lambda _: self._choose())
        column.addWidget(self.box)
        self.word = QLineEdit()
        self.word.setFixedWidth(WIDTH)
        self.word.setMaxLength(12)
        self.word.setAccessibleName(f"{option.label}: letters")
        self.word.editingFinished.connect(self._typed)
        column.addWidget(self.word)
        self.job = Job("drawing", self)
        self.job.succeeded.connect(self._on_read)
        self.job.failed.connect(self._on_refused)
        session.extra_jobs.append(self.job)

    def _choose(self) -> None:
        key = self.box.currentData()
        if key == FILE:
            name, _ = QFileDialog.getOpenFileName(
                self, "An outline", "", "Drawings (*.svg);;All files (*)"
            )
            if name:
                self.take_in(Path(name))
            else:
                self.set_value(self._now)
        elif key == TEXT:
            self.chosen.emit(USUAL)
        elif key != OWN:
            self.chosen.emit(str(key))

    def take_in(self, path: Path) -> None:
        """Use the outline of a drawing."""
        self.job.start(path, str(path))

    def _on_read(self, words: object, path: object) -> None:
        if isinstance(words, str) and self.isVisible():
            self.chosen.emit(words)

    def _on_refused(self, words: str) -> None:
        self.session.trouble.emit(f"Outline: {words}")
        self.set_value(self._now)

    def _typed(self) -> None:
        words = LETTERS + self.word.text().strip()
        if self._now.startswith(LETTERS) and words not in (LETTERS, self._now):
            self.chosen.emit(words)

    def set_value(self, words: str) -> None:
        """Show an outline without saying so."""
        self._now = words
        text = words.startswith(LETTERS)
        own = not text and words not in self._drawn
        wanted = [*((label, key) for key, label in self._drawn.items()), ("a word's letters", TEXT)]
        wanted += [("your drawing", OWN)] if own else []
        wanted += [("a drawing …", FILE)]
        have = [(self.box.itemText(i), self.box.itemData(i)) for i in range(self.box.count())]
        if have != wanted:
            self.box.clear()
            for label, key in wanted:
                self.box.addItem(label, key)
        self.box.setCurrentIndex(self.box.findData(TEXT if text else OWN if own else words))
        self.word.setVisible(text)
        if text and not self.word.hasFocus():
            self.word.setText(words.removeprefix(LETTERS))
