"""The numbers of a layout."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QWidget

from rushweed.core.cut.seeing.hints import Field
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces
from rushweed.core.words import say
from rushweed.ui.shell.binding import common
from rushweed.ui.shell.controls import Check, button, label, row
from rushweed.ui.shell.slider import Slider
from rushweed.ui.shell.stepper import Stepper

Tell = Callable[[Layout], None]
FARTHEST_SLID = 24


class EvenControls(QWidget):
    """Cell, margin and gap, across and down."""

    def __init__(self, tell: Callable[[Field, int, int], object]) -> None:
        """`tell` is called with the field, the axis (0 across, 1 down) and the number."""
        super().__init__()
        self._further: list[QWidget] = []
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self.steppers: dict[tuple[Field, int], Stepper] = {}
        fields: tuple[tuple[Field, str, int], ...] = (
            ("cell", say("Cell"), 1),
            ("margin", say("Margin"), 0),
            ("gap", say("Gap"), 0),
        )
        for line, (field, name, low) in enumerate(fields):
            title = label(name)
            grid.addWidget(title, line, 0)
            if line:
                self._further.append(title)
            for axis, way in enumerate((say("across"), say("down"))):
                stepper = Stepper(f"{name} {way}", say("px"), low, 16384, width=94)
                stepper.entered.connect(partial(tell, field, axis))
                grid.addWidget(stepper, line, 1 + axis)
                self.steppers[field, axis] = stepper
                if line:
                    self._further.append(stepper)

    def show_layouts(self, layouts: Sequence[EvenCells], guessed: bool) -> None:
        """Show what the layouts have in common; where there are none, a cell may be typed. Those
        that are only `guessed` are shown so."""
        for widget in self._further:
            widget.setVisible(bool(layouts))
        for (field, axis), stepper in self.steppers.items():
            value = common(getattr(layout, field)[axis] for layout in layouts)
            stepper.show_value(value, not layouts, guessed)


class LooseControls(QWidget):
    """How near bits belong together; `further`, how small a piece may be, and what becomes of
    shadows, of bits and of figures that touch.

    `tell` is called with a layout to keep, `try_out` with one that is only shown so far.
    """

    def __init__(self, tell: Tell, try_out: Tell, make_even: Callable[[], object]) -> None:
        super().__init__()
        self._tell, self._try_out = tell, try_out
        self._layout = LoosePieces()
        self._distance = Stepper(say("Distance"), say("px"), 1, 64)
        self.slider = Slider(say("Distance below which bits are one"), 1, FARTHEST_SLID)
        self._least = Stepper(say("Least size"), say("px"), 1, 4096)
        self._shadows = Check(
            say("A shadow belongs to its piece"), lambda on: self._change(shadows=on)
        )
        self._bits = Check(say("Bits belong to what they lie by"), lambda on: self._change(bits=on))
        self._parted = Check(say("Part figures that touch"), lambda on: self._change(parted=on))
        self._distance.entered.connect(lambda v: self._change(distance=v))
        self.slider.moved.connect(self._slide)
        self.slider.entered.connect(lambda v: self._change(distance=v))
        self._least.entered.connect(lambda v: self._change(least=v))
        even = button(
            say("Make it even"), make_even, tip=say("One cell for all, standing on a common line")
        )
        lines = (
            row(label(say("Join bits nearer than")), None, self._distance),
            row(self.slider),
        )
        self.further = QWidget()
        further = (
            row(label(say("Leave out smaller than")), None, self._least),
            row(self._shadows, None),
            row(self._bits, None),
            row(self._parted, None),
            row(even, None),
        )
        for holder, part in ((self, lines), (self.further, further)):
            grid = QGridLayout(holder)
            grid.setContentsMargins(0, 4, 0, 0)
            grid.setVerticalSpacing(4)
            for place, line in enumerate(part):
                grid.addLayout(line, place, 0)

    def show_layout(self, layout: LoosePieces, guessed: bool) -> None:
        self._layout = layout
        self._distance.show_value(layout.distance, guessed=guessed)
        self.slider.show_value(layout.distance)
        self._least.show_value(layout.least, guessed=guessed)
        self._shadows.show_value(layout.shadows)
        self._bits.show_value(layout.bits)
        self._parted.show_value(layout.parted)

    def _slide(self, distance: int) -> None:
        self._try_out(replace(self._layout, within=None, distance=distance))

    def _change(self, **points: Any) -> None:
        self._tell(replace(self._layout, within=None, **points))
