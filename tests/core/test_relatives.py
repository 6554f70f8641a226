"""Pictures that belong to others, by name and size."""

from __future__ import annotations

from pathlib import Path

import pytest

from rushweed.core.cut.gathering import accept, gather
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.relatives import (
    belonging_words,
    join_relative,
    relatives,
    release_relative,
)
from rushweed.core.gather.sources import set_licence
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Belonging
from rushweed.core.values import Refusal
from tests.samples import checkered, write_picture


def test_densities_and_normal_maps_are_told_by_name_and_size(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    project = Project()
    sizes = {
        "Reed": (12, 10),
        "reed@2x": (24, 20),
        "reed_3x": (36, 31),
        "reed_n": (12, 10),
        "crab_1x": (8, 8),
        "crab-2x": (16, 16),
        "heron_normal": (9, 9),
        "box": (5, 5),
    }
    for name, size in sizes.items():
        picture = write_picture(tmp_path / f"{name}.png", checkered(*size))
        project, _ = gather(project, art, [picture])
    project = set_licence(project, ("Reed",), identifier="CC0-1.0", author="Mara Sedge")
    found = relatives(project)
    assert found == {
        "reed@2x": Belonging("density", "Reed", 2),
        "reed_n": Belonging("normal map", "Reed"),
        "crab-2x": Belonging("density", "crab_1x", 2),
    }, "a wrong size or a missing base is no relation"
    taken = project
    for name in found:
        taken = accept(taken, art, name)
    assert {s.name: s.belongs for s in taken.sheets if s.belongs} == found
    assert taken.sheet("reed_n").licence == project.sheet("Reed").licence
    uncut = {f.sheet for f in find_all(taken, art) if f.code == "not-cut"}
    assert uncut == set(sizes) - set(found)
    assert relatives(taken) == {} and belonging_words(found["reed@2x"]) == "Reed at 2×"
    assert release_relative(taken, "reed_n").sheet("reed_n").belongs is None
    for name, to, words in (
        ("reed_3x", "Reed", "do not fit"),
        ("box", "reed_n", "belongs elsewhere"),
        ("box", "box", "belongs elsewhere"),
    ):
        with pytest.raises(Refusal, match=words):
            join_relative(taken, name, Belonging("density", to, 3))
