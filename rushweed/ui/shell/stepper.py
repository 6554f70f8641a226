"""A number that can be typed, stepped, dragged, and takes simple arithmetic."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QFontMetrics,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QToolTip, QWidget

from rushweed.core.arithmetic import calculate
from rushweed.core.gauge.units import figure
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font

CELL = 16
EDGE = 2
"""What the text keeps from either end of its line."""
AROUND = 16
"""What lies around number and unit."""
DRAG = 4
"""Dragging this many screen pixels changes the number by one step."""


class Stepper(QWidget):
    """Tells `entered` with the new value, a whole number unless `whole` is false, and `limited`
    where it is not what was typed."""

    entered = pyqtSignal(object)
    limited = pyqtSignal(str)

    def __init__(
        self,
        name: str,
        unit: str = "px",
        low: float = 0,
        high: float = 99999,
        step: float = 1,
        whole: bool = True,
        width: int = 94,
    ) -> None:
        super().__init__()
        self.low, self.high, self.step, self.whole = low, high, step, whole
        self.unit = unit
        self.value: float | None = low
        self.blank = False
        self._drag: tuple[float, float] | None = None
        self._clicked_into = False
        digits = self.fontMetrics().horizontalAdvance("00")
        self.setFixedSize(max(width, digits + self._unit_width() + 2 * CELL + AROUND), 24)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)
        self.edit = QLineEdit(self)
        self.edit.setProperty("bare", "true")
        self.edit.setFont(font(BODY))
        self.edit.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.edit.setAccessibleName(f"{name}, {unit}" if unit else name)
        self.edit.installEventFilter(self)
        self.edit.editingFinished.connect(self._finish)
        self.edit.textEdited.connect(lambda _: self.update())
        self.setFocusProxy(self.edit)
        self._layout = QHBoxLayout(self)
        self._layout.addWidget(self.edit)
        self.show_value(low)

    def show_value(self, value: float | None, blank: bool = False, guessed: bool = False) -> None:
        """Show a number; for None, that numbers differ or, where it is blank, that there is none.
        One that nobody set, and that is only `guessed`, is faint until somebody types it. Not while
        somebody is typing."""
        if (value, blank) != (self.value, self.blank):
            self.update()
        self.value, self.blank = value, blank
        self._layout.setContentsMargins(5, 1, self._unit_width() + 2 * CELL + 7, 1)
        if not (self.edit.hasFocus() and self.edit.isModified()):
            shown = "" if value is None else figure(value, 3)
            self.edit.setText("" if guessed else shown)
            self.edit.setPlaceholderText(self._differing_words() if self._differs else shown)
            self.edit.setModified(False)

    def show_nothing(self) -> None:
        """Show that there is nothing to show a value of."""
        self.show_value(None, blank=True)

    def words_of(self, value: float) -> str:
        """The text of a value."""
        return figure(value, 3)

    def by(self, steps: float) -> None:
        """Go up or down by some steps."""
        self._set((self.value if self.value is not None else self.low) + steps * self.step)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        focused = self.edit.hasFocus()
        inset = 1.0 if focused else 0.5
        frame = QRectF(self.rect()).adjusted(inset, inset, -inset, -inset)
        edge, ground = self._edge_and_ground()
        painter.setPen(QPen(edge, 2 if focused else 1))
        painter.setBrush(ground)
        painter.drawRoundedRect(frame, 4, 4)
        painter.setPen(colours.soft_ink if self.isEnabled() else colours.faint_ink)
        painter.setFont(font(CAPTION))
        right = self.width() - 2 * CELL - 1
        place = QRectF(right - self._unit_width() - 4, 0, self._unit_width(), self.height())
        painter.drawText(place, Qt.AlignmentFlag.AlignCenter, self._unit_text())
        for index in (0, 1):
            self._paint_cell(painter, right + index * CELL, index == 1)
        painter.end()

    def _edge_and_ground(self) -> tuple[QColor, QColor]:
        colours = look.colours
        if not self.isEnabled():
            return colours.line, colours.raised
        if self._differs:
            return colours.tide if self.edit.hasFocus() else colours.ochre_edge, colours.ochre_pale
        return colours.tide if self.edit.hasFocus() else colours.strong_line, colours.field

    def _paint_cell(self, painter: QPainter, left: float, plus: bool) -> None:
        colours = look.colours
        painter.setPen(QPen(colours.line, 1))
        painter.drawLine(QPointF(left + 0.5, 2), QPointF(left + 0.5, self.height() - 2))
        painter.setPen(QPen(colours.soft_ink if self.isEnabled() else colours.faint_ink, 1.5))
        x, y = left + 8, self.height() / 2
        painter.drawLine(QPointF(x - 3.5, y), QPointF(x + 3.5, y))
        if plus:
            painter.drawLine(QPointF(x, y - 3.5), QPointF(x, y + 3.5))

    def _unit_text(self) -> str:
        """The unit; while an expression is typed, what it comes to."""
        text = self.edit.text()
        if self.edit.isModified() and any(sign in text.lstrip("-") for sign in "+-*/×÷"):
            try:
                return f"= {figure(calculate(text), 3)}"
            except Refusal:
                return "= ?"
        return "" if self._differs else self.unit

    def _unit_width(self) -> int:
        metrics = QFontMetrics(font(CAPTION))
        if self._differs or not self.unit:
            return 0 if self._differs else 6
        return max(metrics.horizontalAdvance(self.unit), 14)

    def _differing_words(self) -> str:
        """That numbers differ, by a sign where the word would be cut off."""
        margins, word = self._layout.contentsMargins(), say("differs")
        room = self.width() - margins.left() - margins.right() - 2 * EDGE
        return word if QFontMetrics(font(BODY)).horizontalAdvance(word) <= room else "≠"

    @property
    def _differs(self) -> bool:
        return self.value is None and not self.blank

    def _finish(self) -> None:
        if not self.edit.isModified():
            return
        self.edit.setModified(False)
        try:
            typed = calculate(self.edit.text())
        except Refusal as refusal:
            self.show_value(self.value)
            QToolTip.showText(self.mapToGlobal(self.rect().bottomLeft()), str(refusal), self)
            return
        value = self._nearest(typed)
        self._take(value)
        if not self.low <= typed <= self.high:
            told = say("{what} is from {low} to {high}: it is {value} now.")
            values = {"low": self.low, "high": self.high, "value": value}
            shown = {name: figure(number, 3) for name, number in values.items()}
            self.limited.emit(told.format(what=self.accessibleName(), **shown))

    def _nearest(self, value: float) -> float:
        """The number that there is nearest to one."""
        value = min(max(value, self.low), self.high)
        return float(round(value)) if self.whole else round(value, 4)

    def _set(self, value: float) -> None:
        """Step or drag to a number, and no further than it goes."""
        value = self._nearest(value)
        if value != self.value:
            self._take(value)

    def _take(self, value: float) -> None:
        """What is typed counts, also where it is shown already: it may have been a guess."""
        self.show_value(value)
        self.entered.emit(int(value) if self.whole else value)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        assert event is not None
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self.update()
        if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusIn:
            self._clicked_into = event.reason() == Qt.FocusReason.MouseFocusReason
        if event.type() == QEvent.Type.MouseButtonRelease and self._clicked_into:
            self._clicked_into = False  # a click means the number, a second one a place in it
            if not self.edit.hasSelectedText():
                self.edit.selectAll()
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {
                Qt.Key.Key_Up: 1,
                Qt.Key.Key_Down: -1,
                Qt.Key.Key_PageUp: 10,
                Qt.Key.Key_PageDown: -10,
            }
            if event.key() in step:
                self._finish()
                self.by(step[Qt.Key(event.key())])
                return True
            if event.key() == Qt.Key.Key_Escape and self.edit.isModified():
                self.edit.setModified(False)
                self.show_value(self.value)
                return True
        return False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        left = event.position().x() - (self.width() - 2 * CELL - 1)
        if left >= 0:
            self._finish()
            self.by(1 if left >= CELL else -1)
        else:
            self._drag = (event.position().x(), self.value or self.low)
            self.setCursor(Qt.CursorShape.SizeHorCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag:
            start, value = self._drag
            self._set(value + int((event.position().x() - start) / DRAG) * self.step)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._drag = None
        self.unsetCursor()
