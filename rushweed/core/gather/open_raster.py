"""Layers of OpenRaster pictures (OpenRaster specification 0.0.6, freedesktop.org)."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path
from xml.etree import ElementTree

from rushweed.core.values import Refusal

ENDING = ".ora"
LARGEST_STACK = 1_000_000
"""Bytes of `stack.xml` that are read at most."""
LARGEST_LAYER = 400_000_000


def unpack_layers(data: bytes, name: str, target: Path) -> list[Path]:
    """Write the layers of a picture into a folder as PNG files, the lowest first.

    Raises Refusal when it is no whole OpenRaster picture or holds no layer.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            layers = _layers(archive)
            written = [_write(archive, *layer, target) for layer in layers]
    except OSError:
        raise
    except Exception as problem:  # whatever is wrong with a damaged archive
        raise Refusal(
            f"“{name}” is not a whole OpenRaster picture. Export it again from where it was drawn."
        ) from problem
    if not written:
        raise Refusal(f"“{name}” holds no layer with pixels. Draw something, then export it again.")
    return written


def _layers(archive: zipfile.ZipFile) -> list[tuple[str, str]]:
    """The name and the place of each layer, the lowest first."""
    with archive.open("stack.xml") as file:
        text = file.read(LARGEST_STACK)
    if b"<!ENTITY" in text:
        raise KeyError("entities are not part of OpenRaster")
    found: list[tuple[str, str]] = []
    for layer in ElementTree.fromstring(text).iter("layer"):
        name = re.sub(r"[^\w.-]+", "_", layer.get("name", "")).strip("_.") or "layer"
        names = {other for other, _ in found}
        count = 2
        unique = name
        while unique in names:
            unique, count = f"{name}-{count}", count + 1
        found.append((unique, layer.get("src", "")))
    return found[::-1]


def _write(archive: zipfile.ZipFile, name: str, source: str, target: Path) -> Path:
    if archive.getinfo(source).file_size > LARGEST_LAYER:
        raise KeyError(source)
    path = target / f"{name}.png"
    target.mkdir(parents=True, exist_ok=True)
    path.write_bytes(archive.read(source))
    return path
