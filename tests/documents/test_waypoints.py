"""Places out of other programs' files: GPX 1.0 and 1.1 (topografix.com), GeoJSON (RFC 7946), and what
nobody should send."""

import json
import unittest
from typing import Any

from noggin.documents.problems import BadDocument
from noggin.documents.waypoints import Waypoint, read_waypoint

GPX = '<gpx xmlns="http://www.topografix.com/GPX/1/1" version="1.1">{}</gpx>'


def gpx(inside: str) -> bytes:
    return GPX.format(inside).encode()


class Gpx(unittest.TestCase):
    def test_the_first_waypoint_goes_before_tracks_and_routes(self) -> None:
        track = (
            "<trk><name>Walk</name><trkseg><trkpt lat='1' lon='2'/><trkpt lat='3' lon='4'/></trkseg></trk>"
        )
        dome = "<wpt lat='42.46' lon='0.71'><ele>900</ele><name> Dome\n door </name></wpt>"
        self.assertEqual(read_waypoint(gpx(track + dome)), Waypoint("Dome door", 42.46, 0.71))
        self.assertEqual(read_waypoint(gpx(track)), Waypoint("Walk", 1, 2))
        self.assertEqual(
            read_waypoint(gpx("<rte><name>Up</name><rtept lat='5' lon='6'/></rte>")), Waypoint("Up", 5, 6)
        )
        self.assertEqual(
            read_waypoint(b'<gpx version="1.0"><wpt lat="1" lon="2"/></gpx>'), Waypoint("", 1, 2)
        )

    def test_what_is_none_is_said_to_be_none(self) -> None:
        for raw, words in (
            (b"<kml><wpt lat='1' lon='2'/></kml>", "neither GPX nor GeoJSON"),
            (b"<gpx><wpt lat='1'", "neither GPX nor GeoJSON"),
            (gpx("<wpt lat='abc' lon='2'/>"), "neither GPX nor GeoJSON"),
            (gpx("<wpt lat='91' lon='2'/>"), "lat: 91 is outside"),
            (gpx("<metadata/>"), "no waypoint"),
            (b'<!DOCTYPE gpx [<!ENTITY a "b">]><gpx><wpt lat="1" lon="2"/></gpx>', "document type"),
            (gpx("<a>" * 60 + "</a>" * 60), "parts over 40 deep"),
            (b"<" * 300_000, "neither GPX nor GeoJSON"),
        ):
            with self.subTest(raw=raw[:60]), self.assertRaisesRegex(BadDocument, words):
                read_waypoint(raw)

    def test_text_that_looks_like_names_of_spaces_freezes_nothing(self) -> None:
        """`gpxpy` looks for ` xmlns…=` in time that grows with the square of such a text: with 360 kB of it
        this test would not end for minutes."""
        found = read_waypoint(gpx(f"<wpt lat='1' lon='2'><name>{' xmlns' * 60_000}</name></wpt>"))
        self.assertEqual((found.lat, found.lon), (1, 2))


class GeoJson(unittest.TestCase):
    def read(self, found: Any) -> Waypoint:
        return read_waypoint(json.dumps(found).encode())

    def test_the_first_point_wherever_it_is(self) -> None:
        point = {"type": "Point", "coordinates": [0.71, 42.46, 900]}
        feature = {"type": "Feature", "properties": {"name": "Dome"}, "geometry": point}
        self.assertEqual(self.read(point), Waypoint("", 42.46, 0.71))
        self.assertEqual(
            self.read({"type": "FeatureCollection", "features": [feature]}), Waypoint("Dome", 42.46, 0.71)
        )
        self.assertEqual(
            self.read({"type": "GeometryCollection", "geometries": [point]}), Waypoint("", 42.46, 0.71)
        )

    def test_what_cannot_be_is_named(self) -> None:
        for found, words in (
            ({"type": "FeatureCollection", "features": 5}, "features: 5 is not a list"),
            ({"type": "FeatureCollection", "features": True}, "features: true is not a list"),
            ({"type": "GeometryCollection", "geometries": {"a": 1}}, "geometries: .* is not a list"),
            ({"type": "Feature", "properties": 7, "geometry": 9}, "no waypoint"),
            ({"type": "Point", "coordinates": [10**400, 1]}, "too many digits"),
            ({"type": "Point", "coordinates": ["0.71", 42]}, "two numbers"),
        ):
            with self.subTest(found=str(found)[:60]), self.assertRaisesRegex(BadDocument, words):
                self.read(found)
