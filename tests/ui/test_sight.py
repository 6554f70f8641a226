"""Sheets that wait are looked at beside the window, and nothing is decided before."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

import pytest

from rushweed.core.cut.gathering import add_sheets, doubtful, see, seen_before, take_in, waits
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.ui import seeing
from tests.conftest import RAW
from tests.ui.test_beside import Opens


@pytest.fixture
def waiting(tmp_path: Path) -> Path:
    """A project that was saved before anything of it was cut."""
    folder = tmp_path / "waiting"
    folder.mkdir()
    art = Art(folder)
    sheets = [take_in(art, [path]) for path in sorted(RAW.glob("*.png"))]
    project, _ = add_sheets(Project(), sheets)
    files.save(project, folder)
    return folder


def words_of(drive) -> dict[str, tuple[str, ...]]:
    return {card.sheet.name: card.sentences for card in drive.at("Gather")._cards._cards}


def test_a_project_opens_before_its_sheets_are_looked_at(
    open_window: Opens, waiting: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    looked: list[str] = []

    def slowly(art, sheet):
        looked.append(sheet.name)
        return see(art, sheet)

    monkeypatch.setattr(seeing, "see", slowly)
    drive = open_window(waiting)
    first = words_of(drive)
    assert any("is being looked at …" in words for words in first.values())
    drive.qtbot.waitUntil(lambda: not drive.window.jobs.running, timeout=20_000)
    drive.qtbot.waitUntil(
        lambda: not any("is being looked at …" in words for words in words_of(drive).values())
    )
    assert len(looked) == len(set(looked)), "each is looked at once"
    desk = drive.window.desk
    unsure = doubtful(desk.project, partial(see, desk.art))
    told = drive.at("Gather").kind.result.text()
    assert told.startswith(f"{len(unsure)} to look at")


def test_nothing_unsure_is_taken_before_it_was_looked_at(
    open_window: Opens, waiting: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(seeing.Sight, "seen", lambda sight, sheet: seen_before(sight._art, sheet))
    drive = open_window(waiting)
    desk = drive.window.desk
    names = tuple(sheet.name for sheet in desk.project.sheets)
    desk.select(replace(desk.selection, sheets=names))
    drive.press("Take all as seen")
    drive.qtbot.waitUntil(lambda: not drive.window.jobs.running, timeout=20_000)
    left = [sheet.name for sheet in desk.project.sheets if waits(sheet)]
    assert left == doubtful(desk.project, partial(see, desk.art)) != []
    assert any(isinstance(sheet.layout, EvenCells) for sheet in desk.project.sheets)
    drive.undo_all()
    assert all(waits(sheet) for sheet in desk.project.sheets)


def test_what_cannot_be_read_is_told_and_read_once_it_is_back(
    open_window: Opens, waiting: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(seeing, "RESTED", 0.3)
    sheet = files.load(waiting).sheets[0]
    path = waiting / sheet.sources[0].path
    data = path.read_bytes()
    path.unlink()
    drive = open_window(waiting)

    def told() -> str:
        return words_of(drive)[sheet.name][0]

    drive.qtbot.waitUntil(lambda: "is gone" in told(), timeout=20_000)
    path.write_bytes(data)
    drive.qtbot.wait(400)
    drive.window.router.shown.refresh()
    art = drive.window.desk.art
    drive.qtbot.waitUntil(lambda: seen_before(art, sheet) is not None, timeout=20_000)
    drive.qtbot.waitUntil(lambda: "is gone" not in told())


def test_where_nothing_is_plain_nothing_is_taken_and_a_sheet_that_left_is_forgotten(
    open_window: Opens, waiting: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(seeing.Sight, "seen", lambda sight, sheet: seen_before(sight._art, sheet))
    drive = open_window(waiting)
    desk = drive.window.desk
    unsure = doubtful(desk.project, partial(see, Art(waiting)))
    assert len(unsure) > 1
    desk.select(replace(desk.selection, sheets=tuple(unsure)))
    drive.press("Take all as seen")
    drive.settle()
    assert desk.history.earlier is None and not desk.unsaved
    cards = drive.at("Gather")._cards
    gone = next(iter(cards._unread))
    kept = tuple(sheet for sheet in desk.project.sheets if sheet.name != gone)
    desk.do("Removed", lambda p: replace(p, sheets=kept))
    assert gone not in cards._unread
