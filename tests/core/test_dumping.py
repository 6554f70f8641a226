"""What is long is written in parts, and no other than at once."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import pytest
from pydantic import TypeAdapter

from rushweed.core.project import dumping, files
from rushweed.core.project.dumping import dumped
from rushweed.core.project.reading import adapter


@dataclass
class Counting:
    """A model that tells how many items it was given at most."""

    model: TypeAdapter[Any]
    most: int = 0

    def dump_python(self, value: Any, **how: Any) -> Any:
        self.most = max(self.most, len(value) if isinstance(value, tuple) else 0)
        return self.model.dump_python(value, **how)


@pytest.mark.parametrize("part", [1, 2, 7])
def test_all_of_a_project_is_written_in_parts_as_at_once(
    demo: Path, monkeypatch: pytest.MonkeyPatch, part: int
) -> None:
    monkeypatch.setattr(dumping, "PART", part)
    project = files.load(demo)
    for value in (*project.sheets, *project.levels):
        body = dumped(value, adapter)
        assert body == adapter(type(value)).dump_python(value, mode="json")
        assert list(body) == list(adapter(type(value)).dump_python(value, mode="json"))


def test_no_more_than_a_part_is_written_at_once(demo: Path) -> None:
    sheet = files.load(demo).sheets[0]
    large = replace(sheet, pieces=sheet.pieces * 100)
    models: dict[Any, Counting] = {}

    def counting(kind: Any) -> Any:
        return models.setdefault(kind, Counting(adapter(kind)))

    assert len(dumped(large, counting)["pieces"]) == len(large.pieces)
    assert 0 < max(model.most for model in models.values()) <= dumping.PART
