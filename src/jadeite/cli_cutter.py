"""The simulated cutter on the command line."""

from __future__ import annotations

import argparse

__all__ = ["cutter", "cutter_arguments"]


def cutter_arguments(parser: argparse.ArgumentParser) -> None:
    """What the simulated cutter takes."""
    say = parser.add_argument
    say("file", metavar="FILE", nargs="?", help="a sheet in .plt or .gcode, played to its end")
    say("--socket", metavar="PATH", help="listen for a program on a local socket")
    say("--pty", action="store_true", help="open a pseudo-terminal and say its name")
    say("--pace", type=float, default=1.0, metavar="N", help="times faster than it would be")
    say(
        "--fault",
        action="append",
        default=[],
        metavar="KIND@SHEET:STROKE",
        help="misbehave: not-through, slip, registration, jam, power; numbers from 1",
    )


def cutter(options: argparse.Namespace) -> int:
    """Run the simulated cutter; its exit code."""
    from jadeite.cutter import serve

    return serve(options)  # type: ignore[arg-type]
