"""What needs a look about rings of petals: thin, crowded, pressed, or over too thin a rod."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from jadeite.core.blooms import MIDDLE, PETAL, STRAND, Layer, Stack
from jadeite.core.boards import Board
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.shapes.blooming import rod_finding
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.units import number_text

__all__ = ["ring_findings"]

THIN_STEP = 12.0  # mm from ring to ring along a radius; from memory, more looks thin
CROWD, LAPS = 0.5, 0.5  # of a petal's width, and mm, that it laps over the next; from memory
LARGEST_LEAVES = 140  # %, of the option
LEAN = 0.3  # of a petal's length may be pressed aside by those below it; from memory


def ring_findings(
    stack: Stack, boards: Mapping[str, Board], options: Mapping[str, OptionValue], most: int
) -> tuple[Finding, ...]:
    """Of all rings of petals in a stack, ``most`` at most; strands slip in between one another."""
    petals = [layer for layer in stack.layers if layer.what == PETAL]
    out = [*_thin(petals, options, most), *_crowded(petals), *_larger_leaves(stack, options)]
    worst = max(
        (i for i, layer in enumerate(stack.layers) if layer.what != STRAND),
        key=lambda i: stack.leans[i] / stack.rings[i].length,
    )
    layer, lean = stack.layers[worst], stack.leans[worst]
    if lean > LEAN * layer.ring.length:
        words = (
            f"{layer.title.capitalize()}: its petals are pressed aside by {number_text(lean)} mm "
            "by those below it. "
        )
        cure = None
        if any(lower.ring.form.slant for lower in petals):
            words += "Tips that turn to one side get under one another: hold the rod less aslant."
            cure = Cure("Hold the rod straight across", (("shape.options.slant", 0.0),))
        elif options["spacers"] == "none":
            words += "Let the inner petals rise more, or put spacers between."
            cure = Cure("Put spacers between all rings", (("shape.options.spacers", "all"),))
        else:
            words += "Let the inner petals rise more, or take fewer."
        where = f"{layer.part}/{MIDDLE}"
        out.append(Finding(Level.LOOK, "petals-pressed", words, where, "shape", cure))
    out += _unlapped(petals)
    if curled := [boards[layer.part] for layer in stack.layers if layer.ring.form.curl]:
        out += rod_finding(float(options["rod"]), curled)
    return tuple(out)


def _larger_leaves(stack: Stack, options: Mapping[str, OptionValue]) -> list[Finding]:
    """That leaves are larger than asked, as they would be too short to be held."""
    lowest, petals = stack.layers[0], stack.layers[1:]
    if not lowest.leaf or not petals:
        return []
    share = math.ceil(100 * lowest.ring.size / petals[0].ring.size - 1e-6)
    if share <= float(options["leaf-size"]) + 1:
        return []
    words = (
        f"Leaves of {number_text(float(options['leaf-size']), 0)} % would be too short to be "
        f"held: they are {share} %."
    )
    cure = Cure(f"Use {share} %", (("shape.options.leaf-size", float(share)),))
    where = f"{lowest.part}/{MIDDLE}"
    may = cure if share <= LARGEST_LEAVES else None
    return [Finding(Level.NOTE, "leaves-larger", words, where, "shape", may)]


def _unlapped(petals: Sequence[Layer]) -> list[Finding]:
    """That laps were asked for where no ring rises far enough for one."""
    asked = any(layer.ring.asked.laps for layer in petals)
    if not asked or any(layer.ring.cup for layer in petals):
        return []
    words = (
        "No ring rises so far that a lap of its feet would be wide enough to be glued: all are "
        "pressed with a ball."
    )
    cure = Cure("Press them", (("shape.options.gather", "pressing"),))
    return [Finding(Level.NOTE, "laps-narrow", words, "gather", "shape", cure)]


def _thin(
    petals: Sequence[Layer], options: Mapping[str, OptionValue], most: int
) -> tuple[Finding, ...]:
    """Scaled up, a flower looks thin: when it wants one more large ring."""
    counts = str(options["petals"]).split()
    step = (petals[0].ring.size - petals[-1].ring.size) / 2 / max(1, len(petals) - 1)
    whole = step * max(1, len(petals) - 1)
    wanted = min(most, math.ceil(whole / THIN_STEP - 1e-9) + 1)
    if step <= THIN_STEP or len(counts) >= wanted:
        return ()
    more = " ".join([counts[0]] * (wanted - len(counts)) + counts)
    lacks = "one more large ring"
    if wanted > len(counts) + 1:
        lacks = f"{wanted - len(counts)} more large rings"
    words = (
        f"It looks thin: from ring to ring the petals step in by {number_text(step)} mm. Up to "
        f"{number_text(THIN_STEP)} mm looks full: it wants {lacks}."
    )
    cure = Cure(f"Use petals {more}", (("shape.options.petals", more),))
    return (Finding(Level.LOOK, "flower-thin", words, "petals", "shape", cure),)


def _crowded(petals: Sequence[Layer]) -> tuple[Finding, ...]:
    """Petals of one ring that lap over one another as they stand up."""
    layer = max(petals, key=lambda p: p.ring.lap / p.ring.widest)
    ring, where = layer.ring, f"{layer.part}/{MIDDLE}"
    lap = number_text(ring.lap)
    if ring.lap > CROWD * ring.widest:
        words = (
            f"{layer.title.capitalize()}: each petal laps {lap} mm over the next, more than half "
            "of its width. Let it rise less, or take fewer petals."
        )
        less = max(0.0, math.floor(ring.asked.rise - 15.0))
        cure = Cure(
            f"Let the inner petals rise by {less:.0f}°", (("shape.options.inner-rise", less),)
        )
        return (Finding(Level.LOOK, "petals-crowd", words, where, "shape", cure),)
    if ring.lap > LAPS:
        words = (
            f"{layer.title.capitalize()}: as they stand up, each petal laps up to {lap} mm over "
            "the next; let it lean on it."
        )
        return (Finding(Level.NOTE, "petals-lap", words, where, "shape"),)
    return ()
