"""Kinds of contents, as the document holds them.

Every kind knows its axis-parallel turns: which extents it may have in the
hollow, and along which axis its own height then runs.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import permutations
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from jadeite.core.contents.loose import bulk_volume
from jadeite.core.solid import Form

__all__ = [
    "KINDS",
    "MAX_COUNT",
    "AnyThing",
    "Ball",
    "Block",
    "Cards",
    "Cylinder",
    "Disc",
    "FlatPack",
    "GoesIn",
    "Light",
    "Loose",
    "MadeThing",
    "Standing",
    "Tag",
    "Thing",
    "Triple",
    "Turn",
    "Turned",
    "solid_sizes",
]

MAX_COUNT = 40  # of one thing; from memory, more is loose fill
SMALLEST, LARGEST = 0.1, 1000.0  # mm; from memory, what a paper box can hold
SQUEEZE_MOST = 10.0  # per cent; from memory, what a soft thing may give
THIN = 0.1  # least extent over the next, of what is handled as flat; from memory
STACK_AIR = 1.05  # from memory; cards in a stack do not lie quite close
BATTERY_LIGHT = 38.0  # mm across (1.5 in); common practice
LIGHT_HEIGHT = 36.0  # mm with its false flame; from memory
STRING_LIGHTS = (50.0, 25.0)  # mm, the bundle; common practice
# share of the height to which loose fill is heaped, and footprints tried, as long side over
# short; from memory
LOOSE_HEIGHTS = (0.35, 0.5, 0.7, 1.0, 1.4)
LOOSE_RATIOS = (1.0, 1.4, 2.0)

Length = Annotated[float, Field(ge=SMALLEST, le=LARGEST, allow_inf_nan=False)]
GoesIn = Literal["dropped", "pocket", "snug", "finger", "padded", "slot", "soft", "envelope"]
Turn = Literal["any", "upright", "lying"]
Reach = Literal["anywhere", "reachable", "front"]
Triple = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Turned:
    """A thing turned along the axes: extents in mm, a round thing's axis, its height's axis."""

    size: Triple
    axis: int
    tall: int


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class _Thing(_Model):
    form: ClassVar[Form] = Form.BLOCK

    name: str = Field(min_length=1, max_length=60)
    count: int = Field(default=1, ge=1, le=MAX_COUNT)
    mass: float = Field(default=0.0, ge=0, le=20_000, allow_inf_nan=False, description="g, of one")
    goes_in: GoesIn = "dropped"
    turn: Turn = "any"
    bears: bool = Field(default=True, description="whether others may stand on it")
    stacks: bool = Field(default=True, description="whether it may stand on others")
    reach: Reach = "anywhere"
    clearance: float | None = Field(
        default=None, ge=0, le=100, allow_inf_nan=False, description="mm a side, instead of ours"
    )
    padding: float = Field(
        default=5.0, ge=0, le=100, allow_inf_nan=False, description="mm all round, when padded"
    )
    squeeze: float = Field(
        default=0.0, ge=0, le=SQUEEZE_MOST, allow_inf_nan=False, description="%, when soft"
    )
    food: bool = False

    @property
    def flat(self) -> bool:
        """Whether it is handled as something flat: slid in, its thickness hardly wider."""
        return False

    @property
    def pressed(self) -> float:
        """Share of its size that is left once it is squeezed in."""
        return 1 - self.squeeze / 100 if self.goes_in == "soft" else 1.0

    @property
    def each_mass(self) -> float:
        """Mass of one in g."""
        return self.mass

    @property
    def size(self) -> Triple:
        """Length, width and height as it is measured, in mm.

        Raises
        ------
        NotImplementedError
            A kind that says no size.
        """
        raise NotImplementedError

    def turns(self) -> tuple[Turned, ...]:
        """Every axis-parallel turn that the thing allows.

        ``upright`` keeps its height up, ``lying`` lays it on its largest face.
        """
        x, y, z = (v * self.pressed for v in self.size)
        found: dict[Triple, Turned] = {}
        for order in permutations(range(3)):
            size = tuple((x, y, z)[i] for i in order)
            turned = Turned((size[0], size[1], size[2]), 2, order.index(2))
            if self.turn == "upright" and size[2] != z:
                continue
            if self.turn == "lying" and size[2] != min(x, y, z):
                continue
            found.setdefault(turned.size, turned)
        return tuple(found.values())


class Block(_Thing):
    """A rigid block: length, width, height in mm."""

    kind: Literal["block"] = "block"
    length: Length
    width: Length
    height: Length

    @property
    def size(self) -> Triple:
        """Length, width, height in mm."""
        return self.length, self.width, self.height


def _round_turns(diameter: float, height: float, turn: Turn) -> Iterator[Turned]:
    """A round thing on its end, and on its side along either length of the hollow."""
    if turn != "lying":
        yield Turned((diameter, diameter, height), 2, 2)
    if turn != "upright":
        yield Turned((height, diameter, diameter), 0, 0)
        yield Turned((diameter, height, diameter), 1, 1)


class Cylinder(_Thing):
    """A round thing: diameter and height in mm; upright it stands on its end."""

    form: ClassVar[Form] = Form.CYLINDER
    kind: Literal["cylinder"] = "cylinder"
    diameter: Length
    height: Length

    @property
    def size(self) -> Triple:
        """Length, width, height in mm."""
        return self.diameter, self.diameter, self.height

    def turns(self) -> tuple[Turned, ...]:
        """On its end, or on its side."""
        d, h = self.diameter * self.pressed, self.height * self.pressed
        return tuple(_round_turns(d, h, self.turn))


class Disc(_Thing):
    """A round flat thing: diameter and thickness in mm; lying it is flat."""

    form: ClassVar[Form] = Form.CYLINDER
    kind: Literal["disc"] = "disc"
    diameter: Length
    thickness: Length
    turn: Turn = "lying"

    @property
    def size(self) -> Triple:
        """Length, width, height in mm, lying."""
        return self.diameter, self.diameter, self.thickness

    def turns(self) -> tuple[Turned, ...]:
        """Flat, or standing on its rim."""
        rule: dict[Turn, Turn] = {"lying": "upright", "upright": "lying", "any": "any"}
        d, t = self.diameter * self.pressed, self.thickness * self.pressed
        return tuple(_round_turns(d, t, rule[self.turn]))


class Ball(_Thing):
    """A ball: its diameter in mm; nothing stands on it."""

    form: ClassVar[Form] = Form.BALL
    kind: Literal["ball"] = "ball"
    diameter: Length
    bears: bool = False

    @property
    def size(self) -> Triple:
        """The same in every direction, mm."""
        return self.diameter, self.diameter, self.diameter


class Tag(_Model):
    """A tag on a string: width and height in mm, and whether it hangs outside."""

    width: Length = 25.0
    height: Length = 30.0
    hangs: Literal["outside", "inside"] = "outside"


class FlatPack(_Thing):
    """A flat thing: width, height and thickness in mm; maybe with a tag on a string."""

    kind: Literal["flat"] = "flat"
    width: Length
    height: Length
    thickness: Length
    tag: Tag | None = None

    @property
    def flat(self) -> bool:
        """It is."""
        return True

    @property
    def size(self) -> Triple:
        """Width, thickness, height in mm, standing."""
        return self.width, self.thickness, self.height


class Cards(_Thing):
    """A card or a stack of cards: width, height, thickness of one in mm, how many in the stack."""

    kind: Literal["cards"] = "cards"
    width: Length
    height: Length
    thickness: Length
    sheets: int = Field(default=1, ge=1, le=500)

    @property
    def flat(self) -> bool:
        """It is."""
        return True

    @property
    def size(self) -> Triple:
        """Width, thickness of the stack, height in mm, standing."""
        air = STACK_AIR if self.sheets > 1 else 1.0
        return self.width, self.thickness * self.sheets * air, self.height


class Standing(_Thing):
    """A flat piece that stands up inside: width, height, thickness in mm.

    It stays upright, and the closed lid must clear it.
    """

    kind: Literal["standing"] = "standing"
    width: Length
    height: Length
    thickness: Length
    turn: Turn = "upright"
    bears: bool = False
    goes_in: GoesIn = "slot"

    @property
    def flat(self) -> bool:
        """It is."""
        return True

    @property
    def size(self) -> Triple:
        """Width, thickness, height in mm."""
        return self.width, self.thickness, self.height


class Light(_Thing):
    """A bought light: a round battery light, or a bundle of string lights; mm.

    It stands on the floor, or hangs in the middle of the height.
    """

    form: ClassVar[Form] = Form.CYLINDER
    kind: Literal["light"] = "light"
    make: Literal["round", "bundle"] = "round"
    diameter: Length = BATTERY_LIGHT
    height: Length = LIGHT_HEIGHT
    held: Literal["stands", "hangs"] = "stands"
    turn: Turn = "upright"
    bears: bool = False
    reach: Reach = "reachable"

    @property
    def size(self) -> Triple:
        """Length, width, height in mm, upright."""
        return self.diameter, self.diameter, self.height

    def turns(self) -> tuple[Turned, ...]:
        """On its end, or on its side."""
        d, h = self.diameter * self.pressed, self.height * self.pressed
        return tuple(_round_turns(d, h, self.turn))


class Loose(_Thing):
    """Loose fill: by count and size of the grains, by volume, or by weight and bulk density.

    ``diameter`` is that of a ball as large as one grain, in mm; ``volume`` in
    ml as poured; ``density`` is the bulk density in g/cm³.
    """

    kind: Literal["loose"] = "loose"
    by: Literal["count", "volume", "weight"] = "count"
    diameter: Length = 14.0
    grains: int = Field(default=60, ge=1, le=100_000)
    volume: float = Field(default=200.0, gt=0, le=100_000, allow_inf_nan=False)
    weight: float = Field(default=150.0, gt=0, le=100_000, allow_inf_nan=False)
    density: float = Field(default=0.7, gt=0.01, le=25, allow_inf_nan=False)
    packed: Literal["poured", "shaken"] = "poured"
    bears: bool = False
    stacks: bool = False

    @property
    def each_mass(self) -> float:
        """Mass of the fill in g: as typed, or by its weight or its density."""
        if self.by == "weight":
            return self.weight
        return self.mass

    @property
    def bulk(self) -> float:
        """Room that the fill takes, in mm³."""
        return bulk_volume(self).value * 1000

    @property
    def bulk_density(self) -> float:
        """g/cm³ as it lies in the box; 0 when its weight is unknown."""
        if self.by == "weight":
            return self.density
        return self.each_mass / (self.bulk / 1000)

    @property
    def size(self) -> Triple:
        """As high as it is wide and long, mm."""
        side = self.bulk ** (1 / 3)
        return side, side, side

    def turns(self) -> tuple[Turned, ...]:
        """Heaps of the same room: it takes the shape of its cell."""
        found: dict[Triple, Turned] = {}
        side = self.bulk ** (1 / 3)
        for share in LOOSE_HEIGHTS:
            height = side * share
            for ratio in LOOSE_RATIOS:
                width = (self.bulk / height / ratio) ** 0.5
                for size in ((width * ratio, width, height), (width, width * ratio, height)):
                    found.setdefault(size, Turned(size, 2, 2))
        return tuple(found.values())


class MadeThing(_Thing):
    """Another item of the job; its closed size in mm and its mass follow from its design.

    ``extents`` are length, width and height as it stands closed, None until they
    are known; they are never kept in a file.
    """

    kind: Literal["made"] = "made"
    item: str = Field(min_length=1, max_length=60)
    extents: Triple | None = None

    @property
    def flat(self) -> bool:
        """Whether it is thin for its size, as a card is."""
        x, y, _ = sorted(self.size)
        return x < THIN * y

    @property
    def size(self) -> Triple:
        """Length, width, height in mm, as it stands closed; least while that is not known."""
        return self.extents or (SMALLEST, SMALLEST, SMALLEST)

    def measured(self, extents: Triple, mass: float) -> MadeThing:
        """The thing with the size (mm) and mass (g) of its design."""
        return self.model_copy(update={"extents": extents, "mass": mass})

    def asked(self) -> MadeThing:
        """The thing as it is kept: what follows from its design is left out."""
        if self.extents is None and self.mass == 0:
            return self
        return self.model_copy(update={"extents": None, "mass": 0.0})


AnyThing = Block | Cylinder | Disc | Ball | FlatPack | Cards | Standing | Light | Loose | MadeThing
Thing = Annotated[AnyThing, Field(discriminator="kind")]
KINDS: tuple[str, ...] = (
    "block",
    "cylinder",
    "disc",
    "ball",
    "flat",
    "cards",
    "standing",
    "loose",
    "light",
    "made",
)


def solid_sizes(thing: AnyThing) -> tuple[Triple, ...]:
    """Every axis-parallel turn of a thing that it allows, as x, y, z extents in mm."""
    return tuple(turned.size for turned in thing.turns())
