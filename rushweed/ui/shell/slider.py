"""A slider over whole numbers that is heard while it moves."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.ui.look.colours import look

ROOM = 7


class Slider(QWidget):
    """`moved` tells every value under way, `entered` the one it was left at."""

    moved = pyqtSignal(int)
    entered = pyqtSignal(int)

    def __init__(self, name: str, low: int, high: int) -> None:
        super().__init__()
        self.low, self.high, self.value = low, high, low
        self._held = False
        self.setFixedHeight(22)
        self.setMinimumWidth(60)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_value(self, value: int) -> None:
        """Show a value without telling anybody; not while it is held."""
        if not self._held and value != self.value:
            self.value = value
            self.update()

    def show_nothing(self) -> None:
        """There is nothing to show a value of: the handle stays where it is."""

    def sizeHint(self) -> QSize:
        return QSize(120, 22)

    def place_of(self, value: int) -> float:
        """Where a value lies, in pixels from the left."""
        share = (min(max(value, self.low), self.high) - self.low) / max(1, self.high - self.low)
        return ROOM + share * (self.width() - 2 * ROOM)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._held = True
        self._move_to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._held:
            self._move_to(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._held:
            self._held = False
            self.entered.emit(self.value)
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if not step:
            super().keyPressEvent(event)
        elif self.low <= self.value + step <= self.high:
            self.value += step
            self.moved.emit(self.value)
            self.entered.emit(self.value)
            self.update()

    def _move_to(self, x: float) -> None:
        share = (x - ROOM) / max(1, self.width() - 2 * ROOM)
        value = round(self.low + min(max(share, 0), 1) * (self.high - self.low))
        if value != self.value:
            self.value = value
            self.moved.emit(value)
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, here = self.height() / 2, self.place_of(self.value)
        on = self.isEnabled()
        painter.setPen(QPen(colours.strong_line, 2, cap=Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPointF(ROOM, middle), QPointF(self.width() - ROOM, middle))
        painter.setPen(QPen(colours.rush if on else colours.strong_line, 3))
        painter.drawLine(QPointF(ROOM, middle), QPointF(here, middle))
        edge = colours.tide if self.hasFocus() or self._held else colours.strong_line
        painter.setPen(QPen(edge, 2 if self.hasFocus() else 1))
        painter.setBrush(colours.field if on else colours.paper)
        painter.drawRoundedRect(QRectF(here - 5, middle - 8, 10, 16), 3, 3)
        painter.end()
