"""The Line-up face: how large sheets are in the world, and which treatment they share."""

from __future__ import annotations

from rushweed.core.words import counted, say
from rushweed.ui.shell.controls import Choice, label
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import SelectionHead, SlipPage
from rushweed.ui.stations.gauge.line_up import LineUp
from rushweed.ui.stations.gauge.shared_treatment import TreatmentGroup
from rushweed.ui.stations.gauge.size_groups import SizeGroup, StepGroup


class SizesFace(Face):
    """Figures on one ground line; every choice holds for all sheets that are selected."""

    name = say("Line-up")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self.line_up = LineUp(services)
        self._reference: Choice[str] = Choice(say("Stand beside"), 132)
        self._reference.entered.connect(self._set_reference)
        beside = label(say("Always beside"), "caption")
        self.tools = tools_row(beside, self._reference, optional=(beside,))
        self._head = SelectionHead()
        self.size, self.step = SizeGroup(1, self.desk), StepGroup(2, self.desk)
        self.treatment = TreatmentGroup(3, self.desk)
        self.slip = SlipPage([self.size, self.step, self.treatment], self._head)

    def refresh(self) -> None:
        self.line_up.refresh()
        names = {s.name: s.name for s in self.project.sheets if s.pieces}
        self._reference.offer({"": say("nobody")} | names)
        self._reference.show_value(self.line_up.reference)
        sheets = self.sheets()
        self._head.tell(counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets))
        self.size.refresh()
        self.step.refresh()
        self.treatment.refresh()

    def _set_reference(self, name: str) -> None:
        self.line_up.reference = name
        self.line_up.refresh()
