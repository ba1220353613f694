"""Whole processes: start of the window, its memory, and an export of the demo."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import textwrap
import time
from importlib.resources import files
from pathlib import Path

ROUNDS = 5
WINDOW = textwrap.dedent(
    """
    import resource, sys
    from pathlib import Path
    from PyQt6.QtCore import QTimer
    from jadeite.desktop.app import application, new_window
    app = application(sys.argv[:1])
    window = new_window(Path(sys.argv[1]), Path(sys.argv[1]), Path(sys.argv[1]))
    window.commands.open_demo(ask=False)
    window.show()
    def painted():
        print("painted", flush=True)
    QTimer.singleShot(0, painted)
    def walk():
        for key in ("shape", "board", "sheets", "cutting", "assembly", "notebook", "contents"):
            window.open_station(key)
            window.grab()
        print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, flush=True)
        window.session.discard()
        app.quit()
    QTimer.singleShot(2500, walk)
    app.exec()
    """
)


def window_once(state: str) -> tuple[float, float]:
    """Seconds from command to first painted window, and peak memory in MB."""
    env = os.environ | {"QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
    start = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-c", WINDOW, state], stdout=subprocess.PIPE, text=True, env=env
    )
    assert process.stdout is not None
    process.stdout.readline()
    seconds = time.perf_counter() - start
    peak = float(process.stdout.readline()) / 1024
    process.wait()
    return seconds, peak


def export_once(folder: str) -> float:
    """Seconds for `jadeite export` of the demo, all formats."""
    demo = files("jadeite.assets") / "demo.jadeite"
    start = time.perf_counter()
    subprocess.run(
        [sys.executable, "-m", "jadeite.cli", "export", str(demo), "-o", folder],
        check=True,
        stdout=subprocess.DEVNULL,
    )
    return time.perf_counter() - start


def main() -> None:
    """Print medians."""
    with tempfile.TemporaryDirectory() as folder:
        runs = [window_once(str(Path(folder) / "state")) for _ in range(ROUNDS)]
        exports = [export_once(folder) for _ in range(ROUNDS)]
    print(f"command to first painted window: {statistics.median(r[0] for r in runs):.2f} s")
    print(f"peak memory of the window: {max(r[1] for r in runs):.0f} MB")
    print(f"export of the demo, all formats: {statistics.median(exports):.2f} s")


if __name__ == "__main__":
    main()
