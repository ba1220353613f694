"""What each adhesive would mean for one made thing: how long it takes, how much it takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import Polygon

from jadeite.core.assembly.adhesives import ADHESIVES, Adhesive
from jadeite.core.assembly.lift import Lift
from jadeite.core.assembly.steps import assembly_plan
from jadeite.core.nets.model import Design, Kind, Piece
from jadeite.core.units import System, format_length

__all__ = ["School", "schools_of"]

DOT = 0.05  # g; from memory, for something that is glued by hand and is no joint
LITTLE = 0.95  # g; less is said as about one gram


@dataclass(frozen=True)
class School:
    """One adhesive for one made thing: s in all and until dry, g that it takes, or mm of tape."""

    adhesive: Adhesive
    seconds: float
    dry_at: float
    grams: float
    tape: float

    def takes(self, count: int = 1, system: System = "mm") -> str:
        """How much of it so many things take: “about 3 g”."""
        if self.adhesive.film == 0:
            return f"about {format_length(count * self.tape, system, places=0)}"
        grams = count * self.grams
        return f"about {grams:.0f} g" if grams > LITTLE else "less than a gram"


def schools_of(design: Design, lift: Lift, things: Sequence[str]) -> tuple[School, ...]:
    """Every adhesive, in the order of their list; ``things`` are the names of the contents."""
    plans = [(one, assembly_plan(design, lift, one, things)) for one in ADHESIVES]
    area, tape = _glued(design)
    dots = DOT * sum(shaping.glued for shaping in design.shaping)
    return tuple(
        School(one, plan.seconds, plan.dry_at, one.film * area / 1e6 + dots, tape)
        for one, plan in plans
    )


def _glued(design: Design) -> tuple[float, float]:
    """Area in mm² that all glue joints take, and how long tape on them would be, mm.

    Of two panels that are glued the smaller counts; tape runs along its longer side.
    """
    pieces = {piece.name: piece for piece in design.pieces}
    area = tape = 0.0
    known: dict[tuple[int, str], tuple[float, float]] = {}
    for joint in design.joints:
        if joint.kind is not Kind.GLUE or joint.pad:
            continue
        ends = []
        for name, panel in (joint.tab, joint.target):
            piece = pieces[name]
            key = id(piece.panels), panel  # copies share their panels
            if key not in known:
                known[key] = _measured(piece, panel)
            ends.append(known[key])
        if joint.region:
            joined = Polygon(joint.region)
            ends.append((float(joined.area), float(joined.length) / 2))
        area += min(end[0] for end in ends)
        tape += min(end[1] for end in ends)
    return area, tape


def _measured(piece: Piece, panel: str) -> tuple[float, float]:
    """Area and longer side of a panel; mm² and mm."""
    found = piece.panel(panel)
    return float(Polygon(found.outline).area), max(found.size)
