"""A picture lit through its normal map by a light that moves.

Each pixel of a normal map holds a direction, red to the right, green up and blue to the viewer,
from −1 to 1 (as glTF 2.0 has it for normal textures); a surface is as bright as the cosine between
that and the way to the light (J. H. Lambert, "Photometria", 1760).
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from rushweed.core.arrays import Bytes
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.orientation import FLIPPED, FLIPPED_DOWN, SWAPPED
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Refusal

AMBIENT, STRENGTH = 0.35, 1.15
FLAT = (128, 128, 255, 255)
"""A pixel that faces the viewer."""


def companions(project: Project) -> dict[str, Sheet]:
    """All normal maps by the names of the sheets they belong to."""
    maps = [s for s in project.sheets if s.belongs and s.belongs.kind == "normal map"]
    return {sheet.belongs.to: sheet for sheet in reversed(maps) if sheet.belongs}


def normals_of(art: Art, sheet: Sheet, companion: Sheet) -> Picture:
    """The normal map of a sheet, its companion, turned and sized as the sheet is.

    Raises Refusal when its size does not fit the sheet's any more.
    """
    like = replace(
        companion,
        pixel=sheet.pixel,
        orientation=sheet.orientation,
        enlarged=sheet.enlarged,
        fitted=sheet.fitted,
        colour_key=None,
    )
    picture = art.picture(like)
    if picture.shape[:2] != (sheet.size.height, sheet.size.width):
        raise Refusal(
            "“{name}” is {size} px and “{lit}” {lit_size} px. A normal map is as "
            "large as what it lights: export both from one picture.",
            name=companion.name,
            size=like.size,
            lit=sheet.name,
            lit_size=sheet.size,
        )
    return _turned_normals(picture, sheet.orientation)


def lit(picture: Picture, normals: Picture, light: Point, height: float) -> Picture:
    """A picture under a light at a place in its pixels, so many pixels before it; both pictures
    are of one size. Alpha stays as it is."""
    way = normals[..., :3].astype(np.float32) * np.float32(2 / 255) - 1
    rows, columns = picture.shape[:2]
    across = np.float32(light.x) - np.arange(columns, dtype=np.float32)[None] - 0.5
    up = np.arange(rows, dtype=np.float32)[:, None] + 0.5 - np.float32(light.y)
    far = np.sqrt(across**2 + up**2 + np.float32(height**2))
    cosine = (way[..., 0] * across + way[..., 1] * up + way[..., 2] * height) / far
    lengths = np.maximum(np.sqrt((way * way).sum(axis=2)), 1e-3)
    bright = AMBIENT + STRENGTH * np.clip(cosine / lengths, 0, 1)
    result = picture.copy()
    result[..., :3] = np.clip(picture[..., :3] * bright[..., None], 0, 255).astype(np.uint8)
    return result


def _turned_normals(picture: Picture, orientation: int) -> Picture:
    """The directions of a picture that was turned and flipped, turned along with it."""
    if not orientation:
        return picture
    across, up = picture[..., 0], picture[..., 1]
    if orientation & SWAPPED:
        across, up = _against(up), _against(across)
    if orientation & FLIPPED:
        across = _against(across)
    if orientation & FLIPPED_DOWN:
        up = _against(up)
    result = picture.copy()
    result[..., 0], result[..., 1] = across, up
    return result


def _against(channel: Bytes) -> Bytes:
    return 255 - channel
