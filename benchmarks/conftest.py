"""What is loaded is left out of searches for garbage, as in the program and its children."""

from __future__ import annotations

import gc

import pytest


@pytest.fixture(scope="session", autouse=True)
def settled() -> None:
    """Once all is loaded."""
    gc.collect()
    gc.freeze()
