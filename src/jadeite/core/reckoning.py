"""A number together with where it came from.

A :class:`Reckoning` is a derived number that a person sees and may ask "why?"
about: its value, the rule in words, the terms that went in, and a mark of
where it comes from.  Geometry and intermediate maths stay plain floats.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

__all__ = ["Mark", "Reckoning", "constant", "given", "reckon"]


class Mark(StrEnum):
    """Where a number comes from."""

    PUBLISHED = "published"
    PRACTICE = "common practice"
    MEMORY = "from memory"
    MEASURED = "measured by you"
    GIVEN = "given"
    RECKONED = "reckoned"


@dataclass(frozen=True, slots=True)
class Reckoning:
    """A value with its unit, its rule in words, its terms and its mark.

    ``unit`` is one of ``mm``, ``mm2``, ``g``, ``g/m2``, ``s``, ``deg``, ``%``
    or empty for a count; ``source`` names the publication of a published
    number.
    """

    name: str
    value: float
    unit: str = "mm"
    rule: str = ""
    inputs: tuple[Reckoning, ...] = ()
    mark: Mark = Mark.RECKONED
    source: str = ""

    def __float__(self) -> float:
        return self.value

    def walk(self) -> Iterator[Reckoning]:
        """This reckoning, then every term below it, depth first."""
        yield self
        for term in self.inputs:
            yield from term.walk()

    def to_json(self) -> dict[str, Any]:
        """Plain data for ``check --json``; lengths and all else in its unit."""
        out: dict[str, Any] = {
            "name": self.name,
            "value": self.value,
            "unit": self.unit,
            "mark": str(self.mark),
        }
        if self.rule:
            out["rule"] = self.rule
        if self.source:
            out["source"] = self.source
        if self.inputs:
            out["inputs"] = [term.to_json() for term in self.inputs]
        return out


def given(name: str, value: float, unit: str = "mm") -> Reckoning:
    """A number that the maker typed."""
    return Reckoning(name, value, unit, mark=Mark.GIVEN)


def constant(name: str, value: float, unit: str, mark: Mark, source: str = "") -> Reckoning:
    """A number that Jadeite starts from, with its mark."""
    return Reckoning(name, value, unit, mark=mark, source=source)


def reckon(name: str, value: float, rule: str, *inputs: Reckoning, unit: str = "mm") -> Reckoning:
    """A number derived from others by a rule that can be said in words."""
    return Reckoning(name, value, unit, rule, inputs)
