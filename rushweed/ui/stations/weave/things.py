"""Props, marks and measures: placed, selected, dragged and drawn over the level."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Literal

from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QApplication

from rushweed.core.cut.animations import begun_by
from rushweed.core.gauge.units import figure
from rushweed.core.project.body import Body, Path
from rushweed.core.project.level import Level, Mark, Prop
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Point, Rect
from rushweed.core.weave.backdrops import fills_room, put_behind
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.props import (
    add_mark,
    add_props,
    change_props,
    move_props,
    paste_props,
    prop_at,
    props_within,
    snapped_to_edges,
    with_groups,
)
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_brackets, draw_lozenge, draw_stitched_box, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS
from rushweed.ui.stations.weave.prop_handle import PropHandle

Snap = Literal["grid", "pixel", "edges"]
PropsAt = tuple[str, int, frozenset[int]]
"""The level, the layer and the places on it of some props."""
REACH = 6
"""Edges of props meet when they are nearer than so many pixels; a drag goes so far at least."""
NEAR_MARK = 8
ROOMY = 9
"""Within a prop of so many times its area something else is put down."""
COPIED = "application/x-rushweed-props"
"""What the clipboard says it holds while props are what was copied last."""


class Things:
    """The tools for what stands freely in a level. `chosen` are places of props on the active
    layer."""

    def __init__(self, desk: Desk, canvas: Canvas, piece: Callable[[], int]) -> None:
        self._desk, self._canvas, self._piece = desk, canvas, piece
        self.chosen: frozenset[int] = frozenset()
        self.snap: Snap = "pixel"
        self.mark_name = ""
        self.path: list[Point] | None = None
        self._of: tuple[str, int] = "", 0
        self._measured: tuple[Point, Point] | None = None
        self._handle = PropHandle(desk, canvas)
        self._copied: list[Prop] = []
        self._box: Rect | None = None
        self.on_chosen: Callable[[], None] = lambda: None

    def keep_fitting(self, level: Level | None) -> None:
        """Choose nothing that is not there, and nothing of another layer."""
        at = self._desk.selection
        if self._of != (at.level, at.layer):
            self._of, self.chosen, self.path = (at.level, at.layer), frozenset(), None
        count = len(level.layers[at.layer].props) if level else 0
        self.chosen = frozenset(place for place in self.chosen if place < count)

    def choose(self, places: Iterable[int]) -> None:
        """Choose the props at some places of the active layer, and no others."""
        self.chosen = frozenset(places)
        self.on_chosen()
        self._canvas.update()

    def props(self, level: Level | None) -> list[Prop]:
        """The chosen props."""
        if level is None:
            return []
        props = level.layers[self._desk.selection.layer].props
        return [props[place] for place in sorted(self.chosen) if place < len(props)]

    def at(self) -> PropsAt:
        """Where the chosen props are, for an edit of them."""
        selection = self._desk.selection
        return selection.level, selection.layer, self.chosen

    def called(self) -> str:
        """How many are chosen, in words."""
        return counted(len(self.chosen), "prop", "props")

    def press_prop(self, press: Pointer, level: Level) -> Stroke | None:
        """Choose a prop and drag it; on an empty place put down the piece that is in hand."""
        if self.path is not None:
            self._add_point(press, level)
            return None
        index = self._desk.selection.layer
        layer = level.layers[index]
        alone = min(self.chosen) if len(self.chosen) == 1 else None
        if alone is not None and self._handle.is_under(press, layer.props[alone]):
            return self._handle.drag(level, alone, press)
        here = prop_at(self._desk.project, layer, press.place)
        if here is not None and self._goes_inside(layer.props[here], here):
            return self._place_or_drag(press, level, here)
        if here is None:
            if press.shift:
                return self._choose_within(press, level)
            if press.button == 2 or not self._piece():
                self.choose(())
                return None
            return self._place(press, level)
        places = with_groups(layer, {here})
        if press.ctrl:
            return self._choose_or_send(press, level, places)
        if not places <= self.chosen:
            self.choose(places)
        return self._drag(press, level)

    def press_mark(self, press: Pointer, level: Level) -> None:
        """Put down a mark; on one that is there, choose its name."""
        near = self._mark_at(level, press.place)
        if near is not None:
            self.mark_name = near.name
            self.on_chosen()
            return
        place = self._snapped(press.place)
        taken = {mark.name for mark in level.marks}
        name = self.mark_name or say("mark {n}", n=len(level.marks) + 1)
        words = say("Moved the mark {name}") if name in taken else say("Put down the mark {name}")
        mark = next((one for one in level.marks if one.name == name), Mark(name, 0, 0))
        mark = replace(mark, x=place.x, y=place.y)
        self._desk.do(words.format(name=name), lambda p: add_mark(p, level.name, mark))

    def measure(self, press: Pointer) -> Stroke:
        """Drag to see a distance."""
        self._measured = (press.place, press.place)
        while True:
            event = yield
            self._measured = (press.place, event.place)
            self._canvas.update()
            if event.released:
                return

    def begin_path(self) -> None:
        """Draw the path of the chosen props from now on."""
        self.path = []
        self._canvas.setFocus()

    def leave_path(self) -> bool:
        """Leave the path that is being drawn; whether there was one."""
        drawn, self.path = self.path is not None, None
        self._canvas.update()
        return drawn

    def end_path(self, level: Level) -> None:
        """Give the chosen props the path that was drawn."""
        points, self.path = self.path, None
        if not points or not self.chosen:
            return
        first = min(self.chosen)
        prop = level.layers[self._desk.selection.layer].props[first]
        way = tuple(Point(point.x - prop.x, point.y - prop.y) for point in points)

        def edit(old: Prop) -> Prop:
            known = old.body.path if old.body else None
            path = replace(known, points=way) if known else Path(way)
            return replace(old, body=Body("travels", path))

        index, places = self._desk.selection.layer, self.chosen
        self._desk.do(
            say("Drew a path for {what}", what=self.called()),
            lambda p: change_props(p, level.name, index, places, edit),
        )

    def nudge(self, level: Level, across: int, down: int) -> None:
        """Move the chosen props by whole pixels."""
        index, places = self._desk.selection.layer, self.chosen
        if places:
            self._desk.do(
                say("Nudged {what}", what=self.called()),
                lambda p: move_props(p, level.name, index, places, across, down),
            )

    def paint(self, painter: QPainter, level: Level, active: bool) -> None:
        """Brackets around chosen props, paths of those that travel, marks, the measure."""
        project = self._desk.project
        layer = level.layers[self._desk.selection.layer]
        for place in sorted(self.chosen) if active else ():
            if place < len(layer.props):
                prop = layer.props[place]
                rect = self._canvas.to_screen(prop_area(project, prop))
                draw_brackets(painter, rect.adjusted(-2, -2, 2, 2), 9)
                self._paint_path(painter, prop)
                if len(self.chosen) == 1:
                    self._handle.paint(painter, prop)
                if prop.name:
                    draw_tag(painter, rect.left(), rect.top() - 20, prop.name)
        if self._box is not None:
            draw_stitched_box(painter, self._canvas.to_screen(self._box).toRect())
        if self.path:
            self._paint_line(painter, self.path)
        for mark in level.marks:
            self._paint_mark(painter, mark)
        if self._measured is not None and active:
            self._paint_measure(painter, *self._measured)

    def _choose_within(self, press: Pointer, level: Level) -> Stroke:
        """Drag a box around props; with Ctrl they are chosen beside those that were."""
        layer, kept = level.layers[self._desk.selection.layer], self.chosen
        try:
            while True:
                event = yield
                self._box = Rect.between(press.pixel, event.pixel)
                inside = props_within(self._desk.project, layer, self._box)
                self.choose(kept | inside if press.ctrl else inside)
                if event.released:
                    return
        finally:
            self._box = None
            self._canvas.update()

    def _choose_or_send(self, press: Pointer, level: Level, places: frozenset[int]) -> Stroke:
        """A click chooses props beside the others, or no longer; a drag sends them along it, there
        and back."""
        prop = level.layers[self._desk.selection.layer].props[min(places)]
        stands = Point(prop.x, prop.y)
        try:
            while True:
                event = yield
                across, down = event.place.x - press.place.x, event.place.y - press.place.y
                to = self._snapped(Point(prop.x + across, prop.y + down))
                is_far = math.hypot(across, down) * self._canvas.view.scale >= REACH
                self.path = [stands, to] if is_far else None
                self._canvas.update()
                if event.released:
                    self.choose(places if is_far else self.chosen ^ places)
                    self.path = [to] if is_far else None
                    self.end_path(level)
                    return
        finally:
            self.path = None

    def copy(self, level: Level | None) -> None:
        """Keep the chosen props for `paste`, in any level of this window."""
        self._copied = self.props(level)
        clipboard = QApplication.clipboard()
        if self._copied and clipboard is not None:
            data = QMimeData()
            data.setData(COPIED, b"")
            clipboard.setMimeData(data)
            self._desk.said.emit(say("Copied {what}", what=self.called()))

    def can_paste(self) -> bool:
        """Whether props were what was copied last."""
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        return bool(self._copied) and data is not None and data.hasFormat(COPIED)

    def paste(self, level: Level) -> None:
        """Put the copied props on the active layer, the first where the pointer is, else a tile
        beside where it stood."""
        project, index, copied = self._desk.project, self._desk.selection.layer, self._copied
        beside = Point(copied[0].x + project.rules.tile.width, copied[0].y)
        at = self._snapped(self._canvas.pointer) if self._canvas.pointer is not None else beside
        before = len(level.layers[index].props)
        words = say("Pasted {what}", what=counted(len(copied), "prop", "props"))
        self._desk.do(words, lambda p: paste_props(p, level.name, index, copied, at))
        after = len(self._desk.project.level(level.name).layers[index].props)
        self.choose(range(before, after))

    def _goes_inside(self, prop: Prop, place: int) -> bool:
        """Whether what is in hand is so much smaller than a prop that it is put down within."""
        found = self._desk.project.find(self._piece())
        if found is None or place in self.chosen:
            return False
        return ROOMY * found[1].rect.size.area <= prop_area(self._desk.project, prop).area

    def _place_or_drag(self, press: Pointer, level: Level, here: int) -> Stroke:
        """On a large prop a click puts down what is in hand; a drag moves the prop."""
        layer = level.layers[self._desk.selection.layer]
        while True:
            event = yield
            far = math.dist(event.place, press.place) * self._canvas.view.scale
            if event.released or far >= REACH:
                break
        if event.released:
            stroke = self._place(press, level)
        else:
            self.choose(with_groups(layer, {here}))
            stroke = self._drag(press, level)
        next(stroke)
        try:
            while True:
                stroke.send(event)
                event = yield
        except StopIteration:
            return
        finally:
            stroke.close()

    def settle(self, level: str, index: int, place: int) -> None:
        """What was put down or enlarged to fill the room goes behind it, as part of the same step;
        one goes on where one was."""
        desk, last = self._desk, self._desk.history
        project = desk.project
        if not fills_room(project, project.level(level), index, place):
            return
        words = say("Put a prop behind the ground")
        desk.amend(last, words, lambda _: put_behind(project, level, index, place))
        added = len(desk.project.level(level).layers) - len(project.level(level).layers)
        self.choose(())
        desk.select(replace(desk.selection, layer=index + added))
        desk.said.emit(say("It is as large as the room: it stands behind the ground now."))

    def _place(self, press: Pointer, level: Level) -> Stroke:
        """Put a prop down and drag it to its place."""
        index = self._desk.selection.layer
        project = self._desk.project
        piece = self._piece()
        found = project.find(piece)
        drag = self._desk.drag(say("Placed a prop on {layer}", layer=level.layers[index].name))

        def at(event: Pointer) -> Edit:
            place = self._snapped(event.place)
            begun = begun_by(found[0], piece) if found else None
            prop = Prop(piece, place.x, place.y, animation=begun.name if begun else "")
            others = level.layers[index].props
            snaps = self.snap == "edges"
            one = snapped_to_edges(project, prop, others, REACH) if snaps else prop
            self._canvas.update()
            return lambda p: add_props(p, level.name, index, [one])

        last = len(level.layers[index].props)

        def kept() -> None:
            self.choose({last})
            self.settle(level.name, index, last)

        return following(drag, at, press, kept)

    def _drag(self, press: Pointer, level: Level) -> Stroke:
        index, places = self._desk.selection.layer, self.chosen
        project = self._desk.project
        first = level.layers[index].props[min(places)]
        drag = self._desk.drag(say("Moved {what}", what=self.called()))

        def at(event: Pointer) -> Edit | None:
            across, down = event.place.x - press.place.x, event.place.y - press.place.y
            to = self._snapped(Point(first.x + across, first.y + down))
            if self.snap == "edges":
                others = [p for i, p in enumerate(level.layers[index].props) if i not in places]
                moved = replace(first, x=to.x, y=to.y)
                snapped = snapped_to_edges(project, moved, others, REACH)
                to = Point(snapped.x, snapped.y)
            dx, dy = to.x - first.x, to.y - first.y
            if not (dx or dy or drag.changed):
                return None
            self._canvas.update()
            return lambda p: move_props(p, level.name, index, places, dx, dy)

        return following(drag, at)

    def _snapped(self, place: Point) -> Point:
        if self.snap == "grid":
            width, height = self._desk.project.rules.tile
            column, row = place.x // width, place.y // height
            return Point(int(column * width + width // 2), int((row + 1) * height))
        return Point(round(place.x), round(place.y))

    def _add_point(self, press: Pointer, level: Level) -> None:
        assert self.path is not None
        self.path.append(Point(round(press.place.x), round(press.place.y)))
        if press.double:
            self.end_path(level)
        self._canvas.update()

    def _mark_at(self, level: Level, place: Point) -> Mark | None:
        reach = NEAR_MARK / self._canvas.view.scale
        near = [m for m in level.marks if math.dist((m.x, m.y), place) <= reach]
        return near[-1] if near else None

    def _paint_path(self, painter: QPainter, prop: Prop) -> None:
        found = self._desk.project.find(prop.piece)
        body = prop.body or (found[1].body if found else None)
        if body is not None and body.kind == "travels" and body.path is not None:
            points = [Point(0, 0), *body.path.points]
            self._paint_line(painter, [Point(prop.x + p.x, prop.y + p.y) for p in points])

    def _paint_line(self, painter: QPainter, points: list[Point]) -> None:
        places = [QPointF(*self._canvas.view.to_screen(*point)) for point in points]
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((MARKS.paper, 4), (MARKS.rust, 2)):
            painter.setPen(QPen(colour, width))
            painter.drawPolyline(QPolygonF(places))
        painter.restore()
        for place in places:
            draw_lozenge(painter, place.x(), place.y(), 5, MARKS.paper, MARKS.rust)

    def _paint_mark(self, painter: QPainter, mark: Mark) -> None:
        place = self._canvas.view.to_screen(mark.x, mark.y)
        draw_lozenge(painter, place.x, place.y, 6, MARKS.ochre, MARKS.ochre_edge)
        draw_tag(painter, place.x + 10, place.y - 8, mark.name, MARKS.ochre, MARKS.ochre_ink)

    def _paint_measure(self, painter: QPainter, start: Point, end: Point) -> None:
        unit = self._desk.project.rules.pixels_per_unit
        self._paint_line(painter, [start, end])
        across, down = abs(end.x - start.x), abs(end.y - start.y)
        words = say(
            "{units} units, {px} px ({across} across, {down} down)",
            units=figure(math.hypot(across, down) / unit, 2),
            px=figure(math.hypot(across, down), 1),
            across=figure(across / unit, 2),
            down=figure(down / unit, 2),
        )
        place = self._canvas.view.to_screen(*end)
        draw_tag(painter, place.x + 12, place.y - 26, words, MARKS.ink, MARKS.paper)
