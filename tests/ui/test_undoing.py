"""Whatever is done in the window is undone to the same project, done again, and saved."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QFontMetrics

from rushweed.core.project import files
from rushweed.core.values import Size
from rushweed.core.weave.painting import Brush
from rushweed.ui.look.fonts import CAPTION, font
from tests.driving import LEFT, Driver, type_into
from tests.hands import QTest
from tests.ui.test_stations import select

SHEETS = ("keeper", "heron", "fen_ground", "landing")


class Visitor:
    """Somebody who does this and that at the stations, by chance but always the same way."""

    def __init__(self, drive: Driver, seed: int) -> None:
        self.drive = drive
        self.dice = random.Random(seed)
        self.acts: tuple[Callable[[], None], ...] = (
            self.credit,
            self.clear_a_colour,
            self.lay_out,
            self.move_an_edge,
            self.draw_a_piece,
            self.correct,
            self.name_all,
            self.gauge,
            self.place_a_pivot,
            self.decide_shapes,
            self.draw_a_shape,
            self.paint,
            self.fill,
            self.set_the_walker,
            self.set_the_recipe,
            self.draw_with_other_tools,
            self.move_a_part,
            self.place_props,
            self.order_the_layers,
            self.put_rows_in,
            self.make_a_hem,
            self.paint_facts,
            self.recolour_a_sheet,
            self.let_it_move,
        )

    def choose(self, many: int) -> None:
        """Select some pieces of some sheet."""
        sheet = self.dice.choice(SHEETS)
        count = len(self.drive.project.sheet(sheet).pieces)
        places = self.dice.sample(range(count), min(many, count))
        select(self.drive, sheet, *places)
        self.drive.qtbot.wait(2)

    def some_drag(self) -> None:
        """Drag over the middle of what is on the table."""
        content = self.drive.canvas.content
        spots = [
            (
                content.x + self.dice.randrange(1, content.width),
                content.y + self.dice.randrange(1, content.height),
            )
            for _ in range(3)
        ]
        self.drive.drag(*spots)

    def credit(self) -> None:
        self.drive.station(1)
        self.choose(0)
        field = self.drive.at("Gather").licence.fields["author"]
        type_into(field, self.dice.choice(("Mara Sedge", "Ute Rohr", "Jon Eel")))

    def clear_a_colour(self) -> None:
        self.drive.station(1)
        self.choose(0)
        type_into(
            self.drive.at("Gather").key.key,
            self.dice.choice(("#ff00ff", "#202030")),
        )
        self.drive.type_number("Tolerance", str(self.dice.randrange(40)))

    def lay_out(self) -> None:
        self.drive.station(2)
        self.choose(0)
        self.drive.press(self.dice.choice(("Layout: Loose pieces", "Layout: Even cells")))

    def move_an_edge(self) -> None:
        self.drive.station(2)
        self.choose(2)
        self.drive.press("Edges")
        self.some_drag()
        self.drive.canvas.setFocus()
        self.drive.key(self.dice.choice((Qt.Key.Key_Left, Qt.Key.Key_Down)))

    def draw_a_piece(self) -> None:
        self.drive.station(2)
        self.choose(0)
        self.drive.press("Draw")
        self.some_drag()

    def correct(self) -> None:
        self.drive.station(2)
        self.choose(2)
        self.drive.press(self.dice.choice(("Join", "Trim", "Grow", "One size", "Leave out")))

    def name_all(self) -> None:
        self.drive.station(2)
        self.choose(0)
        self.drive.press("Name all")

    def gauge(self) -> None:
        self.drive.station(3)
        self.drive.window.router.turn_face(0)
        self.choose(0)
        self.drive.type_number("Pixels per unit", str(self.dice.choice((8, 16, 32))))
        self.drive.window.router.turn_face(2)
        self.drive.press(self.dice.choice(("Filtering: Linear", "Filtering: Nearest")))

    def place_a_pivot(self) -> None:
        self.drive.station(3)
        self.drive.window.router.turn_face(1)
        self.choose(3)
        self.drive.type_number("Pivot across", str(self.dice.randrange(16)))

    def decide_shapes(self) -> None:
        self.drive.station(4)
        self.choose(3)
        self.drive.press(
            self.dice.choice(("Slope up", "Full", "Outline", "Mirror", "Nothing solid"))
        )

    def draw_a_shape(self) -> None:
        self.drive.station(4)
        self.choose(1)
        self.drive.press("Box")
        self.some_drag()

    def paint(self) -> None:
        self.take_a_tile("Tool: Brush")
        self.some_drag()

    def fill(self) -> None:
        self.take_a_tile("Tool: Fill")
        self.drive.click(self.dice.randrange(200), self.dice.randrange(100))

    def take_a_tile(self, tool: str) -> None:
        self.drive.station(5)
        station = self.drive.at("Weave")
        station.slip.tray.choose("fen_ground")
        tile = self.dice.choice(self.drive.project.sheet("fen_ground").pieces)
        place = station.slip.tray.tray.place_of(tile.number).center().toPoint()
        QTest.mouseClick(station.slip.tray.tray, LEFT, pos=place)
        self.drive.press(tool)

    def draw_with_other_tools(self) -> None:
        for tool in ("Line", "Box", "Erase"):
            self.take_a_tile(f"Tool: {tool}")
            self.some_drag()

    def move_a_part(self) -> None:
        self.take_a_tile("Tool: Select")
        weave = self.drive.at("Weave")
        self.some_drag()
        area = weave.hand.parts.area
        spot = (area.x * 16 + 8, area.y * 16 + 8)
        self.drive.drag(spot, (spot[0] + 40, spot[1] + 24))
        weave.hand.keep_patch()

    def place_props(self) -> None:
        self.take_a_tile("Tool: Props")
        self.drive.window.desk.select(
            replace(self.drive.window.desk.selection, level="Long boardwalk", layer=9)
        )
        spot = self.dice.randrange(200, 400), self.dice.randrange(20, 60)
        self.drive.click(*spot)
        for name in ("Duplicate", "Flip", "Turn", "To back"):
            self.drive.press(name)
        self.drive.press("Scatter")

    def order_the_layers(self) -> None:
        self.drive.station(5)
        for name in ("Add", "Forward", "Back"):
            self.drive.press(name)
        self.drive.type_number("Opacity", str(self.dice.randrange(10, 90)))

    def put_rows_in(self) -> None:
        self.take_a_tile("Tool: Select")
        self.drive.drag((50, 40), (100, 70))
        self.drive.press(self.dice.choice(("Rows", "Columns")))

    def make_a_hem(self) -> None:
        self.drive.station(5)
        weave = self.drive.at("Weave")
        pieces = self.drive.project.sheet("fen_ground").pieces[:6]
        weave.hand.picking.take_brush(Brush((tuple((piece.number, 0) for piece in pieces),)))
        weave.slip.hems._make()
        self.drive.press("Tool: Box")
        self.some_drag()

    def paint_facts(self) -> None:
        self.drive.station(4)
        self.choose(0)
        self.drive.window.router.turn_face(1)
        self.drive.press(self.dice.choice(("Fact: Cover", "Fact: Reach", "Fact: Entry")))
        self.some_drag()
        self.drive.window.router.turn_face(0)

    def recolour_a_sheet(self) -> None:
        self.drive.station(4)
        self.choose(0)
        self.drive.window.router.turn_face(3)
        self.drive.press("Make a recoloured sheet")
        self.drive.window.router.turn_face(0)

    def let_it_move(self) -> None:
        self.drive.station(4)
        self.choose(1)
        self.drive.choose("What it does", self.dice.choice(("Falls", "Can be pushed")))

    def set_the_walker(self) -> None:
        self.drive.station(6)
        self.drive.type_number("Jump", str(self.dice.randrange(1, 5)))

    def set_the_recipe(self) -> None:
        self.drive.station(7)
        self.drive.press(self.dice.choice(("Axis: y up", "Axis: y down")))

    def set_the_look(self) -> None:
        self.drive.station(3)
        self.drive.window.router.turn_face(2)
        self.drive.type_number("Padding", str(self.dice.randrange(5)))
        self.drive.press(self.dice.choice(("Filtering: Linear", "Width and height: Of four")))


@pytest.mark.parametrize("seed", range(3))
def test_all_that_was_done_is_undone_done_again_and_saved(
    open_window, demo: Path, seed: int
) -> None:
    drive = open_window(demo)
    visitor, began = Visitor(drive, seed), drive.project
    acts = [*visitor.acts]
    visitor.dice.shuffle(acts)
    for act in acts:
        act()
    ended = drive.project
    assert ended != began
    drive.window.menus.actions["project.save"].trigger()
    assert not drive.window.desk.unsaved and files.load(demo) == ended
    steps = drive.undo_all()
    assert steps >= 10 and drive.project is began, "undo gives back the very same project"
    for _ in range(steps):
        drive.window.menus.actions["edit.redo"].trigger()
    assert drive.project is ended and not drive.window.desk.unsaved
    drive.window.menus.actions["edit.undo"].trigger()
    assert drive.window.desk.unsaved, "what is undone differs from what is on disk"


class Layouts(QObject):
    """Counts how often the window is laid out anew."""

    count = 0

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        self.count += event is not None and event.type() == QEvent.Type.LayoutRequest
        return False


def test_moving_the_pointer_and_dragging_an_edge_lay_out_nothing_anew(
    open_window, demo: Path
) -> None:
    drive = open_window(demo)
    drive.station(2)
    select(drive, "keeper", 0)
    drive.press("Edges")
    drive.drag((18, 12), (17, 12))
    drive.qtbot.wait(400)
    layouts = Layouts()
    drive.window.installEventFilter(layouts)
    before = drive.project
    drive.drag((20, 12), (21, 12), (22, 12), (70, 60), (23, 12))
    drive.window.removeEventFilter(layouts)
    assert drive.project is not before and layouts.count == 0


def test_a_long_strip_follows_after_a_pause(open_window, demo: Path) -> None:
    drive = open_window(demo)
    drive.station(2)
    select(drive, "fen_ground")
    for size in ("4", "4"):
        drive.type_number("Cell across", size)
        drive.type_number("Cell down", size)
    many = drive.project.sheet("fen_ground").pieces
    assert len(many) > 400
    drive.qtbot.wait(200)
    drive.window.desk.select(drive.window.desk.selection)
    select(drive, "fen_ground", 500)
    drive.press("Leave out")
    last = drive.project.sheet("fen_ground").pieces[-1].number
    drive.wait_for(lambda: len(drive.window.frame.strip._cells) == len(many) - 1)
    assert drive.window.frame.strip.rect_of(last).width() > 0


def test_texts_of_cards_are_whole_and_the_walk_is_as_large_as_it_can_be(
    open_window, demo: Path
) -> None:
    drive = open_window(demo)
    cards = drive.at("Gather")._cards
    metrics = QFontMetrics(font(CAPTION))
    for card in cards._cards:
        assert all(metrics.horizontalAdvance(s) < card.whole.width() for s in card.sentences)
    drive.station(6)
    stage = drive.at("Walk").stage
    picture, whole = stage.picture_rect(), Size(stage.width(), stage.height())
    assert stage.factor == 3 and picture.left() >= 6 and picture.right() <= whole.width - 6
    assert stage.rect().contains(picture)
