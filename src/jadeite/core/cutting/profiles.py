"""Cutters, and cutting by hand as one of them."""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.errors import FieldError

__all__ = ["PROFILES", "CutterProfile", "profile_by_key"]


@dataclass(frozen=True, slots=True)
class CutterProfile:
    """What a cutter reaches (mm) and how fast it is (mm/s and s)."""

    key: str
    title: str
    reach: tuple[float, float]
    margin: float
    speeds: tuple[tuple[str, float], ...]  # role, mm/s
    lift: float
    tool_change: float
    loading: float
    by_hand: bool = False

    def speed(self, role: str) -> float:
        """Speed in mm/s for ``cut``, ``score``, ``perforate`` or ``pen``."""
        return dict(self.speeds)[role]


# areas: common practice; speeds, lifts and changes: from memory
_BLADE = (("cut", 60.0), ("score", 80.0), ("perforate", 40.0), ("pen", 100.0))
_KNIFE = (("cut", 12.0), ("score", 25.0), ("perforate", 8.0), ("pen", 25.0))


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
