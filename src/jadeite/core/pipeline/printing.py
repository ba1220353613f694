"""What is decided when a picture is chosen: the picture, its outline, the panel that bears it."""

from __future__ import annotations

import re
from typing import Any

from pydantic import ValidationError

from jadeite.core.errors import FieldError
from jadeite.core.nets import Design
from jadeite.core.nets.arrivals import Where
from jadeite.core.project import Item, Photo, Print, Task, changed, field_error
from jadeite.core.shapes import family_by_key

__all__ = ["PICTURES", "outline_option", "print_from", "with_figure", "with_prints"]

COLOUR = re.compile(r"#[0-9a-fA-F]{6}")
PICTURES = (".png", ".jpg", ".jpeg")


def outline_option(task: Task) -> str | None:
    """The option that an outline of a picture's figure is kept in; None where there is none."""
    options = family_by_key(task.shape.key).options
    return next((option.key for option in options if option.unit == "figure"), None)


def with_figure(task: Task, design: Design | None, photo: Photo, outline: str) -> dict[str, Any]:
    """Fields of a task with a picture and its outline; printed where a design bears it.

    Raises
    ------
    FieldError
        Nothing of this shape has the outline of a picture.
    """
    key = outline_option(task)
    if key is None:
        raise FieldError(
            "picture", "nothing of this shape is cut to the outline of a picture",
            "Print it on a panel, or choose the shape “Printed figure”.",
        )  # fmt: skip
    options = {**task.shape.options, key: outline}
    fields: dict[str, Any] = {
        "photos": (*(p for p in task.photos if p.key != photo.key), photo),
        "shape": changed(task.shape, options=options),
    }
    if design is not None and design.registers:
        piece, panel = next(iter(design.registers))
        prints = with_prints(task, (Print(piece=piece, panel=panel, photo=photo.key),))
        fields["prints"] = prints
    return fields


def with_prints(task: Item | Task, prints: tuple[Print, ...]) -> tuple[Print, ...]:
    """The prints of a task with others, each in place of what was on its panel."""
    taken: set[Where] = {(p.piece, p.panel) for p in prints}
    return (*(p for p in task.prints if (p.piece, p.panel) not in taken), *prints)


def print_from(where: str, what: str, photo: str = "") -> Print:
    """A print as it is named in words: ``piece/panel``, and a colour, a picture's key, or words.

    Raises
    ------
    FieldError
        It names no panel.
    """
    piece, slash, panel = where.partition("/")
    if not (piece and slash and panel):
        raise FieldError("--print", f"“{where[:40]}” names no panel", "Write it as PIECE/PANEL.")
    kind = "photo" if photo else "colour" if COLOUR.fullmatch(what) else "words"
    try:
        return Print.model_validate({"piece": piece, "panel": panel, kind: photo or what})
    except ValidationError as error:
        raise field_error(error) from None
