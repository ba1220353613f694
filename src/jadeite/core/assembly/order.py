"""In which order folds are made and seams glued, from what covers what.

A move is a fold that carries a wall together with the small panels that move
with it, or a glued seam.  An inside tab stands before its target comes up; an
outside tab comes up after it; a wall rolls over only tabs that are glued; a
lid goes on last.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass, replace
from graphlib import TopologicalSorter

from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Design, Joint, Kind, Piece
from jadeite.core.nets.roles import Role

__all__ = ["CLOSING", "JOINED", "Move", "making_order"]

# levels from here on come after joining, and after filling; exact, beyond any count of folds
JOINED, CLOSING = 500, 1000


@dataclass(frozen=True)
class Move:
    """Folds made together, or one seam; ``level`` counts what must come before."""

    piece: str
    level: int
    folds: tuple[str, ...] = ()
    joint: Joint | None = None
    rolls: bool = False

    @property
    def when(self) -> str:
        """``folded``, ``joined`` or ``filled``: what it waits for."""
        return "filled" if self.closing else ("joined" if self.level >= JOINED else "folded")

    @property
    def closing(self) -> bool:
        """Whether it waits until the thing is filled."""
        return self.level >= CLOSING


def _groups(piece: Piece) -> dict[str, str]:
    """For each child panel the panel whose fold it moves with."""
    role = {panel.name: panel.role for panel in piece.panels}
    leader: dict[str, str] = {}
    for fold in piece.tree:
        follows = role[fold.child].traits.follows or role[fold.parent].traits.leads
        if role[fold.child] is Role.RIM:  # both strips of a split rim move as one
            same = [
                f.child for f in piece.tree if f.parent == fold.parent and role[f.child] is Role.RIM
            ]
            leader[fold.child] = same[0]
        elif follows:
            leader[fold.child] = leader.get(fold.parent, fold.child)
        else:
            leader[fold.child] = fold.child
    return leader


def making_order(design: Design) -> tuple[Move, ...]:
    """Moves of all pieces, earliest first; pieces in the order of the design."""
    stages = {
        CLOSING: design.arrivals.folds(When.FILLED),
        JOINED: design.arrivals.folds(When.JOINED),
    }
    moves: list[Move] = []
    for piece in design.pieces:
        late = {
            level: frozenset(name for owner, name in folds if owner == piece.name)
            for level, folds in stages.items()
        }
        moves += _piece_order(piece, design.joints, late)
    ridden = design.arrivals.ridden
    led = (
        replace(move, folds=tuple(f for f in move.folds if (move.piece, f) not in ridden))
        for move in moves
    )
    return tuple(move for move in led if move.folds or move.joint is not None)


Node = str | tuple[str, str]  # the panel that leads a move, or ("seam", tab)


def _generations(graph: TopologicalSorter[Node]) -> Iterator[tuple[Node, ...]]:
    """What can be done at once, then what can be done after that, and so on."""
    graph.prepare()
    while graph.is_active():
        ready = graph.get_ready()
        yield ready
        graph.done(*ready)


class _Order:
    """A graph of what comes before what; in a ring of tabs the last wish is left out.

    Round an n-sided box every wall would wait for the one before it: then the
    wall that closes the ring comes up with the others.
    """

    def __init__(self) -> None:
        self._before: dict[Node, set[Node]] = {}

    def add(self, node: Node, *before: Node) -> None:
        """Make ``node`` wait for others, as far as these do not wait for it."""
        self._before.setdefault(node, set())
        for other in before:
            self._before.setdefault(other, set())
            if other != node and not self._waits(other, node):
                self._before[node].add(other)

    def _waits(self, node: Node, other: Node) -> bool:
        seen, stack = {node}, [node]
        while stack:
            for more in self._before[stack.pop()]:
                if more == other:
                    return True
                if more not in seen:
                    seen.add(more)
                    stack.append(more)
        return False

    def depth(self, node: Node, among: Set[Node]) -> int:
        """How many of a set come one after another before a node."""
        before = [other for other in self._before[node] if other in among]
        return max((1 + self.depth(other, among) for other in before), default=0)

    def sorter(self) -> TopologicalSorter[Node]:
        """For the standard library."""
        return TopologicalSorter(self._before)


def _piece_order(
    piece: Piece, joints: tuple[Joint, ...], late: Mapping[int, frozenset[str]]
) -> list[Move]:
    graph = _Order()
    leader = _groups(piece)
    parent = {fold.child: fold.parent for fold in piece.tree}
    role = {panel.name: panel.role for panel in piece.panels}
    for fold in piece.tree:
        graph.add(leader[fold.child])
        above = leader.get(fold.parent)
        if above is not None and above != leader[fold.child]:
            graph.add(leader[fold.child], above)
    glued = [j for j in joints if j.kind is Kind.GLUE and j.tab[0] == j.target[0] == piece.name]
    base = piece.panels[0].name
    for joint in glued:
        seam = ("seam", joint.tab[1])
        graph.add(seam)
        for end in (joint.tab[1], joint.target[1]):
            if end != base:
                graph.add(seam, leader[end])
        if role[joint.tab[1]] is not Role.TAB or base in (parent[joint.tab[1]], joint.target[1]):
            continue  # what lies on the table waits for nothing
        carrier, target = leader[parent[joint.tab[1]]], leader[joint.target[1]]
        first, then = (carrier, target) if joint.side == "inside" else (target, carrier)
        graph.add(then, first)
    seamed = {joint.tab[1] for joint in glued}
    for one, other in piece.before:
        if other not in leader or not (one in leader or one in seamed):
            continue  # a cut has made it the base, which lies on the table from the start
        graph.add(leader[other], ("seam", one) if one in seamed else leader[one])
    rims = [fold for fold in piece.tree if role[fold.child] is Role.RIM]
    for fold in rims:
        for tab in seamed.intersection(fold.covers):  # others belong to another part by a cut
            graph.add(leader[fold.child], ("seam", tab))
    for covering in (f for f in rims if f.covers):
        for later in (f for f in rims if not f.covers):
            graph.add(leader[later.child], leader[covering.child])
    by_seam = {("seam", joint.tab[1]): joint for joint in glued}
    stages: dict[int, set[Node]] = {}
    for start, panels in late.items():
        stages[start] = {lead for child, lead in leader.items() if child in panels}
        stages[start].update(("seam", panel) for panel in panels)
    out = []
    for level, ready in enumerate(_generations(graph.sorter())):
        for name in sorted(ready, key=str):
            at = level
            for start, members in stages.items():
                if name in members:
                    at = start + graph.depth(name, members)
            if isinstance(name, tuple):
                out.append(Move(piece.name, at, joint=by_seam[name]))
            else:
                folds = tuple(child for child, lead in leader.items() if lead == name)
                out.append(Move(piece.name, at, folds, rolls=role[name] is Role.RIM))
    return sorted(out, key=lambda move: move.level)
