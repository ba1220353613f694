"""How much of a wall its window opens, and what would open it further."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.model import Design
from jadeite.core.patterns import open_share
from jadeite.core.project import PLAIN, Window

__all__ = ["LEAST_OPEN", "OPENER", "dark_finding", "shares_of", "window_number"]

LEAST_OPEN = 0.15  # of a panel; from memory, through less too little light comes to be seen
NARROW = 3.0  # mm, the narrowest frame; from memory
CELLS = (18.0, 24.0, 10.0, 7.0)  # mm, sizes of a pattern that are tried; setting
TRIES = 48  # setting; windows that are cut in search of a cure
OPENER = ("lattice", "facets")  # patterns that leave little board; setting

Shares = Callable[[Sequence[Window]], Sequence[float]]


def shares_of(design: Design, windows: Sequence[Window]) -> list[float]:
    """The open share of each window's panel, 0 to 1; 0 where it has none."""
    out = []
    for window in windows:
        if not design.has((window.piece, window.panel)):
            out.append(0.0)
            continue
        panel = design.piece(window.piece).panel(window.panel)
        holes = [o.points for o in panel.openings if o.kind == "window"]
        out.append(open_share(panel.outline, holes))
    return out


def window_number(design: Design | None, windows: Sequence[Window], window: Window) -> int:
    """The number of a window among those that a design has, as its sizes are named; 0 for none."""
    number = 0
    for one in windows if design is not None else ():
        assert design is not None
        where = (one.piece, one.panel)
        cut = design.has(where) and any(
            o.kind == "window" for o in design.piece(one.piece).panel(one.panel).openings
        )
        number += cut
        if one == window:
            return number if cut else 0
    return 0


def dark_finding(
    windows: Sequence[Window], shares: Sequence[float], tried: Shares, *, lit: bool
) -> Finding | None:
    """What is said where windows open less than 15 % of their panels; None where none does.

    ``shares`` are what each opens, 0 where it was refused; ``tried`` finds them for other windows.
    """
    dark = [i for i, share in enumerate(shares) if 0 < share < LEAST_OPEN]
    if not dark:
        return None
    worst = min(dark, key=lambda i: shares[i])
    many = f"{len(dark)} windows leave" if len(dark) > 1 else "The window leaves"
    words = (
        f"{many} little open, {100 * shares[worst]:.0f} % of the panel where it is least; from "
        f"{100 * LEAST_OPEN:.0f} % on a pattern is well seen, and light comes through."
    )
    where = f"{windows[worst].piece}/{windows[worst].panel}"
    level = Level.LOOK if lit else Level.NOTE
    return Finding(level, "window-dark", words, where, "shape", _cure(windows, dark, tried))


def _cure(windows: Sequence[Window], dark: Sequence[int], tried: Shares) -> Cure | None:
    """The first of some changes to the dark windows after which none is dark."""
    changes = _changes([windows[i] for i in dark])
    most = max(1, TRIES // len(windows))  # where there are many, those that open the most
    for label, update in changes[-most:]:
        changed = tuple(
            w.model_copy(update=update) if i in dark else w for i, w in enumerate(windows)
        )
        shares = tried(changed)
        if all(shares[i] >= LEAST_OPEN for i in dark):
            return Cure(label, (("windows", changed),))
    others = tuple(w for i, w in enumerate(windows) if i not in dark)
    return Cure("Leave them whole" if len(dark) > 1 else "Leave it whole", (("windows", others),))


def _changes(dark: Sequence[Window]) -> list[tuple[str, dict[str, Any]]]:
    out: list[tuple[str, dict[str, Any]]] = []
    if any(w.tabs == "whole" for w in dark):
        out.append(("Trim the tabs", {"tabs": "trimmed"}))
    if any(w.border == "even" for w in dark):
        out.append(("Frame by side", {"border": "sides", "tabs": "trimmed"}))
    if any(w.motif != PLAIN for w in dark):
        out += [(f"Pattern {size:.0f} mm", {"size": size}) for size in CELLS]
    if any(w.frame > NARROW for w in dark):
        out.append((f"Frame {NARROW:.0f} mm", {"frame": NARROW}))
    narrow = {"frame": NARROW, "tabs": "trimmed", "border": "sides"}
    out += [(f"Use {motif}", {"motif": motif, "size": 14.0}) for motif in OPENER]
    out.append(("Plain windows", {"motif": PLAIN}))
    out.append((f"Plain, frame {NARROW:.0f} mm", {"motif": PLAIN, **narrow}))
    return out
