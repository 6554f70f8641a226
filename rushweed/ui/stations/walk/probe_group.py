"""Probes in the window: a walker sent through the level in the background, and what it found."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QPainter

from rushweed.core.values import Point
from rushweed.core.walk.probing import Probed, known_probed
from rushweed.core.walk.probing_apart import probing_apart
from rushweed.core.walk.troubles import Trouble, troubles
from rushweed.core.words import counted, say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import Check, button, row
from rushweed.ui.shell.rows import Rows
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.walk.stage import Stage

ROW, MOST_SHOWN = 34, 5


class ProbeGroup(Group):
    """Starts probes, where the stage is first, and lists what they found; `go_to` brings one
    there."""

    def __init__(
        self,
        number: int,
        services: Services,
        go_to: Callable[[Point], None],
        stage: Stage,
    ) -> None:
        super().__init__(number, say("Probes"))
        self._services, self._go_to, self._stage = services, go_to, stage
        self.found: Probed | None = None
        self._whole = True
        self._of: tuple[object, str] | None = None
        start = button(
            say("Probe the level"),
            self.start,
            tip=say("Sweeps all ground for snags, floats, sinks and gaps, and what is reached"),
        )
        self.shows_reach = Check(say("Show reached ground"), lambda on: stage.update())
        self.shows_reach.setChecked(True)
        self.list = Rows(
            say("What probes found"), self._paint, lambda spot: ROW, lambda spot: spot.words
        )
        self.list.picked.connect(self._pick)
        self.add(row(start, None))
        self.add(row(self.shows_reach, None))
        self.add(self.list)
        self.refresh()

    def start(self) -> None:
        """Probe the open level in the background."""
        desk = self._services.desk
        project, level, near = desk.project, desk.selection.level, self._stage.course.seen
        if not level:
            return

        def work() -> Iterator[tuple[float, str, Probed]]:
            words = say("Probing {level}", level=level)
            for share, found in probing_apart(project, level, desk.art, near):
                yield share, words, found

        def arrived(found: Probed | None, whole: bool = False) -> None:
            if found is not None and project is desk.project and level == desk.selection.level:
                self.found, self._of, self._whole = found, (project, level), whole
                self.refresh()
                self._stage.update()

        def done(found: Probed) -> None:
            arrived(found, True)
            desk.previewed.emit()

        self._services.jobs.start(work, done, arrived=arrived)

    def refresh(self) -> None:
        """Show what was found in the level as it is, whenever probes were sent through it."""
        desk = self._services.desk
        level = desk.selection.level
        self.setEnabled(bool(level))
        if self._of is None or self._of[0] is not desk.project or self._of[1] != level:
            self._of, self._whole = (desk.project, level), True
            self.found = known_probed(desk.project, level, desk.art) if level else None
        found = self.found
        spots = list(troubles(desk.project, level, found)) if found else []
        self.list.show_items(spots, lambda spot: False)
        self.list.setFixedHeight(ROW * min(len(spots), MOST_SHOWN) + 2)
        self.list.setVisible(bool(spots))
        if found is None:
            self.result.tell("")
            return
        reached = say("{n} places reached, {m} not.", n=len(found.reached), m=len(found.unreached))
        what = counted(len(spots), "trouble", "troubles") if spots else say("No trouble")
        words = f"{what}. {reached}"
        if not self._whole:
            words = say("So far: {words}", words=words)
        self.result.tell(words, warns=bool(spots))

    def _pick(self, spots: list[Trouble]) -> None:
        if spots:
            self._go_to(spots[0].place)

    def _paint(
        self, painter: QPainter, rect: QRect, spot: Trouble, selected: bool, hovered: bool
    ) -> None:
        if selected or hovered:
            painter.fillRect(rect, look.colours.tide_wash if selected else look.colours.paper)
        painter.setPen(look.colours.ink)
        painter.setFont(font(CAPTION))
        flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(rect.adjusted(6, 0, -4, 0), flags, spot.words)
