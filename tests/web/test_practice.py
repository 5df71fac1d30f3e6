"""Practice over HTTP: inside the shutter of a set-up's camera, or of one that is typed."""

import json
from datetime import UTC, datetime, timedelta
from html import unescape
from io import BytesIO
from itertools import pairwise
from random import Random
from re import findall, search
from urllib.parse import urlencode

import numpy as np
from PIL import Image

from noggin.core.advice.inside_shutter import MOMENTS, InsideShutter
from noggin.core.advice.shutter_words import QUESTIONS, SEEN_INSIDE
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.planning.plan import plan
from noggin.core.pops.faults import BY_KEY as FAULTS
from noggin.core.practice.beliefs import BELIEFS, BY_KEY
from noggin.core.practice.drills import DRILLS, task
from noggin.core.practice.task import Task
from noggin.documents.problems import BadDocument
from noggin.services.practice import camera, practice
from noggin.services.setups import setups
from noggin.services.setups.inside_shutter import gains_of, inside_shutter
from noggin.services.whole import interchange
from noggin.web.drawings.shutter import shutter
from tests.support import AppCase, noon

SHUTTER = "/practice/shutter"
CHANCE = Random(1)  # noqa: S311 - repeatable, not secret


class Asked(AppCase):
    def shown(self, **given: str) -> str:
        answer = self.client.get(f"{SHUTTER}?{urlencode(given)}")
        self.assertEqual(answer.status_code, 200, answer.text[:300])
        return answer.text

    def test_every_question_opens_where_its_answer_is_seen(self) -> None:
        page = self.client.get("/practice").text
        for question in QUESTIONS:
            self.assertIn(question.asks, page)
            shown = self.shown(**question.given)
            self.assertIn(question.look, shown)
            self.assertRegex(shown, rf'aria-current="true">\s*{question.asks[:20]}')
            self.assertNotIn('class="problem"', shown)

    def test_what_cannot_be_read_is_said_beside_its_figure_and_stays_typed(self) -> None:
        for key, text, problem in (
            ("time", "fast", "is not a time"),
            ("toll", "x", "is not a number of stops"),
            ("delay", "soon", "is not a short time"),
            ("power", "1/9999", "is outside"),
            ("travel", "5000", "is outside"),
            ("shutter", "cloth", "is not one of"),
        ):
            with self.subTest(key=key):
                given = {"mode": "hss" if key == "toll" else "pop", key: text}
                shown = self.shown(**given)
                found = search(rf'id="p-{key}"[^>]*>([^<]+)<', shown)
                assert found, key
                self.assertIn(problem, found[1])
                if key != "shutter":
                    self.assertIn(f'value="{text}"', shown)

    def test_high_speed_sync_with_a_leaf_shutter_is_refused_at_the_flash(self) -> None:
        shown = self.shown(shutter="leaf", mode="hss", time="1/500", sync="1/500")
        self.assertRegex(shown, r'id="p-mode"[^>]*>a leaf shutter needs no high-speed sync')

    def test_a_moment_is_shown_without_a_script(self) -> None:
        given = dict(QUESTIONS[0].given)
        early, late = self.shown(**given, at="4"), self.shown(**given, at="24")
        for page, words in ((early, "The flash waits"), (late, "the frame is closed")):
            (said,) = findall(r'id="shutter-state">([^<]+)<', page)
            self.assertIn(words, said)
        self.assertEqual(len(findall(r"<li>At ", early)), MOMENTS)
        self.assertIn("the frame is closed", self.shown(**given, at="999"))

    def test_the_example_serves_where_there_is_no_set_up_and_no_other_set_up_is_invented(self) -> None:
        self.assertIn("the example", self.shown())
        self.assertEqual(self.client.get(f"{SHUTTER}?setup=77").status_code, 404)
        self.assertEqual(self.client.get(f"{SHUTTER}?setup=any").status_code, 404)


class FromElsewhere(AppCase):
    database = "demo"

    def test_the_why_of_a_figure_that_the_shutter_makes_leads_into_it(self) -> None:
        for row, leads in (("reserve", True), ("flash", True), ("focus", False)):
            page = self.client.get(f"/setups/1/why/hss/{row}").text
            self.assertEqual("/practice/shutter?setup=1&amp;way=hss" in page, leads, row)
        self.assertNotIn("/practice/shutter", self.client.get("/setups/1/why/within_sync/reserve").text)

    def test_faults_of_the_shutter_have_a_question_that_shows_them(self) -> None:
        self.assertLessEqual({*SEEN_INSIDE}, {*FAULTS})


class OfASetUp(AppCase):
    database = "demo"

    def test_the_figures_are_those_of_its_method(self) -> None:
        opened = setups.open_setup(self.store, 1)
        for way in opened.plan.ways:
            shown = self.client.get(f"{SHUTTER}?setup=1&way={way.key}").text
            (time,) = findall(r'name="time"\s+value="([^"]+)"', shown)
            self.assertEqual(time, way.settings.shutter.label)
        bench = self.client.get("/setups/1?look=hss").text
        self.assertTrue("/practice/shutter?setup=1&amp;way=hss" in bench, "the Bench leads there")

    def test_the_picture_comes_about_from_its_foot_and_ends_as_the_frame(self) -> None:
        given = f"setup=1&{urlencode(QUESTIONS[0].given)}"
        page = self.client.get(f"{SHUTTER}?{given}").text.replace("&amp;", "&")
        (address, *_) = findall(r'href="(/practice/shutter/[^"]+\.avif[^"]*)"', page)
        answer = self.client.get(address)
        self.assertEqual((answer.status_code, answer.mimetype), (200, "image/avif"))
        self.assertIn("immutable", answer.headers["Cache-Control"])
        sheet = np.asarray(Image.open(BytesIO(answer.data)).convert("L"), float)
        self.assertEqual(sheet.shape, (180 * MOMENTS, 270))
        frames = sheet.reshape(MOMENTS, 180, 270)
        self.assertLess(frames[0].mean(), 2)
        early = frames[5]
        self.assertGreater(early[-20:].mean(), early[:60].mean())
        sums = [frame.mean() for frame in frames]
        self.assertTrue(all(one <= other + 0.5 for one, other in pairwise(sums)))
        stale = self.client.get(address.replace(address.split("/")[3][:8], "00000000", 1))
        self.assertEqual((stale.status_code, stale.location), (307, address))

    def test_the_frame_of_the_plans_own_figures_is_the_plans_own_picture(self) -> None:
        """Rows at the faces get what the plan gives them, of daylight and of flash."""
        opened = setups.open_setup(self.store, 1)
        for way in opened.plan.ways:
            if way.lighting.key.down is None:
                continue
            shown = inside_shutter(opened, way.key, {})
            daylight, flash = gains_of(shown)[-1]
            for gains in (daylight, flash):
                self.assertAlmostEqual(gains[len(gains) // 3], 1.0, delta=0.02)


class Drawn(AppCase):
    def test_what_is_drawn_is_what_the_core_says(self) -> None:
        for inside in (
            InsideShutter("focal_plane", 1 / 500, "pop", 1 / 200, pulse=PULSE_CLASSES["speedlight"].pulse),
            InsideShutter("focal_plane", 1 / 1000, "hss", 1 / 250, droop=0.5),
            InsideShutter("leaf", 1 / 800, "pop", 1 / 800),
            InsideShutter("rolling", 1 / 500, "off", 1 / 30),
        ):
            drawn = shutter(inside)
            whole = inside.ends_s
            scale = (470.0 - 56.0) / whole
            corners = [tuple(map(float, point.split(","))) for point in drawn.open.split()]
            opening = inside.opening
            wanted = [opening.opens_s(0), opening.opens_s(1), opening.closes_s(1), opening.closes_s(0)]
            for (x, _), at in zip(corners, wanted, strict=True):
                self.assertAlmostEqual((x - 56.0) / scale, at, delta=0.01 * whole)
            shares = [tuple(map(float, point.split(","))) for point in drawn.shares.split()][1:-1]
            for (x, _), row in zip(shares, inside.rows, strict=True):
                self.assertAlmostEqual((x - 492.0) / 128.0 * inside.power, inside.flash(row), delta=0.01)
            self.assertEqual(len(drawn.cursors), MOMENTS)

    def test_a_planned_way_can_be_drawn_whatever_it_is(self) -> None:
        for way in plan(noon()).ways:
            opened = setups.example()
            self.assertTrue(shutter(inside_shutter(opened, way.key, {}).inside).ticks)


class Drills(AppCase):
    def drill(self) -> str:
        """The address of the next task."""
        answer = self.client.get("/practice/drill")
        self.assertEqual(answer.status_code, 303)
        self.assertRegex(answer.location, r"^/practice/drill/\w+/\d+$")
        return str(answer.location)

    def asked(self, address: str) -> Task:
        belief, seed = address.split("/")[-2:]
        return task(belief, int(seed))

    def give(self, address: str, answer: int) -> str:
        sent = self.client.post(address, data={"answer": answer})
        self.assertEqual((sent.status_code, sent.location), (303, address))
        return self.client.get(address).text

    def test_an_answer_brings_the_reason_and_the_fact(self) -> None:
        address = self.drill()
        asked = self.asked(address)
        self.assertEqual(self.client.get(address).text.count('class="drill-answer"'), len(asked.answers))
        place, belief = next((at, one.belief) for at, one in enumerate(asked.answers) if one.belief)
        assert belief
        page = unescape(self.give(address, place))
        for words in (asked.why, BY_KEY[belief].fact, BY_KEY[belief].said, "It is "):
            self.assertTrue(words in page, words)
        self.assertNotIn("drill-answers", page)

    def test_the_first_answer_counts_however_often_it_is_sent(self) -> None:
        address = self.drill()
        asked = self.asked(address)
        right = min(asked.right)
        wrong = next(place for place in range(len(asked.answers)) if place not in asked.right)
        for given in (right, right, wrong):
            self.assertIn("Right: ", self.give(address, given))
        self.assertEqual(len(self.store.practice.all()), 1)

    def test_without_an_answer_one_is_asked_for_and_what_is_none_is_not_there(self) -> None:
        address = self.drill()
        answer = self.client.post(address)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("Choose an answer first.", answer.text)
        self.assertEqual(self.client.post(address, data={"answer": "9"}).status_code, 404)
        self.assertEqual(self.client.get("/practice/drill/magic/1").status_code, 404)
        self.assertEqual(self.client.get(f"/practice/drill/half_power/{2**31}").status_code, 404)

    def test_drills_ask_about_every_belief_and_say_how_one_stands(self) -> None:
        for _ in BELIEFS:
            address = self.drill()
            asked = self.asked(address)
            held = [at for at, one in enumerate(asked.answers) if one.belief == "half_light"]
            self.give(address, (held or [min(asked.right)])[0])
        page = unescape(self.client.get("/practice").text)
        self.assertNotIn("not asked yet", page)
        self.assertEqual(page.count('class="standing-holds"'), 1)

    def test_every_drill_has_a_page_its_pictures_and_one_more_like_it(self) -> None:
        for drill in DRILLS:
            again = self.client.get(f"/practice/drill/{drill}")
            self.assertRegex(again.location, rf"^/practice/drill/{drill}/\d+$")
            page = self.client.get(f"/practice/drill/{drill}/4").text
            shown = findall(r'<img src="([^"]+)"', page)
            self.assertEqual(len(shown), len(task(drill, 4).pictures))
            for address in shown[:1]:
                picture = self.client.get(address)
                self.assertEqual((picture.status_code, picture.mimetype), (200, "image/webp"))
        self.assertEqual(self.client.get("/practice/drill/magic").status_code, 404)

    def test_a_picture_has_one_address_and_the_levels_of_its_task(self) -> None:
        asked = task("daylight_fell", 4)
        page = self.client.get("/practice/drill/daylight_fell/4").text
        first, second = findall(r'<img src="([^"]+)"', page)
        other = first.rsplit("-", 1)[0] + "-0.webp"
        moved = self.client.get(other)
        self.assertEqual((moved.status_code, moved.location), (307, first))
        self.assertEqual(self.client.get(first.replace("/0-", "/7-")).status_code, 404)
        tones = [self.tones(self.client.get(address).data) for address in (first, second)]
        fell = np.log2(tones[1] / tones[0])
        levels = [one.way.lighting.levels.background for one in asked.pictures]
        self.assertAlmostEqual(float(fell), levels[1] - levels[0], delta=0.35)

    def tones(self, content: bytes) -> np.floating:
        """Mean linear light of the top of a picture, where nobody stands (sRGB, IEC 61966-2-1)."""
        with Image.open(BytesIO(content)) as image:
            part = np.asarray(image.convert("RGB"), float)[100:150, :60] / 255
        linear = np.where(part <= 0.04045, part / 12.92, ((part + 0.055) / 1.055) ** 2.4)
        return np.mean(linear)

    def test_answers_go_out_and_come_in_once(self) -> None:
        for _ in range(3):
            address = self.drill()
            self.give(address, min(self.asked(address).right))
        out = self.client.get("/practice/answers.json")
        found = json.loads(out.data)
        self.assertEqual((found["format"], len(found["answers"])), ("noggin-practice", 3))
        files = dict(interchange.everything(self.store, self.wiring.clock))
        self.assertIn("practice.json", files)
        named = [("practice.json", found)]
        again = interchange.bring_everything(self.store, self.wiring.clock, named)
        self.assertEqual((again.new, again.same), ((), ("3 answers to drills",)))
        found["answers"][0]["seed"] += 1
        more = interchange.bring_everything(self.store, self.wiring.clock, named)
        self.assertEqual(more.new, ("1 answer to drills",))
        for bad in ({"belief": "magic"}, {"at": "yesterday"}, {"at": "2027-06-19T16:00:00"}, {"off": -1.0}):
            broken = {**found, "answers": [{**found["answers"][0], **bad}]}
            with self.assertRaises(BadDocument):
                practice.import_practice(self.store, broken)


class Scheduled(AppCase):
    def kept(self, at: datetime, belief: str, seed: int, *, right: bool, believed: bool = False) -> None:
        off = None if right else 1.0
        document = {"belief": belief, "seed": seed, "at": at.isoformat(), "right": right}
        self.store.practice.add(belief, seed, {**document, "believed": believed, "off": off})

    def standing(self, belief: str) -> practice.BeliefStanding:
        return next(one for one in practice.standing(self.store) if one.belief.key == belief)

    def test_what_was_missed_comes_again_sooner(self) -> None:
        now = datetime(2027, 6, 1, 9, tzinfo=UTC)
        for day in range(3):
            self.kept(now + timedelta(days=day), "half_light", day, right=True)
            self.kept(now + timedelta(days=day), "half_power", day, right=day < 2, believed=day == 2)
        known, missed = self.standing("half_light"), self.standing("half_power")
        assert known.due
        assert missed.due
        self.assertLess(missed.due, known.due)
        self.assertEqual((missed.holds, known.holds, known.share), (True, False, 1.0))

    def test_a_clock_that_was_set_back_spoils_nothing(self) -> None:
        """The same answers give the same day in whatever order they were kept, and one from before the last
        is taken in its place."""
        now = datetime(2027, 6, 1, 9, tzinfo=UTC)
        self.kept(now, "half_light", 1, right=True)
        self.kept(now - timedelta(days=400), "half_light", 2, right=False)
        self.kept(now + timedelta(days=2), "half_light", 3, right=True)
        found = self.standing("half_light")
        assert found.due
        self.assertGreater(found.due, now + timedelta(days=2))
        drill, _ = practice.next_drill(self.store, lambda: now - timedelta(days=1000), CHANCE)
        self.assertIn(drill, practice.EVERY)

    def test_what_is_due_comes_first_then_what_was_never_asked(self) -> None:
        now = datetime(2027, 6, 1, 9, tzinfo=UTC)
        self.kept(now - timedelta(days=1), "auto_knows", 1, right=False)
        drill, seed = practice.next_drill(self.store, lambda: now, CHANCE)
        self.assertIn("auto_knows", practice.EVERY[drill].beliefs)
        self.kept(now, "auto_knows", seed, right=True)
        fresh, _ = practice.next_drill(self.store, lambda: now, CHANCE)
        self.assertNotIn("auto_knows", practice.EVERY[fresh].beliefs)
        self.assertGreater(len(practice.EVERY[fresh].beliefs), 1)

    def test_an_answer_of_before_counts_for_its_own_drill(self) -> None:
        """Answers that were kept without a drill and without what they speak against are of their
        belief's."""
        self.kept(datetime(2027, 6, 1, 9, tzinfo=UTC), "half_light", 1, right=True)
        known = self.standing("half_light")
        self.assertEqual((known.asked, known.right, self.standing("half_power").asked), (1, 1, 0))


class Camera(AppCase):
    ADDRESS = "/practice/drill/fewest_frames/21"

    def dials(self, at: tuple[int, ...]) -> dict[str, int]:
        return dict(zip(("shutter", "aperture", "iso", "filter", "power"), at, strict=True))

    def fire(self, at: tuple[int, ...], frames: str = "") -> str:
        sent = self.client.post(self.ADDRESS, data={**self.dials(at), "frames": frames})
        self.assertEqual(sent.status_code, 303)
        return str(sent.location)

    def test_frames_are_fired_until_the_scene_is_set_and_that_is_kept(self) -> None:
        played = camera.play(camera.assignment_of("fewest_frames", 21), [])
        page = self.client.get(self.ADDRESS).text
        self.assertIn("the picture appears here", page)
        where = self.fire(played.dials_at)
        page = self.client.get(where).text
        self.assertRegex(page, r"Frame 1: background [a-z ]+, face [a-z ]+\.")
        picture = findall(r'<img src="([^"]+)"', page)[0]
        self.assertEqual(self.client.get(unescape(picture)).status_code, 200)
        self.assertEqual(self.store.practice.all(), ())
        right = played.assignment.places(played.solution)
        where = self.fire(right, where.split("frames=")[1])
        page = self.client.get(where).text
        self.assertIn("Right in 2 frames.", page)
        self.assertNotIn(">Fire<", page)
        (kept,) = self.store.practice.all()
        self.assertEqual((kept["right"], kept["frames"], kept["drill"]), (True, 2, "fewest_frames"))

    def test_who_gives_up_sees_what_makes_it(self) -> None:
        played = camera.play(camera.assignment_of("fewest_frames", 21), [])
        frames = self.fire(played.dials_at).split("frames=")[1]
        sent = self.client.post(
            self.ADDRESS, data={**self.dials(played.dials_at), "frames": frames, "give_up": "1"}
        )
        page = self.client.get(sent.location).text
        self.assertIn("This makes it", page)
        self.assertIn(f"{played.solution.settings.shutter.label} s, f/", page)
        self.assertFalse(self.store.practice.all()[0]["right"])

    def test_frames_that_cannot_be_are_not_there(self) -> None:
        for frames in ("x", "1.2.3", "99.0.0.0.0", "-".join(["1.1.1.0.1"] * 13)):
            with self.subTest(frames=frames):
                self.assertEqual(self.client.get(f"{self.ADDRESS}?frames={frames}").status_code, 404)
        self.assertEqual(self.client.post(self.ADDRESS, data={"shutter": "1"}).status_code, 404)
        self.assertEqual(self.client.get(f"{self.ADDRESS}/0-x.webp").status_code, 404)
