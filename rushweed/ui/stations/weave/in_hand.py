"""What can be said of what is in hand: its pieces, its hem, and what it would replace."""

from __future__ import annotations

from collections.abc import Collection

from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.holding import punched
from rushweed.core.weave.purposes import Purposes
from rushweed.ui.desk import Desk
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


def guarded(project: Project, purposes: Purposes, held: Held) -> str:
    """What is drawn with is for, where tiles for anything else are left alone; else empty."""
    told = {purposes.known(number) for number in numbers_in_hand(project, held)}
    return told.pop() if held.others != "replaced" and len(told) == 1 else ""


def guard_at(desk: Desk, level: Level, held: Held, cell: Key) -> Guard | None:
    """What painting at a cell of the active layer would replace that serves another purpose."""
    if held.tool not in PAINTING or (held.brush is None and not held.hem):
        return None
    project, layer = desk.project, desk.selection.layer
    size = (held.brush.width, held.brush.height) if held.brush and not held.hem else (1, 1)
    purposes = Purposes(project, desk.art, level)
    return punched(purposes, level, layer, numbers_in_hand(project, held), Rect(*cell, *size))
