"""The frame of the window: where trail, rack, faces, table, slip, lens, strip and findings lie."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from rushweed.core.words import say
from rushweed.ui.canvas.sheet_images import Images
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

SLIP_WIDTH = 310
ACROSS, DOWN = Qt.Orientation.Horizontal, Qt.Orientation.Vertical
Arrangement = tuple[int, int, int]
USUAL: Arrangement = (SLIP_WIDTH, 1, 1)
LOW = 680
"""In a window that is less high the table has the room of lens and strip."""


class Frame(QWidget):
    """All parts of the window, each in its place. `arranged` is told when somebody made slip, lens
    or strip larger or smaller, or folded them."""

    arranged = pyqtSignal()

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
        self._upper, self._column = QSplitter(DOWN), _SlipColumn()
        self._across = QSplitter(ACROSS)
        for part in (self._middle(), self.strip):
            self._upper.addWidget(part)
        for part in (self.slip, self.lens):
            self._column.addWidget(part)
        for part in (self._upper, self._column):
            self._across.addWidget(part)
        for splitter in (self._upper, self._column, self._across):
            splitter.setHandleWidth(1)
            splitter.setCollapsible(0, False)
            splitter.setStretchFactor(0, 1)
            splitter.setStretchFactor(1, 0)
            splitter.splitterMoved.connect(lambda *_: self.arranged.emit())
        self.rules.setMinimumWidth(SLIP_WIDTH)
        self._left: Arrangement = USUAL
        self._is_low = False
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.trail)
        layout.addWidget(self._across, 1)
        layout.addWidget(self.status)
        self.arrange(USUAL)
        self.findings_button = button(say("Looking …"), role="quiet")
        self.findings_button.setParent(self.trail)

    def _middle(self) -> QWidget:
        middle = QVBoxLayout()
        middle.setSpacing(0)
        for part in (self.faces, self.notice):
            middle.addWidget(part)
        middle.addWidget(self.table, 1)
        self.middle = middle
        upper = QHBoxLayout()
        upper.setSpacing(0)
        upper.addWidget(self.rack)
        upper.addLayout(middle, 1)
        holder = QWidget()
        left = QVBoxLayout(holder)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addLayout(upper, 1)
        left.addWidget(self.findings_list)
        return holder

    def arrangement(self) -> Arrangement:
        """How wide the slip is, and how high lens and strip are; 0 for what is folded."""
        return self._across.sizes()[1], self._column.sizes()[1], self._upper.sizes()[1]

    def arrange(self, wanted: Arrangement) -> None:
        """Make the slip so wide and lens and strip so high, or fold them; each is at least as large
        as it has to be."""
        slip, lens, strip = wanted
        _give(self._across, 1, max(slip, SLIP_WIDTH) if slip else 0)
        _give(self._column, 1, max(lens, self.lens.minimumHeight()) if lens else 0)
        _give(self._upper, 1, max(strip, self.strip.minimumHeight()) if strip else 0)

    def arrange_as_left(self, wanted: Arrangement) -> None:
        """The same as somebody left it; in a low window lens and strip are folded all the same,
        and come back with room."""
        self._left = wanted
        slip, lens, strip = wanted
        self.arrange((slip, 0, 0) if self._is_low else (slip, lens, strip))

    def left(self) -> Arrangement:
        """What somebody left: in a low window, what lens and strip are elsewhere."""
        if not self._is_low:
            self._left = self.arrangement()
        return self._across.sizes()[1], *self._left[1:]

    def _suit_height(self) -> None:
        is_low = self.height() < LOW
        if is_low != self._is_low:
            wanted, self._is_low = self.left(), is_low
            self.arrange_as_left(wanted)

    def fold(self, part: int) -> None:
        """Fold the slip (0), the lens (1) or the strip (2) away, or show it again."""
        now = list(self.arrangement())
        now[part] = 0 if now[part] else USUAL[part]
        self.arrange((now[0], now[1], now[2]))
        self.arranged.emit()

    def play_in_lens(self) -> None:
        """Play or pause what is in the lens, which is brought into sight where it is folded."""
        for part in (0, 1):
            if not self.arrangement()[part]:
                self.fold(part)
        self.lens.play.click()

    def place_findings_button(self) -> None:
        """Put the button at the end of the trail, as wide as its words."""
        self.findings_button.adjustSize()
        self.findings_button.move(self.trail.width() - self.findings_button.width() - 12, 10)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.place_findings_button()
        self._suit_height()


def _give(splitter: QSplitter, index: int, room: int) -> None:
    """Give one of two parts so much room, the other the rest."""
    whole = max(sum(splitter.sizes()), room + 1)
    sizes = [whole - room, whole - room]
    sizes[index] = room
    splitter.setSizes(sizes)


class _SlipColumn(QSplitter):
    """The ground of slip and lens."""

    def __init__(self) -> None:
        super().__init__(DOWN)
        self.setContentsMargins(1, 1, 0, 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.fillRect(0, 0, self.width(), 1, look.colours.line)
        painter.fillRect(0, 0, 1, self.height(), look.colours.line)
        painter.end()
