"""How long flowers take: six rings of eight petals, which is a full one."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jadeite.core.blooms import (
    PETAL,
    Layer,
    RingSize,
    best_turns,
    petal_from_words,
    sized,
    stacked,
)
from jadeite.core.boards import board_by_key
from jadeite.core.folding import closed_matrices
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pipeline import work_up
from jadeite.core.project import Shape, Span, Task
from jadeite.core.shapes import family_by_key, resolve_options

FLOWER = family_by_key("layered-flower")
RINGS = {"petals": "8 8 8 8 8 8"}
# wanted medians in ms: a changed number to flower, fullness and picture 50, turns 100, a frame 16;
# the picture is that which is shown first


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


@pytest.mark.parametrize("moving", [True, False], ids=["at-first", "in-full"])
def test_changed_number_to_picture(benchmark, widths, moving) -> None:  # type: ignore[no-untyped-def]
    """The same, and drawn as it stands: at first as while it moves, then in full."""
    style = SceneStyle(LIGHT, moving=moving)

    def picture():  # type: ignore[no-untyped-def]
        design = grown(next(widths))
        return Scene(design, closed_matrices(design)).draw(Camera(28, 36, 3.0), style)

    assert benchmark(picture).items


def test_changed_number_to_proved_flower(benchmark, widths) -> None:  # type: ignore[no-untyped-def]
    """With its proof and findings, as the window shows it."""
    shape = Shape(key=FLOWER.key, options=RINGS)

    def change():  # type: ignore[no-untyped-def]
        return work_up(Task(brief=Span(width=next(widths)), shape=shape), None)

    assert benchmark(change).design is not None


def test_turns_of_six_rings(benchmark) -> None:  # type: ignore[no-untyped-def]
    """The search alone."""
    size = RingSize(8, petal_from_words("round"), 1.0, 14.0, -65.0, 8.0, 0.23)
    shares = [1.0, 0.87, 0.74, 0.62, 0.49, 0.36]
    rings = sized([replace(size, share=share) for share in shares], 150.0)
    layers = [Layer(f"ring-{n}", f"ring {n}", PETAL, ring) for n, ring in enumerate(rings, 1)]
    above = stacked(layers, 0.0).above
    assert benchmark(lambda: best_turns(above)).turns


def test_one_frame_of_the_lift(benchmark) -> None:  # type: ignore[no-untyped-def]
    """From flat to finished, plainer as on the table until it rests."""
    work = work_up(Task(brief=Span(width=120.0), shape=Shape(key=FLOWER.key, options=RINGS)), None)
    values = iter((i * 0.0137) % 1.0 for i in range(1_000_000))

    def frame():  # type: ignore[no-untyped-def]
        pose = work.lift.pose(next(values))
        return Scene(work.design, pose.matrices).draw(
            Camera(28, 36, 3.0), SceneStyle(LIGHT, moving=True)
        )

    assert benchmark(frame).items
