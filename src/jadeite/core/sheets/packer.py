"""A packer of outlines on a strip, in a process of its own: it can be ended at any moment.

The file is run as a program and imports nothing else of ours, so that it starts soon.  It
reads one job as a line of JSON, writes a line for every better strip that it finds and
null now and then, and ends when its input does: nobody waits for it any more.  The packer
may also fail in ways that no handler catches; then only this process ends.
"""

from __future__ import annotations

import json
import os
import sys
import threading
from typing import Any

import spyrrow

__all__ = ["main"]

PAUSE = 0.1  # s between looks for a better strip; from memory


def _solved(job: dict[str, Any], queue: spyrrow.ProgressQueue, done: threading.Event) -> None:
    try:
        items = [
            spyrrow.Item(str(i), [tuple(p) for p in item["shape"]], item["count"], item["turns"])
            for i, item in enumerate(job["items"])
        ]
        strip = spyrrow.StripPackingInstance("sheet", job["height"], items)
        config = spyrrow.StripPackingConfig(
            min_items_separation=job["gap"],
            total_computation_time=job["seconds"],
            num_workers=job["workers"],
            seed=job["seed"],
        )
        strip.solve(config, progress=queue)
    finally:
        done.set()


def _tell(queue: spyrrow.ProgressQueue) -> None:
    for kind, strip in queue.drain():
        if kind in (spyrrow.ReportType.ExplInfeas, spyrrow.ReportType.ExplImproving):
            continue  # something overlaps there still
        lies = [(int(one.id), one.rotation, *one.translation) for one in strip.placed_items]
        print(json.dumps({"width": strip.width, "lies": lies}), flush=True)


def _wait_for_end() -> None:
    """Nobody waits for an answer once the input is closed."""
    sys.stdin.read()
    os._exit(0)


def main() -> None:
    """Solve one job."""
    job = json.loads(sys.stdin.readline())
    threading.Thread(target=_wait_for_end, daemon=True).start()
    queue, done = spyrrow.ProgressQueue(), threading.Event()
    threading.Thread(target=_solved, args=(job, queue, done), daemon=True).start()
    while not done.wait(PAUSE):
        _tell(queue)
        print("null", flush=True)
    _tell(queue)
    sys.stdout.flush()
    os._exit(0)


if __name__ == "__main__":
    main()
