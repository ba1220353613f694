"""What shows of rings that lie on one another, seen from above; and how to turn them.

Each ring is a pattern of cells in polar coordinates about the flower's axis, so
turning a ring moves its cells along, and how much of the lower rings an upper
one hides is, for all turns at once, one correlation.

Glossary
--------
turn
    Of a ring about the axis from where its first petal looks along x, degrees.
share seen
    Of a ring: the part of its area that nothing above covers.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jadeite.core.nets.model import Floats

__all__ = ["Above", "Turns", "best_turns"]

ANGLES, RADII = 720, 48  # cells about the axis (0.5 degrees each) and along a radius; from memory
SWEEPS = 4  # over all rings; from memory, the third seldom changes anything
LAYER = 0.05  # of a ring's area; from memory, less of it seen is no layer
RIM = 0.8  # of the finished radius, where gaps between petals are measured; from memory
EVEN = 1e-9  # rounding: two turns show as much

Mask = NDArray[np.bool_]


def _covered(facets: Sequence[Floats], count: int, reach: float) -> Mask:
    """Cells that petals cover, (ANGLES, RADII) bool; one petal's facets, of ``count`` alike."""
    step = 2 * math.pi / count
    once, more = divmod(ANGLES, count)
    rays = ANGLES if more else once  # where cells of all petals lie alike, those of one do
    theta = (np.arange(rays) + 0.5) * 2 * math.pi / ANGLES
    folded = (theta + step / 2) % step - step / 2
    sides = _sides(facets)
    wide = float(np.abs(np.arctan2(sides[0][:, 1], sides[0][:, 0])).max())
    beside = min(count // 2, math.ceil(max(0.0, (wide - step / 2) / step)))
    out = np.zeros((rays, RADII), dtype=bool)
    for k in range(-beside, beside + 1):
        out |= _rays(sides, folded + k * step, reach)
    return out if more else np.tile(out, (count, 1))


def _sides(facets: Sequence[Floats]) -> tuple[Floats, Floats]:
    """Both ends of the sides of some polygons, (n, 2) each, counter-clockwise."""
    starts, ends = [], []
    for facet in facets:
        following = np.concatenate([facet[1:], facet[:1]])
        area = float(facet[:, 0] @ following[:, 1] - facet[:, 1] @ following[:, 0])
        pair = (facet, following) if area > 0 else (following, facet)
        starts.append(pair[0])
        ends.append(pair[1])
    return np.concatenate(starts), np.concatenate(ends)


def _rays(sides: tuple[Floats, Floats], angles: Floats, reach: float) -> Mask:
    """Whether places along rays from the axis lie in any of some polygons, (m, RADII) bool."""
    counts = np.zeros((len(angles), RADII + 1))
    a, b = sides
    way = np.column_stack([np.cos(angles), np.sin(angles)])
    side_a = way[:, :1] * a[:, 1] - way[:, 1:] * a[:, 0]
    side_b = way[:, :1] * b[:, 1] - way[:, 1:] * b[:, 0]
    crosses = (side_a > 0) != (side_b > 0)
    rows, cols = np.nonzero(crosses)
    part = side_a[rows, cols] / (side_a[rows, cols] - side_b[rows, cols])
    at = a[cols] + part[:, None] * (b[cols] - a[cols])
    far = (at * way[rows]).sum(axis=1)
    ahead = far > 0
    bins = np.clip(np.floor(far[ahead] / reach * RADII + 0.5), 0, RADII).astype(int)
    sign = np.where(side_b[rows, cols] > 0, 1.0, -1.0)[ahead]
    np.add.at(counts, (rows[ahead], bins), sign)
    inside = np.cumsum(counts[:, ::-1], axis=1)[:, ::-1]
    return np.asarray(inside[:, 1:] > 0.5)


@dataclass(frozen=True, eq=False)
class Turns:
    """How rings are turned, degrees, lowest first, and the share of each that is seen."""

    turns: tuple[float, ...]
    seen: tuple[float, ...]


class Above:
    """Rings from above, lowest first.

    Parameters
    ----------
    rings : sequence of (facets, count)
        One petal of each ring along x as seen from above, (n, 2) float in mm, and
        how many there are; polygons that hold the axis count as the middle.
    reach : float
        Radius in mm of what is looked at.
    """

    def __init__(self, rings: Sequence[tuple[Sequence[Floats], int]], reach: float) -> None:
        self.counts = [count for _, count in rings]
        self.reach = reach
        once: dict[int, Mask] = {}  # of rings that are the same object, as plies are
        for facets, count in rings:
            if id(facets) not in once:
                once[id(facets)] = _covered(facets, count, reach)
        self.masks = [once[id(facets)] for facets, _ in rings]

    @cached_property
    def cell(self) -> Floats:
        """Area of the cells along a radius, (RADII,) mm²."""
        step = self.reach / RADII
        return np.asarray((np.arange(RADII) + 0.5) * step * step * 2 * math.pi / ANGLES)

    @cached_property
    def areas(self) -> Floats:
        """Of each ring from above, (m,) mm²."""
        return np.array([self._area(mask) for mask in self.masks])

    def _area(self, mask: Mask) -> float:
        """Of some cells, mm²."""
        return float(mask.sum(axis=0, dtype=np.int32) @ self.cell)

    @cached_property
    def _twice(self) -> list[Mask]:
        """The cells of each ring once and again, so that those of a turned one are a part."""
        return [np.concatenate([mask, mask]) for mask in self.masks]

    def placed(self, turns: Sequence[float]) -> list[Mask]:
        """The cells of each ring at its turn (to half a degree)."""
        starts = [-round(t * ANGLES / 360.0) % ANGLES for t in turns]
        pairs = zip(self._twice, starts, strict=True)
        return [mask[start : start + ANGLES] for mask, start in pairs]

    def tops(self, turns: Sequence[float]) -> NDArray[np.int64]:
        """Number of the ring that is seen in each cell, -1 for none; (ANGLES, RADII)."""
        top = np.full((ANGLES, RADII), -1)
        for number, mask in enumerate(self.placed(turns)):
            top[mask] = number
        return top

    def seen(self, turns: Sequence[float]) -> Floats:
        """Share of each ring that is seen, (m,)."""
        free = np.ones((ANGLES, RADII), dtype=bool)
        own = []
        for mask in reversed(self.placed(turns)):
            own.append(self._area(mask & free))
            free &= ~mask
        return np.asarray(np.array(own[::-1]) / np.maximum(self.areas, 1e-12))

    def score(self, turns: Sequence[float]) -> float:
        """What is made as large as it can be: the shares seen of all rings but the highest."""
        return float(self.seen(turns)[:-1].sum())

    def covered(self, turns: Sequence[float], radius: float) -> float:
        """Share of a disc of a radius in mm that any ring covers."""
        return float(((self.tops(turns) >= 0) @ self.cell).sum()) / (math.pi * radius**2)

    def layers(self, turns: Sequence[float]) -> int:
        """How many rings are seen."""
        return int((self.seen(turns) >= LAYER).sum())

    def gap(self, turns: Sequence[float], radius: float) -> float:
        """The widest gap in mm between petals on a circle at :data:`RIM` of a radius."""
        at = min(RADII - 1, int(RIM * radius / self.reach * RADII))
        free = ~(self.tops(turns)[:, at] >= 0)
        if free.all():
            return 2 * math.pi * RIM * radius
        start = int(np.argmin(free))
        longest = run = 0
        for bare in np.roll(free, -start).tolist():
            run = run + 1 if bare else 0
            longest = max(longest, run)
        return longest * 2 * math.pi / ANGLES * RIM * radius


def best_turns(above: Above) -> Turns:
    """Turns of the rings by which the largest share of the lower ones is seen.

    One ring after another is turned to where, the others as they are, most is
    seen; over all turns at once, and again until none gets better.  It begins
    from several places: each ring as it comes, and each in the gaps of the one below.
    """
    count = len(above.masks)
    if count < 2:
        return Turns((0.0,) * count, tuple(above.seen((0.0,) * count).tolist()))
    better = _Better(above)
    best: tuple[float, tuple[float, ...]] | None = None
    for start in _starts(above.counts):
        turns = list(start)
        for number in range(1, count):  # each ring as it is stacked, on those below it
            turns[number] = better(turns, number, number + 1)
        reached = above.score(turns)
        for _ in range(SWEEPS):
            for number in (*range(1, count), *range(count - 2, 0, -1)):
                turns[number] = better(turns, number, count)
            now = above.score(turns)
            if now < reached + EVEN:
                break
            reached = now
        reached = above.score(turns)
        if best is None or reached > best[0] + EVEN:
            best = reached, tuple(turns)
    assert best is not None
    return Turns(best[1], tuple(above.seen(best[1]).tolist()))


def _starts(counts: Sequence[int]) -> list[tuple[float, ...]]:
    """Where to begin: as they come, and each half a petal farther than the one below."""
    half = [0.0]
    for number, count in enumerate(counts[1:]):
        half.append((half[-1] + 180.0 / counts[number]) % (360.0 / count))
    return [(0.0,) * len(counts), tuple(half)]


class _Better:
    """The turn of one ring at which most is seen, the others as they are."""

    def __init__(self, above: Above) -> None:
        self._above = above
        self._known: dict[tuple[int, int, tuple[float, ...]], float] = {}
        # cells after which a ring looks alike again; all where its petals lie between cells
        self._periods = [ANGLES if ANGLES % count else ANGLES // count for count in above.counts]
        pairs = zip(above.masks, self._periods, strict=True)
        self._spectra = [np.conj(np.fft.rfft(mask[:n].astype(float), axis=0)) for mask, n in pairs]

    def __call__(self, turns: Sequence[float], number: int, upto: int) -> float:
        """The turn in degrees of one ring; those from ``upto`` on are left out."""
        key = number, upto, tuple(t for k, t in enumerate(turns[:upto]) if k != number)
        if key not in self._known:
            self._known[key] = self._found(turns, number, upto)
        return self._known[key]

    def _found(self, turns: Sequence[float], number: int, upto: int) -> float:
        above, period = self._above, self._periods[number]
        # what is gained where the ring comes to lie, by what is seen there without it
        value = [-1 / area for area in above.areas[:number]] + [0.0] * (upto - number)
        none = 0.0
        if number < upto - 1:
            none = 1 / above.areas[number]
            value[:number] = [lost + none for lost in value[:number]]
        gain = np.full((ANGLES, RADII), none)
        for k, mask in enumerate(above.placed(turns)[:upto]):
            if k != number:
                np.copyto(gain, value[k], where=mask)
        once = gain.reshape(-1, period, RADII).sum(axis=0) * above.cell
        total = np.fft.irfft(
            (np.fft.rfft(once, axis=0) * self._spectra[number]).sum(axis=1), n=period
        )
        first = total[: max(1, round(ANGLES / above.counts[number]))]
        most = float(first.max())
        ties = np.flatnonzero(first >= most - 1e-7 * max(1.0, abs(most)))
        return float(ties[len(ties) // 2]) * 360.0 / ANGLES
