"""Where and when as people type it."""

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.errors import Unreadable
from noggin.core.typed.parse_dates import read_date, with_year_of
from noggin.core.typed.parse_places import read_clock, read_coordinates
from noggin.forms.places import near_words, read_place
from noggin.services.setups import setups
from tests.support import AppCase

# What is typed, with latitude and longitude to a tenth, date and time, and zone, worked out by hand.
MADRID, SANTIAGO = "Europe/Madrid", "America/Santiago"
WAYS_OF_SAYING = (
    ("42.46, 0.71 2027-06-19 13:10 Europe/Madrid", 42.5, 0.7, "2027-06-19", "13:10", MADRID),
    ("42.46 0.71 2027-06-19T13:10", 42.5, 0.7, "2027-06-19", "13:10", MADRID),
    (
        "33.5 S 70.6 W 2027-01-09 7:05 America/Santiago",
        -33.5,
        -70.6,
        "2027-01-09",
        "07:05",
        "America/Santiago",
    ),
    ("42°27′36″ N, 0°42′36″ E 19 June 2027 noon", 42.5, 0.7, "2027-06-19", "12:00", MADRID),
    ("-33.9, 18.4 1.3.2027 06:30", -33.9, 18.4, "2027-03-01", "06:30", "Africa/Johannesburg"),
    ("Ronda, Spain", 36.7, -5.2, "", "", MADRID),
    ("Ronda, Spain 19 June 2027 noon", 36.7, -5.2, "2027-06-19", "12:00", MADRID),
    ("Ronda, Spain, Saturday 19 June 2027 at 1 pm", 36.7, -5.2, "2027-06-19", "13:00", MADRID),
    ("Saturday 19 June 2027, 1 p.m., Ronda, Spain", 36.7, -5.2, "2027-06-19", "13:00", MADRID),
    ("Oxford 19/6/2027 18h30", 51.8, -1.3, "2027-06-19", "18:30", "Europe/London"),
    ("46.5 8.0 19 juin 2027 21:15", 46.5, 8.0, "2027-06-19", "21:15", "Europe/Zurich"),
    ("Wien, 19. Juni 2027, 17:45", 48.2, 16.4, "2027-06-19", "17:45", "Europe/Vienna"),
    ("Barcelona, 12 mayo 2027, 20:00", 41.4, 2.2, "2027-05-12", "20:00", MADRID),
    ("New York 4 July 2027 8:15 p.m.", 40.7, -74.0, "2027-07-04", "20:15", "America/New_York"),
    ("San Sebastián 5 pm", 43.3, -2.0, "", "17:00", MADRID),
    ("6 pm 12 May Toledo, Spain", 39.9, -4.0, "--05-12", "18:00", MADRID),
    ("https://maps.example/@41.3851,2.1734,15z", 41.4, 2.2, "", "", MADRID),
    ("https://map.example/#map=12/41.3851/2.1734", 41.4, 2.2, "", "", MADRID),
    ("https://map.example/?mlat=41.3851&mlon=2.1734", 41.4, 2.2, "", "", MADRID),
    ("https://m.example/?q=41.3851%2C2.1734&z=3", 41.4, 2.2, "", "", MADRID),
    ("geo:-33.5,-70.6;u=20", -33.5, -70.6, "", "", SANTIAGO),
    ("Praha 19 června 2027 midnight", 50.1, 14.4, "2027-06-19", "00:00", "Europe/Prague"),
)


class AsPeopleSayIt(unittest.TestCase):
    def test_where_and_when_on_one_line(self) -> None:
        for text, lat, lon, date, clock, zone in WAYS_OF_SAYING:
            with self.subTest(text):
                found = read_place(text)
                self.assertAlmostEqual(found.lat, lat, delta=0.06)
                self.assertAlmostEqual(found.lon, lon, delta=0.06)
                self.assertEqual((found.date, found.clock, found.local_zone), (date, clock, zone))

    def test_each_part_is_refused_by_itself(self) -> None:
        for text, said in (
            ("up the hill", "no town called ‘up the hill’"),
            ("19 June 2027", "says no place"),
            ("Ronda, Spain 19 June 2027 25:00", "‘25:00’ is not a time of day"),
            ("42.46, 0.71 2027-06-19 13:10 Nowhere/Land", "‘Nowhere/Land’ is not a time zone"),
            ("https://x.example/abc", "not one that holds coordinates"),
        ):
            with self.subTest(text), self.assertRaisesRegex(Unreadable, said):
                read_place(text)
        with self.assertRaisesRegex(Unreadable, "Try 19 June 2027"):
            read_date("31 June 2027")

    def test_dates_in_many_languages_and_notations(self) -> None:
        for text in (
            "19 June 2027", "June 19, 2027", "19.6.27", "19/6/2027", "6/19/2027", "Sat 19 Jun 2027",
            "19. Juni 2027", "19 juin 2027", "19 de junio de 2027", "19 июня 2027", "2027年6月19日",
            "19 giugno 2027", "19th of June 2027", "19 czerwca 2027", "19 haziran 2027", "19 Ιουνίου 2027",
            "20270619", "2027/06/19",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read_date(text), "2027-06-19")
        self.assertEqual(with_year_of(read_date("29 Feb"), "2028-06-01"), "2028-02-29")
        with self.assertRaisesRegex(Unreadable, "lacks the year. Try 19 June 2027"):
            with_year_of(read_date("19 June"), "")
        for text in ("", "hello", "June", "19", "2027", "42.46, 0.71", "1O June 2027", "x" * 900):
            with self.subTest(text), self.assertRaises(Unreadable):
                read_date(text)

    @given(st.dates())
    def test_a_date_as_it_is_shown_is_read_again(self, day: Any) -> None:
        self.assertEqual(read_date(day.isoformat()), day.isoformat())

    @given(st.times())
    def test_a_time_by_the_half_day_is_that_of_the_whole(self, time: Any) -> None:
        self.assertEqual(read_clock(f"{time:%I:%M %p}"), f"{time:%H:%M}")

    @given(st.floats(-90, 90), st.floats(-180, 180))
    def test_a_link_carries_its_coordinates(self, lat: float, lon: float) -> None:
        found = read_coordinates(f"https://m.example/x/@{lat:.5f},{lon:.5f},12z/more")
        self.assertEqual(found, (round(lat, 5), round(lon, 5)))

    def test_a_place_says_what_lies_near_it(self) -> None:
        self.assertEqual(near_words(36.742, -5.167), "Ronda, Spain")
        self.assertRegex(near_words(42.46, 0.71), r"^\d km from \w+, Spain$")
        self.assertEqual(near_words(-50, -140), "no town within 40 km")


class OnTheBench(AppCase):
    """What is entered there takes effect: daylight that nobody read is that of the place and the hour."""

    def setUp(self) -> None:
        super().setUp()
        self.number = setups.new_setup(self.store, self.wiring.clock)

    def enter(self, key: str, text: str) -> setups.OpenSetUp:
        return setups.enter(self.store, self.wiring.clock, self.number, key, text)

    def test_place_date_and_time_wait_for_each_other(self) -> None:
        opened = self.enter("where", "Ronda, Spain")
        self.assertEqual(opened.pending["where"].problem, "Give a date and a time too.")
        self.assertIsNone(opened.setup.scene.moment)
        opened = self.enter("day", "19 juin 2027")
        self.assertEqual(opened.pending["day"].problem, "Give a time too.")
        opened = self.enter("clock", "1 pm")
        self.assertEqual(opened.pending, {})
        moment = opened.setup.scene.moment
        assert moment
        self.assertEqual(moment.time.isoformat(), "2027-06-19T13:00:00+02:00")
        self.assertEqual(opened.entries["where"].words(opened.document, opened.setup), "Ronda, Spain")
        self.assertEqual(opened.assumed, "")

    def test_a_figure_that_cannot_be_read_holds_up_no_place(self) -> None:
        self.enter("aperture", "wide")
        self.enter("day", "19 June 2027")
        self.enter("clock", "noon")
        opened = self.enter("where", "42.46, 0.71")
        self.assertEqual(set(opened.pending), {"aperture"})
        self.assertIsNotNone(opened.setup.scene.moment)

    def test_what_is_assumed_follows_the_hour_and_what_was_read_stays(self) -> None:
        self.enter("ev_subject", "11")
        noon = self.enter("where", "Ronda, Spain 19 June 2027 14:00").setup.scene
        late = self.enter("clock", "20:30").setup.scene
        self.assertLess(late.background, noon.background - 1)
        self.assertEqual((noon.subject, late.subject), (11, 11))
        away = self.enter("where", "").setup.scene
        self.assertEqual((away.moment, away.background), (None, late.background))

    def test_the_zone_is_that_of_the_place_unless_it_is_said(self) -> None:
        opened = self.enter("where", "Ronda, Spain 19 June 2027 14:00")
        self.assertEqual(opened.document["scene"]["place"]["tz"], MADRID)
        opened = self.enter("where", "Lisboa")
        self.assertEqual(opened.document["scene"]["place"]["tz"], "Europe/Lisbon")
        opened = self.enter("tz", "UTC")
        self.assertEqual(opened.document["scene"]["place"]["tz"], "UTC")
        opened = self.enter("tz", "Spain")
        self.assertIn("is not a time zone", opened.pending["tz"].problem)
