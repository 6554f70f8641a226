"""Controls bound to what is selected: each shows how that is, and sets it by an edit."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from operator import attrgetter
from typing import Any, Generic, Protocol, TypeVar

from PyQt6.QtCore import pyqtBoundSignal

from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Edit, Outcome
from rushweed.ui.desk import Desk
from rushweed.ui.shell.stepper import Stepper

Thing = TypeVar("Thing")
Value = TypeVar("Value")
Bindable = TypeVar("Bindable", bound="Control")


def common(values: Iterable[Value]) -> Value | None:
    """The one value all share, or None where they differ or there are none."""
    found = set(values)
    return found.pop() if len(found) == 1 else None


def unlike(things: Sequence[Thing], *points: str) -> list[Thing]:
    """Of things that are alike in these points, attributes by name, one: what many share or differ
    in is told as well by few."""
    return list(dict(zip(map(attrgetter(*points), things), things, strict=True)).values())


class Control(Protocol):
    """What can be bound: a chip row, a choice, a check, a field, a stepper, a slider."""

    @property
    def entered(self) -> pyqtBoundSignal: ...

    def show_value(self, value: Any) -> None: ...

    def show_nothing(self) -> None: ...

    def words_of(self, value: Any) -> str: ...

    def setEnabled(self, enabled: bool) -> None: ...


class Bindings(Generic[Thing]):
    """The controls of a group or a face, all for the same selected things.

    A control shows the value that all of them share, or that values differ, and is silent while it
    is shown; without any thing it shows none, and cannot be used. What is entered becomes one step
    of undo; where the core refuses it, that is told and the control shows what is.
    """

    def __init__(
        self,
        desk: Desk,
        selected: Callable[[], Sequence[Thing]],
        named: Callable[[], str] = lambda: "",
        do: Callable[[str, Edit], object] | None = None,
        at: Callable[[], Any] | None = None,
    ) -> None:
        """`selected` gives the things, `at` what an edit is told of where they are, such as their
        numbers, and `named` what they are called in its words; `do` makes edits in place of the
        desk."""
        self._selected, self._named, self._at = selected, named, at
        self._desk, self._do = desk, do or desk.do
        self._shown: list[Callable[[Sequence[Thing]], None]] = []

    def bind(
        self,
        control: Bindable,
        read: Callable[[Thing], Any],
        edit: Callable[..., Project | Outcome],
        words: str,
    ) -> Bindable:
        """Show what `read` tells of the things, and make `edit` of a project, of where the things
        are when something is entered (where there is an `at`), and of what is entered. It is
        remembered under `words`, in which {what} and {value} may stand. Gives back the control."""

        def show(things: Sequence[Thing]) -> None:
            control.setEnabled(bool(things))
            if things:
                control.show_value(common(map(read, things)))
            else:
                control.show_nothing()

        def take(value: Any) -> None:
            told = words.format(what=self._named(), value=control.words_of(value))
            if self._selected():
                values = (value,) if self._at is None else (self._at(), value)
                self._do(told, lambda project: edit(project, *values))
            show(self._selected())

        control.entered.connect(take)
        if isinstance(control, Stepper):
            control.limited.connect(self._desk.said)
        self._shown.append(show)
        return control

    def show(self) -> None:
        """Show the things as they are."""
        things = self._selected()
        for show in self._shown:
            show(things)
