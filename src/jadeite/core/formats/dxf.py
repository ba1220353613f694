"""DXF R2010 in millimetres, one layer for each role."""

from __future__ import annotations

import io

import numpy as np
from ezdxf.document import Drawing
from ezdxf.enums import InsertUnits

from jadeite.core.cutting import CutPath

__all__ = ["LAYERS", "dxf_text"]

MILLIMETRES = InsertUnits.Millimeters  # $INSUNITS 4
LAYERS = {"pen": 8, "score": 3, "perforate": 30, "cut": 7}  # role to colour index


def dxf_text(paths: tuple[CutPath, ...]) -> str:
    """Paths (in mm, y up) as a DXF drawing."""
    document = Drawing.new("R2010")
    document.header["$INSUNITS"] = int(MILLIMETRES)
    for role, colour in LAYERS.items():
        document.layers.add(role.upper(), color=colour)
    space = document.modelspace()
    for path in paths:
        closed = len(path.points) > 2 and bool(np.allclose(path.points[0], path.points[-1]))
        points = path.points[:-1] if closed else path.points
        space.add_lwpolyline(
            [(float(x), float(y)) for x, y in points],
            close=closed,
            dxfattribs={"layer": path.role.upper()},
        )
    text = io.StringIO()
    document.write(text)
    return text.getvalue()
