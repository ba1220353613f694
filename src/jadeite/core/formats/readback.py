"""Cut files are read back before they are written, and compared with the proved net.

A program's defect must not become wasted board: what a file would cut is laid
against the panels, ring by ring and score by score, as the bytes say it.  The
readers here share nothing with the writers.
"""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NoReturn

import numpy as np
import shapely
from lxml import etree
from shapely.geometry import LinearRing, LineString, Polygon

from jadeite.core.errors import FileError
from jadeite.core.nets import Piece
from jadeite.core.nets.curves import drawn
from jadeite.core.nets.model import Floats, Trace

__all__ = [
    "Drawing",
    "Net",
    "by_piece",
    "check_passes",
    "compare",
    "net_of",
    "read_dxf",
    "read_svg",
]

OFF = 0.03  # mm; design rule, what a file may differ from the net
HAIR = 1e-4  # mm; rounding, panels that share a fold are joined across such a gap
GRID = 1e-6  # mm; rounding, a hundredth of that
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
UNIT = re.compile(r"([\d.]+)mm")
Place = tuple[str, float, float]  # a piece, and where it is wrong


@dataclass
class Drawing:
    """What a file draws, in mm with y up: closed and open cuts, scores, dashes; its size."""

    size: tuple[float, float] | None
    lines: dict[str, list[Floats]] = field(default_factory=dict)
    passes: list[tuple[str, int]] = field(default_factory=list)  # of each stroke, in their order

    def add(self, role: str, points: Floats) -> None:
        """One stroke; the first point is repeated where it is closed.

        ``points`` are (n, 2) float, mm.
        """
        self.lines.setdefault(role, []).append(points)

    @property
    def every(self) -> list[Floats]:
        """All strokes, the sheet's own edge left out."""
        return [line for role, lines in self.lines.items() if role != "sheet" for line in lines]


@dataclass(frozen=True, eq=False)
class Net:
    """What a piece must be in a file: closed cuts, slits, scores, other folds, pen; mm, flat."""

    rings: tuple[Floats, ...]
    slits: tuple[Floats, ...]
    scores: tuple[Floats, ...]
    dashed: tuple[Floats, ...]
    pen: tuple[Floats, ...] = ()

    def moved(self, angle: float, x: float, y: float) -> Net:
        """Turned by degrees, then moved by mm."""
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        turn = np.array([[c, s], [-s, c]])

        def put(lines: tuple[Floats, ...]) -> tuple[Floats, ...]:
            return tuple(line @ turn + (x, y) for line in lines)

        lines = self.rings, self.slits, self.scores, self.dashed, self.pen
        return Net(*(put(kind) for kind in lines))


def net_of(piece: Piece) -> Net:
    """The region and folds of a piece, from its panels alone."""
    shapes = {panel.name: Polygon(panel.outline) for panel in piece.panels}
    wide = shapely.buffer(list(shapes.values()), HAIR, join_style="mitre")
    # on a grid: the plain overlay stumbles over edges that lie almost on one another
    whole = shapely.buffer(shapely.union_all(wide, grid_size=GRID), -HAIR, join_style="mitre")
    parts = [part for part in shapely.get_parts(whole) if part.area > OFF**2]  # less is dust
    rings = [_corners(ring) for part in parts for ring in (part.exterior, *part.interiors)]
    rings = [ring for ring in rings if len(ring) > 2]
    openings = [opening for panel in piece.panels for opening in panel.openings]
    rings += [opening.points for opening in openings if opening.closed]
    slits = [opening.points for opening in openings if not opening.closed]
    slits += [vein.points for vein in piece.veins if vein.trace is Trace.CUT]
    by_kind: dict[str, list[Floats]] = {"scored": [], "other": []}
    for fold in piece.folds:
        if fold.kind == "rolled":
            continue
        line = LineString([fold.start, fold.end])
        beside = [shapes[name].buffer(OFF / 10) for name in (fold.parent, fold.child)]
        for part in shapely.get_parts(line.intersection(beside[0]).intersection(beside[1])):
            if part.length > OFF:
                by_kind["scored" if fold.kind == "scored" else "other"].append(
                    np.array(part.coords)
                )
    curves = [drawn(curve) for curve in piece.curves]
    scored = not any(f.kind not in ("scored", "rolled", "hand-creased") for f in piece.folds)
    kind = "scored" if scored and by_kind["scored"] else "other"
    if curves:  # along a curve the chords of its facets are not drawn
        ways = [_chords(curve.points) for curve in piece.curves]
        by_kind[kind] = [line for line in by_kind[kind] if not _is_chord(line, ways)] + curves
    by_kind["scored"] += [v.points for v in piece.veins if v.trace is Trace.PRESSED]
    pen = tuple(vein.points for vein in piece.veins if vein.trace is Trace.PEN)
    return Net(tuple(rings), tuple(slits), tuple(by_kind["scored"]), tuple(by_kind["other"]), pen)


def _corners(ring: LinearRing) -> Floats:
    """Corners of a ring, (n, 2); those that are one but for rounding would cross once turned."""
    points = np.array(ring.coords)[:-1]
    far = np.hypot(*(points - np.roll(points, 1, axis=0)).T)
    return np.asarray(points[far > GRID])


def _chords(points: Floats) -> Floats:
    return np.stack([points[:-1], points[1:]], axis=1)


def _is_chord(line: Floats, ways: Sequence[Floats]) -> bool:
    both = line[[0, -1]], line[[-1, 0]]
    return any(bool((np.abs(way - e).max(axis=(1, 2)) < OFF).any()) for way in ways for e in both)


def read_svg(data: bytes) -> Drawing:
    """The strokes of a cut file in SVG; only straight path commands are cut files of ours.

    Raises
    ------
    ValueError
        It is none that we write.
    """
    root = etree.fromstring(data, etree.XMLParser(resolve_entities=False, no_network=True))
    sides = [UNIT.fullmatch(root.get(name, "")) for name in ("width", "height")]
    box = [float(v) for v in NUMBER.findall(root.get("viewBox", ""))]
    if None in sides or len(box) != 4:
        raise ValueError("it has no size in mm")
    wide, high = (float(side[1]) for side in sides if side is not None)
    scale = np.array([wide / box[2], high / box[3]])
    out = Drawing((wide, high))
    for path in root.iter("{*}path"):
        text = path.get("d", "")
        if not re.fullmatch(r"[MLZ\d.,\s+-]*", text):
            raise ValueError("a path is not made of straight lines")
        points = np.array(NUMBER.findall(text), float).reshape(-1, 2) * scale
        points[:, 1] = high - points[:, 1]
        if text.rstrip().endswith("Z"):
            points = np.vstack([points, points[:1]])
        out.add(path.get("data-role", ""), points)
    return out


def read_dxf(data: bytes) -> Drawing:
    """The polylines of a DXF file, by layer."""
    text = data.decode().splitlines()
    out = Drawing(None)
    start = next(i for i, line in enumerate(text) if line.strip() == "ENTITIES")
    layer, closed, xs, ys = "", False, [0.0][:0], [0.0][:0]
    kind = ""
    for i in range(start + 1, len(text) - 1, 2):
        code, value = int(text[i]), text[i + 1].strip()
        if code == 0:
            if kind == "LWPOLYLINE":
                points = np.column_stack([xs, ys])
                out.add(layer.lower(), np.vstack([points, points[:1]]) if closed else points)
            kind, layer, closed, xs, ys = value, "", False, [], []
            if kind == "ENDSEC":
                break
        elif code == 8:
            layer = value
        elif code == 70 and kind == "LWPOLYLINE":
            closed = bool(int(value) & 1)
        elif code == 10:
            xs.append(float(value))
        elif code == 20:
            ys.append(float(value))
    return out


def check_passes(name: str, drawing: Drawing, wanted: Sequence[tuple[str, int]]) -> None:
    """Whether a file makes its strokes in the planned order, each as often as is planned.

    Raises
    ------
    FileError
        It does not; it names the first stroke that is wrong.
    """
    for number, (told, plan) in enumerate(
        itertools.zip_longest(drawing.passes, wanted, fillvalue=("nothing", 0)), start=1
    ):
        if told != plan:
            words = f"stroke {number} is {told[0]}, {told[1]} times; planned {plan[0]}, {plan[1]}"
            _fail(name, "the sheet", np.zeros(2), words)


def compare(
    name: str,
    drawing: Drawing,
    nets: Iterable[tuple[str, Net]],
    *,
    sheet: tuple[float, float] | None = None,
    gap: float = 0.0,
) -> None:
    """Lay what a file draws against the nets that it should draw.

    Parameters
    ----------
    name : str
        Of the file.
    nets : iterable of (piece, Net)
        Each where it lies in the file.
    sheet : (width, height), optional
        mm; nothing may lie outside it.
    gap : float
        mm that pieces keep from one another.

    Raises
    ------
    FileError
        They differ by more than 0.03 mm; it names the piece and the place.
    """
    placed = list(nets)
    size = sheet if sheet is not None else drawing.size
    if sheet is not None and drawing.size is not None and _differ(sheet, drawing.size):
        _fail(name, "the sheet", np.zeros(2), "has another size")
    for line in drawing.every:
        low, high = line.min(axis=0), line.max(axis=0)
        if size is not None and (low.min() < -OFF or (high > np.array(size) + OFF).any()):
            _fail(name, _nearest(placed, line[0]), line[0], "lies outside the sheet")
    cuts = drawing.lines.get("cut", [])
    closed = [line for line in cuts if _closed(line)]
    opened = [line for line in cuts if not _closed(line)]
    _rings(name, placed, closed)
    _lines(name, placed, opened, "slits", "cut", whole=True)
    _lines(name, placed, drawing.lines.get("score", []), "scores", "score", whole=True)
    _lines(name, placed, drawing.lines.get("perforate", []), "dashed", "dash", whole=False)
    _lines(name, placed, drawing.lines.get("pen", []), "pen", "line of the pen", whole=True)
    if gap > 0 and len(placed) > 1:
        _apart(name, placed, gap)


def _closed(line: Floats) -> bool:
    return len(line) > 3 and bool(np.abs(line[0] - line[-1]).max() < OFF)


def _differ(one: tuple[float, float], other: tuple[float, float]) -> bool:
    return max(abs(a - b) for a, b in zip(one, other, strict=True)) > OFF


def _fail(name: str, piece: str, spot: Floats, words: str) -> NoReturn:
    place = f"{piece}, at {spot[0]:.1f}, {spot[1]:.1f} mm"
    text = f"the file does not agree with the net ({words}); nothing was written, please report it"
    raise FileError(name, text, place)


def _nearest(placed: Sequence[tuple[str, Net]], spot: Floats) -> str:
    away = [(float(np.abs(net.rings[0] - spot).sum(axis=1).min()), piece) for piece, net in placed]
    return min(away)[1] if away else "the sheet"


def _rings(name: str, placed: Sequence[tuple[str, Net]], found: list[Floats]) -> None:
    """Every ring of the nets is one ring of the file, and the other way round."""
    wanted = [(piece, ring) for piece, net in placed for ring in net.rings]
    bounds = np.array([np.concatenate([r.min(axis=0), r.max(axis=0)]) for r in found])
    free = np.ones(len(found), bool)
    for piece, ring in wanted:
        box = np.concatenate([ring.min(axis=0), ring.max(axis=0)])
        near = (
            np.flatnonzero(free & (np.abs(bounds - box).max(axis=1) < OFF))
            if len(found)
            else np.zeros(0, int)
        )
        match = next((int(i) for i in near if _same(ring, found[int(i)])), None)
        if match is None:
            _fail(name, piece, _spot(ring, found), "a cut is missing, or has another shape")
        else:
            free[match] = False
    if free.any():
        extra = found[int(np.argmax(free))]
        words = "a line is cut twice, or is extra"
        _fail(name, _nearest(placed, extra[0]), extra[0], words)


def _spot(ring: Floats, found: list[Floats]) -> Floats:
    """Where a ring is farthest from all that the file cuts."""
    lines = shapely.MultiLineString([LineString(line) for line in found if len(line) > 1])
    off = shapely.distance(shapely.points(ring), lines) if found else np.zeros(len(ring))
    return np.asarray(ring[int(np.argmax(off))])


def _same(ring: Floats, line: Floats) -> bool:
    """Whether two rings enclose the same region: corners of each lie on the other, areas agree."""
    one, other = LinearRing(ring), LinearRing(line[:-1])
    shapely.prepare([one, other])
    if not shapely.dwithin(one, shapely.points(line), OFF).all():
        return False
    if not shapely.dwithin(other, shapely.points(ring), OFF).all():
        return False
    areas = [abs(float(Polygon(r).area)) for r in (one, other)]
    return abs(areas[0] - areas[1]) < OFF * float(one.length)


def _lines(
    name: str,
    placed: Sequence[tuple[str, Net]],
    found: list[Floats],
    what: str,
    word: str,
    *,
    whole: bool,
) -> None:
    """Lines of the file lie on those of the nets; where they must be ``whole``, also conversely."""
    wanted = [(piece, line) for piece, net in placed for line in getattr(net, what)]
    if not wanted:
        if found:
            _fail(name, _nearest(placed, found[0][0]), found[0][0], f"an extra {word}")
        return
    spots = [_spots(line) for line in found]
    if found:
        tree = shapely.STRtree([LineString(line) for _, line in wanted])
        points = shapely.points(np.concatenate(spots))
        near, far = tree.query_nearest(points, return_distance=True, all_matches=False)
        wrong = np.flatnonzero(far > OFF)
        if len(wrong):
            spot = shapely.get_coordinates(points[near[0][wrong[0]]])[0]
            _fail(name, _nearest(placed, spot), spot, f"a {word} lies on no fold")
    if not whole:
        return
    if not found:
        _fail(name, wanted[0][0], wanted[0][1][0], f"a {word} is missing")
    tree = shapely.STRtree([LineString(line) for line in found])
    for piece, line in wanted:
        spot = _spots(line)
        _, far = tree.query_nearest(shapely.points(spot), return_distance=True, all_matches=False)
        if float(far.max()) > OFF:
            _fail(name, piece, spot[int(np.argmax(far))], f"a {word} is missing or short")
    length = sum(_length(line) for line in found) - sum(_length(line) for _, line in wanted)
    if abs(length) > OFF * (1 + 2 * len(wanted)):
        _fail(name, wanted[0][0], wanted[0][1][0], f"a {word} is made twice, or short")


def _spots(line: Floats) -> Floats:
    """Corners of a line and the middles between them."""
    return np.vstack([line, (line[1:] + line[:-1]) / 2])


def _length(line: Floats) -> float:
    return float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())


def _apart(name: str, placed: Sequence[tuple[str, Net]], gap: float) -> None:
    """Outlines keep their gap, as the file draws them; one may lie in another's cut-out."""
    outlines = [LinearRing(net.rings[0]) for _, net in placed]
    one, other = shapely.STRtree(outlines).query(outlines, "dwithin", gap - OFF)
    for i, j in zip(one.tolist(), other.tolist(), strict=True):
        if i < j:
            spot = placed[i][1].rings[0][0]
            _fail(name, placed[i][0], spot, f"it is less than {gap} mm from {placed[j][0]}")


def by_piece(pieces: Iterable[Piece]) -> Mapping[str, Net]:
    """The nets of a design; copies that share their panels are measured once."""
    known: dict[tuple[int, int], Net] = {}
    out = {}
    for piece in pieces:
        key = id(piece.panels), id(piece.veins)
        if key not in known:
            known[key] = net_of(piece)
        out[piece.name] = known[key]
    return out
