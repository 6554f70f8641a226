"""Animations as lanes: the frames of each side by side, standing on one line."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from PyQt6.QtCore import QPoint, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.animations import find_animation, holds_of, move_frames, one_round
from rushweed.core.cut.boards import common_board
from rushweed.core.gauge.units import figure
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.values import Rect
from rushweed.core.words import counted, say
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_lozenge
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.tools import ARROWS
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, CAPTION, font

LEFT, HEAD, FOOT, GAP = 14, 24, 20, 4
TALLEST = 80
"""A frame is drawn at most this high, in screen pixels, where whole factors allow it."""
DRAG_FROM = 5
WIDEST = 1 << 20
MOST_BEADS = 6


@dataclass(frozen=True, slots=True, eq=False)
class Lane:
    """One animation's place on the table. `cells` are its frames' places in screen pixels."""

    animation: Animation
    board: Rect
    factor: float
    whole: QRect
    cells: tuple[QRect, ...]


class Lanes(QWidget):
    """Click picks a frame, Ctrl adds, a lane's title picks all of it; dragging reorders.

    `nudged` tells by how many pixels across and down the arrows want to move the picked frames.
    """

    nudged = pyqtSignal(int, int)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self.lanes: list[Lane] = []
        self._press: tuple[QPoint, Lane, int] | None = None
        self._before: int | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("Animations of the sheet"))

    @property
    def sheet(self) -> Sheet | None:
        name = self._desk.selection.sheet
        return self._desk.project.sheet(name) if name else None

    def animation(self) -> Animation | None:
        """The animation that is worked on: the one picked, else the first of the sheet."""
        sheet = self.sheet
        if sheet is None or not sheet.animations:
            return None
        return find_animation(sheet, self._desk.selection.animation) or sheet.animations[0]

    def places(self) -> list[int]:
        """The places of the picked frames in the animation that is worked on."""
        animation, chosen = self.animation(), self._desk.selection.pieces
        frames = animation.frames if animation else ()
        return [place for place, frame in enumerate(frames) if frame in chosen]

    def suit_screen(self) -> None:
        """Show it anew on a screen of another ratio."""
        self.refresh()

    def refresh(self) -> None:
        """Lay the lanes of the selected sheet out anew."""
        self.lanes = list(self._laid_out())
        bottom = self.lanes[-1].whole.bottom() + 12 if self.lanes else 0
        right = max((lane.cells[-1].right() for lane in self.lanes), default=0) + 12
        self.setMinimumSize(right, bottom)
        self.update()

    def _laid_out(self) -> Iterator[Lane]:
        sheet = self.sheet
        if sheet is None:
            return
        pieces = {piece.number: piece for piece in sheet.pieces}
        y = 8
        for animation in sheet.animations:
            shown = [pieces[frame] for frame in animation.frames if frame in pieces]
            board = common_board(shown)
            factor = _factor(board, ratio_of(self))
            width, height = max(12, int(board.width * factor)), int(board.height * factor)
            x, cells = LEFT, []
            for _ in animation.frames:
                cells.append(QRect(x, y + HEAD, width, height))
                x += width + GAP
            whole = QRect(0, y, WIDEST, HEAD + height + FOOT)
            yield Lane(animation, board, factor, whole, tuple(cells))
            y += whole.height() + 6

    # -- painting -------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        assert event is not None
        painter = QPainter(self)
        painter.fillRect(event.rect(), look.colours.well)
        if not self.lanes:
            self._paint_nothing(painter)
        worked_on = self.animation()
        for lane in self.lanes:
            if lane.whole.intersects(event.rect()):
                self._paint_lane(painter, lane, lane.animation is worked_on)
        painter.end()

    def _paint_nothing(self, painter: QPainter) -> None:
        painter.setFont(font(BODY))
        painter.setPen(look.colours.soft_ink)
        text = say("No animation yet. Select frames in the strip, then press Begin one.")
        if self.sheet is None or not self.sheet.pieces:
            text = say("Cut the sheet first, on Pieces: animations are made of its frames.")
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)

    def _paint_lane(self, painter: QPainter, lane: Lane, worked_on: bool) -> None:
        colours = look.colours
        if worked_on:
            painter.fillRect(lane.whole.adjusted(0, 0, 0, -1), colours.raised)
            painter.fillRect(QRect(0, lane.whole.y(), 3, lane.whole.height() - 1), colours.tide)
        baseline = lane.whole.y() + 17
        painter.setFont(font(BODY, 600))
        painter.setPen(colours.tide_text if worked_on else colours.ink)
        painter.drawText(LEFT, baseline, lane.animation.name)
        after = LEFT + painter.fontMetrics().horizontalAdvance(lane.animation.name) + 10
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        painter.drawText(after, baseline, lane_words(lane.animation))
        chosen = self._desk.selection.pieces
        for place, cell in enumerate(lane.cells):
            picked = worked_on and lane.animation.frames[place] in chosen
            self._paint_frame(painter, lane, place, cell, picked)
        if worked_on and self._before is not None:
            self._paint_insertion(painter, lane, self._before)

    def _paint_frame(
        self, painter: QPainter, lane: Lane, place: int, cell: QRect, picked: bool
    ) -> None:
        draw_checker(painter, QRectF(cell), 6)
        sheet, piece = self.sheet, self._piece(lane.animation.frames[place])
        painter.save()
        painter.setClipRect(cell)
        if piece is None or sheet is None:
            painter.fillRect(cell, look.colours.ochre_wash)
        else:
            image = self._images.piece(sheet, piece)
            x = cell.x() + (-round(piece.standing.x) - lane.board.x) * lane.factor
            y = cell.y() + (-round(piece.standing.y) - lane.board.y) * lane.factor
            size = image.width() * lane.factor, image.height() * lane.factor
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, lane.factor < 1)
            painter.drawImage(QRectF(x, y, *size), image, QRectF(image.rect()))
        ground = cell.y() - lane.board.y * lane.factor
        painter.fillRect(QRectF(cell.x(), ground, cell.width(), 1), QColor(MARKS.tide))
        painter.restore()
        if piece is not None and piece.events:
            draw_lozenge(painter, cell.right() - 7, cell.y() + 8, 4, look.colours.ochre, MARKS.ink)
        if picked:
            draw_brackets(painter, QRectF(cell), 8, look.colours.tide)
        self._paint_hold(painter, cell, holds_of(lane.animation)[place], place, picked)

    def _paint_hold(
        self, painter: QPainter, cell: QRect, hold: int, place: int, picked: bool
    ) -> None:
        """The frame's number, and a bead for each step that it is held."""
        colours = look.colours
        painter.setFont(font(CAPTION, 600 if picked else 400))
        painter.setPen(colours.tide_text if picked else colours.soft_ink)
        below = QRect(cell.x(), cell.bottom() + 2, cell.width(), 15)
        text = str(place + 1) + (f" ×{hold}" if hold > MOST_BEADS else "")
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, text)
        if 1 < hold <= MOST_BEADS:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colours.rush)
            x = cell.x() + painter.fontMetrics().horizontalAdvance(text) + 6
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            for step in range(hold):
                painter.drawEllipse(QRectF(x + step * 6, cell.bottom() + 7, 4, 4))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)

    def _paint_insertion(self, painter: QPainter, lane: Lane, before: int) -> None:
        at_end = before >= len(lane.cells)
        cell = lane.cells[-1] if at_end else lane.cells[before]
        x = cell.right() + GAP // 2 if at_end else cell.x() - GAP // 2 - 1
        painter.setPen(QPen(MARKS.paper, 5))
        painter.drawLine(x, cell.top() - 3, x, cell.bottom() + 3)
        painter.setPen(QPen(MARKS.tide, 3))
        painter.drawLine(x, cell.top() - 3, x, cell.bottom() + 3)

    def _piece(self, number: int) -> Piece | None:
        found = self._desk.project.find(number)
        return found[1] if found else None

    # -- hands ----------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        here = event.position().toPoint()
        lane = next((lane for lane in self.lanes if lane.whole.contains(here)), None)
        if lane is None:
            return
        place = next(
            (i for i, c in enumerate(lane.cells) if c.adjusted(0, 0, GAP, FOOT).contains(here)),
            None,
        )
        held = event.modifiers()
        selection = self._desk.selection
        same = lane.animation is self.animation()
        kept = selection.pieces & frozenset(lane.animation.frames) if same else frozenset()
        if place is None:
            pieces = frozenset(lane.animation.frames)
        elif held & Qt.KeyboardModifier.ControlModifier:
            pieces = kept ^ {lane.animation.frames[place]}
        elif lane.animation.frames[place] in kept and len(kept) > 1:
            pieces = kept
        else:
            pieces = frozenset({lane.animation.frames[place]})
        if place is not None:
            self._press = (here, lane, place)
        self._desk.select(replace(selection, animation=lane.animation.name, pieces=pieces))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._press is None:
            return
        start, lane, _ = self._press
        here = event.position().toPoint()
        if self._before is None and (here - start).manhattanLength() < DRAG_FROM:
            return
        self._before = sum(1 for cell in lane.cells if cell.center().x() < here.x())
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        press, before = self._press, self._before
        self._press = self._before = None
        self.update()
        animation, sheet = self.animation(), self.sheet
        if press is None or animation is None or sheet is None:
            return
        place = press[2]
        if before is None:
            frame = animation.frames[place]
            if event is not None and not event.modifiers() and len(self.places()) > 1:
                self._desk.select(replace(self._desk.selection, pieces=frozenset({frame})))
            return
        moved = self.places() if len(self._desk.selection.pieces) > 1 else [place]
        words = say(
            "Moved {what} in {name}",
            what=counted(len(moved), "frame", "frames"),
            name=animation.name,
        )
        self._desk.do(words, lambda p: move_frames(p, sheet.name, animation.name, moved, before))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = ARROWS.get(Qt.Key(event.key()))
        if step is not None:
            self.nudged.emit(*step)
        elif event.key() == Qt.Key.Key_Escape and self._press is not None:
            self._press = self._before = None
            self.update()
        else:
            super().keyPressEvent(event)

    def sizeHint(self) -> QSize:
        return self.minimumSize()


def lane_words(animation: Animation) -> str:
    """“6 frames · 8 frames/s · loop · 0.75 s”."""
    parts = [
        counted(len(animation.frames), "frame", "frames"),
        say("{rate} frames/s", rate=figure(animation.rate)),
        say(animation.play),
        say("{n} s", n=figure(len(one_round(animation)) / animation.rate)),
    ]
    return " · ".join(parts)


def _factor(board: Rect, ratio: float) -> float:
    """By what a lane's frames are enlarged: whole, unless they must shrink."""
    if not board.height:
        return 1.0
    return even_scale(min(TALLEST / board.height, 3.0), ratio)
