"""What the blade does: order, passes, settings, time."""

from jadeite.core.cutting.plan import CutPath, CuttingPlan, SheetCut, cutting_plan, place_at
from jadeite.core.cutting.profiles import PROFILES, CutterProfile, profile_by_key

__all__ = [
    "PROFILES",
    "CutPath",
    "CutterProfile",
    "CuttingPlan",
    "SheetCut",
    "cutting_plan",
    "place_at",
    "profile_by_key",
]
