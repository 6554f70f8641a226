"""The window's frame while what it shows is still brought in: trail, rack and table."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QByteArray, QElapsedTimer, QEvent, QEventLoop, QRect, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QApplication, QWidget

from rushweed.core.project.head import glance
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.settings import Settings
from rushweed.ui.shell.trail import HEIGHT, STATIONS, Stage, Trail

USUAL_SIZE, LEAST_SIZE, TITLE = (1280, 800), (1024, 540), 32
"""How large a window opens at first, how large at least, and what the desktop's frame takes of a
screen's height."""
MENUS, FACES, STRIP, STATUS = 30, 37, 104, 26
RACK, SLIP = 188, 310
HEAD, ROW, THUMB = 36, 54, 40
"""Where the parts of the frame lie, in pixels."""
PATIENCE = 500
"""Milliseconds for which a screen is waited for that does not show the frame."""


def first_size() -> QSize:
    """How large a window opens at first: as usual, or as large as its screen allows."""
    return QSize(*USUAL_SIZE).boundedTo(_room()).expandedTo(least_size())


def least_size() -> QSize:
    """How small a window may be drawn; no larger than its screen, be its type ever so large."""
    return QSize(*LEAST_SIZE).boundedTo(_room())


def _room() -> QSize:
    """What a window may take of its screen."""
    screen = QApplication.primaryScreen()
    if screen is None:
        return QSize(*USUAL_SIZE)
    room = screen.availableSize()
    return QSize(room.width(), room.height() - TITLE)


class Opening(QWidget):
    """Stands where the window will be, with the names of the project's sheets."""

    def __init__(self, settings: Settings, folder: Path) -> None:
        super().__init__()
        self._name, self._sheets = glance(folder)
        self.painted = False
        self.setWindowTitle(f"{self._name} – Rushweed")
        self.resize(first_size())
        if settings.values.geometry:
            self.restoreGeometry(QByteArray.fromBase64(settings.values.geometry.encode()))
        self.trail = Trail([Stage(*station) for station in STATIONS])
        self.trail.setParent(self)
        self.trail.move(0, MENUS)

    def appear(self) -> None:
        """Show it, and come back once it is painted."""
        self.show()
        waited = QElapsedTimer()
        waited.start()
        while not self.painted and waited.elapsed() < PATIENCE:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)

    def give_way(self, window: QWidget) -> None:
        """Go once a window is there that lies over it."""
        if not self.isMaximized() and not self.isFullScreen():
            window.setGeometry(self.geometry())
        window.installEventFilter(self)

    def eventFilter(self, watched, event) -> bool:  # type: ignore[no-untyped-def]
        if event.type() == QEvent.Type.Paint:
            watched.removeEventFilter(self)
            self.deleteLater()
        return False

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.trail.resize(self.width(), HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours, below = look.colours, MENUS + HEIGHT
        foot, side = self.height() - STATUS, self.width() - SLIP
        table = QRect(RACK, below + FACES, side - RACK, foot - STRIP - below - FACES)
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.paper)
        painter.fillRect(side, below, SLIP, foot - below, colours.raised)
        painter.fillRect(table, colours.well)
        self._paint_rack(painter, below, table.bottom())
        painter.fillRect(0, table.bottom(), side, foot - table.bottom(), colours.paper)
        for y, right in ((below, self.width()), (table.bottom(), side), (foot, self.width())):
            painter.fillRect(0, y, right, 1, colours.line)
        for x, bottom in ((RACK - 1, table.bottom()), (side, foot)):
            painter.fillRect(x, below, 1, bottom - below, colours.line)
        painter.setFont(font(BODY))
        painter.setPen(colours.soft_ink)
        told = say("Opening {name} …", name=self._name)
        painter.drawText(table, Qt.AlignmentFlag.AlignCenter, told)
        painter.end()
        self.painted = True

    def _paint_rack(self, painter: QPainter, top: int, bottom: int) -> None:
        colours = look.colours
        painter.setPen(colours.ink)
        painter.setFont(font(BODY, 600))
        painter.drawText(12, top + 23, say("Sheets"))
        painter.setFont(font(CAPTION))
        for place, name in enumerate(self._sheets):
            y = top + HEAD + place * ROW
            if y > bottom:
                break
            painter.fillRect(0, y, RACK - 1, 1, colours.inner_line)
            painter.fillRect(12, y + 7, THUMB, THUMB, colours.well)
            room = RACK - 24 - THUMB - 6
            painter.setFont(font(BODY, 500))
            elided = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideMiddle, room)
            painter.drawText(21 + THUMB, y + 18, elided)
