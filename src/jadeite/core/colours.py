"""Colours of board, and how they are mixed."""

from __future__ import annotations

import math
from functools import lru_cache

__all__ = ["BOARD_COLOURS", "luminance", "mix", "plainest", "shade"]

# made-up colours for board, with plain names
BOARD_COLOURS = (
    ("Cream", "#E8DDC5"),
    ("Jade", "#9CC5B3"),
    ("Slate", "#8E9BA6"),
    ("Night", "#4A5870"),
    ("Clay", "#CF9C82"),
    ("White", "#F5F3EE"),
    ("Moss", "#8A9A6B"),
    ("Ochre", "#D2A85A"),
    ("Brick", "#B8705A"),
)


def _parts(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


@lru_cache(maxsize=4096)
def mix(one: str, other: str, share: float) -> str:
    """A colour ``share`` of the way from one to the other."""
    pairs = zip(_parts(one), _parts(other), strict=True)
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in pairs)


def shade(colour: str, light: float) -> str:
    """A colour in less (under 1) or more light."""
    return mix(colour, "#1a2622", 1 - light) if light < 1 else mix(colour, "#ffffff", light - 1)


def luminance(colour: str) -> float:
    """How light a colour is, 0 to 1: relative luminance of WCAG 2.2."""
    parts = [part / 255 for part in _parts(colour)]
    linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def plainest(ground: str, *inks: str) -> str:
    """Of some inks the one that contrasts most with its ground, by WCAG 2.2."""
    under = luminance(ground) + 0.05
    return max(inks, key=lambda ink: abs(math.log((luminance(ink) + 0.05) / under)))
