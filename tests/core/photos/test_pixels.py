"""Pictures are read upright, in eight bits, within limits; what is none is refused in a line."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from jadeite.core.errors import FileError
from jadeite.core.photos import FAIR, GOOD, Ink, ppi, verdict, words_of_rings
from jadeite.core.photos import pixels as reading
from jadeite.core.photos.inking import ink_pixels, png_of
from jadeite.core.photos.pixels import Pixels, pixels_of
from tests.core.photos.drawn import blob, jpeg, painted, png

PICTURE = painted((96, 64), blob(2, 0.2))


@pytest.mark.parametrize("turn", range(1, 9))
def test_it_is_turned_as_the_camera_says(turn: int) -> None:
    """All eight orientations of Exif 2.3 (JEITA CP-3451), each undone by its own definition."""
    rows = {
        1: lambda a: a,
        2: lambda a: a[:, ::-1],
        3: lambda a: a[::-1, ::-1],
        4: lambda a: a[::-1],
        5: lambda a: a.transpose(1, 0, 2),
        6: lambda a: np.rot90(a, 1),
        7: lambda a: a.transpose(1, 0, 2)[::-1, ::-1],
        8: lambda a: np.rot90(a, -1),
    }  # how the rows are kept where the camera was held so
    exif = Image.Exif()
    exif[0x0112] = turn
    kept = np.ascontiguousarray(rows[turn](PICTURE))
    assert np.array_equal(pixels_of(png(kept, exif=exif), "x").colours, PICTURE)


def test_other_kinds_of_pixels_become_plain_ones() -> None:
    """Palette, grey, 16 bits, CMYK, transparency."""
    base = Image.fromarray(PICTURE)
    for mode in ("L", "P", "1"):
        out = io.BytesIO()
        base.convert(mode).save(out, "PNG")
        assert pixels_of(out.getvalue(), "x").colours.shape == PICTURE.shape
    out = io.BytesIO()
    base.convert("CMYK").save(out, "JPEG")
    assert np.abs(pixels_of(out.getvalue(), "x").colours.astype(int) - PICTURE).mean() < 12
    deep = (PICTURE[..., 0].astype(np.uint16)) * 257
    out = io.BytesIO()
    Image.fromarray(deep).save(out, "PNG")
    assert np.array_equal(pixels_of(out.getvalue(), "x").colours[..., 1], PICTURE[..., 0])
    clear = np.dstack([PICTURE, np.tile(np.arange(96, dtype=np.uint8), (64, 1))])
    read = pixels_of(png(clear), "x")
    assert read.cover is not None
    assert np.array_equal(read.cover, clear[..., 3])
    assert pixels_of(png(np.dstack([PICTURE, np.full((64, 96), 255, np.uint8)])), "x").cover is None


def _bomb(width: int, height: int) -> bytes:
    """A PNG whose head promises far more than it holds."""
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)

    def part(kind: bytes, body: bytes) -> bytes:
        return (
            struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
        )

    return (b"\x89PNG\r\n\x1a\n" + part(b"IHDR", head)
            + part(b"IDAT", zlib.compress(b"\0" * 1000)) + part(b"IEND", b""))  # fmt: skip


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "no PNG or JPEG"),
        (b"GIF89a" + bytes(50), "no PNG or JPEG"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no PNG or JPEG"),
        (png(PICTURE)[:-400], "broken off or damaged"),
        (jpeg(PICTURE)[:300], "broken off or damaged"),
        (_bomb(60_000, 60_000), "Save it smaller"),
        (_bomb(4, 4), "show nothing"),
        (_bomb(200, 200), "broken off or damaged"),
    ],
)
def test_hostile_files_are_refused_with_a_cure(data: bytes, words: str) -> None:
    """One line that names the file; nothing is unpacked that is too large."""
    with pytest.raises(FileError, match=words) as refused:
        pixels_of(data, "cat.png")
    assert str(refused.value).startswith("cat.png")


def test_a_file_may_only_be_so_large(monkeypatch: pytest.MonkeyPatch) -> None:
    """It is said before it is looked into."""
    monkeypatch.setattr(reading, "MOST_BYTES", 100)
    with pytest.raises(FileError, match="larger than"):
        pixels_of(png(PICTURE), "x")


@settings(max_examples=60, deadline=None)
@given(at=st.integers(0, 5000), what=st.binary(min_size=1, max_size=40), kind=st.booleans())
def test_property_damaged_files_never_fall_over(at: int, what: bytes, kind: bool) -> None:
    """Whatever bytes are changed: a picture of the same size, or one line."""
    data = png(PICTURE) if kind else jpeg(PICTURE)
    at %= len(data)
    try:
        read = pixels_of(data[:at] + what + data[at + len(what) :], "x")
    except FileError:
        return
    assert read.colours.ndim == 3


def test_pixels_an_inch() -> None:
    """By hand: 1200 pixels over 101.6 mm (4 in) are 300; under 200 they show (common practice)."""
    assert ppi(1200, 101.6) == pytest.approx(300.0)
    assert (GOOD, FAIR) == (300.0, 200.0)
    assert verdict(320.0) == "sharp"
    assert "blurred" in verdict(150.0)


def test_colours_go_on_beyond_a_figure_and_not_the_background_s() -> None:
    """Within the spread there is ink of the figure's own colour; past it there is none."""
    picture = np.full((300, 400, 3), 255, np.uint8)
    y, x = np.mgrid[:300, :400]
    inside = ((x - 200) ** 2 + (y - 150) ** 2) < 60**2
    picture[inside] = (30, 120, 90)
    ring = np.column_stack([np.cos(t := np.linspace(0, 2 * np.pi, 200, endpoint=False)), np.sin(t)])
    words = words_of_rings((ring * 60 / 400,))
    out = ink_pixels(Pixels(picture), Ink("x", "y", words, 20 / 400))
    far = np.hypot(x + 0.5 - 200, y + 0.5 - 150)
    assert (out[far < 76][:, 3] > 200).all()
    assert (out[far > 84][:, 3] == 0).all()
    assert np.abs(out[(far < 76)][:, :3].astype(int) - (30, 120, 90)).max() <= 2
    bare = ink_pixels(Pixels(picture), Ink("x", "y", words, 0.0))
    assert float((bare[..., 3] > 127).sum()) == pytest.approx(np.pi * 60**2, rel=0.02)
    with Image.open(io.BytesIO(png_of(out))) as image:
        assert np.array_equal(np.asarray(image), out)
