"""Names on sheets: in their piece and clear of lines, or beside it; every kind once or each."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import shapely
from shapely import affinity
from shapely.geometry import LineString, Polygon, box

from jadeite.core.colours import BOARD_COLOURS, luminance, plainest
from jadeite.core.formats import load_project
from jadeite.core.nets.outline import drawn_folds, piece_polygon
from jadeite.core.pictures.palette import LIGHT
from jadeite.core.pictures.primitives import Label, Picture
from jadeite.core.pictures.primitives import Path as Drawn
from jadeite.core.pictures.sheet_names import HIGH, LETTER, item_of, name_pieces
from jadeite.core.pipeline import plan_job_sheets, work_up_job

EXAMPLES = Path(__file__).parents[3] / "examples"


def around(label: Label, scale: float) -> Polygon:
    """What the words cover, mm of the sheet."""
    long, high = LETTER * len(label.text) / scale, HIGH / scale
    x, y = label.x / scale, -label.y / scale
    across, up = (high, long) if label.turn else (long, high)
    return box(x - across / 2, y - up / 2, x + across / 2, y + up / 2)


@pytest.mark.parametrize("name", ["planet-dome", "gate-blooms", "filter-chest", "hill-card"])
def test_names_lie_in_their_pieces_or_beside_all(name: str) -> None:
    """At 2.5 units to the mm: nothing is written over a line, over a piece or over another name."""
    scale = 2.5
    job = work_up_job(load_project(EXAMPLES / f"{name}.jadeite"), cures=False)
    work = plan_job_sheets(job)
    pieces = {key: own.piece for key, own in work.pieces.items()}
    told = inside = 0
    for sheet in work.layout.sheets:
        picture = Picture()
        name_pieces(
            picture, sheet.placed, pieces, lambda p: p * (scale, -scale), sheet.size, scale, 1.0,
            lambda _: "#E8DDC5",
        )  # fmt: skip
        head = item_of(sheet.placed, pieces)
        labels = [item for item in picture.items if isinstance(item, Label)]
        lying = []
        for one in sheet.placed:
            piece = pieces[one.piece]
            lines = [
                LineString(line)
                for line, n in drawn_folds(piece)
                if piece.folds[n].kind != "rolled"
            ]
            shape = shapely.GeometryCollection([piece_polygon(piece), *lines])
            turned = affinity.rotate(shape, one.angle, origin=(0, 0))
            lying.append((piece, affinity.translate(turned, one.x, one.y)))
        for label in labels:
            covers = around(label, scale)
            own = [
                shape
                for piece, shape in lying
                if piece.title.removeprefix(f"{head}, ") == label.text
                and shape.geoms[0].covers(covers)
            ]
            if own:
                inside += 1
                assert not any(line.intersects(covers) for line in list(own[0].geoms)[1:])
            else:
                assert all(not shape.intersects(covers) for _, shape in lying), label.text
                assert box(0, 0, *sheet.size).buffer(2.0).covers(covers)
            told += 1
        for i, one in enumerate(labels):
            for other in labels[i + 1 :]:
                assert around(one, scale).intersection(around(other, scale)).area < 0.1
        hairlines = [item for item in picture.items if isinstance(item, Drawn) and not item.closed]
        for item in hairlines:
            end = shapely.Point(np.asarray(item.rings[0])[0] / (scale, -scale))
            assert min(shape.distance(end) for _, shape in lying) < 0.01
        kinds = {id(pieces[one.piece].panels) for one in sheet.placed}
        assert len(labels) >= 0.7 * len(kinds), "nearly all kinds are named"
    assert told >= inside > 0


def test_words_are_plain_on_every_board() -> None:
    """Contrast by WCAG 2.2, its definition worked out here again: the better of both inks."""

    def contrast(one: str, other: str) -> float:
        lights = []
        for colour in (one, other):
            parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
            red, green, blue = (
                p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts
            )
            lights.append(0.2126 * red + 0.7152 * green + 0.0722 * blue + 0.05)
        return max(lights) / min(lights)

    assert luminance("#ffffff") == pytest.approx(1.0)
    assert luminance("#000000") == 0.0
    for _, colour in BOARD_COLOURS:
        ink = plainest(colour, LIGHT.ink, LIGHT.sheet)
        assert contrast(ink, colour) == max(contrast(i, colour) for i in (LIGHT.ink, LIGHT.sheet))
        assert contrast(ink, colour) >= 3.5, colour
    assert plainest("#2a3a5c", LIGHT.ink, LIGHT.sheet) == LIGHT.sheet
