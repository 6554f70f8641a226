"""Merging what two made of one project: what either did is there, whatever they called it and
whichever numbers they gave."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import fields, replace
from itertools import count
from typing import Any, NamedTuple

from rushweed.core.project.checking import all_pieces
from rushweed.core.project.project import Project, free_name, mapped, taken_names, with_sheet
from rushweed.core.project.references import Kind, Reference, renamed
from rushweed.core.project.renumbering import renumbered
from rushweed.core.project.sheet import Missing, Piece, Sheet
from rushweed.core.project.sitting import Made
from rushweed.core.project.value_merging import Merging, Where
from rushweed.core.words import say

ALIKE = 0.5
"""A thing that has another name and so much of its own in common with one that is gone is it."""


class Named(NamedTuple):
    """A list of things that have names: a field of the project, or of one of its sheets; and as
    what they are referred to, if they are."""

    field: str
    kind: Kind | None = None
    sheet: str = ""

    def things(self, project: Project) -> tuple[Any, ...]:
        """What is in it."""
        if not self.sheet:
            things: tuple[Any, ...] = getattr(project, self.field)
            return things
        return next((s.animations for s in project.sheets if s.name == self.sheet), ())

    def with_things(self, project: Project, things: tuple[Any, ...]) -> Project:
        """The project with other things in it."""
        if self.sheet:
            return with_sheet(project, self.sheet, lambda old: replace(old, animations=things))
        return replace(project, **{self.field: things})  # type: ignore[arg-type]

    def called(self, project: Project, old: str, new: str) -> Project:
        """The project with one of the things called otherwise, wherever it is referred to."""
        if old == new:
            return project
        if self.kind is not None:
            project = renamed(project, Reference(self.kind, old, self.sheet), new)
        elif self.field == "figures" and project.walker.figure == old:
            project = replace(project, walker=replace(project.walker, figure=new))
        things = self.things(project)
        called = mapped(things, lambda one: replace(one, name=new) if one.name == old else one)
        return project if called is things else self.with_things(project, called)


NAMED = (
    Named("sheets", "sheet"),
    Named("levels", "level"),
    Named("treatments", "treatment"),
    Named("hems", "hem"),
    *map(Named, ("recipes", "patches", "mixes", "figures")),
)


def merged(base: Project, mine: Project, theirs: Project) -> Made[list[str]]:
    """What either changed of a project, and in words what met: both changed it, each in another
    way, and it is as it is in `mine`. New things of both that are called alike get names of their
    own, and so do new pieces numbers; what is called otherwise now is so for both.
    """
    merging = Merging([])
    for named in NAMED:
        base, mine, theirs = _called_alike(named, base, mine, theirs, merging.met)
    for sheet in theirs.sheets:
        named = Named("animations", "animation", sheet.name)
        base, mine, theirs = _called_alike(named, base, mine, theirs, merging.met)
    free = max(one.next_number for one in (base, mine, theirs))
    theirs = _numbered_apart(base, mine, theirs, free)
    free = max(free, theirs.next_number)
    was, here, there = (replace(one, next_number=free) for one in (base, mine, theirs))
    project: Project = merging.of(was, here, there)
    known = {piece.number: piece for one in (base, mine, theirs) for piece in _every_piece(one)}
    sheets = tuple(_whole(sheet, known) for sheet in project.sheets)
    met = list(dict.fromkeys(map(_words, merging.met)))
    return Made(_figures_apart(replace(project, sheets=sheets)), met)


def _called_alike(
    named: Named, base: Project, mine: Project, theirs: Project, met: list[Where]
) -> tuple[Project, Project, Project]:
    """All three with what either called otherwise under its new name; and theirs with what both
    added under one name, each another thing, under a name of its own."""
    ours, others = (_renames(named, base, side) for side in (mine, theirs))
    was = {one.name for one in named.things(base)} | {*others.values()}
    here = {one.name: one for one in named.things(mine)}
    for one in named.things(theirs):
        if one.name not in was and here.get(one.name, one) != one:
            taken = _names(named, mine) | _names(named, theirs)
            theirs = named.called(theirs, one.name, free_name(one.name, taken))
    for old in {**ours, **others}:
        called, theirs_called = ours.get(old, old), others.get(old, old)
        new = called if old in ours else theirs_called
        if old in ours and old in others and called != theirs_called:
            met.append((named.field, new, "name"))
        taken = (_names(named, mine) - {called}) | (_names(named, theirs) - {theirs_called})
        new = free_name(new, taken)
        base = named.called(base, old, new)
        mine, theirs = named.called(mine, called, new), named.called(theirs, theirs_called, new)
    return base, mine, theirs


def _names(named: Named, project: Project) -> set[str]:
    return {one.name for one in named.things(project)}


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
    figures, sheets = Named("figures"), {sheet.name for sheet in project.sheets}
    for name in [one.name for one in project.figures if one.name in sheets]:
        project = figures.called(project, name, free_name(name, taken_names(project)))
    taken: set[str] = set()
    left = []
    for one in project.figures:
        own = tuple(name for name in one.sheets if name not in taken)
        taken |= {*own}
        left.append(one if own == one.sheets else replace(one, sheets=own))
    return figures.with_things(project, tuple(one for one in left if one.sheets))


def _every_piece(project: Project) -> Iterator[Piece]:
    return (piece for sheet in project.sheets for piece in all_pieces(sheet))


def _words(where: Sequence[str]) -> str:
    """The place of what met, as “the sheet crab › pieces › 12 › pivot”."""
    field, *rest = where
    kind = {"sheets": say("the sheet"), "levels": say("the level")}.get(field)
    if kind is not None and rest:
        field, rest = f"{kind} {rest[0]}", rest[1:]
    return " › ".join((field, *rest))
