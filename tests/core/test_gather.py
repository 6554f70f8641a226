"""Pictures: reading them, refusing them, and what is seen in them."""

from __future__ import annotations

import struct
import tracemalloc
import zlib
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from scipy import ndimage

from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import accept, by_best_guesses, gather
from rushweed.core.cut.inspect import inspect
from rushweed.core.cut.reshaping import set_pixel
from rushweed.core.findings import gauge
from rushweed.core.findings.all import find_all
from rushweed.core.gather import banded, smoothing
from rushweed.core.gather.art import Art
from rushweed.core.gather.colour_key import apply_key, guess_key, keyed
from rushweed.core.gather.enlargement import how_enlarged
from rushweed.core.gather.licences import identifiers
from rushweed.core.gather.memory import SMALL, Memory
from rushweed.core.gather.pictures import content_hash, decode, encode_png, read_picture
from rushweed.core.gather.relatives import (
    belonging_words,
    join_relative,
    relatives,
    release_relative,
)
from rushweed.core.gather.sequences import expand
from rushweed.core.gather.sources import set_licence
from rushweed.core.gather.thumbnails import thumbnail
from rushweed.core.gather.true_pixel import shrunk, true_pixel
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import (
    Belonging,
    ColourKey,
    EvenCells,
    Kind,
    Sheet,
    Source,
)
from rushweed.core.values import Colour, Refusal, Size
from tests.conftest import RAW
from tests.samples import checkered, write_picture


def claim(width: int, height: int) -> bytes:
    """A PNG whose header claims a size that its data does not have."""
    body = b"IHDR" + struct.pack(">IIBBBBB", width, height, 8, 6, 0, 0, 0)
    header = struct.pack(">I", 13) + body + struct.pack(">I", zlib.crc32(body))
    return b"\x89PNG\r\n\x1a\n" + header + struct.pack(">I", 9) + b"IDAT" + b"nothing, really"


KEEPER = (RAW / "keeper.png").read_bytes()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b"GIF89a nothing", "not a picture"),
        (KEEPER[:40], "damaged"),
        (KEEPER[: len(KEEPER) // 2], "cut short or damaged"),
        (claim(60000, 60000), "claims to be 60000 × 60000 px"),
        (b"just some text", "not a picture"),
        (claim(0, 4), "damaged|no pixels"),
    ],
)
def test_what_is_no_whole_picture_is_refused(data: bytes, words: str) -> None:
    with pytest.raises(Refusal, match=words) as refusal:
        decode(data, "sheet.png")
    assert str(refusal.value).endswith(".") and "“sheet.png”" in str(refusal.value)


def test_what_cannot_be_reached_is_refused(tmp_path: Path) -> None:
    with pytest.raises(Refusal, match="is gone"):
        read_picture(tmp_path / "lost.png")
    with pytest.raises(Refusal, match="is a folder"):
        read_picture(tmp_path)


@given(st.integers(1, 9), st.integers(1, 9), st.integers(0, 5))
def test_png_round_trip_and_shrinking_undo_each_other(width: int, height: int, seed: int) -> None:
    picture = checkered(width + 1, height + 1, seed)
    np.testing.assert_array_equal(decode(encode_png(picture), "x"), picture)
    for factor in (1, 2, 5):
        big = np.repeat(np.repeat(picture, factor, 0), factor, 1)
        assert true_pixel(big) == factor
        np.testing.assert_array_equal(shrunk(big, factor), picture)


@given(st.integers(0, 255), st.integers(0, 40))
def test_a_key_clears_what_is_near_and_nothing_else(value: int, tolerance: int) -> None:
    picture = np.zeros((1, 256, 4), np.uint8)
    picture[0, :, :] = np.arange(256)[:, None]
    picture[..., 3] = 255
    key = ColourKey(Colour(value, value, value), tolerance)
    near = np.abs(np.arange(256) - value) <= tolerance
    np.testing.assert_array_equal(keyed(picture, key)[0], near)
    np.testing.assert_array_equal(apply_key(picture, key)[0, :, 3] == 0, near)
    assert picture[..., 3].all(), "the source is never written into"


@pytest.mark.parametrize("size", [(1, 1), (1, 7), (3, 5), (64, 1)])
def test_small_and_empty_pictures_are_seen_without_harm(size: tuple[int, int]) -> None:
    for picture in (np.zeros((*size, 4), np.uint8), checkered(size[1], size[0])):
        seen = inspect(picture)
        assert seen.size == Size(size[1], size[0]) and seen.sentences
    assert guess_key(np.zeros((4, 4, 4), np.uint8)) is None


@pytest.mark.parametrize(("numbers", "plays"), [((3, 4, 5), True), ((1, 2, 4), False)])
def test_numbered_pictures_play_where_no_number_is_missing(
    tmp_path: Path, numbers: tuple[int, ...], plays: bool
) -> None:
    (tmp_path / "run").mkdir()
    for number in numbers:
        write_picture(tmp_path / "run" / f"run_{number}.png", checkered(4, 4, number))
    project = by_best_guesses(Project(), Art(tmp_path / "made"), expand([tmp_path / "run"]))
    (sheet,) = project.sheets
    assert len(sheet.pieces) == 3 and [a.name for a in sheet.animations] == ["run"] * plays


def test_gathering_copies_art_and_never_overwrites_other_art(tmp_path: Path) -> None:
    project, art = Project(), Art(tmp_path / "project")
    for seed in (1, 2):
        source = write_picture(tmp_path / "tree.png", checkered(8, 8, seed))
        project, _ = gather(project, art, [source])
    assert [s.name for s in project.sheets] == ["tree", "tree 2"]
    paths = [s.sources[0].path for s in project.sheets]
    assert len(set(paths)) == 2 and all((art.folder / path).exists() for path in paths)
    np.testing.assert_array_equal(art.picture(project.sheets[0]), checkered(8, 8, 1))
    with pytest.raises(Refusal):
        gather(project, art, [tmp_path / "lost.png"])
    (art.folder / paths[0]).unlink()
    fresh = Art(art.folder)
    with pytest.raises(Refusal, match="is gone"):
        fresh.picture(project.sheets[0])


@pytest.mark.slow
def test_licences_are_spdx_expressions(tmp_path: Path) -> None:
    project, art = Project(), Art(tmp_path)
    source = write_picture(tmp_path / "tree.png", checkered(8, 8))
    project, name = gather(project, art, [source])
    project = set_licence(project, (name,), identifier="mit or cc0-1.0", author=" Mara ")
    licence = project.sheet(name).licence
    assert (licence.identifier, licence.author) == ("MIT OR CC0-1.0", "Mara")
    short = {
        "GPL-2+": "GPL-2.0-or-later",
        "GPLv3": "GPL-3.0-only",
        "LGPL-2.1+": "LGPL-2.1-or-later",
    }
    short |= {"cc by-sa 4.0": "CC-BY-SA-4.0", "CC0": "CC0-1.0", "MIT licence": "MIT"}
    for typed, meant in short.items():
        project = set_licence(project, (name,), identifier=typed)
        assert project.sheet(name).licence.identifier == meant in identifiers()
    project = set_licence(project, (name,), identifier="free for all")
    assert project.sheet(name).licence.identifier == "free for all", "kept as it was typed"
    (finding,) = [f for f in find_all(project, art) if f.code == "unknown-licence"]
    assert "free for all" in finding.what
    with pytest.raises(Refusal, match="smaller than one drawn pixel"):
        set_pixel(project, (name,), 9)
    assert accept(project, art, name).sheet(name).pieces


def few_colours(side: int = 60) -> Image.Image:
    draw = np.random.default_rng(6)
    colours = draw.integers(20, 240, (9, 4), dtype=np.uint8)
    colours[:, 3] = 255
    return Image.fromarray(colours[draw.integers(0, 9, (side, side))])


@given(st.floats(0.6, 4.0), st.integers(0, 9))
def test_art_that_is_soft_by_itself_is_left_in_peace(sigma: float, seed: int) -> None:
    noise = np.random.default_rng(seed).random((96, 96, 3))
    soft = ndimage.gaussian_filter(noise, (sigma, sigma, 0))
    soft = (soft - soft.min()) / (soft.max() - soft.min())
    picture = np.full((96, 96, 4), 255, np.uint8)
    picture[..., :3] = np.rint(soft * 255)
    assert how_enlarged(picture) is None


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 3)), max_size=40))
def test_what_is_kept_stays_within_its_bound_and_counts_once(asked: list[tuple[int, int]]) -> None:
    size = SMALL + 7
    values = [np.zeros(size, np.uint8) for _ in range(4)]
    memory = Memory(2 * size)
    for key, which in asked:
        memory.keep(key, values[which])
        kept = {id(memory.find(k)): memory.find(k) for k in range(10)}
        held = sum(value.nbytes for value in kept.values() if value is not None)
        assert held == 2 * size - memory.free <= 2 * size
        assert memory.find(key) is values[which]


SIDE = 38
KINDS: tuple[Kind, ...] = ("picture", "sheet", "tileset")
sides = st.one_of(st.integers(1, 90), st.sampled_from([300, 1400, 5000]))


@given(sides, sides, st.floats(0, 1), st.floats(0, 1), st.sampled_from(KINDS))
def test_a_thumbnail_is_small_and_shows_what_is_drawn(
    width: int, height: int, across: float, down: float, kind: Kind
) -> None:
    """One dot of 9 × 9 px lies anywhere, in red; all else is clear."""
    picture = np.zeros((height, width, 4), np.uint8)
    x, y = int(across * (width - 1)), int(down * (height - 1))
    picture[y : y + 9, x : x + 9] = (255, 0, 0, 255)
    art = Art(Path(), Memory())
    art.put(picture.tobytes(), picture)
    source = Source("art/dot.png", content_hash(picture.tobytes()), Size(width, height))
    project = Project(sheets=(Sheet("dot", (source,), kind),))
    if kind != "picture":
        cells = EvenCells(Size(max(1, width // 3), max(1, height // 2)))
        project = cut(project, "dot", cells, picture[..., 3] > 0)
    shown = thumbnail(art, project.sheet("dot"), SIDE)
    assert min(shown.shape[:2]) >= 1 and max(shown.shape[:2]) < 4 * SIDE
    assert shown[..., 3].any(), "something is seen"
    assert (shown[shown[..., 3] > 0][:, 0] == 255).all(), "no colour is mixed with what is clear"


def test_a_thumbnail_of_a_huge_picture_takes_little_memory() -> None:
    """Whoever paints the rack waits for it."""
    picture = np.full((8192, 8192, 4), (40, 90, 200, 255), np.uint8)
    art = Art(Path(), Memory())
    art.put(b"huge", picture)
    source = Source("art/huge.png", content_hash(b"huge"), Size(8192, 8192))
    tracemalloc.start()
    shown = thumbnail(art, Sheet("huge", (source,)), SIDE)
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert (shown == (40, 90, 200, 255)).all() and max(shown.shape) < 4 * SIDE
    assert most < 1 << 24, "of a picture of a quarter of a gigabyte"


sides_of_banded = st.integers(1, 24), st.integers(3, 20)


@given(st.integers(1, 90), *sides_of_banded, st.integers(1, 80), st.integers(0, 99))
def test_colours_are_counted_as_all_at_once(
    kinds: int, height: int, width: int, most: int, seed: int
) -> None:
    words = np.random.default_rng(seed).integers(0, kinds, (height, width)).astype(np.uint32)
    picture = words.view(np.uint8).reshape(height, width, 4)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(banded, "AT_ONCE", 37)
        assert gauge._colours(picture, most) == min(len(np.unique(words)), most + 1)


@given(*sides_of_banded, st.integers(0, 99))
def test_steps_and_bends_are_those_of_the_whole_picture(height: int, width: int, seed: int) -> None:
    picture = np.random.default_rng(seed).integers(0, 256, (height, width, 4), np.uint8)
    steps = np.abs(np.diff(picture.astype(int), axis=1)).max(axis=2)
    grey = smoothing.multiplied(picture).sum(axis=2)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(banded, "AT_ONCE", 37)
        np.testing.assert_array_equal(
            gauge._steps(picture), np.bincount(steps.ravel(), minlength=256)
        )
        np.testing.assert_allclose(
            smoothing._bends(picture), np.abs(np.diff(grey, 2, axis=1)).mean(axis=0)
        )


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
