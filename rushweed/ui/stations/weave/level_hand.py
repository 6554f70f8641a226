"""The hand over the open level: it takes a tool, presses with it, and does what keys ask for."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtGui import QPainter

from rushweed.core.project.cells import Key
from rushweed.core.project.level import Level
from rushweed.core.values import Point
from rushweed.core.weave.levels import set_start
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.listed import STEPS
from rushweed.ui.shell.controls import Chips
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.weave.ghost import Ghost
from rushweed.ui.stations.weave.held import DRAWING, TOOLS, Held, Tool
from rushweed.ui.stations.weave.parts import Parts
from rushweed.ui.stations.weave.picking import Picking
from rushweed.ui.stations.weave.strokes import Strokes
from rushweed.ui.stations.weave.things import Things

COMMAND_OF: dict[Tool, str] = {
    "Brush": "weave.draw",
    "Line": "weave.line",
    "Box": "weave.box",
    "Fill": "weave.fill",
    "Erase": "weave.erase",
    "Pick up": "weave.pick_up",
    "Select": "weave.select",
    "Props": "weave.props",
    "Mark": "weave.mark",
    "Measure": "weave.measure",
    "Start": "weave.start",
}


def tool_chips(commands: Commands) -> Chips[Tool]:
    """One button for each tool."""
    tips = [commands.tip(COMMAND_OF[tool]) for tool in TOOLS]
    return Chips({tool: say(tool) for tool in TOOLS}, tool=True, tips=tips, name=say("Tool"))


KEEPS_THE_PART: tuple[Tool, ...] = ("Select", "Fill", "Props")
"""Tools that have to do with the part that is selected; any other forgets it."""


class LevelHand:
    """One for the station. `on_taken` is told that another tool is in it, `on_sheet` of what sheet
    the tile is that was picked up."""

    def __init__(self, services: Services, canvas: Canvas) -> None:
        self._desk, self._canvas = services.desk, canvas
        self.held = Held()
        self.on_taken: Callable[[], None] = lambda: None
        self.on_sheet: Callable[[str], None] = lambda sheet: None
        self.picking = Picking(self._desk, self.held, self.take)
        self.parts = Parts(self._desk, canvas, self.held)
        self.strokes = Strokes(self._desk, services.beside, canvas, self.held)
        self.strokes.within = lambda: self.parts.area if self.parts.area.area else None
        self.ghost = Ghost(services, canvas, self.held, self.strokes, self.level)
        self.things = Things(self._desk, canvas, self.picking.piece)
        self.chips = tool_chips(services.commands)
        self.chips.entered.connect(self.take)
        self.chips.show_value(self.held.tool)
        self._bind(services)

    def level(self) -> Level | None:
        """The open level."""
        name = self._desk.selection.level
        return self._desk.project.level(name) if name else None

    def take(self, tool: Tool) -> None:
        """Take a tool."""
        self.held.tool = tool
        self.held.places_tiles = tool == "Props"
        self.chips.show_value(tool)
        self.on_taken()
        if tool not in KEEPS_THE_PART:
            self.parts.forget()
        self.things.leave_path()
        self._canvas.update()

    def press(self, press: Pointer) -> Stroke | None:
        """The button goes down over the canvas."""
        level = self.level()
        if level is None:
            return None
        self.picking.take_selected()
        tool = self.held.tool
        if press.erases and tool in DRAWING:
            return self.strokes.press(press, level)
        if tool == "Props":
            return self.things.press_prop(press, level)
        if press.button == 2 or tool == "Pick up":
            self._pick_up(level, self.strokes.cell(press.place))
        elif tool == "Start":
            self._set_start(level, self.strokes.cell(press.place))
        elif tool == "Mark":
            self.things.press_mark(press, level)
        elif tool == "Measure":
            return self.things.measure(press)
        elif tool == "Select":
            return self.parts.press(press, level)
        else:
            return self.strokes.press(press, level)
        return None

    def paint(self, painter: QPainter, level: Level) -> None:
        """Paint what is selected, what stands freely, and what a click would do."""
        self.parts.paint(painter)
        self.things.paint(painter, level, self.held.tool in ("Props", "Measure"))
        self.ghost.paint(painter)

    def keep_patch(self) -> str:
        """Save the selected part as a patch. Returns its name, empty for none."""
        level = self.level()
        return self.parts.keep_as_patch(level, "") if level else ""

    def take_part(self) -> None:
        """Draw with the selected part from now on."""
        level = self.level()
        brush = self.parts.as_brush(level) if level else None
        if brush is not None:
            self.take("Brush")
            self.picking.take_brush(brush)

    def clear_part(self) -> None:
        """Rub out the selected part."""
        self._on_level(self.parts.clear)

    def leave(self) -> None:
        """Leave the path that is being drawn; else forget the selected part."""
        if not self.things.leave_path():
            self.parts.forget()

    def _bind(self, services: Services) -> None:
        commands = services.commands
        for tool, name in COMMAND_OF.items():
            commands.bind(name, partial(self.take, tool))
        for name, act in (
            ("repeat", partial(self._on_level, self.strokes.repeat)),
            ("under", partial(self._on_level, self.strokes.fill_under)),
            ("fitting", self.ghost.go_to_fitting),
            ("copy_part", self.take_part),
            ("end", partial(self._on_level, self._end_path)),
            ("leave", self.leave),
        ):
            commands.bind(f"weave.{name}", act)
        commands.bind_stepped("props.nudge", self._nudge)

    def _on_level(self, act: Callable[[Level], object]) -> None:
        level = self.level()
        if level is not None:
            act(level)

    def _nudge(self, way: int) -> None:
        self._on_level(lambda level: self.things.nudge(level, *STEPS[way]))

    def _end_path(self, level: Level) -> None:
        if self.things.path is not None:
            self.things.end_path(level)

    def _pick_up(self, level: Level, cell: Key) -> None:
        sheet = self.picking.pick_up(level, cell)
        if sheet:
            self.on_sheet(sheet)

    def _set_start(self, level: Level, cell: Key) -> None:
        width, height = self._desk.project.rules.tile
        start = Point(cell[0] * width + width // 2, (cell[1] + 1) * height)
        self._desk.do(
            say("Put the walker's start in {level}", level=level.name),
            lambda p: set_start(p, level.name, start),
        )
