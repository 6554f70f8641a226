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
from rushweed.core.words import say


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
        yield Trouble(
            say("The start lies inside of {name}.", name=name), found.starts_inside, start
        )
    if found.walled_in:
        places = len(found.reached) + len(found.unreached)
        words = say(
            "From the start one gets to {count} of {places} places only.",
            count=len(found.reached),
            places=places,
        )
        yield Trouble(words, 0, start)
    for snag in found.snags:
        name = _name(project, snag.piece)
        words = say("A snag at {name}, going {way}: {why}.", name=name, way=snag.way, why=snag.why)
        yield Trouble(words, snag.piece, Point(snag.x, snag.y))
    for off in found.off:
        words = say(
            "The walker floats over {name} by {number} px."
            if off.pixels > 0
            else "The walker sinks into {name} by {number} px.",
            name=_name(project, off.piece),
            number=abs(off.pixels),
        )
        yield Trouble(words, off.piece, middle(off.cell))
    for gap in found.narrow:
        by = _missed_by(project, gap)
        near = say(": {by:g} px too little", by=by) if 0 < by <= SMALL_LIP else ""
        words = say(
            "A gap of {width:g} × {height:g} px is too narrow{near}.",
            width=gap.width,
            height=gap.height,
            near=near,
        )
        yield Trouble(words, 0, middle(gap.cell), bool(near))


def _missed_by(project: Project, gap: Narrow) -> float:
    """By how many pixels a walker does not fit."""
    body = walker_body(project)
    return max(body.height - gap.height, body.width - gap.width)


def _name(project: Project, number: int) -> str:
    found = project.find(number)
    return shown_name(*found) if found else say("a piece that is gone")
