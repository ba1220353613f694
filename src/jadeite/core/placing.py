"""Where the things stand in the closed design: as solids, and as loads on its floor."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from jadeite.core.boards import Load
from jadeite.core.contents import AnyThing, Arrangement, FlatPack, Light, Loose, Place, tag_room
from jadeite.core.contents.cells import UP
from jadeite.core.contents.clearance import tag_axes
from jadeite.core.folding import Body, ball_body, box_body, cylinder_body, transform
from jadeite.core.nets import Design
from jadeite.core.nets.model import Floats
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.solid import Form

__all__ = ["beyond_round", "bodies_in", "bodies_on", "loads_on_floor"]

TAG_THICK = 0.3  # mm, for the picture; from memory
STANDS = 0.05  # mm; rounding, cells this close above another rest on it
Size = tuple[float, float, float]


def beyond_round(arrangement: Arrangement, design: Design, things: Sequence[AnyThing]) -> float:
    """How far in mm things reach out of a round hollow with their room; 0 or less when they fit."""
    hollow = design.hollow
    if hollow is None or hollow.form is Form.BLOCK:
        return 0.0
    radius, worst = hollow.size[0] / 2, -np.inf
    middle = np.array(arrangement.inside) / 2
    for place in arrangement.places:
        cell = np.array(place.cell) / 2
        away = np.abs(np.array(place.low) + cell - middle)
        ball = things[place.thing].form is Form.BALL
        if hollow.form is Form.BALL:
            # it stands on the floor without room below; beside it the walls are measured
            solid = place.solid[0] / 2
            reach = np.linalg.norm(away) + solid if ball else np.linalg.norm(away + cell)
        elif ball or (things[place.thing].form is Form.CYLINDER and place.axis == UP):
            reach = np.hypot(*away[:2]) + max(cell[:2])
        else:
            reach = np.hypot(*(away + cell)[:2])
        worst = max(worst, float(reach) - radius)
    return worst


def _slack(inside: Size, size: Size, mouth: int) -> Floats:
    """From the hollow's low corner to the arrangement's: in the middle, but against the mouth's."""
    slack: Floats = (np.array(size, float) - np.array(inside)) / 2
    slack[UP] = 0.0
    slack[mouth] = 0.0
    return slack


def bodies_in(
    things: Sequence[AnyThing],
    arrangement: Arrangement,
    design: Design,
    mouth: int,
    facets: int = 24,
) -> tuple[Body, ...]:
    """The things in their places in the shared space of the closed design."""
    size, centre = design.room.size, np.array(design.room.centre)
    corner = centre - np.array(size) / 2 + _slack(arrangement.inside, size, mouth)
    out = []
    for place in arrangement.places:
        thing = things[place.thing]
        middle = corner + np.array(place.centre)
        if _hangs(thing):
            middle[UP] = _hung(design, place.solid[UP])
        if thing.form is Form.CYLINDER:
            across = place.solid[(place.axis + 1) % 3]
            along = place.solid[place.axis]
            out.append(cylinder_body(thing.name, across, along, middle, place.axis, facets))
        elif thing.form is Form.BALL:
            out.append(ball_body(thing.name, place.solid[0], middle))
        else:
            body = box_body(thing.name, place.solid, middle)
            out.append(replace(body, poured=isinstance(thing, Loose)))
        if isinstance(thing, FlatPack) and thing.tag is not None and tag_room(thing):
            out.append(_tag_body(thing, place, middle))
    return tuple(out)


def bodies_on(
    things: Sequence[AnyThing], arrangement: Arrangement, design: Design
) -> tuple[Body, ...]:
    """Things that are mounted on a panel, in the middle of it, on what is glued there."""
    if design.ground is None:
        return ()
    piece = design.piece(design.ground[0])
    panel = piece.panels[piece.index[design.ground[1]]]
    place = closed_matrix(piece, design.placements[piece.name], panel.name)
    low, high = panel.outline.min(axis=0), panel.outline.max(axis=0)
    corner = np.append((low + high - np.array(arrangement.inside[:2])) / 2, 0.0)
    corner[UP] = piece.board.thickness / 2
    out = []
    for spot in arrangement.places:
        thing = things[spot.thing]
        middle = corner + np.array(spot.centre)
        middle[UP] = corner[UP] + spot.solid[UP] / 2
        if thing.form is Form.CYLINDER:
            body = cylinder_body(thing.name, spot.solid[0], spot.solid[UP], middle, spot.axis)
        else:
            body = box_body(thing.name, spot.solid, middle)
        faces = tuple(transform(place, face) for face in body.faces)
        out.append(replace(body, faces=faces, pose=place @ body.pose))
    return tuple(out)


def _hangs(thing: AnyThing) -> bool:
    return isinstance(thing, Light) and thing.held == "hangs"


def _hung(design: Design, high: float) -> float:
    """Height in mm of the middle of a light that hangs: halfway, with its air above and below."""
    hollow = design.room
    low = hollow.centre[2] - hollow.size[2] / 2
    top = max(low + hollow.size[2], design.surfaces.get("mouth", -np.inf))
    keep = design.fits.air + high / 2
    return float(max(min((low + top) / 2, top - keep), low + keep))


def _tag_body(thing: FlatPack, place: Place, middle: Floats) -> Body:
    """A tag that lies inside, beyond the pack's own end."""
    assert thing.tag is not None
    wide, thin = tag_axes(place.solid, place.tall)
    size = [0.0, 0.0, 0.0]
    size[wide], size[thin], size[place.tall] = thing.tag.width, TAG_THICK, thing.tag.height
    centre = middle.copy()
    end = place.solid[place.tall] / 2 + tag_room(thing) - thing.tag.height / 2
    centre[place.tall] += end
    return box_body(f"tag of {thing.name}", (size[0], size[1], size[2]), centre)


def _extent(thing: AnyThing, place: Place) -> tuple[float, float, float, float]:
    """What a thing covers, x0, y0, x1, y1 in mm from the hollow's corner; fill covers its cell."""
    x, y, _ = place.centre
    spread = place.cell if isinstance(thing, Loose) else place.solid
    return x - spread[0] / 2, y - spread[1] / 2, x + spread[0] / 2, y + spread[1] / 2


def _shared(
    a: tuple[float, float, float, float], b: tuple[float, float, float, float]
) -> tuple[float, float, float, float] | None:
    x0, y0, x1, y1 = max(a[0], b[0]), max(a[1], b[1]), min(a[2], b[2]), min(a[3], b[3])
    return (x0, y0, x1, y1) if x1 - x0 > STANDS and y1 - y0 > STANDS else None


def loads_on_floor(
    things: Sequence[AnyThing], arrangement: Arrangement, inside: Size, mouth: int
) -> tuple[Load, ...]:
    """What presses on the floor and where, stacked things passed down; g and mm.

    A thing that stands on others gives each a share of its weight by the area
    on which it rests there.  Places are measured from the floor's middle.
    """
    places = arrangement.places
    extents = [_extent(things[p.thing], p) for p in places]
    carried: dict[int, float] = {
        i: 0.0 if _hangs(things[p.thing]) else things[p.thing].each_mass
        for i, p in enumerate(places)
    }
    pressed: dict[int, list[tuple[float, float, float, float]]] = defaultdict(list)
    for i in sorted(range(len(places)), key=lambda i: -places[i].low[UP]):
        if places[i].low[UP] <= STANDS:
            pressed[i].append(extents[i])
            continue
        below = []
        for j, other in enumerate(places):
            top = other.low[UP] + other.cell[UP]
            if j != i and abs(top - places[i].low[UP]) <= STANDS:
                part = _shared(extents[i], extents[j])
                if part is not None:
                    below.append((j, (part[2] - part[0]) * (part[3] - part[1])))
        whole = sum(area for _, area in below)
        for j, area in below:
            carried[j] += carried[i] * area / whole
        if not below:  # held by what it hangs between: counted where it is
            pressed[i].append(extents[i])
    dx, dy, _ = _slack(arrangement.inside, inside, mouth).tolist()
    out = []
    for i, spots in pressed.items():
        for x0, y0, x1, y1 in spots:
            if carried[i] > 0:
                out.append(
                    Load(
                        (x0 + x1) / 2 + dx - inside[0] / 2,
                        (y0 + y1) / 2 + dy - inside[1] / 2,
                        x1 - x0,
                        y1 - y0,
                        carried[i],
                    )
                )
    return tuple(out)
