"""How long flowers take: six rings of eight petals, which is a full one."""

from __future__ import annotations

import pytest

from jadeite.core.blooms import best_turns
from jadeite.core.boards import board_by_key
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pipeline import work_up
from jadeite.core.project import Shape, Span, Task
from jadeite.core.shapes import family_by_key, resolve_options

FLOWER = family_by_key("layered-flower")
RINGS = {"petals": "8 8 8 8 8 8"}
# wanted medians in ms: a changed number to flower, fullness and picture 50, turns 100, a frame 16


@pytest.fixture
def widths():  # type: ignore[no-untyped-def]
    """Another width each time, so that nothing is remembered."""
    return iter(120 + i * 0.001 for i in range(1_000_000))


def grown(width: float):  # type: ignore[no-untyped-def]
    """A flower of a width in mm, all of medium card."""
    boards = {part: board_by_key("medium-card") for part, _ in FLOWER.parts}
    return FLOWER.build((width, 0.0, 0.0), boards, resolve_options(FLOWER, RINGS))


def test_changed_number_to_flower_and_fullness(benchmark, widths) -> None:  # type: ignore[no-untyped-def]
    """Rings raised, turned and measured."""
    assert benchmark(lambda: grown(next(widths)).sizes["fullness"]).value > 0


def test_changed_number_to_picture(benchmark, widths) -> None:  # type: ignore[no-untyped-def]
    """The same, and drawn as it stands."""

    def picture():  # type: ignore[no-untyped-def]
        return Scene(grown(next(widths))).draw(Camera(28, 36, 3.0), SceneStyle(LIGHT))

    assert benchmark(picture).items


def test_changed_number_to_proved_flower(benchmark, widths) -> None:  # type: ignore[no-untyped-def]
    """With its proof and findings, as the window shows it."""
    shape = Shape(key=FLOWER.key, options=RINGS)

    def change():  # type: ignore[no-untyped-def]
        return work_up(Task(brief=Span(width=next(widths)), shape=shape), None)

    assert benchmark(change).design is not None


def test_turns_of_six_rings(benchmark) -> None:  # type: ignore[no-untyped-def]
    """The search alone."""
    above = grown(150.0).bloom.above
    assert benchmark(lambda: best_turns(above)).turns


def test_one_frame_of_the_lift(benchmark) -> None:  # type: ignore[no-untyped-def]
    """From flat to finished."""
    work = work_up(Task(brief=Span(width=120.0), shape=Shape(key=FLOWER.key, options=RINGS)), None)
    values = iter((i * 0.0137) % 1.0 for i in range(1_000_000))

    def frame():  # type: ignore[no-untyped-def]
        pose = work.lift.pose(next(values))
        return Scene(work.design, pose.matrices).draw(Camera(28, 36, 3.0), SceneStyle(LIGHT))

    assert benchmark(frame).items
