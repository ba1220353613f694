"""A window in the chosen panel: its pattern, frame and lining; in one wall or in all."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout

from jadeite.core.boards import with_own
from jadeite.core.dressings import LINING, linings_of, windows_made
from jadeite.core.dressings.shine import window_number
from jadeite.core.dressings.windows import LEAST_FRAME, MOST_FRAME, USUAL_FRAME
from jadeite.core.patterns import LEAST_CELL, MOST_CELL, MOTIFS, USUAL_CELL
from jadeite.core.pictures import Palette
from jadeite.core.pipeline import windows_in_walls
from jadeite.core.project import Outline, Window
from jadeite.core.units import System, format_length, listed, number_text
from jadeite.desktop.jobs import Job
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.stations.motif_edit import FROM_FILE, MotifEdit
from jadeite.desktop.widgets import Card, Segmented, button, label

__all__ = ["WindowCard"]


class WindowCard(Card):
    """Shown for a panel that can have a window."""

    def __init__(self, session: Session) -> None:
        super().__init__("Window")
        self.session = session
        self.where: tuple[str, str] | None = None
        self.system: System = "mm"
        self.job = Job("outline", self)
        self.job.succeeded.connect(self._on_outline)
        self.job.failed.connect(self._on_refused)
        session.extra_jobs.append(self.job)
        self.motif = MotifEdit()
        self.motif.chosen.connect(self._choose_motif)
        self.body.addWidget(self.motif)
        self.size = LengthEdit("Size of the pattern", LEAST_CELL, MOST_CELL)
        self.size.set_value(USUAL_CELL)
        self.frame = LengthEdit("Frame of the window", LEAST_FRAME, MOST_FRAME)
        self.frame.set_value(USUAL_FRAME)
        for words, edit, tip in (
            ("Size of the pattern", self.size, "Of one of its cells."),
            (
                "Frame",
                self.frame,
                "As wide as this where nothing lies behind; beside a tab or a flap it is wider.",
            ),
        ):
            edit.edited.connect(lambda _: self._change())
            edit.refused.connect(session.trouble)
            self.row(words, edit, tip)
        self.as_cut = label("", "small")
        self.as_cut.setWordWrap(True)
        self.body.addWidget(self.as_cut)
        self.border = Segmented(
            (("sides", "as needed"), ("even", "all alike")), "Sides of the frame"
        )
        self.tabs = Segmented((("trimmed", "trimmed"), ("whole", "left whole")), "Tabs behind it")
        self.border.set_value("sides")
        self.tabs.set_value("trimmed")
        for words, choice, tip in (
            (
                "Its sides",
                self.border,
                "As needed: each as wide as what lies behind it asks for, left as wide as right. "
                "All alike: as wide as the widest.",
            ),
            (
                "Tabs behind it",
                self.tabs,
                "Trimmed to 6 mm, and tuck flaps to 8 mm, so that the window is larger: they still "
                "hold. Left whole, the frame is as wide as they are deep.",
            ),
        ):
            choice.chosen.connect(lambda _: self._change())
            self.row(words, choice, tip)
        self.lining = QComboBox()
        self.lining.setAccessibleName("Lining of the window")
        self.lining.setFixedWidth(168)
        self.lining.activated.connect(lambda _: self._change())
        self.row(
            "Lining",
            self.lining,
            "Behind the window, 4 mm larger all round; one kind for all windows. Tissue is cut by "
            "hand along its printed outline.",
        )
        self.linings = Segmented(
            (("each", "each"), ("strip", "strip"), ("sheet", "sheet")), "Linings cut as"
        )
        self.linings.set_value("each")
        self.linings.chosen.connect(lambda _: self._change())
        self.row(
            "Linings",
            self.linings,
            "Each: one behind every window. Strip: one for all walls, folded to a ring, which "
            "slides in; upright walls only. Sheet: one behind the whole net, glued while flat and "
            "folded with it; tissue or translucent paper.",
        )
        line = QHBoxLayout()
        self.walls = button("In every wall", lambda: self._every_wall(vary=False), "plain")
        self.walls.setToolTip("The same window in every wall that can have one.")
        self.varied = button("Varied", lambda: self._every_wall(vary=True), "plain")
        self.varied.setToolTip("In every wall, but the pattern moves on from wall to wall.")
        self.round = button("Round", lambda: self._every_wall(vary=False, run="round"), "plain")
        self.round.setToolTip(
            "In every wall, as one pattern that runs round them all: lattice, hexagons, scales, "
            "waves and facets can."
        )
        for part in (self.walls, self.varied, self.round):
            line.addWidget(part)
        line.addStretch(1)
        self.body.addLayout(line)

    def _fill_linings(self) -> None:
        """No lining, and every board at hand that lets light through."""
        at_hand = with_own((*self.session.library.boards, *self.session.task.own_boards))
        wanted = [("none", "")] + [(b.title, b.key) for b in at_hand if b.lets_light_through]
        have = [(self.lining.itemText(i), self.lining.itemData(i))
                for i in range(self.lining.count())]  # fmt: skip
        if wanted != have:
            self.lining.clear()
            for words, key in wanted:
                self.lining.addItem(words.lower(), key)

    def _choose_motif(self, key: str) -> None:
        if key != FROM_FILE:
            self._change()
            return
        name, _ = QFileDialog.getOpenFileName(
            self, "An outline for windows", "", "Drawings (*.svg);;All files (*)"
        )
        if name:
            self.take_in(Path(name))
        else:
            self.show_panel(self.where, self.system)

    def take_in(self, path: Path) -> None:
        """Use an outline from an SVG file in this window; it is kept in the task."""
        self.job.start(self.where, str(path))

    def _on_refused(self, words: str) -> None:
        self.session.trouble.emit(f"Window: {words}")
        self.show_panel(self.where, self.system)

    def _on_outline(self, outline: object, where: object) -> None:
        """An outline was read for a panel; by now another may be chosen."""
        if not isinstance(outline, Outline) or where != self.where:
            return
        task = self.session.task
        kept = tuple(o for o in task.outlines if o.key != outline.key)
        self.motif.set_own((*kept, outline))
        self.motif.set_value(outline.key)
        wanted = self._wanted(self._number())
        windows = self._others() + ((wanted,) if wanted is not None else ())
        self.session.edit(
            outlines=(*kept, outline), windows=windows, usual_windows=False,
            linings=linings_of(task),
        )  # fmt: skip

    def _others(self) -> tuple[Window, ...]:
        return tuple(w for w in self._windows() if (w.piece, w.panel) != self.where)

    def _windows(self) -> tuple[Window, ...]:
        """All windows, also those that the shape has at first."""
        task, work = self.session.task, self.session.work
        if task.windows or work.design is None or not task.usual_windows:
            return task.windows
        return windows_made(task, work.design)

    def _wanted(self, number: int = 0) -> Window | None:
        motif = self.motif.value()
        if self.where is None or not motif:
            return None
        piece, panel = self.where
        lined = bool(self.lining.currentData())
        return Window(piece=piece, panel=panel, motif=motif, frame=self.frame.value(),
                      size=self.size.value(), number=number, lined=lined,
                      border=self.border.value(), tabs=self.tabs.value(),
                      run=self._run(motif))  # fmt: skip

    def _run(self, motif: str) -> str:
        """How the pattern of the chosen panel runs: as before, where this one can as well."""
        mine = [w for w in self._windows() if (w.piece, w.panel) == self.where]
        goes_on = motif in MOTIFS and MOTIFS[motif].goes_on
        return mine[0].run if mine and goes_on else "each"

    def _number(self) -> int:
        mine = [w for w in self._windows() if (w.piece, w.panel) == self.where]
        return mine[0].number if mine else 0

    def _change(self) -> None:
        """Cut the window, change it, or fill it in."""
        if self.where is None:
            return
        wanted = self._wanted(self._number())
        windows = self._others() + ((wanted,) if wanted is not None else ())
        task, changes = self.session.task, {}
        if windows != self._windows():
            changes |= {"windows": windows, "usual_windows": False, "linings": self.linings.value()}
        if self.linings.value() != task.linings:
            changes["linings"] = self.linings.value()
        key = str(self.lining.currentData() or "")
        if wanted is not None and key and key != self.session.work.boards[LINING].key:
            changes["boards"] = {**task.boards, LINING: key}
            more = [b for b in self.session.library.boards if b.key == key]
            known = {b.key for b in task.own_boards}
            changes["own_boards"] = (*task.own_boards, *(b for b in more if key not in known))
        if changes:
            self.session.edit(**changes)

    def _every_wall(self, *, vary: bool, run: str = "each") -> None:
        wanted = self._wanted()
        if run == "round" and wanted is not None:
            motif = MOTIFS.get(wanted.motif)
            if motif is None or not motif.goes_on:
                self.session.trouble.emit(
                    "Window: this pattern does not run round. Use lattice, hexagons, scales, "
                    "waves or facets."
                )
                return
        if wanted is not None:
            wanted = wanted.model_copy(update={"run": run})
        if wanted is None:
            self.session.trouble.emit("Window: choose a pattern first.")
            return
        work = self.session.work
        made = windows_in_walls(work.task, work.arrangement, wanted, vary=vary)
        if not made:
            self.session.trouble.emit(
                "Window: no wall is wide enough for its frame. Use a larger inside, or no lining."
            )
            return
        places = {(w.piece, w.panel) for w in made}
        kept = [w for w in self._windows() if (w.piece, w.panel) not in places]
        self.session.edit(
            windows=(*kept, *made), usual_windows=False, linings=linings_of(work.task)
        )

    def set_palette(self, palette: Palette) -> None:
        """Colours."""
        self.motif.set_palette(palette)

    def show_panel(self, where: tuple[str, str] | None, system: System) -> None:
        """The window of a panel, if it can have one."""
        design = self.session.work.design
        self.where, self.system = where, system
        can = False
        if design is not None and where is not None:
            piece = next((p for p in design.pieces if p.name == where[0]), None)
            can = piece is not None and where[1] in piece.index
            can = can and piece is not None and piece.panel(where[1]).role.traits.window
        self.setVisible(can)
        if not can:
            return
        mine = [w for w in self._windows() if (w.piece, w.panel) == where]
        self.motif.set_own(self.session.task.outlines)
        self._fill_linings()
        self.motif.set_value(mine[0].motif if mine else "")
        self.as_cut.setText(self._as_cut(mine[0]) if mine else "")
        self.as_cut.setVisible(bool(self.as_cut.text()))
        if mine:
            self.border.set_value(mine[0].border)
            self.tabs.set_value(mine[0].tabs)
            self.size.set_value(mine[0].size, system)
            self.frame.set_value(mine[0].frame, system)
        key = self.session.work.boards[LINING].key if mine and mine[0].lined else ""
        self.lining.setCurrentIndex(max(0, self.lining.findData(key)))
        self.linings.set_value(linings_of(self.session.task))
        self.linings.setEnabled(bool(mine) and mine[0].lined)
        for part in (self.size, self.frame, self.border, self.tabs, self.lining, self.walls,
                     self.varied, self.round):  # fmt: skip
            part.setEnabled(bool(mine))

    def _as_cut(self, window: Window) -> str:
        """How wide the frame is along each side, why, and how much is open."""
        work = self.session.work
        number = window_number(work.design, self._windows(), window)
        frame = work.sizes.get(f"window-{number}-frame")
        if frame is None:
            return ""
        sides: dict[str, list[str]] = {}
        behind: set[str] = set()
        for term in frame.inputs:
            if term.rule:
                said = format_length(term.value, self.system)
                if term.name not in sides.setdefault(said, []):
                    sides[said].append(term.name)
                behind |= {said for t in term.inputs if "tab or flap" in t.name}
        words = "; ".join(
            f"{listed(sorted(names))} {said}" + (" for what lies behind" if said in behind else "")
            for said, names in sides.items()
        )
        opened = work.sizes[f"window-{number}-open"].value
        return f"As cut: {words}. {number_text(opened, 0)} % of the panel is open."
