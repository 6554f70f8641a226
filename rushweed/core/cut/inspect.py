"""All that can be seen in a picture before anybody decided anything."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from rushweed.core.arrays import Mask, Reals
from rushweed.core.cut.cutting import count_cells
from rushweed.core.cut.listed import Listed, listed_pieces
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.cut.regions import regions_of
from rushweed.core.cut.seeing.counting import told_apart
from rushweed.core.cut.seeing.hints import sizes_in
from rushweed.core.cut.seeing.ranked import Ranked, Reading
from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import see_through, solid
from rushweed.core.gather.true_pixel import shrunk, true_pixel
from rushweed.core.project.sheet import (
    ColourKey,
    EvenCells,
    Kind,
    Layout,
    LoosePieces,
    OnePicture,
    Sheet,
)
from rushweed.core.values import Rect, Size
from rushweed.core.words import say

MOST_READINGS = 12
SURE = 0.9
"""What is at least so probable is taken without a question."""
FULL, LEAST_FULL, LEAST_TILES = 0.95, 0.2, 9
"""A cell of which so much is something is full; of tiles that are drawn, so many are."""
MOST_LOOKED_AT = 1024
LAYOUTS = {
    "picture": "one picture",
    "sheet": "even cells",
    "tileset": "even cells",
    "loose": "loose pieces",
}
"""How pictures of each kind are laid out."""


@dataclass(frozen=True, slots=True)
class Seen:
    """What a picture seems to be: all its readings, likeliest first, and how probable it is that
    what is offered is right. Readings and loose pieces are in drawn pixels."""

    size: Size
    alpha: bool
    colour_key: ColourKey | None
    pixel: int
    kind: Kind
    readings: tuple[Reading, ...]
    sure: float
    loose: tuple[Rect, ...]
    loose_layout: LoosePieces
    sentences: tuple[str, ...]
    listed: tuple[Listed, ...] = ()
    """The pieces that a text beside the picture lists, in drawn pixels, where it does."""

    @property
    def drawn(self) -> Size:
        """How large it is in drawn pixels."""
        return Size(self.size.width // self.pixel, self.size.height // self.pixel)

    @property
    def is_sure(self) -> bool:
        """Whether what is offered may be taken without a question."""
        return self.sure >= SURE

    @property
    def grids(self) -> tuple[Reading, ...]:
        """The readings that are even cells."""
        return tuple(one for one in self.readings if isinstance(one.layout, EvenCells))

    @property
    def layout(self) -> Layout:
        """How the sheet is best cut, as far as one can see."""
        return self.offered(self.readings[0].layout) if self.readings else OnePicture()

    def offered(self, layout: Layout) -> Layout:
        """A layout as it is offered: loose pieces as they are best told apart."""
        return self.loose_layout if isinstance(layout, LoosePieces) else layout


@dataclass(frozen=True, slots=True)
class Known:
    """What somebody decided about a picture already; only the rest is guessed. `key` counts where
    `keyed` says that it was decided, be it that there is none."""

    kind: Kind | None = None
    pixel: int | None = None
    keyed: bool = False
    key: ColourKey | None = None


UNDECIDED = Known()


def known_of(sheet: Sheet) -> Known:
    """What was decided about a sheet's picture."""
    decided = sheet.decided
    if not decided:
        return UNDECIDED
    return Known(
        sheet.kind if "kind" in decided else None,
        sheet.pixel if "pixel" in decided else None,
        "colour key" in decided,
        sheet.colour_key if "colour key" in decided else None,
    )


def inspect(stored: Picture, name: str = "", known: Known = UNDECIDED, text: bytes = b"") -> Seen:
    """Look at a picture as stored; shape (height, width, 4). Its name may hint at a size, and a
    text beside it may list what is on it."""
    from rushweed.core.cut.seeing.readings import read  # what was learned, not needed at a start

    picture, pixel, key = _as_drawn(stored, known)
    mask = solid(picture)
    regions = regions_of(mask)
    ranked = read(picture, mask, regions, name, _named(name, pixel), bool(key), pixel > 1)
    ranked = _fitting(ranked, known)
    loose_layout = told_apart(ranked, mask, regions)
    seen = Seen(
        Size(stored.shape[1], stored.shape[0]),
        see_through(stored),
        key,
        pixel,
        "picture",
        tuple(
            replace(one, kind=kind_of(one.layout, mask)) for one in ranked.readings[:MOST_READINGS]
        ),
        ranked.sure,
        tuple(loose_pieces(mask, loose_layout, regions)),
        loose_layout,
        (),
    )
    if text:
        seen = _as_listed(seen, listed_pieces(text, mask, pixel), known)
    return with_sentences(replace(seen, kind=known.kind or seen.readings[0].kind))


def _as_drawn(stored: Picture, known: Known) -> tuple[Picture, int, ColourKey | None]:
    """A picture as it was drawn, the pixels of it that are one, and what stands for nothing."""
    pixel = known.pixel or true_pixel(stored)
    drawn = shrunk(stored, pixel)
    key = known.key if known.keyed else guess_key(drawn)
    return apply_key(drawn, key), pixel, key


def list_of(stored: Picture, texts: Iterable[bytes]) -> bytes:
    """The first of some texts that lists what is on a picture as stored; empty where none does."""
    mask: Mask | None = None
    pixel = 1
    for text in texts:
        if mask is None:
            picture, pixel, _ = _as_drawn(stored, UNDECIDED)
            mask = solid(picture)
        if listed_pieces(text, mask, pixel):
            return text
    return b""


def _as_listed(seen: Seen, listed: tuple[Listed, ...], known: Known) -> Seen:
    """What was seen, with the reading first that cuts the pieces of a list: cells where all of them
    are cells of a likely grid, else just these rectangles."""
    if not listed or known.kind not in (None, "loose", "sheet", "tileset"):
        return seen
    why = say("a text beside it lists them by name")
    rects = [one.rect for one in listed]
    even = [one for one in seen.grids if _are_cells(rects, one.layout) and known.kind != "loose"]
    if even:
        first = replace(even[0], why=why)
    elif known.kind in (None, "loose"):
        first = Reading(LoosePieces(), 1, 1, 1.0, why, "loose")
    else:
        return seen
    rest = tuple(one for one in seen.readings if one.layout != first.layout)
    loose = seen.loose if even else tuple(rects)
    return replace(seen, readings=(first, *rest), sure=1.0, loose=loose, listed=listed)


def _are_cells(rects: Sequence[Rect], grid: Layout) -> bool:
    """Whether rectangles are cells of a grid."""
    if not isinstance(grid, EvenCells):
        return False
    steps = grid.cell.width + grid.gap.width, grid.cell.height + grid.gap.height
    return all(
        rect.size == grid.cell
        and (rect.x - grid.margin.width) % steps[0] == 0
        and (rect.y - grid.margin.height) % steps[1] == 0
        for rect in rects
    )


def _fitting(ranked: Ranked, known: Known) -> Ranked:
    """The readings with those first that fit what somebody said the picture is; they are sure as
    far as one of them leads the others of their kind."""
    if known.kind is None:
        return ranked
    wanted = LAYOUTS[known.kind]
    fits = [one for one in ranked.readings if one.layout.kind == wanted]
    rest = [one for one in ranked.readings if one.layout.kind != wanted]
    whole = sum(one.share for one in fits)
    sure = fits[0].share / whole if fits and whole else ranked.sure
    return Ranked((*fits, *rest), max(sure, ranked.sure) if fits else ranked.sure)


def enlarged(seen: Seen, factor: int) -> Seen:
    """What was seen, with grids for the picture so many times as large."""
    if factor == 1:
        return seen

    def larger(size: Size) -> Size:
        return Size(size.width * factor, size.height * factor)

    def scaled(reading: Reading) -> Reading:
        grid = reading.layout
        if not isinstance(grid, EvenCells):
            return reading
        cells = EvenCells(larger(grid.cell), larger(grid.margin), larger(grid.gap))
        return replace(reading, layout=cells)

    return replace(seen, readings=tuple(map(scaled, seen.readings)))


def _named(name: str, pixel: int) -> frozenset[tuple[int, int]]:
    """Sizes in a name, in drawn pixels, whichever of the two kinds of pixels was meant."""
    sizes = sizes_in(name)
    stored = {(size.width, size.height) for size in sizes}
    return frozenset(stored | {(width // pixel, height // pixel) for width, height in stored})


def kind_of(layout: Layout, mask: Mask) -> Kind:
    """What a picture is when it is cut like that; `mask` says where something is."""
    if isinstance(layout, OnePicture):
        return "picture"
    if isinstance(layout, LoosePieces):
        return "loose"
    return "tileset" if is_tileset(layout, mask) else "sheet"


def is_tileset(grid: EvenCells, mask: Mask) -> bool:
    """Whether cells hold tiles rather than frames: many of them are filled to their edges."""
    if max(grid.cell) >= 2 * min(grid.cell):
        return False
    columns, rows = count_cells(grid, Size(mask.shape[1], mask.shape[0]))
    if columns * rows < LEAST_TILES:
        return False
    filled = _filled(mask, grid, rows, columns)
    full = np.count_nonzero(filled >= FULL)
    return bool(full > 0 and full >= LEAST_FULL * np.count_nonzero(filled))


def _filled(mask: Mask, grid: EvenCells, rows: int, columns: int) -> Reals:
    """How much of each cell is something, from 0 to 1; where there are many, of some of them."""
    steps = grid.cell.height + grid.gap.height, grid.cell.width + grid.gap.width
    windows = sliding_window_view(mask, (grid.cell.height, grid.cell.width))
    cells = windows[grid.margin.height :: steps[0], grid.margin.width :: steps[1]]
    places = np.arange(0, rows * columns, -(-rows * columns // MOST_LOOKED_AT))
    looked_at = cells[places // columns, places % columns].reshape(len(places), -1)
    filled: Reals = np.count_nonzero(looked_at, axis=1) / looked_at.shape[1]
    return filled


def with_sentences(seen: Seen) -> Seen:
    """What was seen, told anew in sentences."""
    count = len(seen.loose)
    sentences = describe(seen.kind, seen.layout, count, seen.pixel, seen.colour_key)
    if seen.listed:
        sentences = (*sentences, say("a text beside it lists them by name"))
    return replace(seen, sentences=sentences)


def describe(
    kind: Kind, layout: Layout, count: int, pixel: int, key: ColourKey | None
) -> tuple[str, ...]:
    """What a picture is, in a few sentences; `count` is the number of loose pieces."""
    if isinstance(layout, EvenCells):
        tiles, gap = kind == "tileset", max(layout.gap)
        what = "tileset, {cell} cells" if tiles else "even sheet, {cell} cells"
        sentences = [say(what, cell=layout.cell) + (say(", {gap} px gaps", gap=gap) if gap else "")]
    else:
        sentences = [
            say("{count} loose pieces", count=count)
            if layout.kind == "loose pieces"
            else say("one picture")
        ]
    if pixel > 1:
        sentences.append(say("drawn at {pixel}× its pixels", pixel=pixel))
    if key is not None:
        flat = "nearly flat {hex} stands for nothing"
        told = flat if key.tolerance else "flat {hex} stands for nothing"
        sentences.append(say(told, hex=key.colour.hex))
    return tuple(sentences)
