"""All that can be seen in a picture before anybody decided anything."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rushweed.core.cut.cutting import count_cells
from rushweed.core.cut.grid import GridGuess, guess_grids, sizes_in
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import solid
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

BACKDROP = 200
"""An opaque picture at least this wide with no sure grid is taken for a backdrop, in pixels."""


@dataclass(frozen=True, slots=True)
class Seen:
    """What a picture seems to be. Grids and loose pieces are in drawn pixels."""

    size: Size
    alpha: bool
    colour_key: ColourKey | None
    pixel: int
    kind: Kind
    grids: tuple[GridGuess, ...]
    loose: tuple[Rect, ...]
    sentences: tuple[str, ...]

    @property
    def drawn(self) -> Size:
        """How large it is in drawn pixels."""
        return Size(self.size.width // self.pixel, self.size.height // self.pixel)

    @property
    def layout(self) -> Layout:
        """How the sheet is best cut, as far as one can see."""
        if self.kind == "picture":
            return OnePicture()
        if self.kind == "loose" or not self.grids:
            return LoosePieces()
        return self.grids[0].grid

    def kind_of(self, layout: Layout) -> Kind:
        """What the picture is when it is cut like that."""
        if isinstance(layout, OnePicture):
            return "picture"
        if isinstance(layout, LoosePieces):
            return "loose"
        across, down = count_cells(layout, self.drawn)
        return "tileset" if is_tileset(layout, self.loose, across * down) else "sheet"


@dataclass(frozen=True, slots=True)
class Known:
    """What somebody decided about a picture already; only the rest is guessed. `key` counts where
    `keyed` says that it was decided, be it that there is none."""

    kind: Kind | None = None
    pixel: int | None = None
    keyed: bool = False
    key: ColourKey | None = None


def known_of(sheet: Sheet) -> Known:
    """What was decided about a sheet's picture."""
    decided = sheet.decided
    return Known(
        sheet.kind if "kind" in decided else None,
        sheet.pixel if "pixel" in decided else None,
        "colour key" in decided,
        sheet.colour_key if "colour key" in decided else None,
    )


def inspect(stored: Picture, name: str = "", known: Known = Known()) -> Seen:
    """Look at a picture as stored; shape (height, width, 4). Its name may hint at a size."""
    pixel = known.pixel or true_pixel(stored)
    drawn = shrunk(stored, pixel)
    key = known.key if known.keyed else guess_key(drawn)
    picture = apply_key(drawn, key)
    mask = solid(picture)
    loose = tuple(loose_pieces(mask, LoosePieces()))
    grids = tuple(guess_grids(picture, mask, named=_named(name, pixel)))
    height, width = picture.shape[:2]
    kind = known.kind or _kind(grids, loose, bool(mask.all()), Size(width, height))
    seen = Seen(
        Size(stored.shape[1], stored.shape[0]),
        bool((stored[..., 3] < 255).any()),
        key,
        pixel,
        kind,
        grids,
        loose,
        (),
    )
    return _with_sentences(seen)


def enlarged(seen: Seen, factor: int) -> Seen:
    """What was seen, with grids for the picture so many times as large."""
    if factor == 1:
        return seen

    def larger(size: Size) -> Size:
        return Size(size.width * factor, size.height * factor)

    def scaled(guess: GridGuess) -> GridGuess:
        grid = guess.grid
        cells = EvenCells(larger(grid.cell), larger(grid.margin), larger(grid.gap))
        return replace(guess, grid=cells)

    return replace(seen, grids=tuple(map(scaled, seen.grids)))


def _named(name: str, pixel: int) -> frozenset[Size]:
    """Sizes in a name, in drawn pixels, whichever of the two kinds of pixels was meant."""
    sizes = sizes_in(name)
    drawn = {Size(size.width // pixel, size.height // pixel) for size in sizes}
    return sizes | drawn


def _kind(grids: tuple[GridGuess, ...], loose: tuple[Rect, ...], opaque: bool, size: Size) -> Kind:
    if len(loose) <= 1 and (not grids or not opaque or size.width < 64 or size.width > BACKDROP):
        return "picture"
    if not grids:
        return "loose" if len(loose) > 1 else "picture"
    best = grids[0]
    if _cut_by(best.grid, loose) > 0.2 * len(loose) and not opaque and not any(best.grid.gap):
        return "loose"
    return "tileset" if is_tileset(best.grid, loose, best.columns * best.rows) else "sheet"


def is_tileset(grid: EvenCells, loose: tuple[Rect, ...], count: int) -> bool:
    """Whether cells hold tiles, as things that fill their cells and touch each other do, rather
    than frames."""
    cell = grid.cell
    filled = sum(1 for rect in loose if rect.width >= cell.width and rect.height >= cell.height)
    touching = any(grid.gap) or filled > 0
    return max(cell) < 2 * min(cell) and touching and count > 8


def _cut_by(grid: EvenCells, loose: tuple[Rect, ...]) -> int:
    step = (grid.cell.width + grid.gap.width, grid.cell.height + grid.gap.height)
    return sum(
        1
        for rect in loose
        if (rect.x - grid.margin.width) // step[0]
        != (rect.right - 1 - grid.margin.width) // step[0]
        or (rect.y - grid.margin.height) // step[1]
        != (rect.bottom - 1 - grid.margin.height) // step[1]
    )


def _with_sentences(seen: Seen) -> Seen:
    layout = seen.layout
    count = len(seen.loose)
    sentences = describe(seen.kind, layout, count, seen.pixel, seen.colour_key)
    return replace(seen, sentences=sentences)


def describe(
    kind: Kind, layout: Layout, count: int, pixel: int, key: ColourKey | None
) -> tuple[str, ...]:
    """What a picture is, in a few sentences; `count` is the number of loose pieces."""
    if isinstance(layout, EvenCells):
        what = "tileset" if kind == "tileset" else "even sheet"
        gaps = f", {max(layout.gap)} px gaps" if any(layout.gap) else ""
        sentences = [f"{what}, {layout.cell} cells{gaps}"]
    else:
        sentences = [f"{count} loose pieces" if layout.kind == "loose pieces" else "one picture"]
    if pixel > 1:
        sentences.append(f"drawn at {pixel}× its pixels")
    if key is not None:
        nearly = "nearly " if key.tolerance else ""
        sentences.append(f"{nearly}flat {key.colour.hex} stands for nothing")
    return tuple(sentences)
