"""What can be said of what is in hand: its pieces, its hem, and what it would replace."""

from __future__ import annotations

from collections.abc import Collection

from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.holding import known_purpose
from rushweed.core.weave.levels import punched
from rushweed.ui.stations.weave.fitting_layer import Guard
from rushweed.ui.stations.weave.held import PAINTING, Held


def numbers_in_hand(project: Project, held: Held) -> Collection[int]:
    """The pieces that are drawn with."""
    if held.hem:
        return hem_numbers(project, held)
    return held.brush.numbers() if held.brush else ()


def hem_in_hand(project: Project, held: Held) -> Hem:
    """The hem that is drawn with. Refused where it is gone."""
    for hem in project.hems:
        if hem.name == held.hem:
            return hem
    raise Refusal("There is no hem called “{hem}” any more. Take another one.", hem=held.hem)


def hem_numbers(project: Project, held: Held) -> set[int]:
    """The pieces of the hem in hand."""
    hems = (hem for hem in project.hems if hem.name == held.hem)
    return {tile.piece for hem in hems for tile in hem.tiles}


def hem_lies_at(project: Project, held: Held, cells: Cells, places: Collection[Key]) -> bool:
    """Whether a tile of the hem in hand lies at any of the places."""
    numbers = hem_numbers(project, held)
    return any(cells.at(*place)[0] in numbers for place in places)


def guarded(project: Project, held: Held) -> str:
    """What is drawn with is for, where tiles for anything else are left alone; else empty."""
    purposes = {known_purpose(project, number) for number in numbers_in_hand(project, held)}
    return purposes.pop() if held.others != "replaced" and len(purposes) == 1 else ""


def guard_at(project: Project, level: Level, layer: int, held: Held, cell: Key) -> Guard | None:
    """What painting at a cell of a layer would replace that serves another purpose."""
    if held.tool not in PAINTING or (held.brush is None and not held.hem):
        return None
    size = (held.brush.width, held.brush.height) if held.brush and not held.hem else (1, 1)
    area = Rect(*cell, *size)
    return punched(project, level.name, layer, numbers_in_hand(project, held), area)
