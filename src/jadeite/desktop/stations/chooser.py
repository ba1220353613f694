"""Which shape it is, and the way to the shelf."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from jadeite.core.shapes import ShapeFamily, all_families
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Segmented, label

__all__ = ["ShapeChooser"]


class ShapeChooser(Card):
    """Names the open shape, and changes between the table and the shelf."""

    shelf_asked = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__("Shape")
        self.session = session
        self.name = label("", "strong")
        self.about = label("", "small", wrap=True)
        self.add(self.name)
        self.add(self.about)
        words = (("table", "on the table"), ("shelf", f"shelf of {len(all_families())}"))
        self.view = Segmented(words, "Show")
        self.view.buttons["shelf"].setToolTip("Every shape, drawn for these contents.")
        self.view.chosen.connect(lambda key: self.shelf_asked.emit(key == "shelf"))
        self.view.set_value("table")
        self.add(self.view)

    def show_family(self, family: ShapeFamily) -> None:
        """The shape that is open."""
        self.name.setText(family.title)
        self.about.setText(family.about)

    def show_new(self) -> None:
        """One more made thing is to be added: it has no shape yet."""
        self.name.setText("A new made thing")
        self.about.setText("Pick its shape on the shelf; what goes in and options come next.")
