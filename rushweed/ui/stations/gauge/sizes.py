"""The Line-up face: how large sheets are in the world, and which treatment they share."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QWidget

from rushweed.core.gauge.agreeing import (
    Agreement,
    agreements,
    height_sentence,
    make_agree,
    set_standing_height,
    standing_height,
)
from rushweed.core.gauge.treating import (
    add_treatment,
    differing_points,
    drop_differences,
    remove_treatment,
    rename_treatment,
    set_pixels_per_unit,
    set_treatment,
    share_differences,
    treatment_of,
)
from rushweed.core.gauge.units import figure, size_sentence
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import counted, say
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Choice, Field, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.gauge.line_up import LineUp

LONGEST_NAME = 150
NUMBER = "number"


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
        self._sheet_head = SelectionHead()
        self._bound = Bindings(self.desk, self.sheets, lambda: sheets_words(self.selection.sheets))
        groups = [self._make_size(), self._make_step(), self._make_treatment()]
        self.slip = SlipPage(groups, self._sheet_head)

    def refresh(self) -> None:
        self.line_up.refresh()
        names = {s.name: s.name for s in self.project.sheets if s.pieces}
        self._reference.offer({"": say("nobody")} | names)
        self._reference.show_value(self.line_up.reference)
        self._show_sheets()

    def _set_reference(self, name: str) -> None:
        self.line_up.reference = name
        self.line_up.refresh()

    def _make_size(self) -> Group:
        group = self._size_group = Group(1, say("Pixels per unit"))
        number = self._bound.bind(
            Stepper(say("Pixels per unit"), say("px"), 1, 4096, width=100),
            lambda sheet: treatment_of(self.project, sheet).pixels_per_unit,
            lambda project, value: set_pixels_per_unit(project, self.selection.sheets, value),
            say("Set {what} to {value} px per unit"),
        )
        high = self._bound.bind(
            Stepper(say("Height of its first piece"), say("units"), 0.05, 999, 0.25, False, 132),
            lambda sheet: standing_height(self.project, sheet),
            lambda project, value: set_standing_height(project, self.selection.sheets, value),
            say("Stood {what} about {value} units high"),
        )
        self._usual = button("", self._use_usual, tip=say("As the ground rules say"))
        group.add(row(number, self._usual, label(say("ground rules"), "caption"), None))
        group.add(row(label(say("Stands high")), None, high))
        self._agree = button(say("Make them agree"), self._make_agree)
        self._agree_row = QWidget()
        self._agree_row.setLayout(row(self._agree, None))
        group.add(self._agree_row)
        return group

    def _make_step(self) -> Group:
        group = Group(2, say("Step that keeps to the pixels"))
        self._step = Field(say("Step"))
        self._step.setReadOnly(True)
        self._step.setFixedWidth(168)
        self._form: Choice[str] = Choice(say("Form of the step"), 118)
        copy = button(say("Copy"), self._copy_step, tip=say("Copy the step in that form"))
        group.add(row(self._step, None))
        group.add(row(self._form, copy, None))
        return group

    def _make_treatment(self) -> Group:
        group = self._treatment_group = Group(3, say("Treatment"))
        treatment: Choice[str] = Choice(say("Treatment"))
        self._treatment = self._bound.bind(
            treatment,
            lambda sheet: sheet.treatment,
            lambda project, name: set_treatment(project, self.selection.sheets, name),
            say("Gave {what} the treatment {value}"),
        )
        group.add(self._treatment)
        self._name = Field(say("Name of the treatment"))
        self._name.entered.connect(self._rename)
        self._share = button(
            say("For all that share it"),
            self._share_differences,
            tip=say("Make what this sheet has of its own a part of its treatment"),
        )
        self._follow = button(
            say("Follow it"),
            self._drop_differences,
            tip=say("As the treatment says, in every point"),
        )
        new = button(
            say("New"), self._add_treatment, tip=say("A treatment that begins with these choices")
        )
        self._remove = button("", self._remove_treatment, "quiet", say("No sheet shares it"))
        self._differing_row = QWidget()
        self._differing_row.setLayout(row(self._share, self._follow, None))
        group.add(row(self._name, new))
        group.add(self._differing_row)
        group.add(row(self._remove, None))
        return group

    def _show_sheets(self) -> None:
        sheets = self.sheets()
        self._sheet_head.tell(
            counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets)
        )
        treatments = [treatment_of(self.project, sheet) for sheet in sheets]
        usual = self.project.rules.pixels_per_unit
        number = common(t.pixels_per_unit for t in treatments)
        self._bound.show()
        self._usual.setText(say("Use {n}", n=usual))
        self._usual.setEnabled(bool(sheets) and number != usual)
        warns = number is not None and number != usual
        sentence = size_sentence(self.project, number) if number else ""
        sentence = f"{sentence} {height_sentence(self.project, sheets)}".strip()
        if warns and number is not None:
            size = say("larger") if number < usual else say("smaller")
            sentence = say(
                "At {n} its pixels are {size} than the ground rules'. "
                "A smaller number makes a larger picture.",
                n=number,
                size=size,
            )
        self._size_group.result.tell(sentence, warns)
        self._show_agreement(sheets)
        self._step.show_value(
            say("1 / {number} = {figure} units", number=number, figure=figure(1 / number, 5))
            if number
            else say("differs")
        )
        form = self._form.value or NUMBER
        self._form.offer(_steps_of(number or usual))
        self._form.show_value(form)
        self._show_treatment(sheets)

    def _agreements(self) -> list[Agreement]:
        """What would bring the selected sheets to one pixel size; all, where only one is."""
        sheets = self.sheets()
        return agreements(self.project, sheets if len(sheets) > 1 else list(self.project.sheets))

    def _show_agreement(self, sheets: list[Sheet]) -> None:
        found = self._agreements()
        self._agree_row.setVisible(bool(found))
        self._agree.setText(say("Make {what} agree", what=counted(len(found), "sheet", "sheets")))
        self._agree.setToolTip("\n".join(agreement.words for agreement in found[:12]))

    def _make_agree(self) -> None:
        found = self._agreements()
        what = found[0].words if len(found) == 1 else counted(len(found), "sheet", "sheets")
        words = say("Made pixels agree: {what}", what=what)
        self.desk.do(words, lambda p: make_agree(p, found))

    def _show_treatment(self, sheets: list[Sheet]) -> None:
        names = [treatment.name for treatment in self.project.treatments]
        name = common(sheet.treatment for sheet in sheets)
        self._treatment.offer({name: name for name in names})
        self._treatment.show_value(name, "" if sheets else " ")
        self._name.show_value(name)
        self._name.setEnabled(name is not None)
        shared = sum(sheet.treatment == name for sheet in self.project.sheets)
        self._treatment_group.aside.setText(
            say("shared by {what}", what=counted(shared, "sheet", "sheets")) if name else ""
        )
        self._share.setEnabled(len(sheets) == 1)
        unused = [n for n in names if all(s.treatment != n for s in self.project.sheets)]
        self._remove.setVisible(bool(unused))
        if unused:
            shown = self._remove.fontMetrics().elidedText(
                unused[0], Qt.TextElideMode.ElideMiddle, LONGEST_NAME
            )
            self._remove.setText(say("Remove {name}", name=shown))
            self._remove.setAccessibleName(self._remove.text())
        self._unused = unused
        self._differing_row.setVisible(any(differing_points(s) for s in sheets))
        differing = [(s.name, differing_points(s)) for s in sheets if differing_points(s)]
        if differing:
            who, points = differing[0]
            self._treatment_group.result.tell(
                say("{name} differs in {points}.", name=who, points=say(" and ").join(points)),
                True,
            )
        else:
            self._treatment_group.result.tell("")

    def _use_usual(self) -> None:
        sheets, usual = self.selection.sheets, self.project.rules.pixels_per_unit
        words = say("Set {what} to {n} px per unit", what=sheets_words(sheets), n=usual)
        self.desk.do(words, lambda p: set_pixels_per_unit(p, sheets, usual))

    def _rename(self, wanted: str) -> None:
        name = common(sheet.treatment for sheet in self.sheets())
        if name is not None:
            words = say("Called the treatment {name}", name=wanted)
            if not self.desk.do(words, lambda p: rename_treatment(p, name, wanted)):
                self.refresh()

    def _add_treatment(self) -> None:
        sheets = self.selection.sheets
        base = common(sheet.treatment for sheet in self.sheets()) or say("Treatment")
        words = say("Made a treatment for {what}", what=sheets_words(sheets))
        self.desk.do(words, lambda p: add_treatment(p, base, sheets)[0])

    def _remove_treatment(self) -> None:
        if self._unused:
            name = self._unused[0]
            words = say("Removed the treatment {name}", name=name)
            self.desk.do(words, lambda p: remove_treatment(p, name))

    def _share_differences(self) -> None:
        sheet = self.sheets()[0]
        words = say("Changed the treatment {name}", name=sheet.treatment)
        self.desk.do(words, lambda p: share_differences(p, sheet.name))

    def _drop_differences(self) -> None:
        sheets = self.selection.sheets
        words = say("Let {what} follow their treatments", what=sheets_words(sheets))
        self.desk.do(words, lambda p: drop_differences(p, sheets))

    def _copy_step(self) -> None:
        clipboard = QApplication.clipboard()
        numbers = [treatment_of(self.project, sheet).pixels_per_unit for sheet in self.sheets()]
        if clipboard is not None and numbers:
            clipboard.setText(_steps_of(numbers[0])[self._form.value or NUMBER])


def _steps_of(pixels_per_unit: int) -> dict[str, str]:
    """The step that keeps to the pixels as code may have it: a number, one of single precision, or
    a fraction that is exact."""
    number = f"{1 / pixels_per_unit:.10g}"
    single = number if "." in number else f"{number}.0"
    return {NUMBER: number, "single": f"{single}f", "fraction": f"1.0 / {pixels_per_unit}"}
