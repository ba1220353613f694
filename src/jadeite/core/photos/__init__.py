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

What works on pixels (``pixels``, ``ground``, ``tracing``, ``inking``) is loaded where it is needed:
it takes a while.
"""

from jadeite.core.photos.ink import Ink
from jadeite.core.photos.rings import Rings, regions_of, rings_from_words, words_of_rings
from jadeite.core.photos.sharpness import FAIR, GOOD, ppi, verdict

__all__ = [
    "FAIR",
    "GOOD",
    "Ink",
    "Rings",
    "ppi",
    "regions_of",
    "rings_from_words",
    "verdict",
    "words_of_rings",
]
