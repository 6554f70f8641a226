"""Probes in the window: a walker sent through the level in the background, and what it found."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QPainter

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project
from rushweed.core.values import Point
from rushweed.core.walk.probes import Probed, probe
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import Check, button, row
from rushweed.ui.shell.rows import Rows
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.station import Services
from rushweed.ui.text import counted, tr

ROW, MOST_SHOWN = 34, 5


@dataclass(frozen=True, slots=True)
class Spot:
    """Something that a probe found: in words, the piece it is about, and where it is."""

    words: str
    piece: int
    place: Point


class ProbeGroup(Group):
    """Starts probes and lists what they found; `go_to` brings one there."""

    def __init__(
        self,
        number: int,
        services: Services,
        go_to: Callable[[Spot], None],
        update: Callable[[], None],
    ) -> None:
        super().__init__(number, tr("Probes"))
        self._services, self._go_to, self._update = services, go_to, update
        self.found: Probed | None = None
        self._of: tuple[object, str] | None = None
        start = button(
            tr("Probe the level"),
            self.start,
            tip=tr("Sweeps all ground for snags, floats, sinks and gaps, and what is reached"),
        )
        self.shows_reach = Check(tr("Show reached ground"), lambda on: update())
        self.shows_reach.setChecked(True)
        self.list = Rows(
            tr("What probes found"), self._paint, lambda spot: ROW, lambda spot: spot.words
        )
        self.list.picked.connect(self._pick)
        self.add(row(start, None))
        self.add(row(self.shows_reach, None))
        self.add(self.list)
        self.refresh()

    def start(self) -> None:
        """Probe the open level in the background."""
        desk = self._services.desk
        project, level = desk.project, desk.selection.level
        if not level:
            return

        def work() -> Iterator[tuple[float, str, Probed]]:
            yield 0.0, tr("Probing {level}").format(level=level), Probed()
            yield 1.0, tr("Probing {level}").format(level=level), probe(project, level, desk.art)

        def done(found: Probed) -> None:
            self.found, self._of = found, (project, level)
            self.refresh()
            self._update()

        self._services.jobs.start(work, done)

    def refresh(self) -> None:
        """Show what was found, as long as it is of the level as it is."""
        desk = self._services.desk
        level = desk.selection.level
        if self._of is not None and (self._of[0] is not desk.project or self._of[1] != level):
            self.found = None
        found = self.found
        spots = spots_of(desk.project, found) if found else []
        self.list.show_items(spots, lambda spot: False)
        self.list.setFixedHeight(ROW * min(len(spots), MOST_SHOWN) + 2)
        self.list.setVisible(bool(spots))
        if found is None:
            self.result.tell("")
            return
        reached = tr("{n} places reached, {m} not.").format(
            n=len(found.reached), m=len(found.unreached)
        )
        what = counted(len(spots), "trouble", "troubles") if spots else tr("No trouble")
        self.result.tell(f"{what}. {reached}", warns=bool(spots))

    def _pick(self, spots: list[Spot]) -> None:
        if spots:
            self._go_to(spots[0])

    def _paint(
        self, painter: QPainter, rect: QRect, spot: Spot, selected: bool, hovered: bool
    ) -> None:
        if selected or hovered:
            painter.fillRect(rect, look.colours.tide_wash if selected else look.colours.paper)
        painter.setPen(look.colours.ink)
        painter.setFont(font(CAPTION))
        flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(rect.adjusted(6, 0, -4, 0), flags, spot.words)


def spots_of(project: Project, found: Probed) -> list[Spot]:
    """What was found, in words and with places."""
    width, height = project.rules.tile

    def name(piece: int) -> str:
        pair = project.find(piece)
        return shown_name(*pair) if pair else tr("a piece that is gone")

    def middle(cell: tuple[int, int]) -> Point:
        return Point(cell[0] * width + width / 2, (cell[1] + 1) * height)

    spots = []
    if found.starts_inside:
        words = tr("The start lies inside of {name}.").format(name=name(found.starts_inside))
        spots.append(Spot(words, found.starts_inside, Point(0, 0)))
    for snag in found.snags:
        words = tr("Snag at {name}, going {way}: {why}.").format(
            name=name(snag.piece), way=snag.way, why=snag.why
        )
        spots.append(Spot(words, snag.piece, Point(snag.x, snag.y)))
    for off in found.off:
        verb = (
            tr("Floats over {name} by {n} px.")
            if off.pixels > 0
            else tr("Sinks into {name} by {n} px.")
        )
        words = verb.format(name=name(off.piece), n=abs(off.pixels))
        spots.append(Spot(words, off.piece, middle(off.cell)))
    for gap in found.narrow:
        words = tr("A gap of {w} × {h} px is too narrow.").format(
            w=f"{gap.width:g}", h=f"{gap.height:g}"
        )
        spots.append(Spot(words, 0, middle(gap.cell)))
    return spots
