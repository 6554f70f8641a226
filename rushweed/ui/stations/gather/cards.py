"""Cards: gathered pictures at true relative size, with what was seen in them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from math import ceil
from operator import attrgetter

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QFontMetrics,
    QHideEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QWidget

from rushweed.core.bale.packing import place_in_order
from rushweed.core.cut.gathering import waits
from rushweed.core.cut.inspect import Seen, describe
from rushweed.core.gather.relatives import belonging_words, relatives
from rushweed.core.orientation import turned
from rushweed.core.project.sheet import Belonging, Sheet
from rushweed.core.values import Colour, Refusal, Size
from rushweed.core.words import say
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_lozenge
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.view import largest_step
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.seeing import Sight
from rushweed.ui.stations.common.reading_card import HEIGHT, draw_cuts
from rushweed.ui.stations.gather.card import Card
from rushweed.ui.stations.gather.card_acts import REACH, CardActs, Take

_TOLD = attrgetter(
    *("sources", "kind", "belongs", "licence.identifier", "colour_key", "pixel", "orientation"),
    *("enlarged", "layout", "decided", "redrawn", "fitted"),
)
"""All of a sheet, but how many pieces it has, that a card tells or is laid out by."""
MARGIN, GAP = 12, 20
NARROWEST, LINE = 176, 15
TALLEST = 480
SCALES = (2.0, 1.0, 0.5, 0.25, 0.125)
LIKELY = 0.4
"""How strongly cuts are drawn that nobody chose yet."""


class Cards(QWidget):
    """Lays cards out in columns; click selects, Ctrl adds."""

    def __init__(
        self,
        desk: Desk,
        images: Images,
        sight: Sight,
        accept: Callable[[str], None],
        take: Take,
    ) -> None:
        super().__init__()
        self._desk, self._images, self._sight = desk, images, sight
        self._acts = CardActs(self, images, accept, take)
        self._cards: list[Card] = []
        self._drafts: dict[str, tuple[tuple[object, ...], Card]] = {}
        self._unread: set[str] = set()
        self._relatives: dict[str, Belonging] = {}
        self._shown: tuple[tuple[Sheet, ...], int, float] | None = None
        self._chosen: frozenset[str] = frozenset()
        self._picking: Callable[[str, Colour], None] | None = None
        self.scale = 2.0
        self.setAccessibleName(say("Gathered pictures"))
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)

    def refresh(self) -> None:
        """Lay out the project's sheets anew, if they changed."""
        shown = (self._desk.project.sheets, max(self.width(), 320), ratio_of(self))
        same = self._shown is not None and self._shown[0] is shown[0]
        if not same or self._shown != shown or self._unread:
            self._shown = shown
            self._lay_out(shown[1])
        self.update()

    def suit_screen(self) -> None:
        """Show it anew on a screen of another ratio."""
        self.refresh()

    @property
    def shown_times(self) -> float:
        """How many of the screen's pixels most pictures' pixels are."""
        return self.scale * ratio_of(self)

    @property
    def smaller(self) -> int:
        """How many pictures are shown smaller than the others, as they would not fit."""
        drawn = (card.picture.height() / max(_size(card.sheet).height, 1) for card in self._cards)
        return sum(scale < 0.95 * self.scale for scale in drawn)

    def rect_of(self, name: str) -> QRect:
        """Where a sheet's card is; an empty rectangle where it has none."""
        places = (card.whole for card in self._cards if card.sheet.name == name)
        return next(places, QRect())

    def _lay_out(self, width: int) -> None:
        sheets = self._desk.project.sheets
        self._relatives = relatives(self._desk.project)
        self.scale = _common_scale([_size(sheet) for sheet in sheets], width, ratio_of(self))
        inner = width - 2 * MARGIN
        self._unread = set()
        drafts = [self._draft(sheet, inner) for sheet in sheets]
        self._drafts = {sheet.name: self._drafts[sheet.name] for sheet in sheets}
        sizes = [Size(c.whole.width() + GAP, c.whole.height() + GAP) for c in drafts]
        places = place_in_order(sizes, inner + GAP)
        self._cards = [
            card.placed(sheet, MARGIN + int(place.x), 10 + int(place.y))
            for sheet, card, place in zip(sheets, drafts, places, strict=True)
        ]
        self._acts.show(self._cards)
        lowest = max((card.whole.bottom() for card in self._cards), default=0)
        self.setMinimumHeight(lowest + 20)

    def _draft(self, sheet: Sheet, room: int) -> Card:
        """A sheet's card, laid out at the origin; the one of before where all that it tells is as
        it was, and was known."""
        seen, refusal = self._seen(sheet)
        sight = (seen.readings, seen.sure) if seen is not None else refusal
        around = room, self.scale, ratio_of(self), self._relatives.get(sheet.name), sight
        told = (*_TOLD(sheet), len(sheet.pieces), *around)
        known = self._drafts.get(sheet.name)
        if known is not None and known[0] == told:
            return known[1]
        card = self._card(sheet, room, seen, refusal)
        self._drafts[sheet.name] = (told, card)
        return card

    def _card(self, sheet: Sheet, room: int, seen: Seen | None, refusal: str) -> Card:
        """A sheet's card, laid out at the origin."""
        size = _size(sheet)
        most = min(room / max(size.width, 1), TALLEST / max(size.height, 1))
        scale = min(self.scale, even_scale(most, ratio_of(self)))
        picture = QRectF(0, 0, size.width * scale, size.height * scale)
        doubtful = seen is not None and not seen.is_sure
        sentences = self._words(sheet, seen, refusal)
        takes = waits(sheet) and (seen is not None or sheet.name in self._relatives)
        below = HEIGHT + 10 if doubtful else 30 if takes else 4
        height = ceil(picture.height()) + 24 + LINE * len(sentences) + below
        longest = max(map(_width_of, sentences), default=0) + 14
        least = REACH if doubtful else NARROWEST
        width = max(ceil(picture.width()), least, min(longest, room))
        whole = QRect(0, 0, width, height)
        return Card(sheet, picture, whole, sentences, takes, seen)

    def _seen(self, sheet: Sheet) -> tuple[Seen | None, str]:
        """What is seen in a sheet that waits, if it was looked at, or why it cannot be read."""
        if not waits(sheet) or sheet.name in self._relatives:
            return None, ""
        try:
            seen = self._sight.in_pack(self._desk.project, sheet)
        except Refusal as refusal:
            self._unread.add(sheet.name)
            return None, str(refusal)
        if seen is None:
            self._unread.add(sheet.name)
        return seen, ""

    def _words(self, sheet: Sheet, seen: Seen | None, refusal: str) -> tuple[str, ...]:
        """What was decided or seen about a picture."""
        if not waits(sheet):
            words = self._decided(sheet)
        elif sheet.name in self._relatives:
            what = belonging_words(self._relatives[sheet.name])
            words = (say("by name and size: {what}", what=what),)
        elif seen is None:
            words = (refusal or say("is being looked at …"),)
        elif seen.is_sure:
            words = seen.sentences
        else:
            words = (say("not plain to see: which is it?"),)
        return words if sheet.licence.identifier else (*words, say("no licence yet"))

    def _decided(self, sheet: Sheet) -> tuple[str, ...]:
        if sheet.belongs is not None or sheet.layout is None:
            return (belonging_words(sheet.belongs),) if sheet.belongs else ()
        count = len(sheet.pieces)
        return describe(sheet.kind, sheet.layout, count, sheet.pixel, sheet.colour_key)

    def sizeHint(self) -> QSize:
        return QSize(600, 400)

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        if event.oldSize().width() != event.size().width():
            self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        assert event is not None
        painter = QPainter(self)
        painter.fillRect(event.rect(), look.colours.well)
        self._chosen = frozenset(self._desk.selection.sheets)
        for card in self._cards:
            if card.whole.adjusted(-8, -8, 8, 8).intersects(event.rect()):
                self._paint_card(painter, card)
        painter.end()

    def _paint_card(self, painter: QPainter, card: Card) -> None:
        colours = look.colours
        picture = card.picture
        if len(card.sheet.sources) > 1:
            self._paint_stack(painter, card.picture)
        draw_checker(painter, picture)
        image = self._images.one_of_many(card.sheet)
        smooth = picture.width() < image.width()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
        painter.drawImage(picture, image, QRectF(image.rect()))
        if card.seen is not None:
            self._paint_cuts(painter, card, card.seen)
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(picture.adjusted(-0.5, -0.5, 0.5, 0.5))
        selected = card.sheet.name in self._chosen
        if selected:
            draw_brackets(painter, picture.adjusted(-3, -3, 3, 3), 12, colours.tide)
        self._paint_words(painter, card, selected)

    def _paint_cuts(self, painter: QPainter, card: Card, seen: Seen) -> None:
        """The cuts of the reading that the pointer is over, else faintly the likeliest ones."""
        name, reading = self._acts.hovered or ("", None)
        meant = reading if name == card.sheet.name and reading is not None else None
        painter.save()
        painter.setClipRect(card.picture)
        painter.setOpacity(1.0 if meant else LIKELY)
        painter.translate(card.picture.x(), card.picture.y())
        scale = card.picture.width() / max(seen.drawn.width, 1)
        layout = meant.layout if meant else seen.layout
        draw_cuts(painter, layout, seen.loose, card.picture.size().toSize(), scale)
        painter.restore()

    def _paint_stack(self, painter: QPainter, rect: QRectF) -> None:
        for shift in (6, 3):
            painter.setPen(QPen(MARKS.frame, 1))
            painter.setBrush(MARKS.checker)
            painter.drawRect(rect.translated(shift, -shift).adjusted(-0.5, -0.5, 0.5, 0.5))

    def _paint_words(self, painter: QPainter, card: Card, selected: bool) -> None:
        colours = look.colours
        x, y = card.whole.x(), card.whole.y() + ceil(card.picture.height()) + 17
        size = f"{_size(card.sheet)} px"
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        size_width = painter.fontMetrics().horizontalAdvance(size)
        right = card.whole.right() + 1
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
            warns = sentence == say("no licence yet")
            painter.setPen(colours.ochre_ink if warns else colours.soft_ink)
            if warns:
                draw_lozenge(painter, x + 5, y - 4, 3.5, colours.ochre, colours.ochre_ink)
            left = x + (14 if warns else 0)
            room = card.whole.right() - left
            painter.drawText(
                left, y, metrics.elidedText(sentence, Qt.TextElideMode.ElideRight, room)
            )

    def pick_colour(self, told: Callable[[str, Colour], None]) -> None:
        """Let the next click on a picture tell its sheet and the colour stored there."""
        self._picking = told
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setFocus()

    def stop_picking(self) -> None:
        """The next click selects again."""
        self._picking = None
        self.unsetCursor()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self._picking is not None:
            self.stop_picking()
        else:
            super().keyPressEvent(event)

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.stop_picking()

    def _tell_colour(self, place: QPoint) -> None:
        told = self._picking
        self.stop_picking()
        card = next((card for card in self._cards if card.picture.contains(QPointF(place))), None)
        if card is None or told is None:
            return
        stored = turned(self._desk.art.stored(card.sheet), card.sheet.orientation)
        height, width = stored.shape[:2]
        x = int((place.x() - card.picture.x()) * width / card.picture.width())
        y = int((place.y() - card.picture.y()) * height / card.picture.height())
        picked = stored[min(y, height - 1), min(x, width - 1), :3]
        told(card.sheet.name, Colour(*map(int, picked)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = event.position().toPoint()
        if self._picking is not None:
            self._tell_colour(place)
            return
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
    return sheet.stored_size


@lru_cache(maxsize=1024)
def _width_of(sentence: str) -> int:
    """How wide a sentence is; cards say the same over and over."""
    return QFontMetrics(font(CAPTION)).horizontalAdvance(sentence)


def _common_scale(sizes: list[Size], width: int, ratio: float) -> float:
    """One scale for all cards: the largest at which most fit a column."""
    usual = sorted(size.width for size in sizes)[int(len(sizes) * 0.6)] if sizes else 0
    fits = (scale for scale in SCALES if usual * scale <= max(width * 0.55, 200))
    return largest_step(next(fits, SCALES[-1]), ratio)
