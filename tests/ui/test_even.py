"""Art is even on screens of any ratio: a drawn pixel is a whole number of the screen's own wherever
one looks at it. Measured on what is grabbed; the last test runs the others at other ratios."""

from __future__ import annotations

import os
import subprocess
import sys
from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QRect
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.cutting import cut
from rushweed.core.gather.sources import set_kind
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Rect, Size
from rushweed.ui.canvas.canvas import Canvas, draw_image, step_nearer
from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.canvas.images import from_image, to_image
from rushweed.ui.canvas.view import View, zoom_words
from tests.conftest import ROOT
from tests.driving import Driver
from tests.samples import write_picture

RATIOS = 1.25, 1.5
MARKED = 250, 3, 249


def marked(width: int, height: int) -> np.ndarray:
    """A picture every second pixel of which, across and down, has the mark's colour."""
    art = np.full((height, width, 4), 255, np.uint8)
    odd = (np.arange(height)[:, None] + np.arange(width)) % 2 == 0
    art[odd, :3], art[~odd, :3] = MARKED, (3, 90, 4)
    return art


def times(widget: QWidget, part: QRect | None = None) -> set[int]:
    """How many of the screen's pixels the marked ones have, across and down: all but those at the
    edges of what is shown, where a few are cut."""
    image = widget.grab(part or widget.rect()).toImage()
    hit = (from_image(image)[..., :3] == MARKED).all(-1)
    assert hit.any(), "nothing of it is seen"
    runs: Counter[int] = Counter()
    for lines in (hit, hit.T):
        edges = np.diff(np.pad(lines, ((0, 0), (1, 1))).astype(np.int8), axis=1)
        runs.update((np.nonzero(edges == -1)[1] - np.nonzero(edges == 1)[1]).tolist())
    usual = sum(runs.values()) / 12
    return {length for length, count in runs.items() if count > usual}


def test_a_table_at_every_step(qtbot, open_window) -> None:
    open_window()  # what paints stands on a whole application
    image = to_image(marked(40, 30))
    canvas = Canvas(lambda painter, canvas: draw_image(painter, canvas, image))
    qtbot.addWidget(canvas)
    canvas.resize(333, 222)
    canvas.show_content(Rect(0, 0, 40, 30))
    canvas.show()
    acts = [canvas.fit, *[lambda: step_nearer(canvas, 1)] * 3, lambda: step_nearer(canvas, -1)]
    acts += [lambda: canvas.set_view(canvas.view.moved(7, 3)), lambda: canvas.zoom_to(1)]
    for act in (*acts, lambda: canvas.zoom_to(1 / canvas.ratio)):
        act()
        shown = round(canvas.view.scale * canvas.ratio, 6)
        if act is not acts[-1]:
            assert times(canvas) == {int(shown)} and shown == int(shown), canvas.zoom_words


@pytest.fixture
def drive(open_window: Callable[[], Driver], tmp_path: Path) -> Driver:
    """Frames of 17 × 23 pixels and tiles of 16, cut, and a long picture that waits."""
    drive = open_window()
    for name, size in {"heron": (68, 23), "fen": (96, 64), "long": (530, 41)}.items():
        drive.drop(write_picture(tmp_path / f"{name}.png", marked(*size)))

    def all_cut(project: Project) -> Project:
        frames, tiles = EvenCells(Size(17, 23)), EvenCells(Size(16, 16))
        project = cut(project, "heron", frames, np.ones((23, 68), bool))
        project = set_kind(project, ("heron",), "sheet")
        project = cut(project, "fen", tiles, np.ones((64, 96), bool))
        return set_kind(project, ("fen",), "tileset")

    drive.window.desk.do("Cut", all_cut)
    return drive


def select(drive: Driver, sheet: str) -> None:
    desk = drive.window.desk
    pieces = frozenset(piece.number for piece in desk.project.sheet(sheet).pieces)
    desk.select(replace(desk.selection, sheets=(sheet,), pieces=pieces))


def test_wherever_art_is_seen(drive: Driver) -> None:
    frame, ratio = drive.window.frame, ratio_of(drive.window)
    gather: Any = drive.at("Gather")
    told = gather._scale.text()
    assert zoom_words(int(2 * ratio)) in told and "1 smaller" in told
    cards = gather._cards
    for card in cards._cards:
        (shown,) = times(cards, card.picture.toAlignedRect())
        assert shown == int(2 * ratio) or (card.sheet.name == "long" and shown < int(2 * ratio))
    for name in ("heron", "fen"):
        select(drive, name)
        drive.window.repaint()
        (strip,), (lens,) = times(frame.strip), times(frame.lens.picture)
        assert strip >= 2 and lens >= 2
    select(drive, "heron")
    drive.station(2)
    drive.window.router.turn_face(1)
    drive.press("Begin one")
    (lane,) = times(drive.at("Cut", 1).lanes)
    assert lane >= 2
    drive.station(5)
    tray: Any = drive.at("Weave").slip.tray.tray
    for steps in (0, 1, 1, -1, -1, -1):
        tray.zoom(steps)
        assert len(times(tray)) == 1
    tray._zoom_to(1.7)
    drive.canvas.set_view(View(1.7))
    drive.window.suit_screen()
    own = drive.canvas.view.scale * ratio
    assert len(times(tray)) == 1 and own == int(own), "the window came to another screen"


@pytest.mark.parametrize("ratio", RATIOS)
def test_the_same_at_other_ratios(ratio: float) -> None:
    command = [sys.executable, "-m", "pytest", "-q", "-p", "no:xdist", "-k", "not other", __file__]
    env = os.environ | {"QT_SCALE_FACTOR": str(ratio), "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(command, env=env, cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout
