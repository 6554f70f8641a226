"""Frames become animations."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.sheet import Animation, Play, Sheet
from rushweed.core.values import Refusal

FASTEST = 120.0


def set_animation(
    project: Project,
    sheet: str,
    name: str,
    frames: Sequence[int],
    rate: float = 8.0,
    play: Play = "loop",
) -> Project:
    """Add or replace one animation of a sheet; `frames` are piece numbers in order."""
    if not 0 < rate <= FASTEST:
        raise Refusal(f"A rate lies between 0 and {FASTEST:g} frames/s.")
    animation = Animation(name, tuple(frames), rate, play)

    def edit(old: Sheet) -> Sheet:
        kept = [a if a.name != name else animation for a in old.animations]
        if animation not in kept:
            kept.append(animation)
        return replace(old, animations=tuple(kept))

    return with_sheet(project, sheet, edit)


def frame_at(animation: Animation, seconds: float) -> int:
    """The piece number shown after that many seconds."""
    count = len(animation.frames)
    step = int(seconds * animation.rate)
    if animation.play == "once":
        return animation.frames[min(step, count - 1)]
    if animation.play == "back and forth" and count > 1:
        turn = step % (2 * count - 2)
        return animation.frames[turn if turn < count else 2 * count - 2 - turn]
    return animation.frames[step % count]


def find_animation(sheet: Sheet, name: str) -> Animation | None:
    """The sheet's animation of that name, or None."""
    return next((a for a in sheet.animations if a.name == name), None)
