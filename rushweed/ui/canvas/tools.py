"""Tools as generators: press, moves and release in one readable function.

A tool is a function that takes the press and returns a generator; it receives every move and the
release through `yield`, and is closed when the drag is aborted. Events are small frozen values,
so a tool can be tested with no window at all.
"""

from __future__ import annotations

from collections.abc import Callable, Generator
from dataclasses import dataclass, replace

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QMouseEvent, QPointingDevice

from rushweed.core.values import Point
from rushweed.ui.canvas.view import View

ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}
"""By how many pixels across and down an arrow key moves something."""


@dataclass(frozen=True, slots=True)
class Pointer:
    """What the pointer did: its place in pixels of the picture, and what is held; whether the other
    end of a pen `erases`."""

    place: Point
    button: int = 1
    shift: bool = False
    ctrl: bool = False
    alt: bool = False
    released: bool = False
    double: bool = False
    erases: bool = False

    @property
    def pixel(self) -> Point:
        """The whole pixel under the pointer."""
        return Point(int(self.place.x // 1), int(self.place.y // 1))

    @property
    def corner(self) -> Point:
        """The pixel corner nearest to the pointer."""
        return Point(round(self.place.x), round(self.place.y))


Stroke = Generator[None, Pointer, None]
Tool = Callable[[Pointer], Stroke | None]


def pointer_of(
    view: View, event: QMouseEvent, released: bool = False, double: bool = False
) -> Pointer:
    """What a mouse event over a view says of the pointer."""
    held, device = event.modifiers(), event.pointingDevice()
    eraser = QPointingDevice.PointerType.Eraser
    return Pointer(
        view.to_picture(event.position().x(), event.position().y()),
        2 if event.button() == Qt.MouseButton.RightButton else 1,
        bool(held & Qt.KeyboardModifier.ShiftModifier),
        bool(held & Qt.KeyboardModifier.ControlModifier),
        bool(held & Qt.KeyboardModifier.AltModifier),
        released,
        double,
        device is not None and device.pointerType() == eraser,
    )


class Hand:
    """Carries events to the stroke in progress."""

    def __init__(self) -> None:
        self._stroke: Stroke | None = None
        self._running: Stroke | None = None
        self._last: Pointer | None = None

    @property
    def busy(self) -> bool:
        return self._stroke is not None

    def press(self, tool: Tool, event: Pointer) -> None:
        self.abort()
        self._last = event
        self._stroke = tool(event)
        if self._stroke is not None:
            self._advance(None)

    def move(self, event: Pointer) -> None:
        self._last = event
        self._advance(event)

    def release(self, event: Pointer) -> None:
        self._advance(event)
        self.abort()

    def let_go(self) -> None:
        """End the stroke where it is: the release will not come any more."""
        if self._stroke is not None and self._last is not None:
            self.release(replace(self._last, released=True))

    def abort(self) -> None:
        """End the stroke as if it had not begun; tools clean up when they are closed. What a stroke
        does itself may end it too, such as taking another tool in hand: it runs to its next pause.
        """
        stroke, self._stroke = self._stroke, None
        if stroke is not None and stroke is not self._running:
            stroke.close()

    def _advance(self, event: Pointer | None) -> None:
        stroke = self._running = self._stroke
        if stroke is None:
            return
        try:
            if event is None:
                next(stroke)
            else:
                stroke.send(event)
        except StopIteration:
            self._stroke = None
            return
        finally:
            self._running = None
        if self._stroke is not stroke:
            stroke.close()
