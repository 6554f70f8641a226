"""Cut's Animations: lanes, their rate, holds and order, and steadying."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from rushweed.core.bale.film import Form, film
from rushweed.core.cut import animations as acts
from rushweed.core.cut import steadying
from rushweed.core.folder.names import file_stems
from rushweed.core.folder.saving import explain, write_file
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Play
from rushweed.core.values import Refusal
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.listed import ANIMATIONS, STEPS
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Chips, Field, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.cut.animation_line import AnimationLine
from rushweed.ui.stations.cut.lanes import Lanes
from rushweed.ui.stations.cut.steady import Onion, StanceChart
from rushweed.ui.stations.cut.steady_group import SteadyGroup

PLAYS: dict[Play, str] = {"loop": "Loop", "once": "Once", "back and forth": "Back and forth"}
LOWER = 206
Frames = list[Piece]


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
        self._bound = Bindings(services.desk, self._worked_on, self._named)
        self._shown: tuple[str, str] = ("", "")
        self.table = self._make_table()
        self.slip = self._make_slip()

    def canvas(self) -> Canvas:
        return self.onion

    def _make_table(self) -> QWidget:
        area = self._area = QScrollArea()
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

    # -- the slip -------------------------------------------------------------------

    def _make_slip(self) -> QWidget:
        self.line = AnimationLine(1, self.desk)
        self.steady = SteadyGroup(2, self.desk, self.lanes)
        film = self._make_film()
        self._groups = [self.steady, self._make_animation(), film]
        return SlipPage([self.line, self.steady, self._animation, self._make_beginning(), film])

    def _make_beginning(self) -> Group:
        group = self._beginning = Group(4, say("Begin"))
        self._begin_button = button(
            say("Begin one"), self._begin, tip=say("An animation of the selected frames")
        )
        self._add_button = button(
            say("Add them"), self._add, tip=say("Put the selected frames at the end")
        )
        by_names = button(
            say("By names"), self._by_names, tip=say("run_1, run_2 … become an animation run")
        )
        group.add(row(self._begin_button, self._add_button, by_names, None))
        return group

    def _make_animation(self) -> Group:
        group = self._animation = Group(3, say("Animation"))
        self._name = Field(say("Name of the animation"))
        self._name.entered.connect(self._rename)
        rate = Stepper(say("Rate of the animation"), say("frames/s"), 1, 120, width=122)
        words = say("Set {what} to {value} frames/s")
        self._bound.bind(rate, lambda one: one.rate, partial(self._edited, acts.set_rate), words)
        play = Chips(said(PLAYS), name=say("How it plays"))
        words = say("Changed how {what} plays")
        self._bound.bind(play, lambda one: one.play, partial(self._edited, acts.set_play), words)
        self._hold = Stepper(say("Hold"), say("steps"), 1, acts.LONGEST_HOLD, width=122)
        self._hold.entered.connect(self._set_hold)
        self._hold_label = label(say("Hold each frame"))
        self._out = button(say("Take frames out"), self._take_out, tip=say("The pieces stay"))
        forget = button(say("Forget it"), self._forget, tip=say("The pieces stay"))
        group.add(row(label(say("Name")), self._name))
        group.add(row(label(say("Rate")), None, rate))
        group.add(row(play, None))
        group.add(row(self._hold_label, None, self._hold))
        group.add(row(self._out, forget, None))
        return group

    def _make_film(self) -> Group:
        group = Group(5, say("Hand it out"))
        self._scale = Stepper(say("Enlarged"), say("times"), 1, 16, width=96)
        self._scale.show_value(4)
        group.add(
            row(
                self._scale,
                None,
                button(say("APNG …"), partial(self._export, "APNG")),
                button(say("GIF …"), partial(self._export, "GIF")),
            )
        )
        return group

    # -- showing --------------------------------------------------------------------

    def refresh(self) -> None:
        self.lanes.refresh()
        self.line.refresh()
        sheet, animation = self.lanes.sheet, self.lanes.animation()
        frames = self._frames()
        shown = (sheet.name if sheet else "", animation.name if animation else "")
        self.onion.show_frames(sheet, frames, shown != self._shown)
        if shown != self._shown:
            self._shown = shown
            self._reveal(animation)
        stances = self._stances(frames)
        self.chart.show_stances(stances, frozenset(self.lanes.places()))
        for group in self._groups:
            group.setEnabled(animation is not None)
        chosen = self._chosen()
        self._begin_button.setEnabled(bool(chosen))
        self._add_button.setEnabled(bool(chosen) and animation is not None)
        count = counted(len(chosen), "piece", "pieces")
        self._beginning.result.tell(
            say("{what} selected.", what=count) if chosen else say("Select frames first.")
        )
        self._tell_animation(animation)
        self.steady.refresh()

    def _reveal(self, animation: Animation | None) -> None:
        """Bring the lane that is worked on into view."""
        lane = next((lane for lane in self.lanes.lanes if lane.animation is animation), None)
        if lane is not None:
            middle = lane.whole.y() + lane.whole.height() // 2
            self._area.ensureVisible(0, middle, 0, lane.whole.height() // 2 + 8)

    def _tell_animation(self, animation: Animation | None) -> None:
        self._name.show_value(animation.name if animation else "")
        self._bound.show()
        places = self.lanes.places()
        self._out.setEnabled(bool(places))
        if animation is None:
            self._animation.result.tell("")
            return
        holds = acts.holds_of(animation)
        every = not places or len(places) == len(holds)
        self._hold_label.setText(say("Hold each frame") if every else say("Hold what is picked"))
        self._hold.show_value(common(holds if every else [holds[place] for place in places]))
        steps = len(acts.one_round(animation))
        lasting = f"{steps / animation.rate:.2f}"
        self._animation.result.tell(
            say("{steps} a round, {n} s.", steps=counted(steps, "step", "steps"), n=lasting)
        )

    def _frames(self) -> Frames:
        """The pieces of the animation that is worked on; one that is missing is left out."""
        animation, sheet = self.lanes.animation(), self.lanes.sheet
        pieces = {piece.number: piece for piece in sheet.pieces} if sheet else {}
        frames = animation.frames if animation else ()
        return [pieces[frame] for frame in frames if frame in pieces]

    def _stances(self, frames: Frames) -> list[steadying.Stance | None]:
        mask = self.steady.drawn()
        if mask is None:
            return []
        return [steadying.stance(piece, mask) for piece in frames]

    def _chosen(self) -> list[int]:
        """The selected pieces of the sheet, in reading order."""
        sheet, chosen = self.lanes.sheet, self.desk.selection.pieces
        return [p.number for p in sheet.pieces if p.number in chosen] if sheet else []

    # -- acts -----------------------------------------------------------------------

    def _begin(self) -> None:
        sheet, chosen = self.lanes.sheet, self._chosen()
        if sheet is None:
            return
        made: list[str] = []

        def edit(project: Project) -> Project:
            project, name = acts.begin_animation(project, sheet.name, chosen)
            made.append(name)
            return project

        if self.desk.do(say("Began an animation of {sheet}", sheet=sheet.name), edit):
            self.desk.select(replace(self.desk.selection, animation=made[-1]))
            self._name.setFocus()
            self._name.selectAll()

    def _add(self) -> None:
        chosen = self._chosen()
        self._do(say("Added frames to {name}"), partial(acts.add_frames, frames=chosen))

    def _by_names(self) -> None:
        sheet = self.lanes.sheet
        if sheet is not None:
            words = say("Made animations of the names in {sheet}", sheet=sheet.name)
            self.desk.do(words, lambda p: acts.animate_by_names(p, sheet.name))

    def _rename(self, text: str) -> None:
        if self._do(say("Renamed {name}"), partial(acts.rename_animation, new=text)):
            self.desk.select(replace(self.desk.selection, animation=text.strip()))
        self.refresh()

    def _worked_on(self) -> list[Animation]:
        animation = self.lanes.animation()
        return [animation] if animation else []

    def _edited(self, edit: Callable[..., Project], project: Project, value: object) -> Project:
        """The animation that is worked on, with something set by one of its acts."""
        sheet, animation = self.lanes.sheet, self.lanes.animation()
        return edit(project, sheet.name, animation.name, value) if sheet and animation else project

    def _named(self) -> str:
        return ", ".join(animation.name for animation in self._worked_on())

    def _set_hold(self, steps: int) -> None:
        animation = self.lanes.animation()
        places = self.lanes.places() or range(len(animation.frames) if animation else 0)
        edit = partial(acts.set_hold, places=frozenset(places), steps=steps)
        self._do(say("Held frames of {name}"), edit)

    def _take_out(self) -> None:
        places = frozenset(self.lanes.places())
        self._do(say("Took frames out of {name}"), partial(acts.take_frames_out, places=places))

    def _forget(self) -> None:
        self._do(say("Forgot {name}"), acts.remove_animation)

    def _do(self, words: str, edit: Callable[..., Project]) -> bool:
        """Edit the animation that is worked on; `edit` takes project, sheet and name."""
        sheet, animation = self.lanes.sheet, self.lanes.animation()
        if sheet is None or animation is None:
            return False
        return self.desk.do(
            words.format(name=animation.name), lambda p: edit(p, sheet.name, animation.name)
        )

    def _nudge(self, across: int, down: int) -> None:
        picked = {piece.number for piece in self._frames()} & self.desk.selection.pieces
        if picked:
            words = say("Nudged {what}", what=counted(len(picked), "frame", "frames"))
            self.desk.do(words, lambda p: steadying.nudge(p, frozenset(picked), across, down))

    def _pick_place(self, place: int) -> None:
        frames, animation = self._frames(), self.lanes.animation()
        if animation is not None:
            chosen = frozenset({frames[place].number})
            self.desk.select(replace(self.desk.selection, pieces=chosen, animation=animation.name))

    def _export(self, form: Form) -> None:
        sheet, animation = self.lanes.sheet, self.lanes.animation()
        if sheet is None or animation is None:
            return
        ending = ".png" if form == "APNG" else ".gif"
        stem = file_stems([f"{sheet.name}_{animation.name}"])[0]
        target = self.services.dialogs.ask_film_file(f"{stem}{ending}")
        if target is None:
            return
        try:
            scale = int(self._scale.value or 1)
            write_file(target, film(self.desk.art, sheet, animation, form, scale))
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
        except OSError as problem:
            self.desk.refused.emit(explain(problem, target))
        else:
            self.desk.said.emit(say("Wrote {file}", file=target.name))
