"""Pages as files: PNG, WebP, KTX 2, DDS."""

from __future__ import annotations

import io

import numpy as np

from rushweed.core.gather.pictures import MOST_EFFORT, Picture, encode_png
from rushweed.core.gauge.alpha import stored_multiplied
from rushweed.core.gauge.compression.dds import dds_file
from rushweed.core.gauge.compression.ktx2 import ktx2_file
from rushweed.core.gauge.compression.palette import lossless_png
from rushweed.core.gauge.compression.texture import TextureForm, make_data_texture, make_texture
from rushweed.core.gauge.compression.treated import treat
from rushweed.core.project.rules import PictureForm, Treatment
from rushweed.core.values import Refusal

ENDINGS: dict[PictureForm, str] = {"PNG": "png", "WebP": "webp", "KTX 2": "ktx2", "DDS": "dds"}
MEDIA: dict[PictureForm, str] = {
    "PNG": "image/png",
    "WebP": "image/webp",
    "KTX 2": "image/ktx2",
    "DDS": "image/vnd-ms.dds",
}
LARGEST_WEBP = 16383


def page_file(
    picture: Picture, treatment: Treatment, form: PictureForm, effort: int = MOST_EFFORT
) -> bytes:
    """A page's pixels in a form, compressed as its treatment says; a PNG file with that effort.
    Raises Refusal for a picture that the form cannot hold."""
    if form == "PNG":
        return lossless_png(_stored(_few_colours(picture, treatment), treatment), effort)
    if form == "WebP":
        return _webp(_stored(picture, treatment), treatment)
    texture = make_texture(
        picture, texture_form(treatment), treatment.mipmaps, treatment.multiplied
    )
    return ktx2_file(texture) if form == "KTX 2" else dds_file(texture)


def data_file(
    picture: Picture, mipmaps: bool, form: PictureForm, effort: int = MOST_EFFORT
) -> bytes:
    """Numbers in place of colours, such as a normal map's, in a form: lossless, without alpha in
    them, and in KTX 2 and DDS without the curve of colours; a PNG file with that effort. Raises
    Refusal for a picture that the form cannot hold."""
    if form == "PNG":
        return encode_png(picture, effort)
    if form == "WebP":
        return _webp(picture, None)
    texture = make_data_texture(picture, mipmaps)
    return ktx2_file(texture) if form == "KTX 2" else dds_file(texture)


def texture_form(treatment: Treatment) -> TextureForm:
    """How a texture stores pixels under a treatment."""
    forms: dict[str, TextureForm] = {"BC1": "BC1", "BC3": "BC3", "BC7": "BC7"}
    return forms.get(treatment.compression.form, "RGBA8")


def stored_form(treatment: Treatment, form: PictureForm) -> str:
    """How pixels are stored, in a word for the manifest."""
    if form in ("KTX 2", "DDS"):
        return texture_form(treatment)
    if form == "WebP":
        return "lossy" if treatment.compression.form == "lossy WebP" else "lossless"
    return "palette" if treatment.compression.form == "palette" else "lossless"


def _stored(picture: Picture, treatment: Treatment) -> Picture:
    return stored_multiplied(picture) if treatment.multiplied else picture


def _few_colours(picture: Picture, treatment: Treatment) -> Picture:
    if treatment.compression.form != "palette":
        return picture
    *_, (_, treated) = treat(picture, treatment)
    assert treated is not None
    return treated.picture


def _webp(picture: Picture, treatment: Treatment | None) -> bytes:
    """A WebP file, lossless where no treatment says otherwise."""
    from PIL import Image

    if max(picture.shape[:2]) > LARGEST_WEBP:
        raise Refusal(
            "WebP holds pictures of at most {largest_webp} px a side. Make smaller pages.",
            largest_webp=LARGEST_WEBP,
        )
    lossy = treatment is not None and treatment.compression.form == "lossy WebP"
    target = io.BytesIO()
    quality = treatment.compression.quality if treatment and lossy else 100
    Image.fromarray(np.ascontiguousarray(picture)).save(
        target, "WEBP", lossless=not lossy, quality=quality, exact=True, method=4
    )
    return target.getvalue()
