"""What is shown is made in turns with the event loop, so that the window never stands still.

A heavy picture takes tenths of a second; it is painted into an image some
milliseconds at a time, and until it is done the image before it is shown.  The
parts of the window are brought up to date one after another.
"""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from functools import cache
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QObject, QPoint, QPointF, QSize, Qt, QTimer
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication, QWidget

from jadeite.core.steps import Steps

__all__ = ["Drawing", "Turns", "shared_turns"]

TURN = 0.008  # s; from memory, a pointer that moves sees no pause
AT_ONCE = 0.008  # s; from memory, a picture that takes no longer appears with what was clicked


@dataclass(eq=False)
class _Waiting:
    """Work in steps that is not done, and who is told its result."""

    key: Hashable
    steps: Steps[Any]
    done: Callable[[Any], None]
    dropped: bool = False


class _Rota(QObject):
    """Whose turn it is: one of those that have work, whenever the event loop comes round."""

    def __init__(self, parent: QObject | None) -> None:
        super().__init__(parent)
        self._line: deque[Turns] = deque()
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._next)

    def ask(self, turns: Turns) -> None:
        """Take part for as long as there is work."""
        if turns not in self._line:
            self._line.append(turns)
        self._timer.start()

    def _next(self) -> None:
        while self._line and not self._line[0].busy:
            self._line.popleft()
        if not self._line:
            self._timer.stop()
            return
        self._line.rotate(-1)
        self._line[-1].go_on(TURN)


class Turns:
    """Work in steps, some of them when it has its turn of the event loop."""

    def __init__(self) -> None:
        self._waiting: deque[_Waiting] = deque()
        self._at: _Waiting | None = None  # whose step is being taken

    @property
    def busy(self) -> bool:
        """Whether something is left to do."""
        return bool(self._waiting)

    def take(
        self,
        key: Hashable,
        steps: Steps[Any],
        done: Callable[[Any], None] = lambda _: None,
        at_once: float = 0.0,
    ) -> None:
        """Work through ``steps``, then give their result to ``done``.

        It takes the place of what waits under the same key, and waits in line;
        but with ``at_once``, the time in s that is taken for it before this
        returns, it goes before all.
        """
        self.drop(key)
        one = _Waiting(key, steps, done)
        if at_once:
            self._waiting.appendleft(one)
            self.go_on(at_once, only=one)
        else:
            self._waiting.append(one)
        if self._waiting:
            _rota_of(id(QApplication.instance())).ask(self)

    def drop(self, key: Hashable) -> None:
        """Leave off what waits under a key."""
        for one in tuple(self._waiting):
            if one.key == key:
                self._waiting.remove(one)
                one.dropped = True
                if one is not self._at:  # else it is closed after the step it is in
                    one.steps.close()

    def clear(self) -> None:
        """Leave off everything: what it would be shown in is closed."""
        for one in tuple(self._waiting):
            self.drop(one.key)

    def finish(self) -> None:
        """Do all that is left, now."""
        while self._waiting and self._at is None:
            self.go_on(3600.0)

    def go_on(self, seconds: float, only: object = None) -> None:
        """Take steps for so long, in s, or until nothing is left; of one work alone if given."""
        if self._at is not None:
            return  # a step has asked for more work: that waits until the step is taken
        ends = time.perf_counter() + seconds
        while self._waiting and time.perf_counter() < ends:
            one = self._waiting[0]
            if only not in (None, one):
                break
            self._step(one)

    def _step(self, one: _Waiting) -> None:
        self._at = one
        try:
            next(one.steps)
        except StopIteration as end:
            if not one.dropped:
                self._waiting.remove(one)
                one.done(end.value)
        except BaseException:
            if not one.dropped:
                self._waiting.remove(one)  # a defect is told once
            raise
        finally:
            self._at = None
        if one.dropped:
            one.steps.close()


@cache
def _rota_of(app: int) -> _Rota:
    return _Rota(QApplication.instance())


@cache
def _turns_of(app: int) -> Turns:
    return Turns()


def shared_turns() -> Turns:
    """Those of all small pictures, one picture after another."""
    return _turns_of(id(QApplication.instance()))


class Drawing:
    """A picture in a widget, painted in turns and kept until it is forgotten."""

    def __init__(self, widget: QWidget, turns: Turns | None = None) -> None:
        self._widget = widget
        self._turns = turns or shared_turns()
        self._image: QImage | None = None
        self._made_for: tuple[QSize, float] | None = None
        self._fresh = self._going = self._showing = False

    @property
    def busy(self) -> bool:
        """Whether the image is not yet that of what is to be seen."""
        return self._going or not self._fresh

    def forget(self) -> None:
        """What is to be seen has changed; what is being painted is still finished."""
        self._fresh = False

    def leave_off(self) -> None:
        """What is to be seen has changed, and what is being painted is not finished."""
        self._turns.drop(self)
        self._fresh = self._going = False

    def clear(self) -> None:
        """Nothing is to be seen."""
        self.leave_off()
        self._image = None

    def show(
        self,
        painter: QPainter,
        at: QPoint,
        size: QSize,
        steps: Callable[[QPainter], Steps[None]],
        at_once: float = 0.0,
    ) -> None:
        """Paint the image, and begin another where it is forgotten or has another size."""
        wanted = (size, self._widget.devicePixelRatioF())
        if self._made_for != wanted:
            self._fresh = False
        if not self._fresh and not self._going and not size.isEmpty():
            self._fresh = self._going = self._showing = True
            self._made_for = wanted
            self._turns.take(self, self._painted(*wanted, steps), self._on_done, at_once)
            self._showing = False
        if self._image is not None:
            painter.drawImage(QPointF(at), self._image)

    def _on_done(self, image: QImage | None) -> None:
        self._image, self._going = image, False
        if image is not None and not (self._showing and self._fresh):
            self._widget.update()

    def _painted(
        self, size: QSize, ratio: float, steps: Callable[[QPainter], Steps[None]]
    ) -> Steps[QImage | None]:
        """The image; None where its widget is gone before it is done."""
        if sip.isdeleted(self._widget):
            return None
        image = QImage(size * ratio, QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(ratio)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        try:
            for _ in steps(painter):
                yield
                if sip.isdeleted(self._widget):
                    return None
        finally:
            painter.end()
        return image
