"""What is picked in the tray, on the shelf or in the level comes into the hand, and with it the
tool that it asks for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from rushweed.core.cut.rules_from_art import follow_brush
from rushweed.core.project.cells import Key
from rushweed.core.project.level import Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.values import Rect
from rushweed.core.weave.painting import Brush, pick, single
from rushweed.core.words import say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.rack_of_levels import begin_level
from rushweed.ui.stations.weave.held import PAINTING, Held, Tool


class Picking:
    """Takes brushes in hand. `take` takes a tool, `on_rule` is called when a brush made the rule of
    how large cells are, `on_picked` when one is in hand."""

    def __init__(self, desk: Desk, held: Held, take: Callable[[Tool], None]) -> None:
        self._desk, self._held, self._take = desk, held, take
        self.on_rule: Callable[[], None] = lambda: None
        self.on_picked: Callable[[], None] = lambda: None

    def pieces(self) -> list[int]:
        """The pieces in hand."""
        return sorted(self._held.brush.numbers()) if self._held.brush else []

    def piece(self) -> int:
        """The one that is placed as a prop; 0 for none."""
        return next(iter(self.pieces()), 0)

    def take_thing(self, brush: Brush) -> None:
        """Take something in hand that is put down as a prop, be it as large as a tile."""
        self.take_brush(brush, "Props")

    def take_brush(self, brush: Brush, tool: Tool | None = None) -> None:
        """Take a brush in hand, with a tool or the one that it asks for; where there is no level
        yet, begin one."""
        if not self._desk.selection.level:
            begin_level(self._desk)
        self._held.brush, self._held.hem = brush, ""
        self._follow(brush)
        tool, places_tiles = tool or self._tool_for(brush), self._held.places_tiles
        self._take(tool)
        self._held.places_tiles = places_tiles and tool == "Props"
        chosen = frozenset(brush.numbers())
        self._desk.select(replace(self._desk.selection, pieces=chosen))
        self.on_picked()

    def take_selected(self) -> None:
        """Take the piece that is selected in hand, where nothing is and the tool is for it."""
        pieces = self._desk.selection.pieces
        if self._held.brush is None and not self._held.hem and len(pieces) == 1:
            brush = single(*pieces)
            if self._desk.project.find(*pieces) and self._tool_for(brush) == self._held.tool:
                self.take_brush(brush)

    def pick_up(self, level: Level, cell: Key) -> str:
        """Take the tile that lies there, from the active layer first, then from the front. Returns
        the name of its sheet, empty for none."""
        layers = list(level.layers)
        for layer in (layers[self._desk.selection.layer], *reversed(layers)):
            if layer.visible and layer.cells.at(*cell)[0]:
                self.take_brush(pick(layer.cells, Rect(*cell, 1, 1)))
                found = self._desk.project.find(self.piece())
                return found[0].name if found else ""
        return ""

    def _tool_for(self, brush: Brush) -> Tool:
        """The tool for what was picked: figures and things are props, tiles are painted; but
        whoever places tiles as props goes on with that."""
        tool, project = self._held.tool, self._desk.project
        numbers = brush.numbers()
        found = in_levels(project).find(next(iter(numbers))) if len(numbers) == 1 else None
        is_tile = found is None or found[0].kind == "tileset"
        if not (is_tile or (found and found[1].rect.size == project.rules.tile)):
            return "Props"
        if tool == "Props":
            return "Props" if self._held.places_tiles else "Brush"
        return tool if tool in PAINTING else "Brush"

    def _follow(self, brush: Brush) -> None:
        """The first tile one paints with says how large cells are, if nobody did."""
        numbers = sorted(brush.numbers())
        project = self._desk.project
        if numbers and follow_brush(project, numbers[0]) is not project:
            words = say("Made the brush's tiles the rule")
            self._desk.do(words, lambda p: follow_brush(p, numbers[0]))
            self.on_rule()
