"""A plan that follows figures: where a distance, an angle or a height was changed, things move to where
it is so, along their bearing."""

from collections.abc import Iterator
from dataclasses import replace
from math import dist, hypot, sqrt

from noggin.core.layout.geometry import along_bearing
from noggin.core.layout.standing import at_angle, layout_of, names_of
from noggin.core.physics.wind import Stand
from noggin.core.setup.agreement import AGREES_DEG, AGREES_M, lit_at
from noggin.core.setup.layout import (
    CameraSpot,
    Layout,
    LightSpot,
    PersonSpot,
    signed_angle,
)
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp

CLOSE = 1e-3
"""Written figures are rounded to millimetres and tenths of degrees: what differs by less is the same."""


def followed(layout: Layout, bare: SetUp) -> Layout:
    """The plan as the figures of a set-up want it; `bare` is the set-up without a plan. What agrees stays
    where it is; a light without a place gets the one its figures give it."""
    camera = _camera(layout, bare)
    people = tuple(_people(layout, bare, camera))
    moved = replace(layout, camera=camera, people=people)
    usual = layout_of(bare).lights
    names = names_of(bare)
    lights = _renamed(layout, names)
    found: dict[str, LightSpot] = {}
    for name, light in zip(names, bare.lights, strict=True):
        spot = lights.get(name)
        if spot is None:
            found[name] = usual[name]
        else:
            found[name] = _light(replace(moved, lights={name: spot}), name, light, bare)
    return replace(moved, lights=found)


def _renamed(layout: Layout, names: tuple[str, ...]) -> dict[str, LightSpot]:
    """The places of lights by their names; one that was given another name keeps its place."""
    kept = {name: spot for name, spot in layout.lights.items() if name in names}
    gone = [name for name in layout.lights if name not in names]
    new = [name for name in names if name not in layout.lights]
    if len(gone) == len(new) == 1:
        kept[new[0]] = layout.lights[gone[0]]
    return kept


def _camera(layout: Layout, bare: SetUp) -> CameraSpot:
    camera, wanted = layout.camera, bare.scene.subject_distance_m
    now = hypot(camera.x_m, camera.y_m)
    if min(abs(now - wanted), abs(dist(camera.at, layout.face) - wanted)) <= AGREES_M or not now:
        return camera
    return replace(camera, x_m=camera.x_m * wanted / now, y_m=camera.y_m * wanted / now)


def _people(layout: Layout, bare: SetUp, camera: CameraSpot) -> Iterator[PersonSpot]:
    faces, said = bare.scene.faces_m, bare.scene.people
    for index, person in enumerate(layout.people):
        if index < len(said):
            person = replace(
                person, skin=said[index].skin or person.skin, wears=said[index].wears or person.wears
            )
        if index < len(faces):
            away = dist(camera.at[:2], person.face[:2])
            if min(abs(away - faces[index]), abs(dist(camera.at, person.face) - faces[index])) > AGREES_M:
                along = sqrt(max(faces[index] ** 2 - (person.x_m - camera.x_m) ** 2, 0.0))
                person = replace(person, y_m=camera.y_m + along)
        yield person


def _light(layout: Layout, name: str, light: Light, bare: SetUp) -> LightSpot:
    spot = layout.lights[name]
    if abs(spot.height_m - light.stand.height_m) > CLOSE and light.stand.height_m != Stand.height_m:
        spot = replace(spot, height_m=light.stand.height_m)
    if light.role == "background":
        lit = lit_at(layout, name, light.role, bare.behind_m)
        if abs(dist(spot.at, lit) - light.distance_m) > AGREES_M:
            spot = along_bearing(spot, lit, light.distance_m)
        return spot
    off = signed_angle(layout.face, layout.camera.at, spot.at)
    far = dist(spot.at, layout.face)
    if abs(abs(off) - light.angle_deg) > AGREES_DEG:
        side = -1.0 if off < 0 else 1.0
        turned = at_angle(layout.face, side * light.angle_deg, far, spot.height_m)
        spot = replace(turned, aim=spot.aim)
    if abs(far - light.distance_m) > AGREES_M:
        spot = along_bearing(spot, layout.face, light.distance_m)
    return spot
