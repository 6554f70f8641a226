"""The tileset `sluice_rooms`: walls and floors of the sluice house, on one row without gaps."""

from __future__ import annotations

from drawing import stone, woodwork
from drawing.pix import Pix

NAMES = ("wall", "wall_beam", "wall_window", "wall_shelf", "block", "floor", "floor_post", "hatch")


def tiles() -> list[tuple[str, Pix]]:
    """Every tile with its name, left to right."""
    wall = stone.inner_wall()
    floor = woodwork.plank().on("1")
    pictures = [
        wall,
        stone.inner_wall("beam"),
        stone.inner_wall("window"),
        stone.inner_wall("shelf"),
        stone.stone(),
        floor,
        woodwork.plank().blit(woodwork.post(start=8), 0, 0).on("1"),
        Pix(16, 16).blit(wall, 0, 0).blit(woodwork.ladder(), 0, 0),
    ]
    return list(zip(NAMES, pictures, strict=True))


def sheet() -> Pix:
    picture = Pix(16 * len(NAMES), 16)
    for index, (_, tile) in enumerate(tiles()):
        picture.blit(tile, index * 16, 0)
    return picture
