"""What flowers have in common: that they hold nothing, their tones, and their sizes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from jadeite.core.blooms import STRAND, Layer, Stack
from jadeite.core.boards import Board, smallest_roll
from jadeite.core.colours import mix
from jadeite.core.contents import AnyThing
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.units import number_text, rounded_up

__all__ = [
    "LEAF_COLOUR",
    "PETAL_COLOUR",
    "TONES",
    "check_width",
    "holds_nothing",
    "rod_finding",
    "stack_sizes",
    "toned",
]

PETAL_COLOUR, LEAF_COLOUR = "#E8DDC5", "#8A9A6B"
DEEPER, LIGHTER = ("#B5724F", 0.3), ("#FFFDF8", 0.45)  # towards which tone, and how far
TONES = (
    ("inner-darker", "darker inside"),
    ("outer-darker", "darker outside"),
    ("each", "each ring a shade darker"),
    ("one", "one tone"),
)


def holds_nothing(thing: AnyThing, options: Mapping[str, OptionValue]) -> AnyThing:
    """A flower holds nothing.

    Raises
    ------
    FieldError
        Always.
    """
    raise FieldError(
        "thing", f"a flower holds no {thing.name}", "Choose a shape that holds it, or take it out."
    )


def check_width(width: float, title: str, low: float, high: float) -> None:
    """Refuse a finished width in mm that a shape cannot have.

    Raises
    ------
    FieldError
        It names the nearest that works.
    """
    if not low <= width <= high:  # refuses nan too
        near = high if width > high else low
        raise FieldError(
            "width",
            f"{number_text(width)} mm is outside what a {title} can be",
            f"Use {number_text(near)} mm.",
            ((("brief.width", near),),),
        )


def toned(school: str, first: str, count: int) -> list[str]:
    """Colours of rings from the outermost, whose is given, by a school of tone of :data:`TONES`."""
    towards, far = LIGHTER if school == "outer-darker" else DEEPER
    inner = (count + 1) // 2
    shares = {"one": [0.0] * count, "each": [i / max(1, count - 1) for i in range(count)]}
    shown = shares.get(school, [float(i >= inner) for i in range(count)])
    return [mix(first, towards, far * share) if share else first for share in shown]


def rod_finding(
    rod: float, boards: Sequence[Board], field: str = "shape.options.rod"
) -> tuple[Finding, ...]:
    """Whether a board kinks over a rod of a diameter in mm, and a rod on which none does."""
    board = max(boards, key=lambda b: smallest_roll(b).value)
    least = smallest_roll(board).value
    if rod >= least - 1e-9:
        return ()
    wide = rounded_up(least)
    words = f"{board.title} kinks over a rod under {number_text(wide)} mm."
    cure = Cure(f"Use a rod of {number_text(wide)} mm", ((field, wide),))
    return (Finding(Level.LOOK, "rod-tight", words, "rod", "shape", cure),)


def stack_sizes(stack: Stack, width: float) -> dict[str, Reckoning]:
    """Finished size, fullness, and the size and turn of every ring; ``width`` was asked for, mm."""
    layers, turns = stack.layers, stack.turns
    sorts = _sorts(stack)
    out = {
        "finished-width": reckon(
            "Finished width",
            2 * stack.reach,
            "twice from the axis to the farthest place of a petal, bent as it is",
            given("asked for", width),
            *(given(f"{title}, flat", layer.ring.size) for title, layer, _ in sorts),
        ),
        "finished-height": reckon(
            "Finished height",
            stack.height,
            "from the lowest to the highest place; how far petals stay up is an estimate",
            given("rings on one another", stack.levels[-1]),
            constant("a curl opens to, of its rod", 300.0, "%", Mark.MEMORY),
        ),
        "fullness": reckon(
            "Fullness",
            100 * stack.fullness,
            "share of the disc of the finished width that paper covers, seen from above",
            *(given(f"{title}, seen", 100 * share, "%") for title, _, share in sorts),
            unit="%",
        ),
        "layers-seen": reckon(
            "Layers seen",
            float(stack.above.layers(turns.turns)),
            "rings of which a twentieth or more is seen from above",
            given("rings", float(len(layers)), ""),
            unit="",
        ),
        "rim-gap": reckon(
            "Widest gap near the rim",
            stack.above.gap(turns.turns, stack.reach),
            "between petals, on a circle of four fifths of the finished width",
            given("finished width", 2 * stack.reach),
        ),
        "petals-lean": reckon(
            "Petals lean, most",
            max(v for la, v in zip(layers, stack.leans, strict=True) if la.what != STRAND),
            "how far a petal would reach through one of the ring below, if it did not lean",
            *(
                given(layer.title, v)
                for layer, v in zip(layers, stack.leans, strict=True)
                if layer.what != STRAND
            ),
        ),
    }
    for layer, turn in zip(layers, turns.turns, strict=True):
        if layer.ply:
            continue
        title = layer.title
        ring, title = layer.ring, f"{title[0].upper()}{title[1:]}"
        out[f"{layer.part}-size"] = reckon(
            f"{title}, as cut",
            ring.size,
            "from tip to tip through the middle, flat",
            given("share of the largest", 100 * ring.asked.share, "%"),
            given("middle, across", 2 * ring.hub),
            given("length of a petal", ring.length),
            given("width of a petal", ring.widest),
        )
        if layer.what == STRAND:
            continue  # spread evenly, as the strands fall
        if ring.cup is not None:
            out[f"{layer.part}-lap"] = reckon(
                f"{title}, lapped by",
                ring.cup.angle,
                "at each gap: what is left over of the flat ring where its feet make a pyramid",
                given("petals", float(ring.asked.count), ""),
                given("rise by", ring.cup.rise, "deg"),
                unit="deg",
            )
        out[f"{layer.part}-turn"] = reckon(
            f"{title}, turned",
            turn,
            "so that the largest share of the rings below shows in its gaps",
            unit="deg",
        )
    return out


def _sorts(stack: Stack) -> list[tuple[str, Layer, float]]:
    """Each sort of ring once: its title, its lowest ply, and the most that is seen of one."""
    most: dict[str, float] = {}
    for layer, share in zip(stack.layers, stack.turns.seen, strict=True):
        most[layer.part] = max(share, most.get(layer.part, 0.0))
    return [(la.title, la, most[la.part]) for la in stack.layers if not la.ply]
