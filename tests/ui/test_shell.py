"""What surrounds the stations: trail, rack, finder, findings, undo, saving, opening, faults."""

from __future__ import annotations

import sys
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt, qInstallMessageHandler, qWarning
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLineEdit,
    QListView,
    QPushButton,
    QWidget,
)

from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project import files
from rushweed.core.project.project import with_sheet
from rushweed.core.project.sheet import Licence
from rushweed.core.values import Refusal
from rushweed.ui import log, session
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands import listed
from rushweed.ui.desk import open_project
from rushweed.ui.look.colours import DUSK, PAPER, Colours
from rushweed.ui.shell.faces import Tools
from rushweed.ui.shell.slip import SlipPage
from rushweed.ui.shell.trail import STATIONS
from rushweed.ui.stations.weave.overview import Overview
from tests.driving import Driver
from tests.hands import LEFT, SHIFT, QTest


@pytest.fixture
def drive(open_window, demo: Path) -> Driver:
    return open_window(demo)


def test_an_empty_project_teaches_at_every_station(open_window) -> None:
    drive = open_window()
    for number in range(1, 8):
        drive.station(number)
        for size in ((1024, 680), (1280, 800)):
            drive.window.resize(*size)
            assert not drive.window.grab().isNull()
    assert [stage.share for stage in drive.window.frame.trail.stages] == [0.0] * 7
    drive.answers.pictures = []
    drive.station(1)
    drive.press("Open pictures", drive.table)
    assert drive.project.sheets == () and drive.window.frame.notice.text == ""


def test_every_station_paints_in_both_themes_and_at_other_densities(drive: Driver) -> None:
    drive.window.switch_theme()
    for number in range(1, 8):
        drive.station(number)
        image = drive.window.grab().toImage()
        assert image.pixelColor(3, 200).lightness() < 80
    drive.window.switch_theme()
    assert drive.window.grab().toImage().pixelColor(3, 300).lightness() > 150


def contrast(one, other) -> float:
    """The contrast of two colours (WCAG 2.1, relative luminance)."""

    def linear(part: float) -> float:
        return part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4

    def luminance(colour) -> float:
        parts = [linear(part) for part in colour.getRgbF()[:3]]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("colours", [PAPER, DUSK])
def test_texts_stand_out_from_their_ground(colours: Colours) -> None:
    pairs = [
        (colours.ink, colours.paper), (colours.ink, colours.raised),
        (colours.soft_ink, colours.paper),
        (colours.soft_ink, colours.raised), (colours.on_ink, colours.ink),
        (colours.on_tide, colours.tide), (colours.tide_text, colours.tide_wash),
        (colours.rush_text, colours.rush_wash), (colours.ochre_ink, colours.ochre_wash),
        (colours.ochre_ink, colours.ochre_pale), (colours.on_rust, colours.rust),
    ]  # fmt: skip
    grounds = (colours.paper, colours.raised, colours.field, colours.tide_wash)
    pairs += [(ink, one) for ink in (colours.faint_ink, colours.soft_ink) for one in grounds]
    assert all(contrast(*pair) >= 4.5 for pair in pairs)


def test_nothing_is_cut_off_in_a_slip(drive: Driver) -> None:
    drive.window.resize(1024, 680)
    for number in range(7):
        drive.station(number + 1)
        for face in range(len(drive.window.router.stations[drive.window.router.station].names)):
            drive.window.router.turn_face(face)
            drive.qtbot.wait(5)
            page = drive.window.frame.slip.currentWidget()
            if isinstance(page, SlipPage):
                body, viewport = page.widget(), page.viewport()
                assert body is not None and viewport is not None
                assert body.minimumSizeHint().width() <= viewport.width(), (number, face)


def test_names_of_faces_have_room_however_narrow_the_window(drive: Driver) -> None:
    drive.window.setMinimumSize(0, 0)
    drive.window.resize(900, 500)
    bar = drive.window.frame.faces

    def have_room() -> bool:
        names = [name.geometry() for name in bar._buttons]
        starts = [name.left() for name in names] + [bar.width()]
        tools = bar._tools
        if isinstance(tools, Tools) and any(part.isVisible() for part in tools._parts):
            starts[-1] = tools.geometry().left()
        return all(after - name.right() > 4 for name, after in zip(names, starts[1:], strict=True))

    for number in range(7):
        drive.station(number + 1)
        for face in range(len(drive.window.router.stations[drive.window.router.station].names)):
            drive.window.router.turn_face(face)
            drive.wait_for(have_room)


def test_every_control_has_a_name_for_those_who_cannot_see_it(drive: Driver) -> None:
    for number in range(1, 8):
        drive.station(number)
        for kind in (QAbstractButton, QLineEdit):
            nameless = [
                w for w in drive.window.findChildren(kind)
                if w.isVisible() and not (w.accessibleName() or getattr(w, "text", str)())
            ]  # fmt: skip
            assert not nameless


def test_the_trail_opens_stations_by_click_and_key(drive: Driver) -> None:
    trail = drive.window.frame.trail
    for index, (name, _) in enumerate(STATIONS):
        QTest.mouseClick(trail, LEFT, pos=trail.tag_rect(index).center().toPoint())
        assert drive.window.router.station == name and trail.stages[index].name == name
        assert (
            drive.window.menus.actions[f"station.{name.lower()}"].shortcut().toString()
            == f"Ctrl+{index + 1}"
        )
    QTest.keyClick(trail, Qt.Key.Key_Left)
    assert drive.window.router.station == "Walk"
    drive.window.menus.actions["station.bound"].trigger()
    assert drive.window.router.station == "Bound"


def test_the_finder_goes_to_pieces_levels_and_actions(drive: Driver) -> None:
    finder = drive.window.finder
    finder.open()
    QTest.keyClicks(finder.field, "boat")
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    number = next(p.number for _, p in drive.project.pieces() if p.name == "boat")
    assert drive.window.desk.selection.pieces == {number}
    finder.open()
    QTest.keyClicks(finder.field, "heron pool")
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    assert (drive.window.router.station, drive.window.desk.selection.level) == (
        "Weave",
        "Heron pool",
    )
    finder.open()
    QTest.keyClicks(finder.field, "find")
    QTest.keyClick(finder.field, Qt.Key.Key_Down)
    QTest.keyClick(finder.field, Qt.Key.Key_Up)
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    assert finder.isHidden() and drive.window.frame.findings_list.isVisible()
    finder.open()
    QTest.keyClicks(finder.field, "no such thing at all")
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    assert finder.isVisible()
    finder.hide()


def test_findings_lead_to_their_place_and_are_counted_on_the_trail(drive: Driver) -> None:
    drive.window.desk.do("Set crab", lambda p: set_pixels_per_unit(p, ("crab",), 8))
    drive.window.desk.do(
        "Forgot", lambda p: with_sheet(p, "eel", lambda s: replace(s, licence=Licence()))
    )
    drive.window.watch.look()
    assert [stage.findings for stage in drive.window.frame.trail.stages] == [1, 0, 1, 0, 0, 0, 0]
    assert "2 findings" in drive.window.frame.findings_button.text()
    drive.station(6)
    QTest.mouseClick(drive.window.frame.findings_button, LEFT)
    drive.press("Show me")
    assert drive.window.router.station == "Gauge" and drive.window.desk.selection.sheets == (
        "crab",
    ), "what breaks the game comes before reminders"
    drive.press("Close")
    assert drive.window.frame.findings_list.isHidden()
    for name in ("crab", "heron"):
        drive.window.desk.do(
            "Forgot", lambda p, n=name: with_sheet(p, n, lambda s: replace(s, licence=Licence()))
        )
    drive.window.watch.look()
    drive.station(1)
    drive.window.watch.toggle()
    rows = [b for b in drive.window.frame.findings_list.findChildren(QPushButton) if b.isVisible()]
    shows = [b for b in rows if b.text().startswith("Show me")]
    assert len(shows) == 2, "one row a kind"
    seen = []
    for _ in range(4):
        QTest.mouseClick(shows[1], LEFT)
        seen.append(drive.window.desk.selection.sheets[0])
    assert len(set(seen[:3])) == 3 and seen[3] == seen[0] and shows[1].text() == "Show me 1 of 3"
    drive.window.watch.toggle()
    drive.undo_all()
    drive.window.watch.look()
    assert (
        drive.window.watch.findings == []
        and "No findings" in drive.window.frame.findings_button.text()
    )


def test_saving_and_leaving(drive: Driver, demo: Path, tmp_path: Path) -> None:
    drive.window.desk.do("Renamed", lambda p: replace(p, name="Fen"))
    drive.answers.about_changes = "stay"
    assert not drive.window.close() and drive.window.isVisible()
    drive.window.menus.actions["project.save"].trigger()
    assert files.load(demo).name == "Fen" and "saved" in drive.window._facts.button.text()
    drive.answers.folder = tmp_path / "elsewhere"
    drive.window.menus.actions["project.save_elsewhere"].trigger()
    assert drive.window.desk.folder == tmp_path / "elsewhere"
    assert files.load(tmp_path / "elsewhere") == drive.project
    art = drive.window.desk.art
    assert all(art.stored(sheet).any() for sheet in drive.project.sheets)
    drive.window.desk.do("Renamed", lambda p: replace(p, name="Fen again"))
    drive.answers.about_changes = "save"
    assert drive.window.close() and files.load(tmp_path / "elsewhere").name == "Fen again"


def test_a_project_is_open_in_one_window_and_others_say_so(
    drive: Driver, demo: Path, tmp_path: Path
) -> None:
    with pytest.raises(Refusal, match="open in another window"):
        open_project(demo)
    drive.answers.folder = demo
    drive.window.menus.actions["project.open"].trigger()
    assert "open in another window" in drive.window.frame.notice.text
    (tmp_path / "empty").mkdir()
    drive.answers.folder = tmp_path / "empty"
    drive.window.menus.actions["project.open"].trigger()
    assert "not a project" in drive.window.frame.notice.text and drive.project.name == "Lanternfen"
    drive.window.menus.actions["project.new"].trigger()
    assert drive.project.name == "Untitled"
    drive.answers.folder = demo
    drive.window.menus.actions["project.open"].trigger()
    assert drive.project.name == "Lanternfen", "the first window let it go"


def test_a_folder_that_may_not_be_written_is_opened_and_saved_elsewhere(
    open_window, demo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*args: object, **kwargs: object) -> None:
        raise PermissionError(13, "Permission denied")

    with monkeypatch.context() as patch:
        patch.setattr(Path, "mkdir", refuse)
        drive = open_window(demo)
    assert drive.window.desk.read_only and "read-only" in drive.window._facts.button.text()
    drive.window.desk.do("Renamed", lambda p: replace(p, name="Mine"))
    assert not drive.window.desk.save() and "another folder" in drive.window.frame.notice.text
    drive.answers.folder = tmp_path / "mine"
    drive.window.menus.actions["project.save"].trigger()
    assert files.load(tmp_path / "mine").name == "Mine" and files.load(demo).name == "Lanternfen"


@pytest.mark.logs
def test_a_fault_in_the_middle_is_told_and_the_project_is_safe(drive: Driver, capsys) -> None:
    before = drive.project
    drag = drive.window.desk.drag("Half done")
    drag.to(lambda p: replace(p, name="Half"))
    tell = session.tell_faults(drive.session)
    try:
        raise ZeroDivisionError("the pen broke")
    except ZeroDivisionError:
        tell(*sys.exc_info())
    assert "Something went wrong inside Rushweed (the pen broke)" in drive.window.frame.notice.text
    assert drive.project is before and "ZeroDivisionError" in capsys.readouterr().err


def test_the_rack_selects_many_and_the_keys_sheet_opens(drive: Driver) -> None:
    rows = drive.window.frame.rack.sheets.rows
    first, third = (rows.visualRect(rows.model().index(i, 0)).center() for i in (0, 2))
    QTest.mouseClick(rows.viewport(), LEFT, pos=first)
    QTest.mouseClick(rows.viewport(), LEFT, SHIFT, third)
    names = tuple(sheet.name for sheet in drive.project.sheets[:3])
    assert drive.window.desk.selection.sheets == names
    drive.window.show_keys()
    from rushweed.ui.shell.keys_sheet import KeysSheet

    [sheet] = drive.window.findChildren(KeysSheet)
    drive.press("Close", sheet)
    drive.wait_for(lambda: not drive.window.findChildren(KeysSheet))


def test_unsaved_work_is_offered_after_a_crash(open_window, demo: Path) -> None:
    drive = open_window(demo)
    drive.window.desk.do("Renamed", lambda p: replace(p, name="Nearly lost"))
    drive.window.projects.recovery.keep()
    drive.window.projects.recovery._writer.shutdown(wait=True)
    drive.window.desk.release()
    again = open_window(demo)
    assert again.project.name == "Lanternfen" and "ended before" in again.window.frame.notice.text
    again.press("Bring it back")
    assert again.project.name == "Nearly lost"
    again.window.menus.actions["project.save"].trigger()
    assert files.load(demo).name == "Nearly lost"
    again.close()
    third = open_window(demo)
    assert third.window.frame.notice.text == "", "what is saved is not offered again"


def test_groups_of_the_slip_fold_and_are_remembered(
    open_window: Callable[..., Driver], demo: Path
) -> None:
    drive = open_window(demo)
    drive.station(2)
    names = drive.at("Cut")._names
    assert names._pattern.isVisible()
    QTest.mouseClick(names.title, LEFT)
    assert not names._pattern.isVisible()
    drive.close()
    again = open_window(demo)
    again.station(2)
    names = again.at("Cut")._names
    assert not names._pattern.isVisible()
    QTest.mouseClick(names.title, LEFT)
    assert names._pattern.isVisible()


ASKING = {"All recipes …", "Write the bundle …", "Hand it out …", "Keep it fresh"}
"""Buttons that ask for a folder first, or go on by themselves."""


def test_no_button_of_an_empty_project_does_nothing_in_silence(open_window) -> None:
    """It cannot be pressed, or it does something, or it says what is missing."""
    drive = open_window()
    window = drive.window

    def seen() -> object:
        window.setFocus()
        drive.settle()
        return window.grab().toImage()

    silent = []
    for station in listed.STATIONS:
        window.router.open(station)
        for face in range(max(1, len(window.router.stations[station].names))):
            window.router.open(station, face)
            for button in drive.at(station, face).slip.findChildren(QPushButton):
                usable = button.isVisible() and button.isEnabled() and not button.isChecked()
                if usable and button.text() not in ASKING:
                    window.frame.notice.hide()
                    page = window.frame.slip.currentWidget()
                    page.ensureWidgetVisible(button)
                    before = seen()
                    button.click()
                    silent += [(station, face, button.text())] if seen() == before else []
                    window.router.open(station, face)
    assert not silent, silent


@pytest.mark.logs
def test_what_goes_wrong_is_written_down_for_its_owner_only_and_does_not_grow_for_ever(
    tmp_path: Path, qapp: QApplication
) -> None:
    before = log.logger.handlers[:]
    log.keep_log(tmp_path)
    try:
        log.logger.getChild("jobs").warning("The art is gone: %s", "fen.png")
        qWarning("a word of the toolkit")
        file = log.log_file(tmp_path)
        first, second = file.read_text("utf-8").splitlines()
        assert first.endswith("WARNING rushweed.jobs: The art is gone: fen.png")
        assert second.endswith("WARNING rushweed.qt: a word of the toolkit")
        for _ in range(5):
            log.logger.warning("x" * (log.LARGEST - 1000))
        kept = list(tmp_path.glob("rushweed.log*"))
        assert len(kept) == 1 + log.KEPT
        assert not any(one.stat().st_mode & 0o077 for one in kept)
    finally:
        qInstallMessageHandler(None)
        for handler in set(log.logger.handlers) - set(before):
            log.logger.removeHandler(handler)
            handler.close()
        log.logger.propagate = True


def test_the_focus_goes_to_all_that_can_be_clicked_on_every_face(drive: Driver) -> None:
    """With Tab alone; of things of which one is chosen to that one, and arrows do the rest."""
    window = drive.window
    for station in listed.STATIONS:
        window.router.open(station)
        for face in range(len(window.router.stations[station].names)):
            window.router.turn_face(face)
            drive.settle()
            wanted = {part for part in window.findChildren(QWidget) if can_be_clicked(part)}
            visited: set[QWidget] = set()
            window.setFocus()
            for _ in range(2 * len(wanted) + 20):
                QTest.keyClick(focused(window), Qt.Key.Key_Tab)
                visited.add(focused(window))
            chosen = {sibling for part in visited for sibling in siblings(part)}
            left = [one.accessibleName() for one in wanted - visited - chosen if one.isEnabled()]
            assert not left, f"{station}, {face}"


def focused(window: QWidget) -> QWidget:
    part = QApplication.focusWidget()
    return window if part is None else part  # an empty choice counts as nothing


def can_be_clicked(part: QWidget) -> bool:
    """The overview of a level is left out: *Go to* does what a click on it does."""
    kinds = (QAbstractButton, QLineEdit, QComboBox, QListView, Canvas)
    shown = part.isVisible() and part.isEnabled() and not isinstance(part, Overview)
    return isinstance(part, kinds) and shown


def siblings(part: QWidget) -> list[QAbstractButton]:
    group = part.group() if isinstance(part, QAbstractButton) else None
    return list(group.buttons()) if group is not None and group.exclusive() else []
