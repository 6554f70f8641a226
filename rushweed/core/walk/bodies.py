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
from rushweed.core.walk.body_boxes import BodyBoxes
from rushweed.core.walk.mover import TOUCH, Mover
from rushweed.core.walk.solids import Solids, body_of, stopping
from rushweed.core.weave.posing import posed_shapes, prop_area, rotated_shape

STEP = 1 / 60
TILT, TILT_STEP = 24, 1
"""A hinged body tilts at most so many degrees, and so many in a step."""
FASTEST_FALL = 12.0
"""Pixels a step."""
LOOSE = ("falls", "pushed")
NEAR = 0.01
"""Pixels between a foot and what it stands on."""


@dataclass(frozen=True, slots=True)
class BodyState:
    """Where a body is: its pivot in pixels of the level, how fast it falls in pixels per second,
    for how many seconds it has travelled, and by how many degrees it is turned, clockwise."""

    x: float
    y: float
    speed_y: float = 0.0
    seconds: float = 0.0
    angle: int = 0


States = tuple[BodyState, ...]


class Moving:
    """The bodies of a level that move, each with its shapes about its pivot."""

    def __init__(self, project: Project, level: Level) -> None:
        self.bodies: list[_Body] = []
        self.props: dict[tuple[int, int], int] = {}
        """Which body a prop is, by its layer and its place there."""
        for number, layer in enumerate(level.layers):
            if not layer.stops:
                continue
            for place, prop in enumerate(layer.props):
                kind = body_of(project, prop)
                found = project.find(prop.piece)
                if kind != "fixed" and found is not None:
                    self.props[number, place] = len(self.bodies)
                    self.bodies.append(_Body(project, prop, kind))
        self._loose = [
            number
            for number, body in enumerate(self.bodies)
            if body.kind in LOOSE and body.box is not None
        ]

    def begin(self) -> States:
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

    def advance(self, states: States, solids: Solids, gravity: float) -> States:
        """A step later, walkers left out; gravity in pixels per second squared. What stands on a
        body that travels goes along."""
        now = states
        for number, body in enumerate(self.bodies):
            if body.kind == "travels":
                old, new = now[number], body.travelled(now[number])
                now = self._carried(_with(now, number, new), number, old, new, solids)
        return self._fallen(now, solids, gravity) if self._loose else now

    def _fallen(self, states: States, solids: Solids, gravity: float) -> States:
        """Loose bodies a step further down, onto what is below them by then."""
        now = list(states)
        boxes = BodyBoxes([body.box for body in self.bodies], now)
        for number in self._loose:
            body = self.bodies[number]
            half, height = body.extent
            x, foot = body.foot(now[number])
            below = boxes.touching(x - half, foot - 1, x + half, foot + FASTEST_FALL + 1)
            slabs = [
                slab
                for other in below
                if other != number
                for slab in self.bodies[other].slabs(now[other], other)
            ]
            state = body.fallen(now[number], Mover(solids, half, height, slabs), gravity)
            if state != now[number]:
                now[number] = state
                boxes.move(number, state)
        return tuple(now)

    def pushed(
        self, states: States, number: int, move: float, solids: Solids
    ) -> tuple[States, float]:
        """Push a body sideways as far as it goes, with what is before it and on it. Returns all
        bodies, and how far it went."""
        began = states[number].x
        states = self._pushed(states, number, move, solids, frozenset())
        return states, states[number].x - began

    def _pushed(
        self,
        states: States,
        number: int,
        move: float,
        solids: Solids,
        behind: frozenset[int],
    ) -> States:
        """All bodies after one of them is pushed by those `behind` it."""
        if self.bodies[number].kind != "pushed" or self.bodies[number].box is None:
            return states
        behind |= {number}
        states, left_over, wall = self._moved(states, number, move, solids, behind)
        if wall is None or wall.body < 0 or wall.body in behind or abs(left_over) <= TOUCH:
            return states
        states = self._pushed(states, wall.body, left_over, solids, behind)
        return self._moved(states, number, left_over, solids, behind)[0]

    def _moved(
        self,
        states: States,
        number: int,
        move: float,
        solids: Solids,
        among: frozenset[int],
    ) -> tuple[States, float, Slab | None]:
        """A body moved sideways with what stands on it, but for those it is `among`; how far it
        still had to go, and what stopped it."""
        body, state = self.bodies[number], states[number]
        riders = self._on_top_of(states, number)
        others = Mover(solids, *body.extent, self.slabs(states, without=number))
        x, _, wall = others.across(*body.foot(state), move, climbs=False)
        went = x - body.foot(state)[0]
        states = _with(states, number, replace(state, x=state.x + went))
        for rider in riders if went else ():
            if rider not in among:
                states = self._moved(states, rider, went, solids, among | {number, rider})[0]
        return states, move - went, wall

    def shoved(
        self, states: States, number: int, across: float, down: float, solids: Solids
    ) -> tuple[States, float]:
        """Push a body that is seen from above, across or down, with all that is in its way. Returns
        all bodies, and how far it went."""
        began = states[number]
        states = self._shoved(states, number, across, down, solids, frozenset())
        now = states[number]
        return states, now.x - began.x + now.y - began.y

    def _shoved(
        self,
        states: States,
        number: int,
        across: float,
        down: float,
        solids: Solids,
        behind: frozenset[int],
    ) -> States:
        body = self.bodies[number]
        if body.kind != "pushed" or body.box is None:
            return states
        behind |= {number}
        for last in (False, True):
            state, others = states[number], self.slabs(states, without=number)
            (x, y), mover = body.foot(state), Mover(solids, *body.extent, others)
            to_x, _, wall = mover.across(x, y, across, climbs=False)
            to_y, on, bumped = mover.down(x, y, down) if down else (y, None, None)
            states = _with(
                states, number, replace(state, x=state.x + to_x - x, y=state.y + to_y - y)
            )
            across, down, stopper = across - (to_x - x), down - (to_y - y), wall or on or bumped
            if last or stopper is None or stopper.body < 0 or stopper.body in behind:
                return states
            states = self._shoved(states, stopper.body, across, down, solids, behind)
        return states

    def _carried(
        self, states: States, number: int, old: BodyState, new: BodyState, solids: Solids
    ) -> States:
        """What stands on a body that travelled from one state to another goes along."""
        for rider in self._on_top_of(_with(states, number, old), number):
            lower = replace(states[rider], y=states[rider].y + new.y - old.y)
            states = _with(states, rider, lower)
            states = self._moved(states, rider, new.x - old.x, solids, frozenset({number}))[0]
        return states

    def _on_top_of(self, states: States, number: int) -> list[int]:
        """The loose bodies that stand on a body with the middle of their foot."""
        if not self._loose:
            return []
        under, found = list(self.bodies[number].slabs(states[number], number)), []
        for other in self._loose:
            x, foot = self.bodies[other].foot(states[other])
            over = (slab for slab in under if slab.left <= x <= slab.right and slab.carries)
            if other != number and any(abs(slab.top_at(x) - foot) <= NEAR for slab in over):
                found.append(other)
        return found

    def tilted(self, states: States, number: int, towards: int) -> States:
        """Turn a hinged body a little towards an angle in degrees."""
        state = states[number]
        by = max(-TILT_STEP, min(TILT_STEP, towards - state.angle))
        return _with(states, number, replace(state, angle=state.angle + by))


def _with(states: States, number: int, state: BodyState) -> States:
    return (*states[:number], state, *states[number + 1 :])


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
        solid = tuple(shape for shape in shapes if shape.stops != "sensor")
        self._shapes = stopping(project, solid)
        self._turned: dict[int, tuple[Slab, ...]] = {}
        area = prop_area(project, prop)
        self.drawn = (area.x - prop.x, area.y - prop.y, area.width, area.height)
        """Left and top of its picture from its pivot, width and height."""
        corners = [corner for shape in solid for corner in shape.form.corners]
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
    def is_raft(self) -> bool:
        """Whether it carries whoever stands on it, seen from above."""
        return self.kind == "travels" and not self._shapes

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
