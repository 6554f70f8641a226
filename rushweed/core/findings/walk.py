"""Findings of Walk: what probes found in levels through which they were sent as these are, and
feet that are not on the ground."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.cut.animations import find_animation
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.pivots import stand_on_feet
from rushweed.core.pixels import box_around
from rushweed.core.project.level import bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.walk.probing import known_probed, probe
from rushweed.core.walk.showing import named_states
from rushweed.core.walk.troubles import troubles
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


def feet_beside_the_ground(project: Project, art: Art) -> Iterator[Finding]:
    """The walker's figure where its pivot lies above or below the lowest pixel of how it stands."""
    cast = project.cast(project.walker.figure)
    if cast is None or not cast.pieces or all(level.view == "top-down" for level in project.levels):
        return
    stands = named_states(cast, project.walker).get("stand", "")
    animation = find_animation(cast, stands)
    found = project.find(animation.frames[0] if animation else cast.pieces[0].number)
    if found is None:
        return
    sheet, frame = found

    def look() -> int:
        drawn = box_around(art.piece(sheet, frame)[..., 3] > 0)
        return drawn.bottom if drawn else 0

    try:
        lowest = art.found(sheet, int, ("lowest row", picture_key(sheet), frame.rect), look)
    except Refusal:
        return
    apart = round(frame.standing.y) - lowest
    if not lowest or not apart:
        return

    def mend(project: Project) -> Project:
        numbers = frozenset(piece.number for piece in sheet.pieces)
        return stand_on_feet(project, sheet.name, numbers, solid(art.picture(sheet)))

    yield Finding(
        "feet-beside-the-ground",
        "Gauge",
        say("{name} stands {n} px above the ground.", name=sheet.name, n=apart)
        if apart > 0
        else say("{name} stands {n} px deep in the ground.", name=sheet.name, n=-apart),
        say("Its pivot is not where its feet are. Whoever plays sees it at every step."),
        sheet.name,
        sheet.name,
        (frame.number,),
        mend_words=say("By the feet of each"),
        mend=mend,
    )


def send_probes(project: Project, art: Art) -> list[str]:
    """Probe every level, so that what there is to find is known. Returns the names of those that
    are so large that it would take minutes."""
    large = [level.name for level in project.levels if bounds(level).area > MOST_CELLS]
    for level in project.levels:
        if level.name not in large:
            probe(project, level.name, art)
    return large
