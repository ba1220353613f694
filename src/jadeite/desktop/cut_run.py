"""A job being cut from the window: the run, the cutter that it talks to, and what was done."""

from __future__ import annotations

import contextlib
import hashlib
import json
import logging
import socket
import sys
import tempfile
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, QSocketNotifier, QTimer, pyqtSignal

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import write_whole
from jadeite.core.machine import Run
from jadeite.core.pipeline import SheetWork
from jadeite.core.pipeline.anew import cut_anew
from jadeite.core.project import Project
from jadeite.desktop.session import Session

__all__ = ["CutRun"]

log = logging.getLogger(__name__)

TRY = 100  # ms from one attempt to reach the cutter to the next
MOST = 100  # attempts; from memory, then it is said to be gone
KEEP = 200  # ms after a stroke, then what is done is kept; from memory
SILENT = 3_000  # ms, from memory: of no word in the middle of a stroke, then it is asked about
STATE = "cutting.json"


class CutRun(QObject):
    """What is cut now, if anything; ``changed`` tells of every step."""

    changed = pyqtSignal()

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__(session)
        self.session, self._file = session, folder / STATE
        session.extra_jobs.append(self)
        self.run: Run | None = None
        self.silent = False
        self.simulated = False
        self._job: tuple[Project, SheetWork] | None = None
        self._anew = 0
        self._process: QProcess | None = None
        self._folder: tempfile.TemporaryDirectory[str] | None = None  # of its socket
        self._socket: socket.socket | None = None
        self._heard: QSocketNotifier | None = None
        self._buffer = bytearray()
        self._tries = 0
        self._where = ""
        self._retry = QTimer(self)
        self._retry.setSingleShot(True)
        self._retry.setInterval(TRY)
        self._retry.timeout.connect(self._reach)
        self._silence = QTimer(self)
        self._silence.setSingleShot(True)
        self._silence.setInterval(SILENT)
        self._silence.timeout.connect(self._on_silence)
        self._keep = QTimer(self)  # a real stroke takes longer than that
        self._keep.setSingleShot(True)
        self._keep.setInterval(KEEP)
        self._keep.timeout.connect(self._save)
        self._told = QTimer(self)  # the window is told twenty times a second at most
        self._told.setSingleShot(True)
        self._told.setInterval(50)
        self._told.timeout.connect(self.changed)

    @property
    def busy(self) -> bool:
        """Whether something is being cut."""
        return self.run is not None

    @property
    def changed_since(self) -> bool:
        """Whether the document is another than when cutting began."""
        return self._job is not None and self._job[1].of != (
            self.session.sheets.of if self.session.sheets else ""
        )

    # ------------------------------------------------------------- begin, end

    def begin_simulated(self, pace: float) -> None:
        """Cut with the simulated cutter, so many times faster than it would be."""
        self._folder = tempfile.TemporaryDirectory(prefix="jadeite-")
        path = Path(self._folder.name) / "cutter"
        process = self._process = QProcess(self)
        process.setProcessChannelMode(QProcess.ProcessChannelMode.SeparateChannels)
        words = ["-m", "jadeite", "cutter", "--socket", str(path), "--pace", f"{pace:g}"]
        process.start(sys.executable, words)
        self.simulated = True
        self.begin(str(path))

    def begin(self, where: str) -> None:
        """Cut with what listens on a local socket."""
        sheets = self.session.sheets
        if sheets is None or not self.session.sheets_current or self.busy:
            return
        self._job, self._anew = (self.session.project, sheets), 0
        run = Run(sheets.cutting.sheets)
        kept = self.kept()
        if kept is not None:
            run.restore(kept)
        self.run, self._where, self._tries = run, where, 0
        self._reach()
        self.changed.emit()

    def stop(self, *, keep: bool = True) -> None:
        """End it; with ``keep`` it can go on from there another time."""
        if self.run is not None and not self.run.done and keep:
            self._save()
        elif not keep:
            self._file.unlink(missing_ok=True)
        self.run = self._job = None
        self.silent = self.simulated = False
        for timer in (self._retry, self._silence, self._keep):
            timer.stop()
        self._hang_up()
        process, self._process = self._process, None
        if process is not None:
            process.kill()
            process.waitForFinished(500)
        folder, self._folder = self._folder, None
        if folder is not None:
            folder.cleanup()
        self.changed.emit()

    def close(self) -> None:
        """The window closes."""
        if self.busy:
            self.stop()

    # ------------------------------------------------------------- what was done before

    def kept(self) -> dict[str, object] | None:
        """What was cut of these sheets before, if it was left unfinished."""
        sheets = self.session.sheets
        try:
            data = json.loads(self._file.read_text())
        except (OSError, ValueError):
            return None
        known = isinstance(data, dict) and sheets is not None and data.get("of") == _mark(sheets)
        return data if known else None

    def forget(self) -> None:
        """Cut all of it anew."""
        self._file.unlink(missing_ok=True)
        self.changed.emit()

    def _save(self) -> None:
        if self.run is None or self._job is None:
            return
        data = {"of": _mark(self._job[1]), **self.run.state(len(self._job[1].cutting.sheets))}
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True)
            write_whole(self._file, json.dumps(data).encode())
        except FileError as error:
            log.warning("what is cut is not kept: %s", error)

    # ------------------------------------------------------------- the line

    def _reach(self) -> None:
        """Try to reach the cutter; a simulated one needs a moment to start."""
        if self.run is None or self._socket is not None:
            return
        self._tries += 1
        line = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        try:
            line.connect(self._where)
        except OSError:
            line.close()
            if self._tries >= MOST:
                self.session.trouble.emit(f"No cutter answers on {self._where}.")
                self.stop()
            else:
                self._retry.start()
            return
        self._socket = line
        self._heard = QSocketNotifier(line.fileno(), QSocketNotifier.Type.Read, self)
        self._heard.activated.connect(self._read)
        self._buffer.clear()
        self.run.begin()
        self._go_on()

    def _hang_up(self) -> None:
        heard, self._heard = self._heard, None
        if heard is not None:
            heard.setEnabled(False)
            heard.deleteLater()
        line, self._socket = self._socket, None
        if line is not None:
            line.close()

    def _say(self, words: str) -> None:
        """One line to the cutter; one that is gone is noticed when it is read from."""
        if self._socket is not None:
            with contextlib.suppress(OSError):
                self._socket.sendall(f"{words}\n".encode())

    def _on_gone(self) -> None:
        if self.run is not None and not self.run.done:
            self.session.trouble.emit(
                "The cutter is gone. What was cut is kept: cut again to go on."
            )
            self.stop()

    def _read(self) -> None:
        if self._socket is None:
            return
        try:
            data = self._socket.recv(65536)
        except OSError:
            data = b""
        if not data:
            self._on_gone()
            return
        self._buffer += data
        self.silent = False
        *lines, rest = bytes(self._buffer).split(b"\n")
        self._buffer[:] = rest
        for line in lines:
            if self.run is not None:
                words = line.decode("utf-8", "replace")
                self.run.heard(words)
                if words.startswith("DONE") and not self._keep.isActive():
                    self._keep.start()
        self._go_on()

    def _go_on(self) -> None:
        """Send what is to be told; ask about a cutter that falls silent."""
        run = self.run
        if run is None:
            return
        if run.lost and run.done:
            self._cut_anew(run)
        while run.send:
            self._say(run.send.pop(0))
        if run.doing is not None and run.ask is None:
            self._silence.start()
        else:
            self._silence.stop()
        if run.done:
            self._file.unlink(missing_ok=True)
            self.session.said.emit("All is cut.")
            self.stop(keep=False)
        elif not self._told.isActive():
            self._told.start()

    def _cut_anew(self, run: Run) -> None:
        if self._job is None:
            return
        project, sheets = self._job
        plan, left = cut_anew(project, sheets, run.lost, self._anew)
        self._anew += len(plan.sheets)
        if left:
            names = ", ".join(dict.fromkeys(sheets.pieces[name].piece.title for name, _ in left))
            self.session.trouble.emit(f"No sheet is left to cut anew: {names}.")
        run.add(plan.sheets)

    def _on_silence(self) -> None:
        self.silent = True
        self.changed.emit()

    # ------------------------------------------------------------- the person

    def answer(self, key: str) -> None:
        """Say to the run what was done."""
        run = self.run
        if run is None or run.ask is None:
            return
        if run.ask.kind == "shallow" and key == "again" and self.simulated:
            self._say("HARDER")
        run.answer(key)
        self._go_on()
        self.changed.emit()

    def switch_on(self) -> None:
        """The simulated cutter is switched on again."""
        self.silent = False
        self._say("SWITCH ON")

    def misbehave(self, kind: str) -> None:
        """Let the simulated cutter do something wrong now."""
        self._say(f"BREAK {kind}")


def _mark(sheets: SheetWork) -> str:
    """What tells sheets that are laid out so from any others."""
    lies = [(p.piece, p.copy, p.angle, p.x, p.y) for s in sheets.layout.sheets for p in s.placed]
    return f"{sheets.of}-{hashlib.sha256(repr(lies).encode()).hexdigest()[:16]}"
