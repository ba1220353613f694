"""A coil spring between a card and a head: how far it sags, tilts, and how quickly it wobbles.

Glossary
--------
axial
    Along the coil: pressed together or drawn out.
lateral
    Square to the coil: how a head on it sways, and sags where the card stands.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

__all__ = ["GRAVITY", "SHEAR", "YOUNG", "Coil"]

# N/mm2; handbook values of music wire, from memory: Young's and shear modulus
YOUNG, SHEAR = 200_000.0, 80_000.0
GRAVITY = 9.80665  # m/s2; published: CGPM 1901


@dataclass(frozen=True)
class Coil:
    """A coil spring of round wire: mm, and the number of turns that give."""

    wire: float
    across: float  # mean diameter of the coil
    turns: float
    high: float

    @property
    def axial(self) -> float:
        """Stiffness along it in N/mm: G d^4 / (8 D^3 n)."""
        return SHEAR * self.wire**4 / (8 * self.across**3 * self.turns)

    @property
    def bending(self) -> float:
        """Flexural rigidity of the whole coil as a beam in N mm2 (Timoshenko)."""
        area = math.pi * self.wire**4 / 64
        radius = self.across / 2
        return (
            2 * self.high * YOUNG * area * SHEAR
            / (math.pi * radius * self.turns * (2 * SHEAR + YOUNG))
        )  # fmt: skip

    @property
    def shear(self) -> float:
        """Shear rigidity of the whole coil as a beam in N (Timoshenko)."""
        area = math.pi * self.wire**4 / 64
        return self.high * YOUNG * area / (math.pi * (self.across / 2) ** 3 * self.turns)

    @property
    def lateral(self) -> float:
        """Stiffness square to it at its free end in N/mm: a beam held at one end."""
        return 1 / (self.high**3 / (3 * self.bending) + self.high / self.shear)

    def sag(self, grams: float) -> float:
        """How far its free end sinks under a mass where it lies level, mm."""
        return self._weight(grams) / self.lateral

    def tilt(self, grams: float) -> float:
        """By how many degrees what is on its free end then tilts."""
        return math.degrees(self._weight(grams) * self.high**2 / (2 * self.bending))

    def wobble(self, grams: float) -> float:
        """Frequency in Hz with which a mass on it sways sideways; its own mass left out."""
        return math.sqrt(self.lateral * 1000 / (grams / 1000)) / (2 * math.pi)

    def bounce(self, grams: float) -> float:
        """Frequency in Hz along it."""
        return math.sqrt(self.axial * 1000 / (grams / 1000)) / (2 * math.pi)

    @staticmethod
    def _weight(grams: float) -> float:
        """In N."""
        return grams / 1000 * GRAVITY
