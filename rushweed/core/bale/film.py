"""An animation as one moving picture: APNG (W3C PNG specification, third edition) or GIF 89a."""

from __future__ import annotations

import io
from itertools import groupby
from typing import Literal

import numpy as np

from rushweed.core.cut.animations import one_round
from rushweed.core.cut.boards import common_board, on_board
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.true_pixel import enlarged
from rushweed.core.project.sheet import Animation, Sheet
from rushweed.core.values import Refusal

Form = Literal["APNG", "GIF"]
COLOURS = 255
"""What a GIF can show beside nothing."""
LARGEST_SIDE = 4096


def film(art: Art, sheet: Sheet, animation: Animation, form: Form, scale: int = 1) -> bytes:
    """The animation as a file, each drawn pixel `scale` × `scale` large.

    Raises Refusal when it has no frames or would be absurdly large.
    """
    pieces = {piece.number: piece for piece in sheet.pieces}
    shown = [
        (pieces.get(animation.frames[place]), len(list(steps)))
        for place, steps in groupby(one_round(animation))
    ]
    frames = [(piece, steps) for piece, steps in shown if piece is not None]
    if not frames:
        raise Refusal("“{name}” has no frame to show. Add frames to it first.", name=animation.name)
    board = common_board([piece for piece, _ in frames])
    if max(board.size) * scale > LARGEST_SIDE:
        raise Refusal(
            "At ×{scale} the picture would be larger than {largest_side} px a side.",
            scale=scale,
            largest_side=LARGEST_SIDE,
        )
    pictures = [
        enlarged(on_board(art.piece(sheet, piece), piece, board), scale) for piece, _ in frames
    ]
    times = [round(1000 * steps / animation.rate) for _, steps in frames]
    write = _apng if form == "APNG" else _gif
    return write(pictures, times, animation.play == "once")


def _apng(pictures: list[Picture], times: list[int], once: bool) -> bytes:
    from PIL import Image
    from PIL.PngImagePlugin import Blend, Disposal

    images = [Image.fromarray(picture) for picture in pictures]
    target = io.BytesIO()
    images[0].save(
        target,
        "PNG",
        save_all=True,
        append_images=images[1:],
        duration=times,
        loop=1 if once else 0,
        disposal=Disposal.OP_BACKGROUND,
        blend=Blend.OP_SOURCE,
    )
    return target.getvalue()


def _gif(pictures: list[Picture], times: list[int], once: bool) -> bytes:
    """Pixels less than half opaque become clear, for GIF knows no other; colours stay exact where
    all frames together have few enough."""
    from PIL import Image

    tall = np.concatenate(pictures)
    indexes, palette = _exactly(tall) or _nearly(tall)
    indexes[tall[..., 3] < 128] = COLOURS
    images = []
    for part in np.split(indexes, len(pictures)):
        image = Image.fromarray(part, "P")
        image.putpalette([*palette, *[0] * (3 * 256 - len(palette))])
        images.append(image)
    target = io.BytesIO()
    more = {} if once else {"loop": 0}
    images[0].save(
        target,
        "GIF",
        save_all=True,
        append_images=images[1:],
        duration=[max(20, time) for time in times],
        transparency=COLOURS,
        disposal=2,
        optimize=False,
        **more,
    )
    return target.getvalue()


def _exactly(tall: Picture) -> tuple[np.ndarray, list[int]] | None:
    """Indexes and palette without any change, if the visible colours are few enough."""
    shown = tall[tall[..., 3] >= 128][:, :3]
    colours = np.unique(shown, axis=0)
    if len(colours) > COLOURS:
        return None
    keys = _keys(colours)
    indexes = np.searchsorted(keys, _keys(tall[..., :3]))
    return indexes.clip(0, max(len(colours) - 1, 0)).astype(np.uint8), colours.ravel().tolist()


def _nearly(tall: Picture) -> tuple[np.ndarray, list[int]]:
    """Indexes and palette with the colours that come nearest."""
    from PIL import Image

    flat = Image.fromarray(np.ascontiguousarray(tall[..., :3]))
    indexed = flat.quantize(COLOURS, Image.Quantize.MEDIANCUT, dither=Image.Dither.NONE)
    return np.asarray(indexed).copy(), indexed.getpalette() or []


def _keys(colours: np.ndarray) -> np.ndarray:
    wide = colours.astype(np.int64)
    keys: np.ndarray = (wide[..., 0] << 16) | (wide[..., 1] << 8) | wide[..., 2]
    return keys
