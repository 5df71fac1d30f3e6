"""A file of a frame, read: its settings, its light, and a small picture of it."""

import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from hashlib import sha256
from io import BytesIO
from math import ceil, log2
from pathlib import PurePath

import numpy as np
import rawpy
from PIL import Image, ImageOps, UnidentifiedImageError

from noggin.core.errors import Unreadable
from noggin.core.physics.appearance import CLIP
from noggin.core.physics.colour import Values
from noggin.core.pops.tone_curve import luminance, raw_luminance
from noggin.core.units import Stops
from noggin.photos.exif import Exif, read_exif

try:
    import pillow_heif
except ModuleNotFoundError:  # an extra: what is inside it is under GPLv2
    HEIC = False
else:
    HEIC = True
    pillow_heif.register_heif_opener()

Image.init()  # from here on every format is known by its name

FILE_MOST = 256 * 1024 * 1024
"""Bytes of a file."""

PIXELS_MOST = 200_000_000
"""Pixels of a picture: more would be a bomb, not a photograph."""

UNPACKED_MOST = 1_300_000_000
"""Bytes that a file may take while it is unpacked, in a process that is not the server's own."""

RENDERED_BYTES, SENSOR_BYTES, HALF_BYTES = 6, 13, 5
"""Bytes of a pixel while a file is unpacked: a rendered picture and itself turned upright; a raw file
developed whole (counts of 16 bits, four channels of them, and what comes of it), and at half its size."""

Image.MAX_IMAGE_PIXELS = PIXELS_MOST

READ_AT = 640
"""Pixels of the longer side that tones are read at, or some more: an average of many pixels counts."""

SMALL = 480
"""Pixels of the longer side of the picture that is kept."""

SMALL_QUALITY = 72

RENDERED = {
    ".jpg": "jpeg",
    ".jpeg": "jpeg",
    ".tif": "tiff",
    ".tiff": "tiff",
    ".heic": "heic",
    ".heif": "heic",
}
RAWS = (
    ".dng", ".3fr", ".arw", ".cr2", ".cr3", ".crw", ".dcr", ".erf", ".fff", ".iiq", ".kdc", ".mef", ".mos",
    ".mrw", ".nef", ".nrw", ".orf", ".pef", ".raf", ".raw", ".rw2", ".rwl", ".sr2", ".srf", ".srw", ".x3f",
)  # fmt: skip
"""Endings of the files that are read; what is in a file decides, not how it is called."""


@dataclass(frozen=True)
class Photo:
    """A frame's file: its name and SHA-256, its kind (`raw` or what rendered it), EXIF, the size it has,
    its linear luminance at a reduced size (mid-tone at 0.18), the level at which it is full, and a small
    JPEG of it."""

    name: str
    sha256: str
    kind: str
    exif: Exif
    width: int
    height: int
    light: Values
    full: Stops
    jpeg: bytes

    @property
    def by(self) -> str:
        """What a patch of it is trusted as (a key of TRUST)."""
        return "raw" if self.kind == "raw" else "jpeg"


def is_photo(name: str) -> bool:
    """Whether a file is one of a frame, by its ending."""
    ending = PurePath(name).suffix.lower()
    return ending in RENDERED or ending in RAWS


def is_small_jpeg(raw: bytes) -> bool:
    """Whether a file is a JPEG no larger than the small picture that is kept of a frame."""
    try:
        with _told(), Image.open(BytesIO(raw), formats=("JPEG",)) as image:
            image.load()
            return max(image.size) <= SMALL
    except Unreadable:
        return False


def read_photo(raw: bytes, name: str, headroom: Stops = CLIP) -> Photo:
    """A file read. `headroom` is how far over mid-tone the sensor was full. Raises Unreadable, saying what
    is wrong with the file."""
    check_bytes(len(raw))
    digest, exif = sha256(raw).hexdigest(), read_exif(raw)
    if is_raw(raw):
        return _raw(raw, name, digest, exif, headroom)
    return _rendered(raw, name, digest, exif)


OPENED = ("JPEG", "TIFF", "PNG", *["HEIF"] * HEIC)
"""What Pillow may open, by its names: no other format is tried, whatever a file is called."""

HEIF_BRANDS = (b"heic", b"heix", b"heim", b"heis", b"mif1", b"msf1", b"heif")
"""Brands of an HEIF file. Source: ISO/IEC 23008-12, annex B."""

TIFF_STARTS = (b"II*\x00", b"MM\x00*")
"""How a TIFF file begins. Source: TIFF 6.0, section 2."""

RAW_MARK = b"CR"
"""At byte 8 of a TIFF file: its sensor's figures lie in a later directory. From memory."""

DNG_VERSION, SUB_IFDS, PHOTOMETRIC, SUBFILE_TYPE = 50706, 330, 262, 254
REDUCED = 1
"""Subfile type of a smaller picture that stands before the full one. Source: TIFF 6.0, section 8."""

MOSAIC = (32803, 34892)
"""Tags and values by which a TIFF file holds a sensor's own figures. Source: DNG 1.7; TIFF/EP, ISO
12234-2."""


def _is_heif(raw: bytes) -> bool:
    return raw[4:8] == b"ftyp" and raw[8:12] in HEIF_BRANDS


def is_raw(raw: bytes) -> bool:
    """Whether a file holds a sensor's own figures, by its content: never by its name."""
    if raw[:3] == b"\xff\xd8\xff" or raw[:4] == b"\x89PNG":
        return False
    if raw[4:8] == b"ftyp":
        return not _is_heif(raw)
    if raw[:4] not in TIFF_STARTS:
        return True  # whether it is one is LibRaw's to say
    if raw[8:10] == RAW_MARK:
        return True
    try:
        with _quietly(), Image.open(BytesIO(raw), formats=("TIFF",)) as image:
            tags = image.tag_v2  # type: ignore[attr-defined]  # a TIFF has them
            preview_first = SUB_IFDS in tags and tags.get(SUBFILE_TYPE) == REDUCED
            return preview_first or DNG_VERSION in tags or tags.get(PHOTOMETRIC) in MOSAIC
    except Image.DecompressionBombError:
        return False  # what it is, is told when it is opened
    except (OSError, ValueError, SyntaxError, KeyError, TypeError, AttributeError):
        return True


@contextmanager
def _quietly() -> Iterator[None]:
    """What is odd about a file is told when it is opened, not when its kind is asked."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        yield


def check_bytes(count: int) -> None:
    """Raise Unreadable for a file of no bytes, or of too many, before it is read."""
    if not count:
        raise Unreadable("is empty")
    if count > FILE_MOST:
        raise Unreadable(f"is larger than {FILE_MOST // 1024**2} MiB")


def _check_room(width: int, height: int, bytes_each: int) -> None:
    """Raise Unreadable for a picture that takes too much to unpack."""
    if width * height > PIXELS_MOST:
        raise Unreadable(f"has {width:,} × {height:,} pixels: far too many")
    takes = width * height * bytes_each
    if takes > UNPACKED_MOST:
        most = f"{UNPACKED_MOST / 1e9:.1f} GB is the most"
        raise Unreadable(f"takes {takes / 1e9:.1f} GB to unpack ({width:,} × {height:,} pixels): {most}")


@contextmanager
def opened_raw(raw: bytes, bytes_each: int = SENSOR_BYTES) -> Iterator[rawpy.RawPy]:
    """A raw file, opened, of which a pixel takes so much while it is developed; whatever it does to its
    reader is told as Unreadable."""
    try:
        with rawpy.imread(BytesIO(raw)) as found:
            _check_room(found.sizes.raw_width, found.sizes.raw_height, bytes_each)
            yield found
    except rawpy.LibRawError as error:
        words = (
            error.args[0].decode(errors="replace")
            if error.args and isinstance(error.args[0], bytes)
            else error
        )
        raise Unreadable(f"is cut off, damaged, or of no kind that is known: {words}") from None
    except (ValueError, IndexError, TypeError, MemoryError) as error:
        raise Unreadable(f"is damaged: {str(error)[:120]}") from None


@contextmanager
def _told() -> Iterator[None]:
    """Whatever a file does to its reader, in one sentence."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            yield
    except (Image.DecompressionBombError, Image.DecompressionBombWarning, MemoryError):
        raise Unreadable("unpacks to far too many pixels") from None
    except UnidentifiedImageError:
        raise Unreadable("is damaged, or of no kind that is known") from None
    except (
        OSError,
        ValueError,
        SyntaxError,
        EOFError,
        IndexError,
        KeyError,
        TypeError,
        RuntimeError,
    ) as error:
        raise Unreadable(f"is cut off or damaged: {str(error)[:120]}") from None


@contextmanager
def opened_picture(raw: bytes) -> Iterator[Image.Image]:
    """A rendered picture, opened and not yet unpacked; whatever it does to its reader is told as
    Unreadable."""
    if _is_heif(raw) and not HEIC:
        more = "pip install pillow-heif (it is under GPLv2), then start Noggin again"
        raise Unreadable(f"is an HEIC file. Export it as JPEG, or add what reads them: {more}")
    with _told(), Image.open(BytesIO(raw), formats=OPENED) as image:
        _check_room(*image.size, RENDERED_BYTES)
        yield image


def _rendered(raw: bytes, name: str, digest: str, exif: Exif) -> Photo:
    with opened_picture(raw) as image:
        width, height = image.size
        kind = {"MPO": "jpeg", "HEIF": "heic"}.get(image.format or "", (image.format or "").lower())
        # A JPEG is decoded at a half, a quarter or an eighth of its size: small blocks are averaged as they
        # are encoded, which for anything but hard edges is the same within a fiftieth of a stop.
        image.draft("RGB", (READ_AT // 2, READ_AT // 2))
        ImageOps.exif_transpose(image, in_place=True)
        upright = image if image.mode == "RGB" else image.convert("RGB")
        upright.load()
    step = ceil(max(upright.size) / READ_AT)
    read = np.asarray(upright)[::step, ::step]
    if (upright.width > upright.height) != (width > height):
        width, height = height, width
    return Photo(name, digest, kind, exif, width, height, luminance(read), RENDERED_FULL, _small(upright))


RENDERED_FULL: Stops = log2(1 / 0.18)
"""Where a rendered picture is white: sRGB's 255 against its mid-tone."""


def _raw(raw: bytes, name: str, digest: str, exif: Exif, headroom: Stops) -> Photo:
    with opened_raw(raw, HALF_BYTES) as found:
        height, width = found.raw_image_visible.shape[:2]
        counts = _greens(found)
        black = float(np.mean(found.black_level_per_channel))
        light = raw_luminance(counts, black, float(found.white_level), headroom)
        shown = found.postprocess(half_size=True, use_camera_wb=True, no_auto_bright=True, output_bps=8)
        small = _small(Image.fromarray(shown.squeeze()))  # a sensor without colours has one channel
    return Photo(name, digest, "raw", exif, width, height, light, headroom, small)


def _greens(found: rawpy.RawPy) -> Values:
    """Counts of the green photosites, which are nearest to luminance, as a picture: the mean over small
    squares of the mosaic."""
    counts = found.raw_image_visible
    if counts.ndim == 3:
        return counts[..., 1].astype(np.float32)
    colours = found.raw_colors_visible
    greens = [index for index, letter in enumerate(found.color_desc) if letter == ord("G")]
    block = 2 * max(1, max(counts.shape) // (2 * READ_AT))
    rows, columns = (size // block for size in counts.shape)
    light = np.empty((rows, columns), np.float32)
    for row in range(rows):  # one by one: the whole mosaic in single precision is four times the file
        band = slice(row * block, (row + 1) * block), slice(0, columns * block)
        green = np.isin(colours[band], greens).reshape(block, columns, block)
        squares = counts[band].reshape(block, columns, block)
        total = np.where(green, squares, 0).sum(axis=(0, 2), dtype=np.float64)
        light[row] = total / np.maximum(green.sum(axis=(0, 2)), 1)
    return light


def _small(image: Image.Image) -> bytes:
    shown = image.resize(_fitted(image.size), Image.Resampling.BILINEAR, reducing_gap=1.5)
    out = BytesIO()
    shown.save(out, "JPEG", quality=SMALL_QUALITY)
    return out.getvalue()


def _fitted(size: tuple[int, int]) -> tuple[int, int]:
    """A size within the small one, of the same shape; nothing is made larger."""
    part = min(1.0, SMALL / max(size))
    return max(1, round(size[0] * part)), max(1, round(size[1] * part))
