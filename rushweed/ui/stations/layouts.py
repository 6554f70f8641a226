"""The numbers of a layout."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QWidget

from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces
from rushweed.core.values import Size
from rushweed.ui.shell.controls import Check, button, label, row
from rushweed.ui.shell.slider import Slider
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.shared import common
from rushweed.ui.text import tr

Tell = Callable[[Layout], None]
FARTHEST_SLID = 24


class EvenControls(QWidget):
    """Cell, margin and gap, across and down."""

    def __init__(self, tell: Callable[[str, int, int], object]) -> None:
        """`tell` is called with the field, the axis (0 across, 1 down) and the number."""
        super().__init__()
        self._tell = tell
        self.layout_shown = EvenCells(Size(16, 16))
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self.steppers: dict[tuple[str, int], Stepper] = {}
        for line, (field, name, low) in enumerate(
            (("cell", tr("Cell"), 1), ("margin", tr("Margin"), 0), ("gap", tr("Gap"), 0))
        ):
            grid.addWidget(label(name), line, 0)
            for axis, way in enumerate((tr("across"), tr("down"))):
                stepper = Stepper(f"{name} {way}", tr("px"), low, 16384, width=94)
                stepper.stepped.connect(partial(self._change, field, axis))
                grid.addWidget(stepper, line, 1 + axis)
                self.steppers[field, axis] = stepper

    def show_layouts(self, first: EvenCells, layouts: Sequence[EvenCells]) -> None:
        """Show what the layouts have in common; the first one counts for sheets without any."""
        self.layout_shown = first
        for (field, axis), stepper in self.steppers.items():
            stepper.show_value(common(getattr(layout, field)[axis] for layout in layouts))

    def _change(self, field: str, axis: int, value: float) -> None:
        self._tell(field, axis, int(value))


def with_number(layout: EvenCells, field: str, axis: int, value: int) -> EvenCells:
    """Cells with one of their numbers changed."""
    old = getattr(layout, field)
    size = Size(value, old.height) if axis == 0 else Size(old.width, value)
    changed: dict[str, Any] = {field: size}
    return replace(layout, **changed)


class LooseControls(QWidget):
    """How near bits belong together, how small a piece may be, and what becomes of shadows.

    `tell` is called with a layout to keep, `try_out` with one that is only shown so far.
    """

    def __init__(self, tell: Tell, try_out: Tell, make_even: Callable[[], object]) -> None:
        super().__init__()
        self._tell, self._try_out = tell, try_out
        self._layout = LoosePieces()
        self._distance = Stepper(tr("Distance"), tr("px"), 1, 64)
        self.slider = Slider(tr("Distance below which bits are one"), 1, FARTHEST_SLID)
        self._least = Stepper(tr("Least size"), tr("px"), 1, 4096)
        self._shadows = Check(tr("A shadow belongs to its piece"), self._set_shadows)
        self._distance.stepped.connect(lambda v: self._change(distance=int(v)))
        self.slider.moved.connect(lambda v: self._try_out(replace(self._layout, distance=v)))
        self.slider.settled.connect(lambda v: self._change(distance=v))
        self._least.stepped.connect(lambda v: self._change(least=int(v)))
        even = button(
            tr("Make it even"), make_even, tip=tr("One cell for all, standing on a common line")
        )
        lines = (
            row(label(tr("Join bits nearer than")), None, self._distance),
            row(self.slider),
            row(label(tr("Leave out smaller than")), None, self._least),
            row(self._shadows, None),
            row(even, None),
        )
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setVerticalSpacing(4)
        for place, line in enumerate(lines):
            grid.addLayout(line, place, 0)

    def show_layout(self, layout: LoosePieces) -> None:
        self._layout = layout
        self._distance.show_value(layout.distance)
        self.slider.show_value(layout.distance)
        self._least.show_value(layout.least)
        self._shadows.setChecked(layout.shadows)

    def _set_shadows(self, on: bool) -> None:
        self._change(shadows=on)

    def _change(self, **points: Any) -> None:
        self._tell(replace(self._layout, **points))
