"""A random walk through the real window: what a maker might click, type and drag.

Each action is a kind and a function; the same seed gives the same walk.  A
watcher of the event loop says how long each kind held it up.
"""

from __future__ import annotations

import os
import random
import threading
import time
from collections import defaultdict
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QElapsedTimer, QEvent, QObject, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox

from jadeite.core.contents import Ball, Block, Disc, Light, Loose
from jadeite.core.shapes import all_families
from jadeite.desktop.docket import STATIONS
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.widgets import NumberBox, Segmented
from jadeite.desktop.window import Window

Action = tuple[str, Callable[[], None]]
TICK = 2  # ms between the ticks of the watcher
_TICKS = os.sysconf("SC_CLK_TCK")  # of /proc/stat, in a second


class Hold(NamedTuple):
    """For how many ms the event loop did not turn, and what this thread did meanwhile.

    It worked (``own``), stood ready without a processor (``queued``), or, for what is
    left, waited for a disk, a lock or another thread.  ``taken`` says for how long a
    shared machine took processors away meanwhile; each is counted.
    """

    ms: float
    own: float
    queued: float
    taken: float


def _queued() -> float:
    """For how many ms this thread has stood ready without a processor, since it began."""
    stat = Path(f"/proc/self/task/{threading.get_native_id()}/schedstat")
    return int(stat.read_text().split()[1]) / 1e6  # proc(5) and the kernel's sched-stats


def _taken() -> float:
    """For how many ms processors were taken away, since the machine started."""
    with open("/proc/stat", encoding="ascii") as stat:
        return 1000 * int(stat.readline().split()[8]) / _TICKS  # proc_stat(5): "steal"


class Watcher(QObject):
    """The longest time for which the event loop did not turn, since it was last asked."""

    def __init__(self) -> None:
        super().__init__()
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)
        self._worst = Hold(0.0, 0.0, 0.0, 0.0)
        self._start()
        self._timer.start(TICK)

    def _start(self) -> None:
        self._clock.restart()
        self._worked, self._stood, self._lost = time.thread_time(), _queued(), _taken()

    def _now(self) -> Hold:
        own = 1000 * (time.thread_time() - self._worked)
        queued = _queued() - self._stood
        ms = self._clock.nsecsElapsed() / 1e6 - TICK
        return Hold(ms, own, queued, _taken() - self._lost)

    def _tick(self) -> None:
        self._worst = max(self._worst, self._now())
        self._start()

    def begin(self) -> None:
        """Forget what was."""
        self._worst = Hold(0.0, 0.0, 0.0, 0.0)
        self._start()

    def worst(self) -> Hold:
        """The longest hold since ``begin``; what goes on now is counted."""
        return max(self._worst, self._now())

    def stop(self) -> None:
        """No more ticks."""
        self._timer.stop()


MOST_ITEMS = 5  # of a walk


def actions(window: Window, rng: random.Random) -> Iterator[Action]:
    """Random actions without end; each looks at the window as it then is."""
    kinds: list[tuple[str, Callable[[Window, random.Random], Callable[[], None] | None]]] = [
        ("station", _station), ("station", _station), ("option", _option), ("option", _option),
        ("option", _option), ("number", _number), ("number", _number), ("family", _family),
        ("undo", _undo), ("undo", _undo), ("redo", _redo), ("theme", _theme), ("units", _units),
        ("point", _point), ("point", _point), ("turn", _turn), ("zoom", _zoom), ("lift", _lift),
        ("thing", _thing), ("thing", _thing), ("things away", _no_things), ("shelf", _shelf),
        ("board", _board), ("cure", _cure), ("cure", _cure), ("copies", _copies),
        ("findings", _findings), ("size", _resize), ("panel away", _handle),
        ("made thing", _made), ("made thing", _made), ("made thing", _made),
    ]  # fmt: skip
    while True:
        kind, make = rng.choice(kinds)
        act = make(window, rng)
        if act is not None:
            yield kind, act


def walk(window: Window, seed: int, count: int) -> dict[str, list[Hold]]:
    """Take ``count`` actions; returns how each held the event loop up, by kind."""
    rng = random.Random(seed)
    watcher = Watcher()
    held: dict[str, list[Hold]] = defaultdict(list)
    source = actions(window, rng)
    for _ in range(count):
        kind, act = next(source)
        QApplication.processEvents()
        watcher.begin()
        act()
        ends = time.monotonic() + rng.choice([0.02, 0.06, 0.25])
        while time.monotonic() < ends:
            QApplication.processEvents()
            time.sleep(0.001)
        held[kind].append(watcher.worst())
    watcher.stop()
    return dict(held)


def _station(window: Window, rng: random.Random) -> Callable[[], None]:
    key = rng.choice([key for key, _ in STATIONS])
    return lambda: window.open_station(key)


def _editors(window: Window, kind: type) -> list:  # type: ignore[type-arg]
    panel = window.panels[window.station]
    return [w for w in panel.findChildren(kind) if w.isVisible() and w.isEnabled()]


def _option(window: Window, rng: random.Random) -> Callable[[], None] | None:
    """Another choice of whatever stands in the figures."""
    choices = _editors(window, Segmented) + _editors(window, QComboBox)
    if not choices:
        return None
    widget = rng.choice(choices)
    if isinstance(widget, QComboBox):
        rows = [i for i in range(widget.count()) if widget.itemData(i) != "from-file"]
        if not rows:
            return None
        row = rng.choice(rows)

        def choose() -> None:
            widget.setCurrentIndex(row)
            widget.activated.emit(row)

        return choose
    button = rng.choice(list(widget.buttons.values()))
    return button.click


def _number(window: Window, rng: random.Random) -> Callable[[], None] | None:
    """Type into a field, sense or nonsense."""
    fields = _editors(window, LengthEdit) + _editors(window, NumberBox)
    if not fields:
        return None
    field = rng.choice(fields)
    words = rng.choice(["12", "35.5", "2 3/4 in", "80", "7 cm", "x", "", "999999", "0", "61"])

    def write() -> None:
        field.setFocus()
        line = field if isinstance(field, LengthEdit) else field.lineEdit()
        if line is None:
            return
        line.selectAll()
        QTest.keyClicks(line, words)
        QTest.keyClick(line, Qt.Key.Key_Return)

    return write


def _family(window: Window, rng: random.Random) -> Callable[[], None]:
    key = rng.choice(all_families()).key
    return lambda: window.session.edit(shape={"key": key, "options": {}})


def _undo(window: Window, rng: random.Random) -> Callable[[], None]:
    return window.session.undo


def _redo(window: Window, rng: random.Random) -> Callable[[], None]:
    return window.session.redo


def _theme(window: Window, rng: random.Random) -> Callable[[], None]:
    choice = rng.choice(["light", "dark"])
    return lambda: window.set_theme(choice, remember=False)


def _units(window: Window, rng: random.Random) -> Callable[[], None]:
    choice = rng.choice(["mm", "inches"])
    return lambda: window.set_system(choice)


def _spot(window: Window, rng: random.Random) -> QPoint:
    table = window.centre.table
    return QPoint(rng.randrange(max(1, table.width())), rng.randrange(max(1, table.height())))


def _point(window: Window, rng: random.Random) -> Callable[[], None] | None:
    table = window.centre.table
    if not table.isVisible():
        return None
    spot = _spot(window, rng)
    return lambda: QTest.mouseClick(table, Qt.MouseButton.LeftButton, pos=spot)


def _turn(window: Window, rng: random.Random) -> Callable[[], None] | None:
    table = window.centre.table
    if not table.isVisible():
        return None
    start, end = _spot(window, rng), _spot(window, rng)

    def drag() -> None:
        QTest.mousePress(table, Qt.MouseButton.LeftButton, pos=start)
        for k in range(1, 5):
            at = QPointF(start + (end - start) * k / 4)
            left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
            keys = Qt.KeyboardModifier.NoModifier
            over = table.mapToGlobal(at)
            move = QMouseEvent(QEvent.Type.MouseMove, at, over, none, left, keys)
            QApplication.sendEvent(table, move)
            QApplication.processEvents()
        QTest.mouseRelease(table, Qt.MouseButton.LeftButton, pos=end)

    return drag


def _zoom(window: Window, rng: random.Random) -> Callable[[], None] | None:
    table = window.centre.table
    if not table.isVisible():
        return None
    at, way = QPointF(_spot(window, rng)), rng.choice([-240, -120, 120, 240])

    def wheel() -> None:
        event = QWheelEvent(at, table.mapToGlobal(at), QPoint(), QPoint(0, way),
                            Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
                            Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
        QApplication.sendEvent(table, event)

    return wheel


def _lift(window: Window, rng: random.Random) -> Callable[[], None]:
    value = rng.random()
    return lambda: window.centre.lift.set_value(value)


def _thing(window: Window, rng: random.Random) -> Callable[[], None]:
    size = lambda: round(rng.uniform(12, 90), 1)  # noqa: E731
    thing = rng.choice(
        [
            Block(name="case", length=size(), width=size(), height=size(), mass=40),
            Ball(name="moon", diameter=size(), mass=20),
            Disc(name="filter", diameter=size(), thickness=5, mass=8),
            Light(name="light", mass=12),
            Loose(name="sweets", diameter=14, grains=30, mass=50),
        ]
    )

    def add() -> None:
        project = window.session.task
        window.session.edit(contents=(*project.contents[-3:], thing))

    return add


def _made(window: Window, rng: random.Random) -> Callable[[], None]:
    """Another made thing: added, chosen, copied, moved, put into one, taken away."""
    names = window.session.project.names
    one, other = rng.choice(names), rng.choice(names)
    things, slips = window.things, window.docket.slips
    add = rng.choice(["folded-card", "envelope", "tray-with-lid", "sleeve"])
    may = [
        lambda: slips.chosen.emit(one),
        lambda: slips.chosen.emit(one),
        lambda: things.put(one, other),
        lambda: things.move(one, names.index(other)),
        lambda: things.rename(one, f"{one[:20]} x"),
        lambda: things.remove(one),
    ]
    if len(names) < MOST_ITEMS:
        may += [lambda: _added(window, add), lambda: things.copy(one)]
    return rng.choice(may)


def _added(window: Window, key: str) -> None:
    """From the shelf, or not after all."""
    window.docket.add_asked.emit()
    QApplication.processEvents()  # a click of its own
    shelf = window.centre.shelf
    shelf.left.emit() if len(window.session.project.names) % 5 == 4 else shelf.pick(key)


def _no_things(window: Window, rng: random.Random) -> Callable[[], None]:
    return lambda: window.session.edit(contents=())


def _shelf(window: Window, rng: random.Random) -> Callable[[], None]:
    shown = rng.random() < 0.5
    return lambda: window.show_shelf(shown)


def _board(window: Window, rng: random.Random) -> Callable[[], None] | None:
    from jadeite.core.boards import CATALOGUE

    part = rng.choice(window.session.work.family.parts)[0]
    key = rng.choice(CATALOGUE).key
    return lambda: window.session.set_field(f"boards.{part}", key)


def _cure(window: Window, rng: random.Random) -> Callable[[], None] | None:
    found = [f for f in window.session.findings if f.cure is not None]
    if not found:
        return None
    finding = rng.choice(found)
    return lambda: window.session.cure(finding)


def _copies(window: Window, rng: random.Random) -> Callable[[], None]:
    count = rng.choice([1, 2, 3, 6])
    return lambda: window.session.edit(copies=count)


def _findings(window: Window, rng: random.Random) -> Callable[[], None]:
    return window.findings.toggle


def _resize(window: Window, rng: random.Random) -> Callable[[], None]:
    wide, high = rng.choice([(1280, 800), (1024, 700), (1600, 1000)])
    return lambda: window.resize(wide, high)


def _handle(window: Window, rng: random.Random) -> Callable[[], None] | None:
    """A piece that is chosen, and then is no longer made."""
    shape = window.session.task.shape
    if shape.key not in ("chest", "lantern") or window.session.work.design is None:
        return None

    def away() -> None:
        window.session.set_field("shape.options.handle", "strap")
        design = window.session.work.design
        if design is not None and any(p.name == "handle" for p in design.pieces):
            piece = design.piece("handle")
            window.centre.table.choose(("handle", piece.panels[0].name))
        window.session.set_field("shape.options.handle", "none")

    return away
