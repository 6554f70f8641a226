"""Every open form of picture: read whole, refused when damaged, never a fault."""

from __future__ import annotations

import io
import zipfile
from html import escape
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from rushweed.core.cut.gathering import by_best_guesses
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import decode
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from tests.samples import checkered

EXACT = ("PNG", "WEBP", "BMP", "TGA", "TIFF", "QOI", "GIF")


def stored(picture: np.ndarray, form: str, **options: object) -> bytes:
    target = io.BytesIO()
    image = Image.fromarray(picture)
    if form in ("JPEG", "BMP"):
        image = image.convert("RGB")
    if form == "WEBP":
        options["lossless"] = True
    image.save(target, form, **options)
    return target.getvalue()


def few_colours(width: int = 12, height: int = 9) -> np.ndarray:
    picture = checkered(width, height)
    picture[..., :3] = picture[..., :3] // 64 * 64
    return picture


def test_jpeg_cmyk_and_deep_tiff_come_near() -> None:
    soft = np.zeros((16, 16, 4), np.uint8)
    soft[..., 0], soft[..., 1], soft[..., 3] = np.arange(16) * 12, 90, 255
    near = decode(stored(soft, "JPEG", quality=95), "x").astype(int)
    assert np.abs(near - soft).max() < 24
    target = io.BytesIO()
    Image.fromarray(soft).convert("RGB").convert("CMYK").save(target, "TIFF")
    assert np.abs(decode(target.getvalue(), "x").astype(int) - soft).max() < 4
    deep = io.BytesIO()
    Image.fromarray(np.linspace(0, 65535, 64).reshape(8, 8).astype(np.uint16)).save(deep, "TIFF")
    grey = decode(deep.getvalue(), "x")[..., 0]
    np.testing.assert_array_equal(grey, np.rint(np.linspace(0, 255, 64)).reshape(8, 8))


def animated(form: str, count: int = 5) -> tuple[bytes, list[np.ndarray]]:
    frames = [few_colours() for _ in range(count)]
    for index, frame in enumerate(frames):
        frame[:, : index + 1] = (255, 0, 0, 255)
    images = [Image.fromarray(frame) for frame in frames]
    target = io.BytesIO()
    options: dict = {"lossless": True} if form == "WEBP" else {}
    images[0].save(
        target, form, save_all=True, append_images=images[1:], duration=200, loop=0, **options
    )
    return target.getvalue(), frames


def open_raster(layers: dict[str, np.ndarray]) -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("mimetype", "image/openraster")
        rows = "".join(
            f'<layer name="{escape(n)}" src="data/{i}.png"/>' for i, n in enumerate(layers)
        )
        archive.writestr("stack.xml", f"<image><stack>{rows}</stack></image>")
        for index, picture in enumerate(layers.values()):
            archive.writestr(f"data/{index}.png", stored(picture, "PNG"))
    return target.getvalue()


def test_layers_of_openraster_become_pictures(tmp_path: Path) -> None:
    path = tmp_path / "fen.ora"
    path.write_bytes(open_raster({"Reeds & mist": checkered(6, 4), "ground": checkered(6, 4, 2)}))
    art = Art(tmp_path / "project")
    project = by_best_guesses(Project(), art, [[path]])
    assert [sheet.name for sheet in project.sheets] == ["ground", "Reeds-mist"]
    np.testing.assert_array_equal(art.stored(project.sheets[0]), checkered(6, 4, 2))
    for bad in (b"", b"PK\x03\x04 nothing", open_raster({}), path.read_bytes()[:90]):
        path.write_bytes(bad)
        with pytest.raises(Refusal, match=r"OpenRaster|no layer|is empty"):
            by_best_guesses(Project(), art, [[path]])
