"""How deep a test looks: a little in `make test`, as far as it deserves in `make soak`."""

from __future__ import annotations

import os

__all__ = ["SOAK", "deep"]

SOAK = os.environ.get("HYPOTHESIS_PROFILE") == "soak"


def deep(short: int, whole: int) -> int:
    """So many cases: the first number in the short run, the second in the long one."""
    return whole if SOAK else short
