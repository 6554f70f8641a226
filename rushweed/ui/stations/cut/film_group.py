"""An animation handed out as a picture that moves."""

from __future__ import annotations

from functools import partial

from rushweed.core.bale.film import Form, film
from rushweed.core.folder.names import file_stems
from rushweed.core.folder.saving import explain, write_file
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.shell.controls import button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.cut.worked_on import WorkedOn


class FilmGroup(Group):
    """Writes the animation that is worked on, enlarged."""

    def __init__(self, number: int, services: Services, worked_on: WorkedOn) -> None:
        super().__init__(number, say("Hand it out"))
        self._desk, self._dialogs, self._on = services.desk, services.dialogs, worked_on
        self._scale = Stepper(say("Enlarged"), say("times"), 1, 16, width=96)
        self._scale.show_value(4)
        moving = button(say("APNG …"), partial(self._export, "APNG"))
        self.add(row(self._scale, None, moving, button(say("GIF …"), partial(self._export, "GIF"))))

    def _export(self, form: Form) -> None:
        sheet, animation = self._on.sheet, self._on.animation
        if sheet is None or animation is None:
            return
        ending = ".png" if form == "APNG" else ".gif"
        stem = file_stems([f"{sheet.name}_{animation.name}"])[0]
        target = self._dialogs.ask_film_file(f"{stem}{ending}")
        if target is None:
            return
        try:
            scale = int(self._scale.value or 1)
            write_file(target, film(self._desk.art, sheet, animation, form, scale))
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
        except OSError as problem:
            self._desk.refused.emit(explain(problem, target))
        else:
            self._desk.said.emit(say("Wrote {file}", file=target.name))
