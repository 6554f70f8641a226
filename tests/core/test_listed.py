"""Texts beside packed pictures: whoever wrote them, their rectangles are the pieces."""

from __future__ import annotations

import json
import plistlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.gathering import accept, accept_sure, cut_again, cut_as, gather, see
from rushweed.core.cut.listed import listed_pieces
from rushweed.core.gather.art import Art
from rushweed.core.gather.rectangle_lists import LARGEST, series_in
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Rect, Size
from tests.samples import write_picture

Things = dict[str, Rect]
WIDE = 96


@st.composite
def pages(draw: st.DrawFn) -> tuple[np.ndarray, Things]:
    """A mask with things of all sizes on shelves, a few pixels apart or edge to edge."""
    apart, things, x, y, shelf = draw(st.integers(0, 2)), {}, 0, 0, 0
    sizes = draw(st.lists(st.tuples(*[st.integers(3, 24)] * 2), min_size=3, max_size=24))
    for number, (width, height) in enumerate(sizes):
        if x + width > WIDE:
            x, y, shelf = 0, y + shelf + apart, 0
        things[f"thing {number}"] = Rect(x, y, width, height)
        x, shelf = x + width + apart, max(shelf, height)
    mask = np.zeros((y + shelf + draw(st.integers(0, 9)), WIDE), bool)
    random = np.random.default_rng(draw(st.integers(0, 99)))
    for rect in things.values():
        drawn = random.random((rect.height, rect.width)) < 0.8
        mask[rect.y : rect.bottom, rect.x : rect.right] = drawn
    return mask, things


def as_map(things: Things, height: int) -> Any:
    return {
        "about": {"app": "somebody's", "size": {"w": WIDE, "h": height}, "scale": 1},
        "all": {
            f"{name}.png": {
                "trimmed": False, "whole": {"x": 0, "y": 0, "w": r.width, "h": r.height},
                "frame": {"x": r.x, "y": r.y, "w": r.width, "h": r.height}, "time": 100,
            } for name, r in things.items()
        },
    }  # fmt: skip


def as_markup(things: Things, height: int) -> bytes:
    rows = "".join(
        f'<part name="{n}" x="{r.x}" y="{r.y}" width="{r.width}" height="{r.height}" pivot="0.5"/>'
        for n, r in things.items()
    )
    return f'<?xml version="1.0"?><page picture="a.png"><parts>{rows}</parts></page>'.encode()


def as_elements(things: Things, height: int) -> bytes:
    rows = "".join(
        f"<p><id>{n}</id><l>{r.x}</l><t>{r.y}</t><r>{r.right}</r><b>{r.bottom}</b></p>"
        for n, r in things.items()
    )
    return f"<all>{rows}</all>".encode()


def as_property_list(things: Things, height: int) -> bytes:
    rects = {
        f"{n}.png": {"rect": f"{{{{{r.x}, {r.y}}}, {{{r.width}, {r.height}}}}}"}
        for n, r in things.items()
    }
    return plistlib.dumps({"frames": rects}, sort_keys=False)


def as_table(things: Things, height: int) -> bytes:
    lines = [f"{n};{r.x};{r.y};{r.width};{r.height}" for n, r in things.items()]
    return "\n".join(["# made at home", *lines]).encode()


def from_below(things: Things, height: int) -> Any:
    return [
        {"called": n, "left": r.x, "top": height - r.bottom, "wide": r.width, "high": r.height}
        for n, r in things.items()
    ]


def turned(things: Things, height: int) -> Any:
    rows = []
    for place, (name, r) in enumerate(things.items()):
        size = (r.height, r.width) if place % 2 else (r.width, r.height)
        rows.append({"name": name, "turned": bool(place % 2), "at": [r.x, r.y], "size": size})
    return {"list": rows}


def bare(things: Things, height: int) -> Any:
    return {name: [r.x, r.y, r.right, r.bottom] for name, r in things.items()}


FORMS: list[Callable[[Things, int], Any]] = [
    as_map, as_markup, as_elements, as_property_list, as_table, from_below, turned, bare
]  # fmt: skip


def text_of(form: Callable[[Things, int], Any], things: Things, height: int) -> bytes:
    made = form(things, height)
    return made if isinstance(made, bytes) else json.dumps(made).encode()


@pytest.mark.parametrize("form", FORMS)
@given(page=pages())
def test_every_rectangle_is_found_with_its_name(
    form: Callable[[Things, int], Any], page: tuple[np.ndarray, Things]
) -> None:
    mask, things = page
    found = listed_pieces(text_of(form, things, mask.shape[0]), mask)
    told = {one.name: one.rect for one in found}
    if form is turned and told != things:  # squares and twins may be told either way
        assert len(told) == len(things)
        assert all(told[n].size in (r.size, r.size[::-1]) for n, r in things.items())
    else:
        assert told == things


@given(page=pages(), other=pages(), form=st.sampled_from(FORMS))
def test_the_list_of_another_page_is_not_taken(
    page: tuple[np.ndarray, Things], other: tuple[np.ndarray, Things], form: Any
) -> None:
    mask, (height, _) = page[0], other[0].shape
    found = listed_pieces(text_of(form, other[1], height), mask)
    inside = sum(mask[r.y : r.bottom, r.x : r.right].sum() for r, _ in found)
    assert not found or inside >= np.count_nonzero(mask) / 2


@given(st.binary(max_size=400), st.sampled_from([b"", b"{", b"[", b"<a>", b"bplist00", b"x,y\n1,"]))
def test_no_text_does_any_harm(data: bytes, begin: bytes) -> None:
    assert isinstance(series_in(begin + data), list)
    assert listed_pieces(begin + data, np.ones((4, 4), bool)) == () or data


@pytest.mark.parametrize("text", [b"[" * 90_000, b'{"a":' * 90_000, b"<a>" * 9_000, b"1 " * 99_999])
def test_deep_and_long_texts_end(text: bytes) -> None:
    assert listed_pieces(text, np.ones((4, 4), bool)) == ()


def painted(things: Things, height: int) -> np.ndarray:
    """A picture of the things, all of one colour, edge to edge where they lie so."""
    picture = np.zeros((height, WIDE, 4), np.uint8)
    for rect in things.values():
        picture[rect.y : rect.bottom, rect.x : rect.right] = (90, 60, 30, 255)
    return picture


TOUCHING = {
    "eel/swim_1": Rect(0, 0, 20, 12), "eel/swim_2": Rect(20, 0, 17, 12),
    "eel/bite_1": Rect(37, 0, 30, 16), "lamp": Rect(0, 16, 9, 22), "post": Rect(9, 16, 40, 5),
}  # fmt: skip


@pytest.mark.parametrize("beside", ["fen.json", "fen.png.json", "about this pack.page"])
def test_a_packed_page_is_cut_as_the_text_beside_it_says(tmp_path: Path, beside: str) -> None:
    text = {**as_map(TOUCHING, 40), "picture": "fen.png"}
    (tmp_path / beside).write_text(json.dumps(text))
    other = {"picture": "fen.png", "all": [{"x": 1, "y": 1, "w": 999, "h": 9}] * 9}
    (tmp_path / "about another.json").write_text(json.dumps(other))
    (tmp_path / "a walk in the fen.ogg").write_bytes(b"fen.png" * (LARGEST // 7 + 1))
    project, art = Project(), Art(tmp_path / "project", keeps=True)
    picture = write_picture(tmp_path / "fen.png", painted(TOUCHING, 40))
    project, name = gather(project, art, [picture])
    again = Art(tmp_path / "project", keeps=True)
    seen = see(again, project.sheet(name))
    assert seen.is_sure and "lists them by name" in seen.sentences[-1]
    *_, project = accept_sure(project, again, [name])
    pieces = project.sheet(name).pieces
    told = {n.rpartition("/")[2]: rect for n, rect in TOUCHING.items()}
    assert {p.name: p.rect for p in pieces} == told
    assert {p.rect for p in cut_again(project, again, [name]).sheet(name).pieces} == set(
        TOUCHING.values()
    ), "and stays so when a key is set"
    seen = see(again, project.sheet(name))
    project = cut_as(project, again, name, EvenCells(Size(16, 16)))
    assert {p.rect.size for p in project.sheet(name).pieces} == {(16, 16)}, "somebody said so"
    project = cut_as(project, again, name, seen.layout)
    assert {p.name: p.rect for p in project.sheet(name).pieces} == told


def test_cells_that_a_text_names_stay_cells(tmp_path: Path) -> None:
    cells = {f"tile_{y}{x}": Rect(x * 16, y * 16, 16, 16) for y in range(4) for x in range(6)}
    picture = painted(cells, 64)
    random = np.random.default_rng(2)
    picture[..., :3] = random.integers(0, 255, (64, 96, 3))
    (tmp_path / "fen.csv").write_bytes(as_table(cells, 64))
    art = Art(tmp_path)
    project, name = gather(Project(), art, [write_picture(tmp_path / "fen.png", picture)])
    project = accept(project, art, name)
    sheet = project.sheet(name)
    assert isinstance(sheet.layout, EvenCells) and not any(p.by_hand for p in sheet.pieces)
    assert {p.name: p.rect for p in sheet.pieces} == cells
