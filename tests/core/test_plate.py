"""A plate that presses a pattern: where it lies, what is told of it, and that it is kept."""

from __future__ import annotations

from pathlib import Path

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.cli import main
from jadeite.core.dressings.pressing import pressed_panels
from jadeite.core.formats import load_project
from jadeite.core.nets.roles import Role
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pictures.primitives import Label
from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Plate, Shape, Task, changed, with_change
from tests.jobs import only


def test_base_flaps_do_not_count_on_a_plate() -> None:
    """A locked carton: only its walls lie in the plate; flaps are no part of the net that does."""
    task = changed(
        Task(), brief=Hollow(size=(60.0, 50.0, 90.0)), shape=Shape(key="carton"),
        plate=Plate(width=230, height=95, area="walls", over="wax"),
    )  # fmt: skip
    work = work_up(task, None)
    assert work.design is not None
    assert work.assembly is not None
    (pressed,) = work.design.pressed
    assert set(pressed.panels) == {"back", "right", "front", "left"}
    net = {p.name for p in pressed_panels(work.design.pieces[0], "net")}
    assert not [name for name in net if name.startswith(("lock", "tab", "dust"))]
    ring = Polygon(pressed.corners)
    piece = work.design.piece(pressed.piece)
    walls = [Polygon(p.outline) for p in piece.panels if p.role is Role.WALL]
    assert all(ring.buffer(1e-6).contains(wall) for wall in walls)
    assert ring.area == pytest.approx(230 * 95)
    titles = [step.title for step in work.assembly.steps]
    emboss = next(i for i, t in enumerate(titles) if t.startswith("Emboss"))
    crease = next(i for i, t in enumerate(titles) if t.startswith("Crease"))
    assert titles[emboss + 1] == "Rub wax over the raised pattern"
    assert emboss < crease
    assert "every score again" in work.assembly.steps[emboss].detail


@settings(max_examples=25)
@given(width=st.floats(30, 200), height=st.floats(30, 200), area=st.sampled_from(["net", "walls"]))
def test_property_a_small_plate_is_told_with_one_that_does(width, height, area) -> None:  # type: ignore[no-untyped-def]
    """The cure ends the finding; what fits lies in the plate, by Shapely."""
    plate = Plate(width=width, height=height, area=area)
    task = changed(Task(), brief=Hollow(size=(60.0, 50.0, 40.0)), plate=plate)
    work = work_up(task, None)
    small = next((f for f in work.findings if f.code == "plate-small"), None)
    assert work.design is not None
    assert (small is None) is (len(work.design.pressed) == 2)
    for one in work.design.pressed:
        piece = work.design.piece(one.piece)
        net = shapely.union_all([Polygon(piece.panel(name).outline) for name in one.panels])
        assert Polygon(one.corners).buffer(1e-6).contains(net)
    if small is not None:
        assert small.cure is not None
        for path, value in small.cure.changes:
            task = with_change(task, path, value)
        assert "plate-small" not in {f.code for f in work_up(task, None).findings}


def test_a_plate_is_kept_and_drawn_on_the_flat_net(tmp_path: Path) -> None:
    """Saved and read again; its rectangle and size in the picture of the net, not of the box."""
    plate = Plate(width=180, height=200, turns="any")
    task = changed(Task(), brief=Hollow(size=(60.0, 50.0, 40.0)), plate=plate)
    work = work_up(task, None)
    assert work.design is not None
    assert work.lift is not None
    words = []
    for lift in (0.0, 1.0):
        pose = work.lift.pose(lift)
        scene = Scene(work.design, pose.matrices, flat=lift == 0.0)
        camera = scene.fitted(Camera(0.0, 90.0), 800, 600, (5, 5, 5, 5))
        picture = scene.draw(camera, SceneStyle(LIGHT, work.colours))
        words.append([i.text for i in picture.items if isinstance(i, Label)])
    assert words[0].count("plate 180.0 × 200.0") == 2
    assert not [w for w in words[1] if "plate" in w]


def test_a_plate_on_the_command_line(tmp_path: Path, capsys) -> None:  # type: ignore[no-untyped-def]
    """Kept in the project; what is wrong is named; sizes by plate, by sheets and by both."""
    out = tmp_path / "box.jadeite"
    command = ["new", "tray-with-lid", "--inside", "90x60x20mm", "-o", str(out)]
    for words, part in (
        (["--plate", "150"], "--plate"),
        (["--plate", "150x150mm,Roof!"], "no plate"),
        (["--from-sheets", "2"], "--grow all"),
        (["--grow", "all"], "--plate or --from-sheets"),
        (["--grow", "all", "--from-sheets", "0"], "Use 1 to 20"),
        (["--grow", "all", "--plate", "150x150mm,roof"], "floor"),
    ):
        assert main([*command, *words]) != 0
        assert part in capsys.readouterr().err
        assert not out.exists()
    sizes = []
    for words in (["--plate", "6x6in,ink"], ["--from-sheets", "1"],
                  ["--plate", "6x6in", "--from-sheets", "1"]):  # fmt: skip
        assert main([*command, *words, "--grow", "all"]) == 0
        sizes.append(only(load_project(out)).brief.size[0])
    assert sizes[2] == pytest.approx(min(sizes[:2]), rel=0.03)
    assert main([*command, "--plate", "6x6in,walls,any,ink"]) == 0
    plate = only(load_project(out)).plate
    assert plate.width == pytest.approx(152.4)
    assert (plate.area, plate.turns, plate.over) == ("walls", "any", "ink")
