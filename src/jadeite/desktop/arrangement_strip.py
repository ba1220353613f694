"""Two or three arrangements side by side, each with its inside and its board."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.contents import OBJECTIVES, Arrangement, differing
from jadeite.core.pictures import LIGHT, Camera, Palette, Scene, SceneStyle
from jadeite.core.pipeline import Work
from jadeite.core.steps import Steps
from jadeite.core.units import System, format_area, format_size
from jadeite.desktop.jobs import Job
from jadeite.desktop.paint import painting
from jadeite.desktop.session import Session
from jadeite.desktop.theme import base_font
from jadeite.desktop.turns import Drawing
from jadeite.desktop.widgets import button, label

__all__ = ["ArrangementStrip"]

PICTURE_HEIGHT = 66  # pixels
SHORT = {
    "least-board": "least board",
    "lowest": "lowest",
    "one-layer": "one layer",
    "squarest": "squarest",
    "smallest-footprint": "small base",
    "lightest-board": "lightest",
}


class _Tile(QPushButton):
    """One arrangement, drawn in its open tray."""

    def __init__(self, key: str) -> None:
        super().__init__()
        self.key = key
        self.setProperty("role", "tile")
        self.setCheckable(True)
        self.setFixedHeight(124)
        self.setAccessibleName(OBJECTIVES[key])
        self.setMinimumWidth(78)
        self.palette_: Palette = LIGHT
        self.system: System = "mm"
        self.work: Work | None = None
        self._drawing = Drawing(self)

    def sizeHint(self) -> QSize:
        return QSize(90, 124)

    def show_work(self, work: Work | None) -> None:
        """Draw another arrangement."""
        self.work = work
        self._drawing.forget()
        self.update()

    def _steps(self, painter: QPainter) -> Steps[None]:
        work = self.work
        if work is None or work.design is None or work.lift is None:
            return
        pose = work.lift.pose(work.lift.filled)
        lids = work.design.arrivals.lids
        scene = Scene(work.design, pose.matrices, work.bodies, pose.contents, hidden=lids,
                      ribbons=pose.ribbons)  # fmt: skip
        yield
        camera = scene.fitted(Camera(26, 42), self.width() - 8, PICTURE_HEIGHT, (3, 3, 3, 3))
        style = SceneStyle(self.palette_, work.colours, 0.6, dimensions=False, names=False,
                           shadow=False)  # fmt: skip
        picture = yield from scene.drawing(camera, style)
        yield from painting(painter, picture)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        p = self.palette_
        painter = QPainter(self)
        if self.work is None or self.work.design is None:
            painter.setFont(base_font(9.5, 600))
            painter.setPen(QColor(p.quiet))
            words = f"{SHORT[self.key]}\nis being drawn"
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
            painter.end()
            return
        size = QSize(self.width() - 8, PICTURE_HEIGHT)
        self._drawing.show(painter, QPoint(4, 4), size, self._steps)
        painter.setFont(base_font(9.5, 600))
        painter.setPen(QColor(p.ink))
        centre = Qt.AlignmentFlag.AlignHCenter
        painter.drawText(0, 70, self.width(), 17, centre, SHORT[self.key])
        painter.setFont(base_font(9))
        painter.setPen(QColor(p.quiet))
        words = format_size(self.work.inside, self.system, places=0, unit=False)
        words = words.replace(" × ", "×")
        room, end = self.width() - 4, Qt.TextElideMode.ElideRight
        words = painter.fontMetrics().elidedText(words, end, room)
        painter.drawText(0, 87, self.width(), 16, centre, words)
        area = format_area(self.work.sizes["board-area"].value, self.system)
        painter.drawText(0, 103, self.width(), 16, centre, area)
        painter.end()


def _bound_words(arrangement: Arrangement) -> str:
    """How far the arrangement may be from the best."""
    if arrangement.grid is not None:
        return "The best grid found, every thing in a cell of its own."
    if arrangement.exact:
        return "Proved: no other arrangement does better."
    if arrangement.gap <= 0:
        return "No other arrangement can do better: the things themselves take as much."
    return (
        f"A better one could save {100 * arrangement.gap:.0f} % at most: none can pass that bound."
    )


class ArrangementStrip(QFrame):
    """Offers the arrangements; the chosen objective is a decision of the document."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setProperty("role", "strip")
        self.others_job = Job("others", self, queue=True)
        self.others_job.succeeded.connect(self._on_others)
        session.extra_jobs.append(self.others_job)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 12, 4)
        row.setSpacing(8)
        aside = QWidget()
        aside.setMinimumWidth(96)
        aside.setMaximumWidth(210)
        left = QVBoxLayout(aside)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(4)
        left.addWidget(label("Arranged for", "head"))
        self.objective = QComboBox()
        self.objective.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.objective.setMinimumContentsLength(6)
        self.objective.setAccessibleName("Arranged for")
        self.objective.setToolTip("What the arrangement should make as small as it can.")
        for key, words in OBJECTIVES.items():
            self.objective.addItem(words, key)
        self.objective.activated.connect(
            lambda _: self.session.edit(objective=self.objective.currentData())
        )
        left.addWidget(self.objective)
        self.words = label("", "small", wrap=True)
        self.words.setMinimumHeight(34)
        left.addWidget(self.words)
        busy = QHBoxLayout()
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Arranging the contents")
        self.stop = button(
            "Stop", session.bench.arrange_job.cancel, "plain", "Keeps the arrangement found so far."
        )
        busy.addWidget(self.progress, 1)
        busy.addWidget(self.stop)
        left.addLayout(busy)
        left.addStretch(1)
        row.addWidget(aside, 3)
        self.tiles: dict[str, _Tile] = {}
        for key in OBJECTIVES:
            tile = _Tile(key)
            tile.clicked.connect(lambda _=False, k=key: self.session.edit(objective=k))
            self.tiles[key] = tile
            tile.setMaximumWidth(170)
            row.addWidget(tile, 2)
        row.addStretch(1)
        session.bench.arrange_job.progressed.connect(
            lambda share, _: self.progress.setValue(round(100 * share))
        )
        session.arranging.connect(self.set_busy)
        self._shown: tuple[object, ...] = ()
        self.set_busy(False)

    def set_busy(self, busy: bool) -> None:
        """Show or hide the progress."""
        self.progress.setValue(0)
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)

    def show_arrangements(self, system: System, palette: Palette) -> None:
        """Draw what has been found."""
        found = self.session.arrangements
        task = self.session.task
        key = (
            tuple((k, id(a)) for k, a in found.items()),
            task.shape,
            task.boards,
            task.colours,
            system,
            palette.dark,
            task.objective,
        )
        if key == self._shown:
            return
        self._shown = key
        offered = differing(found, task.objective)
        for name, tile in self.tiles.items():
            arrangement = found.get(name) if name in offered else None
            tile.setVisible(arrangement is not None)
            tile.palette_, tile.system = palette, system
            tile.setChecked(name == task.objective)
            if arrangement is not None:
                if arrangement is self.session.arrangement():
                    tile.show_work(self.session.work)
                tile.setAccessibleName(f"{OBJECTIVES[name]}: {self._sizes(arrangement, system)}")
                tile.setToolTip(f"{OBJECTIVES[name]}: {self._sizes(arrangement, system)}")
        asked = {name: found[name] for name in offered if name != task.objective}
        if asked and self.session.work.task == task:
            self.others_job.start(task, task, asked)
            self.others_job.wait(self.session.patience // 4)  # the design comes first
        self.objective.setCurrentIndex(self.objective.findData(task.objective))
        best = self.session.arrangement()
        if best is not None:
            self.words.setText(_bound_words(best))

    def _on_others(self, result: object, wanted: object) -> None:
        """The other arrangements are drawn as well, if they still are those of the document."""
        if wanted != self.session.task or not isinstance(result, dict):
            return
        for name, work in result.items():
            self.tiles[name].show_work(work)

    @staticmethod
    def _sizes(arrangement: Arrangement, system: System) -> str:
        return f"inside {format_size(arrangement.inside, system)}"
