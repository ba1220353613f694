"""What is to be at hand besides board: pearls, cords, wires and ribbons, for every copy."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.folding import transform
from jadeite.core.folding.kinematics import closed_matrices
from jadeite.core.nets.arrivals import How
from jadeite.core.nets.model import Design
from jadeite.core.pipeline.work import Work
from jadeite.core.units import System, counted, format_length, in_system

__all__ = ["AtHand", "at_hand", "ribbon_round"]

BOW = 300.0  # mm; from memory, a bow and its two ends


@dataclass(frozen=True)
class AtHand:
    """So many alike things for an item: ``across``, ``length`` and ``thick`` mm, 0 for none."""

    item: str
    name: str
    across: float
    length: float
    count: int
    thick: float = 0.0

    def words(self, system: System = "mm") -> str:
        """As it stands on a list: “6 pearls, 5.0 mm”; what is strewn has but a name."""
        if not self.across:
            return self.name
        wide = in_system(format_length(self.across), system)
        if not self.length:
            thick = f", {in_system(format_length(self.thick), system)} thick" if self.thick else ""
            return f"{counted(self.count, self.name)}, {wide}{thick}"
        each = format_length(self.length, system, places=0)
        if self.count == 1:
            return f"{each} of {self.name}, {wide}"
        whole = format_length(self.count * self.length, system, places=0)
        return f"{self.count} × {each} of {self.name}, {wide}: {whole} in all"


def at_hand(works: Mapping[str, Work]) -> tuple[AtHand, ...]:
    """Everything of all items, in the order of making; of one item in the order of use."""
    out = []
    for item, work in works.items():
        if work.design is None:
            continue
        count = work.task.count
        out += [
            AtHand(item, b.name, b.across, b.length, count * b.count, b.thick)
            for b in work.design.bought
            if b.name
        ]
        ribbon = ribbon_round(work.design)
        if ribbon is not None:
            out.append(AtHand(item, "ribbon", *ribbon, count))
    return tuple(out)


def ribbon_round(design: Design) -> tuple[float, float] | None:
    """Width and length in mm of a ribbon that is tied through slits; None where none is.

    From slit to slit of the closed thing, and what a bow takes.
    """
    tied = design.arrivals.pairs(How.TIED)
    if not tied:
        return None
    matrices = closed_matrices(design)
    middles, widths = [], []
    for piece, panel in dict.fromkeys(where for pair in tied for where in pair):
        (slit,) = (o for o in design.piece(piece).panel(panel).openings if o.kind == "slit")
        corners = transform(matrices[piece][panel], slit.points)
        middles.append(corners.mean(axis=0))
        widths.append(float(np.linalg.norm(corners[-1] - corners[0])))
    steps = np.roll(middles, -1, axis=0) - np.array(middles)
    length = float(np.linalg.norm(steps, axis=1).sum()) + BOW
    return min(widths) - design.fits.ribbon_slit(0.0), float(math.ceil(length))
