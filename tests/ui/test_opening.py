"""The frame stands before anything is read, where the window will be, and gives way to it."""

from __future__ import annotations

import gc
import os
import subprocess
import sys
from pathlib import Path
from types import SimpleNamespace

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtWidgets import QApplication, QWidget

from rushweed.core.project.head import HEAD, glance
from rushweed.ui import ahead
from rushweed.ui.session import Session
from rushweed.ui.settings import Settings
from rushweed.ui.shell.opening import Opening, first_size
from tests.conftest import ROOT
from tests.driving import Answers
from tests.hands import LEFT, QTest
from tests.heartbeat import MOST, MOST_HELD, STEPS, BeatingApplication

FRAME_ALONE = """
import sys
from rushweed.ui import app
app.make_application()
large = {"numpy", "scipy", "PIL", "dataclasses", "inspect", "rushweed.ui.session"}
print(sorted(large & set(sys.modules)))
"""
WHOLE = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from rushweed.ui import app
from rushweed.ui.settings import Settings
application = app.make_application()
def leave():
    open_now = [type(one).__name__ for one in QApplication.topLevelWidgets() if one.isVisible()]
    if "Window" in open_now and "Opening" not in open_now:
        print(open_now)
        application.quit()
timer = QTimer()
timer.timeout.connect(leave)
timer.start(20)
sys.exit(app.run(Path(sys.argv[1]), Settings(Path(sys.argv[2]))))
"""


def in_a_process(program: str, *words: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-c", program, *words],
        cwd=ROOT,
        env={**os.environ, "PYTHONPATH": str(ROOT)},
        capture_output=True,
        text=True,
        timeout=60,
    )


def leave(session: Session) -> None:
    assert session.window is not None
    session.window.projects.may_leave = lambda: True  # type: ignore[method-assign]
    session.window.close()
    session.end()


def test_it_gives_way_when_the_window_is_painted(demo: Path, tmp_path: Path, qtbot) -> None:
    opening = Opening(Settings(tmp_path / "settings.json"), demo)
    opening.appear()
    session = Session(Settings(tmp_path / "settings.json"), Answers(), opening)
    window = session.open_folder(demo)
    qtbot.waitUntil(lambda: sip.isdeleted(opening))
    QTest.qWait(20)
    assert window.isVisible()
    leave(session)


def test_nothing_large_is_brought_in_before_the_frame() -> None:
    assert in_a_process(FRAME_ALONE).stdout.strip() == "[]"


def test_a_whole_start_ends_with_the_window_alone(demo: Path, tmp_path: Path) -> None:
    told = in_a_process(WHOLE, str(demo), str(tmp_path / "settings.json"))
    assert told.returncode == 0, told.stderr
    assert told.stdout.strip() == "['Window']"


def test_what_is_brought_in_ahead_may_fail_only_when_all_is_over(qapp, monkeypatch) -> None:
    left = ahead.Ahead(qapp, lambda: None)

    def fail(module: str) -> None:
        raise ImportError(module)

    monkeypatch.setattr(ahead, "import_module", fail)
    with pytest.raises(ImportError):
        left.bring_in()

    def end(module: str) -> None:
        qapp.aboutToQuit.emit()
        raise ImportError(module)

    monkeypatch.setattr(ahead, "import_module", end)
    left.bring_in()
    left.deleteLater()


def test_what_is_no_project_is_told_and_shows_no_frame(tmp_path: Path) -> None:
    told = in_a_process(WHOLE, str(tmp_path), str(tmp_path / "settings.json"))
    assert told.returncode == 1
    assert str(tmp_path) in told.stderr and "Traceback" not in told.stderr


def test_a_glance_does_not_wait_at_what_is_no_file(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / HEAD)
    assert glance(tmp_path) == (tmp_path.name, ())


class Slow(QWidget):
    """Works on for as long as so many plain loops when it is asked to."""

    def __init__(self, loops: float) -> None:
        super().__init__()
        self.loops = loops

    def customEvent(self, event: QEvent | None) -> None:
        whole = 0
        for step in range(round(self.loops * STEPS)):
            whole += step


def test_it_tells_what_took_too_long_and_only_that(qtbot) -> None:
    application = QApplication.instance()
    assert isinstance(application, BeatingApplication)
    widget = Slow(0.1)
    qtbot.addWidget(widget)
    for loops, held, told in ((0.1, False, 0), (3 * MOST, False, 1), (3 * MOST_HELD, True, 1)):
        application.forget()
        widget.loops = loops
        if held:
            QTest.mousePress(widget, LEFT)
        application.sendEvent(widget, QEvent(QEvent.Type.User))
        assert len(application.too_long()) == told, application.longest
        QTest.mouseRelease(widget, LEFT)
    application.forget()


class Leaving:
    """Takes long when it is collected, and then tells a widget."""

    def __init__(self, widget: Slow) -> None:
        self.me, self.widget = self, widget

    def __del__(self) -> None:
        sum(range(round(4 * MOST * STEPS)))
        QApplication.sendEvent(self.widget, QEvent(QEvent.Type.ParentChange))


class Dropping(QWidget):
    """Lets the collector run within an event."""

    def customEvent(self, event: QEvent | None) -> None:
        gc.collect()


def test_what_is_collected_meanwhile_does_not_count(qtbot) -> None:
    application = QApplication.instance()
    assert isinstance(application, BeatingApplication)
    told, dropping = Slow(0.1), Dropping()
    qtbot.addWidget(told)
    qtbot.addWidget(dropping)
    gc.collect()
    Leaving(told)
    application.forget()
    application.sendEvent(dropping, QEvent(QEvent.Type.User))
    assert not application.too_long(), application.longest


@pytest.mark.parametrize(
    ("room", "wanted"),
    [
        ((1920, 1040), (1280, 800)),
        ((1366, 738), (1280, 706)),
        ((1093, 584), (1093, 552)),
        ((910, 480), (910, 448)),
    ],
)
def test_the_first_window_fits_its_screen(
    qapp, monkeypatch: pytest.MonkeyPatch, room: tuple[int, int], wanted: tuple[int, int]
) -> None:
    screen = SimpleNamespace(availableSize=lambda: QSize(*room))
    monkeypatch.setattr(QApplication, "primaryScreen", lambda: screen)
    assert first_size() == QSize(*wanted)
