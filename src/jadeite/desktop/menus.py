"""The menus: everything the window can do, with its keys."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar

from jadeite.desktop.docket import STATIONS

if TYPE_CHECKING:
    from jadeite.desktop.window import Window

__all__ = ["Menus"]


class Menus(QMenuBar):
    """File, Edit, View; filled once the parts of the window are there."""

    def __init__(self) -> None:
        super().__init__()
        self.setNativeMenuBar(False)
        size = self.sizePolicy()
        self.setSizePolicy(size.Policy.Maximum, size.Policy.Preferred)

    def fill(self, window: Window) -> None:
        """Every action of a window; its keys work wherever the focus is."""
        self._window = window
        self._fill_file()
        self._fill_edit()
        self._fill_view()
        self.fill_recent()

    def _menu(self, words: str) -> QMenu:
        out = self.addMenu(words)
        assert out is not None
        return out

    def _action(self, words: str, run: Callable[[], object], keys: str = "") -> QAction:
        action = QAction(words, self._window)
        if keys:
            action.setShortcuts([QKeySequence(k) for k in keys.split("|")])
        action.triggered.connect(lambda _=False: run())
        self._window.addAction(action)
        return action

    def _fill_file(self) -> None:
        window = self._window
        c, out = window.commands, window.output
        menu = self._menu("&File")
        menu.addAction(self._action("&New", c.new, "Ctrl+N"))
        menu.addAction(self._action("&Open …", c.open, "Ctrl+O"))
        self.recent = menu.addMenu("Open &recent")
        menu.addAction(self._action("Open the &demo", c.open_demo))
        menu.addSeparator()
        menu.addAction(self._action("&Save", c.save, "Ctrl+S"))
        menu.addAction(self._action("Save &as …", c.save_as, "Ctrl+Shift+S"))
        menu.addSeparator()
        menu.addAction(self._action("&Write the files …", lambda: out.write(), "Ctrl+E"))
        told = menu.addMenu("Write the sheets for a &machine")
        assert told is not None
        for words, kind in (("&Plotter, HP-GL …", "hpgl"), ("&Flatbed, G-code …", "gcode")):
            told.addAction(self._action(words, lambda k=kind: out.write((k,))))
        menu.addAction(self._action("Print pre&view …", out.preview, "Ctrl+Shift+P"))
        menu.addAction(self._action("&Print …", out.print, "Ctrl+P"))
        paper = menu.addMenu("Paper for &printing")
        assert paper is not None
        self._choices(
            paper,
            (("a4", "A4"), ("letter", "8.5 × 11 in")),
            out.paper(),
            lambda key: window.settings.setValue("paper", key),
        )
        menu.addSeparator()
        menu.addAction(self._action("&Quit", window.close, "Ctrl+Q"))

    def _fill_edit(self) -> None:
        session = self._window.session
        menu = self._menu("&Edit")
        self.undo = self._action("&Undo", session.undo, "Ctrl+Z")
        self.redo = self._action("&Redo", session.redo, "Ctrl+Shift+Z|Ctrl+Y")
        menu.addAction(self.undo)
        menu.addAction(self.redo)
        menu.addSeparator()
        menu.addAction(self._action("&Copy the picture", self._window.copy_picture, "Ctrl+Shift+C"))

    def _fill_view(self) -> None:
        window = self._window
        menu = self._menu("&View")
        for number, (key, title) in enumerate(STATIONS, start=1):
            menu.addAction(
                self._action(title, lambda k=key: window.open_station(k), f"Alt+{number}")
            )
        menu.addSeparator()
        menu.addAction(self._action("&Shelf of shapes", window.show_shelf, "Ctrl+L"))
        menu.addAction(self._action("&Fit", window.centre.table.fit, "F"))
        menu.addAction(self._action("&Key of the lines", window.centre.toggle_key, "K"))
        menu.addAction(self._action("In the &dark", window.centre.toggle_night, "N"))
        menu.addAction(self._action("&Play or hold (space bar)", window.play))
        menu.addAction(self._action("All f&indings", window.findings.toggle, "Ctrl+I"))
        menu.addSeparator()
        themes = menu.addMenu("&Theme")
        assert themes is not None
        self._choices(
            themes,
            (("desktop", "As the desktop"), ("light", "Light"), ("dark", "Dark")),
            window.theme,
            window.set_theme,
        )

    def _choices(
        self,
        menu: QMenu,
        choices: Sequence[tuple[str, str]],
        now: str,
        run: Callable[[str], object],
    ) -> None:
        group = QActionGroup(self)
        for key, words in choices:
            action = QAction(words, self)
            action.setCheckable(True)
            action.setChecked(key == now)
            action.triggered.connect(lambda _=False, k=key: run(k))
            group.addAction(action)
            menu.addAction(action)

    def fill_recent(self) -> None:
        """The files that were open last."""
        assert self.recent is not None
        self.recent.clear()
        for path in self._window.commands.recent:
            name = Path(path).name
            action = self.recent.addAction(f"{name}  ({Path(path).parent})")
            assert action is not None
            action.triggered.connect(
                lambda _=False, p=path: self._window.commands.open_path(Path(p), ask=True)
            )
        self.recent.setEnabled(not self.recent.isEmpty())
