"""Boards: frames of any size in pictures of one size, all standing on one point.

 frames as cut            on one board
+----+   +--+           +------+  +------+
|  o |   |o |           |   o  |  |  o   |
| ~|~|   || |           |  ~|~ |  |  |   |
+--x-+   +x-+           +---x--+  +--x---+      x: where a frame stands
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar, cast

import numpy as np

from rushweed.core.arrays import Bytes, Mask
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Rect

Pixels = TypeVar("Pixels", Picture, Mask)
THERE = 64
"""What a pixel that is drawn weighs beside its brightness: a dark figure is there too."""
BY_SUM = np.rint(np.linspace(THERE, 255, 3 * 255 + 1)).astype(np.uint8)
"""What it weighs in all, by the sum of red, green and blue."""


def common_board(pieces: Iterable[Piece]) -> Rect:
    """The box around pieces that all stand on one point, in pixels from that point."""
    board = Rect(0, 0, 0, 0)
    for piece in pieces:
        x, y = round(piece.standing.x), round(piece.standing.y)
        board = board.union(Rect(-x, -y, piece.rect.width, piece.rect.height))
    return board


def on_board(pixels: Pixels, piece: Piece, board: Rect) -> Pixels:
    """A piece's pixels, or a mask of them, where it stands on a board, of shape (board height,
    board width, …)."""
    picture = np.zeros((board.height, board.width, *pixels.shape[2:]), pixels.dtype)
    left = -round(piece.standing.x) - board.x
    top = -round(piece.standing.y) - board.y
    picture[top : top + piece.rect.height, left : left + piece.rect.width] = pixels
    return cast(Pixels, picture)


def weights_of(picture: Picture) -> Bytes:
    """How much each pixel of a picture says about where a figure is, of shape (height, width):
    nothing where none is drawn, else by its brightness.

    >>> weights_of(np.array([[[0, 0, 0, 255], [255, 255, 255, 255], [9, 9, 9, 0]]], np.uint8))
    array([[ 64, 255,   0]], dtype=uint8)
    """
    red, green, blue, alpha = np.moveaxis(picture, -1, 0)
    weights: Bytes = BY_SUM[red.astype(np.uint16) + green + blue] * (alpha > 0)
    return weights
