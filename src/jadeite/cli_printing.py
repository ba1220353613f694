"""Printer and cutter without a window: the sheet to calibrate them, and what is read off it."""

from __future__ import annotations

import argparse
import math
from pathlib import Path
from typing import TYPE_CHECKING

from jadeite.core.errors import FieldError

if TYPE_CHECKING:
    from jadeite.core.formats.printer_library import Calibrated
    from jadeite.core.project import Printer

__all__ = ["calibrate", "calibrate_arguments", "printer_arguments", "printer_for"]

PAPERS = ("a4", "letter", "a3")


def printer_arguments(parser: argparse.ArgumentParser) -> None:
    """Which printer, and the paper in it."""
    parser.add_argument("--printer", metavar="NAME", help="what the printer is called")
    parser.add_argument("--printer-paper", choices=PAPERS, help="the paper in it (usual a4)")


def calibrate_arguments(parser: argparse.ArgumentParser) -> None:
    """What a calibration takes."""
    printer_arguments(parser)
    say = parser.add_argument
    say("--cutter", metavar="KEY", default="large", help="small, middle, large (usual), ...")
    say("-o", "--output", metavar="DIR", help="write the sheet to print and to cut")
    say("--readings", metavar="WORDS", help="eight numbers read off, A to H: '0 0.5 -1 0 1 0 0 0'")


def _path() -> Path:
    from platformdirs import user_data_path

    return user_data_path("jadeite", appauthor=False) / "printers.json"


def _known() -> tuple[Calibrated, ...]:
    from jadeite.core.formats.printer_library import load_printers

    return load_printers(_path()) if _path().exists() else ()


def printer_for(options: argparse.Namespace, cutter: str, usual: Printer) -> Printer:
    """The printer that was named, with what was measured of it with a cutter."""
    from jadeite.core.formats.printer_library import calibrated_for
    from jadeite.core.project import changed

    if options.printer is None and options.printer_paper is None:
        return usual
    name, paper = options.printer or usual.name, options.printer_paper or usual.paper
    kept = calibrated_for(_known(), name, cutter, paper)
    more = {} if kept is None else {"correction": kept.correction}
    return changed(usual, name=name, paper=paper, **more)


def calibrate(options: argparse.Namespace) -> int:
    """Write the calibration sheet, or take its readings."""
    from datetime import date

    from jadeite.core.cutting import profile_by_key
    from jadeite.core.cutting.calibration import GOOD_ENOUGH, readings_from, solved
    from jadeite.core.formats.calibration_sheet import write_calibration
    from jadeite.core.formats.printer_library import Calibrated, save_printers, with_calibrated
    from jadeite.core.project import Printer
    from jadeite.core.sheets.marks import PAPERS as SIZES

    if not (options.output or options.readings):
        raise FieldError(
            "calibrate", "nothing is asked for",
            "Type -o DIR for the sheet, or --readings for what was read off.",
        )  # fmt: skip
    cutter = profile_by_key(options.cutter)
    printer = printer_for(options, cutter.key, Printer())
    if options.readings:
        found = solved(
            readings_from(options.readings), SIZES[printer.paper], cutter.reach, printer.correction
        )
        made = Calibrated(
            printer=printer.name, cutter=cutter.key, paper=printer.paper,
            correction=found.correction, date=date.today().isoformat(), off=found.off,
        )  # fmt: skip
        _path().parent.mkdir(parents=True, exist_ok=True)
        save_printers(with_calibrated(_known(), made), _path())
        of = found.correction
        fits = found.off <= GOOD_ENOUGH
        print(f"The cut missed the print by up to {found.off:.2f} mm.")
        print(
            f"Kept for “{printer.name}” and the {cutter.title.lower()}: {of.right:+.2f} mm right, "
            f"{of.up:+.2f} mm up, turned {math.degrees(of.turn):+.3f}°, "
            f"{of.wide:+.2%} wide, {of.high:+.2%} high."
        )
        print("It fits." if fits else "Print and cut the sheet again, and read it off once more.")
        printer = printer.model_copy(update={"correction": found.correction})
    if options.output:
        for path in write_calibration(printer, cutter, Path(options.output)):
            print(path)
    return 0
