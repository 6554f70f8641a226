"""The slip: numbered short groups in the order in which one decides."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QEvent, QObject, QRect, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLayout, QScrollArea, QVBoxLayout, QWidget

from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.shell.controls import ResultLine, button, label, row
from rushweed.ui.shell.folds import folds

INDENT = 29


class Group(QWidget):
    """A numbered group: title, an aside at its right, rows, and a result line.

    A click on the title folds its rows away, and “More” opens those that few people need; both are
    remembered by `name`.
    """

    def __init__(self, number: int, title: str) -> None:
        super().__init__()
        self.number, self.name = number, title
        self.last = False
        self.title = label(title, "heading")
        self.title.installEventFilter(self)
        self.title.setToolTip(say("Fold away, or open"))
        self.title.setCursor(Qt.CursorShape.PointingHandCursor)
        self.aside = label("", "caption")
        self.result = ResultLine()
        head = row(self.title, None, self.aside, spacing=8)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 9, 0, 10)
        layout.setSpacing(6)
        head.setContentsMargins(INDENT, 0, 12, 0)
        self._head = head
        closing = QHBoxLayout()
        closing.setContentsMargins(INDENT, 0, 12, 0)
        closing.addWidget(self.result)
        layout.addLayout(head)
        self._folding = QWidget()
        self._folding.setLayout(self._rows)
        self._rows.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self._folding)
        layout.addLayout(closing)
        self._folding.setVisible(not folds.folded(title))

    def add(self, part: QWidget | QLayout, wide: bool = False) -> None:
        """Add a row; a wide one begins at the slip's edge, not under the title."""
        holder = QHBoxLayout()
        holder.setContentsMargins(8 if wide else INDENT, 0, 4 if wide else 12, 0)
        if isinstance(part, QWidget):
            holder.addWidget(part)
        else:
            holder.addLayout(part)
        self._rows.addLayout(holder)

    def add_further(self, part: QWidget) -> QWidget:
        """Add what few people need, below the link “More”, which opens it. Returns all of it."""
        holder = _Further(self.name, part)
        self.add(holder)
        return holder

    def fold(self, folded: bool) -> None:
        """Fold the rows away, or open them."""
        folds.set_folded(self.name, folded)
        self._folding.setVisible(not folded)
        self.update()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        pressed = event is not None and event.type() == QEvent.Type.MouseButtonRelease
        if watched is self.title and pressed:
            self.fold(not self._folding.isHidden())
        return False

    def beside_title(self, part: QWidget) -> None:
        """Put a control at the right of the title."""
        self._head.addWidget(part)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setPen(colours.rush)
        painter.setFont(font(BODY, 600))
        beside = QRect(11, self.title.y(), 18, self.title.height())
        painter.drawText(beside, Qt.AlignmentFlag.AlignVCenter, str(self.number))
        if self._folding.isHidden():
            painter.setPen(colours.soft_ink)
            after = QRect(self.title.geometry().right() + 8, self.title.y(), 24, beside.height())
            painter.drawText(after, Qt.AlignmentFlag.AlignVCenter, "…")
        if not self.last:
            painter.setPen(QPen(colours.inner_line, 1))
            painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.end()


class _Further(QWidget):
    """Something that is shown when somebody wants more."""

    def __init__(self, name: str, part: QWidget) -> None:
        super().__init__()
        self._name, self._part = name, part
        self._more = button("", self._toggle, "link")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addWidget(part)
        layout.addWidget(self._more)
        self._show(folds.further(name))

    def _toggle(self) -> None:
        opened = self._part.isHidden()
        folds.set_further(self._name, opened)
        self._show(opened)

    def _show(self, opened: bool) -> None:
        self._part.setVisible(opened)
        self._more.setText(say("Less") if opened else say("More"))
        self._more.setAccessibleName(f"{self._name}: {self._more.text()}")


class SlipPage(QScrollArea):
    """The groups of one face, scrolling when there is little room."""

    def __init__(self, groups: list[Group], head: QWidget | None = None) -> None:
        super().__init__()
        self.groups = groups
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body = _Raised()
        layout = QVBoxLayout(body)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        if head is not None:
            layout.addWidget(head)
        for group in groups:
            layout.addWidget(group)
        if groups:
            groups[-1].last = True
        layout.addStretch(1)
        self.setWidget(body)

    def set_usable(self, usable: bool) -> None:
        """Let the groups be used, or not while there is nothing that they could work on."""
        for group in self.groups:
            group.setEnabled(usable)

    def minimumSizeHint(self) -> QSize:
        """As wide as what stands in it must be, so that nothing is cut off."""
        body = self.widget()
        wide = body.minimumSizeHint().width() if body is not None else 0
        return QSize(wide, super().minimumSizeHint().height())


def show_groups(wanted: Iterable[tuple[Group, bool]]) -> None:
    """Show those groups of a slip that are wanted, numbered in their order."""
    number = 0
    for group, shown in wanted:
        group.setVisible(shown)
        number += shown
        group.number = number
        group.update()


class _Raised(QWidget):
    """Raised paper."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.end()


class SelectionHead(QWidget):
    """Says on a tide wash how many sheets or pieces the slip works on."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(36)
        self.count = label("", "heading")
        self.names = label("", "caption")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 0, 12, 0)
        layout.addWidget(self.count)
        layout.addStretch(1)
        layout.addWidget(self.names)
        self.names.setMinimumWidth(1)

    def tell(self, count: str, names: str) -> None:
        self.count.setText(count)
        metrics = self.names.fontMetrics()
        self.names.setText(metrics.elidedText(names, Qt.TextElideMode.ElideRight, 170))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.tide_wash)
        painter.fillRect(0, self.height() - 1, self.width(), 1, look.colours.inner_line)
        painter.end()
