"""The controls: typed, stepped, dragged, mixed."""

from __future__ import annotations

import json
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from rushweed.ui.jobs import Jobs
from rushweed.ui.settings import Settings
from rushweed.ui.shell.controls import Check, Chips, Choice, Field, ResultLine
from rushweed.ui.shell.stepper import Stepper
from tests.conftest import DEMO

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def stepper(qtbot):  # type: ignore[no-untyped-def]
    made = Stepper("Cell", "px", 1, 200)
    qtbot.addWidget(made)
    made.show()
    made.told = []
    made.stepped.connect(made.told.append)
    return made


def typed(stepper: Stepper, text: str, key: Qt.Key = Qt.Key.Key_Return) -> None:
    stepper.edit.setFocus()
    stepper.edit.selectAll()
    QTest.keyClicks(stepper.edit, text)
    QTest.keyClick(stepper.edit, key)


def test_a_number_is_typed_as_arithmetic_and_kept_within_its_bounds(stepper) -> None:  # type: ignore[no-untyped-def]
    for text, value in (("133/7", 19), ("2*40", 80), ("999", 200), ("-5", 1), ("3.7", 4)):
        typed(stepper, text)
        assert stepper.value == value and stepper.edit.text() == str(value)
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


def test_a_number_is_stepped_and_dragged(stepper) -> None:  # type: ignore[no-untyped-def]
    stepper.show_value(50)
    QTest.mouseClick(stepper, LEFT, pos=QPoint(stepper.width() - 6, 12))
    QTest.mouseClick(stepper, LEFT, pos=QPoint(stepper.width() - 24, 12))
    QTest.mouseClick(stepper, LEFT, pos=QPoint(stepper.width() - 24, 12))
    assert stepper.told == [51, 50, 49]
    QTest.keyClick(stepper.edit, Qt.Key.Key_Up)
    QTest.keyClick(stepper.edit, Qt.Key.Key_PageDown)
    assert stepper.told[-2:] == [50, 40]
    unit = QPoint(stepper.width() - 40, 12)
    QTest.mousePress(stepper, LEFT, pos=unit)
    QTest.mouseMove(stepper, unit + QPoint(20, 0))
    QTest.mouseRelease(stepper, LEFT, pos=unit + QPoint(20, 0))
    assert stepper.value == 45


def test_a_mixed_number_says_that_it_differs(stepper) -> None:  # type: ignore[no-untyped-def]
    stepper.show_value(None)
    assert stepper.edit.text() == "" and stepper.edit.placeholderText() == "differs"
    typed(stepper, "16")
    assert stepper.told == [16]


def test_chips_checks_choices_and_fields_tell_only_what_the_user_did(qtbot) -> None:  # type: ignore[no-untyped-def]
    told: list[object] = []
    chips, choice, field = Chips(["Nearest", "Linear"]), Choice("Sheet"), Field("Author")
    check = Check("Grid", told.append)
    for widget in (chips, choice, field, check):
        qtbot.addWidget(widget)
        widget.show()
    chips.chosen.connect(told.append)
    choice.picked.connect(told.append)
    field.finished.connect(told.append)
    chips.show_choice("Linear")
    choice.show_choices(["heron", "crab"], "crab")
    field.show_text("Mara")
    assert told == [] and chips.choice == "Linear" and choice.currentText() == "crab"
    QTest.mouseClick(chips.buttons["Nearest"], LEFT)
    QTest.mouseClick(check, LEFT)
    QTest.keyClick(choice, Qt.Key.Key_Up)
    field.setFocus()
    QTest.keyClicks(field, " Sedge")
    QTest.keyClick(field, Qt.Key.Key_Return)
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert told == ["Nearest", True, "heron", "Mara Sedge"]
    chips.show_choice("")
    choice.show_choices(["heron", "crab"], "differs")
    field.show_text(None)
    assert chips.choice == "" and choice.currentIndex() == -1
    assert field.placeholderText() == "differs"


def test_a_result_line_is_there_only_when_it_says_something(qtbot) -> None:  # type: ignore[no-untyped-def]
    line = ResultLine()
    qtbot.addWidget(line)
    line.tell("7 × 4 cells", warns=True)
    assert line.isVisibleTo(None) and line.property("role") == "warning"
    line.tell("")
    assert line.isHidden()


@pytest.mark.logs
def test_jobs_tell_progress_and_stop_when_asked(qtbot) -> None:  # type: ignore[no-untyped-def]
    from PyQt6.QtCore import QObject

    owner = QObject()
    jobs = Jobs(owner)

    def count(steps: int):  # type: ignore[no-untyped-def]
        for step in range(steps):
            yield (step + 1) / steps, f"step {step}", step

    told: list[object] = []
    jobs.progressed.connect(lambda share, words: told.append(words))
    jobs.start(lambda: count(3), told.append)
    qtbot.waitUntil(lambda: told[-1:] == [2])
    assert told == ["step 0", "step 1", "step 2", 2]

    def failing():  # type: ignore[no-untyped-def]
        yield 0.1, "begins", None
        raise ValueError("the pen broke")

    jobs.start(failing, told.append, told.append)
    qtbot.waitUntil(lambda: told[-1:] == ["the pen broke"])
    qtbot.waitUntil(lambda: not jobs.running)
    endless = jobs.start(lambda: count(10**9), told.append)
    qtbot.wait(5)
    jobs.stop_all()
    assert endless.isFinished() and 10**9 - 1 not in told
    late = jobs.start(lambda: count(3), told.append, ending=partial(told.append, "ended"))
    assert not late.isRunning() and late not in jobs.running and told[-1] == "ended"


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
