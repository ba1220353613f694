"""A petal that is folded along its middle: a flat foot, and two halves that stand up from it.

A crease that ended in flat paper would tear it.  Paper gives way as a cone does: from the
point where the crease ends, one bend runs to either corner of the foot and one more
through either half.  So the middle rises as the halves do, by an angle that follows from
that of the crease, and every length is kept.  A straight crease stays straight: such a petal
is not curled along it.

Glossary
--------
apex
    Where the crease ends, and the four bends meet.
elbow
    The bend through a half, which lets it follow the crease.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.optimize import brentq  # type: ignore[import-untyped]

from jadeite.core.blooms.form import Crease, Form, across_rulings, curled, hung, in_a_row
from jadeite.core.blooms.profile import Profile
from jadeite.core.nets.model import Floats
from jadeite.core.nets.turns import across, unit

__all__ = ["MOST_FOLD", "creased", "rises_by"]

MOST_FOLD = 90.0  # degrees; from memory, beyond it a petal shows its back alone
OPENS = 45.0  # degrees between the middle and a foot's edge at the apex, if there is room
STEEPEST = 75.0  # degrees, the same at the most; from memory, beyond it the foot creases through
FOOT_SHARE = 0.35  # of a petal's length beyond its root is a foot at the most; from memory
ELBOW = 0.5  # of the angle from the foot's edge to the crease; from memory, where it is least
SEES = 0.9  # of the way to where a wave of the edge would hide it; from memory
NEAR = 1e-6  # mm; rounding
EXACT = 1e-12  # radians; rounding


@dataclass(frozen=True)
class _Cone:
    """How paper stands about the apex; degrees.

    ``foot`` is the turn at the foot's edges, ``elbow`` that at the elbows, ``rise`` by how
    much the crease stands up from the foot.
    """

    foot: float
    elbow: float
    rise: float


def _directions(opens: float, rise: float) -> tuple[Floats, Floats, Floats]:
    """Along the edge of the foot, the elbow and the crease from the apex, (3,) each; radians."""
    back = math.pi - opens  # from the crease to the edge of the foot, in the flat petal
    part = ELBOW * back
    edge = np.array([math.cos(back), math.sin(back), 0.0])
    crease = np.array([math.cos(rise), 0.0, math.sin(rise)])
    # the elbow is as far from both as it is in the flat petal: two spheres meet a third
    c = float(edge @ crease)
    p, q = math.cos(back - part), math.cos(part)
    a, b = (p - c * q) / (1 - c * c), (q - c * p) / (1 - c * c)
    flat = a * edge + b * crease
    out = math.sqrt(max(0.0, 1 - float(flat @ flat)))
    return edge, flat + out * unit(across(crease, edge)), crease


def _half_fold(opens: float, rise: float) -> float:
    """Half the fold of the crease, by how much it stands up from the foot; radians."""
    _, elbow, crease = _directions(opens, rise)
    normal = across(crease, elbow)
    upright = np.array([-math.sin(rise), 0.0, math.cos(rise)])
    return math.atan2(-float(normal[1]), float(normal @ upright))


@lru_cache(maxsize=256)
def _cone(opens: float, fold: float) -> _Cone:
    """The cone about an apex; ``opens`` as of the foot, ``fold`` the crease, degrees."""
    wide, half = math.radians(opens), math.radians(fold) / 2
    most = math.pi / 2 - EXACT
    rise = float(brentq(lambda r: _half_fold(wide, r) - half, EXACT, most, xtol=EXACT))
    edge, elbow, crease = _directions(wide, rise)
    up, first, second = np.array([0.0, 0.0, 1.0]), across(elbow, edge), across(crease, elbow)
    return _Cone(_turn(up, first, -edge), _turn(first, second, -elbow), math.degrees(rise))


def _turn(before: Floats, after: Floats, hinge: Floats) -> float:
    """From one normal to the next about a hinge, (3,) each; degrees, up positive."""
    one, other = unit(before), unit(after)
    return math.degrees(math.atan2(float(across(one, other) @ hinge), float(one @ other)))


def rises_by(fold: float) -> float:
    """By how many degrees the middle rises with a crease of so many, if the foot has room."""
    return _cone(OPENS, fold).rise


def creased(edge: Floats, profile: Profile, fold: float) -> Form:
    """A petal folded up along its middle by ``fold`` degrees.

    ``edge`` is its upper edge, (n, 2) float, mm, from its root to the middle of its tip;
    ``profile`` how it rises from its root, without a curl.  One that is too short to be held
    stays flat.
    """
    found = _foot(edge, float(profile.breaks[-2]))
    if found is None:
        return curled(edge, profile)
    corner, deep, beyond = found
    opens = math.degrees(math.atan2(corner[1], deep))
    cone = _cone(opens, fold)
    point = np.array([corner[0] + deep, 0.0])
    outlines = [*across_rulings(edge, profile.breaks)]
    outlines[-1] = _foot_outline(outlines[-1], corner, point)
    facets = in_a_row(outlines, profile.turns.tolist())
    foot = len(facets) - 1
    meets, cut = _elbow(beyond, point, math.radians(180.0 - opens) * ELBOW)
    near = np.vstack([[corner, point, meets], beyond[1:cut][::-1]])
    far = np.vstack([[meets, point], beyond[cut:][::-1]])
    tip = beyond[-1]
    for left in (True, False):
        one = near if left else _mirrored(near)
        facets.append(hung(one, foot, cone.foot, facets[foot].place))
        two = far if left else _mirrored(far)
        facets.append(hung(two, len(facets) - 1, cone.elbow, facets[-1].place))
    crease = Crease((foot + 2, foot + 4), np.array([tip, point]), fold)
    rise = profile.rise + cone.rise
    return Form(profile, tuple(facets), rise, 0.0, crease=crease)


def _foot(edge: Floats, start: float) -> tuple[Floats, float, Floats] | None:
    """The foot's upper corner, how far the apex lies beyond it, and the edge from there on.

    ``edge`` is (n, 2), ``start`` mm from the root, where the foot may end at the earliest.
    The apex sees all of the petal; a foot whose corners lie on deep waves goes on beyond
    them.  None if no place will do, as where a petal is too short to be held.
    """
    x = edge[: int(np.argmax(edge[:, 0])) + 1, 0]
    last = start + FOOT_SHARE * float(edge[-1, 0] - start)
    for at in (start, *x[(x > start + NEAR) & (x < last)].tolist()):
        corner = np.array([at, float(np.interp(at, x, edge[: len(x), 1]))])
        beyond = np.vstack([corner, edge[int(np.argmax(edge[:, 0] > at + NEAR)) :]])
        if (deep := _deep(beyond)) is not None:
            return corner, deep, beyond
    return None


def _deep(beyond: Floats) -> float | None:
    """How far in mm the apex lies beyond the foot's corner, where the edge, (n, 2), begins.

    None if it would lie so near that the foot is creased.
    """
    start, half = beyond[0].tolist()
    room = beyond[beyond[:, 1] < half - NEAR]
    seen = float(((room[:, 0] - start) * half / (half - room[:, 1])).min(initial=np.inf))
    wanted = half / math.tan(math.radians(OPENS))
    most = FOOT_SHARE * float(beyond[-1, 0] - start)
    deep = min(wanted, most, SEES * seen)
    return deep if deep >= half / math.tan(math.radians(STEEPEST)) else None


def _foot_outline(rest: Floats, corner: Floats, point: Floats) -> Floats:
    """The foot, (n, 2), of what lies beyond the root's bend: as far as its corners and the apex."""
    upper = rest[(rest[:, 0] < corner[0] - NEAR) & (rest[:, 1] > 0)]
    side = np.vstack([corner, upper[np.argsort(-upper[:, 0], kind="stable")]])
    return np.vstack([side[-1], (side * [1.0, -1.0])[::-1], point, side[:-1]])


def _elbow(beyond: Floats, apex: Floats, angle: float) -> tuple[Floats, int]:
    """Where a ruling from the apex meets the edge first, and how many corners lie before it.

    The edge, (n, 2), begins at the corner of the foot; ``angle`` is in radians from the crease.
    """
    way = np.array([math.cos(angle), math.sin(angle)])
    rel = beyond - apex
    off = way[0] * rel[:, 1] - way[1] * rel[:, 0]
    passes = np.flatnonzero((off[:-1] > 0) & (off[1:] <= 0))
    part = off[passes] / (off[passes] - off[passes + 1])
    meets = beyond[passes] + part[:, None] * (beyond[passes + 1] - beyond[passes])
    first = int(np.argmin((meets - apex) @ way))
    return meets[first], int(passes[first]) + 1


def _mirrored(outline: Floats) -> Floats:
    """The facet of the other half, (n, 2): counter-clockwise, its hinge first as well."""
    flipped = outline * np.array([1.0, -1.0])
    return np.vstack([flipped[1], flipped[0], flipped[:1:-1]])
