"""Rings as pieces to cut: in one, or petal by petal with the middle under which they are glued."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from jadeite.core.blooms.rings import Ring
from jadeite.core.boards import Board
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats, Fold, Joint, Kind, Opening, Panel, Piece, Vein
from jadeite.core.nets.roles import Role

__all__ = ["FOOT", "MIDDLE", "laps_of", "middle_piece", "petal_piece", "ring_piece"]

FOOT_INNER, FOOT_APART = 0.42, 0.4  # of the middle, and mm, where a foot ends; from memory
MIDDLE, FOOT, LAP = "middle", "foot", "lap"  # panels that are glued


def _turned(points: Floats, turn: Floats) -> Floats:
    return np.asarray(points @ turn.T)


def _moved_veins(ring: Ring) -> tuple[Vein, ...]:
    """Lines on the petal that looks along x, from the centre of the ring."""
    return tuple(Vein(line.points + np.array([ring.hub, 0.0]), line.trace) for line in ring.veins)


def ring_piece(
    ring: Ring,
    name: str,
    title: str,
    board: Board,
    part: str = "",
    petal_title: str = "petal",
    openings: tuple[Opening, ...] = (),
) -> Piece:
    """The ring as a piece: its middle first, then each petal's facets from root to tip."""
    count = ring.asked.count
    hub = ring.middle
    reach = 2 * ring.hub_reach
    panels = [Panel(MIDDLE, "middle", Role.HUB, hub, (reach, reach), openings)]
    folds: list[Fold] = []
    lines, sizes = _moved_veins(ring), _sizes(ring)
    veins: list[Vein] = []
    for i in range(count):
        turn = about_z(360.0 / count * i)[:2, :2]
        veins += [Vein(_turned(line.points, turn), line.trace) for line in lines]
        own, hinges = _petal(ring, MIDDLE, f"{i + 1}", petal_title, turn, sizes)
        panels += own
        folds += hinges
    return Piece(
        name, title, board, tuple(panels), tuple(folds), "inside", part=part, veins=tuple(veins)
    )


def _sizes(ring: Ring) -> list[tuple[float, float]]:
    """Width and depth of each facet of a petal, mm."""
    out = []
    for facet in ring.form.facets:
        (x0, y0), (x1, y1) = facet.outline[:2].tolist()
        deep = ring.cup.across if facet.flap and ring.cup else float(np.ptp(facet.outline[:, 0]))
        out.append((math.hypot(x1 - x0, y1 - y0), deep))
    return out


def _petal(
    ring: Ring,
    parent: str,
    name: str,
    title: str,
    turn: Floats,
    sizes: Sequence[tuple[float, float]],
) -> tuple[list[Panel], list[Fold]]:
    """The facets of a petal as panels, and their folds; ``turn``, (2, 2), is from the first one."""
    from_axis = np.array([ring.hub, 0.0])
    panels: list[Panel] = []
    folds: list[Fold] = []
    form = ring.form
    for j, (facet, size) in enumerate(zip(form.facets, sizes, strict=True)):
        outline = _turned(facet.outline + from_axis, turn)
        own = f"{name}.{LAP if facet.flap else j + 1}"
        role = Role.TAB if facet.flap else Role.PETAL
        panels.append(Panel(own, LAP if facet.flap else title, role, outline, size))
        folds.append(
            facet.fold((parent if facet.on is None else panels[facet.on].name, own), outline)
        )
    if form.crease is not None:
        one, other = (panels[k].name for k in form.crease.facets)
        line = _turned(form.crease.line + from_axis, turn)
        folds.append(form.crease.fold((one, other), line))
    return panels, folds


def laps_of(ring: Ring, name: str) -> tuple[Joint, ...]:
    """How the feet of a lapped ring, as a piece of a name, are glued: each behind the next."""
    if ring.cup is None:
        return ()
    count = ring.asked.count
    return tuple(
        Joint(Kind.GLUE, (name, f"{i}.{LAP}"), (name, f"{i % count + 1}.1"), "laps", "outside")
        for i in range(1, count + 1)
    )


def petal_piece(
    ring: Ring, name: str, title: str, board: Board, part: str, petal_title: str = "petal"
) -> Piece:
    """One petal of a ring by itself: a foot that goes under the middle, and the petal's facets.

    It lies as the ring's first petal does.
    """
    turn = math.pi / ring.asked.count
    inner = FOOT_INNER * ring.hub
    narrow = min(ring.root, inner * math.tan(turn) - FOOT_APART)
    foot = np.array(
        [[inner, -narrow], [ring.hub, -ring.root], [ring.hub, ring.root], [inner, narrow]]
    )
    size = (2 * ring.root, ring.hub - inner)
    own, folds = _petal(ring, FOOT, "petal", petal_title, np.eye(2), _sizes(ring))
    panels = [Panel(FOOT, "foot", Role.FOOT, foot, size), *own]
    return Piece(
        name,
        title,
        board,
        tuple(panels),
        tuple(folds),
        "inside",
        part=part,
        veins=_moved_veins(ring),
    )


def middle_piece(
    ring: Ring, name: str, title: str, board: Board, part: str, openings: tuple[Opening, ...] = ()
) -> Piece:
    """The middle of a ring by itself, under which single petals are glued."""
    reach = 2 * ring.hub_reach
    panel = Panel(MIDDLE, "middle", Role.HUB, ring.middle, (reach, reach), openings)
    return Piece(name, title, board, (panel,), (), "inside", part=part)
