"""The ground rules: what holds for the whole project, each with what it leads to."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.rules_from_art import RESOLUTIONS, tile_words
from rushweed.core.gauge import consequences
from rushweed.core.project.ground_rules import (
    LARGEST_PIXELS_PER_UNIT,
    LARGEST_RESOLUTION,
    LARGEST_TILE,
    choose_rules,
    rename_project,
)
from rushweed.core.project.project import Project
from rushweed.core.project.rules import GroundRules, View
from rushweed.core.values import Colour, Size
from rushweed.core.words import said, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindable, Bindings
from rushweed.ui.shell.controls import Chips, Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.swatch import Swatch

VIEWS: dict[View, str] = {"side": "From the side", "top-down": "From above"}
Y_GROWS = {True: "Upwards", False: "Downwards"}


class RulesPage(SlipPage):
    """Stands in place of the slip while somebody changes the ground rules. Tells `closed`."""

    closed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._bound = Bindings(desk, lambda: [desk.project])
        self._head = SelectionHead()
        self._head.tell(say("Ground rules"), say("for the whole project"))
        groups = [
            self._make_scale(),
            self._make_picture(),
            self._make_levels(),
            self._make_project(),
        ]
        super().__init__(groups, self._head)
        desk.changed.connect(self._change)
        self.refresh()

    def refresh(self) -> None:
        """Show the rules as they are."""
        self._bound.show()
        self._swatch.show_colour(self._desk.project.rules.background)
        self._tell(self._desk.project)

    def _tell(self, project: Project) -> None:
        self._scale_group.result.tell(
            f"{consequences.of_scale(project)} {consequences.of_tile(project)}"
        )
        said = consequences.of_art(project)
        self._art_row.setVisible(said is not None)
        if said is not None:
            tile, sentence = said
            self._art_words.setText(sentence)
            self._as_art.setText(say("Make {size} the rule", size=tile_words(tile)))
            self._as_art.setAccessibleName(self._as_art.text())
        self._picture_group.result.tell(consequences.of_resolution(project))
        self._levels_group.result.tell(
            f"{consequences.of_view(project)} {consequences.of_y(project)}"
        )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        else:
            super().keyPressEvent(event)

    def _change(self, before: Project, after: Project) -> None:
        if self.isVisible():
            self.refresh()

    # -- groups --------------------------------------------------------------------

    def _make_project(self) -> Group:
        group = Group(4, say("Project"))
        field, words = Field(say("Name of the project")), say("Named the project {value}")
        name = self._bound.bind(field, lambda project: project.name, rename_project, words)
        group.add(row(label(say("Name")), name))
        group.add(
            row(
                button(
                    say("Done"), lambda: self.closed.emit(), "main", say("Back to the station  Esc")
                )
            )
        )
        return group

    def _make_scale(self) -> Group:
        group = self._scale_group = Group(1, say("Scale"))
        side = partial(Stepper, unit=say("px"), low=1, high=LARGEST_TILE, width=86)
        scale = self._point(
            Stepper(
                say("Pixels per unit of the project"),
                say("px"),
                1,
                LARGEST_PIXELS_PER_UNIT,
                width=86,
            ),
            "pixels_per_unit",
            lambda rules: rules.pixels_per_unit,
            lambda _, value: value,
        )
        wide = self._point(
            side(say("Tile width")),
            "tile",
            lambda rules: rules.tile.width,
            lambda rules, value: Size(value, rules.tile.height),
        )
        high = self._point(
            side(say("Tile height")),
            "tile",
            lambda rules: rules.tile.height,
            lambda rules, value: Size(rules.tile.width, value),
        )
        self._as_art = button("", self._follow_art)
        self._art_words = label("", "caption")
        self._art_row = QWidget()
        self._art_row.setLayout(row(self._art_words, None, self._as_art))
        group.add(row(label(say("Pixels per unit")), None, scale))
        group.add(row(label(say("Tile")), None, wide, label("×", "caption"), high))
        group.add(self._art_row)
        return group

    def _make_picture(self) -> Group:
        group = self._picture_group = Group(2, say("The game's picture"))
        side = partial(Stepper, unit=say("px"), low=16, high=LARGEST_RESOLUTION, width=86)
        wide = self._point(
            side(say("Width of the game's picture")),
            "resolution",
            lambda rules: rules.resolution.width,
            lambda rules, value: Size(value, rules.resolution.height),
        )
        high = self._point(
            side(say("Height of the game's picture")),
            "resolution",
            lambda rules: rules.resolution.height,
            lambda rules, value: Size(rules.resolution.width, value),
        )
        usual = Choice(say("Usual resolutions"), 108, {size: f"{size}" for size in RESOLUTIONS})
        self._point(usual, "resolution", lambda rules: rules.resolution, lambda _, value: value)
        self._swatch, field = Swatch(), Field(say("Background colour"))
        field.setFixedWidth(84)
        background = self._point(
            field,
            "background",
            lambda rules: rules.background.hex,
            lambda _, text: Colour.parse(text),
        )
        group.add(row(label(say("Pixels")), None, wide, label("×", "caption"), high))
        group.add(row(label(say("Usual ones")), None, usual))
        group.add(row(label(say("Background")), None, self._swatch, background))
        return group

    def _make_levels(self) -> Group:
        group = self._levels_group = Group(3, say("Levels and bundle"))
        view = self._point(
            Chips(said(VIEWS), name=say("View of new levels")),
            "view",
            lambda rules: rules.view,
            lambda _, value: value,
        )
        grows = self._point(
            Chips(said(Y_GROWS), name=say("y grows")),
            "y_up",
            lambda rules: rules.y_up,
            lambda _, value: value,
        )
        group.add(row(label(say("New levels")), None, view))
        group.add(row(label(say("y grows")), None, grows))
        return group

    # -- acts ----------------------------------------------------------------------

    def _point(
        self,
        control: Bindable,
        point: str,
        read: Callable[[GroundRules], Any],
        write: Callable[[GroundRules, Any], Any],
    ) -> Bindable:
        """Have a control show and set one rule, or a part of it: `write` gives the whole rule for
        what was entered."""
        words = say("Set the ground rules' {point}", point=say(WORDS[point]))

        def edit(project: Project, value: Any) -> Project:
            return choose_rules(project, **{point: write(project.rules, value)})

        return self._bound.bind(control, lambda project: read(project.rules), edit, words)

    def _follow_art(self) -> None:
        said = consequences.of_art(self._desk.project)
        if said is not None:
            words = say("Set the ground rules' {point}", point=say(WORDS["tile"]))
            tile = said[0]
            self._desk.do(words, lambda p: choose_rules(p, tile=tile, pixels_per_unit=tile.width))


WORDS = {
    "pixels_per_unit": "pixels per unit",
    "tile": "tile size",
    "resolution": "resolution",
    "background": "background",
    "view": "view",
    "y_up": "direction of y",
}
