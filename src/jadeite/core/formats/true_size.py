"""Nets at true size, over several pages where one does not hold them."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from jadeite.core.formats.fonts import text_width
from jadeite.core.formats.page import BODY, HAIR, MARGIN, Page
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.outline import loops_of
from jadeite.core.pictures import LIGHT, Label, Path, Picture, Stroke, net_key
from jadeite.core.pictures.flat import Transform, line_strokes, piece_paths
from jadeite.core.units import numbered

__all__ = ["true_size_pages"]

MAP, EDGE = (22.0, 12.0), 3.5  # mm, from memory: of the map of pages, and from the edge
OVERLAP = 10.0  # mm; from memory, tiles overlap by this
SAMPLE, KEY = 9.0, 2.6  # mm, from memory: of a line in the key, and the size of its words
BETWEEN = 5.0  # mm from one to the next; from memory


def true_size_pages(
    piece: Piece, size: tuple[float, float], titles: Sequence[str] = (), count: int = 1
) -> list[Page]:
    """A net at 1 : 1, over several pages where one does not hold it.

    ``titles`` are those of all pieces that are cut alike, ``count`` is how often in all.
    """
    points = np.concatenate([panel.outline for panel in piece.panels])
    low, span = points.min(axis=0), np.ptp(points, axis=0)
    head = 8.0
    room = (size[0] - 2 * MARGIN, size[1] - 2 * MARGIN - head)
    turned = _tiles(span, room[::-1]) < _tiles(span, room)
    if turned:  # a quarter turn saves paper
        span = span[::-1]
    counts = [_count(float(s), r) for s, r in zip(span, room, strict=True)]
    key = _line_key(piece, MARGIN, MARGIN + 5.4, room[0])
    pages = []
    for row in range(counts[1]):
        for column in range(counts[0]):
            page = Page(*size)
            dx = column * (room[0] - OVERLAP) if counts[0] > 1 else (span[0] - room[0]) / 2
            dy = row * (room[1] - OVERLAP) if counts[1] > 1 else 0.0
            x, y = MARGIN - float(dx), MARGIN + head - float(dy)
            place = _Turned(turned, float(low[0]), float(low[1]), x, y, span)
            net = Picture(items=list(piece_paths(piece, place, LIGHT, HAIR, "#FFFFFF")))
            clip = (MARGIN, MARGIN + head, room[0], room[1])
            page.layers.append((net, clip))
            name = f"{numbered(titles or [piece.title])}, 1 : 1, good side up"
            name += f" · cut {count} of it" if count > 1 else ""
            if counts[0] * counts[1] > 1:
                name += f" · column {column + 1} of {counts[0]}, row {row + 1} of {counts[1]}"
                page.layers.append((_overlap_marks(clip), None))
                tile = column * counts[1] + row
                page.layers.append((_page_map(piece, turned, low, span, room, counts, tile), None))
            page.text(name, MARGIN, MARGIN + 1, BODY, weight=600)
            page.layers.append((key, None))
            pages.append(page)
    return pages


def _page_map(
    piece: Piece,
    turned: bool,
    low: Floats,
    span: Floats,
    room: tuple[float, float],
    counts: Sequence[int],
    tile: int,
) -> Picture:
    """How the pages of a net lie to one another, small, with this one filled; top right.

    ``low`` and ``span`` (2,) are of the flat net, mm; tiles are counted column by column.
    """
    out = Picture()
    step = [r - OVERLAP if n > 1 else 0.0 for r, n in zip(room, counts, strict=True)]
    start = [
        0.0 if n > 1 else (float(s) - r) / 2 for s, r, n in zip(span, room, counts, strict=True)
    ]
    whole = [s * (n - 1) + r for s, r, n in zip(step, room, counts, strict=True)]
    scale = min(MAP[0] / whole[0], MAP[1] / whole[1])
    left = MARGIN + room[0] - whole[0] * scale
    thin, bold = Stroke(LIGHT.quiet, HAIR * 0.5), Stroke(LIGHT.jade, HAIR)
    at = np.array([left, EDGE])
    for number in sorted(range(counts[0] * counts[1]), key=lambda n: n == tile):
        column, row = divmod(number, counts[1])
        corner = at + np.array([column * step[0], row * step[1]]) * scale
        wide, high = room[0] * scale, room[1] * scale
        ring = corner + np.array([[0, 0], [wide, 0], [wide, high], [0, high]])
        here = number == tile
        fill = LIGHT.jade_wash if here else None
        out.add(Path((ring,), fill=fill, stroke=bold if here else thin))
    place = _Turned(turned, float(low[0]), float(low[1]), 0.0, 0.0, span)
    for loop in loops_of(piece):
        if not loop.hole:
            points = at + (place(loop.points) - start) * scale
            out.add(Path((points,), stroke=Stroke(LIGHT.ink, HAIR * 0.6)))
    return out


def _line_key(piece: Piece, x: float, y: float, wide: float) -> Picture:
    """What the lines of a net mean, in one row that begins at (x, y) and is ``wide``, mm."""
    out = Picture()
    strokes = line_strokes(LIGHT, HAIR)
    key = [(kind, words, SAMPLE + 1.5 + text_width(words, KEY)) for kind, words in net_key([piece])]
    between = (wide - sum(each for *_, each in key)) / max(1, len(key) - 1)
    for kind, words, each in key:
        if kind == "glue":
            marks = tuple(
                np.array([[x + i, y + 1], [x + i + 2, y - 1]]) for i in np.arange(0, SAMPLE - 1, 2)
            )
            out.add(Path(marks, closed=False, stroke=Stroke(LIGHT.sand, HAIR)))
        else:
            line = np.array([[x, y], [x + SAMPLE, y]])
            out.add(Path((line,), closed=False, stroke=strokes[kind]))
        out.add(Label(words, x + SAMPLE + 1.5, y, KEY, LIGHT.quiet, "start"))
        x += each + min(between, BETWEEN)
    return out


def _count(length: float, room: float) -> int:
    if length <= room:
        return 1
    return math.ceil((length - OVERLAP) / (room - OVERLAP))


def _tiles(span: Floats, room: tuple[float, ...]) -> int:
    return math.prod(_count(float(s), r) for s, r in zip(span, room, strict=True))


class _Turned(Transform):
    """Flat mm to page mm, perhaps after a quarter turn (never a mirror)."""

    def __init__(
        self, turned: bool, low_x: float, low_y: float, x: float, y: float, span: Floats
    ) -> None:
        super().__init__(1.0, x, y)
        self.turned, self.low, self.span = turned, (low_x, low_y), span

    def __call__(self, points: Floats) -> Floats:
        u, v = points[:, 0] - self.low[0], points[:, 1] - self.low[1]
        if self.turned:
            u, v = float(self.span[0]) - v, u
        return np.column_stack([self.x + u, self.y + float(self.span[1]) - v])


def _overlap_marks(clip: tuple[float, float, float, float]) -> Picture:
    """Corner crosses and the lines up to which neighbouring pages overlap."""
    x, y, w, h = clip
    picture = Picture()
    river = Stroke(LIGHT.river, HAIR)
    for cx in (x + OVERLAP, x + w - OVERLAP):
        for cy in (y + OVERLAP, y + h - OVERLAP):
            cross = (np.array([[cx - 4, cy], [cx + 4, cy]]), np.array([[cx, cy - 4], [cx, cy + 4]]))
            picture.add(Path(cross, closed=False, stroke=river))
    edge = np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]])
    picture.add(Path((edge,), stroke=Stroke(LIGHT.river, HAIR, (2.0, 2.0))))
    picture.add(
        Label(
            "lay the crosses of neighbouring pages on one another",
            x + w / 2,
            y + h + 2.4,
            2.6,
            LIGHT.river,
        )
    )
    return picture
