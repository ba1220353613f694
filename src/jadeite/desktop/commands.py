"""What the menus do with projects: open, save, recover."""

from __future__ import annotations

from collections.abc import Callable
from importlib.resources import as_file, files
from pathlib import Path

from PyQt6.QtCore import QObject, QSettings, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from jadeite.core.errors import JadeiteError
from jadeite.core.formats import load_project
from jadeite.core.formats.atomic import sweep
from jadeite.core.formats.journal import Recovered, left_over
from jadeite.core.project import Project
from jadeite.desktop.session import Session
from jadeite.desktop.views.start_view import example_project

__all__ = ["Commands", "demo_project"]

RECENT = 8
FILTER = "Jadeite projects (*.jadeite)"


def demo_project() -> Project:
    """The demo project that is shipped."""
    with as_file(files("jadeite.assets") / "demo.jadeite") as path:
        return load_project(path)


class Commands(QObject):
    """File work of one window; every refusal is said, nothing is lost."""

    recent_changed = pyqtSignal()
    recovered = pyqtSignal(object)  # list of Recovered

    def __init__(self, session: Session, window: QWidget, settings: QSettings) -> None:
        super().__init__(window)
        self.session, self.window, self.settings = session, window, settings
        self.sheet = ""  # style sheet of dialogs

    def _trying(self, work: Callable[[], None]) -> bool:
        try:
            work()
        except JadeiteError as error:
            self.session.trouble.emit(str(error))
            return False
        return True

    # ------------------------------------------------------------- open

    @property
    def recent(self) -> list[str]:
        """Paths of recent projects that still exist, newest first."""
        value = self.settings.value("recent", [])
        paths = [value] if isinstance(value, str) else list(value or [])
        return [p for p in paths if Path(p).exists()][:RECENT]

    def _remember(self, path: Path) -> None:
        paths = [str(path), *(p for p in self.recent if p != str(path))]
        self.settings.setValue("recent", paths[:RECENT])
        self.recent_changed.emit()

    def _folders(self) -> list[str]:
        value = self.settings.value("folders", [])
        return [value] if isinstance(value, str) else list(value or [])

    def _remember_folder(self, folder: Path) -> None:
        known = [str(folder), *(f for f in self._folders() if f != str(folder))]
        self.settings.setValue("folders", known[:RECENT])
        self.settings.sync()

    def may_leave(self) -> bool:
        """Ask only when something would be lost."""
        if not self.session.dirty:
            return True
        box = QMessageBox(self.window)
        box.setStyleSheet(self.sheet)
        box.setIcon(QMessageBox.Icon.Question)
        box.setWindowTitle("Unsaved changes")
        box.setText(f"Save the changes to “{self.session.project.title}”?")
        buttons = QMessageBox.StandardButton
        box.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        answer = box.exec()
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)

    def new(self) -> None:
        """An empty project."""
        if self.may_leave():
            self.session.new()

    def open(self) -> None:
        """Ask for a file and open it."""
        if not self.may_leave():
            return
        start = str(self.session.path.parent) if self.session.path else str(Path.home())
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a project", start, FILTER)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path, *, ask: bool = False) -> bool:
        """Open a file; the present project stays when it cannot be read."""
        if ask and not self.may_leave():
            return False
        if self._trying(lambda: self.session.load(path)):
            self._remember(path.resolve())
            return True
        return False

    def open_demo(self, *, ask: bool = True) -> None:
        """The demo project, as a copy that is not saved anywhere yet."""
        if not ask or self.may_leave():
            self._trying(lambda: self.session.open_copy(demo_project()))

    def open_example(self, name: str) -> None:
        """One of the examples, as a copy that is not saved anywhere yet."""
        if self.may_leave():
            self._trying(lambda: self.session.open_copy(example_project(name)))

    # ------------------------------------------------------------- save

    def save(self) -> bool:
        """Save where it was opened from, or ask."""
        path = self.session.path
        if path is None:
            return self.save_as()
        return self.save_path(path)

    def save_as(self) -> bool:
        """Ask for a file and save there."""
        folder = self.session.path.parent if self.session.path else Path.home()
        stem = self.session.project.title.replace("/", "-")
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Save the project", str(folder / f"{stem}.jadeite"), FILTER
        )
        if not name:
            return False
        path = Path(name)
        return self.save_path(path if path.suffix else path.with_suffix(".jadeite"))

    def save_path(self, path: Path) -> bool:
        """Save to a file; its folder is known before, so that nothing half written stays there."""
        self._remember_folder(path.resolve().parent)
        if self._trying(lambda: self.session.save(path)):
            self._remember(path.resolve())
            return True
        return False

    # ------------------------------------------------------------- recovery

    def look_for_left_over(self, folder: Path) -> None:
        """Offer what a window that died has left, and clear away what it was writing."""
        last = str(self.settings.value("folder", ""))
        for place in (*self._folders(), *(str(Path(p).parent) for p in self.recent), last):
            if place:
                sweep(Path(place))
        sweep(self.session.library.path.parent)
        found = left_over(folder)
        if found:
            self.recovered.emit(found)

    def recover(self, found: Recovered) -> None:
        """Open what was left; its old journal goes once the new one has it."""
        if self._trying(lambda: self.session.open_copy(found.project, found.path)):
            found.journal.unlink(missing_ok=True)

    def forget(self, found: Recovered) -> None:
        """The maker does not want it."""
        found.journal.unlink(missing_ok=True)
