"""A reader of FOLD files that knows nothing of Jadeite.

It proves closure from the file alone: the published FOLD 1.2 specification
(Demaine, Ku, Lang) for the structure, plain vector geometry for the rest.
Only the ``jadeite:`` keys that the file itself documents are used.
"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import shapely
from shapely import constrained_delaunay_triangles, contains_xy
from shapely.geometry import LineString, MultiPoint, Point, Polygon

NEAR, STRETCH = 1e-4, 0.3  # mm; borders so near lie on one another, for so long they are one


@dataclass
class Face:
    """A face in space."""

    piece: str
    panel: str
    points: np.ndarray
    normal: np.ndarray
    thickness: float


@dataclass
class Model:
    """Everything read from one file."""

    data: dict
    frames: list[dict]
    faces: dict[tuple[str, str], Face]
    joints: list[dict]
    contents: list[dict]


def inherited(frames: list[dict], number: int) -> dict:
    """A frame with what it inherits (FOLD: frame_parent, frame_inherit)."""
    frame = frames[number]
    if frame.get("frame_inherit"):
        return inherited(frames, frame["frame_parent"]) | frame
    return frame


def read(source: Path | str) -> Model:
    """Read a file, or text."""
    text = source.read_text(encoding="utf-8") if isinstance(source, Path) else source
    data = json.loads(text)
    head = {k: v for k, v in data.items() if k != "file_frames"}
    frames = [head, *data.get("file_frames", [])]
    faces = {}
    for number, raw in enumerate(frames):
        if "foldedForm" not in raw.get("frame_classes", []):
            continue
        frame = inherited(frames, number)
        piece = frames[raw["frame_parent"]]["frame_title"]
        places = np.array(frame["vertices_coords"], dtype=float)
        for panel, ring in zip(frame["faces_jadeite:panel"], frame["faces_vertices"], strict=True):
            points = places[ring]
            faces[piece, panel] = Face(
                piece, panel, points, newell(points), frame["jadeite:thickness_mm"]
            )
    return Model(data, frames, faces, data["jadeite:joints"], data["jadeite:contents"])


def newell(points: np.ndarray) -> np.ndarray:
    """Unit normal of a polygon, counter-clockwise (Newell's method)."""
    x, y, z = points.T
    u, v, w = np.concatenate([points[1:], points[:1]]).T
    normal = np.array([y @ w - z @ v, z @ u - x @ w, x @ v - y @ u])
    return normal / math.sqrt(normal @ normal)


STRUCTURE = (
    "edges_vertices",
    "edges_assignment",
    "edges_foldAngle",
    "faces_vertices",
    "faces_edges",
    "faces_jadeite:panel",
)


def structure_faults(model: Model) -> list[str]:
    """Where the file breaks the FOLD specification or what the file promises."""
    out = []
    if model.data["file_spec"] != 1.2:
        out.append("file_spec")
    known: list[tuple] = []
    for number, raw in enumerate(model.frames):
        frame = inherited(model.frames, number)
        if raw.get("frame_unit") != "mm":
            out.append(f"frame {number}: frame_unit")
        crease = "creasePattern" in raw.get("frame_classes", [])
        same = tuple(frame[key] for key in STRUCTURE)
        same += (frame["vertices_coords"] if crease else None,)
        if same in known[-4:]:
            continue  # a copy of the piece before it: what was found there holds here
        known.append(same)
        n = len(frame["vertices_coords"])
        edges = frame["edges_vertices"]
        if len({tuple(sorted(e)) for e in edges}) != len(edges):
            out.append(f"frame {number}: an edge stands twice")
        if any(not 0 <= v < n for e in edges for v in e):
            out.append(f"frame {number}: an edge names no vertex")
        if crease:
            ends = np.array(frame["vertices_coords"], float)[np.array(edges)]
            if np.linalg.norm(ends[:, 0] - ends[:, 1], axis=1).min() < 1e-3:
                out.append(f"frame {number}: an edge of no length")
        kinds = frame["edges_assignment"]
        if not set(kinds) <= set("BMVFUCJ"):
            out.append(f"frame {number}: unknown assignment")
        count: dict[tuple[int, int], int] = {}
        for ring, sides in zip(frame["faces_vertices"], frame["faces_edges"], strict=True):
            for a, b, side in zip(ring, [*ring[1:], ring[0]], sides, strict=True):
                key = (min(a, b), max(a, b))
                count[key] = count.get(key, 0) + 1
                if tuple(sorted(edges[side])) != key:
                    out.append(f"frame {number}: faces_edges")
        for edge, kind, angle in zip(edges, kinds, frame["edges_foldAngle"], strict=True):
            faces = count.get((min(edge), max(edge)), 0)
            if kind in "MV" and faces != 2:
                out.append(f"frame {number}: a fold with {faces} faces")
            if kind == "B" and (faces != 1 or angle not in (None, 0)):
                out.append(f"frame {number}: a border with {faces} faces")
            if (kind == "V" and not 0 < angle <= 180) or (kind == "M" and not -180 <= angle < 0):
                out.append(f"frame {number}: sign of a fold angle")
        names = frame["faces_jadeite:panel"]
        if len(set(names)) != len(names):
            out.append(f"frame {number}: panel names")
        if crease:
            flat = np.array(frame["vertices_coords"])
            borders = [flat[edge] for edge, kind in zip(edges, kinds, strict=True) if kind == "B"]
            if _uncut(borders):
                out.append(f"frame {number}: borders lie on one another, and nothing cuts them")
            for ring in frame["faces_vertices"]:
                shape = Polygon(flat[ring])
                if not shape.is_valid or not shape.exterior.is_ccw:
                    out.append(f"frame {number}: a face is not simple and counter-clockwise")
    return out


def _uncut(borders: list[np.ndarray]) -> bool:
    """Whether borders share a stretch: files show outlines, where board on both sides is one."""
    lines = shapely.linestrings(borders)
    one, other = shapely.STRtree(lines).query(lines, "dwithin", NEAR)
    one, other = one[one < other], other[one < other]
    shared = shapely.length(shapely.intersection(shapely.buffer(lines[one], NEAR), lines[other]))
    return bool((shared > STRETCH).any())


def stretch(model: Model) -> float:
    """Largest change in mm of an edge's length between flat and folded."""
    worst = 0.0
    for number, raw in enumerate(model.frames):
        if "foldedForm" not in raw.get("frame_classes", []):
            continue
        folded = np.array(inherited(model.frames, number)["vertices_coords"])
        flat = np.array(model.frames[raw["frame_parent"]]["vertices_coords"])
        for ring in inherited(model.frames, number)["faces_vertices"]:
            gaps = [
                np.linalg.norm(p[ring][:, None] - p[ring][None], axis=2) for p in (folded, flat)
            ]
            worst = max(worst, float(np.abs(gaps[0] - gaps[1]).max()))
    return worst


def fold_angle_fault(model: Model) -> float:
    """Largest difference in degrees between a fold's angle in the file and in space."""
    worst = 0.0
    for number, raw in enumerate(model.frames):
        if "foldedForm" not in raw.get("frame_classes", []):
            continue
        frame = inherited(model.frames, number)
        places = np.array(frame["vertices_coords"])
        normals = [newell(places[ring]) for ring in frame["faces_vertices"]]
        owner: dict[tuple[int, int], int] = {}
        for f, ring in enumerate(frame["faces_vertices"]):
            for a, b in zip(ring, [*ring[1:], ring[0]], strict=True):
                owner[a, b] = f
        for (a, b), angle in zip(frame["edges_vertices"], frame["edges_foldAngle"], strict=True):
            if angle is None or (a, b) not in owner or (b, a) not in owner:
                continue
            n1, n2 = normals[owner[a, b]], normals[owner[b, a]]
            axis = (places[b] - places[a]) / np.linalg.norm(places[b] - places[a])
            # face n1 lies left of a -> b; where the right one rises towards n1 (a valley),
            # n2 leans back over the edge and n2 x n1 points along it
            (d, e, f), (g, h, i) = n2.tolist(), n1.tolist()
            along = np.array([e * i - f * h, f * g - d * i, d * h - e * g]) @ axis
            turn = math.degrees(math.atan2(float(along), float(n1 @ n2)))
            worst = max(worst, abs(abs(turn) - abs(angle)))
            if abs(turn) > 1 and (turn > 0) != (angle > 0):
                worst = max(worst, 360.0)
    return worst


def flat_on(face: Face, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points in a face's own plane coordinates, and their heights above it."""
    x = face.points[1] - face.points[0]
    x = x / math.sqrt(x @ x)
    (a, b, c), (d, e, f) = face.normal.tolist(), x.tolist()
    y = np.array([b * f - c * e, c * d - a * f, a * e - b * d])
    rel = (points - face.points[0]) @ np.column_stack([x, y, face.normal])
    return rel[:, :2], rel[:, 2]


def turn_of(model: Model, piece: str, panel: str) -> float:
    """Degrees by which a panel with one fold is turned, from the file's fold angles."""
    frame = next(f for f in model.frames if f["frame_title"] == piece)
    ring = frame["faces_vertices"][frame["faces_jadeite:panel"].index(panel)]
    sides = {frozenset(side) for side in zip(ring, [*ring[1:], ring[0]], strict=True)}
    turns = [
        abs(angle)
        for edge, angle, kind in zip(
            frame["edges_vertices"],
            frame["edges_foldAngle"],
            frame["edges_assignment"],
            strict=True,
        )
        if kind in "MVF" and frozenset(edge) in sides
    ]
    return max(turns, default=180.0)


def openings(model: Model) -> dict[str, list[np.ndarray]]:
    """Lines of the cut edges that belong to no face, in space, by piece."""
    out: dict[str, list[np.ndarray]] = {}
    for number, raw in enumerate(model.frames):
        if "foldedForm" not in raw.get("frame_classes", []):
            continue
        frame = inherited(model.frames, number)
        places = np.array(frame["vertices_coords"])
        piece = model.frames[raw["frame_parent"]]["frame_title"]
        for edge, kind in zip(frame["edges_vertices"], frame["edges_assignment"], strict=True):
            if kind == "C":
                out.setdefault(piece, []).append(places[edge])
    return out


def turning(flat: np.ndarray) -> np.ndarray:
    """Which way a polygon in the plane turns at each corner; all above 0 when convex."""
    before = flat - np.roll(flat, 1, axis=0)
    after = np.roll(before, -1, axis=0)
    return before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]


def surfaces(model: Model, middle: np.ndarray, reach: float) -> np.ndarray:
    """Triangles (n, 3, 3) of both surfaces of every ply that comes within reach of a spot."""
    out = [np.zeros((0, 3, 3))]
    for face in model.faces.values():
        low, high = face.points.min(axis=0), face.points.max(axis=0)
        away = np.maximum(low - middle, middle - high).max()
        off = abs(float((middle - face.points[0]) @ face.normal))
        if max(away, off) > reach + face.thickness:
            continue
        flat, _ = flat_on(face, face.points)
        if (turning(flat) > -1e-9).all():
            parts = [[0, k, k + 1] for k in range(1, len(flat) - 1)]
        else:
            spots = {(round(x, 6), round(y, 6)): i for i, (x, y) in enumerate(flat.tolist())}
            parts = [
                [spots[round(x, 6), round(y, 6)] for x, y in part.exterior.coords[:3]]
                for part in constrained_delaunay_triangles(Polygon(flat)).geoms
            ]
        shift = face.normal * face.thickness / 2
        triangles = face.points[np.array(parts)]
        out += [triangles + shift, triangles - shift]
    return np.concatenate(out)


def in_the_way(model: Model, content: dict, touch: float = 2e-3) -> int:
    """How many surface triangles reach into a content, by more than a touch in mm.

    A block by separating axes of triangle and box (Akenine-Moller, "Fast 3D
    triangle-box overlap testing", 2001); a ball by the distance from its
    centre; an upright cylinder by the part of the triangle between its ends.
    """
    pose = np.array(content["pose"])
    triangles = surfaces(model, pose[:3, 3], radius_of(content))
    if not len(triangles):
        return 0
    local = (triangles - pose[:3, 3]) @ pose[:3, :3]
    if content["kind"] == "sphere":
        gaps = np.array([to_triangle(t) for t in local])
        return int((gaps < content["radius_mm"] - touch).sum())
    if content["kind"] == "cylinder":
        half = content["height_mm"] / 2 - touch
        hits = 0
        for triangle in local:
            part = between(triangle, -half, half)
            if len(part) and Point(0, 0).distance(hull_of(part)) < content["radius_mm"] - touch:
                hits += 1
        return hits
    half = np.array(content["size_mm"]) / 2 - touch
    sides = np.roll(local, -1, axis=1) - local
    axes = [np.broadcast_to(e, (len(local), 3)) for e in np.eye(3)]
    axes.append(np.cross(sides[:, 0], sides[:, 1]))
    axes += [np.cross(e, sides[:, k]) for e in np.eye(3) for k in range(3)]
    apart = np.zeros(len(local), bool)
    for axis in axes:
        along = np.einsum("nij,nj->ni", local, axis)
        reach = np.abs(axis) @ half
        apart |= (along.min(axis=1) > reach) | (along.max(axis=1) < -reach)
    return int((~apart).sum())


def radius_of(content: dict) -> float:
    """Of a ball round a content, in mm."""
    if content["kind"] == "sphere":
        return float(content["radius_mm"])
    if content["kind"] == "cylinder":
        return math.hypot(content["radius_mm"], content["height_mm"] / 2)
    return float(np.linalg.norm(content["size_mm"])) / 2


def to_triangle(triangle: np.ndarray) -> float:
    """Distance of the origin from a triangle in space."""
    a, b, c = triangle
    normal = np.cross(b - a, c - a)
    size = np.linalg.norm(normal)
    if size < 1e-12:
        return float(np.linalg.norm(triangle, axis=1).min())
    normal = normal / size
    foot = normal * float(a @ normal)
    if all(np.cross(q - p, foot - p) @ normal >= 0 for p, q in ((a, b), (b, c), (c, a))):
        return float(abs(a @ normal))
    out = np.inf
    for p, q in ((a, b), (b, c), (c, a)):
        share = np.clip(-p @ (q - p) / ((q - p) @ (q - p)), 0, 1)
        out = min(out, float(np.linalg.norm(p + share * (q - p))))
    return out


def between(points: np.ndarray, low: float, high: float) -> np.ndarray:
    """Corners of the part of a polygon between two heights."""
    for limit, way in ((low, 1.0), (high, -1.0)):
        h = (points[:, 2] - limit) * way
        kept = []
        for i in range(len(points)):
            j = (i + 1) % len(points)
            if h[i] > 0:
                kept.append(points[i])
            if (h[i] > 0) != (h[j] > 0):
                kept.append(points[i] + (points[j] - points[i]) * h[i] / (h[i] - h[j]))
        points = np.array(kept)
        if not len(points):
            break
    return points


def hull_of(points: np.ndarray):  # type: ignore[no-untyped-def]
    """What points in space cover, seen from above."""
    return MultiPoint(points[:, :2]).convex_hull


def open_joints(model: Model) -> list[str]:
    """Glue joints that do not close: parallel within 0.1 degree, at half the sum of
    the thicknesses within 0.05 mm, with 95 % of the tab on its target."""
    out = []
    landed: dict[tuple, list[float]] = {}
    for joint in model.joints:
        if joint["kind"] != "glue":
            continue
        tab, target = model.faces[tuple(joint["tab"])], model.faces[tuple(joint["target"])]
        cosine = min(1.0, abs(float(tab.normal @ target.normal)))
        if math.degrees(math.acos(cosine)) > 0.1:
            out.append(f"{joint['title']}: angle")
        points = np.array(joint["region"]) if "region" in joint else tab.points
        flat, heights = flat_on(target, points)
        if "region" in joint:  # what is joined is of the tab
            whole = Polygon(flat_on(target, tab.points)[0]).buffer(1e-6)
            if not whole.covers(Polygon(flat)):
                out.append(f"{joint['title']}: joined beside the tab")
        wanted = (tab.thickness + target.thickness) / 2 + joint.get("pad", 0.0)
        wanted += joint.get("gives", 0.0)  # paper bends down so far beside what lies in between
        if joint.get("flush") or (
            turn_of(model, *joint["tab"]) < 30 and np.abs(heights).max() < 0.05
        ):
            wanted = 0.0  # so small a turn may lie in its target's own surface
        if np.abs(np.abs(heights) - wanted).max() > 0.05:
            out.append(f"{joint['title']}: distance {np.abs(heights)} for {wanted}")
        mine, its = Polygon(flat), Polygon(flat_on(target, target.points)[0])
        # on a grid: the plain overlay mistakes some shapes that share an edge
        share = shapely.intersection(mine, its, grid_size=1e-6).area / mine.area
        # a tab may lie on both halves of a panel that is cut in two
        landed.setdefault((joint["title"], *joint["tab"], joint.get("side")), []).append(share)
    out += [f"{key[0]}: landed" for key, shares in landed.items() if sum(shares) < 0.95]
    return out


def penetrations(model: Model) -> list[tuple[str, str]]:
    """Pairs of faces where an edge of one pierces the inside of the other.

    Middle surfaces that cross mean that the plies overlap by more than half the
    sum of their thicknesses.  A touch (within 0.02 mm) does not count.
    """
    touch = 0.02
    cuts = openings(model)
    faces = list(model.faces.values())
    points = np.concatenate([f.points for f in faces])
    starts = np.cumsum([0, *(len(f.points) for f in faces)])
    out = []
    after = np.arange(1, len(points) + 1)
    after[starts[1:] - 1] = starts[:-1]  # the next corner of the same face
    owner = np.repeat(np.arange(len(faces)), np.diff(starts))
    least = np.minimum.reduceat(points, starts[:-1])
    most = np.maximum.reduceat(points, starts[:-1])
    everything = points, starts, after, owner
    for i, face in enumerate(faces):
        beside = ((least <= most[i] + touch) & (most >= least[i] - touch)).all(axis=1)
        if beside.sum() < 2:
            continue
        points, starts, after, owner = _those(everything, np.flatnonzero(beside))
        flat, heights = flat_on(face, points)
        low = np.minimum.reduceat(heights, starts[:-1])
        high = np.maximum.reduceat(heights, starts[:-1])
        near = (low < -touch) & (high > touch)
        if not near.any():
            continue
        mine = int(np.flatnonzero(np.flatnonzero(beside) == i)[0])
        own = flat[starts[mine] : starts[mine + 1]]
        near &= (np.minimum.reduceat(flat, starts[:-1]) <= own.max(axis=0)).all(axis=1)
        near &= (np.maximum.reduceat(flat, starts[:-1]) >= own.min(axis=0)).all(axis=1)
        a, b = heights, heights[after]
        pierces = (((a < -touch) & (b > touch)) | ((a > touch) & (b < -touch))) & near[owner[1]]
        if not pierces.any():
            continue
        share = (a[pierces] / (a[pierces] - b[pierces]))[:, None]
        spots = flat[pierces] + (flat[after[pierces]] - flat[pierces]) * share
        inside = contains_xy(Polygon(own).buffer(-touch), spots)
        for spot, j in zip(spots[inside], owner[0][pierces][inside], strict=True):
            other = faces[j]
            if not lets_through(face, cuts.get(face.piece, []), spot, other.thickness):
                out.append((f"{face.piece}/{face.panel}", f"{other.piece}/{other.panel}"))
    return out


def _those(everything, kept):  # type: ignore[no-untyped-def]
    """Corners of some faces: points, where each begins, the next corner, owner and its place."""
    points, starts, _, _ = everything
    ranges = [np.arange(starts[k], starts[k + 1]) for k in kept]
    sizes = np.array([len(r) for r in ranges])
    begin = np.cumsum([0, *sizes])
    after = np.arange(1, begin[-1] + 1)
    after[begin[1:] - 1] = begin[:-1]
    place = np.repeat(np.arange(len(kept)), sizes)
    return points[np.concatenate(ranges)], begin, after, (np.repeat(kept, sizes), place)


def lets_through(face: Face, cuts: list[np.ndarray], spot: np.ndarray, thickness: float) -> bool:
    """Whether a spot of a face lies in a slit or slot, as wide as what passes is thick, or a hole.

    Of a hole it lies as far within as what passes is thick.
    """
    near, lines = thickness + 0.3, []
    for cut in cuts:
        flat, heights = flat_on(face, cut)
        if np.abs(heights).max() < 1e-3:
            lines.append(LineString(flat))
            if lines[-1].distance(Point(spot)) < near:
                return True
    holes = shapely.get_parts(shapely.polygonize(lines)) if lines else []
    return any(hole.buffer(-thickness / 2).contains(Point(spot)) for hole in holes)


def inside_size(model: Model, piece: str) -> tuple[float, float, float]:
    """The largest axis-parallel block inside an open box, clear of every ply.

    Upright faces bound it sideways by their surface (half a thickness before
    the middle surface); level faces below its middle bound it from below; its
    top is the highest point of the box.
    """
    named = (piece, "floor-ply") if piece == "tray" else (piece,)
    faces = [f for (p, _), f in model.faces.items() if p in named]
    spread = np.concatenate([f.points for f in faces])
    low, high = spread.min(axis=0), spread.max(axis=0)
    middle = (low + high) / 2
    size = []
    for axis in (0, 1):
        upright = [f for f in faces if abs(f.normal[axis]) > 0.999]
        lows = [
            f.points[:, axis].max() + f.thickness / 2
            for f in upright
            if f.points[:, axis].mean() < middle[axis]
        ]
        highs = [
            f.points[:, axis].min() - f.thickness / 2
            for f in upright
            if f.points[:, axis].mean() > middle[axis]
        ]
        size.append(min(highs) - max(lows))
    level = [f for f in faces if abs(f.normal[2]) > 0.999]
    if piece == "lid":  # open downwards
        closed = [
            f.points[:, 2].min() - f.thickness / 2
            for f in level
            if f.points[:, 2].mean() > middle[2]
        ]
        rims = [
            f.points[:, 2].min() - f.thickness / 2
            for f in level
            if f.points[:, 2].mean() < middle[2]
        ]
        size.append(min(closed) - min([low[2], *rims]))
    else:
        closed = [
            f.points[:, 2].max() + f.thickness / 2
            for f in level
            if f.points[:, 2].mean() < middle[2]
        ]
        rims = [
            f.points[:, 2].max() + f.thickness / 2
            for f in level
            if f.points[:, 2].mean() > middle[2]
        ]
        size.append(max([high[2], *rims]) - max(closed))
    return size[0], size[1], size[2]


def outside_size(model: Model, piece: str) -> tuple[float, float]:
    """Length and width of a box over every ply."""
    out = []
    for axis in (0, 1):
        upright = [
            f for (p, _), f in model.faces.items() if p == piece and abs(f.normal[axis]) > 0.999
        ]
        high = max(f.points[:, axis].max() + f.thickness / 2 for f in upright)
        low = min(f.points[:, axis].min() - f.thickness / 2 for f in upright)
        out.append(high - low)
    return out[0], out[1]


def open_slots(model: Model) -> list[str]:
    """Strips that do not pass through one another.

    Over the thickness of the target, what is left of the tab must not meet the
    board of the target: the tab is laid into the target's plane as blocks as
    wide as it is thick.  Both strips must stand equally high, and the tab must
    reach into the target's slot, leaving at most 1.1 mm of play.
    """
    out = []
    for joint in model.joints:
        if joint["kind"] != "slot":
            continue
        tab, target = model.faces[tuple(joint["tab"])], model.faces[tuple(joint["target"])]
        if abs(float(tab.normal @ target.normal)) > math.sin(math.radians(0.1)):
            out.append(f"{joint['title']}: angle")
            continue
        flat, heights = flat_on(target, tab.points)
        up = np.ptp(flat, axis=0).argmax()  # the tab is seen edge on: only its height shows
        across = Polygon(np.column_stack([heights, flat[:, up]]))
        low, high = across.bounds[1], across.bounds[3]
        near = target.thickness / 2
        left = across.intersection(
            Polygon([(-near, low), (near, low), (near, high), (-near, high)])
        )
        foot, top = left.bounds[1], left.bounds[3]
        u = float(flat[:, 1 - up].mean())
        half = tab.thickness / 2
        block = [(u - half, foot), (u + half, foot), (u + half, top), (u - half, top)]
        board = Polygon(flat_on(target, target.points)[0])
        if up == 0:
            block = [(v, w) for w, v in block]
        if board.intersection(Polygon(block)).area > 0.02 * half:
            out.append(f"{joint['title']}: board in the way")
        extent = board.bounds[up], board.bounds[up + 2]
        if abs(extent[0] - low) > 0.05 or abs(extent[1] - high) > 0.05:
            out.append(f"{joint['title']}: heights {extent} and {(low, high)}")
        line = [(u, low), (u, high)] if up == 1 else [(low, u), (high, u)]
        rest = board.intersection(LineString(line)).length
        if high - low - rest - (top - foot) > 1.1:
            out.append(f"{joint['title']}: play")
    return out
