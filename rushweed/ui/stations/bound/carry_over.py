"""Carrying decisions from pieces to those that resemble them, with both seen beside each other."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from functools import partial

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.carrying import Carried, carry, find_carried, is_decided
from rushweed.core.bound.fact_table import told as facts_told
from rushweed.core.cut.likeness import shown
from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Refusal
from rushweed.core.weave.finding_hems import find_hems
from rushweed.core.words import counted, say
from rushweed.ui.canvas.even import draw_fitted
from rushweed.ui.canvas.marks import draw_checker, draw_doubt, draw_odd_box
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.look.icons import draw_icon
from rushweed.ui.shell.controls import Choice, button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.soon import soon
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

ROOMY = 18
"""A piece with fewer screen pixels has no room for a mark in its corner."""
LISTED, ROW, SIDE = 5, 38, 32
"""So many pairs are listed, so many pixels high each, with pieces of that side."""


class CarryOver(Group):
    """Finds what the sheet on the table could take over from another one, or what new pieces of it
    could from those that were there, shows it, and does it. `offered` tells that somebody should
    see it."""

    offered = pyqtSignal()

    def __init__(self, number: int, services: Services, canvas: SheetCanvas) -> None:
        super().__init__(number, say("Carry over"))
        self._desk, self._jobs, self._canvas = services.desk, services.jobs, canvas
        self._resemblances = services.resemblances
        self.carried: list[Carried] = []
        self._soon = soon(self, 0, lambda: self.offered.emit())
        self._from: Choice[str] = Choice(say("Sheet to carry from"), 118)
        self._from.entered.connect(lambda _: self.find_carried())
        self._carry = button(say("Carry over"), self.carry_over)
        self._leave = button(say("Leave them"), self.leave)
        self._unsure = button(
            "",
            partial(self.carry_over, True),
            tip=say("Alike in silhouette or place alone: they wear a ? on the sheet"),
        )
        self._pairs = _Pairs(services.images)
        self.add(row(label(say("From")), self._from, None))
        self.add(self._pairs)
        self.add(row(self._carry, self._unsure, self._leave, None, spacing=4))
        self.refresh()

    def refresh(self) -> None:
        """Show what could be carried over to the sheet on the table."""
        sheet = self._canvas.sheet
        others = {
            other.name: other.name
            for other in self._desk.project.sheets
            if sheet is not None and other.name != sheet.name and any(map(is_decided, other.pieces))
        }
        own = {piece.number for piece in sheet.pieces} if sheet else set()
        if not all(one.to in own for one in self.carried):
            self.carried = []
        if sheet is not None and not self.carried:
            self.carried = self._resemblances.of(sheet)
            if self.carried:
                self._soon.start()
        self._from.offer(others)
        self._from.show_value(self._from.value if self.carried else None, say("a sheet"))
        unsure = sum(not one.sure for one in self.carried)
        self._carry.setVisible(len(self.carried) > unsure)
        self._leave.setVisible(bool(self.carried))
        self._unsure.setVisible(unsure > 0)
        self._unsure.setText(say("And {n} unsure ones", n=unsure))
        self._unsure.setAccessibleName(self._unsure.text())
        self._show_pairs()

    def find_carried(self) -> None:
        """Look what this sheet could take over from another one, and list it; nothing is changed
        yet."""
        sheet, art = self._canvas.sheet, self._desk.art
        name = self._from.value
        if sheet is None or name is None:
            return
        source = self._desk.project.sheet(name)
        try:
            pictures = art.picture(source), art.picture(sheet)
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        words = say("Looking through {name}", name=name)

        def work() -> Iterator[tuple[float, str, list[Carried]]]:
            yield 0.0, words, []
            blocks = _hems_in(source, pictures[0]), _hems_in(sheet, pictures[1])
            yield 0.5, words, []
            drawn = shown(pictures[0]), shown(pictures[1])
            yield 1.0, words, find_carried(drawn[0], source, drawn[1], sheet, blocks)

        def done(found: list[Carried]) -> None:
            now = self._canvas.sheet
            if now is None or now.name != sheet.name:
                return  # another sheet lies on the table by now
            self._from.show_value(name)
            self._offer(found)

        self._jobs.start(work, done)

    def carry_over(self, unsure: bool = False) -> None:
        """Give the pieces that were found what was decided about those they resemble; those that
        are not sure only when that is wanted."""
        carried = [one for one in self.carried if one.sure != unsure]
        words = say(
            "Carried shapes and facts over to {what}", what=counted(len(carried), "piece", "pieces")
        )
        self.carried = [one for one in self.carried if one not in carried]
        self._desk.do(words, lambda project: carry(project, carried))
        self.refresh()
        self._canvas.update()

    def leave(self) -> None:
        """Leave pieces as they are, and do not ask again."""
        if self._canvas.sheet is not None:
            self._resemblances.leave(self._canvas.sheet.name)
        self.carried = []
        self.refresh()
        self._canvas.update()

    def paint(self, painter: QPainter) -> None:
        """Mark the pieces that could take something over."""
        sure = {one.to: one.sure for one in self.carried}
        for _, piece in self._canvas.seen_pieces() if sure else ():
            if piece.number in sure:
                place = self._canvas.to_screen(piece.rect).adjusted(1, 1, -1, -1)
                draw_odd_box(painter, place)
                if not sure[piece.number] and place.width() >= ROOMY:
                    draw_doubt(painter, place.right(), place.top())

    def _offer(self, found: list[Carried]) -> None:
        """List what could be carried over, to the selected pieces or to all of the sheet."""
        chosen = {piece.number for piece in self._canvas.selected_pieces()}
        self.carried = [one for one in found if not chosen or one.to in chosen]
        self.refresh()
        if not self.carried:
            self.result.tell(say("No tile of that sheet resembles these."), True)
        self._canvas.update()

    def _show_pairs(self) -> None:
        project = self._desk.project
        pairs = []
        for one in self.carried:
            of, to = project.find(one.of), project.find(one.to)
            if of is not None and to is not None:
                pairs.append((of, to, one.sure))
        self._pairs.show_pairs(pairs)
        kinds = Counter((not one.sure, say(one.why)) for one in self.carried)
        self.result.tell(
            ", ".join(
                say("{n} {kind}, unsure", n=n, kind=kind) if unsure else f"{n} {kind}"
                for (unsure, kind), n in sorted(kinds.items())
            )
        )


Thing = tuple[Sheet, Piece]


class _Pairs(QWidget):
    """Pieces that something was decided about, what that is, and beside each the one that would
    get it."""

    def __init__(self, images: Images) -> None:
        super().__init__()
        self._images = images
        self._pairs: Sequence[tuple[Thing, Thing, bool]] = ()
        self.setAccessibleName(say("What would be carried over"))

    def show_pairs(self, pairs: Sequence[tuple[Thing, Thing, bool]]) -> None:
        """Show the first few of them."""
        self._pairs = pairs
        lines = min(len(pairs), LISTED)
        self.setFixedHeight(lines * ROW + (16 if len(pairs) > LISTED else 0))
        self.setVisible(bool(pairs))
        self.setAccessibleDescription("\n".join(map(_told, pairs[:LISTED])))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setFont(font(CAPTION))
        for line, (of, to, sure) in enumerate(self._pairs[:LISTED]):
            top = line * ROW + 3
            for left, thing in ((0, of), (SIDE + 22, to)):
                self._paint_piece(painter, QRectF(left, top, SIDE, SIDE), thing)
            draw_icon(painter, "right", SIDE + 4, top + SIDE / 2 - 7, colours.soft_ink)
            left = 2 * SIDE + 30
            room, metrics = self.width() - left, painter.fontMetrics()
            name = shown_name(*to) + ("" if sure else " ?")
            for y, text, ink in (
                (top + 12, name, colours.ink),
                (top + 27, _decided(of[1]), colours.soft_ink),
            ):
                painter.setPen(ink)
                painter.drawText(
                    left, y, metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
                )
        if len(self._pairs) > LISTED:
            painter.setPen(colours.soft_ink)
            painter.drawText(0, self.height() - 4, say("and {n} more", n=len(self._pairs) - LISTED))
        painter.end()

    def _paint_piece(self, painter: QPainter, place: QRectF, thing: Thing) -> None:
        draw_checker(painter, place)
        draw_fitted(painter, place, self._images.piece(*thing))


def _told(pair: tuple[Thing, Thing, bool]) -> str:
    """“grass_2: undecided → 1 shape, ground 1”."""
    of, to, _ = pair
    return f"{shown_name(*to)}: {_decided(to[1])} → {_decided(of[1])}"


def _hems_in(sheet: Sheet, picture: Picture) -> list[tuple[int, ...]]:
    return [hem for hem in find_hems(sheet, picture) if hem]


def _decided(piece: Piece) -> str:
    """What was decided about a piece, in a few words."""
    shapes = piece.shapes
    solid = (
        say("undecided")
        if shapes is None
        else counted(len(shapes), "shape", "shapes")
        if shapes
        else say("nothing solid")
    )
    facts = facts_told(piece.facts)
    return f"{solid}, {facts}" if facts else solid
