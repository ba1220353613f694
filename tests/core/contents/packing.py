"""A second opinion on packings: overlap, support, rules, and the least by brute force."""

from __future__ import annotations

import itertools
import math
from typing import Any

from jadeite.core.contents.cells import Cell, Rules

EPS = 1e-6


def board(size: Any) -> Any:
    """Board of a simple box with a lid; rises with every length."""
    x, y, z = size
    return 2 * x * y + 2 * (x + y) * (z + 18)


def overlaps(low_a, size_a, low_b, size_b, axes=(0, 1, 2)) -> bool:  # type: ignore[no-untyped-def]
    """Whether two blocks share space along all the axes."""
    return all(
        low_a[i] + size_a[i] > low_b[i] + EPS and low_b[i] + size_b[i] > low_a[i] + EPS
        for i in axes
    )


def faults(sizes, lows, rules, mouth=2) -> list[str]:  # type: ignore[no-untyped-def]
    """What is wrong with a packing, in words; nothing is what it should be."""
    out = []
    count = range(len(sizes))
    for i, j in itertools.combinations(count, 2):
        if overlaps(lows[i], sizes[i], lows[j], sizes[j]):
            out.append(f"{i} and {j} overlap")
    for i in count:
        if min(lows[i]) < -EPS:
            out.append(f"{i} lies outside")
        if lows[i][2] > EPS:
            if not rules[i].stacks:
                out.append(f"{i} stands on others")
            under = [
                j
                for j in count
                if abs(lows[j][2] + sizes[j][2] - lows[i][2]) < EPS
                and overlaps(lows[i], sizes[i], lows[j], sizes[j], (0, 1))
            ]
            out += [f"{i} stands on {j}" for j in under if not rules[j].bears]
            held = sum(
                math.prod(
                    min(lows[i][a] + sizes[i][a], lows[j][a] + sizes[j][a])
                    - max(lows[i][a], lows[j][a])
                    for a in (0, 1)
                )
                for j in under
            )
            if held < sizes[i][0] * sizes[i][1] / 2 - EPS:
                out.append(f"{i} hangs in the air")
        if rules[i].reach != "anywhere":
            across = [a for a in range(3) if a != mouth]
            out += [
                f"{j} lies over {i}"
                for j in count
                if j != i
                and lows[j][mouth] >= lows[i][mouth] + sizes[i][mouth] - EPS
                and overlaps(lows[i], sizes[i], lows[j], sizes[j], across)
            ]
        if rules[i].reach == "front" and mouth != 1 and lows[i][1] > EPS:
            out.append(f"{i} is not at the front")
    return out


def brute_force(turns: list[tuple[Cell, ...]], cost, rules=None) -> float:  # type: ignore[no-untyped-def]
    """The least cost over all normal patterns: places at sums of other cells' lengths."""
    best = math.inf
    every = rules or [Rules()] * len(turns)
    for chosen in itertools.product(*turns):
        sizes = [c.size for c in chosen]
        grids = []
        for i in range(len(chosen)):
            axes = []
            for a in range(3):
                others = [s[a] for j, s in enumerate(sizes) if j != i]
                sums = {0.0}
                for r in range(1, len(others) + 1):
                    sums |= {round(sum(c), 9) for c in itertools.combinations(others, r)}
                axes.append(sorted(sums))
            grids.append(list(itertools.product(*axes)))
        for lows in itertools.product(*grids):
            extent = tuple(
                max(p[a] + s[a] for p, s in zip(lows, sizes, strict=True)) for a in range(3)
            )
            if cost(extent) < best - 1e-9 and not faults(sizes, lows, every):
                best = cost(extent)
    return best
