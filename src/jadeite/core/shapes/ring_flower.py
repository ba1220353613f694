"""Flowers of rings: what is asked of each ring, the rings found for a width, and their build.

A family may put more rings on top of its petals; they are of strands, and alike
ones are glued on one another while all is flat.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from jadeite.core.blooms import (
    LEAF,
    MIDDLE,
    PETAL,
    STRAND,
    Layer,
    RingSize,
    Stack,
    petal_from_words,
    petals_from_words,
    sized,
    stacked,
)
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrivals
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Design, Dimension
from jadeite.core.shapes.blooming import check_width, stack_sizes
from jadeite.core.shapes.finishing import finish_findings, finish_for
from jadeite.core.shapes.registry import OptionValue, Size
from jadeite.core.shapes.ring_centre import bought_for, centre_findings, centre_sizes, check_centre
from jadeite.core.shapes.ring_findings import ring_findings
from jadeite.core.shapes.ring_gluing import SPACER_PART, Through, glued_stack, pads_in
from jadeite.core.shapes.ring_shaping import shaping_of
from jadeite.core.shapes.ring_strip import check_strip, narrower, standing, wound_in
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = ["LEAF_RING", "Remedy", "RingFlower", "Wanted", "least_hub", "ring", "through_of"]

CENTRES = 20.0  # % by which the innermost ring is made larger until its petals hold; from memory
AT_MOST = (16, 12, 8, 6, 4)  # petals of each ring, tried in turn; from memory
TOGETHER = 5  # remedies at once; from memory
WIDER = 1.4  # by which it is made wider until its petals can be held; from memory
LEAF_CURL = -25.0  # degrees; from memory, of leaves less is left
CURLS = {"outward": -1.0, "inward": 1.0, "none": 0.0, "fold": 0.0}  # which way tips are turned
STEEP_OUT, STEEP_IN = 75.0, 88.0  # degrees at which it is as high as it can be; from memory
ROUND_HOLE = 1.5  # mm; from memory, board round a hole in the middle
HEIGHT_FOUND, TRIES = 1e-3, 60  # mm; rounding; and steps in which it is found
STEPPED = 4  # times that sizes by a step are found; from memory, the third is exact
LEAF_RING = "leaf-ring"

Options = Mapping[str, OptionValue]
Boards = Mapping[str, Board]


@dataclass(frozen=True)
class Wanted:
    """One ring that is asked for: its part, title, what its petals are, which ply, its size."""

    part: str
    title: str
    what: str
    size: RingSize
    ply: int = 0


Remedy = tuple[str, str, dict[str, OptionValue]]  # the option that is named, words, and changes


def _spacer(boards: Boards, options: Options) -> float:
    """What lies between two rings, mm thick; 0 for nothing."""
    if options["spacers"] == "foam":
        return float(options["foam"])
    return boards[SPACER_PART].thickness if options["spacers"] == "all" else 0.0


def _pads(stack: Stack, *, foam: bool) -> tuple[Bought, ...]:
    """The foam pads between rings; the steps of the rings tell of them."""
    count, across = pads_in(stack) if foam else (0, 0.0)
    if not count:
        return ()
    on = (stack.layers[0].name, MIDDLE)
    wide = rounded_down(across)
    return (Bought("foam pad", wide, 0.0, "", "", on, count=count, thick=stack.spacer),)


def _none(boards: Boards, options: Options) -> list[Wanted]:
    return []


def _no_remedies(options: Options) -> Iterator[Remedy]:
    return iter(())


@dataclass(frozen=True)
class RingFlower:
    """A family of flowers of rings, from ``smallest`` to ``largest`` (mm) finished.

    It has up to ``rings`` rings of petals.  ``upper(boards, options)`` are the rings of
    strands on top, lowest first; ``remedies`` are what makes their strands longer, tried in
    their order.
    """

    family: str
    title: str
    smallest: float
    largest: float
    rings: int
    upper: Callable[[Boards, Options], list[Wanted]] = _none
    remedies: Callable[[Options], Iterator[Remedy]] = _no_remedies

    def build(self, span: Size, boards: Boards, options: Options, fits: Fits = USUAL) -> Design:
        """A flower of a finished width; the second length is the height that it is to have, or 0.

        Raises
        ------
        FieldError
            The width is out of range, or the rings or their petals would be too small; the
            text names what works.
        """
        width, height, _ = span
        check_width(width, self.title.lower(), self.smallest, self.largest)
        check_centre(options)

        def works(across: float) -> bool:
            return _short(self._layers(width, boards, {**options, "pearl": across})) is None

        check_strip(boards, options, works)
        spacer = _spacer(boards, options)
        layers = self._check_rings(width, boards, options)
        if height > 0:
            options = {**options, **self._opened(width, height, boards, options, spacer)}
            layers = self._layers(width, boards, options)
        stack = stacked(layers, spacer)
        foam = options["spacers"] == "foam"
        made = glued_stack(stack, boards, through_of(options), foam=foam)
        bought = (*bought_for(stack, options), *_pads(stack, foam=foam))
        sizes = stack_sizes(stack, width)
        wound = wound_in(stack, boards, options)
        sizes |= centre_sizes(sizes["finished-height"], stack, bought)
        if wound is not None:
            made = made.with_one(wound.piece, wound.place, wound.joint, wound.arrival)
            sizes |= wound.sizes(sizes["finished-height"], stack.ends[0])
        return Design(
            family=self.family,
            title=self.title,
            pieces=made.pieces,
            placements=made.placements,
            joints=made.joints,
            hollow=None,
            sizes=sizes,
            dimensions=_dimensions(width, made.pieces[0].name),
            arrivals=Arrivals(made.arrivals),
            shaping=(*shaping_of(stack.layers), *([] if wound is None else [wound.shaping])),
            bought=(*bought, *finish_for((made.pieces[0].name, MIDDLE), options)),
            findings=(
                *ring_findings(stack, boards, options, self.rings),
                *centre_findings(stack, options),
                *finish_findings(options),
            ),
        )

    def _layers(self, width: float, boards: Boards, options: Options) -> list[Layer]:
        """The rings for a finished width in mm, lowest first."""
        largest = width
        for _ in range(STEPPED if options["sizes"] == "step" else 1):
            asked = _asked(boards, options, largest)  # a step is of what is cut, known only now
            asked += self.upper(boards, options)
            rings = sized([wanted.size for wanted in asked], width, standing(options))
            singles = int(float(options["singles"]))
            layers = [
                Layer(w.part, w.title, w.what, one, n < singles and w.what != STRAND, w.ply)
                for n, (w, one) in enumerate(zip(asked, rings, strict=True))
            ]
            largest = next(layer.ring.size for layer in layers if layer.what == PETAL)
        return layers

    def _check_rings(self, width: float, boards: Boards, options: Options) -> list[Layer]:
        """The rings, if all their petals can be held.

        Raises
        ------
        FieldError
            A petal is too short; the text names rings, or a width, at which none is.
        """
        layers = self._layers(width, boards, options)
        short = _short(layers)
        if short is None:
            return layers
        problem = (
            f"the {short.many} of the {short.title} would be shorter than "
            f"{number_text(short.ring.asked.shortest)} mm"
        )
        for remedy in self._remedies(short, boards, options):
            if _short(self._layers(width, boards, {**options, **remedy[2]})) is None:
                raise _refused(problem, remedy)
        wide = width
        while wide < self.largest:
            wide = min(self.largest, rounded_up(WIDER * wide, 0))
            if _short(self._layers(wide, boards, options)) is None:
                cure = f"Use {number_text(wide)} mm."
                raise FieldError("width", problem, cure, ((("brief.width", wide),),))
        taken: list[Remedy] = []
        for _ in range(TOGETHER):  # one ring after another
            after = {**options, **{k: v for _, _, own in taken for k, v in own.items()}}
            now = _short(self._layers(width, boards, after))
            if now is None:
                raise _refused(problem, *taken)
            for remedy in self._remedies(now, boards, after):
                again = _short(self._layers(width, boards, {**after, **remedy[2]}))
                if again is None or again.part != now.part:
                    taken.append(remedy)
                    break
            else:
                break
        raise FieldError("petals", problem, "Take fewer petals for each ring.")

    def _remedies(self, short: Layer, boards: Boards, options: Options) -> Iterator[Remedy]:
        """What makes the petals of a ring longer, the least change first."""
        if short.what == STRAND:
            yield from self.remedies(options)
        for across in narrower(boards, options):
            yield "pearl", f"Wind the strip to {number_text(across)} mm.", {"pearl": across}
        for centre in np.arange(float(options["centre"]), 100.0, CENTRES).tolist()[1:]:
            cure = f"Make the innermost ring {centre:.0f} % of the outermost."
            yield "centre", cure, {"centre": float(round(centre)), "sizes": "even"}
        counts = str(options["petals"]).split()
        for left in sorted({len(counts) * part // 4 for part in (1, 2, 3)} - {0}, reverse=True):
            fewer = " ".join(counts[:left])
            yield "petals", f"Leave out the innermost: petals {fewer}.", {"petals": fewer}
        for most in AT_MOST:
            fewer = " ".join(str(min(most, int(count))) for count in counts)
            if fewer != " ".join(counts):
                yield "petals", f"Use petals {fewer}.", {"petals": fewer}

    def _opened(
        self, width: float, height: float, boards: Boards, options: Options, spacer: float
    ) -> dict[str, OptionValue]:
        """The rises with which the flower is as high as is asked, in degrees.

        Raises
        ------
        FieldError
            It cannot be so flat or so high; the text names the height that works.
        """

        def at(share: float) -> tuple[float, dict[str, OptionValue]]:
            own: dict[str, OptionValue] = {
                "rise": STEEP_OUT * share,
                "inner-rise": STEEP_IN * share,
            }
            layers = self._layers(width, boards, {**options, **own})
            return stacked(layers, spacer).height, own

        low, high = 0.0, 1.0
        (flat, found), (steep, _) = at(low), at(high)
        least, most = rounded_up(flat), rounded_down(steep)
        if not least <= height <= most:
            near = most if height > most else least
            raise FieldError(
                "height",
                f"{number_text(height)} mm is not what this flower can be: {number_text(least)} "
                f"to {number_text(most)} mm",
                f"Use {number_text(near)} mm.",
                ((("brief.height", near),),),
            )
        below, above = flat - height, steep - height
        for _ in range(TRIES):  # false position; the end that stays counts half (Illinois)
            share = (low * above - high * below) / (above - below)
            value, found = at(share)
            if abs(value - height) < HEIGHT_FOUND:
                break
            if value < height:
                low, below, above = share, value - height, above / 2
            else:
                high, above, below = share, value - height, below / 2
        return found


def _refused(problem: str, *remedies: Remedy) -> FieldError:
    """The error that names what has been tried together, and works."""
    changes = {key: value for _, _, own in remedies for key, value in own.items()}
    way = tuple(part for key, value in changes.items() for part in option_way(key, value))
    lasting = [cure for _, cure, own in remedies if own.items() <= changes.items()]
    return FieldError(remedies[0][0], problem, " ".join(lasting), (way,))


def ring(number: int) -> str:
    """The key of a ring's part, the outermost 1."""
    return f"ring-{number}"


def through_of(options: Options) -> Through:
    """What is cut into the middles of the rings."""
    across, middle = float(options["hole"]), str(options["middle"])
    if middle == "whole" and options["centre-piece"] == "knot":
        middle = "cross"  # its cord has to pass
    if middle != "whole":
        return Through(across, cross=middle == "cross")
    return Through(across, lowest=True) if options["stem"] == "wire" else Through()


def least_hub(options: Options, number: int) -> float:
    """The least half width in mm of a ring's middle, the lowest 0: what is left round a cut."""
    through = through_of(options)
    return through.across / 2 + ROUND_HOLE if through.of(number) else 0.0


def _asked(boards: Boards, options: Options, largest: float) -> list[Wanted]:
    """Every ring of leaves and petals, lowest first; ``largest`` is the size of ring 1, mm."""
    counts = [int(word) for word in str(options["petals"]).split()]
    shapes = petals_from_words(str(options["outline"]))
    centre = float(options["centre"]) / 100
    step = float(options["step"]) / largest if options["sizes"] == "step" else 0.0
    rod, curl = float(options["rod"]), float(options["tips"])
    curl *= CURLS[str(options["curl"])]
    fold = float(options["fold"]) if options["curl"] == "fold" else 0.0
    laps = options["gather"] == "laps" and options["curl"] != "fold"  # a crease holds them up
    low, high = float(options["rise"]), float(options["inner-rise"])
    out: list[Wanted] = []
    if options["base"] == "leaves":
        leaf = petal_from_words(str(options["leaf-outline"]))
        count, thick = int(float(options["leaves"])), boards[LEAF_RING].thickness
        flat = min(float(options["leaf-rise"]), low)  # steeper ones reach through petals
        share = float(options["leaf-size"]) / 100
        down = max(LEAF_CURL, min(curl, 0.0))
        leaves = RingSize(
            count, leaf, share, flat, down, rod, thick, least_hub(options, 0),
            lines=str(options["leaf-lines"]), fold=float(options["leaf-fold"]),
            grows=True,
        )  # fmt: skip
        out.append(Wanted(LEAF_RING, "leaf ring", LEAF, leaves))
    last = max(1, len(counts) - 1)
    for i, count in enumerate(counts):
        share = 1 - step * i if step else 1 - (1 - centre) * i / last
        petal = shapes[min(i, len(shapes) - 1)]
        rise = low + (max(low, high) - low) * i / last
        part = ring(i + 1)
        least = least_hub(options, len(out))
        size = RingSize(
            count, petal, share, rise, curl, rod, boards[part].thickness, least,
            lines=str(options["petal-lines"]), fold=fold, slant=float(options["slant"]),
            laps=laps and len(out) >= int(float(options["singles"])),
        )  # fmt: skip
        out.append(Wanted(part, f"ring {i + 1}", PETAL, size))
    return out


def _short(layers: Sequence[Layer]) -> Layer | None:
    """The first ring whose petals are too short to be held."""
    return next((layer for layer in layers if layer.ring.length < layer.ring.asked.shortest), None)


def _dimensions(width: float, first: str) -> tuple[Dimension, ...]:
    half = width / 2
    start, end = (-half, -half, 0.0), (half, -half, 0.0)
    down = (0.0, -1.0, 0.0)
    return (Dimension("finished, width", first, MIDDLE, start, end, down, width, finished=True),)
