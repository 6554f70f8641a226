"""Walking: the level at the game's resolution, with a walker that obeys the keys."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.bound.ground import undecided
from rushweed.core.gauge.units import figure
from rushweed.core.values import Point, Size
from rushweed.core.words import said, say, say_of
from rushweed.ui.canvas.view import zoom_words
from rushweed.ui.commands.listed import WALK
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Chips, button, label
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage, show_groups
from rushweed.ui.stations.walk.keys_group import KeysGroup
from rushweed.ui.stations.walk.probe_group import ProbeGroup
from rushweed.ui.stations.walk.read_outs import ReadOuts, read_outs_of
from rushweed.ui.stations.walk.see_group import SeeGroup
from rushweed.ui.stations.walk.stage import Stage
from rushweed.ui.stations.walk.walker_groups import (
    FeelGroup,
    FollowingGroup,
    JumpGroup,
    WalkerGroup,
    WalkerPoints,
)

SPEEDS = {1.0: "Full speed", 0.5: "½", 0.25: "¼"}


class WalkFace(Face):
    """The stage with its walker, what is read of it, and a slip with all that tunes it."""

    name = say("Walk")
    keys = WALK

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._seen: set[str] = set()
        self.table = self._make_table()
        self.slip = self._make_slip()
        self.tools = self._make_tools()

    def _make_table(self) -> QWidget:
        self.stage = Stage(self.services)
        self.stage.moved.connect(self._show_motion)
        holder = QWidget()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.stage, 1)
        self._read_outs = ReadOuts()
        layout.addWidget(self._read_outs)
        return holder

    def _make_tools(self) -> QWidget:
        commands = self.services.commands
        commands.bind("walk.toggle", self._toggle)
        commands.bind("walk.restart", self._restart)
        self._hold = command_button(commands, "walk.toggle", say("Walk"), "main")
        wide = max(map(self._hold.fontMetrics().horizontalAdvance, (say("Walk"), say("Hold"))))
        self._hold.setFixedWidth(max(64, wide + 26))
        back = command_button(commands, "walk.restart", say("Back to the start"))
        self._speeds = Chips(said(SPEEDS), name=say("Speed"))
        self._speeds.entered.connect(self._set_speed)
        self._speeds.show_value(1.0)
        step = button(say("Step"), lambda: self.stage.step(), tip=say("One sixtieth of a second"))
        self._scale = label("", "caption")
        return tools_row(
            self._hold, back, self._speeds, step, self._scale, optional=(self._scale, step, back)
        )

    def _make_slip(self) -> SlipPage:
        self.probes = ProbeGroup(4, self.services, self.show_spot, self.stage)
        self.stage.marks.probed = lambda: (
            self.probes.found if self.probes.shows_reach.isChecked() else None
        )
        self._points = WalkerPoints(self.desk)
        self._walker_group = WalkerGroup(1, self._points)
        jump, feel = JumpGroup(2, self._points), FeelGroup(5, self._points)
        self.keys_group = KeysGroup(7, self.services, self.stage.course)
        groups: list[Group] = [
            self._walker_group,
            jump,
            SeeGroup(3, self.stage, self.services.commands, self._fix),
            self.probes,
            feel,
            FollowingGroup(6, self._points),
            self.keys_group,
        ]

        def show(above: bool) -> None:
            show_groups((one, one is not jump or not above) for one in groups)
            jump.refresh(self.project)
            feel.refresh(above)

        self._show_for_view = show
        return SlipPage(groups)

    def key_table(self) -> QWidget | None:
        return self.stage

    def enter(self) -> None:
        self.refresh()
        self.stage.setFocus()
        self.stage.run(True)
        self._show_motion()
        self._offer_ground()

    def leave(self) -> None:
        self.stage.run(False)

    def _offer_ground(self) -> None:
        """Say which tiles carry nobody since nobody decided about them, and offer what is seen."""
        ground = self.stage.course.ground
        wanted = undecided(self.project, ground.level) if ground else {}
        if ground is None or not wanted or self.services.proposals.waits:
            return
        name = ground.level.name
        self.services.offer(
            say_of(
                sum(map(len, wanted.values())),
                "1 tile of this level has no shape yet: it carries and stops nobody.",
                "{count} tiles of this level have no shape yet: they carry and stop nobody.",
            ),
            say("Take them as the art says"),
            lambda: self.services.proposals.take_ground(name),
        )

    def refresh(self) -> None:
        self.stage.prepare(self.project, self.selection.level)
        self._show_walker()
        self._show_motion()

    def _show_walker(self) -> None:
        ground, project = self.stage.course.ground, self.project
        above = (ground.level.view if ground else project.rules.view) == "top-down"
        self._points.show()
        self._walker_group.refresh(project, above)
        self._show_for_view(above)
        self.probes.refresh()

    def _show_motion(self) -> None:
        stage, course, rules = self.stage, self.stage.course, self.project.rules
        motion, unit = course.motion, rules.pixels_per_unit
        self._read_outs.show_values(read_outs_of(self.project, course, stage.frame_piece))
        self._hold.setText(say("Hold") if stage.running else say("Walk"))
        self._scale.setText(_scale_words(rules.resolution, stage.shown_times))
        if motion.steps and self.selection.level not in self._seen:
            self._seen.add(self.selection.level)
            self.walked = len(self._seen)
        who = self.project.walker.figure or say("walker")
        over = say(
            "{who}   at {x}, {y} units",
            who=who,
            x=figure(motion.x / unit, 1),
            y=figure(motion.y / unit, 1),
        )
        self.services.status(over, zoom_words(stage.shown_times))

    # -- acts ------------------------------------------------------------------------

    def _fix(self) -> None:
        """Go to the shape of what stopped the walker, else of what it stands on."""
        motion = self.stage.course.motion
        number = motion.blocked or motion.bumped or motion.on
        self._open_shape(number)

    def _open_shape(self, number: int) -> None:
        found = self.project.find(number)
        if found is None:
            self.desk.refused.emit(
                say("Nothing stops or carries the walker. Walk against it first.")
            )
            return
        chosen = replace(
            self.selection, sheets=(found[0].name,), pieces=frozenset({number}), animation=""
        )
        self.desk.select(chosen)
        self.services.open_station("Bound")

    def show_spot(self, spot: Point) -> None:
        self.stage.put(spot)
        self.stage.run(False)
        self._show_motion()

    def _set_speed(self, speed: float) -> None:
        self.stage.speed = speed
        self.stage.setFocus()

    def _toggle(self) -> None:
        self.stage.run(not self.stage.running)
        self.stage.setFocus()

    def _restart(self) -> None:
        self.stage.restart()
        self.stage.setFocus()
        self._show_motion()


def _scale_words(resolution: Size, factor: float) -> str:
    """How large the game's picture is, and how it is shown."""
    words = say("{resolution} px, {zoom}", resolution=resolution, zoom=zoom_words(factor))
    return say("{size} of its size", size=words) if factor < 1 else words
