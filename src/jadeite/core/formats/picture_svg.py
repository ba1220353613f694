"""Pictures as SVG: the same drawing as in the window."""

from __future__ import annotations

import base64
import struct

from lxml import etree

from jadeite.core.formats.pdf import png_for
from jadeite.core.nets.model import Floats
from jadeite.core.pictures import Image, Label, Path, Picture

__all__ = ["picture_svg"]

SVG = "http://www.w3.org/2000/svg"


def _path_data(rings: tuple[Floats, ...], closed: bool) -> str:
    parts = []
    for ring in rings:
        points = " L".join(f"{x:.3f},{y:.3f}" for x, y in ring)
        parts.append(f"M{points}{' Z' if closed else ''}")
    return " ".join(parts)


def picture_svg(picture: Picture, width: float, height: float, unit: str = "") -> bytes:
    """An SVG document of ``width`` x ``height`` picture units.

    ``unit`` is ``mm`` for pictures on paper, empty for pixels.
    """
    root = etree.Element(
        f"{{{SVG}}}svg",
        nsmap={None: SVG},
        width=f"{width:g}{unit}",
        height=f"{height:g}{unit}",
        viewBox=f"0 0 {width:g} {height:g}",
    )
    if picture.shadow:
        etree.SubElement(
            root,
            f"{{{SVG}}}path",
            d=_path_data(picture.shade, True),
            fill=picture.shadow_colour,
            opacity="0.14",
        )
    for item in picture.items:
        if isinstance(item, Path):
            _add_path(root, item)
        elif isinstance(item, Label):
            _add_label(root, item)
        else:
            _add_image(root, item)
    return bytes(etree.tostring(root, xml_declaration=True, encoding="utf-8", pretty_print=True))


def _add_path(root: etree._Element, item: Path) -> None:
    attributes = {"d": _path_data(item.rings, item.closed), "fill": item.fill or "none"}
    if item.fill:
        attributes["fill-rule"] = "evenodd"
    if item.opacity < 1:
        attributes["opacity"] = f"{item.opacity:g}"
    if item.stroke:
        attributes |= {
            "stroke": item.stroke.colour,
            "stroke-width": f"{item.stroke.width:.3g}",
            "stroke-linejoin": "round",
            "stroke-linecap": "round",
        }
        if item.stroke.dash:
            attributes["stroke-dasharray"] = " ".join(f"{d:.3g}" for d in item.stroke.dash)
            attributes["stroke-linecap"] = "butt"
    etree.SubElement(root, f"{{{SVG}}}path", **attributes)


def _add_image(root: etree._Element, item: Image) -> None:
    """A picture within its rings; its bytes are in the drawing itself."""
    name = f"within-{sum(1 for _ in root.iter('{*}clipPath')) + 1}"
    clip = etree.SubElement(root, f"{{{SVG}}}clipPath", id=name)
    ring = etree.SubElement(clip, f"{{{SVG}}}path", d=_path_data(item.rings, True))
    ring.set("clip-rule", "evenodd")
    png = png_for(item)
    wide, high = struct.unpack(">II", png[16:24])  # of the header that PNG begins with
    side = max(wide, high)
    within = etree.SubElement(root, f"{{{SVG}}}g")
    within.set("clip-path", f"url(#{name})")
    flip = item.matrix * (1.0, -1.0, 1.0)  # an image's y points down
    numbers = " ".join(f"{v:.6f}" for v in flip.T.ravel())
    picture = etree.SubElement(
        within,
        f"{{{SVG}}}image",
        x=f"{-wide / side / 2:.6f}",
        y=f"{-high / side / 2:.6f}",
        width=f"{wide / side:.6f}",
        height=f"{high / side:.6f}",
        transform=f"matrix({numbers})",
        href="data:image/png;base64," + base64.b64encode(png).decode(),
    )
    picture.set("preserveAspectRatio", "none")


def _add_label(root: etree._Element, item: Label) -> None:
    if item.pill:
        width = len(item.text) * item.size * 0.55 + item.size
        etree.SubElement(
            root,
            f"{{{SVG}}}rect",
            x=f"{item.x - width / 2:.3f}",
            y=f"{item.y - item.size * 0.8:.3f}",
            width=f"{width:.3f}",
            height=f"{item.size * 1.6:.3f}",
            rx=f"{item.size * 0.8:.3f}",
            fill=item.pill,
            stroke=item.edge or "none",
        )
    text = etree.SubElement(
        root,
        f"{{{SVG}}}text",
        x=f"{item.x:.3f}",
        y=f"{item.y + item.size * 0.35:.3f}",
        fill=item.colour,
    )
    text.set("font-size", f"{item.size:.3g}")
    text.set("font-family", "Atkinson Hyperlegible Next, sans-serif")
    text.set("font-weight", str(item.weight))
    text.set("text-anchor", item.anchor)
    if item.turn:
        text.set("transform", f"rotate({item.turn:g} {item.x:.3f} {item.y:.3f})")
    text.text = item.text
