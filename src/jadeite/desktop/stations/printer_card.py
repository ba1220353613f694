"""The printer: its paper, and how well the cutter meets what it prints."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit

from jadeite.core.cutting import CutterProfile, profile_of
from jadeite.core.cutting.calibration import GOOD_ENOUGH, readings_from, solved
from jadeite.core.errors import JadeiteError
from jadeite.core.formats.printer_library import Calibrated
from jadeite.core.project import Correction, Printer, changed
from jadeite.core.sheets.marks import IN_PRINTERS, PAPERS
from jadeite.core.units import System, format_length
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Disclosure, Segmented, button, label

__all__ = ["PrinterCard"]

WIDTH = 168
HOW = (
    "Print calibration.pdf and cut it with calibration.svg. At each comb A to H, the line in "
    "which a cut runs on is the reading."
)


class PrinterCard(Card):
    """Decides the paper, prints the sheets, and takes the readings of a calibration."""

    print_asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__("Printed sheets")
        self.session = session
        self.job = Job("calibration", self)
        self.job.succeeded.connect(self._on_written)
        self.job.failed.connect(session.trouble)
        session.extra_jobs.append(self.job)
        self.paper = QComboBox()
        for key, words in IN_PRINTERS.items():
            self.paper.addItem(words, key)
        self.paper.setFixedWidth(WIDTH)
        self.paper.activated.connect(lambda _: self._change(paper=self.paper.currentData()))
        self.row("Paper", self.paper, "In the printer; 16 mm along its edges are for the marks.")
        self.way = Segmented((("plain", "as it is"), ("mirrored", "mirrored")), "Printed")
        self.way.chosen.connect(lambda key: self._change(mirrored=key == "mirrored"))
        self.row("Printed", self.way, "Mirrored for film whose printed side lies down.")
        self.name = QComboBox()
        self.name.setEditable(True)
        self.name.setFixedWidth(WIDTH)
        self.name.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.name.activated.connect(lambda _: self._named())
        edit = self.name.lineEdit()
        assert edit is not None
        edit.editingFinished.connect(self._named)
        edit.setMaxLength(60)
        self.row("Printer", self.name, "What you call it: each has its own correction.")
        self.print = button("Print the sheets …", self.print_asked.emit, "", "At 100 %.")
        line = QHBoxLayout()
        line.addWidget(self.print)
        line.addStretch(1)
        self.body.addLayout(line)
        self.words = self.add(label("", "small", wrap=True))
        self.more = Disclosure("calibrate", "Set this cutter to this printer.")
        self.add(self.more)
        self.how = self.more.holds(self.add(label(HOW, "small", wrap=True)))
        self.write = button(
            "Calibration sheet …", self._ask, "", "A page and its cuts, to a folder."
        )
        self.more.holds(self.add(self.write))
        self.readings = QLineEdit()
        self.readings.setPlaceholderText("0 0.5 -1 0 1 0 0 0")
        self.readings.setAccessibleName("Eight readings, A to H")
        self.readings.setToolTip("Lines from the middle, A to H; right and up count on.")
        self.readings.returnPressed.connect(self.take)
        self.more.holds(self.add(self.readings))
        self.use = button("Use these readings", self.take, "main", "Kept for this pair.")
        self.more.holds(self.add(self.use))
        session.library.printers.changed.connect(self._kept)

    # ------------------------------------------------------------- changes

    def _change(self, **fields: object) -> None:
        """Another printer or paper, with what was measured of it."""
        task = self.session.task
        printer = changed(task.printer, **fields)
        known = self.session.library.printers.find(printer.name, task.cutter, printer.paper)
        correction = known.correction if known is not None else Correction()
        self.session.edit(printer=changed(printer, correction=correction))

    def _named(self) -> None:
        name = self.name.currentText().strip()
        if name and name != self.session.task.printer.name:
            self._change(name=name)

    def _kept(self) -> None:
        """Something was measured: the pair in use takes it."""
        self._change()

    def _ask(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "The calibration sheet into a folder")
        if name:
            self.write_to(Path(name))

    def write_to(self, folder: Path) -> None:
        """Write the page and its cuts."""
        task = self.session.task
        self.job.start(folder, task.printer, profile_of(task), folder)

    def _on_written(self, paths: object, folder: object) -> None:
        if isinstance(paths, list):
            self.words.setText(f"{len(paths)} files written to {folder}.")

    def take(self) -> None:
        """Work the correction out of what was read off, and keep it."""
        task = self.session.task
        cutter, printer = profile_of(task), task.printer
        try:
            found = solved(
                readings_from(self.readings.text()), PAPERS[printer.paper], cutter.reach,
                printer.correction,
            )  # fmt: skip
            one = Calibrated(
                printer=printer.name, cutter=cutter.key, paper=printer.paper,
                correction=found.correction, date=date.today().isoformat(), off=found.off,
            )  # fmt: skip
        except JadeiteError as error:
            self.session.trouble.emit(str(error))
            return
        except ValueError:
            self.session.trouble.emit("Readings: they are too far off. Load the sheet again.")
            return
        if self.session.library.printers.keep(one):
            self.readings.clear()

    # ------------------------------------------------------------- showing

    def show_printer(
        self, printer: Printer, cutter: CutterProfile, system: System, *, shown: bool
    ) -> None:
        """Show the decisions; hidden where nothing is printed."""
        self.setVisible(shown)
        if not shown:
            return
        by_hand = cutter.by_hand
        self.paper.setCurrentIndex(self.paper.findData(printer.paper))
        self.way.set_value("mirrored" if printer.mirrored else "plain")
        edit = self.name.lineEdit()
        if edit is not None and not edit.hasFocus():
            names = list(dict.fromkeys((printer.name, *self.session.library.printers.names)))
            if [self.name.itemText(i) for i in range(self.name.count())] != names:
                self.name.clear()
                self.name.addItems(names)
            self.name.setCurrentText(printer.name)
        self.more.setVisible(not by_hand)
        if by_hand:
            self.words.setText("Its outlines are printed too: the knife follows them.")
            return
        known = self.session.library.printers.find(printer.name, cutter.key, printer.paper)
        if known is None:
            self.words.setText(
                "Not calibrated yet: the cut may lie some tenths of a millimetre beside the "
                "print. A border or ink past the cut hides it."
            )
            return
        off = format_length(known.off, system, places=2)
        again = "" if known.off <= GOOD_ENOUGH else " Print and cut the sheet once more."
        self.words.setText(f"Calibrated {known.date}: the cut was up to {off} beside it.{again}")
