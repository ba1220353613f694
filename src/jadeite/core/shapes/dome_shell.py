"""How the shell of a dome is put together: layers glued flat, two halves, the last two seams."""

from __future__ import annotations

from collections.abc import Sequence

from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.model import Piece

__all__ = ["second_half", "shell_arrivals"]

LAMINATED = (
    "While both lie flat: a thin layer of glue all over, the ply in the middle of the gore, its "
    "foot at the line from which the dome springs. Under a weight until it is quite dry; only "
    "then are both curled together."
)
PANELLED = (
    "While both lie flat, with an even border along both seams and its foot at the line from "
    "which the dome springs; a thin layer of glue all over. Under a weight until it is quite dry."
)
LAYERS = {"ply": (When.BEHIND, LAMINATED), "panel": (When.FLAT, PANELLED)}
HALF = "Tooth by tooth from the foot up, one gore after another, so that half the dome stands."
OTHER_HALF = "Tooth by tooth from the foot up as well: the other half of the dome."
CLOSED = (
    "Both halves together: the last two seams, one after the other, with a finger through the "
    "open foot behind the teeth."
)


def second_half(sides: int) -> str:
    """The gore on which the second half of the shell is built."""
    return f"gore-{(sides + 1) // 2 + 1}"


def shell_arrivals(pieces: Sequence[Piece], sides: int) -> list[Arrival]:
    """Plies glued flat behind their gores; two halves of gores; then one half to the other."""
    out = []
    for piece in pieces:
        layer, _, number = piece.name.rpartition("-")
        if layer in LAYERS:
            when, hint = LAYERS[layer]
            rides = tuple((f.child, f.child.replace(layer, "facet")) for f in piece.tree)
            out.append(Arrival(piece.name, when, (f"gore-{number}", "facet.1"), hint=hint,
                               rides=rides))  # fmt: skip
    second = second_half(sides)
    halves: dict[str, list[str]] = {"gore-1": [], second: []}
    for k in range(1, sides + 1):
        lead = "gore-1" if k < int(second.removeprefix("gore-")) else second
        if f"gore-{k}" != lead:
            halves[lead].append(f"gore-{k}")
    for (lead, gores), hint in zip(halves.items(), (HALF, OTHER_HALF), strict=True):
        out += [Arrival(gore, When.FOLDED, (lead, "foot"), hint=hint) for gore in gores]
    waits = tuple(gore for gores in halves.values() for gore in gores)
    out.append(
        Arrival(second, When.FOLDED, ("gore-1", "foot"), hint=CLOSED, after=waits,
                called="second half of the dome")
    )  # fmt: skip
    return out
