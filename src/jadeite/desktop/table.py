"""The table: the work itself, at any moment of the lift, from any side."""

from __future__ import annotations

from collections.abc import Set

from PyQt6.QtCore import QPoint, QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jadeite.core.folding import folded_faces
from jadeite.core.nets.model import Handle
from jadeite.core.pictures import (
    LIGHT,
    Camera,
    Label,
    Palette,
    Path,
    Picture,
    night_of,
)
from jadeite.core.pictures.side import clearest_side
from jadeite.core.pictures.viewpoint import FLAT, USUAL
from jadeite.core.pipeline import Work
from jadeite.core.steps import Steps, finished
from jadeite.core.units import System
from jadeite.desktop.captions import (
    add_boards,
    add_grain,
    add_key,
    add_pointed,
    add_slots,
    add_words,
)
from jadeite.desktop.dragging import Hand, Held
from jadeite.desktop.paint import LampLight, contains, paint_picture, painting
from jadeite.desktop.staging import Staging, View, heavy
from jadeite.desktop.turns import AT_ONCE, Drawing, Turns

__all__ = ["TableView"]

TURN = 0.45  # degrees for each pixel dragged
ZOOM = 1.0015  # for each unit of the wheel


class TableView(QWidget):
    """One scene from flat to finished."""

    panel_chosen = pyqtSignal(object)  # (piece, panel) or None
    handle_moved = pyqtSignal(object, float, float)  # a Handle, and by how many mm
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
        self.night = False
        self.chosen: tuple[str, str] | None = None
        self.pointed: tuple[str, str] | None = None
        self.marked: frozenset[tuple[str, str]] = frozenset()
        self.hidden: frozenset[str] = frozenset()
        self.notice = ""
        self.dimensions = True
        self.disc = False
        self._ground = LampLight()
        self._staging = Staging()
        self.viewpoint = self._staging.viewpoint
        self._picture: Picture | None = None
        self._state = object()  # another one whenever something has changed
        self._seen: Picture | None = None  # that of the image, at which the maker points
        self._drawing = Drawing(self, Turns())
        self._drag: QPoint | None = None
        self._moved = False
        self._lifting = False
        self._new = False  # a heavy thing that was not drawn yet: it is shown plainer at first
        self._pan_drag = False
        self._hand = Hand()
        self._pointer = QPointF(-1, -1)

    # ------------------------------------------------------------- state

    def set_work(self, work: Work) -> None:
        """Show a design, at the lift and from the side as before."""
        self.work = work
        self.viewpoint.forget_fits()
        if work.design is not None and heavy(work.design):
            if not self._new:  # what is being drawn is drawn in full, and would hold it up
                self._drawing.leave_off()
            self._new = True
        if work.design is None:
            self.chosen = self.pointed = self._seen = None
            self._drawing.clear()
        else:
            if self.pointed is not None and not work.design.has(self.pointed):
                self.pointed = None
            if self.chosen is not None and not work.design.has(self.chosen):
                self.choose(None)
        self._changed()

    def _changed(self) -> None:
        """Another picture is to be shown."""
        self._picture, self._state = None, object()
        self._drawing.forget()
        self.update()

    def set_palette(self, palette: Palette, system: System) -> None:
        """Colours and units."""
        self.palette_, self.system = palette, system
        self._changed()

    def set_marks(self, *, dimensions: bool, disc: bool) -> None:
        """Whether dimension lines and the disc for scale are shown."""
        if (dimensions, disc) != (self.dimensions, self.disc):
            self.viewpoint.forget_fits()
        self.dimensions, self.disc = dimensions, disc
        self._changed()

    def set_lift(self, value: float) -> None:
        """Hold the lift at a position, 0 to 1."""
        if value != self.lift:
            self.lift = value
            self._changed()

    def set_lifting(self, lifting: bool) -> None:
        """Whether the lift goes on moving: until it rests, heavy things are drawn plainer."""
        if lifting != self._lifting:
            self._lifting = lifting
            self._changed()

    def set_marked(self, marked: frozenset[tuple[str, str]]) -> None:
        """Panels to be pointed out, from a finding or a step."""
        if marked != self.marked:
            self.marked = marked
            self._changed()

    def set_hidden(self, hidden: frozenset[str]) -> None:
        """Pieces left out, in the pictures of steps."""
        if hidden != self.hidden:
            self.hidden = hidden
            self.viewpoint.forget_fits()
            self._changed()

    def choose(self, where: tuple[str, str] | None) -> None:
        """Choose a panel, or none."""
        self.chosen = where
        self._changed()
        self.panel_chosen.emit(where)

    def fit(self) -> None:
        """Everything in view again, from the usual side."""
        self.viewpoint.reset()
        self._changed()

    def look_at(self, panels: Set[tuple[str, str]], *, above: bool = False) -> None:
        """Look from the side that shows some panels best, or from the usual one for none.

        Or from straight above, as they are put in their places.
        """
        work, camera = self.work, Camera(0.0, 90.0) if above else None
        if above:
            pass
        elif panels and self.lift > FLAT and work is not None and work.design and work.lift:
            faces = folded_faces(work.design, work.lift.pose(self.lift).matrices)
            shown = [face for face in faces if face.piece not in self.hidden]
            camera = clearest_side(shown, panels, Camera(*USUAL))
        self.viewpoint.look(camera)
        self._changed()

    def turn_by(self, yaw: float, pitch: float) -> None:
        """Turn the view by degrees."""
        self.viewpoint.turn(yaw, pitch, self.work.lift if self.work else None, self.lift)
        self._changed()

    def zoom_by(self, factor: float, at: QPointF) -> None:
        """Zoom so that what is under ``at`` stays there."""
        self.viewpoint.zoom(factor, at.x(), at.y())
        self._changed()

    @property
    def view(self) -> tuple[float, float, float]:
        """Yaw, pitch in degrees, and pixels per mm."""
        camera = self.camera()
        return camera.yaw, camera.pitch, camera.scale

    def camera(self) -> Camera:
        """The camera of what is shown now."""
        return self._staging.camera(self._view())

    # ------------------------------------------------------------- painting

    @property
    def turning(self) -> bool:
        """Whether the view is being dragged."""
        return self._drag is not None and self._moved and self._hand.grip is None

    def picture(self) -> Picture | None:
        """What is to be shown, as a picture in pixels."""
        return finished(self._picture_in_steps())

    def _picture_in_steps(self) -> Steps[Picture | None]:
        if self._picture is not None:
            return self._picture
        state = self._state
        picture = yield from self._staging.picture(self._view)
        if self._state is state:  # nothing has changed since
            self._picture = picture
        return picture

    def _view(self) -> View:
        """What is to be shown now."""
        return View(
            self.work,
            self.lift,
            self.hidden,
            self.pointed,
            self.chosen,
            self.marked,
            self.dimensions,
            self.disc,
            self.turning or self._lifting or self._new,
            self._colours,
            self.system,
            (float(self.width()), float(self.height())),
            self.logicalDpiX() / 25.4,
            self.by_night,
        )

    @property
    def by_night(self) -> bool:
        """Whether it is shown in the dark: where it is wanted, and a light is in."""
        return self.night and self.work is not None and self.work.lit

    @property
    def _colours(self) -> Palette:
        return night_of(self.palette_) if self.by_night else self.palette_

    def show_night(self, wanted: bool) -> None:
        """By night nothing but the light inside shines."""
        self.night = wanted
        self._changed()

    def image(self) -> QImage:
        """The view as an image, for the clipboard; in full, wherever the drawing is."""
        if self._new:
            self._settle()
        ratio = 2
        out = QImage(self.size() * ratio, QImage.Format.Format_ARGB32)
        out.setDevicePixelRatio(ratio)
        out.fill(QColor(self._colours.table))
        painter = QPainter(out)
        picture = self.picture()
        if picture is not None:
            paint_picture(painter, picture, self.width(), self.height())
        painter.end()
        return out

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self._ground.paint(painter, self.size(), self._colours)
        if self.work is None or self.work.design is None:
            self._paint_empty(painter)
        else:
            self._drawing.show(painter, QPoint(), self.size(), self._steps, AT_ONCE)
            paint_picture(painter, self._captions())
        painter.end()

    def _steps(self, painter: QPainter) -> Steps[None]:
        size, state = self.size(), self._state
        picture = yield from self._picture_in_steps()
        if picture is not None:
            yield from painting(painter, picture, size.width(), size.height())
        self._seen = picture
        if self._new and self._state is state:
            self._settle()

    def _settle(self) -> None:
        """What was shown plainer at first is drawn in full."""
        self._new = False
        self._changed()

    @property
    def busy(self) -> bool:
        """Whether the image is not yet that of the present work."""
        return self.work is not None and self.work.design is not None and self._drawing.busy

    def _paint_empty(self, painter: QPainter) -> None:
        words = (
            self.notice
            or "Add a thing, or choose a size of your own under Inside: the box appears here."
        )
        picture = Picture()
        picture.add(Label(words, self.width() / 2, self.height() / 2, 15, self.palette_.quiet))
        paint_picture(painter, picture)

    def _captions(self) -> Picture:
        """Boards, scale, the key, and the panel under the pointer."""
        out = Picture()
        p = self._colours
        assert self.work is not None
        design = self.work.design
        assert design is not None
        add_boards(out, design, self.hidden, p, self.width())
        view = self._view()
        from_above = self.lift < FLAT and not self.viewpoint.moved
        add_words(out, view, self.viewpoint.scale_words if from_above else "")
        flat = self._staging.matrices(view)
        if self.lift < FLAT and flat is not None:
            camera = self._staging.camera(view)
            add_grain(out, design, flat, camera)
            if self.dimensions:
                add_slots(out, design, self.hidden, flat, camera, self.system)
        if self.key_shown:
            add_key(out, design, p, self.height())
        outline = self._hand.outline(self._held(), p) if self._moved else None
        if outline is not None:
            out.add(outline)
        if self.pointed is not None and self._drag is None:
            at = (self._pointer.x(), self._pointer.y())
            add_pointed(out, design, self.pointed, at, self.width(), p, self.system)
        return out

    # ------------------------------------------------------------- events

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.viewpoint.forget_fits()
        self._changed()

    def panel_at(self, at: QPointF) -> tuple[str, str] | None:
        """The panel seen at a point of the widget, in the image that is shown."""
        picture = self._seen if self.busy else self.picture()
        if picture is None or self.work is None or self.work.design is None:
            return None
        for item in reversed(picture.items):
            if (
                isinstance(item, Path)
                and item.tag is not None
                and item.tag[0]
                and contains(item, at.x(), at.y())
                and self.work.design.has(item.tag)  # it may show what was
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
        pressed = None if self._pan_drag else self.panel_at(event.position())
        self._hand.take(self._held(), pressed, event.position())

    def _held(self) -> Held | None:
        """What may be held on the table now."""
        view = self._view()
        matrices = self._staging.matrices(view)
        if self.chosen is None or self.work is None or self.work.design is None or not matrices:
            return None
        camera = self._staging.camera(view)
        return Held(self.work.design, self.chosen[0], self.lift, matrices, camera)

    def _tell(self, moved: tuple[Handle, float, float] | None) -> None:
        if moved is not None:
            self.handle_moved.emit(*moved)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._pointer = event.position()
        if self._drag is not None:
            step = event.position().toPoint() - self._drag
            if self._hand.grip and (self._moved or step.manhattanLength() > 3):
                self._moved = True
                self._hand.grip.drag(event.position())
                self.update()
                return
            if self._moved or step.manhattanLength() > 3:
                self._moved = True
                self._drag = event.position().toPoint()
                if self._pan_drag:
                    self.viewpoint.shift(step.x(), step.y())
                    self._changed()
                else:
                    self.turn_by(-step.x() * TURN, step.y() * TURN)
            return
        pointed = self.panel_at(event.position())
        if pointed != self.pointed:
            self.pointed = pointed
            self._changed()
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if not self._moved and event.button() == Qt.MouseButton.LeftButton:
            self.choose(self.panel_at(event.position()))
        if self._moved:
            self._tell(self._hand.dropped(self._held()))
        self._hand.grip = self._drag = None
        if self._moved:  # what was left out while it turned comes back
            self._changed()

    def leaveEvent(self, event: object) -> None:
        self.pointed = None
        self._changed()

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
        nudges = {
            Qt.Key.Key_Left: (-1.0, 0.0),
            Qt.Key.Key_Right: (1.0, 0.0),
            Qt.Key.Key_Up: (0.0, -1.0),
            Qt.Key.Key_Down: (0.0, 1.0),
        }
        ctrl = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        nudged = self._hand.nudged(self._held(), nudges[key]) if ctrl and key in nudges else None
        if nudged is not None:
            self._tell(nudged)
            return
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
