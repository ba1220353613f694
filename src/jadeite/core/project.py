"""The document: only what a person decided; everything else is computed.

Models are frozen.  Change a document with :func:`changed`, which validates the
result; undo is a stack of earlier documents.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    ValidationError,
    field_validator,
    model_validator,
)
from shapely.geometry import Polygon

from jadeite.core.boards import DEFAULT_BOARD, Board
from jadeite.core.contents.things import Thing
from jadeite.core.errors import FieldError

__all__ = [
    "FORMAT",
    "MOST_CORNERS",
    "MOST_RINGS",
    "PLAIN",
    "VERSION",
    "Outline",
    "Overlay",
    "Project",
    "Shape",
    "Stock",
    "Trial",
    "Window",
    "changed",
    "field_error",
    "with_change",
]

FORMAT = "jadeite-project"
VERSION = 1
MAX_THINGS = 120  # from memory, three times what is usual
MOST_RINGS, MOST_CORNERS = 60, 600  # of an outline; from memory, more no blade follows
PLAIN = "plain"  # the motif of a window that is cut out whole
MOST_COMPLAINTS = 500  # from memory; a file with more was never one of ours
MAX_COPIES = 200  # from memory; a batch beyond it is a print run

Millimetres = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
Text = Annotated[str, Field(max_length=4000)]
Key = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9-]+$")]
PanelName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9.-]+$")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]

Share = Annotated[float, Field(ge=-0.5001, le=0.5001, allow_inf_nan=False)]
Ring = Annotated[tuple[tuple[Share, Share], ...], Field(min_length=3, max_length=MOST_CORNERS)]


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Shape(_Model):
    """Which family, and the options that were set; the others keep their defaults."""

    key: Key = "tray-with-lid"
    options: dict[Key, float | str] = Field(default_factory=dict, max_length=60)


class Stock(_Model):
    """Sheets of one size at hand, in mm; ``count`` None means plenty."""

    name: str = Field(min_length=1, max_length=60)
    width: Millimetres
    height: Millimetres
    count: int | None = Field(default=None, ge=1, le=10_000)


class Trial(_Model):
    """How one making came out; lengths in mm, the lid's verdict in words."""

    date: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    board: Key
    intended: tuple[Millimetres, Millimetres, Millimetres]
    measured: tuple[Millimetres, Millimetres, Millimetres] | None = None
    clearance: float = Field(ge=0, le=100, allow_inf_nan=False)
    verdict: Literal["too-tight", "right", "too-loose"] = "right"
    by: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)
    note: Text = ""


class Overlay(_Model):
    """A piece glued on a panel, smaller by an even border in mm; maybe over a stiffener."""

    piece: Key
    panel: PanelName
    border: float = Field(default=4.0, ge=1, le=30, allow_inf_nan=False)
    stiffener: bool = False


class Outline(_Model):
    """An outline of the maker's own, for windows: closed rings about (0, 0), longer side 1."""

    key: Key
    title: str = Field(min_length=1, max_length=60)
    rings: tuple[Ring, ...] = Field(min_length=1, max_length=MOST_RINGS)

    @model_validator(mode="after")
    def _closed(self) -> Outline:
        for ring in self.rings:
            if not Polygon(ring).is_valid:
                raise ValueError("a ring crosses itself")
        return self


class Window(_Model):
    """A window in a panel: its pattern, the frame and a cell of the pattern in mm, lined or not.

    ``number`` varies the pattern from panel to panel.
    """

    piece: Key
    panel: PanelName
    motif: Key = PLAIN
    frame: float = Field(default=6.0, ge=3, le=60, allow_inf_nan=False)
    size: float = Field(default=14.0, ge=7, le=60, allow_inf_nan=False)
    number: int = Field(default=0, ge=0, le=99)
    lined: bool = False


class Project(_Model):
    """One job: what goes in, what is made, from what, and how it came out."""

    format: Literal["jadeite-project"] = "jadeite-project"
    version: Literal[1] = 1
    title: str = Field(default="Untitled box", min_length=1, max_length=120)
    occasion: str = Field(default="", max_length=120)
    contents: tuple[Thing, ...] = Field(default=(), max_length=40)
    inside: tuple[Millimetres, Millimetres, Millimetres] | None = None
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
    own_boards: tuple[Board, ...] = Field(default=(), max_length=60)
    colours: dict[Key, Colour] = Field(default_factory=dict, max_length=20)
    stock: tuple[Stock, ...] = Field(
        default=(Stock(name="12 × 12 in", width=304.8, height=304.8),), min_length=1, max_length=20
    )
    folds: Literal["scored", "perforated", "hand-creased"] = "scored"
    overlays: tuple[Overlay, ...] = Field(default=(), max_length=40)
    windows: tuple[Window, ...] = Field(default=(), max_length=60)
    outlines: tuple[Outline, ...] = Field(default=(), max_length=20)
    linings: Literal["each", "strip"] = "each"
    splits: dict[Key, PanelName] = Field(default_factory=dict, max_length=20)
    free_turns: bool = True
    grain: Literal["heavy", "follow", "ignore"] = "heavy"
    copies: int = Field(default=1, ge=1, le=MAX_COPIES)
    cutter: Key = "large"
    heavier: Literal["pressure", "second-pass"] = "second-pass"
    adhesive: Key = "liquid-craft-glue"
    batch_order: Literal["operation", "piece"] = "operation"
    notes: Text = ""
    trials: tuple[Trial, ...] = Field(default=(), max_length=500)

    @field_validator("contents")
    @classmethod
    def _not_too_many(cls, things: tuple[Thing, ...]) -> tuple[Thing, ...]:
        """Arranging more would keep the maker waiting; many alike are loose fill."""
        if sum(thing.count for thing in things) > MAX_THINGS:
            raise ValueError(
                f"more than {MAX_THINGS} things in all. Put many that are alike in as loose fill"
            )
        return things

    def board_of(self, part: str) -> str:
        """Key of the board chosen for a part, or the everyday one."""
        return self.boards.get(part, DEFAULT_BOARD)


def field_error(error: ValidationError) -> FieldError:
    """The first complaint of pydantic as one line that names the field."""
    count = error.error_count()
    if count > MOST_COMPLAINTS:  # each would be written out before the first is found
        return FieldError("project", f"{count} of its fields are not allowed")
    first = error.errors(include_url=False, include_input=False)[0]
    place = ".".join(str(part) for part in first["loc"]) or "project"
    return FieldError(place[:120], first["msg"].removeprefix("Value error, ").rstrip(".")[:200])


def changed(project: Project, **fields: Any) -> Project:
    """A copy with other fields, validated.

    Raises
    ------
    FieldError
        The first field that is not allowed.
    """
    values = {name: getattr(project, name) for name in Project.model_fields} | fields
    try:
        return Project.model_validate(values)
    except ValidationError as error:
        raise field_error(error) from None


def with_change(project: Project, path: str, value: Any) -> Project:
    """Set one dotted field, such as ``shape.options.lid-depth``; None removes an entry.

    Raises
    ------
    FieldError
        No such field, or a value that is not allowed.
    """
    data = project.model_dump()
    *parents, last = path.split(".")
    spot: Any = data
    for name in parents:
        spot = spot[int(name)] if isinstance(spot, list | tuple) else spot[name]
    if value is None and len(parents) > 0 and isinstance(spot, dict):
        spot.pop(last, None)
    else:
        spot[last] = value
    try:
        return Project.model_validate(data)
    except ValidationError as error:
        raise field_error(error) from None
