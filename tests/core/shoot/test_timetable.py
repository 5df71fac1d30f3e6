"""Checks of a day's timetable, one by one, and places and times as they are typed."""

import unittest
from dataclasses import replace
from datetime import date, datetime, time
from typing import Any
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.daylight.place import Moment, Place
from noggin.core.daylight.sun import sun_at
from noggin.core.errors import Unreadable
from noggin.core.physics.battery import Battery
from noggin.core.physics.filters import Filter
from noggin.core.shoot.timeline import Placement, Slot, planned
from noggin.core.shoot.timetable import charges, checks
from noggin.core.typed.parse_places import read_clock, read_coordinates, read_minutes, show_coordinates
from tests.support import LIGHT, noon

ZONE, DAY = ZoneInfo("Europe/Madrid"), date(2027, 6, 19)
PLACE = Place(42.46, 0.71)


def slot(name: str, clock: str, minutes: int = 20, place: Place = PLACE, **changes: Any) -> Slot:
    """A noon couple on the day."""
    start = datetime.combine(DAY, time.fromisoformat(clock), ZONE)
    read = Moment(PLACE, datetime(2027, 6, 19, 13, 10, tzinfo=ZONE))
    setup = noon(moment=read, **changes)
    return Slot(Placement(replace(setup, name=name), place, DAY, ZONE), start, minutes)


def said(*slots: Slot, along: dict[str, int] | None = None, packed: bool = False) -> list[str]:
    """Everything that is wrong, in words."""
    return [
        check.words for check in checks(slots, along or {"Large head": 3, "6-stop ND": 3}, packed=packed)
    ]


class Checks(unittest.TestCase):
    def test_a_good_day_says_nothing(self) -> None:
        self.assertEqual(said(slot("one", "11:00"), slot("two", "13:00")), [])

    def test_set_ups_that_overlap(self) -> None:
        found = said(slot("one", "13:00", 30), slot("two", "13:18", 30), slot("three", "15:00"))
        self.assertEqual(found, ["‘one’ and ‘two’ overlap by 12 minutes."])

    def test_too_little_time_to_rebuild_whatever_the_order_they_are_kept_in(self) -> None:
        found = said(slot("two", "13:24"), slot("one", "13:00"))
        self.assertEqual(found, ["Only 4 minutes to move from ‘one’ to ‘two’: allow ten."])

    def test_ten_minutes_are_enough_to_rebuild_and_touching_is_no_overlap(self) -> None:
        for start, words in (
            ("13:29", "Only 9 minutes"),
            ("13:30", ""),
            ("13:20", "Only 0 minutes"),
            ("13:19", "overlap by 1"),
        ):
            found = " ".join(said(slot("one", "13:00", 20), slot("two", start)))
            self.assertIn(words, found)
            self.assertEqual(bool(words), bool(found), start)

    def test_one_thing_in_two_places_at_once(self) -> None:
        two = slot("one", "13:00", 30), slot("two", "13:20", 30)
        self.assertIn(
            "‘one’ and ‘two’ both need Large head at the same time.",
            said(*two, along={"Large head": 1, "6-stop ND": 2}),
        )
        self.assertIn(
            "‘one’ and ‘two’ both need Large head and 6-stop ND at the same time.",
            said(*two, along={"Large head": 1, "6-stop ND": 1}),
        )
        self.assertEqual(len(said(*two, along={"Large head": 2, "6-stop ND": 2})), 1)
        second = replace(LIGHT, name="Large head 2", role="fill")
        pair = slot("one", "13:00", 30, lights=(LIGHT, second)), two[1]
        self.assertIn("at the same time", " ".join(said(*pair, along={"Large head": 2, "6-stop ND": 2})))

    def test_what_is_not_in_the_bag(self) -> None:
        found = said(slot("one", "13:00"), along={"Large head": 1}, packed=True)
        self.assertEqual(found, ["‘one’ needs 6-stop ND, which is not in the bag."])
        self.assertEqual(said(slot("one", "13:00"), along={"Large head": 1}), [])

    def test_frames_that_cannot_be_recycled_in_time(self) -> None:
        # 600 frames at 3 s times the dialled power (common practice: recycling goes with power).
        slow = replace(LIGHT, battery=Battery(5000, 3.0))
        one = slot("one", "13:10", 10, lights=(slow,), frames=600)
        power = planned(one).lighting.key.power
        assert power is not None
        minutes = 600 * 3 * power / 60
        self.assertGreater(minutes, 10)
        self.assertIn(f"Large head needs {minutes + 0.5:.0f} minutes to recycle", " ".join(said(one)))
        self.assertEqual(said(slot("one", "13:10", 120, lights=(slow,), frames=600)), [])

    def test_recycling_that_takes_just_the_time_there_is_is_in_time(self) -> None:
        # 60 frames take 60 × the time to recycle at the dialled power; ten minutes are 600 s.
        lit = slot("one", "13:10", 10, lights=(replace(LIGHT, battery=Battery(5000, 3.0)),), frames=60)
        power = planned(lit).lighting.key.power
        assert power is not None
        just = 600 / 60 / power
        for seconds, late in ((just - 0.01, False), (just + 0.01, True)):
            busy = slot(
                "one", "13:10", 10, lights=(replace(LIGHT, battery=Battery(5000, seconds)),), frames=60
            )
            self.assertEqual("to recycle" in " ".join(said(busy)), late)

    def test_sixty_frames_are_taken_where_none_are_counted_and_a_charge_may_be_used_up(self) -> None:
        # By hand: 60 frames at p full pops each, from so many pops of a charge, and no overhead.
        def worn(pops: float) -> Slot:
            light = replace(LIGHT, battery=Battery(pops, 0.1, overhead=0.0))
            return slot("one", "13:10", lights=(light,))

        power = planned(worn(100)).lighting.key.power
        assert power is not None
        self.assertAlmostEqual(charges([worn(100)])["Large head"], 60 * power / 100)
        for pops, empty in ((60 * power + 0.01, False), (60 * power - 0.01, True)):
            self.assertEqual("of a charge" in " ".join(said(worn(pops))), empty)

    def test_batteries_over_the_whole_day_by_light(self) -> None:
        # By hand: p full pops a frame, 200 frames in each of two set-ups, from 300 pops of a charge.
        weak = replace(LIGHT, battery=Battery(300, 0.1, overhead=0.0))
        day = [
            slot(name, clock, lights=(weak,), frames=200)
            for name, clock in (("a", "13:10"), ("b", "15:00"))
        ]
        powers = [planned(busy).lighting.key.power or 0.0 for busy in day]
        self.assertAlmostEqual(charges(day)["Large head"], 200 * sum(powers) / 300)
        found = " ".join(said(*day))
        self.assertEqual("of a charge over the day" in found, sum(powers) * 200 > 300)
        many = [slot(str(turn), f"{11 + turn}:00", lights=(weak,), frames=400) for turn in range(6)]
        self.assertIn("bring a second battery or use less power", " ".join(said(*many)))

    def test_the_sun_in_the_lens_and_beside_it(self) -> None:
        start = datetime(2027, 6, 19, 21, 0, tzinfo=ZONE)
        sun = sun_at(42.46, 0.71, start)
        self.assertLess(sun.height_deg, 6)
        for off, words in ((0, "the sun is in the frame"), (16, "outside the frame and will flare")):
            facing = replace(PLACE, facing_deg=sun.azimuth_deg + off)
            found = " ".join(
                said(slot("one", "21:00", 10, place=facing, lights=(replace(LIGHT, gn_m=30),)))
            )
            self.assertIn(words, found)
        away = replace(PLACE, facing_deg=(sun.azimuth_deg + 180) % 360)
        self.assertNotIn("sun", " ".join(said(slot("one", "21:00", 10, place=away))))

    def test_the_sun_flares_to_ten_degrees_outside_the_frame(self) -> None:
        # 85 mm on 24 × 36 mm sees 14.3° to each corner (atan of 21.6/85): flare ends at 24.3° off the axis.
        start = datetime(2027, 6, 19, 21, 30, tzinfo=ZONE)
        sun = sun_at(42.46, 0.71, start)
        self.assertTrue(0 < sun.height_deg < 2)
        dim = {"lights": (replace(LIGHT, gn_m=30),)}
        for off, words in (
            (13.9, "in the frame"),
            (14.7, "outside the frame"),
            (23.9, "outside the frame"),
            (24.7, ""),
        ):
            facing = replace(PLACE, facing_deg=(sun.azimuth_deg + off) % 360)
            found = [
                text for text in said(slot("one", "21:30", 10, place=facing, **dim)) if "the sun" in text
            ]
            self.assertEqual(len(found), 1 if words else 0, off)
            self.assertIn(words, " ".join(found))
        night = replace(PLACE, facing_deg=sun_at(42.46, 0.71, start.replace(hour=23)).azimuth_deg)
        self.assertNotIn("the sun", " ".join(said(slot("one", "23:00", 10, place=night, **dim))))

    def test_light_that_goes_before_the_end(self) -> None:
        # Wanted as bright as it is, and the ISO ends at 200: dusk takes a stop in some five minutes.
        late = slot(
            "late", "21:00", 80, iso_highest=200, background_level=0.0, filters=(Filter("n", 1, 3),)
        )
        self.assertTrue(planned(late).feasible)
        self.assertIn("the light fails before this set-up ends", " ".join(said(late)))


DEGREES = st.floats(-89.9, 89.9), st.floats(-179.9, 179.9)


class Typed(unittest.TestCase):
    @given(*DEGREES)
    def test_a_place_is_read_as_it_is_shown_and_in_every_usual_form(self, lat: float, lon: float) -> None:
        lat, lon = round(lat, 4), round(lon, 4)
        north, east = "S" if lat < 0 else "N", "W" if lon < 0 else "E"
        self.assertEqual(read_coordinates(show_coordinates(lat, lon)), (lat, lon))

        def sexagesimal(angle: float) -> str:
            seconds = round(abs(angle) * 3600, 2)
            return f"{int(seconds // 3600)}°{int(seconds % 3600 // 60)}′{seconds % 60:.2f}″"

        for text in (
            f"{lat}, {lon}",
            f"{lat} {lon}",
            f"{abs(lat)} {north}, {abs(lon)} {east}",
            f"{north}{abs(lat)} {east}{abs(lon)}",
            f"{abs(lon)}° {east} {abs(lat)}° {north}",
            f"geo:{lat},{lon};u=12",
            f"{sexagesimal(lat)} {north} {sexagesimal(lon)} {east}",
            f"{abs(lat)} {north} {abs(lon)} {east}".replace(".", ","),
        ):
            if "e-" in text:
                continue
            read = read_coordinates(text)
            self.assertAlmostEqual(read[0], lat, places=5, msg=text)
            self.assertAlmostEqual(read[1], lon, places=5, msg=text)

    def test_what_is_no_place_is_refused_with_what_would_be(self) -> None:
        for text in ("", "here", "42.46", "42 N 3 N", "1 E 2 W", "-3 N 4 E", "42°75′ N 3 E", "1, 2, 3, 4"):
            with self.subTest(text=text), self.assertRaisesRegex(Unreadable, r"Try 42\.46, 0\.71"):
                read_coordinates(text)

    def test_times_and_lengths(self) -> None:
        for text, read in (
            ("9:40", "09:40"),
            ("940", "09:40"),
            ("21.15", "21:15"),
            ("0:00", "00:00"),
            ("23:59", "23:59"),
        ):
            self.assertEqual(read_clock(text), read)
        for text in ("24:00", "12:60", "13 pm", "0 am", "late", ""):
            with self.subTest(text=text), self.assertRaises(Unreadable):
                read_clock(text)
        for text, minutes in (("45", 45), ("1h30", 90), ("2 h", 120), ("1:05", 65)):
            self.assertEqual(read_minutes(text), minutes)
        for text in ("", "h", "long", "-5"):
            with self.subTest(text=text), self.assertRaises(Unreadable):
                read_minutes(text)
