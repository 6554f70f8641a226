"""Gauge: size, pivot and look."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QApplication, QGridLayout, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.pivots import (
    ANCHORS,
    anchored,
    copy_pivot,
    set_anchor,
    set_pivot,
    stand_on_feet,
)
from rushweed.core.gauge.treating import (
    differing_points,
    set_filter,
    set_pixels_per_unit,
    set_treatment,
    treatment_of,
)
from rushweed.core.gauge.units import figure, size_sentence
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Filter
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_plumb_line, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.shell.controls import Chips, Choice, Field, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.station import Station
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.line_up import LineUp
from rushweed.ui.stations.shared import common, sheets_words
from rushweed.ui.stations.sheet_canvas import SheetCanvas
from rushweed.ui.text import counted, tr

FILTERS: dict[str, Filter] = {"Nearest": "nearest", "Linear": "linear"}


class Gauge(Station):
    """Line-up and pivots; every choice holds for all that is selected."""

    faces = ("Line-up", "Pivots")

    def make_table(self, face: int) -> QWidget:
        if face == 0:
            self._line_up = LineUp(self.services)
            return self._line_up
        self._canvas = SheetCanvas(self.services)
        self._canvas.cuts = True
        self._canvas.numbers = False
        self._canvas.tags = False
        self._canvas.paint_over = self._paint_pivots
        self._canvas.tool = self._press
        return self._canvas

    def make_tools(self, face: int) -> QWidget:
        if face == 0:
            self._note = label(tr("One of each sheet, in units"), "caption")
            return tools_row(self._note)
        return tools_row(ZoomChips(self._canvas, (2, 5, 8, 12)))

    def make_slip(self, face: int) -> QWidget:
        head = SelectionHead()
        if face == 0:
            self._sheet_head = head
            return SlipPage(
                [self._make_size(), self._make_step(), self._make_look(), self._make_treatment()],
                head,
            )
        self._piece_head = head
        return SlipPage([self._make_anchor(), self._make_place(), self._make_copies()], head)

    def canvas(self) -> Canvas | None:
        return self._canvas if self.face == 1 else None

    def refresh(self) -> None:
        if self.face == 0:
            self._line_up.refresh()
            self._show_sheets()
        else:
            self._canvas.refresh()
            self._show_pivots()

    def change(self, before: Project, after: Project) -> None:
        if before is not after:
            self.refresh()

    # -- size and look -------------------------------------------------------------

    def _make_size(self) -> Group:
        group = self._size_group = Group(1, tr("Pixels per unit"))
        self._number = Stepper(tr("Pixels per unit"), tr("px"), 1, 4096, width=100)
        self._number.stepped.connect(self._set_number)
        self._usual = button("", self._use_usual, tip=tr("As the ground rules say"))
        group.add(row(self._number, self._usual, label(tr("ground rules"), "caption"), None))
        return group

    def _make_step(self) -> Group:
        group = Group(2, tr("Step that keeps to the pixels"))
        self._step = Field(tr("Step"))
        self._step.setReadOnly(True)
        self._step.setFixedWidth(168)
        copy = button(tr("Copy"), self._copy_step, tip=tr("Copy the number"))
        group.add(row(self._step, copy, None))
        return group

    def _make_look(self) -> Group:
        group = self._look_group = Group(3, tr("Filtering"))
        self._filter = Chips(list(FILTERS), name=tr("Filtering"))
        self._filter.chosen.connect(self._set_filter)
        group.add(row(self._filter, None))
        return group

    def _make_treatment(self) -> Group:
        group = self._treatment_group = Group(4, tr("Treatment"))
        self._treatment = Choice(tr("Treatment"))
        self._treatment.picked.connect(self._set_treatment)
        group.add(self._treatment)
        return group

    def _sheets(self) -> list[Sheet]:
        return self.selection.chosen(self.project)

    def _show_sheets(self) -> None:
        sheets = self._sheets()
        self._sheet_head.tell(
            counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets)
        )
        treatments = [treatment_of(self.project, sheet) for sheet in sheets]
        usual = self.project.rules.pixels_per_unit
        number = common(t.pixels_per_unit for t in treatments)
        self._number.show_value(number)
        self._usual.setText(tr("Use {n}").format(n=usual))
        self._usual.setEnabled(bool(sheets) and number != usual)
        warns = number is not None and number != usual
        sentence = size_sentence(self.project, number) if number else ""
        if warns and number is not None:
            size = tr("larger") if number < usual else tr("smaller")
            sentence = tr(
                "At {n} its pixels are {size} than the ground rules'. "
                "A smaller number makes a larger picture."
            ).format(n=number, size=size)
        self._size_group.result.tell(sentence, warns)
        self._step.show_text(
            f"1 / {number} = {figure(1 / number, 5)} units" if number else tr("differs")
        )
        choice = common(t.filter for t in treatments)
        self._filter.show_choice(next((n for n, f in FILTERS.items() if f == choice), ""))
        sentences = {
            "nearest": tr("Every drawn pixel keeps its edges."),
            "linear": tr("Pixels melt into each other: right for painted art."),
        }
        self._look_group.result.tell(sentences.get(choice or "", ""))
        self._show_treatment(sheets)

    def _show_treatment(self, sheets: list[Sheet]) -> None:
        names = [treatment.name for treatment in self.project.treatments]
        name = common(sheet.treatment for sheet in sheets)
        self._treatment.show_choices(names, name or (tr("differs") if sheets else ""))
        shared = sum(sheet.treatment == name for sheet in self.project.sheets)
        self._treatment_group.aside.setText(
            tr("shared by {what}").format(what=counted(shared, "sheet", "sheets")) if name else ""
        )
        differing = [(s.name, differing_points(s)) for s in sheets if differing_points(s)]
        if differing:
            who, points = differing[0]
            self._treatment_group.result.tell(
                tr("{name} differs in {points}.").format(name=who, points=tr(" and ").join(points)),
                True,
            )
        else:
            self._treatment_group.result.tell("")

    def _set_number(self, value: float) -> None:
        sheets = self.selection.sheets
        words = tr("Set {what} to {n} px per unit").format(what=sheets_words(sheets), n=int(value))
        self.desk.do(words, lambda p: set_pixels_per_unit(p, sheets, int(value)))

    def _use_usual(self) -> None:
        self._set_number(self.project.rules.pixels_per_unit)

    def _set_filter(self, text: str) -> None:
        sheets = self.selection.sheets
        words = tr("Set {what} to {filter} filtering").format(
            what=sheets_words(sheets), filter=text.lower()
        )
        self.desk.do(words, lambda p: set_filter(p, sheets, FILTERS[text]))

    def _set_treatment(self, name: str) -> None:
        sheets = self.selection.sheets
        words = tr("Gave {what} the treatment {name}").format(what=sheets_words(sheets), name=name)
        self.desk.do(words, lambda p: set_treatment(p, sheets, name))

    def _copy_step(self) -> None:
        clipboard = QApplication.clipboard()
        numbers = [treatment_of(self.project, sheet).pixels_per_unit for sheet in self._sheets()]
        if clipboard is not None and numbers:
            clipboard.setText(figure(1 / numbers[0], 6))

    # -- pivots ----------------------------------------------------------------------

    def _make_anchor(self) -> Group:
        group = self._anchor_group = Group(1, tr("Pivot"))
        grid = QGridLayout()
        grid.setSpacing(3)
        self._anchors = {}
        for index, name in enumerate(ANCHORS):
            anchor = _Anchor(name)
            anchor.clicked.connect(partial(self._set_anchor, name))
            grid.addWidget(anchor, index // 3, index % 3)
            self._anchors[name] = anchor
        holder = QWidget()
        holder.setLayout(grid)
        grid.setContentsMargins(0, 0, 0, 0)
        group.add(row(holder, None))
        return group

    def _make_place(self) -> Group:
        group = Group(2, tr("In whole pixels"))
        group.aside.setText(tr("from top left"))
        self._x = Stepper(tr("Pivot across"), tr("px"), -4096, 4096)
        self._y = Stepper(tr("Pivot down"), tr("px"), -4096, 4096)
        self._x.stepped.connect(lambda value: self._set_pivot(x=value))
        self._y.stepped.connect(lambda value: self._set_pivot(y=value))
        group.add(row(label(tr("Across")), None, self._x))
        group.add(row(label(tr("Down")), None, self._y))
        self._pivot_result = group.result
        return group

    def _make_copies(self) -> Group:
        group = Group(3, tr("For many"))
        feet = button(
            tr("By the feet of each"),
            self._stand_on_feet,
            tip=tr("Each pivot below the lowest pixel of its piece"),
        )
        self._to_animation = button(
            tr("To its animation"),
            partial(self._copy_pivot, True),
            tip=tr("The pivot of the selected piece for all frames"),
        )
        self._to_sheet = button(
            tr("To the sheet"),
            partial(self._copy_pivot, False),
            tip=tr("The pivot of the selected piece for all pieces of the sheet"),
        )
        group.add(row(feet, None))
        group.add(row(self._to_animation, self._to_sheet, None))
        return group

    def _stand_on_feet(self) -> None:
        sheet, numbers = self._canvas.sheet, self._numbers()
        if sheet is None:
            return
        what = counted(len(numbers), "piece", "pieces")
        words = tr("Stood {what} on their feet").format(what=what)
        mask = solid(self.desk.art.picture(sheet))
        self.desk.do(words, lambda p: stand_on_feet(p, sheet.name, numbers, mask))

    def _copy_pivot(self, to_animation: bool) -> None:
        """Copy the pivot of the selected piece to its animations, or to the whole sheet."""
        sheet, chosen = self._canvas.sheet, self._canvas.selected_pieces()
        if sheet is None or len(chosen) != 1:
            return
        number = chosen[0].number
        numbers = frozenset(piece.number for piece in sheet.pieces)
        if to_animation:
            playing = [a.frames for a in sheet.animations if number in a.frames]
            numbers = frozenset(frame for frames in playing for frame in frames)
        what = counted(len(numbers), "piece", "pieces")
        words = tr("Copied a pivot to {what}").format(what=what)
        self.desk.do(words, lambda p: copy_pivot(p, number, numbers))

    def _pieces(self) -> list[Piece]:
        """The selected pieces, else all of the sheet that is shown."""
        selected = self._canvas.selected_pieces()
        return selected or list(self._canvas.sheet.pieces if self._canvas.sheet else ())

    def _numbers(self) -> frozenset[int]:
        chosen = self.selection.pieces
        return chosen or frozenset(piece.number for piece in self._pieces())

    def _show_pivots(self) -> None:
        pieces = self._pieces()
        count = counted(len(pieces), "piece", "pieces")
        chosen = self._canvas.selected_pieces()
        sheet = self._canvas.sheet
        names = ", ".join(shown_name(sheet, piece) for piece in chosen[:3]) if sheet else ""
        self._piece_head.tell(count, names or tr("all of the sheet"))
        self._x.show_value(common(p.pivot.x for p in pieces))
        self._y.show_value(common(p.pivot.y for p in pieces))
        for name, anchor in self._anchors.items():
            anchor.setChecked(bool(pieces) and all(p.pivot == anchored(p, name) for p in pieces))
        self._to_sheet.setEnabled(len(chosen) == 1)
        animations = sheet.animations if sheet and len(chosen) == 1 else ()
        self._to_animation.setEnabled(any(chosen[0].number in a.frames for a in animations))
        sizes = {p.rect.size for p in pieces}
        differs = len({p.pivot for p in pieces}) > 1 and len(sizes) == 1
        self._pivot_result.tell(
            tr("Pivots differ: frames will jump as they play.") if differs else "", True
        )

    def _set_anchor(self, name: str) -> None:
        numbers = self._numbers()
        words = tr("Put the pivot of {what} at {anchor}").format(
            what=counted(len(numbers), "piece", "pieces"), anchor=name.lower()
        )
        self.desk.do(words, lambda p: set_anchor(p, numbers, name))

    def _set_pivot(self, x: float | None = None, y: float | None = None) -> None:
        numbers = self._numbers()
        words = tr("Moved the pivot of {what}").format(
            what=counted(len(numbers), "piece", "pieces")
        )
        self.desk.do(words, lambda p: set_pivot(p, numbers, x, y))

    def _press(self, press: Pointer) -> Stroke | None:
        """On a selected piece a drag moves the pivots of all that is selected; else select."""
        here = self._canvas.piece_at(press.place)
        if here is None or here.number not in self.selection.pieces or press.ctrl or press.shift:
            return self._canvas.select_tool(press)
        return self._drag_pivot(press, here)

    def _drag_pivot(self, press: Pointer, piece: Piece) -> Stroke:
        numbers = self.selection.pieces
        drag = self.desk.drag(
            tr("Moved the pivot of {what}").format(what=counted(len(numbers), "piece", "pieces"))
        )
        try:
            while True:
                event = yield
                place = Point(event.corner.x - piece.rect.x, event.corner.y - piece.rect.y)
                if event.corner != press.corner or event.released:
                    drag.to(partial(set_pivot, numbers=numbers, x=place.x, y=place.y))
                if event.released:
                    drag.end()
                    return
        finally:
            self.desk.abandon_drag()

    def _paint_pivots(self, painter: QPainter) -> None:
        canvas = self._canvas
        pieces = canvas.selected_pieces()
        if len(pieces) > 60 or canvas.view.scale < 1:
            pieces = pieces[:1]
        for piece in pieces:
            place = canvas.view.to_screen(
                piece.rect.x + piece.pivot.x, piece.rect.y + piece.pivot.y
            )
            top = canvas.view.to_screen(piece.rect.x, piece.rect.y).y
            head = min(top, place.y)
            draw_plumb_line(painter, place.x, head - 26, head - 3, place.y)
        if len(pieces) == 1:
            piece = pieces[0]
            place = canvas.view.to_screen(
                piece.rect.x + piece.pivot.x, piece.rect.y + piece.pivot.y
            )
            text = tr("pivot at {x}, {y}").format(x=figure(piece.pivot.x), y=figure(piece.pivot.y))
            draw_tag(painter, place.x + 18, place.y + 6, text, MARKS.paper, MARKS.ink, MARKS.ink)


class _Anchor(QAbstractButton):
    """One of nine places of a piece."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setFixedSize(28, 24)
        self.setAccessibleName(name)
        self.setToolTip(name)
        self._place = ANCHORS[name]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = self.isChecked()
        strong = on or self.hasFocus() or self.underMouse()
        painter.setPen(QPen(colours.tide if strong else colours.strong_line, 1))
        painter.setBrush(colours.tide_wash if on else colours.field)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        frame = QRectF(8, 6, 12, 12)
        painter.setPen(QPen(colours.line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(frame)
        x, y = frame.left() + 12 * self._place[0], frame.top() + 12 * self._place[1]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colours.tide if on else colours.ink)
        painter.drawEllipse(QPointF(x, y), 2.6, 2.6)
        painter.end()
