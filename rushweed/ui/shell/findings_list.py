"""The list of findings, sliding up over the strip."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from rushweed.core.findings.finding import Finding
from rushweed.ui.canvas.marks import draw_lozenge
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import button, label
from rushweed.ui.text import counted, tr

HIGHEST, HEAD, ROW = 232, 36, 44


class FindingsList(QWidget):
    """Tells `shown` and `mended` with the finding whose button was pressed."""

    shown = pyqtSignal(object)
    mended = pyqtSignal(object)
    closed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HIGHEST)
        self._title = label("", "heading")
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
        head.addWidget(button(tr("Close"), self.closed.emit, "small"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 1, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addWidget(area, 1)

    def show_findings(self, findings: list[Finding]) -> None:
        """Show these, in the order of the stations."""
        while self._rows.count():
            item = self._rows.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        self.setFixedHeight(min(HIGHEST, HEAD + ROW * max(1, len(findings))))
        self._title.setText(counted(len(findings), "finding", "findings"))
        if not findings:
            empty = label(tr("Nothing here will hurt in the game."), "caption")
            empty.setContentsMargins(12, 4, 12, 4)
            self._rows.addWidget(empty)
        for finding in findings[:200]:
            row = _Row(finding)
            row.show_button.clicked.connect(lambda _=False, f=finding: self.shown.emit(f))
            if row.mend_button is not None:
                row.mend_button.clicked.connect(lambda _=False, f=finding: self.mended.emit(f))
            self._rows.addWidget(row)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.fillRect(0, 0, self.width(), 1, look.colours.strong_line)
        painter.end()


class _Row(QWidget):
    """What, why, and what to do."""

    def __init__(self, finding: Finding) -> None:
        super().__init__()
        self._station = finding.station
        what = label(finding.what)
        why = label(finding.why, "caption")
        for text in (what, why):
            text.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(what)
        words.addWidget(why)
        self.show_button = button(tr("Show me"), role="small")
        self.mend_button = None
        layout = QHBoxLayout(self)
        layout.setContentsMargins(92, 6, 8, 7)
        layout.setSpacing(6)
        layout.addLayout(words, 1)
        layout.addWidget(self.show_button)
        if finding.mend is not None:
            self.mend_button = button(
                tr("Mend: {words}").format(words=finding.mend_words.lower()), role="ochre"
            )
            layout.addWidget(self.mend_button)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(0, 0, self.width(), 1, colours.inner_line)
        draw_lozenge(painter, 18, 16, 4.5, colours.ochre, colours.ochre_ink)
        painter.setPen(colours.ochre_ink)
        painter.setFont(font(CAPTION, 600))
        painter.drawText(31, 20, self._station)
        painter.end()
