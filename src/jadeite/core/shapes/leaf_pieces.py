"""Creased leaves as pieces: where each lies, its two halves and its foot, and its back."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.blooms import FOOT, CreasedLeaf
from jadeite.core.boards import Board
from jadeite.core.nets.model import Floats, Fold, Panel, Piece, Vein
from jadeite.core.nets.roles import Role

__all__ = ["FAR", "FOOT", "NEAR", "Place", "back_piece", "leaf_piece"]

NEAR, FAR = "near", "far"


@dataclass(frozen=True)
class Place:
    """A leaf, and where it hangs on the stem: from its own plane to that of the stem, (3, 3)."""

    leaf: CreasedLeaf
    own: Floats

    @property
    def flips(self) -> bool:
        """Whether it is a mirror image."""
        return float(np.linalg.det(self.own[:2, :2])) < 0

    def flat(self, points: Floats) -> Floats:
        """Points of its plane, (n, 2), in the plane of the stem, counter-clockwise as before."""
        moved = points @ self.own[:2, :2].T + self.own[:2, 2]
        return np.asarray(moved[::-1] if self.flips else moved)

    @cached_property
    def space(self) -> Floats:
        """The same in space, (4, 4)."""
        out = np.eye(4)
        out[:2, :2] = self.own[:2, :2]
        out[:2, 3] = self.own[:2, 2]
        return out

    @cached_property
    def solid(self) -> list[Floats]:
        """Both halves as they stand, (n, 3) each, mm over the plane of its foot."""
        return [h @ self.space[:3, :3].T + self.space[:3, 3] for h in self.leaf.solid]


def leaf_piece(place: Place, name: str, title: str, board: Board, part: str, deep: float) -> Piece:
    """A leaf with its foot, which goes ``deep`` mm under what it is glued to."""
    leaf = place.leaf
    foot = np.array([[-deep, -leaf.root], [0.0, -leaf.root], [0.0, 0.0], [-deep, 0.0]])
    panels = (
        _panel(place, FOOT, "foot", Role.FOOT, foot),
        _panel(place, NEAR, "near half", Role.PETAL, leaf.near),
        _panel(place, FAR, "far half", Role.PETAL, leaf.far),
    )
    origin, down = np.zeros(2), np.array([0.0, -leaf.root])
    folds = (
        _fold(place, (FOOT, NEAR), (origin, down), leaf.rise),
        _fold(place, (NEAR, FAR), (origin, leaf.tip), leaf.crease),
    )
    veins = tuple(Vein(place.flat(vein.points), vein.trace) for vein in leaf.veins)
    return Piece(name, title, board, panels, folds, "inside", part=part, veins=veins)


def back_piece(place: Place, name: str, title: str, board: Board, part: str) -> Piece:
    """The back of a leaf: its blade as the mirror image about the crease."""
    leaf = place.leaf
    near, far = leaf.blade
    start, tip = leaf.mirrored(np.vstack([near[0], leaf.tip]))[::-1]
    panels = (
        _panel(place, NEAR, "near half", Role.PETAL, leaf.mirrored(near)),
        _panel(place, FAR, "far half", Role.PETAL, leaf.mirrored(far)),
    )
    fold = _fold(place, (NEAR, FAR), (tip, start), -leaf.crease)
    return Piece(name, title, board, panels, (fold,), "inside", part=part)


def _fold(place: Place, names: tuple[str, str], ends: tuple[Floats, Floats], angle: float) -> Fold:
    """A fold between two panels, from one point of the leaf's plane to another."""
    start, end = (place.flat(p[None])[0] for p in ends)
    if place.flips:
        start, end = end, start
    return Fold(*names, (float(start[0]), float(start[1])), (float(end[0]), float(end[1])), angle)


def _panel(place: Place, name: str, title: str, role: Role, outline: Floats) -> Panel:
    flat = place.flat(outline)
    wide, deep = np.ptp(outline, axis=0)
    return Panel(name, title, role, flat, (float(wide), float(deep)))
