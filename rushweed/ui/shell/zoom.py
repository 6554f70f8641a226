"""The zoom that every canvas has: all of it, a step smaller or larger, and how large it is now."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas, step_nearer
from rushweed.ui.shell.controls import button

NOW_WIDTH = 42


class ZoomChips(QWidget):
    """Shows and sets a canvas's scale."""

    def __init__(self, canvas: Canvas) -> None:
        super().__init__()
        self._canvas = canvas
        self._now = _chip("", "middle", say("As large as it is drawn"))
        self._now.clicked.connect(lambda: canvas.zoom_to(1 / canvas.ratio))
        self._now.setFixedWidth(NOW_WIDTH)
        smaller, larger = (
            _chip("−", "first", say("Smaller  −")),
            _chip("+", "last", say("Larger  +")),
        )
        smaller.clicked.connect(lambda: step_nearer(canvas, -1))
        larger.clicked.connect(lambda: step_nearer(canvas, 1))
        chips = QHBoxLayout()
        chips.setSpacing(0)
        for part in (smaller, self._now, larger):
            chips.addWidget(part)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        layout.addWidget(button(say("Fit"), canvas.fit, tip=say("Show all  Ctrl+0")))
        layout.addLayout(chips)
        canvas.view_changed.connect(self._show)
        self._show()

    def _show(self, view: object = None) -> None:
        words = self._canvas.zoom_words
        self._now.setText(words)
        self._now.setAccessibleName(say("Zoom: {scale}", scale=words))


def _chip(text: str, place: str, tip: str) -> QPushButton:
    chip = button(text, tip=tip)
    chip.setProperty("chip", place)
    chip.setAccessibleName(tip)
    return chip
