"""The project as one immutable value, and how to find and replace its parts."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import compress
from operator import attrgetter, is_
from typing import TypeVar

from rushweed.core.newest import for_newest
from rushweed.core.project.drawing_sets import Hem, Mix, Patch
from rushweed.core.project.figure import Cast, Figure, cast_of
from rushweed.core.project.inheriting import passed_on
from rushweed.core.project.level import Level
from rushweed.core.project.rules import (
    GroundRules,
    Recipe,
    Treatment,
    Walker,
    default_treatments,
)
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.value_ranges import HIGHEST_NUMBER
from rushweed.core.values import Refusal

Thing = TypeVar("Thing")


@dataclass(frozen=True, slots=True)
class Project:
    """Everything that was decided. `next_number` is the number the next new piece gets; it is never
    given twice. Raises Refusal when no numbers are left."""

    name: str = "Untitled"
    rules: GroundRules = GroundRules()
    treatments: tuple[Treatment, ...] = default_treatments()
    recipes: tuple[Recipe, ...] = (Recipe("Game"),)
    walker: Walker = Walker()
    sheets: tuple[Sheet, ...] = ()
    levels: tuple[Level, ...] = ()
    hems: tuple[Hem, ...] = ()
    patches: tuple[Patch, ...] = ()
    mixes: tuple[Mix, ...] = ()
    figures: tuple[Figure, ...] = ()
    next_number: int = 1

    def __post_init__(self) -> None:
        if self.next_number > HIGHEST_NUMBER + 1:
            raise Refusal(
                "All numbers for pieces are used up, for one in the project's files is very high. "
                "Give that piece a lower number there, and next_number too."
            )

    def sheet(self, name: str) -> Sheet:
        """The sheet of that name. Raises Refusal when there is none."""
        for sheet in self.sheets:
            if sheet.name == name:
                return sheet
        raise Refusal("There is no sheet called “{name}”.", name=name)

    def level(self, name: str) -> Level:
        """The level of that name. Raises Refusal when there is none."""
        for level in self.levels:
            if level.name == name:
                return level
        raise Refusal("There is no level called “{name}”.", name=name)

    def cast(self, name: str) -> Cast | None:
        """The figure of that name, or the sheet that is one by itself, or None."""
        return cast_of(self.sheets, self.figures, name)

    def pieces(self) -> Iterator[tuple[Sheet, Piece]]:
        """Every piece with its sheet, in the order of the sheets."""
        for sheet in self.sheets:
            for piece in sheet.pieces:
                yield sheet, piece

    def find(self, number: int) -> tuple[Sheet, Piece] | None:
        """The piece with that number and its sheet, or None."""
        return piece_index(self).get(number)


NUMBER = attrgetter("number")


class PieceIndex(Mapping[int, tuple[Sheet, Piece]]):
    """Every piece with its sheet by its number."""

    def __init__(self, sheets: tuple[Sheet, ...]) -> None:
        self._sheets = sheets
        self._places = _places(tuple(tuple(map(NUMBER, sheet.pieces)) for sheet in sheets))

    def __getitem__(self, number: int) -> tuple[Sheet, Piece]:
        of_sheet, of_piece = self._places[number]
        sheet = self._sheets[of_sheet]
        return sheet, sheet.pieces[of_piece]

    def __contains__(self, number: object) -> bool:
        return number in self._places

    def __iter__(self) -> Iterator[int]:
        return iter(self._places)

    def __len__(self) -> int:
        return len(self._places)

    def among(self, numbers: frozenset[int]) -> frozenset[int]:
        """Those of some numbers that are pieces'; the same object where all are."""
        known = self._places.keys()
        return numbers if known >= numbers else numbers & known


def piece_index(project: Project) -> PieceIndex:
    """Every piece by its number; kept for the newest few versions of the sheets."""
    return _indexed(project.sheets)


_indexed = for_newest(PieceIndex)


@lru_cache(maxsize=4)
def _places(numbers: tuple[tuple[int, ...], ...]) -> dict[int, tuple[int, int]]:
    """Where each number is, by sheet and piece. Edits hardly ever change that."""
    return {
        number: (of_sheet, of_piece)
        for of_sheet, of_one in enumerate(numbers)
        for of_piece, number in enumerate(of_one)
    }


def used_numbers(project: Project) -> frozenset[int]:
    """The numbers of all pieces that some level uses; the same object while they are the same."""
    return _used_in(project.levels)


@for_newest
def _used_in(levels: tuple[Level, ...]) -> frozenset[int]:
    return _as_before(frozenset().union(*map(numbers_in, levels)))


@lru_cache(maxsize=4)
def _as_before(numbers: frozenset[int]) -> frozenset[int]:
    """The object of before for numbers that were told already."""
    return numbers


def numbers_in(level: Level) -> frozenset[int]:
    """The numbers of all pieces that a level uses."""
    found: set[int] = set()
    for layer in level.layers:
        found |= layer.cells.used()
        found |= {prop.piece for prop in layer.props}
    return frozenset(found)


def with_sheet(project: Project, name: str, edit: Callable[[Sheet], Sheet]) -> Project:
    """The project with one sheet edited; the same object when the edit changed nothing."""
    old = project.sheet(name)
    new = edit(old)
    if new is old or new == old:
        return project
    sheets = tuple(new if sheet is old else sheet for sheet in project.sheets)
    return replace(project, sheets=passed_on(project.sheets, sheets))


def with_sheets(
    project: Project, names: tuple[str, ...], edit: Callable[[Sheet], Sheet]
) -> Project:
    """The project with the same edit made on several sheets."""
    wanted = set(names)
    for name in wanted - {sheet.name for sheet in project.sheets}:
        project.sheet(name)

    def edit_wanted(old: Sheet) -> Sheet:
        new = edit(old) if old.name in wanted else old
        return old if new == old else new

    sheets = mapped(project.sheets, edit_wanted)
    if sheets is project.sheets:
        return project
    return replace(project, sheets=passed_on(project.sheets, sheets))


def mapped(parts: tuple[Thing, ...], edit: Callable[[Thing], Thing]) -> tuple[Thing, ...]:
    """Every part edited; the same object where the edit gave back each one as it was."""
    new = tuple(map(edit, parts))
    return parts if all(map(is_, new, parts)) else new


def with_pieces(
    project: Project, numbers: frozenset[int], edit: Callable[[Piece], Piece]
) -> Project:
    """The project with the same edit made on the pieces of those numbers, on any sheets."""

    def edit_sheet(sheet: Sheet) -> Sheet:
        if numbers.isdisjoint(map(NUMBER, sheet.pieces)):
            return sheet
        return replace(sheet, pieces=edited(sheet.pieces, numbers, edit))

    return with_sheets(project, tuple(sheet.name for sheet in project.sheets), edit_sheet)


def edited(
    pieces: tuple[Piece, ...], numbers: frozenset[int], edit: Callable[[Piece], Piece]
) -> tuple[Piece, ...]:
    """The pieces, with the same edit made on those of these numbers."""
    changed = list(pieces)
    meant = map(numbers.__contains__, map(NUMBER, pieces))
    for place in list(compress(range(len(pieces)), meant)):
        changed[place] = edit(changed[place])
    return tuple(changed)


def with_level(project: Project, name: str, edit: Callable[[Level], Level]) -> Project:
    """The project with one level edited; the same object when the edit changed nothing."""
    old = project.level(name)
    new = edit(old)
    if new is old:
        return project
    levels = tuple(new if level is old else level for level in project.levels)
    return replace(project, levels=levels)


def taken_names(project: Project) -> set[str]:
    """The names of sheets and figures, of which no two may be alike: one walks as either."""
    return {one.name for one in project.sheets} | {one.name for one in project.figures}


def free_name(wanted: str, taken: set[str]) -> str:
    """The wanted name, or the first of “name 2”, “name 3” … that is free."""
    if wanted not in taken:
        return wanted
    count = 2
    while f"{wanted} {count}" in taken:
        count += 1
    return f"{wanted} {count}"
