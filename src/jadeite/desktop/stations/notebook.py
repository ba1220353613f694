"""Notebook: what was intended, what came out."""

from __future__ import annotations

from datetime import date

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from jadeite.core.errors import FieldError
from jadeite.core.project import Trial
from jadeite.core.steps import Steps
from jadeite.core.units import format_length, format_size, in_system, parse_length
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.stations.base import Panel
from jadeite.desktop.widgets import Card, Segmented, button, clear_layout, label

__all__ = ["NotebookPanel"]

VERDICTS = (("too-tight", "too tight"), ("right", "right"), ("too-loose", "too loose"))


class NotebookPanel(Panel):
    """Record a trial; the trials so far stand below."""

    def build(self) -> None:
        """Make the widgets, once."""
        card = Card("Record a trial")
        self.intended = label("", "strong")
        card.row("Inside, intended", self.intended)
        card.add(label("Inside, as it came out"))
        line = QHBoxLayout()
        line.setSpacing(6)
        self.measured: list[LengthEdit] = []
        for name in ("length", "width", "height"):
            edit = LengthEdit(f"Measured {name}", 0.1, 5000.0)
            edit.setFixedWidth(88)
            edit.refused.connect(self.session.trouble)
            self.measured.append(edit)
            line.addWidget(edit)
        line.addStretch(1)
        card.body.addLayout(line)
        self.asked = label("")
        card.add(self.asked)
        self.verdict = Segmented(VERDICTS, "How it fitted")
        self.verdict.set_value("right")
        card.add(self.verdict)
        self.by = QLineEdit()
        self.by.setFixedWidth(104)
        self.by.setPlaceholderText("not known")
        card.row("By how much", self.by, "How much larger or smaller it should have been.")
        self.note = QPlainTextEdit()
        self.note.setFixedHeight(58)
        self.note.setPlaceholderText("What to change for the next one")
        self.note.setAccessibleName("What to change for the next one")
        self.note.setTabChangesFocus(True)
        card.add(self.note)
        self.record = button(
            "Record this trial",
            self.record_trial,
            "main",
            "Kept in the project; Ctrl+Z takes it back.",
        )
        card.add(self.record)
        self.column.addWidget(card)
        self.trials = Card("Trials so far")
        self._list = QVBoxLayout()
        self._list.setSpacing(8)
        self.trials.body.addLayout(self._list)
        self.column.addWidget(self.trials)
        self._shown: object = None
        self._size: object = None

    def record_trial(self) -> None:
        """Keep what came out."""
        work = self.session.work
        if work.design is None:
            return
        text = self.by.text().strip()
        by = None
        if text:
            try:
                by = parse_length(text, self.system, field="By how much", high=100.0)
            except FieldError as error:
                self.session.trouble.emit(str(error))
                return
        clearance = work.sizes.get("lid-clearance")
        trial = Trial(
            date=date.today().isoformat(),
            board=work.boards[work.family.parts[0][0]].key,
            intended=work.inside,
            measured=tuple(e.value() for e in self.measured),  # type: ignore[arg-type]
            clearance=clearance.value if clearance else 0.0,
            verdict=self.verdict.value(),  # type: ignore[arg-type]
            by=by,
            note=self.note.toPlainText()[:4000],
            item=self.session.chosen if len(self.session.project.items) > 1 else "",
        )
        self.note.clear()
        self.by.clear()
        self.session.edit(trials=(*self.session.project.trials, trial))

    def _remove(self, index: int) -> None:
        trials = list(self.session.project.trials)
        del trials[index]
        self.session.edit(trials=tuple(trials))

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        work = self.session.work
        ready = work.design is not None
        self.record.setEnabled(ready)
        self.asked.setText("The lid was" if "lid-clearance" in work.sizes else "The fit was")
        self.intended.setText(format_size(work.inside, self.system) if ready else "no size yet")
        if ready and (work.inside, self.system) != self._size:
            self._size = (work.inside, self.system)
            for edit, value in zip(self.measured, work.inside, strict=True):
                edit.set_value(value, self.system)
        yield
        trials = self.session.project.trials
        if (trials, self.system) == self._shown:
            return
        self._shown = (trials, self.system)
        clear_layout(self._list)
        if not trials:
            self._list.addWidget(
                label(
                    "Nothing tried yet. Build one, measure it, and write down how it fitted.",
                    "small",
                    wrap=True,
                )
            )
        words = dict(VERDICTS)
        for i, trial in reversed(list(enumerate(trials))):
            holder = QWidget()
            column = QVBoxLayout(holder)
            column.setContentsMargins(0, 0, 0, 0)
            column.setSpacing(1)
            head = QHBoxLayout()
            state = "settled" if trial.verdict == "right" else "look"
            by = f" by {in_system(format_length(trial.by), self.system)}" if trial.by else ""
            head.addWidget(label(f"{words[trial.verdict]}{by}", state))
            what = f"{trial.item}, {trial.date}" if trial.item else trial.date
            head.addWidget(label(what, "small"))
            head.addStretch(1)
            away = button("remove", lambda n=i: self._remove(n), "plain")
            away.setAccessibleName(f"Remove the trial of {trial.date}")
            head.addWidget(away)
            column.addLayout(head)
            size = format_size(trial.measured or trial.intended, self.system)
            told = [size, trial.board]
            if trial.clearance:
                clearance = in_system(format_length(trial.clearance), self.system)
                told.append(f"lid clearance {clearance}")
            column.addWidget(label(" · ".join(told), "small", wrap=True))
            if trial.note:
                column.addWidget(label(trial.note, "", wrap=True))
            self._list.addWidget(holder)
