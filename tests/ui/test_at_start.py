"""The language and the size of type are chosen in a menu, or by the desktop, for the next start."""

from __future__ import annotations

import os
import subprocess
import sys
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtGui import QAction

from rushweed.ui import at_start
from rushweed.ui.at_start import FACTOR, SIZES, settle, system_size
from rushweed.ui.settings import Settings
from rushweed.ui.shell.hint import Hint
from tests.driving import Driver

SHOW = (
    "from rushweed.ui.at_start import *; settle(Settings(__import__('pathlib').Path({file!r})));"
    "from rushweed.ui.application import make_application as make; application = make();"
    "from PyQt6.QtCore import QCoreApplication as C;"
    "print(say('Undo'), C.translate('QPlatformTheme', 'Cancel'),"
    "application.devicePixelRatio())"
)


def chosen(drive: Driver, words: str) -> QAction:
    found = [action for action in drive.window.findChildren(QAction) if action.text() == words]
    assert len(found) == 1
    return found[0]


def started(file: Path, **speaking: str) -> list[str]:
    """What a new process says and how large, with these settings and this environment."""
    clean = {name: os.environ[name] for name in ("PATH", "HOME") if name in os.environ}
    done = subprocess.run(
        [sys.executable, "-c", SHOW.format(file=str(file))],
        env={**clean, "QT_QPA_PLATFORM": "offscreen", "LC_ALL": "C.UTF-8", **speaking},
        capture_output=True,
        text=True,
        check=True,
    )
    return done.stdout.split()


def test_a_language_and_a_size_that_are_chosen_hold_from_the_next_start(open_window) -> None:
    drive = open_window()
    file = drive.window.settings.keys_file.with_name("settings.json")
    assert started(file) == ["Undo", "Cancel", "1.0"]
    chosen(drive, "日本語").trigger()
    chosen(drive, "150 %").trigger()
    told = started(file)
    assert told[0] == "元に戻す" and told[1] != "Cancel" and told[2] == "1.5"
    chosen(drive, "Deutsch").trigger()
    assert started(file, LANGUAGE="ja")[0] == "Rückgängig"


@pytest.mark.parametrize(
    ("asked", "said"),
    [("de_AT.UTF-8", "Rückgängig"), ("en_GB:de", "Undo"), ("fr:ja:de", "元に戻す"), ("fr", "Undo")],
)
def test_the_system_says_which_language(tmp_path: Path, asked: str, said: str) -> None:
    assert started(tmp_path / "none.json", LANGUAGE=asked)[0] == said


def test_the_desktops_size_of_type_counts(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.delenv(FACTOR, raising=False)
    monkeypatch.setenv("XDG_CURRENT_DESKTOP", "KDE")
    assert system_size(lambda: "1.5") == 100
    monkeypatch.setenv("XDG_CURRENT_DESKTOP", "ubuntu:GNOME")
    for size in SIZES:
        assert system_size(partial(str, size / 100)) == size
    assert [system_size(partial(str, told)) for told in ("nan", "", "1e999")] == [100] * 3
    monkeypatch.setenv("PATH", str(tmp_path))  # nobody to ask
    settle(Settings(tmp_path / "settings.json"))
    assert FACTOR not in os.environ


def test_a_hint_stands_at_a_station_until_it_is_understood(open_window, tmp_path: Path) -> None:
    Settings(tmp_path / "settings.json").remember(hints=("Gather",))
    drive = open_window()
    hint = drive.window.findChild(Hint)
    assert not hint.isVisible()
    for number in (2, 3):
        drive.station(number)
        assert hint.isVisible()
    drive.press("Understood")
    drive.station(2)
    assert hint.isVisible()
    drive.station(3)
    assert not hint.isVisible()
    assert Settings(tmp_path / "settings.json").values.hints == ("Gather", "Gauge")


def test_processes_beside_it_speak_what_was_chosen(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("LANGUAGE", "de")
    monkeypatch.setattr(at_start, "speak", lambda _: None)  # this one goes on as it was
    settings = Settings(tmp_path / "settings.json")
    settle(settings)
    assert os.environ["LANGUAGE"] == "de"
    settings.remember(language="ja")
    settle(settings)
    assert os.environ["LANGUAGE"] == "ja"
