"""Reading picture files of open forms into pixels.

PNG and APNG, GIF, WebP, BMP, TGA, TIFF, QOI and JPEG. The frames of an animated picture are laid
side by side, in rows, so that everything after treats it as a sheet.
"""

from __future__ import annotations

import hashlib
import io
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from rushweed.core.folder.inside import Inside
from rushweed.core.project.sheet import Frames
from rushweed.core.values import Refusal, Size

Picture = npt.NDArray[np.uint8]
"""Pixels of shape (height, width, 4): red, green, blue and straight alpha. Read-only."""

LARGEST_SIDE = 16384
LARGEST_FILE = 1 << 30
"""Bytes of a picture's file."""
WIDEST_ROW = 4096
"""Frames of an animated picture are laid in rows of at most this many pixels."""
ENDINGS = frozenset(
    {".png", ".apng", ".gif", ".webp", ".bmp", ".tga", ".tif", ".tiff", ".qoi", ".jpg", ".jpeg"}
)
FORMS = ("GIF", "WEBP", "BMP", "TIFF", "QOI", "JPEG", "TGA")
PNG_SIGNATURE = b"\x89PNG\r\n\x1a\n"


class Decoded(NamedTuple):
    """A picture's pixels, and the size and rate of its frames when it is animated."""

    picture: Picture
    frames: Frames | None


def content_hash(data: bytes) -> str:
    """SHA-256 of a file's bytes, in hexadecimal."""
    return hashlib.sha256(data).hexdigest()


def read_bytes(path: Path) -> bytes:
    """A picture file's bytes. Raises Refusal with one sentence when it cannot be read."""
    return read_inside(path.resolve().parent, path.resolve().name)


def read_inside(folder: Path, name: str) -> bytes:
    """The bytes of a picture file that lies in a folder, by its path there; see `Inside.read`."""
    path = folder / name
    try:
        return Inside(folder).read(name, LARGEST_FILE)
    except FileNotFoundError as problem:
        raise Refusal(f"“{path.name}” is gone. Bring the file back, then try again.") from problem
    except IsADirectoryError as problem:
        raise Refusal(f"“{path.name}” is a folder, not a picture. Choose a picture.") from problem
    except OSError as problem:
        raise Refusal(
            f"“{path.name}” cannot be read ({problem.strerror}). Check its permissions."
        ) from problem


def decode_frames(data: bytes, name: str) -> Decoded:
    """Pixels of a picture file's bytes, animated or not.

    Raises Refusal, with one sentence that says what to do, for what is not a whole picture.
    """
    with _opened(data, name) as image:
        try:
            count = int(getattr(image, "n_frames", 1))
            if count > 1:
                return _animated(image, count, name)
            image.load()
            return Decoded(_finished(_pixels(image)), None)
        except Refusal:
            raise
        except Exception as problem:  # whatever the library finds wrong with a damaged file
            raise Refusal(
                f"“{name}” is cut short or damaged. Export it again from where it was drawn."
            ) from problem


def decode(data: bytes, name: str) -> Picture:
    """Pixels of a picture file's bytes; see `decode_frames`."""
    return decode_frames(data, name).picture


def read_picture(path: Path) -> Picture:
    """Read one picture file; see `decode_frames`."""
    return decode(read_bytes(path), path.name)


def encode_png(picture: Picture) -> bytes:
    """The picture as a PNG file; the same pixels give the same bytes."""
    from PIL import Image

    target = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(picture)).save(target, "PNG", compress_level=9)
    return target.getvalue()


@contextmanager
def _opened(data: bytes, name: str) -> Iterator[Any]:
    if not data:
        raise Refusal(f"“{name}” is empty. Export it again from where it was drawn.")
    try:
        image = _open(data)
    except Exception as problem:
        raise Refusal(
            f"“{name}” is not a picture that can be read, or its beginning is damaged. "
            "Export it as PNG."
        ) from problem
    width, height = image.size
    if width > LARGEST_SIDE or height > LARGEST_SIDE:
        raise Refusal(
            f"“{name}” claims to be {width} × {height} px; Rushweed takes up to "
            f"{LARGEST_SIDE} a side. Split it into smaller sheets."
        )
    if width < 1 or height < 1:
        raise Refusal(f"“{name}” has no pixels. Export it again from where it was drawn.")
    with image:
        yield image


def _open(data: bytes) -> Any:
    """The image of a file. PNG is opened without bringing in all other forms."""
    if data.startswith(PNG_SIGNATURE):
        from PIL.PngImagePlugin import PngImageFile

        return PngImageFile(io.BytesIO(data))
    from PIL import Image

    Image.MAX_IMAGE_PIXELS = None  # sizes are checked here, with a sentence of our own
    return Image.open(io.BytesIO(data), formats=FORMS)


def _animated(image: Any, count: int, name: str) -> Decoded:
    """All frames, composed as they are seen, in rows."""
    width, height = image.size
    columns = min(count, max(1, WIDEST_ROW // width))
    rows = -(-count // columns)
    if rows * height > LARGEST_SIDE:
        raise Refusal(
            f"“{name}” has {count} frames of {width} × {height} px, more than one sheet takes. "
            "Split it into shorter ones."
        )
    whole = np.zeros((rows * height, columns * width, 4), np.uint8)
    lasting = 0.0
    for index in range(count):
        image.seek(index)
        y, x = index // columns * height, index % columns * width
        whole[y : y + height, x : x + width] = _pixels(image)
        lasting += float(image.info.get("duration", 100) or 100)
    rate = round(min(max(1000 * count / lasting, 1), 60), 2)
    return Decoded(_finished(whole), Frames(Size(width, height), count, rate))


def _pixels(image: Any) -> Picture:
    """An image of any mode as RGBA."""
    if image.mode.startswith("I") or image.mode == "F":
        return _from_deep_grey(np.asarray(image, np.float64), 65535 if image.mode[0] == "I" else 1)
    if image.mode not in ("1", "L", "LA", "P", "PA", "RGB", "RGBA"):
        image = image.convert("RGB")
    return _copied(image if image.mode == "RGBA" else image.convert("RGBA"))


def _from_deep_grey(grey: npt.NDArray[np.float64], white: float) -> Picture:
    levels = np.rint(np.clip(grey / white, 0, 1) * 255).astype(np.uint8)
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


def _finished(pixels: Picture) -> Picture:
    pixels.setflags(write=False)
    return pixels
