"""Whose files are, and under which licence: what goes into a game may stay there."""

from __future__ import annotations

import subprocess
from dataclasses import replace
from pathlib import Path

import pytest
from reuse.project import Project as Files

from rushweed.core.bale.credits import credits_text
from rushweed.core.gather.licences import asked_for, texts_of
from rushweed.core.project import files
from rushweed.core.project.sheet import Licence
from tests.conftest import DEMO

ROOT = Path(__file__).parent.parent.parent


@pytest.mark.parametrize(
    ("folder", "wanted"),
    [
        ("examples", {"MIT", "CC0-1.0"}),
        ("rushweed/templates", {"MIT"}),
        ("rushweed/handout", {"MIT"}),
        ("docs/format", {"MIT", "CC0-1.0"}),
        ("demo/raw", {"CC0-1.0"}),
        ("rushweed/core", {"GPL-3.0-or-later"}),
    ],
)
def test_what_goes_into_a_game_may_stay_there(folder: str, wanted: set[str]) -> None:
    whose = Files.from_directory(ROOT)
    asked = ["git", "ls-files", "-z", "--cached", "--others", "--exclude-standard", folder]
    listed = subprocess.run(asked, cwd=ROOT, capture_output=True, check=True).stdout
    for name in filter(None, listed.decode().split("\0")):
        found = {str(one) for info in whose.reuse_info_of(name) for one in info.spdx_expressions}
        assert found and found <= wanted, name


def test_credits_say_what_licences_ask_for_and_where_they_are() -> None:
    project = files.load(DEMO)
    both = "CC-BY-SA-4.0 AND MIT"
    licence = Licence(identifier=both, author="M. Reed")
    project = replace(
        project, sheets=tuple(replace(sheet, licence=licence) for sheet in project.sheets)
    )
    text = credits_text(project)
    assert text.count("M. Reed") == 1, "sheets that share them stand together"
    assert len(texts_of(both)) == 2
    for told in (*asked_for(both), *texts_of(both)):
        assert told in text
