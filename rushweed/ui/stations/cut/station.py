"""Cut: frames and tiles."""

from __future__ import annotations

from rushweed.ui.shell.station import Station
from rushweed.ui.stations.cut.animations import AnimationsFace
from rushweed.ui.stations.cut.pieces import PiecesFace
from rushweed.ui.stations.cut.seams import SeamsFace


class CutStation(Station):
    """The pieces of sheets, and what is animated of them."""

    FACES = (PiecesFace, AnimationsFace, SeamsFace)
