"""How the petals of rings are bent by hand: in which order, over what, and by how much."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from jadeite.core.blooms import STRAND, Layer, Ring
from jadeite.core.nets.model import Shaping
from jadeite.core.units import in_runs, number_text

__all__ = ["press_leaves", "shaping_of"]

SHORT = 15.0  # mm; from memory, a shorter petal is pinched, not curled
BENT = 1.0  # degrees; from memory, less is not said
GATHER = 5  # times that a petal takes; from memory

PRESS = (
    "Good side up on a soft mat: along the middle with a ball and a ruler{veins}. Where the cutter "
    "has pressed them, go over those that hardly show."
)
VEINED = (
    "Good side up on a soft mat, with a ball: each from the crease outwards. Where the cutter has "
    "pressed them, go over those that hardly show."
)
PINCH = (
    "Each between finger and thumb, from its foot to its tip and only a little: a shallow fold "
    "keeps it stiff and catches the light. The pictures leave it out."
)

Named = Callable[[Layer], Sequence[str]]  # the pieces that a ring is cut as


def shaping_of(layers: Sequence[Layer], pieces: Named | None = None) -> tuple[Shaping, ...]:
    """How the petals of all rings are curled, and then their middles pressed; strands after.

    ``pieces`` names those that a ring is cut as, where they are more than one.
    """
    of = pieces or _names
    petals = [layer for layer in layers if layer.what != STRAND]
    curled = [layer for layer in petals if _curl_of(layer.ring) > BENT]
    risen = [la for la in petals if _root_of(la.ring) > BENT and la.ring.cup is None]
    folded = [layer for layer in petals if layer.ring.form.crease]
    lined = [layer for layer in petals if layer.ring.veins]
    middles = [layer for layer in lined if layer not in folded]
    out = []
    if lined:
        title = f"Press the lines {_on(lined)}"
        branching = any(sum(not v.cut for v in layer.ring.veins) > 1 for layer in lined)
        veins = ", then each vein from the middle outwards" if branching else ""
        words = PRESS.format(veins=veins) if middles else VEINED
        pressed = _shaping(title, words, lined, _once(lined, of), of)
        out.append(replace(pressed, flat=True))
    ways = [[la for la in curled if (la.ring.form.curl > 0) is up] for up in (False, True)]
    out += [_curling(way, of, alone=not all(ways)) for way in ways if way]
    if middles:
        title = f"Pinch along the middle lines {_on(middles)}"
        out.append(_shaping(title, PINCH, middles, _once(middles, of), of))
    if folded:
        title = f"Open the folds {_on(folded)}"
        out.append(_shaping(title, _open_words(folded), folded, _once(folded, of), of))
    if risen:
        angles = ", ".join(
            f"{layer.title} {number_text(layer.ring.form.rise, 0)}°" for layer in risen
        )
        words = (
            "Lay each ring good side up on a soft mat and press its middle with a ball, in small "
            "circles: that cups it, and keeps its petals up where bending alone lets them sink. "
            f"Until they stand up by about: {angles}."
        )
        if single := [layer.title for layer in risen if layer.single]:
            words += f" Single petals ({', '.join(single)}) are bent up at their feet instead."
        title = "Press the middle of each ring with a ball"
        out.append(_shaping(title, words, risen, _once(risen, of), of))
    if lapped := [layer for layer in petals if layer.ring.cup]:
        title = f"Lap the feet of {in_runs([layer.title for layer in lapped])}"
        out.append(_shaping(title, _lap_words(lapped), lapped, _once(lapped, of), of, glued=True))
    return (*out, *_fringe_shaping([la for la in layers if la.what == STRAND], of))


def _curling(curled: Sequence[Layer], of: Named, *, alone: bool) -> Shaping:
    """How tips are curled one way; ``alone`` where none is curled the other way."""
    inward = curled[0].ring.form.curl > 0
    leaves = any(layer.leaf for layer in curled)
    way = "up, over the good side" if inward else "down, away from the good side"
    rod = number_text(curled[0].ring.asked.rod)
    words = "" if alone else f"Those of {in_runs([layer.title for layer in curled])}. "
    words += (
        f"Each tip {way}, over a rod {rod} mm across (a pencil is about 8); let go, it opens "
        "to about three times that."
    )
    words += _slant_words(curled)
    if short := [layer.title for layer in curled if layer.ring.length < SHORT]:
        words += f" Those of {in_runs(short)} are too short for it: pinch them."
    if any(vein.cut for layer in curled for vein in layer.ring.veins):
        words += " The cuts open: hold each beside them, not across."
    title = "Curl the tips of all petals" + (" and leaves" if leaves else "")
    if not alone:
        title = f"Curl these tips {'inwards' if inward else 'outwards'}"
    return _shaping(title, words, curled, _once(curled, of), of)


def _slant_words(curled: Sequence[Layer]) -> str:
    """How the rod lies on petals whose tips turn to one side."""
    slants: dict[int, list[str]] = {}
    for layer in curled:
        if slant := round(layer.ring.form.slant):
            slants.setdefault(slant, []).append(layer.title)
    if not slants:
        return ""
    side = "left" if max(slants) > 0 else "right"
    parts = [f"{in_runs(titles)} by {abs(slant)}°" for slant, titles in slants.items()]
    return (
        f" Seen from the middle outwards, the rod's {side} end lies farther out: "
        f"{', '.join(parts)} off straight across."
    )


def _open_words(folded: Sequence[Layer]) -> str:
    """How a crease is let open, and where it ends."""
    angles: dict[float, list[str]] = {layer.ring.asked.fold: [] for layer in folded}
    for layer in folded:
        angles[layer.ring.asked.fold].append(layer.title)
    parts = [f"{in_runs(titles)} {number_text(angle / 2, 0)}°" for angle, titles in angles.items()]
    return (
        "Let each spring open to a shallow gutter, its halves up by about: "
        f"{', '.join(parts)}. The fold ends a little way from the middle of the ring: press the "
        "paper flat there with a fingertip, and it runs out in two soft bends to the corners of "
        "the foot."
    )


def _lap_words(lapped: Sequence[Layer]) -> str:
    """How feet are lapped and glued, by how much, and how far that lifts the petals."""
    angles = [
        f"{layer.title} {number_text(cup.angle, 0)}° and {number_text(cup.rise, 0)}°"
        for layer in lapped
        if (cup := layer.ring.cup) is not None
    ]
    return (
        "Bend the petals up along the scored edges of the middle. Seen from the middle outwards, "
        "each foot has a flap on its left: a little glue on its good side, then slip it behind "
        "the next foot, as far as its score, and press both together until they hold. So much "
        f"is lapped, and petals rise by so much: {', '.join(angles)}."
    )


def _fringe_shaping(strands: Sequence[Layer], of: Named) -> Iterator[Shaping]:
    """How strands are curled, all plies of a size at once, and gathered up."""
    if curled := [layer for layer in strands if _curl_of(layer.ring) > BENT]:
        words = (
            "Outwards all round, away from the middle: draw a few strands at a time over the back "
            "of a blade, or round a thin rod, all that are glued on one another together."
        )
        yield _shaping("Curl the tips of the strands", words, curled, _once(curled, of), of)
    if gathered := [layer for layer in strands if layer.ring.form.rise > BENT]:
        angles = ", ".join(
            f"{layer.title} {number_text(layer.ring.form.rise, 0)}°"
            for layer in gathered
            if not layer.ply
        )
        words = (
            "A little glue round the middle, then take the fringe between finger and thumb and "
            "gather it up, the curls kept out; hold it until it stays. It stands up by about: "
            f"{angles}."
        )
        count = GATHER * sum(not layer.ply for layer in gathered)
        yield _shaping("Gather the fringes up", words, gathered, count, of, glued=True)


def press_leaves(names: Sequence[str], lines: str) -> tuple[Shaping, ...]:
    """How lines beside the crease of leaves are pressed; nothing where none are."""
    if lines != "veins" or not names:
        return ()
    return (Shaping("Press the veins of all leaves", VEINED, tuple(names), len(names), flat=True),)


def _on(layers: Sequence[Layer]) -> str:
    """Words for what the lines of some rings are on."""
    words = {"leaves" if layer.leaf else "petals" for layer in layers}
    return f"of {' and '.join(sorted(words, reverse=True))}"


def _once(layers: Sequence[Layer], of: Named) -> int:
    """Petals of all rings, plies that lie on one another once."""
    rings = [layer for layer in layers if not layer.ply]
    return sum(la.ring.asked.count * (1 if la.single else len(of(la))) for la in rings)


def _shaping(
    title: str,
    words: str,
    layers: Sequence[Layer],
    count: int,
    of: Named,
    *,
    glued: bool = False,
) -> Shaping:
    names = [name for layer in layers for name in of(layer)]
    return Shaping(title, words, tuple(names), count, glued=glued)


def _names(layer: Layer) -> list[str]:
    """Of the pieces of a layer that are bent."""
    if not layer.single:
        return [layer.name]
    what = layer.what
    return [f"{layer.part}-{what}-{n}" for n in range(1, layer.ring.asked.count + 1)]


def _curl_of(ring: Ring) -> float:
    """By how much its tips are turned, degrees."""
    return abs(ring.form.curl)


def _root_of(ring: Ring) -> float:
    """By how much its petals are bent up at their roots, degrees; a crease lifts them further."""
    return float(ring.profile.turns.sum()) if ring.form.crease else ring.form.rise
