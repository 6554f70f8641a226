"""The project as a value: history, files, saving as a whole."""

from __future__ import annotations

import errno
import json
import os
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rushweed.core.bound.shaping import full_box, set_shapes
from rushweed.core.gather.sources import set_licence
from rushweed.core.gauge.pivots import set_anchor, set_pivot
from rushweed.core.gauge.treating import set_filter, set_pixels_per_unit
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.history import History
from rushweed.core.project.lock import ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Shape
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
