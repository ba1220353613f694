"""A number together with where it came from.

A :class:`Reckoning` is a derived number that a person sees and may ask "why?"
about: its value, the rule in words, the terms that went in, and a mark of
where it comes from.  Geometry and intermediate maths stay plain floats.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from jadeite.core.units import numbered

__all__ = ["Mark", "Reckoning", "alike", "constant", "given", "reckon"]

PLACES = 1  # decimals in which figures are shown; what is shown alike is told once


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


def alike(sizes: Mapping[str, Reckoning]) -> dict[str, Reckoning]:
    """Sizes as they are told: of numbered ones with one figure a single line, "Windows 1 to 4"."""
    groups: dict[tuple[object, ...], list[str]] = {}
    for key, own in sizes.items():
        head, rest = _parted(own.name)
        figure = (round(own.value, PLACES), own.unit, _unnumbered(own.rule))
        groups.setdefault((head.rpartition(" ")[0], rest, *figure) if head else (key,), []).append(
            key
        )
    out = {}
    for first, *others in groups.values():
        own = sizes[first]
        if others:
            titles = [_parted(sizes[key].name)[0] for key in (first, *others)]
            own = replace(
                own,
                name=numbered(titles) + _parted(own.name)[1],
                rule=_unnumbered(own.rule),
            )
        out[first] = own
    return out


def _parted(name: str) -> tuple[str, str]:
    """ "Window 1" and ", open"; two empty texts of a name that is not numbered."""
    found = re.fullmatch(r"(\D+ \d+)(, .*)", name)
    return (found[1], found[2]) if found else ("", "")


def _unnumbered(rule: str) -> str:
    return re.sub(r"\bthe ([^\W\d]+) \d+\b", r"its \1", rule)
