"""Packing, building, building again, and building with two processes."""

from __future__ import annotations

import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

import numpy as np
from measuring import Result, seconds
from PIL import Image

from rushweed.core.bale.building import build_all
from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.packing import pack_pages
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Rect, Size

SHEETS, SIDE = 200, 1024
NOISE = (500, 2000)


def measure_packing() -> list[Result]:
    """2000 pieces on pages."""
    draw = np.random.default_rng(11)
    sides = np.clip(draw.gamma(2.2, 14, (2000, 2)).astype(int), 4, 160)
    sizes = [Size(int(width), int(height)) for width, height in sides]
    began = time.perf_counter()
    pages, _ = pack_pages(sizes)
    took = time.perf_counter() - began
    covered = sum(size.width * size.height for size in sizes)
    fill = covered / sum(page.width * page.height for page in pages)
    return [
        Result("Packing 2000 pieces", f"{took:.2f} s", "≤ 1 s", took <= 1),
        Result("How full the pages are", f"{fill * 100:.1f} %", "≥ 93 %", fill >= 0.93),
    ]


def measure_demo(place: Path, demo: Path) -> list[Result]:
    """The demo built into an empty folder, and once more."""
    command = [sys.executable, "-m", "rushweed", "build", str(demo), "--out", str(place / "out")]

    def build() -> None:
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL)

    first = seconds(build)
    again = min(seconds(build) for _ in range(3))
    return [
        Result("Building the demo, start included", f"{first:.2f} s", "≤ 3 s", first <= 3),
        Result("Building it again, unchanged", f"{again:.2f} s", "≤ 0.4 s", again <= 0.4),
    ]


def measure_noise(demo: Path) -> list[Result]:
    """A level of 2000 × 500 cells, each another tile in another orientation, in packed chunks."""
    project, art, draw = files.load(demo), Art(demo), np.random.default_rng(1)
    numbers = [piece.number for piece in project.sheet("fen_ground").pieces]
    tiles = draw.choice(numbers, NOISE).astype(np.int32)
    cells = Cells().overlaid(Rect(0, 0, *NOISE[::-1]), tiles, draw.integers(0, 8, NOISE, np.uint8))
    recipe = Recipe("Game", rows="packed", chunk=64, outlines=False)
    make_bundle(project, art, recipe)
    project = replace(project, levels=(Level("Noise", (Layer("Ground", cells),)),))
    began = time.perf_counter()
    made = make_bundle(project, art, recipe).files
    took = time.perf_counter() - began
    size = sum(len(data) for name, data in made.items() if name.startswith("level-")) / 1e6
    return [
        Result("Bundling 2000 × 500 cells of noise", f"{took:.1f} s", "≤ 3 s", took <= 3),
        Result("How large that is", f"{size:.1f} MB", "≤ 4 MB", size <= 4),
    ]


def measure_jobs(place: Path) -> Result:
    """200 sheets of 1024 × 1024 px, with one process and with two."""
    folder = place / "many"
    folder.mkdir()
    art = Art(folder)
    draw = np.random.default_rng(5)
    project = Project()
    for number in range(SHEETS):
        small = draw.integers(0, 255, (SIDE // 8, SIDE // 8, 4), dtype=np.uint8)
        small[..., 3] = 255
        picture = np.repeat(np.repeat(small, 8, 0), 8, 1)
        path = place / f"sheet_{number}x.png"
        Image.fromarray(picture).save(path, compress_level=1)
        project, name = gather(project, art, [path])
        project = cut(project, name, EvenCells(Size(64, 64)), np.ones((SIDE, SIDE), bool))
        path.unlink()
    project = replace(project, recipes=(Recipe("Game"),))
    files.save(project, folder)
    one = seconds(lambda: build_all(project, folder, place / "one", jobs=1))
    two = seconds(lambda: build_all(project, folder, place / "two", jobs=2))
    told = f"{one / two:.2f} × ({one:.0f} s against {two:.0f} s)"
    return Result(
        "Building 200 sheets of 1024 × 1024 px with two processes",
        told,
        "≥ 1.8 ×",
        one / two >= 1.8,
    )
