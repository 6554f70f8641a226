"""What was found in pixels is found once, and never told of other pixels."""

from __future__ import annotations

import sqlite3
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.gathering import add_sheets, see, take_in
from rushweed.core.gather.archive import Archive
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import encode_png
from rushweed.core.gather.thumbnails import known_thumbnail, thumbnail
from rushweed.core.project import files
from rushweed.core.project.project import Project
from tests.conftest import RAW

SIDE = 38
Sitting = Callable[[Path], Art]
Form = bool | int | str | tuple[float, ...] | None
values = st.none() | st.booleans() | st.integers(-9, 9) | st.text(max_size=5)
steps = st.lists(st.tuples(st.sampled_from("abc"), values, st.booleans()), max_size=12)


@pytest.fixture
def sitting(monkeypatch: pytest.MonkeyPatch) -> Iterator[Sitting]:
    """Begins to work on a folder, with the one store of all sittings; small sheets count too."""
    monkeypatch.setattr("rushweed.core.gather.thumbnails.SMALL", 0)
    opened: list[Archive] = []

    def begin(folder: Path) -> Art:
        opened.append(Archive(folder.parent / "found.sqlite"))
        return Art(folder, keeps=True, archive=opened[-1])

    yield begin
    for archive in opened:
        archive.close()


def gathered(folder: Path, sitting: Sitting) -> Project:
    folder.mkdir()
    art = sitting(folder)
    project, _ = add_sheets(Project(), [take_in(art, [path]) for path in sorted(RAW.glob("*.png"))])
    files.save(project, folder)
    return project


@given(steps)
def test_the_first_value_of_a_key_stays_the_same_over_all_sittings(
    steps: list[tuple[str, Form, bool]],
) -> None:
    with tempfile.TemporaryDirectory() as place:
        store, first = Archive(Path(place) / "found.sqlite"), dict[str, Form]()
        for key, value, closes in steps:
            told = store.get(Form, ("key", key), lambda value=value: value, lambda: True)
            assert told == first.setdefault(key, value) and type(told) is type(first[key])
            if closes:
                store.close()
                store = Archive(Path(place) / "found.sqlite")
        store.close()


def test_what_was_found_in_a_file_that_changed_outside_is_not_kept(
    tmp_path: Path, sitting: Sitting
) -> None:
    folder = tmp_path / "project"
    project = gathered(folder, sitting)
    sheet = project.sheets[0]
    own = see(Art(folder), sheet)
    place = folder / sheet.sources[0].path
    stored, kept = place.read_bytes(), folder / ".rushweed"
    kept.rename(tmp_path / "away")  # as in a clone, which has no copies
    height, width = sheet.sources[0].size.height, sheet.sources[0].size.width
    place.write_bytes(encode_png(np.full((height, width, 4), 255, np.uint8)))
    other = sitting(folder)
    assert see(other, sheet) != own
    thumbnail(other, sheet, SIDE)
    place.write_bytes(stored)
    later = sitting(folder)
    assert known_thumbnail(later, sheet, SIDE) is None
    assert see(later, sheet) == own


def spoil(file: Path) -> None:
    file.write_bytes(b"no such store" * 400)


def leave_a_folder(file: Path) -> None:
    file.mkdir()


def hold(file: Path) -> sqlite3.Connection:
    other = sqlite3.connect(file)
    other.execute("CREATE TABLE other (one)")
    other.execute("BEGIN EXCLUSIVE")
    return other


def make_another_table(file: Path) -> None:
    other = sqlite3.connect(file)
    other.execute("CREATE TABLE found (one, two)")
    other.close()


def write_something_else(file: Path) -> None:
    with Archive(file) as store:
        store.keep(("key", "a"), b"{no JSON")


@pytest.mark.parametrize(
    "harm", [spoil, make_another_table, leave_a_folder, hold, write_something_else]
)
def test_a_store_that_cannot_be_used_is_not_in_the_way(
    tmp_path: Path, harm: Callable[[Path], object]
) -> None:
    file = tmp_path / "found.sqlite"
    held = harm(file)
    with Archive(file) as store:
        assert store.get(int, ("key", "a"), lambda: 3, lambda: True) == 3
        assert store.get(int, ("key", "b"), lambda: 4, lambda: True) == 4
    if isinstance(held, sqlite3.Connection):
        held.close()
    if harm is not leave_a_folder:
        with Archive(file) as store:
            store.keep("afresh", b"1")
            assert store.find("afresh") == b"1", "the next sitting can use it"


def test_what_nobody_asked_for_the_longest_goes_when_there_is_too_much(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = tmp_path / "found.sqlite"
    for day in range(20):
        monkeypatch.setattr("rushweed.core.gather.archive.time", lambda day=day: day * 90_000.0)
        with Archive(file, most=100) as store:
            store.keep(day, b"x" * 150_000)
            assert store.find(0) is not None, "it is asked for every day"
    with Archive(file, most=1) as store:
        store.keep("new", b"1")
        kept = [day for day in range(20) if store.find(day) is not None]
        assert kept == [0, *range(20 - len(kept) + 1, 20)] and 3 <= len(kept) <= 7
        assert store.find("new") == b"1"
        for number in range(600):
            store.keep(number, b"x" * 9_000)
    assert file.stat().st_size < 6_000_000, "it does not grow for ever"
