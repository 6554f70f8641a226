"""How large the selected sheets are in the world, and the step that keeps to their pixels."""

from __future__ import annotations

from PyQt6.QtWidgets import QApplication, QWidget

from rushweed.core.gauge.agreeing import (
    Agreement,
    agreements,
    height_sentence,
    make_agree,
    set_standing_height,
    standing_height,
)
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.gauge.units import figure, size_sentence
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shared import sheets_words

NUMBER = "number"


class SizeGroup(Group):
    """Pixels per unit and height of all selected sheets, and what would make sheets agree."""

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("Pixels per unit"))
        self._desk = desk
        self._bound = Bindings(
            desk,
            self._sheets,
            lambda: sheets_words(desk.selection.sheets),
            at=lambda: desk.selection.sheets,
        )
        dense = self._bound.bind(
            Stepper(say("Pixels per unit"), say("px"), 1, 4096, width=100),
            lambda sheet: treatment_of(desk.project, sheet).pixels_per_unit,
            set_pixels_per_unit,
            say("Set {what} to {value} px per unit"),
        )
        high = self._bound.bind(
            Stepper(say("Height of its first piece"), say("units"), 0.05, 999, 0.25, False, 132),
            lambda sheet: standing_height(desk.project, sheet),
            set_standing_height,
            say("Stood {what} about {value} units high"),
        )
        self._usual = button("", self._use_usual, tip=say("As the ground rules say"))
        self.add(row(dense, self._usual, label(say("ground rules"), "caption"), None))
        self.add(row(label(say("Stands high")), None, high))
        self._agree = button(say("Make them agree"), self._make_agree)
        self._agree_row = QWidget()
        self._agree_row.setLayout(row(self._agree, None))
        self.add(self._agree_row)

    def refresh(self) -> None:
        """Show the sheets as they are."""
        sheets, project = self._sheets(), self._desk.project
        usual = project.rules.pixels_per_unit
        number = common(treatment_of(project, sheet).pixels_per_unit for sheet in sheets)
        self._bound.show()
        self._usual.setText(say("Use {n}", n=usual))
        self._usual.setEnabled(bool(sheets) and number != usual)
        self._tell(sheets, number, usual)
        found = self._agreements()
        self._agree_row.setVisible(bool(found))
        self._agree.setText(say("Make {what} agree", what=counted(len(found), "sheet", "sheets")))
        self._agree.setToolTip("\n".join(agreement.words for agreement in found[:12]))

    def _tell(self, sheets: list[Sheet], number: int | None, usual: int) -> None:
        if number is not None and number != usual:
            larger = say(
                "At {n} its pixels are larger than the ground rules'. A smaller number makes a "
                "larger picture.",
                n=number,
            )
            smaller = say(
                "At {n} its pixels are smaller than the ground rules'. A smaller number makes a "
                "larger picture.",
                n=number,
            )
            self.result.tell(larger if number < usual else smaller, warns=True)
            return
        sentence = size_sentence(self._desk.project, number) if number else ""
        self.result.tell(f"{sentence} {height_sentence(self._desk.project, sheets)}".strip())

    def _sheets(self) -> list[Sheet]:
        return self._desk.selection.chosen(self._desk.project)

    def _agreements(self) -> list[Agreement]:
        """What would bring the selected sheets to one pixel size; all, where only one is."""
        sheets, project = self._sheets(), self._desk.project
        return agreements(project, sheets if len(sheets) > 1 else list(project.sheets))

    def _make_agree(self) -> None:
        found = self._agreements()
        what = found[0].words if len(found) == 1 else counted(len(found), "sheet", "sheets")
        words = say("Made pixels agree: {what}", what=what)
        self._desk.do(words, lambda project: make_agree(project, found))

    def _use_usual(self) -> None:
        sheets, usual = self._desk.selection.sheets, self._desk.project.rules.pixels_per_unit
        words = say("Set {what} to {n} px per unit", what=sheets_words(sheets), n=usual)
        self._desk.do(words, lambda project: set_pixels_per_unit(project, sheets, usual))


class StepGroup(Group):
    """One pixel in units, as code wants it."""

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("Step that keeps to the pixels"))
        self._desk = desk
        self.step = Field(say("Step"))
        self.step.setReadOnly(True)
        self.step.setFixedWidth(190)
        self._form: Choice[str] = Choice(say("Form of the step"), 118)
        self._copies = button(say("Copy"), self._copy, tip=say("Copy the step in that form"))
        self.add(row(self.step, None))
        self.add(row(self._form, self._copies, None))

    def refresh(self) -> None:
        """Show the step of the selected sheets."""
        numbers = self._numbers()
        number = common(numbers)
        self.result.tell("")
        self._copies.setEnabled(number is not None)
        self.step.show_value(
            say("1 / {number} = {figure} units", number=number, figure=figure(1 / number, 5))
            if number
            else say("differs")
            if numbers
            else ""
        )
        form = self._form.value or NUMBER
        self._form.offer(_steps_of(number or self._desk.project.rules.pixels_per_unit))
        self._form.show_value(form)

    def _numbers(self) -> list[int]:
        """Pixels per unit of each selected sheet."""
        project = self._desk.project
        chosen = self._desk.selection.chosen(project)
        return [treatment_of(project, sheet).pixels_per_unit for sheet in chosen]

    def _copy(self) -> None:
        clipboard, number = QApplication.clipboard(), common(self._numbers())
        if clipboard is not None and number is not None:
            text = _steps_of(number)[self._form.value or NUMBER]
            clipboard.setText(text)
            self.result.tell(say("Copied {text}.", text=text))


def _steps_of(pixels_per_unit: int) -> dict[str, str]:
    """The step that keeps to the pixels as code may have it: a number, one of single precision, or
    a fraction that is exact."""
    number = f"{1 / pixels_per_unit:.10g}"
    single = number if "." in number else f"{number}.0"
    return {NUMBER: number, "single": f"{single}f", "fraction": f"1.0 / {pixels_per_unit}"}
