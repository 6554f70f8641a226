"""A page as it will be written, with what is selected on it."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen

from rushweed.core.bale.pages import Page
from rushweed.core.cut.naming import shown_name
from rushweed.core.values import Point, Rect
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_tag
from rushweed.ui.canvas.tools import Pointer
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.bale.making import page_image

MOST_MARKED = 60


class PageCanvas(Canvas):
    """A click selects the piece that lies there."""

    def __init__(self, services: Services) -> None:
        super().__init__(self._paint)
        self._services, self._desk = services, services.desk
        self._page: Page | None = None
        self._image = QImage()
        self._pointed = 0
        self.hovered.connect(self._hover)
        self.tool = self._press

    def show_page(self, page: Page | None) -> None:
        """Show a page, or nothing."""
        self._page = page
        self._image = QImage()
        if page is not None:
            self._image = page_image(self._desk.art, page)
            self.show_content(Rect(0, 0, *page.plan.size))
        self.update()

    def _press(self, press: Pointer) -> None:
        found = self._desk.project.find(self._piece_at(press.place))
        if found is not None:
            sheet, piece = found
            pieces = frozenset({piece.number})
            self._desk.select(replace(self._desk.selection, sheets=(sheet.name,), pieces=pieces))

    def _piece_at(self, place: Point) -> int:
        places = self._page.places.items() if self._page else ()
        return next((number for number, rect in places if rect.contains(*place)), 0)

    def _hover(self, place: Point | None) -> None:
        number = self._piece_at(place) if place is not None else 0
        if number != self._pointed:
            self._pointed = number
            self.update()
        found = self._desk.project.find(number)
        if self.isVisible():
            self._services.status(shown_name(*found) if found else "", self.zoom_words)

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        if self._page is None:
            return
        whole = self.to_screen(self.content)
        draw_checker(painter, whole.intersected(QRectF(self.rect())))
        painter.drawImage(whole, self._image, QRectF(self._image.rect()))
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(whole.adjusted(-0.5, -0.5, 0.5, 0.5))
        places = self._page.places
        shown = [number for number in self._desk.selection.pieces if number in places]
        for number in shown[:MOST_MARKED]:
            draw_brackets(painter, self.to_screen(places[number]), 9)
        if self._pointed in places:
            self._paint_pointed(painter, self.to_screen(places[self._pointed]))

    def _paint_pointed(self, painter: QPainter, rect: QRectF) -> None:
        painter.setPen(QPen(MARKS.tide, 1))
        painter.drawRect(rect)
        found = self._desk.project.find(self._pointed)
        if found is not None:
            draw_tag(painter, rect.left(), rect.top() - 20, shown_name(*found))
