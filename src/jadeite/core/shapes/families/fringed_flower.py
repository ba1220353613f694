"""Fringed flower: rings of petals, and in them fringes of strands, gathered up into one another."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from jadeite.core.blooms import STRAND, Petal, RingSize
from jadeite.core.boards import Board
from jadeite.core.colours import BOARD_COLOURS
from jadeite.core.shapes.blooming import (
    LEAF_COLOUR,
    PETAL_COLOUR,
    holds_nothing,
    toned,
)
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, register
from jadeite.core.shapes.ring_flower import (
    LEAF_RING,
    Remedy,
    RingFlower,
    Wanted,
    least_hub,
    ring,
)
from jadeite.core.shapes.ring_gluing import SPACER_PART
from jadeite.core.shapes.ring_options import ring_options
from jadeite.core.shapes.ring_strip import STRIP_PART

__all__ = ["FRINGED_FLOWER"]

SMALLEST, LARGEST = 40.0, 400.0  # mm; from memory
STARTS = (100.0, 0.0)  # mm; from memory
RINGS = 6  # of petals; from memory, the fringe is what shows
COUNTS = (6, 6)  # from memory
CENTRE = 82.0  # % of the outer ring of petals is the inner; from memory
RISE, INNER_RISE, TIPS = 10.0, 26.0, 40.0  # degrees; from memory, one clean roll
FRINGES, PLIES, TUFT_PLIES = 3, 3, 6  # common practice: three sizes, three of each, six below
STRANDS, ROOT = 16, 1.5  # and mm; from memory, a narrower strand tears off
APART = 0.5  # mm; from memory, between two strands
LARGE, SMALL = 48.0, 70.0  # % of ring 1, and of the large fringe; from memory
GATHERED, CLOSER = 56.0, 8.0  # degrees, and by which each inner one stands steeper; from memory
STEEPEST = 86.0  # degrees; from memory
CURLED, ROD = 55.0, 3.0  # degrees and mm; from memory, drawn over a blade's back
TUFT_RISE = 30.0  # degrees; from memory, it spreads under the fringe
FACETS = (2, 3)  # of a strand's bends; from memory, it is narrow
THREAD = Petal("lance", 14.0, 60.0, 10.0, 55.0)  # our own, from memory
NAMES = (("fringe-large", "large fringe"), ("fringe-medium", "medium fringe"),
         ("fringe-small", "small fringe"))  # fmt: skip
TUFT = "tuft"
COLOURS = dict(BOARD_COLOURS)
STEPS = 12.0  # % in which a fringe is made larger until its strands hold; from memory

# from memory
FRINGE_OPTIONS = (
    Option("fringes", "Sizes of fringe", float(FRINGES),
           "Large, medium and small are gathered into one another.", "count", 1.0, 3.0),
    Option("plies", "Of each size", float(PLIES),
           "As many alike are glued on one another before they are gathered.", "count", 1.0, 5.0),
    Option("strands", "Strands of each", float(STRANDS),
           "How many the fringe is cut into.", "count", 10.0, 20.0),
    Option("fringe", "Largest fringe", LARGE, "Its size, of that of the outermost ring of petals.",
           "%", 40.0, 95.0),
    Option("smallest", "Smallest fringe", SMALL, "Its size, of that of the largest; the medium "
           "one is between.", "%", 60.0, 100.0),
    Option("gathered", "Gathered up by", GATHERED,
           "How far the strands of the largest fringe stand up; the inner ones stand steeper.",
           "deg", 10.0, 80.0),
    Option("strand-tips", "Strands curled by", CURLED,
           "Their tips, outwards all round; let go, so much is left. Short strands take less.",
           "deg", 0.0, 120.0),
    Option("tuft", "Under the fringe", "crossed",
           "More of the smallest size, in white and not curled: half of them, and the others "
           "crossed over these.",
           choices=(("crossed", "a crossed tuft"), ("none", "nothing"))),
)  # fmt: skip


def _sizes(options: Mapping[str, OptionValue]) -> list[float]:
    """Sizes of the fringes, of ring 1, the largest first."""
    count = int(float(options["fringes"]))
    large, small = float(options["fringe"]) / 100, float(options["smallest"]) / 100
    return [large * (1 - (1 - small) * i / 2) for i in range(count)]


def _upper(boards: Mapping[str, Board], options: Mapping[str, OptionValue]) -> list[Wanted]:
    """The tuft and the fringes, lowest first; all plies of a size are alike."""
    sizes, strands = _sizes(options), int(float(options["strands"]))
    curl, low = -float(options["strand-tips"]), float(options["gathered"])
    least = least_hub(options, 1)  # they lie on rings of petals

    def plies(part: str, title: str, count: int, share: float, rise: float, curl: float
              ) -> list[Wanted]:  # fmt: skip
        thick = boards[part].thickness
        size = RingSize(strands, THREAD, share, rise, curl, ROD, thick, least, ROOT, APART, FACETS)
        names = [title, *(f"{title} {n}" for n in range(2, count + 1))]
        return [Wanted(part, name, STRAND, size, n) for n, name in enumerate(names)]

    out = []
    if options["tuft"] == "crossed":
        share = float(options["fringe"]) * float(options["smallest"]) / 1e4
        out += plies(TUFT, "tuft", TUFT_PLIES, share, min(TUFT_RISE, low), 0.0)
    for i, ((part, title), share) in enumerate(zip(NAMES, sizes, strict=False)):
        rise = min(STEEPEST, low + CLOSER * i)
        out += plies(part, title, int(float(options["plies"])), share, rise, curl)
    return out


def _remedies(options: Mapping[str, OptionValue]) -> Iterator[Remedy]:
    """What makes strands longer: a larger smallest one, a larger fringe, fewer strands."""
    small = float(options["smallest"])
    for value in [*np.arange(small, 100.0, STEPS).tolist()[1:], 100.0]:
        words = f"Make the smallest fringe {value:.0f} % of the largest."
        yield "smallest", words, {"smallest": float(round(value))}
    for value in [*np.arange(float(options["fringe"]), 95.0, STEPS).tolist()[1:], 95.0]:
        words = f"Make the largest fringe {value:.0f} % of ring 1."
        yield "fringe", words, {"fringe": float(round(value)), "smallest": max(small, SMALL)}
    words = "Cut it into 10 strands, as large as ring 1 allows."
    yield "strands", words, {"strands": 10.0, "fringe": 95.0, "smallest": 100.0}


FLOWER = RingFlower("fringed-flower", "Fringed flower", SMALLEST, LARGEST, RINGS, _upper, _remedies)


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """Colours of the parts, from that of ring 1; the fringe is ochre, what is under it white."""
    first = colours.get(ring(1), PETAL_COLOUR)
    rings = toned(str(options["tones"]), first, len(str(options["petals"]).split()))
    fringe = colours.get(NAMES[0][0], COLOURS["Ochre"])
    own = {ring(i): colour for i, colour in enumerate(rings, start=1)}
    own |= {part: fringe for part, _ in NAMES}  # one tone is one sheet
    return {
        LEAF_RING: LEAF_COLOUR,
        SPACER_PART: first,
        STRIP_PART: rings[-1],
        TUFT: COLOURS["White"],
        **own,
    }


def fringed_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about two thirds of the squares round the rings; rises with the width."""
    width = span[0]
    count = len(str(options["petals"]).split()) + (options["base"] == "leaves")
    plies = float(options["plies"]) * sum(share * share for share in _sizes(options))
    return (0.4 * count + 0.4 * plies) * width * width


FRINGED_FLOWER = register(
    ShapeFamily(
        key=FLOWER.family,
        title=FLOWER.title,
        short="Fringed flower",
        purpose="bloom",
        about="Open petals, and in them fringes of fine strands, gathered up into one another.",
        parts=(
            *((ring(n), f"Ring {n}" + ", outermost" * (n == 1)) for n in range(1, RINGS + 1)),
            (LEAF_RING, "Leaf ring"),
            *((part, title.capitalize()) for part, title in NAMES),
            (TUFT, "Tuft under it"),
            (SPACER_PART, "Spacer discs"),
            (STRIP_PART, "Strip in the middle"),
        ),
        options=(
            *ring_options(COUNTS, RINGS, CENTRE, (RISE, INNER_RISE), TIPS, ("5 5", "6 6", "8 8 6")),
            *FRINGE_OPTIONS,
        ),
        build=FLOWER.build,
        board_area=fringed_board_area,
        smallest=FLOWER.smallest,
        largest=FLOWER.largest,
        when={
            **{ring(n): ("petals", float(n)) for n in range(2, RINGS + 1)},
            **{part: ("fringes", float(n)) for n, (part, _) in enumerate(NAMES, 1) if n > 1},
            LEAF_RING: ("base", "leaves"),
            TUFT: ("tuft", "crossed"),
            SPACER_PART: ("spacers", "all"),
            STRIP_PART: ("centre-piece", "strip"),
        },
        follows={
            **{ring(n): ring(1) for n in range(2, RINGS + 1)},
            **{part: NAMES[0][0] for part, _ in NAMES[1:]},
            STRIP_PART: ring(1),
        },
        usual={SPACER_PART: "craft-board", NAMES[0][0]: "light-card", TUFT: "light-card"},
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
)
