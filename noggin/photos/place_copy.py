"""The copy of a picture of a place that is kept: small enough, and with nothing of what its file said."""

from io import BytesIO

import numpy as np
from PIL import Image, ImageOps

from noggin.core.errors import Refused, Unreadable
from noggin.core.physics.srgb import Values, linear_of_bytes
from noggin.photos.photo import HALF_BYTES, check_bytes, is_raw, opened_picture, opened_raw

COPY_MOST = 2000
"""Pixels of the longer side of a copy."""

COPY_QUALITY = 88

SRGB_GAMMA = (2.4, 12.92)
"""The curve of IEC 61966-2-1, as LibRaw takes one."""


def place_copy(raw: bytes) -> bytes:
    """A picture of a place as a JPEG of at most 2,000 pixels: upright, without the position, the serial
    numbers or anything else of its file. A raw file's tones are its counts, by no curve but the screen's.
    Raises Unreadable."""
    check_bytes(len(raw))
    image = _developed(raw) if is_raw(raw) else _upright(raw)
    image.thumbnail((COPY_MOST, COPY_MOST), Image.Resampling.LANCZOS, reducing_gap=3.0)
    out = BytesIO()
    image.save(out, "JPEG", quality=COPY_QUALITY)
    return out.getvalue()


def _upright(raw: bytes) -> Image.Image:
    with opened_picture(raw) as image:
        image.draft("RGB", (COPY_MOST, COPY_MOST))
        ImageOps.exif_transpose(image, in_place=True)
        plain = Image.new("RGB", image.size)  # takes nothing along but the picture
        plain.paste(image.convert("RGB"))
        return plain


def _developed(raw: bytes) -> Image.Image:
    with opened_raw(raw, HALF_BYTES) as found:
        shown = found.postprocess(
            half_size=True, use_camera_wb=True, no_auto_bright=True, output_bps=8, gamma=SRGB_GAMMA
        )
        return Image.fromarray(shown.squeeze()).convert("RGB")


def copy_size(jpeg: bytes) -> tuple[int, int]:
    """Width and height of a kept copy."""
    with Image.open(BytesIO(jpeg), formats=("JPEG",)) as image:
        return image.size


def check_copy(jpeg: bytes) -> None:
    """Raise Refused for what is no copy as it is kept: a JPEG of at most 2,000 pixels."""
    try:
        if max(copy_size(jpeg)) <= COPY_MOST:
            return
    except (OSError, ValueError):
        pass
    raise Refused("pictures", "one is no JPEG of at most 2,000 pixels")


def linear_copy(jpeg: bytes, wide: float = COPY_MOST) -> Values:
    """A kept copy in linear light (h×w×3, 1 is white), made smaller to about so many pixels across, the
    light of its pixels averaged. Raises Unreadable."""
    try:
        with Image.open(BytesIO(jpeg), formats=("JPEG",)) as image:
            values = np.asarray(image.convert("RGB"))
    except OSError as error:
        raise Unreadable(f"is damaged: {error}") from None
    linear: Values = linear_of_bytes()[values]
    by = min(max(1, round(linear.shape[1] / wide)), *linear.shape[:2])
    if by == 1:
        return linear
    height, width = (side // by for side in linear.shape[:2])
    whole = linear[: height * by, : width * by]
    found: Values = whole.reshape(height, by, width, by, 3).mean((1, 3), dtype=np.float32)
    return found
