"""The centre of the window: the table, or the view of the open station."""

from __future__ import annotations

from collections.abc import Callable, Set

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from jadeite.core.formats.journal import Recovered
from jadeite.core.machine import Run
from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.pipeline import outline_option
from jadeite.core.units import System
from jadeite.desktop.arrangement_strip import ArrangementStrip
from jadeite.desktop.board_choice import BoardChoice
from jadeite.desktop.laying import Laying
from jadeite.desktop.lift_bar import LiftBar
from jadeite.desktop.session import Session
from jadeite.desktop.stations.picture_card import photo_on
from jadeite.desktop.table import TableView
from jadeite.desktop.views import (
    BoardChart,
    LayView,
    NotebookChart,
    PhotoView,
    SheetsView,
    ShelfView,
    StartView,
    Timeline,
)
from jadeite.desktop.widgets import button, label

__all__ = ["Centre"]

LIFT_SECONDS = 9.0
CUT_SECONDS = 20.0  # the whole of a sheet, played back
PARTLY_IN = 0.62  # share of the way into a sleeve
WITH_LIFT = ("contents", "shape")
IMAGES = TableView | BoardChart | SheetsView | NotebookChart | ShelfView | PhotoView


class Centre(QFrame):
    """Table with its lift, board chart, sheets, playback, timeline, notebook."""

    play_asked = pyqtSignal()

    def __init__(self, session: Session, choice: BoardChoice, laying: Laying) -> None:
        super().__init__()
        self.session = session
        self.choice = choice
        self.setProperty("role", "table")
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 1, 1, 1)
        column.setSpacing(0)
        self.banner = QFrame()
        self.banner.setProperty("role", "finding-look")
        self._banner_line = QHBoxLayout(self.banner)
        self.banner.setVisible(False)
        column.addWidget(self.banner)
        self.stack = QStackedWidget()
        column.addWidget(self.stack, 1)
        self.arrangements = ArrangementStrip(session)
        self.arrangements.setVisible(False)
        self.table = TableView()
        self.board = BoardChart(choice)
        self.sheets = LayView(laying)
        self.cutting = SheetsView(session, playing=True)
        self.notebook = NotebookChart(session)
        self.board_scroll = QScrollArea()
        self.board_scroll.setWidgetResizable(True)
        self.board_scroll.setFrameShape(QFrame.Shape.NoFrame)
        self.board_scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.board_scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.board_scroll.setWidget(self.board)
        self.shelf = ShelfView(session)
        self.photo = PhotoView()
        self.start = StartView()
        self.shelf_open = self.photo_open = False
        views = (
            self.table,
            self.board_scroll,
            self.sheets,
            self.cutting,
            self.notebook,
            self.shelf,
            self.photo,
            self.start,
        )
        for view in views:
            self.stack.addWidget(view)
        self.foot = QWidget()
        line = QHBoxLayout(self.foot)
        line.setContentsMargins(0, 0, 12, 0)
        line.setSpacing(4)
        self.lift = LiftBar("the lift, from flat to closed", LIFT_SECONDS)
        line.addWidget(self.lift, 1)
        self.fit_button = button(
            "Fit", self.table.fit, "plain", "Everything in view, from the usual side (F)."
        )
        self.key_button = button("Key", self.toggle_key, "plain", "What the lines mean (K).")
        self.night_button = button(
            "In the dark", self.toggle_night, "plain", "As it shines when all else is dark (N)."
        )
        self.night_button.setCheckable(True)
        line.addWidget(self.night_button)
        line.addWidget(self.fit_button)
        line.addWidget(self.key_button)
        column.addWidget(self.foot)
        column.addWidget(self.arrangements)
        self.playback = LiftBar("the cutting of this sheet", CUT_SECONDS)
        self.play_foot = QWidget()
        line = QHBoxLayout(self.play_foot)
        line.setContentsMargins(0, 0, 12, 0)
        line.setSpacing(4)
        line.addWidget(self.playback, 1)
        self.sheet_back = button("Sheet before", lambda: self._other_sheet(-1), "plain")
        self.sheet_next = button("Next sheet", lambda: self._other_sheet(1), "plain")
        line.addWidget(self.sheet_back)
        line.addWidget(self.sheet_next)
        column.addWidget(self.play_foot)
        self.timeline = Timeline(session)
        column.addWidget(self.timeline)
        self.lift.moved.connect(self.table.set_lift)
        self.lift.held.connect(self.table.set_lifting)
        self.playback.moved.connect(self.cutting.set_time)
        self.playback.set_value(1.0)
        self.table.play_asked.connect(self.play_asked)
        self.table.stepped.connect(lambda d: self.lift.set_value(self.lift.value() + d))
        self.station = ""
        self._palette: Palette = LIGHT
        self._system: System = "mm"
        self._family = ""
        self._lifts: dict[str, float] = {}

    def open_station(self, key: str) -> None:
        """Show what belongs to a station."""
        self.lift.stop()
        self.playback.stop()
        if self.station in ("contents", "shape"):
            self._lifts[self.station] = self.lift.value()
        self.station = key
        views = {
            "board": self.board_scroll,
            "sheets": self.sheets,
            "cutting": self.cutting,
            "notebook": self.notebook,
        }
        shown = self.shelf if key == "shape" and self.shelf_open else views.get(key, self.table)
        if key == "contents" and self.photo_open and self.photo.photo is not None:
            shown = self.photo
        if key == "contents" and self._empty:
            shown = self.start
        at = self.focusWidget()
        if shown is not self.start and (at is self.start or self.start.isAncestorOf(at)):
            shown.setFocus()  # it would go to the title, which is not to be changed
        self.stack.setCurrentWidget(shown)
        self.choice.set_open(key == "board")
        self._show_foot()
        self._show_arrangements()
        self.play_foot.setVisible(key == "cutting" and self.cutting.run is None)
        self.timeline.setVisible(key == "assembly")
        self.table.set_marks(dimensions=key != "assembly", disc=key == "contents")
        if key != "assembly":
            self.table.set_hidden(frozenset())
            self.table.look_at(frozenset())
            self.table.set_marked(frozenset())
        if key in ("contents", "shape"):
            self.lift.set_value(self._lifts.get(key, self._usual_lift()))
            self.table.set_lift(self.lift.value())

    @property
    def _empty(self) -> bool:
        """Whether nothing was begun yet: no thing, no size, no file."""
        session = self.session
        one = len(session.project.items) == 1
        return (
            one and session.work.design is None and not session.task.contents and not session.path
        )

    def focus_shown(self) -> None:
        """The keyboard leads what is shown, not the title above it."""
        shown = self.stack.currentWidget()
        if shown is not None:
            shown.setFocus()

    def _show_foot(self) -> None:
        """The lift belongs to the table, once something lies on it."""
        on_table = self.stack.currentWidget() is self.table and self.station in WITH_LIFT
        self.foot.setVisible(on_table and self.session.work.design is not None)

    def show_shelf(self, shown: bool) -> None:
        """Change between the table and the shelf at the Shape station."""
        self.shelf_open = shown
        if self.station == "shape":
            self.open_station("shape")

    def show_photo(self, shown: bool) -> None:
        """Change between the table and the picture that a figure is cut out of."""
        self.photo_open = shown
        if self.station == "contents":
            self.open_station("contents")

    def _usual_lift(self) -> float:
        """Contents in their place: the most telling moment."""
        lift = self.session.work.lift
        if lift is None:
            return 0.0
        if lift.design.mouth[2] > 0:
            return lift.filled
        fill = next(s for s in lift.stages if s.kind == "fill")
        return fill.start + PARTLY_IN * (fill.end - fill.start)  # else it hides what is in it

    def show_work(self) -> None:
        """Show the design as it now is."""
        work = self.session.work
        first = self.table.work is None or self.table.work.design is None
        if self.station == "contents" and self._empty != (self.stack.currentWidget() is self.start):
            self.open_station(self.station)
        self.table.set_work(work)
        self.night_button.setVisible(work.lit)
        self._show_arrangements()
        self._show_foot()
        self.shelf.show_project()
        self._show_photo()
        if work.lift is not None:
            self.lift.slider.set_stops(work.lift.stops)
            other = work.family.key != self._family
            self._family = work.family.key
            if (first or other) and self.station in ("contents", "shape", ""):
                self._lifts = {}
                self.lift.set_value(self._usual_lift())
        if work.design is None and work.findings:
            self.table.notice = ""
        self.update_charts()

    def _show_photo(self) -> None:
        """The picture of the chosen thing, where it has one."""
        task, before = self.session.task, self.photo.photo
        photo, key = photo_on(task), outline_option(task)
        self.photo.show_photo(photo, str(task.shape.options.get(key or "", "")))
        if self.photo_open and (photo is None) != (before is None):
            self.show_photo(photo is not None)

    def _show_arrangements(self) -> None:
        """The strip belongs to the Contents station, once something is arranged."""
        shown = self.station == "contents" and bool(self.session.arrangements)
        self.arrangements.setVisible(shown)
        if shown:
            self.arrangements.show_arrangements(self._system, self._palette)

    def _other_sheet(self, step: int) -> None:
        self.cutting.choose(self.cutting.sheet + step)
        self.update_charts()

    def update_charts(self) -> None:
        """Paint the drawn views again."""
        sheets = self.session.sheets
        count = len(sheets.cutting.sheets) if sheets is not None else 0
        for part in (self.sheet_back, self.sheet_next):
            part.setVisible(count > 1)
        self.sheet_back.setEnabled(self.cutting.sheet > 0)
        self.sheet_next.setEnabled(self.cutting.sheet + 1 < count)
        for view in (self.board, self.sheets, self.cutting, self.notebook, self.timeline):
            view.update()

    def show_run(self, run: Run | None) -> None:
        """What is being cut, in place of what would be."""
        self.cutting.run = run
        self.play_foot.setVisible(self.station == "cutting" and run is None)
        if run is not None:
            self.playback.stop()
        self.cutting.update()

    def show_step(self, number: int) -> None:
        """Show an assembly step on the table."""
        plan, design = self.session.work.assembly, self.session.work.design
        if plan is None or design is None or self.station != "assembly":
            return
        step = plan.steps[min(number, len(plan.steps) - 1)]
        lift = self.session.work.lift
        names: Set[str] = set()
        if lift is not None and step.operation != "shape":  # there they lie in rows, all of them
            names = lift.in_picture(step)
        self.table.set_hidden(
            frozenset(p.name for p in design.pieces if names and p.name not in names)
        )
        self.table.set_lift(step.lift)
        marked = step.panels if step.operation in ("glue", "roll", "raise") else ()
        self.table.set_marked(frozenset(marked))
        self.table.look_at(set(step.panels), above=step.above)
        self.timeline.show_step(number)

    def play(self) -> None:
        """Play or hold the lift, or the cutting."""
        if self.station == "cutting":
            self.playback.toggle()
        elif self.station in WITH_LIFT:
            self.lift.toggle()

    def toggle_key(self) -> None:
        """Show or hide what the lines mean."""
        self.table.key_shown = not self.table.key_shown
        self.table.update()

    def toggle_night(self) -> None:
        """Show it in the dark, or by day."""
        self.table.show_night(not self.table.night)
        self.night_button.setChecked(self.table.night)

    def set_look(self, palette: Palette, system: System) -> None:
        """Colours and units."""
        self._palette, self._system = palette, system
        self.table.set_palette(palette, system)
        self.lift.set_palette(palette)
        self.playback.set_palette(palette)
        for view in (
            self.board,
            self.sheets,
            self.cutting,
            self.notebook,
            self.timeline,
            self.shelf,
            self.photo,
            self.start,
        ):
            view.set_look(palette, system)

    def image(self) -> QImage:
        """What is shown, as an image."""
        view = self.stack.currentWidget()
        if view is self.board_scroll:
            view = self.board
        assert not isinstance(view, QScrollArea)
        assert isinstance(view, IMAGES)
        return view.image()

    def offer(
        self,
        found: list[Recovered],
        take: Callable[[Recovered], None],
        forget: Callable[[Recovered], None],
    ) -> None:
        """Offer what was left when the program ended without saving."""
        newest = found[0]
        more = f" ({len(found) - 1} more)" if len(found) > 1 else ""
        words = label(
            f"“{newest.project.title}” was not saved when Jadeite last ended{more}.", "", wrap=True
        )
        while (item := self._banner_line.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()

        def done(act: Callable[[Recovered], None]) -> None:
            self.banner.setVisible(False)
            act(newest)
            if found[1:]:
                self.offer(found[1:], take, forget)

        self.take_button = button("Bring it back", lambda: done(take), "main")
        self.forget_button = button("Throw it away", lambda: done(forget))
        self._banner_line.addWidget(words, 1)
        self._banner_line.addWidget(self.take_button)
        self._banner_line.addWidget(self.forget_button)
        self.banner.setVisible(True)
