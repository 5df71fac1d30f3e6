"""Computed pictures as the bytes of a file."""

from collections.abc import Sequence
from io import BytesIO

import numpy as np
from numpy.typing import NDArray
from PIL import Image

FORMATS = {"png": "PNG", "webp": "WEBP"}
"""Kinds of picture files, by their endings."""


SHEET_QUALITY, SHEET_SPEED = 32, 8
"""Of AV1: five pictures of 204 × 136 in some 6 kB and 60 ms, where WebP takes 8 kB for the same."""


def one_below_another(images: Sequence[NDArray[np.uint8]], size: tuple[int, int], places: int) -> bytes:
    """Small sRGB images, each scaled to a width and height, one below another as one AVIF file with so
    many places; those left over are black. Raises ValueError where there are too few places."""
    if len(images) > places:
        raise ValueError(f"{len(images)} images are too many for {places} places")
    width, height = size
    sheet = Image.new("RGB", (width, height * places))
    for place, image in enumerate(images):
        sheet.paste(Image.fromarray(image).resize(size, Image.Resampling.LANCZOS), (0, height * place))
    out = BytesIO()
    sheet.save(out, "AVIF", quality=SHEET_QUALITY, speed=SHEET_SPEED)
    return out.getvalue()


def encoded(image: NDArray[np.uint8], kind: str) -> bytes:
    """An sRGB image (h×w×3) as a file of a kind of FORMATS: PNG exactly, WebP nearly and small."""
    out = BytesIO()
    if kind == "webp":
        Image.fromarray(image).save(out, FORMATS[kind], quality=86, method=0)
    else:
        Image.fromarray(image).save(out, FORMATS[kind], compress_level=3)
    return out.getvalue()
