"""Art as it should not be goes through every act: something sensible happens, or a sentence."""

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

from rushweed.core.cut.gathering import cut_as
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size
from tests.driving import Driver
from tests.hands import QTest
from tests.ui.test_counted import frames

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
        "16 bits": ("deep.png", lambda: stored(Image.fromarray(grey)), Size(32, 32)),
        "print": ("print.jpg", lambda: stored(rgba(plain).convert("CMYK"), "JPEG"), Size(32, 32)),
        "palette": ("few.png", lambda: stored(rgba(plain).quantize(8)), Size(32, 32)),
        "long name": (f"{LONG}.png", lambda: stored(rgba(plain)), Size(32, 32)),
        "right to left": (f"{RIGHT_TO_LEFT}.png", lambda: stored(rgba(plain)), Size(32, 32)),
    }
    name, make, cell = kinds[kind]
    return name, make(), cell


KINDS = ["clear", "one frame", "many frames", "a line", "16 bits", "print", "palette"]
KINDS += ["long name", "right to left"]


@pytest.mark.parametrize("kind", KINDS)
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
            QTest.mouseClick(one, Qt.MouseButton.LeftButton)
    drive.settle()
    for station, faces in ((3, 4), (4, 4), (5, 1), (7, 2)):
        drive.station(station)
        for face in range(faces):
            drive.window.router.turn_face(face)
            drive.qtbot.wait(5)
            for guess in buttons(drive, "Guess"):
                QTest.mouseClick(guess, Qt.MouseButton.LeftButton)
    drive.settle()
    drive.window.watch.look()
    assert drive.project.sheets[0].layout == EvenCells(cell)
    desk.do("Named it", lambda p: replace(p, name="Fen"))
    drive.undo_all()
    assert drive.project.sheets == ()


def buttons(drive: Driver, name: str):
    every = drive.window.findChildren(QAbstractButton)
    return [b for b in every if b.isVisible() and name in (b.accessibleName(), b.text())]
