"""The figures of what stands on a plan: shown as a person reads them, and read as a person types them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from noggin.core import limits
from noggin.core.errors import NogginError, Refused
from noggin.core.plan_view.findings import LightFinding, Standing
from noggin.core.plan_view.geometry import along_bearing
from noggin.core.plan_view.moves import aimed_past, past_deg, turned_round
from noggin.core.setup.ground_plan import (
    CameraSpot,
    GroundPlan,
    LightSpot,
    PersonSpot,
    ScrimSpot,
    SurfaceLine,
)
from noggin.core.typed.parse_places import read_angle, read_percentage, read_place
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
class PlanRow:
    """Something that stands on the plan and the figures that move it; `removable` if it can be left out."""

    item: str
    title: str
    figures: tuple[RowFigure, ...]
    removable: bool = False


def row_of_light(standing: Standing, found: LightFinding) -> PlanRow:
    """The figures of a light. One on the background has no angle to a face."""
    spot, item = standing.plan.lights[found.name], f"light:{found.name}"
    title = f"{found.light.role.capitalize()}: {found.name}"
    height = RowFigure("height", "Height", metres(spot.height_m))
    if found.light.role == "background":
        place = _place(spot.x_m, spot.y_m, "Across, left −", "Behind the focus")
        return PlanRow(item, title, (*place, height))
    figures = (
        RowFigure("distance", "Distance", metres(found.distance_m)),
        RowFigure("angle", "Angle, left −", _degrees(found.placement.off_deg)),
        height,
        RowFigure("past", "Aimed past, away −", _degrees(past_deg(standing.plan, spot))),
    )
    return PlanRow(item, title, figures)


def rows_of_others(plan: GroundPlan) -> tuple[PlanRow, ...]:
    """The figures of people, surfaces and the camera."""
    several = len(plan.people) > 1
    people = (_row_of_person(index, person, several) for index, person in enumerate(plan.people))
    surfaces = (_row_of_surface(plan, index) for index in range(len(plan.surfaces)))
    scrim = (_row_of_scrim(plan.scrim),) if plan.scrim else ()
    cables = (_row_of_cable(name, *spot.cable) for name, spot in plan.lights.items() if spot.cable)
    return (*people, *surfaces, *scrim, *cables, _row_of_camera(plan), _row_of_wind(plan))


def _row_of_person(index: int, person: PersonSpot, removable: bool) -> PlanRow:
    figures = (
        *_place(person.x_m, person.y_m, "Across, left −", "Behind the focus"),
        RowFigure("height", "Eyes at", metres(person.height_m)),
        RowFigure("turn", "Looks, left −", _degrees(person.turn_deg)),
    )
    return PlanRow(f"person:{index}", person.role.capitalize() or f"Person {index + 1}", figures, removable)


def _row_of_surface(plan: GroundPlan, index: int) -> PlanRow:
    surface = plan.surfaces[index]
    figures = (
        *_place(*surface.middle, "Middle across", "Middle behind"),
        RowFigure("height", "Height", metres(surface.height_m)),
        RowFigure("reflects", "Throws back", percent(surface.reflectance)),
    )
    return PlanRow(f"surface:{index}", plan.surface_names[index].capitalize(), figures, True)


def _row_of_scrim(scrim: ScrimSpot) -> PlanRow:
    figures = (
        *_place(scrim.x_m, scrim.y_m, "Across, left −", "Behind the focus"),
        RowFigure("height", "Middle at", metres(scrim.height_m)),
        RowFigure("wide", "Wide", metres(2 * scrim.radius_m)),
        RowFigure("takes", "Takes off", stops(scrim.stops)),
    )
    return PlanRow("scrim", "Scrim", figures, True)


def _row_of_cable(name: str, x_m: float, y_m: float) -> PlanRow:
    figures = _place(x_m, y_m, "Leads to, left −", "Behind the focus")
    return PlanRow(f"cable:{name}", f"Cable of {name}", figures, True)


def _row_of_wind(plan: GroundPlan) -> PlanRow:
    text = "" if plan.wind_deg is None else _degrees(plan.wind_deg)
    figure = RowFigure("from", "From: 0 ahead, right +", text)
    return PlanRow("wind", "Wind", (figure,), plan.wind_deg is not None)


def _row_of_camera(plan: GroundPlan) -> PlanRow:
    facing = "" if plan.facing_deg is None else f"{number(plan.facing_deg, 0)}°"
    figures = (
        RowFigure("away", "From the subject", metres(plan.subject_distance_m())),
        RowFigure("height", "Lens at", metres(plan.camera.height_m)),
        RowFigure("facing", "Looks toward", facing),
    )
    return PlanRow("camera", "Camera", figures)


def _place(x_m: float, y_m: float, across: str, behind: str) -> tuple[RowFigure, RowFigure]:
    def text(value: float) -> str:
        return metres(value).replace("-", MINUS)

    return RowFigure("x", across, text(x_m)), RowFigure("y", behind, text(y_m))


def _degrees(value: float) -> str:
    return f"{signed(value, 0)}°"


def moved(standing: Standing, item: str, typed: Mapping[str, str]) -> GroundPlan:
    """The plan with one thing where typed figures say; those that are left out, or stand as they are shown,
    stay to their last digit. Raises NoSuchThing, Refused, Unreadable."""
    plan = standing.plan
    shown = {(row.item, one.name): one.text for row in _rows(standing) for one in row.figures}
    figures = {
        name: text for name, text in typed.items() if text.strip() and text != shown.get((item, name))
    }
    kind, _, name = item.partition(":")
    if kind == "camera":
        return _camera(plan, figures)
    if kind == "person":
        index = index_of(item, len(plan.people))
        people = list(plan.people)
        people[index] = _person(people[index], figures)
        return replace(plan, people=tuple(people))
    if kind == "surface":
        index = index_of(item, len(plan.surfaces))
        surfaces = list(plan.surfaces)
        surfaces[index] = _surface(surfaces[index], figures)
        return replace(plan, surfaces=tuple(surfaces))
    if kind == "wind":
        return replace(plan, wind_deg=_angle(figures, "from", plan.wind_deg or 0.0))
    if kind == "scrim" and plan.scrim is not None:
        return replace(plan, scrim=_scrim(plan.scrim, figures))
    if kind == "cable":
        return _cable(plan, name, figures)
    if kind != "light" or name not in plan.lights:
        raise NoSuchThing("That does not stand on this plan any more.")
    return replace(plan, lights={**plan.lights, name: _light(plan, plan.lights[name], figures)})


def _rows(standing: Standing) -> tuple[PlanRow, ...]:
    return (*(row_of_light(standing, one) for one in standing.lights), *rows_of_others(standing.plan))


def index_of(item: str, count: int) -> int:
    """Which of so many a thing's name says it is. Raises NoSuchThing."""
    text = item.partition(":")[2]
    if not text.isdecimal() or not 0 <= int(text) < count:
        raise NoSuchThing("That does not stand on this plan any more.")
    return int(text)


def _distance(figures: Mapping[str, str], key: str, now: float) -> float:
    return read_place(figures[key]) if key in figures else now


def _angle(figures: Mapping[str, str], key: str, now: float) -> float:
    return read_angle(figures[key]) if key in figures else now


def _camera(plan: GroundPlan, figures: Mapping[str, str]) -> GroundPlan:
    """The camera on its axis, nearer or farther, higher or lower, and where it looks."""
    away = _distance(figures, "away", -_distance(figures, "y", plan.camera.y_m))
    if away <= 0:
        raise Refused("away", "the camera stands before the subject: give how far away it is")
    limits.SUBJECT_DISTANCE.check("away", away)
    camera = CameraSpot(0.0, -away, _distance(figures, "height", plan.camera.height_m))
    facing = _angle(figures, "facing", 0.0) % 360 if "facing" in figures else plan.facing_deg
    return replace(plan, camera=camera, facing_deg=facing)


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
    wide = read_place(figures["wide"]) if "wide" in figures else 2 * scrim.radius_m
    return ScrimSpot(
        _distance(figures, "x", scrim.x_m),
        _distance(figures, "y", scrim.y_m),
        _distance(figures, "height", scrim.height_m),
        wide / 2,
        read_stops(figures["takes"]) if "takes" in figures else scrim.stops,
    )


def _cable(plan: GroundPlan, name: str, figures: Mapping[str, str]) -> GroundPlan:
    spot = plan.lights.get(name)
    if spot is None or spot.cable is None:
        raise NoSuchThing("That cable does not lie on this plan any more.")
    x, y = spot.cable
    led = replace(spot, cable=(_distance(figures, "x", x), _distance(figures, "y", y)))
    return replace(plan, lights={**plan.lights, name: led})


def _light(plan: GroundPlan, spot: LightSpot, figures: Mapping[str, str]) -> LightSpot:
    """A light moved on the ground, in height, along its bearing or round the subject; aimed at the face, or
    past it by so many degrees."""
    found = replace(
        spot,
        x_m=_distance(figures, "x", spot.x_m),
        y_m=_distance(figures, "y", spot.y_m),
        height_m=_distance(figures, "height", spot.height_m),
    )
    if "angle" in figures:
        found = turned_round(plan, found, read_angle(figures["angle"]))
    if "distance" in figures:
        far = read_place(figures["distance"])
        limits.LIGHT_DISTANCE.check("distance", far)
        found = along_bearing(found, plan.face, far)
    if "past" in figures:
        found = replace(found, aim=aimed_past(plan, found, read_angle(figures["past"])))
    return found
