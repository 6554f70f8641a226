"""A level of 2000 × 2000 cells on four layers: opened, panned, zoomed, painted, outlined."""

from __future__ import annotations

import time
from dataclasses import replace
from pathlib import Path

import numpy as np
from measuring import Result, seconds, slow_end
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from scipy import ndimage

from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Size
from rushweed.core.walk.picturing import picture_with_walker
from rushweed.core.walk.probing import probe
from rushweed.core.walk.replay import read_walk, replay
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Scene, view_around
from rushweed.core.weave.outlines import SolidOutlines, merged_outlines
from rushweed.core.weave.painting import fill, single
from rushweed.ui.shell.window import Window

SIDE, OUTLINED = 2000, 512
CAVES = {(300, 100): 2, (2000, 500): 20}
"""How large caves are that are probed, and in how many seconds they should be."""
LAYERS = {
    "Back": (1.0, ("stone", "stone_moss")),
    "Water": (0.4, ("water_body", "water_body_b")),
    "Ground": (0.5, ("mud", "bank_top", "slope_up", "slope_down", "rise_a", "boulder")),
    "Small things": (0.1, ("tuft", "marsh_flower")),
}
GAME = Size(640, 360)
"""How many pixels a game shows."""
Numbers = dict[str, int]


def wide_level(numbers: Numbers, side: int = SIDE) -> Level:
    """Islands of tiles, as a landscape has them."""
    draw = np.random.default_rng(3)
    layers = []
    for name, (share, tiles) in LAYERS.items():
        field = ndimage.gaussian_filter(draw.standard_normal((side, side)), 8)
        mask = field >= np.quantile(field, 1 - share)
        spots = ndimage.gaussian_filter(draw.standard_normal((side, side)), 3)
        odd = (spots > np.quantile(spots, 0.8)) * draw.integers(0, len(tiles), (side, side))
        kinds = np.array([numbers[tile] for tile in tiles], np.int32)
        cells = np.where(mask, kinds[odd], 0).astype(np.int32)
        area = Rect(0, 0, side, side)
        layers.append(Layer(name, Cells().overlaid(area, cells, np.zeros(cells.shape, np.uint8))))
    return Level("Wide fen", tuple(layers), Point(side * 8, side * 8))


def measure_levels(window: Window, folder: Path) -> list[Result]:
    """All of it, in the window's own project."""
    desk = window.desk
    numbers = {p.name: p.number for p in desk.project.sheet("fen_ground").pieces}
    level = wide_level(numbers)
    alone = replace(desk.project, levels=(level,))
    files.save(alone, folder)
    opening = seconds(lambda: files.load(folder))
    desk.do("Made a wide level", lambda p: replace(p, levels=(*p.levels, level)))
    window.router.open("Weave")
    began = time.perf_counter()
    desk.select(replace(desk.selection, level=level.name, layer=2))
    QApplication.processEvents()
    shown = time.perf_counter() - began
    results = [
        _most(
            "Opening a level of 2000 × 2000 cells on 4 layers: file, then window",
            opening + shown,
            1.5,
        )
    ]
    results += _measure_views(window)
    results.append(_measure_strokes(window, numbers["mud"]))
    results.append(_measure_steps(alone, level, desk.art))
    results += _measure_core(alone, level, numbers)
    cells = [layer.cells for layer in level.layers]
    arrays = {id(part): part for one in cells for chunk in one.chunks.values() for part in chunk}
    held = sum(part.nbytes for part in arrays.values())
    each = held / sum(one.count() for one in cells)
    results.append(Result("Memory for a painted cell of it", f"{each:.1f} bytes", "≤ 8", each <= 8))
    desk.undo()
    return results


def _measure_steps(project: Project, level: Level, art: Art) -> Result:
    """The game's picture while somebody walks through a level."""
    ground, scene = Ground(project, level.name), Scene(project, art)
    motion = ground.begin()
    times = []
    for step in range(120):
        view = view_around(Point(motion.x + 9 * step, motion.y - 5 * step), GAME)
        times.append(seconds(lambda view=view: picture_with_walker(scene, ground, motion, view)))
    return slow_end(f"The game's picture of {GAME} px in it, for each step of a walk", times, 16)


def measure_walking(project: Project, recorded: Path) -> Result:
    """Steps a second along the recorded walk of the demo."""
    keys = read_walk(recorded.read_text())
    ground = Ground(project, "Long boardwalk")
    took = min(seconds(lambda: replay(ground, keys)) for _ in range(3))
    speed = len(keys) / took
    return Result("Steps of a walker", f"{speed:.0f} a second", "≥ 2000", speed >= 2000)


def measure_probing(project: Project) -> list[Result]:
    """Caves with bands of ground, gaps and ledges, probed as a whole."""
    numbers = {piece.name: piece.number for piece in project.sheet("fen_ground").pieces}
    results = []
    for (width, height), most in CAVES.items():
        level = Level("Cave", (Layer("Ground", _cave(numbers, width, height)),), Point(40, 128))
        cave = replace(project, levels=(level,))
        took = seconds(lambda cave=cave: probe(cave, "Cave", Art(Path())))
        what = f"Probing a level of {width} × {height} cells"
        results.append(Result(what, f"{took:.1f} s", f"≤ {most} s", took <= most))
    return results


def _cave(numbers: Numbers, width: int, height: int) -> Cells:
    draw = np.random.default_rng(1)
    land = np.zeros((height, width), np.int32)
    for base in range(12, height, 16):
        surface = base
        for column in range(width):
            step = draw.integers(-2, 3) if draw.random() < 0.25 else 0
            surface = int(np.clip(surface + step, base - 4, base + 4))
            if draw.random() >= 0.06:
                land[surface : surface + 4, column] = numbers["mud"]
        for _ in range(width // 12):
            column, up = draw.integers(0, width - 6), draw.integers(4, 8)
            land[base - up, column : column + 4] = numbers["plank"]
    return Cells().overlaid(Rect(0, 0, width, height), land, np.zeros_like(land, np.uint8))


def _measure_views(window: Window) -> list[Result]:
    canvas = window.router.stations["Weave"].at(0).canvas()
    assert canvas is not None
    pans: list[float] = []
    zooms: list[float] = []
    for scale in (0.03, 0.06, 0.125, 0.3, 0.5, 1.0, 2.0, 4.0):
        canvas.zoom_to(scale)
        canvas.repaint()
        QTest.qWait(60)
        for step in range(60):
            canvas.set_view(canvas.view.moved(-9, 5 if step % 2 else -4))
            pans.append(seconds(canvas.repaint))
    for scale in (0.03, 0.06, 0.125, 0.25, 0.5, 1, 2, 4, 2, 1, 0.5, 0.25, 0.125, 0.06) * 8:
        canvas.set_view(canvas.view.zoomed(scale, 300, 200))
        zooms.append(seconds(canvas.repaint))
    return [slow_end("Panning it, at all zooms", pans, 16), slow_end("Zooming it", zooms, 16)]


def _measure_strokes(window: Window, number: int) -> Result:
    """From the pointer's event to the painted cells."""
    canvas = window.router.stations["Weave"].at(0).canvas()
    weave = window.router.stations["Weave"].at(0)
    assert canvas is not None
    canvas.zoom_to(2)
    canvas.repaint()
    QTest.qWait(100)
    weave.hand.picking.take_brush(single(number))  # type: ignore[attr-defined]
    start = QPoint(200, 200)
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    times = []
    for step in range(150):
        began = time.perf_counter()
        QTest.mouseMove(canvas, start + QPoint(3 * step, 40 * (step % 3)))
        QApplication.processEvents()
        times.append(time.perf_counter() - began)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start + QPoint(450, 0))
    return slow_end("One event of a stroke in it, to pixels", times[5:], 8)


def _measure_core(project: Project, level: Level, numbers: Numbers) -> list[Result]:
    empty = Cells().painted({(0, 0): (1, 0), (999, 999): (1, 0)})
    filled = seconds(lambda: fill(empty, single(numbers["mud"]), (500, 500)))
    small = wide_level(numbers, OUTLINED)
    merged = min(seconds(lambda: merged_outlines(project, small)) for _ in range(3))
    kept = SolidOutlines(project, small)
    around = Rect(240, 240, 40, 24)
    kept.segments(around)
    changes = []
    for step in range(40):
        layer = small.layers[2]
        cells = layer.cells.painted(
            {(250 + step % 20, 250 + step // 20): (numbers["mud"], step % 8)}
        )
        layers = (*small.layers[:2], replace(layer, cells=cells), *small.layers[3:])
        small = replace(small, layers=layers)

        def change(now: Level = small) -> None:
            kept.follow(project, now)
            kept.segments(around)

        changes.append(seconds(change))
    return [
        _most("Filling 1 000 000 cells", filled, 1),
        _most("Merged outlines of 512 × 512 cells", merged, 0.6),
        slow_end("Merged outlines after one changed cell", changes, 5),
    ]


def _most(what: str, took: float, most: float) -> Result:
    return Result(what, f"{took:.2f} s", f"≤ {most:g} s", took <= most)
