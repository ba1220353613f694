"""An item of a job from what was typed: ``new`` begins a job with it, ``add`` adds it to one."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jadeite.cli_making import making_arguments, making_of
from jadeite.cli_overlays import overlay_arguments, with_overlays
from jadeite.cli_printing import printer_arguments, printer_for
from jadeite.cli_sizing import plate_from, sized_by, sizing_arguments
from jadeite.cli_windows import window_arguments, with_windows
from jadeite.core.errors import FieldError

if TYPE_CHECKING:
    from jadeite.core.boards import Board
    from jadeite.core.pipeline import Work
    from jadeite.core.project import Brief, Project
    from jadeite.core.shapes import ShapeFamily

__all__ = ["add", "item_arguments", "new"]

SIZES = {"hollow": "--inside", "face": "--face", "span": "--width"}


def item_arguments(parser: argparse.ArgumentParser) -> None:
    """What may be said of one item, and of the job with it."""
    several = {"action": "append", "default": []}
    say = parser.add_argument
    say("shape", metavar="SHAPE", help="key of a shape, such as tray-with-lid")
    say("--item", metavar="NAME", help="what the made thing is called, such as card")
    say("--inside", metavar="SIZE", help="the hollow itself, such as 96x64x41mm")
    say("--face", metavar="SIZE", help="closed width and height of a flat thing: 105x148mm")
    say("--width", metavar="LENGTH", help="finished width of a free-standing thing")
    say("--height", metavar="LENGTH", help="finished height of a free-standing thing")
    say("--copies", metavar="COUNT", help="how many are made (default 1)")
    say("--names", metavar="FILE", help="a list of names in CSV, maybe with tables: a copy each")
    say(
        "--around",
        metavar="ITEM",
        help="another item of the job that goes in; may be given again",
        **several,
    )
    say(
        "--board",
        metavar="[PART=]KEY",
        help="board for every part, such as medium-card, or for one, such as lid=heavy-card",
        **several,
    )
    say(
        "--set",
        metavar="OPTION=VALUE",
        help="set an option of the shape; may be given again",
        **several,
    )
    say(
        "--thing",
        metavar="WORDS",
        help="something that goes in, such as 'planet: ball 90mm, 40 g'; may be given again",
        **several,
    )
    say("--title", metavar="WORDS", help="what the project is called")
    making_arguments(parser)
    say(
        "--split",
        metavar="PIECE=PANEL",
        help="cut a piece in two at the fold of a panel; may be given again",
        **several,
    )
    window_arguments(parser)
    overlay_arguments(parser)
    sizing_arguments(parser)
    printer_arguments(parser)
    say("--picture", metavar="FILE", help="a PNG or JPEG that a figure is cut out of and printed")
    say(
        "--print",
        metavar="WHERE=WHAT",
        help="on PIECE/PANEL a picture (FILE.png, FILE.jpg), a colour (#2e7d66) or words; may be "
        "given again",
        dest="prints",
        **several,
    )


def new(options: argparse.Namespace) -> int:
    """Write a job of one item."""
    from jadeite.core.project import Project, changed
    from jadeite.core.shapes import family_by_key

    family = family_by_key(options.shape)
    if options.around:
        raise FieldError("--around", "a new job has no other item", "Use jadeite add.")
    title = options.title or family.title
    _write(changed(Project(), title=title), family, options, Path(options.output), first=True)
    return 0


def add(options: argparse.Namespace) -> int:
    """Write one more item into a job."""
    from jadeite.core.formats import load_project
    from jadeite.core.project import changed
    from jadeite.core.shapes import family_by_key

    project = load_project(Path(options.file))
    if options.title:
        project = changed(project, title=options.title)
    _write(project, family_by_key(options.shape), options, Path(options.output or options.file))
    return 0


def _write(
    project: Project,
    family: ShapeFamily,
    options: argparse.Namespace,
    path: Path,
    *,
    first: bool = False,
) -> None:
    """The job with what was typed, once it is worked up; nothing is written that is refused."""
    from jadeite.core.contents.things import MadeThing
    from jadeite.core.contents.words import thing_from_words
    from jadeite.core.formats import save_project
    from jadeite.core.formats.name_list import NameList, read_names
    from jadeite.core.project import Item, Shape, Span, changed, slug, with_item
    from jadeite.core.shapes import resolve_options

    name = options.item or family.short.lower()
    if not first and slug(name) in {slug(other) for other in project.names}:
        raise FieldError("--item", f"another item is named “{name[:60]}”", "Give it another name.")
    for held in options.around:
        project.item(held)
    chosen = _drawn(family, dict(_pairs("--set", options.set, "option=value")))
    values = resolve_options(family, chosen)
    boards, own = _boards_from(options.board, family)
    known = {board.key for board in project.own_boards}
    listed = read_names(Path(options.names)) if options.names else NameList()
    if listed.said:
        print(f"{options.names}: {listed.said}", file=sys.stderr)
    item = changed(
        Item(),
        name=name,
        shape=Shape(key=family.key, options={key: values[key] for key in chosen}),
        brief=_brief(options, family),
        folds=options.folds,
        contents=(
            *(MadeThing(name=held, item=held) for held in options.around),
            *(thing_from_words(words) for words in options.thing),
        ),
        boards=boards,
        linings=options.lined or "each",
        usual_windows=not options.window,
        plate=plate_from(options),
        splits=dict(_pairs("--split", options.split, "piece=panel")),
        copies=_count(options.copies),
        names=listed.names,
        tables=listed.tables,
    )
    job: dict[str, Any] = {
        "own_boards": (*project.own_boards, *(b for b in own if b.key not in known))
    }
    job |= making_of(options)
    job["printer"] = printer_for(options, job.get("cutter", project.cutter), project.printer)
    project = changed(changed(project, items=(item,)) if first else with_item(project, item), **job)
    project = sized_by(project, name, options)
    sized = isinstance(item.brief, Span) or item.brief.size is not None
    if sized or item.contents:
        project = _worked_up(project, name, options)
    save_project(project, path)


def _drawn(family: ShapeFamily, chosen: dict[str, str]) -> dict[str, str]:
    """The options, with outlines read from the drawings that are named."""
    from jadeite.core.formats.petal_drawing import read_petal
    from jadeite.core.formats.svg_outline import rings_words

    drawings = {option.key for option in family.options if option.unit == "drawing"}
    outlines = {option.key for option in family.options if option.unit == "outlines"}
    return {
        key: read_petal(Path(value)).words
        if key in outlines and value.lower().endswith(".svg")
        else rings_words(Path(value))
        if key in drawings and value.lower().endswith(".svg")
        else value
        for key, value in chosen.items()
    }


def _worked_up(project: Project, name: str, options: argparse.Namespace) -> Project:
    """The job with the item's windows.

    Raises
    ------
    FieldError
        The item cannot be made as it was typed.
    """
    from jadeite.core.pipeline import work_up_job

    project = with_windows(project, name, options)
    project = with_overlays(project, name, options)
    job = work_up_job(project)
    project = _printed(project, job.works.get(name), name, options)
    job = work_up_job(project, job.works)
    work = job.works.get(name)
    if work is None:
        raise FieldError("--around", job.findings[0].message.rstrip("."))
    for code, typed in (("window-refused", "--window"), ("print-refused", "--print")):
        refused = next((f for f in work.findings if f.code == code), None)
        if refused is not None:
            raise FieldError(typed, refused.message.rstrip("."))
    if work.design is None:
        field = SIZES[work.task.brief.kind].removeprefix("--")
        raise FieldError(field, work.findings[0].message.rstrip("."))
    return project


def _printed(
    project: Project, work: Work | None, name: str, options: argparse.Namespace
) -> Project:
    """The job with the item's pictures and prints.

    Raises
    ------
    JadeiteError
        A picture cannot be read, has no figure, or there is nothing that bears it.
    """
    if work is None or not (options.picture or options.prints):
        return project
    from jadeite.core.formats.photo_file import figure_of, photo_from, said_of
    from jadeite.core.pipeline import PICTURES, print_from, with_figure, with_prints
    from jadeite.core.project import edited

    task = work.task
    if options.picture:
        photo = photo_from(Path(options.picture), (p.key for p in task.photos))
        outline, found = figure_of(photo)
        print(f"{options.picture}: {said_of(found)}", file=sys.stderr)
        project = edited(project, name, **with_figure(task, work.design, photo, outline))
    for where, what in _pairs("--print", options.prints, "tray/floor=FILE.png"):
        key = ""
        if what.lower().endswith(PICTURES):
            photo = photo_from(Path(what), (p.key for p in project.photos))
            project = edited(project, name, photos=(*project.photos, photo))
            key = photo.key
        made = print_from(where, what, key)
        item = project.item(name)
        project = edited(project, name, prints=with_prints(item, (made,)))
    return project


def _brief(options: argparse.Namespace, family: ShapeFamily) -> Brief:
    """What is asked for, if the shape answers that.

    Raises
    ------
    FieldError
        It does not, or two sizes were typed.
    """
    from jadeite.core.pipeline import usual_brief
    from jadeite.core.project import Face, Hollow, Span
    from jadeite.core.units import parse_face, parse_length, parse_size

    typed: dict[str, Brief] = {}
    if options.inside is not None:
        typed["hollow"] = Hollow(size=parse_size(options.inside, field="inside"))
    if options.face is not None:
        typed["face"] = Face(size=parse_face(options.face, field="face"))
    if options.width is not None:
        high = options.height
        typed["span"] = Span(
            width=parse_length(options.width, field="width"),
            height=None if high is None else parse_length(high, field="height"),
        )
    elif options.height is not None:
        raise FieldError("--height", "it needs a width", "Type --width as well.")
    if len(typed) > 1:
        words = " and ".join(SIZES[kind] for kind in typed)
        raise FieldError("size", f"{words} do not go together", "Type one of them.")
    for kind, brief in typed.items():
        if kind not in family.answers:
            others = " or ".join(SIZES[k] for k in family.answers)
            raise FieldError(
                SIZES[kind], f"the {family.title.lower()} is not sized by it", f"Use {others}."
            )
        return brief
    return usual_brief(family, sized=not (options.thing or options.around))


def _pairs(argument: str, words: list[str], such_as: str) -> list[tuple[str, str]]:
    """What stands before and after each ``=``."""
    out = []
    for word in words:
        key, equals, value = word.partition("=")
        if not (key and equals and value):
            raise FieldError(argument, f"“{word[:40]}” has no =", f"Write {argument} {such_as}.")
        out.append((key, value))
    return out


def _count(words: str | None) -> int:
    if words is None:
        return 1
    if not words.strip().isdigit():
        raise FieldError("--copies", f"“{words[:20]}” is no whole number", "Type how many.")
    return int(words)


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
    from jadeite.core.dressings.parts import PARTS

    own = _own_boards() if words else ()
    boards: dict[str, str] = {}
    used: dict[str, Board] = {}
    for word in words:
        part, equals, key = word.rpartition("=")
        parts = [p for p, _ in (*family.parts, *((part.key, part.title) for part in PARTS))]
        if equals and part not in parts:
            raise FieldError(
                "--board", f"“{part[:40]}” is no part", f"Use one of: {', '.join(parts)}."
            )
        board = board_by_key(key, own)
        used[board.key] = board
        boards |= dict.fromkeys([part] if equals else family.parts_for_one_board, board.key)
    return boards, tuple(board for board in used.values() if board in own)
