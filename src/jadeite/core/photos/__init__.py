"""Pictures made of pixels: read with suspicion, cut free of their background, made ready to print.

Glossary
--------
cover
    Which pixels belong to the figure, as an array of the picture's size.
share
    A place in a picture: about its middle, y up, in parts of its longer side.
way
    How the background is told from the figure: ``clear`` (it is transparent already),
    ``plain`` (one colour, maybe shaded), ``busy`` (by colours and edges), ``whole`` (none).
ink
    What is printed of a picture: all of it, or the figure, spread beyond its outline.
"""

from jadeite.core.photos.ink import Ink, ink_pixels, png_of
from jadeite.core.photos.outline import (
    Rings,
    Traced,
    regions_of,
    rings_from_words,
    traced,
    words_of_rings,
)
from jadeite.core.photos.pixels import MOST_BYTES, MOST_PIXELS, Pixels, pixels_of
from jadeite.core.photos.sharpness import FAIR, GOOD, ppi, verdict

__all__ = [
    "FAIR",
    "GOOD",
    "MOST_BYTES",
    "MOST_PIXELS",
    "Ink",
    "Pixels",
    "Rings",
    "Traced",
    "ink_pixels",
    "pixels_of",
    "png_of",
    "ppi",
    "regions_of",
    "rings_from_words",
    "traced",
    "verdict",
    "words_of_rings",
]
