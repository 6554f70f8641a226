"""Walking: the level at the game's resolution, with a walker that obeys the keys."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QVBoxLayout, QWidget

from rushweed.core.bale.handing_out import walk_page
from rushweed.core.bound.facts import kind_of
from rushweed.core.cut.naming import shown_name
from rushweed.core.folder.names import file_stems
from rushweed.core.folder.saving import explain, write_file
from rushweed.core.gauge.units import figure
from rushweed.core.values import Point, Refusal, Size
from rushweed.core.walk.replay import write_walk
from rushweed.core.walk.underfoot import ground_at, touching
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.view import zoom_words
from rushweed.ui.commands.listed import WALK
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Check, Chips, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.keys_sheet import keys_of
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.stations.walk.probe_group import ProbeGroup
from rushweed.ui.stations.walk.read_outs import ReadOuts
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
        self._stage = Stage(self.services)
        self._stage.moved.connect(self._show_motion)
        holder = QWidget()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._stage, 1)
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
        step = button(say("Step"), lambda: self._stage.step(), tip=say("One sixtieth of a second"))
        self._scale = label("", "caption")
        return tools_row(
            self._hold, back, self._speeds, step, self._scale, optional=(self._scale, step, back)
        )

    def _make_slip(self) -> QWidget:
        self._probes = ProbeGroup(4, self.services, self.show_spot, self._stage.update)
        self._stage.probed = lambda: (
            self._probes.found if self._probes.shows_reach.isChecked() else None
        )
        self._points = WalkerPoints(self.desk)
        self._walker_group = WalkerGroup(1, self._points)
        self._jump_group = JumpGroup(2, self._points)
        further = [FeelGroup(5, self._points), FollowingGroup(6, self._points)]
        groups = [self._walker_group, self._jump_group, self._make_see(), self._probes]
        return SlipPage([*groups, *further, self._make_keys()])

    def key_table(self) -> QWidget | None:
        return self._stage

    def enter(self) -> None:
        self.refresh()
        self._stage.setFocus()
        self._stage.run(True)
        self._show_motion()

    def leave(self) -> None:
        self._stage.run(False)

    def refresh(self) -> None:
        self._stage.prepare(self.project, self.selection.level)
        self._show_walker()
        self._show_motion()

    # -- the slip ------------------------------------------------------------------

    def _make_see(self) -> Group:
        group = Group(3, say("See"))
        self._shapes = Check(say("Shapes"), self._show_shapes)
        self._shapes.setChecked(True)
        self._body = Check(say("Walker's body"), self._show_body)
        self._body.setChecked(True)
        self._trace = Check(say("Trace of the path"), self._show_trace)
        self._large = Check(say("Drawn large, not on whole pixels"), self._show_large)
        fix = button(
            say("Fix its shape"),
            self._fix,
            tip=say("Open what stopped or carries the walker in Bound; it waits here"),
        )
        self.services.commands.bind("walk.shapes", self._shapes.click)
        self.services.commands.bind("walk.trace", self._trace.click)
        group.add(row(self._shapes, 24, self._body, None))
        group.add(row(self._trace, None))
        group.add(row(self._large, None))
        group.add(row(fix, None))
        return group

    def _make_keys(self) -> Group:
        group = Group(7, say("Keys"))
        lines = keys_of(self.services.commands, WALK)
        listed = label("\n".join(f"{keys}    {words}" for keys, words in lines), "caption")
        listed.setWordWrap(True)
        group.add(listed)
        copy = button(
            say("Copy the walk"),
            self._copy_walk,
            tip=say("The keys since the start, as the command line replays them"),
        )
        hand_out = button(
            say("Hand it out …"),
            self._hand_out,
            tip=say("One file, in which anybody walks this level in a browser"),
        )
        group.add(row(copy, hand_out, None))
        self._keys_group = group
        return group

    def _show_walker(self) -> None:
        self._points.show()
        self._walker_group.refresh(self.project)
        self._jump_group.refresh(self.project)
        self._probes.refresh()

    def _show_motion(self) -> None:
        stage, rules = self._stage, self.project.rules
        motion, unit = stage.motion, rules.pixels_per_unit
        on = self.project.find(motion.on)
        blocked = self.project.find(motion.blocked)
        frame = self.project.find(stage.frame_piece)
        self._read_outs.show_values(
            [
                (say("Stands on"), shown_name(*on) if on else say("the air")),
                (say("Speed"), f"{figure(abs(motion.speed_x) / unit, 1)} {say('units/s')}"),
                (
                    say("At"),
                    f"{figure(motion.x / unit, 1)}, {figure(motion.y / unit, 1)} {say('units')}",
                ),
                (say("Stopped by"), shown_name(*blocked) if blocked else say("nothing")),
                (say("Touches"), self._touched()),
                (say("Frame"), shown_name(*frame) if frame else say("plain")),
            ]
        )
        self._hold.setText(say("Hold") if stage.running else say("Walk"))
        self._scale.setText(_scale_words(rules.resolution, stage.factor))
        if motion.steps and self.selection.level not in self._seen:
            self._seen.add(self.selection.level)
            self.walked = len(self._seen)
        who = self.project.walker.sheet or say("walker")
        over = say(
            "{who}   at {x}, {y} units",
            who=who,
            x=figure(motion.x / unit, 1),
            y=figure(motion.y / unit, 1),
        )
        self.services.status(over, zoom_words(stage.factor))

    def _touched(self) -> str:
        """The sensors it is in and the ground under it, named."""
        ground, motion = self._stage.ground, self._stage.motion
        if ground is None:
            return say("nothing")
        found = [self.project.find(number) for number in touching(ground, motion)]
        names = [shown_name(*pair) for pair in found if pair]
        below = motion.y + (1 if motion.on else 0)
        number = ground_at(self.project, ground.level, motion.x, below)
        kind = kind_of(self.project, number) if number is not None else None
        if kind is not None:
            names.append(kind.name)
        return ", ".join(names) or say("nothing")

    # -- acts ------------------------------------------------------------------------

    def _show_trace(self, shown: bool) -> None:
        self._stage.shows_trace = shown
        self._stage.update()

    def _show_large(self, shown: bool) -> None:
        self._stage.draws_large = shown
        self._stage.redraw()

    def _copy_walk(self) -> None:
        """Put the keys since the start on the clipboard, as a recorded walk."""
        clipboard = QApplication.clipboard()
        recorded = self._stage.recorded
        if clipboard is not None:
            clipboard.setText(write_walk(recorded))
        steps = counted(len(recorded), "step", "steps")
        self._keys_group.result.tell(say("Copied {steps}.", steps=steps))

    def _hand_out(self) -> None:
        """Write a page in which anybody walks the level."""
        level = self.selection.level
        stem = file_stems([level])[0]
        target = self.services.dialogs.ask_page_file(f"{stem}.html") if level else None
        if target is None:
            return
        project, art = self.project, self.desk.art

        def work() -> Iterator[tuple[float, str, str]]:
            yield 0.0, say("Handing the walk out"), ""
            try:
                write_file(target, walk_page(project, level, art))
            except Refusal as refusal:
                yield 1.0, "", str(refusal)
            except OSError as problem:
                yield 1.0, "", explain(problem, target)

        self.services.jobs.start(work, partial(self._tell_handed_out, target))

    def _tell_handed_out(self, target: Path, problem: str) -> None:
        if problem:
            self.desk.refused.emit(problem)
            return
        told = say("Wrote {file}: open it in a browser, or send it.", file=target.name)
        if self._stage.ground is not None and self._stage.ground.moving.bodies:
            told += " " + say("What moves stands still there.")
        self._keys_group.result.tell(told)

    def _fix(self) -> None:
        """Go to the shape of what stopped the walker, else of what it stands on."""
        motion = self._stage.motion
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
        self._stage.put(spot)
        self._stage.run(False)
        self._show_motion()

    def _set_speed(self, speed: float) -> None:
        self._stage.speed = speed
        self._stage.setFocus()

    def _toggle(self) -> None:
        self._stage.run(not self._stage.running)
        self._stage.setFocus()

    def _restart(self) -> None:
        self._stage.restart()
        self._stage.setFocus()
        self._show_motion()

    def _show_shapes(self, shown: bool) -> None:
        self._stage.shows_shapes = shown
        self._stage.update()

    def _show_body(self, shown: bool) -> None:
        self._stage.shows_body = shown
        self._stage.update()


def _scale_words(resolution: Size, factor: float) -> str:
    """How large the game's picture is, and how it is shown."""
    words = say("{resolution} px, {zoom}", resolution=resolution, zoom=zoom_words(factor))
    return say("{size} of its size", size=words) if factor < 1 else words
