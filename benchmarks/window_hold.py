"""How long each kind of action in the real window holds the event loop up.

Beside the longest hold stands how much of it the window's thread worked and how much it
stood ready without a processor; the rest is waiting for a disk, a lock or another thread.
What a shared machine took away is said as well.
Run it on two idle cores: ``python -m benchmarks.window_hold [ACTIONS] [SEED]``.
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tests.walker import Hold

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

MOST = 100  # ms that an action may hold the window up; what we ask of it
HEADS = ("median", "most", "its own", "queued", "taken")


def _loop() -> float:
    """How fast the machine is just now, in ms; on a shared one it changes within minutes."""
    times = []
    for _ in range(5):
        start, total = time.perf_counter(), 0
        for i in range(1_000_000):
            total += i
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)


def _taken() -> tuple[int, int]:
    """Ticks of the processors that were taken away, and of all, since the machine started."""
    ticks = [int(word) for word in Path("/proc/stat").read_text().splitlines()[0].split()[1:]]
    return ticks[7], sum(ticks[:8])  # proc_stat(5): the eighth is "steal"


def _row(kind: str, holds: Sequence[Hold]) -> str:
    worst, over = max(holds), sum(hold.ms > MOST for hold in holds)
    median = statistics.median(hold.ms for hold in holds)
    longest = "".join(f"{ms:9.0f}" for ms in worst)
    return f"{kind:14}{len(holds):6}{median:9.0f}{longest}{over:9}"


def main(count: int = 500, seed: int = 1) -> None:
    """Walk, and print a row for each kind."""
    from PyQt6.QtWidgets import QApplication
    from tests.walker import walk

    from jadeite.desktop.app import application, new_window
    from jadeite.desktop.commands import demo_project
    from jadeite.desktop.tidy import Tidy

    app = application([])
    folder = Path(tempfile.mkdtemp())
    window = new_window(folder / "state", folder / "config", folder / "data")
    window.resize(1280, 800)
    window.show()
    window.session.open_copy(demo_project())
    while not window.session.settled():
        QApplication.processEvents()
    Tidy(window.session)  # as the program does
    print(f"a loop of a million additions takes {_loop():.0f} ms on this machine")
    before = _taken()
    held = walk(window, seed, count)
    taken, ticks = (now - then for now, then in zip(_taken(), before, strict=True))
    heads = "".join(
        f"{head:>9}" for head in ("median", "most", "its own", "queued", f"over {MOST}")
    )
    print(f"held up, in ms {'times':>5}{heads}")
    for kind, holds in sorted(held.items(), key=lambda item: -max(item[1]).ms):
        print(_row(kind, holds))
    print(_row("all", [hold for holds in held.values() for hold in holds]))
    print(f"the loop, afterwards: {_loop():.0f} ms; taken away: {taken / ticks:.1%}")
    window.session.discard()
    app.processEvents()


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
