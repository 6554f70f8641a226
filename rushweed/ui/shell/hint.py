"""One sentence below the table of a station that somebody sees for the first time, until it is
understood."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rushweed.core.words import said, say
from rushweed.ui.look.colours import look
from rushweed.ui.settings import Settings
from rushweed.ui.shell.controls import button, flowing

HINTS = said(
    {
        "Gather": "Drop pictures or whole folders here. What is plain to see is taken by one "
        "click; what is not waits with the likeliest readings below it.",
        "Cut": "Click a guess in the slip, or drag over one cell: the others follow. What you "
        "correct by hand stays when the layout changes.",
        "Gauge": "All figures stand on one line, as large as in the game. Drag the top of one to "
        "set its size; a picture's pivot is where it stands.",
        "Bound": "Shapes for the sheet gives every tile what its art says. A ? is in doubt: a "
        "click takes it the other way.",
        "Weave": "Pick a tile, or drag over a block of them, and paint. Nothing has an edge, and "
        "what cannot lie on this layer goes to the one that fits.",
        "Walk": "Arrows walk, Space jumps. Probes walk the whole level and show where somebody "
        "gets stuck.",
        "Bale": "This is what the game is handed: pages, one list of all that is on them, and the "
        "credits. Keep it fresh, and a running game follows your edits.",
    }
)


class Hint(QWidget):
    """Shows the hint of a station that was not understood yet."""

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self._settings, self._station = settings, ""
        self._text = flowing("caption")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(24, 6, 20, 6)
        layout.setSpacing(10)
        layout.addWidget(self._text, 1)
        layout.addWidget(button(say("Understood"), self._dismiss, "small"))
        self.hide()

    def show_for(self, station: str) -> None:
        """Show what is to be known at a station, if it was not dismissed."""
        self._station = station
        self._text.setText(HINTS[station])
        self.setVisible(station not in self._settings.values.hints)

    def _dismiss(self) -> None:
        self._settings.remember(hints=(*self._settings.values.hints, self._station))
        self.hide()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.fillRect(QRectF(0, 0, self.width(), 1), look.colours.line)
        painter.end()
