"""What the guide promises of the window: what is selected changes, what is typed counts, every act
can be left, every key does what its tip says wherever the focus is."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size
from rushweed.ui.shell.stepper import Stepper
from tests.driving import Driver
from tests.hands import QTest
from tests.samples import write_picture


@pytest.fixture
def drive(open_window, demo: Path) -> Driver:
    return open_window(demo)


def figure(bob: int) -> np.ndarray:
    """Four frames of 16 px that stand on feet of different heights."""
    picture = np.zeros((16, 64, 4), np.uint8)
    for place in range(4):
        foot = 14 - (bob if place == 2 else 0)
        picture[4:foot, 16 * place + 4 : 16 * place + 11] = (40 + place, 90, 60, 255)
    return picture


@pytest.fixture
def two_sheets(open_window, tmp_path: Path) -> Driver:
    """A figure of two sheets, cut into frames of 16 px, each with an animation of its own."""
    driver = open_window()
    for name, bob in (("idle", 1), ("run", 2)):
        driver.drop(write_picture(tmp_path / f"{name}.png", figure(bob)))
        driver.settle()
    driver.station(2)
    choose(driver, "idle", "run")
    driver.type_number("Cell across", "16")
    driver.type_number("Cell down", "16")
    driver.settle()
    for name in ("idle", "run"):
        choose(driver, name)
        numbers = frozenset(piece.number for piece in driver.project.sheet(name).pieces)
        driver.window.desk.select(replace(driver.window.desk.selection, pieces=numbers))
        driver.press("Animations")
        driver.press("Begin one")
    choose(driver, "idle", "run")
    return driver


def choose(driver: Driver, *sheets: str) -> None:
    desk = driver.window.desk
    desk.select(replace(desk.selection, sheets=sheets, pieces=frozenset(), animation=""))


def pieces_of(driver: Driver, name: str):
    return driver.project.sheet(name).pieces


def test_what_is_done_for_all_is_done_for_all_selected_sheets(two_sheets: Driver) -> None:
    drive = two_sheets
    before = drive.project
    drive.press("Feet")
    for name in ("idle", "run"):
        assert any(piece.offset.y for piece in pieces_of(drive, name)), name
    drive.type_number("Rate of the animation", "11")
    assert {drive.project.sheet(n).animations[0].rate for n in ("idle", "run")} == {11}
    drive.press("All that is drawn")
    sizes = {piece.rect.size for name in ("idle", "run") for piece in pieces_of(drive, name)}
    assert Size(16, 16) not in sizes
    while drive.project is not before:
        drive.window.menus.actions["edit.undo"].trigger()
    drive.press("Pieces")
    desk = drive.window.desk
    numbers = frozenset(piece.number for _, piece in drive.project.pieces())
    desk.select(replace(desk.selection, pieces=numbers))
    drive.press("Grow")
    assert {piece.rect.size for _, piece in drive.project.pieces()} == {Size(18, 18)}
    assert "8 pieces" in desk.history.words
    drive.station(3)
    drive.press("Pivots")
    drive.press("By the feet of each")
    assert "8 pieces" in desk.history.words
    assert all(piece.pivot_set for _, piece in drive.project.pieces())


def test_what_is_typed_counts_where_it_is_what_was_guessed(open_window, tmp_path: Path) -> None:
    drive = open_window()
    drive.drop(write_picture(tmp_path / "cells.png", figure(1)))
    drive.settle()
    drive.station(2)
    across = drive.seen(Stepper, "Cell across")
    assert drive.project.sheets[0].layout is None
    guess = int(across.value or 32)
    if across.value is not None:
        assert across.edit.text() == "", "a guess does not look like what was set"
    drive.type_number("Cell across", str(guess))
    drive.settle()
    layout = drive.project.sheets[0].layout
    assert isinstance(layout, EvenCells) and layout.cell.width == guess
    assert across.edit.text() == str(guess)
    for name, number in (("Cell across", 12), ("Cell down", 9), ("Margin across", 1)):
        drive.type_number(name, str(number))
    for name, number in (("Margin down", 2), ("Gap across", 3), ("Gap down", 4)):
        drive.type_number(name, str(number))
    drive.settle()
    assert drive.project.sheets[0].layout == EvenCells(Size(12, 9), Size(1, 2), Size(3, 4))


def test_a_number_that_cannot_be_is_told(drive: Driver) -> None:
    drive.station(3)
    choose(drive, "heron")
    drive.type_number("Pixels per unit", "0")
    assert "from 1 to 4096: it is 1 now" in drive.window.frame.notice.text
