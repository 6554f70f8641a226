"""What the lens shows: the selection as the game will draw it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QRect, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.bodies import place_on_path
from rushweed.core.cut.animations import frame_at, place_at
from rushweed.core.cut.boards import common_board
from rushweed.core.gauge.lighting import companions
from rushweed.core.gauge.sampling import scaled
from rushweed.core.project.sheet import Animation, Piece
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Refusal, Size
from rushweed.core.words import say
from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_unit_post
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.lens_backdrop import Backdrop
from rushweed.ui.shell.lens_pixels import FigurePixels
from rushweed.ui.shell.lens_scale import LOWEST_GROUND, Extent, lens_scale
from rushweed.ui.shell.lens_shown import (
    Figure,
    animation_extent,
    chosen_animation,
    chosen_figures,
)

PICTURE_HEIGHT = 136
PERIOD = 33
MOST_BEADS = 16
LIGHT = Point(60, 20)
"""Where the light begins, in screen pixels."""
ROOM = Size(306, PICTURE_HEIGHT)
"""How much of the lens the game's background fills, in screen pixels."""
POST_LEFT, POST_ROOM = 37, 60
MOST_FITTED = 4
"""Of more figures side by side only so many are sure to be seen whole."""


class LensPicture(QWidget):
    """The selection on the game's background, on a ground line beside a one-unit post.

    `own` is played in place of it. `unknown` names a sheet whose compressed picture was not made
    yet and is wanted.
    """

    unknown = pyqtSignal(str)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self.setMinimumHeight(PICTURE_HEIGHT)
        self.setAccessibleName(say("The selection as the game will draw it"))
        self._desk = desk
        self.figures: list[Figure] = []
        self.animation: Animation | None = None
        self.own: Animation | None = None
        self.instead: Callable[[QPainter, QRect], None] | None = None
        self.free_rate = 8.0
        self.playing = False
        self._pixels = FigurePixels(desk, images, self.unknown.emit)
        self._light: Point | None = None
        self._clock, self._walked = QElapsedTimer(), QElapsedTimer()
        self._walked.start()
        self._travels = False
        self._timer = QTimer(self)
        self._timer.setInterval(PERIOD)
        self._timer.timeout.connect(self._tick)
        self._shown_frame = 0
        self._scale = lens_scale([])
        self._backdrop = Backdrop(desk)

    def refresh(self) -> None:
        selection = self._desk.selection
        self.figures = chosen_figures(self._desk.project, selection)
        self.animation = chosen_animation(selection, self.figures, self.free_rate)
        if self.own is not None:
            first = self._desk.project.find(self.own.frames[0])
            self.figures = [Figure(*first)] if first else []
            self.animation = self.own if first else None
        if self.animation is None and self.playing:
            self.play(False)
        self._travels = any(figure.piece.body.kind == "travels" for figure in self.figures)
        if self._travels and not self._timer.isActive():
            self._walked.start()
        self._keep_time()
        self._fit()
        self.update()

    def _fit(self) -> None:
        self._scale = lens_scale(self._extents(), *self._more(), ratio_of(self))

    def _more(self) -> tuple[int, int]:
        """How much wider and taller the lens is than it usually is."""
        return max(0, self.width() - ROOM.width), max(0, self.height() - ROOM.height)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def suit_screen(self) -> None:
        """Show it anew on a screen of another ratio."""
        self._fit()
        self.update()

    def _extents(self) -> list[Extent]:
        """How far each figure reaches, or all frames of the animation together."""
        project = self._desk.project
        if self.animation is not None and (self.playing or len(self.figures) > 1):
            return [animation_extent(project, self.animation, self.figures[0].sheet)]
        return [figure.extent(project) for figure in self.figures[:MOST_FITTED]]

    def _keep_time(self) -> None:
        """Tick while something moves."""
        if self.playing or self._travels:
            self._timer.start()
        else:
            self._timer.stop()

    def play(self, playing: bool) -> None:
        """Start or pause the animation."""
        self.playing = playing and self.animation is not None
        if self.playing:
            self._clock.start()
        self._fit()
        self._keep_time()
        self.update()

    def has_normals(self) -> bool:
        """Whether what is shown has a normal map."""
        maps = companions(self._desk.project)
        return any(figure.sheet.name in maps for figure in self.figures)

    def light(self, on: bool) -> None:
        """Show the selection under a light, through its normal map."""
        self._light = LIGHT if on else None
        self.setMouseTracking(on)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._light is not None:
            self._light = Point(event.position().x(), event.position().y())
            self.update()

    def show_untreated(self, untreated: bool) -> None:
        self._pixels.untreated = untreated
        self.update()

    def _tick(self) -> None:
        if self._travels:
            self.update()
        if self.animation is None:
            return
        frame = frame_at(self.animation, self._clock.elapsed() / 1000)
        if frame != self._shown_frame:
            self._shown_frame = frame
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        try:
            if self.instead is not None:
                self.instead(painter, self.rect())
            else:
                self._paint_scene(painter)
            for y in (0, self.height() - 1):
                painter.fillRect(0, y, self.width(), 1, look.colours.line)
        finally:
            painter.end()

    def _paint_scene(self, painter: QPainter) -> None:
        ground, scale = self._scale.ground, self._backdrop.scale(self._scale.unit)
        wider, taller = self._more()
        room = Size(ROOM.width + wider, ROOM.height + taller)
        backdrop = self._backdrop.picture(room, scale)
        top = ground - backdrop.height() * scale
        painter.drawImage(
            QRectF(0, top, backdrop.width() * scale, backdrop.height() * scale), backdrop
        )
        floor = QRectF(0, ground, self.width(), self.height() - ground)
        painter.fillRect(floor, QColor(MARKS.ink))
        painter.fillRect(QRectF(0, ground, self.width(), 1), MARKS.ochre_halo)
        draw_unit_post(painter, self.width() - POST_LEFT, ground, max(self._scale.unit, 4))
        painter.setPen(MARKS.paper)
        painter.setFont(font(CAPTION, 500))
        label_rect = QRectF(self.width() - 63, LOWEST_GROUND + taller + 4, 60, 16)
        painter.drawText(label_rect, Qt.AlignmentFlag.AlignCenter, say("1 unit"))
        if not self.figures:
            self._paint_empty(painter)
            return
        self._paint_figures(painter)

    def _paint_empty(self, painter: QPainter) -> None:
        painter.setPen(MARKS.paper)
        painter.setFont(font(CAPTION, 500))
        text = say("What you select stands here\nas the game will draw it")
        painter.drawText(QRectF(12, 20, 220, 60), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_figures(self, painter: QPainter) -> None:
        shown = self.figures
        if self.animation is not None and (self.playing or len(shown) > 1):
            self._paint_frame(painter, self.animation)
            return
        room = self.width() - POST_ROOM
        widths: list[float] = []
        for figure in shown:
            if sum(widths) + 12 * len(widths) >= room:
                break
            widths.append(self._screen_size(figure)[0])
        x = max(10.0, (room - sum(widths) - 12 * (len(widths) - 1)) / 2)
        for figure, width in zip(shown, widths, strict=False):
            if x < room:
                self._paint_figure(painter, figure, x)
            x += width + 12

    def _paint_frame(self, painter: QPainter, animation: Animation) -> None:
        """The frame that is shown now, standing where all frames stand."""
        place = place_at(animation, self._clock.elapsed() / 1000 if self.playing else 0)
        self._paint_beads(painter, len(animation.frames), place)
        figures = [
            Figure(*found) for f in animation.frames if (found := self._desk.project.find(f))
        ]
        found = self._desk.project.find(animation.frames[place])
        if found is None:
            return
        board = common_board([figure.piece for figure in figures])
        scale = self._scale.unit / treatment_of(self._desk.project, found[0]).pixels_per_unit
        left = max(10.0, (self.width() - POST_ROOM - board.width * scale) / 2)
        across = -round(found[1].standing.x) - board.x
        self._paint_figure(painter, Figure(*found), left + across * scale)

    def _paint_beads(self, painter: QPainter, count: int, shown: int) -> None:
        """A bead for each frame, the one shown bright."""
        for index in range(min(count, MOST_BEADS)):
            colour = QColor(MARKS.paper)
            colour.setAlphaF(1.0 if index == shown else 0.4)
            painter.fillRect(QRectF(12 + index * 14, 12, 10, 4), colour)

    def _screen_size(self, figure: Figure) -> tuple[float, float]:
        """How wide and high a figure is shown: whole pixels of the screen's own."""
        scale = self._scale.unit / treatment_of(self._desk.project, figure.sheet).pixels_per_unit
        ratio, rect = ratio_of(self), figure.piece.rect
        width, height = (max(1, round(side * scale * ratio)) / ratio for side in rect.size)
        return width, height

    def _paint_figure(self, painter: QPainter, figure: Figure, x: float) -> None:
        treatment = treatment_of(self._desk.project, figure.sheet)
        scale = self._scale.unit / treatment.pixels_per_unit
        width, height = self._screen_size(figure)
        away = self._travelled(figure.piece)
        x += away.x * scale
        y = self._scale.ground - figure.piece.standing.y * scale
        if figure.sheet.kind == "tileset":
            y = self._scale.ground - height
        y += away.y * scale
        try:
            picture = self._pixels.picture(figure)
        except Refusal:
            return
        if self._light is not None:
            place = Point((self._light.x - x) / scale, (self._light.y - y) / scale)
            picture = self._pixels.lit(figure, picture, place)
        ratio = ratio_of(self)
        image = to_image(
            scaled(picture, round(width * ratio), round(height * ratio), treatment.filter)
        )
        left, top = round(x * ratio) / ratio, round(y * ratio) / ratio
        painter.drawImage(QRectF(left, top, width, height), image)

    def _travelled(self, piece: Piece) -> Point:
        """How far a body that travels is from where it stands, by now."""
        if piece.body.kind != "travels":
            return Point(0, 0)
        return place_on_path(piece.body.path, self._walked.elapsed() / 1000)
