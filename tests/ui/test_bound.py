"""Bound's faces in the window: facts painted, circles, corners typed, paths, carrying, colours."""

from __future__ import annotations

from dataclasses import replace
from itertools import product
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt

from rushweed.core.bound.collision_layers import meets
from rushweed.core.bound.shaping import set_shapes
from rushweed.core.project.facts import SIDES, Current, Note
from rushweed.core.project.project import with_pieces, with_sheet
from rushweed.core.project.shape import Circle
from rushweed.core.values import Point
from rushweed.ui.stations.bound.collision_groups import MeetingGrid
from tests.hands import CONTROL, LEFT, RIGHT, QTest, drag_over
from tests.ui.test_stations import select, words


@pytest.fixture
def drive(open_window, demo: Path):
    made = open_window(demo)
    made.station(4)
    return made


def tile(drive, name: str, sheet: str = "fen_ground"):
    return next(p for p in drive.project.sheet(sheet).pieces if p.name == name)


def middle(piece, x: float = 0.5, y: float = 0.5) -> tuple[float, float]:
    rect = piece.rect
    return rect.x + rect.width * x, rect.y + rect.height * y


def test_facts_are_painted_taken_stepped_and_seen(drive) -> None:
    select(drive, "fen_ground")
    drive.window.router.turn_face(1)
    drive.qtbot.wait(5)
    before = drive.project
    row = [tile(drive, name) for name in ("bank_left", "bank_top", "bank_top_shell")]
    drive.press("Fact: Cover")
    drive.type_number("Amount", "2")
    plain = drive.colour_at(*middle(row[1], y=0.3))
    drive.drag(middle(row[0]), middle(row[2]))  # so fast that one is leapt over
    assert [tile(drive, p.name).facts.cover for p in row] == [2, 2, 2]
    assert words(drive) == "Painted cover"
    assert drive.colour_at(*middle(row[1], y=0.3)) != plain, "its overlay is there at once"
    QTest.mouseClick(drive.canvas, RIGHT, pos=drive.spot(*middle(row[1])))
    assert tile(drive, "bank_top").facts.cover == 0
    drive.press("Fact: Entry")
    drive.click(*middle(row[1], y=0.1))
    assert "above" not in tile(drive, "bank_top").facts.entry
    drive.key(Qt.Key.Key_Right)
    assert drive.window.desk.selection.pieces == {row[2].number}, "arrows step"
    QTest.keyClick(drive.canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert tile(drive, "bank_top_shell").facts.entry == ("right", "above", "below")
    drive.press("Take it off")
    assert tile(drive, "bank_top_shell").facts.entry == SIDES
    assert drive.undo_all() == 5 and drive.project is before


def test_nothing_solid_decides_the_rest_of_a_sheet(drive) -> None:
    select(drive, "fen_ground")
    bare = replace(tile(drive, "bank_top"), shapes=None)
    drive.window.desk.do(
        "Forgot", lambda p: with_pieces(p, frozenset({bare.number}), lambda piece: bare)
    )
    others = {p.number: p.shapes for p in drive.project.sheet("fen_ground").pieces}
    drive.press("Nothing solid")
    now = {p.number: p.shapes for p in drive.project.sheet("fen_ground").pieces}
    assert now == others | {bare.number: ()}, "what was decided stays"
    drive.press("Nothing solid")
    assert "decided about" in drive.window.frame.notice.text


def test_ladders_water_and_currents_are_painted_and_told(drive) -> None:
    select(drive, "fen_ground")
    drive.window.router.turn_face(1)
    boulder, bank = tile(drive, "boulder"), tile(drive, "bank_top")
    drive.press("Fact: Ways")
    plain = drive.colour_at(*middle(boulder))
    drive.click(*middle(boulder))
    assert tile(drive, "boulder").facts.moves == "climbs"
    assert drive.colour_at(*middle(boulder)) != plain
    drive.press("One gets on: Swims")
    drive.type_number("Carries to the right", "-1.5")
    drive.type_number("Carries down", "0.5")
    drive.click(*middle(bank))
    facts = tile(drive, "bank_top").facts
    assert (facts.moves, facts.current) == ("swims", Current(-1.5, 0.5))
    told = drive.at("Bound", 1).told.result.text()
    assert told == "ground 1, one swims in it, carries -1.5, 0.5 units/s"
    drive.press("Take it off")
    assert tile(drive, "bank_top").facts == bank.facts


def test_kinds_of_ground_are_named_numbered_and_painted(drive) -> None:
    select(drive, "fen_ground")
    drive.window.router.turn_face(1)
    face = drive.at("Bound", 1)
    drive.press("Fact: Ground")
    drive.press("Add a kind")
    drive.type_text("Name of the kind", "quicksand")
    drive.type_number("Number", "4711")
    boulder = tile(drive, "boulder")
    drive.click(*middle(boulder))
    assert tile(drive, "boulder").facts.ground == 4711
    drive.type_number("Number", "3")
    assert "has the number 3" in drive.window.frame.notice.text
    drive.type_text("Colour", "mauve")
    assert "not a colour" in drive.window.frame.notice.text
    drive.press("Take away")
    assert tile(drive, "boulder").facts.ground is None
    drive.press("Fact: Notes")
    drive.click(*middle(boulder))
    assert (
        "needs a key" in drive.window.frame.notice.text and not tile(drive, "boulder").facts.notes
    )
    QTest.keyClicks(face.note.key, "sound")
    QTest.keyClicks(face.note.value, "thud")
    drive.click(*middle(boulder))
    assert tile(drive, "boulder").facts.notes == (Note("sound", "thud"),)
    assert face.told.result.text().endswith("sound thud")


def test_a_block_stands_on_its_foot_in_one_act(drive) -> None:
    names = [p.name for p in drive.project.sheet("fen_above").pieces]
    select(drive, "fen_above", names.index("turf"), names.index("pool_nw"))
    drive.window.router.turn_face(1)
    drive.press("Stands on its foot")
    assert tile(drive, "turf", "fen_above").facts.cover == 1
    assert (
        tile(drive, "pool_nw", "fen_above").shapes and words(drive) == "Stood 2 tiles on its foot"
    )


def test_colours_are_turned_swapped_and_follow_as_one_step(drive) -> None:
    select(drive, "crab")
    drive.window.router.turn_face(3)
    drive.press("Make a recoloured sheet")
    face = drive.at("Bound", 3)
    steps = drive.window.desk.history
    slider = face.sliders["hue"]
    drag_over(slider, *(QPoint(int(slider.place_of(hue)), 11) for hue in (60, 120)))
    how = drive.project.sheet("crab recoloured").recoloured
    assert how is not None and abs(how.hue - 120) < 5
    assert drive.window.desk.history.earlier is steps, "one step of undo"
    QTest.mouseClick(face.palette, LEFT, pos=face.palette.place_of(1).center().toPoint())
    drive.type_text("The colour in its place", "#112233")
    how = drive.project.sheet("crab recoloured").recoloured
    assert how is not None and len(how.swaps) == 1 and how.swaps[0][1].hex == "#112233"
    drive.type_text("The colour in its place", "teal")
    assert "not a colour" in drive.window.frame.notice.text


def test_circles_typed_corners_paths_and_snapping(drive) -> None:
    select(drive, "landing")
    drive.qtbot.wait(5)
    bottle = tile(drive, "float", "landing")
    rect = bottle.rect
    drive.canvas.centre_on(rect, 12)
    QTest.keyClick(drive.canvas, Qt.Key.Key_O)
    drive.drag((rect.x + 1, rect.y + 2), (rect.x + 7, rect.y + 10))
    [shape] = tile(drive, "float", "landing").shapes
    assert shape.form == Circle(4, 5, 3), "from corner to corner, as a box is"
    select(drive, "landing", 2)
    drive.press("Circle", drive.at("Bound").found)
    assert isinstance(tile(drive, "float", "landing").shapes[0].form, Circle)
    QTest.keyClick(drive.canvas, Qt.Key.Key_1)
    drive.type_number("Corner x", "1.5")
    assert tile(drive, "float", "landing").shapes[0].form.corners[0] == Point(1.5, 0)
    drive.choose("What it does", "Travels along a path")
    drive.at("Bound").shape_tools.take("path")
    drive.click(rect.x + 20, rect.y + 5)
    drive.click(rect.x + 20, rect.y - 5)
    QTest.keyClick(drive.canvas, Qt.Key.Key_Return)
    moved = tile(drive, "float", "landing")
    stands = moved.standing
    assert moved.body.path.points == (
        Point(20 - stands.x, 5 - stands.y), Point(20 - stands.x, -5 - stands.y)
    )  # fmt: skip
    drive.type_number("One way in", "1.5")
    assert tile(drive, "float", "landing").body.path.seconds == 1.5
    lens = drive.window.frame.lens.picture
    first = lens.grab().toImage()
    drive.qtbot.wait(300)
    assert lens.grab().toImage() != first, "the lens shows it travel"


def test_shapes_and_facts_are_carried_from_a_sheet_that_resembles_it(drive) -> None:
    select(drive, "fen_ground")
    drive.window.router.turn_face(3)
    drive.press("Make a recoloured sheet")
    drive.window.router.turn_face(0)
    name = "fen_ground recoloured"
    select(drive, name, *range(63))
    drive.press("Nothing solid")
    carry = drive.at("Bound").carry
    drive.choose("Sheet to carry from", "fen_ground")
    before = drive.project
    assert "recoloured" in carry.result.text()
    assert "bank_top: nothing solid, ground 1 → 1 shape" in carry._pairs.accessibleDescription()
    assert drive.project is before, "it is listed before it is done"
    drive.press("Carry over")
    bank = tile(drive, "bank_top", name)
    assert bank.shapes == tile(drive, "bank_top").shapes and bank.facts.ground == 1
    drive.drag((0, 0), (1, 1), held=CONTROL)


def test_repeat_shows_a_tile_as_a_level_uses_it_and_the_worst_pairs(drive) -> None:
    place = [p.name for p in drive.project.sheet("fen_ground").pieces].index("mud")
    select(drive, "fen_ground", place)
    drive.window.router.turn_face(2)
    repeat = drive.at("Bound", 2)
    alone = repeat.table.grab().toImage()
    drive.press("As a level uses it")
    assert repeat.table.grab().toImage() != alone
    drive.press("Worst pairs")
    gaps = [pair.gap for pair in repeat._worst.pairs]
    assert gaps and gaps == sorted(gaps, reverse=True)
    QTest.mouseClick(repeat._worst, LEFT, pos=repeat._worst.place_of(0).center().toPoint())
    first = repeat._worst.pairs[0].first[0]
    assert drive.window.desk.selection.pieces == {first}


def test_a_polygon_begun_on_a_shared_corner_goes_into_its_tile(drive) -> None:
    desk, before = drive.window.desk, drive.project.sheet("fen_above").pieces
    desk.select(replace(desk.selection, sheets=("fen_above",), pieces=frozenset()))
    drive.station(4)
    drive.press("Polygon")
    for scale, down, across in product((1 / 3, 1, 4), (-1, 1), (-1, 1)):
        drive.canvas.zoom_to(scale)
        for x, y in ((0, 0), (15, 1), (14, 15)):
            drive.click(48 + across * x, 48 + down * y)
        drive.key(Qt.Key.Key_Return)
        (piece,) = [p for p in drive.project.sheet("fen_above").pieces if p not in before]
        left, top = 48 if across > 0 else 32, 48 if down > 0 else 32
        assert (piece.rect.x, piece.rect.y) == (left, top)
        (shape,) = piece.shapes or ()
        corners = set(shape.form.corners)
        assert Point(0 if across > 0 else 16, 0 if down > 0 else 16) in corners
        if scale < 4:
            assert {value for corner in corners for value in corner} <= {0, 16}, "edges draw near"
        drive.undo_all()


def test_a_whole_sheet_gets_its_shapes_and_doubts_are_a_click(drive) -> None:
    drive.station(4)
    select(drive, "fen_ground")
    pieces = lambda: drive.project.sheet("fen_ground").pieces  # noqa: E731
    numbers = frozenset(piece.number for piece in pieces())
    kept = pieces()[0].shapes
    drive.window.desk.do("Undecided", lambda p: set_shapes(p, numbers - {pieces()[0].number}, None))
    before = drive.project
    drive.press("Shapes for the sheet")
    assert all(piece.shapes is not None for piece in pieces()) and pieces()[0].shapes == kept
    assert "in doubt" in drive.at("Bound").sheet_shapes.result.text()
    drive.press("Next in doubt")
    [number] = drive.window.desk.selection.pieces
    given = drive.project.find(number)[1]
    badge = drive.canvas.view.to_screen(given.rect.right, given.rect.y)
    at = QPoint(round(badge.x) - 8, round(badge.y) + 8)
    QTest.mouseClick(drive.canvas, LEFT, pos=at)
    assert drive.project.find(number)[1].shapes != given.shapes
    QTest.mouseClick(drive.canvas, LEFT, pos=at)
    assert drive.project.find(number)[1].shapes == given.shapes, "and back"
    drive.press("The other way")
    assert drive.project.find(number)[1].shapes != given.shapes
    for _ in range(4):
        drive.window.menus.actions["edit.undo"].trigger()
    assert drive.project.sheets == before.sheets
    desk = drive.window.desk
    uncut = lambda sheet: replace(sheet, pieces=(), animations=())  # noqa: E731
    desk.do("Joined", lambda p: with_sheet(p, "keeper", uncut))
    desk.select(replace(desk.selection, sheets=("fen_ground", "keeper")))
    drive.press("Shapes for the sheet")
    assert desk.history.words == "Gave fen_ground shapes", "and nothing to one that is not cut"


def test_collision_layers_are_named_kept_apart_and_given(drive) -> None:
    names = [p.name for p in drive.project.sheet("fen_ground").pieces]
    select(drive, "fen_ground", names.index("bank_top"))
    before = drive.project
    drive.press("Who it stops: More")
    for name in ("walls", "mist"):
        drive.press("Add a layer")
        drive.type_text("Name of the layer", name)
    assert [(one.number, one.name) for one in drive.project.rules.collision] == [
        (0, "walls"),
        (1, "mist"),
    ]
    grid = drive.window.findChild(MeetingGrid)
    QTest.mouseClick(grid, LEFT, pos=grid.cell_rect(0, 1).center().toPoint())
    assert not meets(drive.project, 0, 1) and words(drive) == "Kept walls and mist apart"
    QTest.mouseClick(grid, LEFT, pos=QPoint(20, int(grid.cell_rect(1, 0).center().y())))
    drive.type_number("Number of the layer", "0")
    assert "has the number 0" in drive.window.frame.notice.text
    drive.type_number("Number of the layer", "12")
    assert not meets(drive.project, 0, 12)
    drive.choose("Collision layer", "12  mist")
    assert {s.layer for s in tile(drive, "bank_top").shapes} == {12}
    drive.press("Who it stops: Sensor")
    drive.type_text("What the sensor tells", "soft ground")
    [shape] = tile(drive, "bank_top").shapes
    assert (shape.stops, shape.layer, shape.note) == ("sensor", 12, "soft ground")
    drive.assert_slip_fits()
    drive.press("Take it away")
    assert {s.layer for s in tile(drive, "bank_top").shapes} == {0}
    drive.undo_all()
    assert drive.project is before
