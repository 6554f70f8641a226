"""The frame of the window: where trail, rack, faces, table, slip, lens, strip and findings lie."""

from __future__ import annotations

from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import button
from rushweed.ui.shell.faces import FaceBar
from rushweed.ui.shell.findings_list import FindingsList
from rushweed.ui.shell.lens import Lens
from rushweed.ui.shell.notice import Notice
from rushweed.ui.shell.progress import stages
from rushweed.ui.shell.rack import Rack
from rushweed.ui.shell.rules_page import RulesPage
from rushweed.ui.shell.status import StatusLine
from rushweed.ui.shell.strip import Strip
from rushweed.ui.shell.trail import Trail
from rushweed.ui.text import tr

SLIP_WIDTH = 310


class Frame(QWidget):
    """All parts of the window, each in its place."""

    def __init__(self, desk: Desk, images: Images, jobs: Jobs) -> None:
        super().__init__()
        self.trail = Trail(stages(desk.project, [], 0, 0))
        self.rack = Rack(desk, images)
        self.faces = FaceBar()
        self.table = QStackedWidget()
        self.slip = QStackedWidget()
        self.rules = RulesPage(desk)
        self.slip.addWidget(self.rules)
        self.lens = Lens(desk, images, jobs)
        self.strip = Strip(desk, images)
        self.findings_list = FindingsList()
        self.findings_list.hide()
        self.notice = Notice()
        self.status = StatusLine(desk, jobs)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(0)
        grid.addWidget(self.trail, 0, 0, 1, 2)
        grid.addLayout(self._left(), 1, 0)
        grid.addWidget(self._right(), 1, 1)
        grid.addWidget(self.status, 2, 0, 1, 2)
        grid.setRowStretch(1, 1)
        self.findings_button = button(tr("No findings"), role="findings")
        self.findings_button.setParent(self.trail)

    def _left(self) -> QVBoxLayout:
        middle = QVBoxLayout()
        middle.setSpacing(0)
        for part in (self.faces, self.notice):
            middle.addWidget(part)
        middle.addWidget(self.table, 1)
        upper = QHBoxLayout()
        upper.setSpacing(0)
        upper.addWidget(self.rack)
        upper.addLayout(middle, 1)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addLayout(upper, 1)
        left.addWidget(self.findings_list)
        left.addWidget(self.strip)
        return left

    def _right(self) -> QWidget:
        right = _SlipColumn()
        right.setFixedWidth(SLIP_WIDTH)
        column = QVBoxLayout(right)
        column.setContentsMargins(1, 1, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.slip, 1)
        column.addWidget(self.lens)
        return right

    def place_findings_button(self) -> None:
        """Put the button at the end of the trail, as wide as its words."""
        self.findings_button.adjustSize()
        self.findings_button.move(self.trail.width() - self.findings_button.width() - 12, 10)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.place_findings_button()


class _SlipColumn(QWidget):
    """The ground of slip and lens."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.fillRect(0, 0, self.width(), 1, look.colours.line)
        painter.fillRect(0, 0, 1, self.height(), look.colours.line)
        painter.end()
