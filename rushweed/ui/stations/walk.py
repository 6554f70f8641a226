"""Walk: try it."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.units import figure
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Walker
from rushweed.core.values import Size
from rushweed.core.walk.replay import clears
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, READ_OUT, font
from rushweed.ui.shell.controls import Check, Chips, Choice, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.station import Services, Station
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.stage import Stage
from rushweed.ui.text import tr

SPEEDS = {"Full speed": 1.0, "½": 0.5, "¼": 0.25}
PLAIN = "a plain figure"
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
        self._holder = _Table(self._key)
        layout = QVBoxLayout(self._holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._stage, 1)
        self._read_outs = _ReadOuts()
        layout.addWidget(self._read_outs)
        return self._holder

    def make_tools(self, face: int) -> QWidget:
        self._hold = button(tr("Walk"), self._toggle, "main", tr("Walk, or hold still  Enter"))
        self._hold.setFixedWidth(64)
        back = button(tr("Back to the start"), self._restart, tip="R")
        self._speeds = Chips(list(SPEEDS), name=tr("Speed"))
        self._speeds.chosen.connect(self._set_speed)
        self._speeds.show_choice("Full speed")
        step = button(tr("Step"), lambda: self._stage.step(), tip=tr("One sixtieth of a second"))
        self._scale = label("", "caption")
        return tools_row(
            self._hold, back, self._speeds, step, self._scale, optional=(self._scale, step)
        )

    def make_slip(self, face: int) -> QWidget:
        return SlipPage([self._make_walker(), self._make_see(), self._make_keys()])

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

    def change(self, before: Project, after: Project) -> None:
        self.refresh()

    # -- the slip ------------------------------------------------------------------

    def _make_walker(self) -> Group:
        group = self._walker_group = Group(1, tr("Walker"))
        self._figure = Choice(tr("Figure"), 150)
        self._figure.picked.connect(self._set_figure)
        group.add(row(label(tr("Figure")), None, self._figure))
        self._width = Stepper(tr("Body width"), tr("px"), 1, 256, width=78)
        self._height = Stepper(tr("Body height"), tr("px"), 1, 256, width=78)
        self._width.stepped.connect(
            lambda v: self._set(body=Size(int(v), self.project.walker.body.height))
        )
        self._height.stepped.connect(
            lambda v: self._set(body=Size(self.project.walker.body.width, int(v)))
        )
        group.add(row(label(tr("Body")), None, self._width, label("×", "caption"), self._height))
        self._numbers: dict[str, Stepper] = {}
        for field, name, unit, high in (
            ("speed", tr("Speed"), tr("units/s"), 60),
            ("jump", tr("Jump"), tr("units"), 40),
            ("gravity", tr("Gravity"), tr("units/s²"), 400),
        ):
            stepper = Stepper(name, unit, 0.1, high, 0.1, whole=False, width=122)
            stepper.stepped.connect(lambda v, field=field: self._set(**{field: v}))
            group.add(row(label(name), None, stepper))
            self._numbers[field] = stepper
        return group

    def _make_see(self) -> Group:
        group = Group(2, tr("See"))
        self._shapes = Check(tr("Shapes"), self._show_shapes)
        self._shapes.setChecked(True)
        self._body = Check(tr("Walker's body"), self._show_body)
        self._body.setChecked(True)
        group.add(row(self._shapes, 24, self._body, None))
        return group

    def _make_keys(self) -> Group:
        group = Group(3, tr("Keys"))
        lines = [
            tr("Left, Right    walk"),
            tr("Space or Up    jump"),
            tr("Down and Space    drop through one-way"),
            tr("Enter    hold still, walk on"),
            tr("R    back to the start"),
        ]
        group.add(label("\n".join(lines), "caption"))
        return group

    def _show_walker(self) -> None:
        walker = self.project.walker
        figures = [PLAIN, *(s.name for s in self.project.sheets if s.animations)]
        self._figure.show_choices(figures, walker.sheet or PLAIN)
        self._width.show_value(walker.body.width)
        self._height.show_value(walker.body.height)
        for field, stepper in self._numbers.items():
            stepper.show_value(getattr(walker, field))
        up, across = clears(walker)
        self._walker_group.result.tell(
            tr("Clears {up} tiles up and {across} tiles across.").format(up=up, across=across)
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
                (tr("Frame"), shown_name(*frame) if frame else tr("plain")),
            ]
        )
        self._hold.setText(tr("Hold") if stage.running else tr("Walk"))
        self._scale.setText(f"{rules.resolution} px, ×{stage.factor}")
        if motion.steps and self.selection.level not in self._seen:
            self._seen.add(self.selection.level)
            self.walked = len(self._seen)
        who = self.project.walker.sheet or tr("walker")
        over = f"{who}   at {figure(motion.x / unit, 1)}, {figure(motion.y / unit, 1)} units"
        self.services.status(over, f"×{stage.factor}")

    # -- acts ------------------------------------------------------------------------

    def _set(self, **changes) -> None:  # type: ignore[no-untyped-def]
        names = {
            "body": tr("body"),
            "speed": tr("speed"),
            "jump": tr("jump"),
            "gravity": tr("gravity"),
        }
        words = tr("Set the walker's {point}").format(point=names[next(iter(changes))])
        self.desk.do(words, lambda p: replace(p, walker=replace(p.walker, **changes)))

    def _set_figure(self, name: str) -> None:
        sheet = "" if name == PLAIN else name
        words = tr("Walked as {name}").format(name=name)

        def edit(project: Project) -> Project:
            walker: Walker = replace(project.walker, sheet=sheet)
            return replace(project, walker=walker)

        self.desk.do(words, edit)

    def _set_speed(self, name: str) -> None:
        self._stage.speed = SPEEDS[name]
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

    def _key(self, event: QKeyEvent) -> bool:
        keys = {
            Qt.Key.Key_R: self._restart,
            Qt.Key.Key_S: self._shapes.click,
            Qt.Key.Key_Return: self._toggle,
            Qt.Key.Key_Enter: self._toggle,
        }
        action = keys.get(Qt.Key(event.key()))
        if action is None or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            return False
        action()
        return True


class _Table(QWidget):
    """Passes keys that the stage did not want to the station."""

    def __init__(self, key) -> None:  # type: ignore[no-untyped-def]
        super().__init__()
        self._key = key

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if not self._key(event):
            super().keyPressEvent(event)


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
