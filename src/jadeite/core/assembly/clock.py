"""Steps as they are collected, and the time that runs on meanwhile."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.nets.model import Design, Piece
from jadeite.core.units import listed, numbered

__all__ = [
    "CLOSE",
    "CREASE",
    "CUT_CARE",
    "FILL",
    "GLUE",
    "KNIFE",
    "PEEL",
    "PICK_UP",
    "RAISE",
    "ROLL",
    "SWITCH",
    "WEED",
    "Clock",
    "Step",
    "copies_of",
    "listed",
    "named",
    "the",
]

# seconds of hands; from memory
PEEL, KNIFE = 25.0, 60.0
WEED = 6.0
CREASE = 7.0
GLUE = 20.0
RAISE = 8.0
ROLL = 20.0
FILL = 8.0
CLOSE = 10.0
SWITCH = 20.0  # to another operation: tools down, others up
PICK_UP = 4.0  # to the next piece in one operation

CUT_CARE = "Mind the blade and the hook; local rules and the makers' instructions come first."


@dataclass(frozen=True)
class Step:
    """One thing to do: words, times in s, and the moment of the lift that shows it.

    ``start`` is when it begins in the whole; ``wait`` is time before it in
    which glue sets; ``panels`` are (piece, panel) to be pointed out,
    ``shows`` names further pieces in the picture, ``left_out`` those like which others are
    in it; ``above`` says that it is seen from straight above.
    """

    title: str
    detail: str
    hands: float
    hold: float
    dry: float
    wait: float
    start: float
    lift: float
    panels: tuple[tuple[str, str], ...]
    operation: str
    caution: str = ""
    shows: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()
    above: bool = False

    @property
    def end(self) -> float:
        """When the hands are free again, in s from the beginning."""
        return self.start + self.hands + self.hold


class Clock:
    """Collects steps and keeps the time; glue sets while other work goes on."""

    def __init__(self) -> None:
        self.steps: list[Step] = []
        self.now = 0.0
        self.set_at: dict[str, float] = {}  # per piece: when its glue may be handled
        self.dry_at = 0.0

    def add(
        self,
        title: str,
        detail: str,
        operation: str,
        lift: float,
        hands: float,
        *,
        glue: Adhesive | None = None,
        held: float = 0.0,
        piece: str = "",
        after: Sequence[str] = (),
        panels: tuple[tuple[str, str], ...] = (),
        caution: str = "",
        shows: tuple[str, ...] = (),
        left_out: tuple[str, ...] = (),
        above: bool = False,
    ) -> None:
        """Append a step that starts when the glue of ``after`` may be handled.

        ``held`` is the time in s for which it is held beyond what its glue asks.
        """
        ready = max((self.set_at.get(name, 0.0) for name in after), default=0.0)
        wait = max(0.0, ready - self.now)
        start = self.now + wait
        hold, dry = (glue.hold + held, glue.dry) if glue else (held, 0.0)
        self.steps.append(
            Step(
                title,
                detail,
                hands,
                hold,
                dry,
                wait,
                start,
                lift,
                panels,
                operation,
                caution,
                shows,
                left_out,
                above,
            )
        )
        self.now = start + hands + hold
        if glue is not None:
            self.set_at[piece] = self.now + glue.handle
            self.dry_at = max(self.dry_at, self.now + glue.dry)


def copies_of(design: Design) -> list[tuple[Piece, ...]]:
    """Pieces that are alike together: what is done to one is done to all."""
    groups: dict[int, list[Piece]] = {}
    for piece in design.pieces:
        groups.setdefault(id(piece.panels), []).append(piece)
    return [tuple(group) for group in groups.values()]


def the(title: str) -> str:
    """A title with its article, which a numbered one does without: "the card", "layer 1"."""
    return title if title[-1:].isdigit() else f"the {title}"


def named(group: Sequence[Piece]) -> str:
    """Words for a piece, or for several that are alike: "gores 1 to 6"."""
    return numbered([piece.title for piece in group])
