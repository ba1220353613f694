"""Cutters, and cutting by hand as one of them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jadeite.core.errors import FieldError
from jadeite.core.project import Cutter, Project, Task

__all__ = ["PROFILES", "CutterProfile", "own_from", "profile_by_key", "profile_of"]

ACCELERATION = 2_000.0  # mm/s²; from memory, of a light carriage


@dataclass(frozen=True, slots=True)
class CutterProfile:
    """What a cutter reaches (mm), how fast it is (mm/s, s), and what tools it has.

    ``acceleration`` (mm/s²) is that after every stop; 0 for hands, which know none.
    """

    key: str
    title: str
    reach: tuple[float, float]
    margin: float
    speeds: tuple[tuple[str, float], ...]  # role, mm/s
    lift: float
    tool_change: float
    loading: float
    by_hand: bool = False
    force_steps: int = 0
    tools: frozenset[str] = frozenset({"blade", "scoring tool", "pen"})
    acceleration: float = ACCELERATION

    def speed(self, role: str) -> float:
        """Speed in mm/s for ``cut``, ``score``, ``perforate`` or ``pen``."""
        return dict(self.speeds)[role]

    def cutting_at(self, speed: float | None) -> CutterProfile:
        """The same where cuts are made at another speed, mm/s."""
        if speed is None:
            return self
        speeds = tuple((role, speed if role == "cut" else own) for role, own in self.speeds)
        return replace(self, speeds=speeds)


# areas: common practice; speeds, lifts and changes: from memory
_BLADE = (("cut", 60.0), ("score", 80.0), ("perforate", 40.0), ("pen", 100.0))
_KNIFE = (("cut", 12.0), ("score", 25.0), ("perforate", 8.0), ("pen", 25.0))
SLOWER = 2 / 3  # of the speed of cuts; from memory, dashes are made so fast
PEN = 100.0  # mm/s; from memory


def _cutter(key: str, title: str, reach: tuple[float, float]) -> CutterProfile:
    return CutterProfile(key, title, reach, 0.0, _BLADE, 0.6, 45.0, 60.0)


# as above: areas common practice, speeds from memory
PROFILES = (
    _cutter("small", "Small cutter, 108 × 292 mm", (108.0, 292.0)),
    _cutter("middle", "Middle cutter, 215 × 292 mm", (215.0, 292.0)),
    _cutter("large", "Large cutter, 292 × 292 mm", (292.0, 292.0)),
    _cutter("long", "Long cutter, 292 × 597 mm", (292.0, 597.0)),
    CutterProfile(
        "hand",
        "By hand, with knife and ruler",
        (10_000.0, 10_000.0),
        5.0,
        _KNIFE,
        lift=3.0,
        tool_change=20.0,
        loading=30.0,
        by_hand=True,
        acceleration=0.0,
    ),
)
_BY_KEY = {profile.key: profile for profile in PROFILES}


def profile_by_key(key: str) -> CutterProfile:
    """The profile with this key.

    Raises
    ------
    FieldError
        No such cutter; the text lists the keys.
    """
    if key not in _BY_KEY:
        raise FieldError(
            "cutter", f"there is no cutter “{key[:40]}”", f"Use one of: {', '.join(_BY_KEY)}."
        )
    return _BY_KEY[key]


def profile_of(job: Task | Project) -> CutterProfile:
    """What a job is cut with: a cutter of the maker's own, or one of ours.

    Raises
    ------
    FieldError
        There is no such cutter.
    """
    for own in job.own_cutters:
        if own.key == job.cutter:
            return _profile(own)
    return profile_by_key(job.cutter)


def _profile(own: Cutter) -> CutterProfile:
    speeds = (
        ("cut", own.cut_speed),
        ("score", own.score_speed),
        ("perforate", own.cut_speed * SLOWER),
        ("pen", PEN),
    )
    return CutterProfile(
        own.key,
        own.title,
        (own.width, own.length),
        own.margin,
        speeds,
        own.lift,
        own.tool_change,
        own.loading,
        force_steps=own.force_steps,
        tools=frozenset(_tools(own)),
    )


def _tools(own: Cutter) -> set[str]:
    return {"blade"} | ({"scoring tool"} if own.score else set()) | ({"pen"} if own.pen else set())


def own_from(profile: CutterProfile, key: str) -> Cutter:
    """A cutter of the maker's own that begins as one that there is."""
    return Cutter(
        key=key,
        title=f"My {profile.title.partition(',')[0].lower()}",
        width=profile.reach[0],
        length=profile.reach[1],
        margin=profile.margin,
        force_steps=profile.force_steps,
        cut_speed=profile.speed("cut"),
        score_speed=profile.speed("score"),
        lift=profile.lift,
        tool_change=profile.tool_change,
        loading=profile.loading,
    )
