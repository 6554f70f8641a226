"""Cut's Seams: what one sees where a figure changes from one animation to another."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtWidgets import QStackedWidget

from rushweed.core.cut.animations import find_animation
from rushweed.core.cut.common_stand import Laid, lay_over_each_other
from rushweed.core.cut.seams import Seam, played, seams_of
from rushweed.core.gather.figures import figure_of
from rushweed.core.project.figure import Cast, Figure, cast_of
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.sitting import Made, Outcome
from rushweed.core.values import Point
from rushweed.core.words import counted, say, some
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Turn
from rushweed.ui.shell.controls import button, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.stations.common.invitation import Invitation
from rushweed.ui.stations.cut.seam_grid import SeamGrid, seam_words


class SeamsGroup(Group):
    """What is seen of all changes, or of the one chosen."""

    def __init__(self, number: int) -> None:
        super().__init__(number, say("Seams"))

    def tell(self, cast: Cast | None, seams: list[Seam], chosen: Seam | None) -> None:
        """Say what is seen of the chosen change, else how many are seen as faults."""
        self.aside.setText(cast.name if cast is not None else "")
        seen = sum(seam.is_seen for seam in seams)
        if chosen is not None:
            self.result.tell(seam_words(chosen), warns=chosen.is_seen)
        elif seen:
            told = say("{n} of {all} changes are seen. Click one to play it.")
            self.result.tell(told.format(n=seen, all=len(seams)), warns=True)
        else:
            self.result.tell(say("No change is seen.") if seams else "")


class StandGroup(Group):
    """Lays the sheets of a figure over each other."""

    def __init__(self, number: int, services: Services) -> None:
        super().__init__(number, say("One stand"))
        self._services = services
        self._sheets: tuple[Sheet, ...] = ()
        tip = say("Feet on one line, bodies over each other, however each sheet was cropped")
        self._lay = button(say("Lay them over each other"), self._lay_over, tip=tip)
        self._lay.setEnabled(False)
        self.add(row(self._lay, None))

    def show_sheets(self, sheets: tuple[Sheet, ...]) -> None:
        """Show that these sheets can be laid over each other; what was told holds for those of
        before."""
        if sheets == self._sheets:
            return
        self._sheets = sheets
        self._lay.setEnabled(len(sheets) > 1)
        told = say("A figure of several sheets can be laid on one stand.")
        self.result.tell(told if len(sheets) == 1 else "")

    def _lay_over(self) -> None:
        names, desk = tuple(sheet.name for sheet in self._sheets), self._services.desk

        def told(outcome: Outcome | None) -> None:
            if isinstance(outcome, Made):
                self._tell(outcome.made)

        words = say("Laid {what} over each other", what=counted(len(names), "sheet", "sheets"))
        self._services.beside.do(
            words, lambda project: lay_over_each_other(project, desk.art, names), names, told, True
        )

    def _tell(self, laid: list[Laid]) -> None:
        doubtful = [one.sheet for one in laid if not one.is_sure]
        moved = [
            _moved_words(one) for one in laid if any(move != Point(0, 0) for move in one.moved)
        ]
        told = say("All lay over each other already.")
        if moved:
            told = say("Moved {what}.", what=some(moved))
        if doubtful:
            told += " " + say("In doubt: {names}. Play their seams.", names=some(doubtful))
        self.result.tell(told, warns=bool(doubtful))


class SeamsFace(Face):
    """A grid of all changes of the figure that is selected; the lens plays the one chosen."""

    name = say("Seams")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.grid = SeamGrid()
        self.grid.picked.connect(self._pick)
        self.table = self._pages = QStackedWidget()
        text = say("Select a figure, or a sheet with two animations or more.")
        self._pages.addWidget(Invitation(say("No change to look at"), text))
        self._pages.addWidget(self.grid)
        self.seams, self.stand = SeamsGroup(1), StandGroup(2, services)
        self.slip = SlipPage([self.seams, self.stand])
        self._turn = Turn(self._look)
        self._cast: Cast | None = None
        self._found: list[Seam] = []

    def leave(self) -> None:
        self.services.lens_plays(None)
        self._turn.stop()

    def refresh(self) -> None:
        cast = chosen_cast(self.desk)
        several = cast is not None and len(cast.animations) > 1
        self._pages.setCurrentIndex(1 if several else 0)
        self.stand.show_sheets(cast.sheets if cast else ())
        if cast != self._cast:
            self._cast = cast
            self._turn.ask()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is not after.sheets or before.figures is not after.figures:
            self.refresh()

    def _look(self) -> None:
        """Compare all animations, beside the window."""
        cast, art = self._cast, self.desk.art
        if cast is None:
            self._show([])
            return

        def work() -> Iterator[tuple[float, str, list[Seam]]]:
            yield 0.0, "", []
            yield 1.0, "", seams_of(cast, art)

        self._turn.start(self.services.jobs, work, self._show, failed=self._refuse, quiet=True)

    def _refuse(self, sentence: str) -> None:
        self._show([])
        self.seams.result.tell(sentence, warns=True)

    def _show(self, seams: list[Seam]) -> None:
        self._found = seams
        names = [one.name for one in self._cast.animations] if self._cast is not None else []
        self.grid.show_seams(names, seams)

    def _pick(self, seam: Seam | None) -> None:
        """Play a change, and say what is seen of it."""
        self.seams.tell(self._cast, self._found, seam)
        two = [
            found
            for name in ((seam.before, seam.after) if seam is not None else ())
            if self._cast is not None and (found := find_animation(self._cast, name)) is not None
        ]
        self.services.lens_plays(played(*two) if len(two) == 2 else None)


def chosen_cast(desk: Desk) -> Cast | None:
    """The figure that the selected sheets show, or they as one; of a single one, itself."""
    project, names = desk.project, desk.selection.sheets
    figure = figure_of(project, names)
    if figure is not None:
        return project.cast(figure.name)
    together = Figure(counted(len(names), "sheet", "sheets"), names)
    if len(names) > 1:
        return cast_of(project.sheets, (together,), together.name)
    return project.cast(names[0]) if names else None


def _moved_words(laid: Laid) -> str:
    """“run by 3 px →, 1 px ↓”."""
    if len({*laid.moved}) > 1:
        return say("each frame of {name}", name=laid.sheet)
    across, down = map(int, laid.moved[0])
    ways = [f"{abs(across)} px {'→' if across > 0 else '←'}"] if across else []
    if down:
        ways.append(f"{abs(down)} px {'↓' if down > 0 else '↑'}")
    return say("{name} by {way}", name=laid.sheet, way=", ".join(ways))
