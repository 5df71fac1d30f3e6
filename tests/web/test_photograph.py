"""The place from a photograph: what its file and its tones say of the light, and where that goes."""

import json
import re
from collections.abc import Iterator
from datetime import datetime, timedelta
from io import BytesIO
from math import log2
from random import Random
from zoneinfo import ZoneInfo

import numpy as np
from PIL import Image

from noggin.core.daylight.forecast import forecast
from noggin.core.physics.srgb import srgb
from noggin.core.shoot.timeline import OPEN_GROUND
from noggin.devices.simulated_camera import Exposure, FileCamera, Light, View
from noggin.photos.photo import HEIC
from noggin.photos.place_copy import COPY_MOST, place_copy
from noggin.services.setups import place_photograph as services
from noggin.services.setups import setups
from noggin.services.whole import interchange, safekeeping
from noggin.store.store import Store
from tests.support import NOW, AppCase

MADRID = ZoneInfo("Europe/Madrid")
AT = datetime(2027, 6, 19, 12, 0, tzinfo=MADRID)
GREY_CARD, MID_TONE = 0.18, 0.119
"""What a grey card throws back, and what a meter takes for mid-tone (K/C, ISO 2720)."""


def shown(background: float, sky: float, middle: float | None = None) -> View:
    """A place: sky over a background, levels in stops from mid-tone, and something else in the middle."""
    light = np.full((3, 320, 480), 0.18 * 2**background, np.float32)
    light[:, :90] = 0.18 * 2**sky
    if middle is not None:
        light[:, 100:220, 150:330] = 0.18 * 2**middle
    return View({}, proof=light)


def contrasty(light: Light) -> Light:
    """A JPEG's curve that is steeper in the middle than sRGB and rolls off at the top."""
    value = srgb(light).astype(float)
    found: Light = (value + 0.10 * np.sin(2 * np.pi * (value - 0.5)) / 2).astype(np.float32)
    return found


def settings_ev(taken: Exposure) -> float:
    return log2(taken.aperture**2 / taken.shutter_s) - log2(taken.iso / 100)


def box(left: str = "1", top: str = "1", width: str = "1", height: str = "1") -> dict[str, str]:
    """A part of the picture as it is typed."""
    return {"left": left, "top": top, "width": width, "height": height}


def camera_jpeg(
    background: float = -0.3, sky: float = 1.2, middle: float | None = None, at: datetime = AT
) -> bytes:
    """A place as a camera writes it, at 1/250 f/8 ISO 100."""
    taken = Exposure(1 / 250, 8.0, 100, 35, False, at)
    return FileCamera(7).jpeg(shown(background, sky, middle), taken)


class Place(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.demos = self.store.photographs.names()

    def taken(self, shutter_s: float = 1 / 250, at: datetime = AT) -> Exposure:
        return Exposure(shutter_s, 8.0, 100, 35, False, at)

    def jpeg(self, background: float = -0.3, sky: float = 1.2, at: datetime = AT) -> bytes:
        return camera_jpeg(background, sky, at=at)

    def bring(self, raw: bytes, setup_id: int = 1) -> services.PlaceShown:
        services.bring(self.store, self.wiring.clock, setup_id, raw, "place.jpg")
        return self.shown(setup_id)

    def shown(self, setup_id: int = 1) -> services.PlaceShown:
        found = services.shown(self.store, setup_id)
        assert found
        return found

    def read(self, zone: str, setup_id: int = 1) -> services.ZoneRead:
        return next(one for one in self.shown(setup_id).zones if one.zone == zone)


class Read(Place):
    def files(self) -> Iterator[tuple[str, bytes, float, Exposure]]:
        """Cards at a known EV in files of every kind, from cameras of several curves."""
        chance = Random(31)  # noqa: S311 - repeatable, not secret
        for index in range(8):
            ev, level = chance.uniform(9, 15), chance.uniform(-1.2, 0.9)
            taken = Exposure(8.0**2 / 2 ** (ev - level), 8.0, 100, 35, False, AT)
            card = level + log2(GREY_CARD / MID_TONE)
            for encode in (srgb, contrasty):
                jpeg = FileCamera(index, encode=encode).jpeg(shown(0, 1, card), taken)
                yield "jpeg", jpeg, ev, taken
            if HEIC:
                out = BytesIO()
                with Image.open(BytesIO(jpeg)) as image:
                    image.save(out, "HEIF", exif=image.info["exif"])
                yield "heic", out.getvalue(), ev, taken
            yield "raw", FileCamera(index).dng(shown(0, 1, card), taken), ev, taken

    def test_a_card_at_a_known_ev_is_read_within_the_stated_uncertainty(self) -> None:
        """95 of 100 within ±: that is two standard deviations. The EV is that of the simulation, by
        log2(N²/t) (APEX) and a card of 18% against K/C (ISO 2720)."""
        hits, kinds = [], set()
        for kind, raw, ev, _ in self.files():
            services.bring(self.store, self.wiring.clock, 1, self.jpeg(), "a.jpg")
            services.read_elsewhere(
                self.store, self.wiring.clock, 1, "subject", "grey card", raw, f"card.{kind}"
            )
            read = self.read("subject")
            hits.append(abs(read.ev100 - ev) <= read.uncertainty)
            kinds.add((kind, read.uncertainty))
        self.assertGreaterEqual(sum(hits) / len(hits), 0.95)
        self.assertGreaterEqual(kinds, {("jpeg", 0.6), ("raw", 0.2)})

    def test_background_and_sky_are_read_by_the_settings(self) -> None:
        found = self.bring(self.jpeg(-0.3, 1.2))
        ev = settings_ev(self.taken())
        self.assertAlmostEqual(self.read("background").ev100, ev - 0.3, delta=0.06)
        self.assertAlmostEqual(self.read("sky").ev100, ev + 1.2, delta=0.06)
        self.assertEqual(found.taken, AT)

    def test_the_background_is_read_where_the_set_ups_lens_will_see_it(self) -> None:
        shown_now = self.bring(self.jpeg())
        across, down = zip(*shown_now.frame, strict=True)
        x, y, wide, high = self.read("background").box or (0, 0, 0, 0)
        self.assertTrue(min(across) < x < x + wide < max(across))
        self.assertTrue(min(down) < y < y + high < max(down))

    def test_another_part_is_read_from_the_copy_whatever_kind_the_file_was(self) -> None:
        for raw, within in (
            (self.jpeg(), 0.06),
            (FileCamera(3).dng(shown(-0.3, 1.2), self.taken()), 0.1),
        ):
            self.bring(raw)
            services.read_zone(
                self.store, self.wiring.clock, 1, "background", (0.2, 0.02, 0.5, 0.15), "grey card"
            )
            self.assertAlmostEqual(
                self.read("background").ev100, settings_ev(self.taken()) + 1.2, delta=within
            )

    def test_what_it_was_read_off_counts_for_people_alone_and_not_knowing_it_costs(self) -> None:
        self.bring(self.jpeg())
        box = (0.1, 0.5, 0.2, 0.2)
        found = {}
        for surface in ("", "grass", "white paper"):
            services.read_zone(self.store, self.wiring.clock, 1, "subject", box, surface)
            found[surface] = self.read("subject")
        self.assertAlmostEqual(found[""].ev100 - found["grass"].ev100, log2(0.10 / MID_TONE), delta=0.02)
        self.assertAlmostEqual(
            found[""].ev100 - found["white paper"].ev100, log2(0.90 / MID_TONE), delta=0.02
        )
        self.assertGreater(found[""].uncertainty, found["grass"].uncertainty)

    def test_what_is_white_says_nothing(self) -> None:
        answer = self.client.post(
            "/setups/1/photograph",
            data={"picture": (BytesIO(self.jpeg(3.5, 3.5)), "white.jpg")},
        )
        self.assertEqual(answer.status_code, 422)
        self.assertIn("is white there", answer.text)
        self.assertIsNone(services.shown(self.store, 1))
        self.bring(self.jpeg(0, 3.5))
        self.assertEqual([one.zone for one in self.shown().zones], ["background"])

    def test_a_file_without_settings_says_so(self) -> None:
        out = BytesIO()
        Image.new("RGB", (60, 40), (90, 90, 90)).save(out, "JPEG")
        for raw, words in (
            (out.getvalue(), "does not say its settings"),
            (b"no picture", "The picture is"),
        ):
            answer = self.client.post("/setups/1/photograph", data={"picture": (BytesIO(raw), "bare.jpg")})
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.text)


class Copy(Place):
    def test_it_is_small_upright_and_says_nothing_of_its_file(self) -> None:
        with Image.open(BytesIO(self.jpeg())) as image:
            exif = image.getexif()
            exif[0x0112] = 6  # on its side
            exif.get_ifd(0x8825)[2] = (42.0, 27.0, 36.0)
            exif.get_ifd(0x8769)[0xA431] = "serial 4711"
            out = BytesIO()
            image.resize((3000, 2000)).save(out, "JPEG", exif=exif, comment=b"4711")
        copy = place_copy(out.getvalue())
        self.assertNotIn(b"4711", copy)
        with Image.open(BytesIO(copy)) as image:
            self.assertEqual(dict(image.getexif()), {})
            self.assertEqual(max(image.size), COPY_MOST)
            self.assertLess(image.width, image.height)

    def test_the_picture_is_there_under_its_name_alone(self) -> None:
        name = self.bring(self.jpeg()).photograph["sha256"]
        answer = self.client.get(f"/setups/1/photograph/{name}.jpg")
        self.assertEqual((answer.status_code, answer.mimetype), (200, "image/jpeg"))
        self.assertIn("immutable", answer.headers["Cache-Control"])
        for address in (f"/setups/2/photograph/{name}.jpg", f"/setups/1/photograph/{'0' * 64}.jpg"):
            self.assertEqual(self.client.get(address).status_code, 404)

    def test_it_goes_when_the_last_that_names_it_is_gone(self) -> None:
        first = self.bring(self.jpeg()).photograph["sha256"]
        second = self.bring(self.jpeg(-1.0)).photograph["sha256"]
        self.assertEqual(
            self.store.photographs.names() - self.demos, {first, second}
        )  # the first can be undone to
        self.client.post("/setups/1/undo")
        self.assertEqual(self.shown().photograph["sha256"], first)
        self.assertIsNotNone(self.shown().jpeg)
        for level in (-2.0, -2.5):  # from the next one on: what was undone is forgotten by then
            self.bring(self.jpeg(level))
        self.assertNotIn(second, self.store.photographs.names())

    def test_it_goes_along_with_everything_and_out_of_a_damaged_file(self) -> None:
        name = self.bring(self.jpeg()).photograph["sha256"]
        files = dict(interchange.everything(self.store, lambda: NOW))
        self.assertIn("places/0001-place.json", files)
        archive = safekeeping.zip_of_everything(self.store, lambda: NOW)
        new = Store.on_file(self.path.with_name("new.sqlite3"))
        self.addCleanup(new.close)
        safekeeping.bring_zip(new, lambda: NOW, archive)
        self.assertEqual(new.photographs.names(), {name, *self.demos})
        again = safekeeping.bring_zip(new, lambda: NOW, archive)
        self.assertFalse([word for word in again.new if "places" in word])
        safekeeping.salvage(self.path, self.path.with_name("saved"), lambda: NOW)
        self.assertTrue((self.path.with_name("saved") / "places").is_dir())

    def test_a_document_without_its_picture_says_so(self) -> None:
        document = self.client.get("/setups/1/setup.json")
        self.bring(self.jpeg())
        document = self.client.get("/setups/1/setup.json")
        other = Store.on_file(self.path.with_name("other.sqlite3"))
        self.addCleanup(other.close)
        number = setups.import_setup(other, lambda: NOW, json.loads(document.text))
        self.wiring.store = other
        self.assertIn("The picture is not here", self.client.get(f"/setups/{number}/photograph").text)
        self.assertEqual(self.client.get(f"/setups/{number}").status_code, 200)


class Taken(Place):
    """What it says goes into the set-up."""

    def test_its_light_is_that_of_its_minute_and_moves_with_the_days(self) -> None:
        setup = setups.open_setup(self.store, 1).setup
        moment = setup.scene.moment
        assert moment
        then = moment.time - timedelta(hours=2)
        self.bring(self.jpeg(at=then))
        services.take_light(self.store, self.wiring.clock, 1)
        scene = setups.open_setup(self.store, 1).setup.scene
        moved = (
            forecast(moment.place, moment.time, OPEN_GROUND).background
            - forecast(moment.place, then, OPEN_GROUND).background
        )
        self.assertAlmostEqual(scene.background, self.read("background").ev100 + moved, delta=0.02)
        self.assertEqual(scene.moment, moment)
        assert scene.baseline
        self.assertEqual(scene.baseline.time, then)
        self.assertAlmostEqual(scene.baseline.background or 0, self.read("background").ev100, delta=0.01)
        # What was not read off the picture stays what it was, at the set-up's own minute.
        before = (setup.scene.subject, setup.scene.rim, setup.scene.subject_uncertainty)
        self.assertEqual((scene.subject, scene.rim, scene.subject_uncertainty), before)
        self.assertIsNone(scene.baseline.subject)
        self.client.post("/setups/1/undo")
        self.assertEqual(setups.open_setup(self.store, 1).setup.scene.background, setup.scene.background)

    def test_without_place_and_time_it_is_taken_as_it_was(self) -> None:
        number = setups.new_setup(self.store, self.wiring.clock)
        self.bring(self.jpeg(), number)
        services.take_light(self.store, self.wiring.clock, number)
        scene = setups.open_setup(self.store, number).setup.scene
        self.assertEqual(scene.background, self.read("background", number).ev100)
        self.assertEqual(scene.background_uncertainty, 0.6)
        self.assertIsNone(scene.baseline)

    def test_the_page_does_it_all_without_scripts(self) -> None:
        address = "/setups/1/photograph"
        self.assertIn("Bring a picture", self.client.get(address).text)
        for path, data in (
            ("", {"picture": (BytesIO(self.jpeg()), "place.jpg")}),
            (
                "/zone",
                {
                    "zone": "rim",
                    "surface": "grass",
                    "left": "10",
                    "top": "60%",
                    "width": "9,5",
                    "height": "9",
                },
            ),
            ("/other", {"zone": "subject", "surface": "", "picture": (BytesIO(self.jpeg()), "b.jpg")}),
            ("/view", {"horizon": "42%", "field": "65°"}),
            ("/light", {}),
        ):
            answer = self.client.post(f"{address}{path}", data=data)
            self.assertEqual(answer.status_code, 303, path)
        page = self.client.get(address).text
        for words in (
            "Background",
            "In the sun there",
            "Shade, where they stand",
            'value="42"',
            'value="65"',
        ):
            self.assertIn(words, page)
        proof = self.client.get("/setups/1").text
        self.assertIn("the place is your photograph", proof)
        self.assertEqual(self.client.post(f"{address}/remove").status_code, 303)
        self.assertIsNone(services.shown(self.store, 1))

    def test_what_is_wrong_is_said_and_changes_nothing(self) -> None:
        address = "/setups/1/photograph"
        answer = self.client.post(f"{address}/light")
        self.assertEqual((answer.status_code, "Bring one first" in answer.text), (422, True))
        self.bring(self.jpeg())
        before = setups.open_setup(self.store, 1).document
        for path, data, words in (
            (
                "/zone",
                {"zone": "background", **box("wide")},
                "wide",
            ),
            ("/zone", {"zone": "moon", **box()}, "moon"),
            ("/view", {"horizon": "level", "field": "60"}, "‘level’ is not a number"),
            ("/view", {"horizon": "50", "field": "400"}, "400 is outside"),
            ("", {}, "Choose a picture first"),
        ):
            answer = self.client.post(f"{address}{path}", data=data)
            with self.subTest(path=path, words=words):
                self.assertEqual(answer.status_code, 422)
                form = answer.text.partition(f'action="{address}{path}"')[2].partition("</form>")[0]
                self.assertIn(words, form, "in the form it came from")
                for typed in data.values():
                    if typed != "moon":
                        self.assertRegex(form, f'value="{typed}"', "what was typed stays")
        self.assertEqual(setups.open_setup(self.store, 1).document, before)


class Scout(Place):
    def test_three_pictures_make_a_set_up(self) -> None:
        answer = self.client.post(
            "/scout",
            data={
                "background": (BytesIO(self.jpeg(-0.3, 1.2)), "a.jpg"),
                "subject": (BytesIO(FileCamera(1).jpeg(shown(0, 0, -1.0), self.taken())), "b.jpg"),
                "subject_off": "grass",
                "rim": (BytesIO(FileCamera(2).dng(shown(0, 0, 0.5), self.taken())), "c.dng"),
                "rim_off": "grey card",
            },
        )
        found = re.fullmatch(r"/setups/(\d+)/photograph", answer.location)
        assert found
        scene = setups.open_setup(self.store, int(found[1])).setup.scene
        ev = settings_ev(self.taken())
        for value, wanted in (
            (scene.background, ev - 0.3),
            (scene.sky, ev + 1.2),
            (scene.subject, ev - 1.0 - log2(0.10 / MID_TONE)),
            (scene.rim, ev + 0.5 - log2(GREY_CARD / MID_TONE)),
        ):
            self.assertAlmostEqual(value or 0, wanted, delta=0.12)
        self.assertEqual(len(self.store.photographs.names() - self.demos), 1)

    def test_all_of_it_or_nothing(self) -> None:
        before = self.store.setups.texts()
        for data in (
            {},
            {"subject": (BytesIO(self.jpeg()), "b.jpg")},
            {
                "background": (BytesIO(self.jpeg()), "a.jpg"),
                "rim": (BytesIO(b"none"), "b.jpg"),
                "rim_off": "white paper",
            },
        ):
            answer = self.client.post("/scout", data=data)
            self.assertEqual(answer.status_code, 422)
            self.assertIn('class="problem"', answer.text)
            chosen = re.search(r'value="white paper"\s+selected', answer.text)
            self.assertEqual(bool(chosen), "rim_off" in data)
        self.assertEqual(self.store.setups.texts(), before)
