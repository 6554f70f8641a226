"""Walking a list of keys, recorded walks, and what a walker can do."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import fields

from rushweed.core.project.rules import Walker
from rushweed.core.values import Refusal, Size
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.walker import Ground

NAMES = tuple(field.name for field in fields(Keys))
LONGEST = 1_000_000
NEARLY = 1e-6


def replay(ground: Ground, keys: Iterable[Keys], start: Motion | None = None) -> list[Motion]:
    """The motion after every step, beginning with the start."""
    path = [start or ground.begin()]
    for held in keys:
        path.append(ground.step(path[-1], held))
    return path


def read_walk(text: str) -> list[Keys]:
    """A recorded walk: each line is a count of steps and the keys held meanwhile, of left, right,
    up, down and jump. Raises Refusal with the line that is something else."""
    keys: list[Keys] = []
    for number, line in enumerate(text.splitlines(), 1):
        words = line.split("#")[0].split()
        if not words:
            continue
        unknown = [word for word in words[1:] if word not in NAMES]
        if not words[0].isdecimal() or unknown:
            what = unknown[0] if unknown else words[0]
            raise Refusal(
                "Line {number} of the walk says “{what}”. Write a count of steps and the "
                "keys held: {names}.",
                number=number,
                what=what,
                names=", ".join(NAMES),
            )
        if len(keys) + int(words[0]) > LONGEST:
            raise Refusal(
                "The walk is longer than {longest} steps. Make it shorter.", longest=LONGEST
            )
        keys += [Keys(**dict.fromkeys(words[1:], True))] * int(words[0])
    return keys


def write_walk(keys: Sequence[Keys]) -> str:
    """Keys as the text of a recorded walk."""
    lines: list[tuple[int, Keys]] = []
    for held in keys:
        if lines and lines[-1][1] == held:
            lines[-1] = (lines[-1][0] + 1, held)
        else:
            lines.append((1, held))
    names = (
        " ".join([str(count), *(name for name in NAMES if getattr(held, name))])
        for count, held in lines
    )
    return "".join(f"{line}\n" for line in names)


def clears(walker: Walker, tile: Size, pixels_per_unit: int) -> tuple[int, int]:
    """How many whole tiles a walker jumps up, and across on level ground."""
    high = walker.jump * pixels_per_unit + NEARLY
    wide = walker.speed * 2 * time_to_top(walker) * pixels_per_unit + NEARLY
    return int(high / tile.height), int(wide / tile.width)


def time_to_top(walker: Walker) -> float:
    """How many seconds a jump takes to its top."""
    return float((2 * walker.jump / walker.gravity) ** 0.5)


def gravity_for(jump: float, seconds: float) -> float:
    """The gravity, in units per second squared, with which a jump of so many units takes so many
    seconds to its top."""
    return 2 * jump / seconds**2
