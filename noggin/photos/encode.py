"""Computed pictures as the bytes of a file."""

from io import BytesIO

import numpy as np
from numpy.typing import NDArray
from PIL import Image

FORMATS = {"png": "PNG", "webp": "WEBP"}
"""Kinds of picture files, by their endings."""


def encoded(image: NDArray[np.uint8], kind: str) -> bytes:
    """An sRGB image (h×w×3) as a file of a kind of FORMATS: PNG exactly, WebP nearly and small."""
    out = BytesIO()
    if kind == "webp":
        Image.fromarray(image).save(out, FORMATS[kind], quality=86, method=0)
    else:
        Image.fromarray(image).save(out, FORMATS[kind], compress_level=3)
    return out.getvalue()
