"""Everywhere the finder can go: stations, sheets, pieces, levels and acts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from rushweed.core.cut.naming import shown_name
from rushweed.core.weave.levels import main_layer
from rushweed.ui.desk import Desk
from rushweed.ui.shell.finder import Place
from rushweed.ui.shell.menus import Menus
from rushweed.ui.shell.progress import STATIONS
from rushweed.ui.text import tr

WEAVE = 4
FINDER = "Find …"


def all_places(desk: Desk, menus: Menus, open_station: Callable[[int], object]) -> list[Place]:
    """The places of a project and the acts of the menus."""
    project, selection = desk.project, desk.selection
    places = [
        Place(name, tr("station"), partial(open_station, index))
        for index, (name, _) in enumerate(STATIONS)
    ]
    for sheet in project.sheets:
        chosen = replace(selection, sheets=(sheet.name,), pieces=frozenset())
        places.append(Place(sheet.name, tr("sheet"), partial(desk.select, chosen)))
    for sheet, piece in project.pieces():
        chosen = replace(selection, sheets=(sheet.name,), pieces=frozenset({piece.number}))
        where = tr("piece of {sheet}").format(sheet=sheet.name)
        places.append(Place(shown_name(sheet, piece), where, partial(desk.select, chosen)))

    def open_level(name: str) -> None:
        layer = main_layer(desk.project.level(name))
        desk.select(replace(desk.selection, level=name, layer=layer))
        open_station(WEAVE)

    for level in project.levels:
        places.append(Place(level.name, tr("level"), partial(open_level, level.name)))
    for name, action in menus.actions.items():
        if name not in {*dict(STATIONS), FINDER}:
            places.append(Place(name, action.shortcut().toString(), action.trigger))
    return places
