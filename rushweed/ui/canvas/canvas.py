"""The pan-and-zoom surface: a wheel zooms at the pointer, two fingers, the middle button or space
and a drag pan."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QHideEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QShowEvent,
    QTouchEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from rushweed.core.resting import touch
from rushweed.core.values import Point, Rect, Size
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.scrolling import Fingers, Scrolling
from rushweed.ui.canvas.tools import Hand, Pointer, Tool, pointer_of
from rushweed.ui.canvas.view import View, centred, fitted, nearest_step, next_step, zoom_words
from rushweed.ui.look.colours import look

Painting = Callable[[QPainter, "Canvas"], None]
GRID_FROM = 8


class Canvas(QWidget):
    """Shows a content of some pixels; `painting` draws it, `tool` is what a press begins.

    `hovered` carries the place under the pointer in pixels of the content, or None.
    """

    hovered = pyqtSignal(object)
    view_changed = pyqtSignal(object)

    def __init__(self, painting: Painting, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.painting = painting
        self.tool: Tool | None = None
        self.view = View()
        self.content = Rect(0, 0, 0, 0)
        self.pointer: Point | None = None
        self._hand = Hand()
        self._pan_from: QPoint | None = None
        self._space = False
        self._wants_fit = True
        self._scrolling = Scrolling(self, lambda: self.view, self.set_view, lambda: self.ratio)
        self._fingers = Fingers(
            self._scrolling,
            place=self.mapFromGlobal,
            press=self._press_finger,
            move=lambda place: self._hand.move(self._touch(place)),
            release=lambda place: self._hand.release(self._touch(place, released=True)),
            abort=self.abort,
        )
        self.setAttribute(Qt.WidgetAttribute.WA_AcceptTouchEvents)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(120, 80)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    @property
    def busy(self) -> bool:
        """Whether a drag is going on."""
        return self._hand.busy

    def show_content(self, content: Rect, keep_view: bool = False) -> None:
        """Show another content; fits it unless the view is to stay."""
        if content == self.content and keep_view:
            return
        self.content = content
        if not keep_view:
            self.fit()
        self.update()

    def fit(self) -> None:
        """Show all of the content as large as it goes."""
        self._wants_fit = True
        size = Size(self.width(), self.height())
        self.set_view(fitted(self.content, size, self.ratio), fitting=True)

    def zoom_to(self, scale: float) -> None:
        """Show the content at a scale, keeping the middle of the view."""
        middle = (self.width() / 2, self.height() / 2)
        self.set_view(self.view.zoomed(scale, *middle))

    def centre_on(self, area: Rect, scale: float | None = None) -> None:
        """Bring an area of the content to the middle."""
        self.set_view(centred(area, Size(self.width(), self.height()), scale or self.view.scale))

    def show_close(self, area: Rect, most: float) -> None:
        """Show an area large: its pixels even, and not more than so many of the window system's."""
        self.centre_on(area, even_scale(max(most, 1.0), self.ratio))

    @property
    def ratio(self) -> float:
        """How many of the screen's own pixels are one of the window system's."""
        return ratio_of(self)

    @property
    def zoom_words(self) -> str:
        """How many of the screen's pixels one of the content takes, as people write it."""
        return zoom_words(self.view.scale * self.ratio)

    def set_view(self, view: View, fitting: bool = False) -> None:
        """Show another view, on whole pixels of the screen."""
        self._wants_fit, ratio = fitting, self.ratio
        left, top = (round(side * ratio) / ratio for side in (view.left, view.top))
        view = View(view.scale, left, top)
        if view != self.view:
            self.view = view
            touch()
            self.view_changed.emit(view)
            self.update()

    def visible(self) -> Rect:
        """The pixels of the content that can be seen."""
        return self.view.visible(self.width(), self.height())

    def to_screen(self, rect: Rect) -> QRectF:
        """A rectangle of the content, on the screen."""
        corner = self.view.to_screen(rect.x, rect.y)
        scale = self.view.scale
        return QRectF(corner.x, corner.y, rect.width * scale, rect.height * scale)

    def update_area(self, rect: Rect) -> None:
        """Paint a part of the content again."""
        self.update(self.to_screen(rect).toAlignedRect().adjusted(-14, -14, 14, 14))

    def abort(self) -> None:
        """Leave the drag in progress."""
        self._hand.abort()

    def let_go(self) -> None:
        """End the drag where it is; no button and no key is held any more."""
        self._hand.let_go()
        self._pan_from = None
        if self._space:
            self._space = False
            self.unsetCursor()

    def covered(self) -> QRect:
        """What its painting covers wholly, of all that it is asked to paint."""
        return QRect()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        assert event is not None
        painter = QPainter(self)
        try:
            painter.setClipRect(event.rect())
            for rect in _around(self.covered().intersected(event.rect()), event.rect()):
                painter.fillRect(rect, look.colours.well)
            self.painting(painter, self)
        finally:
            painter.end()

    def showEvent(self, event: QShowEvent | None) -> None:
        self.view_changed.emit(self.view)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._wants_fit:
            self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self._scrolling.wheel(event)
        event.accept()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QNativeGestureEvent):
            return self._scrolling.gesture(event)
        if isinstance(event, QTouchEvent):
            self._fingers.take(event)
            event.accept()
            return True
        return super().event(event)

    def _touch(self, place: QPointF, released: bool = False) -> Pointer:
        """What one finger says of the pointer."""
        self.pointer = self.view.to_picture(place.x(), place.y())
        self.hovered.emit(self.pointer)
        return Pointer(self.pointer, released=released)

    def _press_finger(self, place: QPointF) -> None:
        if self.tool is not None:
            self._hand.press(self.tool, self._touch(place))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        pans = event.button() == Qt.MouseButton.MiddleButton or self._space
        if pans:
            self._pan_from = event.position().toPoint()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif self.tool is not None:
            self._hand.press(self.tool, pointer_of(self.view, event))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self.tool is not None:
            self._hand.press(self.tool, pointer_of(self.view, event, double=True))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        here = event.position().toPoint()
        if self._pan_from is not None:
            self.set_view(
                self.view.moved(here.x() - self._pan_from.x(), here.y() - self._pan_from.y())
            )
            self._pan_from = here
            return
        if event.buttons():
            touch()
        self.pointer = self.view.to_picture(event.position().x(), event.position().y())
        self.hovered.emit(self.pointer)
        self._hand.move(pointer_of(self.view, event))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._pan_from is not None:
            self._pan_from = None
            self.unsetCursor()
        else:
            self._hand.release(pointer_of(self.view, event, released=True))

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.let_go()

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        left = event is not None and event.type() == QEvent.Type.ActivationChange
        if left and not self.isActiveWindow():
            self.let_go()

    def suit_screen(self) -> None:
        """Show it anew on a screen of another ratio."""
        if self._wants_fit:
            self.fit()
        else:
            self.zoom_to(nearest_step(self.view.scale, self.ratio))

    def leaveEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self.pointer = None
        self.hovered.emit(None)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = event.key()
        if key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        elif key == Qt.Key.Key_Escape and self._hand.busy:
            self._hand.abort()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.unsetCursor()
        else:
            super().keyReleaseEvent(event)


def _around(inner: QRect, outer: QRect) -> list[QRect]:
    """What lies around a rectangle within another."""
    if inner.isEmpty():
        return [outer]
    left, right = inner.left(), inner.left() + inner.width()
    top, bottom = inner.top(), inner.top() + inner.height()
    far_right, far_bottom = outer.left() + outer.width(), outer.top() + outer.height()
    around = [
        QRect(outer.left(), outer.top(), outer.width(), top - outer.top()),
        QRect(outer.left(), bottom, outer.width(), far_bottom - bottom),
        QRect(outer.left(), top, left - outer.left(), inner.height()),
        QRect(right, top, far_right - right, inner.height()),
    ]
    return [rect for rect in around if not rect.isEmpty()]


def step_nearer(canvas: Canvas, by: int) -> None:
    """Show a canvas' content by so many of the usual steps nearer."""
    canvas.zoom_to(next_step(canvas.view.scale, by, canvas.ratio))


def draw_image(
    painter: QPainter, canvas: Canvas, image: QImage, x: float = 0, y: float = 0
) -> None:
    """Draw an image nearest at its place in the content; only what can be seen of it."""
    seen = canvas.visible().intersection(Rect(int(x), int(y), image.width(), image.height()))
    if seen.area:
        source = QRectF(seen.x - x, seen.y - y, seen.width, seen.height)
        painter.drawImage(canvas.to_screen(seen), image, source)
