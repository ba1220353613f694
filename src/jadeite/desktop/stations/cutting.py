"""Cutting: the cutter, its settings by board, and the time."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QVBoxLayout

from jadeite.core.cutting import profile_of, stroke_seconds
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.steps import Steps
from jadeite.core.units import counted, format_duration
from jadeite.desktop.cut_run import CutRun
from jadeite.desktop.session import Session
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.cut_card import CutCard
from jadeite.desktop.stations.cutter_card import CutterCard
from jadeite.desktop.stations.printer_card import PrinterCard
from jadeite.desktop.stations.setting_card import SettingCard
from jadeite.desktop.widgets import Card, Segmented, button, clear_layout, label

__all__ = ["CuttingPanel"]

FOLDS = (
    ("scored", "scored with a tool"),
    ("perforated", "perforated by the blade"),
    ("hand-creased", "creased by hand, at ticks"),
)

MOVING = ("cut", "score")


class CuttingPanel(Panel):
    """Cutter, settings, time; for hand cutting the printed pages."""

    print_asked = pyqtSignal()

    def __init__(self, session: Session, run: CutRun) -> None:
        self.run = run
        super().__init__(session)

    def build(self) -> None:
        """Make the widgets, once."""
        card = self.with_ = CutterCard(self.session)
        self.cutter = card.cutter
        self.heavier = Segmented(
            (("second-pass", "second pass"), ("pressure", "firmer pressure")), "For heavy card"
        )
        self.heavier.chosen.connect(lambda v: self.session.edit(heavier=v))
        card.add(label("For heavy card"))
        card.add(self.heavier)
        card.add(
            label(
                "A second pass is the safer for thick card: firmer pressure drags thin "
                "corners. A test cut decides.",
                "small",
                wrap=True,
            )
        )
        self.folds = QComboBox()
        for key, words in FOLDS:
            self.folds.addItem(words, key)
        self.folds.setAccessibleName("How folds are made")
        self.folds.activated.connect(lambda _: self.session.edit(folds=self.folds.currentData()))
        card.add(label("Folds"))
        card.add(self.folds)
        card.add(
            label(
                "Without a scoring tool a fold is cut in dashes, or marked by a tick at either "
                "end and creased along a ruler.",
                "small",
                wrap=True,
            )
        )
        self.printed = button(
            "Print the pages …",
            self.print_asked.emit,
            "",
            "The nets at true size, to be cut out by hand.",
        )
        card.add(self.printed)
        self.column.addWidget(card)
        self.printer = PrinterCard(self.session)
        self.column.addWidget(self.printer)
        self.cut = CutCard(self.run)
        self.column.addWidget(self.cut)
        self.setting = SettingCard(self.session)
        self.column.addWidget(self.setting)
        self.settings = Card("Settings, in order")
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.settings.body.addLayout(self._list)
        self.column.addWidget(self.settings)
        self.results = ResultsCard()
        self.column.addWidget(self.results)
        habits = Card("Four habits")
        for words in (
            "Clear the space behind the cutter.",
            "Look before you unload.",
            "Save the small cut-outs.",
            "Keep a knife for what did not come free.",
        ):
            habits.add(label(words, "small", wrap=True))
        habits.add(
            label(
                "Blades and hooks are sharp: cut away from your hand. Local rules and the "
                "maker's instructions come first.",
                "look",
                wrap=True,
            )
        )
        self.column.addWidget(habits)
        self._shown: object = None

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        task, sheets = self.session.task, self.session.sheets
        self.with_.refresh(self.system)
        self.heavier.set_value(task.heavier)
        self.folds.setCurrentIndex(self.folds.findData(task.folds))
        inked = sheets is not None and any(s.sheet.printed for s in sheets.cutting.sheets)
        self.printer.show_printer(task.printer, profile_of(task), self.system, shown=inked)
        yield
        self.cut.refresh()
        self.setting.refresh()
        if sheets is None:
            self.results.show_results([], self.system)
            self.settings.setVisible(False)
            return
        plan = sheets.cutting
        by_hand = plan.profile.by_hand
        self.printed.setVisible(by_hand)
        self.settings.setVisible(bool(plan.sheets))
        changes = plan.setting_changes
        if changes != self._shown:
            self._shown = changes
            clear_layout(self._list)
            for number, (sheet, setting) in enumerate(changes):
                words = f"Sheet {sheet + 1} on: {setting}"
                if number:
                    words = f"Change the setting. {words}"
                self._list.addWidget(label(words, "look" if number else "", wrap=True))
        strokes = [(p, s.profile) for s in plan.sheets for p in s.paths]
        cut = sum(p.length * p.passes for p, _ in strokes if p.role == "cut")
        score = sum(p.length for p, _ in strokes if p.role == "score")
        moving = sum(stroke_seconds(p, by) for p, by in strokes if p.role in MOVING)
        lifts = sum(by.lift for _, by in strokes)
        change = sum(s.profile.tool_change * s.tool_changes for s in plan.sheets)
        load = sum(s.profile.loading for s in plan.sheets)
        terms = (
            reckon(
                f"cutting {cut / 1000:.1f} m, scoring {score / 1000:.1f} m",
                moving,
                "length over speed, every pass, and a stop at sharp corners",
                unit="s",
            ),
            constant(counted(len(strokes), "lift"), lifts, "s", Mark.MEMORY),
            constant(counted(plan.tool_changes, "tool change"), change, "s", Mark.MEMORY),
            constant(f"{counted(len(plan.sheets), 'sheet')} loaded", load, "s", Mark.MEMORY),
            reckon(
                "ways between",
                plan.seconds - moving - lifts - change - load,
                "with the tool up",
                unit="s",
            ),
        )
        time = reckon("Time", plan.seconds, "path, lifts, tool changes, loading", *terms, unit="s")
        self.results.show_results(
            [
                ("time", time, "Cutting time" if not by_hand else "Time with the knife"),
                ("tools", given("Tool changes", plan.tool_changes, ""), ""),
                ("changes", given("Setting changes", max(0, len(changes) - 1), ""), ""),
            ],
            self.system,
        )
        self.results.setToolTip(f"In all {format_duration(plan.seconds)}")
