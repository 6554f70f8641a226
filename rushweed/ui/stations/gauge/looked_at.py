"""The choice of compression that is looked at: what it makes of a sheet, as far as it is known."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.costs import known_treated
from rushweed.core.gauge.glance import compression_words
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.words import say
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.gauge.treated_canvas import ORIGIN
from rushweed.ui.stations.gauge.trials import PartTrial, Trials


@dataclass(frozen=True, slots=True)
class Sight:
    """What is to be seen of a sheet: a picture of it or of a part that begins at `corner`, and what
    the choice is called, or why nothing is seen; and the piece that comes off worst, with how
    much."""

    picture: Picture | None
    words: str
    worst: tuple[Rect, str] | None
    corner: Point


class LookedAt:
    """`choice` is the one looked at, None for no sheet. Tries it on the part that is on the screen
    where the whole would take long."""

    def __init__(self, services: Services, trials: Trials) -> None:
        self._desk, self._images, self._trials = services.desk, services.images, trials
        self.choice: Compression | None = None
        self._shown: object = None
        self.part = PartTrial(services)

    def keep(self, rows: list[Compression], current: Compression | None) -> None:
        """Go on with the choice while the same sheets have the same compression `current`, else
        look at that."""
        shown = (self._desk.selection.sheets, current)
        if self.choice not in rows or shown != self._shown:
            self.choice = current or (rows[0] if rows else None)
        self._shown = shown
        self._desk.preview(self.choice if self.choice != current else None)

    def forget(self) -> None:
        """Look at nothing."""
        self.choice = None
        self._desk.preview(None)

    def try_part(self, sheet: Sheet | None, visible: Rect) -> bool:
        """Try the choice on what is visible of a sheet, while the whole is large and not known."""
        if sheet is None or self.choice is None or not self._trials.is_large:
            return False
        if self._whole(sheet, self.choice) is not None:
            return False
        self.part.look(sheet, self._treatment(sheet), visible)
        return True

    def sight(self, sheet: Sheet | None) -> Sight:
        """What is known of a sheet under the choice."""
        if sheet is None or self.choice is None:
            return Sight(None, self._instead(), None, ORIGIN)
        picture, corner = self._whole(sheet, self.choice), ORIGIN
        if picture is None and self._trials.is_large:
            picture, corner = self.part.found_of(sheet, self._treatment(sheet))
        return Sight(
            picture,
            self.words if picture is not None else self._instead(),
            self._worst(sheet),
            corner,
        )

    @property
    def words(self) -> str:
        """What the choice is called, empty for none."""
        return " ".join(compression_words(self.choice)) if self.choice else ""

    def _instead(self) -> str:
        far = self.part.is_too_large and self._trials.asking
        return say("zoom in to see it") if far else say("working …")

    def _worst(self, sheet: Sheet) -> tuple[Rect, str] | None:
        cost = self._trials.costs.get(self.choice or Compression())
        if cost is None:
            return None
        found = next((p for p in sheet.pieces if p.number == cost.loss.worst), None)
        text = say("worst piece, {n} dB", n=f"{cost.loss.worst_noise:.1f}")
        return (found.rect, text) if found is not None else None

    def _whole(self, sheet: Sheet, choice: Compression) -> Picture | None:
        art = self._desk.art
        try:
            if choice.form in ("lossless", "lossless WebP"):
                return art.picture(sheet) if self._images.is_at_hand(sheet) else None
        except Refusal:
            return None
        found = known_treated(art, sheet, self._treatment(sheet))
        if found is not None:
            return found.picture
        cost = self._trials.costs.get(choice)
        alone = len(self._desk.selection.chosen(self._desk.project)) == 1
        return cost.treated.picture if cost and alone else None

    def _treatment(self, sheet: Sheet) -> Treatment:
        own = treatment_of(self._desk.project, sheet)
        return replace(own, compression=self.choice or own.compression)
