"""Packing rectangles onto a page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

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
            "The pieces do not fit a page of {largest} × {largest} px. Leave some out, "
            "or make a second recipe for them.",
            largest=largest,
        )
    return best


@dataclass(frozen=True, slots=True)
class Packed:
    """Where a rectangle lies: on which page, its upper left corner, and whether it is turned by a
    quarter."""

    page: int
    corner: Point
    turned: bool = False


def pack_pages(
    sizes: Sequence[Size], largest: int = LARGEST_PAGE, turns: bool = False
) -> tuple[list[Size], list[Packed]]:
    """Places for rectangles on as many pages as they need, and the pages' sizes.

    Several orders are tried, each with and, if it `turns`, with turned rectangles; what takes the
    least room is kept. Raises Refusal for a rectangle that is larger than a page. Found once for
    the same rectangles: a bundle that is kept fresh asks again and again.
    """
    pages, placed = _pack_pages(tuple(sizes), largest, turns)
    return list(pages), list(placed)


@lru_cache(maxsize=16)
def _pack_pages(
    sizes: tuple[Size, ...], largest: int, turns: bool
) -> tuple[list[Size], list[Packed]]:
    for size in sizes:
        if max(size) > largest:
            raise Refusal(
                "A piece of {size} px does not fit a page of {largest} × {largest} px. "
                "Allow larger pages in the recipe, or cut the piece up.",
                size=size,
                largest=largest,
            )
    best: tuple[int, list[Size], list[Packed]] | None = None
    for turning in dict.fromkeys((False, turns)):
        upright = [_upright(size) if turning else size for size in sizes]
        pages, placed = _pack_upright(upright, largest)
        cost = sum(page.width * page.height for page in pages)
        if best is None or cost < best[0]:
            turned = [
                Packed(one.page, one.corner, new != old)
                for one, new, old in zip(placed, upright, sizes, strict=True)
            ]
            best = cost, pages, turned
    assert best is not None
    return best[1], best[2]


def _upright(size: Size) -> Size:
    """A rectangle that stands on its short side lies lower along a skyline of its like."""
    return Size(min(size), max(size))


def _pack_upright(sizes: Sequence[Size], largest: int) -> tuple[list[Size], list[Packed]]:
    """Fill page after page, the last one as small as it goes."""
    left = sorted(range(len(sizes)), key=lambda i: (-sizes[i].height, -sizes[i].width, i))
    pages: list[Size] = []
    placed: dict[int, Packed] = {}
    while left:
        try:
            if sum(sizes[i].width * sizes[i].height for i in left) > largest**2:
                raise Refusal("More than one page")
            page, corners = pack([sizes[i] for i in left], largest)
            on_page = dict(zip(left, corners, strict=True))
        except Refusal:
            on_page = _filled(sizes, left, largest)
            right = max(int(c.x) + sizes[i].width for i, c in on_page.items())
            bottom = max(int(c.y) + sizes[i].height for i, c in on_page.items())
            page = Size(right, bottom)
        placed.update({i: Packed(len(pages), corner) for i, corner in on_page.items()})
        pages.append(page)
        left = [i for i in left if i not in on_page]
    return pages or [Size(1, 1)], [placed[i] for i in range(len(sizes))]


def _filled(sizes: Sequence[Size], order: Sequence[int], largest: int) -> dict[int, Point]:
    """As many rectangles as fit one page of the largest size; small ones fill what is left."""
    skyline = _Skyline(largest)
    found: dict[int, Point] = {}
    hopeless: set[Size] = set()
    for i in order:
        if sizes[i] in hopeless:
            continue
        corner = skyline.try_put(*sizes[i], largest)
        if corner is None:
            hopeless.add(sizes[i])
        else:
            found[i] = corner
    return found


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

    def try_put(self, width: int, height: int, deepest: int) -> Point | None:
        """Place a rectangle if it ends no deeper than that."""
        first, top = self._best(width)
        if top + height > deepest:
            return None
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
