"""Overlays: a panel's outline moved inward by an even border, glued on its good side while flat."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Design, Joint, Panel, Piece
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.reckoning import Mark, constant, given, reckon

__all__ = ["BARE", "LEAST_BORDER", "MOST_BORDER", "USUAL_BORDER", "with_overlay"]

LEAST_BORDER, MOST_BORDER = 1.0, 30.0  # mm; from memory
USUAL_BORDER = 4.0  # mm; from memory, between 3 and 6
LEAST_WIDTH = 5.0  # mm; from memory, a narrower strip is no overlay
BARE = ("tab", "foot", "rim", "gusset")  # roles that are glued or hidden


def with_overlay(
    design: Design, piece_name: str, panel_name: str, border: float, board: Board
) -> Design:
    """The design with an overlay on one panel, ``border`` mm from every edge of it.

    Raises
    ------
    FieldError
        There is no such panel, or it leaves no room within the border.
    """
    field = f"overlays.{piece_name}"
    piece = next((p for p in design.pieces if p.name == piece_name), None)
    if piece is None or panel_name not in piece.index:
        raise FieldError(field, f"there is no panel “{panel_name[:40]}”", "Choose another panel.")
    panel = piece.panel(panel_name)
    if panel.role in BARE:
        raise FieldError(field, f"the {panel.title} is glued or hidden", "Choose another panel.")
    if panel.openings:
        raise FieldError(
            field, f"the {panel.title} has slots or windows in it", "Choose another panel."
        )
    inner = Polygon(panel.outline).buffer(-border, join_style="mitre")
    small = min(float(v) for v in np.ptp(panel.outline, axis=0))
    fits = isinstance(inner, Polygon) and not inner.is_empty
    if not fits or float(np.min(np.ptp(np.array(inner.exterior.coords), axis=0))) < LEAST_WIDTH:
        most = max(LEAST_BORDER, int(10 * (small - LEAST_WIDTH) / 2) / 10)
        raise FieldError(
            field, f"a border of {border:.1f} mm leaves nothing of the {panel.title}",
            f"Use {most:.1f} mm.",
        )  # fmt: skip
    outline = np.array(inner.exterior.coords)[:-1]
    if not inner.exterior.is_ccw:
        outline = outline[::-1]
    number = 1 + sum(p.name.startswith("overlay-") for p in design.pieces)
    name, title = f"overlay-{number}", f"overlay {number}"
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    part = Piece(name, title, board, (Panel("overlay", f"overlay on {panel.title}", "overlay",
                                            outline, size),), ())  # fmt: skip
    apart = np.eye(4)
    apart[2, 3] = (piece.board.thickness + board.thickness) / 2
    place = closed_matrix(piece, design.placements[piece_name], panel_name) @ apart
    joint = Joint("glue", (name, "overlay"), (piece_name, panel_name),
                  f"overlay on the {panel.title}", "outside")  # fmt: skip
    border_of = reckon(
        f"Border round the overlay on the {panel.title}",
        border,
        "the same on every side: an uneven one is seen first",
        given("wanted", border),
        constant("usual", USUAL_BORDER, "mm", Mark.MEMORY),
    )
    return replace(
        design,
        pieces=(*design.pieces, part),
        placements={**design.placements, name: place},
        joints=(*design.joints, joint),
        sizes={**design.sizes, f"{name}-border": border_of},
        laid_flat={**design.laid_flat, name: (piece_name, panel_name)},
    )
