"""Glue tabs of a closed form: set back by the plies, cut to land on their targets.

A tab's carrier moves in by d / sin(turn), its target reaches over by
d / tan(turn); the tab keeps clear of folds, cut edges, openings and of other
tabs, and is left out, or refused, where it finds no place.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.errors import FieldError
from jadeite.core.nets.face import Face
from jadeite.core.nets.model import Floats, Joint, Kind
from jadeite.core.nets.sides import SAME, side_key, turn_between
from jadeite.core.nets.tab_shape import MIN_ROOT, strips_along, tab_outline
from jadeite.core.nets.turns import rotation, unit

__all__ = ["SMALL_TURN", "TAB_CLEAR", "Seam", "Seams"]

SMALL_TURN = 30.0  # degrees; design rule, under it a tab may lie in its target's own surface
WEDGE_AIR = 0.2  # mm; from memory, between a tab and another wall in the flat net
CLAIMED = 1e-4  # mm2; rounding, a tab that overlaps less only touches
TAB_CLEAR = 0.5  # mm; from memory, between a tab and a cut edge or another tab


@dataclass(frozen=True, eq=False)
class Seam:
    """A tab that is asked for: numbers of the carrier's side and of the target's."""

    shell: Face
    on: Face
    target: Face
    number: int
    over: int
    depth: float
    side: str
    ease: float
    needed: bool


class Seams:
    """All seams of one piece; ``settle`` cuts their tabs.

    ``sides`` finds the face that has a side, from one corner to the next.
    """

    def __init__(self, name: str, thickness: float, good_side: str) -> None:
        self.name, self.thickness, self.good_side = name, thickness, good_side
        self.sides: dict[tuple[int, ...], Face] = {}
        self.wanted: list[Seam] = []
        self.ghosts: list[tuple[Face, Face]] = []
        self._shut: dict[str, list[Polygon]] = {}
        self._flat: list[tuple[Face, Polygon]] = []  # what each face takes of the board
        self._cut: dict[int, tuple[Floats, Polygon]] = {}  # a face trimmed, and as it is cut

    def add_sides(self, face: Face, points: Floats) -> None:
        """Make a face known by its sides; its corners in space, (n, 3)."""
        for i in range(len(points)):
            self.sides[side_key(points[i], points[(i + 1) % len(points)])] = face

    def keep_clear(self, face: Face, area: Floats, side: str = "inside") -> None:
        """Keep tabs off a part of a face, (n, 2) in its flat plane."""
        self._shut.setdefault(f"{face.name}/{side}", []).append(Polygon(area))

    def settle(self, faces: list[Face]) -> tuple[list[Face], list[Joint]]:
        """Cut all tabs to their targets; what has no room is left out, and the rest done again.

        Raises
        ------
        FieldError
            A tab that is needed finds no room.
        """
        seams = list(self.wanted)
        kept = {id(face): (dict(face.insets), dict(face.overs)) for face in faces}
        while True:
            for face in faces:
                face.insets, face.overs = (dict(own) for own in kept[id(face)])
            for ghost, _ in self.ghosts:
                ghost.insets, ghost.overs = {}, {}
            for seam in seams:
                self._set_back(seam)
            for ghost, twin in self.ghosts:
                self._as_asked(ghost, twin)
            landed: dict[str, list[Polygon]] = {}
            self._cut = {}
            self._flat = [(face, self._as_cut(face)[1]) for face in faces]
            bad = next((seam for seam in seams if not self._cut_tab(seam, landed)), None)
            if bad is None:
                break
            if bad.needed:
                raise FieldError(
                    "inside",
                    f"there is no room for the tab of {bad.shell.title}",
                    "Use a larger inside, or a thinner board.",
                )
            seams.remove(bad)
        joints = [
            Joint(
                Kind.GLUE,
                (self.name, seam.shell.name),
                (self.name, seam.target.name),
                seam.shell.title,
                seam.side,
            )
            for seam in seams
        ]
        return [seam.shell for seam in seams], joints

    def _as_cut(self, face: Face) -> tuple[Floats, Polygon]:
        """Its trimmed corners, (n, 2), and what is cut: the same until it is set back again."""
        if id(face) not in self._cut:
            trimmed = face.trimmed()
            self._cut[id(face)] = (trimmed, Polygon(face.cut(trimmed)))
        return self._cut[id(face)]

    def _as_asked(self, ghost: Face, twin: Face) -> None:
        """What a tab asks of a copy holds for the face itself; sides count from the same corner."""
        for own, asked in ((twin.insets, ghost.insets), (twin.overs, ghost.overs)):
            for number, value in asked.items():
                own[number] = own.get(number, 0.0) + value
        for number, value in twin.insets.items():
            ghost.insets[number] = value

    def _offset(self, seam: Seam) -> float:
        """How far the carrier's edge lies from the corner, in mm."""
        turn = abs(seam.shell.angle)
        return 0.0 if turn < SMALL_TURN else self.thickness / math.sin(math.radians(turn))

    def _set_back(self, seam: Seam) -> None:
        t, turn, offset = self.thickness, abs(seam.shell.angle), self._offset(seam)
        inside = seam.side == "inside"
        carrier, target = seam.on.insets, seam.target.insets
        carrier[seam.number] = carrier.get(seam.number, 0.0) + (offset if inside else -offset)
        if not offset:
            return
        if not inside:
            target[seam.over] = target.get(seam.over, 0.0) + t / 2
        elif turn < 90:
            seam.target.overs[seam.over] = t / math.tan(math.radians(turn))

    def _cut_tab(self, seam: Seam, landed: dict[str, list[Polygon]]) -> bool:
        shell, on = seam.shell, seam.on
        corners, _ = self._as_cut(on)
        right, left = corners[seam.number], corners[(seam.number + 1) % len(corners)]
        if np.hypot(*(right - left)) < MIN_ROOT:
            return False
        shell.matrix = on.matrix @ rotation(left, right, shell.angle)
        key = f"{seam.target.name}/{seam.side}"
        taken = landed.setdefault(key, [])
        thick = self.thickness if self._offset(seam) else 0.0
        room = self._room(seam, taken, thick)
        outline = tab_outline(left, right, seam.depth, room)
        if outline is not None and (beside := self._in_the_way(on, outline)):
            free = room.difference(shapely.union_all(beside).buffer(WEDGE_AIR))
            hinge = shapely.LineString([left, right]).buffer(WEDGE_AIR)
            room = max(shapely.get_parts(free), key=lambda g: float(g.intersection(hinge).area))
            outline = tab_outline(left, right, seam.depth, room)
        if outline is None:
            return False
        self._flat.append((shell, Polygon(outline)))
        shell.outline, shell.hinge = outline, (outline[0], outline[1])
        taken.append(Polygon(seam.target.flat(shell.space())))
        return True

    def _in_the_way(self, on: Face, outline: Floats) -> list[Polygon]:
        """What else of the flat net a tab would lie on, in a wedge between two walls say."""
        tab = Polygon(outline)
        near = [shape for face, shape in self._flat if face is not on and shape.intersects(tab)]
        return [shape for shape in near if float(shape.intersection(tab).area) > CLAIMED]

    def _room(self, seam: Seam, taken: list[Polygon], t: float) -> Polygon:
        """Where a tab may lie on its target, in the flat plane of the tab."""
        target, ease, inside = seam.target, seam.ease, seam.side == "inside"
        corners, (cut, shape) = target.space(), self._as_cut(target)
        # an outside tab's root lies over the end of its target, which is trimmed by t/2
        region = shape if inside else Polygon(target.outline)
        if not region.is_valid:
            region = region.buffer(0)
        starts, ends, margins = [], [], []
        for i in range(len(cut)):
            j = (i + 1) % len(cut)
            a, b = corners[i], corners[j]
            margin = ease
            other = self.sides.get(side_key(b, a))
            if other is seam.on or i == seam.over:
                continue
            flat_a, flat_b = cut[i], cut[j]
            if other is not None:
                turn = abs(turn_between(target.normal, other.normal, unit(b - a)))
                if self._closes(target, other) == inside and turn > 0:
                    margin = max(ease, t * math.tan(math.radians(min(turn, 170.0) / 2)))
                    flat_a, flat_b = target.outline[i], target.outline[j]
                    margin = max(margin, target.insets.get(i, 0.0) + ease)
            starts.append(flat_a)
            ends.append(flat_b)
            margins.append(margin)
        first, last = (np.array(points).reshape(-1, 2) for points in (starts, ends))
        away = list(strips_along(first, last, np.array(margins)))
        away += [area.buffer(ease, join_style="mitre") for area in taken]
        away += [Polygon(opening.points).buffer(1.0 + ease) for opening in target.openings]
        away += self._shut.get(f"{target.name}/{seam.side}", [])
        for area in away:
            region = region.difference(area)
        if isinstance(region, shapely.MultiPolygon):
            region = max(region.geoms, key=lambda g: float(g.area))
        if region.is_empty:
            return region
        rings = [
            seam.shell.flat(target.space(np.array(ring.coords)[:-1]))
            for ring in (region.exterior, *region.interiors)
        ]
        return Polygon(rings[0], rings[1:])

    def _closes(self, one: Face, other: Face) -> bool:
        """Whether the other face leans to the inside of this one."""
        inside = -one.normal if self.good_side == "outside" else one.normal
        middle = other.space().mean(axis=0)
        return bool((middle - one.space()[0]) @ inside > -SAME)
