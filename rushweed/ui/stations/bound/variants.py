"""The Colours face: pieces in other colours, that keep the shapes and facts of the first ones."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.variants import add_variant, recolour
from rushweed.core.gather.recolouring import palette_of
from rushweed.core.project.history import History
from rushweed.core.project.sheet import Recolouring, Sheet
from rushweed.core.values import Colour, Refusal
from rushweed.core.words import counted, say
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import Field, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slider import Slider
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

SWATCH, COLUMNS, MOST = 26, 9, 27
TURNS = {"hue": (-180, 180), "saturation": (-100, 100), "lightness": (-100, 100)}


class VariantsFace(Face):
    """A table with the sheet, and a slip that makes and changes a recoloured one."""

    name = say("Colours")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._last: History | None = None
        self.table = self._canvas = SheetCanvas(services)
        self._head = SelectionHead()
        self._make_group = Group(1, say("In other colours"))
        make = button(
            say("Make a recoloured sheet"),
            self._make,
            "main",
            say("Of the selected pieces, else of all; they keep their shapes and facts"),
        )
        self._make_group.add(row(make, None))
        self._turn_group = Group(2, say("Turn its colours"))
        names = {"hue": say("Hue"), "saturation": say("Saturation"), "lightness": say("Lightness")}
        self.sliders: dict[str, Slider] = {}
        for point, (low, high) in TURNS.items():
            slider = self.sliders[point] = Slider(names[point], low, high)
            slider.moved.connect(lambda value, point=point: self._set(**{point: int(value)}))
            slider.entered.connect(lambda _: self._settle())
            name = label(names[point])
            name.setFixedWidth(72)
            self._turn_group.add(row(name, slider))
        back = button(say("As they were"), lambda: self._set(hue=0, saturation=0, lightness=0))
        self._turn_group.add(row(back, None))
        self._swap_group = Group(3, say("Swap single colours"))
        self.palette = Swatches()
        self.palette.picked.connect(self._choose)
        self._swap_group.add(self.palette)
        self._new = Field(say("The colour in its place"), "#RRGGBB")
        self._new.setFixedWidth(84)
        self._new.entered.connect(self._swap)
        self._old = label("", "caption")
        self._swap_group.add(row(self._old, None, self._new))
        self.slip = SlipPage([self._make_group, self._turn_group, self._swap_group], self._head)

    def refresh(self) -> None:
        """Show the sheet and how its colours were changed."""
        self._canvas.refresh()
        sheet = self._canvas.sheet
        pieces = self._canvas.selected_pieces()
        self._head.tell(counted(len(pieces), "piece", "pieces"), sheet.name if sheet else "")
        how = sheet.recoloured if sheet else None
        self.slip.set_usable(self._canvas.has_pieces())
        of = sheet.belongs.to if sheet and sheet.belongs and how else ""
        self._make_group.result.tell(
            say("This is {of} in other colours; it follows when that one changes.", of=of)
            if how
            else ""
        )
        for point, slider in self.sliders.items():
            slider.setEnabled(how is not None)
            slider.show_value(getattr(how, point) if how else 0)
        self._turn_group.setVisible(how is not None)
        self._swap_group.setVisible(how is not None)
        if how is not None:
            told = [f"{how.hue}°", f"{how.saturation:+d} %", f"{how.lightness:+d} %"]
            self._turn_group.aside.setText(", ".join(told))
            self.palette.show_colours(self._colours(sheet), dict(how.swaps))
            self._tell_chosen(how)

    def _colours(self, sheet: Sheet | None) -> list[Colour]:
        """The colours of the sheet before they are changed."""
        if sheet is None:
            return []
        try:
            return palette_of(self.desk.art.picture(replace(sheet, recoloured=None)), MOST)
        except Refusal:
            return []

    def _make(self) -> None:
        sheet = self._canvas.sheet
        if sheet is None:
            return
        numbers = [piece.number for piece in self._canvas.selected_pieces()]
        variant = self.desk.make(
            say("Recoloured {what}", what=sheet.name),
            lambda p: add_variant(p, sheet.name, numbers, Recolouring(hue=30)),
        )
        if variant is not None:
            chosen = replace(
                self.desk.selection, sheets=(variant.name,), pieces=frozenset(), animation=""
            )
            self.desk.select(chosen)

    def _set(self, **changes: object) -> None:
        """Change the colours while a slider moves, as one step of undo."""
        sheet = self._canvas.sheet
        if sheet is None or sheet.recoloured is None:
            return
        how = replace(sheet.recoloured, **changes)  # type: ignore[arg-type]
        words = say("Changed the colours of {what}", what=sheet.name)
        name = sheet.name
        if self._last is not None and self._last is self.desk.history:
            self._last = self.desk.amend(self._last, words, lambda p: recolour(p, name, how))
        elif self.desk.do(words, lambda p: recolour(p, name, how)):
            self._last = self.desk.history

    def _settle(self) -> None:
        self._last = None

    def _choose(self, colour: Colour) -> None:
        sheet = self._canvas.sheet
        if sheet is not None and sheet.recoloured is not None:
            self._tell_chosen(sheet.recoloured)
            self._new.setFocus()
            self._new.selectAll()

    def _tell_chosen(self, how: Recolouring) -> None:
        chosen = self.palette.chosen
        self._new.setEnabled(chosen is not None)
        self._old.setText(
            say("{old} becomes", old=chosen.hex) if chosen else say("Choose a colour above.")
        )
        self._new.show_value(dict(how.swaps).get(chosen, chosen).hex if chosen else "")

    def _swap(self, text: str) -> None:
        sheet, old = self._canvas.sheet, self.palette.chosen
        if sheet is None or sheet.recoloured is None or old is None:
            return
        try:
            new = Colour.parse(text)
        except ValueError as problem:
            self.desk.refused.emit(str(problem))
            self.refresh()
            return
        others = tuple(pair for pair in sheet.recoloured.swaps if pair[0] != old)
        self._set(swaps=others if new == old else (*others, (old, new)))
        self._settle()


class Swatches(QWidget):
    """The colours of a sheet, the most frequent first; a swapped one shows both."""

    picked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.colours: list[Colour] = []
        self.chosen: Colour | None = None
        self._swaps: dict[Colour, Colour] = {}
        self.setAccessibleName(say("Colours of the sheet"))

    def show_colours(self, colours: list[Colour], swaps: dict[Colour, Colour]) -> None:
        """Show these colours."""
        self.colours, self._swaps = colours, swaps
        if self.chosen not in colours:
            self.chosen = None
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        rows = -(-max(1, len(self.colours)) // COLUMNS)
        return QSize(COLUMNS * (SWATCH + 2), rows * (SWATCH + 2))

    def place_of(self, index: int) -> QRectF:
        """Where a colour is."""
        line, column = divmod(index, COLUMNS)
        return QRectF(column * (SWATCH + 2), line * (SWATCH + 2), SWATCH, SWATCH)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for index, colour in enumerate(self.colours):
            if self.place_of(index).contains(event.position()):
                self.chosen = colour
                self.picked.emit(colour)
                self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        for index, colour in enumerate(self.colours):
            place = self.place_of(index).adjusted(1, 1, -1, -1)
            painter.fillRect(place, QColor(*colour[:3]))
            if colour in self._swaps:
                lower = place.adjusted(0, place.height() / 2, 0, 0)
                painter.fillRect(lower, QColor(*self._swaps[colour][:3]))
            chosen = colour == self.chosen
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(
                QPen(look.colours.tide if chosen else look.colours.strong_line, 2 if chosen else 1)
            )
            painter.drawRect(place)
        painter.end()
