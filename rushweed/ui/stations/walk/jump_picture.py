"""The curves of a jump, with tiles beside them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rushweed.core.gauge.units import figure
from rushweed.core.values import Point
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font

HEIGHT, GROUND = 116, 18
WORDS = {"full": "held", "short": "let go", "run": "at a run", "again": "in the air again"}
DASHES: dict[str, list[float]] = {
    "full": [],
    "short": [2, 2],
    "run": [7, 2],
    "again": [4, 2, 1, 2],
}


class JumpPicture(QWidget):
    """How high and how far the walker jumps."""

    def __init__(self) -> None:
        super().__init__()
        self._flights: Mapping[str, Sequence[Point]] = {}
        self._tile = (1.0, 1.0)
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_flights(
        self, flights: Mapping[str, Sequence[Point]], tile: tuple[float, float]
    ) -> None:
        """Show these paths, in units, and tiles of a width and height in units."""
        self._flights, self._tile = flights, tile
        told = [
            say(
                "{how}: {high} units high, {wide} wide",
                how=say(WORDS[how]),
                high=figure(_height(path), 2),
                wide=figure(path[-1].x, 2),
            )
            for how, path in flights.items()
        ]
        self.setAccessibleName(say("Curves of the jump") + ": " + "; ".join(told))
        self.setToolTip("\n".join(told))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(240, HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.wall)
        floor = self.height() - GROUND
        painter.fillRect(QRectF(0, floor, self.width(), GROUND), colours.floor)
        if self._flights:
            wide = max(path[-1].x for path in self._flights.values())
            high = max(map(_height, self._flights.values()))
            scale = min((self.width() - 24) / max(wide, 0.1), (floor - 22) / max(high, 0.1))
            self._paint_tiles(painter, scale, floor)
            for how, path in self._flights.items():
                self._paint_path(painter, how, path, scale, floor)
            self._paint_words(painter, floor)
        painter.end()

    def _paint_tiles(self, painter: QPainter, scale: float, floor: float) -> None:
        """Tiles as faint lines, and steps of the heights that are cleared."""
        painter.setPen(QPen(look.colours.line, 1))
        across, down = (side * scale for side in self._tile)
        column, y = 12.0, floor - down
        while across > 3 and column < self.width():
            painter.drawLine(QPointF(round(column), 4), QPointF(round(column), floor + 4))
            column += across
        while down > 3 and y > 4:
            painter.drawLine(QPointF(0, round(y)), QPointF(self.width(), round(y)))
            y -= down

    def _paint_path(
        self, painter: QPainter, how: str, path: Sequence[Point], scale: float, floor: float
    ) -> None:
        line = QPolygonF([QPointF(12 + p.x * scale, floor + p.y * scale) for p in path])
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        pen = QPen(look.colours.tide if how == "full" else look.colours.ochre_ink, 2)
        if DASHES[how]:
            pen.setDashPattern(DASHES[how])
        painter.setPen(pen)
        painter.drawPolyline(line)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)

    def _paint_words(self, painter: QPainter, floor: float) -> None:
        full = self._flights["full"]
        painter.setFont(font(CAPTION))
        painter.setPen(look.colours.ink)
        words = say(
            "{high} units high, {wide} wide in {seconds} s",
            high=figure(_height(full), 2),
            wide=figure(full[-1].x, 2),
            seconds=figure((len(full) - 1) / 60, 2),
        )
        area = QRectF(8, floor, self.width() - 16, GROUND)
        painter.drawText(area, Qt.AlignmentFlag.AlignVCenter, words)


def _height(path: Sequence[Point]) -> float:
    return -min(place.y for place in path)
