"""Packing rectangles onto a page."""

from __future__ import annotations

from collections.abc import Sequence

from rushweed.core.values import Point, Refusal, Size

LARGEST_PAGE = 8192


def pack(sizes: Sequence[Size], largest: int = LARGEST_PAGE) -> tuple[Size, list[Point]]:
    """Places for rectangles of these sizes on one page, and the page's size.

    Each goes where its top ends lowest along a skyline (the bottom-left rule on a skyline;
    J. Jylänki, "A Thousand Ways to Pack the Bin", 2010), tallest first; the width is the one of
    a few that fills best. Raises Refusal when they do not fit a page of `largest` pixels a side.
    """
    if not sizes:
        return Size(1, 1), []
    order = sorted(range(len(sizes)), key=lambda i: (-sizes[i].height, -sizes[i].width, i))
    best: tuple[Size, list[Point]] | None = None
    for width in _widths(sizes, largest):
        places = _place(sizes, order, width)
        height = max(place.y + size.height for place, size in zip(places, sizes, strict=True))
        page = Size(width, int(height))
        if height <= largest and (best is None or _cost(page) < _cost(best[0])):
            best = page, places
    if best is None:
        raise Refusal(
            f"The pieces do not fit a page of {largest} × {largest} px. "
            "Leave some out, or make a second recipe for them."
        )
    return best


def place_in_order(sizes: Sequence[Size], width: int) -> list[Point]:
    """Places for rectangles one after the other, each as high and as far left as it goes."""
    fitting = [Size(min(size.width, width), size.height) for size in sizes]
    return _place(fitting, range(len(fitting)), width)


def _cost(page: Size) -> tuple[int, int]:
    return page.width * page.height, max(page)


def _widths(sizes: Sequence[Size], largest: int) -> list[int]:
    widest = max(size.width for size in sizes)
    side = sum(size.width * size.height for size in sizes) ** 0.5
    wanted = {int(side * part / 16) + 1 for part in range(12, 32)}
    return sorted({min(max(width, widest), largest) for width in wanted})


def _place(sizes: Sequence[Size], order: Sequence[int], width: int) -> list[Point]:
    places = [Point(0, 0)] * len(sizes)
    skyline = [(0, 0, width)]  # (x, height so far, width) from left to right
    for index in order:
        size = sizes[index]
        x, y = _lowest(skyline, size.width, width)
        places[index] = Point(x, y)
        skyline = _raised(skyline, x, y + size.height, size.width)
    return places


def _lowest(skyline: list[tuple[int, int, int]], wanted: int, width: int) -> tuple[int, int]:
    best = (1 << 60, 0)
    for start, (x, _, _) in enumerate(skyline):
        if x + wanted > width:
            break
        y, covered, at = 0, 0, start
        while covered < wanted:
            y = max(y, skyline[at][1])
            covered += skyline[at][2]
            at += 1
        best = min(best, (y, x))
    return best[1], best[0]


def _raised(
    skyline: list[tuple[int, int, int]], x: int, height: int, wanted: int
) -> list[tuple[int, int, int]]:
    result: list[tuple[int, int, int]] = []
    for left, old, width in skyline:
        if left < x:
            result.append((left, old, min(width, x - left)))
        if left <= x < left + width:
            result.append((x, height, wanted))
        if left + width > x + wanted:
            start = max(left, x + wanted)
            result.append((start, old, left + width - start))
    return result
