"""Animations in one line: what is written means what it says, and is written again the same."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from rushweed.core.cut.animation_line import Misread, proposed_line, read_line, written_line
from rushweed.core.cut.written_animations import animate_as_written
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.values import Point, Rect


def a_sheet(rows: int = 3, columns: int = 4, name: str = "keeper") -> Sheet:
    pieces = tuple(
        Piece(
            10 + row * columns + column,
            Rect(column * 8, row * 8, 8, 8),
            Point(4, 8),
            row=row,
            column=column,
        )
        for row in range(rows)
        for column in range(columns)
    )
    return Sheet(name, (), pieces=pieces)


def meant(text: str, sheet: Sheet | None = None) -> list[tuple[object, ...]]:
    read = read_line(text, sheet or a_sheet())
    return [(one.name, tuple(n - 9 for n in one.frames), one.rate, one.play) for one in read]


@pytest.mark.parametrize(
    ("text", "animations"),
    [
        (
            "walk 1-4 at 10, turn 5-8 at 6 once",
            [("walk", (1, 2, 3, 4), 10, "loop"), ("turn", (5, 6, 7, 8), 6, "once")],
        ),
        ("walk 4-1", [("walk", (4, 3, 2, 1), 8, "loop")]),
        ("walk 1 3 5–6 @12", [("walk", (1, 3, 5, 6), 12, "loop")]),
        ("walk 1, 3, 5; turn 2 once", [("walk", (1, 3, 5), 8, "loop"), ("turn", (2,), 8, "once")]),
        ("walk row 2 7.5 fps", [("walk", (5, 6, 7, 8), 7.5, "loop")]),
        ("up Column 4 at 6, both columns 2-1", [
            ("up", (4, 8, 12), 6, "loop"), ("both", (2, 6, 10, 1, 5, 9), 8, "loop"),
        ]),
        ("all rows 1-2 back and forth", [("all", tuple(range(1, 9)), 8, "back and forth")]),
        (
            "idle, , run at 12/s\n",
            [("idle", (1, 2, 3, 4), 8, "loop"), ("run", (9, 10, 11, 12), 12, "loop")],
        ),
        ("walk left 1..2\nwalk right 3 to 4", [
            ("walk left", (1, 2), 8, "loop"), ("walk right", (3, 4), 8, "loop"),
        ]),
        ('"run 2" 5-6, once 1 once', [("run 2", (5, 6), 8, "loop"), ("once", (1,), 8, "once")]),
        ("attack2 1-2 ONCE AT 9", [("attack2", (1, 2), 9, "once")]),
        ("idle row 1, a", [("idle", (1, 2, 3, 4), 8, "loop"), ("a", (5, 6, 7, 8), 8, "loop")]),
        ("نوم 1-2", [("نوم", (1, 2), 8, "loop")]),
        ("", []),
        (" ,; ", []),
    ],
)  # fmt: skip
def test_a_line_means_what_it_says(text: str, animations: list[tuple[object, ...]]) -> None:
    assert meant(text) == animations


@pytest.mark.parametrize(
    ("text", "words", "place"),
    [
        ("walk 1-13", "no frame 13: keeper has 12 frames", "1-13"),
        ("walk 1-4, turn 0", "no frame 0", "0"),
        ("walk row 4", "no row 4: keeper has 3 rows", "row 4"),
        ("walk column 5", "no column 5: keeper has 4 columns", "column 5"),
        ("walk 1-4 quickly", "“quickly” is not understood", "quickly"),
        ("walk 1-4, walk 5", "cannot both be called “walk”", "walk 5"),
        ("1-4 at 9", "needs a name", "1-4 at 9"),
        ("walk 1-4 at 900", "between 0 and 120", "at 900"),
        ("a, b, c, d", "say which of its 12 frames “d” has", "d"),
        ("x" * 300 + " 1", "at most 200 letters", "x" * 300 + " 1"),
    ],
)
def test_what_cannot_be_read_is_told_with_its_place(text: str, words: str, place: str) -> None:
    with pytest.raises(Misread, match=words) as told:
        read_line(text, a_sheet())
    assert text[told.value.start : told.value.end] == place
    assert str(told.value).endswith(".")


def test_a_sheet_of_one_row_or_of_none() -> None:
    strip = a_sheet(1, 8)
    assert meant("walk", strip) == [("walk", tuple(range(1, 9)), 8, "loop")]
    with pytest.raises(Misread, match="has one row: say which of its 8 frames “turn” has"):
        read_line("walk 1-4, turn", strip)
    with pytest.raises(Misread, match="say which of its 0 frames"):
        read_line("walk", a_sheet(0))


names = (
    st.text(min_size=1, max_size=12)
    .map(lambda t: " ".join(t.split()))
    .filter(lambda t: t and not {'"', "“", "”"} & {*t} and t.isprintable())
)
animations = st.lists(
    st.builds(
        Animation,
        st.one_of(names, st.sampled_from(["run 2", "once", "row 1", "at 5", "loop", "a, b", "7"])),
        st.lists(st.integers(10, 21), min_size=1, max_size=9).map(tuple),
        st.sampled_from([8.0, 12.0, 7.5, 0.25]),
        st.sampled_from(["loop", "once", "back and forth"]),
    ),
    max_size=4,
    unique_by=lambda animation: animation.name,
)


@given(animations)
@example([Animation("0-", (10,), 8.0, "loop")])
@example([Animation("look at", (10,), 8.0, "loop")])
@example([Animation("column 2", (11, 15, 19), 8.0, "once")])
def test_what_is_there_is_written_and_read_again_the_same(found: list[Animation]) -> None:
    sheet = replace(a_sheet(), animations=tuple(found))
    read = read_line(written_line(sheet), sheet)
    assert [Animation(one.name, one.frames, one.rate, one.play) for one in read] == found
    once = animate_as_written(Project(sheets=(sheet,)), "keeper", written_line(sheet))
    assert once.sheet("keeper").animations == sheet.animations
    assert animate_as_written(once, "keeper", written_line(once.sheet("keeper"))) == once


@given(st.text(max_size=40))
def test_whatever_is_typed_is_read_or_told(text: str) -> None:
    try:
        read_line(text, a_sheet())
    except Misread as told:
        assert 0 <= told.start <= told.end <= len(text)


def test_correcting_the_line_corrects_what_it_made() -> None:
    prop = Prop(10, 5, 5, animation="wlak")
    level = Level("Fen", (Layer("Things", props=(prop,)),))
    project = Project(sheets=(a_sheet(),), levels=(level,))
    project = animate_as_written(project, "keeper", "wlak 1-4 at 10, turn 5-8")
    sheet = project.sheet("keeper")
    assert [piece.name for piece in sheet.pieces[:5]] == [
        "wlak_1", "wlak_2", "wlak_3", "wlak_4", "turn_1",
    ]  # fmt: skip
    held = replace(sheet.animations[0], holds=(1, 2, 1, 1))
    named = replace(sheet.pieces[1], name="wave")
    pieces = (sheet.pieces[0], named, *sheet.pieces[2:])
    sheet = replace(sheet, animations=(held, *sheet.animations[1:]), pieces=pieces)
    project = animate_as_written(
        replace(project, sheets=(sheet,)), "keeper", "walk 1-4 at 12, wlak 9-12"
    )
    project_again = animate_as_written(
        replace(project, sheets=(sheet,)), "keeper", "walk 1-4 at 12, sit 9-12"
    )
    sheet = project_again.sheet("keeper")
    assert sheet.animations[0] == Animation("walk", (10, 11, 12, 13), 12.0, "loop", (1, 2, 1, 1))
    assert [piece.name for piece in sheet.pieces[:6]] == [
        "walk_1", "wave", "walk_3", "walk_4", "", "",
    ], "a name that somebody gave stays, one that the line gave follows it"  # fmt: skip
    assert project_again.levels[0].layers[0].props[0].animation == "walk"
    forgotten = animate_as_written(project_again, "keeper", "")
    assert forgotten.sheet("keeper").animations == ()
    assert forgotten.levels[0].layers[0].props[0].animation == ""


def test_names_of_files_and_sheets_propose_a_line() -> None:
    strip = a_sheet(1, 6, "hero_attack")
    assert proposed_line(strip) == "attack 1-6 once"
    assert proposed_line(a_sheet(1, 6, "hero")) == ""
    assert proposed_line(a_sheet(2, 3, "hero_walk")) == ""
    files = ["idle_01", "idle_02", "run-10", "run-9", "die 1", "die 2"]
    pieces = tuple(replace(p, name=n) for p, n in zip(strip.pieces, files, strict=True))
    assert proposed_line(replace(strip, pieces=pieces)) == "idle 1-2, run 4-3, die 5-6 once"
