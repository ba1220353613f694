"""How long each kind of action in the real window holds the event loop up.

Run it on two idle cores: ``python -m benchmarks.window_hold [ACTIONS] [SEED]``.
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


def _loop() -> float:
    """How fast the machine is just now, in ms; on a shared one it changes within minutes."""
    times = []
    for _ in range(5):
        start, total = time.perf_counter(), 0
        for i in range(1_000_000):
            total += i
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)


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
    held = walk(window, seed, count)
    print(f"{'action':14}{'times':>6}{'median':>9}{'most':>9}   ms held up; over 100: ")
    for kind, times in sorted(held.items(), key=lambda item: -max(item[1])):
        over = sum(t > 100 for t in times)
        print(f"{kind:14}{len(times):6}{statistics.median(times):9.0f}{max(times):9.0f}   {over}")
    print(f"the loop, afterwards: {_loop():.0f} ms")
    every = [t for times in held.values() for t in times]
    print(f"{'all':14}{len(every):6}{statistics.median(every):9.0f}{max(every):9.0f}   "
          f"{sum(t > 100 for t in every)}")  # fmt: skip
    window.session.discard()
    app.processEvents()


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
