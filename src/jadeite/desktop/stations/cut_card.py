"""Cutting from the window: what is asked of the maker, how far it is, what goes wrong."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jadeite.desktop.cut_run import CutRun
from jadeite.desktop.widgets import Card, Disclosure, button, clear_layout, label, set_role

__all__ = ["CutCard"]

PACES = ((1.0, "as it would be"), (10.0, "10 × faster"), (100.0, "100 × faster"))
FAULTS = (
    ("not-through", "it no longer cuts through"),
    ("slip", "the sheet slips"),
    ("jam", "it gets stuck"),
    ("power", "the power fails"),
)


class CutCard(Card):
    """Begin, answer, stop."""

    def __init__(self, cutting: CutRun) -> None:
        super().__init__("Cut it")
        self.cutting = cutting
        self.about = label(
            "The simulated cutter takes the job line by line, as a machine would, and asks for "
            "sheets and tools: a rehearsal before board is spent.",
            "small",
            wrap=True,
        )
        self.add(self.about)
        start = QHBoxLayout()
        self.begin = button(
            "Rehearse the cut",
            self._begin,
            "",
            "On the simulated cutter, from the first sheet or from where it was left.",
        )
        self.pace = QComboBox()
        for pace, words in PACES:
            self.pace.addItem(words, pace)
        self.pace.setCurrentIndex(1)
        self.pace.setAccessibleName("How fast the simulated cutter is")
        self.anew = button("From the start", cutting.forget, "plain", "Forget what was cut before.")
        for part in (self.begin, self.pace):
            start.addWidget(part)
        start.addStretch(1)
        self.body.addLayout(start)
        self.add(self.anew)
        self.opener = Disclosure("A machine that listens", "On a local socket of this computer.")
        self.add(self.opener)
        listening = QWidget()
        line_ = QHBoxLayout(listening)
        line_.setContentsMargins(0, 0, 0, 0)
        self.where = QLineEdit()
        self.where.setPlaceholderText("path of its socket")
        self.where.setAccessibleName("Path of the socket on which a cutter listens")
        self.cut = button(
            "Cut", self._cut, "", "It is told the lines that the simulated cutter is told."
        )
        self.where.returnPressed.connect(self._cut)
        line_.addWidget(self.where, 1)
        line_.addWidget(self.cut)
        self.add(listening)
        self.opener.holds(listening)
        self.said = label("", wrap=True)
        self.add(self.said)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Share of the job that is cut")
        self.add(self.progress)
        self._asked: object = None
        self.asking = QWidget()
        self._answers = QVBoxLayout(self.asking)
        self._answers.setContentsMargins(0, 0, 0, 0)
        self._answers.setSpacing(5)
        self.add(self.asking)
        line = QHBoxLayout()
        self.break_it = QComboBox()
        self.break_it.addItem("Let something go wrong …", None)
        for kind, words in FAULTS:
            self.break_it.addItem(words, kind)
        self.break_it.setAccessibleName("Let something go wrong")
        self.break_it.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.break_it.activated.connect(self._break)
        self.stop = button("Stop", lambda: cutting.stop(), "plain", "It can go on from there.")
        line.addWidget(self.break_it, 1)
        line.addWidget(self.stop)
        self.body.addLayout(line)
        cutting.changed.connect(self.refresh)

    def _begin(self) -> None:
        self.cutting.begin_simulated(float(self.pace.currentData()))

    def _cut(self) -> None:
        """Cut with what listens there."""
        path = self.where.text().strip()
        if path:
            self.cutting.begin(path)

    def _break(self) -> None:
        kind = self.break_it.currentData()
        self.break_it.setCurrentIndex(0)
        if kind is not None:
            self.cutting.misbehave(kind)

    def refresh(self) -> None:
        """Show how far it is."""
        run, busy = self.cutting.run, self.cutting.busy
        sheets = self.cutting.session.sheets
        there = sheets is not None and any(not cut.profile.by_hand for cut in sheets.cutting.sheets)
        self.setVisible(there or busy)
        kept = None if busy else self.cutting.kept()
        self.begin.setText("Go on cutting" if kept else "Rehearse the cut")
        self.begin.setEnabled(there and self.cutting.session.sheets_current)
        for part in (self.begin, self.pace, self.about, self.opener):
            part.setVisible(not busy)
        self.cut.setEnabled(self.begin.isEnabled())
        if busy:
            self.opener.setChecked(False)
        self.anew.setVisible(kept is not None)
        for widget in (self.said, self.progress, self.asking, self.break_it, self.stop):
            widget.setVisible(busy)
        self.break_it.setVisible(busy and self.cutting.simulated)
        if run is None:
            self._asked = None
            return
        self.progress.setValue(round(1000 * run.share()))
        self.said.setText(self._words())
        self._show_ask()

    def _words(self) -> str:
        run = self.cutting.run
        assert run is not None
        if not run.sheets:
            return ""
        words = f"Sheet {run.number + 1} of {len(run.sheets)}, {run.share():.0%} of all is cut."
        if self.cutting.changed_since:
            words += " The job was changed meanwhile: it is cut as it was."
        return words

    def _show_ask(self) -> None:
        """The question, and a button for each answer."""
        run, silent = self.cutting.run, self.cutting.silent
        assert run is not None
        asked = (run.ask, silent)
        if asked == self._asked:
            return
        self._asked = asked
        clear_layout(self._answers)
        if run.ask is not None:
            words = label(run.ask.words, "look", wrap=True)
            self._answers.addWidget(words)
            for number, (key, text) in enumerate(run.ask.answers):
                role = "main" if number == 0 else ""
                answer = button(text, lambda k=key: self.cutting.answer(k), role)
                self._answers.addWidget(answer)
        elif silent:
            self._answers.addWidget(
                label("The cutter has fallen silent: is its power gone?", "look", wrap=True)
            )
            if self.cutting.simulated:
                self._answers.addWidget(
                    button("Switch it on again", self.cutting.switch_on, "main")
                )
        set_role(self.asking, "plain")
