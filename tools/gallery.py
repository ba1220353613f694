"""Write ``docs/families.md`` with a small picture of every shape, all from the registry.

Usage: python tools/gallery.py DOCS_FOLDER
"""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QImage, QPainter

from jadeite.core.pictures.palette import LIGHT
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.shapes import PURPOSES, Option, ShapeFamily, all_families
from jadeite.core.shelf import entry_of, ordinary
from jadeite.core.steps import finished
from jadeite.core.units import number_text
from jadeite.desktop.app import application
from jadeite.desktop.entry_picture import PICTURE, entry_painting

SCALE = 2  # pixels of the file for one of the screen
BORDER = 8
KINDS = {
    "hollow": "its contents or an inside size",
    "face": "a closed size",
    "span": "a finished width",
}
HEAD = """# The shapes

Written by `make gallery` from the registry; each drawn as its real net and as it stands, with
all options as they are until somebody chooses: shapes that hold something round a stack of note
cards of 90 × 60 × 40 mm, those that give light round a battery light, an envelope round a card.
"""


def picture(family: ShapeFamily) -> QImage:
    """Net and folded form, as on the shelf."""
    task = ordinary(family)
    entry = entry_of(work_up(task, arrange_contents(task, quick=True)), LIGHT)
    if entry.why:
        raise ValueError(f"{family.key}: {entry.why}")
    size = QSize(PICTURE.width() + 2 * BORDER, PICTURE.height() + 2 * BORDER)
    image = QImage(size * SCALE, QImage.Format.Format_RGB32)
    image.fill(QColor(LIGHT.sheet))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(SCALE, SCALE)
    painter.translate(BORDER, BORDER)
    finished(entry_painting(painter, entry))
    painter.end()
    return image


def values_of(option: Option) -> str:
    """What an option may be, and its usual value."""
    if option.choices:
        words = (f"**{w}**" if k == option.default else w for k, w in option.choices)
        return ", ".join(words)
    if option.words is not None:
        ends = " to ".join(number_text(value, 0) for value in (option.low, option.high))
        return f"{ends} each, **{option.default}**"
    unit = option.suffix
    places = 0 if option.unit == "count" else 1
    low, high, usual = (
        number_text(float(value), places) for value in (option.low, option.high, option.default)
    )
    return f"{low} to {high}{unit}, **{usual}{unit}**"


def text() -> str:
    """The whole page; the usual value of each option stands in bold."""
    out = [HEAD]
    for purpose, words in PURPOSES.items():
        families = [family for family in all_families() if family.purpose == purpose]
        if families:
            out.append(f"\n## {words}\n")
        for family in families:
            out.append(f"\n### {family.title}\n\n![{family.title}](families/{family.key}.png)\n")
            parts = "; ".join(title.lower() for _, title in family.parts)
            sized = " or ".join(KINDS[kind] for kind in family.answers)
            low, high = (number_text(v, 0) for v in (family.smallest, family.largest))
            out.append(
                f"\n{family.about} Sized by {sized}, {low} to {high} mm. Parts: {parts}. "
                f"Key: `{family.key}`.\n"
            )
            out.append("\n| option | values | |\n|---|---|---|\n")
            out += [f"| {o.label} (`{o.key}`) | {values_of(o)} | {o.help} |\n"
                    for o in family.options]  # fmt: skip
    return "".join(out)


def main() -> None:
    """Write the page and its pictures."""
    docs = Path(sys.argv[1])
    application([])
    folder = docs / "families"
    folder.mkdir(exist_ok=True)
    for family in all_families():
        if not picture(family).save(str(folder / f"{family.key}.png")):
            raise OSError(f"{folder / family.key}.png cannot be written")
    (docs / "families.md").write_text(text(), encoding="utf-8")


if __name__ == "__main__":
    main()
