"""Print the pages of a job: the same pictures as in the PDF, at true size."""

from __future__ import annotations

from PyQt6.QtCore import QMarginsF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrinter

from jadeite.core.formats.page import Page
from jadeite.desktop.paint import paint_picture

__all__ = ["new_printer", "print_pages_on"]


def new_printer(pages: list[Page]) -> QPrinter:
    """A printer set to the paper of the pages, without margins of its own."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    size = QPageSize(QSizeF(pages[0].width, pages[0].height), QPageSize.Unit.Millimeter)
    layout = QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    printer.setPageLayout(layout)
    printer.setFullPage(True)
    return printer


def print_pages_on(printer: QPrinter, pages: list[Page]) -> None:
    """Paint every page; one millimetre is one millimetre."""
    painter = QPainter(printer)
    scale = printer.resolution() / 25.4
    for number, page in enumerate(pages):
        if number:
            printer.newPage()
        painter.save()
        painter.scale(scale, scale)
        for picture, clip in page.layers:
            painter.save()
            if clip is not None:
                painter.setClipRect(QRectF(*clip), Qt.ClipOperation.IntersectClip)
            paint_picture(painter, picture)
            painter.restore()
        painter.restore()
    painter.end()
