"""Which station is shown, on which face, with its table, its slip and its tools."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.desk import Desk
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.frame import Frame
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.station import Station

MakeStation = Callable[[str, Services], Station]


class StationShelf:
    """The stations by name, each made when it is first asked for."""

    def __init__(self, make: MakeStation, services: Services) -> None:
        self._make, self._services = make, services
        self._made: dict[str, Station] = {}

    def __getitem__(self, name: str) -> Station:
        if name not in self._made:
            self._made[name] = self._make(name, self._services)
        return self._made[name]

    def made(self) -> list[Station]:
        """Those that were opened."""
        return list(self._made.values())


class Router(QObject):
    """Opens stations and turns faces. `opened` is told when another station is shown, `turned` when
    another face is, and `rules_shown` whether the ground rules stand in place of the slip."""

    opened = pyqtSignal()
    turned = pyqtSignal()
    rules_shown = pyqtSignal(bool)

    def __init__(self, desk: Desk, frame: Frame, make: MakeStation) -> None:
        super().__init__(frame)
        self._desk, self._frame, self._make = desk, frame, make
        self.station = STATIONS[0]
        self._placed: set[Face] = set()
        self._is_whole = False
        self._undressed: list[QWidget] = []
        """Whether every face was made."""

    def begin(self, services: Services) -> None:
        """Let stations be made; `services` need the router to open stations."""
        self.stations = StationShelf(self._make, services)

    @property
    def shown(self) -> Face:
        """The face that is shown."""
        return self.stations[self.station].shown

    def key_table(self) -> QWidget | None:
        """Who is meant by the keys of the face that is shown."""
        return self.shown.key_table() or self._frame.table.currentWidget()

    def open(self, name: str, face: int | None = None) -> None:
        """Show a station, on the face it was left on or on another."""
        self._desk.keep_drag()
        if name != self.station:
            self.stations[self.station].leave()
        self.station = name
        station, frame = self.stations[name], self._frame
        frame.rack.show_levels(station.uses_levels)
        frame.strip.shows_shapes = station.shows_shapes
        frame.lens.show_instead("", None)
        self.turn_face(station.face if face is None else face)
        frame.strip.update()
        self.opened.emit()

    def turn_face(self, face: int) -> None:
        """Show another face of the station."""
        station, frame = self.stations[self.station], self._frame
        station.face = face
        shown = station.shown
        self._place(shown)
        if frame.table.currentWidget() is not shown.table:
            frame.status.show_over("", "")  # that was of another table
        window, old = frame.window(), frame.table.currentWidget()
        focus = window.focusWidget() if window is not None else None
        followed = focus is None or (old is not None and old.isAncestorOf(focus)) or focus is old
        frame.table.setCurrentWidget(shown.table)
        table = self.key_table()
        if followed and table is not None:
            table.setFocus()  # whoever worked on a table goes on with the next one
        self.show_rules(False)
        frame.faces.show_faces(station.names, face, shown.tools)
        station.enter()
        self.turned.emit()

    def _place(self, face: Face) -> bool:
        """Give a face its place in the frame; False where it had one."""
        if face in self._placed:
            return False
        self._placed.add(face)
        self._frame.table.addWidget(face.table)
        self._frame.slip.addWidget(face.slip)
        return True

    def make_ahead(self) -> bool:
        """Take the next step towards a face that was never shown, so that nobody waits for it: make
        it, give it its place, or dress a part of it. False when there is nothing left to do."""
        if self._undressed:
            part = self._undressed.pop()
            for widget in (part, *part.findChildren(QWidget)):
                widget.ensurePolished()
            return True
        for name in () if self._is_whole else STATIONS:
            station = self.stations[name]
            for place in range(len(station.names)):
                known = len(station.made)
                face = station.at(place)
                if len(station.made) > known:
                    return True
                if self._place(face):
                    parts = (face.table, face.slip, face.tools)
                    self._undressed = [part for part in parts if part is not None]
                    return True
        self._is_whole = True
        return False

    def toggle_rules(self) -> None:
        """Show the ground rules, or the slip again."""
        self.show_rules(self._frame.slip.currentWidget() is not self._frame.rules)

    def show_rules(self, shown: bool) -> None:
        """Show the ground rules in place of the slip, or the slip of the station."""
        slip = self._frame.rules if shown else self.shown.slip
        self._frame.slip.setCurrentWidget(slip)
        self._frame.rules.refresh()
        self.rules_shown.emit(shown)

    def change(self, before: Project, after: Project, live: bool) -> None:
        """The project changed."""
        self.shown.change(before, after, live)

    def leave(self) -> None:
        """The window goes."""
        for station in self.stations.made():
            station.leave()
            station.close()
