"""Numbers with bounds that files are checked against when they are read."""

from __future__ import annotations

from typing import Annotated, Any


class within:  # noqa: N801 - reads as a word beside the type that it bounds
    """Marks a number that lies from `low` to `high`."""

    def __init__(self, low: float, high: float | None = None) -> None:
        self.bounds = {"ge": low} if high is None else {"ge": low, "le": high}

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        return {**handler(source), **self.bounds}


Positive = Annotated[int, within(1)]
NotNegative = Annotated[int, within(0)]
Seconds = Annotated[float, within(0, 60)]
Share = Annotated[float, within(0, 1)]
