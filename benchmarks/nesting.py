"""How well sheets are filled: draft, search, Tighten and an endless strip, on ten fixed jobs.

``python -m benchmarks.nesting`` prints a table.  The strip of a general-purpose packer
(spyrrow, 20 s on one strip as wide as a sheet) tells what density can be reached where no
sheet ends; it knows no holes.
"""

from __future__ import annotations

import sys
import time

import spyrrow
from shapely.geometry import Polygon

from benchmarks.drawn import Drawn, layout_of
from benchmarks.nesting_jobs import JOBS, NestingJob, nesting_job
from jadeite.core.project import Stock
from jadeite.core.sheets import GAP, Layout
from jadeite.core.sheets.nesting import QUARTERS, Engine, Kind, Nest, NestJob, Part
from jadeite.core.sheets.orders import draft, search
from jadeite.core.sheets.tighten import tighten

REACH = 292.0  # mm; the large cutter's
SECONDS = 20
TIGHTEN = 30.0  # s


def _parts(job: NestingJob, kinds: int) -> tuple[Part, ...]:
    askew = tuple(angle for angle in job.turns if angle % 90)
    return tuple(
        Part(shape, count, (QUARTERS,) * kinds, (askew,) * kinds if askew else ())
        for shape, count in job.shapes
    )


def on_sheets(job: NestingJob) -> NestJob:
    """The job on its sheets, as far as the cutter reaches."""
    kinds = tuple(
        Kind((min(width, REACH), min(height, REACH)), count) for width, height, count in job.sheets
    )
    return NestJob(_parts(job, len(kinds)), kinds, GAP)


def on_strip(job: NestingJob) -> NestJob:
    """The job on one strip that is long enough."""
    return NestJob(_parts(job, 1), (Kind((REACH, 3 * job.area / REACH), 1),), GAP)


def density(job: NestingJob, found: tuple[Nest, Engine]) -> float:
    """Share of the strip, to its end, that is filled."""
    nest, engine = found
    return job.area / (REACH * nest.fields[0][1].top * engine.cell)


def strip_density(job: NestingJob) -> float:
    """What the packer reaches on the same strip, with the same turns."""
    items = [
        spyrrow.Item(
            str(i),
            list(Polygon(shape.exterior).simplify(0.02).exterior.coords),
            count,
            list(job.turns),
        )
        for i, (shape, count) in enumerate(job.shapes)
    ]
    strip = spyrrow.StripPackingInstance(job.name, REACH + 2 * GAP, items)
    config = spyrrow.StripPackingConfig(
        min_items_separation=GAP, total_computation_time=SECONDS, seed=1
    )
    return job.area / (REACH * (strip.solve(config).width - 2 * GAP))


def stock_of(job: NestingJob) -> list[Stock]:
    """The job's sheets as a stock."""
    return [
        Stock(name=f"size {i}", width=width, height=height, count=count)
        for i, (width, height, count) in enumerate(job.sheets)
    ]


def rules_of(job: NestingJob) -> Drawn:
    """The job's outlines under rules."""
    outlines = {str(i): shape for i, (shape, _) in enumerate(job.shapes)}
    angles = tuple(job.turns)
    return Drawn([], (REACH, REACH), 0.0, True, outlines=outlines, angles=angles)


def tightened(job: NestingJob, found: tuple[Nest, Engine]) -> Layout:
    """What was searched, packed tighter for a while; never worse than it was."""
    rules = rules_of(job)
    layout = layout_of(*found, stock_of(job), rules)
    out = tighten(layout, lambda _: rules, seconds=TIGHTEN, seed=1)
    assert len(out.sheets) <= len(layout.sheets)
    return out


def filled(layout: Layout) -> str:
    """Shares of the sheets that are filled, the fullest first."""
    return ", ".join(f"{share:.0%}" for share in sorted(s.used for s in layout.sheets)[::-1])


def main(names: list[str]) -> None:
    """A row for each job."""
    print(
        "| job | pieces | bound | draft | searched | tightened | s | draft/strip | searched/strip "
        "| strip |"
    )
    print("|---|---|---|---|---|---|---|---|---|---|")
    for name in names or list(JOBS):
        job = nesting_job(name)
        sheets = on_sheets(job)
        start = time.perf_counter()
        drafted = draft(sheets)
        took = time.perf_counter() - start
        found = search(drafted)
        took_too = time.perf_counter() - start - took
        tight = tightened(job, found)
        best = strip_density(job)
        strip = draft(on_strip(job))
        row = [
            name,
            sum(count for _, count in job.shapes),
            found[1].fewest,
            len(drafted[0].fields),
            f"{len(found[0].fields)} ({filled(layout_of(*found, stock_of(job), rules_of(job)))})",
            f"{len(tight.sheets)} ({filled(tight)})",
            f"{took:.2f} + {took_too:.1f}",
            f"{density(job, strip) / best:.0%}",
            f"{density(job, search(strip)) / best:.0%}",
            f"{best:.1%}",
        ]
        print("| " + " | ".join(map(str, row)) + " |", flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
