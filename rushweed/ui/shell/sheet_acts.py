"""What the rack does with sheets: remove, rename, replace, reorder, join, part, belong."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from rushweed.core.gather.changes import replaced
from rushweed.core.gather.relatives import (
    belonging_words,
    join_relative,
    possible_belongings,
    release_relative,
)
from rushweed.core.gather.sheet_list import join_sheets, keep_apart, move_sheets, rename_sheet
from rushweed.core.project.sheet import Belonging
from rushweed.core.values import Refusal
from rushweed.core.weave.letting_go import numbers_of, remove_sheets, uses_of
from rushweed.core.words import counted, say, some
from rushweed.ui.commands.commands import Commands
from rushweed.ui.desk import Desk
from rushweed.ui.outside import Outside
from rushweed.ui.shell.dialogs import Dialogs
from rushweed.ui.shell.menus import add_command
from rushweed.ui.shell.notice import Notice

MOST_BELONGINGS = 12


class SheetActs:
    """Acts on the selected sheets, each as one step of undo."""

    def __init__(self, desk: Desk, outside: Outside, dialogs: Dialogs, notice: Notice) -> None:
        self._desk, self._outside, self._dialogs, self._notice = desk, outside, dialogs, notice

    @property
    def _names(self) -> tuple[str, ...]:
        return self._desk.selection.sheets

    def _what(self) -> str:
        names = self._names
        return names[0] if len(names) == 1 else counted(len(names), "sheet", "sheets")

    def open_menu(self, parent: QWidget, place: QPoint, commands: Commands) -> None:
        """The menu of the selected sheets."""
        self.make_menu(parent, commands).popup(place)

    def make_menu(self, parent: QWidget, commands: Commands) -> QMenu:
        """The menu, not shown yet. What cannot be done now is not in it."""
        menu, names = QMenu(parent), self._names
        one = names[0] if len(names) == 1 else ""
        sheet = self._desk.project.sheet(one) if one else None
        if sheet is not None:
            add_command(menu, commands, "sheet.rename")
            _add(menu, say("Replace the picture …"), self.replace_picture)
        add_command(menu, commands, "sheet.up")
        add_command(menu, commands, "sheet.down")
        if sheet is not None and len(sheet.sources) > 1:
            _add(menu, say("Keep its pictures apart"), self.keep_apart)
        if len(names) > 1:
            _add(menu, say("Join into one"), self.join)
        if sheet is not None:
            self._add_belongings(menu, one)
        menu.addSeparator()
        add_command(menu, commands, "sheet.remove")
        return menu

    def _add_belongings(self, menu: QMenu, name: str) -> None:
        sheet = self._desk.project.sheet(name)
        if sheet.belongs is not None:
            _add(menu, say("Let it stand alone"), partial(self.belong, None))
            return
        found = possible_belongings(self._desk.project, name)[:MOST_BELONGINGS]
        under = menu.addMenu(say("Belongs to")) if found else None
        for belonging in found:
            assert under is not None
            _add(under, belonging_words(belonging), partial(self.belong, belonging))

    def remove(self) -> None:
        """Remove the selected sheets, and say what used them."""
        names, what = self._names, self._what()
        if not names:
            return
        uses = uses_of(self._desk.project, numbers_of(self._desk.project, names))
        words = say("Removed {what}", what=what)
        if self._desk.do(words, lambda p: remove_sheets(p, names)) and uses:
            self._notice.tell(
                say(
                    "{what} was used by {uses}, and is rubbed out there.",
                    what=what,
                    uses=some(uses, 4),
                ),
                (say("Bring it back"), self._desk.undo),
                quiet=True,
            )

    def rename(self, name: str, new: str) -> None:
        """Give a sheet another name."""
        words = say("Named {name} {new}", name=name, new=new.strip())
        if self._desk.do(words, lambda p: rename_sheet(p, name, new)):
            self._select(new.strip())

    def move(self, by: int) -> None:
        """Move the selected sheets up or down the list."""
        names = self._names
        words = say("Moved {what} in the list", what=self._what())
        self._desk.do(words, lambda p: move_sheets(p, names, by))

    def keep_apart(self) -> None:
        """Make a sheet of each picture of the selected one."""
        name = self._names[0]
        words = say("Kept the pictures of {name} apart", name=name)
        names = self._desk.make(words, lambda p: keep_apart(p, name))
        if names is not None:
            self._select(*names)

    def join(self) -> None:
        """Make the selected sheets one."""
        names = self._names
        words = say("Joined {what} into one", what=self._what())
        name = self._desk.make(words, lambda p: join_sheets(p, names))
        if name is not None:
            self._select(name)

    def belong(self, belonging: Belonging | None) -> None:
        """Make the selected sheet the density or companion of another, or none."""
        name = self._names[0]
        if belonging is None:
            words = say("Let {name} stand alone", name=name)
            self._desk.do(words, lambda p: release_relative(p, name))
        else:
            words = say("Made {name} {what}", name=name, what=belonging_words(belonging))
            self._desk.do(words, lambda p: join_relative(p, name, belonging))

    def replace_picture(self) -> None:
        """Ask for another picture for the selected sheet; what was decided follows its pieces."""
        from rushweed.core.cut.rereading import reread

        name, paths = self._names[0], self._dialogs.ask_pictures()
        if not paths:
            return
        sheet, art = self._desk.project.sheet(name), self._desk.art
        try:
            change = reread(sheet, art, replaced(sheet, art, paths[0]))
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        self._outside.take([change], say("Replaced the picture of {name}", name=name))

    def _select(self, *names: str) -> None:
        chosen = replace(self._desk.selection, sheets=names, pieces=frozenset())
        self._desk.select(chosen)


def _add(menu: QMenu, words: str, act: Callable[[], object]) -> None:
    action = menu.addAction(words)
    assert action is not None
    action.triggered.connect(lambda _=False: act())
