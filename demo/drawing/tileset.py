"""The tileset `fen_ground`: 63 named tiles of 16 × 16."""

from __future__ import annotations

import math
from collections.abc import Iterator

from drawing import stone, water, woodwork
from drawing.bank import bank
from drawing.pix import Pix, nearest
from drawing.plants import reed_bed, tuft

COLUMNS = 8
TILE = 16


def tiles() -> list[tuple[str, Pix]]:
    """Every tile with its name, in the order in which they lie on the sheet."""
    return [*_earth(), *_ledges(), *_boardwalk(), *_supports(), *_water(), *_sluice(), *_reeds()]


def sheet(margin: int = 2, gap: int = 1, ground: str = "X") -> Pix:
    """The whole tileset, as a careless pack holds it: on flat magenta, with gaps."""
    side = 2 * margin + COLUMNS * TILE + (COLUMNS - 1) * gap
    picture = Pix(side, side)
    for index, (_, tile) in enumerate(tiles()):
        x, y = index % COLUMNS, index // COLUMNS
        picture.blit(tile, margin + x * (TILE + gap), margin + y * (TILE + gap))
    return picture.on(ground) if ground else picture


def _earth() -> Iterator[tuple[str, Pix]]:
    yield "bank_left", bank(top=True, left=True)
    yield "bank_top", bank(top=True)
    yield "bank_top_shell", bank(top=True).map([".B.", "BAz", ".z."], 9, 9)
    yield "bank_right", bank(top=True, right=True)
    yield "slope_up", bank(surface=lambda x: 15 - x)
    yield "slope_down", bank(surface=lambda x: x)
    yield "rise_a", bank(surface=lambda x: 15 - (x >> 1))
    yield "rise_b", bank(surface=lambda x: 7 - (x >> 1))
    yield "bank_face_left", bank(left=True)
    yield "mud", bank(deep=True)
    yield "mud_stone", bank(deep=True).map([".yy.", "yzAy", "xyzy", ".xx."], 6, 6)
    yield "bank_face_right", bank(right=True)
    yield "bank_foot_left", bank(bottom=True, left=True)
    yield "bank_foot", bank(bottom=True)
    yield "bank_foot_right", bank(bottom=True, right=True)
    yield "tuft", tuft(5, 12)


def _ledges() -> Iterator[tuple[str, Pix]]:
    def left_end(x: int) -> float:
        return 7 + ((x * 5) % 3) - (3 - x / 2 if x < 4 else 0)

    def right_end(x: int) -> float:
        return 7 + ((x * 7) % 3) - ((x - 11) / 1.5 if x > 11 else 0)

    yield "ledge_left", bank(top=True, left=True, under=left_end)
    yield "ledge", bank(top=True, under=lambda x: 8 + ((x * 5) % 4))
    yield "ledge_right", bank(top=True, right=True, under=right_end)
    yield "boulder", _boulder()
    yield "marsh_flower", tuft(8, 8).map([".F.", "FEF", ".F."], 4, 3)
    yield "plank_broken", woodwork.plank(broken=True)
    yield "mooring", woodwork.post(start=3, top=True, bands=(6,))
    yield "rope_end", Pix(16, 16).map(["w.w", "vwv", "w.w", "vwv", ".u."], 6, 0)


def _boulder() -> Pix:
    tile = Pix(16, 16)
    for x in range(1, 15):
        start = nearest(16 - math.sqrt(max(0.0, 49 - (x - 7.5) ** 2)) * 0.95)
        for y in range(start, 16):
            inner = "z" if x < 5 else "x" if x > 10 else "y" if (x * 3 + y * 5) % 7 == 0 else "z"
            tile.set(x, y, "B" if y == start else "A" if y == start + 1 else inner)
    tile.rect(3, 15, 10, 1, "x")
    return tile


def _boardwalk() -> Iterator[tuple[str, Pix]]:
    yield "plank_left", woodwork.plank(left=True)
    yield "plank", woodwork.plank()
    yield "plank_b", woodwork.plank(joint=4)
    yield "plank_post", woodwork.plank().blit(woodwork.post(start=8), 0, 0)
    yield "plank_right", woodwork.plank(right=True)
    yield "rail_left", woodwork.rail(left=True)
    yield "rail", woodwork.rail()
    yield "rail_right", woodwork.rail(right=True)


def _supports() -> Iterator[tuple[str, Pix]]:
    yield "pile", woodwork.post()
    yield "pile_water", water.pile_in_water(woodwork.post())
    yield "brace", woodwork.brace()
    yield "brace_b", Pix(16, 16).blit(woodwork.brace(), 0, 0, flip=True)
    yield "steps", woodwork.steps()
    yield "ladder", woodwork.ladder()
    yield "pile_bound", woodwork.post(bands=(3, 11))
    yield "crate", woodwork.crate()


def _water() -> Iterator[tuple[str, Pix]]:
    for phase in range(4):
        yield f"water_{phase + 1}", water.surface(phase)
    yield "water_body", water.body(0)
    yield "water_body_b", water.body(1)
    yield "water_deep", water.body(0, deep=True)
    yield "water_deep_b", water.body(1, deep=True)


def _sluice() -> Iterator[tuple[str, Pix]]:
    yield "sluice_left", stone.stone(cap=True, left=True)
    yield "sluice_top", stone.stone(cap=True)
    yield "sluice_right", stone.stone(cap=True, right=True)
    yield "stone", stone.stone()
    yield "stone_moss", stone.stone(moss=True)
    yield "gate_top", stone.gate(top=True)
    yield "gate", stone.gate(top=False)
    yield "grate", stone.grate()


def _reeds() -> Iterator[tuple[str, Pix]]:
    bed = reed_bed(32, 48, 11, 46, True)
    for name, y in (("reed_foot", 32), ("reed_stem", 16), ("reed_tip", 0)):
        yield name, bed.crop(0, y, 16, 16)
        yield f"{name}_b", bed.crop(16, y, 16, 16)
    yield "tuft_b", tuft(21, 6)
