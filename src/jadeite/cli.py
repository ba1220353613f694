"""The same job without a window."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from jadeite import __version__
from jadeite.cli_cutter import cutter, cutter_arguments
from jadeite.cli_items import add, item_arguments, new
from jadeite.cli_printing import calibrate, calibrate_arguments
from jadeite.core.errors import FieldError, JadeiteError
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.model import Kind
from jadeite.core.units import counted

if TYPE_CHECKING:
    from jadeite.core.pipeline import AtHand, Work
    from jadeite.core.sheets import Layout

__all__ = ["main"]

COMMANDS = ("shapes", "new", "add", "check", "export", "calibrate", "cutter")


class _Parser(argparse.ArgumentParser):
    """Says what is wrong in one line."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{self.prog}: {message}. See {self.prog} --help.\n")


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(
        prog="jadeite",
        description="Size flat nets to their contents, prove that they close, plan the making.",
        epilog="Without a command the window opens: jadeite, jadeite FILE.jadeite, jadeite --demo.",
    )
    parser.add_argument("--version", action="version", version=f"Jadeite {__version__}")
    parser.add_argument("--demo", action="store_true", help="open the window with the demo project")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    shapes = commands.add_parser("shapes", help="list every shape with its options")
    shapes.add_argument("--json", action="store_true", help="as JSON")
    new = commands.add_parser("new", help="write a new project")
    item_arguments(new)
    new.add_argument("-o", "--output", required=True, metavar="FILE", help="the project file")
    add = commands.add_parser("add", help="add one more made thing to a project")
    add.add_argument("file", metavar="FILE")
    item_arguments(add)
    add.add_argument("-o", "--output", metavar="FILE", help="another file than FILE to write")
    check = commands.add_parser("check", help="sizes, findings and closure; exit 1 if one blocks")
    check.add_argument("file", metavar="FILE")
    check.add_argument("--json", action="store_true", help="as JSON")
    export = commands.add_parser("export", help="write the cut files, step sheets and tables")
    export.add_argument("file", metavar="FILE")
    export.add_argument("-o", "--output", required=True, metavar="DIR")
    export.add_argument(
        "--only",
        metavar="LIST",
        help="some of svg,dxf,pdf,fold,gltf,csv,hpgl,gcode (default all but the last two)",
    )
    export.add_argument(
        "--paper", choices=("a4", "letter"), default="a4", help="paper of the PDF (default a4)"
    )
    calibration = commands.add_parser(
        "calibrate", help="set a cutter to a printer: a sheet to print, cut and read off"
    )
    calibrate_arguments(calibration)
    simulated = commands.add_parser(
        "cutter", help="a simulated cutter: plays a file, or takes lines over a socket"
    )
    cutter_arguments(simulated)
    return parser


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    if not any(word in COMMANDS for word in words[:1]) and not (
        words and words[0] in ("-h", "--help", "--version")
    ):
        return _window(words)
    options = _parser().parse_args(words)
    try:
        run = {"shapes": _shapes, "new": new, "add": add, "check": _check, "export": _export}
        run |= {"calibrate": calibrate, "cutter": cutter}
        return run[options.command](options)
    except JadeiteError as error:
        print(f"jadeite: {error}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 2


def _window(words: list[str]) -> int:
    unknown = [w for w in words if w.startswith("-") and w not in ("--demo",)]
    if unknown or len([w for w in words if not w.startswith("-")]) > 1:
        _parser().error(f"cannot make sense of: {' '.join(words)}")
    files = [w for w in words if not w.startswith("-")]
    if files:
        path = Path(files[0])
        if not path.exists():
            hint = f" There is no command “{files[0]}”." if path.suffix == "" else ""
            print(f"jadeite: {files[0]}: there is no such file.{hint}", file=sys.stderr)
            return 2
    from jadeite.desktop.app import run

    return run(Path(files[0]) if files else None, demo="--demo" in words)


def _shapes(options: argparse.Namespace) -> int:
    from jadeite.core.shapes import all_families, left_out

    for problem in left_out():
        print(f"jadeite: {problem}", file=sys.stderr)
    if options.json:
        rows = [
            {"key": f.key, "title": f.title, "options": [o.to_json() for o in f.options]}
            for f in all_families()
        ]
        print(json.dumps(rows, indent=1, ensure_ascii=False))
        return 0
    for family in all_families():
        print(f"{family.key}: {family.title}. {family.about}")
        for option in family.options:
            if option.choices:
                values = ", ".join(key for key, _ in option.choices)
            else:
                values = f"{option.low:g} to {option.high:g} {option.unit}"
            print(f"  {option.key:<16} {option.label} ({values}; {option.default}). {option.help}")
    return 0


def _check(options: argparse.Namespace) -> int:
    from jadeite.core.formats import load_project
    from jadeite.core.pipeline import at_hand, plan_job_sheets, work_up_job

    project = load_project(Path(options.file))
    job = work_up_job(project)
    sheets = plan_job_sheets(job, seek=True)
    found = {
        name: [
            *(job.works[name].findings if name in job.works else ()),
            *(f for f in (*job.findings, *sheets.findings) if not job.several or f.item == name),
        ]
        for name in project.names
    }
    besides = at_hand(job.works)
    if options.json:
        rows = {
            name: _record(job.works.get(name), found[name])
            | {"bought": [_bought(thing) for thing in besides if thing.item == name]}
            for name in project.names
        }
        out = {"items": rows} if job.several else rows[project.names[0]]
        out |= {"sheets": _sheet_counts(sheets.layout)}
        print(json.dumps(out, indent=1, ensure_ascii=False, allow_nan=False))
    else:
        for name in project.names:
            if job.several:
                count = project.item(name).count
                print(f"{name}:" if count == 1 else f"{count} × {name}:")
            _tell(job.works.get(name), found[name])
            for thing in besides:
                if thing.item == name:
                    print(f"Besides board: {thing.words()}")
        print(f"Sheets: {_sheet_words(sheets.layout)}")
    return 1 if any(f.level is Level.BLOCKED for each in found.values() for f in each) else 0


def _sheet_counts(layout: Layout) -> dict[str, int]:
    """What ``check --json`` says of the sheets of the whole job."""
    return {
        "whole": layout.whole,
        "offcuts": len(layout.sheets) - layout.whole,
        "fewest": layout.fewest,
        "left": len(layout.unplaced),
    }


def _sheet_words(layout: Layout) -> str:
    """The same in words."""
    words = f"{layout.whole}, by their area no fewer than {layout.fewest}"
    if offcuts := len(layout.sheets) - layout.whole:
        words += f"; and {counted(offcuts, 'offcut')}"
    if layout.unplaced:
        words += f"; {counted(len(layout.unplaced), 'piece')} on none"
    return words


def _record(work: Work | None, findings: Sequence[Finding]) -> dict[str, Any]:
    """What ``check --json`` says of one item."""
    return {
        "sizes": {key: value.to_json() for key, value in work.sizes.items()} if work else {},
        "findings": [finding.to_json() for finding in findings],
        "joints": [
            {
                "kind": r.joint.kind,
                "tab": list(r.joint.tab),
                "target": list(r.joint.target),
                "angle_deg": r.angle,
                "distance_mm": r.distance,
                "landed": r.landed,
            }
            for r in (work.joints if work else ())
        ],
    }


def _bought(thing: AtHand) -> dict[str, Any]:
    """One thing that is needed besides board, for all copies of an item."""
    return {
        "name": thing.name,
        "count": thing.count,
        "across_mm": thing.across,
        "thick_mm": thing.thick,
        "length_mm": thing.length,
    }


def _tell(work: Work | None, findings: Sequence[Finding]) -> None:
    """The same in words."""
    from jadeite.core.formats.reckoning_text import reckoning_text
    from jadeite.core.reckoning import alike

    if work is not None:
        for value in alike(work.sizes).values():
            print(f"{value.name}: {reckoning_text(value)}")
        glued = [r.joint.title for r in work.joints if r.joint.kind is Kind.GLUE]
        if glued:
            gape = {r.joint.title for r in work.joints if r.joint.title in glued and not r.closed}
            whole = len(set(glued))
            print(f"Closes: {whole - len(gape)} of {whole} glue joints")
    for finding in findings:
        cure = f" {finding.cure.label}." if finding.cure else ""
        print(f"{finding.level.word}: {finding.message}{cure}")


def _export(options: argparse.Namespace) -> int:
    from jadeite.core.formats import EVERY, FORMATS, export_all, load_project
    from jadeite.core.pipeline import plan_job_sheets, work_up_job

    only = options.only.split(",") if options.only else FORMATS
    for name in only:
        if name not in EVERY:
            raise FieldError(
                "--only", f"there is no format “{name[:20]}”", f"Use any of: {','.join(EVERY)}."
            )
    job = work_up_job(load_project(Path(options.file)))
    if job.refused is not None:
        raise FieldError("export", job.refused.message.rstrip("."), "Nothing was written.")
    sheets = plan_job_sheets(job, seek=True)
    for path in export_all(job, sheets, Path(options.output), only, paper=options.paper):
        print(path)
    return 0


if __name__ == "__main__":
    sys.exit(main())
