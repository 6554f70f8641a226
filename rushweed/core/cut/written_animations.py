"""A sheet gets the animations that are written in one line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.cut.animation_line import Written, read_line
from rushweed.core.cut.animations import find_animation, remove_animation, rename_animation
from rushweed.core.cut.naming import name_pieces
from rushweed.core.project.project import Project, free_name, with_sheet
from rushweed.core.project.sheet import Animation, Sheet


def animate_as_written(project: Project, sheet: str, text: str) -> Project:
    """Give a sheet the animations that a line means, and no others.

    One that is called otherwise now keeps what plays it; holds stay while frames do. Frames get
    names of their animation (`walk_1`) where they have none, or one that was made so. Raises
    Misread.
    """
    old = project.sheet(sheet)
    written = read_line(text, old)
    renamed = _renamed(old.animations, written)
    for name in [a.name for a in old.animations if a.name not in renamed]:
        project = remove_animation(project, sheet, name)
    for name in renamed:
        project = rename_animation(project, sheet, name, f"{name}\x00")
    for name, new in renamed.items():
        project = rename_animation(project, sheet, f"{name}\x00", new)
    known = project.sheet(sheet)
    animations = tuple(_animation(one, find_animation(known, one.name)) for one in written)
    project = with_sheet(project, sheet, lambda s: replace(s, animations=animations))
    return name_pieces(project, _frame_names(old, animations))


def _animation(one: Written, known: Animation | None) -> Animation:
    holds = known.holds if known and known.frames == one.frames else ()
    return Animation(one.name, one.frames, one.rate, one.play, holds)


def _renamed(old: Sequence[Animation], written: Sequence[Written]) -> dict[str, str]:
    """What each animation is called now: the same name, else the one with most of its frames."""
    names = {one.name for one in written}
    renamed = {a.name: a.name for a in old if a.name in names}
    free = [one for one in written if one.name not in renamed]
    for animation in old:
        if animation.name in renamed or not free:
            continue
        shared = [len({*animation.frames} & {*one.frames}) for one in free]
        if max(shared) * 2 > len(set(animation.frames)):
            renamed[animation.name] = free.pop(shared.index(max(shared))).name
    return renamed


def _frame_names(old: Sheet, animations: Sequence[Animation]) -> dict[int, str]:
    """Names for frames without one, and for those that an earlier line has named."""
    made = {
        number: f"{animation.name}_{place}"
        for animation in reversed(old.animations)
        for place, number in reversed([*enumerate(animation.frames, 1)])
    }
    given = {piece.number for piece in old.pieces if piece.name not in ("", made.get(piece.number))}
    taken = {piece.name for piece in old.pieces if piece.number in given}
    names = {piece.number: "" for piece in old.pieces if piece.name and piece.number not in given}
    for animation in animations:
        for place, number in enumerate(animation.frames, 1):
            if number not in given and not names.get(number):
                names[number] = free_name(f"{animation.name}_{place}", taken)
                taken.add(names[number])
    return names
