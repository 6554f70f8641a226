"""Pictures that are damaged, that claim to be enormous, or that stop half way."""

from __future__ import annotations

import io
import resource
import struct
import subprocess
import sys
import warnings
import zipfile
import zlib
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from rushweed.core.gather.open_raster import layers_of
from rushweed.core.gather.picture_limits import SETTING
from rushweed.core.gather.pictures import decode, decode_frames
from rushweed.core.values import Refusal
from tests.core.test_forms import EXACT, animated, few_colours, open_raster, stored
from tests.hostile import amount, tried
from tests.samples import checkered

PER_PIXEL = 17
"""Bytes of memory that decoding takes for each pixel at most."""
WHOLE = {form: stored(few_colours(), form) for form in (*EXACT, "JPEG")}
WHOLE |= {f"moving {form}": animated(form)[0] for form in ("PNG", "GIF", "WEBP")}
WHOLE["ORA"] = open_raster({"one": checkered(6, 4), "two": checkered(5, 5)})


@given(
    st.sampled_from(sorted(WHOLE)),
    st.floats(0, 1),
    st.lists(st.tuples(st.floats(0, 0.999), st.integers(0, 255)), max_size=6),
)
@settings(max_examples=amount(120, 10_000), deadline=None)
def test_damaged_files_are_read_or_refused_with_a_sentence(
    form: str, part: float, changes: list[tuple[float, int]]
) -> None:
    tried("pictures of all forms with changed and missing bytes")
    data = bytearray(WHOLE[form])
    for place, value in changes:
        data[int(place * len(data))] = value
    damaged = bytes(data[: int(len(data) * (part if part < 0.9 else 1.0))])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # the library's own remarks on damaged files
        try:
            if form == "ORA":
                layers_of(damaged, "art.ora")
                return
            picture = decode_frames(damaged, "art").picture
        except Refusal as refusal:
            assert str(refusal).endswith(".") and "art" in str(refusal)
            return
    assert picture.dtype == np.uint8 and picture.shape[2] == 4 and picture.size


def png_of(width: int, height: int, rows: int, depth: int = 8, colours: int = 6) -> bytes:
    """A PNG that claims to be of that size and holds so many rows."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        check = struct.pack(">I", zlib.crc32(kind + body))
        return struct.pack(">I", len(body)) + kind + body + check

    line = b"\0" + b"\x7f" * (-(-width * depth * {0: 1, 2: 3, 6: 4}[colours] // 8))
    packer = zlib.compressobj(1)
    body = b"".join(packer.compress(line) for _ in range(rows)) + packer.flush()
    header = struct.pack(">IIBBBBB", width, height, depth, colours, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", body) + chunk(b"IEND", b"")
    )


def gif_of(width: int, height: int, count: int) -> bytes:
    """A GIF of a few bytes that claims so many frames of that size."""
    header = b"GIF89a" + struct.pack("<HH", width, height) + b"\x80\0\0" + b"\0\0\0\xff\xff\xff"
    frame = b"," + struct.pack("<HHHH", 0, 0, width, height) + b"\0\x02\x02\x44\x01\0"
    return header + frame * count + b";"


BOMBS = {
    "wide": (png_of(65_536, 2, 2), "up to 16384 a side"),
    "large": (png_of(16_384, 16_384, 4), "more than the 100 million"),
    "grey": (png_of(16_000, 16_000, 4, 16, 0), "more than the 100 million"),
    "one bit": (png_of(2**31 - 1, 2**31 - 1, 1, 1, 0), "up to 16384 a side"),
    "GIF": (gif_of(16_384, 16_384, 1), "more than the 100 million"),
    "many frames": (gif_of(4000, 4000, 40), "40 frames of 4000 × 4000 px, more than"),
    "rows missing": (png_of(64, 4096, 40), "Most rows of “bomb” are missing"),
}


@pytest.mark.parametrize("name", sorted(BOMBS))
def test_what_claims_too_much_is_refused_before_it_is_decoded(name: str) -> None:
    tried("pictures that claim too much or stop half way")
    data, words = BOMBS[name]
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(Refusal, match=words) as told:
        decode(data, "bomb")
    assert str(told.value).endswith(".")
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) << 10
    assert grown < 64 << 20, "nothing large was made"


def test_the_bound_is_a_setting(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    data = png_of(1200, 1000, 1000)
    assert decode(data, "art").shape == (1000, 1200, 4)
    for variable, file, fits in (
        ("1", "", False),
        ("much", "", True),
        ("", "largest_picture = 1", False),
        ("2", "largest_picture = 1", True),
        ("", "largest_picture = -1", True),
        ("", "[largest_picture", True),
    ):
        home = tmp_path / f"{variable}{file}"
        (home / "rushweed").mkdir(parents=True)
        (home / "rushweed" / "limits.toml").write_text(file)
        monkeypatch.setenv("XDG_CONFIG_HOME", str(home))
        monkeypatch.setenv("RUSHWEED_LARGEST_PICTURE", variable)
        if fits:
            assert decode(data, "art").size
            continue
        with pytest.raises(Refusal, match=r"more than the 1 million.*limits\.toml") as told:
            decode(data, "art")
        assert f"raise {SETTING} in {home}" in str(told.value)


DEEP = [("I;16", "PNG"), ("F", "TIFF"), ("CMYK", "TIFF"), ("LAB", "TIFF"), ("RGB", "WEBP")]
MEASURE = """
import resource, sys
from rushweed.core.gather.pictures import decode
data = open(sys.argv[1], "rb").read()
decode(open(sys.argv[2], "rb").read(), "small")
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
decode(data, "art")
print((resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) << 10)
"""


@pytest.mark.parametrize(("mode", "form"), DEEP)
def test_decoding_takes_no_more_memory_than_is_said(mode: str, form: str, tmp_path: Path) -> None:
    side = 3000
    for name, length in (("large", side), ("small", 16)):
        Image.new(mode, (length, length)).save(tmp_path / name, form)
    words = [sys.executable, "-c", MEASURE, str(tmp_path / "large"), str(tmp_path / "small")]
    done = subprocess.run(words, capture_output=True, text=True, check=True)
    assert int(done.stdout) <= PER_PIXEL * side * side + (8 << 20)


def test_pictures_of_very_many_layers_are_refused_at_once() -> None:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        rows = '<layer name="a" src="data/0.png"/>' * 20_000
        archive.writestr("stack.xml", f"<image><stack>{rows}</stack></image>")
        archive.writestr("data/0.png", stored(checkered(6, 4), "PNG"))
    with pytest.raises(Refusal, match=r"20000 layers, more than 1000\. Merge"):
        layers_of(target.getvalue(), "art.ora")


def test_layers_that_unpack_to_too_much_are_refused() -> None:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        rows = '<layer name="a" src="data/0.png"/>' * 9
        archive.writestr("stack.xml", f"<image><stack>{rows}</stack></image>")
        archive.writestr("data/0.png", bytes(64 << 20))
    with pytest.raises(Refusal, match="more than 512 MiB"):
        layers_of(target.getvalue(), "art.ora")
