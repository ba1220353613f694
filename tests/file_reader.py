"""Readers of cut files and printed nets that share nothing with what wrote them.

SVG is read by svgelements, DXF by ezdxf, PDF by the drawing operators that
pypdf hands over (ISO 32000, 8.5).  What a file should hold is taken from the
FOLD file alone: regions from its flat faces, scores from its edges, curves as
it names them, drawn anew by SciPy.
"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass, field
from typing import Any

import ezdxf
import ezdxf.addons.hpgl2.api as hpgl2
import numpy as np
import pypdf
import shapely
from gcodeparser import parse_gcode_lines
from pypdf.generic import ContentStream
from scipy.interpolate import CubicSpline
from shapely.geometry import LineString, MultiLineString, Polygon
from svgelements import SVG
from svgelements import Path as SvgPath

OFF = 0.03  # mm; what a file may differ from the proved net
HAIR = 1e-4  # mm; faces that share an edge are joined across rounding
MM = 96 / 25.4  # svgelements reads into CSS pixels, 96 to the inch (CSS units, W3C)
PENS = {1: "pen", 2: "score", 3: "perforate", 4: "cut"}  # docs/formats.md
POINT = 72 / 25.4  # PDF user space units to the mm (ISO 32000)


@dataclass
class Read:
    """Lines of a file in mm, y up: rings of cuts, open cuts, scores, dashes, ink; its size."""

    rings: list[np.ndarray] = field(default_factory=list)
    opened: list[np.ndarray] = field(default_factory=list)
    scores: list[np.ndarray] = field(default_factory=list)
    dashes: list[np.ndarray] = field(default_factory=list)
    ink: list[np.ndarray] = field(default_factory=list)
    size: tuple[float, float] | None = None
    times: list[tuple[str, int]] = field(default_factory=list)  # passes of strokes, in their order

    def take(self, role: str, points: np.ndarray, closed: bool) -> None:
        """Sort one line by what it is for."""
        if role == "score":
            self.scores.append(points)
        elif role == "perforate":
            self.dashes.append(points)
        elif role == "cut":
            (self.rings if closed else self.opened).append(points)

    @property
    def every(self) -> list[np.ndarray]:
        """All lines."""
        return [*self.rings, *self.opened, *self.scores, *self.dashes]


@dataclass
class Wanted:
    """A piece as its FOLD frame says: its region, slits, scores and other folds, flat, mm."""

    region: Any
    slits: list[np.ndarray]
    scores: list[np.ndarray]
    dashes: list[np.ndarray]

    def placed(self, angle: float, x: float, y: float) -> Wanted:
        """Turned counter-clockwise by degrees about the origin, then moved."""
        turn = complex(math.cos(math.radians(angle)), math.sin(math.radians(angle)))

        def put(points: np.ndarray) -> np.ndarray:
            z = (points[:, 0] + 1j * points[:, 1]) * turn + complex(x, y)
            return np.column_stack([z.real, z.imag])

        parts = [[put(line) for line in lines] for lines in (self.slits, self.scores, self.dashes)]
        return Wanted(shapely.transform(self.region, put), *parts)


# ------------------------------------------------------------------ readers


def read_svg(data: bytes) -> Read:
    """A cut file in SVG."""
    drawing = SVG.parse(io.BytesIO(data), reify=True)
    wide, high = float(drawing.width) / MM, float(drawing.height) / MM
    out = Read(size=(wide, high))
    for element in drawing.elements():
        if not isinstance(element, SvgPath):
            continue
        points = np.array([[s.end.x, s.end.y] for s in element.segments()]) / MM
        points[:, 1] = high - points[:, 1]
        closed = bool(np.hypot(*(points[0] - points[-1])) < 1e-6) and len(points) > 3
        out.take(element.values["data-role"], points, closed)
    return out


def read_dxf(data: bytes) -> Read:
    """A cut file in DXF."""
    out = Read()
    for entity in ezdxf.read(io.StringIO(data.decode())).modelspace():
        points = np.array([(x, y) for x, y, *_ in entity.get_points()])
        if entity.closed:
            points = np.vstack([points, points[:1]])
        out.take(entity.dxf.layer.lower(), points, entity.closed)
    return out


def read_hpgl(data: bytes) -> Read:
    """A plot in HP-GL, by ezdxf's interpreter: 40 plotter units to the mm (HP-GL/2 reference)."""
    told = []
    player = hpgl2.record_plotter_output(
        hpgl2.ENTER_HPGL2_MODE + b"B" + data, hpgl2.MergeControl.NONE
    )
    for _, properties, points in player.recordings():
        line = np.array([(p.x, p.y) for p in points.vertices()]) / 40
        told.append((PENS[properties.pen_index], line))
    return _once(told)


def read_gcode(data: bytes) -> Read:
    """A program for a flatbed, by gcodeparser: mm, absolute, strokes where Z is down (ISO 6983)."""
    told: list[tuple[str, np.ndarray]] = []
    role, at, stroke, mode = "", {"X": 0.0, "Y": 0.0, "Z": 1.0}, [], set()
    for line in parse_gcode_lines(data.decode(), include_comments=True):
        if line.command[0] == ";" and line.comment.partition(":")[0] in PENS.values():
            role = line.comment.partition(":")[0]
        mode.add(line.command)
        if line.command not in (("G", 0), ("G", 1)):
            continue
        assert {("G", 21), ("G", 90)} <= mode  # millimetres, absolute
        before = at["Z"]
        at.update({k: v for k, v in line.params.items() if k in at})
        if before <= 0 < at["Z"]:
            told.append((role, np.array(stroke)))
        elif at["Z"] <= 0:
            assert line.command == ("G", 1)  # no stroke at the speed of a way between
            stroke = [] if before > 0 else stroke
            stroke.append((at["X"], at["Y"]))
    return _once(told)


def _once(told: list[tuple[str, np.ndarray]]) -> Read:
    """Strokes once each, those made several times one after the other too, and how often."""
    out, before = Read(), ("", np.zeros((0, 2)))
    for role, line in told:
        same = role == before[0] and line.shape == before[1].shape
        if same and any(np.allclose(line, way, atol=1e-6) for way in (before[1], before[1][::-1])):
            out.times[-1] = role, out.times[-1][1] + 1
            continue
        before = role, line
        closed = len(line) > 3 and bool(np.allclose(line[0], line[-1], atol=1e-6))
        out.take(role, line, closed)
        out.times.append((role, 1))
    return out


def read_pdf(data: bytes) -> list[tuple[str, Read]]:
    """Every page as its text and its stroked lines; solid ones are cuts, dashed ones scores.

    Lines of one page belong to one net; what is only tinted or hatched is left out.
    """
    reader = pypdf.PdfReader(io.BytesIO(data))
    return [(page.extract_text(), _page(page, reader)) for page in reader.pages]


def _page(page: Any, reader: Any) -> Read:
    out = Read(size=(float(page.mediabox.width) / POINT, float(page.mediabox.height) / POINT))
    matrix, stack = np.eye(3), []
    state: dict[str, Any] = {"width": 0.0, "dash": [], "colour": (), "clip": False}
    path: list[list[tuple[float, float]]] = []
    ended: list[bool] = []
    for operands, operator in ContentStream(page.get_contents(), reader).operations:
        name = operator.decode()
        numbers = [float(v) for v in operands if isinstance(v, int | float)]
        if name == "q":
            stack.append((matrix, dict(state)))
        elif name == "Q":
            matrix, state = stack.pop()
        elif name == "cm":
            a, b, c, d, e, f = numbers
            matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
        elif name in ("W", "W*"):
            state["clip"] = True
        elif name == "w":
            state["width"] = numbers[0]
        elif name == "d":
            state["dash"] = [float(v) for v in operands[0]]
        elif name in ("RG", "G"):
            state["colour"] = tuple(numbers)
        elif name == "m":
            path.append([(numbers[0], numbers[1])])
            ended.append(False)
        elif name == "l":
            path[-1].append((numbers[0], numbers[1]))
        elif name == "h":
            ended[-1] = True
        elif name in ("S", "s", "B", "b", "B*", "b*", "f", "f*", "n", "F"):
            if state["clip"] and name in ("S", "s", "B", "b", "B*", "b*"):  # marks are not
                for line, closed in zip(path, ended, strict=True):
                    points = np.column_stack([line, np.ones(len(line))]) @ matrix
                    _sort(out, points[:, :2] / POINT, closed or name in "sb", state)
            path, ended = [], []
    return out


def _sort(out: Read, points: np.ndarray, closed: bool, state: dict[str, Any]) -> None:
    """By its colour and dashes (docs/formats.md): cuts are ink and solid, slits brick and solid.

    Pressed lines are jade and solid, scores dashed.
    """
    r, g, b = (state["colour"] * 3)[:3]
    dark = max(r, g, b) < 0.25
    red = r > 0.5 and g < 0.4
    dashed = bool(state["dash"])
    if closed and dark and not dashed:
        out.rings.append(np.vstack([points, points[:1]]))
    elif red and not dashed:
        out.opened.append(points)
    elif not dashed and not closed and g > r + 0.1 and state["width"] < 1:
        out.scores.append(points)
    elif dark and not dashed:
        out.ink.append(points)
    elif dashed and dark:
        out.dashes.append(points)
    elif dashed and not dark and state["width"] < 1:
        (out.scores if g > r + 0.1 or b > r + 0.1 else out.dashes).append(points)


# ------------------------------------------------------------------ what is wanted


def _without_twins(region: Any) -> Any:
    """A region without corners that are one but for rounding: turned, these would cross."""
    parts = []
    for part in shapely.get_parts(region):
        rings = [np.array(ring.coords)[:-1] for ring in (part.exterior, *part.interiors)]
        rings = [ring[np.hypot(*(ring - np.roll(ring, 1, axis=0)).T) > HAIR / 100]
                 for ring in rings]  # fmt: skip
        if len(rings[0]) > 2:
            parts.append(Polygon(rings[0], [ring for ring in rings[1:] if len(ring) > 2]))
    return shapely.union_all(parts)


def wanted(frame: dict[str, Any]) -> Wanted:
    """What a crease pattern frame of a FOLD file asks a cut file to hold."""
    places = np.array(frame["vertices_coords"], float)
    faces = [Polygon(places[ring]) for ring in frame["faces_vertices"]]
    wide = [face.buffer(HAIR, join_style="mitre") for face in faces]
    region = shapely.union_all(wide, grid_size=HAIR / 100).buffer(-HAIR, join_style="mitre")
    slits, holes = _cut_out(frame, places)
    region = _without_twins(region)
    for hole in holes:
        region = region.difference(hole)
    curves = [_curve(c["kind"], np.array(c["points"])) for c in frame["jadeite:curves"]]
    scores, dashes = [], []
    drawn: set[int] = set()
    for edge, kind, number in zip(
        frame["edges_vertices"],
        frame["edges_jadeite:fold"],
        frame["edges_jadeite:curve"],
        strict=True,
    ):
        if kind in (None, "rolled"):
            continue
        lines = scores if kind == "scored" else dashes
        if number is None:
            lines.append(places[edge])
        elif number not in drawn:
            drawn.add(number)
            lines.append(curves[number])
    veins = [v for v in frame["jadeite:veins"] if v["kind"] == "pressed"]
    scores += [np.array(vein["points"]) for vein in veins]
    return Wanted(region, slits, scores, dashes)


def _cut_out(frame: dict[str, Any], places: np.ndarray) -> tuple[list[np.ndarray], list[Polygon]]:
    """Edges of kind C as open lines and as closed cut-outs."""
    edges = [e for e, k in zip(frame["edges_vertices"], frame["edges_assignment"], strict=True)
             if k == "C"]  # fmt: skip
    after: dict[int, int] = dict(edges)
    slits, holes = [], []
    heads = set(after) - set(after.values())
    seen: set[int] = set()
    for start in [*sorted(heads), *sorted(after)]:
        if start in seen:
            continue
        chain = [start]
        seen.add(start)
        while chain[-1] in after and after[chain[-1]] not in seen:
            chain.append(after[chain[-1]])
            seen.add(chain[-1])
        if start in heads:
            slits.append(places[chain])
        else:
            holes.append(Polygon(places[chain]))
    return slits, holes


def _curve(kind: str, points: np.ndarray) -> np.ndarray:
    """A curve of the FOLD file, drawn finely."""
    if kind == "line" or len(points) < 3:
        return points
    if kind == "arc":
        a = np.column_stack([2 * points, np.ones(len(points))])
        x, y, c = np.linalg.lstsq(a, (points**2).sum(axis=1), rcond=None)[0]
        turns = np.unwrap(np.arctan2(points[:, 1] - y, points[:, 0] - x))
        fine = np.interp(np.linspace(0, len(points) - 1, 40 * len(points)),
                         np.arange(len(points)), turns)  # fmt: skip
        radius = math.sqrt(c + x * x + y * y)
        return np.column_stack([x + radius * np.cos(fine), y + radius * np.sin(fine)])
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    return CubicSpline(at, points)(np.linspace(0.0, at[-1], 40 * len(points)))


# ------------------------------------------------------------------ comparing


def region_of(rings: list[np.ndarray]) -> Any:
    """What rings of cuts leave as board: inside an odd number of them."""
    shapes = [Polygon(ring).buffer(0) for ring in rings]
    order = sorted(range(len(shapes)), key=lambda i: -shapes[i].area)
    spots = [shape.representative_point() for shape in shapes]
    levels: dict[int, list[Polygon]] = {}
    for i in order:
        corner = shapely.Point(rings[i][0])
        depth = sum(shapes[j].contains(spots[i]) and shapes[j].covers(corner)
                    for j in order if shapes[j].area > shapes[i].area)  # fmt: skip
        levels.setdefault(depth, []).append(shapes[i])
    board = Polygon()
    for depth, level in sorted(levels.items()):  # a piece may lie in the cut-out of another
        whole = shapely.union_all(level)
        board = board.difference(whole) if depth % 2 else board.union(whole)
    return board


def faults(
    read: Read,
    wants: list[Wanted],
    *,
    sheet: tuple[float, float] | None = None,
    gap: float = 0.0,
) -> list[str]:
    """Where a file is not what the FOLD file asks for."""
    out = [f"a ring crosses itself at {ring[0]}" for ring in read.rings
           if not Polygon(ring).is_valid]  # fmt: skip
    whole = shapely.union_all([want.region for want in wants], grid_size=HAIR / 100)
    cut = region_of(read.rings)
    off = cut.symmetric_difference(whole, grid_size=HAIR / 100)
    # hairs between corners written to four decimals collapse on a coarser grid, a bulge does not
    off = shapely.set_precision(off, OFF / 10)
    # a part that is too small for a disc of that width is none; to erode it invents some
    parts = [part for part in shapely.get_parts(off) if part.area > math.pi * OFF**2 / 4]
    off = shapely.union_all(parts).buffer(-OFF / 2)
    if not off.is_empty:
        x, y = off.representative_point().coords[0]
        out.append(f"region: {off.area:.2f} mm² at {x:.1f}, {y:.1f}")
    twice = _twice([*read.rings, *read.opened])
    if twice > OFF:
        out.append(f"cut twice: {twice:.2f} mm")
    out += _line_faults("slit", read.opened, [line for w in wants for line in w.slits])
    out += _line_faults("score", read.scores, [line for w in wants for line in w.scores])
    dashes = [line for want in wants for line in want.dashes]
    out += _lying("dash", read.dashes, dashes)
    if dashes and not read.dashes:
        out.append("dashes are missing")
    board = whole.buffer(OFF)
    inner = MultiLineString([line for line in (*read.scores, *read.dashes) if len(line) > 1])
    across = inner.difference(board).length
    if across > OFF:
        out.append(f"a line runs {across:.2f} mm off the board")
    if read.size is not None and sheet is not None and not np.allclose(read.size, sheet, atol=OFF):
        out.append("size of the sheet")
    if sheet is not None and read.every:
        points = np.concatenate(read.every)
        if points.min() < -OFF or (points.max(axis=0) > np.array(sheet) + OFF).any():
            out.append("outside the sheet")
    if gap:
        outer = [Polygon(ring) for ring in read.rings]
        parts = [p for p in shapely.get_parts(cut) if isinstance(p, Polygon)]
        if len(parts) < len(wants):
            out.append(f"{len(parts)} pieces for {len(wants)}")
        ones, others = shapely.STRtree(parts).query(parts, "dwithin", gap - OFF)
        if (ones != others).any() or not outer:
            out.append("neighbours lie too near")
    return out


def _twice(lines: list[np.ndarray]) -> float:
    """Length that is cut more than once, mm."""
    pairs = [np.stack([line[:-1], line[1:]], axis=1) for line in lines if len(line) > 1]
    if not pairs:
        return 0.0
    segments = shapely.linestrings(np.concatenate(pairs))
    segments = shapely.set_precision(segments, HAIR)  # rounding of a hundred thousand adds up
    whole = shapely.unary_union(segments, grid_size=HAIR)
    return float(shapely.length(segments).sum() - whole.length)


def _lying(word: str, lines: list[np.ndarray], wants: list[np.ndarray]) -> list[str]:
    """Lines of a file that lie on none of those that are wanted."""
    if not lines:
        return []
    if not wants:
        return [f"an extra {word}"]
    tree = MultiLineString([line for line in wants if len(line) > 1]).buffer(OFF)
    over = MultiLineString([line for line in lines if len(line) > 1]).difference(tree).length
    return [f"{over:.2f} mm of a {word} lie on no fold"] if over > OFF else []


def _line_faults(word: str, lines: list[np.ndarray], wants: list[np.ndarray]) -> list[str]:
    """Lines must lie on those that are wanted, cover them, and none be made twice."""
    out = _lying(word, lines, wants)
    if not wants:
        return out
    drawn = MultiLineString([line for line in lines if len(line) > 1]).buffer(OFF)
    left = MultiLineString([line for line in wants if len(line) > 1]).difference(drawn).length
    if left > OFF:
        out.append(f"{left:.2f} mm of a {word} are missing")
    have = sum(LineString(line).length for line in lines)
    want = sum(LineString(line).length for line in wants)
    if abs(have - want) > OFF * (1 + len(wants)):
        out.append(f"{word}s are {have:.2f} mm long, for {want:.2f} mm")
    return out
