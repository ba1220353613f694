"""What follows from a piece, a net or a design is worked out once."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import TypeVar
from weakref import WeakKeyDictionary

__all__ = ["kept"]

K = TypeVar("K")
T = TypeVar("T")


def kept(make: Callable[[K], T]) -> Callable[[K], T]:
    """Keep what a function makes of something for as long as that; it must not be changed."""
    made: WeakKeyDictionary[K, T] = WeakKeyDictionary()

    @wraps(make)
    def of(key: K) -> T:
        if key not in made:
            made[key] = make(key)
        return made[key]

    return of
