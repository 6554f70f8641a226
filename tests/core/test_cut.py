"""Cutting: cells, loose pieces, names, animations."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.arithmetic import calculate
from rushweed.core.cut.animations import frame_at
from rushweed.core.cut.cutting import count_cells, cut, cuts_for, even_cuts
from rushweed.core.cut.inspect import inspect
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.cut.near import Near
from rushweed.core.cut.parting import alike_parts, parted
from rushweed.core.cut.regions import regions_of
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, EvenCells, LoosePieces, Sheet, Source
from rushweed.core.values import Rect, Refusal, Size

SOURCE = Source("art/x.png", "0" * 64, Size(64, 48))
FULL = np.ones((48, 64), bool)


def sheet_project() -> Project:
    return Project(sheets=(Sheet("reed", (SOURCE,)),))


@given(
    st.builds(EvenCells, *[st.builds(Size, st.integers(1, 20), st.integers(1, 20))] * 3),
    st.integers(1, 90),
    st.integers(1, 90),
)
def test_even_cells_lie_inside_and_apart_and_another_would_not_fit(
    layout: EvenCells, width: int, height: int
) -> None:
    size = Size(width, height)
    cuts = even_cuts(layout, size)
    count = count_cells(layout, size)
    assert len(cuts) == count.columns * count.rows
    whole = Rect(0, 0, width, height)
    assert all(c.rect.intersection(whole) == c.rect for c in cuts)
    for index, one in enumerate(cuts[:12]):
        assert not any(one.rect.intersection(other.rect).area for other in cuts[:index])
    step = layout.cell.width + layout.gap.width
    assert layout.margin.width + count.columns * step + layout.cell.width > width or not count.rows


RECTS = st.builds(
    Rect, st.integers(0, 40), st.integers(0, 40), st.integers(1, 30), st.integers(1, 30)
)


@given(st.lists(RECTS, max_size=20), RECTS)
def test_what_is_near_is_found_without_asking_all(rects: list[Rect], rect: Rect) -> None:
    found = Near(rects).to(rect)
    assert {n for n, one in enumerate(rects) if one.intersection(rect).area} <= set(found)
    grid = [Rect(8 * x, 8 * y, 8, 8) for y in range(12) for x in range(12)]
    assert len(Near(grid).to(Rect(20, 20, 8, 8))) == 4


@given(st.integers(2, 9), st.integers(2, 9), st.integers(0, 3), st.integers(0, 3), st.data())
def test_cells_with_nothing_in_them_are_left_out(
    width: int, height: int, gap: int, margin: int, data: st.DataObject
) -> None:
    dots = data.draw(st.lists(st.tuples(st.integers(0, 30), st.integers(0, 40)), max_size=9))
    mask = np.zeros((31, 41), bool)
    for dot in dots:
        mask[dot] = True
    layout = EvenCells(Size(width, height), Size(margin, margin), Size(gap, gap))
    cuts = cuts_for(layout, mask)
    wanted = [
        cut
        for cut in even_cuts(layout, Size(41, 31))
        if mask[cut.rect.y : cut.rect.bottom, cut.rect.x : cut.rect.right].any()
    ]
    assert cuts == wanted


def test_empty_cells_are_left_out_and_nonsense_is_refused() -> None:
    mask = FULL.copy()
    mask[:16, :16] = False
    project = cut(sheet_project(), "reed", EvenCells(Size(16, 16)), mask)
    assert len(project.sheet("reed").pieces) == 11
    for layout, words in (
        (EvenCells(Size(0, 4)), "at least 1 px"),
        (EvenCells(Size(4, 4), Size(-1, 0)), "less than 0"),
        (EvenCells(Size(65, 4)), "Not one cell"),
    ):
        with pytest.raises(Refusal, match=words):
            cut(project, "reed", layout, mask)


@given(st.integers(1, 6), st.integers(1, 8))
def test_bits_nearer_than_the_distance_are_one(gap: int, distance: int) -> None:
    mask = np.zeros((6, 30), bool)
    mask[1:3, 2:5] = True
    mask[2:4, 5 + gap : 8 + gap] = True
    found = loose_pieces(mask, LoosePieces(distance, 1))
    if gap < distance:
        assert found == [Rect(2, 1, 6 + gap, 3)]
    else:
        assert found == [Rect(2, 1, 3, 2), Rect(5 + gap, 2, 3, 2)]


def egg(width: int, height: int) -> np.ndarray:
    """A round figure."""
    y, x = np.mgrid[:height, :width]
    return ((x + 0.5) / width - 0.5) ** 2 + ((y + 0.5) / height - 0.5) ** 2 <= 0.25


def lozenge(width: int, height: int) -> np.ndarray:
    """A figure that is thin on all sides."""
    y, x = np.mgrid[:height, :width]
    return abs((x + 0.5) / width - 0.5) + abs((y + 0.5) / height - 0.5) <= 0.5 + 0.5 / height


@given(st.lists(st.booleans(), min_size=4, max_size=9), st.integers(10, 24), st.integers(10, 24))
def test_figures_that_touch_are_parted_where_they_are_thin(
    touches: list[bool], width: int, height: int
) -> None:
    mask = np.zeros((height + 4, 4 + len(touches) * (width + 3)), bool)
    x, wanted = 2, []
    for touch in touches:
        mask[2 : 2 + height, x : x + width] |= egg(width, height)
        wanted.append(Rect(x, 2, width, height))
        x += width if touch else width + 3
    apart = 1 + sum(not touch for touch in touches[:-1])
    assert len(loose_pieces(mask, LoosePieces())) == apart
    found = loose_pieces(mask, LoosePieces(parted=True))
    alone = [not before and not after for before, after in pairwise([False, *touches[:-1], False])]
    if 2 * sum(alone) > apart:  # most of what hangs together shows how large one is
        assert found == wanted


@given(
    st.lists(
        st.tuples(*[st.integers(0, 50)] * 2, *[st.integers(1, 14)] * 2), min_size=2, max_size=14
    )
)
def test_parting_loses_nothing_and_adds_nothing(boxes: list[tuple[int, int, int, int]]) -> None:
    mask = np.zeros((66, 66), bool)
    for x, y, width, height in boxes:
        mask[y : y + height, x : x + width] = True
    regions = regions_of(mask)
    parts = parted(mask, regions)
    assert parts[:, 4].sum() == mask.sum() and len(parts) >= len(regions)
    for left, top, right, bottom, area in parts.tolist():
        assert 0 < area <= mask[top:bottom, left:right].sum()


def test_a_silhouette_that_comes_again_is_another_figure() -> None:
    house = np.ones((14, 12), bool)
    house[:4, :3] = house[:4, 9:] = False
    mask = np.zeros((60, 60), bool)
    for left in (2, 20, 38):
        mask[2:16, left : left + 12] = house
    mask[30:44, 2:38] = np.tile(house, 3)
    rects = loose_pieces(mask, LoosePieces(parted=True))
    assert rects[3:] == [Rect(left, 30, 12, 14) for left in (2, 14, 26)]
    seen = inspect(np.dstack([mask * 200] * 3 + [mask * 255]).astype(np.uint8))
    assert seen.loose_layout.within or (seen.loose_layout.parted and len(seen.loose) == 6)


@given(st.integers(14, 30), st.integers(2, 4), st.integers(2, 4), st.data())
def test_figures_that_touch_on_all_sides_are_parted_where_they_are_thin(
    side: int, columns: int, rows: int, data: st.DataObject
) -> None:
    """Trimmed frames of one figure fill a page edge to edge, each a little wider or narrower."""
    mask = np.zeros((rows * side, columns * (side + 1)), bool)
    wanted = []
    for row in range(rows):
        x = 0
        for _ in range(columns):
            wide = side + data.draw(st.integers(0, 1))
            mask[row * side : (row + 1) * side, x : x + wide] |= lozenge(wide, side)
            wanted.append(Rect(x, row * side, wide, side))
            x += wide
    regions = regions_of(mask)
    assert alike_parts(mask, regions) == (0 if len(regions) == len(wanted) else len(wanted))
    found = loose_pieces(mask, LoosePieces(parted=True))
    assert len(found) == len(wanted)
    for one, other in zip(found, wanted, strict=True):
        off = np.abs(np.subtract(tuple(one), tuple(other))).max()
        assert off <= side / 6, "a tip may go either way"


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 19)), max_size=9), st.integers(6, 9))
def test_bits_belong_to_the_one_figure_that_they_lie_by(
    sparks: list[tuple[int, int]], between: int
) -> None:
    mask = np.zeros((40, 30 + 3 * (20 + between)), bool)
    wanted = [Rect(10 + place * (20 + between), 10, 20, 20) for place in range(3)]
    for rect in wanted:
        mask[rect.y : rect.bottom, rect.x : rect.right] = True
    for figure, along in sparks:
        if figure < 3:
            x = wanted[figure].x + along
            mask[6:8, x] = True
            wanted[figure] = wanted[figure].union(Rect(x, 6, 1, 2))
    mask[36:38, 1:3] = True  # this one lies by none
    found = loose_pieces(mask, LoosePieces(bits=True, least=2))
    assert found == [*wanted, Rect(1, 36, 2, 2)]


@given(
    st.integers(1, 14).flatmap(
        lambda width: st.lists(
            st.lists(st.booleans(), min_size=width, max_size=width), min_size=1, max_size=12
        )
    ),
    st.integers(1, 4),
)
def test_loose_pieces_are_those_a_flood_finds(rows: list[list[bool]], least: int) -> None:
    mask = np.array(rows)
    found = loose_pieces(mask, LoosePieces(1, least))
    assert sorted(found) == sorted(flooded(mask, least))


def flooded(mask: np.ndarray, least: int) -> list[Rect]:
    """The rectangles around what hangs together, found pixel by pixel."""
    left = {(int(x), int(y)) for y, x in np.argwhere(mask)}
    found = []
    while left:
        body, edge = set(), {min(left)}
        while edge:
            body |= edge
            left -= edge
            around = {(x + i, y + j) for x, y in edge for i in (-1, 0, 1) for j in (-1, 0, 1)}
            edge = around & left
        if len(body) >= least:
            columns, rows = {x for x, _ in body}, {y for _, y in body}
            size = max(columns) - min(columns) + 1, max(rows) - min(rows) + 1
            found.append(Rect(min(columns), min(rows), *size))
    return found


@given(st.lists(st.integers(1, 5), min_size=1, max_size=5), st.floats(0, 20))
def test_frames_follow_the_way_of_playing(frames: list[int], seconds: float) -> None:
    loop, once, back = (
        Animation("x", tuple(frames), 8.0, play) for play in ("loop", "once", "back and forth")
    )
    count = len(frames)
    assert frame_at(loop, seconds) == frames[int(seconds * 8) % count]
    assert frame_at(once, 100.0) == frames[-1]
    turn = 2 * count - 2 if count > 1 else 1
    assert frame_at(back, seconds) == frame_at(back, seconds + 0) in frames
    assert frame_at(back, (turn + 0.5) / 8) == frames[0]


@pytest.mark.parametrize(
    ("text", "value"),
    [("133/7", 19), ("2*(16+1)", 34), (" 3 × 8 ", 24), ("-4", -4), ("1,5", 1.5), ("7−2÷4", 6.5)],
)
def test_arithmetic_as_people_type_it(text: str, value: float) -> None:
    assert calculate(text) == value


@pytest.mark.parametrize(
    "text", ["", "four", "1/0", "2**9", "__import__('os')", "9" * 99, "(" * 59]
)
def test_other_text_is_refused(text: str) -> None:
    with pytest.raises(Refusal):
        calculate(text)
