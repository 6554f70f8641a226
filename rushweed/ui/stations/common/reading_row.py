"""The likeliest readings of a sheet, beside each other; those without room are a scroll away."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QWidget

from rushweed.core.cut.inspect import Seen
from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.project.sheet import Layout, LoosePieces, Sheet
from rushweed.core.words import say
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.stations.common.reading_card import HEIGHT, ReadingCard

SHOWN = 8
GAP, BAR = 4, 8


class ReadingRow(QScrollArea):
    """Cards of readings in a row; `take` is called with the one that is clicked."""

    def __init__(self, take: Callable[[Reading], None]) -> None:
        super().__init__()
        self._take = take
        self.setAccessibleName(say("Readings, likeliest first"))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(HEIGHT + BAR)
        self.cards = [ReadingCard() for _ in range(SHOWN)]
        body = QWidget()
        line = QHBoxLayout(body)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(GAP)
        line.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        for card in self.cards:
            line.addWidget(card)
            card.clicked.connect(partial(self._clicked, card))
        self._line = line
        self.setWidget(body)
        body.setAutoFillBackground(False)  # which taking it in had switched on
        self.viewport().setAutoFillBackground(False)  # type: ignore[union-attr]

    def show_readings(
        self, seen: Seen | None, image: QImage, sheet: Sheet, chosen: Layout | None
    ) -> None:
        """Show what a sheet may be; the chosen one stands out, wherever it ranks."""
        readings = seen.readings[:SHOWN] if seen else ()
        for index, card in enumerate(self.cards):
            reading = readings[index] if index < len(readings) else None
            picked = reading is not None and is_chosen(reading, chosen)
            card.show_reading(reading, image, picked, seen.loose if seen else ())
        self.setVisible(bool(readings))
        self.widget().setFixedSize(self._line.sizeHint())  # type: ignore[union-attr]

    def _clicked(self, card: ReadingCard) -> None:
        if card.reading is not None:
            self._take(card.reading)


def is_chosen(reading: Reading, layout: Layout | None) -> bool:
    """Whether a sheet is cut as a reading says; loose pieces may be told apart in many ways."""
    if isinstance(reading.layout, LoosePieces):
        return isinstance(layout, LoosePieces)
    return reading.layout == layout


def image_as_seen(images: Images, sheet: Sheet, seen: Seen) -> QImage:
    """The sheet's picture at the size that its readings are for."""
    image = images.sheet(sheet) if sheet.layout is not None else images.stored(sheet)
    wanted = seen.drawn.width * sheet.enlarged, seen.drawn.height * sheet.enlarged
    if (image.width(), image.height()) == wanted or sheet.orientation:
        return image
    return image.scaled(*wanted)
