"""Work in turns with the event loop, and pictures painted in it."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QPoint, QSize
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QApplication, QWidget

from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Shape, Span, Task
from jadeite.core.steps import Steps, finished
from jadeite.desktop import turns as module
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.table import TableView
from jadeite.desktop.turns import Drawing, Turns, shared_turns


class Clock:
    """A clock by which every step takes a hundredth of a second."""

    def __init__(self) -> None:
        self.now = 0.0

    def perf_counter(self) -> float:
        return self.now


def counting(clock: Clock, count: int, log: list[int]) -> Steps[str]:
    """So many steps, each told."""
    for i in range(count):
        clock.now += 0.010
        log.append(i)
        yield
    return "done"


def test_each_turn_takes_its_share_and_no_more(qtbot, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Twenty steps of 10 ms by turns of 8 ms: one at each, and the loop turns in between."""
    clock = Clock()
    monkeypatch.setattr(module, "time", clock)
    one, log, done = Turns(), [], []
    one.take("key", counting(clock, 20, log), done.append)
    assert log == []
    turns = 0
    while one.busy:
        before = len(log)
        QApplication.processEvents()
        assert len(log) - before <= 1
        turns += 1
    assert turns >= 10
    assert log == list(range(20))
    assert done == ["done"]


def test_what_is_light_is_done_at_once(qtbot, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Two steps fit what may be taken at once; of fifty, the rest waits."""
    clock = Clock()
    monkeypatch.setattr(module, "time", clock)
    one, log, done = Turns(), [], []
    one.take("light", counting(clock, 2, log), done.append, at_once=0.030)
    assert done == ["done"]
    assert not one.busy
    one.take("heavy", counting(clock, 50, log), done.append, at_once=0.030)
    assert one.busy
    assert len(log) == 2 + 3
    one.finish()
    assert done == ["done", "done"]


def test_newer_work_takes_the_place_of_older(qtbot) -> None:  # type: ignore[no-untyped-def]
    """What is dropped is closed, so that its painter ends, and never tells a result."""
    closed, done = [], []

    def steps(name: str) -> Steps[str]:
        try:
            yield
        except GeneratorExit:
            closed.append(name)
            raise
        return name

    one = Turns()
    for name in ("first", "second"):
        work = steps(name)
        next(work)
        one.take("key", work, done.append)
    one.finish()
    assert closed == ["first"]
    assert done == ["second"]


def test_a_step_may_ask_for_more_work_and_for_its_own_place(qtbot) -> None:  # type: ignore[no-untyped-def]
    """A part of the window that changes the document while it is refreshed."""
    one, log = Turns(), []

    def first() -> Steps[str]:
        log.append("asks")
        one.take("other", counting(Clock(), 2, log), log.append)
        one.go_on(1.0)  # not within a step
        one.finish()
        log.append("asked")
        one.take("key", counting(Clock(), 1, log), log.append)  # in its own place
        yield
        log.append("goes on")  # pragma: no cover - it was dropped
        return "never told"

    one.take("key", first(), log.append)
    one.finish()
    assert log == ["asks", "asked", 0, 1, "done", 0, "done"]
    assert not one.busy


def test_all_share_the_turns_of_the_loop(qtbot, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Three at work: each turn of the loop is one's, and none waits for another's end."""
    clock = Clock()
    monkeypatch.setattr(module, "time", clock)
    several, log = [Turns(), Turns(), Turns()], []

    def tell(number: int) -> Steps[None]:
        for _ in range(6):
            clock.now += 0.010
            log.append(number)
            yield

    for number, one in enumerate(several):
        one.take("key", tell(number))
    last = None
    while any(one.busy for one in several):
        before = len(log)
        QApplication.processEvents()
        assert len(set(log[before:])) <= 1
        if len(log) > before:
            assert log[-1] != last
            last = log[-1]
    assert [log.count(number) for number in range(3)] == [6, 6, 6]
    several[0].take("key", counting(clock, 3, log))
    several[0].clear()
    assert not several[0].busy


def test_a_defect_ends_what_has_it_and_nothing_else(qtbot) -> None:  # type: ignore[no-untyped-def]
    """It is raised once."""
    one, log = Turns(), []

    def broken() -> Steps[None]:
        raise ValueError("a defect")
        yield

    one.take("broken", broken(), log.append)
    one.take("whole", counting(Clock(), 1, log), log.append)
    with pytest.raises(ValueError, match="a defect"):
        one.finish()
    one.finish()
    assert log == [0, "done"]


class Sign(QWidget):
    """A widget of one colour."""

    def __init__(self) -> None:
        super().__init__()
        self.colour = "#ff0000"
        self.turns = Turns()
        self.drawing = Drawing(self, self.turns)

    def steps(self, painter: QPainter) -> Steps[None]:
        return self._fill(painter, QColor(self.colour))  # as it is when it begins

    @staticmethod
    def _fill(painter: QPainter, colour: QColor) -> Steps[None]:
        yield
        painter.fillRect(0, 0, 40, 30, colour)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self.drawing.show(painter, QPoint(), QSize(40, 30), self.steps)
        painter.end()

    def seen(self) -> str:
        """Colour of its middle."""
        return self.grab().toImage().pixelColor(20, 15).name()


def test_the_old_image_stays_until_the_new_one_is_done(qtbot) -> None:  # type: ignore[no-untyped-def]
    """And what changes while one is painted is painted after it."""
    sign = Sign()
    qtbot.addWidget(sign)
    sign.resize(40, 30)
    sign.seen()
    sign.turns.finish()
    assert sign.seen() == "#ff0000"
    assert not sign.drawing.busy
    sign.colour = "#0000ff"
    sign.drawing.forget()
    assert sign.seen() == "#ff0000"
    next(sign.turns._waiting[0].steps)  # begun
    sign.colour = "#00ff00"
    sign.drawing.forget()
    sign.turns.finish()
    assert sign.seen() == "#0000ff"  # the one that was begun; the next is begun with it
    sign.turns.finish()
    assert sign.seen() == "#00ff00"
    sign.drawing.clear()
    assert not sign.turns.busy


def test_a_widget_that_is_gone_is_painted_no_more(qtbot) -> None:  # type: ignore[no-untyped-def]
    """Its picture waits in the line of all; the next step would ask it for its width."""
    holder = QWidget()
    qtbot.addWidget(holder)
    sign = Sign()
    sign.setParent(holder)
    sign.drawing = Drawing(sign)  # in the line of all
    asked: list[int] = []

    def steps(painter: QPainter) -> Steps[None]:
        while True:
            asked.append(sign.width())
            yield

    sign.steps = steps  # type: ignore[method-assign]
    sign.grab()
    QApplication.processEvents()
    assert asked
    sip.delete(sign)
    before = len(asked)
    shared_turns().finish()
    assert len(asked) == before
    assert not shared_turns().busy


def test_the_table_shows_what_its_picture_says(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """In turns or in one go, the same image; from many sides of a shape of many faces."""
    demo.session.edit(shape={"key": "globe", "options": {}})
    qtbot.waitUntil(lambda: demo.session.settled() and not demo.centre.table.busy, timeout=30_000)
    table = demo.centre.table
    for lift, yaw in ((0.0, 0.0), (1.0, 30.0), (0.6, 75.0)):
        table.set_lift(lift)
        table.turn_by(yaw, 4.0)
        assert table.busy
        table.repaint()
        qtbot.waitUntil(lambda: not table.busy, timeout=30_000)
        picture = table.picture()
        wanted = QImage(table.size(), QImage.Format.Format_ARGB32_Premultiplied)
        wanted.fill(0)
        painter = QPainter(wanted)
        paint_picture(painter, picture, table.width(), table.height())
        painter.end()
        shown = table._drawing._image
        assert shown is not None
        assert shown == wanted
        assert table._seen is picture


def test_a_picture_that_is_done_while_the_theme_changes_is_shown(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Whenever it is done, the table ends in the new colours: a request to paint is never lost."""
    table = demo.centre.table
    for number in range(12):
        theme = "dark" if number % 2 == 0 else "light"
        table.turn_by(3.0, 1.0)
        table.repaint()  # begins a picture in the old colours
        for _ in range(number):
            QApplication.processEvents()
        demo.set_theme(theme, remember=False)
        qtbot.waitUntil(lambda: not demo.restyler.busy and not table.busy, timeout=30_000)
        assert table._seen is table.picture()
        assert table.palette_.dark == (theme == "dark")


def test_work_in_steps_gives_its_result() -> None:
    """All at once, however far it has come."""
    work = counting(Clock(), 5, [])
    next(work)
    assert finished(work) == "done"


def test_a_heavy_new_thing_is_shown_plainer_at_first(qtbot) -> None:  # type: ignore[no-untyped-def]
    """Then in full, by itself, and at once where it is copied; a light one in full at once."""
    rings = Shape(key="layered-flower", options={"petals": "8 8 8 8 8 8"})
    flower = work_up(Task(brief=Span(width=120.0), shape=rings), None)
    tray = work_up(
        Task(brief=Hollow(size=(60.0, 40.0, 30.0)), shape=Shape(key="tray-with-lid")), None
    )
    table = TableView()
    qtbot.addWidget(table)
    table.resize(640, 480)
    table.set_lift(1.0)
    table.set_work(flower)
    plain = len(table.picture().items)
    seen, done = [], table._drawing._on_done

    def told(image: QImage | None) -> None:
        seen.append(image)
        done(image)

    table._drawing._on_done = told
    table.show()
    qtbot.waitUntil(lambda: not table.busy, timeout=20_000)
    full = len(table.picture().items)
    assert full > 1.1 * plain
    assert len(seen) == 2
    assert seen[0] != seen[1]
    table.set_work(replace(flower))
    assert len(table.picture().items) == plain
    table.image()
    assert len(table.picture().items) == full
    qtbot.waitUntil(lambda: not table.busy, timeout=20_000)
    before = len(seen)
    table.set_work(tray)
    qtbot.waitUntil(lambda: not table.busy, timeout=20_000)
    assert len(seen) == before + 1


def test_what_is_left_off_is_never_shown(qtbot) -> None:  # type: ignore[no-untyped-def]
    """It does not hold up what comes after it."""
    sign = Sign()
    qtbot.addWidget(sign)
    sign.resize(40, 30)
    sign.seen()
    sign.turns.finish()
    sign.colour = "#0000ff"
    sign.drawing.forget()
    sign.seen()
    next(sign.turns._waiting[0].steps)  # begun
    sign.drawing.leave_off()
    assert not sign.turns.busy
    assert sign.drawing.busy
    sign.colour = "#00ff00"
    assert sign.seen() == "#ff0000"
    sign.turns.finish()
    assert sign.seen() == "#00ff00"
