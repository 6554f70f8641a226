"""The status line: what the pointer is over, the zoom, and the last thing done with its undo."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QWidget

from rushweed.core.words import say
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import button, label

OVER_WIDTH = 440


class StatusLine(QWidget):
    """26 px at the bottom of the window."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__()
        self.setFixedHeight(26)
        self._desk, self._jobs = desk, jobs
        self._over = label("", "caption")
        self._over.setFixedSize(OVER_WIDTH, 25)  # so that new words lay out nothing anew
        self._done = label("", "caption")
        self._undo = button(say("undo"), desk.undo, "link", say("Ctrl+Z"))
        self._work = label("", "caption")
        self._bar = QProgressBar()
        self._bar.setFixedWidth(120)
        self._bar.setTextVisible(False)
        self._stop = button(say("stop"), jobs.stop_shown, "link")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 1, 12, 0)
        layout.setSpacing(14)
        layout.addWidget(self._over)
        layout.addStretch(1)
        for part in (self._work, self._bar, self._stop):
            layout.addWidget(part)
            part.hide()
        layout.addWidget(self._done)
        layout.addWidget(self._undo)
        desk.changed.connect(lambda before, after: self.refresh())
        desk.saved_changed.connect(self.refresh)
        jobs.changed.connect(self._show_work)
        jobs.progressed.connect(self.show_progress)
        self.refresh()

    def show_over(self, over: str, zoom: str) -> None:
        """What the pointer is over, and the zoom."""
        parts = [part for part in (over, zoom) if part]
        words = (5 * " ").join(parts)
        fitting = self._over.fontMetrics().elidedText(
            words, Qt.TextElideMode.ElideMiddle, OVER_WIDTH
        )
        self._over.setText(fitting)

    def refresh(self) -> None:
        words = self._desk.history.words
        self._done.setText(words)
        self._undo.setVisible(bool(words))

    def show_progress(self, share: float, words: str) -> None:
        self._bar.setValue(round(share * 100))
        self._work.setText(words)

    def _show_work(self) -> None:
        running = bool(self._jobs.shown())
        for part in (self._work, self._bar, self._stop):
            part.setVisible(running)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        painter.fillRect(0, 0, self.width(), 1, look.colours.strong_line)
        painter.end()
