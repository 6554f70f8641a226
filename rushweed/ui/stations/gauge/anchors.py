"""Nine places of a piece, one of which its pivot may be put at."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QWidget

from rushweed.core.gauge.pivots import ANCHORS, anchor_words, anchored
from rushweed.core.project.sheet import Piece
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import FAINT, row
from rushweed.ui.shell.slip import Group


class AnchorGroup(Group):
    """A button for each anchor; `choose` is told the name of the one that is pressed."""

    def __init__(self, number: int, choose: Callable[[str], None]) -> None:
        super().__init__(number, say("Pivot"))
        grid = QGridLayout()
        grid.setSpacing(3)
        grid.setContentsMargins(0, 0, 0, 0)
        self.buttons: dict[str, QAbstractButton] = {}
        for index, name in enumerate(ANCHORS):
            anchor = _Anchor(name)
            anchor.clicked.connect(partial(choose, name))
            grid.addWidget(anchor, index // 3, index % 3)
            self.buttons[name] = anchor
        holder = QWidget()
        holder.setLayout(grid)
        self.add(row(holder, None))

    def show_pieces(self, pieces: Sequence[Piece]) -> None:
        """Check the anchor at which the pivots of all pieces are."""
        for name, anchor in self.buttons.items():
            anchor.setChecked(bool(pieces) and all(p.pivot == anchored(p, name) for p in pieces))


class _Anchor(QAbstractButton):
    """One of nine places of a piece."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setFixedSize(28, 24)
        self.setAccessibleName(anchor_words(name))
        self.setToolTip(anchor_words(name))
        self._place = ANCHORS[name]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setOpacity(1.0 if self.isEnabled() else FAINT)
        on = self.isChecked()
        strong = on or self.hasFocus() or self.underMouse()
        painter.setPen(QPen(colours.tide if strong else colours.strong_line, 1))
        painter.setBrush(colours.tide_wash if on else colours.field)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        frame = QRectF(8, 6, 12, 12)
        painter.setPen(QPen(colours.line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(frame)
        x, y = frame.left() + 12 * self._place[0], frame.top() + 12 * self._place[1]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colours.tide if on else colours.ink)
        painter.drawEllipse(QPointF(x, y), 2.6, 2.6)
        painter.end()
