"""Which of its animations a walker shows."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import fields

from rushweed.core.cut.animations import find_animation
from rushweed.core.project.figure import Cast
from rushweed.core.project.rules import Walker
from rushweed.core.project.sheet import Animation
from rushweed.core.walk.motion import Motion

USUAL = {
    "stand": ("stand", "idle"),
    "move": ("move", "walk", "run", "side", ""),
    "rise": (),
    "fall": (),
    "climb": ("climb",),
    "swim": ("swim",),
    "up": ("up", "north", "n", "back", "away"),
    "down": ("down", "south", "s", "front", "towards"),
}
"""Words that names of animations of a state often have, where nobody chose one; an empty one stands
for a name that only says which way it looks."""
WAYS = {"left": -1, "l": -1, "west": -1, "w": -1, "right": 1, "r": 1, "east": 1, "e": 1}
"""Words of names that say which way a figure looks."""
LEFT = " left"
"""What follows the name of a state for its animation that looks to the left."""
SLOW = 1.0
"""Slower than so many pixels per second it stands."""


def way_of(name: str) -> int:
    """Which way a figure looks by the name of its animation: -1 for left, 1 for right, and 0 where
    the name does not say; then it looks to the right.

    >>> way_of("walk_left"), way_of("walk 2"), way_of("run-E")
    (-1, 0, 1)
    """
    return next((WAYS[word] for word in _words(name) if word in WAYS), 0)


def named_states(cast: Cast, walker: Walker) -> dict[str, str]:
    """The name of the animation for each state that has one, and under the state with ` left` that
    of the one that looks to the left, where it has one of its own. Without any, it is shown as the
    first one."""
    names = [animation.name for animation in cast.animations]
    plain = sorted(names, key=lambda name: len(_bare(name)))
    found: dict[str, str] = {}
    for state in (field.name for field in fields(walker.states)):
        chosen = getattr(walker.states, state)
        if chosen:
            usual = [chosen] if chosen in names else []
        else:
            usual = [name for word in USUAL[state] for name in plain if word in _kinds(name)]
        found |= _both_ways(state, names, usual, walker)
    if not found.keys() & {"stand", "move"}:
        found |= _both_ways("stand", names, names, walker)
    return found


def _both_ways(
    state: str, names: Sequence[str], usual: Sequence[str], walker: Walker
) -> dict[str, str]:
    """The first of the usual names for a state, rather one that looks to the right, and what looks
    to the left and is called the same otherwise."""
    if not usual:
        return {}
    alike = [name for name in names if _bare(name) == _bare(usual[0])]

    def looks(name: str) -> int:
        return way_of(name) or walker.drawn_way

    right = next((name for name in [usual[0], *alike] if looks(name) > 0), usual[0])
    left = next((name for name in alike if looks(name) < 0), right)
    return {state: right} if left == right else {state: right, state + LEFT: left}


def _words(name: str) -> list[str]:
    return [word for word in re.split(r"[\W_\d]+", name.lower()) if word]


def _bare(name: str) -> tuple[str, ...]:
    """A name without what says which way it looks."""
    return tuple(word for word in _words(name) if word not in WAYS)


def _kinds(name: str) -> tuple[str, ...]:
    return _bare(name) or ("",)


def shown_animation(
    cast: Cast, walker: Walker, motion: Motion, from_the_side: bool
) -> Animation | None:
    """The animation for what the walker does, else the nearest that is there; None for none."""
    named = named_states(cast, walker)
    for state in _states(motion, from_the_side):
        if state in named:
            left = named.get(state + LEFT) if motion.facing < 0 else None
            return find_animation(cast, left or named[state])
    return next(iter(cast.animations), None)


def is_flipped(animation: Animation | None, motion: Motion, walker: Walker) -> bool:
    """Whether the frames look the other way than the walker: as they are named, else drawn."""
    named = way_of(animation.name) if animation else 0
    return (named or walker.drawn_way) != motion.facing


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
