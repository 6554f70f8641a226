"""The painted cells of one layer: sparse chunks of piece numbers, shared between versions."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from typing import Any

import numpy as np
import numpy.typing as npt

from rushweed.core.values import Rect

CHUNK = 32

Numbers = npt.NDArray[np.int32]
Orientations = npt.NDArray[np.uint8]
Chunk = tuple[Numbers, Orientations]
Key = tuple[int, int]


def _empty_chunk() -> Chunk:
    return np.zeros((CHUNK, CHUNK), np.int32), np.zeros((CHUNK, CHUNK), np.uint8)


def _frozen(chunk: Chunk) -> Chunk:
    for array in chunk:
        array.setflags(write=False)
    return chunk


class Cells:
    """An immutable grid without edges. A cell holds a piece's number, 0 for nothing, and one of
    the eight turns and flips of a square (0 as drawn).

    Chunks are (numbers, orientations), `int32` and `uint8` of shape (32, 32), keyed by
    (chunk column, chunk row). Painting copies only the chunks that change.
    """

    __slots__ = ("chunks",)

    def __init__(self, chunks: Mapping[Key, Chunk] | None = None) -> None:
        self.chunks: Mapping[Key, Chunk] = chunks or {}

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
                opened[key] = (old[0].copy(), old[1].copy()) if old else _empty_chunk()
            numbers, orientations = opened[key]
            spot = row % CHUNK, column % CHUNK
            numbers[spot] = number
            orientations[spot] = orientation if number else 0
        for key, chunk in opened.items():
            if chunk[0].any():
                chunks[key] = _frozen(chunk)
            else:
                chunks.pop(key, None)
        return Cells(chunks)

    def bounds(self) -> Rect:
        """The smallest rectangle of cells around all that is painted."""
        bounds = Rect(0, 0, 0, 0)
        for (chunk_column, chunk_row), (numbers, _) in self.chunks.items():
            rows, columns = np.nonzero(numbers)
            left, top = int(columns.min()), int(rows.min())
            part = Rect(
                chunk_column * CHUNK + left,
                chunk_row * CHUNK + top,
                int(columns.max()) - left + 1,
                int(rows.max()) - top + 1,
            )
            bounds = bounds.union(part)
        return bounds

    def window(self, area: Rect) -> Chunk:
        """The cells of `area` as two arrays of shape (area.height, area.width)."""
        numbers = np.zeros((area.height, area.width), np.int32)
        orientations = np.zeros((area.height, area.width), np.uint8)
        for (chunk_column, chunk_row), chunk in self.chunks_in(area):
            place = Rect(chunk_column * CHUNK, chunk_row * CHUNK, CHUNK, CHUNK)
            part = place.intersection(area)
            inside = np.s_[
                part.y - place.y : part.bottom - place.y, part.x - place.x : part.right - place.x
            ]
            target = np.s_[
                part.y - area.y : part.bottom - area.y, part.x - area.x : part.right - area.x
            ]
            numbers[target] = chunk[0][inside]
            orientations[target] = chunk[1][inside]
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
        return sum(int(np.count_nonzero(numbers)) for numbers, _ in self.chunks.values())

    def used(self) -> set[int]:
        """The numbers of all pieces painted here."""
        found: set[int] = set()
        for numbers, _ in self.chunks.values():
            found.update(np.flatnonzero(np.bincount(numbers.ravel())).tolist())
        return found - {0}

    def places_of(self, numbers: Collection[int]) -> Iterator[Key]:
        """The (column, row) of every cell that holds one of those pieces."""
        wanted = np.array(sorted(numbers), np.int32)
        for (chunk_column, chunk_row), (held, _) in self.chunks.items():
            for row, column in np.argwhere(np.isin(held, wanted)).tolist():
                yield chunk_column * CHUNK + column, chunk_row * CHUNK + row

    def rows(self) -> list[dict[str, Any]]:
        """The painted cells as runs: a list of {y, x, cells} with cells [number, count] or
        [number, count, orientation]; number 0 skips. This is how files hold them."""
        bounds = self.bounds()
        numbers, orientations = self.window(bounds)
        rows = []
        for offset in range(bounds.height):
            filled = np.flatnonzero(numbers[offset])
            if len(filled):
                first, last = int(filled[0]), int(filled[-1])
                runs = _runs(numbers[offset, first : last + 1], orientations[offset, first:])
                rows.append({"y": bounds.y + offset, "x": bounds.x + first, "cells": runs})
        return rows

    @classmethod
    def from_rows(cls, rows: list[dict[str, Any]]) -> Cells:
        """Read what `rows` wrote. Raises ValueError for runs that make no sense."""
        changes: dict[Key, tuple[int, int]] = {}
        for row in rows:
            column = row["x"]
            for number, count, *rest in row["cells"]:
                orientation = rest[0] if rest else 0
                if count < 1 or number < 0 or not 0 <= orientation < 8:
                    raise ValueError(f"row {row['y']} holds a run that makes no sense")
                if number:
                    for step in range(count):
                        changes[column + step, row["y"]] = (number, orientation)
                column += count
        return cls().painted(changes)

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


def _runs(numbers: Numbers, orientations: Orientations) -> list[list[int]]:
    runs: list[list[int]] = []
    previous = None
    for number, orientation in zip(numbers.tolist(), orientations.tolist(), strict=False):
        if (number, orientation) == previous:
            runs[-1][1] += 1
        else:
            runs.append([number, 1, orientation] if orientation else [number, 1])
            previous = (number, orientation)
    return runs
