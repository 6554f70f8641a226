"""What files are checked against when they are read: bounds of numbers, choices told by name."""

from __future__ import annotations

from typing import Annotated, Any, get_args

LARGEST_SIDE = 16384
"""Pixels that a picture is wide or high at most."""


class within:  # noqa: N801 - reads as a word beside the type that it bounds
    """Marks a number that lies from `low` to `high`."""

    def __init__(self, low: float, high: float) -> None:
        self.bounds = {"ge": low, "le": high}

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        return {**handler(source), **self.bounds}


class one_of:  # noqa: N801 - as above
    """Marks a choice between classes, each with a `kind` of its own, which a file has to say."""

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        from pydantic_core import core_schema

        choices = {kind.__dataclass_fields__["kind"].default: kind for kind in get_args(source)}
        return core_schema.tagged_union_schema(
            {name: handler(kind) for name, kind in choices.items()}, "kind"
        )


Positive = Annotated[int, within(1, 2**20)]
NotNegative = Annotated[int, within(0, 2**20)]
HIGHEST_NUMBER = 2**31 - 2
"""Of a piece; the next one is higher by one, and cells of 32 bits hold it."""
Number = Annotated[int, within(1, HIGHEST_NUMBER)]
NextNumber = Annotated[int, within(1, HIGHEST_NUMBER + 1)]
Whole = Annotated[int, within(-(2**24), 2**24)]
"""A place in whole pixels, as far from the middle as anything can lie."""
Place = Annotated[float, within(-(2**24), 2**24)]
Nearby = Annotated[float, within(-(2**14), 2**14)]
"""Pixels from the corner of a piece, which is never larger than a picture."""
Orientation = Annotated[int, within(0, 7)]
Rate = Annotated[float, within(0, 1000)]
"""Pictures, or units, in a second."""
Seconds = Annotated[float, within(0, 60)]
Phase = Annotated[float, within(0, 3600)]
Steps = Annotated[int, within(1, 10_000)]
"""For how many steps of its animation a frame is shown."""
Density = Annotated[int, within(1, 16)]
Factor = Annotated[int, within(1, 1024)]
"""How many pixels one pixel takes."""
Share = Annotated[float, within(0, 1)]
Times = Annotated[float, within(1 / 64, 64)]
"""How many times as large something is drawn."""
Degrees = Annotated[int, within(-359, 359)]
