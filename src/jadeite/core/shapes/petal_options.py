"""What may be chosen of a petal lantern: of the whole flower, and of each of its rings."""

from __future__ import annotations

from jadeite.core.shapes.registry import Option
from jadeite.core.shapes.rings import MEASURED

__all__ = ["NAMES", "OPTIONS"]

NAMES = ("inner", "middle", "outer")


def _count(number: int, default: float) -> Option:
    name = NAMES[number - 1]
    return Option(
        f"petals-{number}",
        f"Petals, {name}",
        default,
        f"How many petals stand in the {name} ring.",
        unit="count",
        low=3.0,
        high=6.0,
    )


def _lean(number: int, default: float) -> Option:
    name = NAMES[number - 1]
    return Option(
        f"lean-{number}",
        f"Lean, {name}",
        default,
        f"How steeply the middle of each {name} petal rises: 0° lies flat, 90° is upright. "
        "Its two feet are cut for this lean, so a petal fits its own base only.",
        unit="deg",
        low=20.0,
        high=80.0,
    )


def _broad(number: int, default: float) -> Option:
    name = NAMES[number - 1]
    return Option(
        f"broad-{number}",
        f"Broad, {name}",
        default,
        f"How broad the {name} petals are: 0 % narrows from the feet on, 100 % is nearly as wide "
        "as the feet let it be.",
        unit="%",
        low=0.0,
        high=100.0,
    )


def _reach(number: int, default: float) -> Option:
    name = NAMES[number - 1]
    return Option(
        f"reach-{number}",
        f"Reach, {name}",
        default,
        f"How far out the tips of the {name} petals come, against half the flower's width.",
        unit="%",
        low=30.0,
        high=100.0,
    )


# defaults and ranges from memory
OPTIONS = (
    Option(
        "made-as",
        "Petals cut",
        "single",
        "One by one for a narrow cutter; or each ring in one piece, on a hub, for a wide one.",
        choices=(("single", "one by one"), ("whole", "as whole rings")),
    ),
    MEASURED,
    Option(
        "above",
        "Above the light",
        20.0,
        "How far the tips of the inner petals stand above what is inside.",
        unit="mm",
        low=5.0,
        high=150.0,
    ),
    Option(
        "spread",
        "Beyond the base",
        100.0,
        "How far the petals reach beyond the outer base, against the width of the opening in the "
        "middle. Wider hides more of the bases, and takes larger petals.",
        unit="%",
        low=20.0,
        high=300.0,
    ),
    _count(1, 4.0),
    _lean(1, 65.0),
    _broad(1, 20.0),
    _reach(1, 70.0),
    _count(2, 4.0),
    _lean(2, 50.0),
    _broad(2, 40.0),
    _reach(2, 95.0),
    _count(3, 4.0),
    _lean(3, 35.0),
    _broad(3, 60.0),
    _reach(3, 100.0),
)
