"""Frames as one even picture, in columns and rows, with its numbers: for whoever wants a strip.

All frames stand on one point, so that what was steadied is steady in the strip; each place has the
same size. The numbers are plain JSON, from which Rushweed itself cuts the strip by name again.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from math import ceil
from pathlib import Path
from typing import Any

import numpy as np

from rushweed.core.cut.boards import common_board, on_board
from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.art import Art
from rushweed.core.gather.picture_limits import most_pixels
from rushweed.core.gather.pictures import Picture, encode_png
from rushweed.core.gather.true_pixel import enlarged
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Refusal, Size

LARGEST_SIDE = 16384
MOST_TIMES = 16


def strip_out(
    art: Art,
    sheet: Sheet,
    frames: Sequence[Piece],
    columns: int = 0,
    scale: int = 1,
    flipped: bool = False,
) -> tuple[bytes, dict[str, Any]]:
    """The frames as a PNG file, in so many columns (0: all in one row), each drawn pixel `scale` ×
    `scale` large, and what lies where: `cell` and `stand` in pixels, and of each frame its `name`,
    `x`, `y`, `w` and `h`; then the animations that are wholly among them, by places in the list.

    Raises Refusal without frames, and when it would be absurdly large.
    """
    if not frames:
        raise Refusal("No frame is chosen. Select frames, or an animation, first.")
    if not 1 <= scale <= MOST_TIMES:
        raise Refusal("A strip is enlarged 1 to {most} times.", most=MOST_TIMES)
    board = common_board(frames)
    across = min(columns or len(frames), len(frames))
    down = ceil(len(frames) / across)
    cell = Size(board.width * scale, board.height * scale)
    size = Size(cell.width * across, cell.height * down)
    if max(size) > LARGEST_SIDE or size.area > most_pixels():
        raise Refusal(
            "At ×{scale} in {n} columns the picture would be {size} px, larger than pictures may "
            "be. Take other columns, or enlarge it less.",
            scale=scale,
            n=across,
            size=size,
        )
    whole = np.zeros((size.height, size.width, 4), np.uint8)
    listed = []
    for place, piece in enumerate(frames):
        y, x = (place // across) * cell.height, (place % across) * cell.width
        picture = enlarged(on_board(art.piece(sheet, piece), piece, board), scale)
        whole[y : y + cell.height, x : x + cell.width] = _turned(picture, flipped)
        name = shown_name(sheet, piece)
        listed.append({"name": name, "x": x, "y": y, "w": cell.width, "h": cell.height})
    stand = Point(-board.x * scale, -board.y * scale)
    if flipped:
        stand = Point(cell.width - stand.x, stand.y)
    told = {
        "columns": across,
        "rows": down,
        "cell": list(cell),
        "stand": list(stand),
        "frames": listed,
        "animations": _animations(sheet, [piece.number for piece in frames]),
    }
    return encode_png(whole), told


def as_text(told: dict[str, Any]) -> bytes:
    """The numbers of a strip as a file."""
    return (json.dumps(told, indent=1, ensure_ascii=False) + "\n").encode()


def files_of(target: Path, picture: bytes, told: dict[str, Any]) -> dict[Path, bytes]:
    """What is to be written for a strip: its picture there, and its numbers beside it. Raises
    Refusal where another file lies in their place."""
    beside = target.with_suffix(".json")
    if beside == target or (beside.exists() and not _is_strip(beside)):
        raise Refusal(
            "“{name}” is no strip's and would be written over. Choose another name for the strip.",
            name=beside.name,
        )
    return {target: picture, beside: as_text(told)}


def _is_strip(path: Path) -> bool:
    """Whether a file holds the numbers of a strip."""
    try:
        held = json.loads(path.read_bytes())
    except (OSError, ValueError, RecursionError):
        return False
    return isinstance(held, dict) and held.keys() >= {"cell", "stand", "frames"}


def _turned(picture: Picture, flipped: bool) -> Picture:
    return picture[:, ::-1] if flipped else picture


def _animations(sheet: Sheet, numbers: Sequence[int]) -> list[dict[str, Any]]:
    """The animations all frames of which are among those of these numbers."""
    places = {number: place for place, number in enumerate(numbers)}
    return [
        {
            "name": one.name,
            "frames": [places[number] for number in one.frames],
            "rate": one.rate,
            "play": one.play,
        }
        for one in sheet.animations
        if one.frames and all(number in places for number in one.frames)
    ]
