"""Pictures that are printed, as images of the window: made in a process, one after another."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from jadeite.core.photos import Ink
from jadeite.desktop.jobs import Job
from jadeite.desktop.paint import INKS
from jadeite.desktop.session import Session

__all__ = ["Inks"]

MOST = 24  # images that are kept: setting
SHOWN = 600_000  # pixels that a window shows of a picture; from memory


class Inks(QObject):
    """Sees to it that what a design has printed on it can be painted."""

    arrived = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self._refused: set[Ink] = set()
        self.job = Job("ink", self)
        self.job.succeeded.connect(self._on_ink)
        self.job.failed.connect(self._on_refused)
        session.extra_jobs.append(self.job)
        session.changed.connect(self.look)

    def look(self) -> None:
        """Begin with the next that is missing, if nothing is under way."""
        if self.job.busy:
            return
        missing = [ink for ink in self._all() if ink not in INKS and ink not in self._refused]
        if missing:
            self.job.start(missing[0], missing[0], SHOWN)

    def _all(self) -> list[Ink]:
        """The pictures of the job, and what its designs have printed on them."""
        works = self.session.job_work.works.values()
        designs = [work.design for work in works if work.design is not None]
        printed = [one.ink for d in designs for piece in d.pieces for one in piece.prints]
        whole = [Ink(photo.file, photo.digest) for photo in self.session.project.photos]
        return list(dict.fromkeys([*whole, *(ink for ink in printed if ink is not None)]))

    def _on_ink(self, png: object, ink: object) -> None:
        if isinstance(png, bytes) and isinstance(ink, Ink):
            INKS[ink] = QImage.fromData(png)
            needed = set(self._all())
            for old in [known for known in INKS if known not in needed][: len(INKS) - MOST]:
                del INKS[old]
            self.arrived.emit()
        self.look()

    def _on_refused(self, words: str) -> None:
        missing = [ink for ink in self._all() if ink not in INKS and ink not in self._refused]
        self._refused |= set(missing[:1])  # said once; another file has another ink
        self.session.trouble.emit(f"Picture: {words}")
        self.look()
