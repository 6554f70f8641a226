"""A picture as a choice of compression makes it, and what that costs."""

from __future__ import annotations

import io
from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.alpha import premultiplied
from rushweed.core.gauge.compression.costs import (
    EXACT,
    LOSSLESS,
    Cost,
    Loss,
    Treated,
    cost_key,
    known_treated,
    signal_to_noise,
)
from rushweed.core.gauge.compression.ktx2 import ktx2_file
from rushweed.core.gauge.compression.palette import lossless_png, palette_png, reduced
from rushweed.core.gauge.compression.texture import (
    Texture,
    TextureForm,
    bytes_in_memory,
    decoded,
    encoding,
    make_texture,
)
from rushweed.core.gauge.sides import allowed_size, padded
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Size

QUICK_FROM = 256 * 256
"""Larger pictures are shown roughly first where the choice takes long."""


def choices(current: Compression) -> list[Compression]:
    """The choices that are worth comparing, with the numbers of the current one among them."""
    reduced_ones = [Compression("palette", 256), Compression("palette", 64)]
    reduced_ones += [Compression("palette", 16), Compression("palette", 16, True)]
    plain = [Compression(), *reduced_ones, Compression("lossless WebP")]
    blocks = [Compression("BC1"), Compression("BC3"), Compression("BC7")]
    every = [*plain, Compression("lossy WebP"), *blocks]
    if current in every:
        return every
    place = max(i for i, choice in enumerate(every) if choice.form == current.form)
    return [*every[: place + 1], current, *every[place + 1 :]]


def cost_of(art: Art, sheet: Sheet, treatment: Treatment) -> Iterator[tuple[float, Cost | None]]:
    """What a treatment's compression makes of a sheet, step by step: the share done and what is
    to be seen of it, which may be rough before all is done. What was made once is kept."""
    known = known_treated(art, sheet, treatment)
    steps = treat(art.picture(sheet), treatment) if known is None else iter([(1.0, known)])
    for share, treated in steps:
        if treated is None:
            yield share, None
            continue
        if share >= 1:
            art.memory.keep(cost_key(sheet, treatment), treated)
        loss = loss_of(art.picture(sheet), treated.picture, sheet.pieces)
        yield share, Cost(treatment.compression, treated, loss)


def work_out(project: Project, art: Art) -> None:
    """Make what every sheet's own compression makes of it, so that it is known."""
    for sheet in project.sheets:
        treatment = treatment_of(project, sheet)
        if treatment.compression.form not in LOSSLESS:
            for _ in cost_of(art, sheet, treatment):
                pass


def treat(picture: Picture, treatment: Treatment) -> Iterator[tuple[float, Treated | None]]:
    """The same for a picture by itself."""
    height, width = picture.shape[:2]
    choice = treatment.compression
    whole = padded(picture, allowed_size(Size(width, height), treatment.sides))
    size = Size(whole.shape[1], whole.shape[0])
    plain = bytes_in_memory(size, "RGBA8", treatment.mipmaps)
    if choice.form == "lossless":
        yield 1.0, Treated(picture, len(lossless_png(whole)), plain)
    elif choice.form == "palette":
        if choice.dithered and picture[..., 0].size > QUICK_FROM:
            rough = reduced(whole, choice.colours)
            yield 0.5, Treated(rough.picture[:height, :width], len(palette_png(rough)), plain)
        palette = reduced(whole, choice.colours, choice.dithered)
        yield 1.0, Treated(palette.picture[:height, :width], len(palette_png(palette)), plain)
    elif choice.form in ("lossless WebP", "lossy WebP"):
        data = _webp(whole, None if choice.form == "lossless WebP" else choice.quality)
        shown = picture if choice.form == "lossless WebP" else _from_webp(data)[:height, :width]
        yield 1.0, Treated(shown, len(data), plain)
    else:
        yield from _blocks(whole, Size(width, height), treatment)


def loss_of(original: Picture, treated: Picture, pieces: tuple[Piece, ...] = ()) -> Loss:
    """How far a treated picture is from the original wherever something is seen in either."""
    apart = premultiplied(original) - premultiplied(treated)
    errors = (apart * apart).sum(axis=2)
    seen = (original[..., 3] > 0) | (treated[..., 3] > 0)
    errors *= seen
    if not errors.any():
        return Loss(0.0, int(seen.sum()))
    changed = int(((original != treated).any(axis=2) & seen).sum())
    worst, worst_noise = 0, EXACT
    for piece in pieces:
        part, here = _part(errors, piece), _part(seen, piece)
        noise = signal_to_noise(float(part.sum()), int(here.sum()))
        if noise < worst_noise:
            worst, worst_noise = piece.number, noise
    return Loss(float(errors.sum(dtype=np.float64)), int(seen.sum()), changed, worst, worst_noise)


def _blocks(
    whole: Picture, shown: Size, treatment: Treatment
) -> Iterator[tuple[float, Treated | None]]:
    form: TextureForm = treatment.compression.form  # type: ignore[assignment]
    size = Size(whole.shape[1], whole.shape[0])
    memory = bytes_in_memory(size, form, treatment.mipmaps)
    if form == "BC7" and size.width * size.height > QUICK_FROM:
        from rushweed.core.gauge.compression import bc7

        data = list(bc7.encode(whole, treatment.multiplied, quick=True))[-1][1]
        rough = decoded(data, form, size, treatment.multiplied)
        yield 0.05, Treated(rough[: shown.height, : shown.width], data.nbytes, memory)
    data = np.zeros(0, np.uint8)
    for share, part in encoding(whole, form, treatment.multiplied):
        data = part
        if share < 1:
            yield share, None
    picture = decoded(data, form, size, treatment.multiplied)
    levels = (data.tobytes(),)
    texture = Texture(form, size, levels, treatment.multiplied)
    if treatment.mipmaps:
        texture = make_texture(whole, form, True, treatment.multiplied)
    yield 1.0, Treated(picture[: shown.height, : shown.width], len(ktx2_file(texture)), memory)


def _part(plane: npt.NDArray, piece: Piece) -> npt.NDArray:  # type: ignore[type-arg]
    rect = piece.rect
    return plane[max(rect.y, 0) : max(rect.bottom, 0), max(rect.x, 0) : max(rect.right, 0)]


def _webp(picture: Picture, quality: int | None) -> bytes:
    """A WebP file; lossless without a quality. Its alpha is never lossy."""
    from PIL import Image

    target = io.BytesIO()
    options = {"lossless": True} if quality is None else {"quality": quality, "alpha_quality": 100}
    Image.fromarray(np.ascontiguousarray(picture)).save(target, "WEBP", method=4, **options)
    return target.getvalue()


def _from_webp(data: bytes) -> Picture:
    from PIL import Image

    with Image.open(io.BytesIO(data)) as image:
        return np.array(image.convert("RGBA"))
