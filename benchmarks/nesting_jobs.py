"""Ten jobs of laying out, as shapes: what makers cut, with the sheets on which they lie."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from shapely.geometry import Polygon, box

from jadeite.core.formats import load_project
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.pipeline import arrange_contents, work_up, work_up_job
from jadeite.core.project import Hollow, Shape, Span, Task, changed

__all__ = ["JOBS", "NestingJob", "nesting_job"]

EXAMPLES = Path(__file__).parents[1] / "examples"
QUARTERS = (0.0, 90.0, 180.0, 270.0)
FREE = tuple(float(a) for a in range(0, 360, 15))
INCHES_12 = (304.8, 304.8)


@dataclass(frozen=True)
class NestingJob:
    """Shapes and how often each is cut; sheets (width, height in mm, how many of them)."""

    name: str
    shapes: tuple[tuple[Polygon, int], ...]
    turns: tuple[float, ...] = QUARTERS
    sheets: tuple[tuple[float, float, int | None], ...] = ((*INCHES_12, None),)

    @property
    def area(self) -> float:
        """Of all shapes, mm²."""
        return sum(shape.area * count for shape, count in self.shapes)


def _pieces(
    key: str, inside: tuple[float, float, float], copies: int = 1
) -> list[tuple[Polygon, int]]:
    """Shapes of one made thing, by its inside in mm."""
    return _of(changed(Task(), brief=Hollow(size=inside), shape=Shape(key=key)), copies)


def _of(task: Task, copies: int) -> list[tuple[Polygon, int]]:
    design = work_up(task, arrange_contents(task, quick=True), cures=False).design
    assert design is not None, task
    return _counted([(piece.panels, piece_polygon(piece), copies) for piece in design.pieces])


def _counted(pieces) -> list[tuple[Polygon, int]]:
    """Pieces that share their panels are one shape, so many times."""
    out: dict[int, list] = {}
    for panels, shape, copies in pieces:
        out.setdefault(id(panels), [shape, 0])[1] += copies
    return [(shape, count) for shape, count in out.values()]


def _example(name: str) -> list[tuple[Polygon, int]]:
    job = work_up_job(load_project(EXAMPLES / f"{name}.jadeite"))
    return _counted([(p.piece.panels, piece_polygon(p.piece), p.count) for p in job.pieces])


def _rectangles() -> list[tuple[Polygon, int]]:
    rng = np.random.default_rng(7)
    sizes = rng.uniform((20, 15), (120, 90), (40, 2))
    return [(box(0, 0, *size), 1) for size in sizes.round(1).tolist()]


def _boxes() -> list[tuple[Polygon, int]]:
    insides = (
        (90, 70, 30),
        (110, 80, 40),
        (80, 80, 45),
        (140, 90, 28),
        (120, 60, 35),
        (70, 55, 25),
    )
    return [pair for size in insides for pair in _pieces("tray-with-lid", size)]


def _frames() -> list[tuple[Polygon, int]]:
    frame = box(0, 0, 130, 110) - box(14, 14, 116, 96)
    narrow = box(0, 0, 90, 90) - box(9, 9, 81, 81)
    small = Polygon([(0, 0), (30, 4), (38, 26), (20, 36), (3, 28)])
    return [(frame, 6), (narrow, 8), (box(0, 0, 48, 34), 14), (small, 24), (box(0, 0, 66, 20), 10)]


def _leaves() -> list[tuple[Polygon, int]]:
    out = []
    for length, width in ((62, 22), (48, 19), (36, 15), (27, 12)):
        along = np.linspace(0, 1, 25)
        side = width / 2 * np.sin(np.pi * along**0.8) * (1 - 0.3 * along)
        bow = 0.12 * length * np.sin(np.pi * along)
        for hand in (1, -1):
            upper = np.column_stack([length * along, hand * bow + side])
            lower = np.column_stack([length * along, hand * bow - side])[::-1]
            out.append((Polygon(np.concatenate([upper, lower[1:-1]])), 25))
    return out


def _mixed() -> list[tuple[Polygon, int]]:
    return [
        *_pieces("tray-with-lid", (60, 45, 20), 6),
        *_pieces("carton", (45, 70, 40), 4),
        *_leaves()[::3],
        *_flowers(80, 10),
    ]


def _flowers(width: float, copies: int) -> list[tuple[Polygon, int]]:
    task = changed(Task(), brief=Span(width=width), shape=Shape(key="layered-flower"))
    return _of(task, copies)


JOBS = {
    "rectangles": lambda: NestingJob("rectangles", tuple(_rectangles())),
    "twelve box nets": lambda: NestingJob("twelve box nets", tuple(_boxes())),
    "six cartons": lambda: NestingJob("six cartons", tuple(_pieces("carton", (45, 70, 40), 6))),
    "petals and rings": lambda: NestingJob("petals and rings", tuple(_flowers(110, 10)), FREE),
    "frames with holes": lambda: NestingJob("frames with holes", tuple(_frames())),
    "200 leaves": lambda: NestingJob("200 leaves", tuple(_leaves()), FREE),
    "wreath": lambda: NestingJob("wreath", tuple(_example("gate-wreath")), FREE),
    "cup flowers": lambda: NestingJob("cup flowers", tuple(_example("cup-moonflowers")), FREE),
    "two sheet sizes": lambda: NestingJob(
        "two sheet sizes",
        tuple(_boxes()),
        QUARTERS,
        ((210.0, 297.0, 3), (*INCHES_12, None)),
    ),
    "200 mixed": lambda: NestingJob("200 mixed", tuple(_mixed()), QUARTERS),
}


def nesting_job(name: str) -> NestingJob:
    """The job of this name, made anew."""
    return JOBS[name]()
