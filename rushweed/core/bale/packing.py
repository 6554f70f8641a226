"""Packing rectangles onto a page."""

from __future__ import annotations

from collections.abc import Sequence

from rushweed.core.values import Point, Refusal, Size

LARGEST_PAGE = 8192
BELOW = 1 << 60


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
    skyline = _Skyline(width)
    for index in order:
        places[index] = skyline.put(*sizes[index])
    return places


class _Skyline:
    """The upper edge of what is placed: where each level stretch begins, and how far down it
    reaches; neighbours of one depth are one."""

    def __init__(self, width: int) -> None:
        self._begins = [0, width]
        self._depths = [0]

    def put(self, width: int, height: int) -> Point:
        """Place a rectangle where its top is highest, then furthest left; one that is wider than
        all there is, below everything."""
        if width > self._begins[-1]:
            return Point(0, BELOW)
        first, top = self._best(width)
        left = self._begins[first]
        self._raise(first, left + width, top + height)
        return Point(left, top)

    def _best(self, width: int) -> tuple[int, int]:
        begins, depths = self._begins, self._depths
        limit = begins[-1] - width
        best, best_depth = 0, BELOW
        for first, depth in enumerate(depths):
            left = begins[first]
            if left > limit:
                break
            if depth >= best_depth:
                continue
            after, right = first + 1, left + width
            while begins[after] < right:
                depth = max(depth, depths[after])
                after += 1
            if depth < best_depth:
                best, best_depth = first, depth
        return best, best_depth

    def _raise(self, first: int, right: int, depth: int) -> None:
        begins, depths = self._begins, self._depths
        after = first + 1
        while begins[after] < right:
            after += 1
        starts, levels = [begins[first]], [depth]
        if begins[after] > right:
            starts.append(right)
            levels.append(depths[after - 1])
        elif after < len(depths) and depths[after] == depth:
            after += 1
        if first and depths[first - 1] == depth:
            del starts[0], levels[0]
        begins[first:after] = starts
        depths[first:after] = levels
