"""Large pictures on the canvas, and painting in a large level."""

from __future__ import annotations

import io
import time
from dataclasses import replace
from pathlib import Path

import numpy as np
from measuring import Result, ratio, seconds, slow_end
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from rushweed.core.bound.shaping import polygon, set_shapes
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.gather.art import Art
from rushweed.core.gather.memory import Memory
from rushweed.core.project.cells import CHUNK, Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.painting import single
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.shell.window import Window

SIDE, CELL = 4096, 64
LEVEL = 1000
WINDOWS = ((Size(1280, 800), 12, 20), (Size(2560, 1440), 16, 30))
"""As most have it and as it fills a large screen, how many milliseconds something may take in it,
and what is dragged."""


def large_sheet(folder: Path) -> Path:
    """A sheet of 4096 × 4096 px with 4096 tiles, drawn like pixel art."""
    draw = np.random.default_rng(5)
    small = draw.integers(0, 255, (SIDE // 8, SIDE // 8, 4), dtype=np.uint8)
    small[..., 3] = np.where(draw.random(small.shape[:2]) < 0.2, 0, 255)
    picture = np.repeat(np.repeat(small, 8, 0), 8, 1)
    picture[::5, ::7, 0] += 9
    path = folder / "large.png"
    Image.fromarray(picture).save(path)
    return path


def measure_loading(path: Path, art: Art) -> Result:
    """File to canvas, as opening a project does it, against Pillow's decoding alone."""
    project, name = gather(Project(), art, [path])
    sheet = project.sheet(name)

    def to_canvas() -> None:
        Images(Art(art.folder, Memory())).sheet(sheet)

    def decode() -> None:
        Image.open(io.BytesIO(path.read_bytes())).load()

    return ratio(
        "A 4096 × 4096 PNG from file to canvas, against Pillow's decoding",
        to_canvas,
        decode,
        1.1,
        5,
    )


def open_sheet(window: Window, path: Path) -> Canvas:
    """Show the large sheet in Cut with 4096 cuts."""
    desk = window.desk
    project, name = gather(desk.project, desk.art, [path])
    project = with_sheet(project, name, lambda s: replace(s, kind="tileset"))
    project = cut(project, name, EvenCells(Size(CELL, CELL)), np.ones((SIDE, SIDE), bool))
    desk.do("Gathered the large sheet", lambda old: project)
    desk.select(replace(desk.selection, sheets=(name,), pieces=frozenset()))
    window.router.open("Cut")
    QTest.qWait(300)
    canvas = window.router.stations["Cut"].at(0).canvas()
    assert canvas is not None
    return canvas


def measure_sheet(window: Window, path: Path, size: Size, most: float, cell: int) -> list[Result]:
    """Panning, zooming and dragging on a large sheet, in a window of a size; each may take so many
    milliseconds, and the tile in this column and row is dragged."""
    window.resize(*size)
    open_sheet(window, path)
    words = f", {size.width} × {size.height}"
    return [
        *_measure_panning(window, words, most),
        _measure_edges(window, words, most, cell),
        _measure_corners(window, words, most, cell),
    ]


def _measure_panning(window: Window, words: str, most: float) -> list[Result]:
    canvas = window.router.stations["Cut"].at(0).canvas()
    assert canvas is not None
    pans: list[float] = []
    zooms: list[float] = []
    for scale in (0.125, 0.5, 1.0, 3.0, 12.0):
        canvas.zoom_to(scale)
        canvas.repaint()
        for step in range(40):
            canvas.set_view(canvas.view.moved(7 - 14 * (step % 2), 5))
            pans.append(seconds(canvas.repaint))
    for scale in (0.125, 0.25, 0.5, 1, 2, 4, 8, 16, 8, 4, 2, 1, 0.5, 0.25) * 6:
        canvas.set_view(canvas.view.zoomed(scale, 300, 200))
        zooms.append(seconds(canvas.repaint))
    return [
        slow_end(f"Panning a 4096 × 4096 sheet with 4096 cuts{words}", pans, most),
        slow_end(f"Zooming it{words}", zooms, most),
    ]


def _measure_edges(window: Window, words: str, most: float, cell: int) -> Result:
    """Dragging one edge among 4096 cuts, from the pointer's event to the pixels."""
    canvas = window.router.stations["Cut"].at(0).canvas()
    assert canvas is not None
    canvas.zoom_to(2)
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_E)
    edge = canvas.view.to_screen(CELL * cell - 1, CELL * cell + CELL // 2)
    start = QPoint(round(edge.x), round(edge.y))
    canvas.set_view(canvas.view.moved(500 - start.x(), 300 - start.y()))
    start = QPoint(500, 300)
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    times = []
    for step in range(120):
        began = time.perf_counter()
        QTest.mouseMove(canvas, start + QPoint(2 * (step % 30) + 2, 0))
        QApplication.processEvents()
        times.append(time.perf_counter() - began)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start + QPoint(40, 0))
    assert any(piece.by_hand for _, piece in window.desk.project.pieces())
    return slow_end(f"Dragging an edge among 4096 cuts, event to pixels{words}", times[5:], most)


def _measure_corners(window: Window, words: str, most: float, cell: int) -> Result:
    """Dragging one corner of a shape while 1024 shapes are shown, from event to pixels."""
    desk = window.desk
    sheet = desk.selection.sheet
    numbers = frozenset(piece.number for piece in desk.project.sheet(sheet).pieces)
    shape = Shape(polygon([Point(4, 60), Point(60, 60), Point(60, 20), Point(20, 4)]))
    desk.do("Gave all a shape", lambda p: set_shapes(p, numbers, (shape,)))
    window.router.open("Bound")
    canvas = window.router.stations["Bound"].at(0).canvas()
    assert canvas is not None
    side = min(canvas.width(), canvas.height())
    canvas.centre_on(Rect(0, 0, 32 * CELL, 32 * CELL), side / (32 * CELL))
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_E)
    QTest.qWait(200)
    corner = canvas.view.to_screen(CELL * (cell // 2) + 60, CELL * (cell // 2) + 60)
    start = QPoint(round(corner.x), round(corner.y))
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    times = []
    for step in range(100):
        began = time.perf_counter()
        QTest.mouseMove(canvas, start - QPoint(step % 12, step % 9))
        QApplication.processEvents()
        times.append(time.perf_counter() - began)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start)
    return slow_end(f"Dragging a corner among 1024 shown shapes{words}", times[5:], most)


def large_level(number: int) -> Level:
    """1000 × 1000 painted cells."""
    chunks = {}
    draw = np.random.default_rng(3)
    for row in range(LEVEL // CHUNK + 1):
        for column in range(LEVEL // CHUNK + 1):
            numbers = np.where(draw.random((CHUNK, CHUNK)) < 0.9, number, number + 1).astype(
                np.int32
            )
            chunks[column, row] = (numbers, np.zeros((CHUNK, CHUNK), np.uint8))
    return Level("Large", (Layer("Ground", Cells(chunks)),))


def measure_painting(window: Window) -> Result:
    """From the pointer's event to the painted cell, along rows to and fro, so that no event paints
    more than the next cell."""
    desk = window.desk
    ground = desk.project.sheet("fen_ground").pieces
    level = large_level(ground[9].number)
    desk.do("Began a large level", lambda p: replace(p, levels=(*p.levels, level)))
    desk.select(replace(desk.selection, level="Large", layer=0))
    window.router.open("Weave")
    station = window.router.stations["Weave"].at(0)
    station.hand.picking.take_brush(single(ground[1].number))  # type: ignore[attr-defined]
    QTest.qWait(400)
    canvas = station.canvas()
    assert canvas is not None
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=QPoint(40, 60))
    times = []
    for step in range(200):
        row, along = divmod(step, 20)
        column = along if row % 2 == 0 else 19 - along
        began = time.perf_counter()
        QTest.mouseMove(canvas, QPoint(40 + column * 33, 60 + row * 33))
        QApplication.processEvents()
        times.append(time.perf_counter() - began)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=QPoint(40, 60))
    return slow_end("One painted cell in a level of 1000 × 1000, event to pixels", times[5:], 8)
