"""Measures all speeds and writes docs/speed.md. Run it where there is a display."""

from __future__ import annotations

import json
import os
import re
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

import growth
import memory
from measuring import Result
from parts import Place, in_window, without_window
from quiet import PATIENCE, Quiet

from rushweed.core.project import files
from rushweed.ui.application import make_application
from rushweed.ui.session import Session, settle_in
from rushweed.ui.settings import Settings

ROOT = Path(__file__).parent.parent
HEAD = """# Speed

Written by `benchmarks/run.py` (`xvfb-run -a -s "-screen 0 2600x1500x24" .venv/bin/python
benchmarks/run.py`). Every line compares with a reference in the same run, or gives the slow end of
many steps. Machines are noisy: read the ratios, not the milliseconds. Of three runs the middle one
is told, and between what figures its first one lay; what was measured once says so.

Each part of a run waits for the machine to be quiet, {patience} s at most. Around half of the parts
of each run a plain loop took at most {slow} times as long as at its best, around
the most disturbed {slowest} times; of what a processor can do, others took at
most {taken} meanwhile.

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
        Path(sys.argv[1]).write_text(json.dumps(once() if sys.argv[2:] == [ONCE] else measured()))
        return
    with tempfile.TemporaryDirectory() as place:
        files = [Path(place) / f"{number}.json" for number in range(1 + RUNS)]
        for file in files:
            more = [ONCE] if file is files[0] else []
            subprocess.run([sys.executable, __file__, str(file), *more], check=True)
        tell(files)


def tell(files: Sequence[Path]) -> None:
    """Write what was measured: once, and in several runs."""
    (held, curves), *runs = (json.loads(file.read_text()) for file in files)
    lines = zip(*(run["results"] for run in runs), strict=True)
    table = "".join(_line([Result(**body) for body in line]) for line in lines)
    told = HEAD.format(
        patience=PATIENCE,
        slow=", ".join(f"{statistics.median(run['slow']):.2f}" for run in runs),
        slowest=", ".join(f"{max(run['slow']):.2f}" for run in runs),
        taken=", ".join(f"{max(run['taken']):.1%}" for run in runs),
    )
    grown = "".join(_curve_line(growth.Curve(**body)) for body in curves)
    told += table + _line([Result(**held)]) + GROWTH.format(most=growth.MOST) + grown
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


def measured() -> dict[str, Any]:
    """All that is measured more than once, and how quiet the machine was meanwhile."""
    quiet = Quiet()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_STATE_HOME"] = os.environ["XDG_CACHE_HOME"] = folder
        place = Place(Path(folder))
        results = quiet.all_of(without_window(place))
        application = make_application()
        session = Session(Settings(Path(folder) / "settings.json"))
        settle_in(application, session)
        results += quiet.all_of(in_window(place, session))
        window = session.window
        assert window is not None
        window.projects.may_leave = lambda: True  # type: ignore[method-assign]
        window.close()
        session.end()
        application.quit()
    told = [asdict(result) for result in results]
    return {"results": told, "slow": quiet.slow, "taken": quiet.taken}


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
