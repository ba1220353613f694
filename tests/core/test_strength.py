"""Boards that are too limp, and handles that tear, against figures worked by hand."""

from __future__ import annotations

import pytest

from jadeite.core.contents import Block
from jadeite.core.findings import Level
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Hollow, Shape, Task, changed


def found(code: str, **fields):  # type: ignore[no-untyped-def]
    """A project worked up, and the finding with this code."""
    project = changed(Task(), **fields)
    work = work_up(project, arrange_contents(project))
    return work, next((f for f in work.findings if f.code == code), None)


@pytest.mark.parametrize("key", ["tissue", "copy-paper"])
@pytest.mark.parametrize("shape", ["tray-with-lid", "carton", "lantern"])
def test_limp_paper_makes_no_walls(shape, key) -> None:  # type: ignore[no-untyped-def]
    """Of any size; the cure is the lightest board that stands."""
    part = {"tray-with-lid": "tray"}.get(shape, shape)
    work, limp = found("board-limp", shape=Shape(key=shape), brief=Hollow(size=(40.0, 40.0, 30.0)),
                       boards={part: key})  # fmt: skip
    assert limp is not None
    assert limp.level is Level.LOOK
    assert limp.cure is not None
    after = work_up(cured(work.task, limp.cure), None)
    assert "board-limp" not in {f.code for f in after.findings}


def test_walls_are_measured_as_they_stand() -> None:
    """A carton 200 wide and 30 high has walls 30 high, for all that its net unrolls sideways."""
    low, limp = found(
        "board-limp", shape=Shape(key="carton"), brief=Hollow(size=(200.0, 120.0, 60.0))
    )
    assert limp is None
    assert low.design is not None
    wide = Hollow(size=(160.0, 160.0, 250.0))
    _, tall = found("board-limp", shape=Shape(key="carton"), brief=wide)
    assert tall is not None
    assert "lifted by its rim" in tall.message
    narrow = Hollow(size=(60.0, 60.0, 250.0))
    assert found("board-limp", shape=Shape(key="carton"), brief=narrow)[1] is None


def test_a_spire_is_held_by_its_folds() -> None:
    """Walls that narrow to a tip are stiff between their folds, high as they are."""
    spire = Shape(key="spire", options={"spire-height": 240.0})
    work, limp = found("board-limp", shape=spire, brief=Hollow(size=(58.0, 58.0, 46.0)))
    assert work.design is not None
    assert limp is None


def test_a_strap_carries_its_width_times_its_thickness() -> None:
    """14 mm x 0.23 mm x 20 N/mm² / 5 / 9.81 = 1.3 kg (from memory; by hand)."""
    chest = {"shape": Shape(key="chest"), "brief": Hollow(size=(140.0, 90.0, 60.0))}
    light = (Block(name="lens", length=60, width=40, height=30, mass=900),)
    heavy = (Block(name="lens", length=60, width=40, height=30, mass=3000),)
    assert found("handle-tears", contents=light, **chest)[1] is None
    work, tears = found("handle-tears", contents=heavy, **chest)
    assert tears is not None
    assert "about 1.3 kg; 3.0 kg" in tears.message
    assert tears.cure is not None
    assert "handle-tears" not in {
        f.code for f in work_up(cured(work.task, tears.cure), work.arrangement).findings
    }
    _, tissue = found("handle-tears", boards={"handle": "tissue"}, **chest)
    assert tissue is not None
