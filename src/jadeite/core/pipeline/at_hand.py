"""What is to be at hand besides board: pearls, cords, wires and ribbons, for every copy."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from jadeite.core.pipeline.work import Work
from jadeite.core.units import System, counted, format_length, in_system

__all__ = ["AtHand", "at_hand"]


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
        alike: Counter[tuple[str, float, float, float]] = Counter()
        for b in work.design.bought:
            if b.name:
                alike[b.name, b.across, b.length, b.thick] += count * b.count
        out += [
            AtHand(item, name, across, length, number, thick)
            for (name, across, length, thick), number in alike.items()
        ]
    return tuple(out)
