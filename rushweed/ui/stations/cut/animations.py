"""Cut's Animations: lanes, their rate, holds and order, and steadying."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from rushweed.core.bale.film import Form, film
from rushweed.core.bale.strip_out import MOST_TIMES, files_of, strip_out
from rushweed.core.cut import steadying
from rushweed.core.folder.names import file_stems
from rushweed.core.folder.saving import explain, write_file
from rushweed.core.project.sheet import Animation, Piece
from rushweed.core.values import Refusal
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.listed import ANIMATIONS, STEPS
from rushweed.ui.shell.controls import button, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.cut.animation_groups import AnimationGroup, BeginGroup
from rushweed.ui.stations.cut.animation_line import AnimationLine
from rushweed.ui.stations.cut.lanes import Lanes
from rushweed.ui.stations.cut.steady import Onion, StanceChart
from rushweed.ui.stations.cut.steady_group import SteadyGroup
from rushweed.ui.stations.cut.worked_on import WorkedOn


class FilmGroup(Group):
    """Writes the animation that is worked on, enlarged, and its frames, or the selected ones, as a
    strip."""

    def __init__(self, number: int, services: Services, worked_on: WorkedOn) -> None:
        super().__init__(number, say("Hand it out"))
        self._desk, self._jobs = services.desk, services.jobs
        self._dialogs, self._on = services.dialogs, worked_on
        self._scale = Stepper(say("Enlarged"), say("times"), 1, MOST_TIMES, width=96)
        self._scale.show_value(4)
        moving = button(say("APNG …"), partial(self._film, "APNG"))
        self.add(row(self._scale, None, moving, button(say("GIF …"), partial(self._film, "GIF"))))
        self._columns = Stepper(say("Columns of the strip"), say("columns"), 0, 256, width=110)
        self._columns.show_value(0)
        self._columns.setToolTip(say("0 for all in one row"))
        tip = say("All frames, or those selected, on one stand, and their numbers as JSON beside")
        self.add(row(self._columns, None, button(say("Strip …"), self._strip, tip=tip)))

    def _film(self, form: Form) -> None:
        sheet, animation = self._on.sheet, self._on.animation
        if sheet is None or animation is None:
            return
        ending = ".png" if form == "APNG" else ".gif"
        scale = int(self._scale.value or 1)

        def made(target: Path) -> dict[Path, bytes]:
            return {target: film(self._desk.art, sheet, animation, form, scale)}

        self._write(f"{sheet.name}_{animation.name}", ending, made)

    def _strip(self) -> None:
        sheet, chosen = self._on.sheet, set(self._on.chosen())
        if sheet is None:
            return
        frames = list({piece.number: piece for piece in self._on.frames()}.values())
        if len(chosen) > 1 or not frames:
            frames = [piece for piece in sheet.pieces if piece.number in chosen]
        scale, columns = int(self._scale.value or 1), int(self._columns.value or 0)

        def made(target: Path) -> dict[Path, bytes]:
            picture, told = strip_out(self._desk.art, sheet, frames, columns, scale)
            return files_of(target, picture, told)

        self._write(f"{sheet.name}_{self._on.named()}_strip", ".png", made)

    def _write(self, name: str, ending: str, made: Callable[[Path], dict[Path, bytes]]) -> None:
        """Ask where, and write the files that are made for that place, beside the window."""
        target = self._dialogs.ask_film_file(f"{file_stems([name])[0]}{ending}")
        if target is None:
            return

        def work() -> Iterator[tuple[float, str, None]]:
            yield 0.0, target.name, None
            try:
                for path, data in made(target).items():
                    write_file(path, data)
            except OSError as problem:
                raise Refusal(explain(problem, target)) from problem
            yield 1.0, "", None

        told = say("Wrote {file}", file=target.name)
        self._jobs.start(work, lambda _: self._desk.said.emit(told), self._desk.refused.emit)


LOWER = 206


class AnimationsFace(Face):
    """Lanes with frames, the chosen frame over its neighbours, and a slip for the animations."""

    name = say("Animations")
    keys = ANIMATIONS

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.lanes = Lanes(services.desk, services.images)
        self.lanes.nudged.connect(self._nudge)
        self.onion = Onion(services.desk, services.images)
        services.commands.bind_stepped("frames.nudge", lambda way: self._nudge(*STEPS[way]))
        self.chart = StanceChart()
        self.chart.picked.connect(self._pick_place)
        self._shown: tuple[str, str] = ("", "")
        self.table = self._make_table()
        self._on = WorkedOn(self.desk, self.lanes)
        self.line = AnimationLine(1, self.desk)
        self.steady = SteadyGroup(2, self.desk, self.lanes)
        self.animation = AnimationGroup(3, self._on, self.refresh)
        self.beginning = BeginGroup(4, self._on, self._name_it)
        self.film = FilmGroup(5, services, self._on)
        self.slip = SlipPage([self.line, self.steady, self.animation, self.beginning, self.film])

    def canvas(self) -> Canvas:
        return self.onion

    def _make_table(self) -> QWidget:
        area = self._area = QScrollArea()
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setWidget(self.lanes)
        lower = QWidget()
        lower.setFixedHeight(LOWER)
        below = QHBoxLayout(lower)
        below.setContentsMargins(0, 1, 0, 0)
        below.setSpacing(0)
        below.addWidget(self.onion, 1)
        below.addWidget(self.chart, 1)
        table = QWidget()
        layout = QVBoxLayout(table)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(area, 1)
        layout.addWidget(lower)
        return table

    def refresh(self) -> None:
        self.lanes.refresh()
        self.line.refresh()
        sheet, animation, frames = self._on.sheet, self._on.animation, self._on.frames()
        shown = (sheet.name if sheet else "", animation.name if animation else "")
        self.onion.show_frames(sheet, frames, shown != self._shown)
        if shown != self._shown:
            self._shown = shown
            self._reveal(animation)
        self.chart.show_stances(self._stances(frames), frozenset(self.lanes.places()))
        self.steady.setEnabled(animation is not None)
        self.animation.setEnabled(animation is not None)
        self.film.setEnabled(animation is not None)
        self.beginning.refresh()
        self.animation.refresh()
        self.steady.refresh()

    def _reveal(self, animation: Animation | None) -> None:
        """Bring the lane that is worked on into view."""
        lane = next((lane for lane in self.lanes.lanes if lane.animation is animation), None)
        if lane is not None:
            middle = lane.whole.y() + lane.whole.height() // 2
            self._area.ensureVisible(0, middle, 0, lane.whole.height() // 2 + 8)

    def _stances(self, frames: list[Piece]) -> list[steadying.Stance | None]:
        mask = self.steady.drawn()
        return [steadying.stance(piece, mask) for piece in frames] if mask is not None else []

    def _name_it(self) -> None:
        """What was begun is named next."""
        self.animation.called.setFocus()
        self.animation.called.selectAll()

    def _nudge(self, across: int, down: int) -> None:
        picked = {piece.number for piece in self._on.frames()} & self.desk.selection.pieces
        if picked:
            words = say("Nudged {what}", what=counted(len(picked), "frame", "frames"))
            self.desk.do(words, lambda p: steadying.nudge(p, frozenset(picked), across, down))

    def _pick_place(self, place: int) -> None:
        frames, animation = self._on.frames(), self._on.animation
        if animation is not None:
            chosen = frozenset({frames[place].number})
            self.desk.select(replace(self.desk.selection, pieces=chosen, animation=animation.name))
