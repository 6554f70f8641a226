"""Writes `docs/keys.md`, the guide's table of keys, from the list of commands."""

from __future__ import annotations

from pathlib import Path

from rushweed.ui.commands.listed import ARROWS, COMMANDS, HANDS, PLACES, Command

TARGET = Path(__file__).parent.parent / "docs" / "keys.md"
HEAD = """# Keys

F1 shows them in the window. *Keys of your own* there writes `keys.toml` beside the settings
(`~/.config/rushweed/` as a rule), with all commands by the names below; a line such as
`"cut.join" = "Ctrl+J"` gives a command other keys, several stand in brackets, and `""` takes them
away. A key that two commands would have in one place is refused in words.
"""


def table() -> str:
    """The whole page."""
    parts = [HEAD]
    for place in PLACES:
        parts.append(f"\n## {place}\n\n| keys | what they do | command |\n| --- | --- | --- |\n")
        parts += [_line(one) for one in COMMANDS if one.place == place and one.keys]
        parts += [f"| {one.what} | {one.words} | |\n" for one in HANDS if one.place == place]
    return "".join(parts)


def _line(command: Command) -> str:
    arrows = tuple(key.split("+")[-1] for key in command.keys) == ARROWS
    keys = "arrows" if arrows else ", ".join(f"`{key}`" for key in command.keys)
    if arrows and "+" in command.keys[0]:
        keys = f"`{command.keys[0].split('+')[0]}` and arrows"
    return f"| {keys} | {command.words} | `{command.identity}` |\n"


if __name__ == "__main__":
    TARGET.write_text(table())
