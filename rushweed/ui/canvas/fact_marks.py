"""Facts on tiles: kerbs along shut sides, plates with letters and numbers, water up to the feet."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import NamedTuple

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from rushweed.core.bound.fact_table import FACTS, FactName
from rushweed.core.project.facts import SIDES, Current, Facts, GroundKind, Side
from rushweed.core.words import counted, say
from rushweed.ui.look.colours import MARKS
from rushweed.ui.look.fonts import CAPTION, font

SMALL = 22
"""Tiles smaller than this on the screen carry colours and lines, but no letters."""
PATTERNS = (
    Qt.BrushStyle.BDiagPattern,
    Qt.BrushStyle.Dense6Pattern,
    Qt.BrushStyle.HorPattern,
    Qt.BrushStyle.FDiagPattern,
    Qt.BrushStyle.VerPattern,
    Qt.BrushStyle.DiagCrossPattern,
    Qt.BrushStyle.Dense4Pattern,
    Qt.BrushStyle.CrossPattern,
)
"""Kinds of ground are told apart by pattern and letter too, not by colour alone."""

Kinds = Mapping[int, GroundKind]


class Marked(NamedTuple):
    """A tile on the screen with its facts; `scale` is screen pixels for one of its own, `roomy`
    whether letters have room on it."""

    rect: QRectF
    facts: Facts
    kinds: Kinds
    scale: float
    roomy: bool


def draw_facts(
    painter: QPainter,
    tile: QRectF,
    facts: Facts,
    kinds: Kinds,
    shown: frozenset[FactName],
    scale: float,
) -> None:
    """A tile's facts of the kinds that are shown: what lies on it first, then plates."""
    marked = Marked(tile, facts, kinds, scale, tile.width() >= SMALL)
    for name in ORDER:
        if name in shown and FACTS[name].is_set(facts) and (marked.roomy or name in LIE_BELOW):
            if name in MARKS_OF:
                MARKS_OF[name](painter, marked)
            else:
                draw_plate(painter, tile.center(), say(FACTS[name].title), MARKS.ink)


def draw_kerb(painter: QPainter, tile: QRectF, side: Side) -> None:
    """A thick kerb along a shut side."""
    thick = max(3.0, min(7.0, tile.width() / 9))
    places = {
        "left": QRectF(tile.left(), tile.top(), thick, tile.height()),
        "right": QRectF(tile.right() - thick, tile.top(), thick, tile.height()),
        "above": QRectF(tile.left(), tile.top(), tile.width(), thick),
        "below": QRectF(tile.left(), tile.bottom() - thick, tile.width(), thick),
    }
    painter.fillRect(places[side].adjusted(-1, -1, 1, 1), MARKS.paper)
    painter.fillRect(places[side], MARKS.rust)


def draw_plate(painter: QPainter, middle: QPointF, text: str, colour: QColor) -> None:
    """A small plate with a few letters."""
    painter.save()
    painter.setFont(font(CAPTION, 600))
    width = max(16.0, painter.fontMetrics().horizontalAdvance(text) + 8.0)
    plate = QRectF(0, 0, width, 15)
    plate.moveCenter(middle)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(MARKS.paper, 1.4))
    painter.setBrush(colour)
    painter.drawRoundedRect(plate, 3, 3)
    painter.setPen(ink_on(colour))
    painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, text)
    painter.restore()


def ink_on(colour: QColor) -> QColor:
    """Ink or paper, whichever is read more easily on a colour."""
    light = 0.299 * colour.red() + 0.587 * colour.green() + 0.114 * colour.blue()
    return MARKS.ink if light > 150 else MARKS.paper


def draw_badge(painter: QPainter, rect: QRectF, kind: GroundKind) -> None:
    """A kind of ground: its colour and pattern, and its letter on a plate."""
    painter.fillRect(rect, _pattern(kind.number, kind.colour[:3], 210))
    draw_plate(painter, rect.center(), kind.letter or str(kind.number), QColor(*kind.colour[:3]))


def _draw_kerbs(painter: QPainter, marked: Marked) -> None:
    for side in SIDES:
        if side not in marked.facts.entry:
            draw_kerb(painter, marked.rect, side)


def _draw_notes(painter: QPainter, marked: Marked) -> None:
    """A plate with the key of the note, or how many there are."""
    tile, notes = marked.rect, marked.facts.notes
    text = notes[0].key if len(notes) == 1 else counted(len(notes), "note", "notes")
    room = int(tile.width()) - 12
    fitting = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
    draw_plate(painter, QPointF(tile.center().x(), tile.bottom() - 10), fitting, MARKS.ink)


def _draw_ground(painter: QPainter, marked: Marked) -> None:
    tile, number = marked.rect, marked.facts.ground or 0
    kind = marked.kinds.get(number)
    colour = kind.colour[:3] if kind else (MARKS.ink.red(), MARKS.ink.green(), MARKS.ink.blue())
    painter.fillRect(tile, _pattern(number, colour, 175))
    if marked.roomy:
        text = (kind.letter or str(number)) if kind else f"?{number}"
        draw_plate(painter, tile.center(), text, QColor(*colour))


@lru_cache(maxsize=256)
def _pattern(number: int, colour: tuple[int, int, int], strength: int) -> QBrush:
    """A tile of the kind's pattern over a thin wash of its colour."""
    side = 24
    tile = QPixmap(side, side)
    wash, lines = QColor(*colour), QColor(*colour)
    wash.setAlpha(strength // 3)
    lines.setAlpha(strength)
    tile.fill(wash)
    painter = QPainter(tile)
    painter.fillRect(0, 0, side, side, QBrush(lines, PATTERNS[number % len(PATTERNS)]))
    painter.end()
    return QBrush(tile)


def _draw_wade(painter: QPainter, marked: Marked) -> None:
    """A wave at the height that hides the feet, and a wash beneath it."""
    tile, pixels = marked.rect, marked.facts.wade
    top = max(tile.bottom() - pixels * marked.scale, tile.top())
    wash = QColor(MARKS.tide)
    wash.setAlpha(90)
    painter.fillRect(QRectF(tile.left(), top, tile.width(), tile.bottom() - top), wash)
    path = QPainterPath(QPointF(tile.left(), top))
    reach = tile.width() / 4
    for step in range(4):
        x = tile.left() + step * reach
        path.quadTo(x + reach / 2, top + (-4 if step % 2 else 4), x + reach, top)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for colour, width in ((MARKS.paper, 4.0), (MARKS.tide, 2.0)):
        painter.strokePath(path, QPen(colour, width))
    painter.restore()
    if marked.roomy:
        draw_plate(painter, QPointF(tile.right() - 14, tile.bottom() - 10), str(pixels), MARKS.tide)


def _draw_cover(painter: QPainter, marked: Marked) -> None:
    """A roof with the number of tiles that it is high."""
    tile = marked.rect
    middle, top = tile.center().x(), tile.top() + 5
    reach = min(12.0, tile.width() / 3)
    roof = QPolygonF(
        [QPointF(middle - reach, top + 7), QPointF(middle, top), QPointF(middle + reach, top + 7)]
    )
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in ((MARKS.paper, 5.0), (MARKS.ink, 2.5)):
        painter.setPen(QPen(colour, width, join=Qt.PenJoinStyle.MiterJoin))
        painter.drawPolyline(roof)
    painter.restore()
    draw_plate(painter, QPointF(middle, top + 16), str(marked.facts.cover), MARKS.ink)


def _draw_moves(painter: QPainter, marked: Marked) -> None:
    """A ladder or waves, and an arrow where it carries."""
    facts = marked.facts
    if facts.moves != "walks":
        (_draw_rungs if facts.moves == "climbs" else _draw_ripples)(painter, marked.rect)
    if facts.current.across or facts.current.down:
        _draw_current(painter, marked.rect, facts.current)


def _draw_rungs(painter: QPainter, tile: QRectF) -> None:
    """Two rails and rungs."""
    left, right = tile.left() + tile.width() * 0.3, tile.right() - tile.width() * 0.3
    lines = [QLineF(x, tile.top() + 2, x, tile.bottom() - 2) for x in (left, right)]
    lines += [
        QLineF(left, y, right, y)
        for y in (tile.top() + tile.height() * part for part in (0.2, 0.5, 0.8))
    ]
    _draw_lines(painter, lines)


def _draw_ripples(painter: QPainter, tile: QRectF) -> None:
    """Three waves over a wash."""
    wash = QColor(MARKS.tide)
    wash.setAlpha(70)
    painter.fillRect(tile, wash)
    lines = []
    for part in (0.3, 0.55, 0.8):
        y, quarter = tile.top() + tile.height() * part, tile.width() / 4
        for step in range(4):
            x, dip = tile.left() + step * quarter, 3 if step % 2 else -3
            lines += [
                QLineF(x, y, x + quarter / 2, y + dip),
                QLineF(x + quarter / 2, y + dip, x + quarter, y),
            ]
    _draw_lines(painter, lines)


def _draw_current(painter: QPainter, tile: QRectF, current: Current) -> None:
    """An arrow the way that it carries."""
    length = max(abs(current.across), abs(current.down))
    reach = min(tile.width(), tile.height()) * 0.36
    way = QPointF(current.across / length * reach, current.down / length * reach)
    tip, tail = tile.center() + way, tile.center() - way
    side = QPointF(-way.y(), way.x()) * 0.4
    barbs = [QLineF(tip, tip - way * 0.5 + one) for one in (side, -side)]
    _draw_lines(painter, [QLineF(tail, tip), *barbs])


def _draw_lines(painter: QPainter, lines: list[QLineF]) -> None:
    """Lines of tide with a rim of paper."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for colour, width in ((MARKS.paper, 4.5), (MARKS.tide, 2.2)):
        painter.setPen(QPen(colour, width))
        painter.drawLines(*lines)
    painter.restore()


def _draw_reach(painter: QPainter, marked: Marked) -> None:
    """A line across the tile with a knob at both ends."""
    tile = marked.rect
    y = tile.center().y()
    left, right = tile.left() + tile.width() * 0.18, tile.right() - tile.width() * 0.18
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for colour, width, knob in ((MARKS.paper, 5.0, 5.5), (MARKS.ochre_edge, 2.5, 4.0)):
        painter.setPen(QPen(colour, width))
        painter.drawLine(QLineF(left, y, right, y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawEllipse(QPointF(left, y), knob, knob)
        painter.drawEllipse(QPointF(right, y), knob, knob)
    painter.restore()


MARKS_OF: dict[FactName, Callable[[QPainter, Marked], None]] = {
    "ground": _draw_ground,
    "wade": _draw_wade,
    "entry": _draw_kerbs,
    "cover": _draw_cover,
    "reach": _draw_reach,
    "moves": _draw_moves,
    "notes": _draw_notes,
}
"""In the order in which they lie over each other; a fact that is not here has a plate with its
title."""
ORDER = tuple(dict.fromkeys((*MARKS_OF, *FACTS)))
LIE_BELOW = ("ground", "wade", "entry")
"""What is drawn on small tiles too."""
