"""Steps in which many small pieces are peeled and bent by hand, as for a flower's rings."""

from __future__ import annotations

from collections.abc import Sequence

from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.assembly.clock import (
    CREASE,
    CUT_CARE,
    KNIFE,
    PEEL,
    Clock,
    named,
    the,
)
from jadeite.core.assembly.lift import Lift
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Design, Piece
from jadeite.core.units import all_of, in_runs

__all__ = ["crease_all_step", "peel_all_step", "shape_steps"]

SHAPE = 4.0  # s for each petal; from memory
BY_HAND = "by-hand"  # the pressure of a board that no cutter takes


def peel_all_step(clock: Clock, pieces: Sequence[Piece]) -> None:
    """All pieces off at once, laid out so that none is confused with another."""
    by_hand = all(piece.board.pressure == BY_HAND for piece in pieces)
    how = (
        "Lay the printed outlines under the board, and cut with a fresh blade."
        if by_hand
        else "Turn each carrier over and bend it away from the paper, not the paper from it."
    )
    many = all_of(len(pieces), "piece")
    clock.add(
        f"Cut {many} out" if by_hand else f"Peel {many} off",
        f"{how} Lay them in a row in the order of their sizes, so that none is confused.",
        "cut" if by_hand else "peel",
        0.0,
        (KNIFE if by_hand else PEEL) * len(pieces),
        panels=tuple((piece.name, piece.panels[0].name) for piece in pieces),
        caution=CUT_CARE,
    )


def crease_all_step(clock: Clock, pieces: Sequence[Piece], lift: Lift) -> None:
    """The scores of many small pieces in one go, before anything is glued on them."""
    creased = [p for p in pieces if any(fold.kind != "rolled" for fold in p.folds)]
    if not creased:
        return
    parts: dict[tuple[str, str], list[Piece]] = {}
    for piece in creased:
        stem, _, number = piece.title.rpartition(" ")
        own = stem if number.isdigit() else piece.title
        parts.setdefault((piece.part, own), []).append(piece)
    folds = [(p.name, f) for p in creased for f in p.folds if f.kind != "rolled"]
    what = in_runs([the(named(group)) for group in parts.values()])
    marks = " and ".join(f"{m}s" for m in sorted({fold.mark for _, fold in folds}))
    clock.add(
        f"Crease {all_of(len(folds), 'fold')} of {what}",
        f"Before any glue is on it: {marks}, each hard with a bone folder, as the pictures show.",
        "crease",
        lift.turned * 0.5,
        CREASE * len(folds),
        panels=tuple((name, fold.child) for name, fold in folds),
    )


def shape_steps(
    clock: Clock, design: Design, lift: Lift, adhesive: Adhesive, *, flat: bool
) -> None:
    """What is done by hand to pieces that stay ``flat``, or that bends them, each for all."""
    plies = {a.piece for a in design.arrivals.at(When.FLAT)}
    for shaping in design.shaping:
        if shaping.flat is not flat:
            continue
        once: dict[int, str] = {}
        for name in shaping.pieces:
            once.setdefault(id(design.piece(name).panels), name)
        own = {*once.values(), *plies}
        like = tuple(p.name for p in design.pieces if p.name not in own)
        levels = [m.level for m in lift.moves if m.folds and m.piece in shaping.pieces]
        clock.add(
            shaping.title,
            shaping.words,
            "shape",
            lift.turned * 0.5 if shaping.flat else lift.after_level(max(levels, default=0)),
            SHAPE * shaping.count,
            glue=adhesive if shaping.glued else None,
            piece=shaping.pieces[0],
            caution=adhesive.caution if shaping.glued else "",
            panels=tuple(
                (name, panel.name)
                for name in shaping.pieces
                for panel in design.piece(name).panels
                if panel.role.traits.bends
            ),
            left_out=like,
        )
