"""The table of choices: what each makes of the art and what it costs; click to see, then choose."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.compression.costs import EXACT, Cost
from rushweed.core.gauge.glance import compression_words
from rushweed.core.gauge.units import figure
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression
from rushweed.core.words import say
from rushweed.ui.canvas.even import draw_fitted
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.look.colours import look
from rushweed.ui.look.cord import draw_cord, draw_knot, dyed, raw
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.controls import button
from rushweed.ui.shell.table_head import Title

HEAD, ROW = 36, 25
NAME, WORST, NARROW = 38, 522, 680
"""Where names and worst pieces begin; a narrower table has no room for the latter."""
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
NUMBERS = (
    "On disk\nKiB",
    "In graphics\nmemory, KiB",
    "Signal to\nnoise, dB",
    "Pixels\nchanged, %",
)
SHORT_NUMBERS = ("Disk\nKiB", "Memory\nKiB", "Signal\ndB", "Changed\n%")
WIDE_ENDS, NARROW_ENDS = (262, 346, 430, 506), (262, 336, 386, 446)
"""Where the columns of numbers end."""


def number_ends(width: int) -> tuple[int, ...]:
    """Where the columns of numbers end in a table of that width."""
    return NARROW_ENDS if width < NARROW else WIDE_ENDS


def cost_titles(head: QRect) -> Iterator[Title]:
    """The titles above the table, in a head of that size."""
    yield _column(NAME, LEFT, head), LEFT, say("Choice")
    is_narrow = head.width() < NARROW
    numbers = SHORT_NUMBERS if is_narrow else NUMBERS
    for x, title in zip(number_ends(head.width()), numbers, strict=True):
        yield _column(x, RIGHT, head), RIGHT, say(title)
    if not is_narrow:
        yield _column(WORST, LEFT, head), LEFT, say("Worst piece")


class CostTable(QWidget):
    """`looked_at` tells which row somebody wants to see, `chosen` which one to have, and
    `worst_wanted` which piece, where it does worst."""

    worst_wanted = pyqtSignal(int)
    looked_at = pyqtSignal(object)
    chosen = pyqtSignal(object)

    def __init__(self, picture_of: Callable[[int], QImage | None]) -> None:
        super().__init__()
        self.rows: list[Compression] = []
        self.costs: dict[Compression, Cost] = {}
        self.current: Compression | None = None
        self.seen: Compression | None = None
        self._project = Project()
        self._picture_of = picture_of
        self.choose = button(say("Choose"), self._choose, "main")
        self.choose.setParent(self)
        self.choose.setFixedHeight(ROW - 3)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("Choices of compression and what they cost"))

    def show_rows(
        self,
        project: Project,
        rows: list[Compression],
        current: Compression | None,
        seen: Compression | None,
    ) -> None:
        """Show these choices, the one that holds and the one looked at among them."""
        self._project, self.rows, self.current, self.seen = project, rows, current, seen
        self.setMinimumHeight(ROW * len(rows))
        self._place_button()
        self.update()

    def show_costs(self, costs: dict[Compression, Cost]) -> None:
        """Show what is known of them so far."""
        self.costs = costs
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, ROW * len(self.rows))

    def row_rect(self, choice: Compression) -> QRect:
        """Where a choice's row lies."""
        return QRect(0, ROW * self.rows.index(choice), self.width(), ROW)

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._place_button()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = event.position().toPoint().y() // ROW
        if 0 <= place < len(self.rows):
            self.setFocus()
            choice = self.rows[place]
            self.looked_at.emit(choice)
            cost = self.costs.get(choice)
            if cost is not None and cost.loss.worst and event.position().x() >= WORST:
                self.worst_wanted.emit(cost.loss.worst)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._choose()
        elif step and self.rows:
            place = self.rows.index(self.seen) + step if self.seen in self.rows else 0
            self.looked_at.emit(self.rows[min(max(place, 0), len(self.rows) - 1)])
        else:
            super().keyPressEvent(event)

    def _choose(self) -> None:
        if self.seen is not None and self.seen != self.current:
            self.chosen.emit(self.seen)

    def _place_button(self) -> None:
        visible = self.seen in self.rows and self.seen != self.current
        self.choose.setVisible(visible)
        if visible and self.seen is not None:
            row = self.row_rect(self.seen)
            self.choose.move(self.width() - self.choose.sizeHint().width() - 10, row.top() + 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.raised)
        for choice in self.rows:
            self._paint_row(painter, choice, self.row_rect(choice))
        painter.end()

    def _paint_row(self, painter: QPainter, choice: Compression, row: QRect) -> None:
        colours = look.colours
        held = choice == self.current
        if choice == self.seen:
            painter.fillRect(row, colours.tide_wash)
        painter.fillRect(0, row.bottom(), row.width(), 1, colours.inner_line)
        middle = row.center().y() + 0.5
        dye = dyed(colours) if held else raw(colours)
        draw_cord(painter, [(10, middle), (28, middle)], 3, [(1, dye)], 3.2)
        if held:
            draw_knot(painter, 19, middle, dye, 0.62)
        name, detail = compression_words(choice)
        painter.setFont(font(BODY, 600 if held else 500))
        painter.setPen(colours.ink)
        painter.drawText(_column(NAME, LEFT, row), LEFT, name)
        width = painter.fontMetrics().horizontalAdvance(name) + 6
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        painter.drawText(_column(NAME + width, LEFT, row), LEFT, detail)
        cost = self.costs.get(choice)
        if cost is None:
            painter.drawText(_column(number_ends(self.width())[0], RIGHT, row), RIGHT, "…")
        else:
            self._paint_cost(painter, cost, row)
        if held:
            painter.setFont(font(BODY, 600))
            painter.setPen(colours.rush)
            painter.drawText(row.adjusted(0, 0, -16, 0), RIGHT, say("chosen"))

    def _paint_cost(self, painter: QPainter, cost: Cost, row: QRect) -> None:
        exact = cost.loss.noise == EXACT
        numbers = (
            kibibytes(cost.treated.on_disk),
            kibibytes(cost.treated.in_memory),
            say("exact") if exact else f"{cost.loss.noise:.1f}",
            "0" if exact else figure(max(cost.loss.share * 100, 0.1), 1),
        )
        painter.setFont(font(BODY))
        painter.setPen(look.colours.ink)
        for x, text in zip(number_ends(self.width()), numbers, strict=True):
            painter.drawText(_column(x, RIGHT, row), RIGHT, text)
        if self.width() >= NARROW:
            self._paint_worst(painter, cost, row)

    def _paint_worst(self, painter: QPainter, cost: Cost, row: QRect) -> None:
        found = self._project.find(cost.loss.worst)
        painter.setFont(font(CAPTION))
        if found is None:
            painter.setPen(look.colours.soft_ink)
            painter.drawText(
                _column(WORST, LEFT, row), LEFT, "" if cost.loss.error else say("none")
            )
            return
        image = self._picture_of(cost.loss.worst)
        if image is not None:
            place = QRectF(WORST, row.top() + 2, ROW - 5, ROW - 5)
            draw_checker(painter, place, 5)
            draw_fitted(painter, place, image)
        painter.setPen(look.colours.ink)
        room = self.width() - WORST - 28 - 110
        words = f"{shown_name(*found)}  {cost.loss.worst_noise:.1f} dB"
        words = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideMiddle, room)
        painter.drawText(_column(WORST + 28, LEFT, row), LEFT, words)


def kibibytes(count: int) -> str:
    """Bytes as KiB, with one decimal while there are few."""
    size = count / 1024
    return f"{size:.1f}" if size < 1000 else f"{size:,.0f}".replace(",", " ")


def _column(x: int, align: Qt.AlignmentFlag, row: QRect) -> QRect:
    if align == RIGHT:
        return QRect(x - 130, row.top(), 130, row.height())
    return QRect(x, row.top(), 400, row.height())
