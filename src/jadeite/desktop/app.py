"""Start the program."""

from __future__ import annotations

import os
import signal
import sys
from pathlib import Path

from platformdirs import user_config_path, user_data_path, user_state_path
from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from jadeite.desktop.theme import load_fonts
from jadeite.desktop.tidy import Tidy
from jadeite.desktop.window import Window

__all__ = ["application", "new_window", "run"]


def application(arguments: list[str]) -> QApplication:
    """The Qt application with its font and names."""
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(arguments)
    app.setApplicationName("jadeite")
    app.setApplicationDisplayName("Jadeite")
    app.setDesktopFileName("jadeite")
    load_fonts()
    return app


def new_window(
    state: Path | None = None, config: Path | None = None, data: Path | None = None
) -> Window:
    """A window; ``state`` holds the journal, ``config`` the settings, ``data`` own boards."""
    state = state or user_state_path("jadeite", appauthor=False)
    config = config or user_config_path("jadeite", appauthor=False)
    settings = QSettings(str(config / "jadeite.ini"), QSettings.Format.IniFormat)
    data = data or user_data_path("jadeite", appauthor=False)
    return Window(state, settings, data)


def run(path: Path | None = None, *, demo: bool = False) -> int:
    """Open the window and stay until it closes; returns the exit code."""
    app = application(sys.argv[:1])
    window = new_window()
    if path is not None and not window.commands.open_path(path):
        print(f"jadeite: {path}: it could not be opened", file=sys.stderr)
    elif demo:
        window.commands.open_demo(ask=False)
    window.show()
    Tidy(window.session)
    signal.signal(signal.SIGINT, lambda *_: app.quit())
    alive = QTimer()  # lets Python see Ctrl+C
    alive.start(300)
    alive.timeout.connect(lambda: None)
    journal = window.session.journal_folder
    QTimer.singleShot(0, lambda: window.commands.look_for_left_over(journal))
    walk = os.environ.get("JADEITE_WALK")
    if walk:
        from jadeite.desktop.walk import Walk

        window.walk = Walk(window, Path(walk))  # type: ignore[attr-defined]
    return app.exec()
