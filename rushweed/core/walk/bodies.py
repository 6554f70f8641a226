"""Bodies that move: they travel along paths, fall, are pushed, and turn about their pivots."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rushweed.core.bound.bodies import place_on_path
from rushweed.core.bound.slabs import Slab, slabs
from rushweed.core.project.body import BodyKind, Path
from rushweed.core.project.level import Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Size
from rushweed.core.walk.mover import TOUCH, Mover
from rushweed.core.walk.solids import Solids, body_of, is_walked
from rushweed.core.weave.posing import posed_shapes, rotated_shape

STEP = 1 / 60
TILT, TILT_STEP = 24, 1
"""A hinged body tilts at most so many degrees, and so many in a step."""
FASTEST_FALL = 12.0
"""Pixels a step."""


@dataclass(frozen=True, slots=True)
class BodyState:
    """Where a body is: its pivot in pixels of the level, how fast it falls in pixels per second,
    for how many seconds it has travelled, and by how many degrees it is turned, clockwise."""

    x: float
    y: float
    speed_y: float = 0.0
    seconds: float = 0.0
    angle: int = 0


class Moving:
    """The bodies of a level that move, each with its shapes about its pivot."""

    def __init__(self, project: Project, level: Level) -> None:
        self.bodies: list[_Body] = []
        self.props: dict[tuple[int, int], int] = {}
        """Which body a prop is, by its layer and its place there."""
        for number, layer in enumerate(level.layers):
            if not is_walked(layer):
                continue
            for place, prop in enumerate(layer.props):
                kind = body_of(project, prop)
                found = project.find(prop.piece)
                if kind != "fixed" and found is not None:
                    self.props[number, place] = len(self.bodies)
                    self.bodies.append(_Body(project, prop, kind))

    def begin(self) -> tuple[BodyState, ...]:
        """All bodies where they stand at first."""
        return tuple(BodyState(body.start.x, body.start.y) for body in self.bodies)

    def slabs(self, states: Sequence[BodyState], without: int = -1) -> list[Slab]:
        """The slabs of all bodies, or of all but one."""
        return [
            slab
            for number, (body, state) in enumerate(zip(self.bodies, states, strict=True))
            if number != without
            for slab in body.slabs(state, number)
        ]

    def advance(
        self, states: tuple[BodyState, ...], solids: Solids, gravity: float
    ) -> tuple[BodyState, ...]:
        """A step later, walkers left out; gravity in pixels per second squared."""
        now = list(states)
        for number, body in enumerate(self.bodies):
            if body.kind == "travels":
                now[number] = body.travelled(now[number])
            elif body.kind in ("falls", "pushed") and body.box is not None:
                others = Mover(solids, *body.extent, self.slabs(now, without=number))
                now[number] = body.fallen(now[number], others, gravity)
        return tuple(now)

    def pushed(
        self, states: tuple[BodyState, ...], number: int, move: float, solids: Solids
    ) -> tuple[tuple[BodyState, ...], float]:
        """Push a body sideways as far as it goes. Returns all bodies, and how far it went."""
        body, state = self.bodies[number], states[number]
        if body.kind != "pushed" or body.box is None:
            return states, 0.0
        others = Mover(solids, *body.extent, self.slabs(states, without=number))
        x, _, _ = others.across(*body.foot(state), move, climbs=False)
        went = x - body.foot(state)[0]
        moved = replace(state, x=state.x + went)
        return (*states[:number], moved, *states[number + 1 :]), went

    def tilted(
        self, states: tuple[BodyState, ...], number: int, towards: int
    ) -> tuple[BodyState, ...]:
        """Turn a hinged body a little towards an angle in degrees."""
        state = states[number]
        by = max(-TILT_STEP, min(TILT_STEP, towards - state.angle))
        turned = replace(state, angle=state.angle + by)
        return (*states[:number], turned, *states[number + 1 :])


class _Body:
    """A prop that moves."""

    def __init__(self, project: Project, prop: Prop, kind: str) -> None:
        found = project.find(prop.piece)
        assert found is not None
        piece = found[1]
        body = prop.body or piece.body
        self.kind: BodyKind = kind  # type: ignore[assignment]
        self.path: Path | None = body.path
        self.piece = prop.piece
        self.start = Point(prop.x, prop.y)
        shapes = posed_shapes(piece, prop)
        self._shapes = tuple(shape for shape in shapes if shape.stops != "sensor")
        self._turned: dict[int, tuple[Slab, ...]] = {}
        corners = [corner for shape in self._shapes for corner in shape.form.corners]
        self.box = (
            (
                min(c.x for c in corners),
                min(c.y for c in corners),
                max(c.x for c in corners),
                max(c.y for c in corners),
            )
            if corners
            else None
        )

    @property
    def extent(self) -> tuple[float, float]:
        """Half the width of the box around it, and its height."""
        assert self.box is not None
        left, top, right, bottom = self.box
        return (right - left) / 2, bottom - top

    def foot(self, state: BodyState) -> tuple[float, float]:
        """The middle of the lower edge of the box around it."""
        assert self.box is not None
        left, _, right, bottom = self.box
        return state.x + (left + right) / 2, state.y + bottom

    def slabs(self, state: BodyState, number: int) -> Iterator[Slab]:
        """Its slabs where it is."""
        known = self._turned.get(state.angle)
        if known is None:
            shapes = tuple(rotated_shape(shape, state.angle) for shape in self._shapes)
            known = self._turned[state.angle] = slabs(shapes, Size(0, 0), 0)
        for slab in known:
            yield slab.moved(state.x, state.y, self.piece, number)

    def travelled(self, state: BodyState) -> BodyState:
        """A step further on its path."""
        seconds = state.seconds + STEP
        place = place_on_path(self.path, seconds)
        return replace(state, x=self.start.x + place.x, y=self.start.y + place.y, seconds=seconds)

    def fallen(self, state: BodyState, others: Mover, gravity: float) -> BodyState:
        """A step further down, onto what is there."""
        speed = min(state.speed_y + gravity * STEP, FASTEST_FALL / STEP)
        x, foot = self.foot(state)
        below, on, _ = others.down(x, foot, speed * STEP)
        return replace(state, y=state.y + below - foot, speed_y=0.0 if on else speed)


def overlaps_any(mover: Mover, x: float, y: float, found: Sequence[Slab]) -> bool:
    """Whether a box standing there overlaps one of some slabs."""
    return any(
        slab.stops == "all sides"
        and slab.left < x + mover.half - TOUCH
        and slab.right > x - mover.half + TOUCH
        and mover.overlaps(slab, x, y)
        for slab in found
    )
