"""What goes in: things, their clearance, and how they lie together."""

from jadeite.core.contents.arrange import OBJECTIVES, Room, arrange, arrange_all
from jadeite.core.contents.arrangement import Arrangement, Place, differing
from jadeite.core.contents.cautions import Caution, cautions_for
from jadeite.core.contents.clearance import clearance, headroom, room_around, tag_room
from jadeite.core.contents.forms import form_of
from jadeite.core.contents.guide import GUIDES, Guide
from jadeite.core.contents.loose import bulk_spread, bulk_volume
from jadeite.core.contents.things import (
    KINDS,
    MAX_COUNT,
    AnyThing,
    Ball,
    Block,
    Cards,
    Cylinder,
    Disc,
    FlatPack,
    Light,
    Loose,
    MadeThing,
    Standing,
    Tag,
    Thing,
    solid_sizes,
)

__all__ = [
    "GUIDES",
    "KINDS",
    "MAX_COUNT",
    "OBJECTIVES",
    "AnyThing",
    "Arrangement",
    "Ball",
    "Block",
    "Cards",
    "Caution",
    "Cylinder",
    "Disc",
    "FlatPack",
    "Guide",
    "Light",
    "Loose",
    "MadeThing",
    "Place",
    "Room",
    "Standing",
    "Tag",
    "Thing",
    "arrange",
    "arrange_all",
    "bulk_spread",
    "bulk_volume",
    "cautions_for",
    "clearance",
    "differing",
    "form_of",
    "headroom",
    "room_around",
    "solid_sizes",
    "tag_room",
]
