"""Bale in the window: a bundle that follows every edit."""

from __future__ import annotations

import http.client
import json
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtGui import QTextBlock
from PyQt6.QtWidgets import QApplication

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bound.shaping import set_shapes
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import LEAST_EFFORT
from rushweed.ui.look.colours import look
from tests.driving import Driver


def served(address: str, name: str) -> bytes:
    host = address.removeprefix("http://").split("/")[0]
    connection = http.client.HTTPConnection(host, timeout=10)
    connection.request("GET", f"/bundle/{name}")
    data = connection.getresponse().read()
    connection.close()
    return data


def test_a_bundle_is_kept_fresh_while_one_works_elsewhere(open_window, demo: Path) -> None:
    drive: Driver = open_window(demo)
    drive.station(7)
    drive.press("Keep it fresh")
    drive.press("Copy")
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    address = clipboard.text()
    assert address.startswith("http://127.0.0.1:") and address.endswith("/bundle/")
    recipe, art = drive.project.recipes[0], Art(demo)
    made = make_bundle(drive.project, art, recipe, effort=LEAST_EFFORT).files
    assert served(address, "bundle.json") == made["bundle.json"]
    drive.station(4)
    fresh = drive.at("Bale").keep_fresh
    boulder = next(p for p in drive.project.sheet("fen_ground").pieces if p.name == "boulder")
    desk = drive.window.desk
    for shapes in ((), None):
        number = fresh.edition.number
        desk.do("Shaped it", lambda p, s=shapes: set_shapes(p, frozenset({boulder.number}), s))
        drive.wait_for(lambda n=number: fresh.edition.number > n)
        told = json.loads(served(address, "bundle.json"))
        piece = next(p for p in told["pieces"] if p["number"] == boulder.number)
        assert piece["shapes"] == (None if shapes is None else [])
    assert fresh.edition.differences[0].name == "fen_ground/boulder"
    drive.station(7)
    drive.settle()
    drive.assert_slip_fits()
    assert "boulder" in fresh.result.text() or "outlines" in fresh.result.text()
    drive.press("Keep it fresh")
    with pytest.raises(OSError):
        served(address, "bundle.json")
    drive.press("Keep it fresh")
    again = fresh._address.text()
    drive.type_number("Largest side", "16")
    drive.wait_for(lambda: fresh.result.property("role") == "warning")
    assert served(again, "bundle.json"), "the last whole one is kept"
    drive.close()
    with pytest.raises(OSError):
        served(again, "bundle.json")


def test_a_part_goes_in_and_what_is_over_budget_is_told(open_window, demo: Path) -> None:
    drive: Driver = open_window(demo)
    drive.station(7)
    drive.type_text("Only levels", "Heron pool")
    drive.type_text("Only sheets", "crab, eel")
    recipe = drive.project.recipes[0]
    assert recipe.only_levels == ("Heron pool",) and recipe.only_sheets == ("crab", "eel")
    drive.type_text("Only sheets", "crab, none such")
    assert "no sheet “none such”" in drive.window.frame.notice.text
    assert drive.project.recipes[0] is recipe
    drive.type_number("At most on disk", "3")
    drive.settle()
    assert "more than the 3 it may" in drive.at("Bale").part.result.text()
    drive.type_number("At most on disk", "9000")
    drive.settle()
    assert not drive.at("Bale").part.result.text()
    drive.assert_slip_fits()
    drive.undo_all()
    assert drive.project.recipes[0].most_kib == 0


def test_a_template_is_coloured_by_what_its_parts_do(open_window, demo: Path) -> None:
    drive = open_window(demo)
    drive.station(7)
    drive.window.router.turn_face(1)
    editor = drive.at("Bale", 1).editor
    editor.setPlainText("a {{ name }} {% if x %}\nb {# not\nyet #} c {{ 'in' }}")
    lines = [editor.document().findBlockByNumber(number) for number in range(3)]

    def coloured(line: QTextBlock) -> list[tuple[str, str]]:
        formats = line.layout().formats()
        return [
            (
                line.text()[one.start : one.start + one.length],
                one.format.foreground().color().name(),
            )
            for one in formats
        ]

    for theme in range(2):
        colours = look.colours
        tide, rush, grey, red = (
            colour.name() for colour in (colours.tide, colours.rush, colours.soft_ink, colours.red)
        )
        first, second, third = map(coloured, lines)
        assert first == [
            ("{{ name }}", tide), ("{% ", rush), ("if", rush), (" x %}", rush)
        ]  # fmt: skip
        assert second == [("{# not", grey)]
        assert third == [("yet #}", grey), ("{{ ", tide), ("'in'", red), (" }}", tide)], theme
        drive.window.switch_theme()
        drive.settle()


def test_very_large_bundles_are_made_when_somebody_asks(
    open_window, demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from rushweed.ui.stations.bale import making

    monkeypatch.setattr(making, "UNASKED", 1000)
    drive = open_window(demo)
    drive.station(7)
    assert drive.at("Bale").making.bundle is None
    drive.press("Make the pages")
    assert drive.at("Bale").making.bundle is not None
    drive.window.desk.do("Renamed", lambda p: replace(p, name="Fen"))
    drive.settle()
    assert b'"Fen"' in drive.at("Bale").manifest(), "asked once, it is made from then on"
