"""Random jobs and the cures that they are offered: each is taken, and must end what it is for.

Run it as ``python -m tests.cures COUNT``: it takes so many cures and says how many worked.
"""

from __future__ import annotations

import random
import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from jadeite.core.boards import CATALOGUE
from jadeite.core.contents import Ball, Block, Cylinder, Disc, Light, Loose
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.pipeline import arrange_contents, plan_sheets, windows_from, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Brief, Face, Hollow, Overlay, Shape, Span, Task, changed
from jadeite.core.shapes import ShapeFamily, all_families
from tests.core.shapes.closing import LIGHTER


@dataclass(frozen=True)
class Taken:
    """A cure that was taken, and what is wrong with what came of it; empty when it worked."""

    family: str
    finding: Finding
    fault: str


def job(rng: random.Random, family: ShapeFamily | None = None) -> Task:
    """A job as a maker might try it, and a little odder; of any family, or of one."""
    family = family or rng.choice(all_families())
    options: dict[str, float | str] = {}
    for option in family.options:
        if rng.random() < 0.35:
            options[option.key] = (
                rng.choice(option.choices)[0]
                if option.choices
                else " ".join(
                    str(rng.randint(3, 12)) for _ in range(rng.randint(1, min(7, option.most)))
                )
                if option.unit == "counts"
                else float(rng.randint(int(option.low), int(option.high)))
                if option.unit == "count"
                else round(rng.uniform(option.low, min(option.high, max(option.low, 90.0))), 1)
            )
    options |= LIGHTER.get(family.key, {})  # of hundreds of pieces a few show the same
    size = lambda a, b: round(rng.uniform(a, b), rng.choice([0, 1, 2]))  # noqa: E731
    mass = rng.choice([0, 20, 150, 600, 2500])
    thing = rng.choice(
        [
            lambda: Block(name="case", length=size(8, 190), width=size(8, 120),
                          height=size(3, 90), mass=mass),
            lambda: Cylinder(name="roll", diameter=size(8, 110), height=size(8, 150), mass=mass),
            lambda: Ball(name="moon", diameter=size(15, 120), mass=mass),
            lambda: Disc(name="disc", diameter=size(15, 150), thickness=size(1, 20), mass=mass),
            lambda: Loose(name="sweets", diameter=size(6, 25), grains=rng.randint(5, 120)),
            lambda: Light(name="light", mass=15),
        ]
    )()  # fmt: skip
    fixed = rng.random() < 0.5
    inside = (size(6, 190), size(6, 150), size(6, 120)) if fixed else None
    flat = family.answers[0] == "face"
    boards = {}
    if rng.random() < 0.6:
        key = rng.choice(CATALOGUE).key
        boards = dict.fromkeys(rng.sample([p for p, _ in family.parts], 1), key)
        if rng.random() < 0.5:
            boards = dict.fromkeys(family.parts_for_one_board, key)
    brief: Brief = Face(size=inside and inside[:2]) if flat else Hollow(size=inside)
    free = family.answers[0] == "span"
    if free:
        brief = Span(width=size(0.6 * family.starts[0], 2.2 * family.starts[0]))
    project = changed(
        Task(),
        shape=Shape(key=family.key, options=options),
        contents=() if free or (fixed and rng.random() < 0.4) else (thing,),
        brief=brief,
        boards=boards,
        cutter=rng.choice(["large", "large", "middle", "small", "hand"]),
        copies=rng.choice([1, 1, 2]),
    )
    arrangement = arrange_contents(project, quick=True)
    if rng.random() < 0.25:
        try:
            motif = rng.choice(["leaves", "plain", "stars", "lattice"])
            made = windows_from(project, arrangement, "walls", motif, lined=rng.random() < 0.5)
            frame = rng.choice([6.0, 12.0, 25.0])
            made = tuple(w.model_copy(update={"frame": frame}) for w in made)
            project = changed(project, windows=made)
        except FieldError:
            pass
    elif rng.random() < 0.25:
        work = work_up(project, arrangement, cures=False)
        if work.design is not None:
            piece = rng.choice(work.design.pieces)
            panel = rng.choice(piece.panels)
            over = Overlay(piece=piece.name, panel=panel.name, border=rng.choice([1, 4, 12, 30]),
                           stiffener=rng.random() < 0.4)  # fmt: skip
            project = changed(project, overlays=(over,))
    return project


def everything(project: Task) -> tuple[Finding, ...] | None:
    """All findings of a job, its sheets' as well; None where it is refused."""
    work = work_up(project, arrange_contents(project, quick=True))
    if work.design is None:
        return None
    found = work.findings
    if not work.blocked:
        found += plan_sheets(project, work.design).findings
    return found


def taken(project: Task) -> Iterator[Taken]:
    """Take every cure that a job is offered."""
    work = work_up(project, arrange_contents(project, quick=True))
    found = work.findings
    if work.design is not None and not work.blocked:
        found += plan_sheets(project, work.design).findings
    for finding in found:
        if finding.cure is None:
            continue
        after = everything(cured(project, finding.cure))
        fault = ""
        if after is None:
            fault = "it is refused then"
        elif any(f.code == finding.code and f.where == finding.where for f in after):
            fault = "it stays"
        else:
            known = {f.code for f in found}
            worse = [f for f in after if f.code not in known and f.level > finding.level]
            blocked = [f for f in after if f.level is Level.BLOCKED and f.code not in known]
            fault = "; ".join(f"{f.code}: {f.message}" for f in (*worse, *blocked))
        yield Taken(project.shape.key, finding, fault)


def main(count: int, first: int = 0) -> int:
    """Take so many cures of random jobs."""
    done: Counter[str] = Counter()
    failed, tried, refused, hopeless = [], 0, 0, 0
    seed = first
    while tried < count:
        project = job(random.Random(seed))
        work = work_up(project, arrange_contents(project, quick=True))
        if work.design is None:
            refused += 1
            hopeless += work.findings[0].cure is None
        for one in taken(project):
            tried += 1
            done[one.finding.code] += 1
            if one.fault:
                failed.append((seed, one))
        seed += 1
    print(f"{tried} cures of {seed - first} jobs taken, {tried - len(failed)} worked; "
          f"{refused} jobs refused, {hopeless} of them said to be no shape for it")  # fmt: skip
    print(", ".join(f"{code} {n}" for code, n in done.most_common()))
    for number, one in failed:
        print(f"{number} {one.family} {one.finding.code} [{one.finding.cure.label}]: {one.fault}")
    return int(len(failed) > count / 100)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0))
