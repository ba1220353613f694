"""Sheets on which pieces are laid by hand: chosen, dragged, turned, pinned."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget
from shapely.geometry import LinearRing, Point, Polygon
from shapely.ops import nearest_points

from jadeite.core.nets.model import Floats
from jadeite.core.pictures import Label, Path, Picture, Stroke
from jadeite.core.sheets import Hand, PlacedPiece, Refusal, Spot
from jadeite.core.units import in_system
from jadeite.desktop.laying import Asked, Laying
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.views.sheets_view import Frame, SheetsView

__all__ = ["LayView"]

STEP, LONG, SHORT = 1.0, 10.0, 0.1  # mm for an arrow key; with Shift; with Ctrl
ASKEW = 15.0  # degrees, that Shift and R turn a piece; from memory
BEGUN = 4  # pixels, from memory: less is no drag
LINE = 2.4  # pixels
HEAD, EYE = 6.0, 2.2  # pixels, radii of a pin seen from above
IN = 9.0  # pixels from a corner to a pin in it
NEAR = 2.0  # mm; from memory, a piece that is narrow is still hit


@dataclass(eq=False)
class _Held:
    """A piece under the pointer: where it lay, and would lie now."""

    asked: Asked
    spot: Spot
    start: QPointF
    grip: tuple[float, float]  # mm from the piece's origin to the pointer
    place: PlacedPiece
    sheet: int
    moved: bool = False
    refused: Refusal | None = None


class LayView(SheetsView):
    """Every sheet; pieces are moved with the pointer or with keys."""

    def __init__(self, laying: Laying) -> None:
        super().__init__(laying.session)
        self.laying = laying
        self._held: _Held | None = None
        self.setMouseTracking(True)
        laying.chosen_changed.connect(self._repaint)
        self.setAccessibleDescription(
            "Press a piece to choose it and drag it. Keys: arrows move, R turns, P pins, "
            "S swaps two, Page Up and Page Down choose another."
        )

    def _repaint(self) -> None:
        """What lies over the sheets has changed; the sheets are not drawn anew."""
        QWidget.update(self)

    # ------------------------------------------------------------- what is under the pointer

    def frame_at(self, at: QPointF) -> Frame | None:
        """The sheet under the pointer."""
        return next((frame for frame in self.frames if frame.holds(at)), None)

    def piece_at(self, at: QPointF) -> tuple[Spot, PlacedPiece] | None:
        """The piece under the pointer; of two the one that is nearest."""
        hand, frame = self.laying.hand, self.frame_at(at)
        if hand is None or frame is None or frame.sheet >= len(hand.layout.sheets):
            return None
        point = Point(frame.millimetres(at))
        best: tuple[float, Spot, PlacedPiece] | None = None
        for k, place in enumerate(hand.layout.sheets[frame.sheet].placed):
            away = hand.rules_of(place.piece).lying(place).distance(point)
            if away <= NEAR and (best is None or away < best[0]):
                best = away, Spot(frame.sheet, k), place
        return best[1:] if best else None

    # ------------------------------------------------------------- pointer

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        super().mousePressEvent(event)
        found = self.piece_at(event.position())
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if found is None:
            self.laying.choose()
            return
        spot, place = found
        asked = place.piece, place.copy
        both = event.modifiers() & (
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        )
        if both and self.laying.chosen and asked not in self.laying.chosen:
            self.laying.choose(self.laying.chosen[-1], asked)
            return
        self.laying.choose(asked)
        frame = self.frames[spot.sheet]
        x, y = frame.millimetres(event.position())
        grip = (x - place.x, y - place.y)
        self._held = _Held(asked, spot, event.position(), grip, place, spot.sheet)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        held = self._held
        if held is None:
            over = self.piece_at(event.position()) is not None
            shape = Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            return
        if not held.moved:
            way = event.position() - held.start
            if way.manhattanLength() < BEGUN:
                return
            held.moved = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self._carry(held, event.position())

    def _carry(self, held: _Held, at: QPointF) -> None:
        hand = self.laying.hand
        frame = self.frame_at(at) or self.frames[held.sheet]
        if hand is None:
            return
        x, y = frame.millimetres(at)
        held.place = replace(held.place, x=x - held.grip[0], y=y - held.grip[1])
        held.sheet = frame.sheet
        held.refused = hand.refusal(held.spot, held.sheet, held.place)
        self._repaint()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        held, self._held = self._held, None
        if held is None or event is None:
            return
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        if held.moved:
            self.laying.move(held.asked, held.sheet, held.place)
        self._repaint()

    # ------------------------------------------------------------- keys

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, held = Qt.Key(event.key()), self._held
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        ctrl = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        by = LONG if shift else SHORT if ctrl else STEP
        arrows = {
            Qt.Key.Key_Left: (-by, 0.0),
            Qt.Key.Key_Right: (by, 0.0),
            Qt.Key.Key_Up: (0.0, by),
            Qt.Key.Key_Down: (0.0, -by),
        }
        if key is Qt.Key.Key_Escape:
            self._held = None
            self.laying.choose()
        elif key is Qt.Key.Key_PageDown:
            self.laying.choose_next(1)
        elif key is Qt.Key.Key_PageUp:
            self.laying.choose_next(-1)
        elif not self.laying.chosen:
            super().keyPressEvent(event)
        elif held is not None and held.moved and key is Qt.Key.Key_R:
            self._turn_held(held, ASKEW if shift else 90.0)
        elif key in arrows:
            self.laying.nudge(*arrows[key])
        elif key is Qt.Key.Key_R:
            self.laying.turn(ASKEW if shift else 90.0)
        elif key is Qt.Key.Key_P:
            self.laying.pin()
        elif key is Qt.Key.Key_S and not ctrl:
            self.laying.swap()
        else:
            super().keyPressEvent(event)

    def _turn_held(self, held: _Held, by: float) -> None:
        """Turn a piece while it is carried."""
        hand = self.laying.hand
        if hand is None:
            return
        turned = hand.turn(held.place, by)
        dx, dy = turned.x - held.place.x, turned.y - held.place.y
        held.grip = held.grip[0] - dx, held.grip[1] - dy
        held.place = turned
        held.refused = hand.refusal(held.spot, held.sheet, turned)
        self._repaint()

    # ------------------------------------------------------------- what is drawn over the sheets

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        paint_picture(painter, self.over())
        painter.end()

    def over(self) -> Picture:
        """Pins, what is chosen, and what is carried."""
        out, hand = Picture(), self.laying.hand
        if hand is None or len(self.frames) != len(hand.layout.sheets):
            return out
        for frame, plan in zip(self.frames, hand.layout.sheets, strict=True):
            for place in plan.placed:
                shape = hand.rules_of(place.piece).lying(place)
                if (place.piece, place.copy) in self.laying.chosen:
                    out.add(self._outline(frame, shape, self.palette_.jade, 0.16))
                if place.pinned:
                    self._add_pin(out, frame, shape)
        held = self._held
        if held is not None and held.moved:
            self._add_held(out, hand, held)
        return out

    def _outline(self, frame: Frame, shape: Polygon, colour: str, opacity: float) -> Path:
        rings = tuple(frame.pixels(np.array(ring.coords)[:-1]) for ring in _rings(shape))
        return Path(rings, fill=colour, opacity=opacity, stroke=Stroke(colour, LINE))

    def _add_pin(self, out: Picture, frame: Frame, shape: Polygon) -> None:
        """A drawing pin from above, in the piece's upper left corner."""
        corners = np.array(shape.exterior.coords)[:-1]
        corner = corners[(corners[:, 0] - corners[:, 1]).argmin()]
        inner = shape.buffer(-IN / frame.scale)
        inside = shape.representative_point() if inner.is_empty else inner
        spot = frame.pixels(np.array([nearest_points(inside, Point(corner))[0].coords[0]]))[0]
        around = np.linspace(0, 2 * np.pi, 25)[:-1]
        circle = np.column_stack([np.cos(around), np.sin(around)])
        edge = Stroke(self.palette_.sheet, 1.2)
        out.add(Path((spot + HEAD * circle,), fill=self.palette_.brick, stroke=edge))
        out.add(Path((spot + EYE * circle,), fill=self.palette_.sheet))

    def _add_held(self, out: Picture, hand: Hand, held: _Held) -> None:
        frame = self.frames[held.sheet]
        shape = hand.rules_of(held.place.piece).lying(held.place)
        good = held.refused is None
        colour = self.palette_.jade if good else self.palette_.brick
        out.add(self._outline(frame, shape, colour, 0.4))
        if held.refused is not None:
            words = in_system(self.laying.words(held.refused), self.system)
            words = words[:1].upper() + words[1:]
            top: Floats = frame.pixels(np.array([[held.place.x, shape.bounds[3]]]))[0]
            x = min(max(float(top[0]), 200.0), self.width() - 200.0)
            y = max(float(top[1]) - 16.0, 16.0)
            pill = self.palette_.sheet
            out.add(Label(words, x, y, 13, colour, weight=600, pill=pill, edge=colour))


def _rings(shape: Polygon) -> list[LinearRing]:
    return [shape.exterior, *shape.interiors]
