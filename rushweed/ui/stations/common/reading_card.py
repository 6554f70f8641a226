"""One way to read a picture, to be clicked."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil

from PyQt6.QtCore import QEvent, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QEnterEvent, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton

from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces
from rushweed.core.values import Rect
from rushweed.core.words import counted, say
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.marks import draw_checker, draw_number, draw_stitches
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font

WIDTH, HEIGHT = 82, 96
MOST_LINES = 400
MOST_BOXES = 200


class ReadingCard(QAbstractButton):
    """A reading as a small live picture with its cuts; a click takes it. `key` is the key that does
    so too, where there is one."""

    hovered = pyqtSignal(bool)
    PICTURE = QSize(80, 60)

    def __init__(self) -> None:
        super().__init__()
        self.reading: Reading | None = None
        self._image = QImage()
        self._pieces: tuple[Rect, ...] = ()
        self._chosen = False
        self.key = ""
        self.setFixedSize(WIDTH, HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def show_reading(
        self,
        reading: Reading | None,
        image: QImage,
        chosen: bool,
        pieces: tuple[Rect, ...] = (),
        of: str = "",
    ) -> None:
        """Show a reading of an image; `pieces` are where loose ones would lie, and `of` is the
        sheet's name where several sheets have such cards."""
        shown = (self.reading, self._image.cacheKey(), self._chosen)
        self.reading, self._image, self._chosen = reading, image, chosen
        self._pieces = pieces
        self.setVisible(reading is not None)
        if reading is not None:
            what = self._what()
            name = say("Take {name} as {what}", name=of, what=what) if of else what
            self.setAccessibleName(name if of else say("Guess: {what}", what=what))
            self.setToolTip(f"{what}: {reading.why}")
        if shown != (reading, image.cacheKey(), chosen):
            self.update()

    def _what(self) -> str:
        assert self.reading is not None
        layout = self.reading.layout
        if isinstance(layout, EvenCells):
            return say("{size} px cells", size=layout.cell)
        return say("loose pieces") if isinstance(layout, LoosePieces) else say("one picture")

    def _words(self) -> tuple[str, str]:
        """The reading's two lines."""
        assert self.reading is not None
        layout = self.reading.layout
        if isinstance(layout, EvenCells):
            count = f"{self.reading.columns} × {self.reading.rows}"
            return str(layout.cell), say("{n} cells", n=count)
        if isinstance(layout, LoosePieces):
            return say("loose"), counted(len(self._pieces), "piece", "pieces")
        return say("one picture"), say("not cut")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.reading is None:
            return
        colours = look.colours
        painter = QPainter(self)
        frame = QRect(1, 1, self.PICTURE.width(), self.PICTURE.height())
        painter.save()
        painter.setClipRect(frame)
        draw_checker(painter, QRectF(frame), 5)
        scale = self._scale()
        left, top = self._corner(scale)
        painter.translate(frame.x(), frame.y())
        target = QRectF(
            -left * scale, -top * scale, self._image.width() * scale, self._image.height() * scale
        )
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
        painter.drawImage(target, self._image, QRectF(self._image.rect()))
        drawn = target.toAlignedRect().adjusted(0, 0, 1, 1)
        painter.setClipRect(drawn, Qt.ClipOperation.IntersectClip)
        layout = self.reading.layout
        draw_cuts(painter, layout, self._pieces, self.PICTURE, scale, (left, top))
        painter.restore()
        strong = self._chosen or self.hasFocus()
        edge = (
            colours.tide
            if strong
            else colours.soft_ink
            if self.underMouse()
            else colours.strong_line
        )
        painter.setPen(QPen(edge, 2 if strong else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(frame), 2, 2)
        if self.key:
            draw_number(painter, 4, 4, self.key, strong)
        first, second = self._words()
        painter.setFont(font(BODY, 600 if self._chosen else 400))
        painter.setPen(colours.tide_text if self._chosen else colours.ink)
        painter.drawText(QRect(0, 63, WIDTH, 17), Qt.AlignmentFlag.AlignVCenter, first)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        painter.drawText(QRect(0, 79, WIDTH, 15), Qt.AlignmentFlag.AlignVCenter, second)
        painter.end()

    def enterEvent(self, event: QEnterEvent | None) -> None:
        self.hovered.emit(True)

    def leaveEvent(self, event: QEvent | None) -> None:
        self.hovered.emit(False)

    def _scale(self) -> float:
        """So large that a few cells are seen, and as large as all of it finds room."""
        assert self.reading is not None
        layout = self.reading.layout
        frame = self.PICTURE
        width, height = max(1, self._image.width()), max(1, self._image.height())
        wanted = min(frame.width() / width, frame.height() / height)
        if isinstance(layout, EvenCells):
            few = layout.cell.width * 2.4, layout.cell.height * 1.8
            wanted = max(wanted, min(frame.width() / few[0], frame.height() / few[1]))
        return even_scale(min(wanted, 3.0), ratio_of(self))

    def _corner(self, scale: float) -> tuple[int, int]:
        """The upper left pixel that is shown: cells are shown where something lies."""
        assert self.reading is not None
        grid = self.reading.layout
        if not isinstance(grid, EvenCells) or not self._pieces:
            return 0, 0
        middle = self._pieces[len(self._pieces) // 2]
        corner = []
        for side, place, whole, room in (
            (0, middle.x + middle.width // 2, self._image.width(), self.PICTURE.width()),
            (1, middle.y + middle.height // 2, self._image.height(), self.PICTURE.height()),
        ):
            step = grid.cell[side] + grid.gap[side]
            start = grid.margin[side] + max(0, place - grid.margin[side]) // step * step
            corner.append(max(0, min(start, whole - round(room / scale))))
        return corner[0], corner[1]


def draw_cuts(
    painter: QPainter,
    layout: Layout,
    loose: Sequence[Rect],
    room: QSize,
    scale: float,
    corner: tuple[int, int] = (0, 0),
) -> None:
    """The cuts of a layout over a picture that is seen at a scale, from its pixel `corner` on, in
    as much room; `loose` are where loose pieces would lie."""
    left, top = corner
    if isinstance(layout, EvenCells):
        wide, high = room.width(), room.height()
        across = (round((x - left) * scale) for x in _ends(layout, 0, left, wide / scale))
        down = (round((y - top) * scale) for y in _ends(layout, 1, top, high / scale))
        upright = [QRect(x, 0, 1, high) for x in across]
        draw_stitches(painter, upright, [QRect(0, y, wide, 1) for y in down])
    elif isinstance(layout, LoosePieces):
        painter.setPen(QPen(look.colours.tide, 1))
        for rect in loose[:MOST_BOXES]:
            box = QRectF(*(side * scale for side in rect))
            painter.drawRect(box.translated(0.5, 0.5))


def _ends(grid: EvenCells, side: int, start: int, reach: float) -> list[int]:
    """Where cells begin and end along a side, from about a place on, for so many pixels."""
    step = grid.cell[side] + grid.gap[side]
    first = max(0, start - grid.margin[side]) // step
    count = min(ceil(reach / step) + 1, MOST_LINES)
    begins = [grid.margin[side] + index * step for index in range(first, first + count)]
    return [place for begin in begins for place in (begin, begin + grid.cell[side])]
