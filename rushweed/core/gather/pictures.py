"""Reading picture files of open forms into pixels.

PNG and APNG, GIF, WebP, BMP, TGA, TIFF, QOI and JPEG. The frames of an animated picture are laid
side by side, in rows, so that everything after treats it as a sheet.
"""

from __future__ import annotations

import hashlib
import io
import struct
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from rushweed.core.folder.inside import Inside, read_anywhere
from rushweed.core.gather.picture_limits import check_size
from rushweed.core.project.sheet import Frames
from rushweed.core.value_ranges import LARGEST_SIDE
from rushweed.core.values import Refusal, Size

Picture = npt.NDArray[np.uint8]
"""Pixels of shape (height, width, 4): red, green, blue and straight alpha. Read-only."""

LARGEST_FILE = 1 << 30
"""Bytes of a picture's file."""
WIDEST_ROW = 4096
"""Frames of an animated picture are laid in rows of at most this many pixels."""
ENDINGS = frozenset(
    {".png", ".apng", ".gif", ".webp", ".bmp", ".tga", ".tif", ".tiff", ".qoi", ".jpg", ".jpeg"}
)
FORMS = ("GIF", "WEBP", "BMP", "TIFF", "QOI", "JPEG", "TGA")
BAND, AT_ONCE = 64, 8192
"""So many rows are converted at once, and so many bytes of a file decoded."""
INTERLACED, UNPACKED = 28, 1 << 20
"""Where a PNG says that its rows are interlaced, and how many bytes are unpacked at once."""
PNG_SIGNATURE = b"\x89PNG\r\n\x1a\n"
LEAST_EFFORT, MOST_EFFORT = 1, 9


class Decoded(NamedTuple):
    """A picture's pixels, and the size and rate of its frames when it is animated."""

    picture: Picture
    frames: Frames | None


def content_hash(data: bytes) -> str:
    """SHA-256 of a file's bytes, in hexadecimal."""
    return hashlib.sha256(data).hexdigest()


def read_bytes(path: Path) -> bytes:
    """A picture file's bytes. Raises Refusal with one sentence when it cannot be read."""
    return _read(lambda: read_anywhere(path, LARGEST_FILE), path.name)


def read_inside(folder: Path, name: str) -> bytes:
    """The bytes of a picture file that lies in a folder, by its path there; see `Inside.read`."""
    return _read(lambda: Inside(folder).read(name, LARGEST_FILE), PurePosixPath(name).name)


def _read(read: Callable[[], bytes], name: str) -> bytes:
    try:
        return read()
    except FileNotFoundError as problem:
        raise Refusal(
            "“{name}” is gone. Bring the file back, then try again.", name=name
        ) from problem
    except IsADirectoryError as problem:
        raise Refusal(
            "“{name}” is a folder, not a picture. Choose a picture.", name=name
        ) from problem
    except OSError as problem:
        raise Refusal(
            "“{name}” cannot be read ({strerror}). Check its permissions.",
            name=name,
            strerror=problem.strerror,
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
            pixels = _loaded(image)
            if _half_is_missing(data, pixels):
                raise Refusal(
                    "Most rows of “{name}” are missing. Export it again from where it was drawn.",
                    name=name,
                )
            return Decoded(_finished(pixels), None)
        except Refusal:
            raise
        except Exception as problem:  # whatever the library finds wrong with a damaged file
            raise Refusal(
                "“{name}” is cut short or damaged. Export it again from where it was drawn.",
                name=name,
            ) from problem


def decode(data: bytes, name: str) -> Picture:
    """Pixels of a picture file's bytes; see `decode_frames`."""
    return decode_frames(data, name).picture


def read_picture(path: Path) -> Picture:
    """Read one picture file; see `decode_frames`."""
    return decode(read_bytes(path), path.name)


def encode_png(picture: Picture, effort: int = MOST_EFFORT) -> bytes:
    """The picture as a PNG file; the same pixels give the same bytes. `effort` is that of zlib: the
    least writes ten times as fast as the most, and some tenth more bytes."""
    from PIL import Image

    target = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(picture)).save(target, "PNG", compress_level=effort)
    return target.getvalue()


@contextmanager
def _opened(data: bytes, name: str) -> Iterator[Any]:
    if not data:
        raise Refusal("“{name}” is empty. Export it again from where it was drawn.", name=name)
    try:
        image = _open(data)
    except Exception as problem:
        raise Refusal(
            "“{name}” is not a picture that can be read, or its beginning is damaged. "
            "Export it as PNG.",
            name=name,
        ) from problem
    with image:
        check_size(Size(*image.size), name)
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
    check_size(Size(width, height), name, count)
    columns = min(count, max(1, WIDEST_ROW // width))
    rows = -(-count // columns)
    if rows * height > LARGEST_SIDE:
        raise Refusal(
            "“{name}” has {count} frames of {width} × {height} px, more than one sheet "
            "takes. Split it into shorter ones.",
            name=name,
            count=count,
            width=width,
            height=height,
        )
    whole = np.zeros((rows * height, columns * width, 4), np.uint8)
    lasting = 0.0
    for index in range(count):
        image.seek(index)
        check_size(Size(*image.size), name)
        y, x = index // columns * height, index % columns * width
        whole[y : y + height, x : x + width] = _pixels(image)
        lasting += float(image.info.get("duration", 100) or 100)
    rate = round(min(max(1000 * count / lasting, 1), 60), 2)
    return Decoded(_finished(whole), Frames(Size(width, height), count, rate))


def _loaded(image: Any) -> Picture:
    """A still image as RGBA. One that is so already is decoded straight into an array of our own,
    and a little of the file at a time, for the library lets no other thread go on meanwhile."""
    image.decodermaxblock = AT_ONCE
    if image.mode == "RGBA":
        pixels, shared = _shared(image.size)
        image.im = shared.im
        image.load()
        if image.im is shared.im:
            return pixels
    image.load()
    return _pixels(image)


def _pixels(image: Any) -> Picture:
    """An image of any mode as RGBA."""
    if image.mode.startswith("I") or image.mode == "F":
        return _from_deep_grey(image)
    if image.mode not in ("1", "L", "LA", "P", "PA", "RGB", "RGBA"):
        image = image.convert("RGB")
    return _copied(image if image.mode == "RGBA" else image.convert("RGBA"))


def _from_deep_grey(image: Any) -> Picture:
    """An image of one deep channel, a few rows at a time."""
    white = 1 if image.mode == "F" else 65535
    pixels = np.full((image.height, image.width, 4), 255, np.uint8)
    for top in range(0, image.height, BAND):
        box = (0, top, image.width, min(top + BAND, image.height))
        grey = np.asarray(image.crop(box), np.float64) / white
        pixels[top : box[3], :, :3] = np.rint(np.clip(grey, 0, 1) * 255)[..., None]
    return pixels


def _half_is_missing(data: bytes, pixels: Picture) -> bool:
    """Whether a PNG ends well, but long before its last row: what was never written is clear
    black."""
    lower = pixels[len(pixels) // 2 :]
    if not data.startswith(PNG_SIGNATURE) or lower.any() or data[INTERLACED]:
        return False
    width, height, depth, colours = struct.unpack(">IIBB", data[16:26])
    line = 1 + -(-width * depth * {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}.get(colours, 1) // 8)
    unpacker, length, at = zlib.decompressobj(), 0, len(PNG_SIGNATURE)
    while at + 12 <= len(data):
        size, kind = struct.unpack(">I4s", data[at : at + 8])
        packed = data[at + 8 : at + 8 + size] if kind == b"IDAT" else b""
        while packed and not unpacker.eof:
            length += len(unpacker.decompress(packed, UNPACKED))
            packed = unpacker.unconsumed_tail
        at += size + 12
    return bool(2 * length < line * height)


def _copied(image: Any) -> Picture:
    """An RGBA image's pixels, copied straight into an array of our own: several times as fast
    as letting the library write them out as bytes first."""
    pixels, shared = _shared(image.size)
    shared.paste(image)
    return pixels


def _shared(size: tuple[int, int]) -> tuple[Picture, Any]:
    """An empty picture of a width and height, and an image that draws into it."""
    from PIL import Image

    pixels = np.zeros((size[1], size[0], 4), np.uint8)
    shared = Image.frombuffer("RGBA", size, pixels, "raw", "RGBA", 0, 1)
    shared.readonly = 0
    return pixels, shared


def _finished(pixels: Picture) -> Picture:
    pixels.setflags(write=False)
    return pixels
