"""Nothing of anybody is lost: saving compares with what was read, and two versions become one."""

from __future__ import annotations

from pathlib import Path

import pytest

from rushweed.core.findings.all import find_all
from rushweed.core.folder.inside import Inside
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.head import HEAD
from rushweed.core.project.known import Changed, Known, unlisted_in
from rushweed.core.project.project import Project
from rushweed.core.weave.levels import add_level, set_cells


def bytes_of(folder: Path) -> dict[str, bytes]:
    kinds = (HEAD, "sheets/*.json", "levels/*.json")
    paths = [path for kind in kinds for path in folder.glob(kind)]
    return {path.relative_to(folder).as_posix(): path.read_bytes() for path in paths}


def painted(project: Project, level: int = 0, place: tuple[int, int] = (0, 0)) -> Project:
    """A stroke somewhere."""
    one = project.levels[level]
    number = next(piece.number for _, piece in project.pieces())
    index = next(n for n, layer in enumerate(one.layers) if not layer.locked)
    cells = one.layers[index].cells.painted({place: (number, 0)})
    return set_cells(project, one.name, index, cells)


def test_what_somebody_else_wrote_is_neither_taken_back_nor_removed(demo: Path) -> None:
    mine, known = files.load_known(demo)
    theirs, _ = add_level(painted(mine, 1), "Marsh")
    files.save(theirs, demo)
    there = bytes_of(demo)
    with pytest.raises(Changed, match="changed outside") as told:
        files.save(painted(mine), demo, known)
    assert HEAD in told.value.names and len(told.value.names) == 2
    assert bytes_of(demo) == there, "nothing was written"
    again = files.save(painted(theirs), demo, Known.listed(Inside(demo)))
    assert files.load(demo) == painted(theirs) and not again.changed(Inside(demo))
    assert files.save(painted(theirs), demo, again) == again, "our own writing is known"


def test_what_nobody_lists_stays_and_is_never_written_over(demo: Path) -> None:
    project, known = files.load_known(demo)
    forgotten = demo / "levels" / "forgotten.level.json"
    forgotten.write_bytes(next((demo / "levels").glob("*.json")).read_bytes())
    files.save(painted(project), demo, known)
    assert forgotten.exists()
    assert unlisted_in(Inside(demo)) == ["levels/forgotten.level.json"]
    told = [finding for finding in find_all(project, Art(demo)) if finding.code == "unlisted-file"]
    assert [finding.place for finding in told] == ["levels/forgotten.level.json"]
    mine, _ = add_level(painted(project), "forgotten")
    with pytest.raises(Changed, match=r"forgotten\.level\.json"):
        files.save(mine, demo, Known.listed(Inside(demo)))
