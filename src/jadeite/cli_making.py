"""How a job is made, without a window: sheets at hand, cutter, folds and glue."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jadeite.core.errors import FieldError

if TYPE_CHECKING:
    from jadeite.core.project import Stock

__all__ = ["making_arguments", "making_of"]


def making_arguments(parser: argparse.ArgumentParser) -> None:
    """What holds for all items of a job, and how folds are made."""
    say = parser.add_argument
    say("--cutter", metavar="KEY", help="small, middle, large (usual), ...")
    say(
        "--folds",
        choices=("scored", "perforated", "hand-creased"),
        default="scored",
        help="how folds are made (default scored)",
    )
    say(
        "--sheet",
        metavar="SIZE[:COUNT]",
        help="paper at hand, such as a4, 12x12in (usual) or 210x594mm:3; may be given again",
        action="append",
        default=[],
    )
    say(
        "--stock",
        metavar="FILE.csv",
        help="sheets at hand from a table, as the window writes it: sizes, counts, boards, "
        "colours, prices, offcuts",
    )
    say("--glue", metavar="KEY", help="liquid-craft-glue (usual), glue-stick, ...")


def making_of(options: argparse.Namespace) -> dict[str, Any]:
    """The fields of a project that were said, by name.

    Raises
    ------
    FieldError
        No such glue, no size of a sheet, or two lists of sheets.
    """
    from jadeite.core.assembly.adhesives import adhesive_by_key

    out: dict[str, Any] = {}
    if options.cutter:
        out["cutter"] = options.cutter
    if options.stock:
        from jadeite.core.formats.stock_table import load_stock

        if options.sheet:
            raise FieldError("--stock", "--sheet says it as well", "Use one of them.")
        out["stock"] = load_stock(Path(options.stock))
    elif options.sheet:
        out["stock"] = tuple(_sheet(words) for words in options.sheet)
    if options.glue:
        try:
            out["adhesive"] = adhesive_by_key(options.glue).key
        except FieldError as error:
            raise FieldError("--glue", error.problem, error.cure) from None
    return out


def _sheet(words: str) -> Stock:
    """Sheets of one size: by its name, or width and height; how many there are."""
    from jadeite.core.project import Stock
    from jadeite.core.sheets import SHEET_SIZES
    from jadeite.core.units import parse_face

    size, colon, many = words.partition(":")
    if colon and not (many.isdigit() and 1 <= int(many) <= 10_000):
        raise FieldError("--sheet", f"“{many[:20]}” is no count of sheets", "Type it as a4:5.")
    count = int(many) if colon else None
    for known in SHEET_SIZES:
        if size.strip().lower() == known.key:
            return Stock(name=known.title, width=known.width, height=known.height, count=count)
    try:
        width, height = parse_face(size, field="--sheet")
    except FieldError as error:
        names = ", ".join(known.key for known in SHEET_SIZES)
        cure = f"Use one of {names}, or type it as 210x594mm."
        raise FieldError("--sheet", error.problem, cure) from None
    return Stock(name=size.strip()[:60], width=width, height=height, count=count)
