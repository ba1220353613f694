"""Draw the owl astronomer of the examples: a painted figure before a pale sky, as a PNG."""

from __future__ import annotations

import math
import sys
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

WIDE, HIGH, FINE = 1500, 2000, 2  # pixels; drawn finer, then made smaller
NIGHT, OCHRE, MOON, MOSS = (51, 64, 94), (217, 185, 120), (255, 250, 236), (138, 154, 107)
BROWN, DEEP, BRICK, BRASS = (142, 104, 72), (92, 66, 48), (176, 69, 47), (183, 140, 62)
SKY, HAZE = (214, 224, 236), (240, 234, 222)


class Pen:
    """Draws in a square of 1 by 4/3 about its middle, y up."""

    def __init__(self, image: Image.Image) -> None:
        self.draw = ImageDraw.Draw(image)
        self.scale = image.width

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Where a place lies in the image."""
        return (0.5 + x) * self.scale, (HIGH / WIDE / 2 - y) * self.scale

    def ellipse(self, x: float, y: float, a: float, b: float, colour, turn: float = 0.0) -> None:  # type: ignore[no-untyped-def]
        """A filled ellipse, turned left by degrees."""
        t = np.linspace(0, 2 * math.pi, 120)
        c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        u, v = a * np.cos(t), b * np.sin(t)
        self.polygon(np.column_stack([x + c * u - s * v, y + s * u + c * v]).tolist(), colour)

    def polygon(self, points, colour) -> None:  # type: ignore[no-untyped-def]
        """A filled polygon."""
        self.draw.polygon([self.at(x, y) for x, y in points], fill=colour)

    def line(self, points, colour, width: float) -> None:  # type: ignore[no-untyped-def]
        """A line with round ends."""
        spots = [self.at(x, y) for x, y in points]
        w = max(1, round(width * self.scale))
        self.draw.line(spots, fill=colour, width=w, joint="curve")
        for x, y in (spots[0], spots[-1]):
            self.draw.ellipse([x - w / 2, y - w / 2, x + w / 2, y + w / 2], fill=colour)


def owl(pen: Pen) -> None:
    """An owl with a scarf, a cap and a telescope under its wing."""
    for side in (-1, 1):
        pen.ellipse(side * 0.075, -0.455, 0.062, 0.03, BRASS)
        for toe in (-0.035, 0.0, 0.035):
            pen.ellipse(side * 0.075 + toe, -0.468, 0.017, 0.026, BRASS)
    pen.ellipse(0, -0.14, 0.235, 0.325, BROWN)
    pen.ellipse(0, -0.19, 0.165, 0.25, OCHRE)
    for row in range(6):
        y = -0.02 - 0.068 * row
        half = 0.13 - 0.012 * abs(row - 1.5)
        for x in np.arange(-half + 0.02 * (row % 2), half + 0.001, 0.052):
            t = np.linspace(math.pi, 2 * math.pi, 12)
            pen.line(np.column_stack([x + 0.024 * np.cos(t), y + 0.022 * np.sin(t)]), DEEP, 0.006)
    tube = math.radians(38)
    way, off = (
        np.array([math.cos(tube), math.sin(tube)]),
        np.array([-math.sin(tube), math.cos(tube)]),
    )
    start = np.array([0.1, -0.26])
    for a, b, wide, colour in (
        (0.0, 0.3, 0.045, NIGHT),
        (0.27, 0.34, 0.056, BRASS),
        (-0.07, 0.02, 0.034, BRASS),
    ):
        p, q = start + a * way, start + b * way
        pen.polygon([p + wide * off, q + wide * off, q - wide * off, p - wide * off], colour)
    for side in (-1, 1):
        pen.ellipse(side * 0.215, -0.13, 0.075, 0.225, DEEP, side * 9)
        for k in range(3):
            pen.line(
                [
                    (side * (0.205 + 0.02 * k), -0.05 - 0.07 * k),
                    (side * (0.222 + 0.015 * k), -0.13 - 0.07 * k),
                ],
                BROWN,
                0.008,
            )
    for side in (-1, 1):
        pen.polygon([(side * 0.1, 0.36), (side * 0.235, 0.28), (side * 0.225, 0.47)], BROWN)
    pen.ellipse(0, 0.235, 0.235, 0.195, BROWN)
    for side in (-1, 1):
        pen.ellipse(side * 0.1, 0.235, 0.115, 0.125, OCHRE, side * 12)
        pen.ellipse(side * 0.098, 0.245, 0.077, 0.08, MOON)
        pen.ellipse(side * 0.09, 0.245, 0.045, 0.048, NIGHT)
        pen.ellipse(side * 0.09 + 0.016, 0.262, 0.014, 0.015, MOON)
    pen.polygon([(-0.034, 0.2), (0.034, 0.2), (0, 0.118)], BRASS)
    scarf = [(-0.2, 0.085), (-0.1, 0.045), (0, 0.035), (0.1, 0.045), (0.2, 0.085)]
    pen.line(scarf, BRICK, 0.062)
    pen.polygon([(0.06, 0.05), (0.135, 0.035), (0.175, -0.12), (0.095, -0.135)], BRICK)
    pen.line([(0.078, -0.06), (0.165, -0.045)], MOON, 0.012)
    pen.line([(0.072, -0.025), (0.155, -0.01)], MOON, 0.012)
    cap = np.column_stack(
        [0.165 * np.cos(t := np.linspace(0, math.pi, 40)), 0.375 + 0.11 * np.sin(t)]
    )
    pen.polygon(cap.tolist(), MOSS)
    pen.line([(-0.165, 0.375), (0.165, 0.375)], DEEP, 0.02)
    star = [
        (0.045 * r * math.sin(a), 0.435 + 0.045 * r * math.cos(a))
        for i in range(10)
        for a, r in [(math.pi * i / 5, 1.0 if i % 2 == 0 else 0.42)]
    ]
    pen.polygon(star, MOON)


def main(path: Path) -> None:
    """Draw it into a file."""
    size = WIDE * FINE, HIGH * FINE
    y = np.linspace(0, 1, size[1])[:, None, None]
    sky = np.array(SKY) * (1 - y) + np.array(HAZE) * y
    image = Image.fromarray(np.broadcast_to(sky, (size[1], size[0], 3)).astype(np.uint8).copy())
    pen = Pen(image)
    owl(pen)
    rng = np.random.default_rng(7)
    for _ in range(9):  # dust on the scanner's glass
        x, y_ = rng.uniform(-0.47, 0.47), rng.choice([-1, 1]) * rng.uniform(0.5, 0.64)
        pen.ellipse(x, y_, r := rng.uniform(0.002, 0.005), r, DEEP)
    small = image.resize((WIDE, HIGH), Image.Resampling.LANCZOS).filter(
        ImageFilter.GaussianBlur(0.4)
    )
    small.quantize(160, dither=Image.Dither.NONE).save(path, optimize=True)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
