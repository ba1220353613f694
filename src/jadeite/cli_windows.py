"""Windows as they are typed on the command line."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jadeite.core.errors import FieldError

if TYPE_CHECKING:
    from jadeite.core.project import Project

__all__ = ["window_arguments", "with_windows"]

SUCH_AS = "walls=leaves, or walls=leaves,size=10mm,frame=8mm"
NONE = "none"
WORDS = {"border": ("sides", "even"), "tabs": ("trimmed", "whole"), "run": ("each", "round")}


def window_arguments(parser: argparse.ArgumentParser) -> None:
    """What can be said of windows."""
    parser.add_argument(
        "--window",
        metavar="WHERE=PATTERN",
        help="a window: PIECE/PANEL=leaves, or walls=leaves in every wall; FILE.svg for a pattern "
        "cuts an outline of your own; ,size=10mm ,frame=8mm ,border=even ,tabs=whole and "
        ",run=round may "
        "follow; none for a lantern without; may be given again",
        action="append",
        default=[],
    )
    parser.add_argument(
        "--lined",
        nargs="?",
        const="each",
        choices=("each", "strip", "sheet"),
        help="line the windows: each by itself (usual), all with one strip that stands behind the "
        "walls, or with one thin sheet that is glued behind the whole net",
    )


def with_windows(project: Project, name: str, options: argparse.Namespace) -> Project:
    """The job with the windows of an item.

    Raises
    ------
    FieldError
        A window is not said as it should be, or there is no room for it.
    """
    from jadeite.core.formats.svg_outline import read_outline
    from jadeite.core.pipeline import arrange_contents, windows_from, work_up_job
    from jadeite.core.project import edited

    for words in options.window:
        if words == NONE:
            continue
        where, motif, more = _parsed(words)
        if motif.lower().endswith(".svg"):
            outline = read_outline(Path(motif))
            project = edited(project, name, outlines=(*project.outlines, outline))
            motif = outline.key
        task = work_up_job(project).works[name].task
        lined = options.lined is not None
        made = windows_from(task, arrange_contents(task), where, motif, lined=lined, more=more)
        project = edited(project, name, windows=(*task.windows, *made))
    return project


def _parsed(words: str) -> tuple[str, str, dict[str, Any]]:
    """Where, which pattern, and what else is said of it."""
    from jadeite.core.units import parse_length

    first, *others = words.split(",")
    where, equals, motif = first.partition("=")
    if not (where and equals and motif):
        raise FieldError("--window", f"“{words[:40]}” has no =", f"Write --window {SUCH_AS}.")
    more: dict[str, Any] = {}
    for other in others:
        key, _, value = other.strip().partition("=")
        if key in ("size", "frame"):
            more[key] = parse_length(value, field=f"--window {key}")
            _check(key, more[key])
        elif value in WORDS.get(key, ()):
            more[key] = value
        else:
            raise FieldError("--window", f"“{other[:40]}” says nothing", f"Write {SUCH_AS}.")
    return where, motif, more


def _check(key: str, value: float) -> None:
    """Refuse a length in mm that a window cannot have."""
    from jadeite.core.dressings.windows import LEAST_FRAME, MOST_FRAME
    from jadeite.core.patterns import LEAST_CELL, MOST_CELL

    low, high = (LEAST_FRAME, MOST_FRAME) if key == "frame" else (LEAST_CELL, MOST_CELL)
    if not low <= value <= high:
        near = high if value > low else low
        raise FieldError(
            f"--window {key}", f"{value:g} mm is outside what it can be", f"Use {near:g}mm."
        )
