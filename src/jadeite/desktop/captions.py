"""Words on the table: boards, scale, the key, the panel under the pointer."""

from __future__ import annotations

import numpy as np

from jadeite.core.nets import Design
from jadeite.core.parts import DIVIDER, part_of
from jadeite.core.pictures import Label, Palette, Path, Picture, Stroke, net_key
from jadeite.core.pictures.flat import line_strokes
from jadeite.core.units import System, format_size

__all__ = ["add_boards", "add_key", "add_pointed"]

EDGE = 16.0  # pixels from the edge of the table


def add_boards(
    out: Picture, design: Design, hidden: frozenset[str], palette: Palette, width: float
) -> None:
    """Each piece with its board, in the upper right corner."""
    y = 20.0
    lines: dict[str, int] = {}
    for piece in design.pieces:
        if piece.name not in hidden:
            strips = part_of(piece.name) == DIVIDER
            words = f"{DIVIDER if strips else piece.title} · {piece.board.title.lower()}"
            lines[words] = lines.get(words, 0) + 1
    for words, count in lines.items():
        shown = f"{count} {words.replace(DIVIDER, DIVIDER + 's', 1)}" if count > 1 else words
        out.add(Label(shown, width - EDGE, y, 13, palette.quiet, "end"))
        y += 19


def add_key(out: Picture, palette: Palette, height: float) -> None:
    """What the lines mean, in the lower left corner."""
    x, y = EDGE, height - 24.0 - 20.0 * len(net_key())
    strokes = line_strokes(palette, 1.0)
    for kind, words in net_key():
        y += 20
        if kind == "glue":
            marks = tuple(np.array([[x + i, y + 5], [x + i + 10, y - 5]]) for i in range(0, 40, 6))
            out.add(Path(marks, closed=False, stroke=Stroke(palette.sand, 1.0)))
        else:
            line = np.array([[x, y], [x + 46, y]])
            out.add(Path((line,), closed=False, stroke=strokes[kind]))
        out.add(Label(words, x + 56, y, 12.5, palette.ink, "start"))


def add_pointed(
    out: Picture,
    design: Design,
    where: tuple[str, str],
    at: tuple[float, float],
    width: float,
    palette: Palette,
    system: System,
) -> None:
    """Name and size of a panel, beside the pointer."""
    piece = design.piece(where[0])
    panel = piece.panel(where[1])
    name = panel.title if panel.title.startswith(piece.title) else f"{piece.title}: {panel.title}"
    words = f"{name} · {format_size(panel.size, system)}"
    half = len(words) * 3.7
    x = min(max(at[0], half + 14), width - half - 14)
    y = at[1] - 26 if at[1] > 50 else at[1] + 30
    out.add(Label(words, x, y, 13, palette.ink, weight=600, pill=palette.sheet, edge=palette.jade))
