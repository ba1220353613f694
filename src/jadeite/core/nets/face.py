"""A face of the closed form: where it stands in space, and its outline in the flat piece."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cache

import numpy as np

from jadeite.core.nets.model import Floats, Opening
from jadeite.core.nets.roles import Role
from jadeite.core.nets.sides import SAME

__all__ = ["Face"]

LEAST_REACH = 1e-6  # mm; rounding, a face that reaches over by less does not
STEP = 0.01  # mm; from memory, no edge is shorter where a face reaches over by less


@cache  # quicker than rolling arrays of a few corners
def _after(count: int) -> list[int]:
    return [*range(1, count), 0]


@cache
def _before(count: int) -> list[int]:
    return list(range(-1, count - 1))


@dataclass(eq=False)
class Face:
    """A face of the closed form; ``matrix`` carries its flat coordinates into space."""

    name: str
    title: str
    role: Role
    matrix: Floats
    outline: Floats  # (n, 2), counter-clockwise in the flat piece
    parent: Face | None = None
    hinge: tuple[Floats, Floats] | None = None  # child on its left
    angle: float = 0.0
    kind: str = "scored"
    insets: dict[int, float] = field(default_factory=dict)  # side number to mm
    overs: dict[int, float] = field(default_factory=dict)  # side number to mm that it reaches over
    openings: list[Opening] = field(default_factory=list)
    bites: dict[int, Floats] = field(default_factory=dict)  # side number to (n, 2) points
    covers: tuple[str, ...] = ()
    lean: str = ""

    @property
    def normal(self) -> Floats:
        """Unit normal of the good side in space."""
        return np.asarray(self.matrix[:3, 2])

    def space(self, points: Floats | None = None) -> Floats:
        """Corners, or other flat points (n, 2), in space."""
        flat = self.outline if points is None else np.asarray(points, float)
        return np.asarray(flat @ self.matrix[:3, :2].T + self.matrix[:3, 3])

    def flat(self, points: Floats) -> Floats:
        """Points in space, (n, 3), laid into this face's flat plane: (n, 2)."""
        return np.asarray((points - self.matrix[:3, 3]) @ self.matrix[:3, :2])

    def side_towards(self, direction: Sequence[float]) -> int:
        """Number of the side whose middle lies farthest in a direction of space."""
        points = self.space()
        middles = (points + np.roll(points, -1, axis=0)) / 2
        return int(np.argmax(middles @ np.asarray(direction, float)))

    def trimmed(self) -> Floats:
        """Its outline with sides moved in by their insets, (n, 2)."""
        if not any(self.insets.values()):
            return self.outline
        a = self.outline
        way = a[_after(len(a))] - a
        way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
        inward = np.column_stack([-way[:, 1], way[:, 0]])
        amount = np.array([self.insets.get(i, 0.0) for i in range(len(a))])
        base = a + inward * amount[:, None]
        before, last = way[_before(len(a))], base[_before(len(a))]
        # corner i lies between side i - 1 and side i
        cross = before[:, 0] * way[:, 1] - before[:, 1] * way[:, 0]
        straight = np.abs(cross) < 1e-9
        gap = base - last
        along = (gap[:, 0] * way[:, 1] - gap[:, 1] * way[:, 0]) / np.where(straight, 1.0, cross)
        return np.asarray(np.where(straight[:, None], base, last + along[:, None] * before))

    def cut(self, trimmed: Floats | None = None) -> Floats:
        """Its outline as it is cut: trimmed, and reaching over the ends of other faces.

        ``trimmed`` hands over what :meth:`trimmed` has given, (n, 2) float.
        """
        corners = self.trimmed() if trimmed is None else trimmed
        if not (self.bites or any(self.overs.values())):
            return corners
        out = []
        for i in range(len(corners)):
            a, b = corners[i], corners[(i + 1) % len(corners)]
            out.append(a)
            reach, length = self.overs.get(i, 0.0), float(np.hypot(*(b - a)))
            if i in self.bites:
                out += list(self.bites[i])
            elif reach > LEAST_REACH and 4 * max(reach, STEP) < length - SAME:
                way = (b - a) / length
                away = np.array([way[1], -way[0]]) * reach
                way = way * max(reach, STEP)
                # it keeps clear of the corner, where other faces meet
                out += [a + way, a + 2 * way + away, b - 2 * way + away, b - way]
        return np.array(out)
