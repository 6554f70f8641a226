"""Figures: creatures that several sheets show, found by their folders and their names."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.describing import describe
from rushweed.core.bale.subset import chosen_subset
from rushweed.core.cut.animations import remove_animation, rename_animation
from rushweed.core.cut.gathering import add_sheets, by_best_guesses
from rushweed.core.gather.art import Art
from rushweed.core.gather.figures import (
    figure_of,
    let_figure_go,
    make_figure,
    proposed_figures,
    walk_as,
)
from rushweed.core.gather.sequences import expand
from rushweed.core.gather.sheet_list import rename_sheet
from rushweed.core.project import files
from rushweed.core.project.figure import Figure, cast_of
from rushweed.core.project.migrations import migrate
from rushweed.core.project.project import Project
from rushweed.core.project.references import lost_references
from rushweed.core.project.rules import Recipe, States
from rushweed.core.project.sheet import Animation, Sheet
from rushweed.core.values import Refusal
from rushweed.core.walk.picturing import walker_frame
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.letting_go import remove_sheets
from tests.conftest import DEMO
from tests.samples import write_picture

SIZES = {"idle": (4, (30, 20)), "run": (6, (30, 28)), "jump": (3, (34, 22))}


def write_tree(folder: Path, name: str = "otter") -> Path:
    """A folder for each animation, cropped to its own size, of numbered frames each."""
    for place, (action, (count, (height, width))) in enumerate(SIZES.items()):
        for frame in range(count):
            picture = np.zeros((height, width, 4), np.uint8)
            picture[4 + frame % 2 :, 4:-4] = (200, 40 * place, 20 * frame, 255)
            path = folder / name / action / f"{frame:04}.png"
            path.parent.mkdir(parents=True, exist_ok=True)
            write_picture(path, picture)
    return folder / name


def of_tree(folder: Path) -> Project:
    tree = write_tree(folder)
    return by_best_guesses(Project(), Art(folder / "project"), expand([tree]))


def test_a_tree_of_folders_is_one_figure_that_walks(tmp_path: Path) -> None:
    project = of_tree(tmp_path)
    assert [sheet.name for sheet in project.sheets] == ["otter idle", "otter jump", "otter run"]
    (meant,) = proposed_figures(project)
    project = walk_as(project, meant.name)
    assert project.figures == (Figure("otter", meant.sheets),) and not proposed_figures(project)
    cast = project.cast("otter")
    assert cast is not None and len(cast.animations) == 3
    frames = {n: a.frames for a in cast.animations for n in (cast.origins[a.name][0],)}
    assert {name.split()[1]: len(shown) for name, shown in frames.items()} == {
        action: count for action, (count, _) in SIZES.items()
    }
    project = replace(project, levels=files.load(DEMO).levels[:1])
    ground = Ground(project, project.levels[0].name)
    stands = ground.begin()
    shown = (stands, replace(stands, speed_x=64.0, on=1), replace(stands, speed_x=-64.0, on=1))
    of = [project.find(walker_frame(ground, motion)) for motion in shown]
    assert [found[0].name for found in of if found] == ["otter idle", "otter run", "otter run"]
    folder = tmp_path / "saved"
    files.save(project, folder)
    assert files.load(folder) == project


def test_what_a_figure_is_shown_by_is_followed(tmp_path: Path) -> None:
    project = walk_as(of_tree(tmp_path), "otter")
    walker = replace(project.walker, states=States(move="otter run", rise="otter jump"))
    project = replace(project, walker=walker)
    project = rename_sheet(project, "otter run", "quick")
    project = rename_animation(project, "quick", "otter run", "dashing")
    assert project.figures[0].sheets == ("otter idle", "otter jump", "quick")
    assert project.walker.states.move == "dashing" and not list(lost_references(project))
    fewer = remove_animation(project, "otter jump", "otter jump")
    assert fewer.walker.states.rise == "" and not list(lost_references(fewer))
    lost = replace(project, walker=replace(walker, states=States(fall="nothing")))
    assert [one.name for one in lost_references(lost)] == ["nothing"], "told once"
    small = replace(project, recipes=(Recipe("Small", only_levels=("none",)),), levels=())
    only = chosen_subset(replace(small, recipes=()), Recipe("Some", only_sheets=("quick",)))
    assert only.figures == (Figure("otter", ("quick",)),)
    gone = remove_sheets(project, ["quick", "otter idle"])
    assert gone.figures == (Figure("otter", ("otter jump",)),)
    gone = remove_sheets(gone, ["otter jump"])
    assert gone.figures == () and gone.walker.figure == "" and not list(lost_references(gone))
    apart = let_figure_go(project, "otter")
    assert apart.figures == () and apart.walker.figure == "otter idle"


def test_a_bundle_tells_figures_with_all_their_animations(tmp_path: Path) -> None:
    project = replace(walk_as(of_tree(tmp_path), "otter"), sheets=())
    assert describe(project, Art(tmp_path).memory, project.recipes[0], {}).figures == ()
    demo = files.load(DEMO)
    names = [sheet.name for sheet in demo.sheets if sheet.animations][:2]
    demo = walk_as(make_figure(replace(demo, levels=()), "pair", names), "pair")
    kept = tuple(replace(sheet, pieces=()) for sheet in demo.sheets)
    told = describe(replace(demo, sheets=kept), Art(DEMO).memory, demo.recipes[0], {})
    assert (told.walker.figure, told.walker.sheet) == ("pair", told.figures[0].animations[0].sheet)
    all_of_it = [(e.sheet, e.animation) for e in told.figures[0].animations]
    order = [sheet for sheet in demo.sheets if sheet.name in names]
    assert all_of_it == [(sheet.name, a.name) for sheet in order for a in sheet.animations]


@given(
    st.lists(st.lists(st.sampled_from(["run", "run 2", "hop", "run 2 2"]), unique=True), max_size=4)
)
def test_every_animation_of_a_figure_has_a_name_of_its_own(named: list[list[str]]) -> None:
    sheets = [
        Sheet(f"sheet {place}", (), animations=tuple(Animation(name, (1,)) for name in names))
        for place, names in enumerate(named)
    ]
    cast = cast_of(sheets, (Figure("all", tuple(sheet.name for sheet in sheets)),), "all")
    if cast is None:
        assert not sheets
        return
    told = [animation.name for animation in cast.animations]
    assert len(set(told)) == len(told) == sum(map(len, named))
    origins = [(sheet.name, a.name) for sheet in sheets for a in sheet.animations]
    assert [cast.origins[name] for name in told] == origins
    alone = {name for names in named for name in names}
    assert alone <= set(told), "each name is kept by one"


def test_a_sheet_is_of_one_figure_and_the_names_are_free() -> None:
    demo = files.load(DEMO)
    names = [sheet.name for sheet in demo.sheets][:4]
    project = make_figure(demo, "pack", names[:3])
    project = make_figure(project, "pack", names[2:])
    assert [one.name for one in project.figures] == ["pack", "pack 2"]
    assert figure_of(project, names[:2]) == Figure("pack", tuple(names[:2]))
    assert figure_of(project, names) is None
    with pytest.raises(Refusal, match="already"):
        rename_sheet(project, names[0], "pack")
    project, (new,) = add_sheets(project, [replace(demo.sheets[0], name="pack")])
    assert new == "pack 3", "one walks as either, so no two may be alike"
    swallowed = make_figure(project, names[0], names)
    assert [one.name for one in swallowed.figures] == [f"{names[0]} 2"]


def test_an_older_walker_shows_the_sheet_it_showed() -> None:
    body = {"format": 5, "name": "Fen", "walker": {"speed": 4.0, "sheet": "keeper", "ways": 8}}
    walker = migrate(json.loads(json.dumps(body)), "project.rushweed")["walker"]
    assert walker == {"speed": 4.0, "figure": "keeper", "ways": 8}
    assert list(walker) == ["speed", "figure", "ways"], "in its place"
