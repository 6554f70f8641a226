"""Shapes found in the art: outlines as close as one wants, boxes, foot boxes."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from rushweed.core.arrays import Mask
from rushweed.core.bound.fitting import (
    Fitted,
    fit_boxes,
    fit_circles,
    fit_outlines,
    give_fitted,
    masks_of,
)
from rushweed.core.bound.simplify import Promise
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.units import figure
from rushweed.core.project.history import History
from rushweed.core.project.shape import Shape
from rushweed.core.values import Refusal
from rushweed.core.words import counted, said, say
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.shell.controls import Check, Chips, button, label, row
from rushweed.ui.shell.slider import Slider
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

PROMISES: dict[Promise, str] = {
    "nearest": "Nearest",
    "never outside": "Within",
    "never inside": "Around",
}
TIPS = (
    "As near as it goes, on either side",
    "Never outside of what is drawn",
    "Around all that is drawn, cutting nothing off",
)
FINEST = 4
"""Stops of the slider for a pixel of closeness."""
LOOSEST = 4 * FINEST
Fit = Callable[[dict[int, Mask]], Fitted]
MOST_AT_ONCE = 1024
"""More pieces are done part by part, while the window goes on."""
MOST_LIVE = 256
"""The slider is followed live for at most so many pieces."""


class FoundShapes(Group):
    """Gives the selected pieces shapes that are found in their pixels; else the whole sheet."""

    def __init__(self, desk: Desk, jobs: Jobs, canvas: SheetCanvas) -> None:
        super().__init__(4, say("Found in the art"))
        self._desk, self._jobs, self._canvas = desk, jobs, canvas
        self._last: History | None = None
        self._fitted: Fitted | None = None
        tips = [say(tip) for tip in TIPS]
        self._promise: Chips[Promise]
        self._promise = Chips(said(PROMISES), tips=tips, name=say("Outline"))
        self._promise.show_value("nearest")
        self._promise.entered.connect(lambda _: self._again())
        self.closeness = Slider(say("How far the outline may be from the pixels"), 0, LOOSEST)
        self.closeness.show_value(FINEST)
        self.closeness.moved.connect(lambda _: self._follow())
        self.closeness.entered.connect(lambda _: self._again())
        self._foot_rows = Stepper(say("Rows of the foot"), say("px"), 1, 4096, width=84)
        self._foot_rows.show_value(4)
        outline = button(say("Outline"), self._outline, tip=say("A polygon along what is drawn"))
        boxes = button(say("Box"), self._box, tip=say("The box around what is drawn"))
        foot = button(
            say("Foot box"), self._foot, tip=say("A box around the lowest rows of what is drawn")
        )
        self.add(row(outline, self._promise, None))
        self.add(
            row(label(say("Exact"), "caption"), self.closeness, label(say("loose"), "caption"))
        )
        circle = button(
            say("Circle"),
            lambda: self._give_once(say("Circled {what}"), fit_circles),
            tip=say("The circle that covers as much as is drawn"),
        )
        self._holes = Check(say("Keep holes"), lambda on: self._again())
        self.add(row(self._holes, None))
        self.add(row(boxes, circle, None))
        self.add(row(foot, self._foot_rows, None))

    @property
    def distance(self) -> float:
        """How far outlines may be from the pixels, in pixels."""
        return self.closeness.value / FINEST

    def refresh(self) -> None:
        """Say what the last outline came to, as long as it is the last thing done."""
        self.aside.setText(say("up to {n} px off", n=figure(self.distance)))
        found = self._fitted if self._desk.history is self._last else None
        if found is None:
            self.result.tell("")
            return
        self.result.tell(
            say(
                "{corners}, at most {far} px off.",
                corners=counted(found.corners, "corner", "corners"),
                far=figure(found.deviation),
            )
        )

    def _outline(self) -> None:
        self._last = None
        self._again(begin=True)

    def _follow(self) -> None:
        """Follow the slider while it moves, where that is quick."""
        self.aside.setText(say("up to {n} px off", n=figure(self.distance)))
        if len(self._masks()) <= MOST_LIVE:
            self._again()

    def _again(self, begin: bool = False) -> None:
        """Outline anew as part of the last step, if that was an outline; or begin."""
        if not begin and not self._follows():
            self.refresh()
            return
        promise = self._promise.value or "nearest"
        distance, holes = self.distance, self._holes.isChecked()
        self._give(
            say("Outlined {what}"), lambda masks: fit_outlines(masks, distance, promise, holes)
        )

    def _follows(self) -> bool:
        """Whether the last thing done was to outline the pieces that are meant now."""
        done = self._fitted.shapes.keys() if self._fitted else ()
        return self._desk.history is self._last and done == self._masks().keys()

    def _box(self) -> None:
        self._give_once(say("Boxed {what}"), fit_boxes)

    def _foot(self) -> None:
        rows = int(self._foot_rows.value or 1)
        self._give_once(say("Boxed the feet of {what}"), lambda masks: fit_boxes(masks, rows))

    def _give_once(self, words: str, fit: Fit) -> None:
        self._last = None
        self._give(words, fit)
        self._last = None  # the slider is for outlines
        self.refresh()

    def _give(self, words: str, fit: Fit) -> None:
        masks = self._masks()
        if not masks:
            return
        told = words.format(what=counted(len(masks), "piece", "pieces"))
        if len(masks) > MOST_AT_ONCE:
            self._give_slowly(told, masks, fit)
            return
        self._fitted = fitted = fit(masks)
        if self._last is not None:
            self._last = self._desk.amend(self._last, told, lambda p: give_fitted(p, fitted))
        elif self._desk.do(told, lambda p: give_fitted(p, fitted)):
            self._last = self._desk.history
        self.refresh()

    def _give_slowly(self, told: str, masks: dict[int, Mask], fit: Fit) -> None:
        """Fit many pieces part by part while the window goes on, and give them all at once."""
        numbers = list(masks)

        def work() -> Iterator[tuple[float, str, Fitted]]:
            whole: dict[int, tuple[Shape, ...]] = {}
            corners, far = 0, 0.0
            for first in range(0, len(numbers), MOST_AT_ONCE):
                part = {n: masks[n] for n in numbers[first : first + MOST_AT_ONCE]}
                found = fit(part)
                whole.update(found.shapes)
                corners, far = corners + found.corners, max(far, found.deviation)
                yield (first + len(part)) / len(numbers), told, Fitted(whole, corners, far)

        def done(fitted: Fitted) -> None:
            self._desk.do(told, lambda project: give_fitted(project, fitted))

        self._jobs.start(work, done)

    def _masks(self) -> dict[int, Mask]:
        """What is drawn of the selected pieces, else of all of the selected sheets."""
        project, art = self._desk.project, self._desk.art
        masks: dict[int, Mask] = {}
        for name, pieces in self._desk.selection.meant(project).items():
            try:
                mask = solid(art.picture(project.sheet(name)))
            except Refusal as refusal:
                self._desk.refused.emit(str(refusal))
                return {}
            masks.update(masks_of(mask, pieces))
        return masks
