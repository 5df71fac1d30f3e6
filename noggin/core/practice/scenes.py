"""Set-ups to practise with: scenes, cameras and lights that happen, put together by chance. Invented; the
lights' figures are their classes'."""

from dataclasses import dataclass, replace
from math import dist
from random import Random

from noggin.core.physics.filters import Filter
from noggin.core.physics.optics import distance_of_frame
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.layout import CameraSpot, Layout, LightSpot, PersonSpot
from noggin.core.setup.light import Light
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from noggin.core.units import EV100, Metres, Stops


@dataclass(frozen=True)
class SceneKind:
    """A kind of light to work in: how it is said, EV100 of background, face, sky and rim (None: not in the
    picture), how the background is meant there, how far behind the face it may be, and how near the light
    stands against where it usually does."""

    words: str
    background: EV100
    subject: EV100
    sky: EV100 | None
    rim: EV100 | None
    meant: tuple[Stops, ...]
    behind_m: tuple[Metres, ...] = (6.0, 12.0, 30.0)
    near: tuple[float, ...] = (0.8, 1.0, 1.25)


SCENES = {
    "noon": SceneKind("Noon, the sun behind them", 14.3, 11.8, 14.8, 14.8, (-1.0, -1.5, -2.0)),
    "cloud": SceneKind("Under bright cloud", 12.6, 12.0, 13.8, None, (-1.0, -1.5, -2.0)),
    "shade": SceneKind(
        "Noon, in the shade, dark trees behind", 9.6, 11.6, None, None, (-5.5,), (20.0, 30.0), (0.55, 0.65)
    ),
    "late": SceneKind("Late sun behind them", 12.0, 9.6, 12.6, 12.4, (-0.5, -1.0, -1.5)),
    "dusk": SceneKind("At dusk", 7.6, 6.3, 8.4, None, (0.0, -0.5, -1.0)),
    "hall": SceneKind("In the hall, by lamps", 5.6, 5.3, None, None, (-0.5, -1.0)),
}
"""Kinds of light. EV100 of the trade's full-sun scale; common practice, no source."""

LIGHTS = {
    "large": Light(
        40, 2.0, name="large head, 600 Ws class", radius_m=0.45, loss=0.2, hss_toll=1.1, power_min=1 / 256
    ),
    "pocket": Light(
        22, 1.8, name="pocket strobe, 200 Ws class", radius_m=0.3, loss=0.4, hss_toll=2.0, power_min=1 / 256
    ),
    "speedlight": Light(
        29, 1.5, name="speedlight in an umbrella", radius_m=0.4, loss=1.3, hss_toll=2.4, head="speedlight"
    ),
}
"""Key lights, in their modifiers. Class defaults."""

FILTERS = (Filter("3-stop ND", 3, 3), Filter("6-stop ND", 6, 6))


def portrait(chance: Random, kind: str, light: str, aperture: float | None = None) -> SetUp:
    """A portrait in a kind of light (a key of SCENES) with a light (a key of LIGHTS), the light's distance,
    the background and what is meant by chance."""
    row = SCENES[kind]
    by = chance.choice([-1 / 3, 0.0, 1 / 3])
    away = chance.choice(row.near)
    key = LIGHTS[light]
    focal, wide = chance.choice([(50, 1.2), (85, 1.1), (85, 1.5), (135, 1.1)])
    from_lens = round(distance_of_frame(wide, focal, 36), 1)
    return SetUp(
        row.words,
        Scene(
            from_lens,
            from_lens + chance.choice(row.behind_m),
            row.background + by,
            row.subject + by,
            None if row.sky is None else row.sky + by,
            None if row.rim is None else row.rim + by,
        ),
        Intent(chance.choice(row.meant), aperture or chance.choice([2.0, 2.8, 4.0])),
        Camera(chance.choice([1 / 200, 1 / 250]), slowest_s=1 / 15),
        Lens(focal, 1.8, 16),
        (replace(key, distance_m=round(key.distance_m * away, 1)),),
        FILTERS,
    )


def placed(setup: SetUp, person: PersonSpot, light: LightSpot) -> SetUp:
    """The same with one person and the key where they are put."""
    distance = dist(person.face, light.at)
    key = replace(setup.key, distance_m=distance)
    layout = Layout(
        CameraSpot(0.0, -setup.scene.subject_distance_m), (person,), {key.says: light}, facing_deg=None
    )
    angle = layout.angle_deg(key.says)
    moved = replace(setup, scene=replace(setup.scene, layout=None), lights=(replace(key, angle_deg=angle),))
    return replace(moved, scene=replace(moved.scene, layout=layout))
