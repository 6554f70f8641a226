"""Compresses the demo's art and generated art, and writes docs/quality.md.

Compares with the block encoders of the package index; they are no dependencies of the project, so
this runs in an environment of its own: `pip install . etcpak quicktex`.
"""

from __future__ import annotations

import io
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from scipy import ndimage

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from rushweed.core.findings.gauge import is_pixel_art  # noqa: E402
from rushweed.core.gather.art import Art  # noqa: E402
from rushweed.core.gather.pictures import Picture  # noqa: E402
from rushweed.core.gauge.compression.costs import EXACT  # noqa: E402
from rushweed.core.gauge.compression.palette import reduced  # noqa: E402
from rushweed.core.gauge.compression.texture import TextureForm, decoded, encoded  # noqa: E402
from rushweed.core.gauge.compression.treated import loss_of, signal_to_noise  # noqa: E402
from rushweed.core.project import files  # noqa: E402
from rushweed.core.values import Size  # noqa: E402

DEMO = ROOT / "demo" / "lanternfen"
DDS_FORMS = {"BC1": "DXT1", "BC3": "DXT5"}
SIDE = 256
COLOURS = 16
HEAD = """# How good the compressed pictures are

Written by `tools/measure_quality.py`: signal to noise in dB over the pixels that are seen, colours
multiplied by alpha, of all pictures of a kind together. *Pillow* is Pillow's DDS writer for BC1 and
BC3, and the best of its methods to reduce colours (each with 0, 1, 4 and 16 rounds of k-means;
those that know no alpha were given hard alpha back unchanged, and left out for soft alpha). Read
by Pillow, as all that the application shows of them.

| art | BC1 | Pillow | BC3 | Pillow | BC7 | over BC1 | 16 colours | Pillow |
| --- | --- | --- | --- | --- | --- | --- | --- | --- |
"""

BLOCKS = """
The same blocks against the encoders of the package index: *etcpak* 0.9, which is made for speed,
and *quicktex* 0.3 at the slowest of its levels. Neither has a BC1 that knows alpha, nor quicktex a
BC7.

| art | BC1 | etcpak | quicktex | BC3 | etcpak | quicktex | BC7 | etcpak |
| --- | --- | --- | --- | --- | --- | --- | --- | --- |
"""
SLOWEST = 18

Coder = Callable[[Picture], Picture]


def kinds() -> dict[str, list[Picture]]:
    """Pictures by kind: the demo's pixel art, generated pixel art, generated smooth art."""
    project, art = files.load(DEMO), Art(DEMO)
    drawn = [art.picture(sheet) for sheet in project.sheets if is_pixel_art(art, sheet)]
    dice = np.random.default_rng(21)
    return {
        "pixel art of the demo": [_whole_blocks(picture) for picture in drawn],
        "generated pixel art, clear around": [_creatures(dice, True) for _ in range(4)],
        "generated pixel art, opaque": [_creatures(dice, False) for _ in range(4)],
        "smooth art, opaque": [_smooth(dice, False) for _ in range(4)],
        "smooth art, soft alpha": [_smooth(dice, True) for _ in range(4)],
    }


def noise(pictures: list[Picture], coder: Coder) -> float:
    """Signal to noise of all pictures together."""
    losses = [loss_of(picture, coder(picture)) for picture in pictures]
    return signal_to_noise(sum(loss.error for loss in losses), sum(loss.seen for loss in losses))


def ours(form: TextureForm) -> Coder:
    def code(picture: Picture) -> Picture:
        size = Size(picture.shape[1], picture.shape[0])
        return decoded(encoded(picture, form), form, size)

    return code


def theirs(form: str) -> Coder:
    def code(picture: Picture) -> Picture:
        file = io.BytesIO()
        Image.fromarray(picture).save(file, "DDS", pixel_format=DDS_FORMS[form])
        return np.array(Image.open(io.BytesIO(file.getvalue())).convert("RGBA"))

    return code


def through(form: TextureForm, encode: Callable[[bytes, int, int], bytes]) -> Coder:
    """What an encoder makes of a picture, read with our decoder."""

    def code(picture: Picture) -> Picture:
        height, width = picture.shape[:2]
        data = np.frombuffer(encode(picture.tobytes(), width, height), np.uint8)
        block = 8 if form == "BC1" else 16
        return decoded(data.reshape(-1, block), form, Size(width, height))

    return code


def others() -> dict[TextureForm, list[Coder]]:
    """The encoders of the package index, by form."""
    import etcpak
    from quicktex import RawTexture
    from quicktex.s3tc.bc1 import BC1Encoder
    from quicktex.s3tc.bc3 import BC3Encoder

    def slowest(encoder: Any) -> Callable[[bytes, int, int], bytes]:
        return lambda data, width, height: bytes(
            encoder(SLOWEST).encode(RawTexture.frombytes(data, width, height)).tobytes()
        )

    return {
        "BC1": [through("BC1", etcpak.compress_bc1), through("BC1", slowest(BC1Encoder))],
        "BC3": [through("BC3", etcpak.compress_bc3), through("BC3", slowest(BC3Encoder))],
        "BC7": [through("BC7", etcpak.compress_bc7)],
    }


def best_palette(picture: Picture) -> Picture:
    """Pillow's best picture of sixteen colours."""
    found = []
    soft = bool(((picture[..., 3] > 0) & (picture[..., 3] < 255)).any())
    for method in (2,) if soft else (0, 1, 2):
        for rounds in (0, 1, 4, 16):
            image = Image.fromarray(picture)
            image = image if method == 2 else image.convert("RGB")
            shown = np.array(image.quantize(COLOURS, method, rounds).convert("RGBA"))
            if method != 2:
                shown[..., 3] = picture[..., 3]
            found.append(shown)
    return min(found, key=lambda shown: loss_of(picture, shown).error)


def main() -> None:
    pictures = kinds()
    text = HEAD + "".join(_line(name, of_pillow(some)) for name, some in pictures.items())
    text += BLOCKS + "".join(_line(name, of_others(some)) for name, some in pictures.items())
    (ROOT / "docs" / "quality.md").write_text(text, encoding="utf-8")


def of_pillow(pictures: list[Picture]) -> list[float | None]:
    """Ours beside Pillow's: BC1, BC3, BC7 and what it gains, and few colours."""
    blocks = {form: noise(pictures, ours(form)) for form in ("BC1", "BC3", "BC7")}
    pillow = {form: noise(pictures, theirs(form)) for form in DDS_FORMS}
    few = noise(pictures, lambda picture: reduced(picture, COLOURS).picture)
    return [
        *(blocks["BC1"], pillow["BC1"], blocks["BC3"], pillow["BC3"], blocks["BC7"]),
        *(blocks["BC7"] - blocks["BC1"], few, noise(pictures, best_palette)),
    ]


def of_others(pictures: list[Picture]) -> list[float | None]:
    """Ours beside those of the package index; None where they know no alpha."""
    opaque = all((picture[..., 3] == 255).all() for picture in pictures)
    found: list[float | None] = []
    for form, coders in others().items():
        found.append(noise(pictures, ours(form)))
        able = opaque or form != "BC1"
        found += [noise(pictures, coder) if able else None for coder in coders]
    return found


def _line(name: str, values: list[float | None]) -> str:
    shown = [
        "–" if value is None else "exact" if value == EXACT else f"{value:.1f}" for value in values
    ]
    line = f"| {name} | {' | '.join(shown)} |\n"
    print(line, end="", flush=True)
    return line


def _whole_blocks(picture: Picture) -> Picture:
    """With sides that are multiples of four, for the sake of those who need them."""
    extra = [(0, -side % 4) for side in picture.shape[:2]]
    return np.pad(picture, (*extra, (0, 0)))


def _creatures(dice: np.random.Generator, clear: bool) -> Picture:
    """Bodies with outlines, lights and speckles in ramps of a few colours."""
    down, across = np.mgrid[:16, :16] - 7.5
    picture = np.zeros((SIDE, SIDE, 4), np.uint8)
    for top in range(0, SIDE, 16):
        for left in range(0, SIDE, 16):
            base = dice.integers(40, 220, 3)
            ramp = [np.clip(base * light, 0, 255) for light in (0.25, 0.55, 0.8, 1.0, 1.25)]
            colours = np.array([(*colour, 255) for colour in ramp], np.uint8)
            wide, high = dice.uniform(4, 8, 2)
            reach = (across / wide) ** 2 + (down / high) ** 2
            shade = np.clip(2 - (across + down) / 7 + (dice.random((16, 16)) < 0.15), 1, 4)
            tone = np.where(reach > 0.72, 0, shade.astype(int))
            part = colours[tone]
            backdrop = (0, 0, 0, 0) if clear else (*(255 - base), 255)
            part[reach > 1] = backdrop
            picture[top : top + 16, left : left + 16] = part
    return picture


def _smooth(dice: np.random.Generator, soft: bool) -> Picture:
    """Clouds of several sizes in every channel."""
    channels = []
    for _ in range(4):
        cloud = sum(
            size * ndimage.gaussian_filter(dice.normal(size=(SIDE, SIDE)), size, mode="wrap")
            for size in (2, 5, 12, 30)
        )
        channels.append((cloud - cloud.min()) / np.ptp(cloud) * 255)
    picture = np.stack(channels, axis=2).astype(np.uint8)
    if not soft:
        picture[..., 3] = 255
    return picture


if __name__ == "__main__":
    main()
