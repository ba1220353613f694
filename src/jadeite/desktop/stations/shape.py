"""Shape: which it is, its options, and its sizes."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QWidget

from jadeite.core.blooms import with_moved
from jadeite.core.nets.model import Handle, Kind
from jadeite.core.pipeline import Work
from jadeite.core.reckoning import Mark, Reckoning, alike
from jadeite.core.shapes import Option
from jadeite.core.steps import Steps, finished
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.chooser import ShapeChooser
from jadeite.desktop.stations.drawing_editor import DrawingEdit
from jadeite.desktop.stations.figure_editor import FigureEdit
from jadeite.desktop.stations.moved_editor import MovedEdit
from jadeite.desktop.stations.option_pictures import OptionPictures
from jadeite.desktop.stations.own_petal import PetalReader
from jadeite.desktop.stations.panel_card import PanelCard
from jadeite.desktop.stations.petal_editors import CountsEdit, OutlineEdit
from jadeite.desktop.stations.print_card import PrintCard
from jadeite.desktop.stations.seen_card import SeenCard
from jadeite.desktop.stations.window_card import WindowCard
from jadeite.desktop.widgets import Card, Disclosure, NumberBox, Segmented, label

__all__ = ["ShapePanel", "shape_results"]

DRAWING = "drawing"  # the unit of an option that keeps an outline of one's own
FIGURE = "figure"  # the unit of an option that keeps the outline of a picture's figure
PLACES = "places"  # the unit of an option that keeps where things were moved to
WIDE = 28  # letters of all choices with their edges; from memory, more have no room in a row
ROW = 40  # letters of those and the label before them; from memory, as above


def shape_results(work: Work) -> list[tuple[str, Reckoning, str]]:
    """What the shape has derived, and the board it takes."""
    if work.design is None:
        return []
    derived = [(k, v, "") for k, v in alike(work.design.sizes).items() if v.mark is not Mark.GIVEN]
    return [*derived, *((key, work.sizes[key], "") for key in ("board-area", "weight"))]


class ShapePanel(Panel):
    """Options on top, results below, the chosen panel between."""

    def build(self) -> None:
        """Make the widgets, once."""
        self.chooser = ShapeChooser(self.session)
        self.column.addWidget(self.chooser)
        self.options = Card("Options")
        self.pictures = OptionPictures(self.session)
        self.pictures.chosen.connect(
            lambda key, value: self.session.set_field(f"shape.options.{key}", value)
        )
        self.show_pictures = Disclosure(
            "what each option does", "Small pictures of this shape, made one way and another."
        )
        self.show_pictures.toggled.connect(self.pictures.show_rows)
        self.options.add(self.show_pictures)
        self.drawings = PetalReader(self.session, self)
        self._editors: dict[str, QWidget] = {}
        self._rows: list[QWidget] = []
        self._lines: dict[str, QWidget] = {}  # the row of each option
        self._family = ""
        self.column.addWidget(self.options)
        finished(self._make_options(self.session.work))
        self.seen = SeenCard()
        self.column.addWidget(self.seen)
        self.panel_card = PanelCard(self.session)
        self.column.addWidget(self.panel_card)
        self.window_card = WindowCard(self.session)
        self.column.addWidget(self.window_card)
        self.print_card = PrintCard(self.session)
        self.column.addWidget(self.print_card)
        self.results = ResultsCard()
        self.column.addWidget(self.results)
        self.closes = label("", "settled")
        self.results.row("Closes", self.closes)
        self.chosen: tuple[str, str] | None = None
        self.adding = False

    def set_adding(self, on: bool) -> None:
        """While the shape of a new made thing is asked, nothing is said of the open one."""
        if on != self.adding:
            self.adding = on
            self._show_shape()
            self._show_panel()

    def _show_shape(self) -> None:
        """Which shape it is, and what belongs to it."""
        work = self.session.work
        if self.adding:
            self.chooser.show_new()
        else:
            self.chooser.show_family(work.family)
        self.options.setVisible(not self.adding)
        self.results.setVisible(work.design is not None and not self.adding)

    def _make_options(self, work: Work) -> Steps[None]:
        """The editors of another shape."""
        family, values = work.family, work.options  # the document may be ahead of them
        if family.key == self._family:
            return
        self._family, self._editors, self._lines = "", {}, {}  # until all are made
        for row in self._rows:
            row.hide()
            row.setParent(None)
            row.deleteLater()
        self._rows = []
        self.pictures.clear()
        for option in family.options:
            editor = self._editor(option)
            wide = isinstance(editor, CountsEdit | OutlineEdit | MovedEdit)  # with own words
            row = self.options.add(editor) if wide else None
            self._lines[option.key] = row or self.options.row(option.label, editor, option.help)
            self._rows.append(self._lines[option.key])
            row = self.pictures.row(option, values[option.key], self.system)
            self.options.add(row)
            self._rows.append(row)
            yield
        self._family = family.key
        self.pictures.show_rows(self.show_pictures.isChecked())

    def _editor(self, option: Option) -> QWidget:
        path = f"shape.options.{option.key}"
        if option.unit == FIGURE:
            figure = FigureEdit(option)
            figure.chosen.connect(lambda words: self.session.set_field(path, words))
            self._editors[option.key] = figure
            return figure
        if option.unit == DRAWING:
            drawing = DrawingEdit(option, self.session)
            drawing.chosen.connect(lambda words: self.session.set_field(path, words))
            self._editors[option.key] = drawing
            return drawing
        if option.words is not None:
            own: OutlineEdit | MovedEdit | CountsEdit
            if option.choices:
                own = OutlineEdit(option, rings=option.most > 1)
            else:
                own = MovedEdit(option) if option.unit == PLACES else CountsEdit(option)
            own.chosen.connect(lambda words: self.session.set_field(path, words))
            if isinstance(own, OutlineEdit):
                self.drawings.serve(own)
            self._editors[option.key] = own
            return own
        letters = sum(len(words) + 2 for _, words in option.choices)
        if letters > WIDE or letters + len(option.label) > ROW:
            box = QComboBox()
            box.setAccessibleName(option.label)
            box.setToolTip(option.help)
            for key, words in option.choices:
                box.addItem(words, key)
            box.setFixedWidth(150)
            box.activated.connect(lambda _: self.session.set_field(path, box.currentData()))
            self._editors[option.key] = box
            return box
        if option.choices:
            choice = Segmented(option.choices, option.label)
            choice.chosen.connect(lambda value: self.session.set_field(path, value))
            for button in choice.buttons.values():
                button.setToolTip(option.help)
            self._editors[option.key] = choice
            return choice
        if option.unit != "mm":
            number = NumberBox(option.label, option.low, option.high, option.suffix)
            number.setSpecialValueText(option.lowest)
            number.chosen.connect(lambda value: self.session.set_field(path, value))
            self._editors[option.key] = number
            return number
        edit = LengthEdit(option.label, option.low, option.high)
        edit.edited.connect(lambda value: self.session.set_field(path, value))
        edit.refused.connect(self.session.trouble)
        self._editors[option.key] = edit
        return edit

    def move(self, handle: object, x: float, y: float) -> None:
        """Something was moved on the table by so many mm."""
        if not isinstance(handle, Handle):
            return
        old = str(self.session.work.options[handle.option])
        place = handle.at[0] + x / handle.per, handle.at[1] + y / handle.per
        words = with_moved(old, handle.number, place)
        self.session.set_field(f"shape.options.{handle.option}", words)

    def choose(self, where: tuple[str, str] | None) -> None:
        """Show the figures of a panel."""
        self.chosen = where
        self._show_panel()

    def _show_panel(self) -> None:
        chosen = None if self.adding else self.chosen
        for card in (self.panel_card, self.window_card, self.print_card):
            card.show_panel(chosen, self.system)

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        work = self.session.work
        options = work.options
        yield from self._make_options(work)
        for option in work.family.options:
            editor = self._editors[option.key]
            value = options[option.key]
            self._lines[option.key].setVisible(option.acts(options))
            if isinstance(editor, Segmented):
                editor.set_value(str(value))
            elif isinstance(editor, LengthEdit):
                editor.set_value(float(value), self.system)
            elif isinstance(editor, NumberBox):
                editor.set_value(float(value))
            elif isinstance(editor, CountsEdit | MovedEdit | FigureEdit | DrawingEdit):
                editor.set_value(str(value))
            elif isinstance(editor, OutlineEdit):
                rings = [str(options[o.key]) for o in work.family.options if o.unit == "counts"]
                editor.set_palette(self.palette_)
                editor.set_value(str(value), len(rings[0].split()) if rings else 1)
            elif isinstance(editor, QComboBox):
                editor.setCurrentIndex(max(0, editor.findData(str(value))))
        yield
        self.pictures.refresh(work, self.palette_)
        self.window_card.set_palette(self.palette_)
        self._show_shape()
        self._show_panel()
        yield
        self.results.show_results(shape_results(work), self.system)
        self.results.setVisible(work.design is not None and not self.adding)
        self.seen.show_work(work, self.palette_)
        glued = [r for r in work.joints if r.joint.kind is Kind.GLUE]
        closed = sum(r.closed for r in glued)
        if glued:
            word = "yes" if closed == len(glued) and not work.blocked else "no"
            gap = work.sizes["seam-gap"].value
            self.closes.setText(f"{word}, {closed} of {len(glued)} joints, {gap:.2f} mm")
            self.closes.setProperty("role", "settled" if word == "yes" else "blocked")
