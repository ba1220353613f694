"""Keeps every item of the open job worked up: one after another, in processes.

An item is asked for when it, or the size of one that it holds, has changed; the
chosen item and those that it holds come first.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jadeite.core.contents import Arrangement
from jadeite.core.contents.things import Triple
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.pictures import Palette, Picture
from jadeite.core.pipeline import Work, circle_findings, work_up
from jadeite.core.project import Hollow, Project, Task, changed, order_of, task_of
from jadeite.desktop.jobs import Job

__all__ = ["SETTLE", "Workbench"]

SETTLE = 120  # ms without a change before long jobs are asked for; from memory

ArrangeKey = tuple[object, ...]


def _arrange_key(task: Task) -> ArrangeKey:
    """What an arrangement depends on."""
    shape, boards = task.shape, tuple(sorted(task.boards.items()))
    return (
        task.contents,
        task.inside,
        task.clearance,
        task.dividers,
        shape.key,
        tuple(sorted(shape.options.items())),
        boards,
        task.own_boards,
    )


def blank(task: Task, *findings: Finding) -> Work:
    """A task of which nothing is known yet, with what is to be said of it."""
    work = work_up(changed(task, contents=(), brief=Hollow()), None, cures=False)
    return replace(work, task=task, findings=findings or work.findings)


@dataclass
class _Places:
    """Arrangements of one item: what they are for, the best by objective, whether looked for."""

    key: ArrangeKey
    found: dict[str, Arrangement] = field(default_factory=dict)
    searched: bool = False


class Workbench(QObject):
    """The works of all items of a job."""

    changed = pyqtSignal()
    arranging = pyqtSignal(bool)
    trouble = pyqtSignal(str)

    def __init__(self, project: Project, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.works: dict[str, Work] = {}
        self._project, self._first = project, project.names[0]
        self._places: dict[str, _Places] = {}
        self._asked = ""
        self.pictures: dict[str, Picture] = {}
        self._small: tuple[Palette, tuple[float, float]] | None = None
        self._drawn: dict[str, object] = {}  # for which colours each picture is
        self._failed: dict[str, tuple[Task, Finding]] = {}  # not asked for again unchanged
        self.work_job = Job("work", self, queue=True)
        self.work_job.succeeded.connect(self._on_work)
        self.work_job.failed.connect(self._on_work_failed)
        self.work_job.warm()
        self.arrange_job = Job("arrange", self)
        self.arrange_job.succeeded.connect(self._on_arranged)
        self.arrange_job.failed.connect(self._on_arrange_failed)
        self.arrange_job.cancelled.connect(self._on_arrange_stopped)
        self._searching = ""
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(SETTLE)
        self._later.timeout.connect(self._search_next)

    # ------------------------------------------------------------- what is known

    def task(self, name: str) -> Task | None:
        """An item with its job; None while one that it holds is not made."""
        try:
            return task_of(self._project, name, self._known_solids())
        except FieldError:
            return None

    def work(self, name: str) -> Work:
        """What is known of an item; nothing but a finding while it waits for another."""
        task = self.task(name)
        known, failed = self.works.get(name), self._failed.get(name)
        if task is not None and failed is not None and failed[0] == task:
            return replace(known or blank(task), findings=(failed[1],), design=None)
        if known is not None and task is not None:
            return known
        found = [f for f in circle_findings(self._project) if f.item == name]
        if task is None and not found:
            words = "What it holds is not made yet: see to that first."
            found = [Finding(Level.BLOCKED, "waits-for-item", words, "contents", "contents")]
        return blank(task or task_of(self._project, name, None), *found)

    def arrangements(self, name: str) -> dict[str, Arrangement]:
        """The arrangements of an item by objective, the best that are known."""
        places = self._places.get(name)
        return {} if places is None else places.found

    def arrangement(self, name: str) -> Arrangement | None:
        """The arrangement of an item that is in use."""
        return self.arrangements(name).get(self._project.item(name).objective)

    def current(self, name: str) -> bool:
        """Whether what is known of an item is of the document as it now is."""
        task, work = self.task(name), self.works.get(name)
        if task is None or work is None or work.task != task:
            return False
        best = self.arrangement(name)
        drawn = self._small is None or self._drawn.get(name) == self._small
        return drawn and (best is None or work.arrangement == best)

    @property
    def whole(self) -> bool:
        """Whether every item is worked up and has a design."""
        return all(
            self.current(name) and self.works[name].design is not None
            for name in self._project.names
        )

    @property
    def busy(self) -> bool:
        """Whether something is being computed or will be."""
        return self._later.isActive() or self.work_job.busy or self.arrange_job.busy

    def _known_solids(self) -> dict[str, tuple[Triple, float]]:
        return {name: work.solid for name, work in self.works.items() if work.solid is not None}

    def _order(self) -> list[str]:
        """Items in the order of asking: those that the chosen one needs, it, and the others."""
        order = order_of(self._project)
        needed = {self._first}
        for name in reversed(order):
            if name in needed:
                needed |= set(self._project.item(name).carried)
        return [n for n in order if n in needed] + [n for n in order if n not in needed]

    # ------------------------------------------------------------- asking

    def draw_small(self, palette: Palette, size: tuple[float, float]) -> None:
        """Have a small picture of each item, where there are several."""
        small = (palette, size) if len(self._project.items) > 1 else None
        if small != self._small:
            self._small = small
            self._ask_next()

    def forget(self) -> None:
        """Another document: nothing is known."""
        self.works, self._places, self._failed = {}, {}, {}

    def show(self, project: Project, first: str, patience: int) -> None:
        """Take a document; what is quick is there when this returns (``patience`` in ms)."""
        self._project, self._first = project, first
        if len(project.items) == 1:
            self._small = None
        for name in set(self.works) - set(project.names):
            del self.works[name]
        for name in set(self._places) - set(project.names):
            del self._places[name]
        if not any(item.contents for item in project.items):
            self._later.stop()
            self.arrange_job.cancel()
        self._ask_next()
        self.work_job.wait(patience)

    def _ask_next(self) -> None:
        """Ask for the first item that has changed."""
        for name in self._order():
            task = self.task(name)
            if task is None:
                self.works.pop(name, None)
                continue
            self._see_places(name, task)
            failed = self._failed.get(name)
            if not self.current(name) and (failed is None or failed[0] != task):
                self._asked = name
                key = self._places[name].key
                wanted = (name, task, key, self._small)
                self.work_job.start(wanted, task, self.arrangement(name), self._small)
                return

    def _see_places(self, name: str, task: Task) -> None:
        """Drop arrangements of other things; look for better ones a little later."""
        key, before = _arrange_key(task), self._places.get(name)
        if before is not None and before.key == key:
            return
        same = before is not None and before.key[:4] == key[:4]
        kept = before.found if before is not None and same else {}
        if task.objective not in kept:
            kept = {}
        self._places[name] = _Places(key, kept, not task.contents)
        if task.contents:
            self._later.start()

    def _on_work(self, result: object, wanted: object) -> None:
        """An item is worked up; what belongs to an older document is dropped."""
        if not isinstance(result, tuple) or not isinstance(wanted, tuple):
            return
        name, task, key, small = wanted
        places = self._places.get(name)
        if places is not None and places.key == key and task == self.task(name):
            arrangement, self.works[name], picture = result
            self._drawn[name] = small
            if picture is not None:
                self.pictures[name] = picture
            self._failed.pop(name, None)
            if arrangement is not None:
                places.found.setdefault(task.objective, arrangement)
            self.changed.emit()
        if not self.work_job.busy:
            self._ask_next()

    def _on_work_failed(self, words: str) -> None:
        """A key that does not exist: say so, and keep the rest of the work."""
        task = self.task(self._asked)
        if task is not None:
            finding = Finding(Level.BLOCKED, "unknown-key", words)
            self._failed[self._asked] = (task, finding)
        self.changed.emit()
        if not self.work_job.busy:
            self._ask_next()

    def _search_next(self) -> None:
        """Look for the best arrangements of the first item that has none."""
        for name in self._order():
            places, task = self._places.get(name), self.task(name)
            if places is not None and task is not None and not places.searched:
                self._searching = name
                self.arrange_job.start((name, places.key), task)
                self.arranging.emit(True)
                return

    def _on_arranged(self, result: object, wanted: object) -> None:
        self.arranging.emit(False)
        name, key = wanted if isinstance(wanted, tuple) else ("", None)
        places = self._places.get(name)
        if places is not None and places.key == key and isinstance(result, dict):
            places.found, places.searched = result, True
            if not self.work_job.busy:
                self._ask_next()
        self._later.start()

    def _on_arrange_failed(self, words: str) -> None:
        self.arranging.emit(False)
        for places in self._places.values():
            places.searched = True
        self.trouble.emit(words)

    def _on_arrange_stopped(self) -> None:
        """The arrangement found so far stays until something changes."""
        if self._searching in self._places:
            self._places[self._searching].searched = True
        self.arranging.emit(False)
        self._later.start()

    def close(self) -> None:
        """End the jobs."""
        self._later.stop()
        self.work_job.close()
        self.arrange_job.close()
