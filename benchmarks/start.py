"""From starting the process to the first painted window: the demo against a bare window."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from measuring import Result, ratio

VERSION = "import sys; from rushweed.__main__ import main; sys.exit(main())"
ROOT = Path(__file__).parent.parent

BARE = """
from PyQt6.QtWidgets import QApplication, QWidget
class Bare(QWidget):
    def paintEvent(self, event):
        QApplication.instance().quit()
application = QApplication([])
window = Bare()
window.resize(1280, 800)
window.show()
application.exec()
"""

DEMO = """
import sys
from pathlib import Path
from rushweed.core.bulk import in_bulk
with in_bulk():  # as the program does it
    from rushweed.ui import app
from rushweed.ui.settings import Settings
from PyQt6.QtCore import QEvent, QObject, QTimer
from PyQt6.QtWidgets import QApplication
class Watch(QObject):
    def eventFilter(self, watched, event):
        if event.type() == QEvent.Type.Paint and type(watched).__name__ == "LensPicture":
            QTimer.singleShot(0, QApplication.quit)
        return False
application = app.make_application()
watch = Watch()
application.installEventFilter(watch)
app.run(Path(sys.argv[1]), Settings(Path(sys.argv[2])))
"""


FRAME = """
import sys
from pathlib import Path
from rushweed.core.bulk import in_bulk
with in_bulk():  # as the program does it
    from rushweed.ui import app
from rushweed.ui.settings import Settings
from rushweed.ui.shell.opening import Opening
appear = Opening.appear
def end(opening):
    appear(opening)
    assert opening.painted
    sys.exit()
Opening.appear = end
app.run(Path(sys.argv[1]), Settings(Path(sys.argv[2])))
"""


def measure(folder: Path) -> list[Result]:
    # A start that compiles the program anew each time is nobody's start but the first.
    ours = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}

    def run(*words: str) -> None:
        subprocess.run([sys.executable, "-c", *words], check=True, cwd=ROOT, env=ours)

    settings = str(folder.parent / "settings.json")
    return [
        ratio(
            "The frame with trail, rack and table painted, against a bare PyQt6 window",
            lambda: run(FRAME, str(folder), settings),
            lambda: run(BARE),
            2,
            rounds=9,
        ),
        ratio(
            "`rushweed --version`, against `python -c pass`",
            lambda: run(VERSION, "--version"),
            lambda: run("pass"),
            3,
            rounds=9,
        ),
        ratio(
            "Window painted with the demo, against a bare PyQt6 window",
            lambda: run(DEMO, str(folder), settings),
            lambda: run(BARE),
            3.5,
            rounds=9,
        ),
    ]
