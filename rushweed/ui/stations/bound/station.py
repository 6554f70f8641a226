"""Bound: collision and tile facts."""

from __future__ import annotations

from rushweed.ui.shell.station import Station
from rushweed.ui.stations.bound.facts import FactsFace
from rushweed.ui.stations.bound.repeat import RepeatFace
from rushweed.ui.stations.bound.shapes import ShapesFace
from rushweed.ui.stations.bound.variants import VariantsFace


class Bound(Station):
    """What is solid, what is known of tiles, how they meet, and their other colours."""

    FACES = (ShapesFace, FactsFace, RepeatFace, VariantsFace)
    shows_shapes = True
