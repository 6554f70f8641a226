"""The seven stations, in the order of the work, each brought in when it is first opened."""

from __future__ import annotations

from importlib import import_module

from rushweed.ui.shell.services import Services
from rushweed.ui.shell.station import Station

PLACES = {
    "Gather": ("gather.station", "Gather"),
    "Cut": ("cut.station", "CutStation"),
    "Gauge": ("gauge.station", "Gauge"),
    "Bound": ("bound.station", "Bound"),
    "Weave": ("weave.station", "Weave"),
    "Walk": ("walk.station", "Walk"),
    "Bale": ("bale.station", "Bale"),
}


def make_station(name: str, services: Services) -> Station:
    """The station of that name."""
    module, kind = PLACES[name]
    station: Station = getattr(import_module(f"rushweed.ui.stations.{module}"), kind)(services)
    return station
