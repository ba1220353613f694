"""Hostile and odd files: mutations of good ones, each tried in a child with a limit on memory.

``run`` gives back what went wrong: an exception that is none of ours, more than
10 s of CPU each time, or no memory left.  The same seed gives the same files.
"""

from __future__ import annotations

import json
import multiprocessing
import random
import resource
import signal
import string
import sys
import time
import traceback
from collections.abc import Callable
from typing import Any

Bad = list[tuple[int, str]]
SECONDS = 10.0  # of CPU for one file, on a machine that adds up ``ADDITIONS`` in ``USUAL`` s
ADDITIONS, USUAL = 1_000_000, 0.08
TRIES = 2  # at one file, before it counts as slow
MEMORY = 500_000_000  # bytes beyond what the program itself takes


class TooSlow(BaseException):
    """One file took more than its share of CPU."""


def _ring(*_: object) -> None:
    raise TooSlow


def _child(queue: Any, case: Callable[[int], None], seeds: range) -> None:
    """Try every seed; report what failed, with its last lines."""
    import jadeite.core.pipeline  # noqa: F401 - loaded before the limit is set

    with open("/proc/self/statm") as file:
        pages = int(file.read().split()[0])
    most = pages * resource.getpagesize() + MEMORY
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    signal.signal(signal.SIGPROF, _ring)
    tried = ((seed, _wrong(case, seed)) for seed in seeds)
    queue.put([(seed, words) for seed, words in tried if words])


def _wrong(case: Callable[[int], None], seed: int, tries: int = TRIES) -> str:
    """What goes wrong with one seed, "" for nothing.

    A processor lent out elsewhere meanwhile takes longer for the same work, so the
    quickest of some tries counts; a file that is too slow is so each time.
    """
    limit = SECONDS * _slowness()
    signal.setitimer(signal.ITIMER_PROF, limit)
    try:
        case(seed)
    except TooSlow:
        if tries > 1:
            return _wrong(case, seed, tries - 1)
        where = "".join(traceback.format_exc().splitlines(keepends=True)[-3:-1])
        return f"more than {limit:.1f} s: {where}"
    except BaseException:
        return "".join(traceback.format_exc().splitlines(keepends=True)[-5:])
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
    return ""


def _slowness() -> float:
    """How much slower than usual this machine is now, 1 or more: it may lend itself out."""
    begun = time.process_time()
    total = 0
    for number in range(ADDITIONS):
        total += number
    return max(1.0, (time.process_time() - begun) / USUAL)


def run(case: Callable[[int], None], seeds: range) -> list[tuple[int, str]]:
    """What went wrong, by seed; the child itself may not die either."""
    context = multiprocessing.get_context("fork")
    queue = context.Queue()
    child = context.Process(target=_child, args=(queue, case, seeds))
    child.start()
    while child.is_alive():
        try:
            found: list[tuple[int, str]] = queue.get(timeout=1)
        except Exception:
            continue
        child.join()
        return found
    if not queue.empty():
        return list(queue.get())
    return [(seeds.start, f"the child died with {child.exitcode}")]


# ------------------------------------------------------------------ mutations

ODD = ("", "x" * 300, "\ud800", "☂" * 40, "NaN", "1e999", "-0", "null", "../../x", "\x00", "{}")
NUMBERS = (0, -1, 1, 0.0, -0.0, 1e-9, 1e9, 1e300, -1e300, 5e-324, 41.5, 10**30, 3, 12, 0.001)


def other_value(rng: random.Random) -> Any:
    """Any small JSON value."""
    return rng.choice(
        [
            lambda: rng.choice(NUMBERS),
            lambda: rng.choice(ODD),
            lambda: rng.choice([None, True, False]),
            list,
            dict,
            lambda: [rng.choice(NUMBERS)] * rng.randint(1, 60),
            lambda: rng.uniform(-10, 400),
            lambda: [[[[rng.choice(NUMBERS)]]]],
        ]
    )()


def _places(data: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    out = [path] if path else []
    items = (
        data.items() if isinstance(data, dict)
        else enumerate(data) if isinstance(data, list) else ()
    )  # fmt: skip
    for key, value in items:
        out += _places(value, (*path, key))
    return out


def mutated_data(data: Any, rng: random.Random, times: int) -> Any:
    """A deep copy with some values changed, dropped, doubled or renamed."""
    data = json.loads(json.dumps(data))
    for _ in range(times):
        places = _places(data)
        if not places:
            break
        *parents, last = rng.choice(places)
        spot = data
        for key in parents:
            spot = spot[key]
        how = rng.random()
        if how < 0.35 and isinstance(spot[last], int | float) and not isinstance(spot[last], bool):
            spot[last] = spot[last] * rng.choice([0.1, 0.5, 0.9, 1.1, 2, 10, -1])
        elif how < 0.6:
            spot[last] = other_value(rng)
        elif how < 0.75:
            del spot[last]
        elif how < 0.85 and isinstance(spot, list):
            spot.extend([spot[last]] * rng.randint(1, 80))
        elif isinstance(spot, dict):
            spot[rng.choice([*ODD, "kind", "width", "inside"])] = spot[last]
    return data


def mutated_text(text: str, rng: random.Random) -> str:
    """Letters dropped, doubled, swapped; numbers replaced; pieces cut out or repeated."""
    for _ in range(rng.randint(1, 6)):
        if not text:
            break
        i = rng.randrange(len(text))
        j = min(len(text), i + rng.randint(1, 40))
        how = rng.random()
        if how < 0.2:
            text = text[:i] + text[j:]
        elif how < 0.4:
            text = text[:j] + text[i:j] * rng.randint(1, 30) + text[j:]
        elif how < 0.6:
            text = text[:i] + rng.choice(string.printable) + text[i + 1 :]
        elif how < 0.8:
            text = text[:i] + str(rng.choice(NUMBERS)) + text[j:]
        else:
            text = (
                text[:i] + rng.choice([*ODD, "<", ">", '"', "[", "]" * 200, "[" * 200]) + text[i:]
            )
    return text


def run_many(
    case: Callable[[int], None], count: int, first: int = 0, batch: int = 250
) -> list[Any]:
    """All seeds in batches, each in a child of its own."""
    out: Bad = []
    for start in range(first, first + count, batch):
        out += run(case, range(start, min(start + batch, first + count)))
    return out


if __name__ == "__main__":  # python -m tests.fuzz NAME COUNT [FIRST]
    from tests.core.formats.test_hostile import CASES

    name, count = sys.argv[1], int(sys.argv[2])
    begin = int(sys.argv[3]) if len(sys.argv) > 3 else 0
    for seed, words in run_many(CASES[name], count, begin):
        print(f"--- {name} {seed}\n{words}")
