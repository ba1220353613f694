"""What goes in: things, their clearance, and how they lie together."""

from jadeite.core.contents.arrange import (
    OBJECTIVES,
    Arrangement,
    Place,
    arrange,
    first_arrangement,
)
from jadeite.core.contents.clearance import HEADROOM, clearance, headroom
from jadeite.core.contents.things import (
    MAX_COUNT,
    Block,
    Cylinder,
    FlatPack,
    Thing,
    solid_sizes,
)

__all__ = [
    "HEADROOM",
    "MAX_COUNT",
    "OBJECTIVES",
    "Arrangement",
    "Block",
    "Cylinder",
    "FlatPack",
    "Place",
    "Thing",
    "arrange",
    "clearance",
    "first_arrangement",
    "headroom",
    "solid_sizes",
]
