"""A bundle that follows its project: what differs, what is served, and to whom."""

from __future__ import annotations

import http.client
import json
import subprocess
import sys
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.comparing import compare, read_manifest
from rushweed.core.bale.freshening import FreshBundle
from rushweed.core.bale.serving import BundleServer
from rushweed.core.bale.trimming import trims_of
from rushweed.core.bale.writing import write_bundle
from rushweed.core.bound.facts import change_facts
from rushweed.core.bound.shaping import set_shapes
from rushweed.core.cut.animations import find_animation
from rushweed.core.gather.art import Art, cut_out
from rushweed.core.gather.pictures import LEAST_EFFORT, Picture, content_hash
from rushweed.core.gauge.pivots import set_pivot
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.levels import set_cells
from tests.conftest import DEMO

Edit = Callable[[Project], Project]


def number(project: Project, sheet: str, name: str) -> int:
    return next(p.number for p in project.sheet(sheet).pieces if p.name == name)


def one(sheet: str, name: str, edit: Callable[[Project, frozenset[int]], Project]) -> Edit:
    return lambda project: edit(project, frozenset({number(project, sheet, name)}))


def shorter(project: Project) -> Project:
    keeper = project.sheet("keeper")
    first = keeper.animations[0]
    cut = replace(first, frames=first.frames[:1], holds=())
    changed = replace(keeper, animations=(cut, *keeper.animations[1:]))
    sheets = tuple(changed if s.name == "keeper" else s for s in project.sheets)
    assert find_animation(changed, first.name) is cut
    return replace(project, sheets=sheets)


EDITS: dict[str, tuple[Edit, set[tuple[str, str, str]]]] = {
    "nothing": (lambda p: p, set()),
    "a shape": (
        one("fen_ground", "boulder", lambda p, n: set_shapes(p, n, ())),
        {
            ("piece", "fen_ground/boulder", "changed"),
            ("level", "Long boardwalk", "changed"),
        },
    ),
    "a fact": (
        one("fen_ground", "boulder", lambda p, n: change_facts(p, n, cover=3)),
        {("piece", "fen_ground/boulder", "changed")},
    ),
    "a pivot": (
        one("heron", "heron_stand_1", lambda p, n: set_pivot(p, n, 3, 4)),
        {("piece", "heron/heron_stand_1", "changed")},
    ),
    "a level gone": (
        lambda p: replace(p, levels=p.levels[1:]),
        {("level", files.load(DEMO).levels[0].name, "gone")},
    ),
    "an animation": (
        shorter,
        {("animation", f"keeper/{files.load(DEMO).sheet('keeper').animations[0].name}", "changed")},
    ),
    "a ground": (
        one("fen_ground", "boulder", lambda p, n: change_facts(p, n, ground=3)),
        {("piece", "fen_ground/boulder", "changed"), ("level", "Long boardwalk", "changed")},
    ),
    "the walker": (
        lambda p: replace(p, walker=replace(p.walker, speed=9.0)),
        {("rules", "walker", "changed")},
    ),
}


@pytest.mark.slow
@pytest.mark.parametrize("what", EDITS)
@pytest.mark.parametrize("apart", [False, True])
def test_what_differs_is_what_was_changed_and_no_more(what: str, apart: bool) -> None:
    project, art, fresh = files.load(DEMO), Art(DEMO), FreshBundle()
    edit, expected = EDITS[what]
    recipe = Recipe("Game", levels_apart=apart)
    first = fresh.follow(project, art, recipe)
    second = fresh.follow(edit(project), art, recipe)
    assert (second is first) == (not expected)
    found = {(d.kind, d.name, d.how) for d in second.differences}
    assert found == expected
    assert all(d.words.endswith(".") for d in second.differences)
    pages = [name for name in second.files if name.startswith("page-")]
    assert all(second.files[name] == first.files[name] for name in pages)
    whole = make_bundle(edit(project), Art(DEMO), recipe, effort=LEAST_EFFORT)
    assert dict(second.files) == whole.files, "it is the bundle that is made of nothing else"


@pytest.mark.slow
def test_painted_cells_and_new_art_are_told(tmp_path: Path) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    level = project.levels[0]
    mud = number(project, "fen_ground", "mud")
    place = next(n for n, layer in enumerate(level.layers) if layer.cells.chunks)
    cells = level.layers[place].cells.painted({(3, 3): (mud, 0)})
    painted = set_cells(project, level.name, place, cells)
    without = replace(project, sheets=tuple(s for s in project.sheets if s.name != "crab"))
    for name, body in (("old", project), ("new", painted), ("less", without)):
        write_bundle(make_bundle(body, art, Recipe("Game")), tmp_path / name)
    old, new, less = (read_manifest(tmp_path / name) for name in ("old", "new", "less"))
    [only] = compare(old, new)
    assert only.kind == "level" and f"the layer {level.layers[place].name}" in only.words
    kinds = {(d.kind, d.how) for d in compare(old, less)}
    assert {("page", "changed"), ("piece", "gone"), ("level", "changed")} <= kinds
    words = [sys.executable, "-m", "rushweed", "diff", str(tmp_path / "old")]
    told = subprocess.run([*words, str(tmp_path / "new")], capture_output=True, text=True)
    assert told.returncode == 1 and told.stdout.splitlines() == [only.words, "1 difference"]
    same = subprocess.run([*words, str(tmp_path / "old"), "--json"], capture_output=True, text=True)
    assert (same.returncode, json.loads(same.stdout)) == (0, [])
    with pytest.raises(Refusal, match="no bundle"):
        read_manifest(tmp_path)


@pytest.fixture
def served(tmp_path: Path) -> Iterator[tuple[FreshBundle, BundleServer, Path]]:
    fresh, page = FreshBundle(), tmp_path / "page"
    page.mkdir()
    (page / "index.html").write_text("<p>here")
    (tmp_path / "secret.txt").write_text("secret")
    (page / "out.txt").symlink_to(tmp_path / "secret.txt")
    fresh.follow(files.load(DEMO), Art(DEMO), Recipe("Game"))
    server = BundleServer(fresh, page=page)
    yield fresh, server, page
    server.close()


def ask(server: BundleServer, path: str, **headers: str) -> tuple[int, bytes, dict[str, Any]]:
    host = server.address.removeprefix("http://").rstrip("/")
    connection = http.client.HTTPConnection(host, timeout=10)
    connection.request("GET", path, headers={k.replace("_", "-"): v for k, v in headers.items()})
    answer = connection.getresponse()
    found = answer.status, answer.read(), dict(answer.getheaders())
    connection.close()
    return found


def test_files_are_served_by_content_and_to_nobody_else(
    served: tuple[FreshBundle, BundleServer, Path],
) -> None:
    fresh, server, _ = served
    host = server.address.removeprefix("http://").rstrip("/")
    status, data, headers = ask(server, "/bundle/bundle.json")
    assert (status, data) == (200, fresh.edition.files["bundle.json"])
    assert ask(server, "/bundle/bundle.json", If_None_Match=headers["ETag"])[:2] == (304, b"")
    assert ask(server, "/")[1] == b"<p>here"
    assert ask(server, "/bundle/bundle.json", Origin=f"http://{host}")[0] == 200
    for more in ({"Origin": "https://example.org"}, {"Host": "example.org"}, {"Origin": "null"}):
        assert ask(server, "/bundle/bundle.json", **more)[0] == 403, more
    for path in ("/../secret.txt", "/%2e%2e/secret.txt", "/out.txt", "/bundle/../x", "/none", "/."):
        status, data, _ = ask(server, path)
        assert status == 404 and b"secret" not in data, path
    with pytest.raises(Refusal, match="taken"):
        BundleServer(fresh, int(host.rpartition(":")[2]))


@pytest.mark.slow
def test_the_verb_serves_every_save(demo: Path) -> None:
    words = [sys.executable, "-m", "rushweed", "serve", str(demo), "--editions", "2"]
    process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    address = process.stdout.readline()
    assert address.startswith("http://127.0.0.1:")
    assert process.stdout.readline() == "The bundle is there.\n"
    edit, _ = EDITS["a fact"]
    files.save(edit(files.load(demo)), demo)
    rest = process.communicate(timeout=60)[0]
    assert rest == "The piece fen_ground/boulder: its facts changed.\n" and not process.returncode


SIDE = 24
places = st.integers(-3, SIDE + 2)
rects = st.builds(Rect, places, places, st.integers(1, 12), st.integers(1, 12))
dots = st.tuples(st.integers(0, SIDE - 1), st.integers(0, SIDE - 1), st.integers(0, 255))
steps = st.lists(st.tuples(st.lists(dots, max_size=6), st.booleans()), min_size=1, max_size=5)


def sheet_of(art: Art, picture: Picture, cut: tuple[Rect, ...]) -> Sheet:
    data = picture.tobytes()
    art.put(data, picture)
    source = Source("art/dots.png", content_hash(data), Size(SIDE, SIDE))
    pieces = tuple(Piece(number, rect, Point(0, 0)) for number, rect in enumerate(cut, 1))
    return Sheet("dots", (source,), "loose", pieces=pieces)


@given(st.lists(rects, min_size=1, max_size=6).map(tuple), steps, st.booleans())
def test_trims_follow_a_picture(
    cut: tuple[Rect, ...], steps: list[tuple[list[tuple[int, int, int]], bool]], trimmed: bool
) -> None:
    art, picture = Art(Path()), np.zeros((SIDE, SIDE, 4), np.uint8)
    for drawn, moves in steps:
        picture = picture.copy()
        for x, y, value in drawn:
            picture[y, x] = value
        cut = (replace_first(cut, moves), *cut[1:])
        sheet, afresh = sheet_of(art, picture, cut), Art(Path())
        assert trims_of(art, sheet, trimmed) == trims_of(
            afresh, sheet_of(afresh, picture, cut), trimmed
        )
        again = replace(sheet, pieces=tuple(reversed(sheet.pieces)))
        assert trims_of(art, again, trimmed) == trims_of(art, sheet, trimmed)[::-1]


def replace_first(cut: tuple[Rect, ...], moves: bool) -> Rect:
    x, y, width, height = cut[0]
    return Rect(x + moves, y, width, height)


@given(st.lists(rects, min_size=1, max_size=4).map(tuple), st.lists(dots, max_size=12))
def test_what_is_kept_is_all_that_is_drawn_and_no_more(
    cut: tuple[Rect, ...], drawn: list[tuple[int, int, int]]
) -> None:
    """Laid back where it was kept from, it is the piece; each of its rims shows something."""
    art, picture = Art(Path()), np.zeros((SIDE, SIDE, 4), np.uint8)
    for x, y, value in drawn:
        picture[y, x] = value
    for rect, trim in zip(cut, trims_of(art, sheet_of(art, picture, cut), True), strict=True):
        piece = cut_out(picture, rect)
        kept = cut_out(picture, trim.box)
        assert trim.inside.rect == Rect(0, 0, *trim.box.size) and trim.inside.size == rect.size
        x, y = (int(at) for at in trim.inside.offset)
        laid = np.zeros_like(piece)
        laid[y : y + trim.box.height, x : x + trim.box.width] = kept
        assert (laid[..., 3] == piece[..., 3]).all()
        alpha = kept[..., 3]
        rims = alpha[0], alpha[-1], alpha[:, 0], alpha[:, -1]
        assert all(rim.any() for rim in rims) or (alpha.shape == (1, 1) and not piece[..., 3].any())
