"""Lids: one that is put on or slid on at the end, and one that is hinged before it is filled."""

from __future__ import annotations

from collections.abc import Sequence

from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.assembly.clock import GLUE, Clock, named, the
from jadeite.core.assembly.lift import Lift
from jadeite.core.nets.arrivals import Arrival
from jadeite.core.nets.model import Design, Kind

__all__ = ["hinge_step", "lid_words"]


def hinge_step(clock: Clock, design: Design, lift: Lift, adhesive: Adhesive) -> None:
    """The lid set on what it closes, and its hinges glued there as well."""
    lids = design.arrivals.lids
    joints = [
        j
        for j in design.joints
        if j.kind is Kind.GLUE and (j.tab[0] in lids) is not (j.target[0] in lids)
    ]
    names = {end[0] for j in joints for end in (j.tab, j.target) if end[0] in lids}
    hinges = [p for p in design.pieces if p.name in names]
    box = next(end[0] for end in (joints[0].tab, joints[0].target) if end[0] not in lids)
    lid = next(a.piece for a in design.arrivals if a.piece in lids and a.onto is None)
    clock.add(
        f"Set {the(design.piece(lid).title)} on {the(design.piece(box).title)} and glue "
        f"{the(named(hinges))} to its back",
        "Rim on rim, a strip of thin paper between both; glue on the lower halves only, flat on "
        "the back. Leave the lid closed until they are dry, then pull the paper out and open it "
        "all the way once.",
        "glue",
        1.0,
        GLUE * len(joints),
        glue=adhesive,
        piece=box,
        after=tuple(p.name for p in design.pieces),
        panels=tuple(dict.fromkeys(j.tab for j in joints)),
        shows=(box, *(p.name for p in design.pieces if p.name in lids)),
        caution=adhesive.caution,
    )


def lid_words(design: Design, over: Sequence[Arrival]) -> tuple[str, str]:
    """What is done with a lid at the end, and how."""
    if design.swing is not None:
        hooked = design.has(("latch", "lower"))
        how = "Lift the latch, let the lid down, and hook the latch over its catch."
        return "Close the lid", how if hooked else "Let it down; it passes all that stands inside."
    slides = next((a.piece for a in over if a.path), "")
    if slides:
        return (
            f"Slide {the(design.piece(slides).title)} on",
            "It should run by itself with a little air.",
        )
    return "Put the lid on", "It should slide down by itself with a little air."
