"""A length is found by which something comes out as large as it is wanted."""

from __future__ import annotations

from collections.abc import Callable

__all__ = ["scaled_to"]

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
