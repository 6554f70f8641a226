"""What pieces of a picture look like: their content, their pattern, and how alike two are."""

from __future__ import annotations

from collections.abc import Hashable, Sequence

import numpy as np

from rushweed.core.arrays import Bytes, Floats, Words, packed
from rushweed.core.gather.pictures import Picture
from rushweed.core.values import Rect

NEAR = 24
"""Pixels are alike when no channel differs by more than this, of 255."""
SIDE = 8
"""Features are the piece shrunk to this many pixels a side."""
FEWEST_EACH = 2
"""Where a colour is met less often than this on average, its places tell nothing."""
MUCH = 0.8
"""Pieces look alike when this share of their pixels is alike."""
LEAST_PATTERN = 6
"""A piece with fewer places where colours meet has no pattern worth the name."""


def shown(picture: Picture) -> Words:
    """A picture with one number for each pixel; all that shows nothing is 0."""
    words = packed(picture)
    return np.where(picture[..., 3] > 0, words, np.uint32(0))


def part(words: Words, rect: Rect) -> Words:
    """The pixels of a rectangle, cut at the picture's edge."""
    x, y, width, height = rect
    return words[max(y, 0) : max(y + height, 0), max(x, 0) : max(x + width, 0)]


def pixels(words: Words) -> Bytes:
    """The same as red, green, blue and alpha, of shape (height, width, 4)."""
    whole = np.ascontiguousarray(words)
    return whole.view(np.uint8).reshape(*whole.shape, 4)


def content_of(words: Words) -> Hashable:
    """Equal for what looks exactly the same."""
    return words.shape, words.tobytes()


def pattern_of(words: Words) -> Hashable | None:
    """Equal for what is drawn alike in other colours; None for what is hardly drawn at all, or
    in too many colours to tell."""
    _, first, places = np.unique(words, return_index=True, return_inverse=True)
    meeting = np.count_nonzero(words[:, 1:] != words[:, :-1])
    meeting += np.count_nonzero(words[1:] != words[:-1])
    if meeting < LEAST_PATTERN or len(first) * FEWEST_EACH > words.size:
        return None
    order = np.empty(len(first), np.uint16)
    order[first.argsort()] = np.arange(len(first), dtype=np.uint16)
    return words.shape, order[places].tobytes(), (words == 0).tobytes()


class Pieces:
    """Rectangles of one picture, which is given as `shown` makes it."""

    def __init__(self, words: Words, rects: Sequence[Rect]) -> None:
        self.rects = tuple(rects)
        self._words = words
        self._corners = np.array([(r.x, r.y, r.right, r.bottom) for r in rects] or [(0,) * 4])

    def words(self, index: int) -> Words:
        """The pixels of a piece, one number each, of shape (height, width)."""
        return part(self._words, self.rects[index])

    def pixels(self, index: int) -> Bytes:
        """The pixels of a piece, of shape (height, width, 4)."""
        return pixels(self.words(index))

    def content(self, index: int) -> Hashable:
        """Equal for pieces that look exactly the same."""
        return content_of(self.words(index))

    def pattern(self, index: int) -> Hashable | None:
        """Equal for pieces drawn alike in other colours; see `pattern_of`."""
        return pattern_of(self.words(index))

    def features(self, indexes: Sequence[int]) -> Floats:
        """Each piece as a row of numbers; near rows are alike."""
        return np.stack([_feature(self.pixels(index)) for index in indexes])

    def overlapping(self, rect: Rect) -> int | None:
        """The piece that shares most with a rectangle, if that is more than half of both."""
        if not self.rects:
            return None
        left, top, right, bottom = self._corners.T
        across = np.minimum(right, rect.right) - np.maximum(left, rect.x)
        down = np.minimum(bottom, rect.bottom) - np.maximum(top, rect.y)
        shared = np.clip(across, 0, None) * np.clip(down, 0, None)
        whole = (right - left) * (bottom - top) + rect.area - shared
        share = shared / np.maximum(whole, 1)
        best = int(share.argmax())
        return best if share[best] > 0.5 else None


def alike(one: Bytes, other: Bytes) -> float:
    """The share of pixels that are nearly equal, among those that show anything in either, from
    0 to 1. Pieces of different sizes are laid on each other by the middle of their feet."""
    height, width = np.maximum(one.shape[:2], other.shape[:2])
    first, second = (_standing(piece, height, width) for piece in (one, other))
    drawn = (first[..., 3] > 0) | (second[..., 3] > 0)
    count = np.count_nonzero(drawn)
    if not count:
        return 1.0
    far = np.abs(first.astype(np.int16) - second).max(axis=2)
    return float(np.count_nonzero(drawn & (far <= NEAR)) / count)


def alike_pieces(words: Words, rects: Sequence[Rect], model: Rect) -> list[int]:
    """The places of all rectangles that look like `model`: the same, mirrored, in other colours,
    or changed in a few pixels."""
    wanted = Pieces(words, [model])
    mirrored = Pieces(np.ascontiguousarray(part(words, model)[:, ::-1]), [_at_origin(model)])
    models = [wanted, mirrored]
    patterns = {one.pattern(0) for one in models} - {None}
    pieces = Pieces(words, rects)
    return [
        place
        for place, rect in enumerate(rects)
        if pieces.pattern(place) in patterns
        or any(
            rect.size == model.size and alike(one.pixels(0), pieces.pixels(place)) >= MUCH
            for one in models
        )
    ]


def _at_origin(rect: Rect) -> Rect:
    return Rect(0, 0, rect.width, rect.height)


def _standing(piece: Bytes, height: int, width: int) -> Bytes:
    if piece.shape[:2] == (height, width):
        return piece
    room = np.zeros((height, width, 4), np.uint8)
    left = (width - piece.shape[1]) // 2
    room[height - piece.shape[0] :, left : left + piece.shape[1]] = piece
    return room


def _feature(piece: Bytes) -> Floats:
    height, width = piece.shape[:2]
    if not height or not width:
        return np.zeros(SIDE * SIDE * 4, np.float32)
    rows = (np.arange(SIDE) * height) // SIDE
    columns = (np.arange(SIDE) * width) // SIDE
    seen: Floats = piece[rows][:, columns].astype(np.float32).ravel()
    return seen
