"""The rack: sheets, or levels and layers."""

from __future__ import annotations

from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QStackedLayout, QWidget

from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.shell.rack_marks import paint_ground
from rushweed.ui.shell.rack_of_levels import LevelRack
from rushweed.ui.shell.rack_of_sheets import SheetRack

WIDTH = 188


class Rack(QWidget):
    """Two racks in one place: sheets for four stations, levels and layers for the others."""

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self.setFixedWidth(WIDTH)
        self.sheets = SheetRack(desk, images)
        self.levels = LevelRack(desk, images)
        self._stack = QStackedLayout(self)
        self._stack.addWidget(self.sheets)
        self._stack.addWidget(self.levels)

    def show_levels(self, levels: bool) -> None:
        self._stack.setCurrentIndex(1 if levels else 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        paint_ground(self)
