"""The animation that is worked on, and how one is begun."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from rushweed.core.cut import animations as acts
from rushweed.core.gauge.frame_points import set_events
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Play
from rushweed.core.words import counted, said, say
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Chips, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.cut.worked_on import WorkedOn

PLAYS: dict[Play, str] = {"loop": "Loop", "once": "Once", "back and forth": "Back and forth"}


class AnimationGroup(Group):
    """Its name, its rate, how it plays and how long each frame is held."""

    def __init__(self, number: int, worked_on: WorkedOn, refresh: Callable[[], None]) -> None:
        super().__init__(number, say("Animation"))
        self._on, self._refresh_face = worked_on, refresh
        self._bound = Bindings(
            worked_on.desk, worked_on.alone, worked_on.named_all, at=worked_on.places
        )
        self.called = Field(say("Name of the animation"))
        self.called.entered.connect(self._rename)
        rate = Stepper(say("Rate of the animation"), say("frames/s"), 1, 120, width=122)
        words = say("Set {what} to {value} frames/s")
        self._bound.bind(rate, lambda one: one.rate, partial(_on, acts.set_rate), words)
        play = Chips(said(PLAYS), name=say("How it plays"))
        words = say("Changed how {what} plays")
        self._bound.bind(play, lambda one: one.play, partial(_on, acts.set_play), words)
        self._hold = Stepper(say("Hold"), say("steps"), 1, acts.LONGEST_HOLD, width=122)
        self._hold.entered.connect(self._set_hold)
        self._hold_label = label(say("Hold each frame"))
        self._picked = Bindings(
            worked_on.desk,
            worked_on.picked,
            lambda: counted(len(worked_on.picked()), "frame", "frames"),
            at=worked_on.picked_numbers,
        )
        events = self._picked.bind(
            Field(say("Events of the picked frames"), say("such as step, splash")),
            lambda piece: ", ".join(piece.events),
            set_events,
            say("Let {what} tell {value}"),
        )
        events.setToolTip(say("What picked frames tell the game whenever they are shown"))
        self._out = button(say("Take frames out"), self._take_out, tip=say("The pieces stay"))
        self._forgets = button(say("Forget it"), self._forget, tip=say("The pieces stay"))
        self.add(row(label(say("Name")), self.called))
        self.add(row(label(say("Rate")), None, rate))
        self.add(row(play, None))
        self.add(row(self._hold_label, None, self._hold))
        self.add(row(label(say("Picked tell")), events))
        self.add(row(self._out, self._forgets, None))

    def refresh(self) -> None:
        """Show the animation as it is."""
        animation, places = self._on.animation, self._on.lanes.places()
        self.called.show_value(animation.name if animation else "")
        self._bound.show()
        self._picked.show()
        self._out.setEnabled(bool(places))
        for control in (self.called, self._hold, self._forgets):
            control.setEnabled(animation is not None)
        if animation is None:
            self.result.tell("")
            return
        self._show_hold(acts.holds_of(animation), places)
        steps = len(acts.one_round(animation))
        lasting = f"{steps / animation.rate:.2f}"
        self.result.tell(
            say("{steps} a round, {n} s.", steps=counted(steps, "step", "steps"), n=lasting)
        )

    def _show_hold(self, holds: tuple[int, ...], places: list[int]) -> None:
        every = not places or len(places) == len(holds)
        self._hold_label.setText(say("Hold each frame") if every else say("Hold what is picked"))
        self._hold.show_value(common(holds if every else [holds[place] for place in places]))

    def _rename(self, text: str) -> None:
        desk = self._on.desk
        if self._on.do(say("Renamed {name}"), partial(acts.rename_animation, new=text)):
            desk.select(replace(desk.selection, animation=text.strip()))
        self._refresh_face()

    def _set_hold(self, steps: int) -> None:
        animation = self._on.animation
        places = self._on.lanes.places() or range(len(animation.frames) if animation else 0)
        edit = partial(acts.set_hold, places=frozenset(places), steps=steps)
        self._on.do(say("Held frames of {name}"), edit)

    def _take_out(self) -> None:
        places = frozenset(self._on.lanes.places())
        self._on.do(say("Took frames out of {name}"), partial(acts.take_frames_out, places=places))

    def _forget(self) -> None:
        self._on.do(say("Forgot {name}"), acts.remove_animation)


class BeginGroup(Group):
    """Begins an animation of what is selected, or of names. `on_begun` is called after one was
    begun."""

    def __init__(self, number: int, worked_on: WorkedOn, on_begun: Callable[[], None]) -> None:
        super().__init__(number, say("Begin"))
        self._on, self._on_begun = worked_on, on_begun
        self._begin_button = button(
            say("Begin one"), self._begin, tip=say("An animation of the selected frames")
        )
        self._add_button = button(
            say("Add them"), self._add, tip=say("Put the selected frames at the end")
        )
        self._by_names_button = button(
            say("By names"), self._by_names, tip=say("run_1, run_2 … become an animation run")
        )
        self.add(row(self._begin_button, self._add_button, self._by_names_button, None))

    def refresh(self) -> None:
        """Say how many pieces are selected, and offer what can be done with them."""
        chosen = self._on.chosen()
        self._begin_button.setEnabled(bool(chosen))
        self._by_names_button.setEnabled(self._on.sheet is not None and bool(self._on.sheet.pieces))
        self._add_button.setEnabled(bool(chosen) and self._on.animation is not None)
        count = counted(len(chosen), "piece", "pieces")
        self.result.tell(
            say("{what} selected.", what=count) if chosen else say("Select frames first.")
        )

    def _begin(self) -> None:
        sheet, desk, chosen = self._on.sheet, self._on.desk, self._on.chosen()
        if sheet is None:
            return
        words = say("Began an animation of {sheet}", sheet=sheet.name)
        name = desk.make(words, lambda p: acts.begin_animation(p, sheet.name, chosen))
        if name is not None:
            desk.select(replace(desk.selection, animation=name))
            self._on_begun()

    def _add(self) -> None:
        frames = self._on.chosen()
        self._on.do(say("Added frames to {name}"), partial(acts.add_frames, frames=frames))

    def _by_names(self) -> None:
        sheet = self._on.sheet
        if sheet is not None:
            words = say("Made animations of the names in {sheet}", sheet=sheet.name)
            self._on.desk.do(words, lambda p: acts.animate_by_names(p, sheet.name))


def _on(
    act: Callable[..., Project], project: Project, places: list[tuple[str, str]], value: object
) -> Project:
    """The act on the animations at some places, by their sheets' names and their own."""
    for sheet, name in places:
        project = act(project, sheet, name, value)
    return project
