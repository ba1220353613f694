"""The form of all that goes in together: a block, something round, or a ball."""

from __future__ import annotations

from collections.abc import Sequence

from jadeite.core.contents.arrangement import Arrangement
from jadeite.core.contents.cells import UP
from jadeite.core.contents.things import AnyThing, Loose
from jadeite.core.solid import Form

__all__ = ["form_of"]

ON_AXIS = 1e-6  # mm; rounding, things whose middles agree stand on one axis


def form_of(arrangement: Arrangement | None, things: Sequence[AnyThing]) -> str:
    """``ball`` or ``round`` where that is all that goes in, upright and on one axis, else block."""
    if arrangement is None or not arrangement.places or arrangement.grid is not None:
        return "block"
    places = arrangement.places
    x, y, _ = places[0].centre
    for place in places:
        form = things[place.thing].form
        upright = form is Form.BALL or (form is Form.CYLINDER and place.axis == UP)
        beside = abs(place.centre[0] - x) + abs(place.centre[1] - y) > ON_AXIS
        if not upright or beside or isinstance(things[place.thing], Loose):
            return "block"
    alone = len(places) == 1 and things[places[0].thing].form is Form.BALL
    return "ball" if alone else "round"
