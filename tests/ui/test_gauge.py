"""Treatments, the look and the borders, driven in the real window."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt

from rushweed.core.findings.grouping import grouped
from rushweed.core.gather.pictures import encode_png, read_picture
from rushweed.core.gauge.compression.treated import treat
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project.rules import Compression
from rushweed.core.project.sheet import Borders, FramePoint
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect
from rushweed.ui.shell.controls import Choice, Field
from rushweed.ui.shell.stepper import Stepper
from tests.conftest import RAW
from tests.driving import Driver
from tests.hands import LEFT, QTest, drag_over
from tests.samples import write_picture
from tests.ui.test_stations import select


@pytest.fixture
def drive(open_window, demo: Path):
    drive = open_window(demo)
    drive.station(3)
    return drive


def face(drive, number: int):
    drive.window.router.turn_face(number)
    drive.qtbot.wait(5)
    return drive.at("Gauge", number)


def own(drive, sheet: str):
    return treatment_of(drive.project, drive.project.sheet(sheet))


def wait_for_costs(drive, look) -> None:
    drive.wait_for(lambda: len(look.costs.costs) == len(look.costs.rows))


def click_row(look, choice: Compression, across: int = 60) -> None:
    place = QPoint(across, look.costs.row_rect(choice).center().y())
    QTest.mouseClick(look.costs, LEFT, pos=place)


def test_the_table_fills_a_row_is_looked_at_and_chosen(drive) -> None:
    select(drive, "landing")
    look = face(drive, 2)
    wait_for_costs(drive, look)
    costs = look.costs.costs
    assert costs[Compression()].loss.error == 0 < costs[Compression("BC1")].loss.noise < 60
    assert costs[Compression("BC1")].treated.in_memory * 8 == 102 // 2 * 2 * 68 * 4 + 2 * 68 * 4
    canvas, lens = drive.canvas, drive.window.frame.lens
    shown, in_lens = canvas.grab().toImage(), lens.picture.grab().toImage()
    click_row(look, Compression("BC1"))
    assert canvas.grab().toImage() != shown and lens.picture.grab().toImage() != in_lens
    assert "seen with BC1" in lens._title.text() and drive.window.desk.history.words == ""
    before = drive.project
    drive.press("Choose")
    assert own(drive, "landing").compression == Compression("BC1")
    assert drive.window.desk.history.words == "Set the compression of landing"
    drive.window.watch.look()
    [finding] = [f for f in drive.window.watch.findings if f.code == "wrong-colours"]
    assert "pixels of it" in finding.what
    assert [f.code for f in drive.window.watch.findings if f.code == "wrong-sides"] == [
        "wrong-sides"
    ]
    for group in grouped(drive.window.watch.findings):
        drive.window.watch.mend(group)
    drive.settle()
    assert drive.window.watch.findings == [] and own(drive, "landing").compression == Compression()
    drive.undo_all()
    assert drive.project is before
    QTest.keyClick(look.costs, Qt.Key.Key_Down)
    QTest.keyClick(look.costs, Qt.Key.Key_Return)
    assert own(drive, "landing").compression == Compression("palette", 256)


def test_the_divider_moves_and_the_worst_piece_comes_close(drive) -> None:
    select(drive, "landing")
    look = face(drive, 2)
    wait_for_costs(drive, look)
    click_row(look, Compression("BC3"))
    canvas = drive.canvas
    middle = QPoint(canvas.width() // 2, canvas.height() // 2)
    drag_over(canvas, middle, middle - QPoint(120, 0))
    assert canvas.share == pytest.approx(0.5 - 120 / canvas.width(), abs=0.01)
    assert drive.window.desk.selection.pieces == frozenset(), "it selects nothing"
    click_row(look, Compression("BC3"), across=600)
    worst = look.costs.costs[Compression("BC3")].loss.worst
    assert drive.window.desk.selection.pieces == {worst} and canvas.view.scale > 5
    rect = drive.project.find(worst)[1].rect
    assert " becomes " in " ".join(
        canvas.pixel_words(Point(x, y))
        for x in range(rect.x, rect.right)
        for y in range(rect.y, rect.bottom)
    )
    shown = canvas.grab().toImage()
    drive.press("View: Difference")
    assert canvas.grab().toImage() != shown


def test_the_wall_draws_the_piece_in_every_way(drive) -> None:
    select(drive, "fen_ground", 0)
    look = face(drive, 2)
    drive.press("View: Sampling")
    wall = look.wall
    drive.wait_for(wall.isVisible)
    nearest = wall.grab().toImage()
    drive.press("Filtering: Linear")
    assert wall.grab().toImage() != nearest
    drive.type_number("Padding", "0")
    drive.type_number("Repeated edge pixels", "0")
    assert "neighbours" in look.slip.space.result.text()
    drive.window.watch.look()
    codes = {finding.code for finding in drive.window.watch.findings}
    assert codes == {"blurred-pixels", "bleeding-edges"}
    drive.press("Multiply colours by alpha")
    drive.press("Mipmaps")
    assert own(drive, "fen_ground").multiplied and own(drive, "fen_ground").mipmaps
    wall.grab()
    drive.undo_all()


def test_many_sheets_share_a_table_and_say_what_differs(drive) -> None:
    select(drive, "crab", more=("eel", "ledger"))
    look = face(drive, 2)
    wait_for_costs(drive, look)
    total = look.costs.costs[Compression()].treated.in_memory
    sizes = [drive.project.sheet(name).size for name in ("crab", "eel", "ledger")]
    assert total == sum(4 * size.width * size.height for size in sizes)
    select(drive, "eel")
    drive.type_number("Padding", "5")
    drive.choose("Compression", "Palette")
    drive.type_number("Colours", "8")
    drive.press("Dithered")
    assert own(drive, "eel").compression == Compression("palette", 8, True)
    select(drive, "crab", more=("eel",))
    assert drive.seen(Stepper, "Padding").value is None
    assert drive.seen(Choice, "Compression").value is None
    drive.choose("Compression", "Lossy (WebP)")
    drive.type_number("Quality", "55")
    assert own(drive, "crab").compression == own(drive, "eel").compression
    drive.type_number("Quality", "900")
    assert own(drive, "crab").compression.quality == 100, "the nearest that there is"


def test_a_treatment_is_made_named_changed_for_all_and_removed(drive) -> None:
    select(drive, "crab", more=("eel",))
    face(drive, 0)
    drive.press("New")
    assert own(drive, "crab").name == own(drive, "eel").name == "Crisp pixels 2"
    drive.type_text("Name of the treatment", "Small beasts")
    select(drive, "crab")
    drive.type_number("Pixels per unit", "32")
    assert own(drive, "eel").pixels_per_unit == 16
    drive.press("For all that share it")
    assert own(drive, "eel").pixels_per_unit == 32 and own(drive, "eel").name == "Small beasts"
    assert drive.project.sheet("crab").differences.pixels_per_unit is None
    drive.type_text("Name of the treatment", "Painted")
    assert (
        "already" in drive.window.frame.notice.text
        and drive.seen(Field, "Name of the treatment").text() == "Small beasts"
    )
    select(drive, "crab", more=("eel",))
    drive.press("Make 2 sheets agree")
    assert own(drive, "crab").pixels_per_unit == own(drive, "eel").pixels_per_unit == 16
    drive.press("Follow it")
    assert own(drive, "crab").pixels_per_unit == 32
    names = lambda: [t.name for t in drive.project.treatments]  # noqa: E731
    drive.press("Remove unused")
    assert names() == ["Crisp pixels", "Small beasts"]
    drive.press("Remove")
    assert names() == ["Crisp pixels"] and own(drive, "crab").pixels_per_unit == 32
    assert "differs in pixels per unit" in drive.at("Gauge").treatment.result.text()


def test_a_top_is_dragged_and_a_figure_stands_beside(drive) -> None:
    select(drive, "heron")
    line_up = face(drive, 0).line_up
    drive.choose("Stand beside", "wheel")
    assert line_up.rect_of("wheel").isValid()
    rect = line_up.rect_of("heron")
    top = QPointF(rect.right() + 14, rect.top()).toPoint()
    drag_over(line_up, top, top + QPoint(0, int(rect.height() / 2)))
    assert own(drive, "heron").pixels_per_unit == 32
    assert drive.undo_all() == 1
    for text, number in (("0", 1), ("-8", 1), ("99999", 4096)):
        drive.type_number("Pixels per unit", text)
        assert own(drive, "heron").pixels_per_unit == number
    drive.type_number("Pixels per unit", "sixteen")
    assert own(drive, "heron").pixels_per_unit == 4096, "the last good value stays"


def test_borders_are_guessed_dragged_and_tried(drive) -> None:
    select(drive, "ledger")
    borders = face(drive, 3)
    drive.press("Guess")
    piece = lambda: drive.project.sheet("ledger").pieces[0]  # noqa: E731
    assert piece().borders == Borders(5, 5, 5, 5)
    drive.type_number("Border at left", "14")
    assert "cross" in drive.window.frame.notice.text and piece().borders.left == 5
    assert drive.seen(Stepper, "Border at left").value == 5
    drive.drag((5, 9), (7, 9))
    assert piece().borders == Borders(7, 5, 5, 5)
    drive.press("Sides and middle: Tiled")
    shown = borders._stretched.grab().toImage()
    in_lens = drive.window.frame.lens.picture.grab().toImage()
    drive.type_number("Width tried", "120")
    assert drive.window.frame.lens.picture.grab().toImage() != in_lens
    assert drive.window.frame.lens._title.text() == "120 × 40 px"
    assert borders._stretched.size_tried.width == 120
    corner = borders._stretched._place().bottomRight().toPoint()
    drag_over(borders._stretched, corner, corner - QPoint(40, 30))
    assert borders._stretched.size_tried.width < 120
    assert borders._stretched.grab().toImage() != shown
    drive.press("None")
    assert piece().borders is None


def test_a_piece_swings_with_its_frames_over_it(drive) -> None:
    select(drive, "heron", 1)
    pivots = face(drive, 1)
    shown = drive.canvas.grab().toImage()
    drive.press("All frames over it")
    assert drive.canvas.grab().toImage() != shown
    drive.press("Swing it")
    swinging = drive.window.frame.lens.picture.grab().toImage()
    drive.wait_for(lambda: drive.window.frame.lens.picture.grab().toImage() != swinging)
    drive.window.router.turn_face(0)
    assert not pivots.swing.timer.isActive() and drive.window.frame.lens.picture.instead is None


def test_a_normal_map_lights_what_it_belongs_to(open_window, tmp_path: Path) -> None:
    drive = open_window(None)
    drive.window.pictures.gather([RAW / "fen_ground.png", RAW / "fen_ground_normal.png"])
    drive.wait_for(lambda: len(drive.project.sheets) == 2)
    drive.wait_for(lambda: not drive.window.jobs.running)
    drive.press("Take all as seen")
    assert drive.project.sheet("fen_ground_normal").belongs is not None
    select(drive, "fen_ground", 0)
    lens = drive.window.frame.lens
    dark = lens.picture.grab().toImage()
    QTest.mouseClick(lens.lit, LEFT)
    first = lens.picture.grab().toImage()
    QTest.mouseMove(lens.picture, QPoint(240, 60))
    assert dark != first != lens.picture.grab().toImage()
    small = read_picture(RAW / "fen_ground_normal.png")[:-4]
    (drive.window.desk.folder / "art").mkdir(parents=True, exist_ok=True)
    companion = drive.project.sheet("fen_ground_normal")
    size = companion.sources[0].size._replace(height=len(small))
    path = write_picture(drive.window.desk.folder / "art" / "small.png", np.array(small))
    path_inside = "art/small.png"
    other = replace(companion.sources[0], size=size, path=path_inside, content=_hash(path))
    drive.window.desk.do(
        "Changed it outside",
        lambda p: replace(
            p,
            sheets=tuple(replace(s, sources=(other,)) if s is companion else s for s in p.sheets),
        ),
    )
    lens.picture.grab()
    drive.window.watch.look()
    assert any(finding.code == "companion-size" for finding in drive.window.watch.findings)


def _hash(path: Path) -> str:
    from rushweed.core.gather.pictures import content_hash

    return content_hash(path.read_bytes())


def test_a_size_is_set_by_how_high_a_figure_stands(drive) -> None:
    select(drive, "heron")
    face(drive, 0)
    tall = drive.project.sheet("heron").pieces[0].rect.height
    drive.type_number("Height of its first piece", "1.25")
    assert own(drive, "heron").pixels_per_unit == round(tall / 1.25)
    shown = drive.seen(Stepper, "Height of its first piece").value
    assert shown == pytest.approx(tall / own(drive, "heron").pixels_per_unit, abs=1e-3)
    assert drive.undo_all() == 1


def test_a_large_sheet_is_tried_where_one_looks_and_wholly_when_asked(
    drive: Driver, tmp_path: Path
) -> None:
    noise = np.random.default_rng(3).integers(0, 255, (210, 210, 4), np.uint8)
    large = np.ascontiguousarray(noise.repeat(10, 0).repeat(10, 1))
    large[1000:, :, 3] = 255
    (tmp_path / "large.png").write_bytes(encode_png(large))
    drive.drop(tmp_path / "large.png")
    drive.station(3)
    select(drive, "large")
    look = face(drive, 2)
    choice = Compression("BC1")
    asked = drive.button("Try all")
    assert asked.isVisible()
    click_row(look, choice)
    canvas: Any = drive.canvas
    canvas.centre_on(Rect(980, 980, 60, 60), 4)
    drive.wait_for(lambda: canvas._treated is not None)
    drive.settle()
    assert look.costs.costs == {} and asked.isVisible(), "all the rest waits"
    place = Point(1009, 1009)
    words = canvas.pixel_words(place)
    whole = replace(own(drive, "large"), compression=choice)
    *_, (_, treated) = treat(large, whole)
    for picture in (large, treated.picture):
        red, green, blue = picture[1009, 1009][:3]
        assert f"#{red:02X}{green:02X}{blue:02X}" in words
    QTest.mouseClick(asked, LEFT)
    assert not asked.isVisible() and drive.window.jobs.shown()
    QTest.mouseClick(drive.button("stop"), LEFT)
    drive.settle()
    assert asked.isVisible(), "it can be asked for again"


def test_figures_stand_in_groups_of_one_pixel_size_and_a_head_selects_its_sheets(
    drive: Driver,
) -> None:
    desk = drive.window.desk
    desk.do("Set", lambda p: set_pixels_per_unit(p, ("crab", "eel"), 8))
    desk.do("Set", lambda p: set_pixels_per_unit(p, ("heron",), 32))
    line_up = face(drive, 0).line_up
    groups = dict(line_up.groups())
    assert list(groups) == [16, 8, 32], "what most share stands first"
    lefts = [groups[number].left() for number in groups]
    assert lefts == sorted(lefts) and line_up.rect_of("crab").left() >= groups[8].left()
    QTest.mouseClick(line_up, LEFT, pos=groups[8].center().toPoint())
    assert desk.selection.sheets == ("crab", "eel")
    desk.select(replace(desk.selection, sheets=tuple(s.name for s in drive.project.sheets)))
    drive.settle()
    for sheet in ("fen_ground", "keeper", "crab", "heron"):
        assert line_up.rect_of(sheet).right() <= line_up.width(), "all of them stand in sight"
    desk.do("Set", lambda p: set_pixels_per_unit(p, ("crab", "eel", "heron"), 16))
    assert line_up.groups() == []


def test_points_are_named_dragged_and_frames_tell_events(drive: Driver) -> None:
    select(drive, "heron", 0)
    face(drive, 1)
    before = drive.project
    heron = drive.project.sheet("heron").pieces[0]
    drive.type_text("Events of the frame", "flap, call")
    drive.press("Add a point")
    drive.type_text("Name of the point", "beak")
    drive.type_number("Point across", "4")
    drive.type_number("Point down", "6")
    piece = drive.project.sheet("heron").pieces[0]
    drive.assert_slip_fits()
    assert piece.events == ("flap", "call") and piece.points == (FramePoint("beak", 4, 6),)
    at = heron.rect.x + 4, heron.rect.y + 6
    drive.drag(at, (at[0] + 3, at[1] + 2))
    [beak] = drive.project.sheet("heron").pieces[0].points
    assert (beak.x, beak.y) == (7, 8)
    assert drive.project.sheet("heron").pieces[0].pivot == heron.pivot, "the pivot stays"
    drive.type_text("Name of the point", ",")
    assert "without a comma" in drive.window.frame.notice.text
    drive.press("Drop it")
    assert drive.project.sheet("heron").pieces[0].points == ()
    drive.undo_all()
    assert drive.project is before
