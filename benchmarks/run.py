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
from typing import Any

import baling
import canvas
import compressing
import following
import growth
import guessing
import holding
import levels
import loose
import matching
import memory
import outlining
import start
from measuring import Result
from PyQt6.QtTest import QTest

from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.ui.application import make_application
from rushweed.ui.session import Session, settle_in
from rushweed.ui.settings import Settings

ROOT = Path(__file__).parent.parent
WALK = ROOT / "demo" / "walks" / "to-the-beacon.txt"
HEAD = """# Speed

Written by `benchmarks/run.py` (`xvfb-run -a -s "-screen 0 2600x1500x24" .venv/bin/python
benchmarks/run.py`). Every line compares with a reference in the same run, or gives the slow end of
many steps. Machines are noisy: read the ratios, not the milliseconds. Of three runs the middle one
is told, and between what figures its first one lay; what was measured once says so.

| what | measured | of three | target | |
| --- | --- | --- | --- | --- |
"""
GROWTH = """
## Growth

How the time of an act grows with what it is done to: the exponent that fits best over the sizes at
which it takes at least 3 ms, 1 where it grows in proportion; at most {most:g} is wanted. Files are
read from a warm disk, and nothing is known from an earlier time.

| what | milliseconds, by size | exponent | |
| --- | --- | --- | --- |
"""
RUNS = 3
ONCE = "once"
FIGURE = re.compile(r"(?<![\w.])\d+(\.\d+)?")


def main() -> None:
    """Three runs, each a process of its own, and what is measured once. With a file's name one run
    is written there; with `once` after it, that."""
    if len(sys.argv) > 1:
        told = once() if sys.argv[2:] == [ONCE] else [asdict(one) for one in measured()]
        Path(sys.argv[1]).write_text(json.dumps(told))
        return
    runs = []
    with tempfile.TemporaryDirectory() as place:
        file = Path(place) / "results.json"
        subprocess.run([sys.executable, __file__, str(file), ONCE], check=True)
        held, curves = json.loads(file.read_text())
        for _ in range(RUNS):
            subprocess.run([sys.executable, __file__, str(file)], check=True)
            runs.append([Result(**body) for body in json.loads(file.read_text())])
    table = "".join(_line(results) for results in zip(*runs, strict=True))
    table += _line([Result(**held)])
    grown = "".join(_curve_line(growth.Curve(**body)) for body in curves)
    told = HEAD + table + GROWTH.format(most=growth.MOST) + grown
    (ROOT / "docs" / "speed.md").write_text(told, encoding="utf-8")
    print(told)


def once() -> list[Any]:
    """Memory and growth."""
    application = make_application()  # held, for what is drawn needs its fonts
    demo = files.load(ROOT / "demo" / "lanternfen")
    numbers = {piece.name: piece.number for piece in demo.sheet("fen_ground").pieces}
    curves = [asdict(curve) for curve in growth.measure(numbers)]
    application.quit()
    return [asdict(memory.measure()), curves]


def measured() -> list[Result]:
    """All that is measured, once."""
    with tempfile.TemporaryDirectory() as place:
        os.environ["XDG_STATE_HOME"] = os.environ["XDG_CACHE_HOME"] = place
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
        settle_in(application, session)
        held_demo = Path(place) / "held"
        shutil.copytree(folder, held_demo)
        held = holding.measure(session, held_demo)
        window = session.open_folder(folder)
        window.resize(1280, 800)
        QTest.qWait(300)
        while window.jobs.running or window.router.make_ahead():
            QTest.qWait(10)
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
    return [*results, *held]


def _line(results: Sequence[Result]) -> str:
    """The middle one of several runs, and between what figures all of them lie."""
    order = sorted(results, key=_figure)
    middle = order[len(order) // 2]
    met = "met" if middle.met else "missed"
    span = f"{_figure(order[0]):g} to {_figure(order[-1]):g}" if len(order) > 1 else "once"
    told = f"{middle.measured} | {span}"
    return f"| {middle.what} | {told} | {middle.target} | {met} |\n"


def _curve_line(curve: growth.Curve) -> str:
    pairs = zip(curve.sizes, curve.took, strict=True)
    told = ", ".join(f"{size}: {took * 1000:.0f}" for size, took in pairs)
    met = "met" if curve.exponent <= growth.MOST else "missed"
    return f"| {curve.what} | {told} | {curve.exponent:.2f} | {met} |\n"


def _figure(result: Result) -> float:
    """The first figure of what was measured."""
    found = FIGURE.search(result.measured)
    assert found is not None
    return float(found[0])


if __name__ == "__main__":
    main()
