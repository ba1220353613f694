"""The document: only what a person decided; everything else is computed.

Models are frozen.  Change a document with :func:`changed`, which validates the
result; undo is a stack of earlier documents.

Glossary
--------
item
    One made thing of a job: what is asked of it, its family, options and boards.
job
    What holds for all items: stock, cutter, adhesive.
task
    One item together with the job: all that its design is computed from.
"""

from __future__ import annotations

import re
from typing import Any, Literal, Self, TypeVar

from pydantic import Field, ValidationError, field_validator, model_validator

from jadeite.core.boards import DEFAULT_BOARD, Board, Fits
from jadeite.core.contents.things import MadeThing, Thing
from jadeite.core.errors import FieldError
from jadeite.core.project.briefs import Brief, Hollow
from jadeite.core.project.cutters import Cutter, Learned
from jadeite.core.project.fields import (
    MOST_SHEETS_AT_HAND,
    Colour,
    Key,
    Model,
    Name,
    Outline,
    Overlay,
    PanelName,
    Photo,
    Plate,
    Print,
    Shape,
    Stock,
    Text,
    Trial,
    Window,
)
from jadeite.core.project.laid import Laid
from jadeite.core.project.printer import Printer

__all__ = [
    "FORMAT",
    "MAX_COPIES",
    "MAX_ITEMS",
    "VERSION",
    "Item",
    "Project",
    "Task",
    "changed",
    "field_error",
    "slug",
    "with_change",
]

FORMAT = "jadeite-project"
VERSION = 2
MAX_THINGS = 120  # from memory, three times what is usual
MAX_ITEMS = 40  # from memory; a crate has a dozen
MAX_MADE = 400  # of all items together; from memory
MAX_COPIES = 200  # from memory; a batch beyond it is a print run
MOST_COMPLAINTS = 500  # from memory; a file with more was never one of ours

Document = TypeVar("Document", bound=Model)


def slug(name: str) -> str:
    """A name as a part of a file name: lower case, words joined by hyphens; may be empty."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60]


class _Wanted(Model):
    """What is decided of one made thing."""

    contents: tuple[Thing, ...] = Field(default=(), max_length=40)
    brief: Brief = Hollow()
    clearance: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)
    objective: Literal[
        "least-board",
        "lowest",
        "one-layer",
        "squarest",
        "smallest-footprint",
        "lightest-board",
    ] = "least-board"
    dividers: Literal["none", "fitted", "equal"] = "none"
    shape: Shape = Shape()
    boards: dict[Key, Key] = Field(default_factory=dict, max_length=20)
    colours: dict[Key, Colour] = Field(default_factory=dict, max_length=20)
    folds: Literal["scored", "perforated", "hand-creased"] = "scored"
    overlays: tuple[Overlay, ...] = Field(default=(), max_length=40)
    windows: tuple[Window, ...] = Field(default=(), max_length=60)
    usual_windows: bool = False  # those that the shape has at first, until others are chosen
    linings: Literal["each", "strip", "sheet"] = "each"
    prints: tuple[Print, ...] = Field(default=(), max_length=60)
    plate: Plate | None = None
    splits: dict[Key, PanelName] = Field(default_factory=dict, max_length=20)
    copies: int = Field(default=1, ge=1, le=MAX_COPIES)
    names: tuple[Name, ...] = Field(default=(), max_length=MAX_MADE)
    tables: tuple[Name | Literal[""], ...] = Field(default=(), max_length=MAX_MADE)

    @field_validator("contents")
    @classmethod
    def _not_too_many(cls, things: tuple[Thing, ...]) -> tuple[Thing, ...]:
        """Arranging more would keep the maker waiting; many alike are loose fill."""
        if sum(thing.count for thing in things) > MAX_THINGS:
            raise ValueError(
                f"more than {MAX_THINGS} things in all. Put many that are alike in as loose fill"
            )
        return things

    @model_validator(mode="after")
    def _a_table_for_each(self) -> Self:
        """What belongs to a name stands beside it, or nowhere."""
        if self.tables and len(self.tables) != len(self.names):
            raise ValueError(f"{len(self.tables)} tables for {len(self.names)} names")
        return self

    @property
    def inside(self) -> tuple[float, float, float] | None:
        """The inside that is asked for, in mm; None where the contents give it."""
        return self.brief.size if isinstance(self.brief, Hollow) else None

    @property
    def count(self) -> int:
        """How many are made: one for each name, or the copies."""
        return len(self.names) or self.copies

    def words_of(self, copy: int) -> tuple[str, str]:
        """The name that a copy bears, and what belongs to it; empty where there is none."""
        name = self.names[copy] if copy < len(self.names) else ""
        return name, self.tables[copy] if copy < len(self.tables) else ""

    @property
    def carried(self) -> tuple[str, ...]:
        """Names of the items that are among its contents."""
        return tuple(dict.fromkeys(t.item for t in self.contents if isinstance(t, MadeThing)))

    @property
    def fits(self) -> Fits:
        """The eases and gaps by which it is made: the usual ones, and the maker's own."""
        return Fits(own=self.clearance)

    def board_of(self, part: str) -> str:
        """Key of the board chosen for a part, or the everyday one."""
        return self.boards.get(part, DEFAULT_BOARD)


class _ForAll(Model):
    """What is decided for every made thing of a job."""

    own_boards: tuple[Board, ...] = Field(default=(), max_length=60)
    outlines: tuple[Outline, ...] = Field(default=(), max_length=20)
    photos: tuple[Photo, ...] = Field(default=(), max_length=20)
    printer: Printer = Printer()
    stock: tuple[Stock, ...] = Field(
        default=(Stock(name="12 × 12 in", width=304.8, height=304.8),),
        min_length=1,
        max_length=MOST_SHEETS_AT_HAND,
    )
    free_turns: bool = True
    together: bool = False  # pieces of one part have sheets to themselves
    grain: Literal["heavy", "follow", "ignore"] = "heavy"
    cutter: Key = "large"
    own_cutters: tuple[Cutter, ...] = Field(default=(), max_length=20)
    learned: tuple[Learned, ...] = Field(default=(), max_length=400)
    heavier: Literal["pressure", "second-pass"] = "second-pass"
    adhesive: Key = "liquid-craft-glue"
    batch_order: Literal["operation", "piece"] = "operation"


class Item(_Wanted):
    """One made thing of a job; the items among its contents have the size of their designs."""

    name: Name = "box"

    @field_validator("contents")
    @classmethod
    def _sizes_are_computed(cls, things: tuple[Thing, ...]) -> tuple[Thing, ...]:
        """What an item measures follows from its design and is not kept."""
        return tuple(t.asked() if isinstance(t, MadeThing) else t for t in things)


class Task(_Wanted, _ForAll):
    """One item with its job: all that its design is computed from."""


class Project(_ForAll):
    """One job: what is made, from what, and how it came out."""

    format: Literal["jadeite-project"] = "jadeite-project"
    version: Literal[2] = 2
    title: str = Field(default="Untitled box", min_length=1, max_length=120)
    occasion: str = Field(default="", max_length=120)
    items: tuple[Item, ...] = Field(default=(Item(),), min_length=1, max_length=MAX_ITEMS)
    laid: Laid = Laid()
    notes: Text = ""
    trials: tuple[Trial, ...] = Field(default=(), max_length=500)

    @model_validator(mode="after")
    def _names_differ(self) -> Project:
        """Items are told apart by name, in words and in file names."""
        seen: dict[str, str] = {}
        for item in self.items:
            stem = slug(item.name)
            if not stem:
                raise ValueError(f"the item name “{item.name}” has no letter or digit in it")
            if stem in seen:
                raise ValueError(f"two items are named “{item.name}”. Give one another name")
            seen[stem] = item.name
        if sum(item.count for item in self.items) > MAX_MADE:
            raise ValueError(f"more than {MAX_MADE} things are made in all")
        for item in self.items:
            for name in item.carried:
                if name not in seen.values():
                    raise ValueError(f"“{item.name}” holds “{name}”, which is no item")
        return self

    @property
    def names(self) -> tuple[str, ...]:
        """Names of the items, in their order."""
        return tuple(item.name for item in self.items)

    def item(self, name: str) -> Item:
        """The item with this name.

        Raises
        ------
        FieldError
            There is none; it names those that there are.
        """
        for item in self.items:
            if item.name == name:
                return item
        words = ", ".join(self.names)
        raise FieldError("item", f"there is no item “{name[:60]}”", f"Use one of: {words}.")


def field_error(error: ValidationError) -> FieldError:
    """The first complaint of pydantic as one line that names the field."""
    count = error.error_count()
    if count > MOST_COMPLAINTS:  # each would be written out before the first is found
        return FieldError("project", f"{count} of its fields are not allowed")
    first = error.errors(include_url=False, include_input=False)[0]
    place = ".".join(str(part) for part in first["loc"]) or "project"
    return FieldError(place[:120], first["msg"].removeprefix("Value error, ").rstrip(".")[:200])


def changed(document: Document, **fields: Any) -> Document:
    """A copy with other fields, validated.

    Raises
    ------
    FieldError
        The first field that is not allowed.
    """
    kind = type(document)
    values = {name: getattr(document, name) for name in kind.model_fields} | fields
    try:
        return kind.model_validate(values)
    except ValidationError as error:
        raise field_error(error) from None


def with_change(document: Document, path: str, value: Any) -> Document:
    """Set one dotted field, such as ``shape.options.lid-depth``; None removes an entry.

    Raises
    ------
    FieldError
        No such field, or a value that is not allowed.
    """
    first, *rest = path.split(".")
    if not rest:
        return changed(document, **{first: value})
    data = document.model_dump(include={first})
    spot: Any = data[first]
    for name in rest[:-1]:
        spot = spot[int(name)] if isinstance(spot, list | tuple) else spot[name]
    if value is None and isinstance(spot, dict) and first != "brief":
        spot.pop(rest[-1], None)
    else:
        spot[rest[-1]] = value
    return changed(document, **data)
