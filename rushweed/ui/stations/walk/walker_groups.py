"""Who walks, and how: body, speeds, jump, feel, and how the view follows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.gather.figures import proposed_figures, walk_as
from rushweed.core.gauge.units import figure
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Walker
from rushweed.core.values import Size
from rushweed.core.walk.flight import flights
from rushweed.core.walk.manners import Manner, manner_of, take_manner
from rushweed.core.walk.replay import clears, gravity_for, time_to_top
from rushweed.core.walk.showing import way_of
from rushweed.core.words import counted, said, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindable, Bindings
from rushweed.ui.shell.controls import Check, Chips, Choice, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.walk.jump_picture import JumpPicture

WAYS = {4: "4", 8: "8"}
MANNERS: dict[Manner, str] = {
    "plain": "Plain steps",
    "nimble": "Nimble, exact jumps",
    "swinging": "Swinging, with a run-up",
    "heavy": "Heavy boots",
    "floating": "Floating",
}
STATES = {
    "stand": "stands",
    "move": "moves",
    "rise": "rises",
    "fall": "falls",
    "climb": "climbs",
    "swim": "swims",
    "up": "away",
    "down": "towards",
}
POINTS = {
    "body": "body",
    "speed": "speed",
    "jump": "jump",
    "gravity": "gravity",
    "coyote_time": "late jumps",
    "jump_buffer": "early jumps",
    "variable_jump_height": "short jumps",
    "ways": "directions",
    "states": "animations",
    "feel": "feel",
    "following": "view",
    "layer": "collision layer",
    "faces": "way of looking",
}
FACES = {"right": "Right", "left": "Left"}


class WalkerPoints:
    """Binds controls to the points of the project's walker."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._bound = Bindings(desk, lambda: [desk.project])

    @property
    def walker(self) -> Walker:
        """The project's walker."""
        return self.desk.project.walker

    def show(self) -> None:
        """Show the walker as it is."""
        self._bound.show()

    def set(self, **changes: Any) -> None:
        """Set points of the walker."""
        words = say("Set the walker's {point}", point=say(POINTS[next(iter(changes))]))
        self.desk.do(words, lambda p: replace(p, walker=replace(p.walker, **changes)))

    def bind(
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

        words = say("Set the walker's {point}", point=say(POINTS[point]))
        return self._bound.bind(control, read, edit, words)

    def plain(self, control: Bindable, point: str) -> Bindable:
        """Have a control show and set a point as it is."""
        return self.bind(
            control, point, lambda project: getattr(project.walker, point), lambda _, value: value
        )

    def part(self, control: Bindable, point: str, name: str) -> Bindable:
        """Have a control show and set a part of `feel` or of `following`."""
        return self.bind(
            control,
            point,
            lambda project: getattr(getattr(project.walker, point), name),
            lambda project, value: replace(getattr(project.walker, point), **{name: value}),
        )


class WalkerGroup(Group):
    """Figure, body, speeds, and the animations of what it does."""

    def __init__(self, number: int, points: WalkerPoints) -> None:
        super().__init__(number, say("Walker"))
        self._points = points
        self._leaps: list[QWidget] = []
        self._figure: Choice[str] = Choice(say("Figure"), 150)
        self._figure.entered.connect(self._set_figure)
        self.add(row(label(say("Figure")), None, self._figure))
        looks = Chips(said(FACES), name=say("Which way it is drawn looking"))
        self._looks = _line(label(say("Drawn looking")), None, points.plain(looks, "faces"))
        self.add(self._looks)
        self._add_body()
        for field, name, unit, high in (
            ("speed", say("Speed"), say("units/s"), 60),
            ("jump", say("Jump"), say("units"), 40),
            ("gravity", say("Gravity"), say("units/s²"), 400),
        ):
            stepper = Stepper(name, unit, 0.1, high, 0.1, whole=False, width=122)
            line = _line(label(name), None, points.plain(stepper, field))
            self.add(line)
            if field != "speed":
                self._leaps.append(line)
        self._layer: Choice[int] = Choice(say("Collision layer"), 132)
        points.plain(self._layer, "layer")
        self._layer_row = _line(label(say("Collision layer")), None, self._layer)
        self.add(self._layer_row)
        self._add_states()

    def refresh(self, project: Project, above: bool) -> None:
        """Show the walker of a project; in a level seen from `above`, nothing of jumps."""
        walker = project.walker
        self._figure.offer({"": say("a plain figure")} | _offered(project))
        self._figure.show_value(walker.figure)
        self._usual_body.setEnabled(walker.body is not None)
        cast = project.cast(walker.figure)
        names = {a.name: a.name for a in cast.animations} if cast else {}
        self._looks.setVisible(cast is not None and not any(map(way_of, names)))
        for state, choice in self._states.items():
            choice.offer({"": say("usual")} | names)
            choice.show_value(getattr(walker.states, state))
            choice.setEnabled(bool(names))
        layers = project.rules.collision
        self._layer_row.setVisible(bool(layers))
        self._layer.offer({one.number: f"{one.number}  {one.name}" for one in layers})
        self._layer.show_value(walker.layer)
        for line in self._leaps:
            line.setVisible(not above)
        self.result.tell(_crosses(project) if above else _clears(project))

    def _add_body(self) -> None:
        wide = self._points.bind(
            Stepper(say("Body width"), say("px"), 1, 1024, width=82),
            "body",
            lambda project: walker_body(project).width,
            lambda project, side: Size(side, walker_body(project).height),
        )
        tall = self._points.bind(
            Stepper(say("Body height"), say("px"), 1, 1024, width=82),
            "body",
            lambda project: walker_body(project).height,
            lambda project, side: Size(walker_body(project).width, side),
        )
        self._usual_body = button(
            say("Usual body"),
            lambda: self._points.set(body=None),
            "small",
            say("As large as its figure, or the ground rules, suggest"),
        )
        self.beside_title(self._usual_body)
        self.add(row(label(say("Body")), None, wide, label("×", "caption"), tall))

    def _add_states(self) -> None:
        self._states: dict[str, Choice[str]] = {}
        rows = QVBoxLayout()
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(4)
        pairs = list(STATES)
        for first, second in zip(pairs[::2], pairs[1::2], strict=True):
            parts: list[QWidget | int | None] = []
            for state in (first, second):
                words = say("Animation when it does: {state}", state=state)
                choice: Choice[str] = Choice(words, 84)
                choice.entered.connect(partial(self._set_state, state))
                self._states[state] = choice
                parts += [label(say(STATES[state]), "caption"), choice, None]
            if first == "stand":
                self.add(row(*parts, spacing=3))
            elif first == "rise":
                self._leaps.append(_line(*parts, spacing=3))
                self.add(self._leaps[-1])
            else:
                rows.addLayout(row(*parts, spacing=3))
        further = QWidget()
        further.setLayout(rows)
        self.add_further(further)

    def _set_figure(self, name: str) -> None:
        words = say("Walked as {name}", name=name or say("a plain figure"))
        desk = self._points.desk
        if desk.do(words, lambda project: walk_as(project, name)) and name:
            cast = desk.project.cast(desk.project.walker.figure)
            animations = cast.animations if cast else ()
            if animations and not any(way_of(one.name) for one in animations):
                told = say("{name} is taken to be drawn looking {way}; Drawn looking changes it.")
                way = say(FACES[self._points.walker.faces]).lower()
                desk.said.emit(told.format(name=name, way=way))

    def _set_state(self, state: str, name: str) -> None:
        self._points.set(states=replace(self._points.walker.states, **{state: name}))


class JumpGroup(Group):
    """A manner to begin with, the curves of the jump, and when it begins and ends."""

    def __init__(self, number: int, points: WalkerPoints) -> None:
        super().__init__(number, say("Jump"))
        self._points = points
        self._manner: Choice[Manner] = Choice(say("Manner to begin with"), 168)
        self._manner.offer(said(MANNERS))
        self._manner.entered.connect(self._take_manner)
        self.beside_title(self._manner)
        self._picture = JumpPicture()
        self.add(self._picture)
        to_top = points.bind(
            Stepper(say("Time to the top"), say("s"), 0.05, 5, 0.05, whole=False, width=104),
            "gravity",
            lambda project: round(time_to_top(project.walker), 3),
            lambda project, seconds: round(gravity_for(project.walker.jump, seconds), 4),
        )
        seconds = partial(Stepper, unit=say("s"), low=0, high=1, step=0.02, whole=False, width=92)
        late = points.plain(seconds(say("Still after a ledge")), "coyote_time")
        early = points.plain(seconds(say("Already before landing")), "jump_buffer")
        short = points.plain(Check(say("Shorter when let go")), "variable_jump_height")
        again = points.part(Stepper(say("Jumps in the air"), "", 0, 8, width=72), "feel", "jumps")
        self.add(row(label(say("Time to the top")), None, to_top))
        self.add(row(label(say("Still after a ledge")), None, late))
        self.add(row(label(say("Before landing")), None, early))
        self.add(row(label(say("Jumps in the air")), None, again))
        self.add(row(short, None))

    def refresh(self, project: Project) -> None:
        """Show the jump of a project's walker."""
        manner = manner_of(project.walker)
        self._manner.show_value(manner, "" if manner else say("of its own"))
        tile, unit = project.rules.tile, project.rules.pixels_per_unit
        self._picture.show_flights(flights(project), (tile.width / unit, tile.height / unit))

    def _take_manner(self, manner: Manner) -> None:
        words = say("Let the walker move: {manner}", manner=say(MANNERS[manner]))
        self._points.desk.do(words, lambda p: replace(p, walker=take_manner(p.walker, manner)))


class FeelGroup(Group):
    """How it speeds up, brakes, falls, climbs and swims."""

    def __init__(self, number: int, points: WalkerPoints) -> None:
        super().__init__(number, say("Feel"))
        self._lines: dict[str, QWidget] = {}
        for title, name, unit, high, step in (
            (say("Speeds up in"), "speed_up", say("s"), 5, 0.05),
            (say("Brakes in"), "brake", say("s"), 5, 0.05),
            (say("Both in the air in"), "in_air", say("s"), 5, 0.05),
            (say("Runs at"), "run", say("units/s"), 60, 0.5),
            (say("Falls at most at"), "falls", say("units/s"), 99, 0.5),
            (say("Slips past corners of"), "corner_correction", say("units"), 1, 0.05),
            (say("Climbs at"), "climbs", say("units/s"), 60, 0.5),
            (say("Swims at"), "swims", say("units/s"), 60, 0.5),
            (say("Sinks at"), "sinks", say("units/s"), 60, 0.5),
        ):
            stepper = Stepper(title, unit, 0, high, step, whole=False, width=112)
            self._lines[name] = _line(label(title), None, points.part(stepper, "feel", name))
            self.add(self._lines[name])
        ways = points.plain(Chips(WAYS, name=say("Directions from above")), "ways")
        self._ways = _line(label(say("Directions from above")), None, ways)
        self.add(self._ways)
        self.aside.setText(say("0 is off, or at once"))

    def refresh(self, above: bool) -> None:
        """Show what a level that is seen from the side, or from `above`, makes use of."""
        for name in ("in_air", "falls", "corner_correction", "sinks"):
            self._lines[name].setVisible(not above)
        self._ways.setVisible(above)


class FollowingGroup(Group):
    """How the game's view follows the walker."""

    def __init__(self, number: int, points: WalkerPoints) -> None:
        super().__init__(number, say("View"))
        for title, name in (
            (say("Free across"), "free_across"),
            (say("Free up and down"), "free_down"),
        ):
            bound = _percent(points, Stepper(title, "%", 0, 100, 5, width=92), name)
            self.add(row(label(title), None, bound))
        stays = points.part(Check(say("Stays within the level")), "following", "stays")
        self.add(row(stays, None))


def _offered(project: Project) -> dict[str, str]:
    """What one can walk as: figures, also those that sheets seem to be together, then sheets."""
    told = say("{name}, of {what}")
    both = (*project.figures, *proposed_figures(project))
    figures = {one.name: told.format(name=one.name, what=sheets_words(one.sheets)) for one in both}
    able = [sheet for sheet in project.sheets if sheet.pieces and sheet.kind != "tileset"]
    sheets = sorted(able, key=lambda sheet: not sheet.animations)
    return figures | {sheet.name: sheet.name for sheet in sheets}


def _line(*parts: QWidget | int | None, spacing: int = 6) -> QWidget:
    """A row that can be hidden."""
    line = QWidget()
    line.setLayout(row(*parts, spacing=spacing))
    return line


def _clears(project: Project) -> str:
    """What the walker jumps over."""
    up, across = clears(project.walker, project.rules.tile, project.rules.pixels_per_unit)
    up_words, across_words = counted(up, "tile", "tiles"), counted(across, "tile", "tiles")
    return say("Clears {up} up and {across} across.", up=up_words, across=across_words)


def _crosses(project: Project) -> str:
    """How many tiles the walker crosses in a second."""
    pixels = project.walker.speed * project.rules.pixels_per_unit
    tiles = figure(pixels / project.rules.tile.width, 1)
    return say("Crosses {n} tiles in a second.", n=tiles)


def _percent(points: WalkerPoints, stepper: Stepper, name: str) -> Stepper:
    """A stepper in hundredths for a share of the view."""
    return points.bind(
        stepper,
        "following",
        lambda project: round(getattr(project.walker.following, name) * 100),
        lambda project, value: replace(project.walker.following, **{name: value / 100}),
    )
