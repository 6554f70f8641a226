"""Numbers with bounds that files are checked against when they are read."""

from __future__ import annotations

from typing import Annotated, Any


class within:  # noqa: N801 - reads as a word beside the type that it bounds
    """Marks a number that lies from `low` to `high`."""

    def __init__(self, low: float, high: float) -> None:
        self.bounds = {"ge": low, "le": high}

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        return {**handler(source), **self.bounds}


Positive = Annotated[int, within(1, 2**20)]
NotNegative = Annotated[int, within(0, 2**20)]
Number = Annotated[int, within(1, 2**31 - 1)]
Whole = Annotated[int, within(-(2**24), 2**24)]
"""A place in whole pixels, as far from the middle as anything can lie."""
Place = Annotated[float, within(-(2**24), 2**24)]
Nearby = Annotated[float, within(-(2**14), 2**14)]
"""Pixels from the corner of a piece, which is never larger than a picture."""
Orientation = Annotated[int, within(0, 7)]
Rate = Annotated[float, within(0, 1000)]
"""Pictures, or units, in a second."""
Seconds = Annotated[float, within(0, 60)]
Share = Annotated[float, within(0, 1)]
