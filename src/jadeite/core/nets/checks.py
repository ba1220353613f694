"""Checks that need only the flat net."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from jadeite.core.boards.fit_rules import MIN_TAB, SLOT_AROUND
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import drawn_folds, loops_of

__all__ = [
    "LETTER_BRIDGE",
    "MIN_FOLD",
    "flat_findings",
    "overlapping_panels",
    "panel_shapes",
    "uncut_edges",
]

MIN_FOLD = 5.0  # mm; from memory, a shorter fold is hard to make
MIN_CUTOUT = 2.0  # mm; from memory
MIN_BRIDGE = 1.5  # mm between cut-outs in card; from memory
LETTER_BRIDGE = 0.75  # mm; from memory, between short cuts of a letter less board holds
ROUNDING = 1e-6  # mm; rounding
GRID = 1e-6  # mm; rounding
TOUCH, UNCUT = 1e-5, 1.0  # mm; rounding; and from memory, beyond a fold's end less bends along
OVERLAP = 1e-3  # mm2; below it two panels only touch


def panel_shapes(piece: Piece) -> NDArray[np.object_]:
    """Each panel as a Shapely polygon, all made at once; (n,)."""
    outlines = [panel.outline for panel in piece.panels]
    numbers = np.repeat(np.arange(len(outlines)), [len(outline) for outline in outlines])
    rings = shapely.linearrings(np.concatenate(outlines), indices=numbers)
    return np.asarray(shapely.polygons(rings))


def overlapping_panels(piece: Piece) -> list[tuple[str, str, float]]:
    """Pairs of panels that claim the same board, with the area in mm²."""
    shapes = panel_shapes(piece)
    wrong = ~shapely.is_valid(shapes)
    if wrong.any():
        # each is a finding of its own; lines and points of them claim no board
        shapes[wrong] = shapely.make_valid(shapes[wrong], method="structure", keep_collapsed=False)
    tree = shapely.STRtree(shapes)
    first, second = tree.query(shapes, predicate="intersects")
    keep = first < second
    first, second = first[keep], second[keep]
    # on a grid: the plain overlay may take two panels that share an edge for one in the other
    areas = shapely.area(shapely.intersection(shapes[first], shapes[second], grid_size=GRID))
    return [
        (piece.panels[i].name, piece.panels[j].name, float(a))
        for i, j, a in zip(first, second, areas, strict=True)
        if a > OVERLAP
    ]


def uncut_edges(piece: Piece) -> list[tuple[str, str, float]]:
    """Pairs of panels that touch along more than their folds, and for how long, mm.

    A cut follows the outline of the whole piece: nothing would part them there.
    """
    borders = shapely.boundary(panel_shapes(piece))
    first, second = shapely.STRtree(borders).query(borders, predicate="dwithin", distance=GRID)
    keep = first < second
    first, second = first[keep], second[keep]
    wide = shapely.buffer(borders[first], TOUCH, cap_style="flat", join_style="mitre", quad_segs=1)
    shared = shapely.length(shapely.intersection(wide, borders[second]))
    for fold in piece.folds:
        one, other = sorted((piece.index[fold.parent], piece.index[fold.child]))
        shared[(first == one) & (second == other)] -= fold.length
    return [
        (piece.panels[i].name, piece.panels[j].name, float(length))
        for i, j, length in zip(first, second, shared, strict=True)
        if length > UNCUT
    ]


def flat_findings(piece: Piece) -> tuple[Finding, ...]:
    """Overlaps, and edges that nothing cuts, block; what is too small needs a look."""
    found: list[Finding] = []
    valid = shapely.is_valid(panel_shapes(piece)).tolist()
    for panel, whole in zip(piece.panels, valid, strict=True):
        if not whole:
            found.append(
                Finding(
                    Level.BLOCKED,
                    "panel-crosses-itself",
                    f"{piece.title}: the outline of {panel.title} crosses itself.",
                    f"{piece.name}/{panel.name}",
                )
            )
    for one, other, area in overlapping_panels(piece):
        found.append(
            Finding(
                Level.BLOCKED,
                "panels-overlap",
                f"{piece.title}: {piece.panel(one).title} and {piece.panel(other).title} "
                f"claim the same {area:.1f} mm² of board.",
                f"{piece.name}/{one}",
            )
        )
    for one, other, length in [] if found else uncut_edges(piece):
        found.append(
            Finding(
                Level.BLOCKED,
                "edge-uncut",
                f"{piece.title}: {piece.panel(one).title} and {piece.panel(other).title} touch "
                f"over {length:.1f} mm where nothing cuts them apart.",
                f"{piece.name}/{one}",
            )
        )
    if found:
        return tuple(found)  # the outline of such a net means nothing
    short: dict[str, float] = {}
    for line, number in drawn_folds(piece):
        length = float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())
        if length < MIN_FOLD and piece.folds[number].kind != "rolled":
            short[piece.folds[number].child] = length
    if short:
        name, length = min(short.items(), key=lambda item: item[1])
        found.append(
            Finding(
                Level.LOOK,
                "fold-short",
                f"{piece.title}: the fold of {piece.panel(name).title} is only {length:.1f} mm "
                f"long. Under {MIN_FOLD:.0f} mm, score it before you trim the piece.",
                f"{piece.name}/{name}",
            )
        )
    depths = _glued_depths(piece)
    shallow = {name: depth for name, depth in depths.items() if depth < MIN_TAB - ROUNDING}
    if shallow:
        panel = piece.panel(min(shallow, key=lambda name: shallow[name]))
        found.append(
            Finding(
                Level.LOOK,
                "tab-shallow",
                f"{piece.title}: {panel.title} is {shallow[panel.name]:.1f} mm deep. "
                f"Under {MIN_TAB:.0f} mm it holds badly: use tape as well.",
                f"{piece.name}/{panel.name}",
            )
        )
    for loop in loops_of(piece):
        if loop.kind not in ("hole", "window"):
            continue  # slots and slits may be as narrow as they must
        width = float(np.min(np.ptp(loop.points, axis=0)))
        if width < MIN_CUTOUT:
            found.append(
                Finding(
                    Level.LOOK,
                    "cutout-small",
                    f"{piece.title}: a cut-out is only {width:.1f} mm wide; "
                    f"under {MIN_CUTOUT:.0f} mm it tears.",
                    piece.name,
                )
            )
    found += _opening_findings(piece)
    return tuple(found)


def _glued_depths(piece: Piece) -> dict[str, float]:
    """How deep each tab and foot is in mm; one that is rolled counts as a whole.

    What is glued of a petal bears nothing, and may be as narrow as the shape allows.
    """
    free = piece.leaning
    depths = {p.name: p.size[1] for p in piece.panels if p.role.traits.glue and p.name not in free}
    first = {name: name for name in depths}
    for fold in piece.tree:
        if fold.kind == "rolled" and fold.child in depths and fold.parent in first:
            first[fold.child] = first[fold.parent]
            depths[first[fold.child]] += depths.pop(fold.child)
    return depths


def _opening_findings(piece: Piece) -> list[Finding]:
    """Slots too near an edge, and bridges between cut-outs that are too narrow."""
    worst: dict[str, tuple[float, str, str]] = {}

    def note(code: str, have: float, panel: str, words: str) -> None:
        if code not in worst or have < worst[code][0]:
            worst[code] = (have, panel, words)

    for panel in piece.panels:
        if not panel.openings:
            continue
        edge = shapely.LinearRing(panel.outline)
        shapes = [
            shapely.Polygon(o.points) if o.closed else shapely.LineString(o.points)
            for o in panel.openings
        ]
        edges = shapely.distance(edge, shapes)
        ones, others = shapely.STRtree(shapes).query(shapes, "dwithin", MIN_BRIDGE)
        crossing = np.array([opening.kind == "cross" for opening in panel.openings])
        own = (ones == others) | (crossing[ones] & crossing[others])
        apart = np.where(own, np.inf, shapely.distance(
            np.array(shapes)[ones], np.array(shapes)[others]))  # fmt: skip
        for i, opening in enumerate(panel.openings):
            near = float(edges[i])
            if opening.kind in ("slot", "slit") and near < SLOT_AROUND - ROUNDING:
                note(
                    "slot-near-edge",
                    near,
                    panel.name,
                    f"{piece.title}: a slot in the {panel.title} is {near:.1f} mm from its edge. "
                    f"It needs {SLOT_AROUND:.0f} mm of board around it.",
                )
            bridges = [near, *apart[ones == i].tolist()]
            least = LETTER_BRIDGE if opening.kind == "letter" else MIN_BRIDGE
            if min(bridges) < least - ROUNDING:
                note(
                    "bridge-narrow",
                    min(bridges),
                    panel.name,
                    f"{piece.title}: a bridge of {min(bridges):.1f} mm in the {panel.title} tears; "
                    f"{least} mm holds.",
                )
    return [
        Finding(Level.LOOK, code, words, f"{piece.name}/{panel}")
        for code, (_, panel, words) in worst.items()
    ]
