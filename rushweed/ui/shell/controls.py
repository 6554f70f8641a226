"""The controls of the slip: buttons, chips, checks, fields, result lines."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Generic, TypeVar

from PyQt6.QtCore import QMetaObject, QPointF, QRectF, QSize, QStringListModel, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QComboBox,
    QCompleter,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QStyleOptionComboBox,
    QWidget,
)

from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.look.icons import draw_icon
from rushweed.ui.shell.wrapping import WrappingRow

Value = TypeVar("Value")


def button(
    text: str, action: Callable[[], object] | None = None, role: str = "", tip: str = ""
) -> QPushButton:
    """A push button. Roles: main, small, ochre, tool, link, quiet."""
    result = QPushButton(text)
    if role:
        result.setProperty("role", role)
    if role == "tool":
        result.setCheckable(True)
    if tip:
        result.setToolTip(tip)
    result.setAccessibleName(text)
    result.setFont(font(CAPTION if role in ("small", "ochre", "link", "facts") else BODY, 400))
    result.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
    result.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # a click leaves the keys to the table
    if action is not None:
        result.clicked.connect(lambda: action())
    return result


def label(text: str = "", role: str = "") -> QLabel:
    """A text. Roles: caption, heading, result, warning, differs."""
    result = QLabel(text)
    result.setTextFormat(Qt.TextFormat.PlainText)
    if role:
        result.setProperty("role", role)
    weight = 600 if role == "heading" else 400
    result.setFont(font(BODY if role in ("", "heading") else CAPTION, weight))
    if role in ("result", "warning"):
        result.setWordWrap(True)
    return result


def flowing(role: str = "") -> QLabel:
    """A text that is told later; it takes the room of its row, and wraps in it."""
    result = label(role=role)
    result.setWordWrap(True)
    result.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
    return result


def tell_shortly(caption: QLabel, text: str) -> None:
    """Show a text in a caption that may be cut off where there is no room; it is told in full by
    its tip."""
    caption.setMinimumWidth(1)
    caption.setText(text)
    caption.setToolTip(text)


def set_role(widget: QWidget, role: str) -> None:
    """Change a widget's role and have it styled anew."""
    if widget.property("role") != role:
        widget.setProperty("role", role)
        restyle(widget)


def restyle(widget: QWidget) -> None:
    """Have a widget styled anew, after a property that its style looks at has changed."""
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


class ResultLine(QLabel):
    """Closes a group with what its choices come to; ochre when it warns."""

    def __init__(self) -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setProperty("role", "result")
        self.setFont(font(CAPTION))
        self.setWordWrap(True)
        self.setIndent(0)  # of what a frame asks for, its height would know and its text would not
        self.hide()

    def tell(self, text: str, warns: bool = False) -> None:
        """Show a sentence, or nothing for an empty one."""
        self.setText(text)
        set_role(self, "warning" if warns else "result")
        self.setVisible(bool(text))


class Chips(QWidget, Generic[Value]):
    """Joined cells, one for each value, one of which is chosen; none where values differ."""

    entered = pyqtSignal(object)

    def __init__(
        self,
        choices: Mapping[Value, str],
        tool: bool = False,
        tips: Sequence[str] = (),
        name: str = "",
    ) -> None:
        super().__init__()
        self._group = QButtonGroup(self)
        self._group.setExclusive(True)
        row = WrappingRow(0)
        self.setLayout(row)
        self.buttons: dict[Value, QPushButton] = {}
        for index, (value, text) in enumerate(choices.items()):
            chip = button(text, tip=tips[index] if tips else "")
            chip.setCheckable(True)
            place = "first" if index == 0 else "last" if index == len(choices) - 1 else "middle"
            chip.setProperty("chip", "only" if len(choices) == 1 else place)
            chip.setProperty("tool", "true" if tool else "false")
            if name:
                chip.setAccessibleName(f"{name}: {text}")
            self._group.addButton(chip)
            row.addWidget(chip)
            self.buttons[value] = chip
            chip.clicked.connect(lambda _=False, value=value: self.entered.emit(value))
        policy = QSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def show_value(self, value: Value | None) -> None:
        """Show what is chosen, without telling anybody."""
        self._group.setExclusive(False)
        for each, chip in self.buttons.items():
            chip.setChecked(each == value)
        self._group.setExclusive(True)

    def show_nothing(self) -> None:
        """Show that there is nothing to show a value of."""
        self.show_value(None)

    @property
    def value(self) -> Value | None:
        return next((value for value, chip in self.buttons.items() if chip.isChecked()), None)

    def words_of(self, value: Value) -> str:
        """The text of a value."""
        return self.buttons[value].text()


class Check(QCheckBox):
    """A check with a box of 13 px; a dash stands in it where values differ."""

    entered = pyqtSignal(bool)

    def __init__(self, text: str, action: Callable[[bool], object] | None = None) -> None:
        super().__init__(text)
        self.setFont(font())
        self.setMinimumHeight(24)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.clicked.connect(self.entered.emit)
        if action is not None:
            self.entered.connect(action)

    def show_value(self, value: bool | None) -> None:
        """Show whether it is so, or that it differs, without telling anybody."""
        states = Qt.CheckState
        state = states.PartiallyChecked if value is None else states.Unchecked
        self.setCheckState(states.Checked if value else state)

    def show_nothing(self) -> None:
        """Show that there is nothing to show a value of."""
        self.show_value(False)

    def nextCheckState(self) -> None:
        self.setChecked(self.checkState() != Qt.CheckState.Checked)

    def words_of(self, value: bool) -> str:
        """The text of a value."""
        return say("on") if value else say("off")

    def sizeHint(self) -> QSize:
        return QSize(self.fontMetrics().horizontalAdvance(self.text()) + 24, 24)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def hitButton(self, pos) -> bool:  # type: ignore[no-untyped-def]
        return self.rect().contains(pos)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(0.5, self.height() / 2 - 6.5, 13, 13)
        on = self.checkState() == Qt.CheckState.Checked
        edge = colours.tide if on or self.hasFocus() or self.underMouse() else colours.strong_line
        painter.setPen(QPen(edge, 2 if self.hasFocus() and not on else 1))
        painter.setBrush(colours.tide if on else colours.field)
        painter.drawRoundedRect(box, 3, 3)
        if on:
            painter.setPen(QPen(colours.on_tide, 1.8, cap=Qt.PenCapStyle.RoundCap))
            x, y = box.left(), box.top()
            tick = [
                QPointF(x + 2.8, y + 6.6),
                QPointF(x + 5.4, y + 9.4),
                QPointF(x + 10.2, y + 3.8),
            ]
            painter.drawPolyline(QPolygonF(tick))
        elif self.checkState() == Qt.CheckState.PartiallyChecked:
            painter.setPen(QPen(colours.ochre_edge, 2, cap=Qt.PenCapStyle.RoundCap))
            painter.drawLine(box.center() - QPointF(3, 0), box.center() + QPointF(3, 0))
        if on and self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colours.ink, 1))
            painter.drawRoundedRect(box.adjusted(-1, -1, 1, 1), 4, 4)
        painter.setPen(colours.ink if self.isEnabled() else colours.faint_ink)
        painter.setFont(self.font())
        text = QRectF(21, 0, self.width() - 21, self.height())
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.end()


FAINT = 0.4
"""How much is seen of a drawn button that cannot be pressed."""
BESIDE_TEXT = 34
"""Pixels that the edges and the arrow of a list take."""


class Choice(QComboBox, Generic[Value]):
    """A list to choose one value of, with our own arrow."""

    entered = pyqtSignal(object)

    def __init__(
        self, name: str, width: int = 0, choices: Mapping[Value, str] | None = None
    ) -> None:
        """Without a width it takes all the room of its row."""
        super().__init__()
        self._choices: dict[Value, str] = {}
        self.setFont(font())
        self.setAccessibleName(name)
        self.setAccessibleDescription(name)  # its name is heard as what is chosen
        if width:
            texts = map(self.fontMetrics().horizontalAdvance, (choices or {}).values())
            self.setFixedWidth(max(width, min(max(texts, default=0) + BESIDE_TEXT, 2 * width)))
        policy = QSizePolicy.Policy
        self.setSizePolicy(policy.Fixed if width else policy.Expanding, policy.Fixed)
        self.activated.connect(lambda index: self.entered.emit(list(self._choices)[index]))
        self.offer(choices or {})

    def offer(self, choices: Mapping[Value, str]) -> None:
        """Let one of these be chosen; what was chosen stays so where it is among them."""
        if list(self._choices.items()) == list(choices.items()):
            return
        value = self.value
        self._choices = dict(choices)
        self.clear()
        self.addItems(list(choices.values()))
        self.show_value(value)

    def show_value(self, value: Value | None, instead: str = "") -> None:
        """Show what is chosen, without telling anybody; where it is none of the choices, another
        text or that values differ."""
        places = {each: place for place, each in enumerate(self._choices)}
        self.setCurrentIndex(places.get(value, -1) if value is not None else -1)
        self.setPlaceholderText(instead or say("differs"))

    def show_nothing(self) -> None:
        """Show that there is nothing to show a value of."""
        self.show_value(None, " ")

    @property
    def value(self) -> Value | None:
        index = self.currentIndex()
        return list(self._choices)[index] if index >= 0 else None

    def words_of(self, value: Value) -> str:
        """The text of a value."""
        return self._choices[value]

    def wheelEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        event.ignore()

    def initStyleOption(self, option: QStyleOptionComboBox | None) -> None:
        super().initStyleOption(option)
        assert option is not None
        room = self.width() - BESIDE_TEXT
        option.currentText = self.fontMetrics().elidedText(
            option.currentText, Qt.TextElideMode.ElideMiddle, room
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        draw_icon(painter, "down", self.width() - 19, self.height() / 2 - 7, look.colours.soft_ink)
        painter.end()


class Field(QLineEdit):
    """A line of text that tells when it is finished, and that can show “differs”. One that
    `goes_on` keeps the keys after Enter."""

    entered = pyqtSignal(str)
    goes_on = False

    def __init__(self, name: str, hint: str = "") -> None:
        super().__init__()
        self.setFont(font())
        self.setAccessibleName(name)
        self.setPlaceholderText(hint)
        self._hint = hint
        self._shown = ""
        self._words: Callable[[], Sequence[str]] | None = None
        self._offering: QMetaObject.Connection | None = None
        self.editingFinished.connect(self._finish)

    def show_value(self, text: str | None) -> None:
        """Show a value, or that values differ for None; not while somebody is typing."""
        if self.hasFocus() and self.isModified():
            return
        self._shown = text or ""
        self.setText(self._shown)
        self.setPlaceholderText(say("differs") if text is None else self._hint)
        differs = "true" if text is None else "false"
        if self.property("differs") != differs:
            self.setProperty("differs", differs)
            restyle(self)

    def show_nothing(self) -> None:
        """Show that there is nothing to show a value of."""
        self.show_value("")

    def words_of(self, value: str) -> str:
        """The text of a value."""
        return value

    def completed_from(self, words: Callable[[], Sequence[str]]) -> None:
        """Offer words that begin or hold what is typed; they are asked for when it is entered."""
        self._words = words

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        if self._words is not None and self.completer() is None:
            words = list(self._words())
            fitting = QStringListModel(words, self)
            completer = QCompleter(fitting, self)
            completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
            completer.setMaxVisibleItems(8)
            completer.activated.connect(lambda _: self._finish_completed())
            self.setCompleter(completer)
            self._offering = self.textEdited.connect(
                lambda typed: fitting.setStringList(holding(words, typed))
            )

    def fold(self) -> None:
        """Offer no words any more until it is entered again: a list that was hidden a moment ago
        would take the focus back."""
        if self._offering is not None:
            self.textEdited.disconnect(self._offering)
            self._offering = None
            self.setCompleter(None)

    def _finish_completed(self) -> None:
        self.setModified(True)
        self._finish()

    def _finish(self) -> None:
        completer = self.completer()
        popup = completer.popup() if completer is not None else None
        if popup is not None:
            popup.hide()
        if self.isModified() and self.text() != self._shown:
            self._shown = self.text()
            self.setModified(False)
            self.entered.emit(self._shown)


def holding(words: Sequence[str], typed: str) -> list[str]:
    """The words that hold what is typed, in small or large letters; those that begin so first."""
    wanted = typed.strip().casefold()
    found = [word for word in words if wanted in word.casefold()]
    return sorted(found, key=lambda word: not word.casefold().startswith(wanted))


def row(*parts: QWidget | int | None, spacing: int = 6) -> WrappingRow:
    """Widgets side by side, on several lines where there is no room; None stretches, a number is
    a gap."""
    layout = WrappingRow(spacing)
    for part in parts:
        if part is None:
            layout.addStretch(1)
        elif isinstance(part, int):
            layout.addSpacing(part)
        else:
            layout.addWidget(part)
    return layout
