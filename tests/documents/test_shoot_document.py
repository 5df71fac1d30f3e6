"""The shoot document, waypoints of other programs, the calendar read back by the `icalendar` library."""

import unittest
from collections.abc import Callable
from copy import deepcopy
from datetime import UTC, date, datetime, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

import gpxpy
import icalendar
from icalendar import Timezone

from noggin.demo import demo_shoot
from noggin.documents.calendar import Event, calendar
from noggin.documents.fields import is_zone, zones
from noggin.documents.paths import path_of
from noggin.documents.problems import BadDocument
from noggin.documents.setup import validated
from noggin.documents.shoot import canonical_shoot, kept_shoot, local, read_shoot, written_shoot
from noggin.documents.waypoints import Waypoint, read_waypoint
from noggin.forms.shoot_entries import shoot_entries
from tests.documents.test_mutated import SPOILERS, leaves, put


def faults(document: dict[str, Any]) -> list[str]:
    """What is said of a shoot that is refused."""
    try:
        read_shoot(document)
    except BadDocument as bad:
        return [str(fault) for fault in bad.problems]
    return []


def kept() -> Any:
    """The demo's shoot as it is kept, its set-ups numbered."""
    found = demo_shoot()
    for at, slot in enumerate(found["slots"]):
        slot["setup"] = at
    return canonical_shoot({key: value for key, value in found.items() if key not in ("format", "version")})


class Shoot(unittest.TestCase):
    def test_the_demos_day_has_every_way_and_is_written_as_it_was_read(self) -> None:
        document = read_shoot(demo_shoot())
        self.assertGreaterEqual(len(document.slots), 7)
        setups = [validated(slot["setup"]) for slot in demo_shoot()["slots"]]
        again = written_shoot(kept_shoot(kept()), setups)
        self.assertEqual(read_shoot(again), document)
        self.assertEqual(again["slots"][3]["setup"], demo_shoot()["slots"][3]["setup"])

    def test_what_cannot_be_is_named_by_its_field(self) -> None:
        def slot(**figures: Any) -> Callable[[dict[str, Any]], Any]:
            return lambda document: document["slots"][0].update(figures)

        def place(**figures: Any) -> Callable[[dict[str, Any]], Any]:
            return lambda document: document["place"].update(figures)

        for change, said in (
            (place(lat=91), "place.lat: 91 is outside −90 … 90 °"),
            (place(tz="Mars/Basin"), 'place.tz: "Mars/Basin" is not a time zone'),
            (place(elevation_m=-1), "place.elevation_m: −1 is outside"),
            (slot(start="25:00"), 'slots[0].start: "25:00" is not a time of day'),
            (slot(start="9:30"), 'slots[0].start: "9:30" is not a time of day like 09:40'),
            (slot(minutes=0), "slots[0].minutes: 0 is outside 5 … 720 minutes"),
            (slot(facing_deg=400), "slots[0].facing_deg: 400 is outside 0 … 360 °"),
            (slot(spot={"kind": "cave"}), 'slots[0].spot.kind: "cave" is not one of open, shade, trees'),
            (lambda d: d.update(date="2027-02-30"), 'date: "2027-02-30" is not a date'),
            (lambda d: d.update(date="1500-01-01"), "date: 1500 is outside 1900 … 2100"),
            (lambda d: d.update(sky="purple"), 'sky: "purple" is not one of clear, partly, overcast'),
            (
                lambda d: d.update(readings=[{"time": "12:00", "zone": "moon", "ev100": 1}]),
                "readings[0].zone",
            ),
            (
                lambda d: d["slots"][1]["setup"]["intent"].update(aperture=0.5),
                "slots[1].setup.intent.aperture",
            ),
            (lambda d: d["slots"][1]["setup"]["lens"].update(widest=20), "slots[1].setup.lens.widest"),
            (lambda d: d.update(notes=float("nan")), "notes: holds NaN"),
            (lambda d: d.update(version=2), "version: 2 is newer than 1"),
            (lambda d: d.update(format="noggin-kit"), "format: \"noggin-kit\" is not 'noggin-shoot'"),
        ):
            document = deepcopy(demo_shoot())
            change(document)
            with self.subTest(said=said):
                told = faults(document)
                self.assertTrue(any(one.startswith(said) for one in told), told)

    def test_spoilt_values_are_named_and_never_a_trace(self) -> None:
        rng = Random(12)  # noqa: S311 - a fixed seed is what a test wants
        document = demo_shoot()
        document["slots"] = document["slots"][:2]
        del document["notes"]
        for slot in document["slots"]:
            slot["setup"].pop("notes", None)
        paths = [path for path in leaves(document) if path[-1] != "format"]
        for number in range(400):
            path, kind = rng.choice(paths), rng.choice(list(SPOILERS))
            spoilt = deepcopy(document)
            put(spoilt, path, SPOILERS[kind](rng))
            with self.subTest(number=number, path=path_of(path), kind=kind):
                if path[-1] == "people" and kind == "control characters":
                    continue  # a line break may stand in it
                names = tuple(path_of(path[:end]) for end in (len(path), len(path) - 1) if end)
                self.assertTrue(any(one.startswith(names) for one in faults(spoilt)), faults(spoilt))

    def test_clocks_that_skip_or_stand_twice(self) -> None:
        madrid = ZoneInfo("Europe/Madrid")
        skipped = local(date(2027, 3, 28), "02:30", madrid)
        self.assertEqual(skipped.isoformat(), "2027-03-28T03:30:00+02:00")
        twice = local(date(2027, 10, 31), "02:30", madrid)
        self.assertEqual(twice.astimezone(UTC).isoformat(), "2027-10-31T00:30:00+00:00")

    def test_every_figure_that_is_shown_can_be_typed_again(self) -> None:
        document = kept()
        for entry in shoot_entries(document).values():
            with self.subTest(figure=entry.key):
                text = entry.text(document)
                again = canonical_shoot(entry.put(document, entry.parsed(text)))
                self.assertEqual(again, document)
                if entry.stepped and entry.value(document) is not None:
                    moved = entry.stepped(None, entry.value(document), 1)
                    self.assertNotEqual(moved, entry.value(document))
                    self.assertEqual(entry.stepped(None, moved, -1), entry.value(document))

    def test_whatever_is_typed_is_taken_or_refused_in_words(self) -> None:
        odd = (
            "",
            "x",
            "0",
            "-1",
            "1/0",
            "1e400",
            "nan",
            "∞",
            "9" * 40,
            "½",
            "a\x00b",
            "25:61",
            "91, 0",
            "12h",
        )
        document = kept()
        for entry in shoot_entries(document).values():
            for text in odd:
                with self.subTest(figure=entry.key, text=text):
                    try:
                        canonical_shoot(entry.put(document, entry.parsed(text)))
                    except ValueError as error:  # Unreadable, Refused and BadDocument are such
                        self.assertTrue(str(error))

    def test_the_systems_zones_are_offered(self) -> None:
        self.assertIn("Europe/Madrid", zones())
        self.assertTrue(all(is_zone(zone) for zone in zones()))


GEOJSON = (
    '{"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"name": "The old gate"},'
    ' "geometry": {"type": "Point", "coordinates": [0.7123, 42.4655, 830]}}]}'
)


class Waypoints(unittest.TestCase):
    def test_the_first_waypoint_of_a_gpx_file_that_another_program_wrote(self) -> None:
        made = gpxpy.gpx.GPX()
        made.waypoints += [
            gpxpy.gpx.GPXWaypoint(42.4655, 0.7123, elevation=830, name="The old  gate\n"),
            gpxpy.gpx.GPXWaypoint(1, 2),
        ]
        for version in ("1.0", "1.1"):
            raw = made.to_xml(version=version).encode()
            self.assertEqual(read_waypoint(raw), Waypoint("The old gate", 42.4655, 0.7123))

    def test_a_track_gives_its_first_point(self) -> None:
        made = gpxpy.gpx.GPX()
        track = gpxpy.gpx.GPXTrack(name="Walk up")
        track.segments.append(gpxpy.gpx.GPXTrackSegment([gpxpy.gpx.GPXTrackPoint(42.1, 0.5)]))
        made.tracks.append(track)
        self.assertEqual(read_waypoint(made.to_xml().encode()), Waypoint("Walk up", 42.1, 0.5))

    def test_geojson_has_longitude_first(self) -> None:
        # RFC 7946, section 3.1.1: longitude, latitude, then height.
        self.assertEqual(read_waypoint(GEOJSON.encode()), Waypoint("The old gate", 42.4655, 0.7123))
        bare = read_waypoint(b'{"type": "Point", "coordinates": [-70.66, -33.45]}')
        self.assertEqual((bare.lat, bare.lon), (-33.45, -70.66))

    def test_what_is_no_place_is_refused_in_words(self) -> None:
        bomb = b'<!DOCTYPE gpx [<!ENTITY a "aaaa">]><gpx version="1.1"><wpt lat="1" lon="2"/></gpx>'
        for raw, said in (
            (b"", "neither GPX nor GeoJSON"),
            (b"hello", "neither GPX nor GeoJSON"),
            (b"<gpx", "neither GPX nor GeoJSON"),
            (b"\xff\xfe\x00", "neither GPX nor GeoJSON"),
            (b'<gpx version="1.1"></gpx>', "this file has no waypoint"),
            (b'{"type": "FeatureCollection", "features": []}', "this file has no waypoint"),
            (b'{"type": "FeatureCollection", "features": [7]}', "this file has no waypoint"),
            (b'{"type": "Point", "coordinates": [1]}', "longitude and latitude"),
            (b'{"type": "Point", "coordinates": ["1", "2"]}', "longitude and latitude"),
            (b'{"type": "Point", "coordinates": [0, 95]}', "lat: 95 is outside"),
            (b'{"type": "Point", "coordinates": [NaN, 5]}', "lon: NaN is not a number"),
            (b'<gpx version="1.1"><wpt lat="x" lon="2"/></gpx>', "neither GPX nor GeoJSON"),
            (bomb, "declares a document type"),
            (b"<" + b"x" * (1024 * 1024), "larger than"),
        ):
            with self.subTest(raw=raw[:40]), self.assertRaisesRegex(BadDocument, said):
                read_waypoint(raw)


class Calendar(unittest.TestCase):
    def test_it_is_read_back_with_the_same_instants_in_every_zone(self) -> None:
        for name, day in (
            ("Europe/Madrid", date(2027, 6, 19)),
            ("Europe/Madrid", date(2027, 10, 31)),
            ("America/Santiago", date(2027, 1, 9)),
            ("Pacific/Apia", date(2027, 4, 4)),
            ("Asia/Kolkata", date(2050, 12, 1)),
            ("UTC", date(2027, 6, 19)),
        ):
            zone = ZoneInfo(name)
            starts = [local(day, clock, zone) for clock in ("09:30", "13:10", "21:35")]
            events = [
                Event(
                    f"uid-{at}",
                    start,
                    start + timedelta(minutes=25),
                    f"Set-up, {at}; ‘quoted’",
                    "1/200 f/2\nkey: 1/2",
                )
                for at, start in enumerate(starts)
            ]
            raw = calendar(events, "A day", (42.46, 0.71), "The old gate", datetime(2027, 1, 1, tzinfo=UTC))
            read = icalendar.Calendar.from_ical(raw)
            found = list(read.walk("VEVENT"))
            with self.subTest(zone=name, day=day):
                self.assertEqual(
                    [part.decoded("dtstart").astimezone(UTC) for part in found],
                    [s.astimezone(UTC) for s in starts],
                )
                self.assertEqual([part.decoded("dtstart").hour for part in found], [9, 13, 21])
                self.assertEqual(
                    found[0].decoded("dtend") - found[0].decoded("dtstart"), timedelta(minutes=25)
                )
                self.assertEqual(str(found[1]["summary"]), "Set-up, 1; ‘quoted’")
                self.assertEqual(str(found[1]["description"]), "1/200 f/2\nkey: 1/2")
                self.assertEqual(len({str(part["uid"]) for part in found}), 3)
                if name != "UTC":
                    self.assertEqual(found[0]["dtstart"].params["TZID"], name)
                    (rules,) = read.walk("VTIMEZONE")
                    assert isinstance(rules, Timezone)
                    # A reader that knows no zones has the offset from the rules in the file alone.
                    told = rules.to_tz(lookup_tzid=False)
                    self.assertEqual(
                        starts[0].replace(tzinfo=None).replace(tzinfo=told).utcoffset(),
                        starts[0].utcoffset(),
                    )

    def test_an_empty_day_is_a_calendar_too(self) -> None:
        raw = calendar([], "Nothing yet", (0.0, 0.0), "", datetime(2027, 1, 1, tzinfo=UTC))
        self.assertEqual(icalendar.Calendar.from_ical(raw).walk("VEVENT"), [])
