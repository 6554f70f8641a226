"""Projects edited by hand, wrongly: a sentence, or a project that everything else can live with."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rushweed.core.bale.building import build_all
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.values import Refusal
from rushweed.core.walk.probes import probe
from rushweed.core.walk.replay import read_walk, replay
from rushweed.core.walk.walker import Ground

WALK = Path(__file__).parents[2] / "demo" / "walks" / "to-the-beacon.txt"
GONE = object()
JUNK: list[Any] = [GONE, None, True, "", "x" * 300, "../up", [], [[]], {}]
JUNK += [-1, 0, 1, 7, 65_536, 2**40, -2.5, 0.001, 1e300, float("nan")]


def spots(node: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The way to every value in a file; of long lists, to the first few."""
    items = node.items() if isinstance(node, dict) else enumerate(node)
    for key, part in list(items)[:8] if isinstance(node, list) else items:
        yield (*at, key)
        if isinstance(part, (dict, list)):
            yield from spots(part, (*at, key))


def spoil(path: Path, choose: Any) -> None:
    """Put junk in one place of a file, any depth as likely as any other."""
    body = json.loads(path.read_text())
    ways = list(spots(body))
    depth = choose(st.sampled_from(sorted({len(way) for way in ways})))
    way = choose(st.sampled_from([way for way in ways if len(way) == depth]))
    junk, node = choose(st.sampled_from(JUNK)), body
    for key in way[:-1]:
        node = node[key]
    if junk is GONE:
        del node[way[-1]]
    else:
        node[way[-1]] = junk
    path.write_text(json.dumps(body))


@given(st.data())
@settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
def test_one_wrong_value_ends_in_a_sentence_or_in_a_project_that_works(
    demo: Path, tmp_path: Path, data: st.DataObject
) -> None:
    paths = [demo / "project.rushweed", *sorted(demo.glob("*/*.json"))]
    path = data.draw(st.sampled_from(paths))
    whole = path.read_bytes()
    try:
        spoil(path, data.draw)
        wrong = path.read_bytes()
        try:
            project = files.load(demo)
        except Refusal as refusal:
            assert str(refusal).endswith(".") and path.read_bytes() == wrong
            return
        files.save(project, tmp_path / "copy")
        assert files.load(tmp_path / "copy") == project, "nothing is lost on the way"
        art = Art(demo)
        find_all(project, art)
        if project.levels:
            level = data.draw(st.sampled_from(project.levels)).name
            _works_or_says(lambda: probe(project, level, art))
            _works_or_says(lambda: replay(Ground(project, level), read_walk(WALK.read_text())))
        _works_or_says(lambda: build_all(project, demo, tmp_path / "out"))
    finally:
        path.write_bytes(whole)


def _works_or_says(act: Any) -> None:
    try:
        act()
    except Refusal as refusal:
        assert str(refusal).endswith(".")
