"""The faces of a station: their names, the cord under the one that is shown, its tools."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QVBoxLayout, QWidget

from rushweed.ui.look.colours import look
from rushweed.ui.look.cord import draw_cord, dyed
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.shell.zoom import ZoomChips

HEIGHT = 37


class _FaceName(QAbstractButton):
    """One face's name; a stretch of cord lies under the one that is shown."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.setText(text)
        self.setCheckable(True)
        self.setAccessibleName(text)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setFixedSize(self.sizeHint())

    def sizeHint(self) -> QSize:
        return QSize(QFontMetrics(font(BODY, 600)).horizontalAdvance(self.text()) + 6, HEIGHT - 2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        shown = self.isChecked()
        painter.setFont(font(BODY, 600 if shown else 400))
        painter.setPen(colours.ink if shown or self.underMouse() else colours.soft_ink)
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.text())
        if shown:
            dye = dyed(colours)
            y = self.height() - 5.5
            draw_cord(painter, [(0, y), (self.width(), y)], 2.6, [(1, dye)], 3.2)
        if self.hasFocus():
            painter.setPen(QPen(colours.tide, 1))
            painter.drawRoundedRect(self.rect().adjusted(0, 6, -1, -9), 4, 4)
        painter.end()


class FaceBar(QWidget):
    """Tells `turned` with the index of the face that was asked for."""

    turned = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self._names = QHBoxLayout()
        self._names.setSpacing(18)
        self._buttons: list[_FaceName] = []
        self._tools: QWidget | None = None
        self._layout = QHBoxLayout(self)
        self._layout.setContentsMargins(11, 1, 14, 1)
        self._layout.addLayout(self._names)
        self._layout.addStretch(1)

    def show_faces(self, names: tuple[str, ...], shown: int, tools: QWidget | None) -> None:
        """Show these faces; `tools` stand at the right."""
        if [b.text() for b in self._buttons] != list(names):
            self._make(names)
        for index, face in enumerate(self._buttons):
            face.setChecked(index == shown)
        if tools is not self._tools:
            if self._tools is not None:
                self._layout.removeWidget(self._tools)
                self._tools.hide()
            if tools is not None:
                self._layout.addWidget(tools)
                tools.show()
            self._tools = tools
        QTimer.singleShot(0, self._fit_tools)  # when the style sheet has reached new tools

    def _make(self, names: tuple[str, ...]) -> None:
        for old in self._buttons:
            self._names.removeWidget(old)
            old.deleteLater()
        self._buttons = [_FaceName(name) for name in names]
        for index, face in enumerate(self._buttons):
            self._names.addWidget(face)
            face.clicked.connect(lambda _=False, index=index: self.turned.emit(index))

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._fit_tools()

    def event(self, event: QEvent | None) -> bool:
        """Fit the tools anew where one of them says more than it did."""
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._fit_tools()
        return done

    def _fit_tools(self) -> None:
        if isinstance(self._tools, Tools):
            self._tools.fit(self.width() - self._names.sizeHint().width() - 30)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        for y in (0, self.height() - 1):
            painter.fillRect(0, y, self.width(), 1, look.colours.line)
        painter.end()


class Tools(QWidget):
    """What stands at the right of the face bar; the optional parts give way when it is narrow, and
    last of all the zoom, which has keys."""

    def __init__(
        self, parts: tuple[QWidget, ...], optional: tuple[QWidget, ...], spacing: int
    ) -> None:
        super().__init__()
        zooms = (part for part in parts if isinstance(part, ZoomChips) and part not in optional)
        self._parts, self._optional = parts, (*optional, *zooms)
        self._fitted: tuple[int, ...] = ()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(spacing)
        for part in parts:
            layout.addWidget(part)

    def fit(self, room: int) -> None:
        """Hide optional parts, the first ones first, until the others have room."""
        seen = [part for part in self._parts if part in self._optional or not part.isHidden()]
        asked = (room, *(part.sizeHint().width() for part in seen))
        if asked == self._fitted:
            return
        self._fitted = asked
        for part in self._optional:
            part.show()
        layout = self.layout()
        assert layout is not None
        for part in self._optional:
            layout.invalidate()
            if layout.sizeHint().width() <= room:
                return
            part.hide()


class BarredTable(QWidget):
    """A table with a bar of its tools above it, where the face bar has no room for them."""

    def __init__(self, tools: QWidget, table: QWidget) -> None:
        super().__init__()
        bar = QHBoxLayout()
        bar.setContentsMargins(5, 4, 5, 5)
        bar.addWidget(tools)
        bar.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(bar)
        layout.addWidget(table, 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        painter.end()


def tools_row(*parts: QWidget, optional: tuple[QWidget, ...] = (), spacing: int = 8) -> Tools:
    """Widgets for the right of the face bar."""
    return Tools(parts, optional, spacing)
