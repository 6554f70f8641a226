"""Encoders and decoders: bounds, readers that share no code with us, sizes and edges."""

from __future__ import annotations

import io
import struct
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays
from PIL import Image

from rushweed.core.bale.forms import data_file, page_file
from rushweed.core.gather.pictures import encode_png
from rushweed.core.gauge.compression.blocks import to_blocks
from rushweed.core.gauge.compression.dds import dds_file
from rushweed.core.gauge.compression.palette import (
    fits_palette,
    lossless_png,
    palette_png,
    reduced,
)
from rushweed.core.gauge.compression.partly import part_of, treat_part
from rushweed.core.gauge.compression.texture import (
    BLOCK_BYTES,
    TextureForm,
    bytes_in_memory,
    decoded,
    encoded,
    make_texture,
)
from rushweed.core.gauge.compression.treated import choices, loss_of, treat
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.values import Rect, Size

pytestmark = pytest.mark.slow

BLOCK_FORMS = ("BC1", "BC3", "BC7")
SIZES = ((1, 1), (3, 5), (4, 4), (17, 6), (1, 40))


def picture_of(height: int, width: int, kinds: int, seed: int, clear: bool = True) -> np.ndarray:
    dice = np.random.default_rng(seed)
    colours = dice.integers(0, 256, (kinds, 4)).astype(np.uint8)
    colours[:, 3] = 255
    if clear:
        colours[0] = (10, 20, 30, 0)
    return colours[dice.integers(0, kinds, (height, width))]


def opened(data: bytes) -> np.ndarray:
    with Image.open(io.BytesIO(data)) as image:
        return np.array(image.convert("RGBA"))


def again(picture: np.ndarray, form: Any, multiplied: bool = False) -> np.ndarray:
    size = Size(picture.shape[1], picture.shape[0])
    return decoded(encoded(picture, form, multiplied), form, size, multiplied)


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("form", [*BLOCK_FORMS, "RGBA8"])
def test_any_size_comes_back_in_that_size_and_clear_stays_clear(
    form: str, size: tuple[int, int]
) -> None:
    for seed in range(4):
        picture = picture_of(*size, kinds=2, seed=seed)
        back = again(picture, form)
        assert back.shape == picture.shape
        np.testing.assert_array_equal(back[..., 3], picture[..., 3])
        clear = np.zeros_like(picture)
        assert not again(clear, form)[..., 3].any()


@given(st.integers(0, 10_000), st.integers(1, 2))
@settings(max_examples=40)
def test_blocks_of_two_colours_are_exact_to_the_formats_precision(seed: int, kinds: int) -> None:
    picture = picture_of(16, 16, kinds, seed, clear=False)
    steps = [np.array([v << 8 - b | v >> 2 * b - 8 for v in range(1 << b)]) for b in (5, 6, 5)]
    rounded = [
        np.abs(picture[..., place, None].astype(int) - step).min(axis=-1)
        for place, step in enumerate(steps)
    ]
    for form in ("BC1", "BC3"):
        apart = picture.astype(int) - again(picture, form)
        assert not apart[..., 3].any()
        blocks = (apart**2).reshape(4, 4, 4, 4, 4).sum(axis=(1, 3, 4))
        nearest = (np.stack(rounded, axis=-1) ** 2).reshape(4, 4, 4, 4, 3).sum(axis=(1, 3, 4))
        assert (blocks <= nearest).all(), "as near as rounding to 5, 6 and 5 bits, or nearer"
    assert np.abs(picture.astype(int) - again(picture, "BC7")).max() <= 1


@given(arrays.arrays(np.uint8, (8, 8, 4), elements=st.integers(0, 255)))
@settings(max_examples=40)
def test_nothing_is_worse_than_one_flat_colour_and_equal_blocks_are_equal(
    picture: np.ndarray,
) -> None:
    opaque = picture.copy()
    opaque[..., 3] = 255
    blocks = to_blocks(opaque).astype(float)
    flat = ((blocks - blocks.mean(axis=1, keepdims=True)) ** 2).sum()
    for form in BLOCK_FORMS:
        apart = (opaque.astype(float) - again(opaque, form)) ** 2
        assert apart.sum() <= flat + 16 * blocks.shape[0] * 3 * 17, form
    twice = np.concatenate([picture, picture], axis=1)
    data = encoded(twice, "BC7")
    np.testing.assert_array_equal(data[:2], data[2:4])


@pytest.mark.parametrize("form", [*BLOCK_FORMS, "RGBA8"])
def test_a_stranger_reads_our_dds_as_we_do(form: TextureForm) -> None:
    picture = picture_of(20, 28, kinds=9, seed=5)
    soft = np.indices((20, 28)).sum(axis=0)[..., None] * np.array([3, 4, 5, 5]) % 256
    for art in (picture, soft.astype(np.uint8)):
        texture = make_texture(art, form, mipmaps=True)
        data = np.frombuffer(texture.levels[0], np.uint8).reshape(-1, BLOCK_BYTES[form])
        ours = decoded(data, form, texture.size)
        assert np.abs(opened(dds_file(texture)).astype(int) - ours).max() <= 1
        assert sum(map(len, texture.levels)) == bytes_in_memory(texture.size, form, True)
        assert len(texture.levels) == 5


@given(st.integers(1, 400), st.integers(0, 99))
def test_pictures_of_few_colours_are_written_with_a_palette_and_just_as_they_are(
    kinds: int, seed: int
) -> None:
    dice = np.random.default_rng(seed)
    colours = dice.integers(0, 256, (kinds, 4)).astype(np.uint8)
    picture = colours[dice.integers(0, kinds, (21, 30))]
    data = lossless_png(picture)
    np.testing.assert_array_equal(opened(data), picture)
    few = len(np.unique(picture.reshape(-1, 4), axis=0)) <= 256
    assert (Image.open(io.BytesIO(data)).mode == "P") is few
    assert not few or len(data) <= len(encode_png(picture)) + 1100, "a palette takes a kilobyte"
    page = page_file(picture, Treatment("few", compression=Compression("palette", 16)), "PNG")
    assert Image.open(io.BytesIO(page)).mode == "P"


def test_numbers_are_stored_as_they_are_whatever_the_treatment() -> None:
    import zstandard

    numbers = np.random.default_rng(4).integers(0, 256, (6, 5, 4)).astype(np.uint8)
    numbers[..., 3] = 90
    for form in ("PNG", "WebP", "DDS"):
        np.testing.assert_array_equal(opened(data_file(numbers, False, form)), numbers)
    data = data_file(numbers, True, "KTX 2")
    levels = struct.unpack_from("<I", data, 40)[0]
    at = struct.unpack_from("<I", data, 48)[0]
    assert struct.unpack_from("<I", data, 12)[0] == 37, "channels are what they say"
    assert data[at + 14 : at + 16] == bytes([1, 0]), "linear, straight alpha"
    assert data[at + 28 + 3 * 16 + 3] == 15, "alpha is as linear as the rest"
    start, packed, _ = struct.unpack_from("<3Q", data, 80)
    whole = zstandard.decompress(data[start : start + packed])
    np.testing.assert_array_equal(np.frombuffer(whole, np.uint8).reshape(6, 5, 4), numbers)
    assert levels == 3
    start, packed, _ = struct.unpack_from("<3Q", data, 80 + 24)
    half = np.frombuffer(zstandard.decompress(data[start : start + packed]), np.uint8)
    means = numbers[:6, :4].reshape(3, 2, 2, 2, 4).astype(float).mean(axis=(1, 3))
    np.testing.assert_array_equal(half.reshape(3, 2, 4), np.rint(means))


@given(st.integers(1, 40), st.sampled_from([2, 3, 16, 256]), st.booleans(), st.integers(0, 1000))
@settings(max_examples=40)
def test_palettes_are_exact_where_they_suffice_and_alpha_stays(
    kinds: int, count: int, dithered: bool, seed: int
) -> None:
    picture = picture_of(9, 14, kinds, seed)
    palette = reduced(picture, count, dithered)
    assert len(palette.colours) <= count and palette.indices.shape == picture.shape[:2]
    np.testing.assert_array_equal(opened(palette_png(palette)), palette.picture)
    np.testing.assert_array_equal(palette.picture[..., 3] > 0, picture[..., 3] > 0)
    seen = picture[..., 3] > 0
    if fits_palette(picture, count):
        np.testing.assert_array_equal(palette.picture[seen], picture[seen])
        assert loss_of(picture, palette.picture).noise == float("inf")


@pytest.mark.parametrize("multiplied", [False, True])
@pytest.mark.parametrize("choice", choices(Compression("lossy WebP", quality=30)), ids=str)
def test_every_choice_takes_every_picture(choice: Compression, multiplied: bool) -> None:
    treatment = Treatment(
        "Any", compression=choice, mipmaps=True, multiplied=multiplied, sides="power of two"
    )
    for size in SIZES:
        for kinds in (1, 30):
            picture = picture_of(*size, kinds, 6)
            *_, (share, treated) = treat(picture, treatment)
            assert share == 1 and treated is not None and treated.on_disk > 0
            assert treated.picture.shape == picture.shape
            if choice.form.startswith("lossless"):
                assert loss_of(picture, treated.picture).error == 0


@pytest.mark.parametrize("sides", ["any", "multiple of four"])
@pytest.mark.parametrize("form", ["BC1", "BC3", "BC7"])
@given(st.data())
@settings(max_examples=8, deadline=None)
def test_a_part_in_blocks_is_the_very_part_of_the_whole(form, sides, data) -> None:
    height, width = data.draw(st.integers(5, 40)), data.draw(st.integers(5, 40))
    seed = data.draw(st.integers(0, 99))
    picture = np.random.default_rng(seed).integers(0, 255, (height, width, 4), np.uint8)
    treatment = Treatment("", compression=Compression(form), sides=sides)
    x, y = data.draw(st.integers(-9, width - 1)), data.draw(st.integers(-9, height - 1))
    part = part_of(Rect(x, y, data.draw(st.integers(10, 50)), 10), Size(width, height))
    assert part is not None
    *_, found = treat_part(picture, treatment, part)
    *_, (_, whole) = treat(picture, treatment)
    expected = whole.picture[part.y : part.bottom, part.x : part.right]
    np.testing.assert_array_equal(found, expected)


def test_too_large_a_part_and_none_are_not_tried() -> None:
    assert part_of(Rect(0, 0, 9000, 9000), Size(8192, 8192)) is None
    assert part_of(Rect(500, 0, 9, 9), Size(64, 64)) is None
