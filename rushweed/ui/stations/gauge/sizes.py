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
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Choice, Field, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.station import Services
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.gauge.face import Face
from rushweed.ui.stations.gauge.line_up import LineUp
from rushweed.ui.text import counted, tr

LONGEST_NAME = 150
NUMBER = "number"


class SizesFace(Face):
    """Figures on one ground line; every choice holds for all sheets that are selected."""

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self.line_up = LineUp(services)
        self._reference: Choice[str] = Choice(tr("Stand beside"), 132)
        self._reference.entered.connect(self._set_reference)
        beside = label(tr("Always beside"), "caption")
        self.tools = tools_row(beside, self._reference, optional=(beside,))
        self._sheet_head = SelectionHead()
        self._bound = Bindings(self.desk, self.sheets, lambda: sheets_words(self.selection.sheets))
        groups = [self._make_size(), self._make_step(), self._make_treatment()]
        self.slip = SlipPage(groups, self._sheet_head)

    def refresh(self) -> None:
        self.line_up.refresh()
        names = {s.name: s.name for s in self.project.sheets if s.pieces}
        self._reference.offer({"": tr("nobody")} | names)
        self._reference.show_value(self.line_up.reference)
        self._show_sheets()

    def _set_reference(self, name: str) -> None:
        self.line_up.reference = name
        self.line_up.refresh()

    def _make_size(self) -> Group:
        group = self._size_group = Group(1, tr("Pixels per unit"))
        number = self._bound.bind(
            Stepper(tr("Pixels per unit"), tr("px"), 1, 4096, width=100),
            lambda sheet: treatment_of(self.project, sheet).pixels_per_unit,
            lambda project, value: set_pixels_per_unit(project, self.selection.sheets, value),
            tr("Set {what} to {value} px per unit"),
        )
        high = self._bound.bind(
            Stepper(tr("Height of its first piece"), tr("units"), 0.05, 999, 0.25, False, 132),
            lambda sheet: standing_height(self.project, sheet),
            lambda project, value: set_standing_height(project, self.selection.sheets, value),
            tr("Stood {what} about {value} units high"),
        )
        self._usual = button("", self._use_usual, tip=tr("As the ground rules say"))
        group.add(row(number, self._usual, label(tr("ground rules"), "caption"), None))
        group.add(row(label(tr("Stands high")), None, high))
        self._agree = button(tr("Make them agree"), self._make_agree)
        self._agree_row = QWidget()
        self._agree_row.setLayout(row(self._agree, None))
        group.add(self._agree_row)
        return group

    def _make_step(self) -> Group:
        group = Group(2, tr("Step that keeps to the pixels"))
        self._step = Field(tr("Step"))
        self._step.setReadOnly(True)
        self._step.setFixedWidth(168)
        self._form: Choice[str] = Choice(tr("Form of the step"), 118)
        copy = button(tr("Copy"), self._copy_step, tip=tr("Copy the step in that form"))
        group.add(row(self._step, None))
        group.add(row(self._form, copy, None))
        return group

    def _make_treatment(self) -> Group:
        group = self._treatment_group = Group(3, tr("Treatment"))
        treatment: Choice[str] = Choice(tr("Treatment"))
        self._treatment = self._bound.bind(
            treatment,
            lambda sheet: sheet.treatment,
            lambda project, name: set_treatment(project, self.selection.sheets, name),
            tr("Gave {what} the treatment {value}"),
        )
        group.add(self._treatment)
        self._name = Field(tr("Name of the treatment"))
        self._name.entered.connect(self._rename)
        self._share = button(
            tr("For all that share it"),
            self._share_differences,
            tip=tr("Make what this sheet has of its own a part of its treatment"),
        )
        self._follow = button(
            tr("Follow it"), self._drop_differences, tip=tr("As the treatment says, in every point")
        )
        new = button(
            tr("New"), self._add_treatment, tip=tr("A treatment that begins with these choices")
        )
        self._remove = button("", self._remove_treatment, "quiet", tr("No sheet shares it"))
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
        self._usual.setText(tr("Use {n}").format(n=usual))
        self._usual.setEnabled(bool(sheets) and number != usual)
        warns = number is not None and number != usual
        sentence = size_sentence(self.project, number) if number else ""
        sentence = f"{sentence} {height_sentence(self.project, sheets)}".strip()
        if warns and number is not None:
            size = tr("larger") if number < usual else tr("smaller")
            sentence = tr(
                "At {n} its pixels are {size} than the ground rules'. "
                "A smaller number makes a larger picture."
            ).format(n=number, size=size)
        self._size_group.result.tell(sentence, warns)
        self._show_agreement(sheets)
        self._step.show_value(
            f"1 / {number} = {figure(1 / number, 5)} units" if number else tr("differs")
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
        self._agree.setText(
            tr("Make {what} agree").format(what=counted(len(found), "sheet", "sheets"))
        )
        self._agree.setToolTip("\n".join(agreement.words for agreement in found[:12]))

    def _make_agree(self) -> None:
        found = self._agreements()
        what = found[0].words if len(found) == 1 else counted(len(found), "sheet", "sheets")
        words = tr("Made pixels agree: {what}").format(what=what)
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
            tr("shared by {what}").format(what=counted(shared, "sheet", "sheets")) if name else ""
        )
        self._share.setEnabled(len(sheets) == 1)
        unused = [n for n in names if all(s.treatment != n for s in self.project.sheets)]
        self._remove.setVisible(bool(unused))
        if unused:
            shown = self._remove.fontMetrics().elidedText(
                unused[0], Qt.TextElideMode.ElideMiddle, LONGEST_NAME
            )
            self._remove.setText(tr("Remove {name}").format(name=shown))
            self._remove.setAccessibleName(self._remove.text())
        self._unused = unused
        self._differing_row.setVisible(any(differing_points(s) for s in sheets))
        differing = [(s.name, differing_points(s)) for s in sheets if differing_points(s)]
        if differing:
            who, points = differing[0]
            self._treatment_group.result.tell(
                tr("{name} differs in {points}.").format(name=who, points=tr(" and ").join(points)),
                True,
            )
        else:
            self._treatment_group.result.tell("")

    def _use_usual(self) -> None:
        sheets, usual = self.selection.sheets, self.project.rules.pixels_per_unit
        words = tr("Set {what} to {n} px per unit").format(what=sheets_words(sheets), n=usual)
        self.desk.do(words, lambda p: set_pixels_per_unit(p, sheets, usual))

    def _rename(self, wanted: str) -> None:
        name = common(sheet.treatment for sheet in self.sheets())
        if name is not None:
            words = tr("Called the treatment {name}").format(name=wanted)
            if not self.desk.do(words, lambda p: rename_treatment(p, name, wanted)):
                self.refresh()

    def _add_treatment(self) -> None:
        sheets = self.selection.sheets
        base = common(sheet.treatment for sheet in self.sheets()) or tr("Treatment")
        words = tr("Made a treatment for {what}").format(what=sheets_words(sheets))
        self.desk.do(words, lambda p: add_treatment(p, base, sheets)[0])

    def _remove_treatment(self) -> None:
        if self._unused:
            name = self._unused[0]
            words = tr("Removed the treatment {name}").format(name=name)
            self.desk.do(words, lambda p: remove_treatment(p, name))

    def _share_differences(self) -> None:
        sheet = self.sheets()[0]
        words = tr("Changed the treatment {name}").format(name=sheet.treatment)
        self.desk.do(words, lambda p: share_differences(p, sheet.name))

    def _drop_differences(self) -> None:
        sheets = self.selection.sheets
        words = tr("Let {what} follow their treatments").format(what=sheets_words(sheets))
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
