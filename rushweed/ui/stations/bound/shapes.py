"""Shapes: drawn on the whole sheet, for one piece or for all that are selected."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.words import counted, say
from rushweed.ui.canvas.hatching import LARGE, Stamps, draw_shape
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.commands import listed
from rushweed.ui.shell.controls import Check
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import SelectionHead, SlipPage
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.bound.carry_over import CarryOver
from rushweed.ui.stations.bound.collision_groups import StopsGroup
from rushweed.ui.stations.bound.found_shapes import FoundShapes
from rushweed.ui.stations.bound.shape_corners import Corners
from rushweed.ui.stations.bound.shape_drawing import ShapeDrawer
from rushweed.ui.stations.bound.shape_editing import ShapeEditor
from rushweed.ui.stations.bound.shape_groups import ForMany
from rushweed.ui.stations.bound.shape_tools import ShapeTools
from rushweed.ui.stations.bound.sheet_shapes import SheetShapes
from rushweed.ui.stations.common.body_group import BodyGroup
from rushweed.ui.stations.common.shape_marks import draw_corners
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas, only_changed

LARGE_FROM = 6
"""From this scale on shapes are hatched heavily and their corners are marked."""


class ShapeHatching:
    """Small shapes are drawn with stamps that are made once for a scale."""

    def __init__(self, canvas: SheetCanvas) -> None:
        self._canvas = canvas
        self._stamps = Stamps()

    def paint(self, painter: QPainter, shown: bool) -> None:
        """Paint the shapes, if they are shown, and the corners of the one selected piece."""
        canvas, scale = self._canvas, self._canvas.view.scale
        large = scale >= LARGE_FROM
        if shown:
            self._paint_shapes(painter, scale, large)
        selected = canvas.selected_pieces()
        if large and len(selected) == 1:
            draw_corners(painter, canvas, selected[0])

    def _paint_shapes(self, painter: QPainter, scale: float, large: bool) -> None:
        self._stamps.begin(painter, scale)
        for _, piece in self._canvas.seen_pieces(painter):
            if not piece.shapes:
                continue
            corner = self._canvas.view.to_screen(piece.rect.x, piece.rect.y)
            if large:
                for shape in piece.shapes:
                    draw_shape(painter, shape, corner.x, corner.y, scale, LARGE)
            else:
                self._stamps.draw(painter, piece.shapes, corner.x, corner.y)


class ShapesFace(Face):
    """The sheet with the shapes of its pieces, tools that draw them, and all that can be done."""

    name = say("Shapes")
    keys = listed.SHAPES
    table: SheetCanvas

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = canvas = SheetCanvas(services)
        canvas.numbers = False
        canvas.paint_over = self._paint
        canvas.tool = self._press
        self._hatching = ShapeHatching(canvas)
        self._editor = ShapeEditor(self.desk, canvas)
        self._drawer = ShapeDrawer(self.desk, canvas)
        self._shows = Check(say("Shapes"), lambda on: canvas.update())
        self._shows.setChecked(True)
        self.tools = tools_row(ZoomChips(canvas), self._shows)
        self.shape_tools = ShapeTools(2, self.desk, services.commands, self._targets)
        self.slip = self._make_slip(canvas)
        self._bind()
        self.shape_tools.took.connect(self._change_tool)
        self.shape_tools.take("select")

    def _make_slip(self, canvas: SheetCanvas) -> SlipPage:
        self._head = SelectionHead()
        self.sheet_shapes = SheetShapes(1, self.services, canvas)
        self._stops = StopsGroup(3, self.desk, self._targets)
        self.found = FoundShapes(self.desk, self.services.jobs, canvas)
        self.many = ForMany(5, self.services, canvas)
        self.carry = CarryOver(6, self.services, canvas)
        self._corners = Corners(7, self.desk, canvas)
        self._body = BodyGroup(8, self.desk, canvas, lambda: self.shape_tools.take("path"))
        first = [self.sheet_shapes, self.shape_tools, self._stops, self.found]
        last = [self.many, self.carry, self._corners, self._body]
        slip = SlipPage([*first, *last], self._head)
        self.carry.offered.connect(lambda: slip.ensureWidgetVisible(self.carry))
        return slip

    def leave(self) -> None:
        self._drawer.forget()

    def refresh(self) -> None:
        self._drawer.keep_fitting()
        self.table.refresh()
        self._show_pieces()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if live and self._follow_drag(before, after):
            return
        if before.sheets is not after.sheets or before.rules is not after.rules:
            self.refresh()

    def _follow_drag(self, before: Project, after: Project) -> bool:
        """While a shape is dragged, paint only what it touches; False where more has changed."""
        change = only_changed(before, after, self.selection.sheet)
        if change is None or not self.table.show_changed(*change):
            return False
        self._show_pieces()
        return True

    def _show_pieces(self) -> None:
        pieces = self._targets()
        names = ", ".join(self._name(piece) for piece in pieces[:3])
        self._head.tell(counted(len(pieces), "piece", "pieces"), names)
        self.slip.set_usable(self.table.has_pieces())
        self.sheet_shapes.refresh()
        self.shape_tools.refresh(self.table.sheet)
        self.found.refresh()
        self.many.refresh()
        self.carry.refresh()
        self._corners.refresh()
        self._body.refresh()
        self._stops.refresh()

    def _targets(self) -> list[Piece]:
        """The selected pieces, on whatever sheets."""
        picked = self.selection.picked(self.project)
        return [piece for pieces in picked.values() for piece in pieces]

    def _name(self, piece: Piece) -> str:
        found = self.project.find(piece.number)
        return shown_name(*found) if found else ""

    def _change_tool(self, tool: str) -> None:
        self._drawer.forget()
        cursor = Qt.CursorShape.ArrowCursor if tool == "select" else Qt.CursorShape.CrossCursor
        self.table.setCursor(cursor)

    def _press(self, press: Pointer) -> Stroke | None:
        tool = self.shape_tools.tool
        if tool == "edit":
            return self._editor.press(press)
        if tool == "select":
            on_badge = self.sheet_shapes.press(press.place)
            return None if on_badge else self.table.select_tool(press)
        return self._drawer.press(press, tool)

    def _bind(self) -> None:
        """Say what the keys do."""
        commands, many = self.services.commands, self.many
        for name, act in (
            ("copy", many.copy),
            ("paste", many.paste),
            ("mirror", many.mirror),
            ("twins", many.find_twins),
            ("end", self._drawer.end),
            ("take_back", self._drawer.take_back),
            ("leave", self._escape),
        ):
            commands.bind(f"bound.{name}", act)
        commands.bind_stepped(
            "bound.nudge",
            lambda way: self._editor.nudge(*listed.STEPS[way]),
            lambda: self.shape_tools.tool == "edit",
        )

    def _escape(self) -> None:
        if self._drawer.open:
            self._drawer.forget()
        else:
            self.shape_tools.take("select")

    def _paint(self, painter: QPainter) -> None:
        if self.table.sheet is None:
            return
        self._hatching.paint(painter, self._shows.isChecked())
        self.table.paint_selection(painter)
        for part in (
            self.many,
            self.carry,
            self.sheet_shapes,
            self._body,
            self._corners,
            self._drawer,
        ):
            part.paint(painter)
