"""Findings of Walk: what probes found in levels through which they were sent as these are."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.project.project import Project
from rushweed.core.walk.probing import known_probed, probe
from rushweed.core.walk.troubles import troubles
from rushweed.core.weave.levels import bounds
from rushweed.core.words import say

MOST_CELLS = 200_000
WHY = say(
    "Who plays stops there and does not know why. Mend the shapes or the tiles at that place."
)


def walking_troubles(project: Project, art: Art) -> Iterator[Finding]:
    """Snags, walled-in starts, and gaps that are missed by very little."""
    for level in project.levels:
        found = known_probed(project, level.name, art)
        if found is None:
            continue
        told_in_bound = {off.piece for off in found.off}
        for trouble in troubles(project, level.name, found):
            if trouble.sure and trouble.piece not in told_in_bound:
                pieces = (trouble.piece,) if trouble.piece else ()
                place = say(
                    "{name}, {x:.0f}, {y:.0f} px",
                    name=level.name,
                    x=trouble.place.x,
                    y=trouble.place.y,
                )
                yield Finding(
                    "walking-trouble",
                    "Walk",
                    say("In {name}: {words}", name=level.name, words=trouble.words),
                    WHY,
                    place,
                    pieces=pieces,
                    level=level.name,
                    spot=trouble.place,
                )


def send_probes(project: Project, art: Art) -> list[str]:
    """Probe every level, so that what there is to find is known. Returns the names of those that
    are so large that it would take minutes."""
    large = [level.name for level in project.levels if bounds(level).area > MOST_CELLS]
    for level in project.levels:
        if level.name not in large:
            probe(project, level.name, art)
    return large
