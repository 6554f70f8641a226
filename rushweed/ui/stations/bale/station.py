"""Bale: export."""

from __future__ import annotations

from rushweed.ui.shell.face import Face
from rushweed.ui.shell.station import Station
from rushweed.ui.stations.bale.pages_face import PagesFace
from rushweed.ui.stations.bale.template_face import TemplateFace


class Bale(Station):
    """The pages as they will be written, and the templates that are filled in beside them."""

    FACES = (PagesFace, TemplateFace)

    def make(self, place: int) -> Face:
        if self.FACES[place] is TemplateFace:
            pages = self.at(0)
            assert isinstance(pages, PagesFace)
            return TemplateFace(self.services, pages)
        return super().make(place)
