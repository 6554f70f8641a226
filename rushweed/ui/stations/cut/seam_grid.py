"""Every change between two animations, in a grid: from the one at the left to the one above."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import takewhile

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHeaderView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from rushweed.core.cut.seams import MEET, Seam
from rushweed.core.words import say
from rushweed.ui.canvas.marks import draw_brackets
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font

WIDE, TALL, HEAD = 92, 46, 30


def seam_words(seam: Seam) -> str:
    """What is seen of a change, in sentences."""
    told = [f"{seam.before} → {seam.after}."]
    if seam.jump is None:
        told.append(say("One of them leaves the ground."))
    elif seam.jump > 0:
        told.append(say("Feet jump {n} px down.", n=seam.jump))
    elif seam.jump < 0:
        told.append(say("Feet jump {n} px up.", n=-seam.jump))
    if seam.aside > 0:
        told.append(say("The body jumps {n} px to the right.", n=seam.aside))
    elif seam.aside < 0:
        told.append(say("The body jumps {n} px to the left.", n=-seam.aside))
    told.append(say("Silhouettes share {n} %.", n=round(100 * seam.shared)))
    return " ".join(told)


def short_names(names: Sequence[str]) -> list[str]:
    """Names without the words that all of them begin with.

    >>> short_names(["otter idle", "otter run"]), short_names(["hop"])
    (['idle', 'run'], ['hop'])
    """
    words = [name.split() for name in names]
    alike = takewhile(lambda of_all: len({*of_all}) == 1, zip(*words, strict=False))
    shared = len(list(alike)) if len(names) > 1 else 0
    return [" ".join(one[shared:]) or name for one, name in zip(words, names, strict=True)]


class _Changes(QAbstractTableModel):
    """The changes by the places of both animations."""

    def __init__(self) -> None:
        super().__init__()
        self.names: list[str] = []
        self._short: list[str] = []
        self.seams: dict[tuple[str, str], Seam] = {}

    def show(self, names: list[str], seams: Sequence[Seam]) -> None:
        self.beginResetModel()
        self.names, self._short = names, short_names(names)
        self.seams = {(seam.before, seam.after): seam for seam in seams}
        self.endResetModel()

    def seam(self, index: QModelIndex) -> Seam | None:
        if not index.isValid():
            return None
        return self.seams.get((self.names[index.row()], self.names[index.column()]))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.names)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return self.rowCount(parent)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> str | None:
        if role == Qt.ItemDataRole.ToolTipRole:
            return self.names[section]
        name = self._short[section] if role == Qt.ItemDataRole.DisplayRole else None
        across = orientation == Qt.Orientation.Horizontal
        return name and (f"→ {name}" if across else f"{name} →")

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> str | None:
        seam = self.seam(index)
        told = (Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.ToolTipRole)
        return seam_words(seam) if seam is not None and role in told else None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        return super().flags(index) if self.seam(index) else Qt.ItemFlag.NoItemFlags


class SeamGrid(QTableView):
    """A cell says by how many pixels the feet jump, and what part of the silhouettes is shared.
    Tells `picked` with the change that is chosen, or None."""

    picked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.changes = _Changes()
        self.setModel(self.changes)
        self.setItemDelegate(_Cell(self))
        self.setAccessibleName(say("Changes between animations"))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setMouseTracking(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        across, down = self.horizontalHeader(), self.verticalHeader()
        assert across is not None and down is not None
        for header, size in ((across, WIDE), (down, TALL)):
            header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
            header.setDefaultSectionSize(size)
            header.setSectionsClickable(False)
            header.setHighlightSections(True)
            header.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        across.setFixedHeight(HEAD)
        down.setFixedWidth(WIDE + 24)
        self.setCornerButtonEnabled(False)
        model = self.selectionModel()
        assert model is not None
        model.currentChanged.connect(lambda now, before: self.picked.emit(self.changes.seam(now)))

    def show_seams(self, names: list[str], seams: Sequence[Seam]) -> None:
        """Show the changes between animations of these names; what was chosen stays so."""
        chosen = self.changes.seam(self.currentIndex())
        self.changes.show(names, seams)
        if chosen is not None and chosen.before in names and chosen.after in names:
            place = self.changes.index(names.index(chosen.before), names.index(chosen.after))
            self.setCurrentIndex(place)
        else:
            self.picked.emit(None)


class _Cell(QStyledItemDelegate):
    def __init__(self, grid: SeamGrid) -> None:
        super().__init__(grid)
        self._grid = grid

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        seam, colours, rect = self._grid.changes.seam(index), look.colours, QRect(option.rect)
        rect.adjust(1, 1, -1, -1)
        painter.save()
        if seam is None:
            painter.fillRect(rect, colours.well)
        else:
            painter.fillRect(rect, colours.ochre_wash if seam.is_seen else colours.raised)
            self._tell(painter, rect, seam)
            if option.state & QStyle.StateFlag.State_Selected:
                draw_brackets(painter, QRectF(rect), 8, colours.tide)
        painter.restore()

    def _tell(self, painter: QPainter, rect: QRect, seam: Seam) -> None:
        """By how much it jumps, down or up and aside, and below that what is shared."""
        colours, middle = look.colours, Qt.AlignmentFlag.AlignHCenter
        ways = [f"{'↓' if seam.jump > 0 else '↑'} {abs(seam.jump)}"] if seam.jump else []
        if seam.aside:
            ways.append(f"{'→' if seam.aside > 0 else '←'} {abs(seam.aside)}")
        jumps = say("{way} px", way="  ".join(ways)) if ways else say("still")
        painter.setFont(font(BODY, 600 if ways and seam.is_seen else 400))
        painter.setPen(colours.ochre_ink if ways and seam.is_seen else colours.ink)
        painter.drawText(rect.adjusted(0, 5, 0, 0), middle, jumps)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.ochre_ink if seam.shared < MEET else colours.soft_ink)
        share = say("{n} % shared", n=round(100 * seam.shared))
        painter.drawText(rect.adjusted(0, 23, 0, 0), middle, share)
