"""What every board means for the open task, as the Board station shows it."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jadeite.core.boards import Board
from jadeite.core.choice import Comparison, Meaning, Remedy
from jadeite.core.contents import Arrangement
from jadeite.core.dressings import parts_of
from jadeite.core.errors import JadeiteError
from jadeite.core.formats.board_library import merged
from jadeite.core.project import Task, changed, with_change
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session

__all__ = ["BoardChoice", "Laid"]

PAUSE = 400  # ms without a change before sheets are counted for every board; from memory


@dataclass(frozen=True)
class Laid:
    """Sheets that a board takes, pieces that fit none, and the cost where prices are known."""

    sheets: int
    unplaced: int
    cost: float | None


class BoardChoice(QObject):
    """Compares boards, tries cures and counts sheets, all in the background."""

    changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self.part = ""  # the part that is compared; empty for all
        self.laid: dict[str, Laid] = {}
        self.comparison: Comparison | None = None
        self.remedies: tuple[Remedy, ...] = ()
        self._open = False
        self._key: object = None
        self._asked: tuple[Task, Arrangement | None] = (session.task, None)
        self._todo: list[str] = []
        self.job = Job("board-sheets", self)
        self.job.succeeded.connect(self._on_laid)
        self.job.failed.connect(lambda _: self._next())
        self.compare_job = Job("compare", self, queue=True)
        self.compare_job.succeeded.connect(self._on_compared)
        self.cure_job = Job("remedies", self)
        self.cure_job.succeeded.connect(self._on_remedies)
        session.extra_jobs += [self.job, self.cure_job, self.compare_job]
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(PAUSE)
        self._later.timeout.connect(self._next)
        session.changed.connect(self.refresh)
        session.library.changed.connect(self.refresh)

    # ------------------------------------------------------------- what is compared

    @property
    def busy(self) -> bool:
        """Whether cures are still being tried, or sheets counted."""
        jobs = (self.job, self.cure_job, self.compare_job)
        return self._later.isActive() or any(job.busy for job in jobs)

    @property
    def comparing(self) -> bool:
        """Whether something is made whose boards are not compared yet."""
        return self.comparison is None and self.session.work.design is not None

    def task(self) -> Task:
        """The document with every board of the library at hand."""
        task = self.session.task
        own = merged(self.session.library.boards, task.own_boards)
        return changed(task, own_boards=own[:60])

    def parts(self) -> tuple[tuple[str, str], ...]:
        """Every part that is made now, as key and title."""
        work = self.session.work
        try:
            options = work.options
        except JadeiteError:
            return work.family.parts
        return parts_of(self.session.task, work.family, options)

    def set_open(self, opened: bool) -> None:
        """Compare only while somebody looks."""
        self._open = opened
        self.refresh()

    def set_part(self, part: str) -> None:
        """Compare boards for one part; for all of them when empty."""
        self.part = part
        self.refresh()

    def refresh(self) -> None:
        """Compare anew where something has changed."""
        if not self._open:
            return
        if self.part and self.part not in dict(self.parts()):
            self.part = ""
        work = self.session.work
        if work.task != self.session.task:
            return  # the document has moved on: what it leads to is told when it is there
        task = self.task()
        key = (task, work.inside, work.arrangement, self.part)
        if key == self._key:
            return
        self._key, self._asked = key, (task, work.arrangement)
        self.laid, self._todo = {}, []
        self._later.stop()
        self.job.cancel()
        self.cure_job.cancel()
        self.remedies = ()
        if work.design is None:
            self.comparison = None
            self.changed.emit()
            return
        focus = (self.part,) if self.part else ()
        self.compare_job.start(key, task, work.arrangement, work.inside, focus)
        self.compare_job.wait(self.session.patience // 4)  # the design comes first

    def _on_compared(self, result: object, wanted: object) -> None:
        """Every board is known; then what would cure, and the sheets of each."""
        if wanted is not self._key or not isinstance(result, Comparison):
            return
        self.comparison = result
        own = self.comparison.of(self.used())
        if own is not None and not own.holds:  # each cure is made on paper: that takes a while
            self.cure_job.start(wanted, *self._asked, self.comparison.focus)
        self._todo = [m.board.key for m in self.comparison.meanings if not m.refused]
        used = self.used()
        self._todo.sort(key=lambda k: k != used)  # the one in use first
        self._later.start()
        self.changed.emit()

    def used(self) -> str:
        """Key of the board in use in the part that is compared."""
        work = self.session.work
        part = self.part or work.family.parts[0][0]
        board = work.boards.get(part)
        return board.key if board is not None else ""

    def meaning(self, key: str) -> Meaning | None:
        """What a board means."""
        return self.comparison.of(key) if self.comparison is not None else None

    # ------------------------------------------------------------- deciding

    def use(self, key: str) -> None:
        """Make the compared parts of a board; one of the library goes into the document."""
        focus = self.comparison.focus if self.comparison is not None else ()
        if not focus:
            focus = tuple(p for p, _ in self.session.work.family.parts)
        self.use_in(focus, key)

    def use_in(self, parts: tuple[str, ...], key: str) -> None:
        """Make parts of a board."""
        task = self.session.task
        boards = task.boards | dict.fromkeys(parts, key)
        self.session.edit(boards=boards, own_boards=self._with_own(key))

    def _with_own(self, *keys: str) -> tuple[Board, ...]:
        """The document's own boards, with those of the library that it uses."""
        task = self.session.task
        own = {b.key for b in task.own_boards}
        more = [b for b in self.session.library.boards if b.key in keys and b.key not in own]
        return (*task.own_boards, *more)

    def cure(self, remedy: Remedy) -> None:
        """Make the change of a remedy."""
        task = self.session.task
        keys = [str(v) for path, v in remedy.cure.changes if path.startswith("boards.")]
        try:
            task = changed(task, own_boards=self._with_own(*keys))
            for path, value in remedy.cure.changes:
                task = with_change(task, path, value)
        except JadeiteError as error:
            self.session.trouble.emit(str(error))
            return
        self.session.apply_task(task)

    def _on_remedies(self, result: object, wanted: object) -> None:
        if wanted is self._key and isinstance(result, tuple):
            self.remedies = result
            self.changed.emit()

    # ------------------------------------------------------------- sheets and cost

    def _next(self) -> None:
        if not self._todo or not self._open or self.comparison is None:
            self.changed.emit()
            return
        key = self._todo.pop(0)
        self.job.start((self._key, key), *self._asked, self.comparison.focus, key)

    def _on_laid(self, result: object, wanted: object) -> None:
        assert isinstance(wanted, tuple)
        if wanted[0] is self._key and isinstance(result, tuple):
            self.laid[wanted[1]] = Laid(*result)
            self.changed.emit()
            self._next()
