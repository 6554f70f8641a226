"""Walk: try it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from rushweed.core.bound.facts import kind_of
from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.units import figure
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Size
from rushweed.core.walk.replay import clears, gravity_for, time_to_top, write_walk
from rushweed.core.walk.underfoot import ground_at, touching
from rushweed.ui.canvas.view import zoom_words
from rushweed.ui.commands.listed import WALK
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, READ_OUT, font
from rushweed.ui.shell.binding import Bindable, Bindings
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Check, Chips, Choice, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.keys_sheet import keys_of
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.station import Services, Station
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.walk.probe_group import ProbeGroup
from rushweed.ui.stations.walk.stage import Stage
from rushweed.ui.text import counted, tr, translated

SPEEDS = {1.0: "Full speed", 0.5: "½", 0.25: "¼"}
WAYS = {4: "4", 8: "8"}
STATES = {
    "stand": "stands",
    "move": "moves",
    "rise": "rises",
    "fall": "falls",
    "up": "away",
    "down": "towards",
}
POINTS = {
    "body": "body",
    "speed": "speed",
    "jump": "jump",
    "gravity": "gravity",
    "late": "late jumps",
    "early": "early jumps",
    "short_jumps": "short jumps",
    "ways": "directions",
    "states": "animations",
}
READ_OUTS = 64


class Walk(Station):
    """The level at the game's resolution, with a walker that obeys the keys."""

    faces = ("Walk",)
    uses_levels = True

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._seen: set[str] = set()

    def make_table(self, face: int) -> QWidget:
        self._stage = Stage(self.services)
        self._stage.moved.connect(self._show_motion)
        self._holder = QWidget()
        layout = QVBoxLayout(self._holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._stage, 1)
        self._read_outs = _ReadOuts()
        layout.addWidget(self._read_outs)
        return self._holder

    def make_tools(self, face: int) -> QWidget:
        commands = self.services.commands
        commands.bind("walk.toggle", self._toggle)
        commands.bind("walk.restart", self._restart)
        self._hold = command_button(commands, "walk.toggle", tr("Walk"), "main")
        self._hold.setFixedWidth(64)
        back = command_button(commands, "walk.restart", tr("Back to the start"))
        self._speeds = Chips(translated(SPEEDS), name=tr("Speed"))
        self._speeds.entered.connect(self._set_speed)
        self._speeds.show_value(1.0)
        step = button(tr("Step"), lambda: self._stage.step(), tip=tr("One sixtieth of a second"))
        self._scale = label("", "caption")
        return tools_row(
            self._hold, back, self._speeds, step, self._scale, optional=(self._scale, step)
        )

    def make_slip(self, face: int) -> QWidget:
        self._probes = ProbeGroup(4, self.services, self.show_spot, self._stage.update)
        self._stage.probed = lambda: (
            self._probes.found if self._probes.shows_reach.isChecked() else None
        )
        groups = [self._make_walker(), self._make_jump(), self._make_see(), self._probes]
        return SlipPage([*groups, self._make_keys()])

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

    def change(self, before: Project, after: Project, live: bool) -> None:
        self.refresh()

    # -- the slip ------------------------------------------------------------------

    def _make_walker(self) -> Group:
        group = self._walker_group = Group(1, tr("Walker"))
        self._bound = Bindings(self.desk, lambda: [self.project])
        self._figure: Choice[str] = Choice(tr("Figure"), 150)
        self._figure.entered.connect(self._set_figure)
        group.add(row(label(tr("Figure")), None, self._figure))
        wide = self._point(
            Stepper(tr("Body width"), tr("px"), 1, 1024, width=82),
            "body",
            lambda project: walker_body(project).width,
            lambda project, side: Size(side, walker_body(project).height),
        )
        tall = self._point(
            Stepper(tr("Body height"), tr("px"), 1, 1024, width=82),
            "body",
            lambda project: walker_body(project).height,
            lambda project, side: Size(walker_body(project).width, side),
        )
        self._usual_body = button(
            tr("Usual body"),
            lambda: self._set(body=None),
            "small",
            tr("As large as its figure, or the ground rules, suggest"),
        )
        sides = (wide, label("×", "caption"), tall)
        group.beside_title(self._usual_body)
        group.add(row(label(tr("Body")), None, *sides))
        for field, name, unit, high in (
            ("speed", tr("Speed"), tr("units/s"), 60),
            ("jump", tr("Jump"), tr("units"), 40),
            ("gravity", tr("Gravity"), tr("units/s²"), 400),
        ):
            stepper = Stepper(name, unit, 0.1, high, 0.1, whole=False, width=122)
            group.add(row(label(name), None, self._plain(stepper, field)))
        self._states: dict[str, Choice[str]] = {}
        for first, second in (("stand", "move"), ("rise", "fall"), ("up", "down")):
            parts: list[QWidget | int | None] = []
            for state in (first, second):
                choice: Choice[str] = Choice(
                    tr("Animation when it does: {state}").format(state=state), 84
                )
                choice.entered.connect(partial(self._set_state, state))
                self._states[state] = choice
                parts += [label(tr(STATES[state]), "caption"), choice, None]
            group.add(row(*parts, spacing=3))
        return group

    def _make_jump(self) -> Group:
        group = Group(2, tr("Jump"))
        to_top = self._point(
            Stepper(tr("Time to the top"), tr("s"), 0.05, 5, 0.05, whole=False, width=104),
            "gravity",
            lambda project: round(time_to_top(project.walker), 3),
            lambda project, seconds: round(gravity_for(project.walker.jump, seconds), 4),
        )
        seconds = partial(Stepper, unit=tr("s"), low=0, high=1, step=0.02, whole=False, width=92)
        late = self._plain(seconds(tr("Still after a ledge")), "late")
        early = self._plain(seconds(tr("Already before landing")), "early")
        short = self._plain(Check(tr("Shorter when let go")), "short_jumps")
        ways = self._plain(Chips(WAYS, name=tr("Directions from above")), "ways")
        group.add(row(label(tr("Time to the top")), None, to_top))
        group.add(row(label(tr("Still after a ledge")), None, late))
        group.add(row(label(tr("Before landing")), None, early))
        group.add(row(short, None))
        group.add(row(label(tr("Directions from above")), None, ways))
        return group

    def _make_see(self) -> Group:
        group = Group(3, tr("See"))
        self._shapes = Check(tr("Shapes"), self._show_shapes)
        self._shapes.setChecked(True)
        self._body = Check(tr("Walker's body"), self._show_body)
        self._body.setChecked(True)
        self._trace = Check(tr("Trace of the path"), self._show_trace)
        self._large = Check(tr("Drawn large, not on whole pixels"), self._show_large)
        fix = button(
            tr("Fix its shape"),
            self._fix,
            tip=tr("Open what stopped or carries the walker in Bound; it waits here"),
        )
        self.services.commands.bind("walk.shapes", self._shapes.click)
        self.services.commands.bind("walk.trace", self._trace.click)
        group.add(row(self._shapes, 24, self._body, None))
        group.add(row(self._trace, None))
        group.add(row(self._large, None))
        group.add(row(fix, None))
        return group

    def _make_keys(self) -> Group:
        group = Group(5, tr("Keys"))
        lines = keys_of(self.services.commands, WALK)
        group.add(label("\n".join(f"{keys}    {words}" for keys, words in lines), "caption"))
        copy = button(
            tr("Copy the walk"),
            self._copy_walk,
            tip=tr("The keys since the start, as the command line replays them"),
        )
        group.add(row(copy, None))
        self._keys_group = group
        return group

    def _show_walker(self) -> None:
        walker = self.project.walker
        figures = {s.name: s.name for s in self.project.sheets if s.animations}
        self._figure.offer({"": tr("a plain figure")} | figures)
        self._figure.show_value(walker.sheet)
        self._bound.show()
        self._usual_body.setEnabled(walker.body is not None)
        sheet = next((s for s in self.project.sheets if s.name == walker.sheet), None)
        names = {a.name: a.name for a in sheet.animations} if sheet else {}
        for state, choice in self._states.items():
            choice.offer({"": tr("usual")} | names)
            choice.show_value(getattr(walker.states, state))
            choice.setEnabled(bool(names))
        self._probes.refresh()
        rules = self.project.rules
        up, across = clears(walker, rules.tile, rules.pixels_per_unit)
        told = tr("Clears {up} up and {across} across.")
        self._walker_group.result.tell(
            told.format(up=counted(up, "tile", "tiles"), across=counted(across, "tile", "tiles"))
        )

    def _show_motion(self) -> None:
        stage, rules = self._stage, self.project.rules
        motion, unit = stage.motion, rules.pixels_per_unit
        on = self.project.find(motion.on)
        blocked = self.project.find(motion.blocked)
        frame = self.project.find(stage.frame_piece)
        self._read_outs.show_values(
            [
                (tr("Stands on"), shown_name(*on) if on else tr("the air")),
                (tr("Speed"), f"{figure(abs(motion.speed_x) / unit, 1)} {tr('units/s')}"),
                (
                    tr("At"),
                    f"{figure(motion.x / unit, 1)}, {figure(motion.y / unit, 1)} {tr('units')}",
                ),
                (tr("Stopped by"), shown_name(*blocked) if blocked else tr("nothing")),
                (tr("Touches"), self._touched()),
                (tr("Frame"), shown_name(*frame) if frame else tr("plain")),
            ]
        )
        self._hold.setText(tr("Hold") if stage.running else tr("Walk"))
        self._scale.setText(_scale_words(rules.resolution, stage.factor))
        if motion.steps and self.selection.level not in self._seen:
            self._seen.add(self.selection.level)
            self.walked = len(self._seen)
        who = self.project.walker.sheet or tr("walker")
        over = f"{who}   at {figure(motion.x / unit, 1)}, {figure(motion.y / unit, 1)} units"
        self.services.status(over, zoom_words(stage.factor))

    def _touched(self) -> str:
        """The sensors it is in and the ground under it, named."""
        ground, motion = self._stage.ground, self._stage.motion
        if ground is None:
            return tr("nothing")
        found = [self.project.find(number) for number in touching(ground, motion)]
        names = [shown_name(*pair) for pair in found if pair]
        below = motion.y + (1 if motion.on else 0)
        number = ground_at(self.project, ground.level, motion.x, below)
        kind = kind_of(self.project, number) if number is not None else None
        if kind is not None:
            names.append(kind.name)
        return ", ".join(names) or tr("nothing")

    # -- acts ------------------------------------------------------------------------

    def _set(self, **changes) -> None:  # type: ignore[no-untyped-def]
        words = tr("Set the walker's {point}").format(point=POINTS[next(iter(changes))])
        self.desk.do(words, lambda p: replace(p, walker=replace(p.walker, **changes)))

    def _point(
        self,
        control: Bindable,
        point: str,
        read: Callable[[Project], Any],
        write: Callable[[Project, Any], Any],
    ) -> Bindable:
        """Have a control show and set one point of the walker, or a part of it: `write` gives the
        whole point for what was entered."""

        def edit(project: Project, value: Any) -> Project:
            walker = replace(project.walker, **{point: write(project, value)})
            return replace(project, walker=walker)

        words = tr("Set the walker's {point}").format(point=POINTS[point])
        return self._bound.bind(control, read, edit, words)

    def _plain(self, control: Bindable, point: str) -> Bindable:
        """Have a control show and set one of the walker's numbers as it is."""
        return self._point(
            control, point, lambda project: getattr(project.walker, point), lambda _, value: value
        )

    def _set_state(self, state: str, name: str) -> None:
        self._set(states=replace(self.project.walker.states, **{state: name}))

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
        self._keys_group.result.tell(tr("Copied {steps}.").format(steps=steps))

    def _fix(self) -> None:
        """Go to the shape of what stopped the walker, else of what it stands on."""
        motion = self._stage.motion
        number = motion.blocked or motion.bumped or motion.on
        self._open_shape(number)

    def _open_shape(self, number: int) -> None:
        found = self.project.find(number)
        if found is None:
            self.desk.refused.emit(
                tr("Nothing stops or carries the walker. Walk against it first.")
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

    def _set_figure(self, name: str) -> None:
        words = tr("Walked as {name}").format(name=name or tr("a plain figure"))
        self.desk.do(words, lambda p: replace(p, walker=replace(p.walker, sheet=name)))

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

    def key_place(self) -> str:
        return WALK


def _scale_words(resolution: Size, factor: float) -> str:
    """How large the game's picture is, and how it is shown."""
    words = f"{resolution} px, {zoom_words(factor)}"
    return tr("{size} of its size").format(size=words) if factor < 1 else words


class _ReadOuts(QWidget):
    """What the walker does, in large figures."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(READ_OUTS)
        self._values: list[tuple[str, str]] = []
        QHBoxLayout(self)

    def show_values(self, values: list[tuple[str, str]]) -> None:
        if values != self._values:
            self._values = values
            self.setAccessibleName(", ".join(f"{name} {value}" for name, value in values))
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        count = max(len(self._values), 1)
        width = (self.width() - 24) / count
        for index, (name, value) in enumerate(self._values):
            x = 12 + index * width
            if index:
                painter.setPen(QPen(colours.line, 1))
                painter.drawLine(int(x) - 10, 8, int(x) - 10, 50)
            painter.setPen(colours.soft_ink)
            painter.setFont(font(CAPTION))
            painter.drawText(QRectF(x, 8, width - 14, 15), Qt.AlignmentFlag.AlignVCenter, name)
            painter.setPen(colours.ink)
            painter.setFont(font(READ_OUT, 600))
            text = painter.fontMetrics().elidedText(
                value, Qt.TextElideMode.ElideRight, int(width - 16)
            )
            painter.drawText(
                QRect(int(x), 24, int(width) - 14, 24), Qt.AlignmentFlag.AlignVCenter, text
            )
        painter.end()
