"""Whatever refers by a name is followed or found, and what was put together by hand is told."""

from __future__ import annotations

import json
from dataclasses import fields, is_dataclass, replace
from pathlib import Path
from typing import Any, get_args, get_type_hints

import pytest

from rushweed.core.bale.subset import chosen_subset
from rushweed.core.cut.animations import remove_animation, rename_animation
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.sheet_list import rename_sheet
from rushweed.core.gauge.treating import rename_treatment
from rushweed.core.project import files
from rushweed.core.project.drawing_sets import Hem, HemTile
from rushweed.core.project.facts import GroundKind
from rushweed.core.project.head import HEAD
from rushweed.core.project.level import Layer, Level, Mark, Prop
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.references import FIELDS, lost_references
from rushweed.core.project.rules import Recipe, States, Treatment, Walker
from rushweed.core.project.sheet import Belonging, Sheet
from rushweed.core.project.sitting import made
from rushweed.core.values import Refusal
from rushweed.core.weave.hems import without_hem
from rushweed.core.weave.letting_go import remove_sheets
from rushweed.core.weave.levels import remove_level, rename_level
from tests.conftest import DEMO

OWN_NAMES_AND_TEXTS = {
    ("Project", "name"), ("Sheet", "name"), ("Source", "path"), ("Source", "content"),
    ("Licence", "identifier"), ("Licence", "author"), ("Licence", "source"), ("Licence", "credit"),
    ("Piece", "name"), ("Piece", "events"), ("FramePoint", "name"), ("Animation", "name"),
    ("Missing", "content"), ("Shape", "note"), ("Note", "key"), ("Note", "value"),
    ("GroundKind", "name"), ("GroundKind", "letter"), ("CollisionLayer", "name"),
    ("Treatment", "name"), ("Recipe", "name"), ("Recipe", "templates"), ("Hem", "name"),
    ("Patch", "name"), ("Mix", "name"), ("Level", "name"), ("Layer", "name"), ("Layer", "group"),
    ("Prop", "name"), ("Prop", "group"), ("Mark", "name"), ("Belonging", "to"), ("Figure", "name"),
}  # fmt: skip
"""Fields that hold a text of their own; what a sheet belongs to is followed by itself, and
templates are files."""


def kinds_of(kind: Any, seen: dict[type, None]) -> dict[type, None]:
    """All dataclasses that a project is made of."""
    for part in get_args(kind):
        kinds_of(part, seen)
    if is_dataclass(kind) and kind not in seen:
        seen[kind] = None  # type: ignore[index]
        for hint in get_type_hints(kind, include_extras=True).values():
            kinds_of(hint, seen)
    return seen


def holds_text(hint: Any) -> bool:
    return hint is str or any(holds_text(part) for part in get_args(hint) if part is not Ellipsis)


def test_every_field_that_holds_a_text_is_its_own_or_is_followed() -> None:
    told = {
        (kind.__name__, field.name)
        for kind in kinds_of(Project, {})
        for field in fields(kind)
        if holds_text(get_type_hints(kind)[field.name])
    }
    followed = {(kind.__name__, name) for kind, name in FIELDS}
    assert told == followed | OWN_NAMES_AND_TEXTS
    assert not followed & OWN_NAMES_AND_TEXTS


@pytest.fixture
def referring() -> Project:
    """The demo, with a reference of each kind."""
    project = files.load(DEMO)
    crab, eel = project.sheet("crab"), project.sheet("eel")
    tiles = (HemTile(project.sheet("fen_ground").pieces[0].number, 511),)
    return replace(
        project,
        walker=Walker(figure="crab", states=States(stand=crab.animations[0].name)),
        recipes=(Recipe("Small", only_sheets=("crab", "eel"), only_levels=("Sluice house",)),),
        sheets=tuple(
            replace(s, belongs=Belonging("normal map", "crab")) if s is eel else s
            for s in project.sheets
        ),
        hems=(*project.hems, Hem("one", tiles, meets=("other",)), Hem("other", tiles)),
    )


def names_in(project: Project) -> set[str]:
    return {reference.name for reference in lost_references(project)}


def test_what_is_renamed_is_followed_everywhere(referring: Project) -> None:
    assert not names_in(referring)
    playing = referring.sheet("crab").animations[0].name
    project = rename_sheet(referring, "crab", "beach crab")
    project = rename_level(project, "Sluice house", "Sluice")
    project = rename_treatment(project, project.sheets[0].treatment, "Sharp")
    project = rename_animation(project, "beach crab", playing, "still")
    assert not names_in(project)
    recipe = project.recipes[0]
    assert recipe.only_sheets == ("beach crab", "eel") and recipe.only_levels == ("Sluice",)
    assert project.walker.figure == "beach crab" and project.walker.states.stand == "still"
    assert project.sheet("eel").belongs == Belonging("normal map", "beach crab")
    assert chosen_subset(project, recipe).sheet("beach crab")
    unfollowed = replace(project, name=referring.name)
    assert "crab" not in repr(unfollowed).replace("beach crab", "").replace("art/", "").split("'")


def test_what_is_taken_away_is_referred_to_no_more(referring: Project) -> None:
    playing = referring.sheet("crab").animations[0].name
    project = without_hem(remove_level(referring, "Sluice house"), "other")
    project = remove_animation(project, "crab", playing)
    assert project.walker.states.stand == "" and not names_in(project)
    project = remove_sheets(project, ["crab"])
    assert not names_in(project) and project.walker.figure == ""
    assert project.sheet("eel").belongs is None and project.recipes[0].only_sheets == ("eel",)


def test_an_edit_that_takes_an_animation_away_leaves_no_name_of_it(referring: Project) -> None:
    def bare(sheet: Sheet) -> Sheet:
        return replace(sheet, animations=())

    outcome = made(lambda project: with_sheet(project, "crab", bare), referring)
    assert not names_in(outcome.project) and outcome.project.walker.states.stand == ""
    assert made(lambda project: project, referring).project is referring


def test_a_prop_whose_piece_was_let_go_waits_for_it_with_its_animation(referring: Project) -> None:
    crab = referring.sheet("crab")
    prop = Prop(crab.pieces[0].number, 8, 8, animation=crab.animations[0].name)
    level = Level("Shore", (Layer("Props", props=(prop,)),))
    project = replace(referring, levels=(*referring.levels, level))
    kept = replace(project.sheet("eel"), belongs=None)
    recut = replace(crab, pieces=(), animations=())
    project = replace(project, walker=Walker(), sheets=(recut, kept))
    assert crab.animations[0].name not in names_in(project)
    assert any("Shore" in finding.what for finding in told(project, "missing-pieces"))


def told(project: Project, code: str) -> list:
    return [finding for finding in find_all(project, Art(DEMO)) if finding.code == code]


def test_what_refers_to_nothing_is_a_finding_that_mends_it(referring: Project) -> None:
    lost = replace(
        referring,
        walker=replace(referring.walker, figure="gone"),
        recipes=(Recipe("Game", only_sheets=("crab", "lost"), only_levels=("nowhere",)),),
        treatments=(*referring.treatments[1:], Treatment("Other")),
    )
    found = told(lost, "lost-name")
    assert {"gone", "lost", "nowhere"} <= {finding.place for finding in found}
    for finding in found:
        lost = finding.mend(lost)
    assert not names_in(lost) and lost.recipes[0].only_sheets == ("crab",)


def test_what_is_there_twice_is_a_finding_that_mends_it(referring: Project) -> None:
    level = referring.levels[0]
    twice = replace(
        referring,
        treatments=(*referring.treatments, referring.treatments[0]),
        hems=(*referring.hems, referring.hems[-1]),
        rules=replace(referring.rules, kinds=(GroundKind(1, "mud"), GroundKind(1, "sand"))),
        levels=(
            replace(
                level,
                layers=(*level.layers, level.layers[0]),
                marks=(Mark("door", 0, 0), Mark("door", 1, 1)),
            ),
            *referring.levels[1:],
        ),
    )
    found = told(twice, "doubled-name")
    assert len(found) == 5
    for finding in found:
        twice = finding.mend(twice)
    assert not told(twice, "doubled-name")
    assert [mark.name for mark in twice.levels[0].marks] == ["door", "door 2"]
    assert [kind.number for kind in twice.rules.kinds] == [1, 2]


@pytest.mark.parametrize(
    ("spoil", "sentence"),
    [
        (lambda text: text.replace('"name":', '"name": "Other", "name":', 1), "has “name” twice"),
        (
            lambda text: text.replace("{\n", "{\n<<<<<<< ours\n=======\n>>>>>>> theirs\n", 1),
            "holds two versions of its line 2 on",
        ),
    ],
)
def test_a_file_that_was_put_together_by_hand_is_told(demo: Path, spoil, sentence: str) -> None:
    for file in (demo / HEAD, next((demo / "sheets").glob("*.json"))):
        good = file.read_text()
        json.loads(good)
        file.write_text(spoil(good))
        with pytest.raises(Refusal, match=sentence):
            files.load(demo)
        file.write_text(good)
    files.load(demo)
