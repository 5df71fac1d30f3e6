"""Whether a ground plan and the figures of a set-up say the same: they are one truth."""

from collections.abc import Iterator, Sequence
from math import dist

from noggin.core.errors import Refused
from noggin.core.setup.layout import Layout, Point, light_names, signed_angle
from noggin.core.setup.light import Light
from noggin.core.setup.scene import Scene
from noggin.core.units import Metres
from noggin.core.wording import metres, number

AGREES_M: Metres = 0.01
"""Distances of plan and figures may differ by this much."""

AGREES_DEG = 0.5
"""And angles by this much."""

EDGE = 1e-6
"""What a figure that is written with its last digit may be beside that."""


def lit_at(layout: Layout, name: str, role: str, behind_m: Metres) -> Point:
    """What a light's distance counts to: the face, or the background straight behind it, or where a
    background light is aimed."""
    if role != "background":
        return layout.face
    spot = layout.lights[name]
    return spot.aim or (layout.face[0], layout.face[1] + behind_m, spot.height_m)


def check_agreement(layout: Layout, scene: Scene, lights: Sequence[Light], behind_m: Metres) -> None:
    """Raise Refused with the name of the first figure that disagrees with the plan."""
    for disagreement in _disagreements(layout, scene, lights, behind_m):
        raise disagreement


def agrees(layout: Layout, scene: Scene, lights: Sequence[Light], behind_m: Metres) -> bool:
    """Whether plan and figures say the same."""
    return next(_disagreements(layout, scene, lights, behind_m), None) is None


def _disagreements(
    layout: Layout, scene: Scene, lights: Sequence[Light], behind_m: Metres
) -> Iterator[Refused]:
    names = light_names(tuple(light.says for light in lights))
    for name in layout.lights:
        if name not in names:
            yield Refused(f"scene.plan.lights.{name}", "no light of this set-up is called that")
    for figure, stated, options in _distances(layout, scene, names, lights, behind_m):
        if all(abs(stated - found) > AGREES_M + EDGE for found in options):
            yield Refused(figure, f"{metres(stated)} is not what the plan says, {metres(options[0])}")
    for index, (name, light) in enumerate(zip(names, lights, strict=True)):
        if name in layout.lights and light.role != "background":
            angle = layout.angle_deg(name)
            off = min(abs(angle - light.angle_deg), abs(_first(layout, name) - light.angle_deg))
            if off > AGREES_DEG + EDGE:
                problem = f"{number(light.angle_deg)}° is not what the plan says, {number(angle, 1)}°"
                yield Refused(f"lights[{index}].angle_deg", problem)


def _distances(
    layout: Layout, scene: Scene, names: Sequence[str], lights: Sequence[Light], behind_m: Metres
) -> Iterator[tuple[str, Metres, tuple[Metres, ...]]]:
    """Every distance that a set-up states, by its name in the document, and what the plan has for it: from
    the lens on the ground or in space, from a light in space."""
    lens, people = layout.camera.at, layout.people
    first = people[0].face
    to_subject = (*_apart(lens, layout.face), *_apart(lens, first))
    yield "scene.subject_distance_m", scene.subject_distance_m, to_subject
    for index, (stated, person) in enumerate(zip(scene.faces_m, people, strict=False)):
        yield f"scene.face_distances_m[{index}]", stated, _apart(lens, person.face)
    for index, (name, light) in enumerate(zip(names, lights, strict=True)):
        if name not in layout.lights:
            continue
        at = layout.lights[name].at
        lit = lit_at(layout, name, light.role, behind_m)
        own = (dist(at, lit),) if light.role == "background" else (dist(at, lit), dist(at, first))
        yield f"lights[{index}].distance_m", light.distance_m, own
        faces = light.faces_m if light.role != "background" else ()
        for face, (stated, person) in enumerate(zip(faces, people, strict=False)):
            yield f"lights[{index}].face_distances_m[{face}]", stated, (dist(at, person.face),)


def _apart(lens: Point, face: Point) -> tuple[Metres, ...]:
    return dist(lens[:2], face[:2]), dist(lens, face)


def _first(layout: Layout, name: str) -> float:
    """The angle of a light as the first person has it, where they do not stand on the origin itself."""
    return abs(signed_angle(layout.people[0].face, layout.camera.at, layout.lights[name].at))
