"""Sizes that are bought ready: cards, and the envelopes for them."""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.reckoning import Mark

__all__ = ["CARDS", "ENVELOPES", "Standard", "next_larger", "standard_of"]

NEAR = 0.5  # mm; from memory, a size that differs less is that size


@dataclass(frozen=True, slots=True)
class Standard:
    """A size by name: shorter and longer side in mm, and where it comes from."""

    name: str
    short: float
    long: float
    source: str
    mark: Mark


def _iso(source: str, *sizes: tuple[str, float, float]) -> tuple[Standard, ...]:
    return tuple(Standard(n, a, b, source, Mark.PUBLISHED) for n, a, b in sizes)


def _inches(*sizes: tuple[str, float, float]) -> tuple[Standard, ...]:
    return tuple(
        Standard(n, 25.4 * a, 25.4 * b, "US trade sizes", Mark.MEMORY) for n, a, b in sizes
    )


# closed cards; published: ISO 216; US sizes from memory
CARDS = (
    *_iso("ISO 216", ("A7", 74, 105), ("A6", 105, 148), ("A5", 148, 210)),
    Standard("DL card", 99, 210, "a third of A4", Mark.PRACTICE),
    *_inches(("US A2 card", 4.25, 5.5), ("US A6 card", 4.5, 6.25), ("US A7 card", 5.0, 7.0)),
)
# outside; published: ISO 269; US sizes from memory
ENVELOPES = (
    *_iso(
        "ISO 269",
        ("C6", 114, 162),
        ("C5", 162, 229),
        ("C4", 229, 324),
        ("DL", 110, 220),
        ("B6", 125, 176),
        ("B5", 176, 250),
    ),
    *_inches(("US A2", 4.375, 5.75), ("US A6", 4.75, 6.5), ("US A7", 5.25, 7.25)),
)


def standard_of(width: float, height: float, among: tuple[Standard, ...]) -> Standard | None:
    """The standard of this size in mm, either way round; None where there is none."""
    short, long = sorted((width, height))
    near = (s for s in among if abs(s.short - short) <= NEAR and abs(s.long - long) <= NEAR)
    return next(near, None)


def next_larger(width: float, height: float, among: tuple[Standard, ...]) -> Standard | None:
    """The smallest standard that is no smaller than this (mm), either way round; None if none."""
    short, long = sorted((width, height))
    holds = [s for s in among if s.short >= short and s.long >= long]
    return min(holds, key=lambda s: s.short * s.long, default=None)
