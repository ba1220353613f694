"""Telling a figure from its background: by transparency, one colour, or colours and edges.

A busy background is told in the small by the main shades of what lies outside and inside, in
turns, by the least cut of a graph (Rother, Kolmogorov and Blake, "GrabCut", 2004); then in the
large once more, along what was found.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageCms, ImageDraw
from scipy import ndimage  # type: ignore[import-untyped]
from scipy.cluster.vq import kmeans2  # type: ignore[import-untyped]
from scipy.linalg import solve_triangular  # type: ignore[import-untyped]
from scipy.sparse import coo_matrix  # type: ignore[import-untyped]
from scipy.sparse.csgraph import (  # type: ignore[import-untyped]
    breadth_first_order,
    maximum_flow,
)

from jadeite.core.photos.pixels import Bytes, Floats, Pixels

__all__ = ["SOLID", "WAYS", "Brush", "cover_of", "reduced"]

WAYS = ("auto", "clear", "plain", "busy", "whole")
WORK = 1_600_000  # pixels that are looked at; from memory, 0.1 mm each on a hand-sized figure
COARSE = 90_000  # pixels in which colours are first told apart; from memory
ROUNDS = 5  # of telling colours apart; from memory
RIM = 0.012  # of the longer side: what of a picture is background for sure; from memory
SOLID = 128  # of 255, from which a pixel covers; half, by definition
CLEAR = 0.01  # of all pixels: so many transparent ones say that a background is gone; from memory
EVEN = 0.85  # of the rim of one shade says that a background is plain; from memory
SPREAD, LEAST_SPREAD = 4.0, 9.0  # times the rim's own, and at least, in CIE Lab; from memory
MIXED = 36.0  # in CIE Lab: a rim whose near is as far as that is of many colours; from memory
BESIDE = 3  # pixels over which an edge is soft; from memory
SHADES, SAMPLE = 5, 4000  # main shades of a region, found in so many of its pixels; from memory
LEAST_SHADE = 2.0  # in CIE Lab, of what one shade spreads at least; from memory
STILL = 0.0005  # of all pixels: when fewer change, no further round is needed; from memory
FEWEST = 6  # pixels of a shade; from memory
SURE = 300.0  # logarithm: more sure than that is no pixel by its colour alone; from memory
CERTAIN = 1000.0  # of what a brush or the rim says; beyond what all neighbours can undo
LIKE = 100.0  # of two pixels alike; twice what is published for eight neighbours (GrabCut: 50)
PARTS = 64  # setting: whole numbers in which the graph is cut
DOUBT = 3  # coarse pixels on either side of an outline that edges decide; from memory


@dataclass(frozen=True, eq=False)
class Brush:
    """A stroke by hand: what it covers is kept, or dropped.

    ``points`` are (n, 2) shares, ``radius`` in parts of the longer side.
    """

    keeps: bool
    radius: float
    points: Floats


def reduced(pixels: Pixels, most: int = WORK) -> Pixels:
    """The picture with at most so many pixels."""
    width, height = pixels.size
    scale = (most / (width * height)) ** 0.5
    if scale >= 1:
        return pixels
    size = max(1, round(width * scale)), max(1, round(height * scale))

    def less(part: Bytes) -> Bytes:
        return np.asarray(Image.fromarray(part).resize(size, Image.Resampling.BOX))

    return Pixels(less(pixels.colours), None if pixels.cover is None else less(pixels.cover))


def cover_of(
    pixels: Pixels, way: str, tolerance: float, brushes: Sequence[Brush] = ()
) -> tuple[Bytes, str]:
    """Which pixels belong to the figure, (h, w) of 0 and 1, and the way in which they were told.

    Parameters
    ----------
    way : str
        One of :data:`WAYS`; ``auto`` looks which suits.
    tolerance : float
        1 is usual; with more, more is background.
    brushes : sequence of Brush
        Taken in their order, after all else.
    """
    way = _suits(pixels) if way == "auto" else way
    if way == "clear" and pixels.cover is not None:
        cover = pixels.cover >= SOLID
    elif way == "plain":
        cover = _off_plain(pixels, tolerance)
    elif way == "busy":
        cover = _off_busy(pixels, tolerance, brushes)
    else:
        cover = np.ones(pixels.colours.shape[:2], bool)
    cover = ndimage.binary_fill_holes(cover)  # eyes are not cut out, whatever their colour
    for brush in brushes:
        cover[_stroke(cover.shape, brush)] = brush.keeps
    return np.asarray(cover, np.uint8), way


def _lab(pixels: Pixels) -> Floats:
    """CIE Lab of each pixel, (h, w, 3), from sRGB; to half a step of 8 bits."""
    to_lab = ImageCms.buildTransform(
        ImageCms.createProfile("sRGB"), ImageCms.createProfile("LAB"), "RGB", "LAB"
    )
    image = ImageCms.applyTransform(Image.fromarray(pixels.colours), to_lab)
    assert image is not None
    raw = np.asarray(image)
    signed = raw[..., 1:].astype(np.int8).astype(np.float64)
    return np.dstack([raw[..., 0] * (100 / 255), signed])


def _suits(pixels: Pixels) -> str:
    """The way that suits a picture."""
    if pixels.cover is not None and float((pixels.cover < SOLID).mean()) > CLEAR:
        return "clear"
    off, limit = _off_rim(reduced(pixels, COARSE), 1.0)
    rim = _rim(off.shape)
    return "plain" if limit < MIXED and float((off[rim] <= limit).mean()) >= EVEN else "busy"


def _rim(shape: tuple[int, ...]) -> np.ndarray:
    """The pixels along the edges of a picture."""
    wide = max(2, round(RIM * max(shape[:2])))
    out = np.ones(shape[:2], bool)
    out[wide:-wide, wide:-wide] = False
    return out


def _off_rim(pixels: Pixels, tolerance: float) -> tuple[Floats, float]:
    """How far each pixel is from the colour of the rim, maybe shaded, and how far is near."""
    lab = _lab(pixels)
    rim = _rim(lab.shape)
    rows, columns = np.nonzero(rim)
    height, width = lab.shape[:2]
    base = np.column_stack([np.ones(len(rows)), columns / width - 0.5, rows / height - 0.5])
    seen = lab[rows, columns]
    keep = np.ones(len(rows), bool)
    for _ in range(3):  # a figure may reach over the rim: what is far off is left out
        plane, *_rest = np.linalg.lstsq(base[keep], seen[keep], rcond=None)
        away = np.linalg.norm(seen - base @ plane, axis=1)
        spread = max(1.0, float(np.median(away[keep])))
        keep = away <= SPREAD * spread
    x = (np.arange(width) / width - 0.5)[None, :, None]
    y = (np.arange(height) / height - 0.5)[:, None, None]
    off = np.linalg.norm(lab - (plane[0] + plane[1] * x + plane[2] * y), axis=2)
    return np.asarray(off), tolerance * max(LEAST_SPREAD, SPREAD * spread)


def _off_plain(pixels: Pixels, tolerance: float) -> np.ndarray:
    """All but what is of the rim's colour and joined to the rim."""
    off, limit = _off_rim(pixels, tolerance)
    off = ndimage.gaussian_filter(off, 0.8)
    half = ndimage.maximum_filter(off, 2 * BESIDE + 1) / 2  # a mixed pixel goes to the larger part
    near, _ = ndimage.label(off <= np.maximum(limit, half))
    edge = np.unique(np.concatenate([near[0], near[-1], near[:, 0], near[:, -1]]))
    return ~np.isin(near, edge[edge > 0])


def _off_busy(pixels: Pixels, tolerance: float, brushes: Sequence[Brush]) -> np.ndarray:
    """By colours in the small, then along the strongest edges in the large."""
    small = reduced(pixels, COARSE)
    lab, rim = _lab(small), _rim(small.colours.shape)
    rng = np.random.default_rng(1)  # the same picture always gives the same outline
    middles = np.array([middle for _, middle, _ in _shades(lab[rim], rng)])
    off = np.min([np.linalg.norm(lab - middle, axis=2) for middle in middles], axis=0)
    off = ndimage.gaussian_filter(off, 1.5)
    found = off > tolerance * _parting(off)
    found[rim] = False
    strokes = [(_stroke(rim.shape, brush), brush.keeps) for brush in brushes]
    edges, free = _likeness(lab), np.ones(rim.shape, bool)
    for _ in range(ROUNDS):
        for where, keeps in strokes:
            found[where] = keeps
        if found.all() or not found.any():
            break
        outside, inside = (_shades(lab[_inner(part)], rng) for part in (~found, found))
        sure = np.clip(
            _unlike(lab, outside) - _unlike(lab, inside) - np.log(tolerance), -SURE, SURE
        )
        sure[rim] = -CERTAIN
        for where, keeps in strokes:
            sure[where] = CERTAIN if keeps else -CERTAIN
        before, found = found, _cut(sure, *edges, free, found)
        if float((before != found).mean()) < STILL:
            break
    if not found.any() or found.all():
        return np.zeros(pixels.colours.shape[:2], bool)
    return _in_the_large(pixels, found, outside, inside)


def _inner(part: np.ndarray) -> np.ndarray:
    """A region without its edge, whose pixels are mixed; all of one that is no wider."""
    worn = ndimage.binary_erosion(part, border_value=1)
    return np.asarray(worn if worn.any() else part)


Shades = list[
    tuple[float, np.ndarray, np.ndarray]
]  # the logarithm of a share, a middle (3,), a spread


def _shades(colours: Floats, rng: np.random.Generator) -> Shades:
    """The main shades of some pixels, (n, 3), as normal distributions."""
    seen = colours if len(colours) <= SAMPLE else colours[rng.integers(0, len(colours), SAMPLE)]
    count = min(SHADES, len(seen))
    middles, of = kmeans2(seen, count, iter=8, minit="++", seed=rng, missing="warn")
    out = []
    for k in range(count):
        mine = seen[of == k]
        if len(mine) < FEWEST and len(mine) < len(seen):
            continue
        spread = np.cov(mine.T) if len(mine) > 1 else np.zeros((3, 3))
        root = np.linalg.cholesky(spread + LEAST_SHADE**2 * np.eye(3))
        out.append((float(np.log(len(mine) / len(seen))), middles[k], root))
    return out


def _unlike(lab: Floats, shades: Shades) -> Floats:
    """How little likely each pixel is of some shades: minus the logarithm, (h, w)."""
    flat = lab.reshape(-1, 3)
    parts = []
    for share, middle, root in shades:
        apart = solve_triangular(root, (flat - middle).T, lower=True)
        parts.append(share - np.log(np.diag(root)).sum() - (apart**2).sum(axis=0) / 2)
    likely = np.array(parts)
    most = likely.max(axis=0)
    return np.asarray(-(most + np.log(np.exp(likely - most).sum(axis=0))).reshape(lab.shape[:2]))


def _likeness(lab: Floats) -> tuple[Floats, Floats]:
    """How alike neighbours are, right (h, w - 1) and below (h - 1, w), 0 to the most."""
    right = ((lab[:, 1:] - lab[:, :-1]) ** 2).sum(axis=2)
    below = ((lab[1:] - lab[:-1]) ** 2).sum(axis=2)
    beta = 1 / max(1e-6, 2 * float(np.concatenate([right.ravel(), below.ravel()]).mean()))
    return LIKE * np.exp(-beta * right), LIKE * np.exp(-beta * below)


def _cut(
    sure: Floats, right: Floats, below: Floats, free: np.ndarray, known: np.ndarray
) -> np.ndarray:
    """The figure whose pixels are surest and whose outline parts those least alike.

    It is the least cut of a graph (Boykov and Jolly, 2001): every pixel that is ``free`` hangs on
    the figure or on the background by how sure it is, and on its neighbours by how alike they
    are; all others are as they are ``known``.
    """
    count = int(free.sum())
    number = np.full(free.shape, -1)
    number[free] = np.arange(count)
    sure, pairs = sure.copy(), []
    held = np.where(known, 1.0, -1.0)
    for one, other, like in (
        (np.s_[:, :-1], np.s_[:, 1:], right), (np.s_[:-1], np.s_[1:], below),
    ):  # fmt: skip
        both = free[one] & free[other]
        a, b = number[one][both], number[other][both]
        pairs += [(a, b, like[both]), (b, a, like[both])]
        sure[one] += np.where(free[one] & ~free[other], like * held[other], 0.0)
        sure[other] += np.where(free[other] & ~free[one], like * held[one], 0.0)
    pull, own = sure[free], np.arange(count)
    pairs += [(np.full(count, count), own, np.maximum(pull, 0)),
              (own, np.full(count, count + 1), np.maximum(-pull, 0))]  # fmt: skip
    rows, columns, weights = (np.concatenate([pair[k] for pair in pairs]) for k in range(3))
    room = coo_matrix(
        ((weights * PARTS).astype(np.int32), (rows, columns)), shape=(count + 2, count + 2)
    ).tocsr()
    left = room - maximum_flow(room, count, count + 1, method="dinic").flow
    left.data[left.data < 0] = 0
    left.eliminate_zeros()
    reached = np.zeros(count + 2, bool)
    reached[breadth_first_order(left, count, return_predecessors=False)] = True
    out = known.copy()
    out[free] = reached[:count]
    return out


def _parting(off: Floats) -> float:
    """The value that parts two kinds best by their means (Otsu, 1979)."""
    counts, edges = np.histogram(np.clip(off, None, np.percentile(off, 99.5)), 128)
    middles = (edges[1:] + edges[:-1]) / 2
    below, sums = np.cumsum(counts), np.cumsum(counts * middles)
    above = below[-1] - below
    with np.errstate(divide="ignore", invalid="ignore"):
        between = below * above * (sums / below - (sums[-1] - sums) / above) ** 2
    return float(middles[int(np.nanargmax(between))])


def _in_the_large(pixels: Pixels, found: np.ndarray, outside: Shades, inside: Shades) -> np.ndarray:
    """A coarse figure in the large: the pixels near its outline are told once more."""
    size = pixels.size

    def large(part: np.ndarray) -> np.ndarray:
        image = Image.fromarray(part.astype(np.uint8))
        return np.asarray(image.resize(size, Image.Resampling.NEAREST)) > 0

    disc = np.hypot(*np.mgrid[-DOUBT : DOUBT + 1, -DOUBT : DOUBT + 1]) <= DOUBT + 0.5
    near = ndimage.binary_dilation(found, disc) & ~ndimage.binary_erosion(found, disc)
    free, known = large(near), large(found)
    soft = ndimage.gaussian_filter(pixels.colours, (0.8, 0.8, 0))
    lab = _lab(Pixels(soft))
    sure = np.zeros(free.shape)
    some = lab[free]
    told = _unlike(some[None], outside) - _unlike(some[None], inside)
    sure[free] = np.clip(told[0], -SURE, SURE)
    return _cut(sure, *_likeness(lab), free, known)


def _stroke(shape: tuple[int, ...], brush: Brush) -> np.ndarray:
    """Which pixels of an array a stroke covers."""
    height, width = shape[:2]
    side = max(width, height)
    image = Image.new("1", (width, height))
    draw = ImageDraw.Draw(image)
    spots = [(width / 2 + x * side, height / 2 - y * side) for x, y in brush.points.tolist()]
    radius = max(1.0, brush.radius * side)
    if len(spots) > 1:
        draw.line(spots, fill=1, width=max(1, round(2 * radius)), joint="curve")
    for x, y in (spots[0], spots[-1]):
        draw.ellipse([x - radius, y - radius, x + radius, y + radius], fill=1)
    return np.array(image)
