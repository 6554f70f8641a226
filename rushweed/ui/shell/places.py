"""Everywhere the finder can go: stations, sheets, pieces, levels and commands."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial

from rushweed.core.cut.naming import shown_name
from rushweed.core.weave.levels import main_layer
from rushweed.core.words import say
from rushweed.ui.commands.commands import Commands, key_words
from rushweed.ui.commands.listed import OVER, WINDOW
from rushweed.ui.desk import Desk
from rushweed.ui.shell.finder import Place

FINDER = "window.find"


def all_places(desk: Desk, commands: Commands, station: str) -> list[Place]:
    """The places of a project, and what can be done at the station whose place is given."""
    project, selection = desk.project, desk.selection
    places = [*_offered(commands, WINDOW)]
    for sheet in project.sheets:
        chosen = replace(selection, sheets=(sheet.name,), pieces=frozenset())
        places.append(Place(sheet.name, say("sheet"), partial(desk.select, chosen)))
    for sheet, piece in project.pieces():
        chosen = replace(selection, sheets=(sheet.name,), pieces=frozenset({piece.number}))
        where = say("piece of {sheet}", sheet=sheet.name)
        places.append(Place(shown_name(sheet, piece), where, partial(desk.select, chosen)))

    def open_level(name: str) -> None:
        layer = main_layer(desk.project.level(name))
        desk.select(replace(desk.selection, level=name, layer=layer))
        commands.run("station.weave")

    for level in project.levels:
        places.append(Place(level.name, say("level"), partial(open_level, level.name)))
    for place in filter(None, (station, OVER.get(station, ""))):
        places += _offered(commands, place)
    return places


def _offered(commands: Commands, place: str) -> Iterator[Place]:
    for name in commands.offered(place):
        keys = ", ".join(map(key_words, commands.keys(name)))
        act: Callable[[], object] = partial(commands.run, name)
        if name.startswith("station."):
            yield Place(commands.words(name), say("station"), act)
        elif name != FINDER:
            yield Place(commands.words(name), keys, act)
