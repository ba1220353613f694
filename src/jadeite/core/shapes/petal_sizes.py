"""The figures of a petal lantern: fullness, fans, lengths, and how each comes about."""

from __future__ import annotations

import math

from jadeite.core.nets.petal_ring import PetalRing
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.petal_options import NAMES
from jadeite.core.shapes.petal_view import SIDE, PetalView
from jadeite.core.shapes.registry import Size

__all__ = ["petal_sizes"]


def petal_sizes(
    inside: Size, rings: list[PetalRing], radius: float, views: tuple[PetalView, PetalView]
) -> dict[str, Reckoning]:
    """Of rings round a light of a radius in mm, seen from above and from the side."""
    out = inside_sizes(inside)
    out["inside-across"] = given("Inside, across", 2 * radius)
    out |= _fullness(views)
    for ring in rings:
        k, name, fan = ring.number, NAMES[ring.number - 1], ring.fan
        foot = reckon(
            f"Between the feet, {name}",
            math.degrees(fan.foot),
            "the points have parallel sides: 360° by the number of petals",
            given("petals", ring.count, ""),
            unit="deg",
        )
        half = reckon(
            f"Half-angle of the cone, {name}",
            math.degrees(fan.half_angle),
            "the cone through both feet and a middle that leans as wanted",
            foot,
            given("lean", math.degrees(fan.lean), "deg"),
            unit="deg",
        )
        spread = reckon(
            f"Spread about the cone's axis, {name}",
            math.degrees(fan.spread),
            "sin(spread / 2) = sin(angle between the feet / 2) / sin(half-angle)",
            foot,
            half,
            unit="deg",
        )
        out[f"petal-sector-{k}"] = reckon(
            f"Fan of a flat petal, {name}",
            math.degrees(fan.sector),
            "spread × sin(half-angle); it is wider than the angle between the feet, "
            "so the petal must bend",
            spread,
            half,
            unit="deg",
        )
    for ring in rings:
        k, name = ring.number, NAMES[ring.number - 1]
        out[f"petal-length-{k}"] = reckon(
            f"{name.capitalize()} petal, from its apex to its tip",
            ring.length,
            "its reach less the distance of its notch, by the cosine of its lean; the inner ones "
            "at least as long as rises above the light",
            given("notches from the middle", ring.apex),
            given("lean", math.degrees(ring.fan.lean), "deg"),
        )
    last = max(rings, key=lambda r: r.apex + r.length * math.cos(r.fan.lean))
    out["across"] = reckon(
        "Flower, across",
        2 * (last.apex + last.length * math.cos(last.fan.lean)),
        "twice the distance of the notches and what the petals lean out",
        given("notches from the middle", last.apex),
        given("petal", last.length),
        given("lean", math.degrees(last.fan.lean), "deg"),
    )
    return out


def _fullness(views: tuple[PetalView, PetalView]) -> dict[str, Reckoning]:
    """Shares in % that petals cover, and that bases show, from above and from the side."""
    out = {}
    ways = (("fullness", "from above", views[0]),
            ("fullness-side", f"from {SIDE:.0f}° above the table", views[1]))  # fmt: skip
    for key, way, view in ways:
        out[key] = reckon(
            f"Fullness, {way}",
            100 * view.petals,
            "share that petals, and from above the light, cover of what a thread round the tips "
            "would enclose",
            given("bases seen", 100 * view.bases, "%"),
            unit="%",
        )
    return out
