"""The rack: sheets, or levels and layers."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, Qt, QTimer
from PyQt6.QtGui import QFontMetrics, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QLayout, QStackedLayout, QVBoxLayout, QWidget

from rushweed.core.findings.finding import Finding
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, used_numbers
from rushweed.core.project.sheet import Sheet
from rushweed.core.weave.levels import add_level, bounds, main_layer, show_layer
from rushweed.core.words import counted, say
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_lozenge
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.commands.commands import Commands
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.cord import draw_cord, draw_knot, dyed
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.controls import button, label, row
from rushweed.ui.shell.progress import Tally, flagged_stations, tally
from rushweed.ui.shell.rows import Rows
from rushweed.ui.shell.sheet_acts import SheetActs

WIDTH = 188
SHEET_ROW, LEVEL_ROW, LAYER_ROW, ACTIVE_ROW = 54, 30, 36, 50
THUMB = 38
COUNTING_DELAY = 200
"""Milliseconds of quiet before tiles are counted anew: a stroke must not wait for it."""


@dataclass(frozen=True, slots=True)
class _SheetItem:
    sheet: Sheet
    tally: Tally


@dataclass(frozen=True, slots=True)
class _LevelItem:
    level: Level
    size: str


@dataclass(frozen=True, slots=True)
class _LayerItem:
    layer: Layer
    index: int
    active: bool


class Rack(QWidget):
    """Two racks in one place: sheets for four stations, levels and layers for the others."""

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self.setFixedWidth(WIDTH)
        self.sheets = SheetRack(desk, images)
        self.levels = LevelRack(desk, images)
        self._stack = QStackedLayout(self)
        self._stack.addWidget(self.sheets)
        self._stack.addWidget(self.levels)

    def show_levels(self, levels: bool) -> None:
        self._stack.setCurrentIndex(1 if levels else 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        _paint_ground(self)


class SheetRack(QWidget):
    """Sheets by name, many of which can be selected."""

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self._findings: list[Finding] = []
        self._used: frozenset[int] = frozenset()
        self._count = label("", "caption")
        self.rows = Rows(
            say("Sheets"),
            self._paint,
            lambda item: SHEET_ROW,
            lambda item: item.sheet.name,
            many=True,
        )
        self.rows.picked.connect(self._pick)
        self.rows.named.connect(self._rename)
        self.rows.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.rows.customContextMenuRequested.connect(self._open_menu)
        self.acts: SheetActs | None = None
        legend = label(say("Ticks: licence, cut, gauged,\nbound, used in a level"), "caption")
        legend.setWordWrap(True)
        legend.setContentsMargins(12, 5, 8, 6)
        layout = _column(self)
        layout.addLayout(_head(say("Sheets"), self._count))
        layout.addWidget(self.rows, 1)
        layout.addWidget(legend)
        desk.changed.connect(self._change)
        desk.selected.connect(lambda before, after: self.refresh())
        self._used = used_numbers(desk.project)
        self.refresh()

    def show_findings(self, findings: list[Finding]) -> None:
        self._findings = findings
        self._used = used_numbers(self._desk.project)
        self.refresh()

    def refresh(self) -> None:
        project, selection = self._desk.project, self._desk.selection
        shown = {item.sheet.name: item for item in self.rows.items}
        flagged = flagged_stations(self._findings)
        items = []
        for sheet in project.sheets:
            flags = flagged.get(sheet.name, frozenset())
            item = _SheetItem(sheet, tally(sheet, flags, self._used))
            old = shown.get(sheet.name)
            items.append(old if old == item else item)
        self._count.setText(str(len(items)))
        names = set(selection.sheets)
        self.rows.show_items(items, lambda item: item.sheet.name in names)

    def _change(self, before: Project, after: Project) -> None:
        if before.sheets is not after.sheets:
            self.refresh()

    def _pick(self, items: list[_SheetItem]) -> None:
        names = tuple(item.sheet.name for item in items)
        if names:
            self._desk.select(replace(self._desk.selection, sheets=names, pieces=frozenset()))

    def _rename(self, item: _SheetItem, new: str) -> None:
        if self.acts is not None:
            self.acts.rename(item.sheet.name, new)

    def _open_menu(self, place: QPoint) -> None:
        if self.acts is not None and self._desk.selection.sheets:
            viewport = self.rows.viewport()
            assert viewport is not None
            self.acts.open_menu(self, viewport.mapToGlobal(place), self._commands)

    def bind(self, commands: Commands) -> None:
        """Say what is done with the selected sheets."""
        assert self.acts is not None
        chosen = lambda: bool(self._desk.selection.sheets)  # noqa: E731
        self._commands = commands
        commands.bind("sheet.rename", self.rows.type_name, chosen)
        commands.bind("sheet.remove", self.acts.remove, chosen)
        commands.bind("sheet.up", partial(self.acts.move, -1), chosen)
        commands.bind("sheet.down", partial(self.acts.move, 1), chosen)

    def _paint(
        self, painter: QPainter, rect: QRect, item: _SheetItem, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        _paint_row_ground(painter, rect, selected, hovered)
        thumb = QRect(rect.left() + 12, rect.top() + 7, THUMB + 2, THUMB + 2)
        paint_thumbnail(painter, thumb, thumbnail(self._images, item.sheet))
        if selected:
            draw_brackets(painter, QRectF(thumb).adjusted(-2, -2, 2, 2), 8, colours.tide)
        left = thumb.right() + 10
        room = rect.right() - left - 6
        painter.setFont(font(BODY, 600 if selected else 500))
        painter.setPen(colours.tide_text if selected else colours.ink)
        name = painter.fontMetrics().elidedText(item.sheet.name, Qt.TextElideMode.ElideMiddle, room)
        painter.drawText(left, rect.top() + 18, name)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        told = shortened(describe_sheet(item.sheet), painter.fontMetrics(), room)
        painter.drawText(left, rect.top() + 32, told)
        paint_tally(painter, left, rect.top() + 42, item.tally)


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
        layout = _column(self)
        begin = button(say("Begin another"), lambda: begin_level(desk), "small")
        layout.addLayout(_head(say("Levels"), self._count, begin))
        layout.addWidget(self.levels)
        layout.addLayout(_head(say("Layers"), label(say("front to back"), "caption")))
        layout.addWidget(self.layers, 1)
        layout.addWidget(self.legend)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(COUNTING_DELAY)
        self._soon.timeout.connect(self.refresh)
        desk.changed.connect(self._change)
        desk.selected.connect(lambda before, after: self.refresh())
        self.refresh()

    def refresh(self) -> None:
        project, selection = self._desk.project, self._desk.selection
        items = [_LevelItem(level, _level_size(level)) for level in project.levels]
        self._count.setText(str(len(items)))
        self.levels.show_items(items, lambda item: item.level.name == selection.level)
        self.levels.setFixedHeight(min(self.levels.content_height(), 6 * LEVEL_ROW) + 1)
        layers = project.level(selection.level).layers if selection.level else ()
        self.layers.show_items(
            [
                _LayerItem(layer, i, i == selection.layer)
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
        _paint_row_ground(painter, rect, selected, hovered)
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
            _paint_row_ground(painter, rect, False, hovered)
        self._paint_thread(painter, rect, item)
        thumb = QRect(rect.left() + 34, rect.center().y() - 12, 34, 26)
        draw_checker(painter, QRectF(thumb), 5)
        paint_fitted(painter, thumb, self._layer_image(item.layer))
        painter.setPen(QPen(colours.strong_line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(thumb).adjusted(-0.5, -0.5, 0.5, 0.5), 2, 2)
        left = thumb.right() + 9
        room = rect.right() - left - 6
        painter.setFont(font(BODY, 600 if item.active else 500))
        painter.setPen(colours.on_ink if item.active else colours.ink)
        name = painter.fontMetrics().elidedText(item.layer.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(left, rect.center().y() - 2, name)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.line if item.active else colours.soft_ink)
        painter.drawText(left, rect.center().y() + 12, _layer_words(item))

    def _paint_thread(self, painter: QPainter, rect: QRect, item: _LayerItem) -> None:
        """The layer's stretch of the thread, with its knot or bead."""
        colours = look.colours
        dye = dyed(colours)
        first, last = item.index == len(self.layers.items) - 1, item.index == 0
        x, middle = rect.left() + 17.0, rect.center().y() + 1.0
        top = middle if first else rect.top() - 1.0
        bottom = middle if last else rect.bottom() + 2.0
        draw_cord(painter, [(x, top), (x, bottom)], 3.6, lambda part: dye, 3.8)
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


def begin_level(desk: Desk) -> None:
    """Begin an empty level and open it."""
    made: list[str] = []

    def edit(project: Project) -> Project:
        project, name = add_level(project)
        made.append(name)
        return project

    if desk.do(say("Began a level"), edit):
        desk.select(replace(desk.selection, level=made[-1], layer=0))


def _layer_words(item: _LayerItem) -> str:
    if item.active and not item.layer.locked:
        words = say("painting here")
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


def describe_sheet(sheet: Sheet) -> str:
    """Size and number of pieces, such as “133 × 96 · 25 frames”."""
    if sheet.belongs is not None:
        dense = sheet.belongs.kind == "density"
        if sheet.recoloured:
            return f"{counted(len(sheet.pieces), 'piece', 'pieces')} {say('recoloured')}"
        what = f"{sheet.belongs.factor}×" if dense else say("normal map")
        return f"{sheet.size} · {what}"
    if not sheet.pieces:
        return f"{sheet.size} · {say('not cut')}"
    nouns = {"tileset": ("tile", "tiles"), "sheet": ("frame", "frames")}
    one, many = nouns.get(sheet.kind, ("piece", "pieces"))
    if sheet.kind == "picture" and len(sheet.pieces) == 1:
        return f"{sheet.size} · {say('1 picture')}"
    return f"{sheet.size} · {counted(len(sheet.pieces), one, many)}"


def shortened(text: str, metrics: QFontMetrics, room: int) -> str:
    """A description of a sheet that fits: closer, then without its last word, then cut short."""
    for shorter in (text, text.replace(" × ", "×"), text.replace(" × ", "×").rsplit(" ", 1)[0]):
        if metrics.horizontalAdvance(shorter) <= room:
            return shorter
    return metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)


def thumbnail(images: Images, sheet: Sheet) -> QImage:
    """What stands for a sheet: its first piece, or its picture."""
    if sheet.pieces and sheet.kind != "tileset":
        return images.piece(sheet, sheet.pieces[0])
    return images.sheet(sheet)


def paint_thumbnail(painter: QPainter, rect: QRect, image: QImage) -> None:
    """An image in a framed square of checker; large ones show their corner."""
    inner = rect.adjusted(1, 1, -1, -1)
    draw_checker(painter, QRectF(inner), 6)
    paint_fitted(painter, inner, image)
    painter.setPen(QPen(look.colours.strong_line, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), 2, 2)


def paint_fitted(painter: QPainter, rect: QRect, image: QImage | None) -> None:
    """An image in the middle, enlarged by a whole factor, or cropped when it is too large."""
    if image is None:
        return
    factor = max(
        1, min(rect.width() // max(image.width(), 1), rect.height() // max(image.height(), 1))
    )
    painter.save()
    painter.setClipRect(rect)
    width, height = image.width() * factor, image.height() * factor
    x = rect.x() + (rect.width() - width) // 2 if width <= rect.width() else rect.x()
    y = rect.y() + (rect.height() - height) // 2 if height <= rect.height() else rect.y()
    painter.drawImage(QRect(x, y, width, height), image)
    painter.restore()


def paint_tally(painter: QPainter, x: float, y: float, ticks: Tally) -> None:
    """Five slanted strokes: done, not yet, or an ochre lozenge for a finding."""
    colours = look.colours
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for tick in ticks.ticks:
        if tick is None:
            draw_lozenge(painter, x + 2, y, 4, colours.ochre, colours.ochre_ink)
        elif tick:
            painter.setPen(QPen(colours.rush, 2.5, cap=Qt.PenCapStyle.FlatCap))
            painter.drawLine(QPointF(x + 2.2, y - 4.5), QPointF(x + 0.3, y + 4.5))
        else:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colours.strong_line)
            painter.drawEllipse(QPointF(x + 1.5, y), 1.5, 1.5)
        x += 8


def _column(widget: QWidget) -> QVBoxLayout:
    layout = QVBoxLayout(widget)
    layout.setContentsMargins(0, 0, 1, 0)
    layout.setSpacing(0)
    return layout


def _head(title: str, aside: QWidget, act: QWidget | None = None) -> QLayout:
    name = label(title, "heading")
    name.setMinimumHeight(24)
    layout = row(name, None, aside) if act is None else row(name, 6, aside, None, act)
    layout.setContentsMargins(12, 6, 10, 6)
    return layout


def _paint_row_ground(painter: QPainter, rect: QRect, selected: bool, hovered: bool) -> None:
    colours = look.colours
    if selected:
        painter.fillRect(rect, colours.tide_wash)
    elif hovered:
        painter.fillRect(rect, colours.raised)
    painter.fillRect(rect.left(), rect.top(), rect.width(), 1, colours.inner_line)


def _paint_ground(widget: QWidget) -> None:
    painter = QPainter(widget)
    painter.fillRect(widget.rect(), look.colours.paper)
    painter.fillRect(0, 0, widget.width(), 1, look.colours.line)
    painter.fillRect(widget.width() - 1, 0, 1, widget.height(), look.colours.line)
    painter.end()
