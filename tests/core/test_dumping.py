"""Values as plain JSON: what their models would write, and what is read again."""

from __future__ import annotations

import json
from dataclasses import MISSING, fields, is_dataclass
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from rushweed.core.bale.describing import describe
from rushweed.core.bale.manifest import Manifest
from rushweed.core.bale.pages import make_atlas
from rushweed.core.bound.facts import note_value
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.building import build
from rushweed.core.project.dumping import dumped, dumped_briefly
from rushweed.core.project.facts import Note
from rushweed.core.project.project import Project
from rushweed.core.project.rules import GroundRules, Recipe, Treatment, Walker
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.text import rendered, to_json
from tests.samples import projects

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
