"""A petal's facets: how they are cut, which hangs on which, and where each stands when it is bent.

Everything is in the petal's own frame: x from its root outwards in the plane of its
ring, y to the left, z up from the good side.

Glossary
--------
hinge
    The edge by which a facet hangs on another, the facet on its left.
crease
    The fold along a petal's middle, between facets of both its halves.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from jadeite.core.blooms.profile import Profile
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.model import Floats, Fold
from jadeite.core.nets.turns import rotation

__all__ = ["Crease", "Facet", "Form", "across_rulings", "curled", "hung", "in_a_row"]


@dataclass(frozen=True, eq=False)
class Facet:
    """A facet: ``outline`` flat, (n, 2) float, mm, counter-clockwise, its hinge first.

    ``on`` is the number of the facet on which it hangs, None for the ring; ``turn`` the
    fold there, degrees, up positive; ``place`` carries it from the flat petal to where it
    stands, (4, 4).  ``kind`` is that of the fold; a ``flap`` is glued behind another petal.
    """

    outline: Floats
    on: int | None
    turn: float
    place: Floats
    kind: str = ROLLED
    flap: bool = False

    def fold(self, names: tuple[str, str], moved: Floats) -> Fold:
        """Its hinge as a fold of a piece, where ``moved``, (n, 2), is its outline; mm."""
        (x0, y0), (x1, y1) = moved[:2].tolist()
        return Fold(*names, (x0, y0), (x1, y1), self.turn, self.kind)


@dataclass(frozen=True, eq=False)
class Crease:
    """A fold between two facets that hang on others; ``line`` is (2, 2) float, mm, flat.

    It runs from the tip to where it ends, the second facet on its left; ``angle`` in degrees.
    """

    facets: tuple[int, int]
    line: Floats
    angle: float

    def fold(self, names: tuple[str, str], moved: Floats) -> Fold:
        """As a fold of a piece, where ``moved``, (2, 2), is its line; it closes a loop."""
        (x0, y0), (x1, y1) = moved.tolist()
        return Fold(*names, (x0, y0), (x1, y1), self.angle, tree=False)


@dataclass(frozen=True, eq=False)
class Form:
    """A bent petal; ``rise`` is by how much it stands up beyond its root, in degrees.

    ``curl`` is by how much its tip is turned from there, about rulings that lie ``slant`` from
    across it, degrees; ``crease`` its middle's fold, where it has one.
    """

    profile: Profile
    facets: tuple[Facet, ...]
    rise: float
    curl: float
    slant: float = 0.0
    crease: Crease | None = None

    @cached_property
    def shown(self) -> tuple[Facet, ...]:
        """Its facets but for a flap, which lies behind the next petal."""
        return tuple(facet for facet in self.facets if not facet.flap)

    @cached_property
    def solids(self) -> tuple[Floats, ...]:
        """Corners of what is shown of it as it stands, (n, 3) float each, mm."""
        return tuple(f.outline @ f.place[:3, :2].T + f.place[:3, 3] for f in self.shown)

    @cached_property
    def heights(self) -> tuple[float, float]:
        """Its lowest and highest place over its root, mm."""
        z = np.concatenate([solid[:, 2] for solid in self.solids])
        return min(0.0, float(z.min())), max(0.0, float(z.max()))

    @cached_property
    def _shapes(self) -> list[shapely.Polygon]:
        """What is shown of it, flat."""
        return [shapely.Polygon(facet.outline) for facet in self.shown]

    @cached_property
    def plans(self) -> list[shapely.Polygon]:
        """What is shown of it from above, as it stands."""
        return [shapely.Polygon(solid[:, :2]) for solid in self.solids]

    @property
    def plain(self) -> bool:
        """Whether all its rulings lie across it, so that its profile says all."""
        return self.crease is None and not self.slant

    def at(self, points: Floats) -> Floats:
        """Where points of the flat petal stand, (n, 2) to (n, 3), mm."""
        if self.plain:
            x, z = self.profile.at(points[:, 0]).T
            return np.column_stack([x, points[:, 1], z])
        apart = shapely.distance(shapely.points(points)[:, None], self._shapes)
        places = np.array([facet.place for facet in self.shown])[np.argmin(apart, axis=1)]
        out = np.einsum("nij,nj->ni", places[:, :3, :2], points) + places[:, :3, 3]
        return np.asarray(out)


def hung(outline: Floats, on: int | None, turn: float, carrier: Floats) -> Facet:
    """A facet that hangs by its first edge.

    ``outline`` is (n, 2), mm, ``turn`` in degrees; ``carrier`` is the place of what it
    hangs on, (4, 4).
    """
    turned = rotation(outline[0].tolist(), outline[1].tolist(), turn)
    return Facet(outline, on, turn, carrier @ turned)


def across_rulings(edge: Floats, breaks: Floats) -> tuple[Floats, ...]:
    """What lies between rulings across a petal, from its root to its tip, (n, 2) float each, mm.

    ``edge`` is its upper edge, (m, 2), from the root to the middle of the tip; ``breaks``
    are the rulings, (k,), mm from the root, the last its length.
    """
    x, y = edge[:, 0], edge[:, 1]
    top = int(np.argmax(x))
    half = np.interp(breaks[:-1], x[: top + 1], y[: top + 1])
    out = []
    for i, (low, width) in enumerate(zip(breaks[:-1].tolist(), half.tolist(), strict=True)):
        if i + 2 < len(breaks):
            high = breaks[i + 1]
            inner = (x[:top] > low + 1e-6) & (x[:top] < high - 1e-6)
            line = np.vstack([edge[:top][inner], [[high, half[i + 1]]]])
        else:
            line = edge[np.flatnonzero((x > low + 1e-6) | (np.arange(len(x)) >= top))]
        upper = line[::-1]  # from the tip back to the root
        lower = line * np.array([1.0, -1.0])
        if lower[-1, 1] == 0.0:
            lower = lower[:-1]
        out.append(np.vstack([[[low, width], [low, -width]], lower, upper]))
    return tuple(out)


def in_a_row(outlines: Sequence[Floats], turns: Sequence[float]) -> list[Facet]:
    """Facets of which each hangs on the one before it, the first on the ring.

    ``outlines`` are (n, 2) each, mm; ``turns`` in degrees.
    """
    facets: list[Facet] = []
    for outline, turn in zip(outlines, turns, strict=True):
        before = facets[-1].place if facets else np.eye(4)
        facets.append(hung(outline, len(facets) - 1 if facets else None, turn, before))
    return facets


def curled(edge: Floats, profile: Profile) -> Form:
    """A petal whose rulings all lie across it; ``edge`` is (n, 2), as for its facets."""
    facets = in_a_row(across_rulings(edge, profile.breaks), profile.turns.tolist())
    return Form(profile, tuple(facets), profile.rise, profile.curl)
