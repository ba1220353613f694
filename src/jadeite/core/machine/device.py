"""A simulated cutter: it takes lines, moves by its own clock, and misbehaves when told to.

What it does to the board is kept as marks, so that a test, or a person, can see what was
cut where.  It never moves the sheet by itself and knows nothing of the job but its lines.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from jadeite.core.machine.lines import Stroke, points_from
from jadeite.core.machine.motion import Ride
from jadeite.core.nets.model import Floats

__all__ = ["FAULTS", "Device", "Fault", "Mark"]

FAULTS = ("not-through", "slip", "registration", "jam", "power")
TELL = 0.05  # s; from memory, so often it says where it is
TRAVEL = 150.0  # mm/s with the tool lifted; from memory
LOADING, CHANGING, LIFTING = 60.0, 45.0, 0.6  # s; from memory, hands and tool take so long
SEEN = 0.05  # mm; from memory, a line that is off by less is not seen to be


@dataclass(frozen=True)
class Fault:
    """What goes wrong, at which stroke of which sheet (numbers from 0 in the order of telling).

    ``share`` of the stroke is made by then; (``x``, ``y``) mm is by how much a sheet slips or
    is off its marks.
    """

    kind: str  # of FAULTS
    sheet: int = 0
    stroke: int = 0
    share: float = 0.5
    x: float = 0.0
    y: float = 0.0


@dataclass(frozen=True, eq=False)
class Mark:
    """What the tool has done to a sheet: a part of a stroke, in mm of all its passes.

    ``off`` is by how much the sheet lay off its place, mm, ``beside`` what of that the program
    was not told; ``through`` whether the tool went through.
    """

    sheet: int
    number: int
    tool: str
    points: Floats
    passes: int
    begin: float
    end: float
    off: tuple[float, float]
    beside: tuple[float, float]
    through: bool


@dataclass(eq=False)
class Device:
    """The cutter.  ``told`` takes a line, ``run`` lets time pass; both return lines."""

    acceleration: float = 2_000.0
    faults: list[Fault] = field(default_factory=list)
    marks: list[Mark] = field(default_factory=list)
    clock: float = 0.0
    powered: bool = True
    loads: list[int] = field(default_factory=list)  # numbers of the sheets that were loaded

    def __post_init__(self) -> None:
        self._strokes = 0  # told of this sheet
        self._lies = False  # whether a sheet is on the carrier, known to the cutter or not
        self._off = (0.0, 0.0)  # of that sheet
        self._weak = False  # whether it is not cut through from now on
        self._next, self._wanted = -1, ""
        self._forget()

    @property
    def _sheets(self) -> int:
        """Number of the sheet that was loaded last, in the order of loading."""
        return len(self.loads) - 1

    def _forget(self) -> None:
        """What a cutter does not know after it was switched on."""
        self.tool, self.speed = "", 60.0
        self._sheet = -1
        self._stroke: Stroke | None = None
        self._stops: list[tuple[float, Fault]] = []
        self._at = np.zeros(2)
        self._ride: Ride | None = None
        self._since, self._told_at, self._done = 0.0, 0.0, 0.0
        self._way = 0.0
        self._found = (0.0, 0.0)  # how far off the sheet's marks were found

    # ------------------------------------------------------------- lines

    def told(self, line: str) -> list[str]:
        """Take a line, and answer.  A line that it does not know is answered by ``FAULT``."""
        name, *words = line.split(" ")
        if not self.powered:
            return []
        act = getattr(self, f"_on_{name.lower()}", None)
        if act is None:
            return [f"FAULT unknown line {name[:20]}"]
        try:
            return list(act(words))
        except (ValueError, IndexError) as error:
            return [f"FAULT cannot read {name}: {error}"]

    def _on_sheet(self, words: list[str]) -> Iterator[str]:
        number = int(words[0])
        if number == self._sheet:  # it is there still
            yield "READY"
            return
        self._next = number
        yield f"LOAD {number}"

    def _on_loaded(self, _: list[str]) -> Iterator[str]:
        if not self._lies:  # else it is the one from before the power was lost
            self.loads.append(self._next)
            self._strokes, self._off, self._weak = 0, (0.0, 0.0), False
            for fault in self._due("registration"):
                self._off = (fault.x, fault.y)
            self.clock += LOADING
        self._sheet, self._lies = self._next, True
        self._at = np.zeros(2)
        yield "READY"

    def _on_tool(self, words: list[str]) -> Iterator[str]:
        name = " ".join(words)
        if name == self.tool:
            yield "READY"
        else:
            self._wanted = name
            yield f"FIT {name}"

    def _on_fitted(self, _: list[str]) -> Iterator[str]:
        if self.tool:
            self.clock += CHANGING
        self.tool = self._wanted
        yield "READY"

    def _on_set(self, words: list[str]) -> Iterator[str]:
        self.speed = float(words[1])
        yield "READY"

    def _on_find(self, _: list[str]) -> Iterator[str]:
        self._found = self._off
        yield f"FOUND {self._off[0]:.3f} {self._off[1]:.3f} 0.000"

    def _on_stroke(self, words: list[str]) -> Iterator[str]:
        if self._sheet < 0 or not self.tool:
            yield "FAULT no sheet or no tool"
            return
        stroke = points_from(words)
        self._begin(stroke)
        yield from ()

    def _on_stop(self, _: list[str]) -> Iterator[str]:
        if self._stroke is not None:
            number, at = self._stroke.number, self._done
            self._leave(at)
            yield f"STOPPED {number} {at:.3f}"
        else:
            yield "READY"

    def _on_look(self, _: list[str]) -> Iterator[str]:
        """What a person sees who looks before unloading."""
        own = [mark for mark in self.marks if mark.sheet == self._sheets]
        beside = [mark.number for mark in own if float(np.hypot(*mark.beside)) > SEEN]
        weak = sorted({m.number for m in own if not m.through and not _is_through(own, m)})
        off = f" off {beside[0]}" if beside else ""
        shallow = f" shallow {','.join(map(str, weak))}" if weak else ""
        yield f"SEEN{off}{shallow}" if off or shallow else "SEEN well"

    def _on_end(self, _: list[str]) -> Iterator[str]:
        yield f"UNLOAD {self._sheet}"

    def _on_unloaded(self, _: list[str]) -> Iterator[str]:
        self._sheet, self._lies = -1, False
        yield "READY"

    # ------------------------------------------------------------- time

    def _due(self, kind: str, stroke: int | None = None) -> list[Fault]:
        """Faults that happen now; each happens once."""
        due = [
            fault
            for fault in self.faults
            if fault.kind == kind
            and fault.sheet == self._sheets
            and (stroke is None or fault.stroke == stroke)
        ]
        for fault in due:
            self.faults.remove(fault)
        return due

    def _begin(self, stroke: Stroke) -> None:
        if self._due("not-through", self._strokes):
            self._weak = True
        line = _rest(stroke)
        self._stroke, self._done = stroke, stroke.begin
        self._ride = Ride(line, self.speed, self.acceleration)
        hop = float(np.linalg.norm(line[0] - self._at))
        way = Ride(np.array([self._at, line[0]]), TRAVEL, self.acceleration).seconds if hop else 0.0
        self._way = way + LIFTING
        self._since, self._told_at = 0.0, 0.0
        self._stops = self._planned(stroke)
        self._strokes += 1

    def _planned(self, stroke: Stroke) -> list[tuple[float, Fault]]:
        """Faults within the stroke that begins, by the mm of all passes at which they come."""
        whole = stroke.length * stroke.passes
        found = [
            (max(stroke.begin, fault.share * whole), fault)
            for kind in ("slip", "jam", "power")
            for fault in self._due(kind, self._strokes)
        ]
        return sorted(found, key=lambda pair: pair[0])

    def run(self, seconds: float) -> list[str]:
        """Let time pass; what happens meanwhile."""
        out: list[str] = []
        while seconds > 1e-9 and self.powered and self._stroke is not None:
            assert self._ride is not None
            whole = self._way + self._ride.seconds
            left = whole - self._since
            step = min(seconds, left, TELL)
            self._since += step
            self.clock += step
            seconds -= step
            out += self._moved(self._ride, self._stroke)
        return out

    def _moved(self, ride: Ride, stroke: Stroke) -> Iterator[str]:
        at = stroke.begin + ride.reached(self._since - self._way)
        while self._stops and at >= self._stops[0][0]:
            place, fault = self._stops.pop(0)
            if fault.kind == "slip":
                self._mark(stroke, self._done, place)
                self._done = place
                self._off = (self._off[0] + fault.x, self._off[1] + fault.y)
                continue
            self._leave(place)
            if fault.kind == "jam":
                yield f"FAULT jam {stroke.number} {place:.3f}"
            else:
                self.powered = False
            return
        self._mark(stroke, self._done, at)
        self._done = at
        if self._since >= self._way + ride.seconds - 1e-9:
            self._leave(stroke.length * stroke.passes)
            yield f"DONE {stroke.number}"
        elif self._since - self._told_at >= TELL - 1e-9:
            self._told_at = self._since
            yield f"AT {stroke.number} {at:.3f}"

    def _leave(self, at: float) -> None:
        """The stroke is left there, the tool goes up."""
        stroke = self._stroke
        if stroke is not None:
            self._mark(stroke, self._done, at)
            self._at = _place(stroke, at)
        self._stroke, self._ride = None, None

    def _mark(self, stroke: Stroke, begin: float, end: float) -> None:
        if end <= begin + 1e-9:
            return
        through = not self._weak or self.tool != "blade"
        beside = self._off[0] - self._found[0], self._off[1] - self._found[1]
        self.marks.append(
            Mark(self._sheets, stroke.number, self.tool, stroke.points, stroke.passes,
                 begin, end, self._off, beside, through)
        )  # fmt: skip

    def switch_on(self) -> list[str]:
        """After the power was lost: it remembers nothing, the sheet lies where it lay."""
        if self.powered:
            return []
        self.powered = True
        self._forget()
        return ["HELLO"]

    def break_now(self, kind: str) -> None:
        """Misbehave at once, in the middle of what is being done."""
        stroke = self._stroke
        fault = Fault(kind, self._sheets, self._strokes, x=1.5, y=-1.0)
        if kind == "not-through":
            self._weak = True
        elif kind == "registration":
            self._off = (fault.x, fault.y)
        elif stroke is not None:
            self._stops = sorted([*self._stops, (self._done, fault)], key=lambda pair: pair[0])
        elif kind == "power":
            self.powered = False

    def press_harder(self) -> None:
        """The force is raised: this sheet is cut through from now on."""
        self._weak = False


def _is_through(marks: list[Mark], weak: Mark) -> bool:
    """Whether a stroke that was made too lightly has gone through everywhere since."""
    spans = sorted((m.begin, m.end) for m in marks if m.through and m.number == weak.number)
    reach = 0.0
    for begin, end in spans:
        if begin > reach + SEEN:
            break
        reach = max(reach, end)
    return reach >= Stroke(0, weak.points, 1).length - SEEN


def _passes(stroke: Stroke) -> Floats:
    """The line of all passes: round again where it is closed, there and back where it is open."""
    points, closed = stroke.points, bool(np.allclose(stroke.points[0], stroke.points[-1]))
    lines = [points]
    for number in range(1, stroke.passes):
        again = points if closed or number % 2 == 0 else points[::-1]
        lines.append(again[1:])
    return np.concatenate(lines)


def _rest(stroke: Stroke) -> Floats:
    """What of all passes is not done."""
    line = _passes(stroke)
    if stroke.begin <= 0:
        return line
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    start = np.array([np.interp(stroke.begin, at, line[:, k]) for k in (0, 1)])
    return np.vstack([start, line[at > stroke.begin]])


def _place(stroke: Stroke, at: float) -> Floats:
    """Where the tool is after so many mm of all passes."""
    line = _passes(stroke)
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    return np.array([np.interp(at, along, line[:, k]) for k in (0, 1)])
