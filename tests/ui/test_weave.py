"""Weave in the window: lines and boxes, parts, hems, the guard, props, layers, growing."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QInputDevice, QMouseEvent, QPointingDevice

from rushweed.core.bound.ground import undecided
from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.gathering import cut_as
from rushweed.core.gather.sources import set_kind
from rushweed.core.project.body import Body
from rushweed.core.project.body import Path as Way
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level, Prop, bounds
from rushweed.core.project.project import with_sheet
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.drawing import Moment, Scene, frames_now
from rushweed.core.weave.fitting_props import pose_props
from rushweed.core.weave.guarding import belongs_behind
from rushweed.core.weave.hems import with_hem
from rushweed.core.weave.painting import Brush, single
from rushweed.core.weave.posing import prop_area
from rushweed.ui.canvas.images import from_image
from rushweed.ui.stations.weave import strokes
from rushweed.ui.stations.weave.overview import Overview
from tests.core.test_finishing import a_tileset, thirteen
from tests.hands import CONTROL, LEFT, NONE, RIGHT, SHIFT, QTest
from tests.samples import write_picture
from tests.ui.test_stations import words


@pytest.fixture
def drive(open_window, demo: Path):
    made = open_window(demo)
    made.station(5)
    weave = made.at("Weave")
    names = [layer.name for layer in level(made).layers]
    made.window.desk.select(replace(made.window.desk.selection, layer=names.index("Ground")))
    weave.slip.level.go_to(100, 4)
    return made


def level(drive) -> Level:
    return drive.project.level("Long boardwalk")


def cells(drive):
    return level(drive).layers[drive.window.desk.selection.layer].cells


def number(drive, name: str) -> int:
    return next(p.number for p in drive.project.sheet("fen_ground").pieces if p.name == name)


def hold(drive, *names: str) -> None:
    drive.at("Weave").hand.picking.take_brush(Brush((tuple((number(drive, n), 0) for n in names),)))


def at(column: float, row: float) -> tuple[float, float]:
    return column * 16 + 8, row * 16 + 8


def test_lines_boxes_mirrors_and_repeated_strokes(drive) -> None:
    before = drive.project
    hold(drive, "mud")
    drive.press("Tool: Line")
    drive.drag(at(92, 2), at(96, 4))
    assert (
        cells(drive).at(94, 3)[0] == number(drive, "mud")
        and words(drive) == "Drew a line on Ground"
    )
    drive.press("Tool: Box")
    drive.drag(at(98, 2), at(100, 3))
    assert all(cells(drive).at(x, y)[0] for x in (98, 99, 100) for y in (2, 3))
    drive.press("Tool: Brush")
    drive.drag(at(92, 7), at(94, 7))
    QTest.mouseMove(drive.canvas, drive.spot(*at(97, 8)))
    QTest.keyClick(drive.canvas, Qt.Key.Key_Period)
    assert [cells(drive).at(x, 8)[0] > 0 for x in (96, 97, 98, 99, 100)] == [
        False,
        True,
        True,
        True,
        False,
    ]
    weave = drive.at("Weave")
    drive.press("Mirrored")
    axis = weave.hand.held.mirror
    hold(drive, "slope_up")
    drive.click(*at(93, 5))
    other = round(2 * axis) - 94
    assert cells(drive).at(other, 5) == (number(drive, "slope_up"), 1)
    drive.press("Mirrored")
    assert drive.undo_all() == 5 and drive.project is before


def test_parts_are_moved_copied_kept_as_patches_and_rows_put_in(drive) -> None:
    hold(drive, "mud", "stone")
    drive.click(*at(94, 4))
    drive.press("Tool: Select")
    drive.drag(at(94, 4), at(95, 4))
    drive.drag(at(94, 4), at(96, 6), held=CONTROL)
    assert cells(drive).at(94, 4)[0] and cells(drive).at(97, 6)[0] == number(drive, "stone")
    drive.drag(at(96, 6), at(98, 7))
    assert not cells(drive).at(96, 6)[0] and cells(drive).at(98, 7)[0] == number(drive, "mud")
    weave = drive.at("Weave")
    weave.hand.keep_patch()
    assert drive.project.patches[0].rows == (
        ((number(drive, "mud"), 0), (number(drive, "stone"), 0)),
    )
    start = level(drive).start
    weave.slip.part._spread(False, 1)
    assert cells(drive).at(99, 7)[0] == number(drive, "mud") and level(drive).start == start
    weave.hand.parts.clear(level(drive))
    QTest.keyClick(drive.canvas, Qt.Key.Key_C)
    assert weave.hand.held.tool == "Brush"
    weave.slip.sets._take_patch("Patch")
    drive.click(*at(94, 9))
    assert cells(drive).at(95, 9)[0] == number(drive, "stone")


def test_a_hem_is_made_marked_drawn_and_says_what_it_lacks(drive) -> None:
    names = ("bank_left", "bank_top", "bank_right", "bank_face_left", "mud", "bank_face_right")
    hold(drive, *names)
    weave = drive.at("Weave")
    weave.slip.hems._make()
    [hem] = drive.project.hems
    assert len(hem.tiles) == 6 and weave.hand.held.hem == hem.name
    drive.qtbot.wait(10)
    marks = weave.slip.hems.marks
    for index, parts in enumerate((432, 504, 216, 438, 511, 219)):
        for part in range(9):
            if (hem.tiles[index].parts ^ parts) >> part & 1:
                place = marks.place_of(index, part).center().toPoint()
                QTest.mouseClick(marks, LEFT, pos=place)
    assert [t.parts for t in drive.project.hems[0].tiles] == [432, 504, 216, 438, 511, 219]
    drive.press("Tool: Box")
    drive.drag(at(93, 3), at(96, 6))
    grid = [
        [drive.project.find(cells(drive).at(x, y)[0])[1].name for x in range(93, 97)]
        for y in (3, 4)
    ]
    assert grid == [
        ["bank_left", "bank_top", "bank_top", "bank_right"],
        ["bank_face_left", "mud", "mud", "bank_face_right"],
    ]
    drive.press("Tool: Brush")
    drive.click(*at(99, 3))
    drive.qtbot.wait(5)
    assert weave.hand.strokes.lacking == {(99, 3)} and "nearest" in weave.slip.hems.result.text()
    drive.press("Tool: Erase")
    drive.click(*at(93, 3))
    assert cells(drive).at(93, 3) == (0, 0)
    assert drive.project.find(cells(drive).at(94, 3)[0])[1].name == "bank_left", "it closes again"
    before = drive.project
    hold(drive, "boulder", "crate")
    drive.qtbot.wait(5)
    drive.press(f"Add 2 tiles to {hem.name}")
    added = drive.project.hems[0].tiles
    assert [t.piece for t in added[6:]] == sorted(number(drive, n) for n in ("boulder", "crate"))
    assert added[:6] == before.hems[0].tiles, "the marks of the others stay"
    place = marks.place_of(6).center().toPoint()
    QTest.mouseClick(marks, RIGHT, pos=place)
    assert [t.piece for t in drive.project.hems[0].tiles] == [
        t.piece for t in (*added[:6], added[7])
    ]


def test_a_stroke_goes_aside_and_a_background_is_born_behind(drive) -> None:
    wall = next(
        piece.number
        for _, piece in drive.project.pieces()
        if piece.shapes == () and piece.rect.size == (16, 16)
        and belongs_behind(drive.project, drive.window.desk.art, {piece.number})
    )  # fmt: skip
    drive.press("Begin another")
    drive.type_text("Name of the layer", "Land")
    hold(drive, "mud")
    drive.drag(at(2, 2), at(6, 2))
    name = drive.window.desk.selection.level
    land = drive.project.level(name).layers[0].cells
    drive.press("Other kinds: Other layer")
    for held, layers in (
        (number(drive, "tuft"), ["Land", "Decoration"]),
        (wall, ["Background", "Land", "Decoration"]),
    ):
        index = [layer.name for layer in drive.project.level(name).layers].index("Land")
        drive.window.desk.select(replace(drive.window.desk.selection, layer=index))
        drive.at("Weave").hand.picking.take_brush(single(held))
        drive.press("Tool: Box" if held == wall else "Tool: Brush")
        drive.drag(at(3, 2), at(5, 2))
        now = drive.project.level(name).layers
        assert [layer.name for layer in now] == layers
        drawn = next(layer for layer in now if held in layer.cells.used())
        assert drawn.name in ("Decoration", "Background") and drawn.cells.at(4, 2)[0] == held
        assert next(layer for layer in now if layer.name == "Land").cells == land
        assert "lies here" in drive.window.frame.notice.text


def test_what_lies_below_a_surface_is_filled(drive) -> None:
    drive.press("Begin another")
    hold(drive, "bank_top")
    drive.drag(at(2, 2), at(3, 2), at(4, 4), at(6, 4))
    hold(drive, "bank_face_left")
    drive.click(*at(2, 7))
    name = drive.window.desk.selection.level
    surface = drive.project.level(name).layers[0].cells
    hold(drive, "mud")
    QTest.keyClick(drive.canvas, Qt.Key.Key_J)
    cells = drive.project.level(name).layers[0].cells
    for column in range(2, 7):
        rows = [row for row in range(10) if surface.at(column, row)[0]]
        for row in range(10):
            here = cells.at(column, row)[0]
            kept = surface.at(column, row)[0]
            below = rows and rows[0] < row <= 7
            assert here == (kept or (number(drive, "mud") if below else 0)), (column, row)
    assert words(drive).startswith("Filled under the surface")


def test_props_marks_and_measures(drive) -> None:
    weave = drive.at("Weave")
    things = weave.hand.things
    boat = drive.project.sheet("landing").pieces[0]
    weave.hand.picking.take_brush(single(boat.number))
    drive.press("Tool: Props")
    drive.click(1600, 60)
    props = lambda: level(drive).layers[drive.window.desk.selection.layer].props  # noqa: E731
    assert [(p.piece, p.x, p.y) for p in props()] == [(boat.number, 1600, 60)]
    drive.drag((1600, 58), (1620, 70))
    assert (props()[0].x, props()[0].y) == (1620, 72)
    QTest.keyClick(drive.canvas, Qt.Key.Key_Left)
    QTest.keyClick(drive.canvas, Qt.Key.Key_X)
    assert props()[0].x == 1619 and props()[0].orientation == 1
    drive.press("Duplicate")
    assert len(props()) == 2 and things.chosen == {1}
    drive.type_text("Group of props", "boats")
    drive.choose("What it does", "Travels along a path")
    drive.press("Path")
    drive.click(1650, 40)
    drive.click(1690, 40)
    QTest.keyClick(drive.canvas, Qt.Key.Key_Return)
    body = props()[1].body
    assert body is not None and body.path is not None and len(body.path.points) == 2
    drive.press("Scatter")
    assert len(props()) == 14 and words(drive) == "Scattered props"
    first = props()
    drive.type_number("Seed", "7")
    drive.press("Scatter")
    assert len(props()) == 14 and props() != first, "another try takes the place of the last"
    drive.window.menus.actions["edit.undo"].trigger()
    assert len(props()) == 2
    drive.window.menus.actions["edit.redo"].trigger()
    QTest.keyClick(drive.canvas, Qt.Key.Key_Delete)
    assert len(props()) == 13
    assert not things.chosen and not weave.slip.pose.isVisible()
    drive.press("Tool: Mark")
    drive.type_text("Name of the mark", "landing place")
    drive.click(1600, 80)
    assert [(m.name, m.x, m.y) for m in level(drive).marks] == [("landing place", 1600, 80)]
    drive.type_text("Notes of the mark", "gold = 5; locked")
    assert [note.kind for note in level(drive).marks[0].notes] == ["number", "yes or no"]
    drive.type_text("Notes of the level", 'says = "mind; the step"')
    drive.type_text("Notes of the layer", "deep")
    assert level(drive).notes[0].value == "mind; the step"
    assert any(layer.notes for layer in level(drive).layers)
    before = drive.project
    drive.type_text("Notes of the level", 'two = "a')
    assert drive.project is before and "not understood" in drive.window.frame.notice.text
    drive.press("Tool: Measure")
    shot = drive.canvas.grab().toImage()
    drive.drag((1600, 60), (1632, 60))
    assert drive.canvas.grab().toImage() != shot


def test_a_prop_is_made_larger_turned_fitted_and_laid_in_a_row(drive) -> None:
    begun = drive.project
    boat = drive.project.sheet("landing").pieces[0]
    drive.at("Weave").hand.picking.take_brush(single(boat.number))
    drive.press("Tool: Props")
    drive.click(1600, 60)
    props = lambda: level(drive).layers[drive.window.desk.selection.layer].props  # noqa: E731
    area = prop_area(drive.project, props()[0])
    corner, reach = (area.right + 1, area.y - 1), (area.right - 1600, area.y - 60)
    drive.drag(corner, (1600 + 2 * reach[0], 60 + 2 * reach[1]))
    assert (props()[0].across, props()[0].down) == (2, 2), "whole factors, about the pivot"
    drive.type_number("Times as wide", "3")
    assert (props()[0].across, props()[0].down) == (3, 3), "both sides go together"
    drive.type_number("Times as high", "2")
    assert (props()[0].across, props()[0].down) == (2, 2)
    drive.press("Both sides")
    drive.type_number("Times as wide", "1.5")
    drive.type_number("Turned clockwise", "30")
    drive.type_number("Opacity of the prop", "50")
    drive.type_text("Tint of the prop", "#ff8040")
    (prop,) = props()
    assert (prop.across, prop.down, prop.angle, prop.opacity) == (1.5, 2, 30, 0.5)
    assert "several sizes" in drive.at("Weave").slip.pose.result.text()
    drive.press("Fill this gap")
    assert "Turn it back first" in drive.window.frame.notice.text and props() == (prop,)
    drive.press("As drawn")
    assert props() == (replace(prop, across=1, down=1, angle=0, tint=None, opacity=1),)
    drive.type_number("Times as wide", "2")
    drive.press("Row")
    laid = [prop_area(drive.project, one) for one in props()]
    assert len(laid) > 5 and {area.width for area in laid} == {2 * boat.rect.width}
    drive.window.desk.select(replace(drive.window.desk.selection, layer=0))
    assert not drive.at("Weave").hand.things.chosen, "another layer has props of its own"
    drive.undo_all()
    assert drive.project == begun


def test_within_a_large_prop_one_puts_others_down_and_ctrl_sends_them_on_their_way(drive) -> None:
    boat, sky = (drive.project.sheet(name).pieces[0] for name in ("landing", "high_sky"))
    level_ = Level("Far", (Layer("Far", props=(Prop(sky.number, 200, 150),)),))
    drive.window.desk.do("Put", lambda p: replace(p, levels=(level_,)))
    drive.window.desk.select(replace(drive.window.desk.selection, level="Far", layer=0))
    drive.at("Weave").hand.picking.take_thing(single(boat.number))
    props = lambda: drive.project.level("Far").layers[0].props  # noqa: E731
    area = prop_area(drive.project, props()[0])
    x, y = area.x + area.width // 2, area.y + area.height // 2
    drive.click(x, y)
    assert [(one.piece, one.x, one.y) for one in props()[1:]] == [(boat.number, x, y)]
    drive.drag((x, y - 2), (x + 40, y + 10), held=CONTROL)
    assert props()[1].body == Body("travels", Way((Point(40, 12),)))
    drive.click(x, y - 2, held=CONTROL)
    assert not drive.at("Weave").hand.things.chosen, "a click with Ctrl only chooses"
    drive.drag((area.x + 4, area.y + 4), (area.x + 24, area.y + 4))
    assert len(props()) == 2 and props()[0].x == 220, "a drag moves the large one"
    for across, code in ((2.0, "enlarged-props"), (1.5, "uneven-props")):
        pose = partial(pose_props, level="Far", layer=0, places={1}, across=across, down=2.0)
        drive.window.desk.do("Posed", pose)
        drive.window.watch.look()
        (found,) = [f for f in drive.window.watch.findings if f.code.endswith("-props")]
        assert found.code == code and "In Far, 1 prop is" in found.what
        mended = found.mend(drive.project).level("Far").layers[0].props[1]
        assert mended.across == (1 if code == "enlarged-props" else 2)


def test_large_props_are_shown_as_small_ones_are(drive, monkeypatch: pytest.MonkeyPatch) -> None:
    boat = drive.project.sheet("landing").pieces[0].number
    poses = [Prop(boat, 100, 60, turn, across=2, down=3, angle=30 * turn) for turn in range(8)]
    level = Level("Poses", (Layer("Poses"),))
    drive.window.desk.do("Put", lambda p: replace(p, levels=(level,)))
    drive.window.desk.select(replace(drive.window.desk.selection, level="Poses", layer=0))
    drive.press("Tool: Measure")
    drive.at("Weave").view.grid.setChecked(False)
    drive.canvas.zoom_to(1)
    for pose in poses:
        posed = replace(level, layers=(replace(level.layers[0], props=(pose,)),))
        drive.window.desk.do("Pose", lambda p, posed=posed: replace(p, levels=(posed,)))
        shown = []
        for largest in (1 << 22, 0):
            monkeypatch.setattr("rushweed.ui.canvas.prop_picture.LARGEST", largest)
            shown.append(from_image(drive.canvas.grab().toImage())[..., :3].astype(int))
        differs = (np.abs(shown[0] - shown[1]) > 8).any(axis=2)
        drawn = (shown[0] != shown[0][-1, -1]).any(axis=2)
        assert drawn.sum() > 1000 and differs.sum() < 0.2 * drawn.sum(), pose


def test_animated_tiles_and_props_play_while_one_paints(drive) -> None:
    weave = drive.at("Weave")
    frames = [number(drive, name) for name in ("mud", "tuft", "bank_top")]
    drive.window.desk.do("Animate", lambda p: set_animation(p, "fen_ground", "glow", frames, 2))
    project = drive.project
    (animated,) = frames_now(project, 0)
    heron = project.sheet("heron")
    moving = next(a for a in heron.animations if len(set(a.frames)) > 1)
    layer = Layer(
        "Alive",
        Cells().painted({(2, 2): (animated, 0), (3, 2): (animated, 1)}),
        (Prop(moving.frames[0], 100, 60, animation=moving.name),),
    )
    drive.window.desk.do("Put", lambda p: replace(p, levels=(Level("Alive", (layer,)),)))
    drive.window.desk.select(replace(drive.window.desk.selection, level="Alive", layer=0))
    drive.press("Tool: Measure")
    weave.view.grid.setChecked(False)
    area = Rect(0, 16, 160, 64)
    drive.canvas.zoom_to(1)

    def seen() -> np.ndarray:
        picture = from_image(drive.canvas.grab().toImage())
        corner = drive.spot(area.x, area.y)
        assert drive.canvas.view.scale == 1
        return picture[corner.y() :, corner.x() :][: area.height, : area.width, :3]

    def drawn(seconds: float) -> np.ndarray:
        scene = Scene(drive.project, drive.window.desk.art)
        level = drive.project.level("Alive")
        return scene.level(level, area, Moment(seconds))[..., :3]

    np.testing.assert_array_equal(seen(), drawn(0))
    QTest.keyClick(drive.canvas, Qt.Key.Key_A)
    drive.wait_for(lambda: weave.view.picture.seconds > 0.05)
    moments = [0.0, 0.3, 0.7, 1.1]
    assert len({drawn(second).tobytes() for second in moments}) > 2
    for second in moments:
        weave.view.picture.seconds = second
        np.testing.assert_array_equal(seen(), drawn(second))
    QTest.keyClick(drive.canvas, Qt.Key.Key_A)
    np.testing.assert_array_equal(seen(), drawn(0))


def test_layers_levels_and_the_overview(drive) -> None:
    drive.press("Add")
    assert level(drive).layers[drive.window.desk.selection.layer].name == "Layer"
    drive.type_text("Name of the layer", "Mist")
    drive.type_text("Tint", "#8090ff")
    drive.type_number("Opacity", "40")
    layer = level(drive).layers[drive.window.desk.selection.layer]
    assert (layer.name, layer.opacity) == ("Mist", 0.4) and layer.tint.hex == "#8090FF"
    drive.type_text("Name of the layer", "Ground")
    assert "already" in drive.window.frame.notice.text
    drive.press("Forward")
    assert level(drive).layers[drive.window.desk.selection.layer].name == "Mist"
    drive.type_text("Background colour", "#102030")
    assert level(drive).background.hex == "#102030"
    view = drive.canvas.view
    QTest.mouseClick(drive.seen(Overview, "The whole level"), LEFT, pos=QPoint(20, 40))
    assert drive.canvas.view != view
    drive.type_text("Name of the level", "Boardwalk at dusk")
    assert drive.window.desk.selection.level == "Boardwalk at dusk"
    drive.type_text("Name of the level", "Heron pool")
    assert "already" in drive.window.frame.notice.text
    plain = drive.canvas.grab().toImage()
    drive.press("Solid outlines")
    assert drive.canvas.grab().toImage() != plain
    drive.type_number("Column to go to", "30")
    drive.press("Go to")
    assert drive.canvas.visible().contains(30 * 16, 8)
    drive.press("Remove level")
    assert [one.name for one in drive.project.levels] == ["Sluice house", "Heron pool"]


@pytest.mark.parametrize("waited_for", [strokes.WAITED_FOR, 0])
def test_filling_keeps_within_the_selected_part(
    drive, monkeypatch: pytest.MonkeyPatch, waited_for: int
) -> None:
    monkeypatch.setattr(strokes, "WAITED_FOR", waited_for)
    hold(drive, "mud")
    drive.press("Tool: Select")
    drive.drag(at(95, 2), at(99, 5))
    drive.press("Tool: Fill")
    drive.press("Fill by: Empty")
    before = cells(drive)
    drive.click(*at(97, 3))
    if not waited_for:
        assert cells(drive) is before, "it goes on beside"
        drive.window.desk.do("Renamed", lambda p: replace(p, name="Fen"))
    drive.settle()
    assert waited_for or drive.project.name == "Fen", "what was done meanwhile stays"
    changed = [
        (x, y)
        for x in range(85, 110)
        for y in range(-3, 12)
        if cells(drive).at(x, y) != before.at(x, y)
    ]
    assert set(changed) == {(x, y) for x in range(95, 100) for y in range(2, 6)}


@pytest.mark.real_window
def test_a_level_is_hemmed_guarded_grown_scattered_and_walked(drive) -> None:
    """The whole way through a new level, as one evening has it."""
    window = drive.window
    drive.press("Begin another")
    name = window.desk.selection.level
    shown = lambda: drive.project.level(name)  # noqa: E731
    weave = window.router.stations["Weave"].at(0)
    weave.slip.tray.choose("fen_ground")
    hold(drive, "bank_left", "bank_top", "bank_right", "bank_face_left", "mud", "bank_face_right")
    drive.press("Make one of the brush")
    hem = drive.project.hems[0]
    wanted = (432, 504, 216, 438, 511, 219)
    tiles = tuple(replace(t, parts=p) for t, p in zip(hem.tiles, wanted, strict=True))
    window.desk.do("Put its marks right", lambda p: with_hem(p, replace(hem, tiles=tiles)))
    drive.press("Tool: Box")
    weave.slip.level.go_to(8, 6)
    drive.drag(at(0, 6), at(20, 9))
    ground = shown().layers[0].cells
    assert ground.at(3, 6)[0] == number(drive, "bank_top")
    assert ground.at(0, 8)[0] == number(drive, "bank_face_left")

    drive.press("Tool: Brush")
    hold(drive, "tuft")
    QTest.mouseMove(drive.canvas, drive.spot(*at(4, 4)))
    QTest.mouseMove(drive.canvas, drive.spot(*at(5, 6)))
    assert weave.hand.ghost.guard is not None and weave.hand.ghost.guard[2] is None
    QTest.keyClick(drive.canvas, Qt.Key.Key_G)
    assert [layer.name for layer in shown().layers] == ["Ground", "Decoration"]
    drive.click(*at(5, 5))
    assert shown().layers[0].cells == ground, "the ground has no hole"

    before = shown().layers[0].cells.bounds()
    window.desk.select(replace(window.desk.selection, layer=0))
    hold(drive, "mud")
    drive.drag(at(-6, 2), at(-2, 3))
    grown = shown().layers[0].cells
    assert grown.bounds().x == -6 and grown.bounds().right == before.right
    assert grown.at(3, 6) == ground.at(3, 6), "what was painted stays where it was"

    window.desk.select(replace(window.desk.selection, layer=1))
    hold(drive, "tuft")
    drive.press("Tool: Select")
    drive.drag(at(0, 5), at(20, 5))
    drive.press("Scatter")
    props = shown().layers[1].props
    assert 5 < len(props) <= 12 and all(0 <= prop.x < 21 * 16 for prop in props)

    drive.press("Tool: Start")
    drive.click(*at(2, 5))
    assert shown().start == (40, 96)
    drive.station(6)
    stage = window.router.stations["Walk"].at(0).stage
    stage.run(False)
    QTest.keyPress(stage, Qt.Key.Key_Right)
    stage.step(200)
    QTest.keyRelease(stage, Qt.Key.Key_Right)
    assert stage.course.motion.x > 200 and stage.course.motion.y == 96 and stage.course.motion.on


def test_a_hem_is_offered_from_a_tileset_without_being_asked(open_window, tmp_path: Path) -> None:
    drive = open_window()
    _, picture = a_tileset(thirteen(clear=False), 16)
    drive.drop(write_picture(tmp_path / "fen.png", picture))
    desk = drive.window.desk
    layout = EvenCells(Size(16, 16))
    desk.do("Cut", lambda p: set_kind(cut_as(p, desk.art, "fen", layout), ("fen",), "tileset"))
    drive.station(5)
    drive.press("Begin a level")
    drive.settle()
    group = drive.at("Weave").slip.hems
    assert "hem of 13" in group.result.text()
    drive.press("Take what was found")
    (hem,) = drive.project.hems
    assert [tile.parts for tile in hem.tiles[:5]] == [432, 504, 216, 438, 511]
    assert "what looks like" not in group.result.text()
    drive.press("Tool: Box")
    drive.drag((40, 40), (90, 90))
    layer = drive.project.levels[0].layers[desk.selection.layer]
    corner = drive.project.find(layer.cells.at(2, 2)[0])
    assert corner is not None and corner[1].number == hem.tiles[0].piece


def test_a_stroke_from_the_air_into_the_ground_leaves_the_ground(drive) -> None:
    hold(drive, "tuft")
    column, row = next(cells(drive).places_of({number(drive, "bank_top")}))
    before = cells(drive)
    drive.at("Weave").slip.level.go_to(column, row)
    drive.drag(at(column, row - 3), at(column, row - 1), at(column, row))
    assert cells(drive).at(column, row - 1)[0] == number(drive, "tuft")
    assert cells(drive).at(column, row) == before.at(column, row)
    assert "1 tile of another kind stayed" in drive.window.frame.notice.text
    ground = drive.window.desk.selection.layer
    drive.press("Tool: Fill")
    drive.click(*at(column, row))
    assert level(drive).layers[ground].cells.at(column, row) == before.at(column, row)
    assert cells(drive).at(column, row)[0] == number(drive, "tuft"), "on the layer that fits it"
    assert drive.window.desk.selection.layer != ground
    drive.press("Other kinds: Give way")
    drive.press("Tool: Box")
    drive.drag(at(column, row - 1), at(column, row))
    assert cells(drive).at(column, row)[0] == number(drive, "tuft")
    drive.press("Other kinds: Stay")
    hold(drive, "mud")
    drive.drag(at(column, row))
    assert "Painting on Solid" in drive.window.frame.notice.text
    drive.station(6)
    assert not drive.window.frame.notice.text, "it was said of the last station"


def test_a_room_is_drawn_in_one_drag(drive) -> None:
    hold(drive, "mud")
    before = cells(drive)
    drive.type_number("Walls of a box", "2")
    drive.press("Tool: Box")
    drive.drag(at(92, -8), at(101, 0))
    mud = number(drive, "mud")
    for x in range(92, 102):
        for y in range(-8, 1):
            wall = x < 94 or x > 99 or y < -6 or y > -2
            assert cells(drive).at(x, y) == ((mud, 0) if wall else before.at(x, y))
    drive.drag(at(92, -14), at(94, -12))
    assert cells(drive).at(93, -13)[0] == mud, "where there is no room for a room it is full"


def test_a_prop_moves_in_a_way_of_its_own(drive) -> None:
    weave = drive.at("Weave")
    boat = drive.project.sheet("landing").pieces[0]
    weave.hand.picking.take_brush(single(boat.number))
    drive.press("Tool: Props")
    drive.click(1600, 60)
    drive.click(1700, 60)
    props = lambda: level(drive).layers[drive.window.desk.selection.layer].props  # noqa: E731
    drive.choose("What it does", "Travels along a path")
    drive.type_number("One way in", "1.5")
    drive.press("Speed along the path: Eased")
    drive.press("Way back: Round")
    moving = [prop.body for prop in props() if prop.body is not None]
    assert [(b.path.seconds, b.path.easing, b.path.way) for b in moving] == [
        (1.5, "eased", "round")
    ]
    drive.choose("What it does", "As its piece")
    assert not any(prop.body for prop in props())


def test_props_are_chosen_by_a_box_and_pasted_into_another_level(drive) -> None:
    desk, weave = drive.window.desk, drive.at("Weave")
    level = desk.project.level("Long boardwalk")
    index = next(i for i, layer in enumerate(level.layers) if layer.name == "Props")
    desk.select(replace(desk.selection, level=level.name, layer=index))
    drive.press("Props")
    things, props = weave.hand.things, level.layers[index].props
    drive.window.commands.run("edit.select_all")
    assert things.chosen == frozenset(range(len(props)))
    areas = [prop_area(desk.project, prop) for prop in props]
    first = min(range(len(props)), key=lambda place: areas[place].x)
    box = areas[first].grown(2)
    drive.drag((box.x, box.y), (box.right, box.bottom), held=SHIFT)
    alone = {n for n, area in enumerate(areas) if area.intersection(box) == area}
    assert first in alone and things.chosen == alone
    drive.window.commands.run("props.copy")
    desk.select(replace(desk.selection, level="Sluice house", layer=0))
    before = desk.project.level("Sluice house").layers[0].props
    drive.window.commands.run("pictures.paste")
    after = desk.project.level("Sluice house").layers[0].props
    copied = [props[place] for place in sorted(alone)]
    apart = [(a.x - copied[0].x, a.y - copied[0].y) for a in copied]
    pasted = after[len(before) :]
    assert [(p.x - pasted[0].x, p.y - pasted[0].y) for p in pasted] == apart
    assert [p.piece for p in pasted] == [p.piece for p in copied]
    assert things.chosen == frozenset(range(len(before), len(after)))


def test_the_animation_of_a_prop_is_chosen_afterwards(drive) -> None:
    desk, things = drive.window.desk, drive.at("Weave").hand.things
    level = desk.project.level("Long boardwalk")
    index = next(i for i, layer in enumerate(level.layers) if layer.name == "Waders")
    desk.select(replace(desk.selection, level=level.name, layer=index))
    drive.press("Props")
    props = level.layers[index].props
    heron = desk.project.sheet("heron")
    mine = {p.number for p in heron.pieces}
    things.choose(n for n, prop in enumerate(props) if prop.piece in mine)
    assert things.chosen
    drive.choose("Animation of the prop", "fly")
    fly = next(one for one in heron.animations if one.name == "fly")
    now = desk.project.level(level.name).layers[index].props
    for place, prop in enumerate(now):
        if place in things.chosen:
            assert prop.animation == "fly" and prop.piece in fly.frames
        else:
            assert prop is props[place]
    drive.choose("Animation of the prop", "plays nothing")
    assert not any(desk.project.level(level.name).layers[index].props[n].animation
                   for n in things.chosen)  # fmt: skip
    others = {s.name for s in desk.project.sheets for p in s.pieces
              for n, prop in enumerate(props) if prop.piece == p.number}  # fmt: skip
    things.choose(range(len(props)))
    plays = drive.at("Weave").slip.props._plays
    assert plays.isVisible() == (len(others) == 1), "what stands alike can play alike"


def test_an_empty_layer_is_filled_as_far_as_the_level_reaches(drive) -> None:
    desk = drive.window.desk
    hold(drive, "mud")
    drive.press("Add")
    level, index = desk.selection.level, desk.selection.layer
    reach = bounds(desk.project.level(level))
    drive.press("Tool: Fill")
    drive.click(*at(reach.x + 3, reach.y + 3))
    drive.settle()
    filled = desk.project.level(level).layers[index].cells
    assert filled.bounds() == reach and filled.count() == reach.area
    drive.press("Begin another")
    drive.press("Tool: Fill")
    drive.click(*at(2, 2))
    drive.settle()
    seen = drive.canvas.view.visible(drive.canvas.width(), drive.canvas.height())
    filled = desk.project.level(desk.selection.level).layers[0].cells.bounds()
    assert filled.x == seen.x // 16 and filled.right == -(-seen.right // 16)
    assert filled.y == seen.y // 16 and filled.bottom == -(-seen.bottom // 16)


def test_painted_ground_carries_by_one_act_in_walk(drive) -> None:
    desk = drive.window.desk
    ground = desk.project.sheet("fen_ground")
    bare = tuple(replace(piece, shapes=None) for piece in ground.pieces)
    desk.do("Forgot", lambda p: with_sheet(p, ground.name, lambda s: replace(s, pieces=bare)))
    drive.station(6)
    assert "carry and stop nobody" in drive.window.frame.notice.text
    drive.press("Take them as the art says")
    drive.settle()
    level = desk.project.level(desk.selection.level)
    assert not undecided(desk.project, level)
    drive.station(5)
    drive.station(6)
    assert "carry" not in drive.window.frame.notice.text
    stage = drive.at("Walk").stage
    stage.step(120)
    assert stage.course.motion.grounded


def test_the_other_end_of_a_pen_rubs_out_whatever_is_in_hand(drive) -> None:
    hold(drive, "mud")
    drive.drag(at(92, -8), at(94, -8))
    assert cells(drive).at(93, -8)[0] == number(drive, "mud")
    types = QPointingDevice.PointerType
    for end, kind in (("tip", types.Pen), ("rubber", types.Eraser)):
        pen = QPointingDevice(
            end,
            7,
            QInputDevice.DeviceType.Stylus,
            kind,
            QInputDevice.Capability.Position,
            1,
            2,
        )
        place = QPointF(drive.spot(*at(93, -8)))
        pressed = QMouseEvent(QEvent.Type.MouseButtonPress, place, place, LEFT, LEFT, NONE, pen)
        released = QMouseEvent(
            QEvent.Type.MouseButtonRelease, place, place, LEFT, Qt.MouseButton.NoButton, NONE, pen
        )
        drive.canvas.mousePressEvent(pressed)
        drive.canvas.mouseReleaseEvent(released)
        assert bool(cells(drive).at(93, -8)[0]) is (end == "tip")
    assert drive.at("Weave").hand.held.tool == "Brush"
