"""Drags, edits, undo, jobs, saving and lost focus in any order: nothing is swallowed, nothing that
was left comes back."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule
from PyQt6.QtCore import QEvent, QObject

from rushweed.core.project import files
from rushweed.core.project.drawing_sets import Patch
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Refusal
from rushweed.core.weave.painting import single
from rushweed.ui.desk import Desk, Drag
from tests.conftest import RAW
from tests.hands import LEFT, QTest
from tests.ui.test_stations import select

PATCH = (((1, 0),),)
marks = st.integers(1, 999)


def adding(mark: int) -> Edit:
    """An edit that leaves one trace, once, and is refused for every tenth."""

    def edit(project: Project) -> Project:
        name = str(mark)
        if mark % 10 == 0:
            raise Refusal("Not that one. Take another.")
        if any(patch.name == name for patch in project.patches):
            return project
        return replace(project, patches=(*project.patches, Patch(name, PATCH)))

    return edit


class Interleaving(RuleBasedStateMachine):
    """The desk beside a model of it: the steps that were done, and what is under way."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = TemporaryDirectory()
        self.desk = Desk(Path(self.folder.name), Project())
        self.done: list[tuple[int, ...]] = [()]
        self.undone: list[tuple[int, ...]] = []
        self.live: tuple[int, ...] | None = None
        self.drags: list[Drag] = []
        self.told: list[tuple[Project, Project]] = []
        self.desk.changed.connect(lambda before, after, live: self.told.append((before, after)))

    def teardown(self) -> None:
        self.desk.release()
        self.folder.cleanup()

    def _done(self, marks: tuple[int, ...]) -> None:
        if marks != self.done[-1]:
            self.done.append(marks)
            self.undone.clear()

    @rule(mark=marks)
    def do_something_else(self, mark: int) -> None:
        if (self.desk.do("done", adding(mark)) is None) != (mark % 10 == 0):
            raise AssertionError("refused what it should not, or took what it should refuse")
        if mark % 10:
            self._done(_with(self.done[-1], mark))

    @rule(first=st.integers(1001, 1999), then=st.integers(2001, 2999))
    def a_job_arrives_in_parts(self, first: int, then: int) -> None:
        first, then = first // 10 * 10 + 1, then // 10 * 10 + 1
        before = self.done[-1]
        self.desk.do("job", adding(first))
        led_to = self.desk.history
        self._done(_with(before, first))
        self.desk.amend(led_to, "job", adding(then))
        if len(self.done) == 1:
            self._done(_with(before, then))
        elif then not in self.done[-1]:
            self.done[-1] = _with(self.done[-1], then)
            self.undone.clear()

    @rule(named=st.booleans())
    def begin(self, named: bool) -> None:
        self.drags.append(self.desk.drag("dragged" if named else ""))
        self.live = ()

    @precondition(lambda self: self.live is not None)
    @rule(mark=marks, further=st.booleans())
    def drag_on(self, mark: int, further: bool) -> None:
        drag = self.drags[-1]
        (drag.further if further else drag.to)(adding(mark))
        if mark % 10 == 0:
            return
        self.live = (*(self.live or ()), mark) if further else (mark,)

    @precondition(lambda self: self.live is not None)
    @rule(keeps=st.booleans())
    def let_go(self, keeps: bool) -> None:
        if keeps:
            self.drags[-1].end()
            self._done(_with(self.done[-1], *(self.live or ())))
        else:
            self.drags[-1].abandon()
        self.live = None

    @rule(mark=marks, data=st.data())
    def a_drag_that_is_over_moves_on(self, mark: int, data: st.DataObject) -> None:
        over = self.drags if self.live is None else self.drags[:-1]
        if over:
            drag = data.draw(st.sampled_from(over))
            drag.to(adding(mark))
            drag.further(adding(mark))
            drag.end()
            drag.abandon()

    @rule()
    def lose_focus(self) -> None:
        named = bool(self.desk._drag and self.desk._drag.words)
        self.desk.keep_drag()
        if named:
            self._done(_with(self.done[-1], *(self.live or ())))
        self.live = None

    @rule()
    def undo(self) -> None:
        shown = _with(self.done[-1], *(self.live or ()))
        self.desk.undo()
        if shown != self.done[-1]:
            self.live = None
        elif len(self.done) > 1:
            self.undone.append(self.done.pop())

    @rule()
    def redo(self) -> None:
        self.desk.redo()
        if self.undone:
            self.done.append(self.undone.pop())

    @rule()
    def save(self) -> None:
        assert self.desk.save() and not self.desk.unsaved
        assert _marks(files.load(self.desk.folder)) == set(self.done[-1])

    @invariant()
    def shows_what_was_done_and_what_is_under_way(self) -> None:
        assert _marks(self.desk.history.project) == set(self.done[-1])
        assert _marks(self.desk.project) == set(_with(self.done[-1], *(self.live or ())))
        assert self.desk.busy is (self.live is not None)
        assert not self.told or self.told[-1][1] is self.desk.project


def _with(done: tuple[int, ...], *marks: int) -> tuple[int, ...]:
    return (*done, *(mark for mark in dict.fromkeys(marks) if mark not in done))


def _marks(project: Project) -> set[int]:
    return {int(patch.name) for patch in project.patches}


TestInterleaving = Interleaving.TestCase
TestInterleaving.settings = settings(max_examples=60, stateful_step_count=40, deadline=None)


def test_pictures_arrive_while_one_paints_and_undo_takes_the_stroke_alone(
    open_window,
    tmp_path: Path,
) -> None:
    drive = open_window()
    drive.drop(RAW / "fen_ground.png")
    drive.press("Take fen_ground as seen")
    drive.station(5)
    drive.press("Begin a level")
    weave, window = drive.at("Weave"), drive.window
    weave.hand.picking.take_brush(single(drive.project.sheet("fen_ground").pieces[1].number))
    canvas = drive.canvas
    QTest.mousePress(canvas, LEFT, pos=drive.spot(40, 40))
    QTest.mouseMove(canvas, drive.spot(90, 40))
    window.pictures.gather([RAW / "keeper.png", RAW / "crab.png"])
    QTest.mouseMove(canvas, drive.spot(120, 40))
    drive.settle()
    names = {sheet.name for sheet in drive.project.sheets}
    assert names == {"fen_ground", "keeper", "crab"}
    QTest.mouseRelease(canvas, LEFT, pos=drive.spot(120, 40))
    assert {sheet.name for sheet in drive.project.sheets} == names, "none is lost at release"
    cells = drive.project.levels[0].layers[0].cells
    assert cells.count() >= 4
    window.menus.actions["edit.undo"].trigger()
    drive.station(5)
    QTest.mousePress(drive.canvas, LEFT, pos=drive.spot(40, 90))
    QTest.mouseMove(drive.canvas, drive.spot(90, 90))
    held = window.desk.history
    window.menus.actions["edit.undo"].trigger()
    QTest.mouseMove(drive.canvas, drive.spot(150, 90))
    QTest.mouseRelease(drive.canvas, LEFT, pos=drive.spot(150, 90))
    assert window.desk.history is held, "undo took back the stroke, and no release brings it again"
    assert not drive.project.levels[0].layers[0].cells.count()


def test_a_piece_that_is_gone_is_not_split(open_window, demo: Path) -> None:
    drive = open_window(demo)
    desk = drive.window.desk
    desk.select(replace(desk.selection, sheets=("fen_ground",), pieces=frozenset()))
    drive.station(2)
    drive.press("Split")
    rect = drive.project.sheet("fen_ground").pieces[0].rect
    at = drive.spot(rect.x + 5, rect.y + 7)
    QTest.mousePress(drive.canvas, LEFT, pos=at)
    desk.do("Cut", lambda p: with_sheet(p, "fen_ground", lambda s: replace(s, pieces=())))
    before = drive.project
    drive.canvas.hide()
    assert drive.project is before and "gone meanwhile" in drive.window.frame.notice.text


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
