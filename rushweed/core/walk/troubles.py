"""What probes found, in sentences, each with the place that it is about."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.project import Project
from rushweed.core.values import Point
from rushweed.core.walk.floors import Cell
from rushweed.core.walk.probes import SMALL_LIP, Narrow
from rushweed.core.walk.probing import Probed


@dataclass(frozen=True, slots=True)
class Trouble:
    """Something that a probe found: the piece it is about, 0 for none, and a place of the level in
    pixels. One that is `sure` is hardly ever meant to be."""

    words: str
    piece: int
    place: Point
    sure: bool = True


def troubles(project: Project, level: str, found: Probed) -> Iterator[Trouble]:
    """All troubles in a level, the worst first."""
    width, height = project.rules.tile
    start = project.level(level).start or Point(0, 0)

    def middle(cell: Cell) -> Point:
        return Point(cell[0] * width + width / 2, (cell[1] + 1) * height)

    if found.starts_inside:
        name = _name(project, found.starts_inside)
        yield Trouble(f"The start lies inside of {name}.", found.starts_inside, start)
    if found.walled_in:
        places = len(found.reached) + len(found.unreached)
        words = f"From the start one gets to {len(found.reached)} of {places} places only."
        yield Trouble(words, 0, start)
    for snag in found.snags:
        name = _name(project, snag.piece)
        words = f"A snag at {name}, going {snag.way}: {snag.why}."
        yield Trouble(words, snag.piece, Point(snag.x, snag.y))
    for off in found.off:
        verb = "floats over" if off.pixels > 0 else "sinks into"
        name = _name(project, off.piece)
        words = f"The walker {verb} {name} by {abs(off.pixels)} px."
        yield Trouble(words, off.piece, middle(off.cell))
    for gap in found.narrow:
        by = _missed_by(project, gap)
        near = f": {by:g} px too little" if 0 < by <= SMALL_LIP else ""
        words = f"A gap of {gap.width:g} × {gap.height:g} px is too narrow{near}."
        yield Trouble(words, 0, middle(gap.cell), bool(near))


def _missed_by(project: Project, gap: Narrow) -> float:
    """By how many pixels a walker does not fit."""
    body = walker_body(project)
    return max(body.height - gap.height, body.width - gap.width)


def _name(project: Project, number: int) -> str:
    found = project.find(number)
    return shown_name(*found) if found else "a piece that is gone"
