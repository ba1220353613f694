"""The figures of each station: editable numbers on top, results below."""

from jadeite.desktop.stations.assembly import AssemblyPanel
from jadeite.desktop.stations.base import Panel
from jadeite.desktop.stations.board import BoardPanel
from jadeite.desktop.stations.contents import ContentsPanel
from jadeite.desktop.stations.cutting import CuttingPanel
from jadeite.desktop.stations.notebook import NotebookPanel
from jadeite.desktop.stations.shape import ShapePanel
from jadeite.desktop.stations.sheets import SheetsPanel

__all__ = [
    "AssemblyPanel",
    "BoardPanel",
    "ContentsPanel",
    "CuttingPanel",
    "NotebookPanel",
    "Panel",
    "ShapePanel",
    "SheetsPanel",
]
