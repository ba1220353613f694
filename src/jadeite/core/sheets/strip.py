"""Pieces packed on one sheet as on a strip that is no longer than the sheet.

The packer keeps the gap from the strip's edges too, so its strip is larger by the gap all
round, and what it finds is shifted back.  It knows no holes: what lies in a cut-out of
another piece goes with that.
"""

from __future__ import annotations

import contextlib
import json
import subprocess
import sys
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.project import Stock
from jadeite.core.sheets.plan import GAP, PlacedPiece
from jadeite.core.sheets.rules import Rules

__all__ = ["Bundle", "bundles_of", "packed"]

PACKER = Path(__file__).with_name("packer.py")  # is run, never imported
SMOOTH = 0.02  # mm; from memory, by so much an outline may be rounded, outwards only
SURE = 2e-3  # mm; from memory, kept beyond the gap: the packer counts in short numbers


@dataclass(frozen=True, eq=False)
class Bundle:
    """A piece with what lies in its cut-outs, as they lie on a sheet."""

    host: PlacedPiece
    within: tuple[PlacedPiece, ...] = ()

    @property
    def places(self) -> tuple[PlacedPiece, ...]:
        """All of it."""
        return (self.host, *self.within)

    def at(self, angle: float, x: float, y: float) -> Bundle:
        """The same with the host turned by ``angle`` degrees and then moved by (x, y) mm."""
        by = (angle - self.host.angle) % 360
        c, s = np.cos(np.radians(by)), np.sin(np.radians(by))
        if by % 90 == 0:
            c, s = np.round(c), np.round(s)
        within = []
        for one in self.within:
            dx, dy = one.x - self.host.x, one.y - self.host.y
            within.append(
                replace(
                    one,
                    angle=(one.angle + by) % 360,
                    x=float(x + c * dx - s * dy),
                    y=float(y + s * dx + c * dy),
                )
            )
        return Bundle(replace(self.host, angle=angle, x=x, y=y), tuple(within))

    def area(self, rules: Rules) -> float:
        """Of all its pieces, mm²."""
        return float(sum(rules.shapes[one.piece].area for one in self.places))

    def turns(self, rules: Rules, stock: Stock) -> tuple[float, ...]:
        """Turns of the host in which all of it may lie on a sheet, degrees."""
        straight, askew = rules.turns(self.host.piece, stock)
        return tuple(
            angle
            for angle in (*straight, *askew)
            if all(
                rules.may_turn(one.piece, stock, (one.angle + angle - self.host.angle) % 360)
                for one in self.within
            )
        )


def bundles_of(rules: Rules, placed: Sequence[PlacedPiece]) -> list[Bundle]:
    """What lies on a sheet: pieces within no other, each with those within it."""
    whole = [Polygon(rules.lying(one).exterior) for one in placed]
    hosts: dict[int, list[int]] = defaultdict(list)
    inner: set[int] = set()
    for i, one in enumerate(whole):
        around = [
            k
            for k, other in enumerate(whole)
            if k != i and rules.shapes[placed[k].piece].interiors and other.contains(one)
        ]
        if around:
            hosts[max(around, key=lambda k: whole[k].area)].append(i)
            inner.add(i)
    return [
        Bundle(one, tuple(placed[k] for k in hosts[i]))
        for i, one in enumerate(placed)
        if i not in inner
    ]


def packed(
    bundles: Sequence[Bundle],
    rules: Rules,
    stock: Stock,
    *,
    seconds: int,
    seed: int,
    width: float | None = None,
    workers: int = 2,
    step: Callable[[], object] | None = None,
) -> tuple[PlacedPiece, ...] | None:
    """Bundles on one sheet, as far to its left as can be found in so many seconds; or None.

    With a ``width`` in mm the first strip that is no wider will do.  ``step`` is called
    several times a second.
    """
    x, y, wide, high = rules.usable(stock)
    items, owners = _items(bundles, rules, stock)
    if not all(item["turns"] for item in items):
        return None
    job = {
        "items": items,
        "height": high + 2 * GAP,
        "gap": GAP + SURE,
        "seconds": max(1, seconds),
        "seed": seed,
        "workers": workers,
    }
    best: dict[str, Any] | None = None
    for strip in _strips(job):
        if step is not None:
            step()
        if strip is None:
            continue
        if strip["width"] - 2 * GAP <= wide and (best is None or strip["width"] < best["width"]):
            best = strip
        if best is not None and width is not None and best["width"] - 2 * GAP <= width:
            break
    if best is None:
        return None
    waiting = [iter(own) for own in owners]
    out: list[PlacedPiece] = []
    for item, angle, dx, dy in best["lies"]:
        turns = items[item]["turns"]
        angle = min(turns, key=lambda a: abs((a - angle + 180) % 360 - 180))
        out += next(waiting[item]).at(angle, x + dx - GAP, y + dy - GAP).places
    return tuple(out)


def _items(
    bundles: Sequence[Bundle], rules: Rules, stock: Stock
) -> tuple[list[dict[str, Any]], list[list[Bundle]]]:
    """Like bundles as one item with a count; the bundles of each item."""
    alike: dict[tuple[bytes, tuple[float, ...]], list[Bundle]] = {}
    for bundle in bundles:
        shape = Polygon(rules.shapes[bundle.host.piece].exterior)
        key = shape.wkb, bundle.turns(rules, stock)
        alike.setdefault(key, []).append(bundle)
    items = []
    for (_, turns), own in alike.items():
        shape = Polygon(rules.shapes[own[0].host.piece].exterior)
        rounded = shape.buffer(SMOOTH, join_style="mitre").simplify(SMOOTH * 0.9)
        points = [(float(a), float(b)) for a, b in rounded.exterior.coords[:-1]]
        items.append({"shape": points, "count": len(own), "turns": list(turns)})
    return items, list(alike.values())


def _strips(job: dict[str, Any]) -> Iterator[dict[str, Any] | None]:
    """Every better strip that the packer finds, and None meanwhile; in the end it is ended."""
    process = subprocess.Popen(
        [sys.executable, str(PACKER)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
    )
    assert process.stdin is not None
    assert process.stdout is not None
    try:
        with contextlib.suppress(BrokenPipeError):
            process.stdin.write(json.dumps(job) + "\n")
            process.stdin.flush()
        for line in process.stdout:
            yield json.loads(line)  # null says that it is still at work
    finally:
        process.kill()
        process.communicate()
