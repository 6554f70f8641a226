"""Rafts: what travels in a level seen from above and stops nobody carries whoever stands on it, and
under it nothing stops a walker."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple

from rushweed.core.bound.slabs import Slab
from rushweed.core.walk.bodies import BodyState
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.world import World

STEP_ABOARD = 0.25
"""A raft reaches so many tiles beyond its picture: one steps aboard before it touches the bank."""


class Raft(NamedTuple):
    """How far a body that carries reaches, in pixels of the level."""

    body: int
    left: float
    top: float
    right: float
    bottom: float

    def holds(self, x: float, y: float) -> bool:
        """Whether a place is on it."""
        return self.left <= x < self.right and self.top <= y < self.bottom


def rafts(ground: World, states: Sequence[BodyState]) -> list[Raft]:
    """The rafts of a level, the foremost last."""
    found, further = [], STEP_ABOARD * min(ground.project.rules.tile)
    for number, (body, state) in enumerate(zip(ground.moving.bodies, states, strict=True)):
        if body.is_raft:
            x, y, width, height = body.drawn
            left, top = state.x + x - further, state.y + y - further
            right, bottom = left + width + 2 * further, top + height + 2 * further
            found.append(Raft(number, left, top, right, bottom))
    return found


def raft_at(ground: World, states: Sequence[BodyState], x: float, y: float) -> Raft | None:
    """The foremost raft at a place."""
    return next((raft for raft in reversed(rafts(ground, states)) if raft.holds(x, y)), None)


def mover_from_above(ground: World, states: tuple[BodyState, ...], height: float) -> Mover:
    """The box of a walker's feet among all that is solid and under no raft."""
    mover = ground.mover(states, height)
    floating = rafts(ground, states)
    return _Afloat(mover, floating) if floating else mover


class _Afloat(Mover):
    """A box among slabs that end where a raft begins."""

    def __init__(self, mover: Mover, floating: list[Raft]) -> None:
        super().__init__(mover.solids, mover.half, mover.height, mover.moving)
        self._floating = floating

    def near(self, left: float, top: float, right: float, bottom: float) -> Sequence[Slab]:
        found = super().near(left, top, right, bottom)
        for raft in self._floating:
            found = [part for slab in found for part in beside(slab, raft)]
        return found


def beside(slab: Slab, raft: Raft) -> Iterator[Slab]:
    """What is left of a slab beside a raft. What is not upright goes where the raft's middle is on
    it, and stays else."""
    top, bottom = min(slab.top_left, slab.top_right), max(slab.bottom_left, slab.bottom_right)
    if slab.body >= 0 or slab.left >= raft.right or slab.right <= raft.left:
        yield slab
        return
    if top >= raft.bottom or bottom <= raft.top:
        yield slab
        return
    if slab.top_left != slab.top_right or slab.bottom_left != slab.bottom_right:
        if not raft.holds((slab.left + slab.right) / 2, (top + bottom) / 2):
            yield slab
        return
    if slab.left < raft.left:
        yield replace(slab, right=raft.left)
    if slab.right > raft.right:
        yield replace(slab, left=raft.right)
    middle = replace(slab, left=max(slab.left, raft.left), right=min(slab.right, raft.right))
    if top < raft.top:
        yield replace(middle, bottom_left=raft.top, bottom_right=raft.top)
    if bottom > raft.bottom:
        yield replace(middle, top_left=raft.bottom, top_right=raft.bottom)
