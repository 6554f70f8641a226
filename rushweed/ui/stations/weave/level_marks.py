"""Marks over a level that is being painted: the grid, and the ghost of the brush."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from rushweed.core.project.cells import Key
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Size
from rushweed.core.walk.following import first_seen
from rushweed.core.weave.painting import Brush
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_brackets, draw_plumb_line, draw_tag
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.look.colours import MARKS

SMALLEST_CELL = 8
GHOST = 0.8


def draw_grid(painter: QPainter, canvas: Canvas, tile: Size) -> None:
    """Faint lines between cells, while cells are large enough on the screen."""
    view = canvas.view
    if min(tile) * view.scale < SMALLEST_CELL:
        return
    seen = canvas.visible()
    line = QColor(MARKS.paper)
    line.setAlpha(33)
    for column in range(seen.x // tile.width, seen.right // tile.width + 1):
        x = view.to_screen(column * tile.width, 0).x
        painter.fillRect(QRectF(round(x), 0, 1, canvas.height()), line)
    for row in range(seen.y // tile.height, seen.bottom // tile.height + 1):
        y = view.to_screen(0, row * tile.height).y
        painter.fillRect(QRectF(0, round(y), canvas.width(), 1), line)


def draw_brush(
    painter: QPainter, canvas: Canvas, images: Images, project: Project, cell: Key, brush: Brush
) -> None:
    """The brush as it would be laid down with its upper left corner in a cell."""
    width, height = project.rules.tile
    painter.setOpacity(GHOST)
    for down, line in enumerate(brush.rows):
        for across, (number, orientation) in enumerate(line):
            if number:
                image = images.number(project, number, orientation)
                x = (cell[0] + across) * width
                y = (cell[1] + down + 1) * height - image.height()
                place = canvas.to_screen(Rect(x, y, image.width(), image.height()))
                painter.drawImage(place, image, QRectF(image.rect()))
    painter.setOpacity(1.0)


def draw_cell_frame(painter: QPainter, area: QRectF) -> None:
    """A line around the cells that a click will change."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, grow in ((MARKS.paper, 1), (MARKS.rust, 0)):
        painter.setPen(QPen(colour, 1))
        painter.drawRect(area.adjusted(-grow, -grow, grow - 1, grow - 1))


def draw_start(painter: QPainter, canvas: Canvas, project: Project, level: Level) -> None:
    """A plumb line where the walker starts, and corners of what the game shows then."""
    if level.start is None:
        return
    draw_brackets(painter, canvas.to_screen(first_seen(project, level)), 10, MARKS.frame)
    place = canvas.view.to_screen(level.start.x, level.start.y)
    head = place.y - (walker_body(project).height + 3) * canvas.view.scale
    draw_plumb_line(painter, place.x, head - 22, head, place.y)
    words, paper, ink = say("walker starts here"), MARKS.paper, MARKS.ink
    draw_tag(painter, place.x, head - 38, words, paper, ink, ink, align="middle")
