"""What the blade does: order, passes, settings, time."""

from jadeite.core.cutting.plan import (
    CutPath,
    CuttingPlan,
    SheetCut,
    cutting_plan,
    place_at,
    stroke_seconds,
    travel_seconds,
)
from jadeite.core.cutting.profiles import (
    PROFILES,
    CutterProfile,
    own_from,
    profile_by_key,
    profile_of,
)
from jadeite.core.cutting.strokes import fold_strokes, strokes_of

__all__ = [
    "PROFILES",
    "CutPath",
    "CutterProfile",
    "CuttingPlan",
    "SheetCut",
    "cutting_plan",
    "fold_strokes",
    "own_from",
    "place_at",
    "profile_by_key",
    "profile_of",
    "stroke_seconds",
    "strokes_of",
    "travel_seconds",
]
