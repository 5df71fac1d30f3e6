"""The day of a set-up as pictures: its light, its sun and its best method follow the clock."""

import re
import warnings
from dataclasses import replace
from datetime import timedelta
from html import unescape
from itertools import pairwise
from math import atan2, degrees
from typing import cast

import numpy as np

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # what pvlib's own imports warn of is theirs
    import pandas as pd
    from pvlib.solarposition import spa_python

from noggin.core.layout.standing import layout_of, sun_over
from noggin.core.physics.colour import LUMINANCE, SKYLIGHT_K, glow_at_horizon, sky_kelvin
from noggin.core.planning.plan import plan
from noggin.services.setups import setups
from noggin.services.setups.hours import DayOfSetUp, day_of
from noggin.services.setups.proofs import Proofs, recipe_of
from tests.support import MOMENT, AppCase, noon


class Hours(AppCase):
    database = "demo"

    def day(self, number: int = 5) -> DayOfSetUp:
        found = day_of(setups.open_setup(self.store, number).setup)
        assert found
        return found

    def test_every_half_hour_from_first_to_last_light(self) -> None:
        hours = self.day().hours
        self.assertGreater(len(hours), 25)
        for before, after in pairwise(hours):
            self.assertEqual(after.time - before.time, timedelta(minutes=30))
        self.assertEqual(sum(self.day().is_now(one) for one in hours), 1)

    def test_the_sun_of_every_hour_is_where_the_almanac_has_it(self) -> None:
        """pvlib's NREL SPA; the picture's sun is within a degree of it, seen from the camera."""
        day = self.day()
        place, seen = day.placement.place, 0
        for one in day.hours:
            found = sun_over(one.setup, layout_of(one.setup))
            if found is None:
                continue
            seen += 1
            almanac = spa_python(pd.DatetimeIndex([one.time]), place.lat, place.lon)
            self.assertAlmostEqual(
                found.height_deg, float(almanac["apparent_elevation"].iloc[0]), delta=1.0
            )
            facing = cast(float, layout_of(one.setup).facing_deg)
            off = (float(almanac["azimuth"].iloc[0]) - facing + 180) % 360 - 180
            self.assertAlmostEqual((found.off_deg - off + 180) % 360 - 180, 0.0, delta=1.0)
            x, y, _ = found.toward
            self.assertAlmostEqual(degrees(atan2(x, y)), off, delta=1.0)
        self.assertGreater(seen, 10)

    def test_each_picture_is_of_the_method_that_is_best_then(self) -> None:
        ways = {one.way.key for one in self.day().hours}
        self.assertGreater(len(ways), 1)
        for one in self.day().hours:
            self.assertEqual(one.way, one.plan.shown)
            self.assertEqual(one.works, one.way.feasible)

    def test_a_clear_sky_turns_blue_after_sunset(self) -> None:
        self.assertEqual(sky_kelvin(30), SKYLIGHT_K)
        down = [sky_kelvin(height) for height in (6, 1, -1, -3, -5)]
        self.assertEqual(down, sorted(down))

    def test_a_clear_sky_is_golden_then_pink_then_blue_at_the_horizon_and_as_bright_as_before(self) -> None:
        """Of an evening's sky in this order (common practice, no source)."""
        hues = {height: glow_at_horizon(height) for height in (20, 3, -2.5, -5.5, -10)}
        self.assertEqual((hues[20][0], hues[-10][0]), (0.0, 0.0))
        for _, hue in hues.values():
            self.assertAlmostEqual(float(LUMINANCE @ np.array(hue)), 1.0, places=5)
        red, green, blue = zip(*(hues[height][1] for height in (3, -2.5, -5.5)), strict=True)
        self.assertTrue(red[0] > green[0] > blue[0], "golden")
        self.assertTrue(red[1] > blue[1] > green[1], "pink")
        self.assertTrue(blue[2] > green[2], "blue")
        low = noon(sky=12.0, background=11.0, moment=MOMENT)
        recipe = recipe_of(low, plan(low).way("nd"), (240, 160))
        glowing = replace(recipe, mixture=replace(recipe.mixture, glow=(0.9, hues[-2.5][1])))
        plain = replace(recipe, mixture=replace(recipe.mixture, glow=None))
        pictures = [Proofs().picture(one) for one in (glowing, plain)]
        levels = [float(one.levels[8:14, 5:40].mean()) for one in pictures]
        self.assertAlmostEqual(levels[0], levels[1], delta=0.03)
        near = [one.linear[:, 30:40, 5:40].mean((1, 2)) for one in pictures]
        shares = [float(one[0] / one[2]) for one in near]
        self.assertGreater(shares[0], shares[1])

    def test_the_strip_of_a_set_up_and_of_a_day(self) -> None:
        page = self.client.get("/setups/5/hours").text
        self.assertEqual(page.count("hour-time"), len(self.day().hours))
        self.assertIn("blue hour", page)
        shoot = self.store.shoots.latest()
        slots = self.client.get(f"/shoots/{shoot}/hours/0").text
        self.assertIn("Put it here", slots)
        for found in (page, slots):
            address = unescape(re.findall(r'<img src="([^"]+)"', found)[20])
            picture = self.client.get(address)
            self.assertEqual((picture.status_code, picture.mimetype), (200, "image/webp"))
            moved = self.client.get(re.sub(r"-[0-9a-f]+\.webp", "-0.webp", address))
            self.assertEqual((moved.status_code, unescape(moved.location)), (307, address))
        for gone in ("/setups/5/hours/26:00-0.webp", "/setups/999/hours", f"/shoots/{shoot}/hours/99"):
            self.assertEqual(self.client.get(gone).status_code, 404, gone)

    def test_a_set_up_is_put_where_its_picture_is_prettiest(self) -> None:
        shoot = self.store.shoots.latest()
        page = self.client.get(f"/shoots/{shoot}/hours/0").text
        action = unescape(re.findall(r'action="([^"]+)"', page)[0])
        self.client.post(action, data={"text": "19:30"})
        again = self.client.get(f"/shoots/{shoot}/hours/0").text
        here = re.search(r'aria-current="time".*?<b>(\d\d:\d\d)</b>', again, re.DOTALL)
        assert here
        self.assertEqual(here[1], "19:30")

    def test_the_plan_at_another_hour_changes_nothing(self) -> None:
        before = self.store.setups.get(5).document
        day = self.day()
        step = day.step_of(day.now) - 14
        page = self.client.get(f"/setups/5/plan?step={step}").text
        self.assertIn(f"back to {day.now:%H:%M}", page)
        self.assertIn(f"/setups/5/hours/{day.at_step(step).hour}-", page)
        self.assertIn("plan-shadow", page)
        self.assertNotIn("back to", self.client.get("/setups/5/plan").text)
        self.assertEqual(self.client.get("/setups/5/plan?step=9999").status_code, 200)
        self.assertEqual(self.store.setups.get(5).document, before)

    def test_without_place_and_time_there_is_no_day(self) -> None:
        self.assertIsNone(day_of(noon()))
        number = setups.new_setup(self.store, self.wiring.clock)
        self.assertNotIn("plan-hour", self.client.get(f"/setups/{number}/plan").text)
        self.assertEqual(self.client.get(f"/setups/{number}/hours").status_code, 404)


class TwoPictures(AppCase):
    database = "demo"

    def shown(self, address: str) -> list[str]:
        page = self.client.get(address)
        self.assertEqual(page.status_code, 200)
        return [unescape(one) for one in re.findall(r'class="two-\w+"\s+src="([^"]+)"', page.text)]

    def test_two_methods_beside_each_other(self) -> None:
        first, second = self.shown("/setups/1/pictures?first=stop_down&second=nd")
        self.assertIn("/pictures/stop_down/", first)
        self.assertIn("/pictures/nd/", second)
        self.assertEqual(self.client.get(first).mimetype, "image/webp")
        self.assertEqual(self.client.get("/setups/1/pictures/magic/0.webp").status_code, 404)

    def test_before_and_after_a_remedy(self) -> None:
        self.client.post("/setups/2/pin", data={"pinned": "1"})
        self.client.post("/setups/2/figures/light_distance-0", data={"text": "0.7 m"})
        first, second = self.shown("/setups/2/pictures")
        self.assertIn("/pictures/pinned-", first)
        self.assertNotEqual(first.rsplit("/", 1)[1], second.rsplit("/", 1)[1])
        self.assertNotEqual(self.client.get(first).data, self.client.get(second).data)

    def test_two_looks_of_a_take(self) -> None:
        self.client.post("/setups/1/shoot/look-on", data={"look": "dusk at noon"})
        page = self.client.get("/setups/1/pictures?first=nd&second=look-1")
        self.assertIn("Look ‘dusk at noon", page.text)
        first, second = self.shown("/setups/1/pictures?first=nd&second=look-1")
        self.assertIn("/pictures/look-1/", second)
        self.assertNotEqual(self.client.get(first).data, self.client.get(second).data)
        self.assertEqual(self.client.get("/setups/1/pictures/look-2/0.webp").status_code, 404)

    def test_what_was_planned_and_what_was_shot(self) -> None:
        frames = [
            frame
            for take in self.store.takes.latest_first(9)
            for frame in self.store.frames.of_take(take.id)
            if self.store.frames.with_pictures([frame.id])
        ]
        first, second = self.shown(f"/log/{frames[0].id}")
        self.assertEqual(self.client.get(first).mimetype, "image/webp")
        self.assertEqual(self.client.get(second).mimetype, "image/jpeg")
