"""DXF R2010 in millimetres, one layer for each role."""

from __future__ import annotations

import io
from collections.abc import Iterable

import numpy as np
from ezdxf.document import Drawing
from ezdxf.enums import InsertUnits

from jadeite.core.cutting import CutPath
from jadeite.core.nets.model import Floats

__all__ = ["LAYERS", "dxf_text"]

MILLIMETRES = InsertUnits.Millimeters  # $INSUNITS 4
LAYERS = {"print": 9, "pen": 8, "score": 3, "perforate": 30, "cut": 7}  # role to colour index


def dxf_text(paths: tuple[CutPath, ...], marks: Iterable[Floats] = ()) -> str:
    """Paths (in mm, y up) as a DXF drawing; marks that are printed, (n, 2), in ``PRINT``."""
    document = Drawing.new("R2010")
    document.header["$INSUNITS"] = int(MILLIMETRES)
    for role, colour in LAYERS.items():
        document.layers.add(role.upper(), color=colour)
    space = document.modelspace()
    drawn = [("print", line) for line in marks] + [(path.role, path.points) for path in paths]
    for role, line in drawn:
        closed = len(line) > 2 and bool(np.allclose(line[0], line[-1]))
        points = line[:-1] if closed else line
        space.add_lwpolyline(
            [(float(x), float(y)) for x, y in points],
            close=closed,
            dxfattribs={"layer": role.upper()},
        )
    text = io.StringIO()
    document.write(text)
    return text.getvalue()
