"""Exact visible order: a binary space partition of faces and solids.

The tree depends on the folded form only, so turning the view just walks it
again.  Faces are split where a plane passes through them; a solid (a thing in
the hollow) is convex and is split into two solids.  All nodes of one depth are
parted at once: a flower has hundreds, and arrays are slow only to begin with.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jadeite.core.folding.facets import Facets
from jadeite.core.nets.model import Floats
from jadeite.core.steps import Steps, finished

__all__ = ["VisibleOrder", "build_order", "order_steps"]

TOLERANCE = 1e-5  # mm; rounding
CANDIDATES = 5  # planes tried at each node; from memory, more gain little
SOLIDS = 3  # whose planes are tried where only solids are left; from memory
SPLIT = 3  # items out of balance that one split weighs as much as; more makes a deep tree
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class VisibleOrder:
    """What all items came to, and the planes that part them.

    ``parts`` are the items, cut where planes pass through them.  Each of the n
    nodes has a plane (``normals`` (n, 3)), the nodes before and behind it (-1 for
    none), and in ``here`` the parts that lie in it.
    """

    parts: Facets
    normals: Floats
    front: Sequence[int]
    back: Sequence[int]
    here: Sequence[Sequence[int]]

    def walk(self, towards: Floats) -> list[int]:
        """Numbers of the parts, back to front for a viewer in direction ``towards``, (3,)."""
        out: list[int] = []
        from_front = (self.normals @ towards > 0).tolist()
        stack = [0] if self.here else []
        while stack:
            node = stack.pop()
            if node < 0:  # the far side is done: what lies in the plane
                out += self.here[~node]
                continue
            near, far = self.front[node], self.back[node]
            if not from_front[node]:
                near, far = far, near
            if near >= 0:
                stack.append(near)
            stack.append(~node)
            if far >= 0:
                stack.append(far)
        return out


def build_order(items: Facets, whole: Bools | None = None) -> VisibleOrder:
    """Partition space by the items' own planes, splitting as few as possible.

    ``whole``, (items,), marks those that are painted in one go, as a ball is: they
    go to the side of their middle.
    """
    return finished(order_steps(items, whole))


def order_steps(items: Facets, whole: Bools | None = None) -> Steps[VisibleOrder]:
    """The same, left after each depth of the tree; ``whole`` is (items,)."""
    growth = _Growth(items, np.zeros(len(items), bool) if whole is None else whole)
    while growth.goes_on:
        yield
        growth.part()
    return growth.order()


class _Growth:
    """A tree that grows by one depth at a time."""

    def __init__(self, items: Facets, whole: Bools) -> None:
        self._whole = whole
        self._front: list[int] = []
        self._back: list[int] = []
        self._normals: list[Floats] = [np.zeros((0, 3))]
        self._done = [items.taken(np.zeros(0, np.intp))]
        self._at: list[int] = []  # in the plane of which node each that is done lies
        self._left, self._nodes = items, np.zeros(len(items), np.intp)
        self._first = 0  # number of the first node of this depth
        self._add_nodes(min(1, len(items)))

    @property
    def goes_on(self) -> bool:
        """Whether anything is left to be parted."""
        return len(self._left) > 0

    def _add_nodes(self, count: int) -> None:
        self._first = len(self._front)
        self._front += [-1] * count
        self._back += [-1] * count

    def part(self) -> None:
        """Part what is left, by a plane for each node."""
        items, nodes = self._left, self._nodes
        normals, offsets, chosen, stuck = _planes(items, nodes)
        self._normals.append(normals)
        at = np.repeat(nodes, items.corners)
        heights = np.einsum("ij,ij->i", items.points, normals[at]) - offsets[at]
        over, under = _sides(items, heights)
        here = stuck[nodes]
        here[chosen] = True  # whatever rounding says, so that there is an end
        over &= ~here
        under &= ~here
        if self._whole.any():
            ball = over & under & self._whole[items.tags]
            ahead = np.add.reduceat(heights, items.starts) >= 0
            over &= ahead | ~ball
            under &= ~(ahead & ball)
        done = np.flatnonzero(~over & ~under)
        self._done.append(items.taken(done))
        self._at += (self._first + nodes[done]).tolist()
        self._go_deeper(*_halves(items, nodes, over, under, heights))

    def _go_deeper(self, items: Facets, keys: Ints) -> None:
        """The next depth: a node for each side that has anything, numbered as by ``_halves``."""
        first, base = self._first, len(self._front)
        known, nodes = np.unique(keys, return_inverse=True)
        for number, key in enumerate(known.tolist(), base):
            (self._back if key % 2 else self._front)[first + key // 2] = number
        self._add_nodes(len(known))
        order = np.argsort(nodes, kind="stable")
        self._left, self._nodes = items.taken(order), nodes[order]

    def order(self) -> VisibleOrder:
        """All that has been found."""
        here: list[list[int]] = [[] for _ in self._front]
        for part, node in enumerate(self._at):
            here[node].append(part)
        return VisibleOrder(
            Facets.together(self._done),
            np.concatenate(self._normals),
            self._front,
            self._back,
            here,
        )


def _halves(
    items: Facets, nodes: Ints, over: Bools, under: Bools, heights: Floats
) -> tuple[Facets, Ints]:
    """What lies before and behind the plane of its node, cut where that passes through.

    ``heights`` (m,) are of all corners over it.  Sides are numbered by twice their node,
    and one more behind it.
    """
    cut = over & under
    halves, sides = [], []
    for behind, way in enumerate((over, under)):
        clear = np.flatnonzero(way & ~cut)
        halves.append(items.taken(clear))
        sides.append(2 * nodes[clear] + behind)
    if cut.any():
        split, mine = np.flatnonzero(cut), heights[np.repeat(cut, items.corners)]
        both = items.taken(split)
        for behind, signed in enumerate((mine, -mine)):
            half, left = both.clipped(signed)
            halves.append(half)
            sides.append(2 * nodes[split[left]] + behind)
    return Facets.together(halves), np.concatenate(sides)


def _planes(items: Facets, nodes: Ints) -> tuple[Floats, Floats, Ints, Bools]:
    """For each node the plane of one of its items that splits the fewest.

    Returns
    -------
    normals, offsets
        (n, 3) and (n,).
    chosen : (f,) int
        The faces whose planes these are.
    stuck : (n,) bool
        Nodes of solids that no plane of theirs parts: they are painted as they come.
    """
    count = int(nodes[-1]) + 1
    faces = np.flatnonzero(items.polygons == 1)
    having = np.bincount(nodes[faces], minlength=count)
    normals, offsets = np.tile([0.0, 0.0, 1.0], (count, 1)), np.zeros(count)
    stuck = having == 0
    chosen = np.zeros(0, np.intp)
    if len(faces):
        chosen = _best_faces(items, nodes, faces, having)
        mine, first = nodes[chosen], items.firsts[chosen]
        normals[mine] = items.normals[first]
        offsets[mine] = np.einsum("ij,ij->i", items.points[items.starts[chosen]], normals[mine])
    for node in np.flatnonzero(stuck).tolist():
        own = np.flatnonzero(nodes == node)
        plane = _between_solids(items.taken(own)) if len(own) > 1 else None
        if plane is not None:
            normals[node], offsets[node] = plane
            stuck[node] = False
    return normals, offsets, chosen, stuck


def _best_faces(items: Facets, nodes: Ints, faces: Ints, having: Ints) -> Ints:
    """One face for each node that has any: of some, that whose plane splits the fewest."""
    count, with_faces = len(having), having > 0
    step = np.maximum(1, having // CANDIDATES)
    nth = np.minimum(np.arange(CANDIDATES) * step[:, None], np.maximum(having - 1, 0)[:, None])
    tried = faces[np.minimum((np.cumsum(having) - having)[:, None] + nth, len(faces) - 1)]
    normals = items.normals[items.firsts[tried]]  # (nodes, candidates, 3)
    offsets = np.einsum("ijk,ijk->ij", items.points[items.starts[tried]], normals)
    at = np.repeat(nodes, items.corners)
    heights = np.einsum("ik,ijk->ij", items.points, normals[at]) - offsets[at]
    scores = _scores(items, heights, np.searchsorted(nodes, np.arange(count)))
    return np.asarray(tried[np.arange(count), np.argmin(scores, axis=1)][with_faces])


def _scores(items: Facets, heights: Floats, node_starts: Ints) -> Ints:
    """How bad each plane is for each node, (nodes, planes), from heights (corners, planes)."""
    overs, unders = _sides(items, heights)
    splits = np.add.reduceat(overs & unders, node_starts, dtype=np.intp)
    balance = np.add.reduceat(overs.astype(np.intp) - unders, node_starts)
    return np.asarray(SPLIT * splits + np.abs(balance))


def _sides(items: Facets, heights: Floats) -> tuple[Bools, Bools]:
    """Whether anything of each item lies over, and under, each plane; (items, ...)."""
    overs = np.maximum.reduceat(heights, items.starts) > TOLERANCE
    return overs, np.minimum.reduceat(heights, items.starts) < -TOLERANCE


def _between_solids(items: Facets) -> tuple[Floats, float] | None:
    """A plane of one of some solids that parts them, and cuts the fewest."""
    tried = np.arange(int(items.polygons[:SOLIDS].sum()))
    normals = items.normals[tried]
    offsets = np.einsum("ij,ij->i", items.points[items.polygon_starts[tried]], normals)
    heights = items.points @ normals.T - offsets
    overs, unders = _sides(items, heights)
    parts = (overs & ~unders).any(axis=0) & (unders & ~overs).any(axis=0)
    if not parts.any():
        return None
    scores = _scores(items, heights, np.zeros(1, np.intp))[0]
    best = int(np.argmin(np.where(parts, scores, scores.max() + 1)))
    return normals[best], float(offsets[best])
