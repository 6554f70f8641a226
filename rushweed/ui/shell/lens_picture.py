"""What the lens shows: the selection as the game will draw it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from PyQt6.QtCore import QElapsedTimer, QRect, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.bale.film import common_board
from rushweed.core.bound.bodies import place_on_path
from rushweed.core.cut.animations import find_animation, frame_at, place_at
from rushweed.core.cut.reshaping import unfitted
from rushweed.core.gather.art import cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.treated import LOSSLESS, known_treated
from rushweed.core.gauge.lighting import companions, lit, normals_of
from rushweed.core.gauge.sampling import scaled
from rushweed.core.gauge.treating import treatment_of
from rushweed.core.orientation import turned
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.drawing import Scene, shifted, view_around
from rushweed.core.words import say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_unit_post
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.lens_scale import LOWEST_GROUND, Extent, lens_scale

PICTURE_HEIGHT = 136
PERIOD = 33
MOST_BEADS = 16
LIGHT, LIGHT_HEIGHT = Point(60, 20), 12.0
"""Where the light begins, in screen pixels, and how far it is before the picture, in its own."""
ROOM = Size(306, PICTURE_HEIGHT)
"""How much of the lens the game's background fills, in screen pixels."""
POST_LEFT, POST_ROOM = 37, 60
MOST_FITTED = 4
"""Of more figures side by side only so many are sure to be seen whole."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A piece that the lens shows, with its sheet."""

    sheet: Sheet
    piece: Piece


class LensPicture(QWidget):
    """The selection on the game's background, on a ground line beside a one-unit post.

    `unknown` names a sheet whose compressed picture was not made yet and is wanted.
    """

    unknown = pyqtSignal(str)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self.setMinimumHeight(PICTURE_HEIGHT)
        self.setAccessibleName(say("The selection as the game will draw it"))
        self._desk, self._images = desk, images
        self.figures: list[Figure] = []
        self.animation: Animation | None = None
        self.instead: Callable[[QPainter, QRect], None] | None = None
        self.free_rate = 8.0
        self.playing = False
        self._untreated = False
        self._lit = False
        self._light = LIGHT
        self._clock, self._walked = QElapsedTimer(), QElapsedTimer()
        self._walked.start()
        self._travels = False
        self._timer = QTimer(self)
        self._timer.setInterval(PERIOD)
        self._timer.timeout.connect(self._tick)
        self._shown_frame = 0
        self._scale = lens_scale([])
        self._backdrop: tuple[object, QImage] | None = None

    def refresh(self) -> None:
        self.figures = self._chosen()
        self.animation = self._chosen_animation()
        if self.animation is None and self.playing:
            self.play(False)
        self._travels = any(figure.piece.body.kind == "travels" for figure in self.figures)
        if self._travels and not self._timer.isActive():
            self._walked.start()
        self._keep_time()
        self._scale = lens_scale(self._extents(), *self._more())
        self.update()

    def _more(self) -> tuple[int, int]:
        """How much wider and taller the lens is than it usually is."""
        return max(0, self.width() - ROOM.width), max(0, self.height() - ROOM.height)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._scale = lens_scale(self._extents(), *self._more())
        self._backdrop = None

    def _extents(self) -> list[Extent]:
        """How far each figure reaches, or all frames of the animation together."""
        project = self._desk.project
        if self.animation is not None and (self.playing or len(self.figures) > 1):
            found = [pair for f in self.animation.frames if (pair := project.find(f))]
            board = common_board([piece for _, piece in found])
            number = treatment_of(project, self.figures[0].sheet).pixels_per_unit
            return [Extent(-board.y, max(0, board.bottom), board.width, number)]
        return [self._extent(figure) for figure in self.figures[:MOST_FITTED]]

    def _extent(self, figure: Figure) -> Extent:
        rect, foot = figure.piece.rect, figure.piece.standing.y
        above = rect.height if figure.sheet.kind == "tileset" else max(0.0, foot)
        number = treatment_of(self._desk.project, figure.sheet).pixels_per_unit
        return Extent(above, max(0.0, rect.height - above), rect.width, number)

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
        self._scale = lens_scale(self._extents())
        self._keep_time()
        self.update()

    def has_normals(self) -> bool:
        """Whether what is shown has a normal map."""
        maps = companions(self._desk.project)
        return any(figure.sheet.name in maps for figure in self.figures)

    def light(self, on: bool) -> None:
        """Show the selection under a light, through its normal map."""
        self._lit = on
        self.setMouseTracking(on)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._lit:
            self._light = Point(event.position().x(), event.position().y())
            self.update()

    def show_untreated(self, untreated: bool) -> None:
        self._untreated = untreated
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

    def _chosen(self) -> list[Figure]:
        """The selected pieces, else the first piece of each selected sheet."""
        project, selection = self._desk.project, self._desk.selection
        found = [project.find(number) for number in sorted(selection.pieces)]
        figures = [Figure(*pair) for pair in found if pair is not None]
        if figures:
            return figures
        sheets = selection.chosen(project)
        return [Figure(sheet, sheet.pieces[0]) for sheet in sheets[:4] if sheet.pieces]

    def _chosen_animation(self) -> Animation | None:
        """What Play plays: the selected frames, else the animation of the one shown."""
        numbers = tuple(figure.piece.number for figure in self.figures)
        if not numbers:
            return None
        worked_on = find_animation(self.figures[0].sheet, self._desk.selection.animation)
        if worked_on is not None and set(numbers) <= set(worked_on.frames):
            return worked_on
        selected = self._desk.selection.pieces
        if len(numbers) > 1 and selected and len({f.sheet.name for f in self.figures}) == 1:
            whole = next(
                (a for a in self.figures[0].sheet.animations if set(numbers) == set(a.frames)), None
            )
            if whole is not None or self.figures[0].sheet.kind == "tileset":
                return whole
            return Animation(say("selection"), numbers, self.free_rate)
        for animation in self.figures[0].sheet.animations:
            if numbers[0] in animation.frames and len(self.figures) == 1:
                return animation
        return None

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
        backdrop = self._painted_backdrop()
        ground, scale = self._scale.ground, self._backdrop_scale()
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
        label_rect = QRectF(self.width() - 63, LOWEST_GROUND + self._more()[1] + 4, 60, 16)
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
        widths = [self._screen_size(figure)[0] for figure in shown]
        room = self.width() - POST_ROOM
        x = max(10.0, (room - sum(widths) - 12 * (len(widths) - 1)) / 2)
        for figure, width in zip(shown, widths, strict=True):
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

    def _screen_size(self, figure: Figure) -> tuple[int, int]:
        scale = self._scale.unit / treatment_of(self._desk.project, figure.sheet).pixels_per_unit
        rect = figure.piece.rect
        return max(1, round(rect.width * scale)), max(1, round(rect.height * scale))

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
            picture = self._picture(figure)
        except Refusal:
            return
        if self._lit:
            place = Point((self._light.x - x) / scale, (self._light.y - y) / scale)
            picture = self._lit_picture(figure, picture, place)
        ratio = self.devicePixelRatioF()
        image = to_image(
            scaled(picture, round(width * ratio), round(height * ratio), treatment.filter)
        )
        painter.drawImage(QRectF(round(x), round(y), width, height), image)

    def _travelled(self, piece: Piece) -> Point:
        """How far a body that travels is from where it stands, by now."""
        if piece.body.kind != "travels":
            return Point(0, 0)
        return place_on_path(piece.body.path, self._walked.elapsed() / 1000)

    def _lit_picture(self, figure: Figure, picture: Picture, light: Point) -> Picture:
        companion = companions(self._desk.project).get(figure.sheet.name)
        if companion is None:
            return picture
        try:
            normals = normals_of(self._desk.art, figure.sheet, companion)
        except Refusal:
            return picture
        return lit(picture, cut_out(normals, figure.piece.rect), light, LIGHT_HEIGHT)

    def _picture(self, figure: Figure) -> Picture:
        art, sheet = self._desk.art, figure.sheet
        if not self._untreated:
            treatment = treatment_of(self._desk.project, sheet)
            choice = self._desk.looked_at or treatment.compression
            known = known_treated(art, sheet, replace(treatment, compression=choice))
            if known is not None:
                return cut_out(known.picture, figure.piece.rect)
            if choice.form not in LOSSLESS:
                self.unknown.emit(sheet.name)
            return art.piece(sheet, figure.piece)
        drawn = unfitted(sheet)
        piece = next(p for p in drawn.pieces if p.number == figure.piece.number)
        rect = Rect(*(side * sheet.pixel // sheet.enlarged for side in piece.rect))
        return cut_out(turned(art.stored(sheet), sheet.orientation), rect)

    def _painted_backdrop(self) -> QImage:
        """What the game shows far behind the start of the open level."""
        project, selection = self._desk.project, self._desk.selection
        key = (project.levels, project.rules, selection.level, self._backdrop_scale())
        if self._backdrop is None or any(
            old != new if isinstance(new, (str, float)) else old is not new
            for old, new in zip(self._backdrop[0], key, strict=True)  # type: ignore[call-overload]
        ):
            self._backdrop = (key, self._paint_backdrop(project, selection.level))
        return self._backdrop[1]

    def _backdrop_scale(self) -> float:
        """Screen pixels for one of the game's, never so small that much would be drawn."""
        return max(1 / 4, self._scale.unit / self._desk.project.rules.pixels_per_unit)

    def _paint_backdrop(self, project: Project, name: str) -> QImage:
        scale = self._backdrop_scale()
        wider, taller = self._more()
        room = Size(
            math.ceil((ROOM.width + wider) / scale), math.ceil((ROOM.height + taller) / scale)
        )
        if not name:
            plain = QImage(*room, QImage.Format.Format_RGB32)
            plain.fill(QColor(*project.rules.background[:3]))
            return plain
        level = project.level(name)
        far = tuple(layer for layer in level.layers if layer.parallax < 1 and layer.visible)
        view = view_around(level.start or Point(0, 0), project.rules.resolution)
        feet = view.y + view.height * 5 // 8
        scene = Scene(project, self._desk.art)
        canvas = scene.background(level, room)
        for layer in far:
            own = shifted(layer, view)
            shown = Rect(own.x + view.width // 2, own.y + feet - view.y - room.height, *room)
            alone = replace(level, layers=(replace(layer, parallax=1.0),))
            scene.layer(canvas, alone, 0, shown)
        return to_image(canvas)
