"""The same job without a window."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from jadeite import __version__
from jadeite.core.errors import FieldError, JadeiteError

if TYPE_CHECKING:
    from jadeite.core.boards import Board
    from jadeite.core.shapes import ShapeFamily

__all__ = ["main"]

COMMANDS = ("shapes", "new", "check", "export")


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
    new.add_argument("shape", metavar="SHAPE", help="key of a shape, such as tray-with-lid")
    new.add_argument("--inside", metavar="SIZE", help="the hollow itself, such as 96x64x41mm")
    new.add_argument(
        "--board",
        action="append",
        default=[],
        metavar="[PART=]KEY",
        help="board for every part, such as medium-card, or for one, such as lid=heavy-card",
    )
    new.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="OPTION=VALUE",
        help="set an option of the shape; may be given again",
    )
    new.add_argument(
        "--thing",
        action="append",
        default=[],
        metavar="WORDS",
        help="something that goes in, such as 'planet: ball 90mm'; may be given again",
    )
    new.add_argument("--title", metavar="WORDS", help="what the project is called")
    new.add_argument("--cutter", default="large", metavar="KEY", help="small, middle, large, ...")
    new.add_argument(
        "--folds",
        choices=("scored", "perforated", "hand-creased"),
        default="scored",
        help="how folds are made (default scored)",
    )
    new.add_argument(
        "--split",
        action="append",
        default=[],
        metavar="PIECE=PANEL",
        help="cut a piece in two at the fold of a panel; may be given again",
    )
    new.add_argument(
        "--window",
        action="append",
        default=[],
        metavar="WHERE=PATTERN",
        help="a window: PIECE/PANEL=leaves, or walls=leaves in every wall; FILE.svg for a pattern "
        "cuts an outline of your own; may be given again",
    )
    new.add_argument(
        "--lined",
        nargs="?",
        const="each",
        choices=("each", "strip"),
        help="line the windows: each by itself (usual), or all with one strip",
    )
    new.add_argument("-o", "--output", required=True, metavar="FILE", help="the project file")
    check = commands.add_parser("check", help="sizes, findings and closure; exit 1 if one blocks")
    check.add_argument("file", metavar="FILE")
    check.add_argument("--json", action="store_true", help="as JSON")
    export = commands.add_parser("export", help="write the cut files, step sheets and tables")
    export.add_argument("file", metavar="FILE")
    export.add_argument("-o", "--output", required=True, metavar="DIR")
    export.add_argument("--only", metavar="LIST", help="some of svg,dxf,pdf,fold,gltf,csv")
    export.add_argument(
        "--paper", choices=("a4", "letter"), default="a4", help="paper of the PDF (default a4)"
    )
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
        return {"shapes": _shapes, "new": _new, "check": _check, "export": _export}[
            options.command
        ](options)
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
    from jadeite.core.shapes import all_families

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


def _own_boards() -> tuple[Board, ...]:
    """The maker's own boards, as the window keeps them."""
    from platformdirs import user_data_path

    from jadeite.core.formats.board_library import load_boards

    path = user_data_path("jadeite", appauthor=False) / "boards.json"
    return load_boards(path) if path.exists() else ()


def _boards_from(words: list[str], family: ShapeFamily) -> tuple[dict[str, str], tuple[Board, ...]]:
    """The board of each part, and those of them that are the maker's own.

    Raises
    ------
    FieldError
        No such part, or no such board.
    """
    from jadeite.core.boards import board_by_key

    own = _own_boards() if words else ()
    boards: dict[str, str] = {}
    used: dict[str, Board] = {}
    for word in words:
        part, equals, key = word.rpartition("=")
        parts = [p for p, _ in family.parts]
        if equals and part not in parts:
            raise FieldError(
                "--board", f"“{part[:40]}” is no part", f"Use one of: {', '.join(parts)}."
            )
        board = board_by_key(key, own)
        used[board.key] = board
        boards |= dict.fromkeys([part] if equals else family.parts_for_one_board, board.key)
    return boards, tuple(board for board in used.values() if board in own)


def _new(options: argparse.Namespace) -> int:
    from jadeite.core.contents.words import thing_from_words
    from jadeite.core.formats import save_project
    from jadeite.core.formats.svg_outline import read_outline
    from jadeite.core.pipeline import arrange_contents, windows_from, work_up
    from jadeite.core.project import Project, Shape, changed
    from jadeite.core.shapes import family_by_key, resolve_options
    from jadeite.core.units import parse_size

    family = family_by_key(options.shape)
    chosen: dict[str, float | str] = {}
    for pair in options.set:
        key, equals, value = pair.partition("=")
        if not equals:
            raise FieldError("--set", f"“{pair[:40]}” has no =", "Write --set option=value.")
        chosen[key] = value
    values = resolve_options(family, chosen)
    boards, own = _boards_from(options.board, family)
    project = changed(
        Project(),
        title=options.title or family.title,
        shape=Shape(key=family.key, options={key: values[key] for key in chosen}),
        folds=options.folds,
        cutter=options.cutter,
        contents=tuple(thing_from_words(words) for words in options.thing),
        inside=None if options.inside is None else parse_size(options.inside, field="inside"),
        boards=boards,
        own_boards=own,
        linings=options.lined or "each",
    )
    if options.split:
        pairs = [pair.partition("=") for pair in options.split]
        if not all(piece and child for piece, _, child in pairs):
            raise FieldError("--split", "it has no =", "Write --split piece=panel.")
        project = changed(project, splits={piece: child for piece, _, child in pairs})
    if project.inside is not None or project.contents:
        arrangement = arrange_contents(project)
        for pair in options.window:
            where, equals, motif = pair.partition("=")
            if not equals:
                raise FieldError("--window", "it has no =", "Write --window walls=leaves.")
            if motif.lower().endswith(".svg"):
                outline = read_outline(Path(motif))
                project, motif = (
                    changed(project, outlines=(*project.outlines, outline)),
                    outline.key,
                )
            lined = options.lined is not None
            made = windows_from(project, arrangement, where, motif, lined=lined)
            project = changed(project, windows=(*project.windows, *made))
        work = work_up(project, arrangement)
        refused = next((f for f in work.findings if f.code == "window-refused"), None)
        if refused is not None:
            raise FieldError("--window", refused.message.rstrip("."))
        if work.design is None:
            raise FieldError("inside", work.findings[0].message.rstrip("."))
    save_project(project, Path(options.output))
    return 0


def _check(options: argparse.Namespace) -> int:
    from jadeite.core.formats import load_project
    from jadeite.core.formats.reckoning_text import reckoning_text
    from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up

    project = load_project(Path(options.file))
    work = work_up(project, arrange_contents(project))
    findings = list(work.findings)
    if work.design is not None:
        findings += plan_sheets(project, work.design).findings
    if options.json:
        out = {
            "sizes": {key: value.to_json() for key, value in work.sizes.items()},
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
                for r in work.joints
            ],
        }
        print(json.dumps(out, indent=1, ensure_ascii=False, allow_nan=False))
    else:
        for value in work.sizes.values():
            print(f"{value.name}: {reckoning_text(value)}")
        glued = [r for r in work.joints if r.joint.kind == "glue"]
        print(f"Closes: {sum(r.closed for r in glued)} of {len(glued)} glue joints")
        for finding in findings:
            cure = f" {finding.cure.label}." if finding.cure else ""
            print(f"{finding.level.word}: {finding.message}{cure}")
    return 1 if work.blocked else 0


def _export(options: argparse.Namespace) -> int:
    from jadeite.core.formats import FORMATS, export_all, load_project
    from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up

    only = options.only.split(",") if options.only else FORMATS
    for name in only:
        if name not in FORMATS:
            raise FieldError(
                "--only", f"there is no format “{name[:20]}”", f"Use any of: {','.join(FORMATS)}."
            )
    project = load_project(Path(options.file))
    work = work_up(project, arrange_contents(project))
    if work.design is None or work.blocked:
        raise FieldError("export", work.findings[0].message.rstrip("."), "Nothing was written.")
    sheets = plan_sheets(project, work.design)
    for path in export_all(work, sheets, Path(options.output), only, paper=options.paper):
        print(path)
    return 0


if __name__ == "__main__":
    sys.exit(main())
