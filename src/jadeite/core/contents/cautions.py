"""One plain sentence where a thing or a board can hurt someone."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents.things import AnyThing, Light, Loose
from jadeite.core.solid import Form

__all__ = ["Caution", "cautions_for", "is_small_part"]

# mm; published: 16 CFR 1501, the test cylinder, its depth on the slant from least to most
TEST_WIDE, TEST_LEAST, TEST_MOST = 31.7, 25.4, 57.1
RULES = "Local rules and the makers' instructions come first."


@dataclass(frozen=True, slots=True)
class Caution:
    """What it is about, and the sentence."""

    key: str
    words: str


def is_small_part(size: tuple[float, float, float]) -> bool:
    """Whether a thing of that size (mm) goes into the test cylinder of 16 CFR 1501.

    The cylinder is 31.7 mm wide and its floor is slanted, 25.4 to 57.1 mm
    deep.  A thing counts as small when two of its lengths pass the width
    across their diagonal and the third is no longer than the cylinder is
    deep at its deepest.
    """
    a, b, c = sorted(size)
    return (a * a + b * b) ** 0.5 <= TEST_WIDE and c <= TEST_MOST


def _loose_size(thing: Loose) -> tuple[float, float, float]:
    if thing.by == "count":
        return (thing.diameter,) * 3
    return (0.0, 0.0, 0.0)  # grains of unknown size: taken as small


def cautions_for(
    things: Iterable[AnyThing], boards: Iterable[Board], fits: Fits = USUAL
) -> tuple[Caution, ...]:
    """The cautions that apply to the contents and the boards, each once."""
    found: dict[str, str] = {}
    for thing in things:
        if isinstance(thing, Light):
            found["flame"] = (
                "Battery lights only, never a flame near paper, and no mains lamp; leave "
                f"{fits.air:.0f} mm of air around it. {RULES}"
            )
            found["button-cell"] = (
                "Button cells are dangerous to children who swallow them: the battery door must "
                f"close with a screw. {RULES}"
            )
            if thing.held == "hangs":
                found["hanging"] = (
                    "Try the cord and the hook with twice the weight before it hangs over anyone. "
                    f"{RULES}"
                )
        if thing.food:
            found["food"] = f"Craft paper is not food-safe: wrap sweets. {RULES}"
        round_thing = thing.form is Form.CYLINDER
        size = _loose_size(thing) if isinstance(thing, Loose) else thing.size
        if round_thing:
            small = _round_is_small(size[0], size[2])
        elif thing.form is Form.BALL or isinstance(thing, Loose):
            small = size[0] <= TEST_WIDE
        else:
            small = is_small_part(size)
        if small:
            found["small-parts"] = (
                f"{thing.name[0].upper()}{thing.name[1:]} fits the small-parts cylinder "
                f"(31.7 mm wide): a choking hazard for children under three. {RULES}"
            )
    if any(board.dusty for board in boards):
        found["dust"] = (
            "Cutting and sanding this board makes fine dust: wear a mask and cut by the window. "
            + RULES
        )
    return tuple(Caution(key, words) for key, words in found.items())


def _round_is_small(diameter: float, height: float) -> bool:
    """A round thing goes in on its end, or on its side where its corner passes the width."""
    on_end = diameter <= TEST_WIDE and height <= TEST_MOST
    on_side = (diameter**2 + height**2) ** 0.5 <= TEST_WIDE
    return on_end or (on_side and diameter <= TEST_MOST)
