"""How long each family takes from a changed number to its proof, and a frame of its lift."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from tests.jobs import job_of, only

from jadeite.core.contents import Block
from jadeite.core.formats import export_all
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.project import Face, Hollow, Shape, Span, Task, changed
from jadeite.core.shapes import all_families, family_by_key
from jadeite.core.shelf import shelf
from jadeite.desktop.commands import demo_project
from jadeite.desktop.staging import MANY

KEYS = [family.key for family in all_families()]
# wanted medians in ms: tray and carton 16, flat-panelled 50, faceted (dome, pillow) 150


def asked(key: str, length: float) -> Hollow | Face | Span:
    """A fixed inside, face or width of a family, whichever it answers."""
    answers = family_by_key(key).answers
    if "span" in answers:
        return Span(width=2 * length)
    if "face" in answers:
        return Face(size=(length, 60.0))
    return Hollow(size=(length, 60.0, 70.0))


def opened(key: str) -> Task:
    """A project of a fixed size in one family."""
    return changed(Task(), brief=asked(key, 90.0), shape=Shape(key=key))


@pytest.mark.parametrize("key", KEYS)
def test_changed_number_to_proved_design(benchmark, key) -> None:  # type: ignore[no-untyped-def]
    """Sizes, design, closure, findings."""
    lengths = iter(90 + i * 0.001 for i in range(1_000_000))
    project = opened(key)

    def change():  # type: ignore[no-untyped-def]
        return work_up(changed(project, brief=asked(key, next(lengths))), None)

    assert benchmark(change).design is not None


@pytest.mark.parametrize("key", KEYS)
def test_one_frame_of_the_lift(benchmark, key) -> None:  # type: ignore[no-untyped-def]
    """16 ms or less wanted for flat-panelled families, 50 for the heaviest."""
    work = work_up(opened(key), None)
    values = iter((i * 0.0137) % 1.0 for i in range(1_000_000))

    def frame():  # type: ignore[no-untyped-def]
        pose = work.lift.pose(next(values))
        return Scene(work.design, pose.matrices).draw(Camera(28, 36, 3.0), SceneStyle(LIGHT))

    assert benchmark(frame).items


@pytest.mark.parametrize("key", KEYS)
def test_turning_the_view(benchmark, key) -> None:  # type: ignore[no-untyped-def]
    """As it is while dragged, heavy ones plainer; the order is kept: 16 ms or less wanted."""
    work = work_up(opened(key), None)
    scene = Scene(work.design, work.lift.pose(1.0).matrices)
    turns = iter(range(1_000_000))
    style = SceneStyle(LIGHT, moving=len(scene.faces) > MANY)
    benchmark(lambda: scene.draw(Camera(next(turns) * 0.7, 36, 3.0), style))


@pytest.mark.parametrize("what", ["demo", "one block"])
def test_the_whole_shelf(benchmark, what) -> None:  # type: ignore[no-untyped-def]
    """Every family drawn for the contents: 1.5 s or less wanted."""
    stone = Block(name="meteorite", length=60, width=45, height=40, mass=120)
    project = only(demo_project()) if what == "demo" else changed(Task(), contents=(stone,))
    entries: list[object] = []
    benchmark.pedantic(lambda: shelf(project, {}, LIGHT, entries.append), rounds=5, iterations=1)
    assert len(entries) >= len(KEYS)


def test_backs_that_show_in_a_large_petal_lantern(benchmark) -> None:  # type: ignore[no-untyped-def]
    """One-sided board, hundreds of facets: lines of sight among all of them."""
    parts = family_by_key("petal-lantern").parts
    project = changed(
        Task(),
        brief=Hollow(size=(126.0, 126.0, 61.0)),
        shape=Shape(key="petal-lantern"),
        boards={part: "glitter-card" for part, _ in parts},
    )
    assert benchmark(lambda: work_up(project, None, cures=False)).design is not None


def test_export_with_its_proof(benchmark, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Cut files of a chest, read back before they are written."""
    project = opened("chest")
    work = work_up(project, None, cures=False)
    sheets = plan_sheets(project, work.design)
    assert benchmark(lambda: export_all(job_of(work), sheets, tmp_path, ("svg", "dxf")))
