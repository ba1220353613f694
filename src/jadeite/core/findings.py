"""What Jadeite has to say about a job: what, where, by how much, and the cure."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum
from typing import Any

__all__ = ["Cure", "Finding", "Level", "worst"]


class Level(IntEnum):
    """How much a finding matters; higher is worse."""

    NOTE = 0
    LOOK = 1
    BLOCKED = 2

    @property
    def word(self) -> str:
        """The word used in files and beside the finding."""
        return ("note", "look", "blocked")[self]


@dataclass(frozen=True, slots=True)
class Cure:
    """A change to the document that would end the finding.

    ``changes`` pairs a dotted field of the document (``shape.options.lid-depth``)
    with its new value.
    """

    label: str
    changes: tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that needs a look, or blocks.

    ``where`` is a piece, ``piece/panel`` or a field; ``station`` is the
    station of the docket that it belongs to; ``item`` the made thing of a job of
    several that it speaks of.
    """

    level: Level
    code: str
    message: str
    where: str = ""
    station: str = "shape"
    cure: Cure | None = None
    item: str = ""

    def to_json(self) -> dict[str, Any]:
        """The record that ``check --json`` writes."""
        return {
            "level": self.level.word,
            "code": self.code,
            "message": self.message,
            "where": self.where,
            "cure": self.cure.label if self.cure else None,
        }


def worst(findings: tuple[Finding, ...]) -> Finding | None:
    """The finding to show first: the highest level, then the earliest."""
    return max(findings, key=lambda f: f.level, default=None)
