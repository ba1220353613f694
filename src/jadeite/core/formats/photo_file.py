"""Pictures beside a project: read, found again, copied along, and made into what is printed."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

import numpy as np

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import reason, write_whole
from jadeite.core.photos import Ink, words_of_rings
from jadeite.core.photos.ground import Brush
from jadeite.core.photos.inking import ink_pixels, png_of
from jadeite.core.photos.pixels import MOST_BYTES, Pixels, pixels_of
from jadeite.core.photos.tracing import Traced, traced
from jadeite.core.project import Photo
from jadeite.core.units import INCH

__all__ = [
    "carried_along",
    "enough",
    "figure_of",
    "ink_png",
    "photo_from",
    "pixels_at",
    "said_of",
]

KEPT = 3  # pictures that are kept in memory: setting
KEPT_INKS = 24  # what is printed of them, as files: setting


def _bytes_of(path: Path) -> bytes:
    """The whole of a picture's file.

    Raises
    ------
    FileError
        It cannot be read, or is too large.
    """
    try:
        with path.open("rb") as file:
            data = file.read(MOST_BYTES + 1)
    except OSError as error:
        raise FileError(str(path), reason(error)) from None
    return data


def photo_from(path: Path, taken: Iterable[str] = ()) -> Photo:
    """A picture of a file, under a key that none of those ``taken`` is.

    Raises
    ------
    FileError
        It is no PNG or JPEG picture that can be read.
    """
    data = _bytes_of(path)
    pixels = pixels_of(data, str(path))
    words = re.sub(r"[^a-z0-9]+", "-", path.stem.lower()).strip("-")[:50] or "picture"
    key, number = words, 2
    while key in set(taken):
        key, number = f"{words}-{number}", number + 1
    return Photo(
        key=key, title=path.stem[:60] or "picture", file=str(path.absolute()),
        digest=hashlib.sha256(data).hexdigest(), size=pixels.size,
    )  # fmt: skip


@lru_cache(maxsize=KEPT)
def pixels_at(file: str, digest: str) -> Pixels:
    """The pixels of a picture that a project names.

    Raises
    ------
    FileError
        It is gone, or another by now.
    """
    path = Path(file)
    try:
        data = _bytes_of(path)
    except FileError as error:
        words = f"{error.problem}. Put the picture back beside the project, or choose it again"
        raise FileError(file, words) from None
    if hashlib.sha256(data).hexdigest() != digest:
        words = "the picture has changed since it was chosen. Choose it again"
        raise FileError(file, words)
    return pixels_of(data, file)


def figure_of(photo: Photo) -> tuple[str, Traced]:
    """The outline of the figure in a picture, as it is kept, and how it was found.

    Raises
    ------
    FileError
        The picture cannot be read.
    FieldError
        There is no figure in it.
    """
    brushes = [Brush(rub.keeps, rub.radius, np.array(rub.points, float)) for rub in photo.strokes]
    found = traced(
        pixels_at(photo.file, photo.digest), way=photo.way, tolerance=photo.tolerance,
        crop=photo.crop, brushes=brushes,
    )  # fmt: skip
    return words_of_rings(found.rings), found


STEPS = (150_000, 600_000, 2_400_000, 12_000_000)  # pixels in which pictures are made: setting
FINEST = 300.0  # pixels an inch that paper shows; common practice


def enough(side: float) -> int:
    """How many pixels suffice for a picture whose longer side is so many mm on paper."""
    need = (side / INCH * FINEST) ** 2
    return next((step for step in STEPS if step >= need), STEPS[-1])


WAYS = {
    "clear": "by its transparent background",
    "plain": "before a background of one colour",
    "busy": "by its colours and edges",
    "whole": "as all of the picture",
}


def said_of(found: Traced) -> str:
    """How a figure was found, and what was left out, for the maker."""
    words = f"Found {WAYS[found.way]}; it covers {found.share:.0%} of the picture"
    if found.parts > 1:
        words += f", in {found.parts} parts"
    if found.stray:
        words += f"; {found.stray} stray bit{'s' if found.stray > 1 else ''} dropped"
    return f"{words}."


@lru_cache(maxsize=KEPT_INKS)
def ink_png(ink: Ink, most: int) -> bytes:
    """What is printed of a picture, as a PNG file of at most so many pixels.

    Raises
    ------
    FileError
        The picture is gone, or another by now.
    """
    return png_of(ink_pixels(pixels_at(ink.file, ink.digest), ink, most))


def carried_along(photos: tuple[Photo, ...], folder: Path) -> tuple[Photo, ...]:
    """Pictures with their files in a folder, copied there where they lie elsewhere.

    One whose file is gone stays as it is named.

    Raises
    ------
    FileError
        A copy cannot be written.
    """
    out = []
    for photo in photos:
        path = Path(photo.file)
        if path.parent != folder.absolute():
            try:
                data = _bytes_of(path)
            except FileError:
                data = b""
            target = _free(folder.absolute(), path, photo.digest)
            if data and not target.exists():
                write_whole(target, data)
            photo = photo.model_copy(update={"file": str(target)})
        out.append(photo)
    return tuple(out)


def _free(folder: Path, path: Path, digest: str) -> Path:
    """A name in a folder that is free, or that of the very same picture."""
    stem, suffix, number = path.stem[:80] or "picture", path.suffix, 2
    target = folder / f"{stem}{suffix}"
    while target.exists() and hashlib.sha256(target.read_bytes()).hexdigest() != digest:
        target, number = folder / f"{stem}-{number}{suffix}", number + 1
    return target
