"""Bound: collision and tile facts."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.shaping import (
    add_shape,
    box,
    full_box,
    polygon,
    set_shapes,
    set_stops,
)
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Shape, Stops
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Refusal
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.hatching import LARGE, SMALL, draw_shape
from rushweed.ui.canvas.tools import ARROWS, Pointer, Stroke
from rushweed.ui.look.colours import look
from rushweed.ui.look.icons import icon
from rushweed.ui.shell.controls import Check, Chips, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.station import Station
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.facts import FactsFace
from rushweed.ui.stations.found_shapes import FoundShapes
from rushweed.ui.stations.repeat import RepeatFace
from rushweed.ui.stations.shape_editing import ShapeEditor
from rushweed.ui.stations.shape_groups import CommonForms, ForMany
from rushweed.ui.stations.shape_marks import draw_corners, draw_open_polygon, list_corners
from rushweed.ui.stations.shared import common
from rushweed.ui.stations.sheet_canvas import SheetCanvas
from rushweed.ui.text import counted, tr

STOPS: dict[str, Stops] = {"All sides": "all sides", "One-way": "one-way", "Sensor": "sensor"}
SHAPES, FACTS, REPEAT = 0, 1, 2
LARGE_FROM = 6
"""From this scale on shapes are hatched heavily and their corners are marked."""


class Bound(Station):
    """Shapes drawn on the whole sheet, for one piece or for all that are selected."""

    faces = ("Shapes", "Facts", "Repeat")
    shows_shapes = True

    def make_table(self, face: int) -> QWidget:
        if face == FACTS:
            self._facts = FactsFace(self.services)
            return self._facts.table
        if face == REPEAT:
            self._repeat = RepeatFace(self.services)
            return self._repeat.table
        self._open_corners: list[Point] = []
        self._draws_on: Piece | None = None
        self._canvas = SheetCanvas(self.services)
        self._canvas.numbers = False
        self._canvas.paint_over = self._paint_shapes
        self._canvas.tool = self._press
        self._canvas.pressed_key.connect(self._key)
        self._editor = ShapeEditor(self.desk, self._canvas)
        return self._canvas

    def make_tools(self, face: int) -> QWidget | None:
        if face == FACTS:
            return self._facts.tools
        if face == REPEAT:
            return None
        self._shapes_check = Check(tr("Shapes"), lambda on: self._canvas.update())
        self._shapes_check.setChecked(True)
        return tools_row(ZoomChips(self._canvas, (2, 5, 12, 20)), self._shapes_check)

    def make_slip(self, face: int) -> QWidget:
        if face == FACTS:
            return self._facts.slip
        if face == REPEAT:
            return self._repeat.slip
        self._head = SelectionHead()
        self._found = FoundShapes(self.desk, self._canvas)
        self._many = ForMany(4, self.desk, self._canvas)
        groups = [self._make_shape(), self._make_stops(), self._found, self._many]
        groups.append(self._make_corners())
        return SlipPage(groups, self._head)

    def canvas(self) -> Canvas | None:
        if self.face == FACTS:
            return self._facts.table
        return self._canvas if self.face == SHAPES else None

    def leave(self) -> None:
        if self.face == 0:
            self._forget_corners()

    def refresh(self) -> None:
        if self.face == FACTS:
            self._facts.refresh()
            return
        if self.face == REPEAT:
            self._repeat.refresh()
            return
        if self._draws_on is not None and self.desk.project.find(self._draws_on.number) is None:
            self._forget_corners()
        self._canvas.refresh()
        self._show_pieces()

    def change(self, before: Project, after: Project) -> None:
        if before.sheets is not after.sheets or before.rules is not after.rules:
            self.refresh()

    # -- the slip ---------------------------------------------------------------------

    def _make_shape(self) -> Group:
        group = self._shape_group = Group(1, tr("Shape"))
        self._tools = {
            "select": button(
                tr("Select"), lambda: self._take("select"), "tool", tr("Select pieces  V")
            ),
            "edit": button(
                tr("Edit"),
                lambda: self._take("edit"),
                "tool",
                tr("Drag corners, edges, shapes; the second button takes a corner away  E"),
            ),
            "box": button(tr("Box"), lambda: self._take("box"), "tool", tr("Drag a box  B")),
            "polygon": button(
                tr("Polygon"),
                lambda: self._take("polygon"),
                "tool",
                tr("Click corners, Enter ends  G"),
            ),
        }
        for name in ("box", "polygon"):
            self._tools[name].setIcon(icon(name, look.colours.soft_ink))
        nothing = button(
            tr("Nothing solid"),
            self._give_nothing,
            tip=tr("Decide that nothing is solid  Delete"),
        )
        tools = self._tools
        group.add(row(tools["select"], tools["edit"], nothing, None, spacing=4))
        group.add(row(tools["box"], tools["polygon"], None, spacing=4))
        self._forms = CommonForms(self._give)
        group.add(self._forms)
        self._take("select")
        return group

    def _make_corners(self) -> Group:
        group = Group(5, tr("Corners"))
        group.aside.setText(tr("px from top left"))
        self._corners = label("", "caption")
        group.add(self._corners)
        return group

    def _make_stops(self) -> Group:
        group = self._stops_group = Group(2, tr("Who it stops"))
        self._stops = Chips(list(STOPS), name=tr("Who it stops"))
        self._stops.chosen.connect(self._set_stops)
        group.add(row(self._stops, None))
        return group

    def _show_pieces(self) -> None:
        pieces = self._targets()
        self._found.refresh()
        self._many.refresh()
        names = ", ".join(self._name(piece) for piece in pieces[:3])
        self._head.tell(counted(len(pieces), "piece", "pieces"), names)
        sheet = self._canvas.sheet
        total = len(sheet.pieces) if sheet else 0
        decided = sum(p.shapes is not None for p in sheet.pieces) if sheet else 0
        shaped = sum(bool(p.shapes) for p in sheet.pieces) if sheet else 0
        self._shape_group.result.tell(
            tr("{n} of {all} have a shape, {left} undecided.").format(
                n=shaped, all=total, left=total - decided
            )
            if total
            else "",
            warns=decided < total,
        )
        shapes = {piece.shapes for piece in pieces}
        shared = next(iter(shapes)) if len(shapes) == 1 else None
        self._corners.setText(
            tr("Select a piece to see its corners.")
            if not pieces
            else list_corners(shared)
            if len(shapes) == 1
            else tr("differ between pieces")
        )
        stops = common(shape.stops for piece in pieces for shape in piece.shapes or ())
        self._stops.show_choice(next((n for n, s in STOPS.items() if s == stops), ""))
        self._stops.setEnabled(any(piece.shapes for piece in pieces))
        sentences = {
            "one-way": tr("Stops what comes down on it; lets pass from below."),
            "sensor": tr("Stops nobody; the game is told who touches it."),
        }
        self._stops_group.result.tell(sentences.get(stops or "", ""))

    def _targets(self) -> list[Piece]:
        return self._canvas.selected_pieces()

    def _name(self, piece: Piece) -> str:
        assert self._canvas.sheet is not None
        return shown_name(self._canvas.sheet, piece)

    # -- acts -------------------------------------------------------------------------

    def _take(self, name: str) -> None:
        """Take a tool in hand."""
        self._tool = name
        for other, chip in self._tools.items():
            chip.setChecked(other == name)
        self._forget_corners()
        cursor = Qt.CursorShape.ArrowCursor if name == "select" else Qt.CursorShape.CrossCursor
        self._canvas.setCursor(cursor)

    def _give_whole(self) -> None:
        self._give(tr("Made {what} solid"), lambda piece: (Shape(full_box(piece.rect.size)),))

    def _give_nothing(self) -> None:
        self._give(tr("Decided that nothing of {what} is solid"), lambda piece: ())

    def _give(self, words: str, shapes_for) -> None:  # type: ignore[no-untyped-def]
        numbers = frozenset(piece.number for piece in self._targets())
        if not numbers:
            self.desk.refused.emit(tr("Select the pieces first: click one, or drag over several."))
            return
        what = counted(len(numbers), "piece", "pieces")
        self.desk.do(
            words.format(what=what),
            lambda p: with_pieces(
                p, numbers, lambda piece: replace(piece, shapes=shapes_for(piece))
            ),
        )

    def _set_stops(self, text: str) -> None:
        numbers = frozenset(piece.number for piece in self._targets())
        what = counted(len(numbers), "piece", "pieces")
        words = tr("Set {what} to {stops}").format(what=what, stops=text.lower())
        self.desk.do(words, lambda p: set_stops(p, numbers, STOPS[text]))

    def _press(self, press: Pointer) -> Stroke | None:
        if self._tool == "box":
            return self._draw_box(press)
        if self._tool == "polygon":
            self._add_corner(press)
            return None
        if self._tool == "edit":
            return self._editor.press(press)
        return self._canvas.select_tool(press)

    def _draw_box(self, press: Pointer) -> Stroke | None:
        """Drag a box on a piece; it goes to all selected pieces when that one is among them."""
        piece = self._canvas.piece_near(press.place)
        if piece is None:
            return self._canvas.select_tool(press)
        return self._drag_box(press, piece)

    def _drag_box(self, press: Pointer, piece: Piece) -> Stroke:
        numbers = self._recipients(piece)
        drag = self.desk.drag(tr("Drew a box on {what}").format(what=self._who(numbers, piece)))
        start = _inside(press, piece)
        try:
            while True:
                event = yield
                end = _inside(event, piece)
                if start.x != end.x and start.y != end.y:
                    shape = Shape(box(start, end))
                    drag.to(partial(_replace_or_add, numbers=numbers, shape=shape, add=press.shift))
                if event.released:
                    if drag.project is not drag.before:
                        drag.end()
                    return
        finally:
            self.desk.abandon_drag()

    def _add_corner(self, press: Pointer) -> None:
        """Put down the next corner; the first one again, or a double click, ends the polygon."""
        piece = self._draws_on or self._canvas.piece_near(press.place)
        if piece is None:
            return
        if self._draws_on is None:
            self._draws_on = piece
            self.desk.select(replace(self.selection, pieces=self._recipients(piece)))
        corner = _inside(press, piece)
        closes = len(self._open_corners) >= 3 and (corner == self._open_corners[0] or press.double)
        if closes:
            self._end_polygon()
        elif not self._open_corners or corner != self._open_corners[-1]:
            self._open_corners.append(corner)
        self._canvas.update()

    def _end_polygon(self) -> None:
        piece, corners = self._draws_on, list(self._open_corners)
        if piece is None:
            return
        numbers = self._recipients(piece)
        words = tr("Drew a polygon on {what}").format(what=self._who(numbers, piece))
        try:
            shape = Shape(polygon(corners))
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
            return
        self._forget_corners()
        self.desk.do(words, lambda p: _replace_or_add(p, numbers, shape, add=False))

    def _forget_corners(self) -> None:
        self._open_corners, self._draws_on = [], None
        self._canvas.update()

    def _recipients(self, piece: Piece) -> frozenset[int]:
        chosen = self.selection.pieces
        return chosen if piece.number in chosen else frozenset({piece.number})

    def _who(self, numbers: frozenset[int], piece: Piece) -> str:
        return self._name(piece) if len(numbers) == 1 else counted(len(numbers), "piece", "pieces")

    def _key(self, event: QKeyEvent) -> None:
        keys = {
            Qt.Key.Key_B: lambda: self._take("box"),
            Qt.Key.Key_G: lambda: self._take("polygon"),
            Qt.Key.Key_V: lambda: self._take("select"),
            Qt.Key.Key_E: lambda: self._take("edit"),
            Qt.Key.Key_C: self._many.copy,
            Qt.Key.Key_P: self._many.paste,
            Qt.Key.Key_M: self._many.mirror,
            Qt.Key.Key_T: self._many.find_twins,
            Qt.Key.Key_W: self._give_whole,
            Qt.Key.Key_Delete: self._give_nothing,
            Qt.Key.Key_Return: self._end_polygon,
            Qt.Key.Key_Enter: self._end_polygon,
            Qt.Key.Key_Backspace: self._take_back,
            Qt.Key.Key_Escape: self._escape,
        }
        action = keys.get(Qt.Key(event.key()))
        if self._forms.key(event.text()):
            event.accept()
            return
        if event.key() in ARROWS and self._tool == "edit":
            if self._editor.nudge(*ARROWS[Qt.Key(event.key())]):
                event.accept()
            return
        if action is not None and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            action()
            event.accept()

    def _take_back(self) -> None:
        if self._open_corners:
            self._open_corners.pop()
            if not self._open_corners:
                self._draws_on = None
            self._canvas.update()

    def _escape(self) -> None:
        if self._open_corners:
            self._forget_corners()
        else:
            self._take("select")

    def _open_places(self) -> list[Point]:
        """The corners that were put down, and where the next one would be."""
        piece, pointer = self._draws_on, self._canvas.pointer
        if piece is None or pointer is None:
            return list(self._open_corners)
        return [*self._open_corners, _inside(Pointer(pointer), piece)]

    # -- painting ---------------------------------------------------------------------

    def _paint_shapes(self, painter: QPainter) -> None:
        canvas = self._canvas
        if canvas.sheet is None:
            return
        scale = canvas.view.scale
        large = scale >= LARGE_FROM
        if self._shapes_check.isChecked():
            for _, piece in canvas.seen_pieces():
                if piece.shapes:
                    corner = canvas.view.to_screen(piece.rect.x, piece.rect.y)
                    for shape in piece.shapes:
                        draw_shape(
                            painter, shape, corner.x, corner.y, scale, LARGE if large else SMALL
                        )
        selected = canvas.selected_pieces()
        if large and len(selected) == 1:
            draw_corners(painter, canvas, selected[0])
        canvas._paint_selection(painter)
        self._many.paint(painter)
        if self._draws_on is not None:
            draw_open_polygon(painter, canvas, self._draws_on.rect, self._open_places())


def _inside(event: Pointer, piece: Piece) -> Point:
    """The pixel corner nearest to the pointer, in pixels of the piece and not outside it."""
    x = min(max(event.corner.x - piece.rect.x, 0), piece.rect.width)
    y = min(max(event.corner.y - piece.rect.y, 0), piece.rect.height)
    return Point(x, y)


def _replace_or_add(project: Project, numbers: frozenset[int], shape: Shape, add: bool) -> Project:
    """A drawn shape takes the place of the old ones, or joins them."""
    if add:
        return add_shape(project, numbers, shape)
    return set_shapes(project, numbers, (shape,))
