"""The zoom chips every canvas has: fit, and a few whole factors."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.controls import Chips, button
from rushweed.ui.text import tr


class ZoomChips(QWidget):
    """Shows and sets a canvas's scale."""

    def __init__(
        self, canvas: Canvas, factors: tuple[int, ...] = (1, 2, 5, 8), fit: bool = True
    ) -> None:
        super().__init__()
        self._canvas = canvas
        self._chips = Chips([f"×{factor}" for factor in factors], name=tr("Zoom"))
        self._chips.chosen.connect(lambda text: canvas.zoom_to(float(text[1:])))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        if fit:
            layout.addWidget(button(tr("Fit"), canvas.fit, tip=tr("Show all  Ctrl+0")))
        layout.addWidget(self._chips)
        canvas.view_changed.connect(self._show)
        self._show()

    def _show(self, view: object = None) -> None:
        self._chips.show_choice(f"×{self._canvas.view.scale:g}")
