"""Assembly: adhesive, batch, and the step at hand with its timer."""

from __future__ import annotations

from PyQt6.QtCore import QElapsedTimer, QTimer, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QProgressBar

from jadeite.core.assembly import ADHESIVES, Step, batch_seconds
from jadeite.core.pipeline import Work, at_hand
from jadeite.core.project import order_of
from jadeite.core.reckoning import reckon
from jadeite.core.steps import Steps
from jadeite.core.units import System, format_duration, in_system, listed
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.widgets import Card, Segmented, button, label

__all__ = ["AssemblyPanel"]


class AssemblyPanel(Panel):
    """One step at a time, with the time that it holds."""

    step_shown = pyqtSignal(int)

    def build(self) -> None:
        """Make the widgets, once."""
        self.number = 0
        self._item, self.going_back = self.session.chosen, False
        step = Card("Step")
        self.title = label("", "title", wrap=True)
        step.add(self.title)
        self.detail = label("", "", wrap=True)
        step.add(self.detail)
        self.caution = label("", "look", wrap=True)
        step.add(self.caution)
        self.times = label("", "small", wrap=True)
        step.add(self.times)
        self.hold = button("", self.toggle_timer, "main", "Starts or stops the timer (space bar).")
        self.hold.setMinimumHeight(44)
        step.add(self.hold)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        step.add(self.progress)
        line = QHBoxLayout()
        self.back = button("Back", self._go_back, "", "The step before.")
        self.next = button("Next", lambda: self.go(self.number + 1), "", "The next step.")
        line.addWidget(self.back)
        line.addStretch(1)
        line.addWidget(self.next)
        step.body.addLayout(line)
        self.column.addWidget(step)
        card = Card("How")
        self.adhesive = QComboBox()
        for adhesive in ADHESIVES:
            self.adhesive.addItem(adhesive.title, adhesive.key)
        self.adhesive.setFixedWidth(168)
        self.adhesive.activated.connect(
            lambda _: self.session.edit(adhesive=self.adhesive.currentData())
        )
        card.row("Glue", self.adhesive)
        self.school = label("", "small", wrap=True)
        card.add(self.school)
        self.order = Segmented(
            (("operation", "one step on all"), ("piece", "one by one")), "Order of a batch"
        )
        self.order.chosen.connect(lambda v: self.session.edit(batch_order=v))
        card.add(label("Order of a batch"))
        card.add(self.order)
        self.batch = label("", "small", wrap=True)
        card.add(self.batch)
        self.column.addWidget(card)
        self.besides = Card("Besides board")
        self.besides_words = label("", wrap=True)
        self.besides.add(self.besides_words)
        self.column.addWidget(self.besides)
        self.results = ResultsCard("The whole")
        self.column.addWidget(self.results)
        self._timer = QTimer(self)
        self._timer.setInterval(100)
        self._timer.timeout.connect(self._tick)
        self._clock = QElapsedTimer()

    @property
    def steps(self) -> tuple[Step, ...]:
        """Every step of the plan."""
        plan = self.session.work.assembly
        return plan.steps if plan is not None else ()

    def go(self, number: int) -> None:
        """Show a step."""
        if not self.steps:
            return
        other = self._beyond(number)
        if other:
            self.session.choose(other)
            return
        self.number = max(0, min(number, len(self.steps) - 1))
        self._timer.stop()
        self._show_step()
        self.step_shown.emit(self.number)

    def _go_back(self) -> None:
        self.going_back = self.number == 0
        self.go(self.number - 1)

    def _beyond(self, number: int) -> str:
        """The made thing whose turn it is before the first step or after the last; else empty."""
        names = order_of(self.session.project)
        here = names.index(self._item) if self._item in names else 0
        if number >= len(self.steps) and here + 1 < len(names):
            return names[here + 1]
        return names[here - 1] if number < 0 < here else ""

    def _turn_to(self, item: str) -> None:
        """Another made thing is chosen: its first step, or the last on the way back."""
        names = order_of(self.session.project)
        back = self._item in names and item in names and self.going_back
        self._item, self.going_back = item, False
        self.number = len(self.steps) - 1 if back else 0
        self.step_shown.emit(self.number)

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        work, task = self.session.work, self.session.task
        plan = work.assembly
        self.adhesive.setCurrentIndex(self.adhesive.findData(task.adhesive))
        self.order.set_value(task.batch_order)
        self.school.setText(_school_words(work, self.system))
        self.school.setVisible(work.school is not None)
        besides = at_hand({self.session.chosen: work})
        self.besides.setVisible(bool(besides))
        self.besides_words.setText("\n".join(thing.words(self.system) for thing in besides))
        self.setEnabled(plan is not None)
        if plan is None:
            self.title.setText("Nothing to assemble yet")
            return
        if self._item != self.session.chosen:
            self._turn_to(self.session.chosen)
        self.number = min(self.number, len(plan.steps) - 1)
        self._show_step()
        yield
        holds = sum(step.hold for step in plan.steps)
        waits = sum(step.wait for step in plan.steps)
        whole = reckon(
            "One, from the first step to the last",
            plan.seconds,
            "hands, holding, and waiting until glue may be handled",
            reckon("hands", plan.hands, "every step", unit="s"),
            reckon("holding", holds, "every seam", unit="s"),
            reckon("waiting", waits, "before the box is filled", unit="s"),
            unit="s",
        )
        dry = reckon(
            "Fully dry after", plan.dry_at, "the last seam and the glue's drying time", unit="s"
        )
        self.results.show_results([("whole", whole, ""), ("dry", dry, "")], self.system)
        times = batch_seconds(plan, task.count)
        if task.count > 1:
            self.batch.setText(
                f"{task.count} of them: one finished sample, then step by step on the others, "
                f"{format_duration(times['operation'])}; one by one, "
                f"{format_duration(times['piece'])}. Step by step is quicker for the hands; "
                "one by one shows a mistake early."
            )
        else:
            self.batch.setText("Set how many are made at Sheets to compare both orders.")

    def _show_step(self) -> None:
        step = self.steps[self.number]
        several = len(self.session.project.items) > 1
        of = f"{self.session.chosen.capitalize()}, " if several else ""
        self.title.setText(
            f"{of}{self.number + 1} of {len(self.steps)}: {in_system(step.title, self.system)}"
        )
        self.detail.setText(in_system(step.detail, self.system))
        self.caution.setText(step.caution)
        self.caution.setVisible(bool(step.caution))
        words = f"Hands {format_duration(step.hands)}"
        if step.wait:
            words += f" · wait {format_duration(step.wait)} before it"
        if step.dry:
            words += f" · dry after {format_duration(step.dry)}"
        self.times.setText(words)
        self.hold.setVisible(step.hold > 0)
        self.progress.setVisible(step.hold > 0)
        self.progress.setRange(0, max(1, round(step.hold * 10)))
        self.progress.setValue(0)
        self.hold.setText(f"Hold {format_duration(step.hold)}")
        self.back.setEnabled(self.number > 0 or bool(self._beyond(-1)))
        last = self.number + 1 == len(self.steps)
        after = self._beyond(len(self.steps)) if last else ""
        self.next.setEnabled(not last or bool(after))
        self.next.setText(f"Next: {after}" if after else "Next")

    def toggle_timer(self) -> None:
        """Start the hold timer, or stop it; without a hold, go on."""
        if self._timer.isActive():
            self._timer.stop()
            self._show_step()
        elif self.steps and self.steps[self.number].hold > 0:
            self._clock.start()
            self._timer.start()
            self._tick()
        else:
            self.go(self.number + 1)

    def _tick(self) -> None:
        hold = self.steps[self.number].hold
        gone = self._clock.elapsed() / 1000
        self.progress.setValue(round(gone * 10))
        if gone >= hold:
            self._timer.stop()
            self.hold.setText("Held: let go")
        else:
            self.hold.setText(f"Hold {hold - gone:.0f} s more")


def _school_words(work: Work, system: System) -> str:
    """How much of the chosen adhesive is needed, and how long one takes with each of the others."""
    chosen, count = work.school, work.task.count
    if chosen is None:
        return ""
    if not chosen.grams and not chosen.tape:
        return "Nothing of it is glued: foam pads hold by themselves."
    takes = chosen.takes(count, system)
    first = f"Takes {takes} for all {count}." if count > 1 else f"Takes {takes}."
    others = [
        f"{one.adhesive.title.lower()} {format_duration(one.seconds)}"
        for one in work.schools
        if one is not chosen
    ]
    return f"{first} In all, one takes with {listed(others)}."
