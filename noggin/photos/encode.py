"""Computed pictures as the bytes of a file."""

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from PIL.PngImagePlugin import PngInfo
from PIL.TiffImagePlugin import IFDRational

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


@dataclass(frozen=True)
class PictureLabel:
    """What a computed picture says of itself: in words, how the camera would be set (time in seconds,
    f-number, ISO, focal length in mm, whether the flash fires), and as XMP."""

    words: str
    time_s: float
    f_number: float
    iso: float
    focal_mm: float
    flash: bool
    xmp: str


EXPOSURE_TIME, F_NUMBER, ISO_SPEED, FLASH, FOCAL_LENGTH = 0x829A, 0x829D, 0x8827, 0x9209, 0x920A
DESCRIPTION, SOFTWARE, EXIF_IFD = 0x010E, 0x0131, 0x8769
"""Tags. Exif 2.32 (CIPA DC-008), 4.6.4 and 4.6.5."""

XMP_KEYWORD = "XML:com.adobe.xmp"
"""Under which a PNG carries XMP. ISO 16684-1, PNG: an iTXt chunk."""


def labelled_png(image: NDArray[np.uint8], label: PictureLabel) -> bytes:
    """An sRGB image (h×w×3) as PNG, exactly, with its settings in Exif and XMP, marked as computed."""
    exif = Image.Exif()
    exif[DESCRIPTION] = label.words.encode("ascii", "replace").decode()
    exif[SOFTWARE] = "Noggin, computed"
    inner = exif.get_ifd(EXIF_IFD)
    long = label.time_s >= 1
    inner[EXPOSURE_TIME] = IFDRational(label.time_s) if long else IFDRational(1, round(1 / label.time_s))
    inner[F_NUMBER] = IFDRational(round(10 * label.f_number), 10)
    inner[ISO_SPEED] = round(label.iso)
    inner[FLASH] = int(label.flash)
    inner[FOCAL_LENGTH] = IFDRational(round(10 * label.focal_mm), 10)
    text = PngInfo()
    text.add_itxt(XMP_KEYWORD, label.xmp)
    out = BytesIO()
    Image.fromarray(image).save(out, FORMATS["png"], compress_level=3, exif=exif, pnginfo=text)
    return out.getvalue()


def encoded(image: NDArray[np.uint8], kind: str) -> bytes:
    """An sRGB image (h×w×3) as a file of a kind of FORMATS: PNG exactly, WebP nearly and small."""
    out = BytesIO()
    if kind == "webp":
        Image.fromarray(image).save(out, FORMATS[kind], quality=86, method=0)
    else:
        Image.fromarray(image).save(out, FORMATS[kind], compress_level=3)
    return out.getvalue()
