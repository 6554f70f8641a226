"""Reading picture files into pixels."""

from __future__ import annotations

import hashlib
import io
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from rushweed.core.values import Refusal, Size

Picture = npt.NDArray[np.uint8]
"""Pixels of shape (height, width, 4): red, green, blue and straight alpha. Read-only."""

LARGEST_SIDE = 16384
ENDINGS = frozenset({".png"})


def content_hash(data: bytes) -> str:
    """SHA-256 of a file's bytes, in hexadecimal."""
    return hashlib.sha256(data).hexdigest()


def read_bytes(path: Path) -> bytes:
    """A picture file's bytes. Raises Refusal with one sentence when it cannot be read."""
    try:
        return path.read_bytes()
    except FileNotFoundError as problem:
        raise Refusal(f"“{path.name}” is gone. Bring the file back, then try again.") from problem
    except IsADirectoryError as problem:
        raise Refusal(f"“{path.name}” is a folder, not a picture. Choose a picture.") from problem
    except OSError as problem:
        raise Refusal(
            f"“{path.name}” cannot be read ({problem.strerror}). Check its permissions."
        ) from problem


def measure(data: bytes, name: str) -> Size:
    """The size a picture's header claims. Raises Refusal when it is unusable."""
    with _opened(data, name) as image:
        return Size(*image.size)


def decode(data: bytes, name: str) -> Picture:
    """Pixels of a PNG file's bytes.

    Raises Refusal, with one sentence that says what to do, for what is not a whole picture.
    """
    with _opened(data, name) as image:
        try:
            image.load()
        except (OSError, ValueError, SyntaxError, EOFError) as problem:
            raise Refusal(
                f"“{name}” is cut short or damaged. Export it again from where it was drawn."
            ) from problem
        if image.mode.startswith("I"):
            pixels = _from_sixteen_bits(np.asarray(image, np.float64))
        else:
            pixels = _copied(image if image.mode == "RGBA" else image.convert("RGBA"))
    pixels.setflags(write=False)
    return pixels


def read_picture(path: Path) -> Picture:
    """Read one picture file; see `decode`."""
    return decode(read_bytes(path), path.name)


def encode_png(picture: Picture) -> bytes:
    """The picture as a PNG file; the same pixels give the same bytes."""
    from PIL import Image

    target = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(picture)).save(target, "PNG", compress_level=9)
    return target.getvalue()


def _opened(data: bytes, name: str):  # type: ignore[no-untyped-def]
    from PIL.PngImagePlugin import PngImageFile

    if not data:
        raise Refusal(f"“{name}” is empty. Export it again from where it was drawn.")
    try:
        image = PngImageFile(io.BytesIO(data))
    except Exception as problem:
        raise Refusal(
            f"“{name}” is not a PNG picture, or its beginning is damaged. Export it as PNG."
        ) from problem
    width, height = image.size
    if width > LARGEST_SIDE or height > LARGEST_SIDE:
        raise Refusal(
            f"“{name}” claims to be {width} × {height} px; Rushweed takes up to "
            f"{LARGEST_SIDE} a side. Split it into smaller sheets."
        )
    if width < 1 or height < 1:
        raise Refusal(f"“{name}” has no pixels. Export it again from where it was drawn.")
    return image


def _from_sixteen_bits(grey: npt.NDArray[np.float64]) -> Picture:
    levels = np.rint(np.clip(grey, 0, 65535) / 257).astype(np.uint8)
    opaque = np.full_like(levels, 255)
    return np.dstack([levels, levels, levels, opaque])


def _copied(image: Any) -> Picture:
    """An RGBA image's pixels, copied straight into an array of our own: several times as fast
    as letting the library write them out as bytes first."""
    from PIL import Image

    pixels = np.empty((image.height, image.width, 4), np.uint8)
    shared = Image.frombuffer("RGBA", image.size, pixels, "raw", "RGBA", 0, 1)
    shared.readonly = 0
    shared.paste(image)
    return pixels
