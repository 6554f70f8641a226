"""Merging what two made of one project: what either did is there, whatever they called it and
whichever numbers they gave."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, replace
from itertools import count
from typing import Any

from rushweed.core.project.checking import all_pieces
from rushweed.core.project.named import FIGURES, OF_PROJECT, SHEETS, Named, animations_of
from rushweed.core.project.project import Project, free_name, taken_names
from rushweed.core.project.renumbering import renumbered
from rushweed.core.project.sheet import Missing, Piece, Sheet
from rushweed.core.project.sitting import Made
from rushweed.core.project.value_merging import Merging, Where
from rushweed.core.words import say

SHARED = {
    "name": "the project's name",
    "rules": "the ground rules",
    "treatments": "the treatments",
    "recipes": "the recipes",
    "walker": "the walker",
    "hems": "the hems",
    "patches": "the patches",
    "mixes": "the mixes",
    "figures": "the figures",
}
"""What the whole project shares, by its field, in words."""
ALIKE = 0.5
"""A thing that has another name and so much of its own in common with one that is gone is it."""


def merged(base: Project, mine: Project, theirs: Project) -> Made[list[str]]:
    """What either changed of a project, and in words what met: both changed it, each in another
    way, and it is as it is in `mine`. New things of both that are called alike get names of their
    own, and so do new pieces numbers; what is called otherwise now is so for both.
    """
    merging = Merging([])
    for named in OF_PROJECT:
        base, mine, theirs = _called_alike(named, base, mine, theirs, merging.met)
    for sheet in theirs.sheets:
        named = animations_of(sheet.name)
        base, mine, theirs = _called_alike(named, base, mine, theirs, merging.met)
    free = max(one.next_number for one in (base, mine, theirs))
    theirs = _numbered_apart(base, mine, theirs, free)
    free = max(free, theirs.next_number)
    was, here, there = (replace(one, next_number=free) for one in (base, mine, theirs))
    project: Project = merging.of(was, here, there)
    known = {piece.number: piece for one in (base, mine, theirs) for piece in _every_piece(one)}
    sheets = tuple(_whole(sheet, known) for sheet in project.sheets)
    met = list(dict.fromkeys(map(in_words, merging.met)))
    return Made(_figures_apart(replace(project, sheets=sheets)), met)


def _called_alike(
    named: Named, base: Project, mine: Project, theirs: Project, met: list[Where]
) -> tuple[Project, Project, Project]:
    """All three with what either called otherwise under its new name; and theirs with what both
    added under one name, each another thing, under a name of its own."""
    ours, others = (_renames(named, base, side) for side in (mine, theirs))
    was = named.names(base) | {*others.values()}
    here = {one.name: one for one in named.things(mine)}
    for one in named.things(theirs):
        if one.name not in was and here.get(one.name, one) != one:
            taken = named.names(mine) | named.names(theirs)
            theirs = named.called(theirs, one.name, free_name(one.name, taken))
    for old in {**ours, **others}:
        called, theirs_called = ours.get(old, old), others.get(old, old)
        new = called if old in ours else theirs_called
        if old in ours and old in others and called != theirs_called:
            met.append((named.field, new, "name"))
        taken = (named.names(mine) - {called}) | (named.names(theirs) - {theirs_called})
        new = free_name(new, taken)
        base = named.called(base, old, new)
        mine, theirs = named.called(mine, called, new), named.called(theirs, theirs_called, new)
    return base, mine, theirs


def _renames(named: Named, base: Project, side: Project) -> dict[str, str]:
    """What a side called otherwise, by its old name."""
    was = {one.name: one for one in named.things(base)}
    here = {one.name: one for one in named.things(side)}
    new = [one for name, one in here.items() if name not in was]
    found: dict[str, str] = {}
    for name, old in was.items():
        if name not in here and new:
            likest = max(new, key=lambda one: _shared(old, one))
            if _shared(old, likest) > ALIKE:
                found[name] = likest.name
                new.remove(likest)
    return found


def _shared(old: Any, new: Any) -> float:
    """The part of what a thing says of its own, beside its name, that another says too; of sheets,
    the part of their pieces."""
    if isinstance(old, Sheet) and old.pieces:
        numbers = {piece.number for piece in all_pieces(old)}
        return len(numbers & {piece.number for piece in all_pieces(new)}) / len(numbers)
    own = [
        field.name
        for field in fields(old)
        if field.name != "name" and getattr(old, field.name) != field.default
    ]
    same = sum(getattr(old, name) == getattr(new, name) for name in own)
    return same / len(own) if own else 0.0


def _numbered_apart(base: Project, mine: Project, theirs: Project, free: int) -> Project:
    """Theirs, with those of its new pieces numbered anew whose numbers other pieces have here."""
    was = {piece.number for piece in _every_piece(base)}
    here, there = (
        {
            piece.number: (sheet.name, piece.rect)
            for sheet in one.sheets
            for piece in all_pieces(sheet)
            if piece.number not in was
        }
        for one in (mine, theirs)
    )
    given = count(free)
    numbers = {
        number: next(given)
        for number, what in sorted(there.items())
        if here.get(number, what) != what
    }
    theirs = renumbered(theirs, numbers)
    return replace(theirs, next_number=max(theirs.next_number, free + len(numbers)))


def _whole(sheet: Sheet, known: dict[int, Piece]) -> Sheet:
    """A sheet that has each piece once, and those its animations show that one side let go of as
    missing ones."""
    taken = {piece.number for piece in sheet.pieces}
    missing = [one for one in sheet.missing if one.piece.number not in taken]
    taken |= {one.piece.number for one in missing}
    shown = dict.fromkeys(frame for one in sheet.animations for frame in one.frames)
    lost = [known[number] for number in shown if number not in taken and number in known]
    missing += map(Missing, lost)
    taken |= {piece.number for piece in lost}
    earlier = tuple(piece for piece in sheet.earlier if piece.number not in taken)
    whole = replace(sheet, missing=tuple(missing), earlier=earlier)
    return sheet if whole == sheet else whole


def _figures_apart(project: Project) -> Project:
    """The project in which no figure is called as a sheet is, and no sheet is of two figures."""
    for name in FIGURES.names(project) & SHEETS.names(project):
        project = FIGURES.called(project, name, free_name(name, taken_names(project)))
    taken: set[str] = set()
    left = []
    for one in project.figures:
        own = tuple(name for name in one.sheets if name not in taken)
        taken |= {*own}
        left.append(one if own == one.sheets else replace(one, sheets=own))
    return FIGURES.with_things(project, tuple(one for one in left if one.sheets))


def _every_piece(project: Project) -> Iterator[Piece]:
    return (piece for sheet in project.sheets for piece in all_pieces(sheet))


def in_words(where: Where) -> str:
    """A place in a project, as “the sheet crab › pieces › 12 › pivot”."""
    field, *rest = where
    if field in SHARED:
        return " › ".join((say(SHARED[field]), *rest))
    kind = say("the sheet") if field == SHEETS.field else say("the level")
    return " › ".join((f"{kind} {rest[0]}", *rest[1:])) if rest else kind
