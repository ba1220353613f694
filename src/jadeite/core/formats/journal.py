"""A journal of every change, so that nothing is lost when the program dies.

Each running window owns one journal, named by its process.  It is a line of
JSON for each change, with the system at once, so that it outlives the program;
a thread flushes it to the disk, so that no window waits for that.  The last
whole line is what was there.  A clean close removes it; what is left over is offered at the next
start.
"""

from __future__ import annotations

import contextlib
import json
import os
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue
from threading import Thread

from jadeite.core.errors import FileError, JadeiteError
from jadeite.core.formats.atomic import alive, reason
from jadeite.core.formats.project_file import MAX_BYTES, project_from_text, project_text
from jadeite.core.project import Project

__all__ = ["Journal", "Recovered", "left_over"]

TURN_OVER = 2_000_000  # bytes; from memory, then the journal starts anew


@dataclass(frozen=True)
class Recovered:
    """A document that a dead window left: where it was saved, and its journal."""

    project: Project
    path: Path | None
    journal: Path


class Journal:
    """The journal of one window.

    Parameters
    ----------
    folder : Path
        Made when missing.
    name : str
        Unique among live windows; it begins with the process number.
    """

    def __init__(self, folder: Path, name: str) -> None:
        self.path = folder / f"{name}.journal"
        self._flushing = _Flushing()

    def record(self, project: Project, saved_as: Path | None) -> None:
        """Append the document as it now is.

        Raises
        ------
        FileError
            The disk refuses; the journal still ends in its last whole line.
        """
        entry = {"path": str(saved_as) if saved_as else None, "project": project_text(project)}
        line = json.dumps(entry) + "\n"
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            grown = self.path.exists() and self.path.stat().st_size > TURN_OVER
            if grown:
                fresh = self.path.with_suffix(".new")
                _append(fresh, line)
                _flush(fresh)  # before it takes the place of what is on the disk
                os.replace(fresh, self.path)
            else:
                _append(self.path, line)
                self._flushing.ask(self.path)
            self._flushing.tell()
        except OSError as error:
            raise FileError(str(self.path), reason(error)) from error

    def close(self) -> None:
        """Nothing is unsaved any more: remove the journal."""
        self._flushing.end()
        with contextlib.suppress(FileNotFoundError):
            self.path.unlink()


class _Flushing:
    """A thread that flushes a file to the disk; asked again meanwhile, it does so once more."""

    def __init__(self) -> None:
        self._asked: SimpleQueue[Path | None] = SimpleQueue()
        self._thread: Thread | None = None
        self._trouble: OSError | None = None

    def ask(self, path: Path) -> None:
        """Flush what has been written to a file."""
        if self._thread is None:
            self._thread = Thread(target=self._run, name="journal", daemon=True)
            self._thread.start()
        self._asked.put(path)

    def tell(self) -> None:
        """Raise why the disk refused, if it has since this was asked last."""
        error, self._trouble = self._trouble, None
        if error is not None:
            raise error

    def end(self) -> None:
        """Nothing is to be flushed any more."""
        if self._thread is not None:
            self._asked.put(None)
            self._thread.join()
            self._thread = None

    def _run(self) -> None:
        while (path := self._asked.get()) is not None:
            if not self._asked.empty():
                continue  # the last asking flushes all
            try:
                _flush(path)
            except FileNotFoundError:  # removed meanwhile: nothing is unsaved
                continue
            except OSError as error:
                self._trouble = error


def _append(path: Path, line: str) -> None:
    with path.open("a", encoding="utf-8") as file:
        file.write(line)


def _flush(path: Path) -> None:
    file = os.open(path, os.O_RDONLY)
    try:
        os.fsync(file)
    finally:
        os.close(file)


def _last_whole(path: Path) -> Recovered | None:
    with path.open("rb") as file:
        file.seek(max(0, path.stat().st_size - 2 * MAX_BYTES))
        lines = file.read().split(b"\n")
    for raw in reversed(lines):
        try:
            entry = json.loads(raw)
            project = project_from_text(entry["project"])
            saved = Path(entry["path"]) if entry["path"] else None
        except (ValueError, KeyError, TypeError, JadeiteError, RecursionError):
            continue  # cut off in the middle of a write: the one before it is whole
        return Recovered(project, saved, path)
    return None


def left_over(folder: Path) -> list[Recovered]:
    """Documents of windows that died, newest first; empty journals are removed."""
    if not folder.is_dir():
        return []
    for fresh in folder.glob("*.new"):  # a journal that was to start anew when it was killed
        number = fresh.stem.split("-")[0]
        if number.isdigit() and not alive(int(number)):
            fresh.unlink(missing_ok=True)
    found = []
    for path in sorted(folder.glob("*.journal"), key=lambda p: p.stat().st_mtime, reverse=True):
        number = path.stem.split("-")[0]
        if number.isdigit() and alive(int(number)):
            continue
        recovered = _last_whole(path)
        if recovered is None:
            path.unlink(missing_ok=True)
        else:
            found.append(recovered)
    return found
