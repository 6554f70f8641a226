"""The ways a jump can take through open air."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Point
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.walker import Ground

LET_GO = 3
"""A short jump's key is let go after so many steps."""
LONGEST = 600


def flights(project: Project) -> dict[str, list[Point]]:
    """The paths of jumps at full speed to the right over level ground, in units, y down, from the
    first step to the landing: the `full` one, and where the walker has them the `short` one, whose
    key is let go, the one at a `run`, and the one that jumps `again` at each top."""
    walker = project.walker
    ways = {"full": walker.speed}
    if walker.variable_jump_height:
        ways["short"] = walker.speed
    if walker.feel.run:
        ways["run"] = walker.feel.run
    if walker.feel.jumps:
        ways["again"] = walker.speed
    air = replace(project, levels=(Level("Air", ()),))
    return {how: _flown(Ground(air, "Air"), how, speed) for how, speed in ways.items()}


def _flown(air: Ground, how: str, speed: float) -> list[Point]:
    motion = Motion(0.0, 0.0, speed * air.unit, on=-1)
    path = [Point(0, 0)]
    while motion.y <= 0 and motion.steps < LONGEST:
        falls = motion.steps > 0 and motion.speed_y >= 0
        again = how == "again" and falls and motion.flown < air.walker.feel.jumps
        let_go = how == "short" and motion.steps >= LET_GO
        held = not let_go and not (again and motion.jump_held)
        motion = air.step(motion, Keys(right=True, jump=held, run=how == "run"))
        path.append(Point(motion.x / air.unit, motion.y / air.unit))
    return path
