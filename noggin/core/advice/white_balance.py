"""The colour of every light over a plan, the camera's setting, and what a background then looks like."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from noggin.core.daylight.sun import sun_at
from noggin.core.layout.standing import SunOver, key_name, layout_of, names_of, sun_over
from noggin.core.physics.colour import (
    LAMPS_K,
    OVERCAST_K,
    SKYLIGHT_K,
    mixed_kelvin,
    sky_kelvin,
    sun_kelvin,
)
from noggin.core.physics.filters import gelled, mired_shift
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.planning.way import Way
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GELS, GROUNDS, SKIES

NEUTRAL_MIRED, STRONG_MIRED = 20.0, 60.0
"""A light that is off the white balance by less than the first looks neutral, by more than the second
coloured. Common practice, no source."""

GEL_FROM_MIRED = 30.0
"""A background that is so much warmer than the key asks for a gel. Common practice, no source."""

GREEN_GROUNDS = ("grass",)
GREEN_FROM_SHARE = 0.25
"""From this part of daylight in the faces' light on, green from below shows. Common practice, no source."""


def _flash_kelvin(light: Light) -> float:
    """Colour temperature of a light with its gel."""
    own = float(PULSE_CLASSES[light.head].colour_k)
    return gelled(own, GELS[light.gel].mired) if light.gel else own


@dataclass(frozen=True)
class Colours:
    """Colour temperatures in kelvin of all there is, as they are (`flash` by the names of the lights)."""

    sky: float
    sun: float
    background: float
    subject: float
    flash: Mapping[str, float]
    white_balance_k: float


def colours(setup: SetUp, way: Way, sun: SunOver | None) -> Colours:
    """The colour of every light, and the white balance: as stated, else that of the key where it fires,
    else of the subject's daylight."""
    scene = setup.scene
    clear = scene.moment is None or SKIES[scene.moment.place.sky].extinction is not None
    sky = _clear_sky(setup) if clear else OVERCAST_K
    own_sun = sun_kelvin(sun.height_deg) if sun else sky
    share = sun.share if sun else 0.0
    # What the sun lights elsewhere has its colour for the most part, what is in the shade the sky's.
    background = mixed_kelvin([(0.75, own_sun), (0.25, sky)]) if sun else sky
    subject = (
        mixed_kelvin([(share, own_sun), (1 - share, sky)])
        if share
        else mixed_kelvin([(0.3, background), (0.7, sky)])
    )
    if scene.daylight_k is not None:
        subject = background = scene.daylight_k
    flash = {name: _flash_kelvin(light) for name, light in zip(names_of(setup), setup.lights, strict=True)}
    balance = setup.intent.white_balance_k
    if balance is None:
        balance = flash[key_name(setup)] if key_is_meant(way) else subject
    lamps = scene.lamps_background
    if lamps is not None:
        part = min(2 ** (lamps - scene.background), 1.0)
        background = mixed_kelvin([(part, LAMPS_K), (1 - part, background)])
    return Colours(sky, own_sun, background, subject, flash, balance)


def _clear_sky(setup: SetUp) -> float:
    """The colour of a clear sky at the set-up's moment; by day where nobody said when."""
    moment = setup.scene.moment
    if moment is None:
        return SKYLIGHT_K
    return sky_kelvin(sun_at(moment.place.lat, moment.place.lon, moment.time).height_deg)


def key_is_meant(way: Way) -> bool:
    """Whether the key is to fire, also where it cannot reach all of the frame."""
    return way.lighting.key.needed is not None


def said_kelvin(kelvin: float) -> str:
    """A colour temperature as it is said.

    >>> said_kelvin(5649.2)
    '5,600 K'
    """
    return f"{round(kelvin, -2):,.0f} K"


def look_of(kelvin: float, white_balance_k: float) -> str:
    """How a light looks to a camera that is set to a white balance, with the mired that it is off.

    >>> look_of(5600, 5600), look_of(3000, 5600), look_of(7000, 5600)
    ('neutral', 'warm (155 mired)', 'a little blue (36 mired)')
    """
    off = mired_shift(white_balance_k, kelvin)
    if abs(off) < NEUTRAL_MIRED:
        return "neutral"
    much = "" if abs(off) >= STRONG_MIRED else "a little "
    return f"{much}{'warm' if off > 0 else 'blue'} ({abs(off):.0f} mired)"


def colour_rows(setup: SetUp, way: Way) -> Iterator[tuple[str, str]]:
    """What there is to know of colour in a way: a label, and its answer in words."""
    seen = colours(setup, way, sun_over(setup, layout_of(setup)))
    known = "read" if setup.scene.daylight_k is not None else "estimated"
    faces, behind = said_kelvin(seen.subject), said_kelvin(seen.background)
    spread = faces if faces == behind else f"{faces} on the faces, {behind} behind them"
    yield "colour of daylight", f"about {spread}, {known}"
    balance = said_kelvin(seen.white_balance_k)
    meant = "as you set it" if setup.intent.white_balance_k is not None else "so that the key is neutral"
    if not key_is_meant(way) and setup.intent.white_balance_k is None:
        meant = "so that daylight on the faces is neutral"
    yield "white balance", f"{balance}, {meant}"
    looks = look_of(seen.background, seen.white_balance_k)
    yield "the background looks", f"{looks}{_gel(setup, seen)}"
    moment = setup.scene.moment
    ground = moment.place.ground if moment else ""
    if ground in GREEN_GROUNDS and way.lighting.flash_share < 1 - GREEN_FROM_SHARE:
        back = GROUNDS[ground].label
        yield (
            "green from below",
            f"{back} lights the shade from below: a card under the chin or more flash helps",
        )


def _gel(setup: SetUp, seen: Colours) -> str:
    """Which gel brings the key to the background's colour, where that is much warmer."""
    key = setup.key
    if key.gel is not None:
        return ""
    own = _flash_kelvin(key)
    warmer = mired_shift(own, seen.background)
    if warmer < GEL_FROM_MIRED:
        return ""
    nearest = min(GELS.values(), key=lambda gel: abs(gel.mired - warmer))
    return f"; {nearest.label} on the key comes nearest to it, for {nearest.loss:g} stop"
