"""The matrix of ordinary use: every family, ten kinds of things, three sizes, all at the defaults.

Run it as ``python -m tests.matrix``; it prints a row for each family and kind,
what was made, and every finding above a note and every refusal with its reason.
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from typing import Any

from jadeite.core.contents import (
    Ball,
    Block,
    Cards,
    Cylinder,
    Disc,
    FlatPack,
    Light,
    Loose,
    Standing,
    Tag,
)
from jadeite.core.findings import Level
from jadeite.core.pipeline import answering, arrange_contents, plan_sheets, work_up
from jadeite.core.project import Task, changed
from jadeite.core.shapes import all_families, family_by_key

# ordinary things of the star club in three sizes; mm and g
THINGS: dict[str, tuple[Any, ...]] = {
    "block": (
        Block(name="filter case", length=34, width=26, height=14, mass=12),
        Block(name="star lens", length=62, width=46, height=40, mass=80),
        Block(name="book of stars", length=120, width=84, height=30, mass=180),
    ),
    "round": (
        Cylinder(name="small eyepiece", diameter=28, height=32, mass=40),
        Cylinder(name="eyepiece", diameter=44, height=60, mass=120),
        Cylinder(name="chart roll", diameter=52, height=118, mass=90),
    ),
    "disc": (
        Disc(name="filter", diameter=30, thickness=6, mass=10),
        Disc(name="moon disc", diameter=58, thickness=9, mass=25),
        Disc(name="star wheel", diameter=110, thickness=12, mass=70),
    ),
    "ball": (
        Ball(name="moon", diameter=32, mass=15),
        Ball(name="planet", diameter=60, mass=40),
        Ball(name="large planet", diameter=96, mass=90),
    ),
    "flat": (
        FlatPack(name="sachet", width=46, height=58, thickness=5, mass=4),
        FlatPack(name="folded chart", width=74, height=92, thickness=8, mass=22),
        FlatPack(name="chart book", width=98, height=130, thickness=14, mass=110),
    ),
    "tagged": (
        FlatPack(name="sachet", width=46, height=58, thickness=5, mass=4, tag=Tag()),
        FlatPack(name="tea", width=62, height=74, thickness=6, mass=6, tag=Tag(hangs="inside")),
        FlatPack(name="star tea", width=84, height=96, thickness=9, mass=12, tag=Tag()),
    ),
    "cards": (
        Cards(name="name card", width=55, height=34, thickness=0.3, sheets=20, mass=12),
        Cards(name="cards", width=89, height=63, thickness=0.31, sheets=54, mass=95),
        Cards(name="postcards", width=148, height=105, thickness=0.3, sheets=30, mass=140),
    ),
    "standing": (
        Standing(name="star", width=30, height=34, thickness=2, mass=3),
        Standing(name="moon figure", width=52, height=60, thickness=2, mass=6),
        Standing(name="tower", width=84, height=96, thickness=2, mass=12),
    ),
    "loose": (
        Loose(name="sweets", diameter=12, grains=30, mass=40),
        Loose(name="star sweets", diameter=16, grains=60, mass=150),
        Loose(name="moon sweets", diameter=22, grains=60, mass=380),
    ),
    "light": (
        Light(name="small light", diameter=32, height=20, mass=8),
        Light(name="path light", mass=12),
        Light(name="string lights", make="bundle", diameter=50, height=25, mass=20),
    ),
}
SIZES = ("small", "middle", "large")


@dataclass(frozen=True)
class Cell:
    """One family with one thing: the codes of findings above a note, or why it was refused."""

    family: str
    kind: str
    size: str
    made: bool
    findings: tuple[tuple[str, str, bool], ...]  # code, message, whether it has a cure
    sheets: tuple[tuple[str, str, bool], ...]  # likewise, of the sheets and the cutter at hand
    refusal: str = ""
    cured: bool = False  # whether the refusal has a button, or is no shape for it

    @property
    def clean(self) -> bool:
        """Made, and nothing of the thing itself needs a look."""
        return self.made and not self.findings

    @property
    def mark(self) -> str:
        """Its place in the table."""
        if not self.made:
            return "x"
        return "?" if self.findings else "s" if self.sheets else "·"


def cell(job: tuple[str, str, int]) -> Cell:
    """Work up one family for one thing, sheets and all."""
    family, kind, number = job
    project = changed(Task(), contents=(THINGS[kind][number],))
    project = answering(project, family_by_key(family))
    work = work_up(project, arrange_contents(project, quick=True))
    if work.design is None:
        worst = work.findings[0]
        told = worst.cure is not None or worst.code == "no-shape-for-it"
        return Cell(family, kind, SIZES[number], False, (), (), worst.message, told)
    own, sheets = (
        tuple((f.code, f.message, f.cure is not None) for f in found if f.level > Level.NOTE)
        for found in (work.findings, plan_sheets(project, work.design).findings)
    )
    return Cell(family, kind, SIZES[number], True, own, sheets)


def jobs(sizes: Iterable[int] = range(3), kinds: Iterable[str] = THINGS) -> Iterator[tuple]:
    """Every family with every kind in the wanted sizes."""
    for family in all_families():
        for kind in kinds:
            for number in sizes:
                yield family.key, kind, number


def main() -> int:
    """Print the table; 1 when something stands in it that should not."""
    with ProcessPoolExecutor(2) as pool:
        cells = list(pool.map(cell, list(jobs()), chunksize=6))
    codes: Counter[str] = Counter()
    print(f"{'':16}" + "".join(f"{kind:>10}" for kind in THINGS))
    for family in all_families():
        row = [c for c in cells if c.family == family.key]
        marks = []
        for kind in THINGS:
            mine = [c for c in row if c.kind == kind]
            marks.append("".join(c.mark for c in mine))
        print(f"{family.key:16}" + "".join(f"{mark:>10}" for mark in marks))
    print("\n· made, nothing above a note   s the same, but for larger sheets or another cutter")
    print("? made, needs a look   x refused, with a button or as no shape for it\n")
    for c in cells:
        codes.update(code for code, _, _ in (*c.findings, *c.sheets))
        for code, message, cure in (*c.findings, *c.sheets):
            print(f"? {c.family} {c.kind} {c.size}: {code}{' (cure)' if cure else ''}: {message}")
        if not c.made:
            told = "" if c.cured else " [no button]"
            print(f"x {c.family} {c.kind} {c.size}: {c.refusal}{told}")
    number = Counter(c.mark for c in cells)
    print(f"\n{len(cells)} designs: {number['·']} clean, {number['s']} clean but for the sheets, "
          f"{number['?']} need a look, {number['x']} refused")  # fmt: skip
    print("findings above a note:", ", ".join(f"{k} {n}" for k, n in codes.most_common()) or "none")
    return int(any(c.findings or not (c.made or c.cured) for c in cells))


if __name__ == "__main__":
    sys.exit(main())
