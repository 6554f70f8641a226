"""The ground rules: what holds for the whole project, each with what it leads to."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.rules_from_art import tile_words
from rushweed.core.gauge import consequences
from rushweed.core.project.ground_rules import (
    LARGEST_PIXELS_PER_UNIT,
    LARGEST_RESOLUTION,
    LARGEST_TILE,
    choose_rules,
    rename_project,
)
from rushweed.core.project.project import Project
from rushweed.core.values import Colour, Size
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Chips, Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.swatch import Swatch
from rushweed.ui.text import tr

SIDE, ABOVE = "From the side", "From above"
UP, DOWN = "Upwards", "Downwards"
RESOLUTIONS = (
    Size(160, 144),
    Size(256, 144),
    Size(320, 180),
    Size(480, 270),
    Size(640, 360),
    Size(960, 540),
    Size(1280, 720),
    Size(1920, 1080),
)


class RulesPage(SlipPage):
    """Stands in place of the slip while somebody changes the ground rules. Tells `closed`."""

    closed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._head = SelectionHead()
        self._head.tell(tr("Ground rules"), tr("for the whole project"))
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
        project, rules = self._desk.project, self._desk.project.rules
        self._name.show_text(project.name)
        self._scale.show_value(rules.pixels_per_unit)
        self._tile_width.show_value(rules.tile.width)
        self._tile_height.show_value(rules.tile.height)
        self._width.show_value(rules.resolution.width)
        self._height.show_value(rules.resolution.height)
        self._usual.show_choices([f"{size}" for size in RESOLUTIONS], f"{rules.resolution}")
        self._swatch.show_colour(rules.background)
        self._background.show_text(rules.background.hex)
        self._view.show_choice(SIDE if rules.view == "side" else ABOVE)
        self._y.show_choice(UP if rules.y_up else DOWN)
        self._tell(project)

    def _tell(self, project: Project) -> None:
        self._scale_group.result.tell(
            f"{consequences.of_scale(project)} {consequences.of_tile(project)}"
        )
        said = consequences.of_art(project)
        self._art_row.setVisible(said is not None)
        if said is not None:
            tile, sentence = said
            self._art_words.setText(sentence)
            self._as_art.setText(tr("Make {tile} the rule").format(tile=tile_words(tile)))
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
        group = Group(4, tr("Project"))
        self._name = Field(tr("Name of the project"))
        self._name.finished.connect(self._rename)
        group.add(row(label(tr("Name")), self._name))
        group.add(
            row(
                button(
                    tr("Done"), lambda: self.closed.emit(), "main", tr("Back to the station  Esc")
                )
            )
        )
        return group

    def _make_scale(self) -> Group:
        group = self._scale_group = Group(1, tr("Scale"))
        self._scale = self._stepper(
            tr("Pixels per unit of the project"),
            LARGEST_PIXELS_PER_UNIT,
            lambda number: {"pixels_per_unit": number},
        )
        self._tile_width = self._stepper(
            tr("Tile width"), LARGEST_TILE, lambda side: {"tile": Size(side, self._tile.height)}
        )
        self._tile_height = self._stepper(
            tr("Tile height"), LARGEST_TILE, lambda side: {"tile": Size(self._tile.width, side)}
        )
        self._as_art = button("", self._follow_art)
        self._art_words = label("", "caption")
        self._art_row = QWidget()
        self._art_row.setLayout(row(self._art_words, None, self._as_art))
        group.add(row(label(tr("Pixels per unit")), None, self._scale))
        tiles = (self._tile_width, label("×", "caption"), self._tile_height)
        group.add(row(label(tr("Tile")), None, *tiles))
        group.add(self._art_row)
        return group

    def _make_picture(self) -> Group:
        group = self._picture_group = Group(2, tr("The game's picture"))
        self._width = self._stepper(
            tr("Width of the game's picture"),
            LARGEST_RESOLUTION,
            lambda side: {"resolution": Size(side, self._resolution.height)},
            low=16,
        )
        self._height = self._stepper(
            tr("Height of the game's picture"),
            LARGEST_RESOLUTION,
            lambda side: {"resolution": Size(self._resolution.width, side)},
            low=16,
        )
        self._usual = Choice(tr("Usual resolutions"), 108)
        self._usual.activated.connect(lambda i: self._set(resolution=RESOLUTIONS[i]))
        self._swatch = Swatch()
        self._background = Field(tr("Background colour"))
        self._background.setFixedWidth(84)
        self._background.finished.connect(self._set_background)
        sides = (self._width, label("×", "caption"), self._height)
        group.add(row(label(tr("Pixels")), None, *sides))
        group.add(row(label(tr("Usual ones")), None, self._usual))
        group.add(row(label(tr("Background")), None, self._swatch, self._background))
        return group

    def _make_levels(self) -> Group:
        group = self._levels_group = Group(3, tr("Levels and bundle"))
        self._view = Chips((SIDE, ABOVE), name=tr("View of new levels"))
        self._view.chosen.connect(
            lambda text: self._set(view="side" if text == SIDE else "top-down")
        )
        self._y = Chips((UP, DOWN), name=tr("y grows"))
        self._y.chosen.connect(lambda text: self._set(y_up=text == UP))
        group.add(row(label(tr("New levels")), None, self._view))
        group.add(row(label(tr("y grows")), None, self._y))
        return group

    def _stepper(
        self, name: str, high: int, changes: Callable[[int], dict[str, Any]], low: int = 1
    ) -> Stepper:
        stepper = Stepper(name, tr("px"), low, high, width=86)
        stepper.stepped.connect(lambda value: self._set(**changes(int(value))))
        return stepper

    # -- acts ----------------------------------------------------------------------

    @property
    def _tile(self) -> Size:
        return self._desk.project.rules.tile

    @property
    def _resolution(self) -> Size:
        return self._desk.project.rules.resolution

    def _set(self, **changes: Any) -> None:
        point = WORDS[next(iter(changes))]
        words = tr("Set the ground rules' {point}").format(point=point)
        if not self._desk.do(words, lambda p: choose_rules(p, **changes)):
            self.refresh()

    def _follow_art(self) -> None:
        said = consequences.of_art(self._desk.project)
        if said is not None:
            self._set(tile=said[0], pixels_per_unit=said[0].width)

    def _set_background(self, text: str) -> None:
        try:
            self._set(background=Colour.parse(text))
        except ValueError as problem:
            self._desk.refused.emit(str(problem))
            self.refresh()

    def _rename(self, text: str) -> None:
        words = tr("Named the project {name}").format(name=text.strip())
        if not self._desk.do(words, lambda p: rename_project(p, text)):
            self.refresh()


WORDS = {
    "pixels_per_unit": tr("pixels per unit"),
    "tile": tr("tile size"),
    "resolution": tr("resolution"),
    "background": tr("background"),
    "view": tr("view"),
    "y_up": tr("direction of y"),
}
