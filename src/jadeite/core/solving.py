"""A number is found by which something comes out as it is wanted."""

from __future__ import annotations

import math
from collections.abc import Callable

__all__ = ["first_within", "scaled_to"]

NEAR = 1e-9  # of what is wanted; rounding
TRIES = 40


def scaled_to(measure: Callable[[float], float], wanted: float, start: float) -> float:
    """The length at which ``measure`` gives what is wanted; both grow about in proportion.

    By the secant through the last two tries, from ``start``; all in one unit.
    """
    length = start
    before: tuple[float, float] | None = None
    for _ in range(TRIES):
        over = measure(length) - wanted
        if abs(over) < NEAR * wanted:
            break
        if before is None or abs(over - before[1]) < NEAR:
            after = length * wanted / (over + wanted)
        else:
            after = length - over * (length - before[0]) / (over - before[1])
        before, length = (length, over), max(after, length / 2)
    return length


def first_within(over: Callable[[int], float], most: int, at_ends: tuple[float, float]) -> int:
    """The least whole number from 1 to ``most`` at which ``over`` is not above 0.

    It falls, and ``at_ends`` is what it is at 0, above 0, and at ``most``, not above 0.  By the
    line through both ends of what is left (the Illinois rule: an end that stays counts half);
    halved once that has taken as many tries as halving would, should it fall by steps.
    """
    low, high = 0, most
    above, below = at_ends
    stays = tries = 0
    while high - low > 1:
        tries += 1
        share = above / (above - below) if tries <= most.bit_length() else 0.5
        middle = min(max(low + math.ceil(share * (high - low)), low + 1), high - 1)
        now = over(middle)
        if now > 0:
            low, above = middle, now
            below = below / 2 if stays == 1 else below
            stays = 1
        else:
            high, below = middle, now
            above = above / 2 if stays == -1 else above
            stays = -1
    return high
