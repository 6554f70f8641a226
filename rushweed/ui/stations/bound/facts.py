"""The Facts face: facts painted onto the tiles with a brush, one at a time or all to be seen."""

from __future__ import annotations

from dataclasses import replace
from itertools import zip_longest

from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.fact_table import FACTS, FactName, told
from rushweed.core.bound.facts import stand_on_foot
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.sheet import Piece
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands import listed
from rushweed.ui.shell.controls import Check, Chips, button, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import BarredTable, tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.bound.fact_brush_group import FactBrushGroup
from rushweed.ui.stations.bound.fact_painting import FactPainting
from rushweed.ui.stations.bound.ground_kinds import GroundKinds, NoteFields
from rushweed.ui.stations.bound.way_fields import WayFields
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas


class FactsFace(Face):
    """A table with the sheet, tools that choose the fact, and a slip with the brush."""

    name = say("Facts")
    keys = listed.FACTS

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._canvas = SheetCanvas(services)
        self.tools = self._make_tools()
        self.painting = FactPainting(self._canvas, self.sees_all.isChecked)
        self.slip = self._make_slip()
        self._bind()
        self.take("entry")

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        """Show the sheet and its facts as they are now."""
        self._canvas.refresh()
        self._kinds.refresh()
        self._brush.keep_kind(self._kinds.chosen)
        pieces, sheet = self._canvas.selected_pieces(), self._canvas.sheet
        names = ", ".join(shown_name(sheet, piece) for piece in pieces[:3]) if sheet else ""
        self._head.tell(counted(len(pieces), "piece", "pieces"), names)
        self.told.result.tell(_told_of(pieces))
        self._brush.setEnabled(self._canvas.has_pieces())
        self._brush.refresh(sheet.pieces if sheet else ())
        self._foot.setEnabled(bool(pieces))

    # -- what it is made of ------------------------------------------------------------

    def _make_tools(self) -> QWidget:
        keys = self.services.commands.keys("facts.fact")[: len(FACTS)]
        tips = [say(kind.tip) for kind in FACTS.values()]
        tips = [f"{tip}  {key}" for tip, key in zip_longest(tips, keys, fillvalue="")]
        titles = {name: say(kind.title) for name, kind in FACTS.items()}
        self._facts = Chips(titles, tool=True, tips=tips, name=say("Fact"))
        self._facts.entered.connect(self.take)
        self.sees_all = Check(say("See all"), lambda on: self._canvas.update())
        self.table = BarredTable(self._facts, self._canvas)
        return tools_row(self.sees_all, ZoomChips(self._canvas), spacing=14)

    def _make_slip(self) -> SlipPage:
        self._head = SelectionHead()
        self._kinds = GroundKinds(2, self.desk)
        self._ways = WayFields(2)
        self.note = NoteFields(2)
        self._brush = FactBrushGroup(1, self.services.commands, self.painting)
        self._kinds.taken.connect(self._take_kind)
        self._ways.changed.connect(lambda: self._brush.take_ways(self._ways))
        self.note.changed.connect(lambda: self._brush.take_note(self.note))
        tall = Group(3, say("Tall things"))
        self._foot = button(
            say("Stands on its foot"),
            self._stand_on_foot,
            tip=say("The lowest row of the selected block blocks; what is above covers"),
        )
        tall.add(row(self._foot, None))
        self.told = Group(4, say("What it is"))
        brushes = [self._brush, self._kinds, self._ways, self.note]
        return SlipPage([*brushes, tall, self.told], self._head)

    def _bind(self) -> None:
        """Say what the keys of Facts do."""
        commands, painting = self.services.commands, self.painting
        commands.bind("facts.give", painting.give)
        commands.bind("facts.take", painting.take_off)
        commands.bind_stepped("facts.fact", lambda place: self.take(list(FACTS)[place]))
        commands.bind_stepped("facts.step", lambda way: painting.step(*listed.STEPS[way]))
        commands.bind_stepped(
            "facts.side",
            lambda way: painting.turn_side(*listed.STEPS[way]),
            lambda: painting.brush.fact == "entry",
        )
        self._brush.bind(commands)

    # -- acts ------------------------------------------------------------------------

    def take(self, fact: FactName) -> None:
        """Take another fact onto the brush."""
        self._facts.show_value(fact)
        self._brush.take(fact)
        self._kinds.setVisible(fact == "ground")
        self._ways.setVisible(fact == "moves")
        self.note.setVisible(fact == "notes")
        self.refresh()
        self._canvas.update()

    def _take_kind(self, number: int) -> None:
        self.painting.brush = replace(self.painting.brush, amount=number)
        self._canvas.update()

    def _stand_on_foot(self) -> None:
        numbers = frozenset(piece.number for piece in self._canvas.selected_pieces())
        words = say("Stood {what} on its foot", what=counted(len(numbers), "tile", "tiles"))
        self.desk.do(words, lambda project: stand_on_foot(project, numbers))


def _told_of(pieces: list[Piece]) -> str:
    """What the facts of pieces say, where they say the same."""
    if not pieces:
        return say("Select a tile to read its facts.")
    facts = {told(piece.facts) for piece in pieces}
    if len(facts) > 1:
        return say("They differ.")
    return facts.pop() or say("Nothing beyond its shape.")
