"""Links, names and hidden files of a project that a stranger made: nothing outside is touched."""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from rushweed.core.bale.building import build_all
from rushweed.core.bale.templates import read_templates
from rushweed.core.cut.gathering import by_best_guesses, gather
from rushweed.core.findings.all import find_all
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import check_leaving, file_stems, parts_of
from rushweed.core.gather.art import Art
from rushweed.core.gather.origins import Origins
from rushweed.core.gather.pictures import encode_png
from rushweed.core.project import files
from rushweed.core.project.lock import ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.project.recovery import Recovery
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Refusal
from tests.core.test_forms import open_raster
from tests.hostile import tried
from tests.hostile.killing import small_project
from tests.samples import checkered

SECRET = b"nobody's business"
KINDS = {
    "file": "outside/plan.json",
    "folder": "outside",
    "nothing": "outside/not-yet",
    "a link": "on the way",
    "up and down": "project/../outside/keeper.png",
    "all": "..",
}
PLACES = (
    *("project.rushweed", "sheets", "levels", "art", "templates", ".rushweed", "sheets/new"),
    *("art/figure.png", "templates/own.txt.j2", "sheets/figure.sheet.json"),
    *("levels/pond.level.json", ".rushweed/saving", ".rushweed/saving/plan.json"),
    *(".rushweed/lock", ".rushweed/files.lock", ".rushweed/.gitignore", ".rushweed/origins"),
    *(".rushweed/kept", ".rushweed/built.json", ".rushweed/building.lock"),
)


@pytest.fixture
def made(tmp_path: Path) -> Path:
    """A small project."""
    small_project(tmp_path / "project")
    return tmp_path / "project"


@pytest.fixture
def outside(tmp_path: Path) -> Iterator[Path]:
    """A folder that is none of the project's business, with all that it would be asked for; it is
    as it was at the end."""
    folder = tmp_path / "outside"
    for name in ("plan.json", "saving/plan.json", "lock", "keeper.png", "own.txt.j2", "sheet.json"):
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_bytes(SECRET)
    before = content(folder)
    yield folder
    assert content(folder) == before, "somebody was outside"


def content(folder: Path) -> dict[str, bytes]:
    return {str(path): path.read_bytes() for path in sorted(folder.rglob("*")) if path.is_file()}


def linked(place: Path, to: Path) -> None:
    """Put a link in the place of whatever is there."""
    if place.is_dir() and not place.is_symlink():
        shutil.rmtree(place)
    place.unlink(missing_ok=True)
    place.parent.mkdir(parents=True, exist_ok=True)
    place.symlink_to(to)


def use(folder: Path, out: Path) -> list[bytes]:
    """Do with a project what a person does; what is refused is refused. Returns what was read."""
    read: list[bytes] = []
    project = Project(recipes=(Recipe("Game"),))

    def loaded() -> None:
        nonlocal project
        project, _ = files.load_what_is_whole(folder)

    def locked() -> None:
        ProjectLock(folder).release()

    art = Art(folder, keeps=True)
    acts: tuple[Callable[[], object], ...] = (
        locked,
        lambda: files.load(folder),
        loaded,
        lambda: read.append(str(read_templates(folder / "templates")).encode()),
        lambda: read.append(str(Origins(folder).all()).encode()),
        lambda: [art.stored(sheet) for sheet in project.sheets],
        lambda: find_all(project, art),
        lambda: by_best_guesses(project, art, [[out / "new.png"]]),
        lambda: build_all(project, folder, out / "bundle"),
        lambda: files.save(project, folder),
        lambda: build_all(project, folder, folder / "bundle"),
    )
    for act in acts:
        try:
            act()
        except (Refusal, OSError) as refusal:
            assert not isinstance(refusal, Refusal) or str(refusal).endswith(".")
    return read


@pytest.mark.parametrize("kind", [*KINDS, "itself"])
@pytest.mark.parametrize("place", PLACES)
def test_a_link_that_leads_out_is_neither_read_nor_written_through(
    place: str, kind: str, made: Path, outside: Path, tmp_path: Path
) -> None:
    tried("links that lead out of a project")
    (tmp_path / "new.png").write_bytes(encode_png(checkered(6, 4)))
    linked(tmp_path / "on the way", outside / "plan.json")
    linked(made / place, tmp_path / KINDS[kind] if kind in KINDS else made / place)
    read = use(made, tmp_path)
    assert not any(SECRET in data for data in read)
    assert not (outside / "not-yet").exists()
    for path in (*made.rglob("*"), *tmp_path.glob("bundle/**/*")):
        if path.is_file() and not path.is_symlink() and outside not in path.resolve().parents:
            assert SECRET not in path.read_bytes(), f"{path.name} holds what lies outside"


@pytest.mark.parametrize("place", [p for p in PLACES if not p.startswith("project")])
def test_pipes_are_refused_and_not_waited_for(place: str, made: Path, tmp_path: Path) -> None:
    tried("pipes in place of files")
    (tmp_path / "new.png").write_bytes(encode_png(checkered(6, 4)))
    linked(made / place, tmp_path)
    (made / place).unlink()
    os.mkfifo(made / place)
    use(made, tmp_path)


PLANS = [
    {"write": {"../outside/plan.json": "0"}, "remove": []},
    {"write": {"/tmp/anything": "0"}, "remove": []},
    {"write": {"sheets/a.json": "../../../outside/plan.json"}, "remove": []},
    {"write": {}, "remove": ["../outside/plan.json"]},
    {"write": {}, "remove": ["sheets/../../outside/lock"]},
    {"write": {"a": 0}, "remove": []},
    {"write": [], "remove": {}},
    {"write": None},
    [],
    "plan",
    {"write": {"\ud800": "0"}, "remove": []},
    {"write": {"x" * 300: "0"}, "remove": []},
    {"write": {"a\x00b": "0"}, "remove": [7]},
]


@pytest.mark.parametrize("plan", [*PLANS, "deep"])
def test_a_plan_that_is_not_right_is_refused_and_the_project_opens_without_it(
    plan: object, made: Path, outside: Path
) -> None:
    tried("plans and stamps that are not right")
    stage = made / ".rushweed" / "saving"
    shutil.rmtree(stage, ignore_errors=True)
    stage.mkdir(parents=True)
    (stage / "0").write_bytes(b"{}")
    text = "[" * 100_000 if plan == "deep" else json.dumps(plan)
    (stage / "plan.json").write_text(text)
    before = files.load_what_is_whole(made)
    assert before[0].sheets and "plan.json is not right" in before[1][0]
    with pytest.raises(Refusal, match=r"plan.json is not right.*Remove it\."):
        files.load(made)
    files.save(before[0], made)
    assert files.load(made) == before[0] and not stage.exists(), "the next save goes on without it"


@pytest.mark.parametrize("names", [["../outside/lock"], [".rushweed/lock"], ["/etc/x"], [7], "x"])
def test_a_stamp_that_is_not_right_removes_nothing(
    names: object, made: Path, outside: Path, tmp_path: Path
) -> None:
    tried("plans and stamps that are not right")
    out = tmp_path / "bundle"
    project = files.load(made)
    build_all(project, made, out)
    stamp = out / ".rushweed" / "built.json"
    files_of = {str(name): "0" for name in names} if isinstance(names, list) else names
    stamp.write_text(json.dumps({"key": "0", "files": files_of}))
    build_all(project, made, out)
    assert (out / "bundle.json").exists() and (out / ".rushweed").is_dir()


def test_what_is_gathered_is_never_written_over_what_is_there(tmp_path: Path) -> None:
    art, project = Art(tmp_path / "gathered"), Project()
    seen: dict[Any, bytes] = {}
    for round_ in range(4):
        place = tmp_path / str(round_)
        place.mkdir()
        (place / "fen.ora").write_bytes(open_raster({"ground": checkered(6, 4, round_ + 1)}))
        (place / "fen.png").write_bytes(encode_png(checkered(7, 4, round_ + 1)))
        for path in (place / "fen.ora", place / "fen.png"):
            project = by_best_guesses(project, art, [[path]])
        project, _ = gather(project, art, [place / "fen.png", place / "fen.png"])
        for source in (source for sheet in project.sheets for source in sheet.sources):
            data = (art.folder / source.path).read_bytes()
            assert seen.setdefault((source.path, source.content), data) == data
    contents = {source.content for sheet in project.sheets for source in sheet.sources}
    assert len(contents) == 8 and len(seen) >= 8


def test_recovery_copies_are_for_their_owner_only(tmp_path: Path, made: Path) -> None:
    old = os.umask(0o000)
    try:
        Recovery(tmp_path / "state", made).keep(files.load(made))
    finally:
        os.umask(old)
    kept = tmp_path / "state" / "recovery"
    below = [path for path in kept.glob("*/**/*") if path.is_file()]
    assert below and all(path.stat().st_mode & 0o077 == 0 for path in [*below, *kept.glob("*")])


@pytest.mark.parametrize(
    "name",
    [
        *("", "/etc/passwd", "..", "a/../../b", "a\\b", "a\x00b", "a\nb", "\ud800", "x" * 300),
        *("../x", "./../x", "a/..", "ä" * 200, "a/" + "x" * 256, "a/\t", "\udfff/a", "C:\\a"),
    ],
)
def test_names_that_leave_or_cannot_be_are_refused(name: str, tmp_path: Path) -> None:
    tried("names that leave a folder or cannot be")
    with pytest.raises(Refusal, match=r"no path inside the folder.*\.$"):
        parts_of(name)
    with pytest.raises(Refusal):
        Inside(tmp_path).read(name)


def test_names_that_leave_are_taken_by_every_system() -> None:
    for names in (["con"], ["NUL.txt"], ["a."], ["b "], ["a:b"], ["x", "X"], ["lpt1.png"], ["a?"]):
        with pytest.raises(Refusal):
            check_leaving(names)
    stems = file_stems(["Con", "A", "a", "…", "nul.x", "  ", "x" * 999, "é" * 99], lower=False)
    check_leaving(stems)
    assert len({stem.casefold() for stem in stems}) == 8
