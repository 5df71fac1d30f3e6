"""The figures of what stands on a plan: shown as a person reads them, and read as a person types them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from noggin.core import limits
from noggin.core.errors import NogginError, Refused
from noggin.core.layout.findings import LightFinding, Standing
from noggin.core.layout.geometry import along_bearing
from noggin.core.layout.moves import aimed_past, past_deg, turned_round
from noggin.core.setup.layout import (
    CameraSpot,
    Layout,
    LightSpot,
    PersonSpot,
    ScrimSpot,
    SurfaceLine,
)
from noggin.core.typed.parse_places import read_angle, read_coordinate, read_percentage
from noggin.core.typed.parse_quantities import read_stops
from noggin.core.wording import MINUS, metres, number, percent, signed, stops

NAMES = (
    *("x", "y", "height", "turn", "away", "distance", "angle", "past"),
    *("facing", "reflects", "wide", "takes", "from"),
)
"""What can be given of something that is moved."""


class NoSuchThing(NogginError, LookupError):
    """Nothing of that name stands on this plan."""


@dataclass(frozen=True)
class RowFigure:
    """One figure of a row: the name it is sent under, its label, and its text now."""

    name: str
    label: str
    text: str


@dataclass(frozen=True)
class LayoutRow:
    """Something that stands on the plan and the figures that move it; `removable` if it can be left out."""

    item: str
    title: str
    figures: tuple[RowFigure, ...]
    removable: bool = False


def row_of_light(standing: Standing, found: LightFinding) -> LayoutRow:
    """The figures of a light. One on the background has no angle to a face."""
    spot, item = standing.layout.lights[found.name], f"light:{found.name}"
    title = f"{found.light.role.capitalize()}: {found.name}"
    height = RowFigure("height", "Height", metres(spot.height_m))
    if found.light.role == "background":
        place = _place(spot.x_m, spot.y_m, "Across, left −", "Behind the focus")
        return LayoutRow(item, title, (*place, height))
    figures = (
        RowFigure("distance", "Distance", metres(found.distance_m)),
        RowFigure("angle", "Angle, left −", _degrees(found.placement.off_deg)),
        height,
        RowFigure("past", "Aimed past, away −", _degrees(past_deg(standing.layout, spot))),
    )
    return LayoutRow(item, title, figures)


def rows_of_others(layout: Layout) -> tuple[LayoutRow, ...]:
    """The figures of people, surfaces and the camera."""
    several = len(layout.people) > 1
    people = (_row_of_person(index, person, several) for index, person in enumerate(layout.people))
    surfaces = (_row_of_surface(layout, index) for index in range(len(layout.surfaces)))
    scrim = (_row_of_scrim(layout.scrim),) if layout.scrim else ()
    cables = (_row_of_cable(name, *spot.cable) for name, spot in layout.lights.items() if spot.cable)
    return (*people, *surfaces, *scrim, *cables, _row_of_camera(layout), _row_of_wind(layout))


def _row_of_person(index: int, person: PersonSpot, removable: bool) -> LayoutRow:
    figures = (
        *_place(person.x_m, person.y_m, "Across, left −", "Behind the focus"),
        RowFigure("height", "Eyes at", metres(person.height_m)),
        RowFigure("turn", "Looks, left −", _degrees(person.turn_deg)),
    )
    return LayoutRow(
        f"person:{index}", person.role.capitalize() or f"Person {index + 1}", figures, removable
    )


def _row_of_surface(layout: Layout, index: int) -> LayoutRow:
    surface = layout.surfaces[index]
    figures = (
        *_place(*surface.middle, "Middle across", "Middle behind"),
        RowFigure("height", "Height", metres(surface.height_m)),
        RowFigure("reflects", "Throws back", percent(surface.reflectance)),
    )
    return LayoutRow(f"surface:{index}", layout.surface_names[index].capitalize(), figures, True)


def _row_of_scrim(scrim: ScrimSpot) -> LayoutRow:
    figures = (
        *_place(scrim.x_m, scrim.y_m, "Across, left −", "Behind the focus"),
        RowFigure("height", "Middle at", metres(scrim.height_m)),
        RowFigure("wide", "Wide", metres(2 * scrim.radius_m)),
        RowFigure("takes", "Takes off", stops(scrim.stops)),
    )
    return LayoutRow("scrim", "Scrim", figures, True)


def _row_of_cable(name: str, x_m: float, y_m: float) -> LayoutRow:
    figures = _place(x_m, y_m, "Leads to, left −", "Behind the focus")
    return LayoutRow(f"cable:{name}", f"Cable of {name}", figures, True)


def _row_of_wind(layout: Layout) -> LayoutRow:
    text = "" if layout.wind_deg is None else _degrees(layout.wind_deg)
    figure = RowFigure("from", "From: 0 ahead, right +", text)
    return LayoutRow("wind", "Wind", (figure,), layout.wind_deg is not None)


def _row_of_camera(layout: Layout) -> LayoutRow:
    facing = "" if layout.facing_deg is None else f"{number(layout.facing_deg, 0)}°"
    figures = (
        RowFigure("away", "From the subject", metres(layout.subject_distance_m())),
        RowFigure("height", "Lens at", metres(layout.camera.height_m)),
        RowFigure("facing", "Looks toward", facing),
    )
    return LayoutRow("camera", "Camera", figures)


def _place(x_m: float, y_m: float, across: str, behind: str) -> tuple[RowFigure, RowFigure]:
    def text(value: float) -> str:
        return metres(value).replace("-", MINUS)

    return RowFigure("x", across, text(x_m)), RowFigure("y", behind, text(y_m))


def _degrees(value: float) -> str:
    return f"{signed(value, 0)}°"


def moved(standing: Standing, item: str, typed: Mapping[str, str]) -> Layout:
    """The plan with one thing where typed figures say; those that are left out, or stand as they are shown,
    stay to their last digit. Raises NoSuchThing, Refused, Unreadable."""
    layout = standing.layout
    shown = {(row.item, one.name): one.text for row in _rows(standing) for one in row.figures}
    figures = {
        name: text for name, text in typed.items() if text.strip() and text != shown.get((item, name))
    }
    kind, _, name = item.partition(":")
    if kind == "camera":
        return _camera(layout, figures)
    if kind == "person":
        index = index_of(item, len(layout.people))
        people = list(layout.people)
        people[index] = _person(people[index], figures)
        return replace(layout, people=tuple(people))
    if kind == "surface":
        index = index_of(item, len(layout.surfaces))
        surfaces = list(layout.surfaces)
        surfaces[index] = _surface(surfaces[index], figures)
        return replace(layout, surfaces=tuple(surfaces))
    if kind == "wind":
        return replace(layout, wind_deg=_angle(figures, "from", layout.wind_deg or 0.0))
    if kind == "scrim" and layout.scrim is not None:
        return replace(layout, scrim=_scrim(layout.scrim, figures))
    if kind == "cable":
        return _cable(layout, name, figures)
    if kind != "light" or name not in layout.lights:
        raise NoSuchThing("That does not stand on this plan any more.")
    return replace(layout, lights={**layout.lights, name: _light(layout, layout.lights[name], figures)})


def _rows(standing: Standing) -> tuple[LayoutRow, ...]:
    return (*(row_of_light(standing, one) for one in standing.lights), *rows_of_others(standing.layout))


def index_of(item: str, count: int) -> int:
    """Which of so many a thing's name says it is. Raises NoSuchThing."""
    text = item.partition(":")[2]
    if not text.isdecimal() or not 0 <= int(text) < count:
        raise NoSuchThing("That does not stand on this plan any more.")
    return int(text)


def _distance(figures: Mapping[str, str], key: str, now: float) -> float:
    return read_coordinate(figures[key]) if key in figures else now


def _angle(figures: Mapping[str, str], key: str, now: float) -> float:
    return read_angle(figures[key]) if key in figures else now


def _camera(layout: Layout, figures: Mapping[str, str]) -> Layout:
    """The camera on its axis, nearer or farther, higher or lower, and where it looks."""
    away = _distance(figures, "away", -_distance(figures, "y", layout.camera.y_m))
    if away <= 0:
        raise Refused("away", "the camera stands before the subject: give how far away it is")
    limits.SUBJECT_DISTANCE.check("away", away)
    camera = CameraSpot(0.0, -away, _distance(figures, "height", layout.camera.height_m))
    facing = _angle(figures, "facing", 0.0) % 360 if "facing" in figures else layout.facing_deg
    return replace(layout, camera=camera, facing_deg=facing)


def _person(person: PersonSpot, figures: Mapping[str, str]) -> PersonSpot:
    return replace(
        person,
        x_m=_distance(figures, "x", person.x_m),
        y_m=_distance(figures, "y", person.y_m),
        height_m=_distance(figures, "height", person.height_m),
        turn_deg=_angle(figures, "turn", person.turn_deg),
    )


def _surface(surface: SurfaceLine, figures: Mapping[str, str]) -> SurfaceLine:
    """A surface moved by its middle, higher or lower, or of another tone."""
    x, y = surface.middle
    there = surface.moved_by(_distance(figures, "x", x) - x, _distance(figures, "y", y) - y)
    reflects = read_percentage(figures["reflects"]) if "reflects" in figures else surface.reflectance
    return replace(there, height_m=_distance(figures, "height", surface.height_m), reflectance=reflects)


def _scrim(scrim: ScrimSpot, figures: Mapping[str, str]) -> ScrimSpot:
    wide = read_coordinate(figures["wide"]) if "wide" in figures else 2 * scrim.radius_m
    return ScrimSpot(
        _distance(figures, "x", scrim.x_m),
        _distance(figures, "y", scrim.y_m),
        _distance(figures, "height", scrim.height_m),
        wide / 2,
        read_stops(figures["takes"]) if "takes" in figures else scrim.stops,
    )


def _cable(layout: Layout, name: str, figures: Mapping[str, str]) -> Layout:
    spot = layout.lights.get(name)
    if spot is None or spot.cable is None:
        raise NoSuchThing("That cable does not lie on this plan any more.")
    x, y = spot.cable
    led = replace(spot, cable=(_distance(figures, "x", x), _distance(figures, "y", y)))
    return replace(layout, lights={**layout.lights, name: led})


def _light(layout: Layout, spot: LightSpot, figures: Mapping[str, str]) -> LightSpot:
    """A light moved on the ground, in height, along its bearing or round the subject; aimed at the face, or
    past it by so many degrees."""
    found = replace(
        spot,
        x_m=_distance(figures, "x", spot.x_m),
        y_m=_distance(figures, "y", spot.y_m),
        height_m=_distance(figures, "height", spot.height_m),
    )
    if "angle" in figures:
        found = turned_round(layout, found, read_angle(figures["angle"]))
    if "distance" in figures:
        far = read_coordinate(figures["distance"])
        limits.LIGHT_DISTANCE.check("distance", far)
        found = along_bearing(found, layout.face, far)
    if "past" in figures:
        found = replace(found, aim=aimed_past(layout, found, read_angle(figures["past"])))
    return found
