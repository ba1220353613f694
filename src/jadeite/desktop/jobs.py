"""Long jobs in a process of their own, so that the window never waits."""

from __future__ import annotations

import atexit
import contextlib
import logging
import os
import sys
import time

from PyQt6 import sip
from PyQt6.QtCore import QCoreApplication, QObject, QProcess, pyqtSignal

from jadeite.worker import frame, unframe

__all__ = ["Job"]

log = logging.getLogger(__name__)

NICE = 10  # of 19; measured: the window stands without a processor for half as long as at 5
MOST_SPARE = 7  # processes; from memory, a window has that many jobs
# ready ones, left by jobs that have closed, with their kind: starting one takes long
_SPARE: list[tuple[str, QProcess]] = []


def _take_spare(kind: str = "") -> QProcess | None:
    """A process that waits for work, if there is one; best one that did such work before."""
    while _SPARE:
        same = [i for i, (had, _) in enumerate(_SPARE) if had == kind]
        _, process = _SPARE.pop(same[-1] if same else -1)
        if not sip.isdeleted(process) and process.state() == QProcess.ProcessState.Running:
            return process
    return None


def _stand_back(process: QProcess) -> None:
    """A process that has just begun leaves the window its share, its own start included."""
    if pid := process.processId():  # none where it did not start; that is said elsewhere
        with contextlib.suppress(ProcessLookupError):
            os.setpriority(os.PRIO_PROCESS, pid, NICE)


@atexit.register
def _end_spares() -> None:
    while (process := _take_spare()) is not None:
        process.kill()
        process.waitForFinished(500)


class Job(QObject):
    """One kind of job; a new request replaces the one under way.

    The process stays ready between requests.  Cancelling ends it; the next
    request starts another.  A short job is rather let end: ``queue`` keeps the
    newest request until then.
    """

    progressed = pyqtSignal(float, str)
    part = pyqtSignal(object)  # of a result that comes piece by piece
    succeeded = pyqtSignal(object, object)  # result, what it was asked for
    failed = pyqtSignal(str)
    cancelled = pyqtSignal()

    def __init__(self, kind: str, parent: QObject | None = None, *, queue: bool = False) -> None:
        super().__init__(parent)
        self._kind, self._queue = kind, queue
        self._next: tuple[object, tuple[object, ...]] | None = None
        self._process: QProcess | None = None
        self._ending: list[QProcess] = []
        self._buffer = bytearray()
        self._ticket = 0
        self._wanted: object = None
        self._answered: object = None
        self.busy = False
        self._closed = False

    def start(self, wanted: object, *arguments: object) -> None:
        """Ask for a result; ``wanted`` comes back with it."""
        if self._closed:
            return
        if self.busy and self._queue:
            self._next = (wanted, arguments)
            return
        if self.busy:
            self._end_process()
        self._ticket += 1
        self._wanted = wanted
        self.busy = True
        if self._process is None:
            self._begin_process()
        assert self._process is not None
        self._process.write(frame((self._ticket, self._kind, arguments)))

    def warm(self) -> None:
        """Have the process ready before it is asked for anything."""
        if self._process is None and not self._closed:
            self._begin_process()

    def wait(self, milliseconds: int) -> None:
        """Wait a little for the answer to what was asked last; it is told as ever."""
        ends = time.monotonic() + milliseconds / 1000
        while self.busy and self._process is not None:
            left = round(1000 * (ends - time.monotonic()))
            if left <= 0 or not self._process.waitForReadyRead(left):
                break

    def cancel(self) -> None:
        """Stop the job under way; its result never arrives."""
        self._next = None
        if self.busy:
            self._end_process()
            self.busy = False
            self.cancelled.emit()

    def close(self) -> None:
        """Nothing is started after that; a process at rest is left to the next window's jobs."""
        idle, self.busy, self._closed = not self.busy, False, True
        process = self._process
        if idle and process is not None and len(_SPARE) < MOST_SPARE:
            process.readyReadStandardOutput.disconnect(self._read)
            process.finished.disconnect(self._on_finished)
            process.setParent(QCoreApplication.instance())
            _SPARE.append((self._kind, process))
            self._process = None
        self._end_process()
        for process in self._ending:
            if not sip.isdeleted(process):
                process.waitForFinished(500)
        self._ending = []

    def _begin_process(self) -> None:
        process = _take_spare(self._kind)
        fresh = process is None
        if process is None:
            process = QProcess(self)
            process.setProcessChannelMode(QProcess.ProcessChannelMode.SeparateChannels)
        process.setParent(self)
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(self._on_finished)
        if fresh:
            process.start(sys.executable, ["-m", "jadeite.worker"])
            _stand_back(process)
        self._process, self._buffer = process, bytearray()

    def _end_process(self) -> None:
        process, self._process = self._process, None
        if process is not None:
            process.readyReadStandardOutput.disconnect(self._read)
            process.finished.disconnect(self._on_finished)
            process.finished.connect(process.deleteLater)
            process.kill()
            self._ending = [p for p in self._ending if not sip.isdeleted(p)] + [process]

    def _on_finished(self) -> None:
        process, self._process = self._process, None
        if process is not None:
            words = bytes(process.readAllStandardError().data()).decode(errors="replace")
            log.error("the job ended by itself: %s", words)
            process.deleteLater()
        self._next = None
        if self.busy:
            self.busy = False
            self.failed.emit("The calculation ended unexpectedly; change something to try again.")

    def _read(self) -> None:
        if self._process is None:
            return
        self._buffer += self._process.readAllStandardOutput().data()
        for kind, ticket, *rest in unframe(self._buffer):
            if ticket != self._ticket:
                continue
            if kind == "progress":
                self.progressed.emit(*rest)
            elif kind == "part":
                self.part.emit(rest[0])
            elif kind == "done":
                self._ended()
                self.succeeded.emit(rest[0], self._answered)
            else:
                self._ended()
                self.failed.emit(rest[0])

    def _ended(self) -> None:
        """The job is done; what was asked for meanwhile is begun."""
        self._answered, self.busy = self._wanted, False
        waiting, self._next = self._next, None
        if waiting is not None:
            self.start(waiting[0], *waiting[1])
