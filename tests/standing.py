"""The nets as they stood: every example and random jobs of each family, written down once.

A change of the inside of the program must leave what it makes as it was.  Run
``python -m tests.standing FOLDER`` to write them anew, where a change is meant;
``tests/core/test_standing.py`` compares them with what is made now.
"""

from __future__ import annotations

import gzip
import json
import random
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from jadeite.core.formats.project_file import load_project, project_from_text, project_text
from jadeite.core.nets import Design
from jadeite.core.nets.outline import drawn_folds, loops_of
from jadeite.core.pipeline import Work, arrange_contents, work_up
from jadeite.core.project import Task, changed
from jadeite.core.shapes import all_families, family_by_key
from tests.cures import job
from tests.jobs import job_of, only

FOLDER = Path(__file__).parent / "data" / "standing"
EXAMPLES = FOLDER / "examples"  # as the program wrote them before projects had items
MADE = 20  # of each family
SAME = 0.001  # mm and degrees
RENAMED = {"tongue": "slot"}  # kinds of joints that had another name when it was written down
Record = dict[str, Any]


def worked(task: Task) -> Work:
    """A job with its first arrangement."""
    return work_up(task, arrange_contents(task, quick=True), cures=False)


def made(task: Task) -> Design | None:
    """The design of a job with its first arrangement."""
    return worked(task).design


def record(design: Design) -> Record:
    """What is cut and folded, and how it is joined: lengths in mm to four decimals."""
    pieces = {}
    for piece in design.pieces:
        drawn = drawn_folds(piece)
        pieces[piece.name] = {
            "board": piece.board.key,
            "good": piece.good_side,
            "cuts": [
                *(
                    [loop.kind, np.round(loop.points, 4).ravel().tolist()]
                    for loop in loops_of(piece)
                ),
                *(["curve", np.round(c, 4).ravel().tolist()] for c, _ in drawn if len(c) > 2),
            ],
            "folds": [
                [*np.round(line, 4).ravel().tolist(), round(piece.folds[n].angle, 4)]
                for line, n in drawn
                if len(line) == 2
            ],
        }
    return {
        "pieces": pieces,
        "joints": sorted([j.kind, *j.tab, *j.target] for j in design.joints),
        "sizes": {key: round(value.value, 4) for key, value in design.sizes.items()},
    }


def _points(flat: list[float], width: int = 2) -> NDArray[np.float64]:
    return np.array(flat, dtype=float).reshape(-1, width)


def _line(flat: list[float], kind: str) -> NDArray[np.float64]:
    """What is cut, closed but for a slit and a curve: a corner more in a line is no other line."""
    points = _points(flat)
    return points if kind in ("slit", "curve") else np.vstack([points, points[:1]])


def _apart(a: NDArray[np.float64], b: NDArray[np.float64]) -> float:
    """The farthest that a row of one has to the nearest row of the other."""
    if len(a) == 0 or len(b) == 0:
        return 0.0 if len(a) == len(b) else float("inf")
    return float(max(cKDTree(b).query(a)[0].max(), cKDTree(a).query(b)[0].max()))


def differences(was: Record, now: Record) -> list[str]:
    """What is another, in words; the order of pieces, corners and folds does not matter."""
    out = []
    if set(was["pieces"]) != set(now["pieces"]):
        return [f"pieces: {sorted(set(was['pieces']) ^ set(now['pieces']))}"]
    for name, old in was["pieces"].items():
        new = now["pieces"][name]
        for key in ("board", "good"):
            if old[key] != new[key]:
                out.append(f"{name}: {key} {old[key]}, now {new[key]}")
        if sorted(k for k, _ in old["cuts"]) != sorted(k for k, _ in new["cuts"]):
            out.append(f"{name}: {len(old['cuts'])} cut lines, now {len(new['cuts'])}")
            continue
        for kind in {k for k, _ in old["cuts"]}:
            lines = [
                shapely.MultiLineString([_line(p, kind) for k, p in one["cuts"] if k == kind])
                for one in (old, new)
            ]
            if (far := float(lines[0].hausdorff_distance(lines[1]))) > SAME:
                out.append(f"{name}: {kind} off by {far:.4f} mm")
        folds = [
            np.array([_directed(line) for line in one["folds"]]).reshape(-1, 5)
            for one in (old, new)
        ]
        if len(folds[0]) != len(folds[1]):
            out.append(f"{name}: {len(folds[0])} folds, now {len(folds[1])}")
        elif (far := _apart(*folds)) > SAME:
            out.append(f"{name}: a fold off by {far:.4f} mm or degrees")
    if sorted(was["joints"]) != sorted([RENAMED.get(k, k), *ends] for k, *ends in now["joints"]):
        out.append("joints")
    for key, value in was["sizes"].items():
        if abs(now["sizes"].get(key, float("inf")) - value) > SAME:
            out.append(f"{key}: {value}, now {now['sizes'].get(key)}")
    return out


def _directed(line: list[float]) -> list[float]:
    """A fold from its lower left end."""
    a, b = sorted([line[0:2], line[2:4]])
    return [*a, *b, line[4]]


def jobs(family: str) -> Iterator[Task]:
    """Random jobs of a family without end: contents, boards, options, windows and overlays."""
    shape = next(f for f in all_families() if f.key == family)
    number = 0
    while True:
        yield job(random.Random(f"standing {family} {number}"), shape)
        number += 1


def stored() -> Iterator[tuple[str, Task, Record]]:
    """Name, job and net of everything that was written down."""
    for path in sorted(FOLDER.glob("*.json.gz")):
        for number, entry in enumerate(json.loads(gzip.decompress(path.read_bytes()))):
            task = only(project_from_text(json.dumps(entry["project"])))
            yield f"{path.name[:-8]} {number}", boards_chosen(task), entry


def boards_chosen(task: Task) -> Task:
    """The job with the usual boards chosen: when it was written down they gave way to no load."""
    family = family_by_key(task.shape.key)
    usual = {part: task.board_of(part) for part in family.parts_for_one_board}
    return changed(task, boards={**usual, **task.boards})


def main(folder: Path = FOLDER) -> None:
    """Write down what is made now."""
    folder.mkdir(parents=True, exist_ok=True)
    for family in all_families():
        entries: list[Record] = []
        for task in jobs(family.key):
            work = worked(task)
            if work.design is not None:
                text = project_text(job_of(work).project)
                entries.append({"project": json.loads(text), **record(work.design)})
            if len(entries) == MADE:
                break
        _write(folder / f"{family.key}.json.gz", entries)
    entries = []
    for path in sorted(EXAMPLES.glob("*.jadeite")):
        project = load_project(path)
        design = made(only(project))
        assert design is not None, path
        entries.append({"project": json.loads(project_text(project)), **record(design)})
    _write(folder / "of-examples.json.gz", entries)


def _write(path: Path, entries: list[Record]) -> None:
    text = json.dumps(entries, separators=(",", ":"))
    path.write_bytes(gzip.compress(text.encode(), 9, mtime=0))
    print(f"{path.name}: {len(entries)}, {path.stat().st_size} bytes", flush=True)


if __name__ == "__main__":
    main(*(Path(word) for word in sys.argv[1:]))
