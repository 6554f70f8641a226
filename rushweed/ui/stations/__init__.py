"""The seven stations, in the order of the work, each brought in when it is first opened."""

from __future__ import annotations

from importlib import import_module

from rushweed.ui.shell.station import Services, Station

PLACES = (
    ("gather", "Gather"),
    ("cut", "CutStation"),
    ("gauge.station", "Gauge"),
    ("bound", "Bound"),
    ("weave.station", "Weave"),
    ("walk", "Walk"),
    ("bale", "Bale"),
)


def make_station(index: int, services: Services) -> Station:
    """The station of that number."""
    module, name = PLACES[index]
    station: Station = getattr(import_module(f"rushweed.ui.stations.{module}"), name)(services)
    return station
