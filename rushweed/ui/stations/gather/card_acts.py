"""What stands on cards to be clicked: a button on those that wait for one, and small pictures of
the likeliest readings on those that are doubtful."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import islice

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton, QWidget

from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.words import say
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.shell.controls import button
from rushweed.ui.stations.common.reading_card import HEIGHT, WIDTH, ReadingCard
from rushweed.ui.stations.common.reading_row import image_as_seen
from rushweed.ui.stations.gather.card import Card

READINGS = 3
"""So many readings are shown where what is seen is doubtful."""
REACH = READINGS * (WIDTH + 4)
AT_ONCE = 24
"""So many cards are served at once, the others little by little."""
Take = Callable[[str, Reading], None]


class CardActs:
    """Puts them in their places on a table of cards."""

    def __init__(
        self, table: QWidget, images: Images, accept: Callable[[str], None], take: Take
    ) -> None:
        self._table, self._images, self._accept, self._take = table, images, accept, take
        self._buttons: dict[str, QPushButton] = {}
        self._readings: dict[str, list[ReadingCard]] = {}
        self.hovered: tuple[str, Reading | None] | None = None
        """The sheet and its reading that the pointer is over."""
        self._waiting: Iterator[None] = iter(())
        self._soon = QTimer(table)
        self._soon.timeout.connect(self._go_on)

    def show(self, cards: Sequence[Card]) -> None:
        """Serve these cards, and no others."""
        plain = {card.sheet.name for card in cards if card.waits and card.doubtful is None}
        doubtful = {card.sheet.name for card in cards if card.doubtful is not None}
        for name in set(self._buttons) - plain:
            self._buttons.pop(name).deleteLater()
        for name in set(self._readings) - doubtful:
            for gone in self._readings.pop(name):
                gone.hide()
                self.hovered = None
                gone.deleteLater()
        known = self._buttons.keys() | self._readings.keys()
        fresh = [card for card in cards if card.waits and card.sheet.name not in known]
        for card in cards:
            if card.sheet.name in known:
                self._serve(card)
        self._waiting = map(self._serve, fresh)
        self._soon.start()
        self._go_on()

    def _go_on(self) -> None:
        if sum(1 for _ in islice(self._waiting, AT_ONCE)) < AT_ONCE:
            self._soon.stop()

    def _serve(self, card: Card) -> None:
        if card.doubtful is not None:
            self._show_readings(card)
        else:
            accept = self._button(card.sheet.name)
            accept.move(card.whole.x(), card.whole.bottom() - 22)
            accept.show()

    def _show_readings(self, card: Card) -> None:
        assert card.doubtful is not None
        name, seen = card.sheet.name, card.doubtful
        image = image_as_seen(self._images, card.sheet, seen)
        shown = self._readings.setdefault(name, [])
        while len(shown) < min(READINGS, len(seen.readings)):
            shown.append(self._reading_card(name, str(len(shown) + 1)))
        for place, (small, reading) in enumerate(zip(shown, seen.readings, strict=False)):
            small.show_reading(reading, image, False, seen.loose, name)
            left = card.whole.x() + place * (WIDTH + 4)
            small.move(left, card.whole.bottom() - HEIGHT)
            small.show()

    def _reading_card(self, name: str, key: str) -> ReadingCard:
        made = ReadingCard()
        made.key = key
        made.setParent(self._table)

        def hover(over: bool) -> None:
            self.hovered = (name, made.reading) if over else None
            self._table.update()

        def take() -> None:
            if made.reading is not None:
                self._take(name, made.reading)

        made.hovered.connect(hover)
        made.clicked.connect(take)
        return made

    def _button(self, name: str) -> QPushButton:
        if name not in self._buttons:
            made = button(say("Take it as seen"), lambda: self._accept(name), "small")
            made.setParent(self._table)
            made.setAccessibleName(say("Take {name} as seen", name=name))
            self._buttons[name] = made
        return self._buttons[name]
