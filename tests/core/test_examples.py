"""The example games' side: a Python walker, and a page in headless Chromium."""

from __future__ import annotations

import base64
import functools
import http.server
import io
import json
import queue
import random
import select
import shutil
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import numpy as np
import pytest
from PIL import Image

from rushweed.core.bale import serving
from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.freshening import FreshBundle
from rushweed.core.bale.handing_out import walk_page
from rushweed.core.bale.writing import write_bundle
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.body import Body, BodyKind
from rushweed.core.project.body import Path as BodyPath
from rushweed.core.project.facts import SIDES, Facts
from rushweed.core.project.feel import Following
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, with_level, with_pieces
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Colour, Point, Refusal
from rushweed.core.walk.course import Course
from rushweed.core.walk.motion import Keys
from rushweed.core.walk.picturing import picture_with_walker
from rushweed.core.walk.replay import replay
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Scene, view_around
from tests.conftest import DEMO, ROOT
from tests.core.test_depth import posed_props
from tools import write_conformance

pytestmark = pytest.mark.slow

LEVEL = "Long boardwalk"
FLAGS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-sync",
    "--disable-background-networking",
    "--disable-component-update",
)
RECIPES = (
    Recipe("Game", trimmed=True, turned=True, lasting=True, levels_apart=True),
    Recipe("One file", True, "units", "WebP", rows="plain", single_file=True),
)


class Answering(http.server.SimpleHTTPRequestHandler):
    """Serves a folder, and keeps what the page reports."""

    reports: queue.Queue[bytes]

    def do_POST(self) -> None:
        self.reports.put(self.rfile.read(int(self.headers["Content-Length"])))
        self.send_response(204)
        self.end_headers()

    def log_message(self, *_: object) -> None:
        """Say nothing."""


Served = tuple[Path, str, "queue.Queue[bytes]"]


def with_poses(project: Project) -> Project:
    """The demo with many a prop in a pose of its own about the start."""
    start = project.level(LEVEL).start
    assert start is not None
    props = tuple(
        replace(prop, x=prop.x + start.x - 70, y=prop.y + start.y - 80)
        for prop in posed_props(project, 12)
    )
    layer = Layer("Posed", props=props, opacity=0.7, tint=Colour(120, 255, 255))
    return with_level(project, LEVEL, lambda old: replace(old, layers=(*old.layers, layer)))


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Served]:
    """A folder with the page, served on this machine alone."""
    shutil.copytree(ROOT / "examples" / "browser", tmp_path, dirs_exist_ok=True)
    reports: queue.Queue[bytes] = queue.Queue()
    kind = type("Here", (Answering,), {"reports": reports})
    handler = functools.partial(kind, directory=tmp_path)
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield tmp_path, f"http://127.0.0.1:{server.server_port}/", reports
    server.shutdown()
    server.server_close()


def browser(folder: Path) -> list[str]:
    """The command that begins a browser whose own files lie in a folder."""
    found = shutil.which("chromium")
    assert found, "tools/prepare tests installs it"
    return [found, *FLAGS, f"--user-data-dir={folder / 'profile'}"]


@contextmanager
def browsing(address: str, folder: Path) -> Iterator[None]:
    """A browser shows a page meanwhile."""
    silent = subprocess.DEVNULL
    page = subprocess.Popen([*browser(folder), address], stdout=silent, stderr=silent)
    try:
        yield
    finally:
        page.kill()
        page.wait(30)


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda recipe: recipe.name)
def test_a_page_in_the_browser_draws_the_level_and_walks_on_its_outlines(
    served: Served, recipe: Recipe
) -> None:
    folder, address, reports = served
    project, art = with_poses(files.load(DEMO)), Art(DEMO)
    write_bundle(make_bundle(project, art, recipe), folder / "bundle")
    asked = urlencode({"level": LEVEL, "steps": 60})
    with browsing(f"{address}index.html?{asked}", folder):
        report = json.loads(reports.get(timeout=90))
    assert "problem" not in report, report
    data = base64.b64decode(report["picture"].split(",", 1)[1])
    drawn = np.asarray(Image.open(io.BytesIO(data)).convert("RGBA")).astype(int)
    level = project.level(LEVEL)
    assert level.start is not None
    expected = Scene(project, art).level(level, view_around(level.start, project.rules.resolution))
    assert np.abs(drawn - expected).max() <= 2, "but for the browser's own rounding of alpha"
    assert report["rested"] == [level.start.x, level.start.y, True]
    without_props = Ground(files.load(DEMO), LEVEL)
    path = replay(without_props, [Keys()] * 60 + [Keys(right=True)] * 60)
    assert report["walked"][2] and abs(report["walked"][0] - path[-1].x) < 2
    assert abs(report["walked"][1] - path[-1].y) < 2


def test_a_python_game_walks_on_the_outlines(tmp_path: Path) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    for recipe in RECIPES:
        write_bundle(make_bundle(project, art, recipe), tmp_path / recipe.name)
        command = [sys.executable, str(ROOT / "examples" / "walk_bundle.py")]
        command += [str(tmp_path / recipe.name), "--level", LEVEL, "--steps", "60"]
        told = subprocess.run(command, capture_output=True, text=True, check=True, env={"PATH": ""})
        end = json.loads(told.stdout)
        path = replay(Ground(project, LEVEL), [Keys(right=True)] * 60)
        assert end["stands"] and end["y"] == path[-1].y and abs(end["x"] - path[-1].x) < 2


def test_the_page_takes_every_edition_in_while_it_runs(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[str] = []
    monkeypatch.setattr(
        serving.Handler, "log_message", lambda self, form, *words: asked.append(str(words[0]))
    )
    project, art, fresh = files.load(DEMO), Art(DEMO), FreshBundle()
    fresh.follow(project, art, Recipe("Game"))
    server = serving.BundleServer(fresh, page=ROOT / "examples" / "browser")
    address = f"{server.address}index.html?{urlencode({'level': LEVEL, 'news': '/events'})}"

    def reads(of: str) -> int:
        return sum(f" {of} " in line for line in asked)

    def wait(so: Callable[[], bool]) -> None:
        until = time.monotonic() + 60
        while not so():
            assert time.monotonic() < until, asked
            time.sleep(0.05)

    with closing(server), browsing(address, tmp_path):
        wait(lambda: reads("/events") == 1)
        assert reads("/bundle/bundle.json") == 1
        faster = replace(project, walker=replace(project.walker, speed=9.0))
        fresh.follow(faster, art, Recipe("Game"))
        wait(lambda: reads("/bundle/bundle.json") == 2)
        assert reads("/events") == 1, "nothing was loaded anew but the bundle"


def test_a_python_game_takes_every_edition_in_while_it_runs() -> None:
    project, art, fresh = files.load(DEMO), Art(DEMO), FreshBundle()
    without = with_level(project, LEVEL, lambda level: replace(level, layers=level.layers[:1]))
    fresh.follow(project, art, Recipe("Game"))
    server = serving.BundleServer(fresh)
    command = [sys.executable, str(ROOT / "examples" / "walk_bundle.py"), server.address]
    command += ["--level", LEVEL, "--follow"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as game:
        assert game.stdout is not None
        heard: list[dict[str, Any]] = []
        with closing(server):
            for edition in (without, project, None):
                assert select.select([game.stdout], [], [], 60)[0], "it tells of each edition"
                heard.append(json.loads(game.stdout.readline()))
                if edition is not None:
                    fresh.follow(edition, art, Recipe("Game"))
        assert game.wait(30) == 0, "it ends when the server does"
    assert [told["floors"] > 0 for told in heard] == [True, False, True]
    assert [bool(told["words"]) for told in heard] == [False, True, True]


SAYS = """<script type="module">
const drawn = async () => {
  while (!document.body.dataset.ready) await new Promise((done) => setTimeout(done, 10));
  if (document.body.dataset.ready !== "yes") throw document.getElementById("told").textContent;
  return %s;
};
const body = JSON.stringify(await drawn().catch((problem) => ({ problem: String(problem) })));
fetch("%s", { method: "POST", mode: "no-cors", body });
</script></body>"""


def said_by_a_page(page: bytes, asked: str, served: Served) -> Any:
    """The value of a script in a page that is handed out and opened as a file, once it is drawn."""
    folder, address, reports = served
    file = folder / "walk.html"
    file.write_bytes(page.replace(b"</body>", (SAYS % (asked, address)).encode()))
    with browsing(file.as_uri(), folder):
        said = json.loads(reports.get(timeout=120))
    assert "problem" not in said, said
    return said


@pytest.mark.parametrize("seed", range(3))
def test_a_walk_that_is_handed_out_takes_the_very_same_steps(seed: int, served: Served) -> None:
    project, art, dice = files.load(DEMO), Art(DEMO), random.Random(seed)
    feel = replace(
        project.walker.feel, speed_up=0.2, in_air=0.3, falls=9, jumps=1, corner_correction=0.2
    )
    sharp = replace(
        project.walker, jump_buffer=0.1, coyote_time=0.1, variable_jump_height=True, feel=feel
    )
    project = replace(project, walker=sharp if seed else project.walker)
    level = ("Long boardwalk", "Sluice house", "Long boardwalk")[seed]
    project = with_valves(project, dice)
    project = with_level(project, level, partial(with_bodies, dice, project))
    names = ("left", "right", "up", "down", "jump", "run")
    runs: list[list[Any]] = [
        [dice.randrange(1, 40), *(name for name in names if dice.random() < 0.4)] for _ in range(50)
    ]
    keys = [Keys(**dict.fromkeys(held, True)) for count, *held in runs for _ in range(count)]
    path = replay(Ground(project, level), keys)[1:]
    asked = f"replay({json.dumps(runs)})"
    found = said_by_a_page(walk_page(project, level, art), asked, served)
    assert len({(m.x, m.y) for m in path}) > 100, "it gets about"
    for step, ((x, y, on, *_), motion) in enumerate(zip(found, path, strict=True)):
        assert (x, y, on) == (motion.x, motion.y, motion.on), step


@pytest.mark.parametrize(("level", "seed"), [("Long boardwalk", 5), ("Sluice house", 6)])
def test_a_walk_that_is_handed_out_shows_the_very_same_picture(
    level: str, seed: int, served: Served
) -> None:
    project, art, dice = files.load(DEMO), Art(DEMO), random.Random(seed)
    stays = Following(free_across=0.3, free_down=0.2, stays=seed == 6)
    project = replace(project, walker=replace(project.walker, following=stays))
    deep = {piece.number for piece in project.sheet("fen_ground").pieces if piece.shapes}
    facts = Facts(cover=1, wade=5)
    project = with_pieces(project, frozenset(deep), lambda piece: replace(piece, facts=facts))
    project = with_level(project, level, partial(with_bodies, dice, project))
    runs: list[list[Any]] = [[60, "right"], [20, "right", "jump"], [40, "left"], [9]]
    course = Course()
    course.prepare(project, level)
    for count, *held in runs:
        course.advance(Keys(**dict.fromkeys(held, True)), count)
    assert course.ground is not None
    view = course.view()
    expected = picture_with_walker(Scene(project, art), course.ground, course.motion, view)
    asked = f"await picture({json.dumps(runs)})"
    found = said_by_a_page(walk_page(project, level, art), asked, served)
    shown = np.array(found).reshape(expected.shape)
    assert np.abs(shown - expected.astype(int)).max() <= 2, "but for the browser's own rounding"


def with_valves(project: Project, dice: random.Random) -> Project:
    """One-way tiles that stop from whatever side, instead of from above."""

    def edit(piece: Piece) -> Piece:
        shapes = tuple(replace(s, side=dice.choice(SIDES)) for s in piece.shapes or ())
        return replace(piece, shapes=piece.shapes and shapes)

    one_way = {
        piece.number
        for _, piece in project.pieces()
        if any(shape.stops == "one-way" for shape in piece.shapes or ())
    }
    return with_pieces(project, frozenset(one_way), edit)


def with_bodies(dice: random.Random, project: Project, level: Level) -> Level:
    """A level with more that moves, in every way, about the walker's start."""
    assert level.start is not None
    block = next(piece for piece in project.sheet("fen_ground").pieces if piece.name == "mud")
    kinds: tuple[BodyKind, ...] = ("pushed", "falls", "travels", "hinged")
    props = []
    for number in range(12):
        far = Point(dice.randint(-60, 60), dice.randint(-40, 40))
        path = BodyPath(
            (far, Point(dice.randint(0, 50), 0)),
            dice.uniform(0.5, 3),
            dice.choice(("even", "eased")),
            dice.choice(("round", "there and back")),
        )
        x, y = level.start.x + dice.randint(-80, 200), level.start.y + dice.randint(-90, 10)
        props.append(Prop(block.number, x, y, body=Body(kinds[number % 4], path)))
    layers = (*level.layers, Layer("More", props=tuple(props)))
    return replace(level, layers=layers)


def test_levels_from_above_are_not_handed_out() -> None:
    with pytest.raises(Refusal, match="seen from above"):
        walk_page(files.load(DEMO), "Heron pool", Art(DEMO))


CASES = sorted(path.parent for path in write_conformance.PLACE.glob("*/asked.json"))


def test_the_conformance_bundles_are_those_that_are_built_now(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(write_conformance, "PLACE", tmp_path)
    write_conformance.main()
    kept = {p.relative_to(ROOT / "examples" / "conformance") for p in held_files(CASES[0].parent)}
    assert kept == {path.relative_to(tmp_path) for path in held_files(tmp_path)}
    for path in held_files(tmp_path):
        there = CASES[0].parent / path.relative_to(tmp_path)
        assert path.read_bytes() == there.read_bytes(), "run tools/write_conformance.py"


def held_files(folder: Path) -> list[Path]:
    return [path for path in folder.rglob("*") if path.is_file()]


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_the_python_reader_draws_the_conformance_bundles(case: Path, tmp_path: Path) -> None:
    asked, out = json.loads((case / "asked.json").read_text()), tmp_path / "drawn.png"
    command = [sys.executable, str(ROOT / "examples" / "read_bundle.py"), str(case)]
    command += ["--level", asked["level"], "--seconds", str(asked["seconds"]), "--out", str(out)]
    subprocess.run([*command, "--area", *map(str, asked["area"])], check=True, env={"PATH": ""})
    drawn, expected = (np.array(Image.open(p).convert("RGB")) for p in (out, case / "expected.png"))
    np.testing.assert_array_equal(drawn, expected)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_the_browser_reader_draws_the_conformance_bundles(case: Path, served: Served) -> None:
    folder, address, reports = served
    shutil.copytree(case, folder / "bundle")
    script = """import { Bundle, View } from "./bundle.js";
    const asked = await (await fetch("bundle/asked.json")).json();
    const bundle = await Bundle.load("bundle/"), [x, y, width, height] = asked.area;
    const view = new View(bundle, bundle.level(asked.level), width, height);
    const drawn = [...view.draw(x, y, asked.seconds).data];
    await fetch("report", { method: "POST", body: JSON.stringify({ drawn }) });"""
    page = f'<!doctype html><script type="module">{script}</script>'
    (folder / "conformance.html").write_text(page)
    with browsing(f"{address}conformance.html", folder):
        drawn = json.loads(reports.get(timeout=90))["drawn"]
    expected = np.array(Image.open(case / "expected.png").convert("RGBA")).astype(int)
    found = np.array(drawn).reshape(expected.shape)
    assert np.abs(found - expected).max() <= 2, "but for the browser's own rounding of alpha"
