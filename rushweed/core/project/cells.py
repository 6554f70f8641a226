"""The painted cells of one layer: sparse chunks of piece numbers, shared between versions."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from hashlib import blake2b
from itertools import chain
from typing import Any

import numpy as np

from rushweed.core.arrays import Bytes, Mask, Numbers
from rushweed.core.value_ranges import HIGHEST_NUMBER
from rushweed.core.values import Rect

CHUNK = 32
LONGEST_ROW = 1_000_000
FARTHEST = 500_000
WIDEST_BAND = 16_384
FEW_NUMBERS = 16_384

Chunk = tuple[Numbers, Bytes]
Key = tuple[int, int]


AS_DRAWN: Bytes = np.zeros((CHUNK, CHUNK), np.uint8)


def empty_chunk() -> Chunk:
    """A chunk in which nothing is painted."""
    return np.zeros((CHUNK, CHUNK), np.int32), np.zeros((CHUNK, CHUNK), np.uint8)


def _overlaid(
    old: Chunk | None,
    inside: tuple[slice, slice],
    numbers: Numbers,
    orientations: Bytes,
    marked: Mask | None,
) -> Chunk | None:
    """A chunk with a block put inside, only the marked cells of it if any are; None where that
    would change nothing for certain."""
    if marked is not None and not marked.any():
        return None
    if old is None and not (numbers if marked is None else numbers[marked]).any():
        return None
    turned = np.where(numbers != 0, orientations, 0).astype(np.uint8, copy=False)
    if marked is None and numbers.shape == (CHUNK, CHUNK):
        return numbers.astype(np.int32), turned
    new = (old[0].copy(), old[1].copy()) if old else empty_chunk()
    if marked is None:
        new[0][inside], new[1][inside] = numbers, turned
    else:
        new[0][inside][marked], new[1][inside][marked] = numbers[marked], turned[marked]
    return new


def _frozen(chunk: Chunk) -> Chunk:
    """A chunk that stays as it is; those without any turned cell share one array for that."""
    if not chunk[1].any():
        chunk = chunk[0], AS_DRAWN
    for array in chunk:
        array.setflags(write=False)
    return chunk


def _numbers_of(chunk: Chunk) -> frozenset[int]:
    cells = chunk[0].ravel()
    if cells.max() <= FEW_NUMBERS:  # counting takes a fifth of the time there
        return frozenset(np.flatnonzero(np.bincount(cells)).tolist())
    return frozenset(cells.tolist())


class Cells:
    """An immutable grid without edges. A cell holds a piece's number, 0 for nothing, and one of
    the eight turns and flips of a square (0 as drawn).

    Chunks are (numbers, orientations), `int32` and `uint8` of shape (32, 32), keyed by
    (chunk column, chunk row). Painting copies only the chunks that change.
    """

    __slots__ = ("_bounds", "_count", "_digest", "_of_chunks", "_used", "chunks")

    def __init__(self, chunks: Mapping[Key, Chunk] | None = None) -> None:
        self.chunks: Mapping[Key, Chunk] = chunks or {}
        self._bounds: Rect | None = None
        self._used: frozenset[int] | None = None
        self._count = -1
        self._digest = b""
        self._of_chunks: dict[Key, frozenset[int]] = {}

    def at(self, column: int, row: int) -> tuple[int, int]:
        """The piece number and orientation of one cell; (0, 0) where nothing is painted."""
        chunk = self.chunks.get((column // CHUNK, row // CHUNK))
        if chunk is None:
            return 0, 0
        spot = row % CHUNK, column % CHUNK
        return int(chunk[0][spot]), int(chunk[1][spot])

    def painted(self, changes: Mapping[Key, tuple[int, int]]) -> Cells:
        """Cells with `changes`, a mapping of (column, row) to (number, orientation)."""
        chunks = dict(self.chunks)
        opened: dict[Key, Chunk] = {}
        for (column, row), (number, orientation) in changes.items():
            key = (column // CHUNK, row // CHUNK)
            if key not in opened:
                old = chunks.get(key)
                opened[key] = (old[0].copy(), old[1].copy()) if old else empty_chunk()
            numbers, orientations = opened[key]
            spot = row % CHUNK, column % CHUNK
            numbers[spot] = number
            orientations[spot] = orientation if number else 0
        for key, chunk in opened.items():
            if chunk[0].any():
                chunks[key] = _frozen(chunk)
            else:
                chunks.pop(key, None)
        return self._changed(chunks, opened)

    def overlaid(
        self, area: Rect, numbers: Numbers, orientations: Bytes, where: Mask | None = None
    ) -> Cells:
        """Cells with a block put at `area`, arrays of shape (area.height, area.width); with
        `where`, only the cells that it marks."""
        chunks = dict(self.chunks)
        changed = []
        for chunk_row in range(area.y // CHUNK, (area.bottom - 1) // CHUNK + 1):
            for chunk_column in range(area.x // CHUNK, (area.right - 1) // CHUNK + 1):
                key = (chunk_column, chunk_row)
                inside, part = _shared(key, area)
                marked = None if where is None else where[part]
                if marked is not None and marked.all():
                    marked = None
                new = _overlaid(chunks.get(key), inside, numbers[part], orientations[part], marked)
                if new is None:
                    continue
                changed.append(key)
                if new[0].any():
                    chunks[key] = _frozen(new)
                else:
                    chunks.pop(key, None)
        return self._changed(chunks, changed)

    def bounds(self) -> Rect:
        """The smallest rectangle of cells around all that is painted."""
        if self._bounds is None:
            self._bounds = self._find_bounds()
        return self._bounds

    def _find_bounds(self) -> Rect:
        """Only chunks at the rim can say where it lies."""
        if not self.chunks:
            return Rect(0, 0, 0, 0)
        columns = [column for column, _ in self.chunks]
        rows = [row for _, row in self.chunks]
        rim = {min(columns), max(columns)}, {min(rows), max(rows)}
        bounds = Rect(0, 0, 0, 0)
        for (chunk_column, chunk_row), (numbers, _) in self.chunks.items():
            if chunk_column not in rim[0] and chunk_row not in rim[1]:
                continue
            down, across = np.nonzero(numbers)
            left, top = int(across.min()), int(down.min())
            part = Rect(
                chunk_column * CHUNK + left,
                chunk_row * CHUNK + top,
                int(across.max()) - left + 1,
                int(down.max()) - top + 1,
            )
            bounds = bounds.union(part)
        return bounds

    def window(self, area: Rect) -> Chunk:
        """The cells of `area` as two arrays of shape (area.height, area.width)."""
        numbers = np.zeros((area.height, area.width), np.int32)
        orientations = np.zeros((area.height, area.width), np.uint8)
        for key, chunk in self.chunks_in(area):
            inside, part = _shared(key, area)
            numbers[part] = chunk[0][inside]
            orientations[part] = chunk[1][inside]
        return numbers, orientations

    def chunks_in(self, area: Rect) -> Iterator[tuple[Key, Chunk]]:
        """The chunks that share cells with `area`."""
        for chunk_row in range(area.y // CHUNK, (area.bottom - 1) // CHUNK + 1):
            for chunk_column in range(area.x // CHUNK, (area.right - 1) // CHUNK + 1):
                chunk = self.chunks.get((chunk_column, chunk_row))
                if chunk is not None:
                    yield (chunk_column, chunk_row), chunk

    def count(self) -> int:
        """How many cells are painted."""
        if self._count < 0:
            painted = (int(np.count_nonzero(numbers)) for numbers, _ in self.chunks.values())
            self._count = sum(painted)
        return self._count

    def numbers_in(self, key: Key) -> frozenset[int]:
        """The numbers in a chunk that is there, 0 where a cell of it is empty."""
        if key not in self._of_chunks:
            self._of_chunks[key] = _numbers_of(self.chunks[key])
        return self._of_chunks[key]

    def used(self) -> frozenset[int]:
        """The numbers of all pieces painted here."""
        if self._used is None:
            known = self._of_chunks
            for key in self.chunks:
                self.numbers_in(key)
            found: set[int] = set()
            found.update(*known.values())
            self._used = frozenset(found - {0})
        return self._used

    def digest(self) -> bytes:
        """A hash (BLAKE2) of all that is painted: equal cells have equal ones."""
        if not self._digest:
            whole = blake2b(digest_size=32)
            for place in sorted(self.chunks):
                numbers, orientations = self.chunks[place]
                turned = b"" if orientations is AS_DRAWN else orientations.tobytes()
                whole.update(b"%d %d %d;" % (*place, len(turned)) + numbers.tobytes() + turned)
            self._digest = whole.digest()
        return self._digest

    def _changed(self, chunks: dict[Key, Chunk], keys: Iterable[Key]) -> Cells:
        """Cells with other chunks; what is known about those that stay is kept."""
        cells = Cells(chunks)
        cells._of_chunks = dict(self._of_chunks)
        for key in keys:
            cells._of_chunks.pop(key, None)
        return cells

    def renumbered(self, numbers: Mapping[int, int]) -> Cells:
        """The same cells with pieces of other numbers."""
        old = np.array(sorted(numbers), np.int32)
        new = np.array([numbers[number] for number in old.tolist()], np.int32)
        chunks = dict(self.chunks)
        changed = [key for key in chunks if not self.numbers_in(key).isdisjoint(numbers)]
        for key in changed:
            held, turns = chunks[key]
            places = np.searchsorted(old, held).clip(0, len(old) - 1)
            chunks[key] = _frozen((np.where(old[places] == held, new[places], held), turns))
        return self._changed(chunks, changed)

    def places_of(self, numbers: Collection[int]) -> Iterator[Key]:
        """The (column, row) of every cell that holds one of those pieces."""
        wanted = np.array(sorted(numbers), np.int32)
        for (chunk_column, chunk_row), (held, _) in self.chunks.items():
            for row, column in np.argwhere(np.isin(held, wanted)).tolist():
                yield chunk_column * CHUNK + column, chunk_row * CHUNK + row

    def rows(self) -> list[dict[str, Any]]:
        """The painted cells as runs: a list of {y, x, cells} with cells [number, count] or
        [number, count, orientation]; number 0 skips. This is how files hold them."""
        bands: dict[int, list[int]] = {}
        for column, band in self.chunks:
            bands.setdefault(band, []).append(column)
        rows: list[dict[str, Any]] = []
        for band, columns in sorted(bands.items()):
            left, top = min(columns) * CHUNK, band * CHUNK
            numbers, orientations = self.window(
                Rect(left, top, (max(columns) + 1) * CHUNK - left, CHUNK)
            )
            rows.extend(_band_rows(numbers, orientations, left, top))
        return rows

    @classmethod
    def from_rows(cls, rows: list[dict[str, Any]]) -> Cells:
        """Read what `rows` wrote. Raises ValueError for runs that make no sense."""
        bands: dict[int, list[tuple[int, int, Numbers, Bytes]]] = {}
        lengths, numbers, turns = _cells_of(rows)
        if any(abs(place) > FARTHEST for row in rows for place in (row["x"], row["y"])):
            raise ValueError(f"cells lie within {FARTHEST} columns and rows of the middle")
        end = 0
        for row, length in zip(rows, lengths.tolist(), strict=True):
            begin, end = end, end + length
            y = int(row["y"])
            part = (y, int(row["x"]), numbers[begin:end], turns[begin:end])
            bands.setdefault(y // CHUNK, []).append(part)
        chunks: dict[Key, Chunk] = {}
        for band, parts in bands.items():
            left = min(x for _, x, _, _ in parts)
            right = max(x + len(numbers) for _, x, numbers, _ in parts)
            if right - left > WIDEST_BAND:
                for part in parts:
                    _read_band(chunks, band, [part], part[1], part[1] + len(part[2]))
            else:
                _read_band(chunks, band, parts, left, right)
        return cls({key: _frozen(chunk) for key, chunk in chunks.items()})

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: Any) -> Any:
        from pydantic_core import core_schema

        whole = core_schema.int_schema()
        run = core_schema.list_schema(whole, min_length=2, max_length=3)
        fields = {"y": whole, "x": whole, "cells": core_schema.list_schema(run)}
        row = core_schema.typed_dict_schema(
            {name: core_schema.typed_dict_field(schema) for name, schema in fields.items()}
        )
        return core_schema.no_info_after_validator_function(
            cls.from_rows,
            core_schema.list_schema(row),
            serialization=core_schema.plain_serializer_function_ser_schema(cls.rows),
        )

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Cells):
            return NotImplemented
        if self.chunks.keys() != other.chunks.keys():
            return False
        return all(
            chunk is other.chunks[key]
            or (
                np.array_equal(chunk[0], other.chunks[key][0])
                and np.array_equal(chunk[1], other.chunks[key][1])
            )
            for key, chunk in self.chunks.items()
        )

    __hash__ = None  # type: ignore[assignment]  # large, and never a key

    def __repr__(self) -> str:
        return f"Cells({self.count()} painted in {self.bounds()})"


def _shared(key: Key, area: Rect) -> tuple[Any, Any]:
    """The cells that a chunk and an area share, as slices of the chunk and of the area."""
    place = Rect(key[0] * CHUNK, key[1] * CHUNK, CHUNK, CHUNK)
    part = place.intersection(area)
    return (
        np.s_[part.y - place.y : part.bottom - place.y, part.x - place.x : part.right - place.x],
        np.s_[part.y - area.y : part.bottom - area.y, part.x - area.x : part.right - area.x],
    )


def _cells_of(rows: list[dict[str, Any]]) -> tuple[Numbers, Numbers, Bytes]:
    """How many cells each row of runs has, and the cells of all rows one after the other. Raises
    ValueError for runs that make no sense."""
    each = [row["cells"] for row in rows]
    runs = np.fromiter(map(len, each), np.int64, len(each))
    whole = list(chain.from_iterable(each))
    sizes = np.fromiter(map(len, whole), np.int64, len(whole))
    try:
        flat = np.fromiter(chain.from_iterable(whole), np.int64, int(sizes.sum()))
    except OverflowError as problem:
        raise ValueError("a run holds a number that nothing has so many of") from problem
    if not len(whole):
        return runs.astype(np.int32), np.zeros(0, np.int32), np.zeros(0, np.uint8)
    owners = np.repeat(np.arange(len(each)), runs)
    wrong = (sizes != 2) & (sizes != 3)
    starts = np.minimum(np.cumsum(sizes) - sizes, len(flat) - 1)
    numbers, counts = flat[starts], flat[np.minimum(starts + 1, len(flat) - 1)]
    turns = np.where(sizes == 3, flat[np.minimum(starts + 2, len(flat) - 1)], 0)
    wrong |= (counts < 1) | (numbers < 0) | (turns < 0) | (turns > 7) | (numbers > HIGHEST_NUMBER)
    if wrong.any():
        row = rows[int(owners[wrong.argmax()])]
        raise ValueError(f"row {row['y']} holds a run that makes no sense")
    lengths = np.bincount(owners, counts, len(each)).astype(np.int64)
    if (lengths > LONGEST_ROW).any():
        row = rows[int(lengths.argmax())]
        raise ValueError(f"row {row['y']} is longer than any level")
    return (
        lengths.astype(np.int32),
        np.repeat(numbers.astype(np.int32), counts),
        np.repeat(turns.astype(np.uint8), counts),
    )


def _read_band(
    chunks: dict[Key, Chunk],
    band: int,
    parts: list[tuple[int, int, Numbers, Bytes]],
    left: int,
    right: int,
) -> None:
    """Put rows of one row of chunks into chunks; they lie between two columns."""
    first, last = left // CHUNK, (right - 1) // CHUNK + 1
    numbers = np.zeros((CHUNK, (last - first) * CHUNK), np.int32)
    orientations = np.zeros(numbers.shape, np.uint8)
    for y, x, some, turns in parts:
        spot = np.s_[y % CHUNK, x - first * CHUNK : x - first * CHUNK + len(some)]
        numbers[spot] = np.where(some, some, numbers[spot])
        orientations[spot] = np.where(some, turns, orientations[spot])
    shape = (CHUNK, last - first, CHUNK)
    filled = numbers.reshape(shape).any(axis=(0, 2))
    for column in np.flatnonzero(filled).tolist():
        part = np.s_[:, column * CHUNK : (column + 1) * CHUNK]
        old = chunks.get((first + column, band))
        new = numbers[part].copy(), orientations[part].copy()
        if old is not None:
            empty = new[0] == 0
            new[0][empty], new[1][empty] = old[0][empty], old[1][empty]
        chunks[first + column, band] = new


def _band_rows(
    numbers: Numbers, orientations: Bytes, left: int, top: int
) -> Iterator[dict[str, Any]]:
    """The rows of a band that hold anything, each from its first painted cell to its last."""
    width, held = numbers.shape[1], numbers != 0
    rows = np.flatnonzero(held.any(axis=1))
    first, end = held.argmax(axis=1), width - held[:, ::-1].argmax(axis=1)
    begins = np.empty(numbers.shape, np.bool_)
    begins[:, 1:] = numbers[:, 1:] != numbers[:, :-1]
    begins[:, 1:] |= orientations[:, 1:] != orientations[:, :-1]
    columns = np.arange(width)
    begins &= (columns > first[:, None]) & (columns < end[:, None])
    begins[rows, first[rows]] = True
    starts = np.flatnonzero(begins[rows])
    row_ends = (np.arange(len(rows)) * width + end[rows])[starts // width]
    counts = np.minimum(np.append(starts[1:], numbers.size), row_ends) - starts
    runs = _runs(numbers[rows].ravel()[starts], counts, orientations[rows].ravel()[starts])
    bounds = np.searchsorted(starts, np.arange(len(rows) + 1) * width).tolist()
    for place, row in enumerate(rows.tolist()):
        cells = runs[bounds[place] : bounds[place + 1]]
        yield {"y": top + row, "x": left + int(first[row]), "cells": cells}


def _runs(numbers: Numbers, counts: np.ndarray, orientations: Bytes) -> list[list[int]]:
    if not orientations.any():
        return list(map(list, zip(numbers.tolist(), counts.tolist(), strict=True)))
    whole = zip(numbers.tolist(), counts.tolist(), orientations.tolist(), strict=True)
    return [[n, count, turn] if turn else [n, count] for n, count, turn in whole]
