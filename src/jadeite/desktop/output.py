"""What leaves the program: the files of a job, and its printed pages; made in a process."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QSettings, pyqtSignal
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QFileDialog, QWidget

from jadeite.core.formats import FORMATS
from jadeite.core.formats.page import Page
from jadeite.core.formats.pages import PAPERS
from jadeite.core.units import System
from jadeite.desktop.jobs import Job
from jadeite.desktop.printing import new_printer, print_pages_on
from jadeite.desktop.session import Session

__all__ = ["Output"]

LAYING_OUT = "The sheets are still being laid out: try again in a moment."
LONGEST = 60_000  # ms; from memory, that a window which closes waits for its files


class Output(QObject):
    """Writing and printing for one window; every refusal is said."""

    said = pyqtSignal(str)
    wrote = pyqtSignal(list)  # paths
    previewed = pyqtSignal(QPrintPreviewDialog)

    def __init__(self, session: Session, window: QWidget, settings: QSettings) -> None:
        super().__init__(window)
        self.session, self.window, self.settings = session, window, settings
        self.sheet = ""  # style sheet of the preview
        self._printer: QPrinter | None = None
        self._write_job = Job("write", self, queue=True)
        self._write_job.succeeded.connect(self._on_written)
        self._pages_job = Job("pages", self, queue=True)
        self._pages_job.succeeded.connect(self._on_pages)
        self._prints_job = Job("prints", self, queue=True)
        self._prints_job.succeeded.connect(self._on_pages)
        for job in (self._write_job, self._pages_job, self._prints_job):
            job.failed.connect(session.trouble)
            session.extra_jobs.append(job)

    def paper(self) -> str:
        """Paper of the printed pages."""
        choice = str(self.settings.value("paper", "a4"))
        return choice if choice in PAPERS else "a4"

    def system(self) -> System:
        """Of the lengths in words on the pages."""
        return "inches" if self.settings.value("units") == "inches" else "mm"

    # ------------------------------------------------------------- files

    def write(self, only: tuple[str, ...] = FORMATS) -> None:
        """Ask for a folder and write the files of the job there."""
        start = str(self.settings.value("folder", str(Path.home())))
        name = QFileDialog.getExistingDirectory(self.window, "Write the files into a folder", start)
        if name:
            self.settings.setValue("folder", name)
            self.write_to(Path(name), only)

    def write_to(self, folder: Path, only: tuple[str, ...] = FORMATS) -> None:
        """Write the files of the job into a folder; ``wrote`` tells when they are there."""
        job, sheets = self.session.job_work, self.session.sheets
        if job.refused is not None:
            self.session.trouble.emit(f"Nothing written. {job.refused.message}")
        elif sheets is None or not self.session.sheets_current:
            self.session.trouble.emit(f"Nothing written. {LAYING_OUT}")
        else:
            self.said.emit("writing the files …")
            self._write_job.start(folder, job, sheets, folder, self.paper(), self.system(), only)

    def _on_written(self, result: object, folder: object) -> None:
        if isinstance(result, list):
            self.said.emit(f"{len(result)} files written to {folder}")
            self.wrote.emit(result)

    def let_finish(self) -> None:
        """Files that are being written are written to their end."""
        if self._write_job.busy:
            self._write_job.wait(LONGEST)

    # ------------------------------------------------------------- pages

    def preview(self) -> None:
        """Show the pages as they will be printed."""
        self._ask_pages(self._show_preview)

    def print(self) -> None:
        """Ask for a printer and print."""
        self._ask_pages(self._print)

    def print_sheets(self) -> None:
        """Show the sheets that are printed before they are cut, as they will be printed."""
        sheets = self.session.sheets
        if sheets is None or not self.session.sheets_current:
            self.session.trouble.emit(f"Nothing to print yet. {LAYING_OUT}")
        else:
            self._prints_job.start(self._show_preview, sheets)

    def _ask_pages(self, use: Callable[[list[Page]], None]) -> None:
        job, sheets = self.session.job_work, self.session.sheets
        if self.session.work.design is None:
            self.session.trouble.emit("Nothing to print yet. Add a thing first.")
        elif sheets is None or not self.session.sheets_current:
            self.session.trouble.emit(f"Nothing to print yet. {LAYING_OUT}")
        else:
            self._pages_job.start(use, job, sheets, self.paper(), self.system())

    @staticmethod
    def _on_pages(result: object, use: object) -> None:
        if isinstance(result, list) and callable(use):
            use(result)

    def _print(self, pages: list[Page]) -> None:
        printer = new_printer(pages)
        if QPrintDialog(printer, self.window).exec():
            print_pages_on(printer, pages)

    def _show_preview(self, pages: list[Page]) -> None:
        self._printer = new_printer(pages)  # the dialog does not keep it alive
        dialog = QPrintPreviewDialog(self._printer, self.window)
        dialog.setStyleSheet(self.sheet)
        dialog.setWindowTitle("Print preview: print at 100 %")
        dialog.paintRequested.connect(lambda printer: print_pages_on(printer, pages))
        dialog.resize(900, 760)
        dialog.show()
        self.previewed.emit(dialog)
