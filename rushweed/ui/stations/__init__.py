"""The seven stations, in the order of the work."""

from __future__ import annotations

from rushweed.ui.shell.station import Services, Station


def make_stations(services: Services) -> list[Station]:
    """All stations of a window."""
    from rushweed.ui.stations.bale import Bale
    from rushweed.ui.stations.bound import Bound
    from rushweed.ui.stations.cut import CutStation
    from rushweed.ui.stations.gather import Gather
    from rushweed.ui.stations.gauge import Gauge
    from rushweed.ui.stations.walk import Walk
    from rushweed.ui.stations.weave import Weave

    kinds = (Gather, CutStation, Gauge, Bound, Weave, Walk, Bale)
    return [kind(services) for kind in kinds]
