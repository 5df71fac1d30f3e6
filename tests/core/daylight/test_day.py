"""A day's sun against an independent almanac: NREL's SPA (Reda and Andreas 2004) as pvlib implements it."""

import unittest
import warnings
from datetime import date, datetime, timedelta
from itertools import pairwise
from typing import Any
from zoneinfo import ZoneInfo

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # what pvlib's own imports warn of is theirs
    import pandas as pd
    from pvlib.solarposition import get_solarposition, sun_rise_set_transit_spa

from noggin.core.clock import MINUTE, apart, later
from noggin.core.daylight.day import (
    HORIZON_DEG,
    PARTS,
    crossings,
    light_span,
    part_of_day,
    stretches,
    sun_day,
    sun_side,
    turns,
)
from noggin.core.daylight.sun import Sun, sun_at

PLACES = (
    (0.0, 6.7, "Africa/Lagos"),
    (42.46, 0.71, "Europe/Madrid"),
    (-33.45, -70.66, "America/Santiago"),
    (59.9, 10.7, "Europe/Oslo"),
    (-60.0, -45.0, "UTC"),
    (-18.1, 178.4, "Pacific/Fiji"),
    (-13.8, -171.8, "Pacific/Apia"),
    (51.88, -176.6, "America/Adak"),
    (35.7, 139.7, "Asia/Tokyo"),
)
"""Latitude, longitude and zone: equator, both hemispheres up to 60°, both sides of the date line."""

DAYS = [date(2027, 1, 4) + timedelta(days=23 * at) for at in range(16)]
"""Through a whole year, clock changes among them."""


def reference(lat: float, lon: float, day: date, zone: ZoneInfo) -> dict[str, list[datetime]]:
    """What pvlib says of the events that fall on a local day; it is asked for the days around, in UTC."""
    times = pd.DatetimeIndex([pd.Timestamp(day + timedelta(days=by), tz="UTC") for by in (-1, 0, 1)])
    found: Any = sun_rise_set_transit_spa(times, lat, lon)
    events = {
        name: [one.floor("us").to_pydatetime().astimezone(zone) for one in found[name].dropna()]
        for name in ("sunrise", "sunset", "transit")
    }
    return {name: [one for one in of_kind if one.date() == day] for name, of_kind in events.items()}


def height_of(lat: float, lon: float, times: list[datetime]) -> list[float]:
    """The almanac's height of the sun, without refraction."""
    found = get_solarposition(pd.DatetimeIndex(times).tz_convert("UTC"), lat, lon, method="nrel_numpy")
    return [float(one) for one in found["elevation"]]


class RiseAndSet(unittest.TestCase):
    def test_within_a_minute_of_the_almanac_up_to_60_degrees(self) -> None:
        # A minute before and a minute after, the almanac's sun stands on either side of the horizon.
        for lat, lon, name in PLACES:
            zone = ZoneInfo(name)
            days = [sun_day(lat, lon, day, zone) for day in DAYS]
            for event, sign in (("rise", 1), ("set", -1)):
                times = [time for one in days if (time := getattr(one, event))]
                self.assertEqual([time.date() for time in times], DAYS)
                before = height_of(lat, lon, [later(time, -MINUTE) for time in times])
                after = height_of(lat, lon, [later(time, MINUTE) for time in times])
                for at, day in enumerate(DAYS):
                    with self.subTest(lat=lat, lon=lon, day=day, event=event):
                        self.assertLess(sign * before[at], sign * HORIZON_DEG)
                        self.assertGreater(sign * after[at], sign * HORIZON_DEG)

    def test_the_almanacs_own_times_are_the_same(self) -> None:
        # Where no event crosses midnight in UTC, in which its algorithm counts days.
        compared = 0
        for lat, lon, name in (place for place in PLACES if abs(place[1]) < 20):
            zone = ZoneInfo(name)
            for day in DAYS:
                ours, known = sun_day(lat, lon, day, zone), reference(lat, lon, day, zone)
                with self.subTest(lat=lat, lon=lon, day=day):
                    for event, own in (("sunrise", ours.rise), ("sunset", ours.set)):
                        assert own is not None
                        self.assertLess(abs(apart(own, known[event][0])), MINUTE, event)
                        self.assertEqual(own.utcoffset(), known[event][0].utcoffset())
                        compared += 1
                    # The sun stands highest a little off the meridian: its declination moves.
                    self.assertLess(abs(apart(ours.highest, known["transit"][0])), 2 * MINUTE)
        self.assertEqual(compared, 2 * 3 * len(DAYS))

    def test_polar_day_and_night_are_results(self) -> None:
        tromso = (69.65, 18.96, ZoneInfo("Europe/Oslo"))
        lat, lon, zone = tromso
        for day, stays, words in (
            (date(2027, 6, 21), "up", "the sun does not set"),
            (date(2027, 12, 21), "down", "the sun does not rise"),
        ):
            found = sun_day(lat, lon, day, zone)
            self.assertEqual((found.rise, found.set, found.stays), (None, None, stays))
            self.assertIn(words, found.words)
            times = pd.date_range(str(day), periods=144, freq="10min", tz=zone)
            heights = get_solarposition(times, lat, lon, method="nrel_numpy")["elevation"]
            self.assertEqual((heights > HORIZON_DEG).all(), stays == "up")
            self.assertEqual((heights < HORIZON_DEG).all(), stays == "down")
            self.assertAlmostEqual(found.highest_deg, heights.max(), delta=0.1)
        # Between the two there is a last day with a sunset and, some weeks on, a first one.
        self.assertEqual(sun_day(lat, lon, date(2027, 5, 1), zone).stays, "")

    def test_a_day_on_which_the_sun_sets_before_it_rises(self) -> None:
        # In Tromsø in the middle of May it sets after midnight and soon rises again.
        zone = ZoneInfo("Europe/Oslo")
        found = crossings(69.65, 18.96, date(2027, 5, 17), zone, HORIZON_DEG)
        known = reference(69.65, 18.96, date(2027, 5, 17), zone)
        self.assertEqual(
            sorted(one.rising for one in found),
            [False] * len(known["sunset"]) + [True] * len(known["sunrise"]),
        )

    def test_clock_changes_move_the_clock_and_not_the_sun(self) -> None:
        zone = ZoneInfo("Europe/Madrid")
        before, after = (sun_day(42.46, 0.71, date(2027, 3, day), zone) for day in (27, 28))
        assert before.rise
        assert after.rise
        self.assertEqual(after.rise.utcoffset(), timedelta(hours=2))
        self.assertAlmostEqual(apart(before.rise, after.rise) / MINUTE, 24 * 60 - 2, delta=1)
        self.assertAlmostEqual((after.rise.hour * 60 + after.rise.minute) / 60, 7.8, delta=0.1)

    def test_from_a_height_the_sun_rises_earlier_and_sets_later(self) -> None:
        # Dip 0.0293° √m: from 400 m it is 0.586°, which takes 2.3 minutes an equator's sun at 15° an hour.
        level, high = (
            sun_day(0.0, 0.0, date(2027, 3, 21), ZoneInfo("UTC"), metres) for metres in (0.0, 400.0)
        )
        for earlier, after in ((high.rise, level.rise), (level.set, high.set)):
            assert earlier
            assert after
            self.assertAlmostEqual((after - earlier) / MINUTE, 2.34, delta=0.1)


class Parts(unittest.TestCase):
    def test_they_cover_every_height_once(self) -> None:
        self.assertEqual((PARTS[0].least, PARTS[-1].most), (-90, 90))
        for under, over in pairwise(PARTS):
            self.assertEqual(under.most, over.least)
        for height, label in ((-40, "night"), (-17, "astronomical twilight"), (-8, "nautical twilight")):
            self.assertEqual(part_of_day(height).label, label)
        self.assertEqual(PARTS[3].limits, "sun from −6° to −4°")
        self.assertEqual((PARTS[0].limits, PARTS[-1].limits), ("sun under −18°", "sun over 6°"))

    def test_a_day_is_cut_where_the_almanac_has_the_sun_at_the_limit(self) -> None:
        zone = ZoneInfo("Europe/Madrid")
        first, last = light_span(42.46, 0.71, date(2027, 6, 19), zone)
        found = stretches(42.46, 0.71, date(2027, 6, 19), zone, first, last)
        self.assertEqual((found[0].start, found[-1].end), (first, last))
        for one, other in pairwise(found):
            self.assertEqual(one.end, other.start)
            height = get_solarposition(pd.DatetimeIndex([one.end]), 42.46, 0.71, method="nrel_numpy")
            limit = max(one.part.least, other.part.least)
            self.assertAlmostEqual(height["elevation"].iloc[0], limit, delta=0.1)
        self.assertEqual([one.part.label for one in found].count("blue hour"), 2)

    def test_first_and_last_light_or_the_whole_day(self) -> None:
        zone = ZoneInfo("Europe/Madrid")
        first, last = light_span(42.46, 0.71, date(2027, 6, 19), zone)
        self.assertEqual((f"{first:%H:%M}", f"{last:%H:%M}"), ("04:30", "23:00"))
        for lat, lon, name, day in (
            (69.65, 18.96, "Europe/Oslo", date(2027, 6, 21)),  # no night
            (85.0, 0.0, "UTC", date(2027, 12, 21)),  # no light
            (42.46, 0.71, "Pacific/Auckland", date(2027, 6, 19)),  # night in the middle of the local day
        ):
            begin, end = light_span(lat, lon, day, ZoneInfo(name))
            with self.subTest(zone=name, day=day):
                self.assertEqual((end - begin) / timedelta(hours=24), 1)
                self.assertEqual((begin.hour, begin.minute), (0, 0))


class Sides(unittest.TestCase):
    def test_named_as_a_photographer_sees_them(self) -> None:
        for off, words in (
            (0, "behind the subject"),
            (-50, "rim from the left"),
            (90, "from the right"),
            (-130, "front, from the left"),
            (179, "from the front"),
        ):
            for facing in (0, 137, 350):
                self.assertEqual(sun_side(Sun(20, (facing + off) % 360), facing), words)

    def test_they_turn_through_the_day(self) -> None:
        zone = ZoneInfo("Europe/Madrid")
        found = turns(42.46, 0.71, date(2027, 6, 19), zone, 180.0)
        self.assertEqual(found[0][1], "under the horizon")
        self.assertIn("behind the subject", [words for _, words in found])
        for (_, before), (time, after) in pairwise(found):
            self.assertNotEqual(before, after)
            self.assertEqual(sun_side(sun_at(42.46, 0.71, time), 180.0), after)
        # Looking south, the morning's sun is on the left and the evening's on the right.
        sides = [words for _, words in found if "left" in words or "right" in words]
        self.assertEqual(
            [("left" in words) for words in sides], sorted([("left" in w) for w in sides])[::-1]
        )
