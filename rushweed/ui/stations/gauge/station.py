"""Gauge: size, pivot and look."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.station import Services, Station
from rushweed.ui.stations.gauge.borders import BordersFace
from rushweed.ui.stations.gauge.face import Face
from rushweed.ui.stations.gauge.looks import LookFace
from rushweed.ui.stations.gauge.pivots import PivotsFace
from rushweed.ui.stations.gauge.sizes import SizesFace

FACES: tuple[type[Face], ...] = (SizesFace, PivotsFace, LookFace, BordersFace)


class Gauge(Station):
    """Every choice holds for all that is selected."""

    faces = (say("Line-up"), say("Pivots"), say("Look"), say("Borders"))

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._made: dict[int, Face] = {}
        self._shown: Face | None = None

    def shown(self, face: int) -> Face:
        """A face, made when it is first asked for."""
        if face not in self._made:
            self._made[face] = FACES[face](self.services)
        return self._made[face]

    def make_table(self, face: int) -> QWidget:
        return self.shown(face).table

    def make_tools(self, face: int) -> QWidget:
        return self.shown(face).tools

    def make_slip(self, face: int) -> QWidget:
        return self.shown(face).slip

    def canvas(self) -> Canvas | None:
        return self.shown(self.face).canvas()

    def refresh(self) -> None:
        face = self.shown(self.face)
        if self._shown is not face:
            self.leave()
            self._shown = face
        face.refresh()

    def leave(self) -> None:
        if self._shown is not None:
            self._shown.leave()
            self._shown = None

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before is not after:
            self.refresh()
