"""What is broken in a project is told with file and place, and the rest can be opened."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from rushweed.core.project import files
from rushweed.core.project.building import Doubtful, build
from rushweed.core.project.checking import all_pieces
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.reading import exactly
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from tests.samples import projects

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
    (HEAD, lambda b: b["walker"].update(short_jumps=1), "valid boolean"),
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
