"""Measures all speeds and writes docs/speed.md. Run it where there is a display."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from dataclasses import asdict
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
many steps. Machines are noisy: read the ratios, not the milliseconds. Of three runs the middle one
is told, and between what figures its first one lay.

| what | measured | of three | target | |
| --- | --- | --- | --- | --- |
"""
RUNS = 3
FIGURE = re.compile(r"(?<![\w.])\d+(\.\d+)?")


def main() -> None:
    """Three runs, each a process of its own; with a file's name one run, written there."""
    if len(sys.argv) > 1:
        Path(sys.argv[1]).write_text(json.dumps([asdict(one) for one in measured()]))
        return
    runs = []
    with tempfile.TemporaryDirectory() as place:
        file = Path(place) / "results.json"
        for _ in range(RUNS):
            subprocess.run([sys.executable, __file__, str(file)], check=True)
            runs.append([Result(**body) for body in json.loads(file.read_text())])
    table = "".join(_line(results) for results in zip(*runs, strict=True))
    (ROOT / "docs" / "speed.md").write_text(HEAD + table, encoding="utf-8")
    print(table)


def measured() -> list[Result]:
    """All that is measured, once."""
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
        results += levels.measure_probing(window.desk.project)
        wide = Path(place) / "wide"
        shutil.copytree(folder / "art", wide / "art")
        results += levels.measure_levels(window, wide)
        results.append(canvas.measure_painting(window))
        results += canvas.measure_sheet(window, path)
        window.projects.may_leave = lambda: True  # type: ignore[method-assign]
        window.close()
        session.end()
        application.quit()
    return results


def _line(results: Sequence[Result]) -> str:
    """The middle one of several runs, and between what figures all of them lie."""
    low, middle, high = sorted(results, key=_figure)
    met = "met" if middle.met else "missed"
    told = f"{middle.measured} | {_figure(low):g} to {_figure(high):g}"
    return f"| {middle.what} | {told} | {middle.target} | {met} |\n"


def _figure(result: Result) -> float:
    """The first figure of what was measured."""
    found = FIGURE.search(result.measured)
    assert found is not None
    return float(found[0])


if __name__ == "__main__":
    main()
