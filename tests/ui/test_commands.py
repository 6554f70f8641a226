"""The list of commands: every key does what it says, in its place, and can be changed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QEvent, QKeyCombination, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QApplication, QLabel, QWidget

from rushweed.core.values import Refusal
from rushweed.core.weave.painting import single
from rushweed.ui.commands import listed
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.keys_file import claims, read_own_keys, write_all_keys
from rushweed.ui.commands.listed import COMMANDS
from rushweed.ui.shell.frame import USUAL
from rushweed.ui.shell.keys_sheet import KeysSheet
from rushweed.ui.stations.walk.stage import Stage
from tests.driving import Driver
from tests.hands import CONTROL, NONE, QTest
from tools.write_keys import TARGET, table

PLACES = {
    listed.WINDOW: ("Cut", 0),
    listed.RACK: ("Cut", 0),
    listed.TABLE: ("Cut", 0),
    listed.GATHER: ("Gather", 0),
    listed.PIECES: ("Cut", 0),
    listed.ANIMATIONS: ("Cut", 1),
    listed.SHAPES: ("Bound", 0),
    listed.FACTS: ("Bound", 1),
    listed.LEVEL: ("Weave", 0),
    listed.PROPS: ("Weave", 0),
    listed.WALK: ("Walk", 0),
}
Prepare = Callable[[Driver], Any]


def press(drive: Driver, key: str) -> None:
    """A key as the list writes it, pressed where the focus is."""
    combination = QKeySequence(key)[0]
    assert isinstance(combination, QKeyCombination)
    target = QApplication.focusWidget() or drive.window
    QTest.keyClick(target, combination.key(), combination.keyboardModifiers())
    drive.qtbot.wait(1)


def focus_the_table(drive: Driver) -> None:
    with drive.qtbot.waitActive(drive.window):
        drive.window.activateWindow()
    table = drive.window.router.key_table()
    assert table is not None
    table.setFocus()


def pieces_of(sheet: str, count: int) -> Prepare:
    def prepare(drive: Driver) -> None:
        desk = drive.window.desk
        numbers = [piece.number for piece in desk.project.sheet(sheet).pieces[:count]]
        chosen = replace(desk.selection, sheets=(sheet,), pieces=frozenset(numbers))
        desk.select(chosen)

    return prepare


def keys(*pressed: str) -> Prepare:
    def prepare(drive: Driver) -> None:
        for key in pressed:
            press(drive, key)

    return prepare


def both(*parts: Prepare) -> Prepare:
    return lambda drive: [part(drive) for part in parts]


def a_frame(drive: Driver) -> None:
    sheet = drive.project.sheet("keeper")
    animation = sheet.animations[0]
    chosen = replace(
        drive.window.desk.selection,
        sheets=("keeper",),
        pieces=frozenset(animation.frames[:1]),
        animation=animation.name,
    )
    drive.window.desk.select(chosen)


def a_corner_in_hand(drive: Driver) -> None:
    pieces_of("fen_ground", 1)(drive)
    press(drive, "1")
    press(drive, "E")
    piece = drive.project.sheet("fen_ground").pieces[0]
    drive.click(piece.rect.x, piece.rect.y)


def a_line_to_split_along(drive: Driver) -> None:
    press(drive, "K")
    rect = drive.project.sheet("fen_ground").pieces[0].rect
    QTest.mouseMove(drive.canvas, drive.spot(rect.x + 5, rect.y + 7))


def a_polygon_begun(drive: Driver) -> None:
    press(drive, "G")
    piece = drive.project.sheet("fen_ground").pieces[0]
    for x, y in ((2, 2), (12, 2), (12, 12)):
        drive.click(piece.rect.x + x, piece.rect.y + y)


def a_level(drive: Driver) -> None:
    """The ground of the boardwalk, with its brush in hand."""
    desk = drive.window.desk
    layers = [layer.name for layer in desk.project.level("Long boardwalk").layers]
    ground = layers.index("Ground")
    desk.select(replace(desk.selection, level="Long boardwalk", layer=ground))
    weave = drive.at("Weave")
    weave.slip.level.go_to(100, 4)
    mud = next(p.number for p in drive.project.sheet("fen_ground").pieces if p.name == "slope_up")
    weave.hand.picking.take_brush(single(mud))
    drive.press("Tool: Brush")
    for x in (1580, 1600):
        QTest.mouseMove(drive.canvas, drive.spot(x, 40))


def a_stroke(drive: Driver) -> None:
    a_level(drive)
    drive.drag((1500, 40), (1540, 40))
    QTest.mouseMove(drive.canvas, drive.spot(1600, 40))


def a_part(drive: Driver) -> None:
    a_stroke(drive)
    drive.press("Tool: Select")
    drive.drag((1490, 30), (1560, 60))


def a_path(drive: Driver) -> None:
    a_prop(drive)
    drive.choose("What it does", "Travels along a path")
    drive.press("Path")
    drive.click(1640, 60)
    drive.click(1680, 60)


def a_prop(drive: Driver) -> None:
    a_level(drive)
    weave = drive.at("Weave")
    weave.hand.picking.take_brush(single(drive.project.sheet("landing").pieces[0].number))
    drive.press("Tool: Props")
    drive.click(1600, 60)


def something_that_would_replace_ground(drive: Driver) -> None:
    a_level(drive)
    weave, desk = drive.at("Weave"), drive.window.desk
    numbers = {piece.name: piece.number for piece in drive.project.sheet("fen_ground").pieces}
    weave.hand.picking.take_brush(single(numbers["tuft"]))
    cells = drive.project.level("Long boardwalk").layers[desk.selection.layer].cells
    column, row = next(cells.places_of({numbers["bank_top"]}))
    weave.slip.level.go_to(column, row)
    for above in (3, 0):
        QTest.mouseMove(drive.canvas, drive.spot(column * 16 + 8, (row - above) * 16 + 8))


def an_edit(drive: Driver) -> None:
    desk = drive.window.desk
    desk.do("Named it", lambda project: replace(project, name=project.name + "!"))


def undone(drive: Driver) -> None:
    an_edit(drive)
    drive.window.desk.undo()


def in_the_rack(drive: Driver) -> None:
    pieces_of("heron", 0)(drive)
    drive.window.frame.rack.sheets.rows.setFocus()


def standing(drive: Driver) -> None:
    """The walker has gone some steps, and the clock stands."""
    stage = drive.at("Walk").key_table()
    assert isinstance(stage, Stage)
    stage.setFocus()
    stage.held = {"right"}
    for _ in range(30):
        stage.step()
    stage.held = set()
    stage.run(False)


def fact(number: int) -> Prepare:
    return both(pieces_of("fen_ground", 1), keys(str(number)))


JOINED = pieces_of("fen_ground", 2)
DEFAULTS: dict[str, Prepare] = {
    listed.WINDOW: pieces_of("fen_ground", 1),
    listed.RACK: in_the_rack,
    listed.TABLE: pieces_of("fen_ground", 1),
    listed.GATHER: pieces_of("heron", 0),
    listed.PIECES: both(JOINED, keys("K")),
    listed.ANIMATIONS: a_frame,
    listed.SHAPES: both(JOINED, keys("1", "G")),
    listed.FACTS: fact(2),
    listed.LEVEL: a_level,
    listed.PROPS: a_prop,
    listed.WALK: standing,
}
PREPARED: dict[str, Prepare] = {
    "edit.undo": an_edit,
    "lens.play": a_frame,
    "view.lens": lambda drive: drive.window.frame.arrange(USUAL),
    "edit.redo": undone,
    "project.save": an_edit,
    "window.close": an_edit,
    "project.new": an_edit,
    "station.cut": keys("Ctrl+1"),
    "view.all": both(pieces_of("fen_ground", 1), keys("+")),
    "cut.split": JOINED,
    "cut.turn_line": a_line_to_split_along,
    "bound.whole": both(JOINED, keys("2")),
    "cut.thin": pieces_of("keeper", 1),
    "cut.alike": pieces_of("keeper", 1),
    "cut.nudge": both(JOINED, keys("E")),
    "bound.polygon": pieces_of("fen_ground", 1),
    "bound.nudge": a_corner_in_hand,
    "bound.end": a_polygon_begun,
    "bound.take_back": a_polygon_begun,
    "bound.leave": a_polygon_begun,
    "bound.paste": both(pieces_of("fen_ground", 1), keys("2", "C"), pieces_of("heron", 2)),
    "bound.mirror": both(pieces_of("fen_ground", 1), keys("5")),
    "bound.copy": pieces_of("fen_ground", 1),
    "facts.fact": fact(2),
    "facts.side": fact(1),
    "facts.give": both(fact(2), keys("+")),
    "facts.take": both(fact(2), keys("+", "Return")),
    "weave.draw": both(a_level, keys("E")),
    "weave.repeat": a_stroke,
    "weave.copy_part": a_part,
    "weave.clear": a_part,
    "weave.leave": a_part,
    "weave.end": a_path,
    "weave.fitting": something_that_would_replace_ground,
}


class Seen:
    """What somebody sees and has."""

    def __init__(self, drive: Driver) -> None:
        window, desk = drive.window, drive.window.desk
        self.asked = list(drive.answers.asked)
        self.place = (
            window.router.station,
            window.router.shown.name,
            window.isFullScreen(),
        )
        self.project, self.selection, self.unsaved = desk.project, desk.selection, desk.unsaved
        top = [w for w in QApplication.topLevelWidgets() if w.isVisible()]
        self.windows = len(top)
        self.pixels = [bytes_of(w) for w in top]
        focus = QApplication.focusWidget()
        self.focus = type(focus).__name__

    def __eq__(self, other: object) -> bool:
        return self.__dict__ == other.__dict__


def bytes_of(widget: QWidget) -> bytes:
    image = widget.grab().toImage()
    bits = image.constBits()
    assert bits is not None
    return bits.asstring(image.sizeInBytes())


@pytest.mark.opens_projects
@pytest.mark.parametrize("place", listed.PLACES)
def test_every_key_does_what_is_seen_at_once(
    place: str, open_window: Callable[..., Driver], demo: Path
) -> None:
    ran: list[str] = []
    drive: Driver | None = None
    for command in [one for one in COMMANDS if one.place == place and one.keys and not one.held]:
        if drive is None or place == listed.WINDOW:  # its commands change more than the project
            drive = open_window(demo)
            drive.window.commands.ran.connect(ran.append)
        station, face = PLACES[place]
        drive.window.router.open(station, face)
        drive.settle()
        drive.window.watch.look()
        focus_the_table(drive)
        PREPARED.get(command.identity, DEFAULTS[place])(drive)
        drive.settle()
        before = Seen(drive)
        assert before == Seen(drive), f"{command.identity}: what is seen changes by itself"
        press(drive, command.keys[-1 if command.stepped else 0])
        assert ran and ran[-1] == command.identity, command
        drive.settle()
        drive.wait_for(lambda: before != Seen(drive))  # noqa: B023
        for popup in QApplication.topLevelWidgets():
            if popup is not drive.window:
                popup.close()
        if place == listed.WINDOW:
            drive.close()
        else:
            drive.undo_all()


def test_no_key_is_claimed_twice_and_every_command_is_done_by_somebody(
    open_window: Callable[..., Driver], demo: Path
) -> None:
    twice = {claim: names for claim, names in claims({}).items() if len(names) > 1}
    assert not twice
    assert len({command.identity for command in COMMANDS}) == len(COMMANDS)
    drive = open_window(demo)
    for station, face in set(PLACES.values()):
        drive.window.router.open(station, face)
    commands = drive.window.commands
    alone = [
        one.identity for one in COMMANDS if not one.held and not commands.is_bound(one.identity)
    ]
    assert not alone


def test_users_have_keys_of_their_own(
    open_window: Callable[..., Driver], demo: Path, tmp_path: Path
) -> None:
    file = tmp_path / "keys.toml"
    file.write_text(
        '"cut.join" = ["Ctrl+J", "F6"]\n"window.findings" = "F4"\n"cut.leave_out" = ""\n'
    )
    drive = open_window(demo)
    drive.station(2)
    focus_the_table(drive)
    JOINED(drive)
    before = drive.project
    for key in ("J", "Del"):
        press(drive, key)
        assert drive.project is before, drive.window.desk.history.words
    assert "F6" in drive.button("Join").toolTip()
    press(drive, "F6")
    assert len(drive.project.sheet("fen_ground").pieces) == 62
    press(drive, "F4")
    assert drive.window.frame.findings_list.isVisible()
    sheet = KeysSheet(drive.window, drive.window.commands, file)
    shown = {one.text() for one in sheet.findChildren(QLabel)}
    assert "Ctrl+J, F6" in shown and "F4" in shown


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ('"cut.joyn" = "J"', "cut.joyn, which is no command"),
        ('"cut.join" = 7', "7. Write it as Ctrl\\+J"),
        ('"cut.join" = "Ctrl+X, Ctrl+C"', "Write it as"),
        ('"cut.join" = "nonsense"', "Write it as"),
        ('"cut.join" = "E"', "cut.edges and cut.join"),
        ('"cut.join" = "Ctrl+S"', "project.save and cut.join"),
        ('"facts.fact" = ["1", "2", "3", "4", "5", "6", "7", "8"]', "8 keys, but it has 7 choices"),
        ("cut.join", "cannot be read"),
        ("\xff\x00", "cannot be read"),
    ],
)
def test_keys_that_cannot_be_are_told_and_the_usual_ones_hold(
    text: str, words: str, open_window: Callable[..., Driver], tmp_path: Path
) -> None:
    file = tmp_path / "keys.toml"
    file.write_bytes(text.encode("latin-1"))
    with pytest.raises(Refusal, match=words) as told:
        read_own_keys(file)
    drive = open_window()
    assert drive.window.frame.notice.text == str(told.value)
    assert drive.window.commands.keys("cut.join") == ("J",)


def test_a_file_of_all_keys_changes_nothing_until_somebody_does(tmp_path: Path) -> None:
    file = tmp_path / "rushweed" / "keys.toml"
    write_all_keys(file)
    assert read_own_keys(file) == {}
    plain = [line.removeprefix("# ") for line in file.read_text().splitlines()[1:]]
    file.write_text("\n".join(plain))
    commands = Commands(read_own_keys(file))
    assert all(commands.keys(one.identity) == one.keys for one in COMMANDS)
    write_all_keys(file)
    assert file.read_text() == "\n".join(plain), "a file that is there stays"


def test_the_page_of_keys_is_as_the_list_says() -> None:
    assert TARGET.read_text() == table()


FRENCH = "&é\"'(-è_çà)= AZERTYUIOP^$ QSDFGHJKLMÙ WXCVBN,;:!"
GERMAN = "1234567890ßˆ QWERTZUIOPÜ+ ASDFGHJKLÖÄ YXCVBNM,.-"
RUSSIAN = "1234567890-= ЙЦУКЕНГШЩЗХЪ ФЫВАПРОЛДЖЭ ЯЧСМИТЬБЮ."
GREEK = "1234567890-= ;ςΕΡΤΥΘΙΟΠ[] ΑΣΔΦΓΗΞΚΛ΄' ΖΧΨΩΒΝΜ,./"
LAYOUTS = {"fr": FRENCH, "de": GERMAN, "ru": RUSSIAN, "gr": GREEK}
UNITED_STATES = "1234567890-= QWERTYUIOP[] ASDFGHJKL;' ZXCVBNM,./"


def pressed(layout: str, wanted: str, held: Qt.KeyboardModifier = NONE) -> QKeyEvent:
    """The key that a hand on a keyboard of a layout presses for a letter or digit: the one that has
    it, else the one that stands where it does in the United States."""
    rows = zip((10, 24, 38, 52), layout.split(), UNITED_STATES.split(), strict=True)
    signs = [
        (first + n, own, usual)
        for first, owns, usuals in rows
        for n, (own, usual) in enumerate(zip(owns, usuals, strict=True))
    ]
    has = {own: (code, own) for code, own, _ in reversed(signs)}
    stands = {usual: (code, own) for code, own, usual in reversed(signs)}
    code, sign = has.get(wanted) or stands[wanted]
    return QKeyEvent(QEvent.Type.KeyPress, ord(sign), held, code, 0, 0, sign.lower())


@pytest.mark.parametrize("layout", LAYOUTS.values(), ids=LAYOUTS)
def test_keys_mean_the_same_on_every_keyboard(layout: str) -> None:
    """Each letter and digit of the list does what it says, and no other key does it as well."""
    done: list[str] = []
    commands = Commands()
    for name, command in commands.all.items():
        commands.bind_stepped(name, lambda index, name=name: done.append(name))
        del command
    if layout in (RUSSIAN, GREEK):
        commands.press(listed.WINDOW, pressed(layout, "G"))  # it is seen which script this is
    signs = set(UNITED_STATES) - {" "}
    for (place, key), (name, _) in commands._at.items():
        *held, sign = key.rsplit("+", 1) if key not in ("+", "Ctrl++") else ("", "+")
        if sign in signs and sign.isalnum() and held in ([], ["Ctrl"]):
            done.clear()
            event = pressed(layout, sign, CONTROL if held else NONE)
            if (place, "+".join([*held, chr(event.key())])) in commands._at and event.key() < 128:
                event = pressed(UNITED_STATES, sign, CONTROL if held else NONE)  # with Shift there
            assert commands.press(place, event), (place, key)
            assert done == [name], (place, key)
    done.clear()
    if layout == GERMAN:
        commands.press(listed.WINDOW, pressed(layout, "Y", CONTROL))
        assert not done, "Z is there, so that its place means nothing"
