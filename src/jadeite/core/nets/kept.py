"""What follows from a piece is worked out once."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import TypeVar
from weakref import WeakKeyDictionary

from jadeite.core.nets.model import Piece

__all__ = ["kept"]

T = TypeVar("T")


def kept(make: Callable[[Piece], T]) -> Callable[[Piece], T]:
    """Keep what a function makes of a piece for as long as the piece; it must not be changed."""
    made: WeakKeyDictionary[Piece, T] = WeakKeyDictionary()

    @wraps(make)
    def of(piece: Piece) -> T:
        if piece not in made:
            made[piece] = make(piece)
        return made[piece]

    return of
