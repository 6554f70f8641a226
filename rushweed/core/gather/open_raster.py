"""Layers of OpenRaster pictures (OpenRaster specification 0.0.6, freedesktop.org)."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from rushweed.core.folder.names import file_stems
from rushweed.core.values import Refusal

if TYPE_CHECKING:
    import zipfile

ENDING = ".ora"
LARGEST_STACK = 1_000_000
"""Bytes of `stack.xml` that are read at most."""
MOST_LAYERS = 1000
LARGEST_LAYERS = 512 << 20
"""Bytes of all layers' files together."""


def layers_of(data: bytes, name: str) -> list[tuple[str, bytes]]:
    """The layers of a picture, the lowest first: a name for each, no two alike, and its PNG file.

    Raises Refusal when it is no whole OpenRaster picture, holds no layer, or more than fit.
    """
    import zipfile

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            sources = _sources(archive)
            _check_amount(archive, sources, name)
            names = file_stems([layer for layer, _ in sources], lower=False)
            pictures = [archive.read(source) for _, source in sources]
    except Refusal:
        raise
    except Exception as problem:  # whatever is wrong with a damaged archive
        raise Refusal(
            "“{name}” is not a whole OpenRaster picture. Export it again from where it was drawn.",
            name=name,
        ) from problem
    if not names:
        raise Refusal(
            "“{name}” holds no layer with pixels. Draw something, then export it again.", name=name
        )
    return list(zip(names, pictures, strict=True))


def _sources(archive: zipfile.ZipFile) -> list[tuple[str, str]]:
    """The name and the place of each layer, the lowest first."""
    from xml.etree import ElementTree

    with archive.open("stack.xml") as file:
        text = file.read(LARGEST_STACK)
    if b"<!ENTITY" in text:
        raise KeyError("entities are not part of OpenRaster")
    layers = ElementTree.fromstring(text).iter("layer")
    found = [(layer.get("name", "layer"), layer.get("src", "")) for layer in layers]
    return found[::-1]


def _check_amount(archive: zipfile.ZipFile, sources: list[tuple[str, str]], name: str) -> None:
    """Raise Refusal for more layers, or more bytes in them, than anybody draws."""
    if len(sources) > MOST_LAYERS:
        raise Refusal(
            "“{name}” has {count} layers, more than {most_layers}. Merge some of them.",
            name=name,
            count=len(sources),
            most_layers=MOST_LAYERS,
        )
    if sum(archive.getinfo(source).file_size for _, source in sources) > LARGEST_LAYERS:
        raise Refusal(
            "The layers of “{name}” hold more than {number} MiB. Make it smaller.",
            name=name,
            number=LARGEST_LAYERS >> 20,
        )
