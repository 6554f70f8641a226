"""Shapes: drawn on the whole sheet, for one piece or for all that are selected."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QPushButton

from rushweed.core.bound.editing import FORMS
from rushweed.core.bound.shaping import full_box
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.words import counted, say
from rushweed.ui.canvas.hatching import LARGE, Stamps, draw_shape
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.commands import listed
from rushweed.ui.look.icons import icon
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Check, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.bound.collision_groups import StopsGroup
from rushweed.ui.stations.bound.found_shapes import FoundShapes
from rushweed.ui.stations.bound.shape_corners import Corners
from rushweed.ui.stations.bound.shape_drawing import ShapeDrawer
from rushweed.ui.stations.bound.shape_editing import ShapeEditor
from rushweed.ui.stations.bound.shape_groups import CommonForms, ForMany
from rushweed.ui.stations.bound.sheet_shapes import SheetShapes
from rushweed.ui.stations.common.body_group import BodyGroup
from rushweed.ui.stations.common.shape_marks import draw_corners
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

Tool = Literal["select", "edit", "box", "circle", "polygon", "path"]
LARGE_FROM = 6
"""From this scale on shapes are hatched heavily and their corners are marked."""


class ShapesFace(Face):
    """The sheet with the shapes of its pieces, tools that draw them, and all that can be done."""

    name = say("Shapes")
    keys = listed.SHAPES

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self._canvas = SheetCanvas(services)
        self._canvas.numbers = False
        self._canvas.paint_over = self._paint_shapes
        self._canvas.tool = self._press
        self._stamps = Stamps()
        self._editor = ShapeEditor(self.desk, self._canvas)
        self._drawer = ShapeDrawer(self.desk, self._canvas)
        self._shapes_check = Check(say("Shapes"), lambda on: self._canvas.update())
        self._shapes_check.setChecked(True)
        self.tools = tools_row(ZoomChips(self._canvas), self._shapes_check)
        self._head = SelectionHead()
        self._sheet_shapes = SheetShapes(1, services, self._canvas)
        self._found = FoundShapes(self.desk, services.jobs, self._canvas)
        self._many = ForMany(5, services, self._canvas)
        self._corners = Corners(6, self.desk, self._canvas)
        self._body = BodyGroup(7, self.desk, self._canvas, lambda: self._take("path"))
        self._stops = StopsGroup(3, self.desk, self._targets)
        groups = [self._sheet_shapes, self._make_shape(), self._stops, self._found]
        self.slip = SlipPage([*groups, self._many, self._corners, self._body], self._head)
        self._bind()

    def leave(self) -> None:
        self._drawer.forget()

    def refresh(self) -> None:
        self._drawer.keep_fitting()
        self._canvas.refresh()
        self._show_pieces()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if live and self._follow_drag(before, after):
            return
        if before.sheets is not after.sheets or before.rules is not after.rules:
            self.refresh()

    def _follow_drag(self, before: Project, after: Project) -> bool:
        """While a shape is dragged, paint only what it touches; False where more has changed."""
        name = self.selection.sheet
        others = [(a, b) for a, b in zip(before.sheets, after.sheets, strict=False) if a is not b]
        if len(before.sheets) != len(after.sheets) or len(others) != 1 or others[0][0].name != name:
            return False
        if not self._canvas.show_changed(*others[0]):
            return False
        self._show_pieces()
        return True

    # -- the slip ---------------------------------------------------------------------

    def _make_shape(self) -> Group:
        group = self._shape_group = Group(2, say("Shape"))
        commands = self.services.commands
        self._tools: dict[str, QPushButton] = {
            name: command_button(commands, f"bound.{name}", text, "tool")
            for name, text in (
                ("select", say("Select")),
                ("edit", say("Edit")),
                ("box", say("Box")),
                ("polygon", say("Polygon")),
                ("circle", say("Circle")),
            )
        }
        for name in ("box", "polygon", "circle"):
            self._tools[name].setIcon(icon(name, "soft_ink"))
        nothing = command_button(commands, "bound.nothing", say("Nothing solid"))
        tools = self._tools
        group.add(row(tools["select"], tools["edit"], nothing, None, spacing=4))
        group.add(row(tools["box"], tools["polygon"], tools["circle"], None, spacing=4))
        self._forms = CommonForms(self.services.commands, self._give)
        group.add(self._forms)
        self._take("select")
        return group

    def _show_pieces(self) -> None:
        pieces = self._targets()
        self._sheet_shapes.refresh()
        self._found.refresh()
        self._many.refresh()
        names = ", ".join(self._name(piece) for piece in pieces[:3])
        self._head.tell(counted(len(pieces), "piece", "pieces"), names)
        sheet = self._canvas.sheet
        total = len(sheet.pieces) if sheet else 0
        known = [piece.shapes for piece in sheet.pieces] if sheet else []
        decided, shaped = total - known.count(None), total - known.count(None) - known.count(())
        self._shape_group.result.tell(
            say(
                "{n} of {all} have a shape, {left} undecided.",
                n=shaped,
                all=total,
                left=total - decided,
            )
            if total
            else "",
            warns=decided < total,
        )
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

    # -- acts -------------------------------------------------------------------------

    def _take(self, name: Tool) -> None:
        """Take a tool in hand."""
        self._tool = name
        for other, chip in self._tools.items():
            chip.setChecked(other == name)
        self._drawer.forget()
        cursor = Qt.CursorShape.ArrowCursor if name == "select" else Qt.CursorShape.CrossCursor
        self._canvas.setCursor(cursor)

    def _give_whole(self) -> None:
        self._give(say("Made {what} solid"), lambda piece: (Shape(full_box(piece.rect.size)),))

    def _give_nothing(self) -> None:
        self._give(say("Decided that nothing of {what} is solid"), lambda piece: ())

    def _give(self, words: str, shapes_for) -> None:  # type: ignore[no-untyped-def]
        numbers = frozenset(piece.number for piece in self._targets())
        if not numbers:
            self.desk.refused.emit(say("Select the pieces first: click one, or drag over several."))
            return
        what = counted(len(numbers), "piece", "pieces")
        self.desk.do(
            words.format(what=what),
            lambda p: with_pieces(
                p, numbers, lambda piece: replace(piece, shapes=shapes_for(piece))
            ),
        )

    def _press(self, press: Pointer) -> Stroke | None:
        if self._tool == "edit":
            return self._editor.press(press)
        if self._tool == "select":
            on_badge = self._sheet_shapes.press(press.place)
            return None if on_badge else self._canvas.select_tool(press)
        return self._drawer.press(press, self._tool)

    def _bind(self) -> None:
        """Say what the keys do."""
        commands = self.services.commands
        for tool in ("select", "edit", "box", "polygon", "circle"):
            commands.bind(f"bound.{tool}", partial(self._take, tool))
        for name, act in (
            ("copy", lambda: self._many.copy()),
            ("paste", lambda: self._many.paste()),
            ("mirror", lambda: self._many.mirror()),
            ("twins", lambda: self._many.find_twins()),
            ("whole", self._give_whole),
            ("nothing", self._give_nothing),
            ("end", self._drawer.end),
            ("take_back", self._drawer.take_back),
            ("leave", self._escape),
        ):
            commands.bind(f"bound.{name}", act)
        commands.bind_stepped("bound.form", lambda place: self._forms.take(FORMS[place]))
        commands.bind_stepped(
            "bound.nudge",
            lambda way: self._editor.nudge(*listed.STEPS[way]),
            lambda: self._tool == "edit",
        )

    def _escape(self) -> None:
        if self._drawer.open:
            self._drawer.forget()
        else:
            self._take("select")

    # -- painting ---------------------------------------------------------------------

    def _paint_shapes(self, painter: QPainter) -> None:
        canvas = self._canvas
        if canvas.sheet is None:
            return
        scale = canvas.view.scale
        large = scale >= LARGE_FROM
        if self._shapes_check.isChecked():
            self._stamps.begin(painter, scale)
            for _, piece in canvas.seen_pieces(painter):
                if not piece.shapes:
                    continue
                corner = canvas.view.to_screen(piece.rect.x, piece.rect.y)
                if large:
                    for shape in piece.shapes:
                        draw_shape(painter, shape, corner.x, corner.y, scale, LARGE)
                else:
                    self._stamps.draw(painter, piece.shapes, corner.x, corner.y)
        selected = canvas.selected_pieces()
        if large and len(selected) == 1:
            draw_corners(painter, canvas, selected[0])
        canvas._paint_selection(painter)
        self._many.paint(painter)
        self._sheet_shapes.paint(painter)
        self._body.paint(painter)
        self._corners.paint(painter)
        self._drawer.paint(painter)
