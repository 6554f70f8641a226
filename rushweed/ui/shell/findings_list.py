"""The list of findings, sliding up over the strip."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from rushweed.core.findings.finding import Finding
from rushweed.core.findings.grouping import FindingGroup, grouped
from rushweed.core.words import counted, say
from rushweed.ui.canvas.marks import draw_lozenge
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import button, label

HIGHEST, HEAD, ROW = 232, 36, 44


class FindingsList(QWidget):
    """One row a kind. Tells `shown` with a finding, the next of its kind at each press, and
    `mended` with all of a kind."""

    shown = pyqtSignal(object)
    mended = pyqtSignal(object)
    closed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HIGHEST)
        self._title = label("", "heading")
        self._stepped: dict[str, int] = {}
        self._rows = QVBoxLayout()
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(0)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._rows)
        column.addStretch(1)
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(body)
        head = QHBoxLayout()
        head.setContentsMargins(12, 7, 8, 5)
        head.addWidget(self._title)
        head.addStretch(1)
        head.addWidget(button(say("Close"), self.closed.emit, "small"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 1, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addWidget(area, 1)

    def show_findings(self, findings: list[Finding], station: str) -> None:
        """Show these, those of the open station first."""
        groups = grouped(findings, station)
        while self._rows.count():
            item = self._rows.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.setFixedHeight(min(HIGHEST, HEAD + ROW * max(1, len(groups))))
        title = counted(len(findings), "finding", "findings")
        if len(groups) < len(findings):
            title += say(" of {kinds}", kinds=counted(len(groups), "kind", "kinds"))
        self._title.setText(title)
        if not findings:
            empty = label(say("Nothing here will hurt in the game."), "caption")
            empty.setContentsMargins(12, 4, 12, 4)
            self._rows.addWidget(empty)
        for group in groups:
            row = _Row(group)
            row.show_button.clicked.connect(partial(self._show_next, group, row))
            if row.mend_button is not None:
                row.mend_button.clicked.connect(partial(self.mended.emit, group))
            self._rows.addWidget(row)

    def _show_next(self, group: FindingGroup, row: _Row) -> None:
        """Lead to the next finding of a kind, and round again."""
        code, count = group.first.code, len(group.findings)
        place = self._stepped.get(code, -1) + 1
        self._stepped[code] = place = place if place < count else 0
        row.tell_place(place, count)
        self.shown.emit(group.findings[place])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.fillRect(0, 0, self.width(), 1, look.colours.strong_line)
        painter.end()


class _Row(QWidget):
    """What, why, and what to do."""

    def __init__(self, group: FindingGroup) -> None:
        super().__init__()
        self._station, self._count = group.first.station, len(group.findings)
        what = label(group.what)
        why = label(group.first.why, "caption")
        for text in (what, why):
            text.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(what)
        words.addWidget(why)
        self.show_button = button(say("Show me"), role="small")
        self.mend_button = None
        layout = QHBoxLayout(self)
        layout.setContentsMargins(92, 6, 8, 7)
        layout.setSpacing(6)
        layout.addLayout(words, 1)
        layout.addWidget(self.show_button)
        if group.can_be_mended:
            cure = group.mend_words[:1].lower() + group.mend_words[1:]
            self.mend_button = button(say("Mend: {words}", words=cure), role="ochre")
            layout.addWidget(self.mend_button)

    def tell_place(self, place: int, count: int) -> None:
        """Say on the button which of many is shown."""
        if count > 1:
            self.show_button.setText(say("Show me {n} of {m}", n=place + 1, m=count))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(0, 0, self.width(), 1, colours.inner_line)
        draw_lozenge(painter, 18, 16, 4.5, colours.ochre, colours.ochre_ink)
        painter.setPen(colours.ochre_ink)
        painter.setFont(font(CAPTION, 600))
        painter.drawText(31, 20, self._station)
        if self._count > 1:
            painter.setFont(font(CAPTION))
            painter.drawText(31, 35, f"× {self._count}")
        painter.end()
