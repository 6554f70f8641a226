"""The whole level in small; a click or a drag goes there."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from rushweed.core.project.level import Level, bounds
from rushweed.core.values import Rect
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.level_picture import LevelPicture
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import Check, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group

SIZE = (284, 92)


class Overview(Canvas):
    """Follows another canvas that shows the open level."""

    def __init__(
        self, desk: Desk, images: Images, main: Canvas, level: Callable[[], Level | None]
    ) -> None:
        super().__init__(self._paint)
        self._desk, self._main, self._level = desk, main, level
        self._picture = LevelPicture(images)
        self.tool = self._go
        self.setFixedSize(*SIZE)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName(say("The whole level"))
        main.view_changed.connect(lambda view: self.update())

    def refresh(self) -> None:
        """Show the level as it is now."""
        level = self._level()
        if level is not None:
            width, height = self._desk.project.rules.tile
            area = bounds(level)
            self.show_content(
                Rect(
                    area.x * width,
                    area.y * height,
                    max(1, area.width) * width,
                    max(1, area.height) * height,
                )
            )
        self.update()

    def wheelEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        event.ignore()

    def _go(self, press: Pointer) -> Stroke:
        event = press
        while True:
            x, y = (int(side) for side in event.place)
            self._main.centre_on(Rect(x, y, 1, 1))
            if event.released:
                return
            event = yield

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        level = self._level()
        if level is None:
            return
        self._picture.draw(painter, self, self._desk.project, level)
        seen = self.to_screen(self._main.visible())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((MARKS.paper, 3.0), (MARKS.tide, 1.5)):
            painter.setPen(QPen(colour, width))
            painter.drawRect(seen.intersected(QRectF(self.rect())).adjusted(1, 1, -1, -1))


class MapGroup(Group):
    """The whole level, small; and whether solid outlines are shown, and other layers faded."""

    def __init__(
        self, number: int, services: Services, canvas: Canvas, level: Callable[[], Level | None]
    ) -> None:
        super().__init__(number, say("Overview"))
        self._overview = Overview(services.desk, services.images, canvas, level)
        self.solid = Check(say("Solid outlines"), lambda on: canvas.update())
        self.fade = Check(say("Fade other layers"), lambda on: canvas.update())
        self.add(self._overview, wide=True)
        self.add(row(self.solid, None))
        self.add(row(self.fade, None))

    def refresh(self) -> None:
        """Show the level as it is."""
        self._overview.refresh()
