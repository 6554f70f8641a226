"""What can be said of what is in hand: its pieces, its hem, and what it would replace."""

from __future__ import annotations

from collections.abc import Collection

from rushweed.core.project.cells import Key
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Outcome
from rushweed.core.weave.guarding import Takers, punched
from rushweed.core.weave.hand import Drawn
from rushweed.core.weave.purposes import Purposes
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.stations.weave.fitting_layer import Guard
from rushweed.ui.stations.weave.held import PAINTING, Held


def numbers_in_hand(project: Project, held: Held) -> Collection[int]:
    """The pieces that are drawn with."""
    if held.hem:
        return hem_numbers(project, held)
    return held.brush.numbers() if held.brush else ()


def hem_numbers(project: Project, held: Held) -> set[int]:
    """The pieces of the hem in hand."""
    hems = (hem for hem in project.hems if hem.name == held.hem)
    return {tile.piece for hem in hems for tile in hem.tiles}


def tell_spared(desk: Desk, outcome: Outcome | None) -> None:
    """Say what was left alone, once for each act."""
    if isinstance(outcome, Drawn) and outcome.laid.spared:
        what = counted(len(outcome.laid.spared), "tile", "tiles")
        told = say("{what} of another kind stayed; the brush says whether they should.")
        desk.said.emit(told.format(what=what))


def guard_at(desk: Desk, level: Level, held: Held, cell: Key) -> Guard | None:
    """What painting at a cell of the active layer would replace that serves another purpose."""
    if held.tool not in PAINTING or (held.brush is None and not held.hem):
        return None
    project, brush = desk.project, held.brush
    if held.hem or brush is None or brush.mix is not None:
        takers: Takers = [[numbers_in_hand(project, held)]]
    else:
        takers = [[(number,) for number, _ in row] for row in brush.rows]
    purposes = Purposes(project, desk.art, level)
    return punched(purposes, level, desk.selection.layer, takers, cell)
