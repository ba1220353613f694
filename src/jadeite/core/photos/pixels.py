"""Reading a picture from its bytes: PNG and JPEG, upright, with limits."""

from __future__ import annotations

import io
import struct
import zlib
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from jadeite.core.errors import FileError

__all__ = ["LEAST_SIDE", "MOST_BYTES", "MOST_PIXELS", "Bytes", "Floats", "Pixels", "pixels_of"]

Bytes = NDArray[np.uint8]
Floats = NDArray[np.float64]
MOST_BYTES = 30_000_000  # from memory; a camera's JPEG takes a third of it
MOST_PIXELS = 50_000_000  # from memory; a camera's picture has half as many
LEAST_SIDE = 16  # pixels; from memory, less shows nothing
BROKEN = (
    *(OSError, SyntaxError, ValueError, EOFError, IndexError, KeyError, TypeError),
    *(OverflowError, MemoryError, struct.error, zlib.error),
)


@dataclass(frozen=True, eq=False)
class Pixels:
    """A picture, upright: ``colours`` (h, w, 3) in sRGB, ``cover`` (h, w), 0 where transparent."""

    colours: Bytes
    cover: Bytes | None = None

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.colours.shape[1], self.colours.shape[0]


def pixels_of(data: bytes, name: str) -> Pixels:
    """The pixels of a PNG (ISO/IEC 15948) or JPEG (ISO/IEC 10918) file, turned as it says.

    Raises
    ------
    FileError
        It is neither, broken off, too large or too small; the text names the cure.
    """
    if len(data) > MOST_BYTES:
        size = f"{MOST_BYTES // 1_000_000} MB"
        raise FileError(name, f"it is larger than {size}. Save it smaller, as JPEG")
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as image:
            width, height = image.size
            if width * height > MOST_PIXELS:
                most = MOST_PIXELS // 1_000_000
                raise FileError(
                    name, f"{width} × {height} pixels are more than {most} million. Save it smaller"
                )
            if min(width, height) < LEAST_SIDE:
                raise FileError(name, f"{width} × {height} pixels show nothing. Choose another")
            image.load()
            upright = ImageOps.exif_transpose(image)
            return _plain(image if upright is None else upright)
    except Image.DecompressionBombError:
        most = MOST_PIXELS // 1_000_000
        words = f"it has more than {most} million pixels. Save it smaller"
        raise FileError(name, words) from None
    except UnidentifiedImageError:
        raise FileError(name, "it is no PNG or JPEG picture. Save it as one of them") from None
    except BROKEN as error:
        words = "the picture is broken off or damaged. Save it again, or choose another"
        raise FileError(name, words) from error


def _plain(image: Image.Image) -> Pixels:
    """Eight bits of red, green and blue, and what covers, whatever it was kept as."""
    if image.mode.startswith("I;16") or image.mode in ("I", "F"):
        grey = np.clip(np.asarray(image, dtype=np.float64) / 257.0, 0, 255).astype(np.uint8)
        return Pixels(np.repeat(grey[:, :, None], 3, axis=2))
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        whole = np.asarray(image.convert("RGBA"))
        cover = np.ascontiguousarray(whole[:, :, 3])
        colours = np.ascontiguousarray(whole[:, :, :3])
        return Pixels(colours, None if cover.min() == 255 else cover)
    return Pixels(np.ascontiguousarray(np.asarray(image.convert("RGB"))))
