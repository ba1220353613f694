"""Where to hold the ruler for each kind of thing, and what people forget."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["GUIDES", "Guide"]


@dataclass(frozen=True, slots=True)
class Guide:
    """Title of a kind, one line about it, where the ruler goes, what is forgotten."""

    title: str
    about: str
    ruler: str
    forgotten: str


GUIDES: dict[str, Guide] = {
    "block": Guide(
        "Block",
        "Anything with straight sides.",
        "Along the longest edges, at the widest place: labels, lips and catches count.",
        "Bulging sides. Squeeze it gently between two books and measure between the books.",
    ),
    "cylinder": Guide(
        "Round",
        "A jar, a tube, an eyepiece.",
        "Across the widest ring, from edge to edge; roll a strip of paper around it to check: "
        "its length is 3.14 times the diameter.",
        "The cap or knob that is wider than the body, and caps that lift it up.",
    ),
    "disc": Guide(
        "Disc",
        "A filter, a coin, a coaster.",
        "Across the middle; measure the thickness of five together and divide.",
        "A raised rim, and the sleeve it stays in.",
    ),
    "ball": Guide(
        "Ball",
        "A marble, a bauble.",
        "Between two upright blocks that both touch it.",
        "The hanger or knot on top: then it is a round thing of that height.",
    ),
    "flat": Guide(
        "Flat",
        "A sachet, a pouch, a folded chart.",
        "Full, and lying as it will lie. Seams count; thickness in the middle, not at the seam.",
        "The tag on its string: it hangs outside, or needs its own height.",
    ),
    "cards": Guide(
        "Cards",
        "One card, or a stack of them.",
        "One card edge to edge, and the thickness of ten together.",
        "Anything glued on top, and the air between cards: a stack is 5 % thicker.",
    ),
    "standing": Guide(
        "Stand-up",
        "A flat piece that stands inside.",
        "From its foot to its highest tip; the thickness of its board.",
        "The closed lid: what stands may pass the rim only if the lid clears it.",
    ),
    "loose": Guide(
        "Loose",
        "Sweets, beads, pebbles.",
        "Fill a straight mug, level it without pressing, and measure the mug; or weigh it.",
        "It settles on the way, and another bag packs differently: leave the spread free.",
    ),
    "light": Guide(
        "Light",
        "A battery light, or a bundle of string lights.",
        "Across the base, and up to the tip of the false flame.",
        "The switch underneath, fingers to reach it, and the battery door.",
    ),
    "made": Guide(
        "Made here",
        "Another made thing of this job.",
        "Nothing to measure: it has the size of its own design, closed, and follows its changes.",
        "A bow, a handle or a tag that stands out of it once it is closed.",
    ),
}
