"""What a choice of compression makes of a picture and costs, and what of that is known already."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import log10

from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.sheet import Sheet

EXACT = float("inf")
LOSSLESS = ("lossless", "lossless WebP")


@dataclass(frozen=True, slots=True, eq=False)
class Treated:
    """A picture after a choice, straight alpha, and how many bytes it takes."""

    picture: Picture
    on_disk: int
    in_memory: int

    @property
    def nbytes(self) -> int:
        """How many bytes this takes here."""
        return self.picture.nbytes


@dataclass(frozen=True, slots=True)
class Loss:
    """What a choice does to what is seen: the squared error of its channels, how many pixels are
    seen and changed, and the number and signal to noise of the worst piece."""

    error: float = 0.0
    seen: int = 0
    changed: int = 0
    worst: int = 0
    worst_noise: float = EXACT

    @property
    def noise(self) -> float:
        """Signal to noise in dB, endless when exact."""
        return signal_to_noise(self.error, self.seen)

    @property
    def share(self) -> float:
        """The share of pixels changed, from 0 to 1."""
        return self.changed / max(1, self.seen)


@dataclass(frozen=True, slots=True, eq=False)
class Cost:
    """One row of the table of choices."""

    compression: Compression
    treated: Treated
    loss: Loss


def signal_to_noise(error: float, seen: int) -> float:
    """Signal to noise in dB of a squared error of four channels, of 255 at most, over pixels."""
    mean = error / (4 * seen) if seen else 0.0
    return 10 * log10(255**2 / mean) if mean else EXACT


def all_costs(costs: Sequence[Cost]) -> Cost:
    """What a choice costs for several sheets together; the picture is the first one's."""
    losses = [cost.loss for cost in costs]
    worst = min(losses, key=lambda loss: loss.worst_noise)
    loss = Loss(
        sum(loss.error for loss in losses),
        sum(loss.seen for loss in losses),
        sum(loss.changed for loss in losses),
        worst.worst,
        worst.worst_noise,
    )
    disk = sum(cost.treated.on_disk for cost in costs)
    memory = sum(cost.treated.in_memory for cost in costs)
    return Cost(
        costs[0].compression, replace(costs[0].treated, on_disk=disk, in_memory=memory), loss
    )


def cost_key(sheet: Sheet, treatment: Treatment) -> tuple[object, ...]:
    """What the treated picture of a sheet depends on."""
    return (
        "treated",
        picture_key(sheet),
        treatment.compression,
        treatment.mipmaps,
        treatment.multiplied,
        treatment.sides,
    )


def known_treated(art: Art, sheet: Sheet, treatment: Treatment) -> Treated | None:
    """What a treatment's compression makes of a sheet, if it was made before."""
    if treatment.compression.form in LOSSLESS:
        return None
    found: Treated | None = art.memory.find(cost_key(sheet, treatment))
    return found
