"""The rack of levels, and of the layers of the open one on their thread."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.project.level import Layer, Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.project.rules import View
from rushweed.core.weave.levels import add_level, main_layer, show_layer
from rushweed.core.weave.walkers_place import front_of_walker
from rushweed.core.words import counted, say
from rushweed.ui.canvas.even import draw_fitted
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.cord import draw_cord, draw_knot, dyed
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.controls import button, label
from rushweed.ui.shell.rack_marks import (
    paint_row_ground,
    rack_column,
    rack_head,
)
from rushweed.ui.shell.rows import Rows
from rushweed.ui.soon import soon

LEVEL_ROW, LAYER_ROW, ACTIVE_ROW = 30, 36, 50
GAP = 8
"""Pixels between two words of a row at least."""
COUNTING_DELAY = 200
"""Milliseconds of quiet before tiles are counted anew: a stroke must not wait for it."""


@dataclass(frozen=True, slots=True)
class _LevelItem:
    level: Level
    size: str


@dataclass(frozen=True, slots=True)
class _LayerItem:
    layer: Layer
    index: int
    active: bool
    below_walker: bool = False
    """Whether the walker stands right before it."""


class LevelRack(QWidget):
    """Levels by name, and the layers of the open one on their thread, front to back."""

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self._count = label("", "caption")
        self.levels = Rows(
            say("Levels"), self._paint_level, lambda item: LEVEL_ROW, lambda item: item.level.name
        )
        self.layers = Rows(
            say("Layers"),
            self._paint_layer,
            lambda item: ACTIVE_ROW if item.active else LAYER_ROW,
            lambda item: item.layer.name,
        )
        self.levels.picked.connect(self._pick_level)
        self.layers.picked.connect(self._pick_layer)
        self.layers.doubleClicked.connect(lambda index: self._toggle(index.row()))
        self.legend = label(
            say("Hollow bead: hidden.\nKnot: painted on. Double-click\nshows and hides."), "caption"
        )
        self.legend.setWordWrap(True)
        self.legend.setContentsMargins(12, 5, 8, 6)
        layout = rack_column(self)
        begin = button(say("Begin another"), lambda: begin_level(desk), "small")
        layout.addLayout(rack_head(say("Levels"), self._count, begin))
        layout.addWidget(self.levels)
        layout.addLayout(rack_head(say("Layers"), label(say("front to back"), "caption")))
        layout.addWidget(self.layers, 1)
        layout.addWidget(self.legend)
        self._soon = soon(self, COUNTING_DELAY, self.refresh)
        desk.changed.connect(self._change)
        desk.selected.connect(lambda before, after: self.refresh())
        self.refresh()

    def refresh(self) -> None:
        project, selection = self._desk.project, self._desk.selection
        items = [_LevelItem(level, _level_size(level)) for level in project.levels]
        self._count.setText(str(len(items)))
        self.levels.show_items(items, lambda item: item.level.name == selection.level)
        self.levels.setFixedHeight(min(self.levels.content_height(), 6 * LEVEL_ROW) + 1)
        level = project.level(selection.level) if selection.level else None
        layers = level.layers if level else ()
        front = front_of_walker(project, level) if level else 0
        self.layers.show_items(
            [
                _LayerItem(layer, i, i == selection.layer, i == front - 1)
                for i, layer in reversed(list(enumerate(layers)))
            ],
            lambda item: item.index == selection.layer,
        )

    def _change(self, before: Project, after: Project) -> None:
        if len(before.levels) != len(after.levels):
            self.refresh()
        elif before.levels is not after.levels:
            self._soon.start()

    def _pick_level(self, items: list[_LevelItem]) -> None:
        if items:
            level = items[0].level
            layer = main_layer(level)
            self._desk.select(replace(self._desk.selection, level=level.name, layer=layer))

    def _pick_layer(self, items: list[_LayerItem]) -> None:
        if items:
            self._desk.select(replace(self._desk.selection, layer=items[0].index))

    def _toggle(self, row: int) -> None:
        item: _LayerItem = self.layers.items[row]
        level, shown = self._desk.selection.level, not item.layer.visible
        words = say("Showed {name}") if shown else say("Hid {name}")
        self._desk.do(
            words.format(name=item.layer.name), lambda p: show_layer(p, level, item.index, shown)
        )

    def _paint_level(
        self, painter: QPainter, rect: QRect, item: _LevelItem, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        paint_row_ground(painter, rect, selected, hovered)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.tide_text if selected else colours.soft_ink)
        inner = rect.adjusted(12, 0, -10, 0)
        painter.drawText(
            inner, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, item.size
        )
        room = inner.width() - painter.fontMetrics().horizontalAdvance(item.size) - 8
        painter.setFont(font(BODY, 600 if selected else 400))
        painter.setPen(colours.tide_text if selected else colours.ink)
        name = painter.fontMetrics().elidedText(item.level.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(inner, Qt.AlignmentFlag.AlignVCenter, name)

    def _paint_layer(
        self, painter: QPainter, rect: QRect, item: _LayerItem, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        if item.active:
            painter.fillRect(rect, colours.ink)
        else:
            paint_row_ground(painter, rect, False, hovered)
        self._paint_thread(painter, rect, item)
        thumb = QRect(rect.left() + 34, rect.center().y() - 12, 34, 26)
        draw_checker(painter, QRectF(thumb), 5)
        image = self._layer_image(item.layer)
        if image is not None:
            draw_fitted(painter, QRectF(thumb), image)
        painter.setPen(QPen(colours.strong_line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(thumb).adjusted(-0.5, -0.5, 0.5, 0.5), 2, 2)
        left = thumb.right() + 9
        room = rect.right() - left - 6
        free = room
        if item.below_walker:
            free -= GAP + self._paint_walker(
                painter, rect, colours.line if item.active else colours.tide
            )
        painter.setFont(font(BODY, 600 if item.active else 500))
        painter.setPen(colours.on_ink if item.active else colours.ink)
        name = painter.fontMetrics().elidedText(item.layer.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(left, rect.center().y() - 2, name)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.line if item.active else colours.soft_ink)
        words = painter.fontMetrics().elidedText(
            _layer_words(item), Qt.TextElideMode.ElideRight, free
        )
        painter.drawText(left, rect.center().y() + 12, words)

    def _paint_walker(self, painter: QPainter, rect: QRect, colour: QColor) -> int:
        """Between which layers the walker stands: a line above the one that it stands before, and
        a word, the width of which is returned."""
        painter.fillRect(rect.left() + 34, rect.top(), rect.width() - 40, 2, colour)
        painter.setFont(font(CAPTION))
        painter.setPen(colour)
        width = painter.fontMetrics().horizontalAdvance(say("walker"))
        painter.drawText(rect.right() - width - 6, rect.center().y() + 12, say("walker"))
        return width

    def _paint_thread(self, painter: QPainter, rect: QRect, item: _LayerItem) -> None:
        """The layer's stretch of the thread, with its knot or bead."""
        colours = look.colours
        dye = dyed(colours)
        first, last = item.index == len(self.layers.items) - 1, item.index == 0
        x, middle = rect.left() + 17.0, rect.center().y() + 1.0
        top = middle if first else rect.top() - 1.0
        bottom = middle if last else rect.bottom() + 2.0
        draw_cord(painter, [(x, top), (x, bottom)], 3.6, [(1, dye)], 3.8)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if item.active:
            painter.save()
            painter.translate(x, middle)
            painter.rotate(90)
            draw_knot(painter, 0, 0, dye, 1.02)
            painter.restore()
            return
        painter.setPen(QPen(colours.cord_edge, 1.6))
        painter.setBrush(colours.cord_edge if item.layer.visible else colours.raised)
        painter.drawEllipse(QPointF(x, middle), 5, 5)

    def _layer_image(self, layer: Layer) -> QImage | None:
        number = next(iter(sorted(layer.cells.used())), 0)
        if not number and layer.props:
            number = layer.props[0].piece
        return self._images.number(self._desk.project, number) if number else None


def begin_level(desk: Desk, view: View | None = None) -> None:
    """Begin an empty level and open it; seen as levels begin, if no `view` is told."""
    name = desk.make(say("Began a level"), partial(add_level, view=view))
    if name is not None:
        desk.select(replace(desk.selection, level=name, layer=0))


def _layer_words(item: _LayerItem) -> str:
    if item.active and not item.layer.locked:
        words = say("painting") if item.below_walker else say("painting here")
    elif item.layer.locked:
        words = say("locked")
    elif not item.layer.visible:
        words = say("hidden")
    elif item.layer.props:
        words = counted(len(item.layer.props), "prop", "props")
    else:
        words = counted(item.layer.cells.count(), "tile", "tiles")
    if item.layer.opacity < 1:
        words += f" · {round(item.layer.opacity * 100)} %"
    return words


def _level_size(level: Level) -> str:
    area = bounds(level)
    return str(area.size) if area.area else say("empty")
