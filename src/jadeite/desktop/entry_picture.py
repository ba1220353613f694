"""The picture of a shape on the shelf: its nets, and beside them its folded form."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QPainter

from jadeite.core.shelf import FORM, NETS, ShelfEntry
from jadeite.core.steps import Steps
from jadeite.desktop.paint import painting

__all__ = ["PICTURE", "entry_painting"]

BETWEEN = 6  # pixels
PICTURE = QSize(
    round(NETS[0] + BETWEEN + FORM[0]), round(max(NETS[1], FORM[1]))
)  # of nets and form together, in pixels


def entry_painting(painter: QPainter, entry: ShelfEntry) -> Steps[None]:
    """Paint both, left after each of their parts."""
    for net in entry.nets:
        yield from painting(painter, net)
    if entry.form is not None:
        painter.translate(NETS[0] + BETWEEN, 0)
        yield from painting(painter, entry.form, round(FORM[0]), round(FORM[1]))
