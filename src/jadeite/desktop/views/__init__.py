"""What stands in the centre of the window beside the table."""

from jadeite.desktop.views.board_chart import BoardChart
from jadeite.desktop.views.lay_view import LayView
from jadeite.desktop.views.notebook_chart import NotebookChart
from jadeite.desktop.views.photo_view import PhotoView
from jadeite.desktop.views.sheets_view import SheetsView
from jadeite.desktop.views.shelf_view import ShelfView
from jadeite.desktop.views.start_view import StartView
from jadeite.desktop.views.timeline import Timeline

__all__ = [
    "BoardChart",
    "LayView",
    "NotebookChart",
    "PhotoView",
    "SheetsView",
    "ShelfView",
    "StartView",
    "Timeline",
]
