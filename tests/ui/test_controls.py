"""The controls: typed, stepped, dragged, mixed."""

from __future__ import annotations

import json
import shutil
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QPushButton

from rushweed.core.project.ground_rules import choose_rules, rename_project
from rushweed.core.project.project import Project
from rushweed.ui.desk import Desk
from rushweed.ui.settings import Settings
from rushweed.ui.shell.binding import Bindings
from rushweed.ui.shell.controls import Check, Chips, Choice, Field
from rushweed.ui.shell.stepper import Stepper
from tests.conftest import DEMO
from tests.hands import LEFT, QTest, drag_over


@pytest.fixture
def stepper(qtbot) -> Any:
    made: Any = Stepper("Cell", "px", 1, 200)
    qtbot.addWidget(made)
    made.show()
    made.told, made.said = [], []
    made.limited.connect(made.said.append)
    made.entered.connect(made.told.append)
    return made


def typed(stepper: Stepper, text: str, key: Qt.Key = Qt.Key.Key_Return) -> None:
    stepper.edit.setFocus()
    stepper.edit.selectAll()
    QTest.keyClicks(stepper.edit, text)
    QTest.keyClick(stepper.edit, key)


def test_a_number_is_typed_as_arithmetic_and_kept_within_its_bounds(stepper) -> None:
    for text, value in (("133/7", 19), ("2*40", 80), ("999", 200), ("-5", 1), ("3.7", 4)):
        typed(stepper, text)
        assert stepper.value == value and stepper.edit.text() == str(value)
    assert stepper.said == [
        "Cell is from 1 to 200: it is 200 now.",
        "Cell is from 1 to 200: it is 1 now.",
    ]
    told = list(stepper.told)
    for text in ("seven", "1/0", ""):
        typed(stepper, text)
        assert stepper.value == 4 and stepper.edit.text() == "4", "the last good value stays"
    assert stepper.told == told
    stepper.edit.selectAll()
    QTest.keyClicks(stepper.edit, "12*3")
    assert stepper._unit_text() == "= 36"
    QTest.keyClick(stepper.edit, Qt.Key.Key_Escape)
    assert stepper.value == 4 and stepper._unit_text() == "px"


def test_a_guess_looks_like_one_until_it_is_typed(stepper) -> None:
    stepper.show_value(64, guessed=True)
    assert stepper.edit.text() == "" and stepper.edit.placeholderText() == "64"
    assert stepper.told == []
    typed(stepper, "64")
    assert stepper.told == [64] and stepper.edit.text() == "64", "what is typed counts"


def test_a_number_is_stepped_and_dragged(stepper) -> None:
    stepper.show_value(50)
    QTest.mouseClick(stepper, LEFT, pos=QPoint(stepper.width() - 6, 12))
    QTest.mouseClick(stepper, LEFT, pos=QPoint(stepper.width() - 24, 12))
    QTest.mouseClick(stepper, LEFT, pos=QPoint(stepper.width() - 24, 12))
    assert stepper.told == [51, 50, 49]
    QTest.keyClick(stepper.edit, Qt.Key.Key_Up)
    QTest.keyClick(stepper.edit, Qt.Key.Key_PageDown)
    assert stepper.told[-2:] == [50, 40]
    unit = QPoint(stepper.width() - 40, 12)
    drag_over(stepper, unit, unit + QPoint(20, 0))
    assert stepper.value == 45


def test_chips_checks_choices_and_fields_tell_only_what_the_user_did(qtbot) -> None:
    told: list[object] = []
    chips = Chips({"nearest": "Nearest", "linear": "Linear"})
    choice, field = Choice("Sheet", choices={7: "heron", 9: "crab"}), Field("Author")
    check = Check("Grid", told.append)
    for widget in (chips, choice, field, check):
        qtbot.addWidget(widget)
        widget.show()
    chips.entered.connect(told.append)
    choice.entered.connect(told.append)
    field.entered.connect(told.append)
    chips.show_value("linear")
    choice.show_value(9)
    check.show_value(None)
    assert check.checkState() == Qt.CheckState.PartiallyChecked
    field.show_value("Mara")
    assert told == [] and chips.value == "linear" and choice.currentText() == "crab"
    QTest.mouseClick(chips.buttons["nearest"], LEFT)
    QTest.mouseClick(check, LEFT)
    QTest.keyClick(choice, Qt.Key.Key_Up)
    field.setFocus()
    QTest.keyClicks(field, " Sedge")
    QTest.keyClick(field, Qt.Key.Key_Return)
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert told == ["nearest", True, 7, "Mara Sedge"]
    for widget in (chips, choice, field):
        widget.show_value(None)
    assert chips.value is None and choice.value is None
    assert field.placeholderText() == choice.placeholderText() == "differs"
    choice.offer({9: "crab", 4: "eel"})
    assert choice.value is None and len(told) == 4


def test_what_is_bound_shows_what_is_selected_and_sets_it(qtbot) -> None:
    desk = Desk(Path("pond"), Project("Pond"))
    refused: list[str] = []
    desk.refused.connect(refused.append)
    chosen = [desk.project]
    bound = Bindings(desk, lambda: [desk.project] if chosen else [], lambda: "the pond")
    field, check = Field("Name"), Check("y grows upwards")
    bound.bind(field, lambda p: p.name, rename_project, "Named {what} {value}")
    bound.bind(
        check, lambda p: p.rules.y_up, lambda p, up: choose_rules(p, y_up=up), "Turned {what}"
    )
    for control in (field, check):
        qtbot.addWidget(control)
        control.show()
    bound.show()
    assert field.text() == "Pond" and check.isChecked() and not desk.unsaved
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "Fen")
    QTest.keyClick(field, Qt.Key.Key_Return)
    QTest.mouseClick(check, LEFT)
    assert (desk.project.name, desk.project.rules.y_up) == ("Fen", False)
    desk.undo()
    assert desk.history.words == "Named the pond Fen"
    field.selectAll()
    QTest.keyClicks(field, " ")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert refused and field.text() == "Fen", "what is refused is told, and what is stays shown"
    chosen.clear()
    bound.show()
    assert not field.isEnabled() and field.text() == "" and not check.isChecked()


def test_settings_survive_a_broken_file(tmp_path: Path) -> None:
    file = tmp_path / "deep" / "settings.json"
    settings = Settings(file)
    settings.remember_project(DEMO)
    settings.remember_project(tmp_path)
    settings.remember_project(DEMO)
    assert Settings(file).values.recent == (str(DEMO), str(tmp_path))
    for text in ("", "[]", '{"recent": 5}', json.dumps({"theme": 3})):
        file.write_text(text)
        assert Settings(file).values.theme in ("Paper", "3")
    file.unlink()
    file.mkdir()
    Settings(file).remember(theme="Dusk")


def test_the_first_page_leads_to_the_demo_and_to_what_was_open_lately(
    open_window, demo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drive = open_window()
    mine = tmp_path / "moor"
    shutil.copytree(demo, mine)
    for folder in (tmp_path / "gone", mine):
        drive.session.settings.remember_project(folder)
    drive.close()
    drive.session.open_new()
    names = {one.text() for one in drive.window.findChildren(QPushButton)}
    assert "Open moor again" in names and "Open gone again" not in names
    drive.press("Open moor again")
    assert drive.window.desk.folder == mine and drive.project.name == "Lanternfen"
    drive.close()
    drive.session.open_new()
    monkeypatch.setattr("rushweed.demo.own_copy", lambda: demo)
    drive.press("Look around in the demo")
    assert drive.window.desk.folder == demo and drive.project.levels
