"""Plies that are glued on while all is flat: what they cover that is glued later, and what shows.

A lining that reaches under a tab takes its glue; the edge of one that ends within a cut-out, or
of another one that reaches into it, shows in the light.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.findings import Finding, Level
from jadeite.core.folding.closure import JointReport
from jadeite.core.nets.arrivals import When, Where
from jadeite.core.nets.model import Design, Joint, Kind
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.units import number_text

__all__ = ["ply_findings"]

LEAST_OVER = 2.0  # mm; from memory, a lining that reaches less far past a cut-out comes loose
COVERED = 0.05  # of a tab; from memory, less is the play of its corners
SPECK = 0.5  # mm; rounding, shorter ends of an edge are no edge


def ply_findings(design: Design, joints: Sequence[JointReport]) -> list[Finding]:
    """Tabs whose glue would hold a lining instead of the board, and linings whose edges show."""
    return [*_trapped(design, joints), *_edges(design)]


def _trapped(design: Design, joints: Sequence[JointReport]) -> Iterator[Finding]:
    flat = [a for when in (When.FLAT, When.BEHIND) for a in design.arrivals.at(when)]
    names, covered = {a.piece for a in flat}, {a.onto for a in flat}
    for report in joints:
        joint = report.joint
        if joint.kind is not Kind.GLUE or joint.tab[0] in names or joint.target not in covered:
            continue
        if report.place.area <= 0:
            continue
        for name in (a.piece for a in flat if a.onto == joint.target):
            own = next((j for j in _on(design, joint.target) if j.tab[0] == name), None)
            if own is None or own.side != joint.side:
                continue
            share = float(_there(design, own).intersection(report.place).area / report.place.area)
            if share > COVERED:
                piece = design.piece(joint.target[0])
                yield Finding(
                    Level.LOOK,
                    "tab-on-lining",
                    f"{joint.title[0].upper()}{joint.title[1:]}: {share:.0%} of the tab lands on "
                    f"{design.piece(name).title}, which is glued on before. There its glue holds "
                    f"the {design.piece(name).title}, not the {piece.title}.",
                    "/".join(joint.target),
                    "shape",
                )


def _edges(design: Design) -> Iterator[Finding]:
    linings = _linings(design)
    for where in dict.fromkeys(j.target for j in linings):
        panel = design.piece(where[0]).panel(where[1])
        cuts = [Polygon(o.points) for o in panel.openings if o.kind == "window"]
        mine = [j for j in linings if j.target == where]
        if not cuts:
            continue
        opened = shapely.union_all(cuts)
        # several pieces of one lining side by side cover as one; their edges show all the same
        shapes = [_there(design, joint) for joint in mine]
        seen = [float(shape.boundary.intersection(opened).length) for shape in shapes]
        name = design.piece(mine[int(np.argmax(seen))].tab[0]).title
        if max(seen) > SPECK:
            yield Finding(
                Level.LOOK,
                "lining-edge",
                f"{name[0].upper()}{name[1:]}: {number_text(max(seen), 0)} mm of its edge lie "
                f"behind cut-outs of the {panel.title} and show in the light.",
                "/".join(where),
                "shape",
            )
            continue
        whole = shapely.union_all(shapes)
        over = float(whole.boundary.distance(opened))
        if over < LEAST_OVER:
            yield Finding(
                Level.LOOK,
                "lining-narrow",
                f"{name[0].upper()}{name[1:]} reaches only {number_text(over)} mm past a cut-out "
                f"of the {panel.title}; under {LEAST_OVER:.0f} mm it comes loose, and its edge "
                "shows from the side.",
                "/".join(where),
                "shape",
            )


def _on(design: Design, target: Where) -> Iterator[Joint]:
    return (j for j in design.joints if j.kind is Kind.GLUE and j.target == target)


def _linings(design: Design) -> list[Joint]:
    lines = {
        (p.name, q.name) for p in design.pieces for q in p.panels if q.role.traits.lines
    }  # fmt: skip
    return [j for j in design.joints if j.kind is Kind.GLUE and j.tab in lines]


def _there(design: Design, joint: Joint) -> Polygon:
    """The outline of what is glued, in the flat coordinates of what carries it."""
    (a, b), (c, d) = joint.tab, joint.target
    own = closed_matrix(design.piece(a), design.placements[a], b)
    carrier = closed_matrix(design.piece(c), design.placements[c], d)
    way = np.linalg.inv(carrier) @ own
    outline = design.piece(a).panel(b).outline
    return Polygon(outline @ way[:2, :2].T + way[:2, 3])
