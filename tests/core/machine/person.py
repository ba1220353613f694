"""A person beside a simulated cutter: does what is asked, truthfully."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

import numpy as np

from jadeite.core.machine import Device, Run
from jadeite.core.machine.device import Mark

__all__ = ["Person", "cut_whole", "gone_over", "good_pieces", "take_turn"]

MOST = 2_000_000  # lines; a run that takes more goes round in a circle


class Person:
    """Answers what the run asks; ``moves`` says whether a sheet is moved when it is freed."""

    def __init__(self, run: Run, device: Device, *, moves: bool = False) -> None:
        self.run, self.device, self.moves = run, device, moves
        self.asked: list[str] = []

    def answer(self) -> None:
        """Do what is asked, and say so."""
        ask = self.run.ask
        assert ask is not None
        self.asked.append(ask.kind)
        keys = [key for key, _ in ask.answers]
        if ask.kind == "shallow":
            self.device.press_harder()
            self.run.answer("again")
        elif ask.kind == "slipped":
            self.run.answer("anew")
        elif ask.kind in ("jam", "power") and self.moves:
            self.run.answer("moved")
        else:
            self.run.answer(keys[0])


def take_turn(run: Run, device: Device, person: Person, step: float) -> None:
    """Answer what is asked, tell what is to be told, let some seconds pass."""
    if run.ask is not None:
        person.answer()
    while run.send:
        for reply in device.told(run.send.pop(0)):
            run.heard(reply)
    for line in device.run(step):
        run.heard(line)


def cut_whole(
    run: Run,
    device: Device,
    person: Person,
    anew: Callable[[Run], None] = lambda run: None,
    step: float = 5.0,
) -> None:
    """Let the run go to its end."""
    run.begin()
    for _ in range(MOST):
        take_turn(run, device, person, step)
        for line in device.switch_on():
            run.heard(line)
        if run.done and run.lost:
            anew(run)
        if run.done:
            return
    raise AssertionError("the run does not end")


def good_pieces(run: Run, device: Device) -> dict[tuple[str, int], int]:
    """How many good ones there are of each copy of a piece, by what the device did to sheets.

    A piece is good where all its strokes lie in their place, are whole, and went through.
    """
    marks: dict[int, list[Mark]] = defaultdict(list)
    for mark in device.marks:
        marks[mark.sheet].append(mark)
    out: dict[tuple[str, int], int] = defaultdict(int)
    for load, number in enumerate(device.loads):
        cut = run.sheets[number].cut
        own: dict[tuple[str, int], list[bool]] = defaultdict(list)
        for i, path in enumerate(cut.paths):
            made = [m for m in marks[load] if m.number == i]
            own[path.piece, path.copy].append(_is_good(path, made))
        for asked, all_good in own.items():
            out[asked] += all(all_good)
    return dict(out)


def _is_good(path, made: list[Mark]) -> bool:  # type: ignore[no-untyped-def]
    """Whether a stroke is whole, in its place, through; and nowhere gone over for nothing."""
    if not made or any(np.hypot(*m.beside) > 0.05 for m in made):
        return False
    through = [m for m in made if m.through]
    whole = path.length * path.passes
    if all(m.through for m in made):
        return abs(_covered(through) - whole) < 0.1
    return _covered(through) > path.length - 0.1  # one more pass


def _covered(marks: list[Mark]) -> float:
    spans = sorted((m.begin, m.end) for m in marks)
    total, at = 0.0, 0.0
    for begin, end in spans:
        if end > at:
            total += end - max(at, begin)
            at = end
    return total


def gone_over(device: Device) -> float:
    """The longest part of a stroke that was made twice on one sheet, mm; extra passes left out."""
    worst = 0.0
    by_stroke: dict[tuple[int, int, bool], list[Mark]] = defaultdict(list)
    for mark in device.marks:
        by_stroke[mark.sheet, mark.number, mark.through].append(mark)
    for made in by_stroke.values():
        worst = max(worst, sum(m.end - m.begin for m in made) - _covered(made))
    return worst
