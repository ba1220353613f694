"""What arranging has found: where each thing lies, the inside, and how good it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from jadeite.core.contents.cells import UP
from jadeite.core.contents.grid import Grid

__all__ = ["Arrangement", "Place", "differing", "swapped"]

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Place:
    """Where one thing lies, from the hollow's lower left front corner; mm.

    ``low`` is the corner of its cell, ``cell`` the cell's extent, ``solid``
    the thing's own extent, ``inset`` from the cell's low corner: centred, but
    for the room of a finger or a tag.  ``axis`` is that of a cylinder,
    ``tall`` the axis of the thing's own height.
    """

    thing: int
    copy: int
    low: Triple
    cell: Triple
    solid: Triple
    axis: int
    tall: int = UP
    inset: Triple = (0.0, 0.0, 0.0)

    @property
    def centre(self) -> Triple:
        """Middle of the thing itself."""
        x, y, z = self.low
        (a, b, c), (i, j, k) = self.solid, self.inset
        return (x + i + a / 2, y + j + b / 2, z + k + c / 2)

    @property
    def under(self) -> float:
        """Room below the thing in its cell, mm."""
        return self.inset[2]


@dataclass(frozen=True)
class Arrangement:
    """Things in their places, the inside size that they need, and the board for it.

    ``bound`` is the cost that none can undercut and ``cost`` its own, both in
    the objective's measure (mm² of board for least board).
    """

    objective: str
    places: tuple[Place, ...]
    inside: Triple
    board_area: float
    exact: bool
    cost: float = 0.0
    bound: float = 0.0
    grid: Grid | None = None

    @property
    def gap(self) -> float:
        """Share by which a better one could be better at most; 0 when it is proved the best."""
        if self.exact or self.cost <= 0:
            return 0.0
        return max(0.0, 1 - self.bound / self.cost)


def swapped(place: Place) -> Place:
    """A place with length and width changed about."""
    x, y, z = place.low
    a, b, c = place.cell
    i, j, k = place.solid
    u, v, w = place.inset
    other = {0: 1, 1: 0, 2: 2}
    return replace(
        place,
        low=(y, x, z),
        cell=(b, a, c),
        solid=(j, i, k),
        inset=(v, u, w),
        axis=other[place.axis],
        tall=other[place.tall],
    )


def differing(found: Mapping[str, Arrangement], chosen: str, most: int = 3) -> list[str]:
    """The chosen objective, and others whose arrangement clearly differs from it.

    Two differ when a length of their inside differs by more than a twentieth.
    """
    out = [chosen] if chosen in found else []
    for name, arrangement in found.items():
        if len(out) >= most:
            break
        if name in out:
            continue
        if all(_differ(arrangement.inside, found[other].inside) for other in out):
            out.append(name)
    return out


def _differ(one: Triple, other: Triple, share: float = 0.05) -> bool:
    return any(abs(a - b) > share * max(a, b) for a, b in zip(one, other, strict=True))
