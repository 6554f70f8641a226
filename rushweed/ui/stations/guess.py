"""A guessed grid to be clicked."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton

from rushweed.core.cut.grid import GridGuess
from rushweed.ui.canvas.marks import draw_checker, draw_stitches
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.text import tr


class GuessCard(QAbstractButton):
    """A guessed grid as a small live picture; a click takes it."""

    PICTURE = QSize(80, 60)

    def __init__(self) -> None:
        super().__init__()
        self.guess: GridGuess | None = None
        self._image = QImage()
        self._chosen = False
        self.setFixedSize(82, 96)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def show_guess(self, guess: GridGuess | None, image: QImage, chosen: bool) -> None:
        shown = (self.guess, self._image.cacheKey(), self._chosen)
        self.guess, self._image, self._chosen = guess, image, chosen
        self.setVisible(guess is not None)
        if guess is not None:
            self.setAccessibleName(tr("Guess: {size} px").format(size=guess.grid.cell))
            self.setToolTip(f"{guess.grid.cell} px, {guess.why}")
        if shown != (guess, image.cacheKey(), chosen):
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.guess is None:
            return
        colours = look.colours
        painter = QPainter(self)
        frame = QRect(1, 1, self.PICTURE.width(), self.PICTURE.height())
        painter.save()
        painter.setClipRect(frame)
        draw_checker(painter, QRectF(frame), 5)
        scale = self._scale()
        target = QRectF(
            frame.x(), frame.y(), self._image.width() * scale, self._image.height() * scale
        )
        painter.drawImage(target, self._image, QRectF(self._image.rect()))
        drawn = target.toAlignedRect().adjusted(0, 0, 1, 1)
        painter.setClipRect(drawn, Qt.ClipOperation.IntersectClip)
        self._paint_cuts(painter, frame, scale)
        painter.restore()
        strong = self._chosen or self.hasFocus()
        edge = (
            colours.tide
            if strong
            else colours.soft_ink
            if self.underMouse()
            else colours.strong_line
        )
        painter.setPen(QPen(edge, 2 if strong else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(frame), 2, 2)
        painter.setFont(font(BODY, 600 if self._chosen else 400))
        painter.setPen(colours.tide if self._chosen else colours.ink)
        painter.drawText(
            QRect(0, 63, 82, 17), Qt.AlignmentFlag.AlignVCenter, str(self.guess.grid.cell)
        )
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        count = f"{self.guess.columns} × {self.guess.rows}"
        painter.drawText(
            QRect(0, 79, 82, 15), Qt.AlignmentFlag.AlignVCenter, tr("{n} cells").format(n=count)
        )
        painter.end()

    def _scale(self) -> float:
        """So large that a few cells are seen."""
        assert self.guess is not None
        cell = self.guess.grid.cell
        wanted = min(
            self.PICTURE.width() / (cell.width * 2.4), self.PICTURE.height() / (cell.height * 1.8)
        )
        return wanted if wanted < 1 else float(min(int(wanted), 3))

    def _paint_cuts(self, painter: QPainter, frame: QRect, scale: float) -> None:
        assert self.guess is not None
        grid = self.guess.grid
        upright, level = [], []
        for index in range(40):
            for side in (0, grid.cell.width):
                x = grid.margin.width + index * (grid.cell.width + grid.gap.width) + side
                upright.append(QRect(round(frame.x() + x * scale), frame.y(), 1, frame.height()))
            for side in (0, grid.cell.height):
                y = grid.margin.height + index * (grid.cell.height + grid.gap.height) + side
                level.append(QRect(frame.x(), round(frame.y() + y * scale), frame.width(), 1))
        draw_stitches(painter, upright, level)
