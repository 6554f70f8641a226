"""Painting: the open level, the tray, and all that is done with them."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QStackedWidget, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.orientation import FLIPPED, FLIPPED_DOWN
from rushweed.core.project.cells import Key
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.levels import bounds, set_start
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.level_picture import LevelPicture
from rushweed.ui.canvas.marks import draw_tag
from rushweed.ui.canvas.outline_picture import OutlinePicture
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.canvas.view import opened, zoom_words
from rushweed.ui.commands.listed import LEVEL, PROPS, STEPS
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import Check
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import BarredTable, tools_row
from rushweed.ui.shell.rack_of_levels import begin_level
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import SlipPage
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.invitation import Invitation
from rushweed.ui.stations.weave.brush_groups import SetsGroup
from rushweed.ui.stations.weave.brush_in_hand import BrushInHand
from rushweed.ui.stations.weave.ghost import Ghost
from rushweed.ui.stations.weave.held import DRAWING, Held, Tool
from rushweed.ui.stations.weave.hem_group import HemGroup
from rushweed.ui.stations.weave.level_groups import LayerGroup, LevelGroup, PartGroup
from rushweed.ui.stations.weave.level_marks import draw_grid, draw_start
from rushweed.ui.stations.weave.map_group import MapGroup
from rushweed.ui.stations.weave.mark_group import MarkGroup
from rushweed.ui.stations.weave.parts import Parts
from rushweed.ui.stations.weave.picking import Picking
from rushweed.ui.stations.weave.playing import Playing
from rushweed.ui.stations.weave.pose_group import PoseGroup
from rushweed.ui.stations.weave.prop_group import PropGroup
from rushweed.ui.stations.weave.strokes import Strokes
from rushweed.ui.stations.weave.things import Things
from rushweed.ui.stations.weave.tools import COMMAND_OF, tool_chips
from rushweed.ui.stations.weave.tray_group import TrayGroup

DEFAULT_VIEW = (20, 12)
"""Cells an empty level shows."""


class LevelFace(Face):
    """Paints the active layer of the open level."""

    name = say("Level")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self._make_table()
        self.slip = self._make_slip()
        self.tools = self._make_tools()

    def _make_table(self) -> QWidget:
        self._held = Held()
        self._picking = Picking(self.desk, self._held, self._take)
        self._picking.on_rule, self._picking.on_picked = self._show_anew, self._show_tray
        self._pick_brush = self._picking.take_brush
        self._shown = ""
        self._picture = LevelPicture(self.services.images)
        self._outlines = OutlinePicture()
        self._canvas = Canvas(self._paint)
        self._canvas.tool = self._press
        self._canvas.setCursor(Qt.CursorShape.CrossCursor)
        self._canvas.hovered.connect(self._hover)
        self._canvas.view_changed.connect(lambda view: self._tell(self._canvas.pointer))
        self._pages = QStackedWidget()
        self._pages.addWidget(self._canvas)
        self._pages.addWidget(
            Invitation(
                say("There is no level yet."),
                say("A level has no edges: it grows wherever you paint."),
                say("Begin a level"),
                lambda: begin_level(self.desk),
            )
        )
        self._strokes = Strokes(self.desk, self._canvas, self._held)
        self._strokes.on_done = self._show_stroke
        self._strokes.within = lambda: self._parts.area if self._parts.area.area else None
        self._ghost = Ghost(self.services, self._canvas, self._held, self._strokes, self._level)
        self._parts = Parts(self.desk, self._canvas)
        self._things = Things(self.desk, self._canvas, self._picking.piece)
        self._tools = tool_chips(self.services.commands)
        self._tools.entered.connect(self._take)
        self._tools.show_value(self._held.tool)
        return BarredTable(self._tools, self._pages)

    def _make_tools(self) -> QWidget:
        self._grid = Check(say("Grid"), lambda on: self._canvas.update())
        self._grid.setChecked(True)
        self._playing = Playing(self._picture, self._canvas, lambda: self.project)
        self._plays = Check(say("Play"), self._playing.play)
        self._plays.setToolTip(say("Animated tiles and props play while you paint"))
        return tools_row(self._plays, self._grid, ZoomChips(self._canvas), spacing=14)

    def _make_slip(self) -> QWidget:
        self._tray_group = TrayGroup(1, self.services, self._held)
        self._tray_group.picked.connect(self._pick_brush)
        self._brush = BrushInHand(2, self.services, self._held, self._canvas)
        self._mark_group = MarkGroup(3, self.desk, self._things, self._level)
        self._map = MapGroup(4, self.services, self._canvas, self._level)
        self._hem_group = HemGroup(5, self.services, self._held)
        self._hem_group.taken.connect(lambda name: self._show_tray())
        self._sets = SetsGroup(6, self.desk, self._held, self._keep_patch)
        self._sets.taken.connect(self._pick_brush)
        self._part_group = PartGroup(7, self.desk, self._parts, self._level, self._take_part)
        self._prop_group = PropGroup(
            8, self.services, self._things, self._parts, self._level, self._picking.pieces
        )
        self._pose_group = PoseGroup(9, self.services, self._things, self._parts, self._level)
        self._things.on_chosen = self._show_props
        self._bind()
        self._layer_group = LayerGroup(10, self.desk)
        self._level_group = LevelGroup(11, self.desk, self._go_to)
        self._groups = [
            self._tray_group,
            self._brush,
            self._mark_group,
            self._part_group,
            self._pose_group,
            self._prop_group,
            self._hem_group,
            self._sets,
            self._map,
            self._layer_group,
            self._level_group,
        ]
        page = SlipPage(self._groups)
        self._fit_groups()
        return page

    def _fit_groups(self) -> None:
        """Show the groups that the tool in hand has to do with, numbered one after the other."""
        tool = self._held.tool
        wanted = {
            self._brush: tool in DRAWING and tool != "Select",
            self._mark_group: tool == "Mark",
            self._part_group: tool == "Select",
            self._prop_group: tool in ("Props", "Select"),
            self._pose_group: self._wants_pose(),
            self._hem_group: tool in DRAWING,
            self._sets: tool in DRAWING,
        }
        number = 0
        for group in self._groups:
            shown = wanted.get(group, True)
            group.setVisible(shown)
            number += shown
            group.number = number
            group.update()

    def _wants_pose(self) -> bool:
        return self._held.tool == "Props" and bool(self._things.chosen)

    def canvas(self) -> Canvas:
        return self._canvas

    def enter(self) -> None:
        self._tray_group.begin(self._level())
        self.refresh()

    def refresh(self) -> None:
        level = self._level()
        self._pages.setCurrentIndex(0 if level else 1)
        if level is not None:
            self._show_level(level)
        self._things.keep_fitting(level)
        self._show_tray()
        self._show_groups()
        self._map.refresh()
        self._canvas.update()

    def _show_stroke(self) -> None:
        """A stroke has ended."""
        if self._level() is not None:
            self._show_groups()
            self._map.refresh()
            self._canvas.update()

    def _show_groups(self) -> None:
        self._show_props()
        for group in (self._sets, self._layer_group, self._level_group):
            group.refresh()
        self._hem_group.refresh(len(self._strokes.lacking))

    def _show_props(self) -> None:
        self._mark_group.refresh()
        self._prop_group.refresh()
        self._pose_group.refresh()
        if self._pose_group.isHidden() == self._wants_pose():
            self._fit_groups()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is not after.sheets or len(before.levels) != len(after.levels):
            self.refresh()
        elif before.levels is not after.levels and not live:
            self._things.keep_fitting(self._level())
            self._show_groups()
            self._map.refresh()
            self._canvas.update()
        elif before.levels is after.levels:
            self._show_groups()
            self._canvas.update()

    def _level(self) -> Level | None:
        name = self.selection.level
        return self.project.level(name) if name else None

    def _show_level(self, level: Level) -> None:
        width, height = self.project.rules.tile
        area = bounds(level)
        if not area.area:
            area = Rect(0, 0, *DEFAULT_VIEW)
        content = Rect(area.x * width, area.y * height, area.width * width, area.height * height)
        if level.name != self._shown:
            self._shown = level.name
            self._canvas.content = content
            size = Size(self._canvas.width(), self._canvas.height())
            self._canvas.set_view(opened(content, level.start, size))
        else:
            self._canvas.content = content

    def _show_tray(self) -> None:
        self._tray_group.refresh()
        self._hem_group.look_at(self._tray_group.shown())
        self._brush.refresh()

    # -- acts --------------------------------------------------------------------------

    def _take(self, name: Tool) -> None:
        """Take a tool in hand."""
        self._held.tool = name
        self._held.places_tiles = name == "Props"
        self._tools.show_value(name)
        self._fit_groups()
        if name not in ("Select", "Fill", "Props"):
            self._parts.forget()
        self._canvas.update()

    def _repeat(self) -> None:
        level = self._level()
        if level is not None:
            self._strokes.repeat(level)

    def _fill_under(self) -> None:
        level = self._level()
        if level is not None:
            self._strokes.fill_under(level)

    def _keep_patch(self) -> str:
        level = self._level()
        return self._parts.keep_as_patch(level, "") if level else ""

    def _take_part(self) -> None:
        level = self._level()
        brush = self._parts.as_brush(level) if level else None
        if brush is not None:
            self._take("Brush")
            self._pick_brush(brush)

    def _go_to(self, column: int, line: int) -> None:
        width, height = self.project.rules.tile
        self._canvas.centre_on(Rect(column * width, line * height, width, height))

    def _show_anew(self) -> None:
        """Cells are of another size now."""
        self._shown = ""
        self.refresh()

    def _cell(self, place: Point) -> Key:
        width, height = self.project.rules.tile
        return int(place.x // width), int(place.y // height)

    def _press(self, press: Pointer) -> Stroke | None:
        level = self._level()
        if level is None:
            return None
        tool = self._held.tool
        if tool == "Props":
            return self._things.press_prop(press, level)
        if press.button == 2 or tool == "Pick up":
            self._pick_up(level, self._cell(press.place))
        elif tool == "Start":
            self._set_start(level, press)
        elif tool == "Mark":
            self._things.press_mark(press, level)
        elif tool == "Measure":
            return self._things.measure(press)
        elif tool == "Select":
            return self._parts.press(press, level)
        else:
            return self._strokes.press(press, level)
        return None

    def _pick_up(self, level: Level, cell: Key) -> None:
        sheet = self._picking.pick_up(level, cell)
        if sheet:
            self._tray_group.sheet = sheet
            self._show_tray()

    def _set_start(self, level: Level, press: Pointer) -> None:
        width, height = self.project.rules.tile
        column, r = self._cell(press.place)
        start = Point(column * width + width // 2, (r + 1) * height)
        self.desk.do(
            say("Put the walker's start in {level}", level=level.name),
            lambda p: set_start(p, level.name, start),
        )

    def key_place(self) -> str:
        return PROPS if self._held.tool == "Props" and self._things.chosen else LEVEL

    def _bind(self) -> None:
        """Say what the keys of Weave do."""
        commands = self.services.commands
        for tool, name in COMMAND_OF.items():
            commands.bind(name, partial(self._take, tool))
        for name, act in (
            ("mirror", partial(self._brush.flip, FLIPPED)),
            ("mirror_down", partial(self._brush.flip, FLIPPED_DOWN)),
            ("turn", self._brush.turn),
            ("grid", lambda: self._grid.click()),
            ("play", lambda: self._plays.click()),
            ("repeat", self._repeat),
            ("under", self._fill_under),
            ("fitting", self._ghost.go_to_fitting),
            ("copy_part", self._take_part),
            ("clear", self._delete),
            ("end", self._end),
            ("leave", self._parts.forget),
        ):
            commands.bind(f"weave.{name}", act)
        commands.bind("props.flip", self._prop_group.flip)
        commands.bind("props.turn", self._prop_group.turn)
        commands.bind("props.duplicate", self._prop_group.duplicate)
        commands.bind_stepped("props.nudge", self._nudge)

    def _nudge(self, way: int) -> None:
        level = self._level()
        if level is not None:
            self._things.nudge(level, *STEPS[way])

    def _delete(self) -> None:
        level = self._level()
        if level is not None and self._held.tool == "Props":
            self._prop_group.remove()
        elif level is not None:
            self._parts.clear(level)

    def _end(self) -> None:
        level = self._level()
        if level is not None and self._things.path is not None:
            self._things.end_path(level)

    def _hover(self, place: Point | None) -> None:
        if self._ghost.hover(place):
            self._tell(place)

    def _tell(self, place: Point | None) -> None:
        level = self._level()
        over = ""
        if level is not None and level.layers:
            layer = level.layers[self.selection.layer]
            over = layer.name
            if place is not None:
                column, r = self._cell(place)
                over += say("   cell {column}, {row}", column=column, row=r)
                found = self.project.find(layer.cells.at(column, r)[0])
                over += f"   {shown_name(*found)}" if found else ""
        self.services.status(over, zoom_words(self._canvas.view.scale))

    # -- painting ----------------------------------------------------------------------

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        level = self._level()
        if level is None:
            return
        bright = self.selection.layer if self._map.fade.isChecked() else -1
        self._picture.draw(painter, canvas, self.project, level, bright)
        if self._grid.isChecked():
            draw_grid(painter, canvas, self.project.rules.tile)
        if self._map.solid.isChecked():
            self._outlines.draw(painter, canvas, self.project, level)
        self._parts.paint(painter)
        self._things.paint(painter, level, self._held.tool in ("Props", "Measure"))
        self._ghost.paint(painter)
        draw_start(painter, canvas, self.project, level)
        layer = level.layers[self.selection.layer]
        words = say("{layer} is locked") if layer.locked else say("Painting on {layer}")
        draw_tag(
            painter, 12, 10, words.format(layer=layer.name), MARKS.ink, MARKS.paper, weight=600
        )
