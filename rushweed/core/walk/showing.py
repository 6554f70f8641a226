"""Which of its animations a walker shows."""

from __future__ import annotations

from dataclasses import fields

from rushweed.core.cut.animations import find_animation
from rushweed.core.project.rules import Walker
from rushweed.core.project.sheet import Animation, Sheet
from rushweed.core.walk.motion import Motion

USUAL = {
    "stand": ("stand", "idle"),
    "move": ("move", "walk", "run"),
    "rise": (),
    "fall": (),
    "climb": ("climb",),
    "swim": ("swim",),
}
"""Names that animations of a state often have, where nobody chose one."""
SLOW = 1.0
"""Slower than so many pixels per second it stands."""


def named_states(sheet: Sheet, walker: Walker) -> dict[str, str]:
    """The name of the animation for each state that has one."""
    found = {}
    for state in (field.name for field in fields(walker.states)):
        chosen = getattr(walker.states, state)
        for name in (chosen,) if chosen else USUAL.get(state, ()):
            if find_animation(sheet, name) is not None:
                found[state] = name
                break
    return found


def shown_animation(
    sheet: Sheet, walker: Walker, motion: Motion, from_the_side: bool
) -> Animation | None:
    """The animation for what the walker does, else the nearest that is there; None for none."""
    named = named_states(sheet, walker)
    for state in _states(motion, from_the_side):
        if state in named:
            return find_animation(sheet, named[state])
    return next(iter(sheet.animations), None)


def _states(motion: Motion, from_the_side: bool) -> tuple[str, ...]:
    """What it does, the most fitting state first."""
    if from_the_side:
        if motion.climbing:
            return ("climb", "up", "move", "stand")
        if motion.swims:
            return ("swim", "move", "stand")
        moves = abs(motion.speed_x) > SLOW
        on_ground = ("move", "stand") if moves else ("stand", "move")
        if motion.grounded:
            return on_ground
        return ("rise" if motion.speed_y < 0 else "fall", *on_ground)
    if abs(motion.speed_x) + abs(motion.speed_y) <= SLOW:
        return ("stand", "move")
    if motion.facing_down:
        return ("down" if motion.facing_down > 0 else "up", "move", "stand")
    return ("move", "stand")
