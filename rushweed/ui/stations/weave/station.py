"""Weave: levels."""

from __future__ import annotations

from rushweed.ui.shell.station import Station
from rushweed.ui.stations.weave.painting import LevelFace


class Weave(Station):
    """One paints the open level."""

    FACES = (LevelFace,)
    uses_levels = True
