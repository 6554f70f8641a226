"""Fresh settings for every test, a window that dies with it, and no dialog that could hang."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("QT_SCALE_FACTOR", "1")

import logging
import shutil
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import settings

settings.register_profile("steady", deadline=None, derandomize=True, max_examples=24)
settings.register_profile("quick", deadline=None, derandomize=True, max_examples=8)
settings.load_profile(os.environ.get("RUSHWEED_PROFILE", "steady"))

ROOT = Path(__file__).parent.parent
RAW = ROOT / "demo" / "raw"
DEMO = ROOT / "demo" / "lanternfen"


@pytest.fixture(autouse=True)
def own_home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing a test does reaches the user's folders."""
    home = tmp_path_factory.mktemp("home")
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(home / name.lower()))


@pytest.fixture(autouse=True)
def nothing_left_over(
    request: pytest.FixtureRequest, caplog: pytest.LogCaptureFixture
) -> Iterator[None]:
    """A test that logs what it does not expect, or leaves a thread at work, fails."""
    before = set(threading.enumerate())
    yield
    left = [thread.name for thread in set(threading.enumerate()) - before if not thread.daemon]
    assert not left, f"threads are left at work: {left}"
    if request.node.get_closest_marker("logs") is None:
        records = caplog.get_records("call")
        said = [r.getMessage() for r in records if r.levelno >= logging.WARNING]
        assert not said, f"nobody expected this to be logged: {said}"


@pytest.fixture
def demo(tmp_path: Path) -> Path:
    """A copy of the demo project to do things to."""
    folder = tmp_path / "lanternfen"
    shutil.copytree(DEMO, folder, ignore=shutil.ignore_patterns(".rushweed"))
    return folder


@pytest.fixture(scope="session")
def qapp_cls() -> type:
    """The application tells how long an event holds it; what stations need is brought in."""
    from rushweed.ui.ahead import bring_in
    from tests.heartbeat import BeatingApplication

    bring_in(threading.Event(), 0)

    return BeatingApplication


@pytest.fixture
def open_window(qtbot, request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Callable]:
    """Opens a window on a folder, or on a new project, and closes it without questions."""
    from PyQt6.QtWidgets import QApplication

    from tests.driving import Answers, Driver
    from tests.heartbeat import BeatingApplication

    drivers: list[Driver] = []

    def open_one(folder: Path | None = None) -> Driver:
        driver = Driver(qtbot, folder, tmp_path / "settings.json", Answers())
        drivers.append(driver)
        return driver

    application = QApplication.instance()
    assert isinstance(application, BeatingApplication)
    application.forget()
    yield open_one
    slow = [] if request.node.get_closest_marker("opens_projects") else application.too_long()
    for driver in drivers:
        driver.close()
    assert not slow, slow
