"""Shape: the shelf, the options of the shape, and its sizes."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QWidget

from jadeite.core.nets import Piece
from jadeite.core.pictures import Camera, Scene, SceneStyle, net_picture
from jadeite.core.pictures.palette import BOARD_COLOURS
from jadeite.core.pipeline import Work
from jadeite.core.reckoning import Mark, Reckoning, given, reckon
from jadeite.core.shapes import Option
from jadeite.core.units import format_area, format_duration, format_size
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.widgets import Card, Segmented, label

__all__ = ["ShapePanel", "ShelfTile", "shape_results"]

REDRAW = 140  # ms after the last change until the shelf is drawn again


class ShelfTile(QPushButton):
    """A shape drawn for the present contents: its nets and its folded form."""

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "tile")
        self.setCheckable(True)
        self.setChecked(True)
        self.setFixedHeight(104)
        self.work: Work | None = None
        self.panel: Panel | None = None
        self._picture: QPixmap | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(REDRAW)
        self._later.timeout.connect(self._draw)

    def sizeHint(self) -> QSize:
        return QSize(280, 104)

    def show_work(self, work: Work) -> None:
        """Draw another design, a moment after the last change."""
        self.work = work
        self._later.start()

    def _draw(self) -> None:
        ratio = self.devicePixelRatioF()
        self._picture = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
        self._picture.setDevicePixelRatio(ratio)
        self._picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(self._picture)
        self._paint(painter)
        painter.end()
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._draw()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self._picture is not None:
            painter = QPainter(self)
            painter.drawPixmap(0, 0, self._picture)
            painter.end()

    def _paint(self, painter: QPainter) -> None:
        """Its nets and its folded form, side by side."""
        work, panel = self.work, self.panel
        if work is None or work.design is None or work.lift is None or panel is None:
            return
        colours = work.colours
        third = self.width() * 0.27
        for i, piece in enumerate(work.design.pieces[:2]):
            painter.save()
            painter.translate(8 + i * third, 10)
            colour = colours.get(piece.name, BOARD_COLOURS[0][1])
            net = net_picture(piece, panel.palette_, colour, third - 8, self.height() - 20.0, 0.55)
            paint_picture(painter, net)
            painter.restore()
        left = 8 + 2 * third
        painter.translate(left, 8)
        painter.setClipRect(QRectF(0, 0, self.width() - left - 6, self.height() - 14))
        scene = Scene(work.design, work.lift.pose(1.0).matrices)
        width, height = self.width() - left - 8, self.height() - 16
        camera = scene.fitted(Camera(28, 32), width, height, (4, 4, 8, 4))
        style = SceneStyle(panel.palette_, colours, 0.7, dimensions=False, names=False)
        paint_picture(painter, scene.draw(camera, style), int(width), int(height))


def panel_results(piece: Piece, name: str) -> list[tuple[str, Reckoning, str]]:
    """What may be asked about one panel."""
    panel = piece.panel(name)
    out = [
        ("panel-width", given("Along its fold", panel.size[0]), ""),
        ("panel-depth", given("Away from its fold", panel.size[1]), ""),
    ]
    for fold in piece.folds:
        if fold.child == name and fold.tree:
            turn = reckon(
                "Fold",
                abs(fold.angle),
                f"{fold.mark}, seen from the good side; {fold.kind}",
                given("length of the fold", fold.length),
                unit="deg",
            )
            out.append(("panel-fold", turn, f"Fold, {fold.mark}"))
    return out


def shape_results(work: Work) -> list[tuple[str, Reckoning, str]]:
    """What the shape has derived, and the board it takes."""
    if work.design is None:
        return []
    derived = [(k, v, "") for k, v in work.design.sizes.items() if v.mark is not Mark.GIVEN]
    return [*derived, *((key, work.sizes[key], "") for key in ("board-area", "weight"))]


class ShapePanel(Panel):
    """Options on top, results below, the chosen panel between."""

    def build(self) -> None:
        """Make the widgets, once."""
        shelf = Card("Shelf: drawn for these contents")
        self.tile = ShelfTile()
        self.tile.panel = self
        self.tile.clicked.connect(lambda: self.tile.setChecked(True))
        shelf.add(self.tile)
        self.about = label("", "small", wrap=True)
        shelf.add(self.about)
        self.column.addWidget(shelf)
        self.options = Card("Options")
        self._editors: dict[str, QWidget] = {}
        for option in self.session.work.family.options:
            self.options.row(option.label, self._editor(option), option.help)
        self.column.addWidget(self.options)
        self.panel_card = ResultsCard("")
        self.column.addWidget(self.panel_card)
        self.results = ResultsCard()
        self.column.addWidget(self.results)
        self.closes = label("", "settled")
        self.results.row("Closes", self.closes)
        self.chosen: tuple[str, str] | None = None

    def _editor(self, option: Option) -> QWidget:
        path = f"shape.options.{option.key}"
        if option.choices:
            choice = Segmented(option.choices, option.label)
            choice.chosen.connect(lambda value: self.session.set_field(path, value))
            for button in choice.buttons.values():
                button.setToolTip(option.help)
            self._editors[option.key] = choice
            return choice
        edit = LengthEdit(option.label, option.low, option.high)
        edit.edited.connect(lambda value: self.session.set_field(path, value))
        edit.refused.connect(self.session.trouble)
        self._editors[option.key] = edit
        return edit

    def choose(self, where: tuple[str, str] | None) -> None:
        """Show the figures of a panel."""
        self.chosen = where
        self._show_panel()

    def _show_panel(self) -> None:
        design = self.session.work.design
        if design is None or self.chosen is None:
            self.panel_card.show_results([], self.system)
            self.panel_card.setVisible(False)
            return
        piece = design.piece(self.chosen[0])
        if self.chosen[1] not in piece.index:
            self.panel_card.setVisible(False)
            return
        title = piece.panel(self.chosen[1]).title
        self.panel_card.heading.setText(
            title
            if title.startswith(piece.title)
            else f"{piece.title}, {title} wall"
            if piece.panel(self.chosen[1]).role == "wall"
            else f"{piece.title}: {title}"
        )
        self.panel_card.heading.setVisible(True)
        self.panel_card.show_results(panel_results(piece, self.chosen[1]), self.system)
        self.panel_card.setVisible(True)

    def refresh(self) -> None:
        """Show the document as it now is."""
        work = self.session.work
        options = self.session.project.shape.options
        for option in work.family.options:
            editor = self._editors[option.key]
            value = options.get(option.key, option.default)
            if isinstance(editor, Segmented):
                editor.set_value(str(value))
            elif isinstance(editor, LengthEdit):
                editor.set_value(float(value), self.system)
        self.tile.show_work(work)
        self.tile.setEnabled(work.design is not None)
        self.tile.setAccessibleName(f"{work.family.title}, drawn for these contents")
        self.tile.setToolTip(work.family.about)
        self.about.setText(self._about(work))
        self._show_panel()
        self.results.show_results(shape_results(work), self.system)
        self.results.setVisible(work.design is not None)
        glued = [r for r in work.joints if r.joint.kind == "glue"]
        closed = sum(r.closed for r in glued)
        if glued:
            word = "yes" if closed == len(glued) and not work.blocked else "no"
            gap = work.sizes["seam-gap"].value
            self.closes.setText(f"{word}, {closed} of {len(glued)} joints, {gap:.2f} mm")
            self.closes.setProperty("role", "settled" if word == "yes" else "blocked")

    def _about(self, work: Work) -> str:
        if work.design is None:
            return work.family.about
        sheets = self.session.sheets
        count = "sheets follow"
        if sheets is not None:
            number = len(sheets.layout.sheets)
            count = f"{number} sheet" if number == 1 else f"{number} sheets"
        minutes = format_duration(work.assembly.seconds) if work.assembly else ""
        glued = sum(j.kind == "glue" for j in work.design.joints)
        inside = format_size(work.inside, self.system, places=0)
        area = format_area(work.sizes["board-area"].value, self.system)
        return (
            f"{work.family.title} · inside {inside} · {len(work.design.pieces)} pieces · "
            f"{area} · {count} · {glued} glue joints · {minutes}"
        )
