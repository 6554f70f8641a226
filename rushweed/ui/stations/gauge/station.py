"""Gauge: size, pivot and look."""

from __future__ import annotations

from rushweed.ui.shell.station import Station
from rushweed.ui.stations.gauge.borders import BordersFace
from rushweed.ui.stations.gauge.glance import GlanceFace
from rushweed.ui.stations.gauge.looks import LookFace
from rushweed.ui.stations.gauge.pivots import PivotsFace
from rushweed.ui.stations.gauge.sizes import SizesFace


class Gauge(Station):
    """Every choice holds for all that is selected."""

    FACES = (SizesFace, PivotsFace, LookFace, BordersFace, GlanceFace)
