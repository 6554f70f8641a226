"""Which groups of the slip are folded away, and which show what few people need: one for all
windows, remembered between sittings."""

from __future__ import annotations

from collections.abc import Callable, Collection


class Folds:
    """Names of groups; those that are opened further begin with a plus."""

    def __init__(self) -> None:
        self._names: frozenset[str] = frozenset()
        self._remember: Callable[[tuple[str, ...]], object] = lambda names: None

    def begin(self, names: Collection[str], remember: Callable[[tuple[str, ...]], object]) -> None:
        """Take what was remembered, and where to remember what changes."""
        self._names, self._remember = frozenset(names), remember

    def folded(self, name: str) -> bool:
        """Whether the rows of a group are folded away."""
        return name in self._names

    def set_folded(self, name: str, folded: bool) -> None:
        """Fold the rows of a group away, or open them."""
        self._set(name, folded)

    def further(self, name: str) -> bool:
        """Whether a group shows what few people need."""
        return f"+{name}" in self._names

    def set_further(self, name: str, opened: bool) -> None:
        """Show what few people need, or not."""
        self._set(f"+{name}", opened)

    def _set(self, name: str, held: bool) -> None:
        self._names = self._names | {name} if held else self._names - {name}
        self._remember(tuple(sorted(self._names)))


folds = Folds()
