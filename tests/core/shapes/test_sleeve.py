"""The sleeve, proved from its exported FOLD geometry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jadeite.core.assembly import lift_of
from jadeite.core.boards import CATALOGUE, board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import piece_area
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader

FAMILY = family_by_key("sleeve")
SIZES = st.tuples(st.floats(5.0, 300.0), st.floats(5.0, 300.0), st.floats(5.0, 80.0))
BOARDS = st.sampled_from([b.key for b in CATALOGUE if b.folds])
OPTIONS = st.fixed_dictionaries(
    {o.key: st.sampled_from([key for key, _ in o.choices]) for o in FAMILY.options}
)


def built(inside, board="medium-card", **chosen):  # type: ignore[no-untyped-def]
    """A sleeve; option names with underscores for hyphens."""
    options = {key.replace("_", "-"): value for key, value in chosen.items()}
    return FAMILY.build(inside, {"sleeve": board_by_key(board)}, resolve_options(FAMILY, options))


def clear_block(model) -> tuple[float, float, float]:  # type: ignore[no-untyped-def]
    """The largest block inside, from the faces alone: every ply bounds it on its own side."""
    faces = list(model.faces.values())
    spread = np.concatenate([f.points for f in faces])
    middle = (spread.min(axis=0) + spread.max(axis=0)) / 2
    size = []
    for axis in range(3):
        low, high = spread[:, axis].min(), spread[:, axis].max()
        for face in faces:
            if abs(face.normal[axis]) < 0.999:
                continue
            at = face.points[:, axis].mean()
            if at < middle[axis]:
                low = max(low, at + face.thickness / 2)
            else:
                high = min(high, at - face.thickness / 2)
        size.append(float(high - low))
    return size[0], size[1], size[2]


@settings(max_examples=200)
@given(inside=SIZES, board=BOARDS, chosen=OPTIONS)
@example((5.0, 5.0, 5.0), "craft-board", {"bottom": "closed", "finger-notch": "one"})
@example((12.74, 12.74, 12.74), "copy-paper", {"bottom": "closed", "finger-notch": "one"})
def test_property_every_sleeve_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options: it closes, and its inside is what was asked."""
    design = built(inside, board, **chosen)
    model = fold_reader.read(fold_text(design))
    assert fold_reader.structure_faults(model) == []
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    assert fold_reader.stretch(model) < 1e-6
    assert clear_block(model) == pytest.approx(inside, abs=0.05)
    _, findings = prove(design)
    assert [f for f in findings if f.level is Level.BLOCKED] == []
    estimate = FAMILY.board_area(inside, {}, resolve_options(FAMILY, chosen))
    assert estimate >= piece_area(design.pieces[0]) * 0.9


def test_tabs_do_not_grow_with_the_sleeve() -> None:
    """Half, one and double size: the same tabs, the same notch."""
    sizes = ((70.0, 80.0, 8.0), (140.0, 160.0, 16.0), (280.0, 320.0, 32.0))
    for design in (built(size) for size in sizes):
        piece = design.pieces[0]
        assert piece.panel("tab.seam").size[1] == 10.0
        assert piece.panel("tab.bottom").size[1] == 10.0
        assert design.sizes["finger-notch"].value == 9.0


def test_the_notch_is_cut_at_the_mouth() -> None:
    """The front lacks half a disc at the edge where things go in."""
    with_notch, without = (built((70.0, 80.0, 6.0), finger_notch=k) for k in ("one", "none"))
    lost = piece_area(without.pieces[0]) - piece_area(with_notch.pieces[0])
    assert lost == pytest.approx(np.pi * 9.0**2 / 2, rel=5e-3)
    outline = with_notch.pieces[0].panel("front").outline
    inner = outline[(outline[:, 1] > outline[:, 1].min() + 0.1)]
    assert outline[:, 1].min() == pytest.approx(-40.0, abs=0.2)  # the mouth, on the flat net
    assert inner[:, 1].min() < -30.0  # the notch's own points lie beside it


def test_things_slide_in_through_the_mouth() -> None:
    """Half way in, the contents are still partly outside, along the depth and not above."""
    design = built((70.0, 80.0, 6.0))
    lift = lift_of(design)
    fill = next(s for s in lift.stages if s.kind == "fill")
    half = lift.pose((fill.start + fill.end) / 2).contents
    done = lift.pose(1.0).contents
    assert half is not None
    assert done is not None
    away = half[:3, 3] - done[:3, 3]
    assert away[1] > 10
    assert abs(away[0]) < 1e-9
    assert abs(away[2]) < 1e-9


@pytest.mark.parametrize(("inside", "axis"), [((4, 80, 6), "width"), ((70, 80, 1001), "thickness")])
def test_sizes_out_of_range_are_refused_by_name(inside, axis) -> None:  # type: ignore[no-untyped-def]
    """With the size that works."""
    with pytest.raises(FieldError, match=f"inside {axis}"):
        built(inside)
