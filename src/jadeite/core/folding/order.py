"""Exact visible order: a binary space partition of faces and solids.

The tree depends on the folded form only, so turning the view just walks it
again.  Faces are split where a plane passes through them; a solid (a thing in
the hollow) is convex and is split into two solids.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from jadeite.core.nets.model import Floats
from jadeite.core.steps import Steps, finished

__all__ = ["OrderItem", "OrderTree", "build_order", "order_steps"]

TOLERANCE = 1e-5  # mm; rounding
CANDIDATES = 5  # planes tried at each step; from memory, more gain little


@dataclass(frozen=True, eq=False)
class OrderItem:
    """Something to paint: polygons (n, 3) with a number for each edge: 0 for
    one that a split made, else the caller's kind.

    A face has one polygon; a solid has several.  ``tag`` is the caller's.
    """

    tag: int
    polygons: tuple[Floats, ...]
    edges: tuple[tuple[int, ...], ...]
    normals: tuple[Floats, ...]
    whole: bool = False  # painted in one go, as a ball is: it goes to the side of its middle

    @property
    def solid(self) -> bool:
        """Whether this is a solid."""
        return len(self.polygons) > 1


@dataclass(frozen=True, eq=False)
class OrderTree:
    """A plane, what lies in it, and what lies on either side."""

    normal: Floats
    offset: float
    here: tuple[OrderItem, ...]
    front: OrderTree | None
    back: OrderTree | None

    def walk(self, towards: Floats) -> Iterator[OrderItem]:
        """Items back to front for a viewer in direction ``towards``.

        ``towards`` is (3,) float.
        """
        stack: list[OrderTree | tuple[OrderItem, ...]] = [self]
        while stack:
            top = stack.pop()
            if isinstance(top, tuple):
                yield from top
                continue
            seen_from_front = float(top.normal @ towards) > 0
            near, far = (top.front, top.back) if seen_from_front else (top.back, top.front)
            if near is not None:
                stack.append(near)
            stack.append(top.here)
            if far is not None:
                stack.append(far)


def clip(
    points: Floats, flags: tuple[int, ...], heights: Floats, sign: float
) -> tuple[Floats, tuple[int, ...]] | None:
    """Part of a polygon on one side of a plane; the new edge is numbered 0.

    ``points`` are (n, 3) float, ``heights`` (n,) float.
    """
    out: list[Floats] = []
    real: list[int] = []
    n = len(points)
    h = heights * sign
    for i in range(n):
        j = (i + 1) % n
        inside, next_inside = h[i] >= 0, h[j] >= 0
        if inside:
            out.append(points[i])
            real.append(flags[i] if next_inside or h[i] > 0 else 0)
        if inside != next_inside:
            share = h[i] / (h[i] - h[j])
            out.append(points[i] + share * (points[j] - points[i]))
            real.append(0 if inside else flags[i])
    return (np.array(out), tuple(real)) if len(out) > 2 else None


def _halves(item: OrderItem, normal: Floats, offset: float) -> tuple[OrderItem, OrderItem] | None:
    sides = []
    for sign in (1.0, -1.0):
        polygons, edges, normals = [], [], []
        for points, flags, n in zip(item.polygons, item.edges, item.normals, strict=True):
            part = clip(points, flags, points @ normal - offset, sign)
            if part is not None:
                polygons.append(part[0])
                edges.append(part[1])
                normals.append(n)
        if not polygons:
            return None
        sides.append(OrderItem(item.tag, tuple(polygons), tuple(edges), tuple(normals)))
    return sides[0], sides[1]


def _extent(item: OrderItem, normal: Floats) -> tuple[float, float]:
    heights = np.concatenate(item.polygons) @ normal
    return float(heights.min()), float(heights.max())


def build_order(items: list[OrderItem]) -> OrderTree | None:
    """Partition space by the items' own planes, splitting as few as possible."""
    return finished(order_steps(items))


def order_steps(items: list[OrderItem]) -> Steps[OrderTree | None]:
    """The same, left after each plane.

    Without recursion: nested petals make a deep tree, and each step would climb it.
    """
    nodes: list[tuple[_Parted, int, bool]] = []  # with their parent, and on which side of it
    waiting = [(items, -1, True)] if items else []
    while waiting:
        yield
        own, parent, before = waiting.pop()
        parted = _parted(own)
        waiting += [(half, len(nodes), ahead) for half, ahead in parted.halves if half]
        nodes.append((parted, parent, before))
    found: list[dict[bool, OrderTree]] = [{} for _ in nodes]
    tree = None
    for number in range(len(nodes) - 1, -1, -1):  # children come after their parents
        parted, parent, before = nodes[number]
        near, far = (found[number].get(ahead) for ahead in (True, False))
        tree = OrderTree(parted.normal, parted.offset, parted.here, near, far)
        if parent >= 0:
            found[parent][before] = tree
    return tree


@dataclass(frozen=True, eq=False)
class _Parted:
    """A plane, what lies in it, and what is before and behind it."""

    normal: Floats
    offset: float
    here: tuple[OrderItem, ...]
    front: list[OrderItem] = field(default_factory=list)
    back: list[OrderItem] = field(default_factory=list)

    @property
    def halves(self) -> tuple[tuple[list[OrderItem], bool], ...]:
        """What is before it, and what is behind."""
        return (self.front, True), (self.back, False)


def _parted(items: list[OrderItem]) -> _Parted:
    """Items, one or more, parted by the plane that splits the fewest."""
    if len(items) == 1 and not items[0].solid:
        normal = items[0].normals[0]
        offset = float(items[0].polygons[0][0] @ normal)
        return _Parted(normal, offset, (items[0],))
    counts = [sum(len(p) for p in item.polygons) for item in items]
    points = np.concatenate([p for item in items for p in item.polygons])
    starts = np.cumsum([0, *counts[:-1]])
    faces = [i for i, item in enumerate(items) if not item.solid]
    planes = [
        (items[i].normals[0], float(items[i].polygons[0][0] @ items[i].normals[0]))
        for i in faces[:: max(1, len(faces) // CANDIDATES)][:CANDIDATES]
    ]
    if not planes:  # only solids are left: part them by one of their own faces
        if len(items) == 1:
            return _Parted(np.array([0.0, 0.0, 1.0]), 0.0, (items[0],))
        planes = [
            (n, float(p[0] @ n))
            for item in items[:3]
            for p, n in zip(item.polygons, item.normals, strict=True)
        ]
    # all planes at once: heights of every corner over each, (corners, planes)
    heights = points @ np.column_stack([n for n, _ in planes]) - np.array([o for _, o in planes])
    overs = np.maximum.reduceat(heights, starts) > TOLERANCE
    unders = np.minimum.reduceat(heights, starts) < -TOLERANCE
    splits = (overs & unders).sum(axis=0)
    balances = np.abs(overs.sum(axis=0) - unders.sum(axis=0))
    scores = 8 * splits + balances
    if not faces:  # a plane that parts nothing would go on for ever
        parts = (overs & ~unders).any(axis=0) & (unders & ~overs).any(axis=0)
        if not parts.any():  # solids that no own face parts: paint them as they come
            return _Parted(np.array([0.0, 0.0, 1.0]), 0.0, tuple(items))
        scores = np.where(parts, scores, scores.max() + 1)
    best = int(np.argmin(scores))
    normal, offset = planes[best]
    over, under = overs[:, best], unders[:, best]
    here: list[OrderItem] = []
    front: list[OrderItem] = []
    back: list[OrderItem] = []
    for item, o, u in zip(items, over.tolist(), under.tolist(), strict=True):
        if o and u and item.whole:
            middle = float((np.concatenate(item.polygons) @ normal).mean())
            (front if middle >= offset else back).append(item)
        elif o and u:
            halves = _halves(item, normal, offset)
            if halves is None:
                front.append(item)
            else:
                front.append(halves[0])
                back.append(halves[1])
        elif o:
            front.append(item)
        elif u:
            back.append(item)
        else:
            here.append(item)
    return _Parted(normal, offset, tuple(here), front, back)
