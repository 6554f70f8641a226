"""Walk: try it."""

from __future__ import annotations

from rushweed.ui.shell.station import Station
from rushweed.ui.stations.walk.walking import WalkFace


class Walk(Station):
    """One walks in the open level."""

    FACES = (WalkFace,)
    uses_levels = True
