"""Pictures are saved outside while the window is open."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton

from rushweed.core.bound.facts import stand_on_foot
from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.gathering import cut_as
from rushweed.core.gather.pictures import read_picture
from rushweed.core.gather.sources import set_kind
from rushweed.core.project.drawing_sets import Hem, HemTile
from rushweed.core.project.files import load
from rushweed.core.project.level import bounds
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size
from rushweed.core.weave.drawing import Scene
from tests.driving import Driver
from tests.hands import LEFT, QTest
from tests.samples import write_picture
from tests.ui.test_counted import a_tree, frames

STEP = 17
"""Tiles of the ground lie 17 px apart, from 2 px in."""


@pytest.fixture
def drive(open_window, demo: Path):
    drive = open_window(demo)
    drive.window.outside.look()
    drive.settle()
    return drive


def with_a_row_on_top(ground: np.ndarray) -> np.ndarray:
    """The ground with three new tiles above, and one tile rubbed out."""
    strip = np.broadcast_to(ground[0, 0], (STEP, *ground.shape[1:])).copy()
    strip[:16, 2:53] = ground[2:18, 2:53][:, ::-1]
    strip[4:8, 4:8] = (200, 80, 40, 255)
    drawn = np.concatenate([ground[:2], strip, ground[2:]])
    drawn[2 + 4 * STEP : 18 + 4 * STEP, 2:18] = ground[0, 0]
    return drawn


def saved_outside(drive, path: Path, picture: np.ndarray) -> None:
    """Save a picture and wait until the window has noticed by itself."""
    write_picture(path, picture)
    drive.wait_for(lambda: bool(drive.window.frame.notice.text))
    drive.settle()


def level_pixels(drive) -> np.ndarray:
    project = drive.project
    level = project.level("Sluice house")
    area = bounds(level)
    tile = project.rules.tile
    view = type(area)(*(side * tile.width for side in area))
    return Scene(project, drive.window.desk.art).level(level, view)


def test_a_row_inserted_outside_leaves_the_painted_level_as_it_was(drive, demo: Path) -> None:
    before, pixels = drive.project, level_pixels(drive)
    art = demo / "art" / "fen_ground.png"
    saved_outside(drive, art, with_a_row_on_top(read_picture(art)))
    told = drive.window.frame.notice.text
    assert "fen_ground was saved outside" in told and "new" in told and "1 gone" in told
    drive.press("See what changed")
    changes = drive.at("Gather", 2)
    gone = next(s for s in changes._pictures.change.steps if s.how == "gone")
    drive.click(gone.old.rect.x + 8, gone.old.rect.y + 8)
    assert "is gone" in changes._pair.result.text()
    drive.press("gone")
    assert [step.how for step in changes._shown()] == ["gone"]
    drive.press("gone")
    new = next(s for s in changes._pictures.change.steps if s.how == "new")
    shift = changes._pictures.shift
    drive.click(new.new.rect.x + shift.x + 8, new.new.rect.y + shift.y + 8)
    assert "are they the same" in changes._pair.result.text()
    drive.press("They are the same")
    assert changes._pictures.change.count("gone") == 0
    drive.click(gone.old.rect.x + 8, gone.old.rect.y + 8)
    drive.press("Not the same")
    assert changes._pictures.change.count("gone") == 1
    drive.press("Take it in")
    assert drive.window.desk.history.words == "Took in fen_ground as saved outside"
    sheet = drive.project.sheet("fen_ground")
    old = {piece.number: piece for piece in before.sheet("fen_ground").pieces}
    for piece in sheet.pieces:
        if piece.number in old:
            was = old[piece.number]
            assert (piece.name, piece.pivot, piece.shapes) == (was.name, was.pivot, was.shapes)
            assert piece.rect.y == was.rect.y + STEP
    np.testing.assert_array_equal(level_pixels(drive), pixels)
    assert len(sheet.missing) == 1 and drive.window.outside.waiting() == []
    drive.window.menus.actions["project.save"].trigger()
    assert load(demo) == drive.project
    drive.window.menus.actions["edit.undo"].trigger()
    assert drive.project is before
    np.testing.assert_array_equal(level_pixels(drive), pixels)
    assert len(drive.window.outside.waiting()) == 1, "it waits again"


def test_a_new_block_is_offered_all_that_was_decided_about_the_one_it_resembles(
    drive, tmp_path: Path
) -> None:
    desk, tree = drive.window.desk, a_tree(16)
    drive.drop(write_picture(tmp_path / "tree.png", tree))
    layout = EvenCells(Size(16, 16))
    desk.do("Cut", lambda p: set_kind(cut_as(p, desk.art, "tree", layout), ("tree",), "tileset"))
    old = [piece.number for piece in drive.project.sheet("tree").pieces]
    hem = Hem("crown", tuple(HemTile(number, 16 + place) for place, number in enumerate(old)))

    def decide(project: Project) -> Project:
        project = stand_on_foot(project, frozenset(old))
        project = set_animation(project, "tree", "sway", old[:2], 4)
        return replace(project, hems=(*project.hems, hem))

    desk.do("Decided", decide)
    golden = tree[..., [1, 0, 2, 3]]
    art = drive.project.sheet("tree").sources[0].path
    saved_outside(drive, desk.folder / art, np.hstack([tree, golden]))
    drive.window.outside.take(drive.window.outside.waiting())
    drive.settle()
    assert "drawn like some that were decided about" in drive.window.frame.notice.text
    drive.press("Show them beside each other")
    pieces = {(p.column, p.row): p for p in drive.project.sheet("tree").pieces}
    new = {p.number for p in pieces.values()} - set(old)
    assert desk.selection.pieces == new and len(new) == len(old)
    drive.press("Carry over")
    pieces = {(p.column, p.row): p for p in drive.project.sheet("tree").pieces}
    for (column, row), piece in pieces.items():
        if column < 2:
            taker = pieces[column + 2, row]
            assert (taker.shapes, taker.facts) == (piece.shapes, piece.facts)
    sheet, (*_, taken) = drive.project.sheet("tree"), drive.project.hems
    assert [one.name for one in sheet.animations] == ["sway", "sway 2"]
    assert {tile.piece for tile in taken.tiles} == new and taken.name == "crown 2"
    assert not drive.at("Bound").carry.carried, "nothing is left to ask"
    drive.window.menus.actions["edit.undo"].trigger()
    assert len(drive.at("Bound").carry.carried) == len(new)
    drive.press("Leave them")
    assert not drive.at("Bound").carry.carried


LONG, RIGHT_TO_LEFT = "x" * 200, "شخصية_يمشي"


def stored(picture: Image.Image, form: str = "PNG") -> bytes:
    written = io.BytesIO()
    picture.save(written, form)
    return written.getvalue()


def rgba(picture: np.ndarray) -> Image.Image:
    return Image.fromarray(picture)


def art(kind: str) -> tuple[str, bytes, Size]:
    """A file's name and bytes, and the cells that it is cut into."""
    plain = frames(2, 4)
    thin = np.full((1, 8192, 4), 255, np.uint8)
    grey = np.asarray(rgba(plain).convert("L")).astype(np.uint16) * 257
    kinds: dict[str, tuple[str, Callable[[], bytes], Size]] = {
        "clear": ("clear.png", lambda: stored(rgba(np.zeros_like(plain))), Size(32, 32)),
        "one frame": ("one.png", lambda: stored(rgba(frames(1, 1))), Size(32, 32)),
        "many frames": ("many.png", lambda: stored(rgba(frames(20, 25))), Size(32, 32)),
        "a line": ("line.png", lambda: stored(rgba(thin)), Size(8, 1)),
        "16 bits": (f"{RIGHT_TO_LEFT}.png", lambda: stored(Image.fromarray(grey)), Size(32, 32)),
        "print": (f"{LONG}.jpg", lambda: stored(rgba(plain).convert("CMYK"), "JPEG"), Size(32, 32)),
        "palette": ("few.png", lambda: stored(rgba(plain).quantize(8)), Size(32, 32)),
    }
    name, make, cell = kinds[kind]
    return name, make(), cell


@pytest.mark.parametrize(
    "kind", ["clear", "one frame", "many frames", "a line", "16 bits", "print", "palette"]
)
def test_every_act_takes_it_or_says_why_not(
    kind: str, open_window: Callable[..., Driver], tmp_path: Path
) -> None:
    name, data, cell = art(kind)
    (tmp_path / name).write_bytes(data)
    drive = open_window()
    drive.drop(tmp_path / name)
    (sheet,) = drive.project.sheets
    desk = drive.window.desk
    desk.do("Cut", lambda p: cut_as(p, desk.art, sheet.name, EvenCells(cell)))
    drive.station(2)
    drive.press("Name all")
    drive.window.router.turn_face(1)
    drive.qtbot.wait(5)
    paper = drive.at("Cut", 1).line.paper
    for line in ("walk", "walk 1 at 12 once", "a 1-4, b 5-8", "x" * 300):
        paper.setFocus()
        paper.selectAll()
        QTest.keyClicks(paper, line)
        QTest.keyClick(paper, Qt.Key.Key_Return)
    for button in ("Feet", "Middle", "Body", "Common box around: All that is drawn", "As drawn"):
        found = [b for b in buttons(drive, button) if b.isEnabled()]
        for one in found[:1]:
            QTest.mouseClick(one, LEFT)
    drive.settle()
    for station, faces in ((3, 4), (4, 4), (5, 1), (7, 2)):
        drive.station(station)
        for face in range(faces):
            drive.window.router.turn_face(face)
            drive.qtbot.wait(5)
            for guess in buttons(drive, "Guess"):
                QTest.mouseClick(guess, LEFT)
    drive.settle()
    drive.window.watch.look()
    assert drive.project.sheets[0].layout == EvenCells(cell)
    desk.do("Named it", lambda p: replace(p, name="Fen"))
    drive.undo_all()
    assert drive.project.sheets == ()


def buttons(drive: Driver, name: str):
    every = drive.window.findChildren(QAbstractButton)
    return [b for b in every if b.isVisible() and name in (b.accessibleName(), b.text())]


def test_a_ninth_frame_is_told_and_taken_in_with_one_act_and_never_twice(
    open_window, tmp_path: Path
) -> None:
    drive = open_window()
    drawn = np.split(frames(1, 9), 9, axis=1)
    for place in range(8):
        write_picture(tmp_path / f"run_{place}.png", drawn[place])
    drive.drop(tmp_path)
    drive.press("Take it as seen")
    write_picture(tmp_path / "run_8.png", drawn[8])
    drive.window.activateWindow()
    drive.window.outside.look_soon()
    drive.wait_for(lambda: "1 new" in drive.window.frame.notice.text)
    drive.press("Take it in")
    (sheet,) = drive.project.sheets
    assert len(sheet.pieces) == 9 and sheet.animations[0].frames[-1] == sheet.pieces[-1].number
    drive.drop(tmp_path)
    assert [sheet.name for sheet in drive.project.sheets] == ["run"]
    assert "here already" in drive.window.frame.notice.text
    drive.window.desk.undo()
    assert len(drive.project.sheets[0].pieces) == 8
