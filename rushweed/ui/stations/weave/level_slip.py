"""The slip of Weave: the groups that the tool in hand has to do with."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from rushweed.core.orientation import FLIPPED, FLIPPED_DOWN
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage, show_groups
from rushweed.ui.stations.weave.brush_groups import SetsGroup
from rushweed.ui.stations.weave.brush_in_hand import BrushInHand
from rushweed.ui.stations.weave.held import DRAWING
from rushweed.ui.stations.weave.hem_group import HemGroup
from rushweed.ui.stations.weave.level_groups import LayerGroup, LevelGroup, PartGroup
from rushweed.ui.stations.weave.level_hand import LevelHand
from rushweed.ui.stations.weave.mark_group import MarkGroup
from rushweed.ui.stations.weave.overview import MapGroup
from rushweed.ui.stations.weave.pose_group import PoseGroup
from rushweed.ui.stations.weave.prop_group import PropGroup
from rushweed.ui.stations.weave.tray_group import TrayGroup

Wanted = Callable[[], bool]


class LevelSlip(SlipPage):
    """Made of groups in the order in which they stand; what is not wanted now is hidden, and the
    others are numbered one after the other."""

    def __init__(self, services: Services, hand: LevelHand, canvas: Canvas) -> None:
        self._hand = hand
        desk, held, level, things = services.desk, hand.held, hand.level, hand.things
        self.tray = TrayGroup(1, services, held)
        self.brush = BrushInHand(2, services, held, canvas)
        self.marks = MarkGroup(3, desk, things, level)
        self.part = PartGroup(4, desk, hand.parts, level, hand.take_part)
        self.pose = PoseGroup(5, services, things, hand.parts, level)
        self.props = PropGroup(6, services, things, hand.parts, level, hand.picking.pieces)
        self.hems = HemGroup(7, services, held)
        self.sets = SetsGroup(8, desk, held, hand.keep_patch)
        self.map = MapGroup(9, services, canvas, level)
        self.layer = LayerGroup(10, desk)
        self.level = LevelGroup(11, desk, canvas)
        super().__init__([group for group, _ in self._groups()])
        for picks in (self.tray.picked, self.sets.taken):
            picks.connect(hand.picking.take_brush)
        self.tray.shelf.picked.connect(hand.picking.take_thing)
        self.hems.taken.connect(lambda name: self.show_tray())
        things.on_chosen = self.show_props
        hand.on_taken = self._fit
        hand.on_sheet = self._lay_in_tray
        hand.picking.on_picked = self.show_tray
        self._bind(services)
        self._fit()

    def show_tray(self) -> None:
        """Show what lies in the tray and what is in hand."""
        self.tray.refresh()
        self.hems.look_at(self.tray.shown())
        self.brush.refresh()

    def show_level(self) -> None:
        """Show what the groups say about the open level; without one they cannot be used."""
        begun = self._hand.level() is not None
        for group in (self.brush, self.part, self.map, self.layer, self.level, self.sets):
            group.setEnabled(begun)
        self.show_props()
        for group in (self.sets, self.layer, self.level):
            group.refresh()
        self.hems.refresh(len(self._hand.strokes.lacking))

    def show_props(self) -> None:
        """Show what is chosen among props and marks."""
        for group in (self.marks, self.props, self.pose):
            group.refresh()
        if self.pose.isHidden() == self._wants_pose():
            self._fit()

    def _groups(self) -> list[tuple[Group, Wanted]]:
        """The groups from above, each with when it is wanted."""
        held = self._hand.held

        def always() -> bool:
            return True

        def draws() -> bool:
            return held.tool in DRAWING

        return [
            (self.tray, always),
            (self.brush, lambda: draws() and held.tool != "Select"),
            (self.marks, lambda: held.tool == "Mark"),
            (self.part, lambda: held.tool == "Select"),
            (self.pose, self._wants_pose),
            (self.props, lambda: held.tool in ("Props", "Select")),
            (self.hems, draws),
            (self.sets, draws),
            (self.map, always),
            (self.layer, always),
            (self.level, always),
        ]

    def _wants_pose(self) -> bool:
        return self._hand.held.tool == "Props" and bool(self._hand.things.chosen)

    def _fit(self) -> None:
        show_groups((group, wanted()) for group, wanted in self._groups())

    def _lay_in_tray(self, sheet: str) -> None:
        self.tray.sheet = sheet
        self.show_tray()

    def _bind(self, services: Services) -> None:
        commands = services.commands
        for name, act in (
            ("weave.mirror", partial(self.brush.flip, FLIPPED)),
            ("weave.mirror_down", partial(self.brush.flip, FLIPPED_DOWN)),
            ("weave.turn", self.brush.turn),
            ("weave.clear", self._clear),
            ("props.flip", self.props.flip),
            ("props.turn", self.props.turn),
            ("props.duplicate", self.props.duplicate),
            ("props.copy", lambda: self._hand.things.copy(self._hand.level())),
        ):
            commands.bind(name, act)

    def _clear(self) -> None:
        if self._hand.held.tool == "Props":
            self.props.remove()
        else:
            self._hand.clear_part()
