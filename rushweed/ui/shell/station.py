"""What every station gives the window, and what the window gives every station."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QRect
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.core.values import Point
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.commands.commands import Commands
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.outside import Outside
from rushweed.ui.selection import Selection
from rushweed.ui.settings import Settings
from rushweed.ui.shell.dialogs import Dialogs

LensPainting = Callable[[QPainter, QRect], None]


@dataclass(slots=True)
class Services:
    """What stations share. `status` shows what the pointer is over; `lens_instead` lets a station
    paint the lens for a while, `lens_update` has it painted again. `offer` says something and puts
    a button beside it."""

    desk: Desk
    commands: Commands
    images: Images
    jobs: Jobs
    outside: Outside
    dialogs: Dialogs
    settings: Settings
    status: Callable[[str, str], None]
    open_station: Callable[[str], None]
    gather: Callable[[list[Path]], None]
    lens_instead: Callable[[str, LensPainting | None], None]
    lens_update: Callable[[], None]
    offer: Callable[[str, str, Callable[[], object]], None]


class Station:
    """One station. Its widgets are made when it is first opened.

    Subclasses give `faces` and the widgets for them, and refresh what an edit changed.
    """

    faces: tuple[str, ...] = ()
    uses_levels = False
    shows_shapes = False

    def __init__(self, services: Services) -> None:
        self.services = services
        self.desk = services.desk
        self.face = 0
        self.walked = 0
        self.baled = 0

    @property
    def project(self) -> Project:
        return self.desk.project

    @property
    def selection(self) -> Selection:
        return self.desk.selection

    def make_table(self, face: int) -> QWidget:
        """The table of a face."""
        raise NotImplementedError

    def make_slip(self, face: int) -> QWidget:
        """The slip of a face."""
        raise NotImplementedError

    def make_tools(self, face: int) -> QWidget | None:
        """What stands at the right of the faces' names."""
        return None

    def enter(self) -> None:
        """The station is shown now."""
        self.refresh()

    def leave(self) -> None:
        """Another station is shown now."""

    def close(self) -> None:
        """The window goes."""

    def refresh(self) -> None:
        """Show the project and the selection as they are."""

    def change(self, before: Project, after: Project, live: bool) -> None:
        """The project changed while the station is shown; `live` when an edit under way did it."""
        self.refresh()

    def show_spot(self, spot: Point) -> None:
        """Go to a place of the open level, in pixels."""

    def canvas(self) -> Canvas | None:
        """The canvas the View menu works on."""
        return None

    def key_place(self) -> str:
        """Where the keys of the face stand in the list of commands; empty for none of its own."""
        return ""

    def key_table(self) -> QWidget | None:
        """The widget that knows the keys of the tools."""
        return self.canvas()
