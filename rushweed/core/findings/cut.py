"""Findings of Cut."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from functools import partial

from rushweed.core.cut.correcting import keep_inside, leave_out
from rushweed.core.cut.naming import number_equal_names, shown_name
from rushweed.core.cut.overlaps import overlapping, sharing_pixels, with_nothing
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.letting_go import let_go

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
                f"{_count(twice, 'share', 'shares')} a name with others: {_names(sheet, twice)}.",
                "Code that asks for a piece by its name gets any of them.",
                sheet.name,
                sheet.name,
                tuple(twice),
                mend_words="Number them",
                mend=partial(number_equal_names, sheet=sheet.name),
            )


def past_the_edge(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that reach past their picture."""
    for sheet in project.sheets:
        whole = Rect(0, 0, *sheet.size)
        over = [p.number for p in sheet.pieces if p.rect.intersection(whole) != p.rect]
        if over:
            yield Finding(
                "past-the-edge",
                "Cut",
                f"{_count(over)} past the edge of the picture: {_names(sheet, over)}.",
                "What lies outside is empty; the frame will look cut off.",
                sheet.name,
                sheet.name,
                tuple(over),
                mend_words="Cut at the edge",
                mend=partial(keep_inside, sheet=sheet.name, numbers=frozenset(over)),
            )


def overlaps(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that show each other's pixels."""
    for sheet in _uneven(project):
        if not any(overlapping(sheet.pieces)):
            continue
        try:
            shared = sorted(sharing_pixels(sheet.pieces, solid(art.picture(sheet))))
        except Refusal:
            continue
        if shared:
            yield Finding(
                "overlap",
                "Cut",
                f"{len(shared)} pieces show pixels of each other: {_names(sheet, shared)}.",
                "Bits of one frame will be seen in another.",
                sheet.name,
                sheet.name,
                tuple(shared),
            )


def empty_pieces(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces made by hand with nothing in them."""
    for sheet in _uneven(project):
        by_hand = [piece for piece in sheet.pieces if piece.by_hand]
        try:
            empty = sorted(with_nothing(by_hand, solid(art.picture(sheet)))) if by_hand else []
        except Refusal:
            continue
        if empty:
            yield Finding(
                "empty-piece",
                "Cut",
                f"{_count(empty, 'show', 'shows')} nothing: {_names(sheet, empty)}.",
                "In the game nothing will be seen there.",
                sheet.name,
                sheet.name,
                tuple(empty),
                mend_words="Leave out",
                mend=partial(leave_out, sheet=sheet.name, numbers=frozenset(empty)),
            )


def not_cut(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets without a single piece."""
    for sheet in project.sheets:
        if not sheet.pieces and sheet.belongs is None:
            yield Finding(
                "not-cut",
                "Cut",
                f"{sheet.name} is not cut yet.",
                "The game gets nothing of it: only pieces are handed over.",
                sheet.name,
                sheet.name,
            )


def missing_pieces(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that their picture does not show any more."""
    for sheet in project.sheets:
        lost = frozenset(missing.piece.number for missing in sheet.missing)
        if lost:
            names = [missing.piece.name or "unnamed" for missing in sheet.missing]
            more = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
            count = "1 piece is" if len(lost) == 1 else f"{len(lost)} pieces are"
            yield Finding(
                "missing-piece",
                "Cut",
                f"{count} missing since the picture changed: {', '.join(names[:NAMED])}{more}.",
                "Levels and animations that use them show nothing there.",
                sheet.name,
                sheet.name,
                mend_words="Let them go",
                mend=partial(let_go, numbers=lost),
            )


def _uneven(project: Project) -> Iterator[Sheet]:
    """Sheets whose pieces a grid alone does not keep apart."""
    for sheet in project.sheets:
        even = sheet.layout is not None and sheet.layout.kind == "even cells"
        if not even or any(piece.by_hand for piece in sheet.pieces):
            yield sheet


def _count(numbers: list[int], many: str = "reach", one: str = "reaches") -> str:
    return f"1 piece {one}" if len(numbers) == 1 else f"{len(numbers)} pieces {many}"


def _names(sheet: Sheet, numbers: Iterable[int]) -> str:
    wanted = frozenset(numbers)
    named = [shown_name(sheet, piece) for piece in sheet.pieces if piece.number in wanted]
    more = f" and {len(named) - NAMED} more" if len(named) > NAMED else ""
    return ", ".join(named[:NAMED]) + more
