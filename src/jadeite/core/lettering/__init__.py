"""Letters of one stroke, as a pen writes them: their shapes, their spacing, words in a room."""

from jadeite.core.lettering.letters import STYLES, Glyph, glyph_of, unwritable
from jadeite.core.lettering.spacing import Line, line_of
from jadeite.core.lettering.stencil import BRIDGE, LOOSE, stencil
from jadeite.core.lettering.words import Room, Written, written

__all__ = [
    "BRIDGE",
    "LOOSE",
    "STYLES",
    "Glyph",
    "Line",
    "Room",
    "Written",
    "glyph_of",
    "line_of",
    "stencil",
    "unwritable",
    "written",
]
