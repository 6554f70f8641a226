"""What the walker does, in large figures."""

from __future__ import annotations

import math

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rushweed.core.bound.facts import kind_of
from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.units import figure
from rushweed.core.project.project import Project
from rushweed.core.walk.course import Course
from rushweed.core.walk.underfoot import cell_at, ground_at, tiles_at, touching
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, READ_OUT, font

READ_OUTS = 64


class ReadOuts(QWidget):
    """What the walker does, in large figures."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(READ_OUTS)
        self._values: list[tuple[str, str]] = []
        QHBoxLayout(self)

    def show_values(self, values: list[tuple[str, str]]) -> None:
        if values != self._values:
            self._values = values
            self.setAccessibleName(", ".join(f"{name} {value}" for name, value in values))
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        count = max(len(self._values), 1)
        width = (self.width() - 24) / count
        for index, (name, value) in enumerate(self._values):
            x = 12 + index * width
            if index:
                painter.setPen(QPen(colours.line, 1))
                painter.drawLine(int(x) - 10, 8, int(x) - 10, 50)
            painter.setPen(colours.soft_ink)
            painter.setFont(font(CAPTION))
            painter.drawText(QRectF(x, 8, width - 14, 15), Qt.AlignmentFlag.AlignVCenter, name)
            painter.setPen(colours.ink)
            painter.setFont(font(READ_OUT, 600))
            text = painter.fontMetrics().elidedText(
                value, Qt.TextElideMode.ElideRight, int(width - 16)
            )
            painter.drawText(
                QRect(int(x), 24, int(width) - 14, 24), Qt.AlignmentFlag.AlignVCenter, text
            )
        painter.end()


def read_outs_of(project: Project, course: Course, frame: int) -> list[tuple[str, str]]:
    """What is read of a walker that is drawn with the piece `frame`, each with its name."""
    motion, unit = course.motion, project.rules.pixels_per_unit
    across, down = figure(motion.x / unit, 1), figure(motion.y / unit, 1)
    speed, on = abs(motion.speed_x), _named(project, motion.on) or say("the air")
    if course.ground is not None and course.ground.level.view == "top-down":
        speed = math.hypot(motion.speed_x, motion.speed_y)
        cell = cell_at(project, motion.x, motion.y)
        tile = next(tiles_at(project, course.ground.level, cell), None)
        on = _named(project, tile[0].number) if tile else say("nothing")
    return [
        (say("Stands on"), on),
        (say("Speed"), f"{figure(speed / unit, 1)} {say('units/s')}"),
        (say("At"), say("{across}, {down} units", across=across, down=down)),
        (say("Stopped by"), _named(project, motion.blocked) or say("nothing")),
        (say("Touches"), _touched(project, course)),
        (say("Frame"), _named(project, frame) or say("plain")),
    ]


def _named(project: Project, number: int) -> str:
    found = project.find(number)
    return shown_name(*found) if found else ""


def _touched(project: Project, course: Course) -> str:
    """The sensors it is in and the ground under it, named."""
    ground, motion = course.ground, course.motion
    if ground is None:
        return say("nothing")
    names = [name for number in touching(ground, motion) if (name := _named(project, number))]
    below = motion.y + (1 if motion.on else 0)
    number = ground_at(project, ground.level, motion.x, below)
    kind = kind_of(project, number) if number is not None else None
    if kind is not None:
        names.append(kind.name)
    return ", ".join(names) or say("nothing")
