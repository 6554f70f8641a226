"""The brush of facts: how much of one it gives, and where it lies already."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.bound.fact_table import FACTS, FactName
from rushweed.core.project.facts import Note
from rushweed.core.project.sheet import Piece
from rushweed.core.words import counted, say
from rushweed.ui.commands.commands import Commands
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.bound.fact_painting import FactPainting
from rushweed.ui.stations.bound.ground_kinds import NoteFields
from rushweed.ui.stations.bound.way_fields import WayFields


class FactBrushGroup(Group):
    """Sets the brush that is painted with; what was last given of each fact comes back with it."""

    def __init__(self, number: int, commands: Commands, painting: FactPainting) -> None:
        super().__init__(number, say("Brush"))
        self._painting = painting
        amounts = {name: kind.amount for name, kind in FACTS.items()}
        self._amounts = {name: amount.usual for name, amount in amounts.items() if amount}
        self._amount = Stepper(say("Amount"), say("tiles"), 0, 64, width=112)
        self._amount.entered.connect(self._set_amount)
        self._amount_label = label(say("Amount"))
        self.add(row(self._amount_label, None, self._amount))
        give = command_button(commands, "facts.give", say("Give to selected"))
        take = command_button(commands, "facts.take", say("Take it off"))
        self.add(row(give, take, None))

    def bind(self, commands: Commands) -> None:
        """Say which keys make it more or less."""
        commands.bind_stepped(
            "facts.amount", lambda down: self._amount.by(-1 if down else 1), self._amount.isVisible
        )

    def take(self, fact: FactName) -> None:
        """Take another fact."""
        self._set(fact=fact, amount=self._amounts.get(fact, 1))
        kind = FACTS[fact]
        self._amount.setVisible(kind.amount is not None)
        self._amount_label.setVisible(kind.amount is not None)
        if kind.amount is not None:
            self._amount.unit = say(kind.amount.unit)
            self._amount.show_value(self._painting.brush.amount)
            self._amount.update()
            self._amount_label.setText(say(kind.amount.question))
        self.result.tell(say(kind.hint))

    def keep_kind(self, chosen: int | None) -> None:
        """Paint with the kind of ground that is chosen, if ground is painted."""
        if self._painting.brush.fact == "ground" and chosen is not None:
            self._set(amount=chosen)

    def take_ways(self, ways: WayFields) -> None:
        """Paint with these ways of getting on."""
        self._set(moves=ways.moves, current=ways.current)

    def take_note(self, fields: NoteFields) -> None:
        """Paint with this note."""
        kind = fields.kinds.value or "text"
        self._set(note=Note(fields.key.text().strip(), fields.value.text().strip(), kind))

    def refresh(self, pieces: Sequence[Piece]) -> None:
        """Say how many pieces of the sheet have the fact."""
        fact = self._painting.brush.fact
        count = sum(FACTS[fact].is_set(piece.facts) for piece in pieces)
        told = say("on {n}", n=counted(count, "piece", "pieces"))
        self.aside.setText(told if count else "")

    def _set_amount(self, value: int) -> None:
        self._amounts[self._painting.brush.fact] = value
        self._set(amount=value)

    def _set(self, **changes: object) -> None:
        self._painting.brush = replace(self._painting.brush, **changes)  # type: ignore[arg-type]
