"""What the blade does: order, passes, settings, time."""

from jadeite.core.cutting.plan import CutPath, CuttingPlan, SheetCut, cutting_plan, place_at
from jadeite.core.cutting.profiles import PROFILES, CutterProfile, profile_by_key
from jadeite.core.cutting.strokes import fold_strokes, strokes_of

__all__ = [
    "PROFILES",
    "CutPath",
    "CutterProfile",
    "CuttingPlan",
    "SheetCut",
    "cutting_plan",
    "fold_strokes",
    "place_at",
    "profile_by_key",
    "strokes_of",
]
