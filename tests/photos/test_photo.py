"""Files of frames: what they say, what their tones are, and what is wrong with broken ones. Pictures are
made by the simulated camera, or by Pillow, with known values."""

import io
import struct
import unittest
from datetime import UTC, datetime, timedelta, timezone
from unittest.mock import patch
from zoneinfo import ZoneInfo

import numpy as np
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from noggin.core.errors import Refused, Unreadable
from noggin.core.physics.appearance import SKINS
from noggin.core.physics.srgb import srgb
from noggin.core.pops.tone_curve import ToneCurve
from noggin.devices.simulated_camera import CARD, Exposure, FileCamera, View
from noggin.photos.exif import Exif, read_exif
from noggin.photos.full_size import parts_at_full_size
from noggin.photos.patches import Patch, beside, find_patches, histogram, largest_face, measure
from noggin.photos.photo import FILE_MOST, check_bytes, is_photo, is_raw, read_photo
from tests.support import fewer

AT = datetime(2027, 6, 19, 13, 10, 5, tzinfo=timezone(timedelta(hours=2)))
TAKEN = Exposure(1 / 160, 2.8, 200, 85, True, AT)
CAMERA = FileCamera(3)
CARD_PATCH = Patch(CARD[0] + 0.02, CARD[1] + 0.03, CARD[2] - 0.04, CARD[3] - 0.06)


def view(subject: float = 0.0, background: float = -1.0) -> View:
    """A couple's half with a card."""
    return View({"subject": subject, "background": background, "sky": 0.5}, card=True)


def encoded(image: Image.Image, kind: str, **more: object) -> bytes:
    """A picture as a file."""
    out = io.BytesIO()
    image.save(out, kind, **more)
    return out.getvalue()


def said_to_be(width: int, height: int, small: bytes | None = None) -> bytes:
    """A small TIFF file that says it is large: its sizes are two tags of 12 bytes in its directory (TIFF
    6.0, section 2)."""
    raw = bytearray(small or encoded(Image.new("1", (8, 8)), "TIFF", compression="group4"))
    (directory,) = struct.unpack_from("<I", raw, 4)
    (count,) = struct.unpack_from("<H", raw, directory)
    for entry in range(directory + 2, directory + 2 + 12 * count, 12):
        (tag,) = struct.unpack_from("<H", raw, entry)
        if tag in (256, 257):
            struct.pack_into("<HII", raw, entry + 2, 4, 1, width if tag == 256 else height)
    return bytes(raw)


class Settings(unittest.TestCase):
    def test_what_was_dialled_is_read_off_a_jpeg_and_a_raw_file(self) -> None:
        for raw in (CAMERA.jpeg(view(), TAKEN), CAMERA.dng(view(), TAKEN)):
            exif = read_exif(raw)
            self.assertAlmostEqual(exif.shutter_s or 0, 1 / 160)
            self.assertEqual((exif.aperture, exif.iso, exif.focal_mm, exif.flash), (2.8, 200, 85, True))
            self.assertEqual(exif.taken, AT)
            self.assertEqual(exif.body, "Simulated camera")

    def test_a_clock_without_zone_gets_that_of_the_batch(self) -> None:
        exif = Exif(datetime(2027, 6, 19, 13, 10))  # noqa: DTZ001 - as files have it
        madrid = ZoneInfo("Europe/Madrid")
        self.assertEqual(exif.at(madrid, timedelta()), datetime(2027, 6, 19, 11, 10, tzinfo=UTC))
        early = exif.at(madrid, timedelta(seconds=40))
        self.assertEqual(early, datetime(2027, 6, 19, 11, 9, 20, tzinfo=UTC))
        self.assertIsNone(Exif().at(madrid, timedelta()))

    def test_a_file_without_any_says_nothing(self) -> None:
        self.assertEqual(read_exif(encoded(Image.new("RGB", (8, 8)), "PNG")), Exif())
        self.assertEqual(read_exif(b"nothing at all"), Exif())

    @given(st.binary(max_size=400))
    @fewer(60)
    def test_whatever_stands_in_a_file_breaks_nothing(self, noise: bytes) -> None:
        read_exif(noise)
        read_exif(CAMERA_JPEG[:200] + noise)


CAMERA_JPEG = CAMERA.jpeg(view(), TAKEN)


class Patches(unittest.TestCase):
    def test_a_raw_patch_within_a_twentieth_of_a_stop(self) -> None:
        for level in (-4.0, -2.0, -0.5, 0.0, 1.0, 2.0):
            photo = read_photo(CAMERA.dng(view(level), TAKEN), "a.dng")
            self.assertEqual(photo.by, "raw")
            self.assertAlmostEqual(measure(photo, CARD_PATCH).level, level, delta=0.05)

    def test_a_jpeg_patch_of_a_known_curve_within_a_tenth(self) -> None:
        camera = FileCamera(3, encode=lambda light: srgb(light) ** 0.8)
        reads, really = [], []
        for level in np.linspace(-4, 1.5, 12):
            photo = read_photo(camera.jpeg(view(float(level)), TAKEN), "a.jpg")
            reads.append(measure(photo, CARD_PATCH).level)
            really.append(float(level))
        curve = ToneCurve(tuple(reads), tuple(really))
        for level in (-3.2, -1.1, 0.4, 1.2):
            photo = read_photo(camera.jpeg(view(level), TAKEN), "a.jpg")
            self.assertAlmostEqual(measure(photo, CARD_PATCH, curve).level, level, delta=0.1)

    def test_a_plain_jpeg_by_srgb(self) -> None:
        for level in (-3.0, -1.0, 0.0, 1.5):
            photo = read_photo(CAMERA.jpeg(view(level), TAKEN), "a.jpg")
            self.assertAlmostEqual(measure(photo, CARD_PATCH).level, level, delta=0.1)

    def test_what_is_full_blinks(self) -> None:
        for name, raw in (
            ("a.jpg", CAMERA.jpeg(view(3.2), TAKEN)),
            ("a.dng", CAMERA.dng(view(3.2), TAKEN)),
        ):
            self.assertTrue(measure(read_photo(raw, name), CARD_PATCH).blinks, name)
            dark = CAMERA.jpeg(view(1.0), TAKEN) if name == "a.jpg" else CAMERA.dng(view(1.0), TAKEN)
            self.assertFalse(measure(read_photo(dark, name), CARD_PATCH).blinks, name)

    def test_a_face_is_found_whatever_its_skin_and_light(self) -> None:
        for skin in SKINS:
            for level in (-3.0, -1.0, 0.0):
                levels = {"subject": level, "background": -1.0}
                photo = read_photo(CAMERA.jpeg(View(levels, skin), TAKEN), "a.jpg")
                face = largest_face(photo)
                self.assertIsNotNone(face, (skin, level))
                found = measure(photo, face or CARD_PATCH).level
                self.assertAlmostEqual(found, level + SKINS[skin].offset, delta=0.3)

    def test_no_face_no_patch(self) -> None:
        photo = read_photo(encoded(Image.new("RGB", (300, 200), (90, 90, 90)), "PNG"), "a.png")
        self.assertIsNone(largest_face(photo))
        self.assertEqual(set(find_patches(photo, {"subject": 1, "background": 1})), {"background"})

    def test_the_background_is_at_the_far_side_of_a_face(self) -> None:
        self.assertLess(beside(Patch(0.7, 0.2, 0.2, 0.2)).x, 0.5)
        self.assertGreater(beside(Patch(0.1, 0.2, 0.2, 0.2)).x, 0.5)

    def test_a_patch_lies_in_the_frame(self) -> None:
        for corners in ((-0.1, 0, 0.5, 0.5), (0, 0, 0, 0.5), (0, 0, 0.5, 1.5)):
            with self.assertRaises(Refused):
                Patch(*corners)

    def test_a_histogram_is_of_the_whole_frame(self) -> None:
        bars = histogram(read_photo(CAMERA.jpeg(view(), TAKEN), "a.jpg"))
        self.assertAlmostEqual(sum(bars), 1.0, places=5)
        level = -8 + (bars.index(max(bars)) + 0.5) * (2.963 + 8) / len(bars)  # log2(78/10), ISO 12232
        self.assertAlmostEqual(level, -1.0, delta=0.15)  # most of the frame is the background
        self.assertEqual(bars[-1], 0.0)
        full = histogram(read_photo(encoded(Image.new("RGB", (60, 40), (255, 255, 255)), "JPEG"), "a.jpg"))
        self.assertEqual(full[-1], 1.0)


class Kinds(unittest.TestCase):
    def test_an_heic_file_says_what_a_jpeg_says(self) -> None:
        shown = Image.open(io.BytesIO(CAMERA.jpeg(view(), TAKEN)))
        heic = encoded(shown, "HEIF", exif=shown.info["exif"])
        self.assertEqual(read_exif(heic), read_exif(CAMERA.jpeg(view(), TAKEN)))
        self.assertEqual(read_photo(heic, "a.heic").exif.taken, AT)

    def test_without_what_reads_heic_the_way_out_is_said(self) -> None:
        heic = encoded(Image.new("RGB", (64, 48)), "HEIF")
        with patch("noggin.photos.photo.HEIC", False):
            self.assertRaisesRegex(Unreadable, "Export it as JPEG", read_photo, heic, "a.heic")
            self.assertRaisesRegex(Unreadable, "Export it as JPEG", parts_at_full_size, heic, {})

    def test_every_kind_that_is_rendered(self) -> None:
        grey = Image.new("RGB", (64, 48), (118, 118, 118))
        for kind, name in (("JPEG", "a.jpg"), ("TIFF", "a.tif"), ("HEIF", "a.heic"), ("PNG", "a.png")):
            photo = read_photo(encoded(grey, kind), name)
            self.assertAlmostEqual(
                measure(photo, Patch(0.2, 0.2, 0.5, 0.5)).level, 0.0, delta=0.05, msg=kind
            )
            self.assertEqual((photo.width, photo.height), (64, 48))
            with Image.open(io.BytesIO(photo.jpeg)) as small:
                self.assertEqual(small.format, "JPEG")

    def test_a_picture_on_its_side_is_turned(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6
        photo = read_photo(encoded(Image.new("RGB", (90, 60)), "JPEG", exif=exif), "a.jpg")
        self.assertEqual((photo.width, photo.height), (60, 90))
        self.assertGreater(photo.light.shape[0], photo.light.shape[1])

    def test_a_large_one_is_read_small_and_right(self) -> None:
        image = Image.new("RGB", (3000, 2000), (118, 118, 118))
        photo = read_photo(encoded(image, "JPEG"), "a.jpg")
        self.assertEqual((photo.width, photo.height), (3000, 2000))
        self.assertLess(max(photo.light.shape), 1600)
        self.assertAlmostEqual(measure(photo, Patch(0.4, 0.4, 0.2, 0.2)).level, 0.0, delta=0.02)

    def test_endings(self) -> None:
        for name in ("A.JPG", "b.heic", "c.dng", "d.tiff"):
            self.assertTrue(is_photo(name), name)
        for name in ("a.txt", "jpg", "a.xmp", ".dng.bak"):
            self.assertFalse(is_photo(name), name)

    def test_a_picture_with_smaller_ones_behind_it_is_no_raw_file(self) -> None:
        # TIFF 6.0, section 8: the first directory is the full picture unless its subfile type says smaller.
        out, small = io.BytesIO(), np.zeros((40, 60, 3), np.uint8)
        with tifffile.TiffWriter(out) as writer:
            writer.write(np.full((80, 120, 3), 128, np.uint8), photometric="rgb", subifds=1)
            writer.write(small, photometric="rgb", subfiletype=1)
        self.assertFalse(is_raw(out.getvalue()))
        self.assertEqual(read_photo(out.getvalue(), "export.tif").kind, "tiff")
        out = io.BytesIO()
        with tifffile.TiffWriter(out) as writer:
            writer.write(small, photometric="rgb", subifds=1, subfiletype=1)
            writer.write(np.full((80, 120), 128, np.uint16), photometric="minisblack")
        self.assertTrue(is_raw(out.getvalue()))
        self.assertTrue(is_raw(b"II*\x00\x10\x00\x00\x00CR\x02\x00"))

    def test_what_a_file_is_its_content_decides_never_its_name(self) -> None:
        for raw, kind in (
            (CAMERA_JPEG, "jpeg"),
            (CAMERA_DNG, "raw"),
            (encoded(Image.new("RGB", (64, 48)), "TIFF"), "tiff"),
        ):
            for name in ("a.jpg", "a.dng", "a.tif", "a.heic", "a"):
                with self.subTest(kind=kind, name=name):
                    self.assertEqual(read_photo(raw, name).kind, kind)


class FullSize(unittest.TestCase):
    def test_a_part_has_the_files_own_pixels_and_lies_in_the_frame(self) -> None:
        # A picture whose red says the column, green the row: what is cut out is where it should be.
        across, down = np.meshgrid(np.arange(1600) % 256, np.arange(1200) % 256)
        image = Image.fromarray(np.stack([across, down, 0 * down], -1).astype(np.uint8))
        raw = encoded(image, "TIFF")
        for at, left, top in (((0.5, 0.5), 480, 360), ((0.0, 0.0), 0, 0), ((1.0, 1.0), 960, 720)):
            with self.subTest(at=at):
                part = parts_at_full_size(raw, {"here": at})["here"]
                found = np.asarray(Image.open(io.BytesIO(part))).astype(int)
                self.assertEqual(found.shape, (480, 640, 3))
                wanted = np.asarray(image)[top : top + 480, left : left + 640].astype(int)
                self.assertLess(np.abs(found - wanted)[..., :2].mean(), 4)

    def test_raw_files_are_developed_whole_and_small_ones_shown_as_they_are(self) -> None:
        raw = CAMERA.dng(view(), TAKEN)
        photo = read_photo(raw, "a.dng")
        part = parts_at_full_size(raw, {"here": (0.5, 0.5)})["here"]
        size = Image.open(io.BytesIO(part)).size
        self.assertEqual(size, (min(640, photo.width), min(480, photo.height)))

    def test_what_is_broken_is_refused(self) -> None:
        whole = CAMERA.jpeg(view(), TAKEN)
        for raw, name, said in (
            (b"", "a.jpg", "is empty"),
            (whole[: len(whole) // 2], "a.jpg", "cut off"),
            (b"hello", "a.dng", "no kind that is known"),
        ):
            with self.subTest(name=name, said=said), self.assertRaisesRegex(Unreadable, said):
                parts_at_full_size(raw, {"here": (0.5, 0.5)})


EPS = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n%%EOF\n"
"""A program in PostScript: nothing that is opened may run it."""


class Broken(unittest.TestCase):
    def test_each_is_named_by_what_is_wrong(self) -> None:
        whole, dng = CAMERA.jpeg(view(), TAKEN), CAMERA.dng(view(), TAKEN)
        bomb = said_to_be(30_000, 30_000)
        cases = (
            (b"", "a.jpg", "is empty"),
            (b"hello", "a.jpg", "no kind that is known"),
            (b"hello", "a.dng", "no kind that is known"),
            (EPS, "a.jpg", "no kind that is known"),
            (whole[: len(whole) // 2], "a.jpg", "cut off"),
            (dng[: len(dng) // 3], "a.dng", "cut off"),
            (bomb, "a.tif", "far too many pixels"),
        )
        for raw, name, said in cases:
            with self.subTest(name=name, said=said), self.assertRaisesRegex(Unreadable, said):
                read_photo(raw, name)

    def test_what_takes_too_much_to_unpack_is_refused_by_its_figure(self) -> None:
        vast = said_to_be(14_000, 10_000, CAMERA_DNG)
        with self.assertRaisesRegex(Unreadable, "takes 1.8 GB to unpack .14,000 × 10,000 pixels.: 1.3 GB"):
            parts_at_full_size(vast, {"here": (0.5, 0.5)})
        # 102 MP are a camera's: what is wrong with this one is not its size.
        with self.assertRaisesRegex(Unreadable, "cut off or damaged"):
            read_photo(said_to_be(11_648, 8_736), "a.tif")

    def test_a_file_is_refused_by_its_size_before_it_is_read(self) -> None:
        for count, said in ((0, "is empty"), (FILE_MOST + 1, "larger than 256 MiB")):
            with self.assertRaisesRegex(Unreadable, said):
                check_bytes(count)
        check_bytes(FILE_MOST)

    @given(st.integers(0, 4000), st.binary(min_size=1, max_size=40))
    @fewer(40)
    def test_a_file_with_bytes_that_were_spoilt_is_read_or_refused(self, at: int, noise: bytes) -> None:
        for whole, name in ((CAMERA_JPEG, "a.jpg"), (CAMERA_DNG[:60_000], "a.dng")):
            spoilt = whole[:at] + noise + whole[at + len(noise) :]
            try:
                read_photo(spoilt, name)
            except Unreadable as error:
                self.assertTrue(str(error))


CAMERA_DNG = CAMERA.dng(view(), TAKEN)


if __name__ == "__main__":
    unittest.main()
