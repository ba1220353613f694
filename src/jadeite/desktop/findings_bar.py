"""The findings: the worst in one line, opening upward to all of them."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from jadeite.core.findings import Finding
from jadeite.core.units import System, in_system
from jadeite.desktop.widgets import button, clear_layout, label, set_role

__all__ = ["FindingsBar"]

WORDS = {"note": "Note", "look": "A look", "blocked": "Blocked"}
LIST_HEIGHT = 190


class _Row(QFrame):
    """One finding: what, where, by how much, and its cure."""

    pointed = pyqtSignal(object)
    cured = pyqtSignal(object)

    def __init__(self, finding: Finding, system: System) -> None:
        super().__init__()
        self.finding = finding
        told = in_system(finding.message, system)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(f"{WORDS[finding.level.word]}: {told}")
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 3, 6, 3)
        line.setSpacing(12)
        role = {"note": "head", "look": "look", "blocked": "blocked"}[finding.level.word]
        line.addWidget(label(WORDS[finding.level.word], role))
        words = label(told, wrap=True)
        words.setToolTip(f"Where: {finding.where}" if finding.where else "")
        line.addWidget(words, 1)
        if finding.cure is not None:
            self.cure_button = button(
                in_system(finding.cure.label, system),
                lambda: self.cured.emit(finding),
                "",
                "Makes this change; Ctrl+Z takes it back.",
            )
            line.addWidget(self.cure_button)

    def enterEvent(self, event: object) -> None:
        self.pointed.emit(self.finding)

    def leaveEvent(self, event: object) -> None:
        self.pointed.emit(None)

    def focusInEvent(self, event: object) -> None:
        self.pointed.emit(self.finding)

    def focusOutEvent(self, event: object) -> None:
        self.pointed.emit(None)


class FindingsBar(QFrame):
    """At the foot of the window."""

    pointed = pyqtSignal(object)  # Finding or None
    cured = pyqtSignal(object)  # Finding

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "finding-settled")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self._list = QScrollArea()
        self._list.setWidgetResizable(True)
        self._list.setFrameShape(QFrame.Shape.NoFrame)
        self._list.setMaximumHeight(LIST_HEIGHT)
        self._list.setVisible(False)
        inner = QWidget()
        self._rows = QVBoxLayout(inner)
        self._rows.setContentsMargins(0, 4, 0, 4)
        self._rows.setSpacing(2)
        self._list.setWidget(inner)
        column.addWidget(self._list)
        foot = QWidget()
        foot.setMinimumHeight(34)
        self._line = QHBoxLayout(foot)
        self._line.setContentsMargins(12, 2, 8, 2)
        self._line.setSpacing(10)
        column.addWidget(foot)
        self._findings: tuple[Finding, ...] = ()
        self._rest: tuple[Finding, ...] = ()  # all but the one in the line
        self._shown: tuple[Finding, ...] | None = None
        self._trouble = ""
        self._system: System = "mm"
        self.more = button("", self.toggle, "plain", "Opens the list of everything found.")
        self.more.setAccessibleName("Show all findings")
        self.first: _Row | None = None
        self.show_findings(())

    def show_findings(self, findings: tuple[Finding, ...], system: System = "mm") -> None:
        """Everything to be said, worst first, with lengths in the system."""
        if system != self._system:
            self._system, self._shown = system, None
        self._findings, self._trouble = findings, ""
        self._render()

    def say(self, words: str) -> None:
        """Something that was refused just now; the next change takes it away."""
        self._trouble, self._shown = words, None
        self._render()

    def _render(self) -> None:
        if self._shown == self._findings and not self._trouble:
            return
        self._shown = self._findings if not self._trouble else None
        self.more.setParent(None)
        clear_layout(self._line)
        clear_layout(self._rows)
        self.first = None
        rest = self._findings[1:]
        if self._trouble:
            set_role(self, "finding-blocked")
            self._line.addWidget(label("Not done", "blocked"))
            self._line.addWidget(label(in_system(self._trouble, self._system), wrap=True), 1)
            rest = self._findings
        elif not self._findings:
            set_role(self, "finding-settled")
            self._line.addWidget(label("Settled", "settled"))
            self._line.addWidget(label("Nothing to look at: it closes, it fits, it holds."), 1)
        else:
            set_role(self, f"finding-{self._findings[0].level.word}")
            self.first = self._row(self._findings[0])
            self.first.layout().setContentsMargins(0, 0, 0, 0)  # type: ignore[union-attr]
            self._line.addWidget(self.first, 1)
        self._rest = rest
        if not rest:
            self._list.setVisible(False)
        self._fill()
        self._line.addWidget(self.more)
        self.more.setVisible(bool(rest))

    def _row(self, finding: Finding) -> _Row:
        row = _Row(finding, self._system)
        row.pointed.connect(self.pointed)
        row.cured.connect(self.cured)
        return row

    def _fill(self) -> None:
        """The list where it is open; a closed one is not made at every change."""
        shown = not self._list.isHidden()
        if shown and not self._rows.count():
            for finding in self._rest:
                self._rows.addWidget(self._row(finding))
        self.more.setText("close" if shown else f"{len(self._rest)} more")

    def toggle(self) -> None:
        """Open or close the list."""
        self._list.setVisible(self._list.isHidden())
        self._fill()
