"""Draws `demo/raw/`: the art of Lanternfen as a careless pack would hold it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from drawing import (
    above,
    backdrop,
    creatures,
    heron,
    keeper,
    landing,
    relief,
    rooms,
    tileset,
    water,
)
from drawing.ledger import ledger
from drawing.pix import Pix
from drawing.plants import reed_bed
from drawing.wheel import frames
from PIL import Image

RAW = Path(__file__).parent / "raw"


def main() -> None:
    RAW.mkdir(exist_ok=True)
    (RAW / "wheel").mkdir(exist_ok=True)
    for name, picture in sheets().items():
        write(name, picture.pixels())
    for index, frame in enumerate(frames(), 1):
        write(f"wheel/wheel_{index}", frame.pixels())
    write("fen_ground_normal", relief.normals(tileset.sheet(ground="")))


def sheets() -> dict[str, Pix]:
    """Every picture of the pack by its file name."""
    return {
        "fen_ground": tileset.sheet(),
        "fen_above": above.sheet(),
        "sluice_rooms": rooms.sheet(),
        "keeper": keeper.sheet(),
        "heron": heron.sheet(),
        "crab": creatures.crab_sheet(),
        "eel": creatures.eel_sheet(),
        "landing": landing.sheet(),
        "ledger": ledger(),
        "fen_water": waves(),
        "dusk_sky": backdrop.sky(256, 144, 120),
        "high_sky": backdrop.sky(432, 190, 150, with_sun=False),
        "low_sun": backdrop.sun(),
        "far_fen": backdrop.far_fen(432, 70),
        "near_fen": backdrop.near_fen(432, 70),
        "lamp_glow": backdrop.glow(),
        "front_reeds": front_reeds(),
    }


def waves() -> Pix:
    """The water's surface at four moments, side by side."""
    picture = Pix(64, 16)
    for phase in range(4):
        picture.blit(water.surface(phase), phase * 16, 0)
    return picture


def front_reeds() -> Pix:
    """Three dark stands of reeds for before the walker."""
    picture = Pix(180, 48)
    stands = (reed_bed(58, 40, 31, 70, True, "mnopq"), reed_bed(74, 46, 77, 90, True, "mnopq"))
    stands += (reed_bed(40, 30, 9, 40, False, "mnopq"),)
    x = 1
    for stand in stands:
        picture.blit(stand, x, 47 - stand.height)
        x += stand.width + 3
    return picture


def write(name: str, pixels: np.ndarray) -> None:
    Image.fromarray(pixels).save(RAW / f"{name}.png", optimize=True)


if __name__ == "__main__":
    main()
