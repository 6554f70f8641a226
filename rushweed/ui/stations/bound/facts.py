"""The Facts face: facts painted onto the tiles with a brush, one at a time or all to be seen."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from itertools import zip_longest

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.fact_brush import FactBrush, FactName, nearest_side, piece_beside
from rushweed.core.bound.facts import stand_on_foot, told
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.facts import Facts, Note, Side
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Refusal
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.fact_marks import draw_facts, draw_kerb
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.commands import listed
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.listed import STEPS
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Check, Chips, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import BarredTable, tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.bound.ground_kinds import GroundKinds, NoteFields
from rushweed.ui.stations.bound.way_fields import WayFields
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

FACTS: dict[FactName, str] = {
    "entry": "Entry",
    "cover": "Cover",
    "wade": "Wade",
    "reach": "Reach",
    "ground": "Ground",
    "moves": "Ways",
    "notes": "Notes",
}
TIPS = (
    "From which sides one may come in",
    "How many tiles high it is drawn over somebody behind it",
    "How many pixels of somebody's feet it hides",
    "One can act across it, as over a counter",
    "What ground it is, for the game's code",
    "How one gets on in it: climbs, swims, is carried",
    "Keys and values of the game's own",
)
HINTS: dict[FactName, str] = {
    "entry": "Click near a side to shut it; the second button opens it.",
    "cover": "Drawn over whoever stands up to so many tiles below; 0 lies flat.",
    "wade": "Hides so many pixels of the feet, as tall grass or shallow water does.",
    "reach": "Somebody on one side can act on what is on the other.",
    "ground": "Paint with the kind that is chosen below.",
    "moves": "On ladders one climbs, in water one swims; a current carries along.",
    "notes": "Paint the note that is written below.",
}
ALL = frozenset(FACTS)
SECOND = 2


class FactsFace(Face):
    """A table with the sheet, tools that choose the fact, and a slip with the brush."""

    name = say("Facts")
    keys = listed.FACTS

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.brush = FactBrush()
        self._amounts: dict[FactName, int] = {"cover": 1, "wade": 4}
        self._canvas = SheetCanvas(services)
        self._canvas.numbers = False
        self._canvas.paint_over = self._paint
        self._canvas.tool = self._press
        self._canvas.setCursor(Qt.CursorShape.CrossCursor)
        self._canvas.hovered.connect(lambda _: self._hover())
        self._pointed: tuple[int, Side] | None = None
        self._commands = services.commands
        self.tools = self._make_tools()
        self.slip = self._make_slip()
        self._bind(services.commands)
        self._take("entry")

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        """Show the sheet and its facts as they are now."""
        self._canvas.refresh()
        self._kinds.refresh()
        if self.brush.fact == "ground" and self._kinds.chosen is not None:
            self.brush = replace(self.brush, amount=self._kinds.chosen)
        pieces = self._canvas.selected_pieces()
        sheet = self._canvas.sheet
        names = ", ".join(shown_name(sheet, piece) for piece in pieces[:3]) if sheet else ""
        self._head.tell(counted(len(pieces), "piece", "pieces"), names)
        facts = {told(piece.facts) for piece in pieces}
        self._is.result.tell(
            say("Select a tile to read its facts.")
            if not pieces
            else (next(iter(facts)) or say("Nothing beyond its shape."))
            if len(facts) == 1
            else say("They differ.")
        )
        with_fact = sum(_has(piece, self.brush.fact) for piece in (sheet.pieces if sheet else ()))
        self._brush.aside.setText(
            say("on {n}", n=counted(with_fact, "piece", "pieces")) if with_fact else ""
        )
        self._foot.setEnabled(bool(pieces))

    # -- what it is made of ------------------------------------------------------------

    def _make_tools(self) -> QWidget:
        self._facts = Chips(said(FACTS), tool=True, tips=self._tips(), name=say("Fact"))
        self._facts.entered.connect(self._take)
        self._all = Check(say("See all"), lambda on: self._canvas.update())
        self.table = BarredTable(self._facts, self._canvas)
        return tools_row(self._all, ZoomChips(self._canvas), spacing=14)

    def _tips(self) -> list[str]:
        keys = self._commands.keys("facts.fact")[: len(TIPS)]
        return [f"{say(tip)}  {key}" for tip, key in zip_longest(TIPS, keys, fillvalue="")]

    def _make_slip(self) -> SlipPage:
        self._head = SelectionHead()
        self._brush = Group(1, say("Brush"))
        self._amount = Stepper(say("Amount"), say("tiles"), 0, 64, width=112)
        self._amount.entered.connect(self._set_amount)
        self._amount_label = label(say("Amount"))
        self._brush.add(row(self._amount_label, None, self._amount))
        give = command_button(self._commands, "facts.give", say("Give to selected"))
        take = command_button(self._commands, "facts.take", say("Take it off"))
        self._brush.add(row(give, take, None))
        self._kinds = GroundKinds(2, self.desk)
        self._kinds.taken.connect(self._take_kind)
        self._ways = WayFields(2)
        self._ways.changed.connect(self._take_ways)
        self._note = NoteFields(2)
        self._note.changed.connect(self._take_note)
        self._tall = Group(3, say("Tall things"))
        self._foot = button(
            say("Stands on its foot"),
            self._stand_on_foot,
            tip=say("The lowest row of the selected block blocks; what is above covers"),
        )
        self._tall.add(row(self._foot, None))
        self._is = Group(4, say("What it is"))
        brushes = [self._brush, self._kinds, self._ways, self._note]
        return SlipPage([*brushes, self._tall, self._is], self._head)

    # -- acts ------------------------------------------------------------------------

    def _take(self, fact: FactName) -> None:
        """Take another fact onto the brush."""
        self._facts.show_value(fact)
        self.brush = replace(self.brush, fact=fact, amount=self._amounts.get(fact, 1))
        counts = fact in ("cover", "wade")
        self._amount.setVisible(counts)
        self._amount_label.setVisible(counts)
        self._amount.unit = say("tiles") if fact == "cover" else say("px")
        self._amount.show_value(self.brush.amount)
        self._amount.update()
        self._amount_label.setText(say("How high") if fact == "cover" else say("How deep"))
        self._brush.result.tell(say(HINTS[fact]))
        self._kinds.setVisible(fact == "ground")
        self._ways.setVisible(fact == "moves")
        self._note.setVisible(fact == "notes")
        self.refresh()
        self._canvas.update()

    def _set_amount(self, value: int) -> None:
        self._amounts[self.brush.fact] = value
        self.brush = replace(self.brush, amount=value)

    def _take_kind(self, number: int) -> None:
        self.brush = replace(self.brush, amount=number)
        self._canvas.update()

    def _take_ways(self) -> None:
        self.brush = replace(self.brush, moves=self._ways.moves, current=self._ways.current)

    def _take_note(self) -> None:
        kind = self._note.kinds.value or "text"
        note = Note(self._note.key.text().strip(), self._note.value.text().strip(), kind)
        self.brush = replace(self.brush, note=note)

    def _press(self, press: Pointer) -> Stroke | None:
        """Drag over tiles to paint the fact, with the second button to take it; with Ctrl or Shift
        tiles are selected."""
        if press.ctrl or press.shift or self._canvas.piece_at(press.place) is None:
            return self._canvas.select_tool(press)
        return self._stroke(press)

    def _stroke(self, press: Pointer) -> Stroke:
        takes = press.button == SECOND
        verb = say("Took {fact} away") if takes else say("Painted {fact}")
        drag = self.desk.drag(verb.format(fact=self._name()))
        event, done = press, set()
        try:
            while True:
                piece = self._canvas.piece_at(event.place)
                if piece is not None:
                    side = nearest_side(piece.rect, event.place)
                    spot = (piece.number, side if self.brush.fact == "entry" else None)
                    if spot not in done:
                        done.add(spot)
                        edit = partial(self._edit, number=piece.number, side=side, takes=takes)
                        drag.further(edit)
                if event.released:
                    drag.end()
                    if len(done) == 1:
                        first = frozenset({number for number, _ in done})
                        self.desk.select(replace(self.desk.selection, pieces=first))
                    return
                event = yield
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
        finally:
            drag.abandon()

    def _edit(self, project: Project, number: int, side: Side, takes: bool) -> Project:
        brush = self.brush
        return (brush.take if takes else brush.paint)(project, number, side)

    def _give(self) -> None:
        self._for_selected(say("Gave {what} {fact}"), takes=False)

    def _take_back(self) -> None:
        self._for_selected(say("Took {fact} from {what}"), takes=True)

    def _for_selected(self, words: str, takes: bool) -> None:
        """The brush on all selected tiles; of entry, all sides at once."""
        numbers = [piece.number for piece in self._canvas.selected_pieces()]
        sides: tuple[Side, ...] = ("left", "right", "above", "below")
        if self.brush.fact != "entry":
            sides = ("above",)

        def edit(project: Project) -> Project:
            for number in numbers:
                for side in sides:
                    project = self._edit(project, number, side, takes)
            return project

        if numbers:
            what = counted(len(numbers), "piece", "pieces")
            self.desk.do(words.format(what=what, fact=self._name()), edit)

    def _stand_on_foot(self) -> None:
        numbers = frozenset(piece.number for piece in self._canvas.selected_pieces())
        words = say("Stood {what} on its foot", what=counted(len(numbers), "tile", "tiles"))
        self.desk.do(words, lambda project: stand_on_foot(project, numbers))

    def _name(self) -> str:
        return say(FACTS[self.brush.fact]).lower()

    def _bind(self, commands: Commands) -> None:
        """Say what the keys of Facts do."""
        commands.bind("facts.give", self._give)
        commands.bind("facts.take", self._take_back)
        commands.bind_stepped("facts.fact", lambda place: self._take(list(FACTS)[place]))
        commands.bind_stepped("facts.step", lambda way: self._step(*STEPS[way]))
        commands.bind_stepped(
            "facts.side",
            lambda way: self._turn_side(*STEPS[way]),
            lambda: self.brush.fact == "entry",
        )
        commands.bind_stepped(
            "facts.amount", lambda down: self._amount.by(-1 if down else 1), self._amount.isVisible
        )

    def _step(self, across: int, down: int) -> None:
        """Go on to the next tile."""
        pieces = self._canvas.selected_pieces()
        sheet = self._canvas.sheet
        if sheet is None or not sheet.pieces:
            return
        there = piece_beside(sheet.pieces, pieces[0], across, down) if pieces else sheet.pieces[0]
        if there is not None:
            chosen = replace(self.desk.selection, pieces=frozenset({there.number}))
            self.desk.select(chosen)

    def _turn_side(self, across: int, down: int) -> None:
        """Shut or open the side of selected tiles that an arrow points at."""
        names: dict[tuple[int, int], Side] = {
            (-1, 0): "left",
            (1, 0): "right",
            (0, -1): "above",
            (0, 1): "below",
        }
        side = names[across, down]
        pieces = self._canvas.selected_pieces()
        shut = bool(pieces) and side in pieces[0].facts.entry

        def edit(project: Project) -> Project:
            for piece in pieces:
                project = self._edit(project, piece.number, side, not shut)
            return project

        if pieces:
            self.desk.do(say("Shut a side") if shut else say("Opened a side"), edit)

    # -- painting -------------------------------------------------------------------

    def _hover(self) -> None:
        """Show which side a click would shut."""
        place = self._canvas.pointer
        piece = self._canvas.piece_at(place) if place is not None else None
        pointed = (piece.number, nearest_side(piece.rect, place)) if piece and place else None
        if pointed != self._pointed:
            self._pointed = pointed
            self._canvas.update()

    def _paint(self, painter: QPainter) -> None:
        shown = ALL if self._all.isChecked() else frozenset({self.brush.fact})
        kinds = {kind.number: kind for kind in self.desk.project.rules.kinds}
        scale = self._canvas.view.scale
        for _, piece in self._canvas.seen_pieces():
            tile = self._canvas.to_screen(piece.rect)
            draw_facts(painter, tile, piece.facts, kinds, shown, scale)
            if self.brush.fact == "entry" and self._pointed and self._pointed[0] == piece.number:
                painter.setOpacity(0.45)
                draw_kerb(painter, QRectF(tile), self._pointed[1])
                painter.setOpacity(1)


def _has(piece: Piece, fact: FactName) -> bool:
    usual = Facts()
    if fact == "moves" and piece.facts.current != usual.current:
        return True
    return bool(getattr(piece.facts, fact) != getattr(usual, fact))
