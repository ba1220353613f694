"""A figure cut out of five million pixels, as the window's process does it."""

from __future__ import annotations

from pathlib import Path

import pytest
from tests.core.photos.drawn import blob, jpeg, painted

from jadeite.core.formats import photo_file
from jadeite.worker import figure, ink, photo

SIZE = (2592, 1944)  # 5 million pixels


@pytest.mark.parametrize("busy", [False, True], ids=["plain", "busy"])
def test_figure_of_five_million_pixels(benchmark, tmp_path: Path, busy: bool) -> None:  # type: ignore[no-untyped-def]
    """Read, told from its background, traced: 2 s are wanted."""
    path = tmp_path / "moth.jpg"
    path.write_bytes(jpeg(painted(SIZE, blob(3, 0.25), busy=busy)))

    def step(fraction: float, text: str) -> None:
        pass

    def found() -> str:
        photo_file.pixels_at.cache_clear()
        return figure(photo(str(path), (), step), step)[0]  # type: ignore[arg-type]

    assert benchmark.pedantic(found, rounds=5, iterations=1)


def test_ink_for_the_window(benchmark, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """What is printed of it, as the window shows it."""
    from jadeite.core.photos import Ink

    path = tmp_path / "moth.jpg"
    path.write_bytes(jpeg(painted(SIZE, blob(3, 0.25))))
    made = photo(str(path), (), lambda *_: None)  # type: ignore[arg-type]
    words = figure(made, lambda *_: None)[0]  # type: ignore[arg-type]

    def shown() -> bytes:
        photo_file.ink_png.cache_clear()
        return ink(Ink(made.file, made.digest, words, 0.02), 600_000, lambda *_: None)  # type: ignore[arg-type]

    assert benchmark.pedantic(shown, rounds=5, iterations=1)
