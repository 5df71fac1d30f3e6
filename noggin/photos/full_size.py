"""Parts of a file's picture at 1:1, where sharpness is judged."""

from collections.abc import Mapping
from io import BytesIO

from PIL import Image, ImageOps

from noggin.photos.photo import check_bytes, is_raw, opened_picture, opened_raw

CROP = (640, 480)
"""Width and height of a part, pixels of the picture and of the screen."""

QUALITY = 92


def parts_at_full_size(raw: bytes, middles: Mapping[str, tuple[float, float]]) -> dict[str, bytes]:
    """Parts of a file's picture as JPEG, not made smaller or larger; `middles` are where each lies, across
    and down from 0 to 1. Raises Unreadable."""
    check_bytes(len(raw))
    if is_raw(raw):
        with opened_raw(raw) as found:
            shown = found.postprocess(use_camera_wb=True, no_auto_bright=True, output_bps=8)
            image = Image.fromarray(shown.squeeze()).convert("RGB")
    else:
        image = _opened(raw)
    return {key: _part(image, at) for key, at in middles.items()}


def _opened(raw: bytes) -> Image.Image:
    with opened_picture(raw) as image:
        ImageOps.exif_transpose(image, in_place=True)
        return image.convert("RGB")


def _part(image: Image.Image, at: tuple[float, float]) -> bytes:
    size = min(CROP[0], image.width), min(CROP[1], image.height)
    left, top = (
        round(min(max(part * whole - own / 2, 0), whole - own))
        for part, whole, own in zip(at, image.size, size, strict=True)
    )
    out = BytesIO()
    image.crop((left, top, left + size[0], top + size[1])).save(out, "JPEG", quality=QUALITY)
    return out.getvalue()
