"""What was done to one sheet of a pack, offered for those that are like it and were treated alike
so far: colour key, size, treatment, pivot, names and animations."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from rushweed.core.cut.gathering import cut_again
from rushweed.core.cut.kin import is_alike
from rushweed.core.cut.reshaping import fit_sheets, set_enlarged, set_pixel, unit_of
from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_colour_key
from rushweed.core.gauge.pivots import put_pivot
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.sheet import Animation, ColourKey, Sheet
from rushweed.core.values import Point, Refusal, Size
from rushweed.core.words import say

EDGE = 0.25
"""A key is offered for pictures along whose edge so much is of its colour."""

Edit = Callable[[Project, str], Project]
"""Does the same to another sheet, by its name."""


@dataclass(frozen=True, slots=True)
class Same:
    """What was done, in words, to which sheet, and what does it to each of its kin."""

    what: str
    sheet: str
    names: tuple[str, ...]
    edit: Edit

    def do(self, project: Project) -> Project:
        """Do the same to all kin. Raises Refusal where it cannot be done to one of them."""
        for name in self.names:
            project = self.edit(project, name)
        return project


def same_for_kin(before: Project, after: Project, art: Art) -> Same | None:
    """What could be done to others as well, after one sheet was changed; None for nothing."""
    old, new = _changed(before, after)
    if old is None or new is None:
        return None
    kin = [s for s in after.sheets if s.name != new.name and is_alike(old, s) and not s.belongs]
    for what, takes, edit in _deeds(old, new, art):
        names = tuple(sheet.name for sheet in kin if takes(sheet))
        if names:
            return Same(what, new.name, names, edit)
    return None


def _changed(before: Project, after: Project) -> tuple[Sheet | None, Sheet | None]:
    """The one sheet that was changed, before and after; not when it was cut anew."""
    if len(before.sheets) != len(after.sheets):
        return None, None
    pairs = [
        (one, other)
        for one, other in zip(before.sheets, after.sheets, strict=True)
        if one is not other
    ]
    if len(pairs) != 1:
        return None, None
    old, new = pairs[0]
    as_before = old.layout is not None and old.layout == new.layout
    resized = old.layout is not None and _scale(old) != _scale(new)
    keyed = old.colour_key != new.colour_key
    return (old, new) if old.name == new.name and (as_before or resized or keyed) else (None, None)


Deed = tuple[str, Callable[[Sheet], bool], Edit]


def _deeds(old: Sheet, new: Sheet, art: Art) -> Iterator[Deed]:
    """What was done to a sheet, to which others it may be done, and how."""
    key = new.colour_key
    if key is not None and key != old.colour_key:
        yield (
            say("the colour key"),
            lambda s: _may_have(art, s, key),
            lambda p, n: _keyed(p, art, n, key),
        )
    if (new.treatment, new.differences) != (old.treatment, old.differences):
        yield (
            say("the look"),
            lambda s: (s.treatment, s.differences) == (old.treatment, old.differences),
            lambda p, n: with_sheet(
                p, n, lambda s: replace(s, treatment=new.treatment, differences=new.differences)
            ),
        )
    if _scale(new) != _scale(old):
        drawn = _scale(replace(old, fitted=None))
        yield (
            say("the size"),
            lambda s: _scale(s) in (_scale(old), drawn),
            lambda p, n: _sized(p, n, new),
        )
    pivot, size = _pivot(new)
    if pivot is not None and _pivot(old)[1] == size and pivot != _pivot(old)[0]:
        yield (
            say("the pivot"),
            lambda s: _pivot(s) == (_pivot(old)[0], size),
            lambda p, n: with_sheet(p, n, lambda s: _with_pivot(s, pivot)),
        )
    if _told(new) != _told(old) and _places(new) == _places(old):
        yield (
            say("names and animations"),
            lambda s: bool(s.pieces) and _places(s) == _places(new) and not _is_told(s),
            lambda p, n: with_sheet(p, n, lambda s: _named_as(s, new)),
        )


def _may_have(art: Art, sheet: Sheet, key: ColourKey) -> bool:
    """Whether a sheet without a key may have that one."""
    if sheet.colour_key is not None:
        return False
    try:
        picture = art.stored(sheet)
    except Refusal:
        return False
    edge = np.concatenate([picture[0], picture[-1], picture[:, 0], picture[:, -1]])
    apart = np.abs(edge[:, :3].astype(int) - np.array(key.colour[:3])).max(axis=1)
    return bool(((apart <= key.tolerance) & (edge[:, 3] == 255)).mean() >= EDGE)


def _keyed(project: Project, art: Art, name: str, key: ColourKey) -> Project:
    project = set_colour_key(project, (name,), key.colour, key.tolerance, key.fringe)
    return cut_again(project, art, (name,))


def _scale(sheet: Sheet) -> tuple[object, ...]:
    return sheet.pixel, sheet.enlarged, sheet.fitted


def _sized(project: Project, name: str, like: Sheet) -> Project:
    project = set_pixel(project, (name,), like.pixel)
    project = set_enlarged(project, (name,), like.enlarged)
    fit = like.fitted
    if fit is None:
        return project
    shown = fit.sized(unit_of(project.sheet(name)))
    return fit_sheets(project, (name,), shown, fit.way)


def _pivot(sheet: Sheet) -> tuple[Point | None, Size | None]:
    """The pivot and the size that all pieces share; None where they differ."""
    found = {(piece.pivot, piece.rect.size) for piece in sheet.pieces}
    return found.pop() if len(found) == 1 else (None, None)


def _with_pivot(sheet: Sheet, pivot: Point) -> Sheet:
    return replace(sheet, pieces=tuple(put_pivot(piece, pivot) for piece in sheet.pieces))


def _places(sheet: Sheet) -> frozenset[tuple[int, int]]:
    return frozenset((piece.row, piece.column) for piece in sheet.pieces)


def _told(sheet: Sheet) -> tuple[object, ...]:
    return tuple(piece.name for piece in sheet.pieces), sheet.animations


def _is_told(sheet: Sheet) -> bool:
    return bool(sheet.animations) or any(piece.name for piece in sheet.pieces)


def _named_as(sheet: Sheet, like: Sheet) -> Sheet:
    """A sheet with the names and animations of another one that is cut alike; where the other's
    name is part of them, its own stands."""

    def own(name: str) -> str:
        return name.replace(like.name, sheet.name)

    names = {(piece.row, piece.column): own(piece.name) for piece in like.pieces}
    numbers = {(piece.row, piece.column): piece.number for piece in sheet.pieces}
    place = {piece.number: (piece.row, piece.column) for piece in like.pieces}

    def follows(animation: Animation) -> Animation:
        frames = tuple(numbers[place[frame]] for frame in animation.frames)
        return replace(animation, name=own(animation.name), frames=frames)

    return replace(
        sheet,
        pieces=tuple(replace(p, name=names[p.row, p.column]) for p in sheet.pieces),
        animations=tuple(follows(a) for a in like.animations if set(a.frames) <= place.keys()),
    )
