"""From a way's levels to how much of each unit picture it takes, and in which colour."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache, partial
from math import log2

import numpy as np

from noggin.core.advice.details import black_part, clipping_level
from noggin.core.advice.white_balance import Colours, colours
from noggin.core.daylight.sun import sun_at
from noggin.core.layout.standing import SunOver, key_name, names_of
from noggin.core.physics import optics
from noggin.core.physics.colour import LAMPS_K, LUMINANCE, OVERCAST_K, Tint, glow_at_horizon, tint
from noggin.core.planning.lighting import FACES_AT, Firing, spill
from noggin.core.planning.way import Way
from noggin.core.proof.bounced import Patches
from noggin.core.proof.irradiance import from_source, open_sky, sun_on_stage
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.stage import ProofStage, StageLight, sun_direction
from noggin.core.setup.layout import Point
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GROUNDS, LANTERN, SKIES
from noggin.core.units import Metres, Stops

SKY, SUN, SUN_BACK = " sky", " sun", " sun thrown on"
"""Names of daylight's unit pictures; no light's name begins with a space."""

SUN_FACED_LEAST = 0.15
"""The same for a sun that lights the side turned to the camera."""

SKY_LEAST = 0.2
"""At least this part of the light on the subject is left to the sky where a surface throws the sun on: the
plan's figure holds, however much the surface would add."""

GROUND_LIGHT_MOST = 1.0
"""The ground never throws back more than the sky gives in a proof: people and things stand on it."""


@dataclass(frozen=True)
class MixturePart:
    """One light's part of a picture: its unit picture's name, the linear amount of it, its colour, and
    what of it gets to each row of the frame (None: all of it). `flash` says that it is not daylight,
    `frozen` that movement does not smear it, and `card` what a card square to the key gets of one unit
    of it."""

    name: str
    amount: float
    colour: Tint
    flash: bool
    card: float
    frozen: bool = False
    rows: tuple[float, ...] | None = None


@dataclass(frozen=True)
class Behind:
    """What lights the background: a name (" sky" for daylight), the linear amount, its colour."""

    name: str
    amount: float
    colour: Tint
    flash: bool


@dataclass(frozen=True)
class Mixture:
    """A whole picture as amounts: of the unit pictures, on the background, of the sky and of lamps (None:
    none are in the picture); the blur disc of the background, those of the people with how far away they
    are, and the smear, in parts of the frame's width; the level at which the sensor is full, the
    white balance in kelvin, and how strongly the sky glows at the horizon, and in which colour."""

    parts: tuple[MixturePart, ...]
    behind: tuple[Behind, ...]
    sky: tuple[float, Tint] | None
    blur: float
    people_blurs: tuple[tuple[float, Metres], ...]
    smear: float
    full: Stops
    white_balance_k: float
    lamps: tuple[float, Tint] | None = None
    glow: tuple[float, Tint] | None = None

    def only(self, names: frozenset[str] | None, flash: bool | None) -> "Mixture":
        """The same with some lights alone: those of a name, or all flash or all daylight."""

        def kept(part: MixturePart | Behind) -> bool:
            return (names is None or part.name in names) and (flash is None or part.flash == flash)

        return replace(
            self,
            parts=tuple(filter(kept, self.parts)),
            behind=tuple(filter(kept, self.behind)),
            sky=self.sky if (names is None or SKY in names) and flash is not True else None,
            lamps=self.lamps if names is None and flash is not True else None,
        )


def mixture(
    setup: SetUp, way: Way, sources: Mapping[str, StageLight], sun: SunOver | None, stage: ProofStage
) -> Mixture:
    """How much of everything a way takes; `sources` are the set-up's lights on its stage."""
    levels, seen = way.lighting.levels, colours(setup, way, sun)
    key = key_name(setup)
    square = _square_to(sources[key])
    parts = [
        *_daylight(setup, way, seen, sun, square, stage),
        *_lights(setup, way, seen, sources, key, square, stage),
    ]
    width = setup.camera.sensor_mm[0]
    focal_part = setup.lens.focal_mm / width
    moved = setup.scene.subject_speed_m_s * way.settings.shutter.value / stage.subject_m * focal_part
    return Mixture(
        tuple(part for part in parts if part.amount > 0),
        tuple(_behind(setup, way, seen)),
        None if levels.sky is None else (2**levels.sky, tint(_sky_kelvin(seen), seen.white_balance_k)),
        optics.blur_disc(
            stage.subject_m,
            setup.scene.background_distance_m,
            setup.lens.focal_mm,
            way.settings.aperture.value,
        )
        / width,
        tuple(_people_blurs(setup, way, stage)),
        moved,
        clipping_level(setup, way),
        seen.white_balance_k,
        (2 ** way.settings.level(LANTERN), tint(LAMPS_K, seen.white_balance_k))
        if stage.has_lamps
        else None,
        _glow(setup, seen.white_balance_k),
    )


def _glow(setup: SetUp, balance_k: float) -> tuple[float, Tint] | None:
    """The colour of a clear sky at the horizon, morning and evening; None where it has none of its own."""
    moment = setup.scene.moment
    if moment is None or SKIES[moment.place.sky].extinction is None:
        return None
    place = moment.place
    strength, hue = glow_at_horizon(sun_at(place.lat, place.lon, moment.time).height_deg)
    if not strength:
        return None
    seen = [one * other for one, other in zip(hue, tint(GLOW_K, balance_k), strict=True)]
    luminance = sum(one * part for one, part in zip(seen, LUMINANCE.tolist(), strict=True))
    red, green, blue = (round(one / luminance, 6) for one in seen)
    return strength, (red, green, blue)


GLOW_K = 5500.0
"""The white that the hues of a glowing sky were chosen by."""


def _people_blurs(setup: SetUp, way: Way, stage: ProofStage) -> Iterator[tuple[float, Metres]]:
    for person in stage.people:
        away = stage.view.at[2] - person.eyes[2]
        disc = optics.blur_disc(stage.subject_m, away, setup.lens.focal_mm, way.settings.aperture.value)
        yield disc / setup.camera.sensor_mm[0], away


def _sky_kelvin(seen: Colours) -> float:
    """The colour of the sky as a surface: bluer than what the whole of it gives."""
    return min(seen.sky * 1.2, 20_000) if seen.sky > OVERCAST_K else seen.sky


def _square_to(source: StageLight) -> Floats:
    """The normal of a card at the face that is square to a light."""
    away = floats(source.at) - floats(source.square_at)
    found: Floats = away / np.linalg.norm(away)
    return found


def thrown_back(setup: SetUp, sun: SunOver | None) -> float:
    """The ground's light as a part of the sky's: `½ρ(E_dn·sin h + E_sky)` against `½·E_sky`, held down."""
    rho = GROUNDS[setup.scene.ground].reflectance
    return min(rho * (sun.on_ground if sun else 1.0), GROUND_LIGHT_MOST)


def _daylight(
    setup: SetUp, way: Way, seen: Colours, sun: SunOver | None, square: Floats, stage: ProofStage
) -> Iterator[MixturePart]:
    """Sky and sun on the people: together what a card square to the key has of daylight is the plan's
    ambient level on the subject."""
    levels, back = way.lighting.levels, thrown_back(setup, sun)
    upright = open_sky(0.0, back)
    on_card = max(open_sky(float(square[1]), back) / upright + _sky_hidden(stage, square), 0.1)
    ambient = 2**levels.subject_ambient
    share, from_sun, card_sun = 0.0, 0.0, 0.0
    if sun is not None and sun.share > 0:
        toward = sun_direction(sun)
        card_sun = float(square @ toward)
        if card_sun > SUN_FACED_LEAST:
            share = sun.share
            from_sun = share * ambient / card_sun
        else:
            # The key lights the side that the sun does not: the plan's figure is that side's.
            from_sun, card_sun = 0.5 * ambient / max(float(toward[2]), 0.05), 0.0
    elif sun is not None and setup.scene.rim is not None:
        from_sun = 2 ** way.settings.level(setup.scene.rim)
    balance = seen.white_balance_k
    of_sky = tint(seen.sky if share else seen.subject, balance)
    of_sun = tint(seen.sun, balance)
    rest, on = (1 - share) * ambient, 0.0
    if sun is not None and from_sun:
        on = thrown_on(stage, square, partial(sun_on_stage, stage, sun_direction(sun)))
    thrown = min(from_sun, (1 - SKY_LEAST) * rest / on) if on else 0.0
    yield MixturePart(SKY, (rest - thrown * on) / on_card, of_sky, False, on_card)
    yield MixturePart(SUN, from_sun, of_sun, False, max(card_sun, 0.0))
    yield MixturePart(SUN_BACK, thrown, of_sun, False, on)


def thrown_on(stage: ProofStage, square: Floats, light_on: Callable[[Floats, Floats], Floats]) -> float:
    """What a card at the face, with a normal, has of light that the stage's surfaces throw on; `light_on`
    gives what falls on them."""
    return sum(
        float(light_on(floats(patches.places), floats(patches.normals)) @ onto)
        for patches, onto in _onto(stage, square)
    )


def _sky_hidden(stage: ProofStage, square: Floats) -> float:
    """What surfaces take off the sky's light on a card, less what they throw back of it."""
    return sum(float(onto.sum()) * (1 - 1 / patches.reflectance) for patches, onto in _onto(stage, square))


def _onto(stage: ProofStage, square: Floats) -> Iterator[tuple[Patches, Floats]]:
    """The stage's surfaces, each with what a card at the face has of what falls on its patches."""
    for patches in stage.patches:
        yield patches, patches.onto(floats(stage.face)[None], square[None])[:, 0]


def _lights(
    setup: SetUp,
    way: Way,
    seen: Colours,
    sources: Mapping[str, StageLight],
    key: str,
    square: Floats,
    stage: ProofStage,
) -> Iterator[MixturePart]:
    for name, firing in zip(names_of(setup), way.lighting.firings, strict=True):
        level, rows = _level(setup, way, firing)
        if level is None:
            continue
        # Key and fill add up in full, as an incident meter's dome has them; the plan counts so too.
        # What surfaces throw on is part of a light's level, not more of it.
        source, amount, on_card = sources[name], 2**level, 1.0
        if source.thrown_on:
            on_card += thrown_on(stage, square, partial(from_source, source))
            amount /= on_card
        else:
            on_card = _on_card(source, sources[key].square_at, tuple(square.tolist()))
        colour = tint(seen.flash[name], seen.white_balance_k)
        yield MixturePart(name, amount, colour, True, on_card, not firing.hss, rows)


@lru_cache(maxsize=256)
def _on_card(source: StageLight, face: Point, normal: Point) -> float:
    """What a card at the face, with a normal, gets of a light."""
    return float(from_source(source, floats(face)[None], floats(normal)[None])[0])


def _level(setup: SetUp, way: Way, firing: Firing) -> tuple[Stops | None, tuple[float, ...] | None]:
    """A light's level, and what of it gets to each of some rows of the frame, top to bottom: past sync it
    droops, and one without high-speed sync is missing from the foot of the frame."""
    light = firing.light
    if firing.level is not None:
        if firing.hss and light.hss_droop:
            factors = (2 ** (light.droop_at(height) - light.droop_at(FACES_AT)) for height in _HEIGHTS)
            return firing.level, tuple(factors)
        return firing.level, None
    black = black_part(setup, way)
    if firing.full is None and firing.needed is not None and black is not None:
        return firing.needed, tuple(0.0 if height > 1 - black else 1.0 for height in _HEIGHTS)
    return None, None


_HEIGHTS = tuple((index + 0.5) / 200 for index in range(200))
"""Heights of the frame, from its top, at which a light's rows are worked out."""


def _behind(setup: SetUp, way: Way, seen: Colours) -> Iterator[Behind]:
    """What lights the background: daylight, what key and fill leave there, and background lights."""
    levels, balance = way.lighting.levels, seen.white_balance_k
    yield Behind(SKY, 2**levels.background_ambient, tint(seen.background, balance), False)
    for name, firing in zip(names_of(setup), way.lighting.firings, strict=True):
        level = spill(setup, firing)
        if level is not None:
            yield Behind(name, 2**level, tint(seen.flash[name], balance), True)


def as_it_came_out(
    made: Mixture, background: Stops, subject: Stops, daylight: Stops, sky: Stops | None, flash: bool
) -> Mixture:
    """The same picture with zones where they really came out: background, subject, what the subject has of
    daylight, and sky, in stops from mid-tone; without any flash where none fired."""
    parts = [part for part in made.parts if flash or not part.flash]
    day = sum(part.amount * part.card for part in parts if not part.flash)
    fired = sum(part.amount * part.card for part in parts if part.flash)
    whole = 2**subject
    by_day = min(2**daylight, whole) if fired else whole
    scales = {False: by_day / day if day else 0.0, True: (whole - by_day) / fired if fired else 0.0}
    behind = [part for part in made.behind if flash or not part.flash]
    shown = 2**background / sum(part.amount for part in behind)
    return replace(
        made,
        parts=tuple(replace(part, amount=part.amount * scales[part.flash]) for part in parts),
        behind=tuple(replace(part, amount=part.amount * shown) for part in behind),
        sky=None if sky is None or made.sky is None else (2**sky, made.sky[1]),
    )


def total_on_card(parts: tuple[MixturePart, ...]) -> float:
    """Linear light on a card square to the key, 1 at a level of 0."""
    return sum(part.amount * part.card for part in parts)


def level_of(linear: float) -> Stops:
    """A linear amount as a level; −20 for next to nothing.

    >>> level_of(2.0), level_of(0.0)
    (1.0, -20.0)
    """
    return max(log2(linear), -20.0) if linear > 0 else -20.0
