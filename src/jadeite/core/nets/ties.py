"""Ribbons and cords as they lie on the closed thing: drawn, and measured for their length.

A strip is its middle line with half its width at each point, in the shared space.
Ribbon gathers in a slit and is as wide as it is bought between two of them.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "BOW",
    "Slit",
    "Strip",
    "bow",
    "figure_eight",
    "handle",
    "hanging_loop",
    "looped_round",
    "ribbon_length",
    "round_it",
    "slit_in",
    "wrapped",
]

LOOPED, TAIL = 90.0, 60.0  # mm; from memory, of a bow's loop all round, and of each end
BOW = 2 * (LOOPED + TAIL)  # mm; a bow and its two ends
GATHERED = 0.35  # of a ribbon's width, in a slit or a knot; from memory
OFF = 0.8  # mm; from memory, so far off the board a ribbon lies
DEEP = 0.42  # of how far a loop reaches, that it stands open; from memory
RISES = 0.12  # likewise, by which its end stands higher; from memory
FRONT = np.array([0.45, -0.89, 0.0])  # where a bow is looked at; design rule
NARROW = 0.22  # half a hanging loop's width for each mm of its reach; from memory
STEPS = 12  # points of a loop; from memory
SPREADS = 0.5  # how far to the side an end lies, for each mm that it hangs; from memory

Floats = NDArray[np.float64]
Point = tuple[float, float, float]


@dataclass(frozen=True)
class Strip:
    """A stretch of ribbon: its middle line, and half its width at each point; mm."""

    points: tuple[Point, ...]
    halves: tuple[Point, ...]

    @property
    def length(self) -> float:
        """Along its middle line, mm."""
        steps = np.diff(np.array(self.points), axis=0)
        return float(np.linalg.norm(steps, axis=1).sum())

    @property
    def edges(self) -> tuple[Floats, Floats]:
        """Both edges, (n, 3) each."""
        points, halves = np.array(self.points), np.array(self.halves)
        return points - halves, points + halves


@dataclass(frozen=True, eq=False)
class Slit:
    """A slit across a leaning face in the shared space; mm.

    ``middle`` is the slit's, ``ends`` (2, 3) those of the face at its height, ``up`` and ``out``
    unit vectors up along the face and away from it; ``foot`` is how far below the slit the
    face ends.
    """

    middle: Floats
    ends: Floats
    up: Floats
    out: Floats
    foot: float


def slit_in(corners: Floats, at: float) -> Slit:
    """The slit that lies ``at`` mm above the foot of a face, (4, 3), whose foot comes first."""
    a, b, c, d = corners
    low = (a + b) / 2
    rise = (c + d) / 2 - low
    slant = float(np.linalg.norm(rise))
    up, out = rise / slant, _unit(np.cross(b - a, d - a))
    share = at / slant
    return Slit(low + up * at, np.array([a + (d - a) * share, b + (c - b) * share]), up, out, at)


def round_it(slits: Sequence[Slit], width: float, ground: float) -> tuple[Strip, ...]:
    """A ribbon in at one slit and out at the next, all the way round, and its bow.

    Of an odd number the last end comes out where the first went in.  ``ground`` is the height
    of the table, on which the ends stop.
    """
    strips = []
    count = len(slits)
    slits = _facing_front(slits)
    for i, one in enumerate(slits):
        after = slits[(i + 1) % count]
        if i % 2 == 0:  # inside, straight
            points, ups = [one.middle, after.middle], [one.up, after.up]
            points = [p - s.out * OFF for p, s in zip(points, (one, after), strict=True)]
        else:
            points = [one.middle, one.ends[1], after.ends[0], after.middle]
            outs = [one.out, _unit(one.out + after.out), _unit(one.out + after.out), after.out]
            points = [p + o * OFF for p, o in zip(points, outs, strict=True)]
            ups = [one.up, one.up, after.up, after.up]
        strips.append(_strip(points, [width] * len(points), ups, gathered=True))
    first, last = slits[0], slits[-1]
    if count % 2:
        knot, left = first.middle, first
    else:
        knot, left = (first.ends[0] + last.ends[1]) / 2, last
    return (*strips, *bow(knot, (left, first), width, ground))


def _facing_front(slits: Sequence[Slit]) -> Sequence[Slit]:
    """The same from another one on, so that the bow is at the front."""

    def faces(start: int) -> float:
        first, last = slits[start], slits[start - 1]
        out = first.out if len(slits) % 2 else first.out + last.out
        return float(_unit(out * np.array([1.0, 1.0, 0.0])) @ FRONT)

    start = max(range(len(slits)), key=faces)
    return [*slits[start:], *slits[:start]]


def bow(knot: Floats, faces: tuple[Slit, Slit], width: float, ground: float) -> tuple[Strip, ...]:
    """Two loops, the knot and two ends, over ``knot`` (3,) between two faces or on one."""
    out = _unit(faces[0].out + faces[1].out)
    up = _unit(faces[0].up + faces[1].up)
    up = _unit(up - out * float(up @ out))
    right = np.cross(up, out)
    reach = _loop_reach()
    strips = []
    for side in (-1.0, 1.0):
        along, deep, rise = _loop(reach)
        points = knot + np.outer(side * along, right) + np.outer(rise, up)
        points = points + np.outer(deep + OFF, out)
        widths = width * (GATHERED + (1 - GATHERED) * np.sin(np.linspace(0, np.pi, len(along))))
        strips.append(_strip(points, widths, [up] * len(points)))
    front = knot + out * 4 * OFF
    half = 0.3 * width  # design rule, as broad as the gathered ribbon round which it is
    strips.append(_strip([front - right * half, front + right * half], [0.8 * width] * 2, [up, up]))
    for side, face in zip((-1.0, 1.0), faces, strict=True):
        strips.append(_end(front, side * right, face, width, ground))
    return tuple(strips)


def wrapped(
    slits: tuple[Floats, Floats], low: Floats, high: Floats, up: Floats, width: float
) -> tuple[Strip, ...]:
    """A ribbon behind a flat cover, out of two slits, round its back, and tied on its front.

    Parameters
    ----------
    slits : two (3,) float
        Their middles on the cover, which faces +z; mm.
    low, high : (3,) float
        Corners of the closed thing in the shared space, mm.
    up : (3,) float
        Unit vector across the ribbon, along the cover.
    """
    out = np.array([0.0, 0.0, 1.0])
    middle = (slits[0] + slits[1]) / 2
    along = _unit(slits[1] - slits[0])
    reach = sorted(float((end - middle) @ along) for end in (low, high))
    strips = []
    for layer, (own, ends) in enumerate(((slits[0], reach), (slits[1], reach[::-1])), start=1):
        off = layer * OFF / 2

        def at(share: float, height: float) -> Floats:
            place = middle + along * share
            return np.array([*place[:2], height])

        near, far = (end + math.copysign(off, end) for end in ends)
        top, under = float(high[2]) + off, float(low[2]) - off
        points = [
            middle - out * OFF, own, at(near, top), at(near, under), at(far, under), at(far, top),
            at(0.0, top),
        ]  # fmt: skip
        strips.append(_strip(points, [width] * len(points), [up] * len(points)))
    knot = np.array([*middle[:2], float(high[2])])
    below = float((middle - low) @ np.abs(up))
    face = Slit(knot, np.array([knot, knot]), up, out, below)
    return (*strips, *bow(knot, (face, face), width, float(low[2])))


def figure_eight(
    centres: tuple[Floats, Floats], out: Floats, radius: float, width: float, tail: float
) -> tuple[Strip, ...]:
    """A string in an eight round two dots of a ``radius``, crossing between them, and its tail.

    ``centres`` are (3,) float, mm, ``out`` the unit vector off the face on which they lie.
    """
    along = _unit(centres[1] - centres[0])
    aside = np.cross(out, along)
    half = np.linspace(-0.75, 0.75, STEPS) * np.pi  # of each circle, the far three quarters
    points = []
    for centre, away in ((centres[0], -along), (centres[1], along)):
        ring = np.outer(np.cos(half), away) + np.outer(np.sin(half), aside)
        points.append(centre + radius * ring)
    wound = np.array([*points[0], *points[1], points[0][0]])
    way = along + aside
    end = np.array([centres[1] + radius * _unit(way), centres[1] + tail * _unit(way)])
    return tuple(
        _strip(line, [width] * len(line), np.cross(out, np.gradient(line, axis=0)))
        for line in (wound, end)
    )


def hanging_loop(
    mouth: Floats, out: Floats, up: Floats, width: float, reach: float
) -> tuple[Strip, ...]:
    """A loop of doubled ribbon out of a slit at ``mouth``, hanging ``reach`` mm; (3,) each."""
    down = -up
    turns = np.linspace(0.0, 1.0, STEPS)
    swing = np.sin(np.pi * turns)  # away from the board, and back
    far = reach * np.sin(np.pi * turns) ** 0.7
    depth = OFF + DEEP * reach * (0.6 * swing + 0.4 * (1 - np.cos(np.pi * turns)) / 2)
    depth[0] = depth[-1] = 0.0
    points = mouth + np.outer(depth, out) + np.outer(far, down)
    return (_strip(points, [width] * STEPS, [np.cross(down, out)] * STEPS),)


def looped_round(
    inner: Floats, outer: Floats, thick: float, width: float, loop: float
) -> tuple[Strip, ...]:
    """A cord round a flat ring that faces +z, knotted at its edge, and a loop beyond it.

    ``inner`` and ``outer`` are (3,) float, mm: where it crosses the edges, at half the
    thickness; the loop takes ``loop`` mm twice, and lies flat.
    """
    up = np.array([0.0, 0.0, 1.0])
    away = _unit(outer - inner)
    aside = np.cross(up, away)
    off = up * (thick / 2 + OFF)
    corners = [outer + off, inner - away * OFF + off, inner - away * OFF - off,
               outer + away * OFF - off, outer + away * OFF + off]  # fmt: skip
    turn = np.linspace(0.0, 2 * np.pi, 3 * STEPS)
    one = np.column_stack([(1 - np.cos(turn)) / 2, np.sin(turn) * (1 - np.cos(turn)) * NARROW])
    reach = 2 * loop / float(np.linalg.norm(np.diff(one, axis=0), axis=1).sum())
    line = outer + away * OFF + reach * (np.outer(one[:, 0], away) + np.outer(one[:, 1], aside))
    return (
        _strip(corners, [width] * len(corners), [aside] * len(corners)),
        _strip(line, [width] * len(line), np.cross(up, np.gradient(line, axis=0))),
    )


def handle(
    holes: tuple[Floats, Floats], out: Floats, width: float, rise: float
) -> tuple[Strip, ...]:
    """A cord out of one hole of an upright face, up ``rise`` mm in a bow, and into the other.

    ``holes`` are (3,) float, mm, in the middle of the board; ``out`` is the unit vector off it.
    """
    middle, half = (holes[0] + holes[1]) / 2, (holes[1] - holes[0]) / 2
    turns = np.linspace(np.pi, 0.0, 2 * STEPS)
    up = np.array([0.0, 0.0, 1.0])
    line = middle + np.outer(np.cos(turns), half) + np.outer(rise * np.sin(turns), up)
    line = np.concatenate([line[:1], line + out * (width / 2 + OFF), line[-1:]])
    sides = np.cross(out, np.gradient(line, axis=0))
    sides[[0, 1, -2, -1]] = half  # where it goes into the board, off which it then rises
    return (_strip(line, [width] * len(line), sides),)


def ribbon_length(strips: Sequence[Strip]) -> float:
    """How much to cut off, mm."""
    return sum(strip.length for strip in strips)


def _unit(vector: Floats) -> Floats:
    return np.asarray(vector / np.linalg.norm(vector))


def _strip(
    points: Sequence[Floats] | Floats,
    widths: Sequence[float] | Floats,
    sides: Sequence[Floats] | Floats,
    *,
    gathered: bool = False,
) -> Strip:
    """A strip whose width lies along ``sides``, square to its middle line."""
    line = np.array(points)
    ahead = np.gradient(line, axis=0)
    halves = []
    for number, (way, side) in enumerate(zip(ahead, sides, strict=True)):
        way = _unit(way)
        across = _unit(side - way * float(side @ way))
        narrow = GATHERED if gathered and number in (0, len(line) - 1) else 1.0
        halves.append(across * float(widths[number]) * narrow / 2)
    return Strip(tuple(map(_point, line)), tuple(map(_point, halves)))


def _point(point: Floats) -> Point:
    x, y, z = (float(v) for v in point)
    return x, y, z


def _loop(reach: float) -> tuple[Floats, Floats, Floats]:
    """A loop's way aside, off the board, and up, for each of its points; mm."""
    turn = np.linspace(0, 2 * np.pi, STEPS)
    along = reach * (1 - np.cos(turn)) / 2
    return along, DEEP * along * (1 + np.sin(turn)) + OFF, RISES * along


def _loop_reach() -> float:
    """How far a loop of so much ribbon reaches, mm."""
    one = np.column_stack(_loop(1.0))
    return LOOPED / float(np.linalg.norm(np.diff(one, axis=0), axis=1).sum())


def _end(front: Floats, aside: Floats, face: Slit, width: float, ground: float) -> Strip:
    """An end of ribbon that lies down a face, hangs from its foot, and stops on the table."""
    along = aside - face.out * float(aside @ face.out)
    way = _unit(-face.up + SPREADS * _unit(along))
    start = front - face.out * float((front - face.middle) @ face.out) + face.out * 2 * OFF
    points, left = [front], TAIL - float(np.linalg.norm(start - front))
    sides = [np.cross(face.out, way)]
    points += _falls(start, way, face, ground, left)
    sides = [np.cross(face.out, way)] * len(points)
    return _strip(points, [GATHERED * width] + [width] * (len(points) - 1), sides)


def _falls(start: Floats, way: Floats, face: Slit, ground: float, left: float) -> Iterator[Floats]:
    """Corners of an end, down to the table."""
    yield start
    below = face.foot + float((start - face.middle) @ face.up)  # to the foot, along the face
    run = min(left, below / -float(way @ face.up))
    place = start + way * run
    yield place
    drop = min(left - run, float(place[2]) - ground - OFF)
    if drop > OFF:
        yield place - np.array([0.0, 0.0, drop])
