"""Cards: gathered pictures at true relative size, with what was seen in them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QPushButton, QWidget

from rushweed.core.cut.gathering import see
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal, Size
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_lozenge
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.controls import button
from rushweed.ui.text import tr

MARGIN, GAP = 12, 20
NARROWEST, CAPTION_HEIGHT, LINE = 150, 42, 15


@dataclass(frozen=True, slots=True)
class _Card:
    """One sheet's card: the picture's place and the whole card's, in pixels of the table."""

    sheet: Sheet
    picture: QRect
    whole: QRect
    sentences: tuple[str, ...]
    button: QPushButton | None


class Cards(QWidget):
    """Lays cards out in columns; click selects, Ctrl adds."""

    def __init__(self, desk: Desk, images: Images, accept: Callable[[str], None]) -> None:
        super().__init__()
        self._desk, self._images, self._accept = desk, images, accept
        self._cards: list[_Card] = []
        self._buttons: dict[str, QPushButton] = {}
        self.scale = 2.0
        self.setAccessibleName(tr("Gathered pictures"))

    def refresh(self) -> None:
        """Lay out the project's sheets anew."""
        self._lay_out(max(self.width(), 320))
        self.update()

    def rect_of(self, name: str) -> QRect:
        """Where a sheet's card is."""
        return next(card.whole for card in self._cards if card.sheet.name == name)

    def _lay_out(self, width: int) -> None:
        sheets = self._desk.project.sheets
        self.scale = _common_scale([_size(sheet) for sheet in sheets], width)
        inner = width - 2 * MARGIN
        columns = max(1, min(3, inner // 230))
        column_width = (inner - GAP * (columns - 1)) // columns
        heights = [10] * columns
        wanted = {name: self._buttons[name] for name in self._buttons}
        self._cards = []
        for sheet in sheets:
            size = _size(sheet)
            w, h = round(size.width * self.scale), round(size.height * self.scale)
            span = min(columns, -(-(w + GAP) // (column_width + GAP)))
            start = min(range(columns - span + 1), key=lambda i: max(heights[i : i + span]))
            x, y = MARGIN + start * (column_width + GAP), max(heights[start : start + span])
            shrink = min(1.0, inner / w)
            picture = QRect(x, y, round(w * shrink), round(h * shrink))
            card = self._card(sheet, picture, span * column_width + (span - 1) * GAP)
            self._cards.append(card)
            wanted.pop(sheet.name, None)
            for i in range(start, start + span):
                heights[i] = card.whole.bottom() + 18
        for name, old in wanted.items():
            old.deleteLater()
            del self._buttons[name]
        self.setFixedHeight(max(heights) + 10)

    def _card(self, sheet: Sheet, picture: QRect, width: int) -> _Card:
        sentences, waits = self._words(sheet)
        y = picture.bottom() + 24
        whole = QRect(
            picture.x(), picture.y(), width, picture.height() + 24 + LINE * len(sentences) + 2
        )
        if waits:
            accept = self._button(sheet.name)
            accept.move(picture.x(), y + LINE * len(sentences) + 4)
            accept.show()
            whole.setHeight(whole.height() + 28)
            return _Card(sheet, picture, whole, sentences, accept)
        if sheet.name in self._buttons:
            self._buttons[sheet.name].hide()
        return _Card(sheet, picture, whole, sentences, None)

    def _words(self, sheet: Sheet) -> tuple[tuple[str, ...], bool]:
        """What was seen in a picture, and whether that waits to be accepted."""
        try:
            seen = see(self._desk.art, sheet)
        except Refusal as refusal:
            return (str(refusal),), False
        words = seen.sentences
        if not sheet.licence.identifier:
            words = (*words, tr("no licence yet"))
        return words, sheet.layout is None

    def _button(self, name: str) -> QPushButton:
        if name not in self._buttons:
            made = button(tr("Take it as seen"), lambda: self._accept(name), "small")
            made.setParent(self)
            made.setAccessibleName(tr("Take {name} as seen").format(name=name))
            self._buttons[name] = made
        return self._buttons[name]

    def sizeHint(self) -> QSize:
        return QSize(600, 400)

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        if event.oldSize().width() != event.size().width():
            self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        assert event is not None
        painter = QPainter(self)
        painter.fillRect(event.rect(), look.colours.well)
        for card in self._cards:
            if card.whole.adjusted(-8, -8, 8, 8).intersects(event.rect()):
                self._paint_card(painter, card)
        painter.end()

    def _paint_card(self, painter: QPainter, card: _Card) -> None:
        colours = look.colours
        picture = QRectF(card.picture)
        if len(card.sheet.sources) > 1:
            self._paint_stack(painter, card.picture)
        draw_checker(painter, picture)
        raw = card.sheet.layout is None
        image = self._images.stored(card.sheet) if raw else self._images.sheet(card.sheet)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.scale < 1)
        painter.drawImage(picture, image, QRectF(image.rect()))
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(picture.adjusted(-0.5, -0.5, 0.5, 0.5))
        selected = card.sheet.name in self._desk.selection.sheets
        if selected:
            draw_brackets(painter, picture.adjusted(-3, -3, 3, 3), 12, colours.tide)
        self._paint_words(painter, card, selected)

    def _paint_stack(self, painter: QPainter, rect: QRect) -> None:
        for shift in (6, 3):
            painter.setPen(QPen(MARKS.frame, 1))
            painter.setBrush(MARKS.checker)
            painter.drawRect(QRectF(rect).translated(shift, -shift).adjusted(-0.5, -0.5, 0.5, 0.5))

    def _paint_words(self, painter: QPainter, card: _Card, selected: bool) -> None:
        colours = look.colours
        x, y = card.picture.x(), card.picture.bottom() + 18
        size = f"{_size(card.sheet)} px"
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        size_width = painter.fontMetrics().horizontalAdvance(size)
        right = x + max(card.picture.width(), min(NARROWEST, card.whole.width()))
        painter.drawText(right - size_width, y, size)
        painter.setFont(font(BODY, 600))
        painter.setPen(colours.tide_text if selected else colours.ink)
        name = painter.fontMetrics().elidedText(
            card.sheet.name, Qt.TextElideMode.ElideMiddle, right - size_width - x - 8
        )
        painter.drawText(x, y, name)
        painter.setFont(font(CAPTION))
        metrics = QFontMetrics(font(CAPTION))
        for sentence in card.sentences:
            y += LINE
            warns = sentence == tr("no licence yet")
            painter.setPen(colours.ochre_ink if warns else colours.soft_ink)
            if warns:
                draw_lozenge(painter, x + 5, y - 4, 3.5, colours.ochre, colours.ochre_ink)
            left = x + (14 if warns else 0)
            room = card.whole.right() - left
            painter.drawText(
                left, y, metrics.elidedText(sentence, Qt.TextElideMode.ElideRight, room)
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = event.position().toPoint()
        for card in self._cards:
            if card.whole.contains(place):
                self._select(card.sheet.name, event.modifiers())
                return

    def _select(self, name: str, held: Qt.KeyboardModifier) -> None:
        selection = self._desk.selection
        sheets: tuple[str, ...] = (name,)
        if held & Qt.KeyboardModifier.ControlModifier:
            kept = tuple(other for other in selection.sheets if other != name)
            sheets = kept if name in selection.sheets else (*kept, name)
        self._desk.select(replace(selection, sheets=sheets or (name,), pieces=frozenset()))


def _size(sheet: Sheet) -> Size:
    """The size of a sheet's picture as the card shows it."""
    if sheet.layout is not None:
        return sheet.size
    width = sum(source.size.width for source in sheet.sources)
    return Size(width, max(source.size.height for source in sheet.sources))


def _common_scale(sizes: list[Size], width: int) -> float:
    """One scale for all cards: the largest at which most fit a column."""
    if not sizes:
        return 2.0
    usual = sorted(size.width for size in sizes)[int(len(sizes) * 0.6)]
    for scale in (2.0, 1.0, 0.5, 0.25):
        if usual * scale <= max(width * 0.55, 200):
            return scale
    return 0.125
