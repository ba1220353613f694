"""A list of names: pasted, typed or opened as a table; each name gets a copy of its own."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, QSignalBlocker
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPlainTextEdit

from jadeite.core.errors import JadeiteError
from jadeite.core.formats.name_list import NameList, parse_names, read_names
from jadeite.core.project import Task
from jadeite.core.units import counted
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, button, label

__all__ = ["NamesCard"]

HIGH = 132  # pixels, seven lines; from memory
HINT = "A name a line, and a table behind it where there are any:\nAda Rill; 3"


class NamesCard(Card):
    """Decides which names are on the copies of what is made."""

    def __init__(self, session: Session) -> None:
        super().__init__("Names")
        self.session = session
        self.list = QPlainTextEdit()
        self.list.setFixedHeight(HIGH)
        self.list.setPlaceholderText(HINT)
        self.list.setAccessibleName("Names, one a line")
        self.list.setToolTip("Paste a list, or a part of a table: names, and tables beside them.")
        self.list.setTabChangesFocus(True)
        self.list.installEventFilter(self)
        self.add(self.list)
        self.words = self.add(label("", "small", wrap=True))
        self.take = button("Use this list", self.use, "main", "Each name gets a copy of its own.")
        self.open = button("Open a table …", self._ask, "plain", "A list of names in CSV.")
        line = QHBoxLayout()
        line.addWidget(self.take)
        line.addWidget(self.open)
        line.addStretch(1)
        self.body.addLayout(line)
        self.list.textChanged.connect(self._typed)
        self._read = NameList()
        self._shown: tuple[tuple[str, ...], tuple[str, ...]] | None = None

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """A list that is left is used, so that nothing typed is lost."""
        left = event is not None and event.type() == QEvent.Type.FocusOut
        if watched is self.list and left and self.take.isEnabled():
            self.use()
        return False

    def use(self) -> None:
        """Make a copy for each name of the list."""
        text = self.list.toPlainText()
        if not text.strip():
            self.session.edit(tables=(), names=())
            return
        try:
            self._use(parse_names(text))
        except JadeiteError as error:
            self.session.trouble.emit(str(error))

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "A list of names", "", "Tables (*.csv *.txt *.tsv);;All files (*)"
        )
        if name:
            self.take_in(Path(name))

    def take_in(self, path: Path) -> None:
        """Use the names of a table."""
        try:
            self._use(read_names(path))
        except JadeiteError as error:
            self.session.trouble.emit(str(error))

    def _use(self, read: NameList) -> None:
        self._read = read
        self.session.edit(names=read.names, tables=read.tables)

    def _typed(self) -> None:
        names, tables = self._shown or ((), ())
        self.take.setEnabled(self.list.toPlainText().strip() != _text(names, tables))

    def show_names(self, task: Task) -> None:
        """Show the list; hidden where what is made bears no names and none were given."""
        work = self.session.work
        bears = work.family.names and (work.design is None or bool(work.design.blanks))
        self.setVisible(bears or bool(task.names))
        now = (task.names, task.tables)
        if now == self._shown:
            return
        self._shown = now
        with QSignalBlocker(self.list):
            self.list.setPlainText(_text(*now))
        self.take.setEnabled(False)
        said = [f"{counted(len(task.names), 'name')}, a copy for each."] if task.names else []
        if self._read.names == task.names and self._read.said:
            said.append(f"{self._read.said[0].upper()}{self._read.said[1:]}.")
        self.words.setText(" ".join(said) or "No names yet: the copies are all alike.")


def _text(names: tuple[str, ...], tables: tuple[str, ...]) -> str:
    """A list as it is typed."""
    if not tables:
        return "\n".join(names)
    both = zip(names, tables, strict=True)
    return "\n".join(f"{name}; {table}" if table else name for name, table in both)
