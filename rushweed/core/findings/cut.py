"""Findings of Cut."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import partial
from itertools import chain
from operator import attrgetter

import numpy as np

from rushweed.core.cut.correcting import keep_inside, leave_out
from rushweed.core.cut.naming import number_equal_names, shown_name
from rushweed.core.cut.overlaps import overlapping, sharing_pixels, with_nothing
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Refusal
from rushweed.core.weave.letting_go import let_go
from rushweed.core.words import say, say_of, some

NAMED = 3


def equal_names(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces of one sheet that are called the same."""
    for sheet in project.sheets:
        counted = Counter(piece.name for piece in sheet.pieces if piece.name)
        twice = [p.number for p in sheet.pieces if counted[p.name] > 1]
        if twice:
            yield Finding(
                "equal-names",
                "Cut",
                say_of(
                    len(twice),
                    "1 piece shares a name with others: {names}.",
                    "{count} pieces share a name with others: {names}.",
                    names=_names(sheet, twice),
                ),
                say("Code that asks for a piece by its name gets any of them."),
                sheet.name,
                sheet.name,
                tuple(twice),
                mend_words=say("Number them"),
                mend=partial(number_equal_names, sheet=sheet.name),
            )


def past_the_edge(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that reach past their picture."""
    for sheet in project.sheets:
        over = [sheet.pieces[place].number for place in _past_the_edge(sheet)]
        if over:
            yield Finding(
                "past-the-edge",
                "Cut",
                say_of(
                    len(over),
                    "1 piece reaches past the edge of the picture: {names}.",
                    "{count} pieces reach past the edge of the picture: {names}.",
                    names=_names(sheet, over),
                ),
                say("What lies outside is empty; the frame will look cut off."),
                sheet.name,
                sheet.name,
                tuple(over),
                mend_words=say("Cut at the edge"),
                mend=partial(keep_inside, sheet=sheet.name, numbers=frozenset(over)),
            )


def _past_the_edge(sheet: Sheet) -> list[int]:
    """The places of pieces that reach past the picture."""
    numbers = chain.from_iterable(map(attrgetter("rect"), sheet.pieces))
    x, y, wide, high = np.fromiter(numbers, np.int64, 4 * len(sheet.pieces)).reshape(-1, 4).T
    width, height = sheet.size
    past = (x < 0) | (y < 0) | (x + wide > width) | (y + high > height)
    return np.flatnonzero(past).tolist()


def overlaps(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that show each other's pixels."""
    for sheet in _uneven(project):
        shared = _found(art, sheet, "sharing pixels", sheet.pieces, _sharing)
        if shared:
            yield Finding(
                "overlap",
                "Cut",
                say(
                    "{count} pieces show pixels of each other: {names}.",
                    count=len(shared),
                    names=_names(sheet, shared),
                ),
                say("Bits of one frame will be seen in another."),
                sheet.name,
                sheet.name,
                shared,
            )


def empty_pieces(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces made by hand with nothing in them."""
    for sheet in _uneven(project):
        by_hand = tuple(piece for piece in sheet.pieces if piece.by_hand)
        empty = _found(art, sheet, "showing nothing", by_hand, _empty) if by_hand else ()
        if empty:
            yield Finding(
                "empty-piece",
                "Cut",
                say_of(
                    len(empty),
                    "1 piece shows nothing: {names}.",
                    "{count} pieces show nothing: {names}.",
                    names=_names(sheet, empty),
                ),
                say("In the game nothing will be seen there."),
                sheet.name,
                sheet.name,
                empty,
                mend_words=say("Leave out"),
                mend=partial(leave_out, sheet=sheet.name, numbers=frozenset(empty)),
            )


def not_cut(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets without a single piece."""
    for sheet in project.sheets:
        if not sheet.pieces and sheet.belongs is None:
            yield Finding(
                "not-cut",
                "Cut",
                say("{name} is not cut yet.", name=sheet.name),
                say("The game gets nothing of it: only pieces are handed over."),
                sheet.name,
                sheet.name,
            )


def missing_pieces(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that their picture does not show any more."""
    for sheet in project.sheets:
        lost = frozenset(missing.piece.number for missing in sheet.missing)
        if lost:
            names = [missing.piece.name or "unnamed" for missing in sheet.missing]
            yield Finding(
                "missing-piece",
                "Cut",
                say_of(
                    len(lost),
                    "1 piece is missing since the picture changed: {names}.",
                    "{count} pieces are missing since the picture changed: {names}.",
                    names=some(names, NAMED),
                ),
                say("Levels and animations that use them show nothing there."),
                sheet.name,
                sheet.name,
                mend_words=say("Let them go"),
                mend=partial(let_go, numbers=lost),
            )


def _uneven(project: Project) -> Iterator[Sheet]:
    """Sheets whose pieces a grid alone does not keep apart."""
    for sheet in project.sheets:
        even = sheet.layout is not None and sheet.layout.kind == "even cells"
        if not even or any(piece.by_hand for piece in sheet.pieces):
            yield sheet


Look = Callable[[Art, Sheet, Sequence[Piece]], frozenset[int]]


def _found(
    art: Art, sheet: Sheet, what: str, pieces: tuple[Piece, ...], look: Look
) -> tuple[int, ...]:
    """The numbers of pieces of which something is so, looked at once; none where the picture cannot
    be read."""
    places = tuple((piece.number, *piece.rect) for piece in pieces)
    try:
        return art.found(
            sheet,
            tuple[int, ...],
            (what, picture_key(sheet), places),
            lambda: tuple(sorted(look(art, sheet, pieces))),
        )
    except Refusal:
        return ()


def _sharing(art: Art, sheet: Sheet, pieces: Sequence[Piece]) -> frozenset[int]:
    if not any(overlapping(pieces)):
        return frozenset()
    return sharing_pixels(pieces, solid(art.picture(sheet)))


def _empty(art: Art, sheet: Sheet, pieces: Sequence[Piece]) -> frozenset[int]:
    return with_nothing(pieces, solid(art.picture(sheet)))


def _names(sheet: Sheet, numbers: Iterable[int]) -> str:
    wanted = frozenset(numbers)
    named = [shown_name(sheet, piece) for piece in sheet.pieces if piece.number in wanted]
    more = say(" and {number} more", number=len(named) - NAMED) if len(named) > NAMED else ""
    return ", ".join(named[:NAMED]) + more
