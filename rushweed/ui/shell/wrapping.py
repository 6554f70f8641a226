"""Rows that wrap: widgets side by side as long as there is room, else on several lines."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLayout, QLayoutItem

BETWEEN = 4
"""Pixels between the lines of a row."""
NARROWEST = 250
"""No slip is so narrow that a row of so many pixels has no room: it is laid out as any other."""
Line = list[QLayoutItem]


class WrappingRow(QHBoxLayout):
    """Widgets side by side; what finds no room goes to the next line."""

    def __init__(self, spacing: int) -> None:
        super().__init__()
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(spacing)

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation.Horizontal

    def hasHeightForWidth(self) -> bool:
        return not self._fits(NARROWEST) or super().hasHeightForWidth()

    def heightForWidth(self, width: int) -> int:
        if self._fits(width):
            return max(super().heightForWidth(width), super().sizeHint().height())
        margins = self.contentsMargins()
        width -= margins.left() + margins.right()
        heights = [height for _, _, height in self._laid(width)]
        between = BETWEEN * max(0, len(heights) - 1)
        return sum(heights) + between + margins.top() + margins.bottom()

    def minimumSize(self) -> QSize:
        least = super().minimumSize()
        if least.width() <= NARROWEST:
            return least
        widest = max((item.minimumSize().width() for item in self._shown()), default=0)
        margins = self.contentsMargins()
        wide = max(NARROWEST, widest + margins.left() + margins.right())
        return QSize(min(least.width(), wide), least.height())

    def setGeometry(self, rect: QRect) -> None:
        if self._fits(rect.width()):
            super().setGeometry(rect)
            return
        QLayout.setGeometry(self, rect)
        spare = max(0, rect.height() - self.heightForWidth(rect.width()))
        rect = rect.marginsRemoved(self.contentsMargins())
        top = rect.y() + spare // 2
        for line, widths, height in self._laid(rect.width()):
            left = rect.x()
            for item, width in zip(line, widths, strict=True):
                item.setGeometry(QRect(left, top, width, height))
                left += width + self.spacing()
            top += height + BETWEEN

    def _fits(self, width: int) -> bool:
        return super().minimumSize().width() <= width

    def _shown(self) -> Line:
        items = [item for place in range(self.count()) if (item := self.itemAt(place))]
        return [item for item in items if item.spacerItem() or not item.isEmpty()]

    def _laid(self, width: int) -> Iterator[tuple[Line, list[int], int]]:
        """The lines, how wide each of their items is, and how high they are."""
        for line in self._lines(width):
            widths = self._widths(line, width)
            yield line, widths, max(map(_height, line, widths))

    def _lines(self, width: int) -> list[Line]:
        """The items by line; a line has one at least."""
        lines: list[Line] = [[]]
        used = 0
        for item in self._shown():
            size = item.sizeHint() if item.hasHeightForWidth() else item.minimumSize()
            wanted = min(size.width(), width)
            if used + wanted > width and any(not one.spacerItem() for one in lines[-1]):
                lines.append([])
                used = 0
            lines[-1].append(item)
            used += wanted + self.spacing()
        return [line for line in lines if any(not item.spacerItem() for item in line)]

    def _widths(self, line: Line, width: int) -> list[int]:
        """How wide each item of a line is: as it must be, then as it likes, then what is left."""
        widths = [item.minimumSize().width() for item in line]
        left = width - sum(widths) - self.spacing() * (len(line) - 1)
        if left < 0:
            return [min(one, width) for one in widths]
        for place, item in enumerate(line):
            more = min(max(item.sizeHint().width() - widths[place], 0), left)
            widths[place] += more
            left -= more
        for eager in (True, False):
            growing = [place for place, item in enumerate(line) if _is_eager(item) == eager]
            for number, place in enumerate(growing):
                share = left // (len(growing) - number)
                more = min(share, line[place].maximumSize().width() - widths[place])
                widths[place] += more
                left -= more
        return widths


def _is_eager(item: QLayoutItem) -> bool:
    """Whether an item wants all the room there is; others take it where nobody does."""
    return bool(item.expandingDirections() & Qt.Orientation.Horizontal)


def _height(item: QLayoutItem, width: int) -> int:
    wraps = item.hasHeightForWidth()
    return item.heightForWidth(width) if wraps else item.sizeHint().height()
