"""Where a flower or an arrangement stays, and what that asks for: a seal, greenery, a cord."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from jadeite.core.contents.cautions import RULES
from jadeite.core.errors import option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.ties import looped_round, ribbon_length
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.registry import Option, OptionValue
from jadeite.core.units import number_text

__all__ = [
    "GREEN_OPTION",
    "HANG_OPTION",
    "STAYS_OPTION",
    "cord_for",
    "cord_size",
    "finish_findings",
    "finish_for",
]

Options = Mapping[str, OptionValue]
Where = tuple[str, str]

# from memory
STAYS_OPTION = Option(
    "stays",
    "It stays",
    "indoors",
    "Outdoors damp air lets petals sink and sun fades them. A clear seal is sprayed on at the end: "
    "it keeps off dew and splashes, but not rain.",
    choices=(
        ("indoors", "indoors"),
        ("roofed", "outdoors under a roof"),
        ("sealed", "sealed outdoors"),
    ),
)
GREEN_OPTION = Option(
    "greens",
    "Real greenery",
    "none",
    "Twigs and leaves from the garden between the paper ones, tucked in last: fresh for a day, or "
    "preserved weeks before.",
    choices=(("none", "none"), ("fresh", "fresh"), ("preserved", "preserved")),
)
HANG_OPTION = Option(
    "hang",
    "Hangs by",
    "none",
    "A cord round the ring, tied before flowers cover it, with a loop to hang it by.",
    choices=(("none", "nothing"), ("cord", "a cord")),
)
LOOP, KNOT, CORD = 150.0, 100.0, 3.0  # mm, from memory: of the loop, for the knot, and across
COATS, TUCKING, TYING = 180.0, 300.0, 90.0  # s of hands' time; from memory

SEAL = (
    "Two thin coats of clear matt seal from all sides, from an arm's length, the second once the "
    "first is dry. A thick coat makes petals sink and darkens the paper: try a scrap first."
)
SPRAY = (
    "Spray in the open air or by an open window, away from flame and sparks, and do not breathe "
    f"it in. {RULES}"
)
TUCK = "Short twigs under petals and leaves, their ends hidden; nothing moist against the paper."
FRESH = f"On the day itself, as it wilts. {TUCK}"
DRY = f"Wipe it dry first. {TUCK}"
PLANTS = f"Some plants are poisonous or harm the skin: know what you cut. {RULES}"
PRESERVED = (  # said at once: it has to be done long before the first step
    "Preserve the greenery weeks before: crush the ends of the twigs and stand them in one part of "
    "glycerine to two parts of hot water, until their leaves feel supple. Hot liquid scalds: do "
    f"not carry it, and keep children away until it is cold. {RULES}"
)
TIE = (
    "Round the ring at its top, a knot behind it, and another at the end of the loop. Do it now: "
    "flowers will cover it."
)
HEAVY = f"Try cord and hook with twice the weight before it hangs over anyone. {RULES}"


def finish_for(on: Where, options: Options) -> tuple[Bought, ...]:
    """What is bought for the end: a seal, then greenery; ``on`` is the (piece, panel) below."""
    out = []
    if options["stays"] == "sealed":
        out.append(
            Bought("clear matt spray seal", 0.0, 0.0, "Seal it", SEAL, on, holds=False,
                   caution=SPRAY, seconds=COATS)
        )  # fmt: skip
    greens = options.get("greens", "none")
    if greens != "none":
        words = DRY if greens == "preserved" else FRESH
        out.append(
            Bought(f"greenery, {greens}", 0.0, 0.0, "Tuck greenery into the gaps", words, on,
                   holds=False, caution=PLANTS, seconds=TUCKING)
        )  # fmt: skip
    return tuple(out)


def cord_size(cords: Sequence[Bought]) -> dict[str, Reckoning]:
    """How much cord is cut off, in mm; empty for none."""
    if not cords:
        return {}
    length = reckon(
        "Cord",
        sum(cord.length for cord in cords),
        "round the ring, the loop twice, and both knots",
        given("loop", LOOP),
        given("knots", KNOT),
    )
    return {"cord-length": length}


def finish_findings(options: Options) -> tuple[Finding, ...]:
    """What staying outdoors does to it, what a seal does not do, what is done weeks before."""
    out = list(_outdoors(options))
    if options.get("greens") == "preserved":
        code, where = "greenery-preserved", "shape.options.greens"
        out.append(Finding(Level.NOTE, code, PRESERVED, where))
    return tuple(out)


def _outdoors(options: Options) -> tuple[Finding, ...]:
    if options["stays"] == "roofed":
        words = (
            "Outdoors damp air lets petals sink overnight, and sun fades colours within weeks; hot "
            "glue lets go in hot sun, liquid glue where it gets wet. It lasts an evening or two."
        )
        cure = Cure("Seal it", option_way("stays", "sealed"))
        return (Finding(Level.NOTE, "outdoors-bare", words, "shape.options.stays", cure=cure),)
    if options["stays"] == "sealed":
        words = (
            "A seal keeps off dew and splashes, and colours last longer. It does not make paper "
            "weatherproof: cut edges still drink rain, and glue joints are not sealed. Leave it "
            "under a roof, and take it in before a storm."
        )
        return (Finding(Level.NOTE, "outdoors-sealed", words, "shape.options.stays"),)
    return ()


def cord_for(
    on: Where, radii: tuple[float, float], between: tuple[float, float], options: Options
) -> tuple[Bought, ...]:
    """The cord by which a flat ring of two ``radii`` hangs, ``between`` two heights; mm.

    It lies where the ring is farthest in y, on the panel ``on``.
    """
    if options["hang"] == "none":
        return ()
    low, high = between
    middle = (low + high) / 2
    edges = [np.array([0.0, radius, middle]) for radius in radii]
    strips = looped_round(edges[0], edges[1], high - low, CORD, LOOP)
    length = float(math.ceil(ribbon_length(strips) + KNOT))
    words = f"{TIE} The loop is {number_text(LOOP, 0)} mm long."
    return (
        Bought("cord to hang it by", CORD, length, "Tie a cord round the ring", words, on,
               first=True, holds=False, caution=HEAVY, seconds=TYING, strips=strips),
    )  # fmt: skip
