"""A window in the chosen panel: its pattern, frame and lining; in one wall or in all."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout

from jadeite.core.patterns import LEAST_CELL, MOST_CELL, MOTIFS, USUAL_CELL
from jadeite.core.pipeline import windows_in_walls
from jadeite.core.project import Window
from jadeite.core.shapes.windows import LEAST_FRAME, MOST_FRAME, SOLID, USUAL_FRAME
from jadeite.core.units import System
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Segmented, button

__all__ = ["WindowCard"]


class WindowCard(Card):
    """Shown for a panel that can have a window."""

    def __init__(self, session: Session) -> None:
        super().__init__("Window")
        self.session = session
        self.where: tuple[str, str] | None = None
        self.motif = QComboBox()
        self.motif.setAccessibleName("Pattern of the window")
        self.motif.addItem("none", "")
        self.motif.addItem("plain", "plain")
        for motif in MOTIFS.values():
            self.motif.addItem(motif.title, motif.key)
        self.motif.setFixedWidth(168)
        self.motif.activated.connect(lambda _: self._change())
        self.row("Pattern", self.motif, "Cut out of the panel, with bridges that hold.")
        self.size = LengthEdit("Size of the pattern", LEAST_CELL, MOST_CELL)
        self.size.set_value(USUAL_CELL)
        self.frame = LengthEdit("Frame of the window", LEAST_FRAME, MOST_FRAME)
        self.frame.set_value(USUAL_FRAME)
        for words, edit, tip in (
            ("Size of the pattern", self.size, "Of one of its cells."),
            ("Frame", self.frame, "At least as wide as the tab and the lining's margin behind it."),
        ):
            edit.edited.connect(lambda _: self._change())
            edit.refused.connect(session.trouble)
            self.row(words, edit, tip)
        self.lining = Segmented((("none", "no"), ("lined", "yes")), "Lining")
        self.lining.set_value("none")
        self.lining.chosen.connect(lambda _: self._change())
        self.row("Lining", self.lining, "Translucent paper behind it, 4 mm larger all round.")
        line = QHBoxLayout()
        self.walls = button("In every wall", lambda: self._every_wall(vary=False), "plain")
        self.walls.setToolTip("The same window in every wall that can have one.")
        self.varied = button("Varied", lambda: self._every_wall(vary=True), "plain")
        self.varied.setToolTip("In every wall, but the pattern moves on from wall to wall.")
        for part in (self.walls, self.varied):
            line.addWidget(part)
        line.addStretch(1)
        self.body.addLayout(line)

    def _others(self) -> tuple[Window, ...]:
        return tuple(w for w in self.session.project.windows if (w.piece, w.panel) != self.where)

    def _wanted(self, number: int = 0) -> Window | None:
        motif = str(self.motif.currentData())
        if self.where is None or not motif:
            return None
        piece, panel = self.where
        lined = self.lining.value() == "lined"
        return Window(piece=piece, panel=panel, motif=motif, frame=self.frame.value(),
                      size=self.size.value(), number=number, lined=lined)  # fmt: skip

    def _number(self) -> int:
        mine = [w for w in self.session.project.windows if (w.piece, w.panel) == self.where]
        return mine[0].number if mine else 0

    def _change(self) -> None:
        """Cut the window, change it, or fill it in."""
        if self.where is None:
            return
        wanted = self._wanted(self._number())
        windows = self._others() + ((wanted,) if wanted is not None else ())
        if windows != self.session.project.windows:
            self.session.edit(windows=windows)

    def _every_wall(self, *, vary: bool) -> None:
        wanted = self._wanted()
        if wanted is None:
            self.session.trouble.emit("Window: choose a pattern first.")
            return
        work = self.session.work
        made = windows_in_walls(self.session.project, work.arrangement, wanted, vary=vary)
        if not made:
            self.session.trouble.emit(
                "Window: no wall is wide enough for its frame. Use a larger inside, or no lining."
            )
            return
        places = {(w.piece, w.panel) for w in made}
        kept = [w for w in self.session.project.windows if (w.piece, w.panel) not in places]
        self.session.edit(windows=(*kept, *made))

    def show_panel(self, where: tuple[str, str] | None, system: System) -> None:
        """The window of a panel, if it can have one."""
        design = self.session.work.design
        self.where = where
        can = False
        if design is not None and where is not None:
            piece = next((p for p in design.pieces if p.name == where[0]), None)
            can = piece is not None and where[1] in piece.index
            can = can and piece is not None and piece.panel(where[1]).role not in SOLID
        self.setVisible(can)
        if not can:
            return
        mine = [w for w in self.session.project.windows if (w.piece, w.panel) == where]
        self.motif.setCurrentIndex(self.motif.findData(mine[0].motif) if mine else 0)
        if mine:
            self.size.set_value(mine[0].size, system)
            self.frame.set_value(mine[0].frame, system)
            self.lining.set_value("lined" if mine[0].lined else "none")
        for part in (self.size, self.frame, self.lining, self.walls, self.varied):
            part.setEnabled(bool(mine))
