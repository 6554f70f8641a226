"""Ways of moving to begin with, by what kind of game one makes."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from rushweed.core.project.feel import Feel
from rushweed.core.project.rules import Walker

Manner = Literal["plain", "nimble", "swinging", "heavy", "floating"]
MANNERS: dict[Manner, Walker] = {
    "plain": Walker(),
    "nimble": Walker(
        speed=6.0,
        jump=3.2,
        gravity=40.0,
        coyote_time=0.08,
        jump_buffer=0.1,
        variable_jump_height=True,
        feel=Feel(speed_up=0.08, brake=0.06, in_air=0.12, falls=16.0, corner_correction=0.3),
    ),
    "swinging": Walker(
        speed=5.0,
        jump=3.6,
        gravity=30.0,
        coyote_time=0.06,
        jump_buffer=0.08,
        variable_jump_height=True,
        feel=Feel(speed_up=0.6, brake=0.5, in_air=0.9, run=9.0, falls=14.0),
    ),
    "heavy": Walker(
        speed=3.0,
        jump=1.6,
        gravity=30.0,
        feel=Feel(speed_up=0.25, brake=0.15, in_air=1.5, falls=18.0),
    ),
    "floating": Walker(
        speed=4.0,
        jump=4.2,
        gravity=9.0,
        coyote_time=0.1,
        jump_buffer=0.1,
        variable_jump_height=True,
        feel=Feel(speed_up=0.4, brake=0.7, in_air=0.8, falls=4.0, jumps=1, swims=3.5),
    ),
}


def take_manner(walker: Walker, manner: Manner) -> Walker:
    """A walker that moves in that manner; its body, figure, animations and view stay its own."""
    return replace(
        MANNERS[manner],
        body=walker.body,
        figure=walker.figure,
        states=walker.states,
        following=walker.following,
        ways=walker.ways,
    )


def manner_of(walker: Walker) -> Manner | None:
    """The manner in which a walker moves, None for one of its own."""
    return next((name for name in MANNERS if take_manner(walker, name) == walker), None)
