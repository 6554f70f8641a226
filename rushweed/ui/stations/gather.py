"""Gather: sources and licences."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from dataclasses import asdict, replace
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QFrame,
    QPlainTextEdit,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import accept_all
from rushweed.core.cut.reshaping import LARGEST_FACTOR, Turn, set_enlarged, set_pixel, turn_sheets
from rushweed.core.gather.licences import duties
from rushweed.core.gather.relatives import release_relative
from rushweed.core.gather.solid import solid
from rushweed.core.gather.sources import set_colour_key, set_kind, set_licence
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Kind, Sheet
from rushweed.core.values import Colour, Refusal
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import READ_OUT, font
from rushweed.ui.look.icons import icon
from rushweed.ui.shell.controls import Choice, Field, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.station import Services, Station
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.cards import Cards
from rushweed.ui.stations.changes import Changes
from rushweed.ui.stations.shared import common, sheets_words
from rushweed.ui.text import counted, tr

KINDS: dict[str, Kind] = {
    "One picture": "picture",
    "Even sheet of frames": "sheet",
    "Tileset": "tileset",
    "Loose pieces": "loose",
}
NO_KEY = "none"
MANY, LARGE = 12, 4_000_000
"""More sheets, or more pixels, than this are taken as seen in the background."""


class Gather(Station):
    """Cards of all gathered pictures, and the credits they ask for."""

    faces = ("Sources", "Credits", "Changes")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._changes = Changes(services)
        services.outside.found.connect(lambda changes: self._refresh_changes())

    def make_table(self, face: int) -> QWidget:
        if face == 2:
            return self._changes.canvas
        return self._make_sources() if face == 0 else self._make_credits()

    def make_tools(self, face: int) -> QWidget | None:
        if face == 2:
            return tools_row(ZoomChips(self._changes.canvas))
        if face == 1:
            return None
        gather = button(tr("Open pictures"), self._ask, tip=tr("Gather pictures  Ctrl+G"))
        gather.setIcon(icon("open", look.colours.ink))
        self._scale = label("", "caption")
        return tools_row(self._scale, gather)

    def make_slip(self, face: int) -> QWidget:
        if face == 2:
            return self._changes.make_slip()
        if face == 1:
            return SlipPage([self._make_about_credits()])
        self._head = SelectionHead()
        makers = (self._make_kind, self._make_key, self._make_pixel, self._make_licence)
        self._groups = [make() for make in makers]
        return SlipPage(self._groups, self._head)

    def canvas(self) -> Canvas | None:
        return self._changes.canvas if self.face == 2 else None

    def refresh(self) -> None:
        if self.face == 2:
            self._changes.refresh()
            return
        if self.face == 1:
            from rushweed.core.bale.credits import credits_text

            self._credits.setPlainText(credits_text(self.project))
            self._show_missing()
            return
        self._pages.setCurrentIndex(1 if self.project.sheets else 0)
        self._cards.refresh()
        self._scale.setText(
            tr("All at ×{scale}, true to each other").format(scale=f"{self._cards.scale:g}")
        )
        self._show_sheets()

    def change(self, before: Project, after: Project) -> None:
        if before.sheets is not after.sheets:
            self.refresh()

    def _refresh_changes(self) -> None:
        if self.face == 2:
            self._changes.refresh()

    # -- faces ------------------------------------------------------------------

    def _make_sources(self) -> QWidget:
        self._cards = Cards(self.desk, self.services.images, self._accept)
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self._cards)
        self._pages = QStackedWidget()
        self._pages.addWidget(
            Invitation(
                tr("Drop pictures here, or open them."),
                tr("Sprite sheets, tilesets, folders of numbered frames: each becomes a sheet."),
                tr("Open pictures"),
                self._ask,
            )
        )
        self._pages.addWidget(area)
        return self._pages

    def _make_credits(self) -> QWidget:
        self._credits = QPlainTextEdit()
        self._credits.setReadOnly(True)
        self._credits.setFont(font())
        self._credits.setAccessibleName(tr("Credits"))
        holder = _Well()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(24, 20, 24, 20)
        layout.addWidget(self._credits)
        return holder

    def _make_about_credits(self) -> Group:
        group = Group(1, tr("Credits"))
        note = label(tr("Written beside every bundle\nas credits.txt."), "caption")
        group.add(note)
        self._missing = group.result
        return group

    def _show_missing(self) -> None:
        without = [sheet.name for sheet in self.project.sheets if not sheet.licence.identifier]
        if without:
            names = ", ".join(without[:3]) + (" …" if len(without) > 3 else "")
            self._missing.tell(tr("No licence yet: {names}.").format(names=names), warns=True)
        else:
            self._missing.tell(tr("Every sheet has its licence.") if self.project.sheets else "")

    # -- the slip -------------------------------------------------------------------

    def _make_kind(self) -> Group:
        group = Group(1, tr("What it is"))
        self._kind = Choice(tr("Kind of picture"))
        self._kind.picked.connect(self._set_kind)
        group.add(self._kind)
        self._as_seen = button(tr("Take all as seen"), self._accept_selected)
        self._alone = button(tr("Let it stand alone"), self._release)
        group.add(row(self._as_seen, self._alone, None))
        self._seen = group.result
        return group

    def _make_key(self) -> Group:
        group = self._key_group = Group(2, tr("What stands for nothing"))
        self._swatch = _Swatch()
        self._key = Field(tr("Colour that stands for nothing"), NO_KEY)
        self._key.setFixedWidth(84)
        self._key.finished.connect(self._set_key)
        self._tolerance = Stepper(tr("Tolerance"), tr("of 255"), 0, 255, width=110)
        self._tolerance.stepped.connect(self._set_tolerance)
        group.add(
            row(
                self._swatch,
                self._key,
                button(tr("Pick"), self._pick_key, tip=tr("Click the colour on a picture")),
                button(tr("None"), partial(self._set_key, "")),
                None,
            )
        )
        self._fringe = Stepper(tr("Fringe cleaned"), tr("px"), 0, 4, width=110)
        self._fringe.stepped.connect(self._set_fringe)
        group.add(row(label(tr("Tolerance")), None, self._tolerance))
        group.add(row(label(tr("Clean the fringe")), None, self._fringe))
        return group

    def _make_pixel(self) -> Group:
        group = Group(3, tr("Size and turn"))
        self._pixel = Stepper(tr("One drawn pixel"), tr("px"), 1, 64)
        self._pixel.stepped.connect(self._set_pixel)
        self._enlarged = Stepper(tr("Enlarge"), tr("times"), 1, LARGEST_FACTOR)
        self._enlarged.stepped.connect(self._set_enlarged)
        turns: tuple[tuple[Turn, str], ...] = (
            ("across", tr("Flip across")),
            ("down", tr("Flip down")),
            ("quarter", tr("Turn")),
        )
        group.add(row(label(tr("One drawn pixel is")), None, self._pixel))
        group.add(row(label(tr("Enlarge it")), None, self._enlarged))
        group.add(row(*(button(name, partial(self._turn, turn)) for turn, name in turns), None))
        self._pixel_result = group.result
        return group

    def _make_licence(self) -> Group:
        group = self._licence_group = Group(4, tr("Licence and credit"))
        self._licence: dict[str, Field] = {}
        for point, name, hint in (
            ("identifier", tr("Licence"), "CC-BY-4.0"),
            ("author", tr("Author"), ""),
            ("source", tr("Source"), ""),
            ("credit", tr("Credit"), ""),
        ):
            field = Field(name, hint)
            field.finished.connect(partial(self._set_licence, point, name))
            caption = label(name)
            caption.setFixedWidth(54)
            group.add(row(caption, field))
            self._licence[point] = field
        self._licence["credit"].setToolTip(tr("The very words of the credit, if it must be so"))
        group.beside_title(
            button(tr("For all"), self._license_all, "small", tr("This licence for every sheet"))
        )
        return group

    def _show_sheets(self) -> None:
        sheets = self._selected()
        self._head.tell(counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets))
        names = {kind: name for name, kind in KINDS.items()}
        kind = common(sheet.kind for sheet in sheets)
        told = names[kind] if kind else tr("differs") if sheets else ""
        if any(_waits(sheet) for sheet in sheets):
            told = tr("not said yet")
        self._kind.show_choices(list(KINDS), told)
        keys = {sheet.colour_key for sheet in sheets}
        key = next(iter(keys)) if len(keys) == 1 else None
        self._key_group.aside.setText(tr("differs") if len(keys) > 1 else "")
        self._swatch.show_colour(key.colour if key else None)
        self._key.show_text(None if len(keys) > 1 else key.colour.hex if key else "")
        self._tolerance.setEnabled(key is not None)
        self._tolerance.show_value(key.tolerance if key else 0)
        self._fringe.setEnabled(key is not None)
        self._fringe.show_value(key.fringe if key else 0)
        for group in self._groups:
            group.setEnabled(bool(sheets))
        self._pixel.show_value(common(sheet.pixel for sheet in sheets) if sheets else 1)
        self._enlarged.show_value(common(sheet.enlarged for sheet in sheets) if sheets else 1)
        self._tell_size(sheets)
        for point, field in self._licence.items():
            values = {getattr(sheet.licence, point) for sheet in sheets}
            field.show_text(None if len(values) > 1 else next(iter(values), ""))
        licences = {sheet.licence for sheet in sheets}
        self._licence_group.aside.setText(tr("differs") if len(licences) > 1 else "")
        asked = {text for licence in licences for text in duties(licence.identifier)}
        self._licence_group.result.tell(" ".join(sorted(asked)))
        waiting = [sheet.name for sheet in sheets if _waits(sheet)]
        belongs = common(sheet.belongs for sheet in sheets)
        self._as_seen.setVisible(bool(waiting))
        self._alone.setVisible(belongs is not None)
        told = tr("Not cut yet. Take it as seen, or open Cut.") if waiting else ""
        if belongs is not None:
            told = tr("It is cut as {what} is.").format(what=belongs.to)
        self._seen.tell(told, warns=bool(waiting))

    def _tell_size(self, sheets: list[Sheet]) -> None:
        """How large the one selected sheet is as it is cut, and whether hardware likes that."""
        if len(sheets) != 1:
            self._pixel_result.tell("")
            return
        size = sheets[0].size
        power = all(side & (side - 1) == 0 for side in size)
        tail = tr("powers of two") if power else tr("not powers of two")
        self._pixel_result.tell(f"{size} px, {tail}.")

    def _selected(self) -> list[Sheet]:
        return self.selection.chosen(self.project)

    # -- acts -----------------------------------------------------------------------

    def _ask(self) -> None:
        self.services.gather(self.services.dialogs.ask_pictures())

    def _accept(self, name: str) -> None:
        self._accept_all([name])

    def _accept_selected(self) -> None:
        waiting = [sheet.name for sheet in self._selected() if _waits(sheet)]
        self._accept_all(waiting)

    def _accept_all(self, names: list[str]) -> None:
        """Take sheets as they were seen, as one step of undo; many or large ones while the window
        goes on."""
        words = tr("Took {what} as seen").format(what=sheets_words(tuple(names)))
        before, art = self.project, self.desk.art

        def edit(project: Project) -> Project:
            return deque(accept_all(project, art, names), maxlen=1).pop()

        def work() -> Iterator[tuple[float, str, Project]]:
            for index, project in enumerate(accept_all(before, art, names)):
                yield index / (len(names) + 1), words, project

        def done(result: Project) -> None:
            self.desk.do(words, lambda project: result if project is before else edit(project))

        sizes = [before.sheet(name).size for name in names]
        if len(names) > MANY or sum(size.width * size.height for size in sizes) > LARGE:
            self.services.jobs.start(work, done)
        else:
            self.desk.do(words, edit)

    def _release(self) -> None:
        sheets = self.selection.sheets

        def edit(project: Project) -> Project:
            for name in sheets:
                project = release_relative(project, name)
            return project

        self.desk.do(tr("Let {what} stand alone").format(what=sheets_words(sheets)), edit)

    def _set_kind(self, text: str) -> None:
        sheets = self.selection.sheets
        words = tr("Set {what} to {kind}").format(what=sheets_words(sheets), kind=text.lower())
        self.desk.do(words, lambda p: set_kind(p, sheets, KINDS[text]))

    def _set_key(self, text: str) -> None:
        sheets = self.selection.sheets
        try:
            colour = Colour.parse(text) if text.strip() and text != NO_KEY else None
        except ValueError as problem:
            self.desk.refused.emit(str(problem))
            self._show_sheets()
            return
        what = colour.hex if colour else tr("nothing")
        words = tr("Made {colour} stand for nothing").format(colour=what)
        self.desk.do(words, lambda p: self._recut(set_colour_key(p, sheets, colour), sheets))

    def _pick_key(self) -> None:
        def told(sheet: str, colour: Colour) -> None:
            if sheet not in self.selection.sheets:
                self.desk.select(replace(self.selection, sheets=(sheet,), pieces=frozenset()))
            self._set_key(colour.hex)

        self._cards.pick_colour(told)

    def _set_tolerance(self, value: float) -> None:
        self._change_key(tr("Set the tolerance to {n}"), tolerance=int(value))

    def _set_fringe(self, value: float) -> None:
        self._change_key(tr("Cleaned a fringe of {n} px"), fringe=int(value))

    def _change_key(self, words: str, **points: int) -> None:
        sheets, key = self.selection.sheets, self._selected()[0].colour_key
        if key is None:
            return
        values = {"tolerance": key.tolerance, "fringe": key.fringe} | points
        self.desk.do(
            words.format(n=next(iter(points.values()))),
            lambda p: self._recut(set_colour_key(p, sheets, key.colour, **values), sheets),
        )

    def _set_pixel(self, value: float) -> None:
        sheets = self.selection.sheets
        words = tr("Drew {what} at {n} px a pixel").format(what=sheets_words(sheets), n=int(value))
        self.desk.do(words, lambda p: set_pixel(p, sheets, int(value)))

    def _set_enlarged(self, value: float) -> None:
        sheets = self.selection.sheets
        words = tr("Enlarged {what} {n} times").format(what=sheets_words(sheets), n=int(value))
        self.desk.do(words, lambda p: set_enlarged(p, sheets, int(value)))

    def _turn(self, turn: Turn) -> None:
        sheets = self.selection.sheets
        words = {"across": tr("Flipped {what} across"), "down": tr("Flipped {what} down")}
        text = words.get(turn, tr("Turned {what}")).format(what=sheets_words(sheets))
        self.desk.do(text, lambda p: turn_sheets(p, sheets, turn))

    def _license_all(self) -> None:
        """Give every sheet the licence of the selected ones."""
        licence = common(sheet.licence for sheet in self._selected())
        if licence is None:
            self.desk.refused.emit(tr("Select one sheet whose licence holds for all of them."))
            return
        names = tuple(sheet.name for sheet in self.project.sheets)
        words = tr("Gave {what} one licence").format(what=sheets_words(names))
        self.desk.do(words, lambda p: set_licence(p, names, **asdict(licence)))

    def _set_licence(self, point: str, name: str, text: str) -> None:
        sheets = self.selection.sheets
        words = tr("Set the {point} of {what}").format(
            point=name.lower(), what=sheets_words(sheets)
        )
        if not self.desk.do(words, lambda p: set_licence(p, sheets, **{point: text})):
            self._show_sheets()

    def _recut(self, project: Project, sheets: tuple[str, ...]) -> Project:
        """Cut again what was cut, for a colour key changes which cells are empty."""
        for name in sheets:
            sheet = project.sheet(name)
            if sheet.layout is not None:
                try:
                    project = cut(project, name, sheet.layout, solid(self.desk.art.picture(sheet)))
                except Refusal:
                    continue
        return project


def _waits(sheet: Sheet) -> bool:
    """Whether nobody said yet what a sheet is."""
    return sheet.layout is None and sheet.belongs is None


class Invitation(QWidget):
    """An empty station: one sentence, and the one button that comes next."""

    def __init__(self, title: str, text: str, action: str, run) -> None:  # type: ignore[no-untyped-def]
        super().__init__()
        heading = label(title, "heading")
        heading.setFont(font(READ_OUT, 600))
        layout = QVBoxLayout(self)
        layout.setSpacing(8)
        layout.addStretch(1)
        for part in (heading, label(text, "caption")):
            layout.addWidget(part, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addSpacing(8)
        layout.addWidget(button(action, run, "main"), 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addStretch(1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        pen = QPen(colours.strong_line, 1, Qt.PenStyle.CustomDashLine)
        pen.setDashPattern([6, 5])
        painter.setPen(pen)
        painter.drawRoundedRect(self.rect().adjusted(24, 24, -25, -25), 6, 6)
        painter.end()


class _Well(QWidget):
    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.well)
        painter.end()


class _Swatch(QWidget):
    """A square of the key's colour; crossed out when there is none."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(24, 24)
        self._colour: Colour | None = None

    def show_colour(self, colour: Colour | None) -> None:
        self._colour = colour
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(look.colours.ink, 1))
        painter.setBrush(QColor(*self._colour[:3]) if self._colour else look.colours.field)
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 3, 3)
        if self._colour is None:
            painter.drawLine(4, 19, 19, 4)
        painter.end()
