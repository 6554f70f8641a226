"""A level probed as a whole: what is quick to find first, all of it kept by the level's content."""

from __future__ import annotations

from collections.abc import Collection, Hashable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from operator import attrgetter

from rushweed.core.gather.art import Art, piece_key
from rushweed.core.project.level import Level, bounds
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Refusal
from rushweed.core.walk.floors import Cell, level_cells
from rushweed.core.walk.probes import (
    Narrow,
    Off,
    Snag,
    floats_and_sinks,
    narrow_gaps,
    snags,
    standing_cells,
)
from rushweed.core.walk.reaching import reaching
from rushweed.core.walk.walker import Ground

LARGEST = 4_000_000
"""Cells of a level that is still probed."""
FEW, MANY = 0.1, 10
"""One is walled in who gets to less than this part of at least so many places."""


@dataclass(frozen=True, slots=True)
class Probed:
    """What probes found in a level. `reached` are the cells a walker can stand in, in walking and
    jumping from the start; `unreached` the others that one could stand in."""

    snags: tuple[Snag, ...] = ()
    off: tuple[Off, ...] = ()
    narrow: tuple[Narrow, ...] = ()
    reached: frozenset[Cell] = field(default_factory=frozenset)
    unreached: frozenset[Cell] = field(default_factory=frozenset)
    starts_inside: int = 0

    @property
    def walled_in(self) -> bool:
        """Whether one gets hardly anywhere from the start."""
        places = len(self.reached) + len(self.unreached)
        return not self.starts_inside and places >= MANY and len(self.reached) < FEW * places


def probe(project: Project, level: str, art: Art) -> Probed:
    """All that probes find. Raises Refusal for a level that is too large, or not there."""
    found = Probed()
    for _, found in probing(project, level, art):  # noqa: B007 - the last one counts
        pass
    return found


def probing(
    project: Project, level: str, art: Art, near: Point | None = None
) -> Iterator[tuple[float, Probed]]:
    """The share that is done, and what probes have found so far, `near` a place first; the last is
    all, and is kept. Raises Refusal as `probe` does."""
    known = known_probed(project, level, art)
    if known is not None:
        yield 1.0, known
        return
    ground, found = probed_ground(project, level), Probed()
    for share, found in found_in(ground, off_in(ground, art), near):
        yield share, found
    keep_probed(project, level, art, found)
    yield 1.0, found


def probed_ground(project: Project, level: str) -> Ground:
    """The ground of a level. Raises Refusal for one that is too large, or not there."""
    ground = Ground(project, level)
    area = bounds(ground.level)
    if area.area > LARGEST:
        raise Refusal(
            "“{level}” spans {size} cells, and probes go through {largest} at most. "
            "Take away stray tiles far off, or copy a part into a level of its own.",
            level=level,
            size=area.size,
            largest=LARGEST,
        )
    return ground


def known_probed(project: Project, level: str, art: Art) -> Probed | None:
    """What probes found in a level as it is, if they were sent through it."""
    found: Probed | None = art.memory.find(_content(project, project.level(level)))
    return found


def keep_probed(project: Project, level: str, art: Art, found: Probed) -> None:
    """Keep all that was found in a level, as long as it is as it is."""
    art.memory.keep(_content(project, project.level(level)), found)


def off_in(ground: Ground, art: Art) -> tuple[Off, ...]:
    """The pieces of a level on which walkers float or sink."""
    if ground.level.view != "side":
        return ()
    return tuple(floats_and_sinks(ground.project, ground.level.name, art))


def found_in(
    ground: Ground, off: tuple[Off, ...], near: Point | None
) -> Iterator[tuple[float, Probed]]:
    """The share that is done, and what was found so far, with the pieces that are off."""
    inside = ground.covered(ground.begin())
    found = Probed(off=off, starts_inside=inside.piece if inside else 0)
    yield 0.02, found
    standing, level = standing_cells(ground), frozenset[Cell]()
    if ground.level.view == "side":
        level = level_cells(ground, standing)
        walks = _caught(ground, standing, level, near, found)
        for share, found in walks:
            yield 0.05 + 0.1 * share, found
        found = replace(found, narrow=tuple(narrow_gaps(ground)))
        yield 0.2, found
    if inside is not None:
        yield 1.0, replace(found, unreached=frozenset(standing))
        return
    places = frozenset(standing)
    for cells in reaching(ground, standing, level):
        reached, unreached = places & cells, places - cells
        share = 1 - len(unreached) / max(1, len(standing))
        found = replace(found, reached=reached, unreached=unreached)
        yield 0.2 + 0.8 * share, found


def _caught(
    ground: Ground,
    standing: Mapping[Cell, float],
    level: Collection[Cell],
    near: Point | None,
    found: Probed,
) -> Iterator[tuple[float, Probed]]:
    """The share of all short walks that is done, and what was found, with the spots where walkers
    were caught on them; in the end these are in an order that does not depend on what is near."""
    for share, more in snags(ground, standing, level, near):
        found = replace(found, snags=(*found.snags, *more))
        yield share, found
    ordered = sorted(found.snags, key=lambda snag: (snag.way, snag.x, snag.y))
    yield 1.0, replace(found, snags=tuple(ordered))


def _content(project: Project, level: Level) -> Hashable:
    """All that probes depend on."""
    walked = filter(attrgetter("is_walked"), level.layers)
    layers = tuple((layer.cells.digest(), layer.props, layer.solid) for layer in walked)
    used = {number for layer in level.layers for number in layer.cells.used()}
    used |= {prop.piece for layer in level.layers for prop in layer.props}
    pieces = []
    shown = in_levels(project)
    for number in sorted(used):
        found = shown.find(number)
        if found is not None:
            sheet, piece = found
            about = piece.standing, piece.shapes, piece.facts, piece.body
            pieces.append((number, piece_key(sheet, piece), about))
    rules = project.rules.tile, project.rules.pixels_per_unit, project.walker
    return ("probed", layers, level.start, level.view, rules, tuple(pieces))
