"""Tiles as pixels at hand, in three sizes, so that whole chunks of a level are put together at
once: as drawn, a quarter as large, and one pixel each."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

import numpy as np
import numpy.typing as npt
from PyQt6.QtGui import QImage
from PyQt6.sip import voidptr

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.project import Project
from rushweed.core.values import Colour, Size
from rushweed.core.weave.blending import tinted
from rushweed.core.weave.laying import Codes, joined
from rushweed.ui.canvas.images import from_image, to_image
from rushweed.ui.canvas.sheet_images import Images

Fineness = Literal["full", "quarter", "dot"]
Whole = npt.NDArray[np.int64]
GROWTH = 64
LARGEST_CELL = 96 * 96
"""Cells of more pixels are not put together: few of them are seen at once."""
LARGEST_TABLE = 1 << 22
"""Tiles with larger codes are looked up one by one."""


class TileAtlas:
    """The tiles of a project's levels under one tint. Those that are `animated`, by number, are
    drawn by themselves, as the piece that `now` says is shown for them."""

    def __init__(
        self,
        images: Images,
        project: Project,
        tint: Colour | None,
        animated: frozenset[int] = frozenset(),
    ) -> None:
        self._images, self._project, self._tint = images, project, tint
        self._animated = animated
        self.now: Mapping[int, int] = {}
        tile = project.rules.tile
        self.sizes: dict[Fineness, Size] = {
            "full": tile,
            "quarter": Size(max(1, tile.width // 4), max(1, tile.height // 4)),
            "dot": Size(1, 1),
        }
        self._slots: dict[int, int] = {0: 0}
        self._large: set[int] = set()
        self._table = np.zeros(1, np.intp)
        self._pixels = {
            name: np.zeros((GROWTH, size.height, size.width, 4), np.uint8)
            for name, size in self.sizes.items()
            if self.puts_together(name)
        }
        self._waiting: dict[Fineness, list[int]] = {name: [] for name in self._pixels}

    def puts_together(self, fineness: Fineness) -> bool:
        """Whether cells are small enough to make whole images of them."""
        return self.sizes[fineness].width * self.sizes[fineness].height <= LARGEST_CELL

    def image(self, codes: Codes, fineness: Fineness) -> QImage:
        """Cells put together, of shape (rows, columns); tiles of other sizes than a cell are left
        out, but where a cell is one pixel."""
        slots = self._slots_of(codes)
        self._fill(fineness)
        return _image_of(joined(self._pixels[fineness][slots]))

    def is_large(self, code: int) -> bool:
        """Whether a tile is drawn by itself, for it is not as large as a cell or moves."""
        self._slot(code)
        return code in self._large

    def tile(self, code: int) -> QImage:
        """One tile by itself."""
        number, orientation = divmod(code, 8)
        image = self._images.number(self._project, self.now.get(number, number), orientation)
        return image if self._tint is None else to_image(tinted(from_image(image), self._tint))

    def _slots_of(self, codes: Codes) -> npt.NDArray[np.intp]:
        """Where the tiles of some cells are kept, of the same shape."""
        highest = int(codes.max(initial=0))
        if highest >= LARGEST_TABLE:
            values, places = np.unique(codes, return_inverse=True)
            found = np.array([self._slot(code) for code in values.tolist()])
            return found[places.reshape(codes.shape)]
        if highest >= len(self._table):
            more = np.full(highest + 1 - len(self._table), -1, np.intp)
            self._table = np.concatenate([self._table, more])
        slots = self._table[codes]
        if slots.min(initial=0) < 0:
            for code in np.unique(codes[slots < 0]).tolist():
                self._table[code] = self._slot(code)
            slots = self._table[codes]
        return slots

    def _slot(self, code: int) -> int:
        slot = self._slots.get(code)
        if slot is None:
            slot = self._slots[code] = len(self._slots)
            if slot >= len(self._pixels["dot"]):
                for name, old in self._pixels.items():
                    self._pixels[name] = np.concatenate([old, np.zeros_like(old)])
            image = self.tile(code)
            cell = self.sizes["full"]
            if (image.width(), image.height()) != cell or code // 8 in self._animated:
                self._large.add(code)
            for waiting in self._waiting.values():
                waiting.append(code)
        return slot

    def _fill(self, fineness: Fineness) -> None:
        """Have those tiles at hand in one size that are not yet."""
        waiting, size = self._waiting[fineness], self.sizes[fineness]
        for code in waiting:
            if fineness == "dot" or code not in self._large:
                pixels = _premultiplied(self.tile(code))
                whole = pixels.shape[:2] == (size.height, size.width)
                slot = self._slots[code]
                self._pixels[fineness][slot] = pixels if whole else _shrunk(pixels, size)
        waiting.clear()


def _premultiplied(image: QImage) -> Picture:
    """An image's pixels as Qt stores them: blue, green, red, alpha, multiplied."""
    whole = image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)
    bits = whole.constBits()
    assert bits is not None
    bits.setsize(whole.sizeInBytes())
    rows = np.frombuffer(bits.asstring(), np.uint8).reshape(whole.height(), whole.bytesPerLine())
    return rows[:, : whole.width() * 4].reshape(whole.height(), whole.width(), 4)


def _shrunk(pixels: Picture, size: Size) -> Picture:
    """The means of as many parts, which are as large as each other or one pixel larger."""
    tops, heights = _parts(pixels.shape[0], size.height)
    lefts, widths = _parts(pixels.shape[1], size.width)
    bands = np.add.reduceat(pixels, tops, axis=0, dtype=np.uint32)
    sums = np.add.reduceat(bands, lefts, axis=1)
    areas = heights[:, None, None] * widths[:, None]
    means: Picture = (sums // areas).astype(np.uint8)
    return means


def _parts(length: int, count: int) -> tuple[Whole, Whole]:
    """Where as many parts of a length begin, and how long they are."""
    ends = np.arange(1, count + 1) * length // count
    lengths = np.diff(ends, prepend=0)
    return ends - lengths, lengths


def _image_of(pixels: Picture) -> QImage:
    height, width = pixels.shape[:2]
    place = voidptr(pixels.ctypes.data, pixels.nbytes)
    borrowed = QImage(  # type: ignore[call-overload]
        place, width, height, width * 4, QImage.Format.Format_ARGB32_Premultiplied
    )
    owned: QImage = borrowed.copy()
    return owned
