"""Work in steps: a generator that may be left at every step, and then gives its result.

A window takes some steps at a time and stays alive; everything else takes
all of them at once.
"""

from __future__ import annotations

from collections.abc import Generator
from typing import TypeVar

__all__ = ["Steps", "finished"]

T = TypeVar("T")
Steps = Generator[None, None, T]


def finished(steps: Steps[T]) -> T:
    """The result, after all steps that are left."""
    while True:
        try:
            next(steps)
        except StopIteration as end:
            result: T = end.value
            return result
