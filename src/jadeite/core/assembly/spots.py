"""Where pieces lie and stand on the table, flat and folded, until they are joined."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from jadeite.core.folding.kinematics import fold_matrices, transform
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Design, Floats, Piece

__all__ = ["extent", "heights", "spots", "stands"]

TABLE_GAP = 14.0  # mm between nets on the table; from memory
ONE_ROW = 3  # pieces; from memory, more are laid in several rows
ROW_SHAPE = 1.6  # width of the rows against the root of their area; from memory
FOLDED_GAP = 34.0  # mm between folded pieces; from memory, room for dimension lines


def extent(
    piece: Piece, base: Floats, shares: Mapping[str, float] | None = None
) -> tuple[Floats, Floats]:
    """Least and greatest corner of a piece as it is folded, but for flaps still to be made.

    ``base`` is (4, 4) float; both corners are (3,) float, mm.
    """
    matrices = fold_matrices(piece, base, shares)
    points = np.concatenate(
        [transform(matrices[p.name], p.outline) for p in piece.panels if not p.role.traits.shuts]
    )
    return points.min(axis=0), points.max(axis=0)


def stands(design: Design, piece: Piece) -> bool:
    """Whether the closed piece does not lie on the panel on which it is folded."""
    if design.arrivals.comes(piece.name, When.FLAT, When.BEHIND, When.STANDING):
        return False
    return bool(abs(design.placements[piece.name][2, 2]) < 0.999)


def spots(design: Design, *, folded: bool) -> dict[str, tuple[float, float]]:
    """Places of the base panels on the table: side by side, middle on the origin.

    What is put in later lies in a column of its own, one above the other.
    """
    gap = FOLDED_GAP if folded else TABLE_GAP
    inserts = {a.piece for a in design.arrivals.at(When.STANDING)}
    boxes = {}
    for piece in design.pieces:
        bends = any(abs(fold.angle) > 1.0 for fold in piece.folds)
        panels = piece.panels[:1] if folded and bends else piece.panels
        points = np.concatenate([panel.outline for panel in panels])
        boxes[piece.name] = (points.min(axis=0), points.max(axis=0))
        if folded and any(panel.role.traits.leans for panel in piece.panels):
            low, high = extent(piece, np.eye(4))  # its petals spread beyond its middle
            boxes[piece.name] = (low[:2], high[:2])
        if folded and stands(design, piece):
            low, high = extent(piece, design.placements[piece.name])
            half, middle = (high - low)[:2] / 2, piece.panels[0].outline.mean(axis=0)
            boxes[piece.name] = (middle - half, middle + half)
    row = [name for name in boxes if name not in inserts]
    column = [name for name in boxes if name in inserts]
    size = {name: high - low for name, (low, high) in boxes.items()}
    wide = {name: float(size[name][0]) for name in boxes}
    area = sum(float(np.prod(size[name] + gap)) for name in row)
    most = max(ROW_SHAPE * math.sqrt(area), max((wide[name] for name in row), default=0.0))
    rows: list[list[str]] = [[]]
    used = 0.0
    for name in row:  # as many beside one another as make a broad table
        if len(row) > ONE_ROW and rows[-1] and used + wide[name] > most:
            rows.append([])
            used = 0.0
        rows[-1].append(name)
        used += wide[name] + gap
    widths = [sum(wide[name] for name in line) + gap * (len(line) - 1) for line in rows]
    deep = [max((float(size[name][1]) for name in line), default=0.0) for line in rows]
    whole = max(widths)
    if column:
        whole += gap + max(wide[name] for name in column)
    spots = {}
    y = 0.0
    for line, width, depth, i in zip(rows, widths, deep, range(len(rows)), strict=True):
        if i:
            y -= (deep[i - 1] + depth) / 2 + gap
        x = -whole / 2 + (max(widths) - width) / 2
        for name in line:
            low, high = boxes[name]
            level = y - float(low[1] + high[1]) / 2 if len(rows) > 1 else 0.0
            spots[name] = (x - float(low[0]), level)
            x += wide[name] + gap
    x = -whole / 2 + max(widths) + gap
    tall = [float(boxes[name][1][1] - boxes[name][0][1]) for name in column]
    y = -(sum(tall) + TABLE_GAP * (len(column) - 1)) / 2
    for name, height in zip(column, tall, strict=True):
        spots[name] = (x - float(boxes[name][0][0]), y - float(boxes[name][0][1]))
        y += height + TABLE_GAP
    return spots


def heights(design: Design) -> dict[str, float]:
    """Height in mm of each folded piece by itself."""
    out = {}
    for piece in design.pieces:
        upright = stands(design, piece)
        low, high = extent(piece, design.placements[piece.name] if upright else np.eye(4))
        out[piece.name] = float(high[2] - low[2])
    return out
