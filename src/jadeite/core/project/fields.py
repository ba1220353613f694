"""What a document is made of: small frozen records, each with its limits."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator
from shapely.geometry import Polygon, box

__all__ = [
    "MOST_CORNERS",
    "MOST_RINGS",
    "MOST_SHEETS_AT_HAND",
    "PLAIN",
    "Colour",
    "Key",
    "Millimetres",
    "Model",
    "Name",
    "Outline",
    "Overlay",
    "PanelName",
    "Photo",
    "Plate",
    "Print",
    "Rubbed",
    "Shape",
    "Stock",
    "Text",
    "Trial",
    "Window",
]

MOST_RINGS, MOST_CORNERS = 60, 600  # of an outline; from memory, more no blade follows
MOST_SHEETS_AT_HAND = 60  # sizes and offcuts; from memory, no drawer is kept in better order
SLACK = 0.01  # mm; rounding
LEAST_CROP = 0.02  # of a picture; from memory
PLAIN = "plain"  # the motif of a window that is cut out whole

Millimetres = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
Text = Annotated[str, Field(max_length=4000)]
Key = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9-]+$")]
PanelName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9.-]+$")]
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^\S(.*\S)?$")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]

Place = Annotated[float, Field(ge=-1, le=5001, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=-0.5001, le=0.5001, allow_inf_nan=False)]
Ring = Annotated[tuple[tuple[Share, Share], ...], Field(min_length=3, max_length=MOST_CORNERS)]


class Model(BaseModel):
    """A frozen record that knows no other fields than its own."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Shape(Model):
    """Which family, and the options that were set; the others keep their defaults."""

    key: Key = "tray-with-lid"
    options: dict[Key, float | str] = Field(default_factory=dict, max_length=60)


class Stock(Model):
    """Sheets of one size at hand, in mm; ``count`` None means plenty.

    They are of one board and colour, or of whichever is cut where these are empty.  An
    ``outline``, corners in mm from the lower left of its box, is what is left of an offcut;
    offcuts are used before whole sheets.  ``price`` is what one sheet costs.  Of the count so
    many are ``reserved`` for something else.  ``grain`` runs along its height or across, or as
    it does in its board.
    """

    name: str = Field(min_length=1, max_length=60)
    width: Millimetres
    height: Millimetres
    count: int | None = Field(default=None, ge=0, le=10_000)
    reserved: int = Field(default=0, ge=0, le=10_000)
    grain: Literal["", "upward", "across"] = ""
    board: Key | Literal[""] = ""
    colour: Colour | Literal[""] = ""
    price: float | None = Field(default=None, ge=0, le=100_000, allow_inf_nan=False)
    outline: tuple[tuple[Place, Place], ...] = Field(default=(), max_length=MOST_CORNERS)

    @model_validator(mode="after")
    def _is_an_outline(self) -> Self:
        """An outline does not cross itself and lies in its box."""
        if not self.outline:
            return self
        low, high = -SLACK, (self.width + SLACK, self.height + SLACK)
        within = all(low <= x <= high[0] and low <= y <= high[1] for x, y in self.outline)
        if len(self.outline) < 3 or not within or not Polygon(self.outline).is_valid:
            raise ValueError("an offcut's outline crosses itself or leaves its box")
        return self

    @property
    def region(self) -> Polygon:
        """What there is of a sheet, mm from its lower left."""
        return Polygon(self.outline) if self.outline else box(0, 0, self.width, self.height)

    @property
    def free(self) -> int | None:
        """How many may be used; None for plenty."""
        return None if self.count is None else max(0, self.count - self.reserved)

    @property
    def whole(self) -> bool:
        """Whether it is no offcut."""
        return not self.outline

    def suits(self, board: str, colour: str) -> bool:
        """Whether pieces of a board in a colour are cut from it."""
        return self.board in ("", board) and self.colour.lower() in ("", colour.lower())


class Trial(Model):
    """How one making came out; lengths in mm, the lid's verdict in words.

    ``item`` names the made thing; none is the first.
    """

    date: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    board: Key
    intended: tuple[Millimetres, Millimetres, Millimetres]
    measured: tuple[Millimetres, Millimetres, Millimetres] | None = None
    clearance: float = Field(ge=0, le=100, allow_inf_nan=False)
    verdict: Literal["too-tight", "right", "too-loose"] = "right"
    by: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)
    note: Text = ""
    item: Name | Literal[""] = ""


class Overlay(Model):
    """A piece glued on a panel, smaller by an even border in mm; maybe over a stiffener.

    On ``foam`` of so many mm it stands off; a ``pattern`` is cut out of it.
    """

    piece: Key
    panel: PanelName
    border: float = Field(default=4.0, ge=1, le=30, allow_inf_nan=False)
    stiffener: bool = False
    foam: float = Field(default=0.0, ge=0, le=3, allow_inf_nan=False)
    pattern: Key | Literal[""] = ""

    @model_validator(mode="after")
    def _as_foam_is_sold(self) -> Overlay:
        if 0 < self.foam < 1:
            raise ValueError("foam is 1 to 3 mm thick, or 0 for glue")
        return self


class Plate(Model):
    """A plate in mm that presses a pattern into pieces before they are folded.

    ``area`` is ``net`` (without its flaps), ``walls``, or the name of a panel; it is turned by
    0 or 90 degrees, or by ``any``; the raised pattern may be rubbed with wax or ink.
    """

    width: Millimetres
    height: Millimetres
    area: PanelName = "net"
    turns: Literal["square", "any"] = "square"
    over: Literal["none", "wax", "ink"] = "none"


class Outline(Model):
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


Part = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Stop = Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]


class Rubbed(Model):
    """A stroke over a picture: what it covers is kept, or dropped.

    Places are about the picture's middle, y up, in parts of its longer side; so is the radius.
    """

    keeps: bool
    radius: float = Field(gt=0, le=0.5, allow_inf_nan=False)
    points: tuple[tuple[Stop, Stop], ...] = Field(min_length=1, max_length=600)


class Photo(Model):
    """A picture that is printed: its file, and how its figure is told from its background.

    ``file`` is where it lies; in a project file its bare name, as it lies beside it.  ``digest``
    is its SHA-256, ``size`` its pixels, upright; ``crop`` is left, top, right, bottom of what is
    looked at, 0 to 1.
    """

    key: Key
    title: str = Field(min_length=1, max_length=60)
    file: str = Field(min_length=1, max_length=1000)
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")
    size: tuple[Annotated[int, Field(ge=1, le=50_000)], Annotated[int, Field(ge=1, le=50_000)]]
    way: Literal["auto", "clear", "plain", "busy", "whole"] = "auto"
    tolerance: float = Field(default=1.0, ge=0.2, le=4, allow_inf_nan=False)
    crop: tuple[Part, Part, Part, Part] = (0.0, 0.0, 1.0, 1.0)
    strokes: tuple[Rubbed, ...] = Field(default=(), max_length=80)

    @model_validator(mode="after")
    def _shows_something(self) -> Photo:
        left, top, right, bottom = self.crop
        if right - left < LEAST_CROP or bottom - top < LEAST_CROP:
            raise ValueError("its crop leaves nothing. Make it larger")
        return self


class Print(Model):
    """What is printed on a panel: a picture, a colour, or words.

    A picture fills the panel at a ``scale`` of 100 %; ``right`` and ``up`` move it by per cent
    of the panel, ``turn`` turns it left from upright.  Words are ``tall`` mm high.
    """

    piece: Key
    panel: PanelName
    photo: Key | Literal[""] = ""
    colour: Colour | Literal[""] = ""
    words: str = Field(default="", max_length=120)
    scale: float = Field(default=100.0, ge=10, le=1000, allow_inf_nan=False)
    right: float = Field(default=0.0, ge=-100, le=100, allow_inf_nan=False)
    up: float = Field(default=0.0, ge=-100, le=100, allow_inf_nan=False)
    turn: float = Field(default=0.0, ge=-180, le=180, allow_inf_nan=False)
    tall: float = Field(default=8.0, ge=2, le=100, allow_inf_nan=False)

    @model_validator(mode="after")
    def _one_of_them(self) -> Print:
        if not (self.photo or self.colour or self.words.strip()):
            raise ValueError("nothing is printed. Choose a picture, a colour or words")
        return self


class Window(Model):
    """A window in a panel: its pattern, the frame and a cell of the pattern in mm, lined or not.

    ``number`` varies the pattern from panel to panel.  The frame is ``border`` wide along each
    side as what lies behind it asks for, or even all round; ``tabs`` behind it are trimmed as
    far as they still hold, or stay whole.  With ``run`` the pattern goes round all walls as
    one, where it can.
    """

    piece: Key
    panel: PanelName
    motif: Key = PLAIN
    frame: float = Field(default=6.0, ge=3, le=60, allow_inf_nan=False)
    border: Literal["sides", "even"] = "sides"
    tabs: Literal["trimmed", "whole"] = "trimmed"
    size: float = Field(default=14.0, ge=7, le=60, allow_inf_nan=False)
    number: int = Field(default=0, ge=0, le=99)
    run: Literal["each", "round"] = "each"
    lined: bool = False
