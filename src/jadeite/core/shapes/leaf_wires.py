"""Fine wires in the leaves of a spray: how many, how long, and when they are put in."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from jadeite.core.nets.bought import Bought
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.leaf_pieces import NEAR
from jadeite.core.shapes.registry import Option, OptionValue
from jadeite.core.shapes.sprays import Spray
from jadeite.core.units import rounded_down

__all__ = ["BETWEEN", "WIRE_OPTION", "wire_size", "wires_for"]

SHORT_OF = 8.0  # mm; from memory, by which a wire is shorter than its leaf
FINE_WIRE = 0.4  # mm; common practice, a florist's fine wire
WIRE_ENDS = "Mind the ends of cut wire; local rules and the makers' instructions come first."

BETWEEN = ", a wire along its crease that ends short of the tip (mind its cut ends)"
WIRE_BEHIND = (
    "A thin line of glue along the crease on its back, and the wire in it, short of the tip and of "
    "the foot; press until it holds. The list of what is at hand says how long each is."
)

WIRE_OPTION = Option(
    "wire",
    "Wire in the leaves",
    "none",
    "A fine wire along each crease, between both sides or behind one: a leaf that has one "
    "can be bent again.",
    choices=(("none", "none"), ("along", "along each crease")),
)


def wires_for(spray: Spray, first: str, options: Mapping[str, OptionValue]) -> tuple[Bought, ...]:
    """Fine wires for the leaves, the longest first; with backs they come between.

    ``first`` is the name of the first leaf.
    """
    if options["wire"] == "none":
        return ()
    lengths = Counter(
        max(1.0, rounded_down(place.leaf.length - SHORT_OF, 0)) for place in spray.places
    )
    two = options["sides"] == "two"
    out = []
    for n, (length, count) in enumerate(sorted(lengths.items(), reverse=True)):
        out.append(
            Bought(
                "leaf wire",
                FINE_WIRE,
                length,
                "" if two or n else "Glue a wire behind each leaf",
                WIRE_BEHIND,
                (first, NEAR),
                first=True,
                caution=WIRE_ENDS,
                count=count,
            )
        )
    return tuple(out)


def wire_size(wires: Sequence[Bought]) -> dict[str, Reckoning]:
    """How much fine wire one spray takes, in mm."""
    if not wires:
        return {}
    return {
        "wire-length": reckon(
            "Leaf wire, in all",
            sum(wire.count * wire.length for wire in wires),
            "one along each leaf, short of its foot and of its tip",
            *(given(f"{wire.count} of them, each", wire.length) for wire in wires),
        )
    }
