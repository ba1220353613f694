"""Pictures of known outlines, painted for tests by Pillow alone."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image, ImageDraw
from shapely.geometry import Polygon

__all__ = ["blob", "jpeg", "painted", "png"]

FINE = 4  # times as fine as the picture, so that its edges are soft as a camera's are


def blob(seed: int, reach: float = 0.3) -> np.ndarray:
    """A smooth closed outline about (0, 0) in parts of the longer side, (n, 2), y up."""
    rng = np.random.default_rng(seed)
    turn = np.linspace(0, 2 * np.pi, 720, endpoint=False)
    far = np.full(720, reach)
    for k in range(2, 7):
        far += 0.09 * reach * rng.normal() * np.cos(k * turn + rng.uniform(0, 2 * np.pi))
    far = np.minimum(far, 0.34)  # all of it is in the picture
    return np.column_stack([far * np.cos(turn), far * np.sin(turn)])


def _ground(width: int, height: int, busy: bool) -> tuple[np.ndarray, np.ndarray]:
    """Colours of the background, and of the figure, (h, w, 3)."""
    y, x = np.mgrid[:height, :width] / max(width, height)
    if not busy:
        ground = np.stack([235 - 20 * x, 240 - 10 * y, 236 + 0 * x], -1)
        figure = np.stack([90 + 60 * np.sin(40 * x), 80 + 50 * np.cos(60 * y), 120 + 0 * x], -1)
        return ground, figure
    leaves = np.sin(60 * x + 4 * np.sin(13 * y)) * np.cos(47 * y)
    ground = np.stack([90 + 50 * leaves, 140 + 60 * leaves, 90 + 40 * np.cos(33 * x)], -1)
    figure = np.stack([205 + 20 * np.sin(40 * x), 100 + 30 * np.cos(50 * y), 60 + 0 * x], -1)
    return ground, figure


def painted(
    size: tuple[int, int],
    outline: np.ndarray,
    *,
    busy: bool = False,
    bits: tuple[tuple[float, float, float], ...] = (),
    noise: float = 6.0,
) -> np.ndarray:
    """A figure before a background, (h, w, 3); ``bits`` are stray discs, shares."""
    width, height = size
    side = max(size)
    mask = Image.new("L", (width * FINE, height * FINE), 0)
    draw = ImageDraw.Draw(mask)
    points = (outline * (1, -1) * side + (width / 2, height / 2)) * FINE
    draw.polygon([tuple(p) for p in points], fill=255)
    for x, y, radius in bits:
        at = (np.array([x, -y]) * side + (width / 2, height / 2)) * FINE
        r = radius * side * FINE
        draw.ellipse([*(at - r), *(at + r)], fill=255)
    share = np.asarray(mask.resize((width, height), Image.Resampling.BOX), float)[..., None] / 255
    ground, figure = _ground(width, height, busy)
    rng = np.random.default_rng(1)
    out = ground * (1 - share) + figure * share + rng.normal(0, noise, ground.shape)
    return out.clip(0, 255).astype(np.uint8)


def png(colours: np.ndarray, **more: object) -> bytes:
    """As a PNG file."""
    out = io.BytesIO()
    Image.fromarray(colours).save(out, "PNG", **more)
    return out.getvalue()


def jpeg(colours: np.ndarray, **more: object) -> bytes:
    """As a JPEG file."""
    out = io.BytesIO()
    Image.fromarray(colours).save(out, "JPEG", quality=90, **more)
    return out.getvalue()


def area(outline: np.ndarray) -> float:
    """Of an outline, in squares of the longer side."""
    return float(Polygon(outline).area)
