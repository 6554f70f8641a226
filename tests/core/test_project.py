"""The project as a value: history, files, saving as a whole."""

from __future__ import annotations

import errno
import json
import os
from collections.abc import Callable
from dataclasses import MISSING, fields, is_dataclass, replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from rushweed.core.bale.describing import describe
from rushweed.core.bale.manifest import Manifest
from rushweed.core.bale.pages import make_atlas
from rushweed.core.bound.facts import note_value
from rushweed.core.bound.shaping import full_box, set_shapes
from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_licence
from rushweed.core.gauge.pivots import set_anchor, set_pivot
from rushweed.core.gauge.treating import set_filter, set_pixels_per_unit
from rushweed.core.project import files
from rushweed.core.project.building import Doubtful, build
from rushweed.core.project.cells import Cells
from rushweed.core.project.checking import all_pieces
from rushweed.core.project.dumping import dumped, dumped_briefly
from rushweed.core.project.facts import Note
from rushweed.core.project.history import History
from rushweed.core.project.level import Level
from rushweed.core.project.lock import ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.project.reading import exactly
from rushweed.core.project.rules import GroundRules, Recipe, Treatment, Walker
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.text import rendered, to_json
from rushweed.core.values import Refusal, Size
from rushweed.core.weave.levels import add_level, set_cells, show_layer
from rushweed.core.weave.painting import single, stroke
from tests.samples import cells, projects


@given(projects())
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_saved_is_loaded(tmp_path: Path, project: Project) -> None:
    files.save(project, tmp_path)
    assert files.load(tmp_path) == project
    before = files.to_files(project)
    assert files.to_files(files.load(tmp_path)) == before


EDITS: list[Callable[[Project], Project]] = [
    lambda p: set_pixels_per_unit(p, tuple(s.name for s in p.sheets), 9),
    lambda p: set_filter(p, tuple(s.name for s in p.sheets), "linear"),
    lambda p: set_licence(p, tuple(s.name for s in p.sheets), identifier="mit", author="Mara"),
    lambda p: set_anchor(p, frozenset({1, 2, 11}), "Centre"),
    lambda p: set_pivot(p, frozenset({1}), x=5),
    lambda p: set_shapes(p, frozenset({1, 12}), (Shape(full_box(Size(4, 4))),)),
    lambda p: add_level(p)[0],
    lambda p: paint_first(p),
    lambda p: show_layer(p, p.levels[0].name, 0, False) if p.levels else p,
]


def paint_first(project: Project) -> Project:
    if not project.levels:
        return project
    level = project.levels[0]
    painted = stroke(level.layers[0].cells, single(1), (-40, 3), (40, 9))
    return set_cells(project, level.name, 0, painted)


@given(projects(), st.lists(st.sampled_from(EDITS), max_size=6))
def test_edits_leave_the_older_project_untouched_and_undo_brings_back_the_same_object(
    project: Project, edits: list[Callable[[Project], Project]]
) -> None:
    copy = files.to_files(project)
    history = History(project)
    versions = [project]
    for edit in edits:
        after = edit(history.project)
        history = history.do("an edit", after)
        if after is not versions[-1]:
            versions.append(after)
    assert files.to_files(project) == copy
    for version in reversed(versions[:-1]):
        history = history.undo()
        assert history.project is version
    assert history.undo() is history
    for version in versions[1:]:
        history = history.redo()
        assert history.project is version
    assert history.redo() is history
    other = History(project, "", None).do("another way", replace(project, name="Other"))
    assert other.undo().do("again", replace(project, name="Third")).later == ()


@given(cells, cells)
def test_cells_are_shared_and_read_back(first: Cells, second: Cells) -> None:
    assert Cells.from_rows(first.rows()) == first
    window = first.bounds()
    assert (first.window(window)[0] > 0).sum() == first.count()
    changed = first.painted({(500, 500): (3, 0)})
    assert all(changed.chunks[key] is chunk for key, chunk in first.chunks.items())
    assert first != changed and (first == second) is (first.rows() == second.rows())


def test_a_full_disk_changes_nothing(demo: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    project = files.load(demo)
    before = {path: path.read_bytes() for path in demo.rglob("*.json")}

    def full(handle: int) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr(os, "fsync", full)
        with pytest.raises(Refusal, match="disk is full, nothing was changed"):
            files.save(replace(project, name="Other"), demo)
    assert before == {path: path.read_bytes() for path in demo.rglob("*.json")}
    assert files.load(demo) == project


@pytest.mark.parametrize(
    ("name", "change", "words"),
    [
        ("project.rushweed", lambda d: d | {"format": 99}, "newer Rushweed"),
        ("project.rushweed", lambda d: {"name": "Fen"}, "no format number"),
        ("project.rushweed", lambda d: d | {"sheets": ["../heron"]}, "not a file name"),
        ("project.rushweed", lambda d: d | {"levels": ["lost"]}, "the file is gone"),
        ("project.rushweed", lambda d: d | {"rules": {"pixels_per_unit": 0}}, "pixels_per_unit"),
        ("sheets/heron.sheet.json", lambda d: d | {"pixel": "four"}, "pixel"),
        ("sheets/heron.sheet.json", lambda d: d | {"colour": 1}, "colour"),
        (
            "sheets/heron.sheet.json",
            lambda d: d | {"sources": [d["sources"][0] | {"path": "../../heron.png"}]},
            "outside the project's folder",
        ),
        (
            "levels/heron-pool.level.json",
            lambda d: (
                d | {"layers": [{"name": "x", "cells": [{"y": 0, "x": 0, "cells": [[1, -4]]}]}]}
            ),
            "makes no sense",
        ),
        ("project.rushweed", lambda d: d | {"format": 0}, "format 0, which never was"),
        ("project.rushweed", lambda d: d | {"walker": {"speed": 1e99}}, "walker › speed"),
        ("levels/heron-pool.level.json", lambda d: d | {"start": [1e300, 0]}, "start › 0"),
        (
            "levels/heron-pool.level.json",
            lambda d: (
                d | {"layers": [{"name": "x", "cells": [{"y": 2**40, "x": 0, "cells": [[1, 4]]}]}]}
            ),
            "within 500000 columns and rows",
        ),
        (
            "levels/heron-pool.level.json",
            lambda d: (
                d | {"layers": [{"name": "x", "cells": [{"y": 0, "x": 0, "cells": [[1e300, 4]]}]}]}
            ),
            "layers › 0 › cells › 0",
        ),
        (
            "sheets/heron.sheet.json",
            lambda d: d | {"pieces": [d["pieces"][0] | {"rect": [0, 0, 9, 0]}]},
            "rect › 3",
        ),
        (
            "sheets/heron.sheet.json",
            lambda d: d | {"pieces": [d["pieces"][0] | {"pivot": [float("nan"), 0]}]},
            "pivot › 0",
        ),
    ],
)
def test_a_broken_project_is_refused_with_a_sentence(
    demo: Path, name: str, change, words: str
) -> None:
    path = demo / name
    path.write_text(json.dumps(change(json.loads(path.read_text()))))
    before = path.read_bytes()
    with pytest.raises(Refusal, match=words):
        files.load(demo)
    assert path.read_bytes() == before


def test_what_is_no_project_is_refused(demo: Path, tmp_path: Path) -> None:
    with pytest.raises(Refusal, match="no folder"):
        files.load(tmp_path / "nowhere")
    with pytest.raises(Refusal, match="not a project"):
        files.load(tmp_path)
    (demo / "project.rushweed").write_text('{"format": 1, "name"')
    with pytest.raises(Refusal, match="not whole JSON"):
        files.load(demo)


def test_one_window_at_a_time(demo: Path) -> None:
    first = ProjectLock(demo)
    with pytest.raises(Refusal, match="open in another window"):
        ProjectLock(demo)
    first.release()
    ProjectLock(demo).release()


anything: st.SearchStrategy[Any] = st.sampled_from(
    (Sheet, Recipe, Treatment, Walker, GroundRules)
).flatmap(st.from_type)


def modelled(kind: Any, value: Any) -> Any:
    return TypeAdapter(kind).dump_python(value, mode="json")


@given(anything)
def test_a_value_is_told_as_its_model_would(value: Any) -> None:
    assert to_json(dumped(value)) == to_json(modelled(type(value), value))


def test_yes_is_told_as_true_and_not_as_a_number() -> None:
    notes = (Note("open", "yes", "yes or no"), Note("gold", "1", "number"))
    told = dumped({note.key: note_value(note) for note in notes})
    assert json.dumps(json.loads(to_json(told))) == '{"open": true, "gold": 1}'


@given(projects())
def test_what_is_told_briefly_is_read_again(project: Project) -> None:
    for value in (*project.sheets, *project.levels):
        brief = dumped_briefly(value)
        assert build(type(value), brief) == value
        assert json.loads(rendered(brief)) == brief
        assert rendered(brief) == to_json(brief), "there is nothing left to make plain"


def needless(value: Any, brief: Any) -> list[tuple[type, str]]:
    """What is told in a value though it is as it would be anyway."""
    if isinstance(value, tuple):
        return [one for pair in zip(value, brief, strict=True) for one in needless(*pair)]
    if not is_dataclass(value):
        return []
    usual = {
        field.name: field.default if field.default_factory is MISSING else field.default_factory()
        for field in fields(value)
    }
    found = [one for name in brief for one in needless(getattr(value, name), brief[name])]
    return found + [(type(value), n) for n in brief if getattr(value, n) == usual[n]]


@given(projects())
def test_nothing_needless_is_told_but_of_what_kind_things_are(project: Project) -> None:
    for value in (*project.sheets, *project.levels):
        told = needless(value, dumped_briefly(value))
        assert all(name == "kind" for _, name in told)
        assert (Sheet, "kind") not in told
        layout = getattr(value, "layout", None)
        assert layout is None or (type(layout), "kind") in told


def test_the_manifest_of_the_demo_is_told_as_its_model_would(demo: Path) -> None:
    project = files.load(demo)
    art, recipe = Art(demo), project.recipes[0]
    atlas = make_atlas(project, art, recipe)
    described = describe(project, art.memory, recipe, atlas.placed)
    assert dumped(described) == modelled(Manifest, described)


Spoil = Callable[[dict[str, Any]], object]
SHEET, HEAD = "sheets/heron.sheet.json", "project.rushweed"


def twice(body: dict[str, Any]) -> None:
    body["pieces"][1]["number"] = body["pieces"][0]["number"]


BREACHES: list[tuple[str, Spoil, str]] = [
    (SHEET, twice, "two pieces have the number"),
    (SHEET, lambda b: b["animations"][0]["frames"].append(99_999), "99999, which is not there"),
    (SHEET, lambda b: b["animations"][0].update(holds=[1]), "holds 1 frames"),
    (SHEET, lambda b: b["layout"].update(cell=[0, 4]), "cells, margins or gaps"),
    (SHEET, lambda b: b["layout"].update(gap=[-1, 0]), "cells, margins or gaps"),
    (SHEET, lambda b: b["sources"].clear(), "no picture"),
    (SHEET, lambda b: b["sources"][0].update(size=[0, 9]), "px large"),
    (SHEET, lambda b: b.update(name="keeper"), "another sheet called"),
    (HEAD, lambda b: b.update(next_number=2), "there is a piece"),
    (HEAD, lambda b: b["rules"].update(tile=[0, 16]), "rules are not right"),
    (HEAD, lambda b: b["rules"].update(resolution=[4, 4]), "rules are not right"),
    (HEAD, lambda b: b["walker"].update(body=[-3, 4]), "walker › body is not from 0"),
    ("levels/heron-pool.level.json", lambda b: b["layers"].clear(), "no layer"),
    ("levels/heron-pool.level.json", lambda b: b.update(name="Sluice house"), "another level"),
    (SHEET, lambda b: b.update(nonsense=1), "nonsense"),
    (SHEET, lambda b: b["layout"].update(cell=["24", 32]), "valid integer"),
    (SHEET, lambda b: b["layout"].update(cell=[24.0, 32]), "valid integer"),
    (SHEET, lambda b: b["layout"].pop("kind"), "layout is not right (it says no kind)"),
    (SHEET, lambda b: b["layout"].update(kind="cells"), "'even cells', 'loose pieces'"),
    (HEAD, lambda b: b["walker"].update(variable_jump_height=1), "valid boolean"),
]


@pytest.mark.parametrize(("name", "spoil", "told"), BREACHES)
def test_each_breach_is_a_sentence_and_the_rest_opens(
    demo: Path, name: str, spoil: Spoil, told: str
) -> None:
    path = demo / name
    body = json.loads(path.read_text())
    spoil(body)
    path.write_text(json.dumps(body))
    before = path.read_bytes()
    with pytest.raises(Refusal) as refused:
        files.load(demo)
    sentence = str(refused.value)
    assert told in sentence and Path(name).name in sentence and sentence.endswith(".")
    project, left_out = files.load_what_is_whole(demo)
    assert left_out and told in "\n".join(left_out)
    assert len(project.sheets) >= 18 and len(project.levels) >= 2
    numbers = [piece.number for sheet in project.sheets for piece in all_pieces(sheet)]
    assert len(set(numbers)) == len(numbers) and max(numbers) < project.next_number
    files.save(project, demo.parent / "whole")
    assert files.load(demo.parent / "whole") == project, "what was opened is whole"
    assert path.read_bytes() == before


def spoilt(node: Any, data: st.DataObject) -> Any:
    """Plain JSON with one of its parts lengthened, shortened or of another type."""
    if isinstance(node, (dict, list)) and node and data.draw(st.booleans()):
        keys = list(node) if isinstance(node, dict) else list(range(len(node)))
        key = data.draw(st.sampled_from(keys))
        node[key] = spoilt(node[key], data)
        return node
    if isinstance(node, list):
        return data.draw(st.sampled_from([[*node, 3], node[:-1], [*node, None]]))
    junk: list[Any] = [True, 4.0, 1, "1", None, [], {}, -1, "side", 2.5, 10**30]
    return data.draw(st.sampled_from(junk))


@given(projects(), st.data())
def test_what_is_read_quickly_is_what_the_models_read(
    project: Project, data: st.DataObject
) -> None:
    """Both accept the same, and make the same of it: a text is no number, neither is true, and 4.0
    is no whole one."""
    written = files.to_files(project)
    for name, whole in written.items():
        kind = Sheet if "sheet" in name else Level if "level" in name else files.Head
        body = spoilt(json.loads(whole), data)
        if isinstance(body, dict):
            body.pop("format", None)
        try:
            quick = build(kind, body)
        except Doubtful:
            with pytest.raises(ValidationError):
                exactly(kind, body)
        else:
            assert quick == exactly(kind, body)
