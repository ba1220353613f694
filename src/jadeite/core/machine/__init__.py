"""Cutting sheet by sheet with a machine: what it is told, what it answers, what may go wrong.

``run`` is the program's side; ``device`` is a simulated cutter with a clock of its own, that
can be told to misbehave.  Both speak the lines of ``lines``.
"""

from jadeite.core.machine.device import Device, Fault
from jadeite.core.machine.run import Run
from jadeite.core.machine.sheet_run import Ask

__all__ = ["Ask", "Device", "Fault", "Run"]
