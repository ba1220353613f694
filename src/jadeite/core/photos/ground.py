"""Telling a figure from its background: by transparency, one colour, or colours and edges.

A busy background is told by colours in the small (graph cuts: Rother, Kolmogorov and Blake,
"GrabCut", 2004), then by edges in the large (watershed: Meyer, 1994) along what was found.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from jadeite.core.photos.pixels import Bytes, Floats, Pixels

__all__ = ["WAYS", "Brush", "cover_of", "reduced"]

WAYS = ("auto", "clear", "plain", "busy", "whole")
WORK = 1_600_000  # pixels that are looked at; from memory, 0.1 mm each on a hand-sized figure
COARSE = 120_000  # pixels in which colours are first told apart; from memory
ROUNDS = 3  # of telling colours apart; from memory
RIM = 0.012  # of the longer side: what of a picture is background for sure; from memory
SOLID = 128  # of 255, from which a pixel covers; half, by definition
CLEAR = 0.01  # of all pixels: so many transparent ones say that a background is gone; from memory
EVEN = 0.85  # of the rim of one shade says that a background is plain; from memory
SPREAD, LEAST_SPREAD = 4.0, 9.0  # times the rim's own, and at least, in CIE Lab; from memory
MIXED = 36.0  # in CIE Lab: a rim whose near is as far as that is of many colours; from memory
BESIDE = 3  # pixels over which an edge is soft; from memory
SHADES = 10  # main shades of a rim; from memory
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
    colours = cv2.resize(pixels.colours, size, interpolation=cv2.INTER_AREA)
    cover = pixels.cover
    if cover is not None:
        cover = cv2.resize(cover, size, interpolation=cv2.INTER_AREA).astype(np.uint8)
    return Pixels(colours.astype(np.uint8), cover)


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
        cover = (pixels.cover >= SOLID).astype(np.uint8)
    elif way == "plain":
        cover = _off_plain(pixels, tolerance)
    elif way == "busy":
        cover = _off_busy(pixels, tolerance, brushes)
    else:
        cover = np.ones(pixels.colours.shape[:2], np.uint8)
    cover = _without_holes(cover)
    for brush in brushes:
        _stroke(cover, brush, int(brush.keeps))
    return cover, way


def _suits(pixels: Pixels) -> str:
    """The way that suits a picture."""
    if pixels.cover is not None and float((pixels.cover < SOLID).mean()) > CLEAR:
        return "clear"
    off, limit = _off_rim(pixels, 1.0)
    rim = _rim(off.shape)
    return "plain" if limit < MIXED and float((off[rim] <= limit).mean()) >= EVEN else "busy"


def _rim(shape: tuple[int, ...]) -> np.ndarray:
    """The pixels along the edges of a picture."""
    wide = max(2, round(RIM * max(shape)))
    out = np.ones(shape[:2], bool)
    out[wide:-wide, wide:-wide] = False
    return out


def _off_rim(pixels: Pixels, tolerance: float) -> tuple[np.ndarray, float]:
    """How far each pixel is from the colour of the rim, maybe shaded, and how far is near."""
    lab = cv2.cvtColor(pixels.colours.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    rim = _rim(lab.shape)
    rows, columns = np.nonzero(rim)
    height, width = lab.shape[:2]
    base = np.column_stack([np.ones(len(rows)), columns / width - 0.5, rows / height - 0.5])
    seen = lab[rows, columns].astype(np.float64)
    keep = np.ones(len(rows), bool)
    for _ in range(3):  # a figure may reach over the rim: what is far off is left out
        plane, *_rest = np.linalg.lstsq(base[keep], seen[keep], rcond=None)
        away = np.linalg.norm(seen - base @ plane, axis=1)
        spread = max(1.0, float(np.median(away[keep])))
        keep = away <= SPREAD * spread
    y, x = np.mgrid[:height, :width].astype(np.float32)
    x, y = x / np.float32(width) - 0.5, y / np.float32(height) - 0.5
    of = plane.astype(np.float32)
    off = np.sqrt(
        sum((lab[..., k] - of[0, k] - of[1, k] * x - of[2, k] * y) ** 2 for k in range(3))
    )
    return np.asarray(off), tolerance * max(LEAST_SPREAD, SPREAD * spread)


def _off_plain(pixels: Pixels, tolerance: float) -> Bytes:
    """All but what is of the rim's colour and joined to the rim."""
    off, limit = _off_rim(pixels, tolerance)
    off = cv2.GaussianBlur(off, (0, 0), 0.8)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * BESIDE + 1,) * 2)
    half = cv2.dilate(off, disc) / 2  # a mixed pixel goes to what it has more of
    near = (off <= np.maximum(limit, half)).astype(np.uint8)
    _, labels = cv2.connectedComponents(near, connectivity=4)
    edge = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    ground = np.isin(labels, np.unique(edge[edge > 0]))
    return (~ground).astype(np.uint8)


def _off_busy(pixels: Pixels, tolerance: float, brushes: Sequence[Brush]) -> Bytes:
    """By colours in the small, then along the strongest edges in the large."""
    cv2.setRNGSeed(1)  # the same picture always gives the same outline
    small = reduced(pixels, COARSE)
    guess = np.full(small.colours.shape[:2], cv2.GC_PR_FGD, np.uint8)
    off = _off_shades(small)
    limit, _ = cv2.threshold(off, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    guess[off <= tolerance * limit] = cv2.GC_PR_BGD
    guess[_rim(guess.shape)] = cv2.GC_BGD
    for brush in brushes:
        _stroke(guess, brush, cv2.GC_FGD if brush.keeps else cv2.GC_BGD)
    if not ((guess == cv2.GC_PR_FGD) | (guess == cv2.GC_FGD)).any():
        return np.zeros(pixels.colours.shape[:2], np.uint8)
    ground, figure = np.zeros((1, 65)), np.zeros((1, 65))
    bgr = np.ascontiguousarray(small.colours[:, :, ::-1])
    cv2.grabCut(bgr, guess, None, ground, figure, ROUNDS, cv2.GC_INIT_WITH_MASK)
    found = (guess & 1).astype(np.uint8)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * DOUBT + 1,) * 2)
    size = pixels.size
    sure = cv2.resize(cv2.erode(found, disc), size, interpolation=cv2.INTER_NEAREST)
    never = cv2.resize(1 - cv2.dilate(found, disc), size, interpolation=cv2.INTER_NEAREST)
    thin = cv2.resize(found, size, interpolation=cv2.INTER_NEAREST)  # what no disc fits into
    sure |= thin & cv2.resize(_thin(found, disc), size, interpolation=cv2.INTER_NEAREST)
    marks = np.where(sure > 0, 2, np.where(never > 0, 1, 0)).astype(np.int32)
    smooth = cv2.GaussianBlur(pixels.colours, (0, 0), 1.2)
    met = cv2.watershed(smooth, marks)
    # the line between is given to the figure where it is more like it
    return np.asarray((met == 2) | ((met == -1) & (thin > 0)), np.uint8)


def _off_shades(pixels: Pixels) -> Bytes:
    """How far each pixel is from the nearest of the rim's main shades, in CIE Lab, up to 255."""
    lab = cv2.cvtColor(pixels.colours.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    seen = np.ascontiguousarray(lab[_rim(lab.shape)])
    count = min(SHADES, len(seen))
    ends = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 10, 1.0)
    _, _, shades = cv2.kmeans(seen, count, None, ends, 1, cv2.KMEANS_PP_CENTERS)
    off = np.min([np.linalg.norm(lab - shade, axis=2) for shade in shades], axis=0)
    return np.asarray(cv2.GaussianBlur(np.clip(2 * off, 0, 255), (0, 0), 1.5), np.uint8)


def _thin(found: Bytes, disc: Bytes) -> Bytes:
    """What of a figure is too narrow to keep a middle after wearing it off."""
    return np.asarray(found - cv2.morphologyEx(found, cv2.MORPH_OPEN, disc), np.uint8)


def _without_holes(cover: Bytes) -> Bytes:
    """What lies inside a figure is of it, whatever its colour: eyes are not cut out."""
    wide = np.pad(1 - cover, 1, constant_values=1)
    _, labels = cv2.connectedComponents(wide, connectivity=4)
    return np.asarray(labels[1:-1, 1:-1] != labels[0, 0], dtype=np.uint8)


def _stroke(cover: Bytes, brush: Brush, value: int) -> None:
    """Paint a stroke into an array."""
    height, width = cover.shape
    side = max(width, height)
    at = np.column_stack(
        [brush.points[:, 0] * side + width / 2, height / 2 - brush.points[:, 1] * side]
    )
    spots = np.round(at - 0.5).astype(np.int32)
    radius = max(1, round(brush.radius * side))
    if len(spots) > 1:
        cv2.polylines(cover, [spots.reshape(-1, 1, 2)], False, value, 2 * radius)
    for x, y in (spots[0], spots[-1]):
        cv2.circle(cover, (int(x), int(y)), radius, value, -1)
