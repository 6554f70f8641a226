"""Every command with its words, its keys, and the place where they hold.

Menus, tooltips, the finder, the sheet of keys, docs/keys.md and all handling of keys are made
of this list. Several keys of one command either mean the same, or, where it is `stepped`, the
first, second, third … choice.
"""

from __future__ import annotations

from dataclasses import dataclass

WINDOW, RACK, TABLE = "Everywhere", "Rack", "On every table"
GATHER, PIECES, ANIMATIONS = "Gather", "Cut", "Cut, Animations"
SHAPES, FACTS = "Bound", "Bound, Facts"
LEVEL, PROPS, WALK = "Weave", "Weave, with props chosen", "Walk"

ARROWS = ("Left", "Right", "Up", "Down")
STEPS = ((-1, 0), (1, 0), (0, -1), (0, 1))
"""What the four arrows mean, across and down."""
STATIONS = ("Gather", "Cut", "Gauge", "Bound", "Weave", "Walk", "Bale")


@dataclass(frozen=True, slots=True)
class Command:
    """One thing that can be done. `held` ones are no acts: their keys do something as long as
    they are down."""

    identity: str
    place: str
    words: str
    keys: tuple[str, ...] = ()
    stepped: bool = False
    held: bool = False


@dataclass(frozen=True, slots=True)
class Hand:
    """What the pointer does, for the sheet of keys alone."""

    place: str
    what: str
    words: str


def _all(place: str, *lines: tuple[str, str, str]) -> tuple[Command, ...]:
    return tuple(Command(name, place, words, tuple(keys.split())) for name, words, keys in lines)


def _stepped(name: str, place: str, words: str, *keys: str) -> Command:
    return Command(name, place, words, keys, stepped=True)


def _held(name: str, words: str, *keys: str) -> Command:
    return Command(name, WALK, words, keys, held=True)


COMMANDS: tuple[Command, ...] = (
    *_all(
        WINDOW,
        ("project.new", "New project", "Ctrl+N"),
        ("project.open", "Open project …", "Ctrl+O"),
        ("pictures.gather", "Gather pictures …", "Ctrl+G"),
        ("pictures.folder", "Gather a folder …", "Ctrl+Shift+G"),
        ("project.save", "Save", "Ctrl+S"),
        ("project.save_elsewhere", "Save to another folder …", "Ctrl+Shift+S"),
        ("window.rules", "Ground rules …", "Ctrl+R"),
        ("window.close", "Close", "Ctrl+Q"),
        ("edit.undo", "Undo", "Ctrl+Z"),
        ("edit.redo", "Redo", "Ctrl+Shift+Z"),
        ("pictures.paste", "Paste pictures, or copied props", "Ctrl+V"),
        ("edit.select_all", "Select all that the table shows", "Ctrl+A"),
        ("window.find", "Find …", "Ctrl+F"),
        *((f"station.{s.lower()}", s, f"Ctrl+{n}") for n, s in enumerate(STATIONS, 1)),
        ("view.all", "Show all", "Ctrl+0"),
        ("window.findings", "Findings", "Ctrl+J"),
        ("window.theme", "Paper, or Dusk", "Ctrl+D"),
        ("window.full", "Full screen", "F11"),
        ("window.scrolls", "Scrolling: as the device is, pans, or zooms", ""),
        ("view.slip", "Fold the slip away, or open it", "F7"),
        ("view.lens", "Fold the lens away, or open it", "F8"),
        ("view.strip", "Fold the strip away, or open it", "F9"),
        ("window.keys", "Keys", "F1"),
        ("lens.play", "Play or pause in the lens", "P"),
    ),
    *_all(
        RACK,
        ("sheet.rename", "Rename", "F2"),
        ("sheet.up", "Move up", "Alt+Up"),
        ("sheet.down", "Move down", "Alt+Down"),
        ("sheet.remove", "Remove", "Del"),
    ),
    *_all(
        TABLE,
        ("view.nearer", "Nearer", "+ ="),
        ("view.farther", "Farther", "-"),
    ),
    *_all(
        GATHER,
        ("gather.next", "Next to look at", "N"),
        ("gather.none", "None of the readings is right: cut it by hand", "0"),
        ("gather.likeliest", "Take the likeliest of all that are to be looked at", "L"),
    ),
    _stepped("gather.reading", GATHER, "Take the first, second or third reading", *"123"),
    *_all(
        PIECES,
        ("cut.cell", "Drag over one cell; the others follow", "C"),
        ("cut.select", "Select pieces", "V Esc"),
        ("cut.edges", "Move edges", "E"),
        ("cut.piece", "Draw a piece", "D"),
        ("cut.split", "Split a piece along a line", "K"),
        ("cut.turn_line", "Lay the splitting line down, or stand it up", "L"),
        ("cut.join", "Join the selected pieces", "J"),
        ("cut.thin", "Split the selected piece where it is thin", "T"),
        ("cut.alike", "Select what looks like the selected piece", "A"),
        ("cut.leave_out", "Leave the selected pieces out", "Del"),
        ("cut.name", "Name pieces one after the other", "F2"),
    ),
    _stepped("cut.nudge", PIECES, "With Edges in hand: move the selected pieces", *ARROWS),
    _stepped("frames.nudge", ANIMATIONS, "Nudge the picked frames", *ARROWS),
    *_all(
        SHAPES,
        ("bound.select", "Select", "V"),
        ("bound.box", "Draw a box", "B"),
        ("bound.polygon", "Draw a polygon", "G"),
        ("bound.circle", "Draw a circle", "O"),
        ("bound.edit", "Move corners", "E"),
        ("bound.end", "End the polygon", "Return"),
        ("bound.take_back", "Take back the last corner", "Backspace"),
        ("bound.leave", "Leave what is being drawn", "Esc"),
        ("bound.whole", "Make whole pieces solid", "W"),
        ("bound.nothing", "Decide that nothing is solid", "Del"),
        ("bound.copy", "Keep the shapes of the selected piece", "C"),
        ("bound.paste", "Give the kept shapes to all that is selected", "I"),
        ("bound.mirror", "Mirror shapes left and right", "M"),
        ("bound.twins", "Tiles drawn the same, mirrored, turned or in other colours", "T"),
    ),
    _stepped("bound.form", SHAPES, "Give a common form", *"1234567890-"),
    _stepped("bound.nudge", SHAPES, "Move the selected corner", *ARROWS),
    _stepped("facts.fact", FACTS, "Take a fact", *"1234567"),
    _stepped("facts.step", FACTS, "Go on to the next tile", *ARROWS),
    _stepped("facts.side", FACTS, "Turn the side of entry", *(f"Alt+{key}" for key in ARROWS)),
    _stepped("facts.amount", FACTS, "More, or less of it", "+", "-"),
    *_all(
        FACTS,
        ("facts.give", "Give the fact to the selected tiles", "Return"),
        ("facts.take", "Take the fact from the selected tiles", "Backspace"),
    ),
    *_all(
        LEVEL,
        ("weave.draw", "Draw with the brush", "D"),
        ("weave.line", "A straight line", "L"),
        ("weave.box", "A filled box", "B"),
        ("weave.fill", "Fill what hangs together", "F"),
        ("weave.erase", "Rub out", "E"),
        ("weave.pick_up", "Pick up a tile from the level", "U"),
        ("weave.select", "Select a part, drag it elsewhere, with Ctrl a copy", "S"),
        ("weave.props", "Place, choose and drag props", "O"),
        ("weave.mark", "Put down a named place for the game's code", "N"),
        ("weave.measure", "Drag to see a distance", "M"),
        ("weave.start", "Say where the walker starts", ""),
        ("weave.mirror", "Mirror the brush across", "X"),
        ("weave.mirror_down", "Mirror the brush down", "Y"),
        ("weave.turn", "Turn the brush", "R"),
        ("weave.grid", "Grid", "H"),
        ("weave.play", "Play animated tiles and props, or let them rest", "A"),
        ("weave.repeat", "Do the last stroke once more", "."),
        ("weave.under", "Fill what is empty below the surface of the layer", "J"),
        ("weave.fitting", "Go to the layer that fits the brush", "G"),
        ("weave.copy_part", "Take the selected part in hand", "C"),
        ("weave.clear", "Clear the selected part, or remove the chosen props", "Del"),
        ("weave.end", "End the path", "Return"),
        ("weave.leave", "Forget the selected part", "Esc"),
    ),
    _stepped("props.nudge", PROPS, "Move the chosen props", *ARROWS),
    *_all(
        PROPS,
        ("props.flip", "Flip the chosen props", "X"),
        ("props.turn", "Turn the chosen props", "R"),
        ("props.duplicate", "Duplicate the chosen props", "D"),
        ("props.copy", "Copy the chosen props", "Ctrl+C"),
    ),
    _held("walk.left", "Walk to the left", "Left", "4"),
    _held("walk.right", "Walk to the right", "Right", "6"),
    _held("walk.up", "Jump or climb; from above, walk up", "Up", "8"),
    _held("walk.down", "Climb down; with a jump, drop", "Down", "2"),
    _held("walk.jump", "Jump", "Space", "0"),
    _held("walk.run", "Run, where the walker can", "X", "5"),
    *_all(
        WALK,
        ("walk.toggle", "Walk, or hold still", "Return"),
        ("walk.restart", "Back to the start", "R"),
        ("walk.shapes", "Show or hide shapes", "S"),
        ("walk.trace", "Show or hide the trace", "T"),
    ),
)
HANDS = (
    Hand(TABLE, "Wheel", "Zoom at the pointer"),
    Hand(TABLE, "Middle drag, Space and drag", "Move the view"),
    Hand(TABLE, "Esc", "Leave what you are doing"),
    Hand(LEVEL, "Second button", "Pick up a tile"),
)
PLACES = tuple(dict.fromkeys(command.place for command in COMMANDS))
OVER = {PROPS: LEVEL}
"""Places whose keys come before those of another."""
MENUS: dict[str, tuple[str, ...]] = {
    "Project": (
        *("project.new", "project.open", ""),
        *("pictures.gather", "pictures.folder", ""),
        *("project.save", "project.save_elsewhere", ""),
        *("window.rules", "", "window.close"),
    ),
    "Edit": ("edit.undo", "edit.redo", "", "pictures.paste", "edit.select_all", "window.find"),
    "Stations": tuple(f"station.{name.lower()}" for name in STATIONS),
    "View": (
        *("view.all", "window.findings", ""),
        *("view.slip", "view.lens", "view.strip", ""),
        *("window.theme", "window.full", "window.scrolls"),
    ),
    "Help": ("window.keys",),
}
"""The menus; an empty identity is a line between."""
