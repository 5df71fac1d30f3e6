"""When cautions apply: each a plain question to a set-up and a way."""

from collections.abc import Iterable
from math import hypot, log2

from noggin.core.advice.details import clipping_level, zones
from noggin.core.daylight.forecast import sun_off_view
from noggin.core.daylight.sky import daylight
from noggin.core.daylight.sun import sun_at
from noggin.core.layout.findings import light_shows
from noggin.core.physics import curtains, flash, optics
from noggin.core.physics.appearance import CLIP, clips
from noggin.core.physics.wind import ballast
from noggin.core.planning.lighting import Firing
from noggin.core.planning.motion import EDGES_HOLD, motion
from noggin.core.planning.way import Way
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.tables import BACKLIT, TOWARD_SUN_DEG
from noggin.core.units import EV100, TOLERANCE, Metres, Seconds, Stops
from noggin.core.wording import listed, plain, signed

FILTER_BLINDS: Stops = 6
"""From this strength up the finder is too dim in any light. Common practice, no source."""

FINDER_NEEDS: EV100 = 2
"""EV100 behind the filter under which autofocus fails. Common practice, no source."""

WORTH_SAYING: Stops = 1 / 3
"""A difference in stops that shows, and is said aloud. Common practice, no source."""

CLOSE_TO_EYES: Metres = 1.0
"""A light this near is close to the eyes. Common practice, no source."""

BIG_FACE: Metres = 0.3
"""Radius of a modifier from which wind matters. Common practice, no source."""

CUT_OUT: Stops = -3.0
"""Background from which a well-lit subject begins to look cut out. Common practice, no source."""

SHALLOW: Metres = 0.15
"""Depth of field from which sharpness must be judged magnified. Common practice, no source."""

LOW_SUN = 8.0
"""Height in degrees under which the sun is much warmer than a flash. Common practice, no source."""

BRIGHT_OUT: EV100 = 12
"""From here a camera's screen and optical slaves are in too much light. Common practice, no source."""

OUTDOORS: EV100 = 9
"""From here up a background is under the sky, where nothing else says so. Common practice, no source."""

NIGHT_DEG = -6.0
"""Height of the sun under which lamps are most of the light: the end of civil twilight."""

LAMPS: EV100 = 7
"""From here down lamps are part of the light, and flicker. Common practice, no source."""

DRAGGED: Seconds = 1 / 30
"""A time from which movement trails behind what the flash froze. Common practice, no source."""

NEAR_LEAST: Stops = 1.0
"""So near its least power a light varies from pop to pop. Common practice, no source."""

FULL_LENGTH: Metres = 1.8
"""Height of a frame that takes in a person from head to feet."""

LEAPING = 3.0
"""Speed in m/s from which a subject leaps or runs; see `tables.MOVEMENTS`."""


def subject_miss(setup: SetUp, way: Way) -> Stops:
    """Stops by which the subject comes out over what is meant."""
    return way.lighting.levels.subject - setup.intent.subject_level


def finder_fails(setup: SetUp, way: Way) -> bool:
    """Whether the filter leaves finder and autofocus too little light."""
    nd = way.settings.stack.stops
    return nd > 0 and (nd >= FILTER_BLINDS or setup.scene.subject - nd < FINDER_NEEDS)


def polarised(setup: SetUp, way: Way) -> bool:
    """Whether a polariser is on the lens."""
    return any(setup.filters[place].polariser for place in way.settings.stack.places)


def shakes(_: SetUp, way: Way) -> bool:
    """Whether the time is too slow for the hand."""
    return any(drawback.kind == "hand" for drawback in way.drawbacks)


def diffracts(setup: SetUp, way: Way) -> bool:
    """Whether diffraction shows at this aperture."""
    return optics.airy_disc(way.settings.aperture.value) > optics.circle_of_confusion(
        setup.camera.sensor_mm
    )


def old_speedlight(light: Light) -> bool:
    """Whether a light may be an old flash on the hot shoe: a speedlight without high-speed sync that is not
    fired by radio."""
    return light.hss_toll is None and light.head == "speedlight" and not light.group


def strong(way: Way) -> list[Firing]:
    """Lights that fire at half power or more."""
    return [firing for firing in way.lighting.firings if (firing.power or 0) >= 0.5]


def strong_near_eyes(way: Way) -> list[Light]:
    """Strong lights on the subject within a metre."""
    near = (firing.light for firing in strong(way) if firing.light.lights_subject)
    return [light for light in near if light.distance_m <= CLOSE_TO_EYES]


def strong_in_hss(way: Way) -> list[Firing]:
    """Strong lights that fire in high-speed sync."""
    return [firing for firing in strong(way) if firing.hss]


def sails(setup: SetUp) -> list[Light]:
    """Lights with a face that catches wind: out of doors, which a stated gust, a place under the sky or a
    bright background says, and none where the air is said to be still."""
    scene = setup.scene
    if scene.gust_m_s == 0 or (scene.gust_m_s is None and not scene.moment and scene.background < OUTDOORS):
        return []
    return [light for light in setup.lights if light.radius_m >= BIG_FACE and light.mount != "pole"]


def ballast_words(setup: SetUp) -> str:
    """How much ballast a known gust asks for, to close a sentence with."""
    if setup.scene.gust_m_s is None:
        return "."
    gust = setup.scene.gust_m_s
    kilos = (plain(ballast(light.stand, light.sail_m2, gust), 0) for light in sails(setup))
    return (
        f". In gusts of {plain(gust)} m/s use about {listed(list(kilos))} kg over its middle, as"
        " a guide only."
    )


def ghosts(setup: SetUp, way: Way) -> bool:
    """Whether flash would freeze a moving subject, but for a background in daylight that burns through its
    edges: what flash alone lights does not."""
    daylit = way.lighting.levels.background_ambient > EDGES_HOLD
    return setup.scene.subject_speed_m_s > 0 and daylit and motion(setup, way.lighting).ghosts


def spilt(way: Way) -> Stops:
    """By how much key and fill lift the background over what daylight gives it."""
    levels = way.lighting.levels
    if levels.spill is None:
        return 0.0
    return log2(1 + 2 ** (levels.spill - levels.background_ambient))


def fires(way: Way) -> bool:
    """Whether any light fires."""
    return any(firing.power for firing in way.lighting.firings)


def without_hss(way: Way) -> list[Light]:
    """Lights that cannot take part past sync."""
    if not way.lighting.hss:
        return []
    return [firing.light for firing in way.lighting.firings if firing.full is None]


def dark_edge(setup: SetUp, way: Way) -> Stops:
    """The darkest edge that a slow pulse leaves under curtains; 0 or negative, and 0 where pulse or travel
    are not stated: a rated sync speed has that margin built in."""
    travel = setup.camera.curtain_s
    if way.lighting.hss or not setup.camera.has_curtains or travel is None:
        return 0.0
    time = way.settings.shutter.value
    losses = (
        curtains.edge_loss(firing.light.pulse, time, travel, firing.power)
        for firing in way.lighting.firings
        if firing.light.pulse and firing.power and time > travel
    )
    return min(losses, default=0.0)


def at_least_power(way: Way) -> list[Light]:
    """Lights that fire within NEAR_LEAST of their least power."""
    return [
        firing.light
        for firing in way.lighting.firings
        if firing.down is not None and firing.down >= -log2(firing.light.power_min) - NEAR_LEAST - TOLERANCE
    ]


def worst_droop(way: Way) -> Stops:
    """Largest droop along the travel among lights in high-speed sync."""
    return max((firing.light.hss_droop for firing in way.lighting.firings if firing.hss), default=0.0)


def said(lights: Iterable[Light]) -> str:
    """Lights by what they are called."""
    return listed([light.says for light in lights])


def clashing(way: Way) -> list[Firing]:
    """Lights of one group that are to be set to different powers."""
    dialled: dict[str, set[float]] = {}
    for firing in way.lighting.firings:
        if firing.light.group and firing.down is not None:
            dialled.setdefault(firing.light.group, set()).add(round(firing.down, 3))
    return [firing for firing in way.lighting.firings if len(dialled.get(firing.light.group, ())) > 1]


def channels(setup: SetUp) -> set[int]:
    """Channels that lights are set to."""
    return {light.channel for light in setup.lights if light.channel is not None}


def in_frame(setup: SetUp) -> list[Light]:
    """Lights on the subject that are in the frame."""
    return [light for light in setup.lights if light_shows(setup, light)]


def uneven(setup: SetUp) -> list[Light]:
    """Lights on the subject whose fall-off across the faces shows."""
    return [light for light in setup.lights if light.lights_subject and light.spread > WORTH_SAYING]


def frame_height(setup: SetUp) -> Metres:
    """Height of what the frame takes in at the subject."""
    return optics.frame_side(setup.scene.subject_distance_m, setup.lens.focal_mm, setup.camera.sensor_mm[1])


def at_the_feet(setup: SetUp) -> Stops:
    """Level of the key at the feet against the face, for a light at the height of the face."""
    key = setup.key
    feet = hypot(key.distance_m, FULL_LENGTH)
    return flash.falloff(key.distance_m, feet - key.distance_m, key.radius_m)


def sharp_depth(way: Way) -> Metres:
    """Depth of what is sharp, metres."""
    return float("inf") if way.focus.far_m is None else way.focus.far_m - way.focus.near_m


def sun_height(setup: SetUp) -> float | None:
    """Height of the sun in degrees where place and time are known."""
    moment = setup.scene.moment
    if moment is None:
        return None
    return sun_at(moment.place.lat, moment.place.lon, moment.time).height_deg


def whiter_than_the_sun(setup: SetUp, way: Way) -> bool:
    """Whether a flash without a gel meets a low, warm sun."""
    height = sun_height(setup)
    low = height is not None and -2 <= height <= LOW_SUN
    return low and fires(way) and any(light.gel is None for light in setup.lights)


def backlit(setup: SetUp) -> bool:
    """Whether the sun is behind the subject."""
    return setup.scene.background - setup.scene.subject >= BACKLIT


def dark_picture(way: Way) -> bool:
    """Whether live view that simulates the exposure shows next to nothing: faces and background three stops
    under mid-tone or darker in daylight."""
    levels = way.lighting.levels
    return max(levels.subject_ambient, levels.background_ambient) <= -3 and fires(way)


def zones_clipped(setup: SetUp, way: Way) -> dict[str, Stops]:
    """Zones that clip and their levels, brightest first."""
    full = clipping_level(setup, way)
    found = sorted(zones(setup, way).items(), key=lambda item: -item[1])
    return {name: level for name, level in found if clips(level, full)}


def clipped(setup: SetUp, way: Way) -> list[str]:
    """Zones that clip, in words."""
    return [f"{name} ({signed(level)})" for name, level in zones_clipped(setup, way).items()]


def unlit_night(setup: SetUp) -> bool:
    """Whether it is night at the set-up's place and time and no lamps are said."""
    height, scene = sun_height(setup), setup.scene
    lamps = (scene.lamps_background, scene.lamps_subject)
    return height is not None and height < NIGHT_DEG and lamps == (None, None)


def lamps_light_it(setup: SetUp) -> bool:
    """Whether lamps are part of the light: said, or likely in so little light that no sky is known to
    give."""
    height, scene = sun_height(setup), setup.scene
    if scene.lamps_background is not None or scene.lamps_subject is not None:
        return True
    return scene.background <= LAMPS and (height is None or height < NIGHT_DEG)


def into_the_sun(setup: SetUp) -> bool:
    """Whether the camera looks toward the sun: within 30° of it."""
    moment = setup.scene.moment
    if moment is None:
        return False
    off = sun_off_view(daylight(moment.place, moment.time), moment.place)
    return off is not None and off <= TOWARD_SUN_DEG


def clipping_words(setup: SetUp, way: Way) -> str:
    """What an extended low ISO does to clipping, to follow a sentence with; empty at base ISO."""
    full = clipping_level(setup, way)
    if full >= CLIP:
        return ""
    low = way.settings.iso.label
    return f" At the extended ISO {low} the sensor is full {signed(full)} over mid-tone already."
