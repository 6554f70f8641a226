"""What every face of Gauge has."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.desk import Desk
from rushweed.ui.selection import Selection
from rushweed.ui.shell.station import Services


class Face:
    """A face's table, what stands at the right of its name, and its slip."""

    table: QWidget
    tools: QWidget
    slip: QWidget

    def __init__(self, services: Services) -> None:
        self.services = services
        self.desk: Desk = services.desk

    @property
    def project(self) -> Project:
        return self.desk.project

    @property
    def selection(self) -> Selection:
        return self.desk.selection

    def sheets(self) -> list[Sheet]:
        """The sheets that a choice holds for."""
        return self.selection.chosen(self.project)

    def refresh(self) -> None:
        """Show the project and the selection as they are."""
        raise NotImplementedError

    def leave(self) -> None:
        """Another face or station is shown now."""

    def canvas(self) -> Canvas | None:
        """The canvas the View menu works on."""
        return None
