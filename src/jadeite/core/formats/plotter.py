"""Sheets for machines that are told every stroke: HP-GL for plotters, G-code for flatbeds.

Both are told the passes too: a stroke that is made twice stands there twice, one time after
the other, an open one there and back.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jadeite.core.cutting import CutPath, SheetCut
from jadeite.core.nets.model import Floats

__all__ = ["PENS", "TOOL_NUMBERS", "gcode_text", "hpgl_text", "passes_of"]

UNITS = 40.0  # to the mm; published, HP-GL: a plotter unit is 0.025 mm
PENS = {"pen": 1, "score": 2, "perforate": 3, "cut": 4}  # design rule; HP-GL pen for each role
TOOL_NUMBERS = {"pen": 1, "score": 2, "perforate": 3, "cut": 3}  # design rule; one blade for both
TOOL_WORDS = {1: "pen", 2: "scoring tool", 3: "blade"}
UP, DOWN = 5.0, 0.0  # mm, height of the tool's tip; from memory, set the origin on the board
PLUNGE = 300.0  # mm/min; from memory, so fast a tool goes down


def passes_of(path: CutPath) -> Iterator[Floats]:
    """Every pass of a stroke, (n, 2) mm; of an open one every second comes back."""
    closed = bool(np.array_equal(path.points[0], path.points[-1]))
    for number in range(path.passes):
        yield path.points if closed or number % 2 == 0 else path.points[::-1]


def _plain(words: str) -> str:
    """Words as a machine of any age reads them."""
    table = str.maketrans({"²": "2", "×": "x", "–": "-", "“": "'", "”": "'", '"': "'", ";": ","})
    kept = words.translate(table).encode("ascii", "replace").decode()
    return kept.replace("(", "[").replace(")", "]")


def hpgl_text(cut: SheetCut, title: str) -> str:
    """A sheet in HP-GL: one pen for each role, in plotter units from the sheet's lower left.

    It bears no ``title``: not every plotter knows comments, and one that does not may draw them.
    """
    out = ["IN;"]
    pen = 0
    for path in cut.paths:
        if PENS[path.role] != pen:
            pen = PENS[path.role]
            speed = cut.profile.speed(path.role) / 10  # VS is in cm/s
            out.append(f"PU;SP{pen};VS{speed:.1f};")
        for points in passes_of(path):
            units = np.round(points * UNITS).astype(int)
            first, rest = units[0], units[1:]
            out.append(f"PU{first[0]},{first[1]};PD{','.join(f'{x},{y}' for x, y in rest)};")
    out += ["PU;SP0;", "PG;"]
    return "\n".join(out) + "\n"


def gcode_text(cut: SheetCut, title: str) -> str:
    """A sheet in G-code (ISO 6983): mm from the sheet's lower left, settings in comments."""
    stock = cut.sheet.stock
    out = [
        f"; {_plain(title)}",
        f"; {_plain(cut.setting)}",
        f"; sheet {stock.width:g} x {stock.height:g} mm, its lower left corner at X0 Y0",
        f"; tip on the board at Z{DOWN:g}; set force or depth by a test cut",
        "G21",
        "G90",
        f"G0 Z{UP:g}",
    ]
    tool, role = 0, ""
    for path in cut.paths:
        if TOOL_NUMBERS[path.role] != tool:
            tool = TOOL_NUMBERS[path.role]
            out.append(f"M0 ; fit the {TOOL_WORDS[tool]}")
            out.append(f"T{tool} M6")
        if path.role != role:
            role = path.role
            times = f", {path.passes} passes" if path.passes > 1 else ""
            out.append(f"; {role}: {cut.profile.speed(role):g} mm/s{times}")
        feed = 60.0 * cut.profile.speed(path.role)
        for points in passes_of(path):
            x, y = points[0]
            out.append(f"G0 X{x:.4f} Y{y:.4f} ; {_plain(path.piece)}")
            out.append(f"G1 Z{DOWN:g} F{PLUNGE:g}")
            out.append(f"G1 X{points[1][0]:.4f} Y{points[1][1]:.4f} F{feed:g}")
            out += [f"G1 X{x:.4f} Y{y:.4f}" for x, y in points[2:]]
            out.append(f"G0 Z{UP:g}")
    out.append("M2")
    return "\n".join(out) + "\n"
