"""Lists of painted rows, with the toolkit's own keys, scrolling and accessibility beneath."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import (
    QAbstractListModel,
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QRect,
    QSize,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

PaintRow = Callable[[QPainter, QRect, Any, bool, bool], None]
"""Paints one row: painter, its rectangle, the item, whether selected, whether hovered."""

FEW = 40
"""So many rows are painted again one by one; for more, all that are seen are."""


class _Items(QAbstractListModel):
    named = pyqtSignal(object, str)

    def __init__(self, name_of: Callable[[Any], str], parent: QListView) -> None:
        super().__init__(parent)
        self.items: list[Any] = []
        self._name_of = name_of

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.items)

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        if not index.isValid() or index.row() >= len(self.items):
            return None
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return self._name_of(self.items[index.row()])
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.EditRole):
            return self._name_of(self.items[index.row()])
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        item = self.items[index.row()]
        if str(value) != self._name_of(item):
            self.named.emit(item, str(value))
        return True

    def replace(self, items: list[Any]) -> list[int]:
        """Put other items there. Returns the rows that are only to be painted again."""
        before = self.items
        if [self._name_of(item) for item in items] != [self._name_of(item) for item in before]:
            self.beginResetModel()
            self.items = items
            self.endResetModel()
            return []
        self.items = items
        rows = enumerate(zip(before, items, strict=True))
        return [row for row, (old, new) in rows if old is not new]


class _Painter(QStyledItemDelegate):
    def __init__(self, rows: Rows) -> None:
        super().__init__(rows)
        self._rows = rows

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        item = self._rows.items[index.row()]
        selected = bool(option.state & QStyle.StateFlag.State_Selected)
        hovered = bool(option.state & QStyle.StateFlag.State_MouseOver)
        painter.save()
        self._rows.paint_row(painter, option.rect, item, selected, hovered)
        painter.restore()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(60, self._rows.height_of(self._rows.items[index.row()]))


class Rows(QListView):
    """A list whose rows are painted by a function. Tells `picked` with the selected items, and
    `named` with an item and the name that was typed for it, where names may be typed."""

    picked = pyqtSignal(list)
    named = pyqtSignal(object, str)

    def __init__(
        self,
        name: str,
        paint_row: PaintRow,
        height_of: Callable[[Any], int],
        name_of: Callable[[Any], str] = str,
        many: bool = False,
    ) -> None:
        super().__init__()
        self.paint_row = paint_row
        self.height_of = height_of
        self._items = _Items(name_of, self)
        self.setModel(self._items)
        self.setItemDelegate(_Painter(self))
        self.setAccessibleName(name)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self._items.named.connect(self.named)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setMouseTracking(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        mode = QAbstractItemView.SelectionMode
        self.setSelectionMode(mode.ExtendedSelection if many else mode.SingleSelection)
        self._telling = True
        model = self.selectionModel()
        assert model is not None
        model.selectionChanged.connect(self._tell)

    @property
    def items(self) -> list[Any]:
        return self._items.items

    def show_items(self, items: Sequence[Any], selected: Callable[[Any], bool]) -> None:
        """Show items, some of them selected, without telling anybody.

        Rows whose item is the same object as before are not painted again.
        """
        self._telling = False
        heights = [self.height_of(item) for item in self.items]
        self._paint_again(self._items.replace(list(items)))
        model = self.selectionModel()
        assert model is not None
        wanted = QItemSelection()
        chosen = [row for row, item in enumerate(items) if selected(item)]
        for first, last in _runs(chosen):
            wanted.select(self._items.index(first), self._items.index(last))
        if model.selection() != wanted:
            model.select(wanted, QItemSelectionModel.SelectionFlag.ClearAndSelect)
            if chosen:
                top = self._items.index(chosen[0])
                model.setCurrentIndex(top, QItemSelectionModel.SelectionFlag.NoUpdate)
        self._telling = True
        if heights != [self.height_of(item) for item in items]:
            self.scheduleDelayedItemsLayout()

    def _paint_again(self, rows: list[int]) -> None:
        viewport = self.viewport()
        if len(rows) > FEW and viewport is not None:
            viewport.update()
            return
        for row in rows:
            self.update(self._items.index(row))

    def type_name(self) -> None:
        """Let the name of the current row be typed."""
        if self.currentIndex().isValid():
            self.edit(self.currentIndex())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Keys that mean the items, not the list, go to whoever holds it."""
        assert event is not None
        alone = event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_F2)
        if alone or event.modifiers() & Qt.KeyboardModifier.AltModifier:
            event.ignore()
        else:
            super().keyPressEvent(event)

    def content_height(self) -> int:
        """The height of all rows together."""
        return sum(self.height_of(item) for item in self.items)

    def _tell(self) -> None:
        model = self.selectionModel()
        if self._telling and model is not None:
            rows = sorted(index.row() for index in model.selectedIndexes())
            self.picked.emit([self.items[row] for row in rows])


def _runs(rows: list[int]) -> list[tuple[int, int]]:
    """First and last of rows that follow each other."""
    runs: list[tuple[int, int]] = []
    for row in rows:
        if runs and row == runs[-1][1] + 1:
            runs[-1] = (runs[-1][0], row)
        else:
            runs.append((row, row))
    return runs
