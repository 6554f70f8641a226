"""The finder: go to any sheet, piece, level, station or action by typing part of its name."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, QPoint, QRect, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.controls import Field
from rushweed.ui.shell.rows import Rows

MOST = 10
ROW = 28


@dataclass(frozen=True, slots=True)
class Place:
    """Somewhere to go, or something to do."""

    name: str
    kind: str
    go: Callable[[], object]


class Finder(QWidget):
    """Opens over the window; Enter goes to the first, arrows choose, Escape leaves."""

    def __init__(self, parent: QWidget, places: Callable[[], list[Place]]) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_TranslucentBackground, False)
        self._places = places
        self._all: list[Place] = []
        self.field = Field(say("Find"), say("Find a sheet, piece, level or action"))
        self.field.textChanged.connect(self._narrow)
        self.field.installEventFilter(self)
        self.rows = Rows(say("Found"), self._paint, lambda place: ROW, lambda place: place.name)
        self.rows.clicked.connect(lambda index: self._go(self.rows.items[index.row()]))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 10, 10, 10)
        layout.setSpacing(8)
        layout.addWidget(self.field)
        layout.addWidget(self.rows)
        self.setFixedWidth(420)

    def open(self) -> None:
        """Show it in the upper middle of the window."""
        self._all = self._places()
        self.field.clear()
        self.field.setPlaceholderText(say("Find a sheet, piece, level or action"))
        self._narrow("")
        window = self.parentWidget()
        assert window is not None
        corner = window.mapToGlobal(QPoint((window.width() - self.width()) // 2, 120))
        self.move(corner)
        self.show()
        self.field.setFocus()

    def _narrow(self, text: str) -> None:
        words = text.lower().split()
        found = [place for place in self._all if all(word in place.name.lower() for word in words)]
        found.sort(
            key=lambda place: (not place.name.lower().startswith(text.lower()), len(place.name))
        )
        shown = found[:MOST]
        self.rows.show_items(shown, lambda place: bool(shown) and place is shown[0])
        self.rows.setFixedHeight(max(1, len(shown)) * ROW + 2)
        self.adjustSize()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step and self.rows.items:
                row = (self.rows.currentIndex().row() + step) % len(self.rows.items)
                self.rows.setCurrentIndex(self.rows.model().index(row, 0))  # type: ignore[union-attr]
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.rows.items:
                self._go(self.rows.items[max(0, self.rows.currentIndex().row())])
                return True
        return False

    def _go(self, place: Place) -> None:
        self.hide()
        place.go()

    def _paint(
        self, painter: QPainter, rect: QRect, place: Place, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        if selected or hovered:
            painter.fillRect(rect, colours.tide_wash if selected else colours.raised)
        painter.setFont(font(BODY, 500 if selected else 400))
        painter.setPen(colours.tide_text if selected else colours.ink)
        inner = rect.adjusted(8, 0, -8, 0)
        name = painter.fontMetrics().elidedText(place.name, Qt.TextElideMode.ElideMiddle, 270)
        painter.drawText(inner, Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        painter.drawText(
            inner, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, place.kind
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        painter.setPen(QPen(look.colours.strong_line, 1))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()
