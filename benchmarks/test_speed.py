"""How long the interactive steps take; run by `make bench`."""

from __future__ import annotations

import dataclasses
import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import pytest
from tests.jobs import only

from jadeite.core.boards import CATALOGUE
from jadeite.core.contents import Block
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up
from jadeite.core.project import Task, changed, with_change
from jadeite.core.sizing import size_by_paper
from jadeite.desktop.commands import demo_project


@pytest.fixture(scope="module")
def demo() -> Task:
    """The demo project."""
    return only(demo_project())


@pytest.fixture(scope="module")
def arrangement(demo):  # type: ignore[no-untyped-def]
    """Its arrangement, which stays while numbers change."""
    return arrange_contents(demo)


@pytest.mark.parametrize("walls", ["single", "double"])
def test_changed_number_to_proved_design(benchmark, demo, arrangement, walls) -> None:  # type: ignore[no-untyped-def]
    """Sizes, design, closure, findings: 16 ms or less wanted."""
    project = with_change(demo, "shape.options.tray-walls", walls)
    depths = iter(10 + i * 0.001 for i in range(1_000_000))

    def change():  # type: ignore[no-untyped-def]
        return work_up(with_change(project, "shape.options.lid-depth", next(depths)), arrangement)

    assert benchmark(change).design is not None


@pytest.mark.parametrize("walls", ["single", "double"])
def test_one_frame_of_the_lift(benchmark, demo, arrangement, walls) -> None:  # type: ignore[no-untyped-def]
    """Pose, visible order and picture: 8 ms or less wanted."""
    work = work_up(with_change(demo, "shape.options.tray-walls", walls), arrangement)
    values = iter((i * 0.0137) % 1.0 for i in range(1_000_000))
    style = SceneStyle(LIGHT, work.task.colours)
    assert work.bodies

    def frame():  # type: ignore[no-untyped-def]
        pose = work.lift.pose(next(values))
        scene = Scene(work.design, pose.matrices, work.bodies, pose.contents)
        return scene.draw(Camera(28, 36, 3.0), style)

    assert benchmark(frame).items


def test_turning_the_view(benchmark, demo, arrangement) -> None:  # type: ignore[no-untyped-def]
    """The order is kept; only the picture is made again."""
    work = work_up(demo, arrangement)
    pose = work.lift.pose(0.8)
    scene = Scene(work.design, pose.matrices, work.bodies, pose.contents)
    camera = Camera(28, 36, 3.0)
    turns = iter(range(1_000_000))
    style = SceneStyle(LIGHT)
    benchmark(lambda: scene.draw(dataclasses.replace(camera, yaw=next(turns) * 0.7), style))


def test_quick_layout(benchmark, demo, arrangement) -> None:  # type: ignore[no-untyped-def]
    """Layout and cutting plan of one box."""
    work = work_up(demo, arrangement)
    benchmark(lambda: plan_sheets(demo, work.design))


def test_arranging_the_demo(benchmark, demo) -> None:  # type: ignore[no-untyped-def]
    """The exact arrangement of four things."""
    benchmark(lambda: arrange_contents(demo))


def unlike(count: int) -> list[Block]:
    """So many unlike blocks, the same every time."""
    rng = np.random.default_rng(7)
    sides = rng.uniform(12, 90, size=(count, 3)).round(1)
    return [
        Block(name=f"thing {i}", length=a, width=b, height=c, mass=40)
        for i, (a, b, c) in enumerate(sides.tolist())
    ]


@pytest.mark.parametrize("count", [12, 40])
def test_first_answer_for_unlike_things(benchmark, count) -> None:  # type: ignore[no-untyped-def]
    """Of twelve: 100 ms or less wanted."""
    project = changed(Task(), contents=unlike(count))
    assert benchmark(lambda: arrange_contents(project, quick=True)).places


def test_best_of_the_search_for_twelve(benchmark) -> None:  # type: ignore[no-untyped-def]
    """In the background: about 2 s wanted."""
    project = changed(Task(), contents=unlike(12))
    found = benchmark.pedantic(lambda: arrange_contents(project), rounds=2)
    print(f"cost {found.cost:.0f} mm², at most {100 * found.gap:.0f} % from the best")


def test_every_board_compared(benchmark, demo, arrangement) -> None:  # type: ignore[no-untyped-def]
    """The mechanical figures of the whole catalogue: 300 ms or less wanted."""
    work = work_up(demo, arrangement)
    assert len(benchmark(work.comparison).meanings) == len(CATALOGUE)


def test_cures_tried(benchmark, demo, arrangement) -> None:  # type: ignore[no-untyped-def]
    """Each made on paper; in the background."""
    heavy = with_change(demo, "contents.0.mass", 500.0)
    work = work_up(heavy, arrangement)
    choice = work.comparison()
    assert benchmark(lambda: work.remedies(choice))


def test_largest_from_one_sheet(benchmark, demo) -> None:  # type: ignore[no-untyped-def]
    """A search over layouts, in the background."""
    benchmark.pedantic(lambda: size_by_paper(demo, demo.stock[0], (90.0, 60.0, 40.0)), rounds=3)


def test_painting_the_table(benchmark, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """One frame of the real widget, from a moved lift to pixels."""
    from PyQt6.QtWidgets import QApplication

    from jadeite.desktop.app import application, new_window

    app = application([])
    assert app is not None
    window = new_window(tmp_path / "state", tmp_path / "config", tmp_path / "data")
    window.session.open_copy(demo_project())
    window.resize(1280, 800)
    window.show()
    window.open_station("shape")
    QApplication.processEvents()
    values = iter((i * 0.0137) % 1.0 for i in range(1_000_000))

    def frame() -> None:
        window.centre.table.set_lift(next(values))
        window.centre.table.repaint()

    benchmark(frame)
    window.session.discard()


def test_interface_is_not_blocked_by_a_change(benchmark, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A changed option until every widget shows it: under 50 ms wanted."""
    from PyQt6.QtWidgets import QApplication

    from jadeite.desktop.app import application, new_window

    app = application([])
    assert app is not None
    window = new_window(tmp_path / "state", tmp_path / "config", tmp_path / "data")
    window.session.open_copy(demo_project())
    window.resize(1280, 800)
    window.show()
    window.open_station("shape")
    QApplication.processEvents()
    depths = iter(10 + i * 0.001 for i in range(1_000_000))

    def change() -> None:
        window.session.set_field("shape.options.lid-depth", next(depths))
        window.centre.table.repaint()

    benchmark.pedantic(change, rounds=30, warmup_rounds=2)
    window.session.discard()
