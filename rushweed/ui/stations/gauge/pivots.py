"""The Pivots face: where pieces stand or turn."""

from __future__ import annotations

from functools import partial
from itertools import chain

from PyQt6.QtGui import QPainter

from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.pivots import (
    anchor_words,
    copy_pivot,
    set_anchor,
    set_pivot,
    stand_on_feet,
)
from rushweed.core.gauge.units import figure
from rushweed.core.project.project import NUMBER, Project
from rushweed.core.project.sheet import Piece
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Rect
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_lozenge, draw_plumb_line, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.binding import Bindings, unlike
from rushweed.ui.shell.controls import Check, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas
from rushweed.ui.stations.gauge.anchors import AnchorGroup
from rushweed.ui.stations.gauge.frame_points import FramePointsGroup
from rushweed.ui.stations.gauge.swing import Swing

FAINT = 0.28
MOST = 60
"""Of more pieces the pivots would hide the art."""


class PivotsFace(Face):
    """The sheet with the plumb lines of its selected pieces, else all its pivots; a drag on a
    selected piece moves those of all that are selected."""

    name = say("Pivots")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self._canvas = SheetCanvas(services)
        self._canvas.cuts = True
        self._canvas.numbers = False
        self._canvas.tags = False
        self._canvas.paint_over = self._paint_pivots
        self._canvas.tool = self._press
        self.tools = tools_row(ZoomChips(self._canvas))
        self._piece_head = SelectionHead()
        self.swing = Swing(services, self._canvas, lambda: next(iter(self._pieces()), None))
        self._bound = Bindings(
            self.desk,
            lambda: unlike(self._pieces(), "pivot"),
            self._named,
            at=self._numbers,
        )
        self._points = FramePointsGroup(5, self.desk, self._canvas, self._pieces)
        self.anchors = AnchorGroup(1, self._set_anchor)
        groups = [
            self.anchors,
            self._make_place(),
            self._make_copies(),
            self._make_trial(),
            self._points,
        ]
        self.slip = SlipPage(groups, self._piece_head)

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._canvas.refresh()
        self.slip.set_usable(self._canvas.has_pieces())
        self._show_pivots()

    def _make_place(self) -> Group:
        group = Group(2, say("In whole pixels"))
        group.aside.setText(say("from top left"))
        across = self._coordinate(say("Pivot across"), "x")
        down = self._coordinate(say("Pivot down"), "y")
        self._coordinates = across, down
        group.add(row(label(say("Across")), None, across))
        group.add(row(label(say("Down")), None, down))
        fractions = Check(say("Between pixels too"), self._allow_fractions)
        fractions.setToolTip(say("Halves and other fractions, for painted art"))
        group.add(row(fractions, None))
        self._place = group
        return group

    def _coordinate(self, name: str, axis: str) -> Stepper:
        """A number that shows and sets one coordinate of the pivots."""
        return self._bound.bind(
            Stepper(name, say("px"), -4096, 4096),
            lambda piece: getattr(piece.pivot, axis),
            lambda project, numbers, value: set_pivot(project, numbers, **{axis: value}),
            say("Moved the pivot of {what}"),
        )

    def _named(self) -> str:
        return counted(len(self._numbers()), "piece", "pieces")

    def _allow_fractions(self, on: bool) -> None:
        for stepper in self._coordinates:
            stepper.whole, stepper.step = not on, 0.5 if on else 1

    def _make_copies(self) -> Group:
        group = Group(3, say("For many"))
        feet = button(
            say("By the feet of each"),
            self._stand_on_feet,
            tip=say("Each pivot below the lowest pixel of its piece"),
        )
        self._to_animation = button(
            say("To its animation"),
            partial(self._copy_pivot, True),
            tip=say("The pivot of the selected piece for all frames"),
        )
        self._to_sheet = button(
            say("To the sheet"),
            partial(self._copy_pivot, False),
            tip=say("The pivot of the selected piece for all pieces of the sheet"),
        )
        group.add(row(feet, None))
        group.add(row(self._to_animation, self._to_sheet, None))
        return group

    def _make_trial(self) -> Group:
        group = Group(4, say("Try it"))
        self._onion = Check(say("All frames over it"), lambda on: self._canvas.update())
        self._onion.setToolTip(say("The other frames of its animation, pivot on pivot"))
        self._swings = Check(say("Swing it"), self.swing.set)
        self._swings.setToolTip(say("The lens turns the piece about its pivot"))
        group.add(row(self._onion, None, self._swings))
        return group

    def leave(self) -> None:
        self._swings.setChecked(False)
        self.swing.set(False)

    def _paint_onion(self, painter: QPainter) -> None:
        """The other frames of the selected piece's animation, faint, pivot on pivot."""
        sheet, chosen = self._canvas.sheet, self._canvas.selected_pieces()
        if sheet is None or len(chosen) != 1:
            return
        piece = chosen[0]
        playing = next((a for a in sheet.animations if piece.number in a.frames), None)
        frames = set(playing.frames) if playing else set()
        painter.setOpacity(FAINT)
        for other in sheet.pieces:
            if other.number in frames and other is not piece:
                x = piece.rect.x + piece.standing.x - other.standing.x
                y = piece.rect.y + piece.standing.y - other.standing.y
                image = self.services.images.piece(sheet, other)
                rect = Rect(round(x), round(y), other.rect.width, other.rect.height)
                painter.drawImage(self._canvas.to_screen(rect), image)
        painter.setOpacity(1)

    def _stand_on_feet(self) -> None:
        meant, art = self.selection.meant(self.project), self.desk.art
        numbers = {name: frozenset(map(NUMBER, pieces)) for name, pieces in meant.items()}

        def edit(project: Project) -> Project:
            for name, own in numbers.items():
                project = stand_on_feet(project, name, own, solid(art.picture(project.sheet(name))))
            return project

        what = counted(sum(map(len, numbers.values())), "piece", "pieces")
        self.desk.do(say("Stood {what} on their feet", what=what), edit)

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
        words = say("Copied a pivot to {what}", what=what)
        self.desk.do(words, lambda p: copy_pivot(p, number, numbers))

    def _pieces(self) -> list[Piece]:
        """The selected pieces, else all of the selected sheets."""
        return list(chain.from_iterable(self.selection.meant(self.project).values()))

    def _numbers(self) -> frozenset[int]:
        return frozenset(piece.number for piece in self._pieces())

    def _show_pivots(self) -> None:
        pieces = self._pieces()
        count = counted(len(pieces), "piece", "pieces")
        chosen = self._canvas.selected_pieces()
        sheet = self._canvas.sheet
        names = ", ".join(shown_name(sheet, piece) for piece in chosen[:3]) if sheet else ""
        sheets = len(self.selection.sheets)
        whole = say("all of the sheet") if sheets == 1 else say("all of {n} sheets", n=sheets)
        self._piece_head.tell(count, names or whole)
        self._bound.show()
        self._points.refresh()
        differing = unlike(pieces, "rect.width", "rect.height", "pivot")
        self.anchors.show_pieces(differing)
        self._to_sheet.setEnabled(len(chosen) == 1)
        animations = sheet.animations if sheet and len(chosen) == 1 else ()
        self._to_animation.setEnabled(any(chosen[0].number in a.frames for a in animations))
        sizes = {piece.rect.size for piece in differing}
        differs = len(differing) > 1 and len(sizes) == 1
        self._place.result.tell(
            say("Pivots differ: frames will jump as they play.") if differs else "", True
        )

    def _set_anchor(self, name: str) -> None:
        numbers = self._numbers()
        words = say(
            "Put the pivot of {what} at {anchor}",
            what=counted(len(numbers), "piece", "pieces"),
            anchor=anchor_words(name).lower(),
        )
        self.desk.do(words, lambda p: set_anchor(p, numbers, name))

    def _press(self, press: Pointer) -> Stroke | None:
        """A drag moves the point of a selected piece that it begins at; else, on a selected piece,
        the pivots of all that is selected. Anywhere else it selects."""
        held = self._points.press(press)
        if held is not None:
            return held
        here = self._canvas.piece_at(press.place)
        if here is None or here.number not in self.selection.pieces or press.ctrl or press.shift:
            return self._canvas.select_tool(press)
        return self._drag_pivot(press, here)

    def _drag_pivot(self, press: Pointer, piece: Piece) -> Stroke:
        numbers = self.selection.pieces
        drag = self.desk.drag(
            say("Moved the pivot of {what}", what=counted(len(numbers), "piece", "pieces"))
        )

        def at(event: Pointer) -> Edit | None:
            if event.corner == press.corner and not event.released:
                return None
            x, y = event.corner.x - piece.rect.x, event.corner.y - piece.rect.y
            return partial(set_pivot, numbers=numbers, x=x, y=y)

        return following(drag, at)

    def _paint_pivots(self, painter: QPainter) -> None:
        canvas = self._canvas
        if self._onion.isChecked():
            self._paint_onion(painter)
        chosen = canvas.selected_pieces()
        pieces = chosen or list(canvas.sheet.pieces if canvas.sheet else ())
        if len(pieces) > MOST or canvas.view.scale < 1:
            pieces = chosen = chosen[:1]
        for piece in pieces:
            place = canvas.view.to_screen(
                piece.rect.x + piece.pivot.x, piece.rect.y + piece.pivot.y
            )
            if not chosen:
                draw_lozenge(painter, place.x, place.y, 4.5, MARKS.ink)
                continue
            top = canvas.view.to_screen(piece.rect.x, piece.rect.y).y
            head = min(top, place.y)
            draw_plumb_line(painter, place.x, head - 26, head - 3, place.y)
            if len(chosen) == 1:
                text = say("pivot at {x}, {y}", x=figure(piece.pivot.x), y=figure(piece.pivot.y))
                paper, ink = MARKS.paper, MARKS.ink
                draw_tag(painter, place.x + 18, place.y + 6, text, paper, ink, ink)
        self._points.paint(painter)
