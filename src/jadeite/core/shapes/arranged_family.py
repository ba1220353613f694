"""What families of arrangements have in common on the shelf."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from jadeite.core.shapes.arranged_design import FOLLOWS, MADE_WHEN, parts_on, tones
from jadeite.core.shapes.arranged_flowers import BUD
from jadeite.core.shapes.arranged_pieces import BASE
from jadeite.core.shapes.blooming import holds_nothing
from jadeite.core.shapes.registry import Option, ShapeFamily, register

__all__ = ["arranged_family"]

Remedies = Mapping[str, tuple[str, tuple[tuple[str, Any], ...]]]


def arranged_family(
    titles: tuple[str, str, str],
    about: str,
    *,
    build: Callable[..., Any],
    board_area: Callable[..., Any],
    options: tuple[Option, ...],
    range_: tuple[float, float],
    width: float,
    smaller: Remedies | None = None,
    buds: bool = False,
) -> ShapeFamily:
    """The family of arrangements that is called so, registered.

    ``titles`` are its key, its title, and that of the board under it; ``range_`` its least and
    greatest finished width in mm, ``width`` that at which it starts; ``smaller`` is what makes
    its board smaller, by part; it may have ``buds``.
    """
    key, title, base = titles
    return register(
        ShapeFamily(
            key=key,
            title=title,
            short=title,
            purpose="bloom",
            about=about,
            parts=parts_on(base, buds=buds),
            options=options,
            build=build,
            board_area=board_area,
            smallest=range_[0],
            largest=range_[1],
            when={part: asked for part, asked in MADE_WHEN.items() if buds or part != BUD},
            follows={part: first for part, first in FOLLOWS.items() if buds or part != BUD},
            usual={BASE: "craft-board"},
            answers=("span",),
            starts=(width, 0.0),
            takes=holds_nothing,
            tones=tones,
            smaller=smaller or {},
        )
    )
