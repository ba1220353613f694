"""The shelf: every shape drawn for these contents; picking one opens it on the table."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QLabel, QPushButton

from jadeite.core.errors import JadeiteError
from jadeite.core.pictures import LIGHT, Camera, Palette, Scene, SceneStyle, net_picture
from jadeite.core.pictures.palette import BOARD_COLOURS
from jadeite.core.pipeline import Work, arrange_contents, work_up
from jadeite.core.project import Shape, changed
from jadeite.core.shapes import OptionValue, ShapeFamily, all_families
from jadeite.core.units import System, format_area, format_duration, format_size
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, label

__all__ = ["Shelf", "ShelfTile"]

REDRAW = 250  # ms after the last change; from memory


class ShelfTile(QPushButton):
    """A shape drawn for the present contents: its nets and its folded form."""

    picked = pyqtSignal(str)

    def __init__(self, family: ShapeFamily) -> None:
        super().__init__()
        self.family = family
        self.setProperty("role", "tile")
        self.setCheckable(True)
        self.setAccessibleName(f"{family.title}, drawn for these contents")
        self.setToolTip(family.about)
        self.setFixedHeight(104)
        self.work: Work | None = None
        self.palette_: Palette = LIGHT
        self._picture: QPixmap | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(REDRAW)
        self._later.timeout.connect(self._draw)

    def sizeHint(self) -> QSize:
        return QSize(280, 104)

    @property
    def waiting(self) -> bool:
        """Whether its picture is older than its design."""
        return self._later.isActive()

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
        work = self.work
        if work is None or work.design is None or work.lift is None:
            return
        colours = work.colours
        third = self.width() * 0.27
        for i, piece in enumerate(work.design.pieces[:2]):
            painter.save()
            painter.translate(8 + i * third, 10)
            colour = colours.get(piece.name, BOARD_COLOURS[0][1])
            net = net_picture(piece, self.palette_, colour, third - 8, self.height() - 20.0, 0.55)
            paint_picture(painter, net)
            painter.restore()
        left = 8 + 2 * third
        painter.translate(left, 8)
        painter.setClipRect(QRectF(0, 0, self.width() - left - 6, self.height() - 14))
        scene = Scene(work.design, work.lift.pose(1.0).matrices)
        width, height = self.width() - left - 8, self.height() - 16
        camera = scene.fitted(Camera(28, 32), width, height, (4, 4, 8, 4))
        style = SceneStyle(self.palette_, colours, 0.7, dimensions=False, names=False)
        paint_picture(painter, scene.draw(camera, style), int(width), int(height))


class Shelf(Card):
    """A tile for every family; the open one first follows every change."""

    def __init__(self, session: Session) -> None:
        super().__init__("Shelf: drawn for these contents")
        self.session = session
        self.tiles: dict[str, ShelfTile] = {}
        self.abouts: dict[str, QLabel] = {}
        self._kept: dict[str, Mapping[str, OptionValue]] = {}
        for family in all_families():
            tile = ShelfTile(family)
            tile.clicked.connect(lambda _=False, k=family.key: self.pick(k))
            self.add(tile)
            self.tiles[family.key] = tile
            about = label(f"{family.title} · is being drawn …", "small", wrap=True)
            self.add(about)
            self.abouts[family.key] = about
        self._system: System = "mm"
        self._drawn: object = None
        self._others = QTimer(self)
        self._others.setSingleShot(True)
        self._others.setInterval(2 * REDRAW)
        self._others.timeout.connect(self._draw_others)

    @property
    def pending(self) -> bool:
        """Whether something is still to be drawn."""
        return self._others.isActive() or any(t.waiting for t in self.tiles.values())

    def pick(self, key: str) -> None:
        """Make the shape that was picked; its options are as they were left."""
        shape = self.session.project.shape
        for name, tile in self.tiles.items():
            tile.setChecked(name == key)
        if shape.key == key:
            return
        self._kept[shape.key] = dict(shape.options)
        self.session.edit(shape=Shape(key=key, options=dict(self._kept.get(key, {}))))

    def show_work(self, work: Work, system: System, palette: Palette) -> None:
        """Draw the open shape now, the others a moment later."""
        self._system = system
        for key, tile in self.tiles.items():
            tile.palette_ = palette
            tile.setChecked(key == work.family.key)
        tile = self.tiles[work.family.key]
        tile.setEnabled(True)
        tile.show_work(work)
        self.abouts[work.family.key].setText(self._about(work, current=True))
        drawn = (work.project, system, palette.dark)
        if drawn != self._drawn:
            self._drawn = drawn
            self._others.start()

    def _draw_others(self) -> None:
        project = self.session.project
        if not self.isVisible():
            self._drawn = None  # when it is looked at
            return
        for key, tile in self.tiles.items():
            if key == project.shape.key:
                continue
            other = changed(project, shape=Shape(key=key, options=dict(self._kept.get(key, {}))))
            try:
                work = work_up(other, arrange_contents(other, quick=True))
            except JadeiteError as error:
                self.abouts[key].setText(str(error))
                continue
            tile.show_work(work)
            self.abouts[key].setText(self._about(work, current=False))

    def _about(self, work: Work, *, current: bool) -> str:
        if work.design is None:
            refused = next((f.message for f in work.findings), "")
            return refused if work.project.contents or work.project.inside else work.family.about
        sheets = self.session.sheets
        count = ""
        if current:
            count = "sheets follow · "
            if sheets is not None:
                number = len(sheets.layout.sheets)
                count = f"{number} sheet · " if number == 1 else f"{number} sheets · "
        minutes = format_duration(work.assembly.seconds) if work.assembly else ""
        glued = sum(j.kind == "glue" for j in work.design.joints)
        inside = format_size(work.inside, self._system, places=0)
        area = format_area(work.sizes["board-area"].value, self._system)
        pieces = len(work.design.pieces)
        return (
            f"{work.family.title} · inside {inside} · {pieces} piece{'s' if pieces != 1 else ''} · "
            f"{area} · {count}{glued} glue joints · {minutes}"
        )
