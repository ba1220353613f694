"""Flat pictures: a net as it is cut, and a sheet with its pieces."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

import numpy as np
import shapely

from jadeite.core.cutting.plan import CutPath, SheetCut
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.grain import grain_upward
from jadeite.core.nets.model import Floats, Fold, Piece, Trace
from jadeite.core.nets.outline import drawn_folds, loops_of, piece_polygon
from jadeite.core.pictures.hatch import hatch_lines
from jadeite.core.pictures.palette import LIGHT, Palette, mix
from jadeite.core.pictures.primitives import Image, Label, Path, Picture, Stroke
from jadeite.core.pictures.prints import print_paths
from jadeite.core.pictures.sheet_names import item_of, name_pieces
from jadeite.core.sheets.marks import CLEAR, mark_lines
from jadeite.core.sheets.plan import PlacedPiece, placed_points
from jadeite.core.units import System, format_length

__all__ = [
    "ABOVE",
    "BELOW",
    "KINDS",
    "Transform",
    "around_sheet",
    "line_kind",
    "line_strokes",
    "net_key",
    "net_picture",
    "piece_paths",
    "sheet_picture",
    "wound",
]

AROUND, CLOSE = 34.0, 12.0  # hairlines beside a sheet for its size, and beside a narrow one
ABOVE, BELOW = 30.0, 30.0  # hairlines for its name and its size
FADED = 0.5  # of a piece's colour is gone where it is not cut yet; from memory
NARROW = 230.0  # hairlines; a narrower sheet gets short words only
FINE = 1.2  # mm of board that a line of a small sheet covers at most; from memory


def line_strokes(palette: Palette, unit: float) -> dict[str, Stroke]:
    """Strokes by kind of line: cut, mountain, valley, perforate, rolled, ticks, slot, vein, pen."""
    u = unit
    return {
        "cut": Stroke(palette.ink, 1.4 * u),
        "mountain": Stroke(palette.jade, 1.3 * u, (9 * u, 4 * u)),
        "valley": Stroke(palette.river, 1.3 * u, (7 * u, 3 * u, 1.4 * u, 3 * u, 1.4 * u, 3 * u)),
        "perforate": Stroke(palette.ink, 1.2 * u, (3 * u, 2 * u)),
        "rolled": Stroke(mix(palette.quiet, palette.sheet, 0.55), 0.6 * u),
        "ticks": Stroke(palette.quiet, 0.9 * u, (1.5 * u, 5 * u)),
        "slot": Stroke(palette.brick, 1.2 * u),
        "vein": Stroke(palette.jade, 0.9 * u),
        "pen": Stroke(palette.quiet, 0.8 * u),
    }


KINDS = {Trace.PRESSED: "vein", Trace.CUT: "slot", Trace.PEN: "pen", Trace.PRINT: "pen"}  # of veins


WORDS = (
    ("cut", "cut"),
    ("mountain", "score, folds away"),
    ("valley", "score, folds toward you"),
    ("perforate", "perforated fold"),
    ("rolled", "rolled, not scored"),
    ("ticks", "creased by hand"),
    ("slot", "slot or slit"),
    ("vein", "pressed, not folded"),
    ("pen", "written"),
    ("glue", "glue here"),
)


def net_key(pieces: Iterable[Piece]) -> tuple[tuple[str, str], ...]:
    """Kinds of lines that these pieces have, with the words for them."""
    have = {"cut"}
    for piece in pieces:
        have |= {line_kind(fold) for fold in piece.folds if not wound(piece, fold)}
        have |= {"glue" for panel in piece.panels if panel.role.traits.glue}
        have |= {"slot" for panel in piece.panels if panel.openings}
        have |= {KINDS[vein.trace] for vein in piece.veins}
    return tuple((kind, words) for kind, words in WORDS if kind in have)


def piece_paths(
    piece: Piece,
    to_picture: Callable[[Floats], Floats],
    palette: Palette,
    unit: float,
    fill: str,
    tag: tuple[str, str] | None = None,
) -> list[Path | Image]:
    """A net as paths: board, prints, glue areas, scores by their mark, the cut lines.

    ``to_picture`` carries flat mm (n, 2) into the picture.
    """
    strokes = line_strokes(LIGHT, unit)  # board is paper-coloured in either theme
    loops = loops_of(piece)
    rings = tuple(to_picture(loop.points) for loop in loops if loop.closed)
    slits = tuple(to_picture(loop.points) for loop in loops if not loop.closed)
    slits += tuple(to_picture(vein.points) for vein in piece.veins if vein.cut)
    out: list[Path | Image] = [Path(rings, fill=fill, tag=tag)]
    out += print_paths(piece.prints, to_picture)
    glue = []
    for panel in piece.panels:
        if panel.role.traits.glue:
            lines = hatch_lines(panel.outline)
            glue += list(to_picture(lines.reshape(-1, 2)).reshape(-1, 2, 2))
    if glue:
        out.append(Path(tuple(glue), closed=False, stroke=Stroke(palette.sand, 0.8 * unit)))
    lines_of: dict[str, list[Floats]] = {}
    for line, n in drawn_folds(piece):
        if wound(piece, piece.folds[n]):
            continue
        lines_of.setdefault(line_kind(piece.folds[n]), []).append(to_picture(line))
    for kind, drawn in lines_of.items():
        out.append(Path(tuple(drawn), closed=False, stroke=strokes[kind]))
    for trace in (Trace.PRESSED, Trace.PEN, Trace.PRINT):
        if lines_ := tuple(to_picture(v.points) for v in piece.veins if v.trace is trace):
            out.append(Path(lines_, closed=False, stroke=strokes[KINDS[trace]]))
    out.append(Path(rings, stroke=strokes["cut"]))
    if slits:
        out.append(Path(slits, closed=False, stroke=strokes["slot"]))
    return out


def wound(piece: Piece, fold: Fold) -> bool:
    """Whether a bend is one of many of a strip that is wound up: there is nothing to see."""
    return fold.kind == ROLLED and piece.panel(fold.child).role.traits.wound


def line_kind(fold: Fold) -> str:
    """Which stroke of :func:`line_strokes` shows a fold."""
    if fold.kind == "scored":
        return fold.mark
    return {"perforated": "perforate", "rolled": "rolled"}.get(fold.kind, "ticks")


class Transform:
    """Flat mm to picture: y up becomes y down."""

    def __init__(self, scale: float, x: float, y: float) -> None:
        self.scale, self.x, self.y = scale, x, y

    def __call__(self, points: Floats) -> Floats:
        return np.column_stack(
            [self.x + points[:, 0] * self.scale, self.y - points[:, 1] * self.scale]
        )


def net_picture(
    piece: Piece,
    palette: Palette,
    colour: str,
    width: float,
    height: float,
    unit: float,
    scale: float = 0.0,
) -> Picture:
    """A net from its good side, fitted into width x height picture units, or at a scale."""
    low = np.min([p.outline.min(axis=0) for p in piece.panels], axis=0)
    high = np.max([p.outline.max(axis=0) for p in piece.panels], axis=0)
    span = high - low
    scale = scale or float(min(width / span[0], height / span[1])) * 0.96
    middle = (low + high) / 2
    place = Transform(
        scale, width / 2 - float(middle[0]) * scale, height / 2 + float(middle[1]) * scale
    )
    return Picture(items=list(piece_paths(piece, place, palette, unit, colour)))


def around_sheet(width: float) -> float:
    """Hairlines to the left and right of a sheet of so many hairlines."""
    return CLOSE if width < NARROW else AROUND


def sheet_picture(
    cut: SheetCut,
    pieces: Mapping[str, Piece],
    palette: Palette,
    colours: Mapping[str, str],
    scale: float,
    unit: float,
    *,
    done: tuple[int, float] | None = None,
    system: System = "mm",
    title: str = "",
) -> Picture:
    """A sheet from above, with its pieces; beside it as much as is said by `around_sheet`.

    Parameters
    ----------
    scale : float
        Picture units per mm.
    done : (path number, share), optional
        Playing back: what has been cut so far is drawn, the rest is faint.
    """
    picture = Picture()
    stock = cut.sheet.stock
    beside = around_sheet(stock.width * scale / unit)
    x0, y0 = beside * unit, ABOVE * unit + stock.height * scale
    place = Transform(scale, x0, y0)

    def box(x: float, y: float, w: float, h: float) -> Floats:
        return place(np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]]))

    base = colours.get(cut.sheet.placed[0].piece, "#E8DDC5")
    paper = mix(base, LIGHT.sheet, 0.55)
    picture.add(
        Path(
            (place(shapely.get_coordinates(stock.region)[:-1]),),
            fill=paper,
            stroke=Stroke(mix(palette.line, palette.ink, 0.3), unit),
        )
    )
    ux, uy, uw, uh = cut.sheet.usable
    if uw < stock.width - 0.1 or uh < stock.height - 0.1:
        dash = Stroke(palette.quiet, 0.7 * unit, (2 * unit, 3 * unit))
        picture.add(Path((box(ux, uy, uw, uh),), stroke=dash))
    for placed in cut.sheet.placed:
        piece = pieces.get(placed.piece)
        if piece is None:  # the layout is still that of the document before
            continue

        def put(points: Floats, placed: PlacedPiece = placed) -> Floats:
            return place(placed_points(points, placed))

        fill = colours.get(piece.name, base)
        tag = (piece.name, str(placed.copy))
        if done is None:
            fine = min(unit, FINE * scale)  # else narrow strands are all edge
            picture.items.extend(piece_paths(piece, put, palette, fine, fill, tag))
        else:
            rings = tuple(put(loop.points) for loop in loops_of(piece))
            faint = Stroke(mix(LIGHT.ink, paper, 0.75), 0.8 * unit)
            picture.add(Path(rings, fill=mix(fill, paper, FADED), stroke=faint, tag=tag))
    if unit * 16 < scale * 40:
        size = stock.width, stock.height
        faded = 0.0 if done is None else FADED
        name_pieces(
            picture, cut.sheet.placed, pieces, place, size, scale, unit,
            lambda name: mix(colours.get(name, base), paper, faded),
        )  # fmt: skip
    if cut.sheet.printed:
        marks = tuple(place(line) for line in mark_lines(cut.sheet.size))
        picture.add(Path(marks, closed=False, stroke=Stroke(LIGHT.ink, 0.9 * unit)))
    if done is not None:
        _draw_progress(picture, cut.paths, place, LIGHT, unit, done)
    item = item_of(cut.sheet.placed, pieces)
    _draw_sheet_marks(picture, cut, pieces, place, palette, unit, system, title or stock.name, item)
    return picture


def _draw_progress(
    picture: Picture,
    paths: tuple[CutPath, ...],
    place: Transform,
    palette: Palette,
    unit: float,
    done: tuple[int, float],
) -> None:
    """What the tool has done, and where it is."""
    strokes = line_strokes(palette, unit)
    index, share = done
    for i, path in enumerate(paths[: index + 1]):
        points = (
            path.points
            if i < index
            else _part(path.points, (share * path.passes) % 1.0 if share < 1 else 1.0)
        )
        kind = "mountain" if path.role == "score" else path.role
        picture.add(Path((place(points),), closed=False, stroke=strokes[kind]))
        if i == index and share < 1:
            x, y = place(points[-1:])[0]
            spot = np.array([x, y]) + 4.5 * unit * np.array(
                [[np.cos(a), np.sin(a)] for a in np.linspace(0, 2 * np.pi, 24)]
            )
            picture.add(Path((spot,), fill=palette.brick, stroke=Stroke(palette.sheet, unit)))


def _part(points: Floats, share: float) -> Floats:
    """The first part of a line, by its length."""
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)
    left = share * float(steps.sum())
    out = [points[0]]
    for i, step in enumerate(steps):
        if step >= left:
            out.append(points[i] + (points[i + 1] - points[i]) * (left / step if step else 0))
            break
        out.append(points[i + 1])
        left -= float(step)
    return np.array(out if len(out) > 1 else [points[0], points[0]])


def _draw_sheet_marks(
    picture: Picture,
    cut: SheetCut,
    pieces: Mapping[str, Piece],
    place: Transform,
    palette: Palette,
    unit: float,
    system: System,
    title: str,
    item: str,
) -> None:
    """Size along two sides, the share used, and the grain."""
    stock = cut.sheet.stock
    corners = place(
        np.array(
            [[0, 0], [stock.width, 0], [stock.width, stock.height], [0, stock.height]], dtype=float
        )
    )
    (x0, y0), (x1, _), (_, _), (_, y1) = corners
    quiet = palette.quiet
    narrow = x1 - x0 < NARROW * unit
    words = title.split(":")[0] if narrow else title
    words += f" · {item}" if item else ""
    picture.add(Label(words, x0, y1 - 14 * unit, 12.5 * unit, palette.ink, "start", 600))
    used = f"{cut.sheet.used:.0%} used"
    if narrow:
        picture.add(Label(used, x0, y0 + 14 * unit, 12 * unit, quiet, "start"))
        return
    across, along = (format_length(v, system) for v in (stock.width, stock.height))
    picture.add(Label(across, (x0 + x1) / 2, y0 + 14 * unit, 11.5 * unit, quiet))
    picture.add(Label(used, x1, y0 + 14 * unit, 12 * unit, quiet, "end"))
    middle = (y0 + y1) / 2
    picture.add(Label(along, x0 - 12 * unit, middle, 11.5 * unit, quiet, turn=-90))
    quiet = LIGHT.quiet  # from here on the marks lie on the sheet
    if cut.board.grain == "none":
        return
    along_y = grain_upward(cut.board, (stock.width, stock.height), stock.grain)
    gx, gy = _grain_spot(cut, pieces, along_y, unit, place)
    reach = 34 * unit
    tip = np.array([gx, gy + reach]) if along_y else np.array([gx - reach, gy])
    start = np.array([gx, gy])
    way = (tip - start) / reach
    side = np.array([-way[1], way[0]])
    heads = []
    for end, sign in ((start, 1.0), (tip, -1.0)):
        heads.append(
            np.array(
                [end + (way * sign + side) * 4 * unit, end, end + (way * sign - side) * 4 * unit]
            )
        )
    picture.add(Path((np.array([start, tip]), *heads), closed=False, stroke=Stroke(quiet, unit)))
    text = (gx - 10 * unit, gy + reach / 2) if along_y else (gx - reach / 2, gy + 12 * unit)
    picture.add(Label("grain", text[0], text[1], 10.5 * unit, quiet, turn=-90 if along_y else 0))


def _grain_spot(
    cut: SheetCut, pieces: Mapping[str, Piece], along_y: bool, unit: float, place: Transform
) -> tuple[float, float]:
    """Where the grain's arrow begins: in a corner of the sheet in which nothing lies, if there is.

    It goes down from there, or to the left, with its word beside it.
    """
    stock, u = cut.sheet.stock, unit
    near = 16 * u + (CLEAR * place.scale if cut.sheet.printed else 0.0)  # beside the mark
    (x0, y0), (x1, y1) = place(np.array([[0.0, 0.0], [stock.width, stock.height]]))
    wide, high = (16 * u, 36 * u) if along_y else (36 * u, 18 * u)
    right, left = x1 - near, x0 + near + (0.0 if along_y else wide)
    up, down = y1 + near, y0 - near - (high if along_y else 0.0)
    region = shapely.transform(stock.region, place)
    lying = [
        shapely.transform(
            piece_polygon(pieces[one.piece]), lambda p, o=one: place(placed_points(p, o))
        )
        for one in cut.sheet.placed
        if one.piece in pieces
    ]
    spots = [(right, up), (left, up), (right, down), (left, down)]
    boxes = [shapely.box(x - wide, y - 4 * u, x + 4 * u, y + high) for x, y in spots]
    on = [i for i, box in enumerate(boxes) if region.contains(box)]
    free = [i for i in on if not shapely.intersects(boxes[i], lying).any()]
    x, y = spots[next(iter((*free, *on, 0)))]
    return float(x), float(y)
