"""Names of pieces."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache, partial

from rushweed.core.cut.animations import find_animation, rename_animation, set_animation
from rushweed.core.newest import for_newest
from rushweed.core.project.project import NUMBER, Project, free_name, with_pieces
from rushweed.core.project.sheet import Piece, Play, Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import counted

LIST = re.compile(r"\r\n|[,;\t\n\r\u2028\u2029]")
FIELD = re.compile(r"\{(?P<name>\w+)(?::(?P<digits>\d))?\}")


def name_pieces(project: Project, names: Mapping[int, str]) -> Project:
    """Give pieces names, by their numbers; an empty name takes one away."""
    return with_pieces(
        project, frozenset(names), lambda piece: replace(piece, name=names[piece.number].strip())
    )


def listed_names(sheet: Sheet, chosen: frozenset[int], text: str) -> dict[int, str]:
    """A list of names, parted by commas, tabs or ends of lines, by the numbers of the pieces that
    they are for: the chosen ones in reading order, or, where one is chosen, from that on; what has
    nothing between two commas keeps its name. Raises Refusal for more names than pieces."""
    names = [name.strip() for name in LIST.split(text.strip())]
    places = [place for place, piece in enumerate(sheet.pieces) if piece.number in chosen]
    pieces = [sheet.pieces[place] for place in places]
    if len(pieces) == 1:
        pieces = list(sheet.pieces[places[0] :])
    if len(names) > len(pieces):
        raise Refusal(
            "{names} for {pieces}: take some away.",
            names=counted(len(names), "name", "names"),
            pieces=counted(len(pieces), "piece", "pieces"),
        )
    given = zip(pieces, names, strict=False)
    return {piece.number: name for piece, name in given if name or len(names) == 1}


def pattern_names(
    sheet: Sheet, pattern: str, rows: Sequence[str] = (), only: Collection[int] = ()
) -> dict[int, str]:
    """A name for every piece, or for those of the numbers `only`, by a pattern such as
    `{sheet}_{row}_{n:2}`.

    `{n}` counts along the row and `{i}` through all that are named, from 1, with as many digits
    as are asked for; `{row}` is the row's name, else its number; `{name}` is the name so far.
    Raises Refusal for other patterns.
    """
    chosen = [piece for piece in sheet.pieces if not only or piece.number in only]
    names: dict[int, str] = {}
    counted: dict[int, int] = {}
    for place, piece in enumerate(chosen, 1):
        counted[piece.row] = counted.get(piece.row, 0) + 1
        row = rows[piece.row] if piece.row < len(rows) and rows[piece.row] else piece.row + 1
        values = {
            "sheet": sheet.name,
            "row": row,
            "n": counted[piece.row],
            "i": place,
            "name": piece.name or f"{sheet.name}_{place}",
        }
        names[piece.number] = FIELD.sub(partial(_value, values=values), pattern)
    return names


def name_by_pattern(
    project: Project,
    sheet: str,
    pattern: str,
    rows: Sequence[str] = (),
    only: Collection[int] = (),
) -> Project:
    """Name all pieces of a sheet by a pattern; rows that have a name become animations, and one
    whose name is corrected keeps its animation under the new one. Rows of one name are told apart
    by a number. With `only`, nothing but the pieces of those numbers is named."""
    old = project.sheet(sheet)
    rows = distinct(rows)
    project = name_pieces(project, pattern_names(old, pattern, rows, only))
    if only:
        return project
    project = _with_renamed_rows(project, old, rows)
    for index, name in enumerate(rows):
        frames = [piece.number for piece in old.pieces if piece.row == index]
        if name and frames:
            known = find_animation(project.sheet(sheet), name)
            rate = known.rate if known else 8.0
            play: Play = known.play if known else "loop"
            project = set_animation(project, sheet, name, frames, rate, play)
    return project


def distinct(names: Sequence[str]) -> list[str]:
    """The names with “a, a, b” as “a, a 2, b”; empty ones stay empty."""
    taken: set[str] = set()
    result = []
    for name in names:
        result.append(free_name(name, taken) if name else "")
        taken.add(result[-1])
    return result


def _with_renamed_rows(project: Project, sheet: Sheet, rows: Sequence[str]) -> Project:
    """The animations of rows that are called otherwise now, under their new names; all at once,
    so that two may change places."""
    old = row_names(sheet)
    changes = [(a, b) for a, b in zip(old, rows, strict=False) if a and b and a != b]
    for name, _ in changes:
        project = rename_animation(project, sheet.name, name, f"{name}\x00")
    for name, new in changes:
        taken = find_animation(project.sheet(sheet.name), new) is not None
        wanted = free_name(new, {a.name for a in sheet.animations}) if taken else new
        project = rename_animation(project, sheet.name, f"{name}\x00", wanted)
    return project


def number_equal_names(project: Project, sheet: str) -> Project:
    """Give pieces of a sheet that are called the same a number each, the first one apart."""
    taken = {piece.name for piece in project.sheet(sheet).pieces}
    met: set[str] = set()
    names = {}
    for piece in project.sheet(sheet).pieces:
        if piece.name and piece.name in met:
            names[piece.number] = free_name(piece.name, taken)
            taken.add(names[piece.number])
        met.add(piece.name)
    return name_pieces(project, names)


def row_names(sheet: Sheet) -> list[str]:
    """The names of a sheet's rows, as far as its animations tell them."""
    rows = max((piece.row for piece in sheet.pieces), default=-1) + 1
    names = [""] * rows
    row_of = {piece.number: piece.row for piece in sheet.pieces} if sheet.animations else {}
    for animation in sheet.animations:
        places = {row_of[frame] for frame in animation.frames if frame in row_of}
        if len(places) == 1:
            names[places.pop()] = animation.name
    return names


def _value(match: re.Match[str], values: Mapping[str, str | int]) -> str:
    name, digits = match["name"], match["digits"]
    if name not in values:
        raise Refusal(
            "A name's pattern knows {{sheet}}, {{row}}, {{n}}, {{i}} and {{name}}, but "
            "not {{{name}}}.",
            name=name,
        )
    text = str(values[name])
    return text.zfill(int(digits)) if digits else text


def shown_name(sheet: Sheet, piece: Piece) -> str:
    """What to call a piece: its name, else its sheet and place in reading order."""
    if piece.name:
        return piece.name
    if len(sheet.pieces) == 1:
        return sheet.name
    return f"{sheet.name}_{piece_index(sheet, piece) + 1}"


def piece_index(sheet: Sheet, piece: Piece) -> int:
    """The piece's place in reading order, from 0."""
    return _places(sheet.pieces)[piece.number]


@for_newest
def _places(pieces: tuple[Piece, ...]) -> dict[int, int]:
    return _places_of(tuple(map(NUMBER, pieces)))


@lru_cache(maxsize=4)
def _places_of(numbers: tuple[int, ...]) -> dict[int, int]:
    """Where each number is. Edits hardly ever change that."""
    return dict(zip(numbers, range(len(numbers)), strict=True))


def groups_of(sheet: Sheet) -> list[str]:
    """For each piece the first animation it belongs to, else its row; empty when it is loose."""
    animated = {
        frame: animation.name
        for animation in reversed(sheet.animations)
        for frame in animation.frames
    }
    in_rows = sheet.layout is not None and sheet.layout.kind == "even cells"
    return [
        animated.get(piece.number) or (f"row {piece.row + 1}" if in_rows else "")
        for piece in sheet.pieces
    ]
