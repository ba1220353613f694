"""The simulated cutter as a program: over a local socket, a pseudo-terminal, or with a file.

``jadeite cutter --socket PATH`` and ``--pty`` take the lines of
:mod:`jadeite.core.machine.lines`; ``jadeite cutter FILE`` plays a sheet in HP-GL or G-code.
It is the stand-in for a device, to try a job before board is spent on it.
"""

from __future__ import annotations

import contextlib
import os
import select
import socket
import sys
import time
import tty
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Protocol

from jadeite.core.errors import FieldError, FileError
from jadeite.core.machine.device import FAULTS, Device, Fault
from jadeite.core.machine.lines import Stroke, stroke_line
from jadeite.core.units import format_duration

__all__ = ["Options", "fault_from", "play", "serve"]

PAUSE = 0.02  # s; from memory, so often it looks whether something was said
LONGEST = 4_000_000  # bytes of a line; from memory, no stroke of ours is so long
SPEEDS = {"pen": 100.0, "score": 80.0, "perforate": 40.0, "cut": 60.0}  # mm/s; from memory
TOOLS = {"pen": "pen", "score": "scoring tool", "perforate": "blade", "cut": "blade"}


class Options(Protocol):
    """What the command line says."""

    file: str | None
    socket: str | None
    pty: bool
    pace: float
    fault: list[str]


def fault_from(words: str) -> Fault:
    """A fault from its words: ``jam@1:12``, ``slip@2:3:1.5:-1`` with mm.

    Raises
    ------
    FieldError
        They are none.
    """
    kind, _, where = words.partition("@")
    try:
        numbers = [float(v) for v in where.split(":")] if where else [1.0, 1.0]
        if kind not in FAULTS or not 1 <= len(numbers) <= 4 or min(numbers[:2]) < 1:
            raise ValueError
    except ValueError:
        raise FieldError(
            "--fault",
            f"“{words[:40]}” is no fault",
            f"Write KIND@SHEET:STROKE, KIND one of {', '.join(FAULTS)}; for example jam@1:12.",
        ) from None
    sheet, stroke, x, y = (*numbers, *(1.0, 1.0, 1.0, 0.0)[len(numbers) :])
    return Fault(kind, int(sheet) - 1, int(stroke) - 1, 0.5, x, y)


def serve(options: Options) -> int:
    """Run it until the program that uses it is gone, or the file is played.

    Raises
    ------
    JadeiteError
        A fault, a pace or a file that it cannot use.
    """
    if not 0.01 <= options.pace <= 100_000:
        raise FieldError("--pace", "out of its range", "Use 0.01 to 100000.")
    device = Device(faults=[fault_from(words) for words in options.fault])
    if options.file:
        return _play_file(Path(options.file), device)
    if options.pty:
        ours, theirs = os.openpty()
        tty.setraw(theirs)
        print(os.ttyname(theirs), flush=True)
        _serve(device, ours, options.pace)
        return 0
    if not options.socket:
        raise FieldError("cutter", "nothing to listen on", "Give a FILE, --socket or --pty.")
    return _listen(device, Path(options.socket), options.pace)


def _listen(device: Device, path: Path, pace: float) -> int:
    if path.exists() and not path.is_socket():
        raise FileError(str(path), "there is a file of that name; it stays")
    path.unlink(missing_ok=True)
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as server:
        try:
            server.bind(str(path))
        except OSError as error:
            raise FileError(str(path), f"cannot listen there: {error.strerror or error}") from None
        server.listen(1)
        print(f"listening on {path}", flush=True)
        try:
            connection, _ = server.accept()
            with connection:
                _serve(device, connection.fileno(), pace)
        finally:
            path.unlink(missing_ok=True)
    return 0


def _serve(device: Device, handle: int, pace: float) -> None:
    """Exchange lines until the other side is gone.

    Besides the lines of a program it takes ``SWITCH ON``, ``HARDER`` and ``BREAK fault``: what
    a person does to the device.
    """
    buffer, before = bytearray(), time.monotonic()

    def say(lines: list[str]) -> None:
        data = "".join(f"{line}\n" for line in lines).encode()
        while data:
            data = data[os.write(handle, data) :]

    with contextlib.suppress(OSError):  # the other side is gone
        while True:
            ready, _, _ = select.select([handle], [], [], PAUSE)
            if ready:
                data = os.read(handle, 65536)
                if not data or len(buffer) > LONGEST:
                    return
                buffer += data
            while b"\n" in buffer:
                line, _, rest = bytes(buffer).partition(b"\n")
                buffer[:] = rest
                say(_told(device, line.decode("utf-8", "replace").strip()))
            now = time.monotonic()
            say(device.run((now - before) * pace))
            before = now


def _told(device: Device, line: str) -> list[str]:
    if line == "SWITCH ON":
        return device.switch_on()
    if line == "HARDER":
        device.press_harder()
        return []
    if line.startswith("BREAK "):
        try:
            device.break_now(fault_from(line.removeprefix("BREAK ")).kind)
        except FieldError as error:
            return [f"FAULT {error}"]
        return []
    return device.told(line)


# ------------------------------------------------------------- files


def _strokes(path: Path) -> Iterator[tuple[str, Stroke]]:
    """Role and stroke of all that a file tells, in its order."""
    from jadeite.core.formats.plot_reader import read_gcode, read_hpgl

    readers = {".plt": read_hpgl, ".hpgl": read_hpgl, ".gcode": read_gcode, ".nc": read_gcode}
    if path.suffix.lower() not in readers:
        raise FileError(str(path), f"use a file in {', '.join(readers)}")
    try:
        drawing = readers[path.suffix.lower()](path.read_bytes())
    except OSError as error:
        raise FileError(str(path), error.strerror or str(error)) from None
    except (ValueError, KeyError, IndexError) as error:
        raise FileError(str(path), f"it is no sheet of ours: {error}") from None
    waiting = {role: iter(lines) for role, lines in drawing.lines.items()}
    for number, (role, passes) in enumerate(drawing.passes):
        yield role, Stroke(number, next(waiting[role]), passes)


def play(path: Path, device: Device, told: Callable[[str], None] = lambda words: None) -> float:
    """A file played from its first stroke to its last; seconds by the cutter's own clock.

    Raises
    ------
    FileError
        It cannot be read, or the cutter has stopped with a fault.
    """

    def say(line: str) -> None:
        for reply in device.told(line):
            if reply.startswith("FAULT"):
                raise FileError(str(path), reply)

    say("SHEET 0 0 0 sheet")
    say("LOADED")
    before = ""
    for role, stroke in _strokes(path):
        if TOOLS[role] != before:
            before = TOOLS[role]
            told(f"{format_duration(device.clock)}: {before}")
            say(f"TOOL {before}")
            say("FITTED")
        say(f"SET 0 {SPEEDS[role]:g}")
        say(stroke_line(stroke))
        replies = device.run(1e9)
        fault = next((r for r in replies if r.startswith("FAULT")), "")
        if fault or not device.powered:
            words = fault.removeprefix("FAULT ") or "power lost"
            raise FileError(str(path), f"stroke {stroke.number + 1}: {words}")
    return device.clock


def _play_file(path: Path, device: Device) -> int:
    seconds = play(path, device, lambda words: print(words, flush=True))
    cut = sum(m.end - m.begin for m in device.marks) / 1000
    print(f"{format_duration(seconds)}: done, {cut:.1f} m of strokes")
    (seen,) = device.told("LOOK")
    if seen != "SEEN well":
        print(f"look before you unload: {seen.removeprefix('SEEN ')}", file=sys.stderr)
        return 1
    return 0
