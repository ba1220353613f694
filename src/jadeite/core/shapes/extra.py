"""The parts that any shape may get besides its own."""

from __future__ import annotations

__all__ = ["DIVIDER", "FLOOR_PLY", "LINING", "OVERLAY", "STIFFENER"]

DIVIDER, OVERLAY, STIFFENER, LINING = "divider", "overlay", "stiffener", "lining"
FLOOR_PLY = "floor-ply"
