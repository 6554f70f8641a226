"""What every face of a station gives the window."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.desk import Desk
from rushweed.ui.selection import Selection
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import SlipPage


class Face:
    """A face's name, its table, what stands at the right of its name, its slip and its keys.

    `keys` is where its keys stand in the list of commands, empty for none of its own;
    `arranged_as` under which name its slip, lens and strip are left, empty for its station's.
    """

    name = ""
    keys = ""
    arranged_as = ""
    table: QWidget
    slip: SlipPage
    tools: QWidget | None = None

    def __init__(self, services: Services) -> None:
        self.services = services
        self.desk: Desk = services.desk
        self.walked = 0
        self.baled = 0

    @property
    def project(self) -> Project:
        return self.desk.project

    @property
    def selection(self) -> Selection:
        return self.desk.selection

    def sheets(self) -> list[Sheet]:
        """The sheets that a choice holds for."""
        return self.selection.chosen(self.project)

    def enter(self) -> None:
        """The face is shown now."""
        self.refresh()

    def leave(self) -> None:
        """Another face or station is shown now."""

    def close(self) -> None:
        """The window goes."""

    def refresh(self) -> None:
        """Show the project and the selection as they are."""
        raise NotImplementedError

    def change(self, before: Project, after: Project, live: bool) -> None:
        """The project changed while the face is shown; `live` when an edit under way did it."""
        self.refresh()

    def show_spot(self, spot: Point) -> None:
        """Go to a place of the open level, in pixels."""

    def select_all(self) -> bool:
        """Select all of what the face shows in place of pieces; whether there is such a thing."""
        return False

    def paste(self) -> bool:
        """Put down what was copied on this face; whether that was what was copied last."""
        return False

    def canvas(self) -> Canvas | None:
        """The canvas the View menu works on."""
        return self.table if isinstance(self.table, Canvas) else None

    def key_place(self) -> str:
        """Where the keys stand in the list of commands that hold now."""
        return self.keys

    def key_table(self) -> QWidget | None:
        """The widget that knows the keys of the tools."""
        return self.canvas()
