"""The table: the work itself, at any moment of the lift, from any side."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QRadialGradient,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jadeite.core.folding import transform
from jadeite.core.nets.model import Floats
from jadeite.core.pictures import (
    LIGHT,
    Camera,
    Label,
    Palette,
    Path,
    Picture,
    Scene,
    SceneStyle,
    Stroke,
    fitted,
    mix,
    net_key,
    round_scale,
)
from jadeite.core.pictures.flat import line_strokes
from jadeite.core.pipeline import Work
from jadeite.core.units import System, format_size
from jadeite.desktop.paint import contains, paint_picture

__all__ = ["TableView"]

FLAT = 5e-4  # lift below which the nets lie flat
MARGINS = (58.0, 56.0, 58.0, 44.0)  # pixels left, top, right, bottom, for dimension lines
TURN = 0.45  # degrees for each pixel dragged
ZOOM = 1.0015  # for each unit of the wheel


class TableView(QWidget):
    """One scene from flat to finished."""

    panel_chosen = pyqtSignal(object)  # (piece, panel) or None
    play_asked = pyqtSignal()
    stepped = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(QSize(300, 240))
        self.setAccessibleName("Table: the piece, to scale")
        self.palette_ = LIGHT
        self.system: System = "mm"
        self.work: Work | None = None
        self.lift = 0.0
        self.key_shown = False
        self.chosen: tuple[str, str] | None = None
        self.pointed: tuple[str, str] | None = None
        self.marked: frozenset[tuple[str, str]] = frozenset()
        self.hidden: frozenset[str] = frozenset()
        self.notice = ""
        self.dimensions = True
        self._ground: QPixmap | None = None
        self._ground_key: tuple[int, int, bool] | None = None
        self._yaw, self._pitch = 28.0, 36.0
        self._by_hand = False  # the maker has turned the view while it lay flat
        self._zoom, self._pan = 1.0, QPointF(0.0, 0.0)
        self._scene: Scene | None = None
        self._picture: Picture | None = None
        self._fits: list[tuple[float, Camera]] = []
        self._camera = Camera()
        self._scale_words = ""
        self._drag: QPoint | None = None
        self._moved = False
        self._pan_drag = False
        self._pointer = QPointF(-1, -1)

    # ------------------------------------------------------------- state

    def set_work(self, work: Work) -> None:
        """Show a design, at the lift and from the side as before."""
        self.work = work
        self._fits, self._scene, self._picture = [], None, None
        if work.design is None:
            self.chosen = self.pointed = None
        elif self.chosen is not None:
            piece, panel = self.chosen
            if panel not in work.design.piece(piece).index:
                self.chosen = None
        self.update()

    def set_palette(self, palette: Palette, system: System) -> None:
        """Colours and units."""
        self.palette_, self.system, self._picture = palette, system, None
        self.update()

    def set_lift(self, value: float) -> None:
        """Hold the lift at a position, 0 to 1."""
        if value != self.lift:
            self.lift, self._scene, self._picture = value, None, None
            self.update()

    def set_marked(self, marked: frozenset[tuple[str, str]]) -> None:
        """Panels to be pointed out, from a finding or a step."""
        if marked != self.marked:
            self.marked, self._picture = marked, None
            self.update()

    def set_hidden(self, hidden: frozenset[str]) -> None:
        """Pieces left out, in the pictures of steps."""
        if hidden != self.hidden:
            self.hidden, self._scene, self._picture, self._fits = hidden, None, None, []
            self.update()

    def choose(self, where: tuple[str, str] | None) -> None:
        """Choose a panel, or none."""
        self.chosen, self._picture = where, None
        self.panel_chosen.emit(where)
        self.update()

    def fit(self) -> None:
        """Everything in view again, from the usual side."""
        self._yaw, self._pitch, self._by_hand = 28.0, 36.0, False
        self._zoom, self._pan = 1.0, QPointF(0.0, 0.0)
        self._fits, self._picture = [], None
        self.update()

    def turn_by(self, yaw: float, pitch: float) -> None:
        """Turn the view by degrees."""
        if self.lift < self._lifted_at():
            view = self._view(self.lift)
            self._yaw, self._pitch, self._by_hand = view.yaw, view.pitch, True
        self._yaw += yaw
        self._pitch = min(90.0, max(4.0, self._pitch + pitch))
        self._fits, self._picture = [], None
        self.update()

    def zoom_by(self, factor: float, at: QPointF) -> None:
        """Zoom so that what is under ``at`` stays there."""
        new = min(40.0, max(0.2, self._zoom * factor))
        factor = new / self._zoom
        self._zoom = new
        self._pan = at + (self._pan - at) * factor
        self._picture = None
        self.update()

    @property
    def view(self) -> tuple[float, float, float]:
        """Yaw, pitch in degrees, and pixels per mm."""
        camera = self._current_camera()
        return camera.yaw, camera.pitch, camera.scale

    # ------------------------------------------------------------- camera

    def _lifted_at(self) -> float:
        """Lift from which the usual side view is reached."""
        if self.work is None or self.work.lift is None:
            return 0.1
        turned = self.work.lift.turned
        return turned if turned > 0 else self.work.lift.stops[1][0] * 0.6

    def _view(self, lift: float) -> Camera:
        """The direction of view at a lift: from above while flat."""
        if self._by_hand:
            return Camera(self._yaw, self._pitch)
        share = min(1.0, lift / self._lifted_at())
        share = share * share * (3 - 2 * share)
        return Camera(self._yaw * share, 90.0 + (self._pitch - 90.0) * share)

    def _make_scene(self, lift: float) -> Scene | None:
        if self.work is None or self.work.design is None or self.work.lift is None:
            return None
        pose = self.work.lift.pose(lift)
        return Scene(
            self.work.design,
            pose.matrices,
            self.work.bodies,
            pose.contents,
            flat=lift < FLAT,
            flatness=self.work.lift.flatness(lift),
            hidden=self.hidden,
        )

    def _points(self, lift: float) -> Floats | None:
        """Every corner of what is shown at a lift."""
        work = self.work
        if work is None or work.design is None or work.lift is None:
            return None
        matrices = work.lift.pose(lift).matrices
        return np.concatenate(
            [
                transform(matrices[piece.name][panel.name], panel.outline)
                for piece in work.design.pieces
                if piece.name not in self.hidden
                for panel in piece.panels
            ]
        )

    def _prepare_fits(self) -> None:
        assert self.work is not None
        assert self.work.lift is not None
        stops = [stop for stop, _ in self.work.lift.stops]
        between = [stops[-2] + (stops[-1] - stops[-2]) * s for s in (0.2, 0.4, 0.55, 0.7, 0.85)]
        for stop in sorted({*stops, *between}):
            points = self._points(stop)
            if points is None:
                continue
            camera = fitted(points, self._view(stop), self.width(), self.height(), MARGINS)
            if stop < FLAT and not self._by_hand:
                pixels = self.logicalDpiX() / 25.4
                scale, self._scale_words = round_scale(camera.scale, pixels)
                middle_x = MARGINS[0] + (self.width() - MARGINS[0] - MARGINS[2]) / 2
                middle_y = MARGINS[1] + (self.height() - MARGINS[1] - MARGINS[3]) / 2
                k = scale / camera.scale
                camera = replace(
                    camera,
                    scale=scale,
                    x=middle_x + (camera.x - middle_x) * k,
                    y=middle_y + (camera.y - middle_y) * k,
                )
            self._fits.append((stop, camera))

    def _current_camera(self) -> Camera:
        if not self._fits:
            self._prepare_fits()
        stops = [stop for stop, _ in self._fits]
        i = int(np.searchsorted(stops, self.lift, side="right")) - 1
        i = min(max(i, 0), len(stops) - 1)
        a = self._fits[i][1]
        if i + 1 < len(stops):
            b = self._fits[i + 1][1]
            share = (self.lift - stops[i]) / (stops[i + 1] - stops[i])
            share = share * share * (3 - 2 * share)
            scale = a.scale * (b.scale / a.scale) ** share
            x, y = a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share
        else:
            scale, x, y = a.scale, a.x, a.y
        z = self._zoom
        view = self._view(self.lift)
        return replace(view, scale=scale * z, x=x * z + self._pan.x(), y=y * z + self._pan.y())

    # ------------------------------------------------------------- painting

    def picture(self) -> Picture | None:
        """What is shown, as a picture in pixels."""
        if self._scene is None:
            self._scene = self._make_scene(self.lift)
        if self._scene is None:
            return None
        if self._picture is None:
            self._camera = self._current_camera()
            assert self.work is not None
            assert self.work.design is not None
            assert self.work.lift is not None
            covered = self.work.lift.covered(self.lift)
            lids = self.work.design.lifts
            below = [p.name for p in self.work.design.pieces if p.name not in lids]
            style = SceneStyle(
                self.palette_,
                self.work.project.colours,
                pointed=self.pointed,
                chosen=self.chosen,
                point_out=self.marked,
                system=self.system,
                dimensions=self.dimensions,
                names=not covered,
                undimensioned=frozenset(below) if covered else frozenset(),
            )
            self._picture = self._scene.draw(self._camera, style)
        return self._picture

    def image(self) -> QImage:
        """The view as an image, for the clipboard."""
        ratio = 2
        out = QImage(self.size() * ratio, QImage.Format.Format_ARGB32)
        out.setDevicePixelRatio(ratio)
        out.fill(QColor(self.palette_.table))
        painter = QPainter(out)
        picture = self.picture()
        if picture is not None:
            paint_picture(painter, picture, self.width(), self.height())
        painter.end()
        return out

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self._paint_ground(painter)
        picture = self.picture()
        if picture is None:
            self._paint_empty(painter)
        else:
            paint_picture(painter, picture, self.width(), self.height())
            paint_picture(painter, self._captions())
        painter.end()

    def _paint_ground(self, painter: QPainter) -> None:
        """Lamp light on the table, painted once for each size and theme."""
        p = self.palette_
        key = (self.width(), self.height(), p.dark)
        if self._ground is not None and self._ground_key == key:
            painter.drawPixmap(0, 0, self._ground)
            return
        light = QRadialGradient(
            self.width() * 0.45, self.height() * 0.4, max(self.width(), self.height()) * 0.75
        )
        light.setColorAt(0.0, QColor(mix(p.table, p.sheet, 0.7)))
        light.setColorAt(1.0, QColor(p.table))
        self._ground, self._ground_key = QPixmap(self.size()), key
        brush = QPainter(self._ground)
        brush.fillRect(self.rect(), light)
        brush.end()
        painter.drawPixmap(0, 0, self._ground)

    def _paint_empty(self, painter: QPainter) -> None:
        words = self.notice or "Add a thing, or type the inside size: the box appears here."
        picture = Picture()
        picture.add(Label(words, self.width() / 2, self.height() / 2, 15, self.palette_.quiet))
        paint_picture(painter, picture)

    def _captions(self) -> Picture:
        """Boards, scale, the key, and the panel under the pointer."""
        out = Picture()
        p = self.palette_
        assert self.work is not None
        assert self.work.design is not None
        y = 20.0
        for piece in self.work.design.pieces:
            if piece.name in self.hidden:
                continue
            words = f"{piece.title} · {piece.board.title.lower()}"
            out.add(Label(words, self.width() - 16, y, 13, p.quiet, "end"))
            y += 19
        if self.lift < FLAT and not self._by_hand and self._zoom == 1.0:
            unit = "mm" if self.system == "mm" else "inches"
            words = f"from above, scale {self._scale_words}, good side up; inside lengths, {unit}"
            out.add(Label(words, 16, 20, 13, p.quiet, "start"))
        elif self.dimensions:
            unit = "mm" if self.system == "mm" else "inches"
            out.add(Label(f"lengths are inside, in {unit}", 16, 20, 13, p.quiet, "start"))
        if self.key_shown:
            self._add_key(out)
        if self.pointed is not None and self._drag is None:
            self._add_pointed(out)
        return out

    def _add_key(self, out: Picture) -> None:
        strokes = line_strokes(self.palette_, 1.0)
        x, y = 16.0, self.height() - 24.0 - 20.0 * len(net_key())
        for kind, words in net_key():
            y += 20
            line = np.array([[x, y], [x + 46, y]])
            if kind == "glue":
                marks = tuple(
                    np.array([[x + i, y + 5], [x + i + 10, y - 5]]) for i in range(0, 40, 6)
                )
                stroke = Stroke(self.palette_.sand, 1.0)
                out.add(Path(marks, closed=False, stroke=stroke))
            else:
                out.add(Path((line,), closed=False, stroke=strokes[kind]))
            out.add(Label(words, x + 56, y, 12.5, self.palette_.ink, "start"))

    def _add_pointed(self, out: Picture) -> None:
        assert self.pointed is not None
        assert self.work is not None
        assert self.work.design is not None
        piece_name, panel_name = self.pointed
        piece = self.work.design.piece(piece_name)
        panel = piece.panel(panel_name)
        size = format_size(panel.size, self.system)
        words = f"{piece.title}: {panel.title} · {size}"
        if panel.title.startswith(piece.title):
            words = f"{panel.title} · {size}"
        half = len(words) * 3.7
        x = min(max(self._pointer.x(), half + 14), self.width() - half - 14)
        y = self._pointer.y() - 26 if self._pointer.y() > 50 else self._pointer.y() + 30
        out.add(
            Label(
                words,
                x,
                y,
                13,
                self.palette_.ink,
                weight=600,
                pill=self.palette_.sheet,
                edge=self.palette_.jade,
            )
        )

    # ------------------------------------------------------------- events

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._fits, self._picture = [], None

    def panel_at(self, at: QPointF) -> tuple[str, str] | None:
        """The panel seen at a point of the widget."""
        picture = self.picture()
        if picture is None:
            return None
        for item in reversed(picture.items):
            if (
                isinstance(item, Path)
                and item.tag is not None
                and item.tag[0]
                and contains(item, at.x(), at.y())
            ):
                return item.tag
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._drag, self._moved = event.position().toPoint(), False
        self._pan_drag = event.button() != Qt.MouseButton.LeftButton or bool(
            event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._pointer = event.position()
        if self._drag is not None:
            step = event.position().toPoint() - self._drag
            if self._moved or step.manhattanLength() > 3:
                self._moved = True
                self._drag = event.position().toPoint()
                if self._pan_drag:
                    self._pan += QPointF(step)
                    self._picture = None
                    self.update()
                else:
                    self.turn_by(-step.x() * TURN, step.y() * TURN)
            return
        pointed = self.panel_at(event.position())
        if pointed != self.pointed:
            self.pointed, self._picture = pointed, None
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if not self._moved and event.button() == Qt.MouseButton.LeftButton:
            self.choose(self.panel_at(event.position()))
        self._drag = None

    def leaveEvent(self, event: object) -> None:
        self.pointed, self._picture = None, None
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom_by(ZOOM ** event.angleDelta().y(), event.position())
            event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        turns = {
            Qt.Key.Key_Left: (8.0, 0.0),
            Qt.Key.Key_Right: (-8.0, 0.0),
            Qt.Key.Key_Up: (0.0, 6.0),
            Qt.Key.Key_Down: (0.0, -6.0),
        }
        key = Qt.Key(event.key())
        middle = QPointF(self.width() / 2, self.height() / 2)
        if key in turns:
            self.turn_by(*turns[key])
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_by(1.15, middle)
        elif key == Qt.Key.Key_Minus:
            self.zoom_by(1 / 1.15, middle)
        elif key == Qt.Key.Key_F:
            self.fit()
        elif key == Qt.Key.Key_Space:
            self.play_asked.emit()
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.stepped.emit(0.05 if key == Qt.Key.Key_PageUp else -0.05)
        elif key == Qt.Key.Key_Escape:
            self.choose(None)
        else:
            super().keyPressEvent(event)
