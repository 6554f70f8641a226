"""Which treatment sheets share, and in what they differ from it."""

from __future__ import annotations

from functools import reduce

from PyQt6.QtWidgets import QWidget

from rushweed.core.gauge.glance import treatment_words
from rushweed.core.gauge.treating import (
    add_treatment,
    differing_points,
    drop_differences,
    remove_treatment,
    rename_treatment,
    set_treatment,
    share_differences,
    unused_treatments,
)
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import find_treatment
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Choice, Field, button, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.common.shared import sheets_words


class TreatmentGroup(Group):
    """Chooses, names and makes treatments for all selected sheets."""

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("Treatment"))
        self._desk = desk
        self._bound = Bindings(
            desk,
            self._sheets,
            lambda: sheets_words(desk.selection.sheets),
            at=lambda: desk.selection.sheets,
        )
        self._treatment: Choice[str] = self._bound.bind(
            Choice(say("Treatment")),
            lambda sheet: sheet.treatment,
            set_treatment,
            say("Gave {what} the treatment {value}"),
        )
        self._name = Field(say("Name of the treatment"))
        self._name.entered.connect(self._rename)
        tip = say("A treatment that begins with these choices")
        self.add(self._treatment)
        self.add(row(self._name, button(say("New"), self._add, tip=tip)))
        self.add(self._make_differing())
        tip = say("Its sheets share another one, and stay as they are")
        self._remove = button(say("Remove"), self._remove_shown, tip=tip)
        self._clear = button(
            say("Remove unused"), self._remove_unused, tip=say("No sheet shares it")
        )
        self.add(row(self._remove, self._clear, None))

    def _make_differing(self) -> QWidget:
        self._share = button(
            say("For all that share it"),
            self._share_differences,
            tip=say("Make what this sheet has of its own a part of its treatment"),
        )
        follow = button(
            say("Follow it"),
            self._drop_differences,
            tip=say("As the treatment says, in every point"),
        )
        self._differing_row = QWidget()
        self._differing_row.setLayout(row(self._share, follow, None))
        return self._differing_row

    def refresh(self) -> None:
        """Show the treatment of the selected sheets."""
        sheets, project = self._sheets(), self._desk.project
        name = common(sheet.treatment for sheet in sheets)
        self._treatment.offer({one.name: one.name for one in project.treatments})
        self._bound.show()
        self._treatment.show_value(name, "" if sheets else " ")
        self._name.show_value(name)
        self._name.setEnabled(name is not None)
        shared = sum(sheet.treatment == name for sheet in project.sheets)
        self.aside.setText(
            say("shared by {what}", what=counted(shared, "sheet", "sheets")) if name else ""
        )
        self._remove.setEnabled(name is not None and len(project.treatments) > 1)
        self._clear.setVisible(bool(unused_treatments(project)))
        self._show_differing(sheets)

    def _show_differing(self, sheets: list[Sheet]) -> None:
        differing = [(s.name, points) for s in sheets if (points := differing_points(s))]
        self._share.setEnabled(len(sheets) == 1)
        self._differing_row.setVisible(bool(differing))
        if not differing:
            name = common(sheet.treatment for sheet in sheets)
            self.result.tell(self._explained(name) if name else "")
            return
        who, points = differing[0]
        told = say("{name} differs in {points}.", name=who, points=say(" and ").join(points))
        self.result.tell(told, True)

    def _explained(self, name: str) -> str:
        return say(
            "What sheets share under a name, changed for all of them at once: {all}",
            all=treatment_words(find_treatment(self._desk.project, name)),
        )

    def _sheets(self) -> list[Sheet]:
        return self._desk.selection.chosen(self._desk.project)

    def _rename(self, wanted: str) -> None:
        name = common(sheet.treatment for sheet in self._sheets())
        if name is not None:
            words = say("Called the treatment {name}", name=wanted)
            if not self._desk.do(words, lambda p: rename_treatment(p, name, wanted)):
                self.refresh()

    def _add(self) -> None:
        sheets = self._desk.selection.sheets
        base = common(sheet.treatment for sheet in self._sheets()) or say("Treatment")
        words = say("Made a treatment for {what}", what=sheets_words(sheets))
        self._desk.do(words, lambda p: add_treatment(p, base, sheets)[0])

    def _remove_shown(self) -> None:
        name = common(sheet.treatment for sheet in self._sheets())
        if name is not None:
            words = say("Removed the treatment {name}", name=name)
            self._desk.do(words, lambda p: remove_treatment(p, name))

    def _remove_unused(self) -> None:
        def edit(project: Project) -> Project:
            return reduce(remove_treatment, unused_treatments(project), project)

        self._desk.do(say("Removed treatments that no sheet shared"), edit)

    def _share_differences(self) -> None:
        sheet = self._sheets()[0]
        words = say("Changed the treatment {name}", name=sheet.treatment)
        self._desk.do(words, lambda p: share_differences(p, sheet.name))

    def _drop_differences(self) -> None:
        sheets = self._desk.selection.sheets
        words = say("Let {what} follow their treatments", what=sheets_words(sheets))
        self._desk.do(words, lambda p: drop_differences(p, sheets))
