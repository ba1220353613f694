"""Steps in which what was bought is put on: a wire before anything is joined, a pearl after."""

from __future__ import annotations

from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.assembly.clock import CLOSE, Clock
from jadeite.core.assembly.lift import Lift
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Design

__all__ = ["bought_steps"]


def bought_steps(
    clock: Clock, design: Design, lift: Lift, adhesive: Adhesive, *, first: bool
) -> None:
    """Everything that is bought and comes first, or at the end."""
    for one in design.bought:
        if one.first is not first or not one.title:
            continue
        made = lift.after_level(max((m.level for m in lift.moves if m.folds), default=0))
        early = min(made, lift.arriving(When.FOLDED)) if design.arrivals.at(When.FOLDED) else made
        cautions = [one.caution, adhesive.caution if one.holds else ""]
        clock.add(
            one.title,
            one.words,
            "glue" if one.holds else "fit",
            early if first else lift.filled,
            (one.seconds or CLOSE)
            * sum(other.count for other in design.bought if other.name == one.name),
            glue=adhesive if one.holds else None,
            piece=one.name,  # what comes on it holds it: nothing waits
            after=() if first else (design.body.name, one.on[0]),
            # what is pointed out would hide a ball; a cut in two may have taken the panel away
            panels=(one.on,) if one.centre is None and design.has(one.on) else (),
            shows=(one.on[0],) if first else tuple(piece.name for piece in design.pieces),
            above=one.centre is not None,
            caution=" ".join(words for words in cautions if words),
        )
