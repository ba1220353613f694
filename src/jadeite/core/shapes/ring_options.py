"""What may be decided about rings of petals: how many, of which outline, how they are bent."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from jadeite.core.blooms import (
    KINDS,
    LINES,
    MOST_FOLD,
    MOST_SLANT,
    petal_from_words,
    petals_from_words,
)
from jadeite.core.errors import FieldError
from jadeite.core.shapes.blooming import TONES
from jadeite.core.shapes.finishing import STAYS_OPTION
from jadeite.core.shapes.registry import Option
from jadeite.core.shapes.ring_centre import CENTRE_OPTIONS
from jadeite.core.units import counted

__all__ = ["PRESSED", "RINGS", "counts_in_words", "ring_options"]

RINGS = 10  # from memory, more are a ball
FEWEST, MOST = 3, 24  # petals of a ring; from memory
COUNTS = (5, 4, 4, 3, 3)  # common practice, a small one
CENTRE = 36.0  # % of the outermost ring is the innermost; common practice, about a third
STEP = 12.7  # mm (half an inch); common practice, of a large one
LEAST_HOLE = 2.0  # mm; from memory, a smaller one is not cut cleanly
FOAM = 2.0  # mm; common practice, of pads that stick on both sides
HOLE = 3.0  # mm; from memory, a wire with its tape
RISE, INNER_RISE = 14.0, 52.0  # degrees; from memory
PRESSED = (
    "Pressed into the good side by the cutter's scoring tool, or by hand with a ball; slanting "
    "cuts open as it is curled, and make the cutting long: Place says by how much."
)
FOLD = 40.0  # degrees; from memory, what is left of a sharp fold that has sprung open
CURLED, ON_LEAVES = (("curl", ("outward", "inward")),), (("base", ("leaves",)),)
LEAF_SHARE = 106.0  # % of the outermost ring; from memory
LEAF_RISE = 1.0  # degrees; from memory, leaves lie flat under it
ROD, TIPS = 8.0, 65.0  # mm and degrees; from memory, a pencil, and what is left of the curl


def counts_in_words(most: int) -> Callable[[str], str]:
    """How petals of rings are read, of so many rings."""
    return partial(_counts, most=most)


def _counts(words: str, most: int) -> str:
    """Petals of each ring, outermost first, as they are kept: ``5 4 4 3 3``.

    Raises
    ------
    FieldError
        One is no whole number of petals, or there are too many rings.
    """
    parts = words.replace(",", " ").split()
    if not 1 <= len(parts) <= most:
        raise FieldError(
            "petals",
            counted(len(parts), "ring") if parts else "there is no ring",
            f"Give 1 to {most} rings, as 5 4 3.",
        )
    for part in parts:
        if not part.isdigit() or not FEWEST <= int(part) <= MOST:
            raise FieldError(
                "petals", f"“{part[:20]}” petals", f"Use {FEWEST} to {MOST} for each ring."
            )
    return " ".join(str(int(part)) for part in parts)


def _outlines(words: str, most: int) -> str:
    """Outlines of the rings, as they are kept: ``round / heart width=80``.

    Raises
    ------
    FieldError
        One is none, or there are more than rings can be.
    """
    petals = petals_from_words(words, "outline")
    if len(petals) > most:
        raise FieldError("outline", f"{len(petals)} outlines", f"Give 1 to {most}.")
    return " / ".join(petal.words for petal in petals)


def _leaf_outline(words: str) -> str:
    return petal_from_words(words, "leaf-outline").words


def ring_options(
    counts: Sequence[int] = COUNTS,
    rings: int = RINGS,
    centre: float = CENTRE,
    rises: tuple[float, float] = (RISE, INNER_RISE),
    tips: float = TIPS,
    shows: tuple[str, ...] = ("5 4 3", "5 5 4 4 3 3", "8 8 5 5 3", "6 6 6 6 6"),
) -> tuple[Option, ...]:
    """The options of rings of petals, with what is usual for a family.

    ``counts`` are the petals of each ring, ``rings`` how many there may be, ``centre`` the
    size of the innermost in %, ``rises`` and ``tips`` degrees, ``shows`` counts to be seen.
    """
    return (  # ranges from memory
        Option(
            "petals",
            "Petals of each ring",
            " ".join(map(str, counts)),
            "From the outermost ring to the innermost; as many numbers as there are rings.",
            "counts",
            float(FEWEST),
            float(MOST),
            words=counts_in_words(rings),
            most=rings,
            shows=shows,
        ),
        Option(
            "outline",
            "Outline",
            "round",
            "One for all rings, or one for each from the outermost, parted by a stroke: "
            "round / heart. Numbers may follow: round width=80 tip=20. One of your own is read "
            "from an SVG drawing.",
            "outlines",
            choices=tuple((key, label) for key, (label, _) in KINDS.items()),
            words=partial(_outlines, most=rings),
            most=rings,
        ),
        Option(
            "centre",
            "Innermost ring",
            centre,
            "Its size, of that of the outermost; the rings between step down evenly.",
            "%",
            15.0,
            100.0,
            only=(("sizes", ("even",)),),
        ),
        Option(
            "sizes",
            "Sizes of the rings",
            "even",
            "Evenly from the outermost to the innermost, or each smaller than the one below it by "
            "the same step.",
            choices=(("even", "evenly"), ("step", "by a step")),
        ),
        Option(
            "step",
            "Step",
            STEP,
            "By how much each ring is smaller across than the one below it, as it is cut, where "
            "the sizes go by a step.",
            "mm",
            1.0,
            60.0,
            only=(("sizes", ("step",)),),
        ),
        Option(
            "rise",
            "Outer petals rise by",
            rises[0],
            "From the plane of the ring: flat and open, or steep like a bud.",
            "deg",
            0.0,
            80.0,
        ),
        Option(
            "inner-rise",
            "Inner petals rise by",
            rises[1],
            "Those of the innermost ring; the rings between lie between.",
            "deg",
            0.0,
            88.0,
        ),
        Option(
            "gather",
            "Petals held up by",
            "pressing",
            "Pressed with a ball, a ring is cupped and its petals stay up; some sink again. Or cut "
            "in from the gaps to the middle, each foot lapped over the next by the angle that its "
            "rise asks for, and glued: that holds. Rings that rise too little for it are pressed.",
            choices=(("pressing", "pressing with a ball"), ("laps", "laps, glued")),
            only=(("curl", ("outward", "inward", "none")),),
        ),
        Option(
            "curl",
            "Petals bent",
            "outward",
            "Tips over a pencil or a rod: outwards as an open flower, inwards as one that is "
            "opening. Or each petal along its middle: a straight fold stays straight, so one that "
            "is folded is not curled.",
            choices=(
                ("outward", "tips outwards"),
                ("inward", "tips inwards"),
                ("fold", "along the middle"),
                ("none", "not at all"),
            ),
            ends=(("rod-tight", "none", "Leave the tips flat"),),
        ),
        Option(
            "fold",
            "Folded by",
            FOLD,
            "Petals that are folded along the middle: the angle between both halves and a flat "
            "petal, once it has sprung open.",
            "deg",
            5.0,
            MOST_FOLD,
            only=(("curl", ("fold",)),),
        ),
        Option(
            "rod",
            "Rod",
            ROD,
            "What the tips are curled over, across; let go, they open to about three times that.",
            "mm",
            3.0,
            40.0,
            only=CURLED,
        ),
        Option(
            "tips",
            "Tips turned by",
            tips,
            "What is left of the curl once it is let go; short petals take less.",
            "deg",
            5.0,
            180.0,
            only=CURLED,
        ),
        Option(
            "slant",
            "Rod held aslant by",
            0.0,
            "Off straight across each petal, its left end farther out, or below 0 its right one: "
            "tips turn to one side, like a pinwheel. Short petals take less.",
            "deg",
            -MOST_SLANT,
            MOST_SLANT,
            only=CURLED,
        ),
        Option(
            "base",
            "Under it",
            "leaves",
            "A ring of leaves that the flower lies on; small, narrow and raised they are a calyx.",
            choices=(("leaves", "a ring of leaves"), ("none", "nothing")),
        ),
        Option(
            "leaves",
            "Leaves",
            5.0,
            "How many the ring of leaves has.",
            "count",
            float(FEWEST),
            12.0,
            only=ON_LEAVES,
        ),
        Option(
            "leaf-outline",
            "Outline of the leaves",
            "pointed",
            "Of all leaves of the ring. Numbers may follow: toothed waves=8.",
            "outlines",
            choices=tuple((key, label) for key, (label, _) in KINDS.items()),
            words=_leaf_outline,
            only=ON_LEAVES,
        ),
        Option(
            "leaf-size",
            "Size of the leaves",
            LEAF_SHARE,
            "Of their ring, of that of the outermost ring of petals: under half of it, they are "
            "the sepals of a calyx, seen from the side.",
            "%",
            30.0,
            140.0,
            only=ON_LEAVES,
        ),
        Option(
            "leaf-rise",
            "Leaves rise by",
            LEAF_RISE,
            "From the plane of their ring: they lie flat, or hold the flower like a calyx. At most "
            "as far as the outer petals; short ones take less.",
            "deg",
            0.0,
            70.0,
            only=ON_LEAVES,
        ),
        Option(
            "leaf-fold",
            "Leaves folded by",
            0.0,
            "Along the middle, like a shallow gutter; at 0 they stay flat, and their tips are "
            "bent down with those of the petals.",
            "deg",
            0.0,
            MOST_FOLD,
            only=ON_LEAVES,
        ),
        Option(
            "petal-lines",
            "Lines on petals",
            "none",
            PRESSED,
            choices=LINES,
        ),
        Option(
            "leaf-lines",
            "Lines on leaves",
            "none",
            PRESSED,
            choices=LINES,
            only=ON_LEAVES,
        ),
        Option(
            "spacers",
            "Between the rings",
            "none",
            "A disc of board between each two rings lifts them apart, as a large flower wants; "
            "foam pads lift them further, and hold by themselves.",
            choices=(("none", "none"), ("all", "discs of board"), ("foam", "foam pads")),
        ),
        Option(
            "foam",
            "Foam pads, thick",
            FOAM,
            "Between all rings, where these are on foam.",
            "mm",
            0.5,
            5.0,
            only=(("spacers", ("foam",)),),
        ),
        Option(
            "singles",
            "Cut petal by petal",
            0.0,
            "So many of the lowest rings, the leaves first, are cut as single petals, with a disc "
            "on which they are glued: where a ring is larger than the cutter.",
            "count",
            0.0,
            float(rings),
        ),
        Option(
            "middle",
            "Middle",
            "whole",
            "A hole goes through all rings, for a wire, a stick or a cord; a small cross holds a "
            "cord that a needle draws through.",
            choices=(("whole", "whole"), ("hole", "with a hole"), ("cross", "with a small cross")),
            ends=(("cutout-covered", "whole", "Leave the middles whole"),),
        ),
        Option(
            "hole",
            "Hole or cross, across",
            HOLE,
            "As wide as what goes through it.",
            "mm",
            LEAST_HOLE,
            12.0,
            only=(
                ("middle", ("hole", "cross")),
                ("centre-piece", ("knot",)),
                ("stem", ("wire",)),
            ),
        ),
        Option(
            "tones",
            "Tones",
            "inner-darker",
            "Most real flowers are darker towards the centre; others like the base darkest. "
            "Each tone is a sheet of its own.",
            choices=TONES,
        ),
        *CENTRE_OPTIONS,
        STAYS_OPTION,
    )
