"""Journeys of a practised hand, with art that is made here, in no more acts than are said."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit

from rushweed.core.cut.gathering import cut_as, doubtful, see
from rushweed.core.cut.steadying import stance
from rushweed.core.gather.solid import solid
from rushweed.core.gather.sources import set_kind
from rushweed.core.project import files
from rushweed.core.project.body import Body
from rushweed.core.project.body import Path as Way
from rushweed.core.project.facts import Facts
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.shape import Box
from rushweed.core.project.sheet import Animation, EvenCells, LoosePieces, OnePicture, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Size
from rushweed.core.walk.underfoot import wade_at
from rushweed.core.weave.posing import prop_area
from rushweed.ui.selection import Selection
from tests.driving import Driver
from tests.hands import CONTROL, NONE, SHIFT, QTest
from tests.pack import write_pack
from tests.samples import write_picture
from tests.ui.counting import Counting

CELL = 32
Open = Callable[..., Driver]


def frames(rows: int, columns: int, drift: bool = False) -> np.ndarray:
    """Figures in even cells, each a little different; with drift they do not stand still."""
    dice = np.random.default_rng(7)
    picture = np.zeros((rows * CELL, columns * CELL, 4), np.uint8)
    body = dice.integers(30, 230, (20, 10, 3))
    for row in range(rows):
        for column in range(columns):
            across, up = dice.integers(-3, 4, 2) if drift else (0, 0)
            top, left = row * CELL + 8 + int(up), column * CELL + 11 + int(across)
            picture[top : top + 20, left : left + 10, :3] = body
            picture[top : top + 20, left : left + 10, 3] = 255
            picture[top + 6 : top + 9, left + 10 : left + 12 + column % 4] = (220, 180, 90, 255)
    return picture


def cut_sheet(drive: Driver, picture: np.ndarray, folder: Path) -> Sheet:
    """A sheet that is gathered and cut already, before anything is counted."""
    drive.drop(write_picture(folder / "warden.png", picture))
    drive.press("Take it as seen")
    drive.station(2)
    return drive.project.sheet("warden")


def test_an_even_sheet_is_sliced_sized_sharp_and_stands(open_window: Open, tmp_path: Path) -> None:
    drive = open_window()
    drive.drop(write_picture(tmp_path / "warden.png", frames(4, 5)))
    hand = Counting(drive)
    hand.press("Take it as seen")
    hand.station("Gauge")
    hand.number("Pixels per unit", "32")
    sheet = drive.project.sheet("warden")
    look = treatment_of(drive.project, sheet)
    assert len(sheet.pieces) == 20 and look.pixels_per_unit == 32
    assert (look.filter, look.compression.form) == ("nearest", "lossless")
    assert {piece.pivot for piece in sheet.pieces} == {Point(16, 28)}, "where their feet are"
    assert hand.acts <= 3


def test_twenty_frames_are_named_by_rows_and_animated(open_window: Open, tmp_path: Path) -> None:
    drive = open_window()
    assert len(cut_sheet(drive, frames(4, 5), tmp_path).pieces) == 20
    hand = Counting(drive)
    hand.face("Animations")
    hand.write(drive.at("Cut", 1).line.paper, "idle, walk at 10, turn once, rest at 4")
    sheet = drive.project.sheet("warden")
    assert [(a.name, len(a.frames), a.rate, a.play) for a in sheet.animations] == [
        ("idle", 5, 8.0, "loop"),
        ("walk", 5, 10.0, "loop"),
        ("turn", 5, 8.0, "once"),
        ("rest", 5, 4.0, "loop"),
    ]
    assert [piece.name for piece in sheet.pieces[4:7]] == ["idle_5", "walk_1", "walk_2"]
    assert hand.acts <= 2


def test_a_drifting_strip_is_steadied_boxed_and_animated(open_window: Open, tmp_path: Path) -> None:
    drive = open_window()
    assert len(cut_sheet(drive, frames(1, 8, drift=True), tmp_path).pieces) == 8
    hand = Counting(drive)
    hand.face("Animations")
    hand.write(drive.at("Cut", 1).line.paper, "walk 1-4 at 10, turn 5-8 at 6 once")
    assert "walk: feet" in drive.at("Cut", 1).steady.result.text()
    hand.press("Steady all 2")
    hand.press("Common box around: All that is drawn")
    sheet = drive.project.sheet("warden")
    numbers = [piece.number for piece in sheet.pieces]
    assert sheet.animations == (
        Animation("walk", tuple(numbers[:4]), 10.0, "loop"),
        Animation("turn", tuple(numbers[4:]), 6.0, "once"),
    )
    assert len({piece.rect.size for piece in sheet.pieces}) == 1
    mask = solid(drive.window.desk.art.picture(sheet))
    stances = [stance(piece, mask) for piece in sheet.pieces]
    assert len({one.foot for one in stances if one}) == 1
    assert len({one.box.x for one in stances if one}) == 1
    assert hand.acts <= 4


def test_a_line_is_written_for_many_sheets_alike(open_window: Open, tmp_path: Path) -> None:
    drive = open_window()
    paths = [write_picture(tmp_path / f"warden {n}.png", frames(2, 4)) for n in range(3)]
    drive.drop(*paths, write_picture(tmp_path / "watcher.png", frames(1, 4)))
    desk = drive.window.desk
    desk.select(replace(desk.selection, sheets=tuple(one.name for one in drive.project.sheets)))
    drive.press("Take all as seen")
    drive.station(2)
    hand = Counting(drive)
    hand.face("Animations")
    hand.write(drive.at("Cut", 1).line.paper, "idle row 1, walk row 2 at 12")
    *alike, other = drive.project.sheets
    assert all([a.name for a in sheet.animations] == ["idle", "walk"] for sheet in alike)
    assert other.animations == ()
    assert "Not in watcher: There is no row 2" in drive.window.frame.notice.text
    assert hand.acts == 2
    hand.face("Pieces")
    hand.write(drive.at("Cut")._names._pattern, "{sheet} {i:2}")
    for sheet in drive.project.sheets:
        assert [piece.name for piece in sheet.pieces][:2] == [
            f"{sheet.name} 01",
            f"{sheet.name} 02",
        ]
    assert hand.acts == 4


def a_surround(width: int, height: int, colour: int) -> np.ndarray:
    """A button or a frame: corners of their own, sides and middle that repeat."""
    picture = np.full((height, width, 4), 255, np.uint8)
    picture[..., :3] = (colour, 120, 200)
    picture[3:-3, 3:-3, :3] = (230, 220, colour)
    for row in (slice(0, 4), slice(-4, None)):
        for column in (slice(0, 5), slice(-5, None)):
            corner = np.random.default_rng(colour).integers(0, 255, (4, 5, 3))
            picture[row, column, :3] = corner
    return picture


def test_a_button_and_a_frame_get_their_borders(open_window: Open, tmp_path: Path) -> None:
    drive = open_window()
    sizes = {"button": (40, 20), "frame": (64, 48)}
    drive.drop(
        *(write_picture(tmp_path / f"{n}.png", a_surround(*s, len(n))) for n, s in sizes.items())
    )
    desk = drive.window.desk
    for name in sizes:
        desk.do("One", lambda p, n=name: cut_as(p, desk.art, n, OnePicture()))
    desk.select(replace(desk.selection, sheets=tuple(sizes)))
    drive.station(3)
    hand = Counting(drive)
    hand.face("Borders")
    hand.press("Guess")
    for name in sizes:
        (piece,) = drive.project.sheet(name).pieces
        borders = piece.borders
        assert borders is not None
        assert (borders.left, borders.right, borders.top, borders.bottom) == (5, 5, 4, 4)
    assert hand.acts <= 2


def test_loose_pieces_are_joined_parted_and_named(open_window: Open, tmp_path: Path) -> None:
    picture = np.zeros((90, 160, 4), np.uint8)
    dice = np.random.default_rng(3)

    def put(x: int, y: int, wide: int, high: int) -> None:
        picture[y : y + high, x : x + wide, :3] = dice.integers(30, 230, 3)
        picture[y : y + high, x : x + wide, 3] = 255

    for x, y in ((10, 10), (17, 10), (24, 10), (10, 18), (17, 18), (24, 18)):
        put(x, y, 4, 4)  # six bits of one lantern
    put(60, 12, 20, 22)
    put(80, 22, 3, 2)  # a bridge between two that touch
    put(83, 12, 20, 22)
    put(120, 8, 12, 30)
    drive = open_window()
    drive.drop(write_picture(tmp_path / "things.png", picture))
    desk = drive.window.desk
    layout = LoosePieces(distance=1)
    desk.do("Loose", lambda p: cut_as(p, desk.art, "things", layout))
    drive.station(2)
    assert len(drive.project.sheet("things").pieces) == 8
    hand = Counting(drive)
    hand.write(drive.at("Cut")._names._pattern, "thing {i}")
    hand.drag((6, 6), (34, 26))
    hand.key("J")
    hand.click(90, 20)
    hand.key("T")
    names = [piece.name for piece in drive.project.sheet("things").pieces]
    assert sorted(names) == ["thing 1", "thing 4", "thing 4 2", "thing 5"]
    assert hand.acts <= 5


def test_a_pack_of_thirty_is_cut_licensed_and_sized(open_window: Open, tmp_path: Path) -> None:
    paths = [write_picture(tmp_path / f"figure_{n}.png", frames(1 + n % 3, 4)) for n in range(20)]
    for n in range(10):
        paths.append(write_picture(tmp_path / f"button_{n}.png", a_surround(40 + n, 20 + n, 50)))
    drive = open_window()
    drive.drop(*paths)
    hand = Counting(drive)
    hand.press("Take all as seen")
    waiting = [sheet.name for sheet in drive.project.sheets if sheet.layout is None]
    assert set(waiting) <= {f"button_{n}" for n in range(10)}, "what is plain is taken"
    before = hand.acts
    if waiting:
        hand.choose(waiting[0], "one picture")
    if len(waiting) > 1:
        hand.press("Cut them alike")
    assert hand.acts - before <= len(waiting), "at most one for each that is not plain"
    assert all(sheet.layout is not None for sheet in drive.project.sheets)
    for sheet in drive.project.sheets:
        cells = 4 * (1 + int(sheet.name[7:]) % 3) if sheet.name.startswith("figure") else 1
        assert len(sheet.pieces) == cells
    others = hand.acts - before
    desk = drive.window.desk
    desk.select(replace(desk.selection, sheets=tuple(one.name for one in drive.project.sheets)))
    hand.write(drive.at("Gather").licence.fields["identifier"], "CC0-1.0")
    assert {one.licence.identifier for one in drive.project.sheets} == {"CC0-1.0"}
    assert {treatment_of(drive.project, one).pixels_per_unit for one in drive.project.sheets} == {
        drive.project.rules.pixels_per_unit
    }
    assert hand.acts - others <= 4


def a_cave(tile: int) -> np.ndarray:
    """A tileset that is one block of nine tiles with grassy rims."""
    dice = np.random.default_rng(5)
    picture = np.full((3 * tile, 3 * tile, 4), 255, np.uint8)
    picture[..., :3] = dice.integers(70, 100, (3 * tile, 3 * tile, 1)) + np.array([30, 10, 0])
    for edge in (picture[:3], picture[-3:], picture[:, :3], picture[:, -3:]):
        edge[..., :3] = (80, 170, 60)
    return picture


@pytest.mark.parametrize("tile", [16, 24, 32, 48, 64])
def test_a_room_with_a_background_and_a_guide_is_woven_and_walked(
    open_window: Open, tmp_path: Path, tile: int
) -> None:
    held = SHIFT
    drive = open_window()
    wall = np.full((40, 60, 4), 255, np.uint8)
    wall[..., :3] = np.random.default_rng(6).integers(30, 60, (40, 60, 3))
    sheets = {"cave": a_cave(tile), "warden": frames(1, 1), "wall": wall}
    drive.drop(*(write_picture(tmp_path / f"{name}.png", art) for name, art in sheets.items()))
    art = drive.window.desk.art

    def cut_all(project: Project) -> Project:
        project = cut_as(project, art, "cave", EvenCells(Size(tile, tile)))
        for name in ("warden", "wall"):
            project = cut_as(project, art, name, OnePicture())
        return set_kind(project, ("cave",), "tileset")

    drive.window.desk.do("Cut", cut_all)
    drive.window.desk.select(Selection(sheets=("cave",)))

    hand = Counting(drive)
    hand.station("Bound")
    hand.press("Shapes for the sheet")
    hand.station("Weave")
    guide, backdrop = (drive.project.sheet(n).pieces[0].number for n in ("warden", "wall"))
    at = {(p.column, p.row): p.number for p in drive.project.sheet("cave").pieces}
    pick, _, put = in_the_room(hand, at, tile)
    pick((0, 0), (2, 2))
    hand.drag((30, 30), (30 + 9 * tile, 30 + 5 * tile), held=held)
    put(backdrop, 6, 5)
    hand.press("Fill this gap")
    put(guide, 8, 6)
    hand.station("Walk")
    stage = drive.at("Walk").stage
    begun = stage.course.motion
    QTest.keyPress(stage, Qt.Key.Key_Right)
    stage.step(60)
    QTest.keyRelease(stage, Qt.Key.Key_Right)
    hand.acts += 1

    (level,) = drive.project.levels
    behind, room = level.layers
    area = room.cells.bounds()
    assert (area.width, area.height, room.cells.count()) == (10, 6, 60 - 8 * 4)
    assert room.cells.at(area.x + 3, area.bottom - 1)[0] == at[1, 0], "one stands on grass"
    assert room.cells.at(area.x, area.y + 2)[0] == at[2, 1]
    assert room.cells.at(area.x + 3, area.y)[0] == at[1, 2]
    assert [prop.piece for prop in room.props] == [guide]
    assert [prop.piece for prop in behind.props] == [backdrop] and not behind.solid
    inside = Rect((area.x + 1) * tile, (area.y + 1) * tile, 8 * tile, 4 * tile)
    assert prop_area(drive.project, behind.props[0]) == inside
    assert begun.y == inside.bottom and stage.course.motion.x > begun.x + tile
    assert hand.acts <= 12


@pytest.mark.parametrize("tile", [16, 24, 32, 48, 64])
def test_an_evening_with_a_strangers_pack(open_window: Open, tmp_path: Path, tile: int) -> None:
    """From an empty project to a walked room and a bundle, and back by undo."""
    drive = open_window()
    hand = Counting(drive)
    drive.drop(write_pack(tmp_path / "pack", tile=tile))
    hand.acts += 1
    gather_the_pack(hand, tile)
    paint_a_room(hand)
    walk_in_it(hand, tile)
    hand.station("Bale")
    drive.answers.folder = tmp_path / "bundle"
    hand.press("Write the bundle …")
    bundle = json.loads((tmp_path / "bundle" / "bundle.json").read_text())
    assert bundle["tile"] == [tile, tile] and bundle["levels"]
    assert hand.acts <= 12
    drive.answers.folder = tmp_path / "moor"
    drive.window.menus.actions["project.save"].trigger()
    assert files.load(tmp_path / "moor") == drive.project
    drive.undo_all()
    assert drive.project.sheets == () and drive.project.rules.tile == Size(16, 16)


def gather_the_pack(hand: Counting, tile: int) -> None:
    drive = hand.drive
    assert len(drive.project.sheets) == 8
    hand.write(drive.at("Gather").licence.fields["identifier"], "CC0-1.0")
    assert {sheet.licence.identifier for sheet in drive.project.sheets} == {"CC0-1.0"}
    hand.press("Take all as seen")
    if doubtful(drive.project, partial(see, drive.window.desk.art)):
        hand.key("L")
    assert all(sheet.pieces for sheet in drive.project.sheets)
    rules = drive.project.rules
    assert (rules.tile, rules.pixels_per_unit) == (Size(tile, tile), tile), "taken from the art"
    assert 12 <= rules.resolution.width / tile <= 24, "a fair part of a level is seen"
    drive.window.watch.look()
    assert not [f for f in drive.window.watch.findings if "pixel" in f.code or "tile" in f.code]


def paint_a_room(hand: Counting) -> None:
    drive, (width, height) = hand.drive, hand.drive.project.rules.tile
    hand.station("Weave")
    tray = drive.at("Weave").slip.tray.tray
    tile = drive.project.sheet("moor_ground").pieces[1].number
    hand.drag_over(tray, tray.place_of(tile).center().toPoint())
    hand.press("Tool: Box")
    hand.drag((1.5 * width, 3.5 * height), (8.5 * width, 7.5 * height), held=SHIFT)
    cells = drive.project.levels[0].layers[0].cells
    assert cells.count() == 2 * 8 + 2 * 3, "walls, floor and ceiling in one drag"


def walk_in_it(hand: Counting, tile: int) -> None:
    hand.station("Walk")
    stage = hand.drive.at("Walk").stage
    hand.drive.wait_for(lambda: stage.course.motion.grounded)
    assert stage.course.motion.y == 7 * tile, "it stands on the floor of the room"
    before = stage.course.motion.x
    hand.acts += 1
    QTest.keyPress(stage, Qt.Key.Key_Right)
    hand.drive.wait_for(lambda: stage.course.motion.x > before + tile)
    QTest.keyRelease(stage, Qt.Key.Key_Right)
    assert stage.course.motion.y == 7 * tile


def in_the_room(hand: Counting, at: dict[tuple[int, int], int], tile: int):
    """What is done in a level, in cells: pick tiles in the tray, `at` which cells of it they lie;
    draw; put a piece down that stands on the shelf."""
    group = hand.drive.at("Weave").slip.tray

    def pick(*cells: tuple[int, int]) -> None:
        places = [group.tray.place_of(at[cell]).center().toPoint() for cell in cells]
        hand.drag_over(group.tray, *places)

    def draw(*corners: tuple[float, float], held: Qt.KeyboardModifier = SHIFT) -> None:
        hand.drag(*((x * tile, y * tile) for x, y in corners), held=held)

    def put(piece: int, x: float, y: float) -> None:
        hand.drag_over(group.shelf, group.shelf.place_of(piece).center().toPoint())
        hand.click(x * tile, y * tile)

    return pick, draw, put


def a_hut_from_above(tile: int) -> np.ndarray:
    """Nine tiles of a room with walls around its floor; beside them water and tall grass."""
    dice = np.random.default_rng(tile)
    picture = np.zeros((3 * tile, 4 * tile, 4), np.uint8)
    grain = dice.integers(-8, 9, (3 * tile, 4 * tile, 1))
    picture[:, : 3 * tile, :3] = (np.array([90, 84, 96]) + grain)[:, : 3 * tile]
    picture[tile : 2 * tile, tile : 2 * tile, :3] += np.array([80, 60, 20], np.uint8)
    picture[:tile, 3 * tile :, :3] = (np.array([40, 96, 190]) + grain)[:tile, 3 * tile :]
    picture[: 2 * tile, :, 3] = picture[:, : 3 * tile, 3] = 255
    meadow = picture[tile : 2 * tile, 3 * tile :]
    y, x = np.mgrid[:tile, :tile]
    meadow[:] = np.where((y >= tile * (3 + (x * 5 // tile) % 2 * 6) // 12)[..., None], GRASS, 0)
    return picture


GRASS = np.array([40, 150, 60, 255], np.uint8)


def a_tree(tile: int) -> np.ndarray:
    """A crown two tiles wide and high on a trunk of one tile."""
    y, x = np.mgrid[: 3 * tile, : 2 * tile] + 0.5
    crown = np.hypot(x - tile, y - tile) < tile
    trunk = (np.abs(x - tile) < tile // 4) & (y > tile)
    picture = np.zeros((3 * tile, 2 * tile, 4), np.uint8)
    picture[trunk], picture[crown] = (110, 80, 50, 255), (50, 130, 60, 255)
    return picture


@pytest.mark.parametrize("tile", [16, 24, 32, 48, 64])
def test_a_room_from_above_with_water_grass_and_a_tree(
    open_window: Open, tmp_path: Path, tile: int
) -> None:
    drive = open_window()
    sheets = {"hut": a_hut_from_above(tile), "tree": a_tree(tile)}
    drive.drop(*(write_picture(tmp_path / f"{name}.png", art) for name, art in sheets.items()))
    art = drive.window.desk.art
    drive.window.desk.do("Cut", lambda p: cut_as(p, art, "hut", EvenCells(Size(tile, tile))))
    drive.window.desk.do("Cut", lambda p: cut_as(p, art, "tree", OnePicture()))
    drive.window.desk.do("Told", lambda p: set_kind(p, ("hut",), "tileset"))
    drive.window.desk.select(Selection(sheets=("hut",)))

    hand = Counting(drive)
    hand.station("Weave")
    hand.press("Begin one seen from above")
    at = {(p.column, p.row): p.number for p in drive.project.sheet("hut").pieces}
    (tree,) = drive.project.sheet("tree").pieces

    pick, draw, put = in_the_room(hand, at, tile)

    pick((0, 0), (2, 2))
    draw((0.5, 0.5), (11.5, 8.5))
    pick((3, 0))
    draw((2.5, 2.5), (4.5, 3.5))
    pick((3, 1))
    draw((7.5, 2.5), (9.5, 3.5))
    put(tree.number, 5.5, 7)
    hand.station("Walk")
    hand.acts += 1
    assert hand.acts <= 12

    course = drive.at("Walk").stage.course
    pieces = piece_index(drive.project)
    facts = {cell: pieces[number][1] for cell, number in at.items()}
    whole = Box(0, 0, tile, tile)
    for cell, piece in facts.items():
        is_wall = cell in np.ndindex(3, 3) and cell != (1, 1)
        assert [one.form for one in piece.shapes or ()] == [whole] * is_wall
    assert facts[3, 0].facts == Facts(moves="swims") and facts[3, 1].facts.wade == tile // 4
    level = drive.project.levels[0]
    assert wade_at(drive.project, level, 8.5 * tile, 3.5 * tile) == tile // 4
    for start, key, stop in (
        (Point(9 * tile, 6 * tile), Qt.Key.Key_Right, 11 * tile),
        (Point(2 * tile, 7 * tile - 1), Qt.Key.Key_Right, 5.5 * tile - tile // 4),
    ):
        drive.at("Walk").show_spot(start)
        QTest.keyPress(drive.at("Walk").stage, key)
        drive.at("Walk").stage.step(240)
        QTest.keyRelease(drive.at("Walk").stage, key)
        assert course.motion.x + course.ground.half == pytest.approx(stop, abs=1)


def a_cavern(tile: int) -> np.ndarray:
    """Nine tiles of ground; beside them a ladder, a thin ledge and water one sees through."""
    picture = np.zeros((3 * tile, 4 * tile, 4), np.uint8)
    picture[:, : 3 * tile] = a_cave(tile)
    ladder, ledge, water = (picture[at * tile :][:tile, 3 * tile :] for at in range(3))
    rail, rung = tile // 8, tile // 4
    for rows in (slice(rung, rung + 2), slice(3 * rung, 3 * rung + 2)):
        ladder[rows, rail : tile - rail] = (150, 110, 60, 255)
    for columns in (slice(rail, 2 * rail), slice(tile - 2 * rail, tile - rail)):
        ladder[:, columns] = (150, 110, 60, 255)
    ledge[: tile // 4], water[:] = (120, 90, 60, 255), (50, 110, 200, 150)
    return picture


@pytest.mark.parametrize("tile", [16, 24, 32, 48, 64])
def test_a_cavern_with_a_ladder_a_ledge_water_a_crate_and_a_raft(
    open_window: Open, tmp_path: Path, tile: int
) -> None:
    drive = open_window()
    crate = np.full((tile, tile, 4), (140, 100, 60, 255), np.uint8)
    sheets = {"cavern": a_cavern(tile), "crate": crate, "raft": crate[: tile // 2].repeat(2, 1)}
    drive.drop(*(write_picture(tmp_path / f"{name}.png", art) for name, art in sheets.items()))
    art = drive.window.desk.art

    def cut_all(project: Project) -> Project:
        project = cut_as(project, art, "cavern", EvenCells(Size(tile, tile)))
        for name in ("crate", "raft"):
            project = set_kind(cut_as(project, art, name, OnePicture()), (name,), "picture")
        return set_kind(project, ("cavern",), "tileset")

    drive.window.desk.do("Cut", cut_all)
    drive.window.desk.select(Selection(sheets=("cavern",)))

    hand = Counting(drive)
    hand.station("Weave")
    at = {(p.column, p.row): p.number for p in drive.project.sheet("cavern").pieces}
    (box,), (raft,) = (drive.project.sheet(name).pieces for name in ("crate", "raft"))

    pick, draw, put = in_the_room(hand, at, tile)

    pick((0, 0), (2, 2))
    draw((0.5, 0.5), (11.5, 8.5))
    pick((3, 0))
    draw((2.5, 3.5), (2.5, 7.5), held=NONE)
    pick((3, 1))
    draw((3.5, 3.5), (5.5, 3.5), held=NONE)
    pick((3, 2))
    draw((8.5, 6.5), (10.5, 7.5))
    put(raft.number, 5.5, 6)
    draw((5.5, 5.75), (7.5, 5.75), held=CONTROL)
    put(box.number, 4.5, 8)
    hand.pick("What it does", "Can be pushed")
    hand.station("Walk")
    hand.acts += 1
    assert hand.acts <= 18

    pieces = piece_index(drive.project)
    facts = {cell: pieces[number][1] for cell, number in at.items()}
    assert facts[3, 0].facts == Facts(moves="climbs") and not facts[3, 0].shapes
    assert facts[3, 2].facts == Facts(moves="swims") and not facts[3, 2].shapes
    assert [one.stops for one in facts[3, 1].shapes or ()] == ["one-way"]
    whole = Box(0, 0, tile, tile)
    for cell in np.ndindex(3, 3):
        assert [one.form for one in facts[cell].shapes or ()] == [whole], (
            "a backdrop walls nobody in"
        )
    (layer, *_) = drive.project.levels[0].layers
    moving, pushed = layer.props
    assert moving.body == Body("travels", Way((Point(2 * tile, 0),)))
    assert pushed.body == Body("pushed")
    drive.press("Look at them in Bound")
    drive.settle()
    doubts = drive.at("Bound").sheet_shapes
    assert at[3, 1] in doubts._in_doubt() and at[3, 1] in drive.window.desk.selection.pieces
    drive.press("The other way")
    turned = piece_index(drive.project)
    assert turned[at[3, 0]][1].facts == Facts(), "a ladder that is none"
    assert [one.stops for one in turned[at[3, 1]][1].shapes or ()] == ["all sides"]


def a_hillside(tile: int) -> np.ndarray:
    """A tileset of six by four: four tiles of grass and eight of earth, a slope up and one down,
    and below them tufts that stand free."""
    dice = np.random.default_rng(tile)
    picture = np.zeros((4 * tile, 6 * tile, 4), np.uint8)
    earth = np.full((tile, tile, 4), 255, np.uint8)
    y, x = np.mgrid[:tile, :tile]
    for row, column in np.ndindex(4, 6):
        cell = earth.copy()
        cell[..., :3] = np.array([110, 80, 50]) + dice.integers(-14, 15, (tile, tile, 1))
        surface = {4: tile - 1 - x, 5: x}.get(column, np.zeros_like(x)) if row == 0 else None
        if surface is not None:
            cell[(y >= surface) & (y < surface + tile // 5), :3] = (80, 170, 60)
            cell[y < surface] = 0
        if (row == 2 and column > 1) or row == 3:
            cell[(y < tile // 2) | (np.abs(x - tile // 2) > tile // (4 + column))] = 0
            cell[cell[..., 3] > 0, :3] = (60, 150, 70 + 10 * column)
        picture[row * tile :, column * tile :][:tile, :tile] = cell
    return picture


def take_cells(hand: Counting, name: str, cell: Size) -> None:
    """Take what a sheet is where that is plain to see, else answer by the key of the right one
    among those that are offered."""
    drive = hand.drive
    seen = see(drive.window.desk.art, drive.project.sheet(name))
    if seen.is_sure:
        hand.press("Take it as seen")
    else:
        layouts = [one.layout for one in seen.readings[:3]]
        hand.key(str(layouts.index(EvenCells(cell)) + 1))
    assert drive.project.sheet(name).layout == EvenCells(cell)


@pytest.mark.parametrize("tile", [16, 24, 32, 48, 64])
def test_a_tileset_of_unknown_size_gets_its_solids(
    open_window: Open, tmp_path: Path, tile: int
) -> None:
    drive = open_window()
    hand = Counting(drive)
    drive.drop(write_picture(tmp_path / "hillside.png", a_hillside(tile)))
    hand.acts += 1
    take_cells(hand, "hillside", Size(tile, tile))
    hand.station("Bound")
    hand.press("Shapes for the sheet")
    pieces = {(p.column, p.row): p for p in drive.project.sheet("hillside").pieces}
    assert {piece.rect.size for piece in pieces.values()} == {Size(tile, tile)}
    solids = [pieces[column, row] for row, column in np.ndindex(2, 6) if (row, column) < (0, 4)]
    solids += [pieces[column, 1] for column in range(6)] + [pieces[0, 2], pieces[1, 2]]
    whole = {Point(0, 0), Point(tile, 0), Point(tile, tile), Point(0, tile)}
    for piece in solids:
        assert [set(shape.form.corners) for shape in piece.shapes or ()] == [whole]
    for column, corner in ((4, Point(0, 0)), (5, Point(tile, 0))):
        (slope,) = pieces[column, 0].shapes or ()
        assert set(slope.form.corners) == whole - {corner}
    assert hand.acts <= 6


def test_unlike_pieces_are_named_one_after_the_other(open_window: Open, tmp_path: Path) -> None:
    drive = open_window()
    cut_sheet(drive, frames(2, 4), tmp_path)
    names = ["lantern", "reed", "boat", "eel"]
    QTest.keyClick(drive.canvas, Qt.Key.Key_F2)
    for name in names:
        caret = drive.window.focusWidget()
        QTest.keyClicks(caret, name)
        QTest.keyClick(caret, Qt.Key.Key_Return)
        drive.qtbot.wait(1)
    pieces = drive.project.sheet("warden").pieces
    assert [piece.name for piece in pieces] == [*names, "", "", "", ""]
    assert drive.window.desk.selection.pieces == {pieces[4].number}, "and on to the next"
    assert isinstance(caret, QLineEdit) and drive.window.focusWidget() is caret
    hand = Counting(drive)
    hand.write(caret, "crab,, heron, here, there")
    assert "take some away" in drive.window.frame.notice.text, "there are four"
    hand.write(caret, "crab,, heron; ledger")
    pieces = drive.project.sheet("warden").pieces
    assert [piece.name for piece in pieces] == [*names, "crab", "", "heron", "ledger"]
    drive.window.desk.select(replace(drive.window.desk.selection, pieces=frozenset({2, 6})))
    hand.write(caret, "sluice, wheel")
    pieces = drive.project.sheet("warden").pieces
    assert (pieces[1].name, pieces[5].name) == ("sluice", "wheel"), "those that are selected"
    assert hand.acts == 3
    hand.write(caret, ",")
    assert drive.project.sheet("warden").pieces == pieces, "a list of nothing names nothing"
    drive.window.desk.select(replace(drive.window.desk.selection, pieces=frozenset({5})))
    QApplication.clipboard().setText("reeds\r\npost\tlamp\n")
    caret.selectAll()
    caret.paste()
    QTest.keyClick(caret, Qt.Key.Key_Return)
    named = [piece.name for piece in drive.project.sheet("warden").pieces]
    assert named[4:] == ["reeds", "post", "lamp", "ledger"]
    QTest.keyClick(caret, Qt.Key.Key_Escape)
    assert drive.window.focusWidget() is drive.canvas, "Escape gives the keys back"
    drive.undo_all()
    assert drive.project.sheets == ()
