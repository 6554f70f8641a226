"""What is done over and over in the window takes no more than it must, and is shown whole."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QFontMetrics

from rushweed.core.values import Size
from rushweed.ui.look.fonts import CAPTION, font
from tests.ui.test_stations import select


class Layouts(QObject):
    """Counts how often the window is laid out anew."""

    count = 0

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        self.count += event is not None and event.type() == QEvent.Type.LayoutRequest
        return False


def test_moving_the_pointer_and_dragging_an_edge_lay_out_nothing_anew(
    open_window, demo: Path
) -> None:
    drive = open_window(demo)
    drive.station(2)
    select(drive, "keeper", 0)
    drive.press("Edges")
    drive.drag((18, 12), (17, 12))
    drive.qtbot.wait(400)
    layouts = Layouts()
    drive.window.installEventFilter(layouts)
    before = drive.project
    drive.drag((20, 12), (21, 12), (22, 12), (70, 60), (23, 12))
    drive.window.removeEventFilter(layouts)
    assert drive.project is not before and layouts.count == 0


def test_a_long_strip_follows_after_a_pause(open_window, demo: Path) -> None:
    drive = open_window(demo)
    drive.station(2)
    select(drive, "fen_ground")
    for size in ("4", "4"):
        drive.type_number("Cell across", size)
        drive.type_number("Cell down", size)
    many = drive.project.sheet("fen_ground").pieces
    assert len(many) > 400
    drive.qtbot.wait(200)
    drive.window.desk.select(drive.window.desk.selection)
    select(drive, "fen_ground", 500)
    drive.press("Leave out")
    last = drive.project.sheet("fen_ground").pieces[-1].number
    drive.wait_for(lambda: len(drive.window.frame.strip._cells) == len(many) - 1)
    assert drive.window.frame.strip.rect_of(last).width() > 0


def test_texts_of_cards_are_whole_and_the_walk_is_as_large_as_it_can_be(
    open_window, demo: Path
) -> None:
    drive = open_window(demo)
    cards = drive.at("Gather")._cards
    metrics = QFontMetrics(font(CAPTION))
    for card in cards._cards:
        assert all(metrics.horizontalAdvance(s) < card.whole.width() for s in card.sentences)
    drive.station(6)
    stage = drive.at("Walk").stage
    picture, whole = stage.picture_rect(), Size(stage.width(), stage.height())
    assert stage.factor == 3 and picture.left() >= 6 and picture.right() <= whole.width - 6
    assert stage.rect().contains(picture)
