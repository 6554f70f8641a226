"""The lens: the selection as the game will draw it, always there, with its controls."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from rushweed.core.cut.animations import set_rate
from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.compression.costs import cost_key
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation
from rushweed.core.project.treatments import treatment_of
from rushweed.core.words import counted, say
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import button, label, tell_shortly
from rushweed.ui.shell.lens_picture import LensPicture
from rushweed.ui.shell.stepper import Stepper

HEIGHT, LARGEST = 198, 560


class Lens(QWidget):
    """Header, picture, and the controls under it."""

    def __init__(self, desk: Desk, images: Images, jobs: Jobs) -> None:
        super().__init__()
        self.setMinimumHeight(HEIGHT)
        self.setMaximumHeight(LARGEST)
        self._desk = desk
        self._jobs = jobs
        self._wanted: set[object] = set()
        self.picture = LensPicture(desk, images)
        self.picture.unknown.connect(self._treat)
        self._title = label("", "caption")
        self.play = button(say("Play"), self._toggle, tip=say("Play the selected frames  P"))
        self.untreated = button(say("Untreated"), tip=say("Hold to see the picture as gathered"))
        self.untreated.pressed.connect(lambda: self.picture.show_untreated(True))
        self.untreated.released.connect(lambda: self.picture.show_untreated(False))
        self.rate = Stepper(say("Rate"), say("frames/s"), 1, 60, width=122)
        self.rate.entered.connect(self._set_rate)
        head = QHBoxLayout()
        head.setContentsMargins(12, 0, 10, 0)
        self.lit = button(say("Lit"), tip=say("Under a light that follows the pointer"))
        self.lit.setCheckable(True)
        self.lit.setProperty("role", "small")
        self.lit.toggled.connect(self.picture.light)
        head.addWidget(label(say("Lens"), "heading"))
        head.addWidget(self.lit)
        head.addStretch(1)
        head.addWidget(self._title)
        foot = QHBoxLayout()
        foot.setContentsMargins(8, 0, 8, 0)
        foot.setSpacing(6)
        for part in (self.play, self.untreated):
            foot.addWidget(part)
        foot.addStretch(1)
        foot.addWidget(self.rate)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(1, 1, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(_holder(head, 28))
        layout.addWidget(self.picture, 1)
        layout.addWidget(_holder(foot, 33))
        desk.changed.connect(self._change)
        desk.selected.connect(lambda before, after: self.refresh())
        desk.previewed.connect(self.refresh)
        self.refresh()

    def show_instead(self, title: str, paint: Callable[[QPainter, QRect], None] | None) -> None:
        """Let a station paint the lens for a while; None gives it back."""
        self.picture.instead = paint
        self.play.setEnabled(paint is None)
        self.untreated.setEnabled(paint is None)
        self.rate.setVisible(paint is None)
        if paint is None:
            self.refresh()
        else:
            tell_shortly(self._title, title)
            self.picture.update()

    def play_own(self, animation: Animation | None) -> None:
        """Play what a station made of several animations; None shows the selection again."""
        if animation is not self.picture.own:
            self.picture.own = animation
            self.picture.refresh()
            self.picture.play(animation is not None)
            self.refresh()

    def refresh(self) -> None:
        """Show what is selected now."""
        if self.picture.instead is not None:
            return
        self.picture.refresh()
        animation = self.picture.animation
        self.play.setText(say("Pause") if self.picture.playing else say("Play"))
        self.play.setEnabled(animation is not None)
        self.rate.setVisible(animation is not None and self.picture.own is None)
        if animation is not None:
            self.rate.show_value(animation.rate)
        self.lit.setVisible(self.picture.has_normals())
        tell_shortly(self._title, self._describe())

    def _change(self, before: Project, after: Project) -> None:
        if (
            before.sheets is not after.sheets
            or before.rules is not after.rules
            or before.treatments is not after.treatments
        ):
            self.refresh()

    def _describe(self) -> str:
        figures = self.picture.figures
        if not figures:
            return ""
        treatment = treatment_of(self._desk.project, figures[0].sheet)
        name = shown_name(figures[0].sheet, figures[0].piece)
        if self.picture.animation is not None:
            name = self.picture.animation.name
        elif len(figures) > 1:
            count = len(self._desk.selection.pieces) or len(figures)
            name = counted(count, "piece", "pieces")
        metrics = self._title.fontMetrics()
        name = metrics.elidedText(name, Qt.TextElideMode.ElideMiddle, 96)
        if self._desk.looked_at is not None:
            seen = say("seen with {form}", form=self._desk.looked_at.form)
            return f"{name} · {seen}"
        return say(
            "{name} · {number} px per unit · {filter}",
            name=name,
            number=treatment.pixels_per_unit,
            filter=say(treatment.filter),
        )

    def _treat(self, name: str) -> None:
        """Work out what a sheet's own compression makes of it, and show that."""
        sheet = self._desk.project.sheet(name)
        treatment = treatment_of(self._desk.project, sheet)
        key = cost_key(sheet, treatment)
        if self._desk.looked_at is not None or key in self._wanted:
            return
        self._wanted.add(key)
        art = self._desk.art

        def work() -> Iterator[tuple[float, str, Any]]:
            from rushweed.core.gauge.compression.treated import cost_of

            for share, cost in cost_of(art, sheet, treatment):
                yield share, "", cost

        def done(_: Any) -> None:
            self._wanted.discard(key)
            self._desk.previewed.emit()

        self._jobs.start(work, done, lambda _: None, quiet=True)

    def _toggle(self) -> None:
        self.picture.play(not self.picture.playing)
        self.refresh()

    def _set_rate(self, rate: float) -> None:
        animation, figures = self.picture.animation, self.picture.figures
        if animation is None or not figures:
            return
        sheet = figures[0].sheet
        if animation in sheet.animations:
            self._desk.do(
                say("Set {name} to {rate} frames/s", name=animation.name, rate=f"{rate:g}"),
                lambda p: set_rate(p, sheet.name, animation.name, rate),
            )
        else:
            self.picture.free_rate = rate
            self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        painter.fillRect(0, 0, self.width(), 1, look.colours.strong_line)
        painter.fillRect(0, 0, 1, self.height(), look.colours.line)
        painter.end()


def _holder(row: QHBoxLayout, height: int) -> QWidget:
    holder = QWidget()
    holder.setFixedHeight(height)
    holder.setLayout(row)
    return holder
