"""Overlays as they are typed on the command line."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from jadeite.core.errors import FieldError

if TYPE_CHECKING:
    from jadeite.core.project import Project

__all__ = ["overlay_arguments", "with_overlays"]

SUCH_AS = "lid/floor=4mm, or lid/floor=4mm,foam=2mm,pattern=leaves"


def overlay_arguments(parser: argparse.ArgumentParser) -> None:
    """What can be said of overlays."""
    parser.add_argument(
        "--overlay",
        metavar="PIECE/PANEL=BORDER",
        help="a piece glued on a panel, smaller by an even border: lid/floor=4mm; ,stiffener or "
        ",foam=2mm and ,pattern=leaves may follow; may be given again",
        action="append",
        default=[],
    )


def with_overlays(project: Project, name: str, options: argparse.Namespace) -> Project:
    """The job with the overlays of an item.

    Raises
    ------
    FieldError
        An overlay is not said as it should be, or its panel cannot have it.
    """
    from jadeite.core.dressings import overlay_refused
    from jadeite.core.pipeline import work_up_job
    from jadeite.core.project import Overlay, edited

    for words in options.overlay:
        where, more = _parsed(words)
        piece, _, panel = where.partition("/")
        try:
            over = Overlay(piece=piece, panel=panel or piece, **more)
        except ValueError:
            raise FieldError(
                "--overlay", f"“{words[:40]}” is no panel and pattern", f"Write {SUCH_AS}."
            ) from None
        work = work_up_job(project).works[name]
        if work.design is not None:
            if not work.design.has((over.piece, over.panel)):
                known = sorted(
                    f"{p.name}/{q.name}" for p in work.design.pieces for q in p.panels
                    if q.role.traits.cover
                )  # fmt: skip
                raise FieldError(
                    "--overlay", f"there is no panel “{where[:40]}”",
                    f"Use one of: {', '.join(known[:12])}.",
                )  # fmt: skip
            refused = overlay_refused(work.settled, work.family, work.design, over)
            if refused:
                raise FieldError("--overlay", f"{where[:40]} cannot have it", refused)
        overlays = (*work.task.overlays, over)
        project = edited(project, name, overlays=overlays)
    return project


def _parsed(words: str) -> tuple[str, dict[str, Any]]:
    """Where, and the other fields of an overlay."""
    from jadeite.core.dressings.foam import LEAST_FOAM, MOST_FOAM
    from jadeite.core.dressings.overlays import LEAST_BORDER, MOST_BORDER
    from jadeite.core.units import parse_length

    first, *others = words.split(",")
    where, equals, border = first.partition("=")
    if not (where and equals and border):
        raise FieldError("--overlay", f"“{words[:40]}” has no =", f"Write --overlay {SUCH_AS}.")
    more: dict[str, Any] = {
        "border": parse_length(border, field="--overlay", low=LEAST_BORDER, high=MOST_BORDER)
    }
    for other in others:
        key, _, value = other.strip().partition("=")
        if key == "foam":
            more[key] = parse_length(value, field="--overlay foam", low=LEAST_FOAM, high=MOST_FOAM)
        elif key == "pattern" and value:
            more[key] = value
        elif key == "stiffener" and not value:
            more[key] = True
        else:
            raise FieldError("--overlay", f"“{other[:40]}” says nothing", f"Write {SUCH_AS}.")
    return where, more
