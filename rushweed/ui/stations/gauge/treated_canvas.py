"""A sheet as drawn and as it will be: side by side at a movable divider, or only what differs."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen, QPolygonF

from rushweed.core.gather.art import picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import draw_image
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_checker, draw_odd_box, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas
from rushweed.ui.stations.gauge.difference import Difference

ORIGIN = Point(0, 0)
GRIP = 9


class TreatedCanvas(SheetCanvas):
    """Shows the sheet beside its treated picture."""

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.cuts = self.numbers = self.tags = False
        self.difference = False
        self.share = 0.5
        self.paint_over = self._paint_treated
        self.tool = self._press
        self._treated: tuple[Picture, QImage] | None = None
        self._difference = Difference(services.jobs)
        self._difference.found.connect(self.update)
        self._corner = ORIGIN
        self._words = ""
        self._worst: tuple[Rect, str] | None = None

    def show_treated(
        self,
        picture: Picture | None,
        words: str,
        worst: tuple[Rect, str] | None,
        corner: Point = ORIGIN,
    ) -> None:
        """Show what a choice makes of the sheet, or of the part of it that begins at `corner`, its
        name, and where it does worst."""
        if picture is None:
            self._treated = None
        elif self._treated is None or self._treated[0] is not picture:
            self._treated = (picture, self._image_of(picture))
        self._corner = corner
        self._words, self._worst = words, worst
        self.update()

    def _image_of(self, picture: Picture) -> QImage:
        """A picture's image; the sheet's own is known already."""
        if self.sheet is not None and picture is self.desk.art.memory.find(picture_key(self.sheet)):
            return self._services.images.sheet(self.sheet)
        return to_image(picture)

    def pixel_words(self, place: Point) -> str:
        """What colour a pixel has and what it becomes."""
        if self.sheet is None or self._treated is None:
            return ""
        try:
            original = self.desk.art.picture(self.sheet)
        except Refusal:
            return ""
        x, y = int(place.x // 1), int(place.y // 1)
        treated, (left, top) = self._treated[0], self._corner
        if not (0 <= y - top < treated.shape[0] and 0 <= x - left < treated.shape[1]):
            return ""
        before, after = _hex(original[y, x]), _hex(treated[int(y - top), int(x - left)])
        if before == after:
            return before
        return say("{before} becomes {after}", before=before, after=after)

    @property
    def _divider(self) -> float:
        return round(self.width() * self.share)

    def _press(self, press: Pointer) -> Stroke | None:
        at = self.view.to_screen(press.place.x, press.place.y).x
        if not self.difference and abs(at - self._divider) <= GRIP:
            return self._drag_divider()
        return self.select_tool(press)

    def _drag_divider(self) -> Stroke:
        while True:
            event = yield
            at = self.view.to_screen(event.place.x, event.place.y).x
            self.share = min(max(at / max(1, self.width()), 0.02), 0.98)
            self.update()
            if event.released:
                return

    def _paint_treated(self, painter: QPainter) -> None:
        if self._treated is None:
            if self._words:
                draw_tag(painter, self._divider + 9, 10, self._words, MARKS.ink, MARKS.paper)
            return
        if self.difference:
            self._paint_difference(painter)
            return
        painter.save()
        right = QRectF(self._divider, 0, self.width() - self._divider, self.height())
        painter.setClipRect(right)
        draw_checker(painter, self.to_screen(self._shown_part()).intersected(right))
        draw_image(painter, self, self._treated[1], *self._corner)
        if self.brackets:
            self.paint_selection(painter)
        painter.restore()
        self._paint_divider(painter)
        self._paint_worst(painter)

    def _shown_part(self) -> Rect:
        """The part of the sheet that is shown treated."""
        assert self._treated is not None
        height, width = self._treated[0].shape[:2]
        return Rect(int(self._corner.x), int(self._corner.y), width, height)

    def _paint_worst(self, painter: QPainter) -> None:
        if self._worst is None:
            return
        rect = self.to_screen(self._worst[0])
        draw_odd_box(painter, rect.adjusted(-2, -2, 2, 2))
        text = self._worst[1]
        draw_tag(painter, rect.left(), rect.bottom() + 5, text, MARKS.ochre, MARKS.ink, MARKS.ink)

    def _paint_divider(self, painter: QPainter) -> None:
        x, height = self._divider, self.height()
        painter.fillRect(QRectF(x - 1, 0, 3, height), MARKS.ink)
        painter.fillRect(QRectF(x, 0, 1, height), MARKS.paper)
        middle = height / 2
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(MARKS.paper, 1.5))
        painter.setBrush(look.colours.tide)
        diamond = [(0, -GRIP), (GRIP, 0), (0, GRIP), (-GRIP, 0)]
        painter.drawPolygon(QPolygonF([QPointF(x + 0.5 + a, middle + b) for a, b in diamond]))
        for way in (-1, 1):
            tip = QPointF(x + 0.5 + way * 5, middle)
            painter.drawLine(tip, QPointF(x + 0.5 + way * 2.5, middle - 2.5))
            painter.drawLine(tip, QPointF(x + 0.5 + way * 2.5, middle + 2.5))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        drawn = say("as drawn")
        width = painter.fontMetrics().horizontalAdvance(drawn)
        draw_tag(painter, x - width - 22, 10, drawn, MARKS.paper, MARKS.ink, MARKS.ink)
        draw_tag(painter, x + 9, 10, self._words, MARKS.ink, MARKS.paper, MARKS.ink)

    def _paint_difference(self, painter: QPainter) -> None:
        assert self._treated is not None and self.sheet is not None
        whole = self.to_screen(self.content)
        painter.fillRect(whole, look.colours.well)
        part = self._shown_part()
        original = self.desk.art.picture(self.sheet)[part.y : part.bottom, part.x : part.right]
        image = self._difference.image(original, self._treated[0])
        if image is not None:
            draw_image(painter, self, image, *self._corner)
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(whole.adjusted(-0.5, -0.5, 0.5, 0.5))
        self._paint_worst(painter)

    def look_close(self, rect: Rect) -> None:
        """Show a part of the sheet large."""
        room = min(self.width() / (rect.width + 2), self.height() / (rect.height + 2))
        self.show_close(rect, min(room, 24))


def _hex(pixel: Picture) -> str:
    if not pixel[3]:
        return say("clear")
    alpha = "" if pixel[3] == 255 else f" {round(pixel[3] / 2.55)} %"
    return f"#{pixel[0]:02X}{pixel[1]:02X}{pixel[2]:02X}{alpha}"
