"""Layered flower: rings of petals from large to small, each turned into the gaps of the last."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jadeite.core.boards import Board
from jadeite.core.shapes.blooming import (
    LEAF_COLOUR,
    PETAL_COLOUR,
    holds_nothing,
    toned,
)
from jadeite.core.shapes.registry import OptionValue, ShapeFamily, register
from jadeite.core.shapes.ring_flower import LEAF_RING, RingFlower, ring
from jadeite.core.shapes.ring_gluing import SPACER_PART
from jadeite.core.shapes.ring_options import RINGS, ring_options
from jadeite.core.shapes.ring_strip import STRIP_PART

__all__ = ["LAYERED_FLOWER"]

STARTS = (90.0, 0.0)  # mm; common practice, a small one, as high as it comes
FLOWER = RingFlower("layered-flower", "Layered flower", 25.0, 600.0, RINGS)  # mm; from memory


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """Colours of the parts, from that of ring 1."""
    first = colours.get(ring(1), PETAL_COLOUR)
    rings = toned(str(options["tones"]), first, len(str(options["petals"]).split()))
    own = {ring(i): colour for i, colour in enumerate(rings, start=1)}
    return {LEAF_RING: LEAF_COLOUR, SPACER_PART: first, STRIP_PART: rings[-1], **own}


def flower_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about two thirds of the squares round the rings; rises with the width."""
    width = span[0]
    count = len(str(options["petals"]).split()) + (options["base"] == "leaves")
    return 0.4 * count * width * width


LAYERED_FLOWER = register(
    ShapeFamily(
        key=FLOWER.family,
        title=FLOWER.title,
        short="Flower",
        purpose="bloom",
        about="Rings of petals on one another, each in the gaps of the last, on a ring of leaves.",
        parts=(
            *((ring(n), f"Ring {n}") for n in range(1, RINGS + 1)),
            (LEAF_RING, "Leaf ring"),
            (SPACER_PART, "Spacer discs"),
            (STRIP_PART, "Strip in the middle"),
        ),
        options=ring_options(),
        build=FLOWER.build,
        board_area=flower_board_area,
        smallest=FLOWER.smallest,
        largest=FLOWER.largest,
        when={
            **{ring(n): ("petals", float(n)) for n in range(2, RINGS + 1)},
            LEAF_RING: ("base", "leaves"),
            SPACER_PART: ("spacers", "all"),
            STRIP_PART: ("centre-piece", "strip"),
        },
        follows={**{ring(n): ring(1) for n in range(2, RINGS + 1)}, STRIP_PART: ring(1)},
        usual={SPACER_PART: "craft-board"},
        answers=("span",),
        starts=STARTS,
        takes=holds_nothing,
        tones=tones,
        smaller={
            part: (
                "Cut the largest rings petal by petal",
                (("shape.options.singles", float(number)),),
            )
            for number, part in enumerate((LEAF_RING, *map(ring, range(1, RINGS))), start=1)
        },
    )
)  # fmt: skip
