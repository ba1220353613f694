"""What is bought for a flower: a pearl or a knotted cord in its middle, a wire or stick as stem."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from jadeite.core.blooms import MIDDLE, Stack
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.bought import Bought
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.registry import Option, OptionValue
from jadeite.core.shapes.ring_strip import STRIP_OPTIONS
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = ["CENTRE_OPTIONS", "bought_for", "centre_sizes", "check_centre"]

Options = Mapping[str, OptionValue]

PEARL, SMALLEST, LARGEST = 5.0, 3.0, 30.0  # mm; from memory, as they are sold
BEHIND = 150.0  # mm; from memory, enough to tie it to a ring or to bend it over
KNOTTED = 6.0  # diameters of a knot are cord that lies in it; from memory
CORD = 3.0  # of a knot's diameter is one of its cord; from memory, an overhand knot tied twice
STEEP = 80.0  # degrees; from memory, on steeper petals a ball finds no hold
COIL = 25.0  # mm of a wire are curled flat under the next ring; from memory
WIRE = 0.9  # mm; common practice, a florist's stem wire
BALLS = ("pearl", "knot")
SMALL_PARTS = "Small parts: keep pearls and beads away from small children."
STREW = (
    "A drop of glue into the middle; strew glitter on it over a folded sheet, tap off what does "
    "not hold and pour it back. Leave it to dry lying."
)
GLITTER = "Keep glitter away from eyes, food and small children; wash your hands afterwards."
STICK = 3.0  # mm; common practice, a wooden skewer
POINTS = (
    "Cut the point of a skewer off; keep sticks away from faces and from small children. Local "
    "rules and the makers' instructions come first."
)
ENDS = "Mind the ends of cut wire; local rules and the makers' instructions come first."

# from memory
CENTRE_OPTIONS = (
    Option("centre-piece", "In the middle", "none",
           "A pearl is glued on at the very end. A cord with a knot at its end is drawn through "
           "all rings, where a small cross is cut if there is no hole: its other end ties the "
           "flower to a wreath, without glue. A strip is wound to a coil and stands there on its "
           "disc. Glitter is strewn on a drop of glue.",
           choices=(("none", "nothing"), ("pearl", "a pearl"), ("knot", "a knot on a cord"),
                    ("strip", "a wound strip"), ("glitter", "glitter"))),
    Option("pearl", "Pearl, knot or coil, across", PEARL,
           "As it is sold, or as the knot or the wound strip comes out.",
           "mm", SMALLEST, LARGEST, only=(("centre-piece", ("pearl", "knot", "strip")),)),
    *STRIP_OPTIONS,
    Option("stem", "Stem", "none",
           "A wire through a hole in the lowest ring; its end is curled flat and glued there, and "
           "the next ring covers it. Or a stick, glued behind the lowest ring: it carries large "
           "flowers, and stands in a vase or in a pot.",
           choices=(("none", "none"), ("wire", "a wire"), ("stick", "a stick"))),
    Option("behind", "Cord, wire or stick behind", BEHIND, "What is left of it behind the flower.",
           "mm", 30.0, 900.0, only=(("stem", ("wire", "stick")), ("centre-piece", ("knot",)))),
)  # fmt: skip


def check_centre(options: Options) -> None:
    """Refuse two stems for one flower.

    Raises
    ------
    FieldError
        The text names what works.
    """
    if options["centre-piece"] == "knot" and options["stem"] != "none":
        raise FieldError(
            "stem",
            "the cord of the knot is the stem already",
            "Leave the other out.",
            (option_way("stem", "none"),),
        )


def largest_ball(stack: Stack) -> float:
    """Diameter in mm of the largest ball that lies on the middle of the innermost ring.

    It touches that middle, and petals that rise round it (a circle between two lines).
    """
    ring = stack.rings[-1]
    rise = max(1.0, ring.asked.rise)
    return 2 * ring.hub_inner / math.tan(math.radians(rise) / 2)


def _rest(stack: Stack, across: float) -> float:
    """Height in mm of a ball's centre over the lowest middle surface: on the middle, or on petals.

    A larger ball than :func:`largest_ball` rests on the petals round it.
    """
    ring = stack.rings[-1]
    rise = math.radians(min(max(1.0, ring.asked.rise), STEEP))
    on_petals = (across / 2 - ring.hub_inner * math.sin(rise)) / math.cos(rise)
    return stack.levels[-1] + ring.asked.thickness / 2 + max(across / 2, on_petals)


def bought_for(stack: Stack, options: Options) -> tuple[Bought, ...]:
    """What is bought for one flower, in the order in which it is used."""
    return (*_wire(stack, options), *_stick(stack, options), *_centre(stack, options))


def centre_findings(stack: Stack, options: Options) -> tuple[Finding, ...]:
    """Whether what lies in the middle has room there, and what has."""
    across, inner = float(options["pearl"]), stack.layers[-1]
    most = rounded_down(largest_ball(stack))
    what = str(options["centre-piece"])
    if what not in BALLS or across <= most:
        return ()
    words = (
        f"The {what} of {number_text(across)} mm is wider than the middle of the innermost ring "
        f"takes ({number_text(max(most, 0.0))} mm): it rests on petals and presses them apart."
    )
    cure = Cure(f"Use {number_text(most)} mm", option_way("pearl", most))
    if most < SMALLEST:
        cure = Cure("Put nothing in the middle", option_way("centre-piece", "none"))
    where = f"{inner.name}/{MIDDLE}"
    return (Finding(Level.LOOK, "pearl-wide", words, where, "shape", cure),)


def _wire(stack: Stack, options: Options) -> Iterator[Bought]:
    if options["stem"] != "wire":
        return
    lowest = stack.layers[0]
    behind = float(options["behind"])
    covers = "The next ring covers it." if len(stack.layers) > 1 else "A pearl or a tuft covers it."
    words = (
        f"Through its hole from behind, until {number_text(COIL, 0)} mm stand out in front; curl "
        f"them flat into a small coil and glue it down. {covers}"
    )
    title = f"Push the wire through the middle of {_the(lowest.title)} and anchor it"
    yield Bought(
        "stem wire",
        WIRE,
        behind + COIL,
        title,
        words,
        (lowest.name, MIDDLE),
        first=True,
        caution=ENDS,
    )


def _stick(stack: Stack, options: Options) -> Iterator[Bought]:
    """A stick behind the lowest ring, put on while no pearl is in front."""
    if options["stem"] != "stick":
        return
    lowest = stack.layers[0]
    held = lowest.ring.hub + lowest.ring.hub_inner  # as far as the middle is wide
    words = (
        "Flower face down on something soft. Plenty of glue along the end of the stick, as long "
        f"as the middle is wide ({number_text(held, 0)} mm); lay it across the back of the middle "
        "and hold it until the glue has set. It turns in your hand no more once it is dry."
    )
    yield Bought(
        "wooden stick",
        STICK,
        rounded_up(float(options["behind"]) + held, 0),
        f"Glue a stick behind {_the(lowest.title)}",
        words,
        (lowest.name, MIDDLE),
        caution=POINTS,
    )


def _the(title: str) -> str:
    """A ring in a sentence: numbered ones are names."""
    return title if title[-1:].isdigit() else f"the {title}"


def _centre(stack: Stack, options: Options) -> Iterator[Bought]:
    what = str(options["centre-piece"])
    across, inner = float(options["pearl"]), stack.layers[-1]
    centre = (0.0, 0.0, _rest(stack, across))
    on = (inner.name, MIDDLE)
    if what == "glitter":
        yield Bought("glitter", 0.0, 0.0, "Strew glitter into the middle", STREW, on,
                     caution=GLITTER)  # fmt: skip
    if what not in BALLS:
        return
    if what == "pearl":
        words = "A drop of glue into the middle, the pearl on it; do not move it until it holds."
        yield Bought(
            "pearl",
            across,
            0.0,
            "Glue the pearl into the middle",
            words,
            on,
            centre=centre,
            caution=SMALL_PARTS,
        )
        return
    behind = float(options["behind"])
    how = "holes" if options["middle"] == "hole" else "crosses"
    words = (
        f"Tie a knot {number_text(across)} mm across at one end of the cord. Thread the other end "
        f"into a large needle, go down through the {how} of all rings, and draw it until the knot "
        "lies in the middle, with a drop of glue under it. What is left behind the flower, "
        f"{number_text(behind, 0)} mm, ties it on."
    )
    yield Bought(
        "cord",
        across / CORD,
        math.ceil(KNOTTED * across + stack.levels[-1] + behind),
        "Draw the knotted cord through the middle",
        words,
        on,
        centre=centre,
        caution="Mind the needle's point.",
    )


def centre_sizes(
    height: Reckoning, stack: Stack, bought: tuple[Bought, ...]
) -> dict[str, Reckoning]:
    """The finished height with what lies in the middle, and how much is cut off of what is long."""
    out = {}
    for one in bought:
        if one.centre is not None:
            top = one.centre[2] + one.across / 2 - stack.ends[0]
            out["finished-height"] = reckon(
                height.name,
                max(height.value, top),
                f"{height.rule}; or to the top of what lies in the middle",
                given("petals", height.value),
                given(f"to the top of the {one.name}", top),
            )
        if one.length:
            out[f"{one.name.replace(' ', '-')}-length"] = reckon(
                f"{one.name.capitalize()}, cut off",
                one.length,
                "what is left behind, with what goes through the flower and is curled or knotted",
                constant("curled flat" if one.first else "in the knot, of its width",
                         COIL if one.first else KNOTTED, "mm" if one.first else "",
                         Mark.MEMORY),
            )  # fmt: skip
    return out
