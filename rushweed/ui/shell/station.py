"""A station: a row of faces, one of which is shown."""

from __future__ import annotations

from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services


class Station:
    """One station. Each of its `FACES` is made when it is first shown."""

    FACES: tuple[type[Face], ...] = ()
    uses_levels = False
    shows_shapes = False

    def __init__(self, services: Services) -> None:
        self.services = services
        self.face = 0
        self._made: dict[int, Face] = {}
        self._entered: Face | None = None

    @property
    def names(self) -> tuple[str, ...]:
        """The names of the faces."""
        return tuple(face.name for face in self.FACES)

    @property
    def shown(self) -> Face:
        """The face that is shown, or was when the station was left."""
        return self.at(self.face)

    @property
    def made(self) -> tuple[Face, ...]:
        """The faces that were shown so far."""
        return tuple(self._made.values())

    def at(self, place: int) -> Face:
        """A face, made when it is first asked for."""
        if place not in self._made:
            self._made[place] = self.make(place)
        return self._made[place]

    def make(self, place: int) -> Face:
        """A new face."""
        return self.FACES[place](self.services)

    def enter(self) -> None:
        """The station is shown now, or another of its faces."""
        face = self.shown
        if self._entered is not face:
            self.leave()
        self._entered = face
        face.enter()

    def leave(self) -> None:
        """Another station is shown now."""
        if self._entered is not None:
            self._entered.leave()
        self._entered = None

    def close(self) -> None:
        """The window goes."""
        for face in self.made:
            face.close()
