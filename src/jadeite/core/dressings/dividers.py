"""Dividers: a grid of slotted strips that stands in the hollow of a box."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.contents.cells import UP
from jadeite.core.contents.grid import Grid
from jadeite.core.dressings.dressing import Asked, Dressing, Part
from jadeite.core.nets.arrivals import Arrival, How, When
from jadeite.core.nets.model import Design, Hollow, Joint, Kind, Piece
from jadeite.core.nets.slats import slat
from jadeite.core.project import Task
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.shapes import ShapeFamily
from jadeite.core.shapes.extra import DIVIDER

__all__ = ["DIVIDERS", "divided", "with_dividers"]

Triple = tuple[float, float, float]


def _middles(lengths: tuple[float, ...], thickness: float) -> list[float]:
    """Middles of the strips between lengths, from the middle of the whole; mm."""
    whole = sum(lengths) + thickness * (len(lengths) - 1)
    at, out = -whole / 2, []
    for length in lengths[:-1]:
        at += length + thickness
        out.append(at - thickness / 2)
    return out


def _stood(along: str, x: float, y: float, z: float) -> np.ndarray:
    """A strip stood up, its length along x or y, its foot's middle at a place; mm."""
    matrix = np.eye(4)
    direction = (1.0, 0.0, 0.0) if along == "x" else (0.0, 1.0, 0.0)
    up = (0.0, 0.0, 1.0)
    matrix[:3, 0], matrix[:3, 1] = direction, up
    matrix[:3, 2] = np.cross(direction, up)
    matrix[:3, 3] = (x, y, z)
    return matrix


def with_dividers(design: Design, grid: Grid, board: Board) -> Design:
    """The design with a grid of slotted strips in its hollow.

    Strips along the length go in first, with their slots open to the top;
    strips across are dropped onto them.  Each is a piece to be cut.  The grid
    is as large as the hollow.
    """
    t = board.thickness
    (x, y, _), (cx, cy, cz) = design.room.size, design.room.centre
    floor = cz - design.room.size[2] / 2
    across, along = _middles(grid.columns, t), _middles(grid.rows, t)
    pieces: list[Piece] = []
    placements = dict(design.placements)
    fits = design.fits
    width = fits.slot_width(board)
    for number, middle in enumerate(along, start=1):
        name = f"divider-long-{number}"
        pieces.append(
            slat(
                name,
                f"long divider {number}",
                board,
                x - 2 * fits.divider,
                grid.height,
                across,
                fits,
                from_top=True,
                part=DIVIDER,
            )
        )
        placements[name] = _stood("x", cx, cy + middle, floor)
    for number, middle in enumerate(across, start=1):
        name = f"divider-cross-{number}"
        pieces.append(
            slat(
                name,
                f"cross divider {number}",
                board,
                y - 2 * fits.divider,
                grid.height,
                along,
                fits,
                from_top=False,
                part=DIVIDER,
            )
        )
        placements[name] = _stood("y", cx + middle, cy, floor)
    joints = tuple(
        Joint(
            Kind.SLOT,
            (f"divider-cross-{j}", "slat"),
            (f"divider-long-{i}", "slat"),
            f"cross divider {j} into long divider {i}",
        )
        for i in range(1, len(along) + 1)
        for j in range(1, len(across) + 1)
    )
    sizes = dict(design.sizes)
    if along and across:
        sizes["divider-slot"] = reckon(
            "Divider slot, width",
            width,
            "board and ease, so that the strip slides and stays",
            given("divider board", t),
            constant("ease", width - t, "mm", Mark.MEMORY),
        )
        sizes["divider-slot-depth"] = reckon(
            "Divider slot, depth",
            grid.height / 2 + 0.5,
            "half of the height, and a little for dust",
            given("divider height", grid.height),
            constant("deeper by", 0.5, "mm", Mark.MEMORY),
        )
    return replace(
        design,
        pieces=(*design.pieces, *pieces),
        placements=placements,
        joints=(*design.joints, *joints),
        sizes=sizes,
        arrivals=design.arrivals.adding(*_stood_in(design, pieces, len(along))),
        cells=_cells(design, grid, across, along, t),
    )


def _stood_in(design: Design, pieces: Sequence[Piece], along: int) -> Iterator[Arrival]:
    """Strips that stand on the floor of the first piece; those across come last."""
    long, cross = pieces[:along], pieces[along:]
    floor = (design.body.name, design.body.panels[0].name)
    before = tuple(a.piece for a in design.arrivals.at(When.STANDING))
    for piece in long:
        yield Arrival(piece.name, When.STANDING, floor, How.PUT, after=before)
    for piece in cross:
        after = (*before, *(p.name for p in long))
        yield Arrival(piece.name, When.STANDING, floor, How.PUT, after=after)


def _cells(
    design: Design, grid: Grid, across: list[float], along: list[float], t: float
) -> tuple[Hollow, ...]:
    """The hollow of each cell, row by row from the front left."""
    (x, y, z), (cx, cy, cz) = design.room.size, design.room.centre
    xs = [-x / 2, *(v for m in across for v in (m - t / 2, m + t / 2)), x / 2]
    ys = [-y / 2, *(v for m in along for v in (m - t / 2, m + t / 2)), y / 2]
    out = []
    for i in range(len(grid.rows)):
        for j in range(len(grid.columns)):
            x0, x1, y0, y1 = xs[2 * j], xs[2 * j + 1], ys[2 * i], ys[2 * i + 1]
            size: Triple = (x1 - x0, y1 - y0, z)
            out.append(Hollow(size, (cx + (x0 + x1) / 2, cy + (y0 + y1) / 2, cz)))
    return tuple(out)


def divided(task: Task, family: ShapeFamily) -> bool:
    """Whether strips stand in the hollow; only in boxes that open at the top."""
    return task.dividers != "none" and bool(task.contents) and family.mouth == UP


def _dress(draft: Design, asked: Asked) -> Design:
    grid = asked.arrangement.grid if asked.arrangement is not None else None
    return draft if grid is None else with_dividers(draft, grid, asked.boards[DIVIDER])


DIVIDERS = Dressing("dividers", _dress, (Part(DIVIDER, "Dividers", divided),))
