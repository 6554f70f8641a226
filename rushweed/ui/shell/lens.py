"""The lens: the selection as the game will draw it, always there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from PyQt6.QtCore import QElapsedTimer, QRect, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from rushweed.core.bale.film import common_board
from rushweed.core.cut.animations import find_animation, frame_at, place_at, set_rate
from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.art import cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.treated import LOSSLESS, cost_of, known_treated
from rushweed.core.gauge.lighting import companion_of, lit, normals_of
from rushweed.core.gauge.sampling import scaled
from rushweed.core.gauge.treating import treatment_of
from rushweed.core.orientation import turned
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.drawing import Scene, view_around
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_unit_post
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import button, label
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.text import counted, tr

HEIGHT, PICTURE_HEIGHT = 198, 136
UNIT = 48
"""Screen pixels for one unit."""
GROUND = 112
PERIOD = 33
MOST_BEADS = 16
LIGHT, LIGHT_HEIGHT = Point(60, 20), 12.0
"""Where the light begins, in screen pixels, and how far it is before the picture, in its own."""
BACKDROP, BACKDROP_SCALE = (102, 46), 3
"""The part of the game's view behind the selection, in its pixels, and its enlargement."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A piece that the lens shows, with its sheet."""

    sheet: Sheet
    piece: Piece


class Lens(QWidget):
    """Header, picture, and the controls under it."""

    def __init__(self, desk: Desk, images: Images, jobs: Jobs) -> None:
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self._desk = desk
        self._jobs = jobs
        self._wanted: set[object] = set()
        self.picture = LensPicture(desk, images)
        self.picture.unknown.connect(self._treat)
        self._title = label("", "caption")
        self.play = button(tr("Play"), self._toggle, tip=tr("Play the selected frames  P"))
        self.untreated = button(tr("Untreated"), tip=tr("Hold to see the picture as gathered"))
        self.untreated.pressed.connect(lambda: self.picture.show_untreated(True))
        self.untreated.released.connect(lambda: self.picture.show_untreated(False))
        self.rate = Stepper(tr("Rate"), tr("frames/s"), 1, 60, width=122)
        self.rate.stepped.connect(self._set_rate)
        head = QHBoxLayout()
        head.setContentsMargins(12, 0, 10, 0)
        self.lit = button(tr("Lit"), tip=tr("Under a light that follows the pointer"))
        self.lit.setCheckable(True)
        self.lit.setProperty("role", "small")
        self.lit.toggled.connect(self.picture.light)
        head.addWidget(label(tr("Lens"), "heading"))
        head.addWidget(self.lit)
        head.addStretch(1)
        head.addWidget(self._title)
        foot = QHBoxLayout()
        foot.setContentsMargins(8, 0, 8, 0)
        foot.setSpacing(6)
        for part in (self.play, self.untreated):
            foot.addWidget(part)
        foot.addStretch(1)
        foot.addWidget(self.rate)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(1, 1, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(_holder(head, 28))
        layout.addWidget(self.picture)
        layout.addWidget(_holder(foot, 33))
        desk.changed.connect(self._change)
        desk.selected.connect(lambda before, after: self.refresh())
        desk.previewed.connect(self.refresh)
        self.refresh()

    def show_instead(self, title: str, paint: Callable[[QPainter, QRect], None] | None) -> None:
        """Let a station paint the lens for a while; None gives it back."""
        self.picture.instead = paint
        self.play.setEnabled(paint is None)
        self.untreated.setEnabled(paint is None)
        self.rate.setVisible(paint is None)
        if paint is None:
            self.refresh()
        else:
            self._title.setText(title)
            self.picture.update()

    def refresh(self) -> None:
        """Show what is selected now."""
        if self.picture.instead is not None:
            return
        self.picture.refresh()
        animation = self.picture.animation
        self.play.setText(tr("Pause") if self.picture.playing else tr("Play"))
        self.play.setEnabled(animation is not None)
        self.rate.setVisible(animation is not None)
        if animation is not None:
            self.rate.show_value(animation.rate)
        self.lit.setVisible(self.picture.has_normals())
        self._title.setText(self._describe())

    def _change(self, before: Project, after: Project) -> None:
        if (
            before.sheets is not after.sheets
            or before.rules is not after.rules
            or before.treatments is not after.treatments
        ):
            self.refresh()

    def _describe(self) -> str:
        figures = self.picture.figures
        if not figures:
            return ""
        treatment = treatment_of(self._desk.project, figures[0].sheet)
        name = shown_name(figures[0].sheet, figures[0].piece)
        if self.picture.animation is not None:
            name = self.picture.animation.name
        elif len(figures) > 1:
            name = counted(len(figures), "piece", "pieces")
        metrics = self._title.fontMetrics()
        name = metrics.elidedText(name, Qt.TextElideMode.ElideMiddle, 96)
        if self._desk.looked_at is not None:
            seen = tr("seen with {form}").format(form=self._desk.looked_at.form)
            return f"{name} · {seen}"
        return f"{name} · {treatment.pixels_per_unit} px per unit · {tr(treatment.filter)}"

    def _treat(self, name: str) -> None:
        """Work out what a sheet's own compression makes of it, and show that."""
        sheet = self._desk.project.sheet(name)
        treatment = treatment_of(self._desk.project, sheet)
        key = (sheet, treatment)
        if self._desk.looked_at is not None or key in self._wanted:
            return
        self._wanted.add(key)
        art = self._desk.art

        def work() -> Iterator[tuple[float, str, Any]]:
            for share, cost in cost_of(art, sheet, treatment):
                yield share, "", cost

        done = self._desk.previewed.emit
        self._jobs.start(work, lambda _: done(), lambda _: None, quiet=True)

    def _toggle(self) -> None:
        self.picture.play(not self.picture.playing)
        self.refresh()

    def _set_rate(self, rate: float) -> None:
        animation, figures = self.picture.animation, self.picture.figures
        if animation is None or not figures:
            return
        sheet = figures[0].sheet
        if animation in sheet.animations:
            self._desk.do(
                tr("Set {name} to {rate} frames/s").format(name=animation.name, rate=f"{rate:g}"),
                lambda p: set_rate(p, sheet.name, animation.name, rate),
            )
        else:
            self.picture.free_rate = rate
            self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        painter.fillRect(0, 0, self.width(), 1, look.colours.strong_line)
        painter.fillRect(0, 0, 1, self.height(), look.colours.line)
        painter.end()


def _holder(row: QHBoxLayout, height: int) -> QWidget:
    holder = QWidget()
    holder.setFixedHeight(height)
    holder.setLayout(row)
    return holder


class LensPicture(QWidget):
    """The selection on the game's background, on a ground line beside a one-unit post.

    `unknown` names a sheet whose compressed picture was not made yet and is wanted.
    """

    unknown = pyqtSignal(str)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self.setFixedHeight(PICTURE_HEIGHT)
        self.setAccessibleName(tr("The selection as the game will draw it"))
        self._desk, self._images = desk, images
        self.figures: list[Figure] = []
        self.animation: Animation | None = None
        self.instead: Callable[[QPainter, QRect], None] | None = None
        self.free_rate = 8.0
        self.playing = False
        self._untreated = False
        self._lit = False
        self._light = LIGHT
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setInterval(PERIOD)
        self._timer.timeout.connect(self._tick)
        self._shown_frame = 0
        self._backdrop: tuple[object, QImage] | None = None

    def refresh(self) -> None:
        self.figures = self._chosen()
        self.animation = self._chosen_animation()
        if self.animation is None and self.playing:
            self.play(False)
        self.update()

    def play(self, playing: bool) -> None:
        """Start or pause the animation."""
        self.playing = playing and self.animation is not None
        if self.playing:
            self._clock.start()
            self._timer.start()
        else:
            self._timer.stop()
        self.update()

    def has_normals(self) -> bool:
        """Whether what is shown has a normal map."""
        project = self._desk.project
        return any(companion_of(project, figure.sheet) for figure in self.figures)

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
            return Animation(tr("selection"), numbers, self.free_rate)
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
        target = QRect(0, GROUND % BACKDROP_SCALE - BACKDROP_SCALE, 306, 138)
        painter.drawImage(target, backdrop)
        floor = QRectF(0, GROUND, self.width(), PICTURE_HEIGHT - GROUND)
        painter.fillRect(floor, QColor(MARKS.ink))
        painter.fillRect(QRectF(0, GROUND, self.width(), 1), MARKS.ochre_halo)
        draw_unit_post(painter, self.width() - 37, GROUND, UNIT)
        painter.setPen(MARKS.paper)
        painter.setFont(font(CAPTION, 500))
        label_rect = QRectF(self.width() - 63, GROUND + 4, 60, 16)
        painter.drawText(label_rect, Qt.AlignmentFlag.AlignCenter, tr("1 unit"))
        if not self.figures:
            self._paint_empty(painter)
            return
        self._paint_figures(painter)

    def _paint_empty(self, painter: QPainter) -> None:
        painter.setPen(MARKS.paper)
        painter.setFont(font(CAPTION, 500))
        text = tr("What you select stands here\nas the game will draw it")
        painter.drawText(QRectF(12, 20, 220, 60), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_figures(self, painter: QPainter) -> None:
        shown = self.figures
        if self.animation is not None and (self.playing or len(shown) > 1):
            self._paint_frame(painter, self.animation)
            return
        widths = [self._screen_size(figure)[0] for figure in shown]
        room = self.width() - 60
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
        scale = UNIT / treatment_of(self._desk.project, found[0]).pixels_per_unit
        left = max(10.0, (self.width() - 60 - board.width * scale) / 2)
        across = -round(found[1].standing.x) - board.x
        self._paint_figure(painter, Figure(*found), left + across * scale)

    def _paint_beads(self, painter: QPainter, count: int, shown: int) -> None:
        """A bead for each frame, the one shown bright."""
        for index in range(min(count, MOST_BEADS)):
            colour = QColor(MARKS.paper)
            colour.setAlphaF(1.0 if index == shown else 0.4)
            painter.fillRect(QRectF(12 + index * 14, 12, 10, 4), colour)

    def _screen_size(self, figure: Figure) -> tuple[int, int]:
        scale = UNIT / treatment_of(self._desk.project, figure.sheet).pixels_per_unit
        rect = figure.piece.rect
        return max(1, round(rect.width * scale)), max(1, round(rect.height * scale))

    def _paint_figure(self, painter: QPainter, figure: Figure, x: float) -> None:
        treatment = treatment_of(self._desk.project, figure.sheet)
        scale = UNIT / treatment.pixels_per_unit
        width, height = self._screen_size(figure)
        y = GROUND - figure.piece.standing.y * scale
        if figure.sheet.kind == "tileset":
            y = GROUND - height
        try:
            picture = self._picture(figure)
        except Refusal:
            return
        if width > 2048 or height > 2048:
            return
        if self._lit:
            place = Point((self._light.x - x) / scale, (self._light.y - y) / scale)
            picture = self._lit_picture(figure, picture, place)
        ratio = self.devicePixelRatioF()
        image = to_image(
            scaled(picture, round(width * ratio), round(height * ratio), treatment.filter)
        )
        painter.drawImage(QRectF(round(x), round(y), width, height), image)

    def _lit_picture(self, figure: Figure, picture: Picture, light: Point) -> Picture:
        try:
            normals = normals_of(self._desk.project, self._desk.art, figure.sheet)
        except Refusal:
            return picture
        if normals is None:
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
        rect = Rect(*(side * sheet.pixel // sheet.enlarged for side in figure.piece.rect))
        return cut_out(turned(art.stored(sheet), sheet.orientation), rect)

    def _painted_backdrop(self) -> QImage:
        """What the game shows far behind the start of the open level."""
        project, selection = self._desk.project, self._desk.selection
        key = (project.levels, project.rules, selection.level)
        if self._backdrop is None or any(
            old is not new
            for old, new in zip(self._backdrop[0], key, strict=True)  # type: ignore[call-overload]
        ):
            self._backdrop = (key, self._paint_backdrop(project, selection.level))
        return self._backdrop[1]

    def _paint_backdrop(self, project: Project, name: str) -> QImage:
        if not name:
            plain = QImage(*BACKDROP, QImage.Format.Format_RGB32)
            plain.fill(QColor(*project.rules.background[:3]))
            return plain
        level = project.level(name)
        far = tuple(layer for layer in level.layers if layer.parallax < 1)
        view = view_around(level.start or Point(0, 0), project.rules.resolution)
        picture = Scene(project, self._desk.art).level(replace(level, layers=far), view)
        feet = view.height * 5 // 8
        left = min(view.width // 2, max(0, view.width - BACKDROP[0]))
        top = max(0, feet - GROUND // BACKDROP_SCALE)
        return to_image(picture[top : top + BACKDROP[1], left : left + BACKDROP[0]])
