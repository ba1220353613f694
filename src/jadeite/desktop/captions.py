"""Words on the table: boards, scale, the key, the panel under the pointer."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from jadeite.core.assembly.clock import copies_of
from jadeite.core.folding.kinematics import transform
from jadeite.core.nets import Design
from jadeite.core.nets.grain import preferred_grain
from jadeite.core.nets.model import Floats, Opening
from jadeite.core.pictures import LIGHT, Camera, Label, Palette, Path, Picture, Stroke, net_key
from jadeite.core.pictures.flat import line_strokes
from jadeite.core.shapes.extra import DIVIDER
from jadeite.core.units import System, counted, format_length, format_size
from jadeite.desktop.staging import View, dimensions_of

__all__ = ["add_boards", "add_grain", "add_key", "add_pointed", "add_slots", "add_words"]

MOST_LINES = 6  # names of pieces and boards; from memory
SLOT_LABEL = 9.0  # pixels below a slot
LEAST_ARROW = 24.0  # pixels; a shorter arrow only blots
EDGE = 16.0  # pixels from the edge of the table


def add_words(out: Picture, view: View, scale: str) -> None:
    """What the lengths are; of a flat net seen from above its ``scale``, else ""."""
    if view.work is None or view.work.design is None:
        return
    unit = "mm" if view.system == "mm" else "inches"
    inside = view.work.design.hollow is not None
    words, shown = "", view.dimensions and dimensions_of(view)
    if scale:
        lengths = f"; {'inside lengths' if inside else 'lengths'}, {unit}" if shown else ""
        words = f"from above, scale {scale}, good side up{lengths}"
    elif shown:
        words = f"lengths are {'inside, ' if inside else ''}in {unit}"
    out.add(Label(words, EDGE, 20, 13, view.palette.quiet, "start"))


def add_boards(
    out: Picture, design: Design, hidden: frozenset[str], palette: Palette, width: float
) -> None:
    """Each piece with its board, in the upper right corner."""
    counts: dict[tuple[str, str], int] = {}
    for piece in design.pieces:
        if piece.name not in hidden:
            stem, _, number = piece.title.rpartition(" ")
            words = stem if number.isdigit() else piece.title
            if piece.part == DIVIDER:
                words = DIVIDER
            key = (words, piece.board.title.lower())
            counts[key] = counts.get(key, 0) + 1
    if len(counts) > MOST_LINES:  # too many names to read: how many of each board
        by_board: dict[tuple[str, str], int] = {}
        for (_, board), count in counts.items():
            by_board["piece", board] = by_board.get(("piece", board), 0) + count
        counts = by_board
    for i, ((words, board), count) in enumerate(counts.items()):
        shown = counted(count, words) if count > 1 else words
        if words == "piece" and count == 1:
            shown = "1 piece"
        spot = (width - EDGE, 20.0 + 19 * i)
        out.add(Label(f"{shown} · {board}", *spot, 13, palette.quiet, "end"))


def add_grain(
    out: Picture,
    design: Design,
    matrices: Mapping[str, Mapping[str, Floats]],
    camera: Camera,
) -> None:
    """An arrow on each flat piece, the way its grain should run; none where either will do.

    Board is paper-coloured in either theme, and so is what is written on it.
    """
    for piece in design.pieces:
        axis = preferred_grain(piece).axis
        if not axis or piece.board.grain == "none":
            continue
        panel = piece.panels[0]
        low, high = panel.outline.min(axis=0), panel.outline.max(axis=0)
        middle, reach = (low + high) / 2, float((high - low)[int(axis == "y")]) * 0.3
        along = np.array([1.0, 0.0]) if axis == "x" else np.array([0.0, 1.0])
        side = np.array([-along[1], along[0]])
        tip, tail = middle + along * reach, middle - along * reach
        barb = reach * 0.12
        ends = [
            np.array([tail, tip]),
            np.array([tip - along * barb + side * barb, tip, tip - along * barb - side * barb]),
            np.array([tail + along * barb + side * barb, tail, tail + along * barb - side * barb]),
        ]
        matrix = matrices[piece.name][panel.name]
        lines = tuple(camera.project(transform(matrix, line)) for line in ends)
        if float(np.hypot(*(lines[0][1] - lines[0][0]))) < LEAST_ARROW:
            continue
        out.add(Path(lines, closed=False, stroke=Stroke(LIGHT.quiet, 1.2)))
        x, y = (lines[0][0] + lines[0][1]) / 2
        out.add(Label("grain", float(x), float(y) - 11, 11.5, LIGHT.quiet))


def add_slots(
    out: Picture,
    design: Design,
    hidden: frozenset[str],
    matrices: Mapping[str, Mapping[str, Floats]],
    camera: Camera,
    system: System,
) -> None:
    """The width of every slot and the length of every slit beside it; alike ones once a piece."""
    for piece, *_ in copies_of(design):
        if piece.name in hidden:
            continue
        seen = set()
        for panel in sorted(piece.panels, key=lambda p: -p.size[0]):  # where there is most room
            for opening in panel.openings:
                words = _slot_words(opening, system)
                if not words or words in seen:
                    continue
                seen.add(words)
                spots = camera.project(transform(matrices[piece.name][panel.name], opening.points))
                x = float(spots[:, 0].mean())
                y = float(spots[:, 1].max()) + SLOT_LABEL
                out.add(Label(words, x, y, 11.5, LIGHT.brick_text))


def _slot_words(opening: Opening, system: System) -> str:
    """What a slot or a slit measures; empty for what falls out by itself."""
    points = opening.points
    if opening.kind == "slit":
        return f"slit {format_length(float(np.linalg.norm(points[1] - points[0])), system)}"
    if opening.kind == "slot" and len(points) == 4:
        sides = sorted(float(np.linalg.norm(points[i + 1] - points[i])) for i in (0, 1))
        return f"slot {format_length(sides[0], system)} wide"
    return ""


def add_key(out: Picture, design: Design, palette: Palette, height: float) -> None:
    """What the lines of a design mean, in the lower left corner."""
    key = net_key(design.pieces)
    x, y = EDGE, height - 24.0 - 20.0 * len(key)
    strokes = line_strokes(palette, 1.0)
    for kind, words in key:
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
