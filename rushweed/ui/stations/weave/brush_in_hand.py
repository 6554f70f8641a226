"""The brush in hand: what it holds, turned and mirrored, and how it fills."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.weave.painting import Brush, FillBy, mirrored, quarter_turned
from rushweed.core.words import said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Check, Chips, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.weave.held import FIRST, Held, Others, Reach

FILLS: dict[FillBy, str] = {
    "tile": "Tile",
    "ground": "Ground",
    "emptiness": "Empty",
    "all alike": "All alike",
}
REACHES: dict[Reach, str] = {"layer": "Here", "level": "In the level", "levels": "In all"}
OTHERS: dict[Others, str] = {"stay": "Stay", "aside": "Other layer", "replaced": "Give way"}
NAMES_WIDTH = 180


class BrushInHand(Group):
    """Says what the brush is."""

    def __init__(self, number: int, services: Services, held: Held, canvas: Canvas) -> None:
        super().__init__(number, say("Brush"))
        self._desk, self._held, self._canvas = services.desk, held, canvas
        self._settings = services.settings
        commands = services.commands
        across = command_button(commands, "weave.mirror", say("Flip across"))
        down = command_button(commands, "weave.mirror_down", say("Flip down"))
        turn = command_button(commands, "weave.turn", say("Turn"))
        fills = Chips(said(FILLS), name=say("Fill by"))
        fills.entered.connect(self._set_fill)
        fills.show_value(held.fill_by)
        fills.setToolTip(say("All alike: the same tile wherever it lies on the layer"))
        reach = Chips(said(REACHES), name=say("Replaces it"))
        reach.entered.connect(self._set_reach)
        reach.show_value(held.reach)
        self._reach = QWidget()
        self._reach.setLayout(row(label(say("Replaces it")), reach, None))
        self._reach.setVisible(held.fill_by == "all alike")
        mirror = Check(say("Mirrored"), self._set_mirror)
        repeat = command_button(commands, "weave.repeat", say("Again"))
        self.add(row(across, down, turn, None, spacing=4))
        self.add(row(label(say("Fill by")), fills, None))
        self.add(self._reach)
        under = command_button(commands, "weave.under", say("Fill under"))
        self.add(row(mirror, repeat, under, None))
        others = Chips(said(OTHERS), name=say("Other kinds"))
        others.setToolTip(
            say(
                "Ground that decoration comes upon, and the other way: it stays, or the stroke "
                "goes to the layer that fits, or it is replaced"
            )
        )
        if self._settings.values.others in OTHERS:
            held.others = self._settings.values.others
        others.show_value(held.others)
        others.entered.connect(self._set_others)
        self.add(row(label(say("Others")), others, None))
        walls = Stepper(say("Walls of a box"), say("cells"), 0, 64, width=112)
        walls.show_value(held.walls)
        told = say("A room in one drag: only its walls are drawn; 0 fills the box.")
        walls.setToolTip(told + " " + say("With Shift they are one cell thick."))
        walls.entered.connect(self._set_walls)
        self.add(row(label(say("Walls of a box")), None, walls))

    def _set_reach(self, reach: Reach) -> None:
        self._held.reach = reach

    def _set_walls(self, cells: int) -> None:
        self._held.walls = cells

    def _set_others(self, others: Others) -> None:
        self._held.others = others
        self._settings.remember(others=others)

    def refresh(self) -> None:
        """Show the names, the size and the shapes of the brush's tiles."""
        brush = self._held.brush
        if self._held.hem:
            self.aside.setText("")
            self.result.tell(say("Drawing with the hem {name}.", name=self._held.hem))
            return
        if brush is None:
            self.aside.setText("")
            self.result.tell(say("Pick a tile in the tray, or drag over a block of them."))
            return
        found = [self._desk.project.find(number) for number in sorted(brush.numbers())]
        names = ", ".join(shown_name(*pair) for pair in found if pair)
        metrics = self.aside.fontMetrics()
        self.aside.setText(metrics.elidedText(names, Qt.TextElideMode.ElideRight, NAMES_WIDTH))
        shaped = sum(bool(pair and pair[1].shapes) for pair in found)
        size = f"{brush.width} × {brush.height}"
        solid = say("No shape.") if not shaped else say("{n} with a shape.", n=shaped)
        self.result.tell(say("{size} tiles. {solid}", size=size, solid=solid))

    def flip(self, way: int) -> None:
        """Mirror the brush, as a whole and tile by tile."""
        if self._held.brush is None:
            self._desk.refused.emit(FIRST)
        else:
            self._take(mirrored(self._held.brush, way))

    def turn(self) -> None:
        """Turn the brush by a quarter, clockwise."""
        if self._held.brush is None:
            self._desk.refused.emit(FIRST)
        else:
            self._take(quarter_turned(self._held.brush))

    def _take(self, brush: Brush) -> None:
        self._held.brush = brush
        self.refresh()
        self._canvas.update()

    def _set_fill(self, fill_by: FillBy) -> None:
        self._held.fill_by = fill_by
        self._reach.setVisible(fill_by == "all alike")

    def _set_mirror(self, on: bool) -> None:
        """Mirror strokes about the middle of what is seen."""
        seen = self._canvas.visible()
        width = self._desk.project.rules.tile.width
        middle = round(2 * (seen.x + seen.width / 2) / width) / 2
        self._held.mirror = middle if on else None
        self._canvas.update()
