"""Where the leaves of a spray hang on its stem, and how long they are for a width and height."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.blooms import CreasedLeaf, petal_from_words
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.model import Floats
from jadeite.core.shapes.leaf_pieces import Place
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.solving import scaled_to
from jadeite.core.units import number_text, rounded_up

__all__ = ["BARE", "LARGEST", "SMALLEST", "TIP_FOOT", "Spray", "spray_of"]

SMALLEST, LARGEST = 40.0, 400.0  # mm; from memory
BARE = 0.35  # of the lowest leaf's length is the stem bare below it; from memory
LEAST_BARE = 9.0  # mm; from memory, to hold it by
ROOT = 6.0  # mm of a leaf on its foot; from memory
FEET_APART = 0.8  # mm; from memory, between two feet
TIP_FOOT = 9.0  # mm; from memory, of the foot of the leaf at the tip
TIP_PITCH = 0.2  # of the pitch is the stem bare below the leaf at its tip; from memory
EVEN = 1e-6  # mm; rounding
LEAST_PITCH = 2 * (ROOT + FEET_APART)  # mm, so that feet do not lie on one another
SHORTEST = 9.0  # mm; from memory, a shorter leaf cannot be creased by hand


@dataclass(frozen=True)
class Spray:
    """Leaves from the lowest right one, and the stem's length; mm."""

    places: tuple[Place, ...]
    stem: float
    pitch: float

    @cached_property
    def bounds(self) -> tuple[Floats, Floats]:
        """Lowest and highest of all leaves and of the stem's ends, (3,) each, mm."""
        points = np.vstack([h for place in self.places for h in place.solid])
        ends = np.array([[0.0, 0.0, 0.0], [0.0, self.stem, 0.0]])
        both = np.vstack([points, ends])
        return both.min(axis=0), both.max(axis=0)

    @property
    def extent(self) -> Floats:
        """Width, height and depth, mm."""
        low, high = self.bounds
        return np.asarray(high - low)


def _spray(longest: float, pitch: float, bare: float, options: Mapping[str, OptionValue]) -> Spray:
    """The spray whose lowest leaves have a length in mm.

    ``pitch`` is from pair to pair, ``bare`` the stem below the lowest; mm.
    """
    count, stem = int(float(options["pairs"])), float(options["stem"])
    petal = petal_from_words(str(options["outline"]))
    small = float(options["scale"]) / 100
    off = 90.0 - float(options["off"])
    rise, crease = float(options["rise"]), float(options["crease"])
    lines = str(options["leaf-lines"])
    places = []
    y, size = bare, longest
    for n in range(count):
        size = longest * (1 - (1 - small) * n / max(1, count - 1))
        y = bare + pitch * n
        leaf = CreasedLeaf(petal, size, ROOT, off, rise, crease, lines)
        for side, up in ((1.0, 0.0), (-1.0, ROOT + FEET_APART)):  # each foot has the whole width
            own = np.array([[side, 0.0, side * stem / 2], [0.0, 1.0, y + up], [0.0, 0.0, 1.0]])
            places.append(Place(leaf, own))
    end = y + ROOT + 2 * FEET_APART
    if options["tip"] == "leaf":
        end += TIP_FOOT + TIP_PITCH * pitch
        leaf = CreasedLeaf(petal, size, ROOT, 0.0, rise, crease, lines)
        beside = max(0.0, ROOT - stem / 2)  # its foot hangs on its near half
        own = np.array([[0.0, -1.0, -beside], [1.0, 0.0, end], [0.0, 0.0, 1.0]])
        places.append(Place(leaf, own))
    return Spray(tuple(places), end, pitch)


def _of_width(width: float, options: Mapping[str, OptionValue], free: float | None = None) -> Spray:
    """The spray that is so wide in mm: by the length of its leaves, which is found.

    ``free`` is what its height is set by, mm: from pair to pair, or where there is but one
    the bare stem below it.
    """
    one = int(float(options["pairs"])) == 1

    def at(longest: float) -> Spray:
        pitch = max(LEAST_PITCH, float(options["spacing"]) / 100 * longest)
        bare = max(LEAST_BARE, BARE * longest)
        if free is not None:
            pitch, bare = (pitch, free) if one else (free, bare)
        return _spray(longest, pitch, bare, options)

    return at(scaled_to(lambda longest: float(at(longest).extent[0]), width, width / 2))


def spray_of(width: float, height: float, options: Mapping[str, OptionValue]) -> Spray:
    """The spray of a width and, unless it is 0, a height in mm.

    Raises
    ------
    FieldError
        Its leaves would be too short, or it cannot be so high; the text names what works.
    """
    spray = _of_width(width, options)
    shortest = min(place.leaf.length for place in spray.places)
    if shortest < SHORTEST:
        wide = width
        while wide < LARGEST:
            wide = min(LARGEST, rounded_up(1.15 * wide, 0))
            again = _of_width(wide, options)
            if min(place.leaf.length for place in again.places) >= SHORTEST:
                raise FieldError(
                    "width",
                    f"the leaves would be shorter than {number_text(SHORTEST)} mm",
                    f"Use {number_text(wide)} mm.",
                    ((("brief.width", wide),),),
                )
        raise FieldError(
            "scale",
            f"the leaves would be shorter than {number_text(SHORTEST)} mm",
            "Make the highest pair as large as the lowest.",
            (option_way("scale", 100.0),),
        )
    if height <= 0:
        return spray
    low = LEAST_BARE if int(float(options["pairs"])) == 1 else LEAST_PITCH
    exact = float(_of_width(width, options, low).extent[1])
    if height < exact - EVEN:
        lowest = rounded_up(exact)
        raise FieldError(
            "height",
            f"{number_text(height)} mm is too low for so many pairs of leaves",
            f"Use {number_text(lowest)} mm.",
            ((("brief.height", lowest),),),
        )
    free = scaled_to(lambda free: float(_of_width(width, options, free).extent[1]), height, 2 * low)
    return _of_width(width, options, max(low, free))
