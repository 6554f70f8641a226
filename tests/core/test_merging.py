"""Two people on one project: what either did is there, and the project opens."""

from __future__ import annotations

import os
import subprocess
from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from itertools import permutations
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.cli import run_verb
from rushweed.core.cut.animations import (
    begin_animation,
    remove_animation,
    rename_animation,
    set_hold,
)
from rushweed.core.cut.correcting import draw_piece
from rushweed.core.cut.steadying import nudge
from rushweed.core.gather.figures import make_figure, walk_as
from rushweed.core.gather.sheet_list import rename_sheet
from rushweed.core.gather.sources import set_licence
from rushweed.core.gauge.pivots import set_pivot
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project import files
from rushweed.core.project.level import Level, Mark, Prop
from rushweed.core.project.merging import merged
from rushweed.core.project.project import NUMBER, Project, with_level
from rushweed.core.project.references import lost_references
from rushweed.core.project.renumbering import renumbered
from rushweed.core.project.three_way import Versions
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.letting_go import remove_sheets
from rushweed.core.weave.levels import (
    add_layer,
    add_level,
    remove_level,
    rename_level,
    set_cells,
)
from rushweed.core.weave.props import add_props
from tests.conftest import DEMO
from tests.core.test_known import painted

BASE = files.load(DEMO)
SHEETS = [sheet.name for sheet in BASE.sheets if sheet.pieces and sheet.belongs is None]
ANIMATED = [sheet.name for sheet in BASE.sheets if sheet.animations]
LEVEL = BASE.levels[0].name
Act = Callable[[Project, int], Project]


def first(n: int) -> int:

    return BASE.sheet(SHEETS[n % len(SHEETS)]).pieces[0].number


def level_name(n: int) -> str:
    return BASE.levels[n % len(BASE.levels)].name


def layer_of(level: Level) -> int:
    known = next(one.name for one in BASE.level(level.name).layers if not one.locked)
    return [one.name for one in level.layers].index(known)


def brushed(project: Project, n: int) -> Project:
    level = project.level(level_name(n))
    index = layer_of(level)
    cells = level.layers[index].cells.painted({(200 + n, 3): (first(0), 0)})
    return set_cells(project, level.name, index, cells)


def drawn(project: Project, n: int) -> Project:
    """A new piece, shown by an animation, painted and put down."""
    name = SHEETS[n % len(SHEETS)]
    project, number = draw_piece(project, name, Rect(n % 7, n % 5, 3 + n, 4))
    project, _ = begin_animation(project, name, [number], f"new {n}")
    level = project.level(level_name(n))
    cells = level.layers[0].cells.painted({(n, 50 + n): (number, n % 8)})
    layers = (replace(level.layers[0], cells=cells), *level.layers[1:])
    project = with_level(project, level.name, lambda old: replace(old, layers=layers))
    return put(project, n, number)


def put(project: Project, n: int, number: int = 0) -> Project:
    level = project.level(level_name(n))
    layer = layer_of(level)
    prop = Prop(number or first(0), 10.0 * n, 3.0)
    return add_props(project, level.name, layer, [prop])


def marked(project: Project, n: int) -> Project:
    mark = Mark(f"gate {n}", float(n), 2.0)
    edit = lambda old: replace(old, marks=(*old.marks, mark))  # noqa: E731
    return with_level(project, level_name(n), edit)


def held(project: Project, n: int) -> Project:
    sheet = project.sheet(ANIMATED[n % len(ANIMATED)])
    return set_hold(project, sheet.name, sheet.animations[0].name, {0}, 2 + n)


APART: dict[str, Act] = {
    "drawn": drawn,
    "put": put,
    "marked": marked,
    "brushed": brushed,
    "pivot": lambda p, n: set_pivot(p, frozenset({first(n)}), n, n),
    "nudged": lambda p, n: nudge(p, frozenset({first(n)}), n + 1, 0),
    "licence": lambda p, n: set_licence(p, (SHEETS[n % len(SHEETS)],), author=f"Reed {n}"),
    "held": held,
    "walker": lambda p, n: replace(p, walker=replace(p.walker, speed=n + 1.0)),
    "rules": lambda p, n: replace(
        p, name=f"Fen {n}", rules=replace(p.rules, y_up=not p.rules.y_up)
    ),
    "level": lambda p, n: add_level(p, f"Marsh {n}")[0],
    "layer": lambda p, n: add_layer(p, level_name(n), 0, f"Mist {n}"),
}
MEETING: dict[str, Act] = {
    **APART,
    "called": lambda p, n: rename_sheet(p, ANIMATED[n % len(ANIMATED)], f"called {n}"),
    "level called": lambda p, n: rename_level(p, level_name(n), f"Fen {n}"),
    "level gone": lambda p, n: remove_level(p, p.levels[-1].name),
    "sheet gone": lambda p, n: remove_sheets(p, (BASE.sheets[n % len(BASE.sheets)].name,)),
    "animation called": lambda p, n: rename_animation(
        p, ANIMATED[0], p.sheet(ANIMATED[0]).animations[0].name, f"sway {n}"
    ),
    "animation gone": lambda p, n: remove_animation(
        p, ANIMATED[0], p.sheet(ANIMATED[0]).animations[-1].name
    ),
    "figure": lambda p, n: walk_as(make_figure(p, f"both {n}", ANIMATED[:2]), f"both {n}"),
    "size": lambda p, n: set_pixels_per_unit(p, (SHEETS[n % len(SHEETS)],), 8 + n),
}
acts = st.lists(st.tuples(st.sampled_from(sorted(MEETING)), st.integers(0, 9)), max_size=4)


def after(project: Project, done: list[tuple[str, int]]) -> Project:
    for name, n in done:
        try:
            project = MEETING[name](project, n)
        except (LookupError, StopIteration, Refusal):  # what it is about went before
            continue
    return project


@given(acts, acts)
def test_whatever_two_do_the_project_opens_and_holds_what_is_new(
    tmp_path_factory: pytest.TempPathFactory, ours: list, others: list
) -> None:
    mine, theirs = after(BASE, ours), after(BASE, others)
    both = merged(BASE, mine, theirs)
    folder = tmp_path_factory.mktemp("both")
    files.save(both.project, folder)
    assert files.load(folder) == both.project
    assert merged(BASE, mine, BASE).project == mine and not merged(BASE, mine, BASE).made
    assert merged(BASE, BASE, theirs).project == theirs
    assert merged(BASE, mine, mine).project == mine
    assert Versions(BASE, mine, theirs).is_news == (theirs != BASE)
    lost = {*lost_references(both.project)}
    assert both.made or lost <= {*lost_references(mine), *lost_references(theirs)}
    new, counted = [side.next_number - BASE.next_number for side in (mine, theirs)], Counter[str]()
    counted.update(name for name, _ in (*ours, *others))
    if not counted["sheet gone"] and ours != others:
        count = sum(1 for _ in both.project.pieces()) - sum(1 for _ in BASE.pieces())
        assert max(new) <= count <= sum(new)


@given(
    st.dictionaries(st.sampled_from(sorted(APART)), st.integers(0, 4), max_size=4),
    st.dictionaries(st.sampled_from(sorted(APART)), st.integers(5, 9), max_size=4),
)
def test_what_does_not_meet_is_as_if_one_had_done_both(ours: dict, others: dict) -> None:
    others = {name: n for name, n in others.items() if name not in ours}
    mine, theirs = after(BASE, [*ours.items()]), after(BASE, [*others.items()])
    there, back = merged(BASE, mine, theirs), merged(BASE, theirs, mine)
    assert not there.made and not back.made
    assert of_any_order(there.project) == of_any_order(back.project)
    assert of_any_order(there.project) == of_any_order(after(mine, [*others.items()]))


def of_any_order(project: Project) -> tuple:
    levels = tuple(
        replace(
            level,
            marks=tuple(sorted(level.marks, key=str)),
            layers=tuple(
                replace(layer, props=tuple(sorted(layer.props, key=str)))
                for layer in sorted(level.layers, key=lambda layer: layer.name)
            ),
        )
        for level in sorted(project.levels, key=lambda level: level.name)
    )
    return replace(project, levels=()), levels


def test_numbers_that_both_gave_are_given_anew_wherever_they_stand() -> None:
    ours, others = drawn(BASE, 0), drawn(BASE, 1)
    assert ours.next_number == others.next_number
    both = merged(BASE, ours, others)
    assert not both.made
    new = [piece.number for _, piece in both.project.pieces() if piece.number >= BASE.next_number]
    assert sorted(new) == [BASE.next_number, BASE.next_number + 1]
    for number in new:
        sheet, _ = both.project.find(number) or pytest.fail("it is there")
        assert [one.frames for one in sheet.animations if number in one.frames] == [(number,)]
        levels = both.project.levels
        assert sum(number in layer.cells.used() for lv in levels for layer in lv.layers) == 1
        assert sum(p.piece == number for lv in levels for la in lv.layers for p in la.props) == 1


@given(st.sets(st.sampled_from([piece.number for _, piece in BASE.pieces()]), max_size=40))
def test_numbers_anew_and_back_change_nothing(numbers: set[int]) -> None:
    away = {number: number + 5000 for number in numbers}
    there = renumbered(BASE, away)
    assert set(map(NUMBER, (p for _, p in there.pieces()))).isdisjoint(numbers)
    assert renumbered(there, {new: old for old, new in away.items()}) == BASE


def test_what_meets_is_told_and_stays_as_it_is_here() -> None:
    name, number = SHEETS[0], first(0)
    mine, theirs = (set_pivot(BASE, frozenset({number}), n, n) for n in (3, 5))
    both = merged(BASE, mine, theirs)
    assert both.project == mine and both.made == [f"the sheet {name} › pieces › {number} › pivot"]
    ours, others = painted(BASE, 0, (900, 0)), BASE
    number = [piece.number for _, piece in BASE.pieces()][-1]
    layer = next(n for n, one in enumerate(BASE.levels[0].layers) if not one.locked)
    cells = (
        BASE.levels[0].layers[layer].cells.painted({(900, 0): (number, 0), (901, 0): (number, 0)})
    )
    layers = list(BASE.levels[0].layers)
    layers[layer] = replace(layers[layer], cells=cells)
    others = with_level(BASE, LEVEL, lambda old: replace(old, layers=tuple(layers)))
    both = merged(BASE, ours, others)
    assert len(both.made) == 1 and both.made[0].endswith("cells › 1")
    held = both.project.levels[0].layers[layer].cells
    assert held.at(900, 0) == ours.levels[0].layers[layer].cells.at(900, 0)
    assert held.at(901, 0) == (number, 0)
    gone = merged(BASE, remove_level(BASE, LEVEL), painted(BASE, 0, (9, 9)))
    assert gone.made and gone.project.level(LEVEL), "what was changed is kept"


def git(folder: Path, *words: str) -> int:
    who = ("-c", "user.name=Reed", "-c", "user.email=reed@example.org", "-c", "gc.auto=0")
    quiet = {"GIT_CONFIG_GLOBAL": os.devnull, "GIT_CONFIG_SYSTEM": os.devnull}
    words = ("git", "-C", str(folder), *who, *words)
    return subprocess.run(words, env={**os.environ, **quiet}, capture_output=True).returncode


def meet_in_git(folder: Path, **made: Project) -> None:
    """Commit what lies there, a project on each branch, and have git stop at the last's merge."""
    git(folder, "add", "-A")
    git(folder, "commit", "-q", "-m", "begin")
    begun = "main"
    for branch, project in made.items():
        git(folder, "checkout", "-q", "-b", branch, begun)
        files.save(project, folder)
        git(folder, "add", "-A")
        git(folder, "commit", "-q", "-m", branch)
    assert git(folder, "merge", "-q", next(iter(made))) == 1, "both changed the same file"


@pytest.mark.parametrize("prepared", [True, False])
def test_git_leaves_a_project_to_be_merged_by_value(
    demo: Path, prepared: bool, capsys: pytest.CaptureFixture[str]
) -> None:
    git(demo, "init", "-q", "-b", "main")
    if prepared:
        assert [run_verb(["merge", "--set-up", str(demo)]) for _ in range(2)] == [0, 0]
        assert (demo / ".gitattributes").read_text().count("merge=rushweed") == 3
    sides = [rename_sheet(drawn(BASE, n), ANIMATED[n], f"called {n}") for n in (0, 1)]
    meet_in_git(demo, reeds=sides[1], banks=sides[0])
    assert run_verb(["merge", str(demo)]) == 0
    assert git(demo, "diff", "--quiet", "--diff-filter=U") == 0
    assert git(demo, "commit", "-q", "-m", "both") == 0
    project = files.load(demo)
    assert {"called 0", "called 1"} <= {sheet.name for sheet in project.sheets}
    assert project.next_number == BASE.next_number + 2
    assert len([*(demo / "sheets").iterdir()]) == len(project.sheets)
    assert run_verb(["merge", str(demo)]) == 1
    assert "Git is not merging here" in capsys.readouterr().err


def test_what_met_is_left_for_somebody_to_add(demo: Path) -> None:
    git(demo, "init", "-q", "-b", "main")
    theirs, mine = (set_pivot(BASE, frozenset({first(0)}), n, n) for n in (5, 3))
    meet_in_git(demo, reeds=theirs, banks=mine)
    assert run_verb(["merge", str(demo)]) == 1
    assert files.load(demo) == mine
    assert git(demo, "diff", "--quiet", "--diff-filter=U") == 1, "git still says so"


def test_three_folders_are_merged(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    folders = []
    for name, project in (("base", BASE), ("ours", drawn(BASE, 0)), ("theirs", put(BASE, 1))):
        folders.append(str(tmp_path / name))
        files.save(project, tmp_path / name)
    assert run_verb(["merge", *folders, "--out", str(tmp_path / "out")]) == 0
    assert files.load(tmp_path / "out") == merged(BASE, drawn(BASE, 0), put(BASE, 1)).project
    number = frozenset({first(0)})
    for folder, n in zip(folders[1:], (3, 5), strict=True):
        files.save(set_pivot(BASE, number, n, n), Path(folder))
    assert run_verb(["merge", *folders]) == 1
    assert "Both changed the sheet" in capsys.readouterr().out
    assert run_verb(["merge", *folders[:2]]) == 1


def test_names_that_both_gave_do_not_meet() -> None:
    old, other = ANIMATED[:2]
    for mine, theirs in permutations(
        (rename_sheet(BASE, old, "Reed"), rename_sheet(BASE, other, "Reed")), 2
    ):
        both = merged(BASE, mine, theirs)
        names = {sheet.name for sheet in both.project.sheets}
        assert not both.made and {"Reed", "Reed 2"} <= names and not {old, other} & names
    alike = rename_sheet(BASE, old, "Reed")
    assert not merged(BASE, set_licence(alike, ("Reed",), author="M."), alike).made
    figure = walk_as(make_figure(BASE, "Reed", ANIMATED[:2]), "Reed")
    crossing = make_figure(rename_sheet(BASE, ANIMATED[2], "Reed"), "Fen", (other, "Reed"))
    project = merged(BASE, figure, crossing).project
    assert [(one.name, one.sheets) for one in project.figures] == [
        ("Fen", (other, "Reed")),
        ("Reed 2", (old,)),
    ]
    assert project.walker.figure == "Reed 2"
