"""HP-GL and G-code of ours read back as strokes; shares nothing with what wrote them."""

from __future__ import annotations

import re

import numpy as np

from jadeite.core.formats.readback import Drawing
from jadeite.core.nets.model import Floats

__all__ = ["read_gcode", "read_hpgl"]

ROLES = {"1": "pen", "2": "score", "3": "perforate", "4": "cut"}  # by HP-GL pen; design rule
UNIT = 0.025  # mm; published, HP-GL
SAME = 1e-9  # mm; rounding
WORD = re.compile(r"([A-Z])(-?\d+\.?\d*)")


def _add(out: Drawing, role: str, points: list[tuple[float, float]]) -> None:
    """One pass; one that goes over the stroke before once more is another pass of that."""
    line = np.array(points)
    before = out.lines.get(role)
    if before and out.passes[-1][0] == role and _same(before[-1], line):
        out.passes[-1] = role, out.passes[-1][1] + 1
        return
    out.add(role, line)
    out.passes.append((role, 1))


def _same(one: Floats, other: Floats) -> bool:
    if one.shape != other.shape:
        return False
    return any(float(np.abs(one - way).max()) < SAME for way in (other, other[::-1]))


def read_hpgl(data: bytes) -> Drawing:
    """The strokes of a plot, by pen.

    Raises
    ------
    ValueError
        It is none that we write.
    """
    out, role, at = Drawing(None), "", (0.0, 0.0)
    for command in data.decode("ascii").replace("\n", "").split(";"):
        name, rest = command[:2], command[2:]
        moves = rest if name in ("PU", "PD") else ""
        numbers = [float(v) * UNIT for v in moves.split(",")] if moves else []
        points = list(zip(numbers[::2], numbers[1::2], strict=True))
        if name == "SP":
            role = ROLES.get(rest, "")
        elif name == "PD":
            _add(out, role, [at, *points])
        elif name not in ("PU", "IN", "VS", "PG", ""):
            raise ValueError(f"it has a command {name}")
        if points:
            at = points[-1]
    return out


def read_gcode(data: bytes) -> Drawing:
    """The strokes of a program for a flatbed, by the role that a comment names.

    Raises
    ------
    ValueError
        It is none that we write.
    """
    out, role, at, height = Drawing(None), "", [0.0, 0.0], 1.0
    stroke: list[tuple[float, float]] = []
    for line in data.decode("ascii").splitlines():
        code, _, comment = line.partition(";")
        named = re.match(r" (pen|score|perforate|cut): ", comment)
        if named and not code.strip():
            role = named[1]
        words = dict(WORD.findall(code))
        if "Z" in words:
            height = float(words["Z"])
            if height > 0 and stroke:
                _add(out, role, stroke)
            stroke = [(at[0], at[1])] if height <= 0 else []
        if "X" in words:
            at = [float(words["X"]), float(words["Y"])]
            if height <= 0:
                stroke.append((at[0], at[1]))
    return out
