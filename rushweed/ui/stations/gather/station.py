"""Gather: sources and licences."""

from __future__ import annotations

from rushweed.ui.shell.station import Station
from rushweed.ui.stations.gather.changes import ChangesFace
from rushweed.ui.stations.gather.credits import CreditsFace
from rushweed.ui.stations.gather.sources import SourcesFace


class Gather(Station):
    """All gathered pictures, the credits they ask for, and what was changed outside."""

    FACES = (SourcesFace, CreditsFace, ChangesFace)
