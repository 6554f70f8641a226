"""The canvas: where things lie, what is drawn, and tools that clean up behind them."""

from __future__ import annotations

import gc
from collections.abc import Generator
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import (
    QEventPoint,
    QNativeGestureEvent,
    QPointingDevice,
    QTouchEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QApplication

from rushweed.core.gather.art import Art
from rushweed.core.gather.memory import Memory
from rushweed.core.project import files
from rushweed.core.values import Colour, Point, Rect, Size
from rushweed.ui.canvas.canvas import Canvas, step_nearer
from rushweed.ui.canvas.cut_lines import CutLines, RectIndex, edges_of
from rushweed.ui.canvas.images import from_image, to_image
from rushweed.ui.canvas.level_picture import MOST_ATLASES, LevelPicture
from rushweed.ui.canvas.scrolling import LINE, TWICE, Manner, Scrolls
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.tools import Hand, Pointer, Stroke
from rushweed.ui.canvas.view import STEPS, View, centred, fitted
from tests.conftest import DEMO
from tests.hands import CONTROL, LEFT, NONE, QTest, drag_over
from tests.samples import checkered

numbers = st.floats(-500, 500)
scales = st.sampled_from(STEPS)


@given(scales, scales, numbers, numbers, st.integers(0, 900), st.integers(0, 600))
def test_zooming_keeps_the_point_under_the_pointer(
    before: float, after: float, left: float, top: float, x: int, y: int
) -> None:
    view = View(before, left, top)
    zoomed = view.zoomed(after, x, y)
    there = view.to_picture(x, y)
    place = zoomed.to_screen(*there)
    assert abs(place.x - x) <= 0.51 and abs(place.y - y) <= 0.51, "to half a screen pixel"
    round_trip = zoomed.to_picture(*zoomed.to_screen(*there))
    assert round_trip == pytest.approx(there, abs=1e-6)
    assert zoomed.moved(5, -3).to_screen(0, 0).x == zoomed.to_screen(0, 0).x + 5


@given(st.integers(0, 9000), st.integers(0, 9000))
def test_fitting_shows_all_at_a_step_of_the_zoom(width: int, height: int) -> None:
    content, size = Rect(-7, 3, width, height), Size(792, 529)
    if not content.area:
        assert fitted(content, size).scale == 1, "nothing is not enlarged"
        return
    view = fitted(content, size)
    assert view.scale in STEPS
    if view.scale > STEPS[0]:
        seen = view.visible(*size)
        assert seen.intersection(content) == content
    middle = centred(content, size, 2).to_screen(content.x + width / 2, content.y + height / 2)
    assert abs(middle.x - 396) <= 1 and abs(middle.y - 264.5) <= 1


@pytest.mark.parametrize("width", [1, 2, 3, 5, 64])
def test_pixels_become_images_and_come_back(qapp, width: int) -> None:
    picture = checkered(width, 3)
    image = to_image(picture)
    expected = picture.copy()
    picture[:] = 0
    del picture
    gc.collect()
    np.testing.assert_array_equal(from_image(image), expected)
    clear = checkered(width, 2)
    clear[..., 3] = 0
    assert not from_image(to_image(clear)).any(), "what is clear has no colour on the screen"
    assert to_image(np.zeros((0, 4, 4), np.uint8)).width() == 1


def strokes_to(log: list[str]):
    def tool(press: Pointer) -> Generator[None, Pointer, None]:
        log.append("press")
        try:
            while True:
                event = yield
                log.append("move")
                if event.released:
                    log.append("kept")
                    return
        finally:
            log.append("cleaned")

    return tool


def test_the_canvas_zooms_pans_and_leaves_a_drag_with_escape(qtbot) -> None:
    log: list[str] = []
    canvas = Canvas(lambda painter, canvas: None)
    qtbot.addWidget(canvas)
    canvas.resize(400, 300)
    canvas.show_content(Rect(0, 0, 100, 80))
    canvas.show()
    before = canvas.view
    there = before.to_picture(120, 90)
    wheel(canvas, 120, 90, 120)
    assert canvas.view.scale > before.scale
    assert canvas.view.to_screen(*there) == pytest.approx((120, 90), abs=0.51)
    fixed = canvas.view
    drag_over(canvas, QPoint(50, 50), QPoint(63, 41), button=Qt.MouseButton.MiddleButton)
    assert canvas.view == fixed.moved(13, -9)
    QTest.keyPress(canvas, Qt.Key.Key_Space)
    drag_over(canvas, QPoint(50, 50), QPoint(60, 50))
    QTest.keyRelease(canvas, Qt.Key.Key_Space)
    assert canvas.view == fixed.moved(23, -9)
    step_nearer(canvas, -1)
    assert canvas.view.scale == before.scale
    canvas.tool = strokes_to(log)
    QTest.mousePress(canvas, LEFT, pos=QPoint(50, 50))
    assert canvas.busy
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    assert not canvas.busy and log == ["press", "cleaned"]
    canvas.fit()
    canvas.resize(800, 600)
    qtbot.wait(5)
    assert canvas.view == fitted(canvas.content, Size(800, 600)), "a fitted view stays fitted"


def wheel(
    canvas: Canvas,
    x: int,
    y: int,
    turned: int,
    pixels: QPoint | None = None,
    phase: Qt.ScrollPhase = Qt.ScrollPhase.NoScrollPhase,
    held: Qt.KeyboardModifier = NONE,
    across: int = 0,
) -> None:
    event = QWheelEvent(
        QPointF(x, y),
        QPointF(canvas.mapToGlobal(QPoint(x, y))),
        pixels or QPoint(),
        QPoint(across, turned),
        Qt.MouseButton.NoButton,
        held,
        phase,
        False,
    )
    canvas.wheelEvent(event)


@pytest.fixture
def bare(qtbot) -> Canvas:
    canvas = Canvas(lambda painter, canvas: None)
    qtbot.addWidget(canvas)
    canvas.resize(400, 300)
    canvas.show_content(Rect(0, 0, 100, 80))
    canvas.show()
    return canvas


def test_a_fine_wheel_zooms_by_the_notches_that_its_parts_come_to(bare: Canvas) -> None:
    canvas, coarse = bare, View(3, 40, 30)
    canvas.set_view(coarse)
    for _ in range(40):
        wheel(canvas, 120, 90, 10)
    assert canvas.view.scale == 6, "40 parts of 10 are three notches: 4, 5, 6"
    for _ in range(15):
        wheel(canvas, 120, 90, -8)
    assert canvas.view.scale == 5, "and one back, whatever was left over"
    before = canvas.view
    wheel(canvas, 120, 90, 0, across=120)
    assert canvas.view == before.moved(LINE, 0), "a wheel that is tilted goes aside"


def test_two_fingers_on_a_touchpad_pan_by_pixels_and_zoom_smoothly_with_ctrl(
    bare: Canvas, qtbot
) -> None:
    canvas, phases = bare, Qt.ScrollPhase
    canvas.set_view(View(3, 40, 30))
    ways = [(0, 0), (3, -7), (12, -20), (5, -6), (0, 0)]
    steps = [phases.ScrollBegin, *[phases.ScrollUpdate] * 3, phases.ScrollEnd]
    for (across, down), phase in zip(ways, steps, strict=True):
        wheel(canvas, 120, 90, down * 2, QPoint(across, down), phase, across=across * 2)
    assert canvas.view == View(3, 60, -3), "both ways, and no zoom"
    place = canvas.view.to_picture(120, 90)
    seen = []
    for phase in (phases.ScrollBegin, *[phases.ScrollUpdate] * 10):
        wheel(canvas, 120, 90, 12, QPoint(0, 12), phase, CONTROL)
        seen.append(canvas.view.scale)
        assert canvas.view.to_screen(*place) == pytest.approx((120, 90), abs=0.51)
    assert seen == sorted(set(seen)) and seen[-1] == pytest.approx(3 * 2 ** (132 / TWICE))
    wheel(canvas, 120, 90, 0, QPoint(), phases.ScrollEnd, CONTROL)
    assert canvas.view.scale == 5, "it settles where pixels are even"
    wheel(canvas, 120, 90, 40, QPoint(0, 40), held=CONTROL)
    assert canvas.view.scale not in STEPS
    qtbot.waitUntil(lambda: canvas.view.scale in STEPS)


@pytest.mark.parametrize("manner", ["pans", "zooms"])
def test_scrolling_does_what_is_said_of_it_whatever_the_device(
    bare: Canvas, manner: Scrolls, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(Manner, "scrolls", manner)
    for pixels in (None, QPoint(0, 40)):
        bare.set_view(View(3, 40, 30))
        wheel(bare, 120, 90, 120, pixels)
        assert (bare.view.scale == 3) is (manner == "pans")
        assert (bare.view.top != 30) or manner == "zooms"


def test_pinches_zoom_and_one_finger_draws(bare: Canvas, qtbot) -> None:
    log: list[str] = []
    canvas = bare
    canvas.tool = strokes_to(log)
    canvas.set_view(View(4, 40, 30))
    kinds = Qt.NativeGestureType
    for kind, value in (
        (kinds.BeginNativeGesture, 0.0),
        (kinds.ZoomNativeGesture, 0.25),
        (kinds.ZoomNativeGesture, 0.2),
        (kinds.EndNativeGesture, 0.0),
    ):
        place, device = QPointF(120, 90), QPointingDevice.primaryPointingDevice()
        event = QNativeGestureEvent(kind, device, 2, place, place, place, value, QPointF())
        QApplication.sendEvent(canvas, event)
    assert canvas.view.scale == 6, "1.25 times 1.2 times four"
    touched(canvas, (50, 50))
    touched(canvas, (80, 60))
    touched(canvas, (80, 60), ended=True)
    assert log[0] == "press" and not canvas.busy and "cleaned" in log
    log.clear()
    canvas.set_view(View(4, 40, 30))
    touched(canvas, (50, 50))
    touched(canvas, (50, 50), (150, 50))
    held = canvas.view.to_picture(100, 50)
    touched(canvas, (40, 60), (190, 60))
    assert canvas.view.scale == pytest.approx(6)
    assert canvas.view.to_screen(*held) == pytest.approx((115, 60), abs=1.5)
    touched(canvas, (40, 60), (190, 60), ended=True)
    assert log == [] and canvas.view.scale == 6, "two fingers draw nothing"


def touched(canvas: Canvas, *places: tuple[int, int], ended: bool = False) -> None:
    """Fingers at some places of a canvas."""
    states = QEventPoint.State
    state = states.Released if ended else states.Updated
    points = [
        QEventPoint(n, state, QPointF(*place), canvas.mapToGlobal(QPointF(*place)))
        for n, place in enumerate(places)
    ]
    kind = QEvent.Type.TouchEnd if ended else QEvent.Type.TouchUpdate
    device = QPointingDevice.primaryPointingDevice()
    canvas.event(QTouchEvent(kind, device, NONE, points))


rects = st.lists(st.builds(Rect, *[st.integers(0, 60)] * 2, *[st.integers(1, 20)] * 2), max_size=12)


@given(rects, st.builds(Rect, *[st.integers(-9, 60)] * 2, *[st.integers(1, 30)] * 2))
def test_rectangles_are_found_by_place(found: list[Rect], area: Rect) -> None:
    expected = [i for i, rect in enumerate(found) if rect.intersection(area).area]
    assert RectIndex(edges_of(found)).within(area) == expected


def test_cut_lines_are_one_pixel_wide_at_any_zoom(qtbot) -> None:
    lines = CutLines(edges_of([Rect(x * 16, y * 16, 16, 16) for x in range(4) for y in range(4)]))
    canvas = Canvas(lambda painter, canvas: lines.draw(painter, canvas))
    qtbot.addWidget(canvas)
    canvas.resize(300, 300)
    for scale in (1.0, 3.0, 16.0):
        canvas.set_view(View(scale, 4, 4))
        pixels = from_image(canvas.grab().toImage())
        ground = pixels[299, 299]
        row = (pixels[4 + int(8 * scale)] != ground).any(axis=1)
        drawn = np.flatnonzero(row).tolist()
        expected = [4 + int(x * 16 * scale) for x in range(5) if 4 + x * 16 * scale < 300]
        assert drawn == expected
    canvas.set_view(View(0.125, 4, 4))
    pixels = from_image(canvas.grab().toImage())
    assert (pixels == pixels[0, 0]).all(), "cells of two screen pixels are not drawn"


def test_pictures_on_the_screen_and_tints_that_are_dragged_through_stay_within_bounds(
    qtbot,
) -> None:
    project = files.load(DEMO)
    art = Art(DEMO, Memory(limit=400_000))
    images = Images(art)
    held = 0
    for _ in range(2):
        for sheet in project.sheets:
            assert not images.sheet(sheet).isNull()
            values: dict[Any, Any] = dict(art.memory._values)
            kept = [image for key, (image, _) in values.items() if key[0] == "image"]
            held = max(held, sum(image.sizeInBytes() for image in kept))
    assert 0 < held <= 400_000
    picture, level = LevelPicture(Images(Art(DEMO))), project.levels[0]
    for shade in range(40):
        tinted = replace(level.layers[0], tint=Colour(shade, 90, 120))
        shown = replace(level, layers=(tinted, *level.layers[1:]))
        canvas = Canvas(partial(picture.draw, project=project, level=shown))
        qtbot.addWidget(canvas)
        canvas.resize(200, 120)
        canvas.set_view(View(1, 0, 0))
        canvas.grab()
    assert 1 < len(picture._atlases) <= MOST_ATLASES


def test_a_stroke_may_end_itself_by_what_it_does() -> None:
    hand = Hand()
    told: list[str] = []

    def tool(press: Pointer) -> Stroke:
        try:
            yield
            hand.abort()
            told.append("went on to its pause")
            yield
            told.append("went on after it ended")
        finally:
            told.append("cleaned up")

    for way in (hand.move, hand.release):
        told.clear()
        hand.press(tool, Pointer(Point(0, 0)))
        way(Pointer(Point(1, 1)))
        assert told == ["went on to its pause", "cleaned up"] and not hand.busy
