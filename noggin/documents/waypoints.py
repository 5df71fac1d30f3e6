"""A place out of a file that another program wrote: the first waypoint of a GPX file (GPX 1.0 and 1.1, read
by `gpxpy`) or the first point of a GeoJSON object (RFC 7946).

The height of a waypoint is that over the sea and says nothing of the horizon: it is not taken.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import gpxpy
from gpxpy.gpx import GPXException

from noggin.core import limits
from noggin.documents.faults import BadDocument, Fault
from noggin.documents.json_input import SIZE_MOST, read_object


@dataclass(frozen=True)
class Waypoint:
    """A named place, degrees north and east."""

    name: str
    lat: float
    lon: float


def read_waypoint(raw: bytes) -> Waypoint:
    """The first place in a file. Raises BadDocument."""
    start = raw.lstrip(b"\xef\xbb\xbf \t\r\n")[:1]
    found = next(_of_geojson(read_object(raw)) if start == b"{" else _of_gpx(raw), None)
    if found is None:
        raise BadDocument([Fault("", "this file has no waypoint")])
    for name, value, span in (("lat", found.lat, limits.LATITUDE), ("lon", found.lon, limits.LONGITUDE)):
        if problem := span.problem(value):
            raise BadDocument([Fault(name, problem)])
    return found


def _of_gpx(raw: bytes) -> Iterator[Waypoint]:
    if len(raw) > SIZE_MOST:
        raise BadDocument([Fault("", f"the file is larger than {SIZE_MOST // 1024} KiB")])
    if b"<!DOCTYPE" in raw or b"<!ENTITY" in raw:
        raise BadDocument([Fault("", "this GPX file declares a document type, which is not accepted")])
    try:
        found = gpxpy.parse(raw)
    except (GPXException, ValueError):
        raise BadDocument([Fault("", "this is neither GPX nor GeoJSON")]) from None
    for point in found.waypoints:
        yield Waypoint(_name(point.name), point.latitude, point.longitude)
    for track in found.tracks:
        for segment in track.segments:
            for passed in segment.points:
                yield Waypoint(_name(track.name), passed.latitude, passed.longitude)


def _of_geojson(found: Any) -> Iterator[Waypoint]:
    kind = found.get("type") if isinstance(found, dict) else None
    if kind == "FeatureCollection":
        for feature in found.get("features") or ():
            yield from _of_geojson(feature)
    elif kind == "Feature":
        properties = found.get("properties") or {}
        name = properties.get("name") if isinstance(properties, dict) else ""
        for point in _of_geojson(found.get("geometry")):
            yield Waypoint(_name(name), point.lat, point.lon)
    elif kind == "GeometryCollection":
        for geometry in found.get("geometries") or ():
            yield from _of_geojson(geometry)
    elif kind == "Point":
        position = found.get("coordinates")
        if not (
            isinstance(position, list)
            and len(position) >= 2
            and all(
                isinstance(coordinate, int | float) and not isinstance(coordinate, bool)
                for coordinate in position[:2]
            )
        ):
            raise BadDocument([Fault("coordinates", "a point has longitude and latitude, two numbers")])
        yield Waypoint("", float(position[1]), float(position[0]))


def _name(found: Any) -> str:
    """A name as a shoot can keep it."""
    text = found if isinstance(found, str) else ""
    tidy = "".join(letter if letter.isprintable() else " " for letter in text)
    return " ".join(tidy.split())[: limits.NAME_LENGTH]
