"""What a panel is for, and what follows from it.

Every question of the kind "may this panel have a window?" is answered here,
so that a new role is one line and cannot be forgotten anywhere.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

__all__ = ["Role", "Traits"]


@dataclass(frozen=True)
class Traits:
    """What follows from a role.

    ``glue``: it carries glue, and its outline is hatched; ``window``: it may
    be cut open; ``cover``: it may have an overlay; ``split``: the fold that
    carries it may become a seam; ``lap``: where it is cut in halves they are
    joined by a lap; ``bends``: its facets bend, so that it is never cut across;
    ``follows``: it is folded together with the panel on which it hangs;
    ``leads``: what hangs on it is folded together with it; ``proud``: it stands
    out of the face on which it is glued; ``frame``: its openings show what lies
    under it; ``lines``: it lies behind windows and shines through them; ``shuts``:
    it is folded in at the end, to close a side; ``leans``: it gives way to others that
    lean as well, and how far is judged by the shape, not by the proof; ``wound``: it is
    rolled up as tight as it goes, whatever that does to it.
    """

    glue: bool = False
    window: bool = True
    cover: bool = True
    split: bool = True
    lap: bool = True
    bends: bool = False
    follows: bool = False
    leads: bool = False
    proud: bool = False
    frame: bool = False
    lines: bool = False
    shuts: bool = False
    leans: bool = False
    wound: bool = False


PLAIN = Traits()


class Role(Enum):
    """What a panel is for; written to files as its value."""

    FLOOR = "floor"
    WALL = "wall"
    LEAF = "leaf"  # of a card: it stands by its fold
    EDGE = "edge"  # between two scores, as wide as what lies inside is thick
    TOP = "top"
    FLAP = "flap"
    HOOK = "hook"  # a flap that hooks into another: both lie on one another
    PLATE = "plate"
    STRAP = "strap"
    PLY = "ply"
    SLAT = "slat"
    LINING_WALL = "lining-wall"  # the inner wall of one that is rolled over
    RIM = "rim"  # what it is rolled over
    TAB = "tab"
    LAP = "lap"  # joins two halves end to end
    FOOT = "foot"
    GUSSET = "gusset"
    GORE = "gore"  # a facet of a bent panel
    HUB = "hub"  # the middle of a ring, on which its petals hang
    PETAL = "petal"  # a facet of a petal or leaf, free but at its root
    WOUND = "wound"  # a facet of a strip that is wound up
    WRAP = "wrap"
    OVERLAY = "overlay"
    STIFFENER = "stiffener"
    LINING = "lining"
    INSET = "inset"  # a panel inside a card, to write on
    STRIP = "strip"  # of a lining behind several windows

    @property
    def traits(self) -> Traits:
        """What follows from it."""
        return _TRAITS.get(self, PLAIN)


_TRAITS = {
    Role.FLAP: Traits(shuts=True),
    Role.LEAF: Traits(split=False),
    Role.EDGE: Traits(window=False, cover=False, split=False, lap=False, leads=True),
    Role.HOOK: Traits(window=False, shuts=True),
    Role.LINING_WALL: Traits(leads=True),
    Role.RIM: Traits(window=False, cover=False, split=False, lap=False, leads=True),
    Role.TAB: Traits(glue=True, window=False, cover=False, split=False, lap=False, follows=True),
    Role.LAP: Traits(glue=True, window=False, cover=False, split=False, lap=False, follows=True),
    Role.FOOT: Traits(glue=True, window=False, cover=False, split=False, lap=False),
    Role.GUSSET: Traits(window=False, cover=False, split=False, follows=True),
    Role.GORE: Traits(window=False, split=False, bends=True, follows=True),
    Role.HUB: Traits(window=False, cover=False, split=False, lap=False, leans=True),
    Role.PETAL: Traits(
        window=False, cover=False, split=False, bends=True, follows=True, leans=True
    ),
    Role.WOUND: Traits(
        window=False, cover=False, split=False, bends=True, follows=True, leans=True, wound=True
    ),
    Role.WRAP: Traits(window=False, cover=False, lap=False),
    Role.OVERLAY: Traits(window=False, proud=True, frame=True),
    Role.STIFFENER: Traits(window=False, proud=True),
    Role.LINING: Traits(window=False, lines=True),
    Role.INSET: Traits(window=False),
    Role.STRIP: Traits(window=False, lines=True),
}
