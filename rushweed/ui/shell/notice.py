"""A quiet banner over the table: what could not be done, and what to do."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import button, label
from rushweed.ui.text import tr


class Notice(QWidget):
    """Hidden until there is something to tell."""

    def __init__(self) -> None:
        super().__init__()
        self._text = label()
        self._text.setWordWrap(True)
        self._text.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(24, 12, 20, 12)
        layout.setSpacing(10)
        layout.addWidget(self._text, 1)
        self._act = button("", self._do)
        self._action: Callable[[], object] | None = None
        layout.addWidget(self._act)
        layout.addWidget(button(tr("Good"), self.hide))
        self.hide()

    @property
    def text(self) -> str:
        return self._text.text() if self.isVisible() else ""

    def tell(
        self, sentence: str, words: str = "", action: Callable[[], object] | None = None
    ) -> None:
        """Show a sentence, with a button that does something about it if there is anything."""
        self._text.setText(sentence)
        self._action = action
        self._act.setText(words)
        self._act.setVisible(action is not None)
        self.show()

    def _do(self) -> None:
        self.hide()
        if self._action is not None:
            self._action()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colours.red, 1))
        painter.setBrush(colours.raised)
        frame = QRectF(self.rect()).adjusted(12.5, 6.5, -12.5, -6.5)
        painter.drawRoundedRect(frame, 4, 4)
        painter.end()
