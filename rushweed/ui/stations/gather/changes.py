"""Gather's Changes: a picture before and after it was saved outside, its pieces matched."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.matching import How
from rushweed.core.cut.naming import shown_name
from rushweed.core.cut.rereading import Reread, Step, joined, parted
from rushweed.core.values import Point, Rect
from rushweed.core.words import counted, say, say_of
from rushweed.ui.canvas.canvas import Canvas, draw_image
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_tag
from rushweed.ui.canvas.tools import Pointer
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.outside import WAYS
from rushweed.ui.shell.controls import button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.zoom import ZoomChips

GAP = 14
"""Room between the two pictures, in their pixels."""
SMALLEST = 4
"""Pieces narrower than this on the screen are not marked."""


@dataclass(frozen=True, slots=True, eq=False)
class _Pictures:
    """The two pictures of a change, and where the second one lies."""

    change: Reread
    before: QImage
    after: QImage
    shift: Point

    @property
    def content(self) -> Rect:
        first = Rect(0, 0, self.before.width(), self.before.height())
        return first.union(
            Rect(int(self.shift.x), int(self.shift.y), self.after.width(), self.after.height())
        )


class ChangesFace(Face):
    """The picture before and after, and a slip that takes it in."""

    name = say("Changes")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._pictures: _Pictures | None = None
        self._chosen: list[Step] = []
        self._only: How | None = None
        self.table = self._canvas = Canvas(self._paint)
        self._canvas.tool = self._pick
        self._canvas.setAccessibleName(say("The picture before and after"))
        self.tools = tools_row(ZoomChips(self._canvas))
        self.slip = self._make_slip()
        self.services.outside.found.connect(lambda changes: self.refresh())

    def _make_slip(self) -> SlipPage:
        self._head = SelectionHead()
        self._what = Group(1, say("What changed"))
        self._ways: dict[How, _Way] = {}
        for how, words in WAYS.items():
            self._ways[how] = way = _Way(how, say(words), partial(self._show_only, how))
            self._what.add(way)
        self._pair = Group(2, say("One piece"))
        self._apart = button(
            say("Not the same"), self._part, tip=say("It is gone; that is a new one")
        )
        self._together = button(say("They are the same"), self._join)
        self._pair.add(row(self._apart, self._together, None))
        self._take = Group(3, say("Take it in"))
        take_one = button(say("Take it in"), lambda: self._take_in(False), "main")
        self._take_all = button(say("Take all in"), lambda: self._take_in(True))
        self._take.add(row(take_one, self._take_all, None))
        return SlipPage([self._what, self._pair, self._take], self._head)

    def refresh(self) -> None:
        waiting = self.services.outside.waiting()
        wanted = self.services.desk.selection.sheets
        change = next((w for w in waiting if w.saved.sheet in wanted), None)
        change = change or (waiting[0] if waiting else None)
        if change is None:
            self._pictures = None
        elif self._pictures is None or self._pictures.change is not change:
            self._show(change)
        self._tell(change, len(waiting))
        self._canvas.update()

    def _show(self, change: Reread) -> None:
        known = self._pictures
        before, after = to_image(change.before), to_image(change.after)
        wide = before.width() > before.height() * 1.4
        shift = Point(0, before.height() + GAP) if wide else Point(before.width() + GAP, 0)
        self._pictures = _Pictures(change, before, after, shift)
        if known is None or known.change.saved is not change.saved:
            self._chosen, self._only = [], None
            self._canvas.show_content(self._pictures.content)
            self._canvas.fit()

    # -- the slip -------------------------------------------------------------------

    def _tell(self, change: Reread | None, count: int) -> None:
        for group in (self._what, self._pair, self._take):
            group.setEnabled(change is not None)
        self._take_all.setVisible(count > 1)
        if change is None:
            self._head.tell(say("Nothing waits"), "")
            for way in self._ways.values():
                way.show_count(0, False)
            for group in (self._what, self._pair, self._take):
                group.result.tell("")
            return
        names = change.saved.sheet
        self._head.tell(counted(count, "picture waits", "pictures wait"), names)
        for how, way in self._ways.items():
            way.show_count(change.count(how), how == self._only)
        self._what.aside.setText(
            say("{n} as they were", n=change.count("same")) if change.count("same") else ""
        )
        unknown = say("How it looked before is not known here, so places alone count.")
        self._what.result.tell("" if change.known else unknown, warns=True)
        self._tell_pair(change)
        gone = change.count("gone")
        kept = say("Names, pivots, shapes, animations and levels follow their pieces.")
        if gone:
            kept += " " + say_of(
                gone,
                "1 piece that is gone is kept as missing until you decide.",
                "{count} pieces that are gone are kept as missing until you decide.",
            )
        self._take.result.tell(kept, warns=bool(gone))

    def _tell_pair(self, change: Reread) -> None:
        steps = self._chosen
        apart = len(steps) == 1 and steps[0].old is not None and steps[0].new is not None
        together = len(steps) == 2 and steps[0].new is None and steps[1].old is None
        self._apart.setEnabled(apart)
        self._together.setEnabled(together)
        if not steps:
            text = say("Click a piece to see what became of it.")
        elif together:
            text = say(
                "{name} is gone, and this one is new. Or are they the same?",
                name=_name(change, steps[0]),
            )
        elif steps[0].new is None:
            text = say(
                "{name} is gone. Click a new one if that is what it became.",
                name=_name(change, steps[0]),
            )
        else:
            words = {"same": say("as it was"), **WAYS}[steps[0].how]
            text = f"{_name(change, steps[0])}: {say(words)}."
        self._pair.result.tell(text)

    def _show_only(self, how: How) -> None:
        self._only = None if self._only == how else how
        self.refresh()

    def _join(self) -> None:
        gone, new = self._chosen
        if self._pictures is not None and gone.old is not None and new.new is not None:
            self._correct(joined(self._pictures.change, gone.old.number, new.new.rect))

    def _part(self) -> None:
        step = self._chosen[0]
        if self._pictures is not None and step.old is not None:
            self._correct(parted(self._pictures.change, step.old.number))

    def _correct(self, change: Reread) -> None:
        self._chosen = []
        self.services.outside.change(change)

    def _take_in(self, everything: bool) -> None:
        if self._pictures is not None:
            waiting = self.services.outside.waiting()
            self.services.outside.take(waiting if everything else [self._pictures.change])

    # -- the table ------------------------------------------------------------------

    def _pick(self, press: Pointer) -> None:
        """Choose the piece that was clicked; a gone one and then a new one together."""
        pictures = self._pictures
        if pictures is None:
            return
        x, y = press.place
        shifted = (x - pictures.shift.x, y - pictures.shift.y)
        step = next((s for s in self._shown() if s.old and s.old.rect.contains(x, y)), None)
        step = step or next(
            (s for s in self._shown() if s.new and s.new.rect.contains(*shifted)), None
        )
        first = self._chosen[0] if self._chosen else None
        if step and first and first.new is None and step.how == "new":
            self._chosen = [first, step]
        else:
            self._chosen = [step] if step else []
        self.refresh()

    def _shown(self) -> list[Step]:
        """The steps that are marked."""
        assert self._pictures is not None
        return [s for s in self._pictures.change.steps if self._only in (None, s.how)]

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        pictures = self._pictures
        if pictures is None:
            self._paint_nothing(painter)
            return
        shift = pictures.shift
        titled = (
            (pictures.before, 0.0, 0.0, say("As it was")),
            (pictures.after, shift.x, shift.y, say("As it is now")),
        )
        for image, x, y, title in titled:
            place = canvas.to_screen(Rect(int(x), int(y), image.width(), image.height()))
            draw_checker(painter, place.intersected(QRectF(canvas.rect())))
            draw_image(painter, canvas, image, x, y)
            painter.setPen(QPen(MARKS.frame, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(place.adjusted(-0.5, -0.5, 0.5, 0.5))
            draw_tag(painter, place.left(), place.top() - 20, title, MARKS.paper, MARKS.ink)
        for step in self._shown():
            self._paint_step(painter, step)
        for step in self._chosen:
            self._paint_chosen(painter, step, len(self._chosen) == 1)

    def _paint_step(self, painter: QPainter, step: Step) -> None:
        if step.how == "same":
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for rect in self._places(step):
            inner = rect.adjusted(1.5, 1.5, -1.5, -1.5)
            if inner.width() < SMALLEST or not rect.intersects(QRectF(self._canvas.rect())):
                continue
            for shade, width in ((MARKS.paper, 3), (_colour(step.how), 1.4)):
                painter.setPen(QPen(shade, width))
                painter.drawRect(inner)
                if step.how == "gone":
                    painter.drawLine(inner.topLeft(), inner.bottomRight())
                    painter.drawLine(inner.bottomLeft(), inner.topRight())

    def _paint_chosen(self, painter: QPainter, step: Step, alone: bool) -> None:
        places = self._places(step)
        if len(places) == 2:
            line = QLineF(places[0].center(), places[1].center())
            for shade, width in ((MARKS.ink, 3), (MARKS.paper, 1)):
                painter.setPen(QPen(shade, width))
                painter.drawLine(line)
        for place in places:
            draw_brackets(painter, place.adjusted(1, 1, 0, 0), 11)
        if alone and self._pictures is not None:
            name = _name(self._pictures.change, step)
            draw_tag(painter, places[0].left(), places[0].top() - 20, name)

    def _places(self, step: Step) -> list[QRectF]:
        """Where a step's rectangles are on the screen: before, after."""
        assert self._pictures is not None
        shift = self._pictures.shift
        places = []
        if step.old is not None and step.how != "back":
            places.append(self._canvas.to_screen(step.old.rect))
        if step.new is not None:
            x, y, width, height = step.new.rect
            moved = Rect(x + int(shift.x), y + int(shift.y), width, height)
            places.append(self._canvas.to_screen(moved))
        return places

    def _paint_nothing(self, painter: QPainter) -> None:
        painter.setFont(font(BODY))
        painter.setPen(look.colours.soft_ink)
        text = say(
            "No picture was changed outside.\n"
            "When one is saved there, it lies here before and after, to be taken in."
        )
        painter.drawText(self._canvas.rect(), Qt.AlignmentFlag.AlignCenter, text)


class _Way(QWidget):
    """One way in which pieces changed: its colour, words and count; a click shows only those."""

    def __init__(self, how: How, words: str, show) -> None:  # type: ignore[no-untyped-def]
        super().__init__()
        self._how = how
        self._button = button(words, show, "quiet", tip=say("Show only these"))
        self._button.setCheckable(True)
        self._count = label("0")
        self.setLayout(row(20, self._button, None, self._count))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(QPen(_colour(self._how), 2))
        painter.setBrush(look.colours.field)
        painter.drawRect(QRectF(2, self.height() / 2 - 5, 10, 10))
        painter.end()

    def show_count(self, count: int, chosen: bool) -> None:
        self._count.setText(str(count))
        self._button.setChecked(chosen)
        self.setVisible(count > 0)


def _colour(how: How) -> QColor:
    colours: dict[How, QColor] = {
        "moved": MARKS.tide,
        "new": look.colours.rush,
        "back": look.colours.rush,
        "gone": look.colours.red,
    }
    return colours.get(how, MARKS.ochre)


def _name(change: Reread, step: Step) -> str:
    return shown_name(change.sheet, step.old) if step.old else say("new piece")
