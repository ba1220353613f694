"""Stock, and layouts of the pieces on it: a draft, and the search for a better order."""

from jadeite.core.sheets.hand import Hand, Spot
from jadeite.core.sheets.kept import laid_from, laid_of, with_pins
from jadeite.core.sheets.layout import lay_by, lay_out
from jadeite.core.sheets.offcuts import after_job, offcuts_of, used_of
from jadeite.core.sheets.orders import SEARCH
from jadeite.core.sheets.plan import GAP, Layout, PlacedPiece, SheetPlan, placed_points
from jadeite.core.sheets.rules import Refusal, Rules, Why
from jadeite.core.sheets.stock import SHEET_SIZES, SheetSize, usable_area

__all__ = [
    "GAP",
    "SEARCH",
    "SHEET_SIZES",
    "Hand",
    "Layout",
    "PlacedPiece",
    "Refusal",
    "Rules",
    "SheetPlan",
    "SheetSize",
    "Spot",
    "Why",
    "after_job",
    "laid_from",
    "laid_of",
    "lay_by",
    "lay_out",
    "offcuts_of",
    "placed_points",
    "usable_area",
    "used_of",
    "with_pins",
]
