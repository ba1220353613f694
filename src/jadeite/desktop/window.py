"""The window: docket, table, figures, findings."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QByteArray, QSettings, Qt
from PyQt6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeyEvent,
)
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.findings import Finding
from jadeite.core.formats.journal import Recovered
from jadeite.core.pictures import LIGHT
from jadeite.core.steps import Steps
from jadeite.core.units import System
from jadeite.desktop.board_choice import BoardChoice
from jadeite.desktop.centre import Centre
from jadeite.desktop.commands import Commands
from jadeite.desktop.cut_run import CutRun
from jadeite.desktop.docket import Docket
from jadeite.desktop.findings_bar import FindingsBar
from jadeite.desktop.inks import Inks
from jadeite.desktop.item_actions import ItemActions
from jadeite.desktop.laying import Laying
from jadeite.desktop.library import Library
from jadeite.desktop.menus import Menus
from jadeite.desktop.output import Output
from jadeite.desktop.restyle import Restyler
from jadeite.desktop.session import Session
from jadeite.desktop.slip_row import SLIP_PICTURE
from jadeite.desktop.stations import (
    AssemblyPanel,
    BoardPanel,
    ContentsPanel,
    CuttingPanel,
    NotebookPanel,
    Panel,
    ShapePanel,
    SheetsPanel,
)
from jadeite.desktop.summary import docket_entries, docket_totals, slips_of
from jadeite.desktop.theme import apply_theme, icon, palette_for, style_sheet
from jadeite.desktop.turns import Turns
from jadeite.desktop.widgets import Segmented, button, label

__all__ = ["Window"]

TITLE_LEAST, TITLE_MOST, TITLE_EDGE = 190, 360, 26  # pixels; from memory
AT_ONCE = 0.005  # s; from memory, that a change may take before the rest of it comes in turns


class Window(QMainWindow):
    """One open project, at one of seven stations."""

    def __init__(self, state_folder: Path, settings: QSettings, data_folder: Path) -> None:
        super().__init__()
        self.settings = settings
        self.session = Session(state_folder / "journal", self, Library(data_folder, self))
        self.choice = BoardChoice(self.session)
        self.commands = Commands(self.session, self, settings)
        self.output = Output(self.session, self, settings)
        self.things = ItemActions(self.session)
        self.inks = Inks(self.session)
        self.laying = Laying(self.session)
        self.cut_run = CutRun(self.session, state_folder)
        self.system: System = "inches" if settings.value("units") == "inches" else "mm"
        self.theme = str(settings.value("theme", "desktop"))
        self.station = "contents"
        self.setWindowTitle("Jadeite")
        self.setMinimumSize(1000, 660)
        self.setAcceptDrops(True)
        self._recovered: list[Recovered] = []
        self._turns = Turns()
        self._build()
        self.menus.fill(self)
        self._connect()
        self.setWindowIcon(icon("app", LIGHT.ink, 64))
        self.set_theme(self.theme, remember=False)
        geometry = settings.value("geometry")
        if not (isinstance(geometry, QByteArray) and self.restoreGeometry(geometry)):
            self.resize(1280, 800)
        self.open_station("contents")
        self.centre.focus_shown()

    # ------------------------------------------------------------- building

    def _build(self) -> None:
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 8)
        column.setSpacing(0)
        top = self._build_top()
        column.addWidget(top)
        middle = QHBoxLayout()
        middle.setContentsMargins(14, 14, 12, 8)
        middle.setSpacing(14)
        self.docket = Docket()
        middle.addWidget(self.docket)
        self.centre = Centre(self.session, self.choice, self.laying)
        middle.addWidget(self.centre, 1)
        self.figures = QStackedWidget()
        self.figures.setFixedWidth(328)
        self.panels: dict[str, Panel] = {
            "contents": ContentsPanel(self.session),
            "shape": ShapePanel(self.session),
            "board": BoardPanel(self.session, self.choice),
            "sheets": SheetsPanel(self.session, self.laying),
            "cutting": CuttingPanel(self.session, self.cut_run),
            "assembly": AssemblyPanel(self.session),
            "notebook": NotebookPanel(self.session),
        }
        for panel in self.panels.values():
            self.figures.addWidget(panel)
        middle.addWidget(self.figures)
        column.addLayout(middle, 1)
        foot = QHBoxLayout()
        foot.setContentsMargins(14, 0, 14, 0)
        self.findings = FindingsBar()
        foot.addWidget(self.findings)
        column.addLayout(foot)
        self.setCentralWidget(holder)
        cards = [part for panel in self.panels.values() for part in panel.styled()]
        self.restyler = Restyler(self, (self.docket, self.centre, *cards, top, self.findings))

    def _build_top(self) -> QFrame:
        top = QFrame()
        top.setProperty("role", "top")
        top.setFixedHeight(44)
        line = QHBoxLayout(top)
        line.setContentsMargins(8, 0, 14, 0)
        line.setSpacing(10)
        self.menus = Menus()
        line.addWidget(self.menus, alignment=Qt.AlignmentFlag.AlignVCenter)
        self.title = QLineEdit()
        self.title.setAccessibleName("Title of the project")
        self.title.setToolTip("Title of the project; click to change it.")
        self.title.setMaxLength(120)
        self.title.setFixedWidth(TITLE_LEAST)
        self.title.setStyleSheet(
            "QLineEdit { border: none; background: transparent; "
            "font-weight: 700; font-size: 11.5pt; }"
        )
        self.title.editingFinished.connect(self._change_title)
        line.addWidget(self.title)
        self.occasion = label("", "quiet")
        line.addWidget(self.occasion)
        self.saved = label("", "quiet")
        line.addWidget(self.saved)
        line.addStretch(1)
        self.undo_button = button("Undo", self.session.undo, "plain", "Undo (Ctrl+Z)")
        self.redo_button = button("Redo", self.session.redo, "plain", "Redo (Ctrl+Shift+Z)")
        line.addWidget(self.undo_button)
        line.addWidget(self.redo_button)
        self.units = Segmented((("mm", "mm"), ("inches", "inches")), "Units")
        self.units.setToolTip("How lengths are shown; the exact value is kept.")
        self.units.chosen.connect(self.set_system)
        line.addWidget(self.units)
        self.write_button = button(
            "Write the files",
            self.output.write,
            "main",
            "Cut files, step sheets and tables, into a folder (Ctrl+E).",
        )
        line.addWidget(self.write_button)
        return top

    def _connect(self) -> None:
        self.docket.opened.connect(self.open_station)
        self.docket.add_asked.connect(lambda: self.show_shelf(adding=True))
        slips, things = self.docket.slips, self.things
        slips.chosen.connect(self._choose)
        slips.renamed.connect(things.rename)
        slips.moved.connect(things.move)
        slips.put.connect(things.put)
        slips.asked.connect(self._on_slip)
        self.session.changed.connect(self.refresh)
        self.session.sheets_changed.connect(self.refresh_sheets)
        self.session.saved_changed.connect(self._show_saved)
        self.session.trouble.connect(self.findings.say)
        self.centre.play_asked.connect(self.play)
        self.findings.pointed.connect(self._point_at)
        self.findings.cured.connect(self.session.cure)
        self.commands.recent_changed.connect(self.menus.fill_recent)
        start = self.centre.start
        self.commands.recent_changed.connect(lambda: start.show_recent(self.commands.recent))
        start.show_recent(self.commands.recent)
        start.opened.connect(lambda path: self.commands.open_path(Path(path), ask=True))
        start.copied.connect(self.commands.open_example)
        self.output.said.connect(self._say)
        self.session.said.connect(self._say)
        self.cut_run.changed.connect(lambda: self.centre.show_run(self.cut_run.run))
        self.commands.recovered.connect(self._offer)
        shape, assembly = self.panels["shape"], self.panels["assembly"]
        board, cutting = self.panels["board"], self.panels["cutting"]
        assert isinstance(shape, ShapePanel)
        assert isinstance(assembly, AssemblyPanel)
        assert isinstance(board, BoardPanel)
        assert isinstance(cutting, CuttingPanel)
        self.centre.table.panel_chosen.connect(shape.choose)
        self.centre.table.panel_chosen.connect(self._on_panel)
        self.centre.table.handle_moved.connect(shape.move)
        shape.chooser.shelf_asked.connect(lambda shown: self.show_shelf(shown))
        self.centre.shelf.picked.connect(lambda _: self.show_shelf(False))
        self.centre.shelf.added.connect(self._add_thing)
        self.centre.shelf.left.connect(self._add_none)
        self.centre.board.picked.connect(board.choose_board)
        contents = self.panels["contents"]
        assert isinstance(contents, ContentsPanel)
        contents.picture.view_asked.connect(self.centre.show_photo)
        contents.picture.tool_chosen.connect(self.centre.photo.set_tool)
        self.centre.photo.rubbed.connect(contents.picture.rub)
        self.centre.photo.cropped.connect(contents.picture.crop)
        self.inks.arrived.connect(self._show_inks)
        self.centre.timeline.step_chosen.connect(assembly.go)
        assembly.step_shown.connect(self.centre.show_step)
        cutting.print_asked.connect(self.output.preview)
        cutting.printer.print_asked.connect(self.output.print_sheets)

    # ------------------------------------------------------------- stations

    def open_station(self, key: str) -> None:
        """Open a station; the order is never forced."""
        if key != "shape":
            self._add_none()
        self.station = key
        self.docket.choose(key)
        self._turns.take("station", self._opening(key))
        self._turns.go_on(AT_ONCE)

    def _opening(self, key: str) -> Steps[None]:
        """Bring a station up to date, for only the open one is kept so, and show it."""
        panel = self.panels[key]
        yield from self.restyler.within(panel)
        yield from panel.refreshing()
        self.figures.setCurrentWidget(panel)
        yield
        self.centre.open_station(key)
        yield
        if isinstance(panel, AssemblyPanel):
            panel.go(panel.number)
        if isinstance(panel, ShapePanel):
            self.centre.shelf.warm()

    def _add_thing(self, key: str) -> None:
        """One more made thing; its first station asks what it is to be."""
        self.show_shelf(False)
        self.things.add(key)
        self.open_station("contents")

    def _add_none(self) -> None:
        """No made thing is to be added after all."""
        if self.centre.shelf.adding:
            self.show_shelf(False)

    def _choose(self, name: str) -> None:
        self._add_none()
        self.session.choose(name)

    def _on_slip(self, what: str, name: str) -> None:
        """What is asked for by a slip's menu or keys."""
        verb, _, holder = what.partition(":")
        if verb == "out":
            self.things.take_out(name, holder)
        elif verb == "copy":
            self.things.copy(name)
        else:
            self.things.remove(name)

    def show_shelf(self, shown: bool = True, *, adding: bool = False) -> None:
        """The shelf of all shapes at the Shape station, or back to the table.

        ``adding`` asks for the shape of one more made thing.
        """
        self.centre.shelf.set_adding(adding)
        shape = self.panels["shape"]
        assert isinstance(shape, ShapePanel)
        shape.set_adding(adding)
        shape.chooser.view.set_value("shelf" if shown else "table")
        self.centre.show_shelf(shown)
        if shown and self.station != "shape":
            self.open_station("shape")

    def play(self) -> None:
        """The space bar: play the lift, the cutting, or hold a seam."""
        if self.station == "assembly":
            panel = self.panels["assembly"]
            assert isinstance(panel, AssemblyPanel)
            panel.toggle_timer()
        else:
            self.centre.play()

    def _on_panel(self, where: object) -> None:
        if where is not None and self.station not in ("shape", "assembly"):
            self.open_station("shape")

    def _point_at(self, finding: object) -> None:
        marked: frozenset[tuple[str, str]] = frozenset()
        design = self.session.work.design
        here = isinstance(finding, Finding) and finding.item in ("", self.session.chosen)
        if here and design is not None and finding.where:
            piece, _, panel = finding.where.partition("/")
            names = {p.name: p for p in design.pieces}
            if piece in names:
                panels = [panel] if panel else [p.name for p in names[piece].panels]
                marked = frozenset((piece, p) for p in panels)
        self.centre.table.set_marked(marked)

    # ------------------------------------------------------------- look

    def set_system(self, system: str) -> None:
        """Metric or inches; only the display changes."""
        self.system = "inches" if system == "inches" else "mm"
        self.settings.setValue("units", self.system)
        self._show_look()

    def set_theme(self, choice: str, *, remember: bool = True) -> None:
        """Light, dark, or as the desktop."""
        self.theme = choice
        if remember:
            self.settings.setValue("theme", choice)
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        self.palette_ = palette_for(choice)
        apply_theme(app, self.palette_)
        sheet = style_sheet(self.palette_)
        self.restyler.apply(sheet)
        self.commands.sheet = self.output.sheet = sheet
        self._show_look()

    def _show_look(self) -> None:
        """Units and colours of what is drawn or worded by the parts themselves."""
        p = self.palette_
        self.units.set_value(self.system)
        self.docket.set_palette(p)
        self.centre.set_look(p, self.system)
        for panel in self.panels.values():
            panel.set_look(self.system, p)
        self.refresh()

    # ------------------------------------------------------------- showing

    def refresh(self) -> None:
        """Show the document as it now is, everywhere: at once what is quick, then in turns."""
        self._turns.take("work", self._showing(self.centre.show_work, self._show_saved))
        self.refresh_sheets()

    def refresh_sheets(self) -> None:
        """Show what follows from the layout."""
        self._turns.take("figures", self._figures())
        self._turns.take(
            "results",
            self._showing(self.centre.update_charts, self._show_results, self._show_findings),
        )
        self._turns.go_on(AT_ONCE)

    @property
    def busy(self) -> bool:
        """Whether something is computed, or a part of the window does not show it yet."""
        return self._turns.busy or self.restyler.busy or not self.session.settled()

    @staticmethod
    def _showing(*parts: Callable[[], None]) -> Steps[None]:
        for show in parts:
            show()
            yield

    def _figures(self) -> Steps[None]:
        yield from self.panels[self.station].refreshing()

    def _show_inks(self) -> None:
        """A picture can be painted by now."""
        self.centre.table.set_palette(self.palette_, self.system)
        self.centre.photo.update()
        self.centre.update_charts()

    def _show_results(self) -> None:
        session = self.session
        first = {"face": "Face", "span": "Place"}.get(session.task.brief.kind, "Contents")
        self.docket.show_things(slips_of(session), session.chosen, session.bench.pictures, first)
        session.bench.draw_small(self.palette_, SLIP_PICTURE)
        self.docket.show_entries(docket_entries(session, self.system), docket_totals(session))
        ready = session.bench.whole and session.job_work.refused is None
        self.write_button.setEnabled(ready and self.session.sheets is not None)

    def _show_findings(self) -> None:
        self.findings.show_findings(self.session.findings, self.system)

    def _show_saved(self) -> None:
        project = self.session.project
        if not (self.title.hasFocus() and self.title.isModified()):
            self.title.setText(project.title)
            wide = self.title.fontMetrics().horizontalAdvance(project.title) + TITLE_EDGE
            self.title.setFixedWidth(min(max(wide, TITLE_LEAST), TITLE_MOST))
            self.title.setCursorPosition(0)
        self.occasion.setText(project.occasion)
        self.saved.setText(
            "not saved yet"
            if self.session.dirty
            else ("saved" if self.session.path else "nothing to save")
        )
        name = self.session.path.name if self.session.path else project.title
        self.setWindowTitle(f"{name}{' *' if self.session.dirty else ''} – Jadeite")
        for enabled, parts in (
            (self.session.history.can_undo, (self.undo_button, self.menus.undo)),
            (self.session.history.can_redo, (self.redo_button, self.menus.redo)),
        ):
            for part in parts:
                part.setEnabled(enabled)

    def _change_title(self) -> None:
        words = self.title.text().strip()
        if words and words != self.session.project.title:
            self.session.edit(title=words)
        self._show_saved()

    def _say(self, words: str) -> None:
        self.saved.setText(words)

    def copy_picture(self) -> None:
        """Put what the centre shows on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setImage(self.centre.image())
            self._say("picture copied")

    # ------------------------------------------------------------- recovery, files

    def _offer(self, found: list[Recovered]) -> None:
        self.centre.offer(found, self._take_back, self._forget)

    def _take_back(self, found: Recovered) -> None:
        if self.commands.may_leave():
            self.commands.recover(found)

    def _forget(self, found: Recovered) -> None:
        self.commands.forget(found)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The space bar, where no button or field has taken it for itself."""
        if event is not None and event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.play()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is None:
            return
        data = event.mimeData()
        if data is not None and any(u.toLocalFile().endswith(".jadeite") for u in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is None:
            return
        data = event.mimeData()
        if data is None:
            return
        for url in data.urls():
            path = url.toLocalFile()
            if path.endswith(".jadeite"):
                event.acceptProposedAction()
                self.commands.open_path(Path(path), ask=True)
                return

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.commands.may_leave():
            event.ignore()
            return
        self.output.let_finish()
        self.settings.setValue("geometry", self.saveGeometry())
        self.session.discard()
        self._turns.clear()
        self.restyler.clear()
        event.accept()
