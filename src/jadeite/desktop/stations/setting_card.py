"""How each board is cut: set by hand, or read off a test cut; kept with the job."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QFileDialog, QHBoxLayout, QSpinBox

from jadeite.core.boards import Board
from jadeite.core.cutting import profile_of
from jadeite.core.cutting.settings import Setting, learned_of, setting_for
from jadeite.core.cutting.trial import forces_of, passes_of
from jadeite.core.project import Learned
from jadeite.core.units import counted
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Field, button, label

__all__ = ["SettingCard"]

WIDE = 104


class SettingCard(Card):
    """Force, passes and speed of a board, and the test cut that tells them."""

    def __init__(self, session: Session) -> None:
        super().__init__("Setting of a board")
        self.session = session
        self.board = QComboBox()
        self.board.setAccessibleName("Board whose setting is shown")
        self.board.activated.connect(lambda _: self.refresh())
        self.add(self.board)
        self.force, self.passes, self.speed = QSpinBox(), QSpinBox(), QDoubleSpinBox()
        self.passes.setRange(1, 60)
        self.speed.setRange(0.5, 1000.0)
        self.speed.setDecimals(0)
        self.speed.setSuffix(" mm/s")
        self.force.valueChanged.connect(lambda v: self._set(force=v))
        self.passes.valueChanged.connect(lambda v: self._set(passes=v))
        self.speed.valueChanged.connect(lambda v: self._set(speed=v))
        for box in (self.force, self.passes, self.speed):
            box.setKeyboardTracking(False)
            box.setFixedWidth(WIDE)
        self._force = Field("Force", self.force, "A step of this cutter's own.")
        self.add(self._force)
        self.row("Passes", self.passes, "How often the blade goes round.")
        self.row("Speed of cuts", self.speed)
        self.said = label("", "small", wrap=True)
        self.add(self.said)
        self.usual = button("As is usual", self._forget, "plain", "Forget what was set or read.")
        self.add(self.usual)
        self.known = button(
            "As in another job",
            self._as_known,
            "",
            "As this board was cut best by this cutter in another job.",
        )
        self.add(self.known)
        self.add(label("Test cut", "head"))
        self.how = label(
            "Small squares with a triangle: the force stands above each column, the passes before "
            "each row. Cut it from a corner of the board (HP-GL and G-code make the passes by "
            "themselves), and say which square is the first to fall out clean, its triangle too.",
            "small",
            wrap=True,
        )
        self.add(self.how)
        self.write = button("Write the test cut…", self._ask_folder, "", "SVG, DXF, HP-GL, G-code.")
        self.add(self.write)
        line = QHBoxLayout()
        self.first = QComboBox()
        self.first.setAccessibleName("The first square that fell out clean")
        self.take = button("Keep it", self._take, "", "From now on this board is cut so.")
        line.addWidget(self.first, 1)
        line.addWidget(self.take)
        self.body.addLayout(line)
        self.job = Job("trial", self)
        session.extra_jobs.append(self.job)
        self.job.succeeded.connect(self._on_written)
        self.job.failed.connect(session.trouble)

    # ------------------------------------------------------------- what is set

    def _choices(self) -> dict[tuple[str, str], tuple[Board, str]]:
        """Boards of the job that a cutter cuts, and the sizes of their sheets where several are.

        By key of the board and name of the sheets, empty for all of them: board and words.
        """
        sheets = self.session.sheets
        cuts = sheets.cutting.sheets if sheets is not None else ()
        stock: dict[str, list[str]] = {}
        boards: dict[str, Board] = {}
        for cut in cuts:
            if not cut.profile.by_hand:
                boards[cut.board.key] = cut.board
                stock.setdefault(cut.board.key, []).append(cut.sheet.stock.name)
        out = {}
        for key, board in boards.items():
            out[key, ""] = board, board.title
            names = list(dict.fromkeys(stock[key]))
            for name in names if len(names) > 1 else ():
                out[key, name] = board, f"{board.title}, only {name}"
        return out

    def _chosen(self) -> tuple[Board, str] | None:
        """The board that is shown, and the name of the sheets of it; empty for all."""
        choices, now = self._choices(), self.board.currentData()
        key = now if isinstance(now, tuple) and now in choices else next(iter(choices), None)
        return (choices[key][0], key[1]) if key is not None else None

    def pick(self, board: str, stock: str = "") -> None:
        """Show a board by its key, or its sheets of one name."""
        keys = list(self._choices())
        if (board, stock) in keys:
            self.board.setCurrentIndex(keys.index((board, stock)))
            self.refresh()

    def setting(self) -> Setting | None:
        """Of the board that is shown."""
        chosen, task = self._chosen(), self.session.task
        if chosen is None:
            return None
        board, stock = chosen
        return setting_for(board, task.heavier, profile_of(task), task.learned, stock)

    def _own(self) -> Learned | None:
        """What is kept of just these sheets."""
        chosen, task = self._chosen(), self.session.task
        if chosen is None:
            return None
        same = chosen[0].key, task.cutter, chosen[1]
        return next((k for k in task.learned if (k.board, k.cutter, k.stock) == same), None)

    def _keep(self, one: Learned) -> None:
        same = one.board, one.cutter, one.stock
        others = (k for k in self.session.task.learned if (k.board, k.cutter, k.stock) != same)
        self.session.edit(learned=(one, *others))
        if not one.stock:  # a sheet of this job says nothing of other jobs
            self.session.library.bench.learn(one)

    def _set(self, **fields: object) -> None:
        setting, chosen, task = self.setting(), self._chosen(), self.session.task
        if setting is None or chosen is None:
            return
        now = self._own() or Learned(
            board=chosen[0].key,
            cutter=task.cutter,
            stock=chosen[1],
            force=setting.force,
            passes=setting.passes,
            speed=setting.speed,
        )
        self._keep(now.model_copy(update={**fields, "by": "own"}))

    def _as_known(self) -> None:
        """Cut the board as in another job."""
        chosen, task = self._chosen(), self.session.task
        one = self.session.library.bench.find(chosen[0].key, task.cutter) if chosen else None
        if one is not None and chosen is not None:
            self._keep(one.model_copy(update={"stock": chosen[1]}))

    def _forget(self) -> None:
        own = self._own()
        self.session.edit(learned=tuple(k for k in self.session.task.learned if k is not own))

    # ------------------------------------------------------------- test cut

    def _ask_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Write the test cut into a folder")
        if name:
            self.write_to(Path(name))

    def write_to(self, folder: Path) -> None:
        """Write the files of the test cut."""
        chosen, task = self._chosen(), self.session.task
        if chosen is not None:
            self.job.start(folder, chosen[0], task.heavier, profile_of(task), task.learned, folder)

    def _on_written(self, paths: object, folder: object) -> None:
        if isinstance(paths, list):
            self.session.said.emit(f"{len(paths)} files of the test cut written to {folder}")

    def _take(self) -> None:
        """Keep what was read off."""
        chosen, picked = self._chosen(), self.first.currentData()
        if chosen is None or not isinstance(picked, tuple):
            return
        force, passes = picked
        self._keep(
            Learned(
                board=chosen[0].key,
                cutter=self.session.task.cutter,
                stock=chosen[1],
                force=force,
                passes=passes,
                by="test-cut",
                date=date.today().isoformat(),
            )
        )

    # ------------------------------------------------------------- showing

    def refresh(self) -> None:
        """Show the boards of the job, and how the chosen one is cut."""
        choices = self._choices()
        self.setVisible(bool(choices))
        shown = [self.board.itemData(i) for i in range(self.board.count())]
        if shown != list(choices):
            now = self.board.currentData()
            self.board.clear()
            for key, (_, words) in choices.items():
                self.board.addItem(words, key)
            keys = list(choices)
            self.board.setCurrentIndex(keys.index(now) if now in keys else 0)
        setting, task = self.setting(), self.session.task
        if setting is None:
            return
        profile = profile_of(task)
        own = self._own()
        known = own or learned_of(task.learned, setting.board.key, task.cutter)
        self._force.setVisible(setting.force is not None)
        with QSignalBlocker(self.force), QSignalBlocker(self.passes), QSignalBlocker(self.speed):
            self.force.setRange(1, max(1, profile.force_steps))
            self.force.setValue(setting.force or 1)
            self.passes.setValue(setting.passes)
            self.speed.setValue(profile.cutting_at(setting.speed).speed("cut"))
        if known is None:
            self.said.setText("As is usual for this board. A test cut decides.")
        elif known.by == "test-cut":
            self.said.setText(f"Read off a test cut on {known.date}.")
        else:
            self.said.setText("As you set it.")
        self.usual.setVisible(own is not None)
        other = self.session.library.bench.find(setting.board.key, task.cutter)
        self.known.setVisible(known is None and other is not None)
        if other is not None:
            force = f"force {other.force}, " if other.force is not None else ""
            self.known.setText(f"As in another job: {force}{counted(other.passes, 'pass')}")
        squares = [
            (force, passes)
            for passes in passes_of(setting)
            for force in forces_of(setting, profile)
        ]
        if squares != [self.first.itemData(i) for i in range(1, self.first.count())]:
            self.first.clear()
            self.first.addItem("The first clean square …", None)
            for force, passes in squares:
                times = "one pass" if passes == 1 else f"{passes} passes"
                words = times if force is None else f"force {force}, {times}"
                self.first.addItem(words, (force, passes))
