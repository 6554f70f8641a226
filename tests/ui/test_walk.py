"""Walk in the window: jumps, traces, probes, shapes fixed and come back to, depth from above."""

from __future__ import annotations

import os
import re
import struct
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from rushweed.core.project.body import Body
from rushweed.core.project.body import Path as Way
from rushweed.core.project.level import Prop
from rushweed.core.values import Point
from rushweed.core.walk.manners import manner_of
from rushweed.core.walk.motion import Keys
from rushweed.core.weave.levels import set_cells, with_layer
from rushweed.ui.canvas.images import from_image
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.walk.jump_picture import JumpPicture
from tests.hands import LEFT, QTest
from tests.ui.test_stations import words


@pytest.fixture
def drive(open_window, demo: Path):
    made = open_window(demo)
    made.station(6)
    made.at("Walk").stage.run(False)
    return made


def stage(drive):
    return drive.at("Walk").stage


def shot(drive) -> np.ndarray:
    return from_image(stage(drive).grab().toImage())


def test_jumps_are_set_by_height_and_time(drive) -> None:
    drive.type_number("Time to the top", "0.5")
    walker = drive.project.walker
    assert walker.gravity == pytest.approx(2 * walker.jump / 0.25, abs=1e-3)
    drive.type_number("Still after a ledge", "0.1")
    drive.type_number("Already before landing", "0.08")
    drive.press("Shorter when let go")
    walker = drive.project.walker
    assert (walker.coyote_time, walker.jump_buffer, walker.variable_jump_height) == (
        0.1,
        0.08,
        True,
    )
    drive.choose("Animation when it does: rise", "raise")
    assert drive.project.walker.states.rise == "raise"
    drive.choose("Animation when it does: rise", "usual")
    assert drive.project.walker.states.rise == "" and drive.undo_all() == 6


def test_a_manner_is_taken_its_feel_is_set_and_the_view_follows(drive) -> None:
    drive.choose("Manner to begin with", "Swinging, with a run-up")
    taken = drive.project.walker
    assert manner_of(taken) == "swinging" and taken.figure == "keeper", "the figure stays"
    curve = drive.window.findChild(JumpPicture)
    assert "at a run" in curve.accessibleName() and "let go" in curve.accessibleName()
    for name, part in (
        ("Speeds up in", "speed_up"),
        ("Brakes in", "brake"),
        ("Both in the air in", "in_air"),
        ("Runs at", "run"),
        ("Falls at most at", "falls"),
        ("Slips past corners of", "corner_correction"),
        ("Climbs at", "climbs"),
        ("Swims at", "swims"),
        ("Sinks at", "sinks"),
    ):
        drive.type_number(name, "0.85")
        assert getattr(drive.project.walker.feel, part) == 0.85, name
    drive.type_number("Jumps in the air", "2")
    assert drive.project.walker.feel.jumps == 2 and manner_of(drive.project.walker) is None
    assert "in the air again" in curve.accessibleName()
    drive.type_number("Runs at", "8")
    drive.type_number("Free across", "50")
    drive.press("Stays within the level")
    drive.assert_slip_fits()
    board = stage(drive)
    board.restart()
    begin = board.course.view()
    QTest.keyPress(board, Qt.Key.Key_Right)
    board.step(5)
    assert board.course.view() == begin, "within the middle the view stays"
    QTest.keyPress(board, Qt.Key.Key_X)
    board.step(300)
    assert (
        board.course.view() != begin and board.course.motion.speed_x > 4 * 16
    ) or board.course.motion.blocked
    for key in (Qt.Key.Key_X, Qt.Key.Key_Right):
        QTest.keyRelease(board, key)
    drive.undo_all()
    assert manner_of(drive.project.walker) == "plain"


def test_traces_large_drawing_and_named_touches(drive) -> None:
    board = stage(drive)
    QTest.keyPress(board, Qt.Key.Key_Right)
    board.step(40)
    QTest.keyRelease(board, Qt.Key.Key_Right)
    plain = shot(drive)
    QTest.keyClick(board, Qt.Key.Key_T)
    assert (shot(drive) != plain).any()
    QTest.keyClick(board, Qt.Key.Key_T)
    board.course.motion = replace(board.course.motion, x=board.course.motion.x + 0.4)
    board.redraw()
    snapped = shot(drive)
    drive.press("Drawn large, not on whole pixels")
    assert (shot(drive) != snapped).any(), "it moves by less than a pixel of the game"
    values = dict(drive.at("Walk")._read_outs._values)
    assert values["Touches"] == "planks" and values["Stands on"].startswith("plank")


def test_a_walk_is_handed_out_as_one_page(drive, tmp_path: Path) -> None:
    drive.answers.folder = tmp_path
    drive.press("Hand it out …")
    drive.settle()
    [page] = tmp_path.glob("*.html")
    told = re.sub(rb"https://(creativecommons|spdx\.org/licenses/)", b"", page.read_bytes())
    assert b"https://" not in told, "nothing is fetched; licences are named"
    told = drive.at("Walk").keys_group.result.text()
    assert page.name in told
    drive.answers.folder = tmp_path / "none"
    drive.press("Hand it out …")
    drive.settle()
    assert "could not be written" in drive.window.frame.notice.text


def test_a_shape_is_fixed_in_bound_and_the_walker_waits(drive) -> None:
    board = stage(drive)
    board.step(20)
    before = board.course.motion
    number = before.on
    drive.press("Fix its shape")
    assert drive.window.router.station == "Bound" and drive.window.desk.selection.pieces == {number}
    drive.press("Nothing solid")
    drive.station(6)
    board.run(False)
    assert (board.course.motion.x, board.course.motion.y) == (before.x, before.y), (
        "it stands where it stood"
    )
    board.step(1)
    assert board.course.motion.on != number, "and the ground is gone at once"


def test_probes_list_what_they_found_and_lead_there(drive) -> None:
    desk = drive.window.desk
    desk.select(replace(desk.selection, level="Sluice house"))
    walk = drive.at("Walk")
    plain = shot(drive)
    drive.press("Probe the level")
    group = walk.probes
    assert group.found is not None and "places reached" in group.result.text()
    assert (shot(drive) != plain).any(), "reached ground is drawn"
    spot = group.list.items[0]
    index = group.list.model().index(0, 0)
    QTest.mouseClick(
        group.list.viewport(),
        LEFT,
        pos=group.list.visualRect(index).center(),
    )
    assert (stage(drive).course.motion.x, stage(drive).course.motion.y) == tuple(spot.place)
    found = walk.probes.found
    drive.type_number("Jump", "3")
    assert walk.probes.found is None, "it was of the level as it was"
    drive.window.menus.actions["edit.undo"].trigger()
    assert walk.probes.found == found, "and it is that again"
    desk.do("Took the levels away", lambda project: replace(project, levels=()))
    assert walk.probes.found is None and drive.window.router.station == "Walk", "nor of no level"
    drive.window.menus.actions["edit.undo"].trigger()


def test_what_probes_find_is_a_finding_that_leads_there(drive) -> None:
    desk, watch = drive.window.desk, drive.window.watch
    crate = next(p.number for p in drive.project.sheet("fen_ground").pieces if p.name == "crate")
    cells = drive.project.level("Long boardwalk").layers[8].cells.painted({(34, 8): (crate, 0)})
    desk.do("Put", lambda p: set_cells(p, "Long boardwalk", 8, cells))
    watch.look()
    assert not [f for f in watch.findings if f.code == "walking-trouble"], "nobody asked yet"
    drive.press("Probe the level")
    watch.look()
    [finding] = [f for f in watch.findings if f.code == "walking-trouble"]
    assert "a step of 3 px" in finding.what
    drive.station(2)
    watch.show(finding)
    assert drive.window.router.station == "Walk"
    assert (stage(drive).course.motion.x, stage(drive).course.motion.y) == tuple(finding.spot)


def test_bodies_move_on_the_stage(drive) -> None:
    board = stage(drive)
    level = drive.window.desk.selection.level
    index = [layer.name for layer in drive.project.level(level).layers].index("Props")
    boat = drive.project.sheet("landing").pieces[0].number
    start = drive.project.level(level).start
    body = Body("travels", Way((Point(0, -60),), 0.5))
    prop = Prop(boat, start.x + 40, start.y - 40, body=body)
    drive.window.desk.do(
        "Placed a boat",
        lambda p: with_layer(p, level, index, lambda old: replace(old, props=(*old.props, prop))),
    )
    board.restart()
    first = shot(drive)
    board.step(15)
    assert board.course.motion.bodies[-1].y == pytest.approx(prop.y - 30)
    assert (shot(drive) != first).any() and words(drive) == "Placed a boat"


def test_from_above_nothing_is_said_of_jumps_and_all_speed_counts(drive) -> None:
    desk, walk, board = drive.window.desk, drive.at("Walk"), stage(drive)
    groups = walk.keys_group.parentWidget().findChildren(Group)
    assert drive.seen(Stepper, "Jump") and not walk._walker_group.result.text().startswith("Cr")
    desk.select(replace(desk.selection, level="Heron pool"))
    shown = [group for group in groups if not group.isHidden()]
    assert len(shown) == len(groups) - 1 and [g.number for g in shown] == [1, 2, 3, 4, 5, 6]
    with pytest.raises(AssertionError):
        drive.seen(Stepper, "Jump")
    assert walk._walker_group.result.text() == "Crosses 4 tiles in a second."
    drive.press("Directions from above: 4")
    assert drive.project.walker.ways == 4
    board.run(False)
    QTest.keyPress(board, Qt.Key.Key_Down)
    drive.press("Step")
    QTest.keyRelease(board, Qt.Key.Key_Down)
    told = walk._read_outs.accessibleName()
    assert "Speed 4 units/s" in told and "Stands on path" in told
    desk.select(replace(desk.selection, level="Sluice house"))
    assert drive.seen(Stepper, "Jump") and [g.number for g in groups] == [1, 2, 3, 4, 5, 6, 7]


def test_a_gamepad_steers_and_may_be_pulled_out(drive, tmp_path: Path) -> None:
    board, device = stage(drive), tmp_path / "js0"
    os.mkfifo(device)
    held = os.open(device, os.O_RDWR)
    board.gamepads._devices = tmp_path
    board.gamepads.begin()

    def move(value: int, kind: int, number: int) -> frozenset[str]:
        os.write(held, struct.pack("IhBB", 0, value, kind, number))
        drive.qtbot.wait(20)
        return board.gamepads.held

    assert move(32767, 2 | 0x80, 0) == {"right"}, "as it stands when it is opened"
    x = board.course.motion.x
    board.step(5)
    assert board.course.motion.x > x
    assert move(1, 1, 0) == {"right", "jump"}
    assert move(1, 1, 2) == {"right", "jump", "run"}
    assert move(900, 2, 0) == {"jump", "run"}, "a stick at rest"
    assert move(-32767, 2, 7) == {"up", "jump", "run"}
    assert move(0, 2, 7) == {"jump", "run"} and move(0, 1, 0) == {"run"}
    board.restart()
    board.step(5)
    assert move(-32767, 2, 7) == {"up", "run"}
    board.step(5)
    assert board.course.motion.speed_y < 0 and board.course.recorded[-1] == Keys(
        up=True, jump=True, run=True
    )
    os.close(held)
    drive.qtbot.wait(30)
    assert not board.gamepads.held
    board.gamepads.end()
