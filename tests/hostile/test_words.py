"""What is typed on the command line or into a field without sense: one sentence, no traceback."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

import pytest

from rushweed.core.cut.steadying import FARTHEST, nudge
from rushweed.core.processes import at_most
from rushweed.core.project import files
from rushweed.core.values import Point
from rushweed.core.weave.hand import Act
from rushweed.ui.shell.controls import Field
from tests.core.test_cli import run
from tests.driving import Driver, type_into
from tests.hostile import tried

LONG = "n" * 300
PLACES = (LONG, "/proc/1/root", "/dev/null", "/dev/null/x", "/proc/x", "d/" * 3000, "a\x1b[31mb")
VERBS = (
    ("check", "{}"),
    ("new", "{}", "art.png"),
    ("new", "made", "{}"),
    ("build", "{}", "--out", "made"),
    ("build", "{project}", "--out", "{}"),
    ("render", "{project}", "Heron pool", "--out", "{}/x.png"),
    ("render", "{project}", "{}", "--out", "x.png"),
    ("walk", "{project}", "Heron pool", "--keys", "{}"),
    ("rules", "{}"),
    ("inspect", "{}"),
    ("demo", "{}"),
)


@pytest.mark.parametrize("place", PLACES)
@pytest.mark.parametrize("words", VERBS, ids=" ".join)
def test_impossible_places_are_told(words, place, capsys, demo, tmp_path, monkeypatch) -> None:
    tried("impossible places and numbers on the command line")
    monkeypatch.chdir(tmp_path)
    (tmp_path / "art.png").write_bytes((demo / "art" / "keeper.png").read_bytes())
    asked = [word.replace("{project}", str(demo)).replace("{}", place) for word in words]
    status, _, told = run(capsys, *asked)
    assert status == 0 or (status == 1 and told.strip().endswith("."))
    assert "\x1b" not in told, "a name cannot steer the terminal"


def test_a_name_in_a_project_cannot_steer_the_terminal(capsys, demo: Path) -> None:
    project = files.load(demo)
    name = "fen\x1b[2J\x9b31m\u202egnp"
    sheets = (replace(project.sheets[0], name=name), *project.sheets[1:])
    files.save(replace(project, name=name, sheets=sheets, recipes=()), demo)
    for words in (("rules", demo), ("rules", demo, "--json"), ("check", demo, "--json")):
        _, told, _ = run(capsys, *words)
        assert told and not any(sign in told for sign in "\x1b\x9b\u202e")
        assert "--json" not in words or json.loads(told) is not None


@pytest.mark.parametrize("number", ["nan", "inf", "-inf", "-1", "1e308"])
@pytest.mark.parametrize(
    "words",
    [
        ("build", "{}", "--out", "made", "--jobs"),
        ("render", "{}", "Heron pool", "--out", "x.png", "--seconds"),
        ("watch", "{}", "--out", "made", "--builds", "1", "--every"),
        ("watch", "{}", "--out", "made", "--builds"),
        ("outline", "art.png", "--closeness"),
    ],
    ids=" ".join,
)
def test_numbers_that_cannot_be_are_wrong_use(words, number, capsys, demo) -> None:
    tried("impossible places and numbers on the command line")
    status, _, told = run(capsys, *[word.replace("{}", str(demo)) for word in words], number)
    assert status == 2 and words[-1] in told


def test_workers_are_no_more_than_the_machine_bears_and_end_with_their_parent(
    demo: Path, tmp_path: Path
) -> None:
    assert 1 <= at_most(100_000) <= (os.cpu_count() or 1)
    words = [sys.executable, "-m", "rushweed", "build", str(demo), "--out", str(tmp_path / "out")]
    parent = subprocess.Popen([*words, "--jobs", "100000"], stdout=subprocess.DEVNULL)
    workers: set[int] = set()
    while not workers and parent.poll() is None:
        workers = _children(parent.pid)
    assert len(workers) <= (os.cpu_count() or 1)
    parent.send_signal(signal.SIGKILL)
    parent.wait()
    for _ in range(1000):
        if not any(map(_runs, workers)):
            return
        time.sleep(0.01)
    raise AssertionError("somebody was left behind")


def _children(parent: int) -> set[int]:
    try:
        text = Path(f"/proc/{parent}/task/{parent}/children").read_text()
    except OSError:
        return set()
    return {int(number) for number in text.split()}


def _runs(process: int) -> bool:
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


@pytest.fixture
def weaving(open_window, demo: Path) -> Driver:
    """The demo in Weave."""
    drive: Driver = open_window(demo)
    drive.station(5)
    return drive


def test_a_stroke_again_with_nothing_in_hand_is_told(weaving: Driver) -> None:
    station: Any = weaving.window.router.stations["Weave"].at(0)
    before = weaving.project
    content = weaving.canvas.content
    weaving.canvas.pointer = Point(content.x + content.width / 2, content.y + content.height / 2)
    for hem in ("", "one that is gone"):
        station.hand.held.brush, station.hand.held.hem = None, hem
        station.hand.held.last = Act("stroke", ((0, 0), (1, 0)))
        weaving.press("Again")
        assert weaving.project is before and "Pick" in weaving.window.frame.notice.text


def test_a_layers_very_long_name_is_kept_and_drawn(weaving: Driver) -> None:
    name = "reed " * 80
    fields = weaving.window.findChildren(Field)
    field = next(f for f in fields if f.accessibleName() == "Name of the layer" and f.isVisible())
    type_into(field, name)
    index = weaving.window.desk.selection.layer
    assert weaving.project.levels[0].layers[index].name == name.strip()
    weaving.window.grab()
    assert weaving.window.width() <= 1280, "the window does not grow with it"


def test_a_frame_dragged_too_far_stays_where_it_may_be(weaving: Driver) -> None:
    number = weaving.project.sheet("keeper").pieces[0].number
    drag = weaving.window.desk.drag("Nudged 1 frame")
    for across in (FARTHEST, FARTHEST + 1):
        drag.to(partial(nudge, numbers=frozenset({number}), across=across, down=0))
    assert f"at most {FARTHEST} px" in weaving.window.frame.notice.text
    drag.end()
    found = weaving.project.find(number)
    assert found is not None and found[1].offset.x == FARTHEST
