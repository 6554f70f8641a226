"""The line-up: figures side by side on one ground line, in units, beside a ruler and a post."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.agreeing import pixel_sizes
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.gauge.units import figure, units
from rushweed.core.project.ground_rules import LARGEST_PIXELS_PER_UNIT
from rushweed.core.project.rules import Treatment
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.words import counted, say
from rushweed.ui.canvas.marks import draw_brackets, draw_lozenge, draw_odd_box, draw_unit_post
from rushweed.ui.desk import Drag
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.services import Services

RULER = 46
CAPTIONS = 106
STEPS = (128, 96, 80, 64, 48, 32, 24, 16, 12, 8)
TALLEST_UNITS = 12
NARROWEST, BETWEEN = 92, 42
MOST_FIGURES = 40
GROUP_HEAD, GROUP_HEIGHT = 54, 18
"""Where the head of figures that share a pixel size begins, and how high it is."""
FEWEST_BETWEEN = 16
"""Screen pixels between two numbers of the ruler."""
GRIP = 8
SHORTEST_CAPTION, CROWDED = 24, 0.7
"""The room below which nothing is told of a figure, and what a narrow one keeps of its share."""
LARGE_UNIT = 80
"""Fewer figures are shown where a unit would be smaller than this on the screen."""


@dataclass(frozen=True, slots=True)
class _Figure:
    """A piece in the line-up, the choices it is drawn with, its place on the screen, and how much
    room it has across."""

    sheet: Sheet
    piece: Piece
    treatment: Treatment
    rect: QRectF
    room: float


class LineUp(QWidget):
    """One figure of each sheet, or the selected pieces of each; a click selects its sheet."""

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self._figures: list[_Figure] = []
        self._unit = 80
        self._drag: tuple[Drag, _Figure] | None = None
        self.reference = ""
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setAccessibleName(say("Line-up"))

    def refresh(self) -> None:
        self._lay_out()
        self.update()

    def rect_of(self, sheet: str) -> QRectF:
        """Where a sheet's figure stands."""
        return next(f.rect for f in self._figures if f.sheet.name == sheet)

    @property
    def _ground(self) -> int:
        return self.height() - CAPTIONS

    def _lay_out(self) -> None:
        chosen = self._chosen(len(self._figures) if self._drag else 0)
        if self._drag is None:
            self._unit = self._best_unit(chosen)
        sizes = [
            QSizeF(*(side * self._unit / treatment.pixels_per_unit for side in piece.rect.size))
            for _, piece, treatment in chosen
        ]
        rooms = [self._column(size.width(), len(chosen)) for size in sizes]
        spare = (self.width() - RULER - 60 - sum(rooms)) / max(len(chosen), 1)
        x = RULER + 38.0
        self._figures = []
        for item, size, room in zip(chosen, sizes, rooms, strict=True):
            if self._is_crowded(len(chosen)):
                room += max(spare, 0)
            rect = QRectF(QPointF(round(x), self._ground - size.height()), size)
            self._figures.append(_Figure(*item, rect, room))
            x += room

    def _chosen(self, count: int = 0) -> list[tuple[Sheet, Piece, Treatment]]:
        """The figures of what is selected, and of others beside them: `count` in all, or as many
        as stand there large enough to be judged."""
        desk = self._services.desk
        found, wanted = [], {*desk.selection.sheets, self.reference}
        picked = desk.selection.picked(desk.project)
        for sheet in desk.project.sheets:
            pieces = picked.get(sheet.name, [])[:4] or _stand_in(sheet)
            treatment = treatment_of(desk.project, sheet)
            found += [(sheet, piece, treatment) for piece in pieces]
        chosen = [item for item in found if item[0].name in wanted][:MOST_FIGURES]
        others = [item for item in found if item[0].name not in wanted]
        ranks = {number: rank for rank, number in enumerate(pixel_sizes(desk.project))}
        others = _one_of_each_first(others, {item[2].pixels_per_unit for item in chosen})
        room = (self.width() - RULER - 60) // (NARROWEST + BETWEEN)
        beside = min(len(others), max(0, (count or room) - len(chosen)))
        while not count and beside > 1 and self._best_unit(chosen + others[:beside]) < LARGE_UNIT:
            beside -= 1
        order = {sheet.name: place for place, sheet in enumerate(desk.project.sheets)}
        return sorted(
            chosen + others[:beside],
            key=lambda item: (ranks[item[2].pixels_per_unit], order[item[0].name]),
        )

    def _column(self, width: float, count: int) -> float:
        """How much room a figure of that width takes among so many: its caption's, while there is
        room for captions."""
        if not self._is_crowded(count):
            return max(width, NARROWEST) + BETWEEN
        share = (self.width() - RULER - 60) / count
        return max(width + min(BETWEEN, share / 3), CROWDED * share)

    def _is_crowded(self, count: int) -> bool:
        """Whether so many figures have no room for whole captions."""
        return (self.width() - RULER - 60) < count * (NARROWEST + BETWEEN)

    def _best_unit(self, chosen: list[tuple[Sheet, Piece, Treatment]]) -> int:
        """The largest unit on the screen at which all figures fit."""
        room_x, room_y = self.width() - RULER - 60, self._ground - 84
        for unit in STEPS:
            widths = [
                self._column(p.rect.width * unit / t.pixels_per_unit, len(chosen))
                for _, p, t in chosen
            ]
            heights = [p.rect.height * unit / t.pixels_per_unit for _, p, t in chosen]
            if sum(widths) <= room_x and max(heights, default=0) <= room_y:
                return unit
        return STEPS[-1]

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._lay_out()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        desk = self._services.desk
        held = self._top_at(event.position())
        if held is not None:
            words = say("Set the size of {sheet}", sheet=held.sheet.name)
            self._drag = (desk.drag(words), held)
            return
        for number, area in self.groups():
            if area.contains(event.position()):
                sheets = pixel_sizes(desk.project)[number]
                desk.select(replace(desk.selection, sheets=sheets, pieces=frozenset()))
                return
        for item in self._figures:
            area = item.rect.adjusted(-8, -8, 30, CAPTIONS)
            if area.contains(event.position()):
                desk.select(replace(desk.selection, sheets=(item.sheet.name,)))

    def groups(self) -> list[tuple[int, QRectF]]:
        """The heads of the pixel sizes that stand here, where there are several: the number and
        where it is told."""
        spans: dict[int, QRectF] = {}
        for item in self._figures:
            span = QRectF(item.rect.left(), GROUP_HEAD, item.room * 0.85, GROUP_HEIGHT)
            number = item.treatment.pixels_per_unit
            spans[number] = spans[number].united(span) if number in spans else span
        return list(spans.items()) if len(spans) > 1 else []

    def _top_at(self, place: QPointF) -> _Figure | None:
        """The figure whose top mark is there."""
        for item in self._figures:
            apart = place - QPointF(item.rect.right() + 14, item.rect.top())
            if max(abs(apart.x()), abs(apart.y())) <= GRIP:
                return item
        return None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag is None:
            over = self._top_at(event.position()) is not None
            shape = Qt.CursorShape.SizeVerCursor if over else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            return
        drag, item = self._drag
        high = max(self._ground - event.position().y(), 1.0) / self._unit
        number = min(max(round(item.piece.rect.height / high), 1), LARGEST_PIXELS_PER_UNIT)
        sheets = (item.sheet.name,)
        drag.to(lambda p: set_pixels_per_unit(p, sheets, number))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self._drag is not None:
            self._drag[0].abandon()
            self._drag = None
        else:
            super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._drag is not None:
            drag, _ = self._drag
            self._drag = None
            drag.end()
            self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        colours = look.colours
        painter.fillRect(self.rect(), colours.wall)
        painter.fillRect(QRectF(0, self._ground, self.width(), CAPTIONS), colours.floor)
        self._paint_ruler(painter)
        draw_unit_post(painter, RULER + 12, self._ground, self._unit)
        self._paint_title(painter)
        self._paint_groups(painter)
        for item in self._figures:
            self._paint_figure(painter, item)
            self._paint_dimension(painter, item)
            self._paint_caption(painter, item)
        painter.end()

    def _paint_ruler(self, painter: QPainter) -> None:
        colours = look.colours
        painter.setFont(font(CAPTION, 500))
        line = colours.floor
        count = min(TALLEST_UNITS, max(1, (self._ground - 40) // self._unit))
        step = -(-FEWEST_BETWEEN // self._unit)
        for unit in range(0, count + 1, step):
            y = self._ground - unit * self._unit
            painter.fillRect(QRectF(RULER, y, self.width(), 1), line if unit else colours.ink)
            painter.fillRect(QRectF(32, y, 14, 1), colours.ink)
            painter.setPen(colours.ink)
            painter.drawText(QRectF(0, y - 8, 27, 16), Qt.AlignmentFlag.AlignRight, str(unit))
            for tick in range(1, 16) if unit < count and self._unit >= 64 else ():
                length = 9 if tick % 8 == 0 else 6 if tick % 4 == 0 else 3
                y_tick = y - tick * self._unit / 16
                painter.fillRect(QRectF(RULER - length, round(y_tick), length, 1), colours.soft_ink)
        top = self._ground - count * self._unit - 24
        painter.fillRect(QRectF(RULER, top, 1, self._ground - top), colours.ink)
        painter.setPen(colours.soft_ink)
        painter.setFont(font(CAPTION))
        painter.drawText(QRectF(0, top - 4, 42, 15), Qt.AlignmentFlag.AlignRight, say("in units"))

    def _paint_title(self, painter: QPainter) -> None:
        usual = self._services.desk.project.rules.pixels_per_unit
        same = sum(item.treatment.pixels_per_unit == usual for item in self._figures)
        if not self._figures:
            text, more = say("Nothing to stand here yet"), say("Cut a sheet first: Ctrl+2.")
        else:
            figures = counted(len(self._figures), "figure", "figures")
            text = say("{n} of {figures} share one pixel size", n=same, figures=figures)
            more = say("one pixel is 1/{n} unit, as the ground rules say", n=usual)
        painter.setPen(look.colours.ink)
        painter.setFont(font(BODY, 600))
        painter.drawText(RULER + 16, 26, text)
        painter.setFont(font(CAPTION))
        painter.setPen(look.colours.soft_ink)
        painter.drawText(RULER + 16, 42, more)

    def _paint_groups(self, painter: QPainter) -> None:
        """Above the figures of each pixel size: how large it is, and how many sheets have it."""
        colours, sizes = look.colours, pixel_sizes(self._services.desk.project)
        usual = self._services.desk.project.rules.pixels_per_unit
        for number, area in self.groups():
            ink = colours.ink if number == usual else colours.ochre_ink
            painter.fillRect(QRectF(area.left(), area.bottom(), area.width(), 2), ink)
            painter.fillRect(QRectF(area.left(), area.bottom(), 2, 7), ink)
            painter.fillRect(QRectF(area.right() - 2, area.bottom(), 2, 7), ink)
            painter.setPen(ink)
            painter.setFont(font(CAPTION, 600))
            sheets = counted(len(sizes[number]), "sheet", "sheets")
            words = say("{n} px per unit · {sheets}", n=number, sheets=sheets)
            if painter.fontMetrics().horizontalAdvance(words) > area.width():
                words = f"{number} · {len(sizes[number])}"
            painter.drawText(area, Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_figure(self, painter: QPainter, item: _Figure) -> None:
        image = self._services.images.piece(item.sheet, item.piece)
        smooth = item.treatment.filter == "linear"
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
        painter.drawImage(item.rect, image, QRectF(image.rect()))
        usual = self._services.desk.project.rules.pixels_per_unit
        if item.treatment.pixels_per_unit != usual:
            draw_odd_box(painter, item.rect.adjusted(-3, -3, 3, 0))
        if item.sheet.name in self._services.desk.selection.sheets:
            draw_brackets(painter, item.rect.adjusted(-8, -8, 8, 0), 12)

    def _paint_dimension(self, painter: QPainter, item: _Figure) -> None:
        """The height as a dimension line beside the figure."""
        colours = look.colours
        x = item.rect.right() + 14
        painter.setPen(QPen(colours.ink, 1))
        for y in (item.rect.top(), item.rect.bottom()):
            painter.fillRect(QRectF(x - 4, y, 9, 1), colours.ink)
        painter.fillRect(QRectF(x, item.rect.top(), 1, item.rect.height()), colours.ink)
        selected = item.sheet.name in self._services.desk.selection.sheets
        tide = colours.tide if selected else MARKS.paper
        draw_lozenge(painter, x + 0.5, item.rect.top() + 0.5, 5, tide, colours.ink)
        text = units(item.piece.rect.height / item.treatment.pixels_per_unit)
        painter.setFont(font(CAPTION, 500))
        width = painter.fontMetrics().horizontalAdvance(text) + 8
        if width > item.rect.height() - 14:
            return
        painter.save()
        painter.translate(x + 0.5, item.rect.center().y())
        painter.rotate(-90)
        painter.fillRect(QRectF(-width / 2, -7, width, 14), colours.wall)
        painter.setPen(colours.ink)
        painter.drawText(QRectF(-width / 2, -8, width, 16), Qt.AlignmentFlag.AlignCenter, text)
        painter.restore()

    def _paint_caption(self, painter: QPainter, item: _Figure) -> None:
        colours = look.colours
        number = item.treatment.pixels_per_unit
        rect = item.piece.rect
        odd = number != self._services.desk.project.rules.pixels_per_unit
        selected = item.sheet.name in self._services.desk.selection.sheets
        x, y = int(item.rect.left()), self._ground + 26
        painter.setFont(font(BODY, 600))
        painter.setPen(colours.tide_text if selected else colours.ink)
        room = int(item.room - 8)
        if room < SHORTEST_CAPTION:
            return
        name = painter.fontMetrics().elidedText(
            shown_name(item.sheet, item.piece), Qt.TextElideMode.ElideMiddle, room
        )
        painter.drawText(x, y, name)
        if room < NARROWEST - 8:
            return
        size = f"{figure(rect.width / number)} × {figure(rect.height / number)} {say('units')}"
        lines = [
            (f"{rect.size} px", False),
            (say("{n} px per unit", n=number), odd),
            (size, False),
        ]
        for index, (text, warns) in enumerate(lines):
            painter.setFont(font(CAPTION, 600 if warns else 400))
            painter.setPen(colours.ochre_ink if warns else colours.soft_ink)
            painter.drawText(x, y + 18 + index * 16, text)
        side = max(1, round(self._unit / number))
        painter.fillRect(QRectF(x, y + 60, min(side, 12), min(side, 12)), colours.ink)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        painter.drawText(x + min(side, 12) + 6, y + 68, say("one pixel"))


def _one_of_each_first(
    items: list[tuple[Sheet, Piece, Treatment]], seen: set[int]
) -> list[tuple[Sheet, Piece, Treatment]]:
    """Items with the first of each pixel size that is not seen yet before all others."""
    first: list[tuple[Sheet, Piece, Treatment]] = []
    rest: list[tuple[Sheet, Piece, Treatment]] = []
    known = set(seen)
    for item in items:
        number = item[2].pixels_per_unit
        (rest if number in known else first).append(item)
        known.add(number)
    return first + rest


def _stand_in(sheet: Sheet) -> list[Piece]:
    """The piece that stands for a sheet: its first, or the first tile of a tileset."""
    if sheet.kind == "picture" and sheet.pieces and sheet.pieces[0].rect.width > 128:
        return []
    return list(sheet.pieces[:1])
