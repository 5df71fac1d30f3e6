"""A place out of a file that another program wrote: the first waypoint of a GPX file (GPX 1.0 and 1.1) or
the first point of a GeoJSON object (RFC 7946).

XML goes through `defusedxml`, which refuses document types and entities, within limits of depth and number;
`gpxpy` is given the first point alone, for it searches the whole text in time that grows with its square.

The height of a waypoint is that over the sea and says nothing of the horizon: it is not taken.
"""

import io
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any
from xml.etree.ElementTree import Element, ParseError, tostring  # only built and written here, not parsed

import gpxpy
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import iterparse
from gpxpy.gpx import GPXException

from noggin.core import limits
from noggin.documents.json_input import SIZE_MOST, read_object
from noggin.documents.problems import BadDocument, Problem, shown

ELEMENTS_MOST = 200_000
ELEMENTS_DEEP = 40

POINTS = {"wpt", "trkpt", "rtept"}


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
        raise BadDocument([Problem("", "this file has no waypoint")])
    for name, value, span in (("lat", found.lat, limits.LATITUDE), ("lon", found.lon, limits.LONGITUDE)):
        if problem := span.problem(value):
            raise BadDocument([Problem(name, problem)])
    return found


def _of_gpx(raw: bytes) -> Iterator[Waypoint]:
    if len(raw) > SIZE_MOST:
        raise BadDocument([Problem("", f"the file is larger than {SIZE_MOST // 1024} KiB")])
    try:
        point, owner = _first_point(raw)
        if point is None:
            return
        found = gpxpy.parse(_alone(point)).waypoints[0]
    except BadDocument:
        raise
    except DefusedXmlException:
        raise _not_gpx("this GPX file declares a document type, which is not accepted") from None
    except (ParseError, GPXException, ValueError, LookupError):
        raise _not_gpx("this is neither GPX nor GeoJSON") from None
    yield Waypoint(_name(found.name or owner), found.latitude, found.longitude)


def _first_point(raw: bytes) -> tuple[Element | None, str]:
    """The first waypoint, or where there is none the first point of a track or route, and what that is
    called."""
    deep, first, owner = 0, None, ""
    names: list[str] = []
    for number, (event, element) in enumerate(
        iterparse(io.BytesIO(raw), ("start", "end"), forbid_dtd=True)
    ):
        deep += 1 if event == "start" else -1
        if deep > ELEMENTS_DEEP or number > 2 * ELEMENTS_MOST:
            raise _not_gpx(
                f"this GPX file has over {ELEMENTS_MOST:,} parts, or parts over {ELEMENTS_DEEP} deep"
            )
        tag = _tag(element)
        if number == 0 and tag != "gpx":
            raise _not_gpx("this is neither GPX nor GeoJSON")
        if event == "start":
            names.append("")
            continue
        names.pop()
        if tag == "name" and names:
            names[-1] = element.text or ""
        if tag in POINTS and (first is None or tag == "wpt"):
            first, owner = element, names[1] if len(names) > 1 else ""
            if tag == "wpt":
                break
    return first, owner


def _alone(point: Element) -> str:
    """A GPX file with this point only: its place, and its name as far as one is kept."""
    gpx, alone = Element("gpx", version="1.1"), Element("wpt")
    alone.set("lat", point.get("lat", "")[:NUMBER_LENGTH])
    alone.set("lon", point.get("lon", "")[:NUMBER_LENGTH])
    for part in point:
        if _tag(part) == "name":
            name = Element("name")
            name.text = _name(part.text)
            alone.append(name)
    gpx.append(alone)
    return tostring(gpx, encoding="unicode")


def _tag(element: Element) -> str:
    return element.tag.rpartition("}")[2]


def _not_gpx(problem: str) -> BadDocument:
    return BadDocument([Problem("", problem)])


NUMBER_LENGTH = 40


def _of_geojson(found: Any) -> Iterator[Waypoint]:
    kind = found.get("type") if isinstance(found, dict) else None
    if kind == "FeatureCollection":
        for feature in _list(found.get("features"), "features"):
            yield from _of_geojson(feature)
    elif kind == "Feature":
        properties = found.get("properties") or {}
        name = properties.get("name") if isinstance(properties, dict) else ""
        for point in _of_geojson(found.get("geometry")):
            yield Waypoint(_name(name), point.lat, point.lon)
    elif kind == "GeometryCollection":
        for geometry in _list(found.get("geometries"), "geometries"):
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
            raise BadDocument([Problem("coordinates", "a point has longitude and latitude, two numbers")])
        try:
            yield Waypoint("", float(position[1]), float(position[0]))
        except OverflowError:
            raise BadDocument([Problem("coordinates", "a number has too many digits")]) from None


def _list(found: Any, name: str) -> list[Any]:
    if not isinstance(found, list):
        raise BadDocument([Problem(name, f"{shown(found)} is not a list")])
    return found


def _name(found: Any) -> str:
    """A name as a shoot can keep it."""
    text = found if isinstance(found, str) else ""
    tidy = "".join(letter if letter.isprintable() else " " for letter in text)
    return " ".join(tidy.split())[: limits.NAME_LENGTH]
