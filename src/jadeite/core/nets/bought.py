"""What a made thing takes that is not cut from board: a pearl, a cord, a wire."""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.nets.ties import Strip

__all__ = ["Bought"]


@dataclass(frozen=True)
class Bought:
    """A thing to have at hand, or ``count`` of them, and the step in which it comes; mm.

    ``across`` is its diameter, ``length`` how much of it is cut off, ``thick`` the thickness of
    what is flat; 0 for what has none.
    ``title`` and ``words`` are the step: before anything is joined where it comes ``first``,
    else once all is; with no title it has none, as that of another step tells of it.  ``on`` is
    the (piece, panel) that it is put on; ``centre`` that of a ball of it that is seen on the
    closed thing.  ``holds`` says that glue holds it; ``seconds`` is how long the hands take
    with each, 0 for as long as with anything that is put on.  What has no name is only a step
    with another one, such as a bow in a ribbon.  ``strips`` is how a ribbon lies on the closed
    thing: it is drawn there once the panel that it is on is in its place.
    """

    name: str
    across: float
    length: float
    title: str
    words: str
    on: tuple[str, str]
    first: bool = False
    centre: tuple[float, float, float] | None = None
    holds: bool = True
    caution: str = ""
    count: int = 1
    thick: float = 0.0
    seconds: float = 0.0
    strips: tuple[Strip, ...] = ()
