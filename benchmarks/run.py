"""Measures all speeds and writes docs/speed.md. Run it where there is a display."""

from __future__ import annotations

import os
import shutil
import tempfile
from pathlib import Path

import baling
import canvas
import compressing
import following
import guessing
import levels
import loose
import matching
import outlining
import start
from measuring import Result
from PyQt6.QtTest import QTest

from rushweed.core.gather.art import Art
from rushweed.ui.app import Session, make_application
from rushweed.ui.settings import Settings

ROOT = Path(__file__).parent.parent
WALK = ROOT / "demo" / "walks" / "to-the-beacon.txt"
HEAD = """# Speed

Written by `benchmarks/run.py` (`xvfb-run -a -s "-screen 0 2600x1500x24" .venv/bin/python
benchmarks/run.py`). Every line compares with a reference in the same run, or gives the slow end of
many steps. Machines are noisy: read the ratios, not the milliseconds.

| what | measured | target | |
| --- | --- | --- | --- |
"""


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        os.environ["XDG_STATE_HOME"] = place
        folder = Path(place) / "lanternfen"
        shutil.copytree(ROOT / "demo" / "lanternfen", folder)
        results = start.measure(folder)
        path = canvas.large_sheet(Path(place))
        results.append(canvas.measure_loading(path, Art(Path(place) / "loading")))
        results += guessing.measure()
        results.append(loose.measure())
        results.append(matching.measure())
        results += compressing.measure()
        results += outlining.measure()
        bale_place = Path(place) / "baling"
        bale_place.mkdir()
        results += baling.measure(bale_place, folder)
        follow_place = Path(place) / "following"
        shutil.copytree(folder, follow_place)
        results += following.measure(follow_place)
        application = make_application()
        session = Session(Settings(Path(place) / "settings.json"))
        window = session.open_folder(folder)
        window.resize(1280, 800)
        QTest.qWait(300)
        results.append(levels.measure_walking(window.desk.project, WALK))
        results.append(levels.measure_probing(window.desk.project))
        wide = Path(place) / "wide"
        shutil.copytree(folder / "art", wide / "art")
        results += levels.measure_levels(window, wide)
        results.append(canvas.measure_painting(window))
        results += canvas.measure_sheet(window, path)
        window.projects.may_leave = lambda: True  # type: ignore[method-assign]
        window.close()
        session.end()
        application.quit()
    table = "".join(_line(result) for result in results)
    (ROOT / "docs" / "speed.md").write_text(HEAD + table, encoding="utf-8")
    print(table)


def _line(result: Result) -> str:
    met = "met" if result.met else "missed"
    return f"| {result.what} | {result.measured} | {result.target} | {met} |\n"


if __name__ == "__main__":
    main()
