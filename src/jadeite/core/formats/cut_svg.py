"""Cut files in SVG: one for each sheet and one for each piece.

One unit is one millimetre.  The net is drawn as seen from its good side; only
the y axis points down.  Paths are grouped in the order of working.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from lxml import etree

from jadeite.core.cutting import CutPath, SheetCut
from jadeite.core.nets.model import Floats

__all__ = ["STROKES", "cut_svg", "sheet_svg"]

SVG = "http://www.w3.org/2000/svg"
GROUPS = (("pen", "pen"), ("score", "score"), ("perforate", "perforate"), ("cut", "cut"))
# a setting: colour, width in mm, dashes in mm
STROKES: dict[str, tuple[str, float, str]] = {
    "sheet": ("#D9D4C7", 0.1, ""),
    "print": ("#5F6F68", 0.1, ""),
    "pen": ("#5F6F68", 0.2, ""),
    "score": ("#2E7D66", 0.2, "4 2"),
    "perforate": ("#20302B", 0.2, "1.5 1"),
    "cut": ("#20302B", 0.2, ""),
}


def _data(points: Floats, height: float) -> str:
    closed = len(points) > 2 and np.allclose(points[0], points[-1], atol=1e-9)
    body = points[:-1] if closed else points
    text = " L".join(f"{x:.4f},{height - y:.4f}" for x, y in body)
    return f"M{text}{' Z' if closed else ''}"


def cut_svg(
    paths: tuple[CutPath, ...],
    width: float,
    height: float,
    title: str,
    strokes: dict[str, tuple[str, float, str]] = STROKES,
    *,
    sheet: bool = False,
    marks: Iterable[Floats] = (),
) -> bytes:
    """Paths (in mm, y up) as an SVG of ``width`` x ``height`` mm.

    ``marks`` are lines, (n, 2), that are printed on the sheet, to find it by.
    """
    root = etree.Element(
        f"{{{SVG}}}svg",
        nsmap={None: SVG},
        width=f"{width:.4f}mm",
        height=f"{height:.4f}mm",
        viewBox=f"0 0 {width:.4f} {height:.4f}",
    )
    etree.SubElement(root, f"{{{SVG}}}title").text = title
    if sheet:
        edge = np.array([[0, 0], [width, 0], [width, height], [0, height], [0, 0]])
        _add(_group(root, "sheet", strokes), "sheet", edge, height, "")
    lines = list(marks)
    if lines:
        group = _group(root, "print", strokes)
        for line in lines:
            _add(group, "print", line, height, "")
    for role, _ in GROUPS:
        mine = [path for path in paths if path.role == role]
        if not mine:
            continue
        group = _group(root, role, strokes)
        for path in mine:
            _add(group, role, path.points, height, f"{path.piece}")
    return bytes(etree.tostring(root, xml_declaration=True, encoding="utf-8", pretty_print=True))


def _group(
    root: etree._Element, role: str, strokes: dict[str, tuple[str, float, str]]
) -> etree._Element:
    colour, width, dash = strokes[role]
    group = etree.SubElement(root, f"{{{SVG}}}g", id=role, fill="none", stroke=colour)
    group.set("stroke-width", f"{width:g}")
    if dash:
        group.set("stroke-dasharray", dash)
    return group


def _add(group: etree._Element, role: str, points: Floats, height: float, piece: str) -> None:
    path = etree.SubElement(group, f"{{{SVG}}}path", d=_data(points, height))
    path.set("class", role)
    path.set("data-role", role)
    if piece:
        path.set("data-piece", piece)


def sheet_svg(cut: SheetCut, title: str, marks: Iterable[Floats] = ()) -> bytes:
    """A whole sheet, its outline in the role ``sheet``, its marks, (n, 2) each, in ``print``."""
    stock = cut.sheet.stock
    return cut_svg(cut.paths, stock.width, stock.height, title, sheet=True, marks=marks)
