"""Turn the published web fonts into the TTF files that Jadeite ships.

Qt and reportlab want TrueType; both draw the default figures of a font.  The
default figures of Atkinson Hyperlegible Next are proportional, so numbers
would jump while they change.  This script makes the font's own tabular
figures (feature ``tnum``) the default ones, and puts the letters of the rest of
Europe into the same file: names have accents.  It changes nothing else.

Usage: python tools/make_fonts.py FOLDER_WITH_WOFF_FILES OUT_FOLDER
"""

from __future__ import annotations

import sys
from pathlib import Path
from tempfile import TemporaryDirectory

from fontTools.merge import Merger
from fontTools.ttLib import TTFont

WEIGHTS = (400, 600, 700)


def tabular_figures(font: TTFont) -> dict[str, str]:
    """Glyph names of proportional figures mapped to their tabular forms."""
    table = font["GSUB"].table
    lookups = {
        index
        for record in table.FeatureList.FeatureRecord
        if record.FeatureTag == "tnum"
        for index in record.Feature.LookupListIndex
    }
    mapping: dict[str, str] = {}
    for index in lookups:
        for sub in table.LookupList.Lookup[index].SubTable:
            mapping.update(getattr(sub, "ExtSubTable", sub).mapping)
    return mapping


def convert(source: Path, more: Path, target: Path) -> None:
    """Write ``source`` (woff) as TrueType with tabular figures, and the letters of ``more``."""
    font = TTFont(source)
    font.flavor = None
    mapping = tabular_figures(font)
    for table in font["cmap"].tables:
        for code, glyph in list(table.cmap.items()):
            table.cmap[code] = mapping.get(glyph, glyph)
    extended = TTFont(more)
    extended.flavor = None
    with TemporaryDirectory() as folder:
        parts = [str(Path(folder) / name) for name in ("latin.ttf", "extended.ttf")]
        font.save(parts[0])
        extended.save(parts[1])
        Merger().merge(parts).save(target)


def main() -> None:
    """Convert every shipped weight."""
    folder, out = Path(sys.argv[1]), Path(sys.argv[2])
    for weight in WEIGHTS:
        stem = "atkinson-hyperlegible-next-latin"
        convert(
            folder / f"{stem}-{weight}-normal.woff",
            folder / f"{stem}-ext-{weight}-normal.woff",
            out / f"AtkinsonHyperlegibleNext-{weight}.ttf",
        )


if __name__ == "__main__":
    main()
