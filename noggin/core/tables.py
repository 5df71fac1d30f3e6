"""Published and customary figures as named rows, source and edition beside them."""

from dataclasses import dataclass

from noggin.core.units import EV100, Stops


@dataclass(frozen=True)
class Source:
    """Where a figure comes from, and by how much it may be off (two standard deviations)."""

    label: str
    uncertainty: Stops


SOURCES = {
    "measured": Source("measured", 0.3),
    "assumed": Source("assumed", 1.0),
    "class": Source("class default", 0.8),
    "brochure": Source("brochure", 1.0),
}
"""How far a figure can be trusted. Assumed is what nobody typed, read or estimated yet. Common practice, no
source: a brochure's guide number is taken with the tightest reflector and is often 1 to 2 stops hopeful."""


@dataclass(frozen=True)
class ClassToll:
    """High-speed toll of a class of light, stops at the sync speed it was measured at."""

    label: str
    toll: Stops
    uncertainty: Stops


TOLLS = {
    "large": ClassToll("large head, 400 to 600 Ws class", 1.1, 0.4),
    "pocket": ClassToll("pocket strobe, 200 Ws class", 2.0, 0.4),
    "speedlight": ClassToll("speedlight", 2.4, 0.4),
    "unknown": ClassToll("unknown", 2.0, 0.7),
}
"""Class defaults, by plain inverse square from the tube. Common practice, no source; the ± of the three
known classes is half the span that was met among lights of the class, from memory."""


@dataclass(frozen=True)
class Gel:
    """A colour filter on a light: mired shift (warm is positive) and loss in stops."""

    label: str
    mired: float
    loss: Stops


GELS = {
    "full_cto": Gel("full CTO", 159, 0.85),
    "half_cto": Gel("half CTO", 80, 0.5),
    "quarter_cto": Gel("quarter CTO", 42, 0.3),
}
"""Warming gels. Filter makers' usual figures, from memory."""

MOVEMENTS = {
    "standing": 0.0,
    "walking": 1.4,
    "turning dress": 2.0,
    "leap": 3.0,
    "running": 5.0,
}
"""Speeds of a subject in words, m/s across the frame. Common practice, no source."""

FULL_SUN: EV100 = 14.6
"""EV100 of full sun from the front: f/16 at 1/ISO s. Common practice, no source."""

SUN_SCALE = {
    "full sun": 0.0,
    "hazy sun": -1.0,
    "bright cloud": -2.0,
    "overcast": -3.0,
    "open shade": -2.75,
    "backlit face": -2.75,
    "golden hour": -2.5,
    "sunset": -4.0,
}
"""The trade's full-sun scale, stops from full sun. Common practice, no source."""

SUN_WORDS = {
    "sun": "full sun",
    "sunny": "full sun",
    "haze": "hazy sun",
    "hazy": "hazy sun",
    "cloudy": "bright cloud",
    "light cloud": "bright cloud",
    "bright overcast": "bright cloud",
    "dull": "overcast",
    "grey sky": "overcast",
    "gray sky": "overcast",
    "shade": "open shade",
    "backlit": "backlit face",
    "backlight": "backlit face",
    "low sun": "sunset",
}
"""Other words for the same light."""


@dataclass(frozen=True)
class PlaceLight:
    """The light of a kind of place by day: EV100, and its ± in stops."""

    ev: EV100
    uncertainty: Stops


PLACE_LIGHT = {
    "alley": PlaceLight(7.5, 2.5),
    "under trees": PlaceLight(9.5, 2.0),
    "porch": PlaceLight(9.0, 2.0),
    "church door": PlaceLight(8.0, 2.0),
    "by a window": PlaceLight(7.5, 2.0),
    "room": PlaceLight(5.5, 2.0),
    "hall": PlaceLight(5.5, 1.5),
    "church": PlaceLight(4.0, 2.0),
}
"""Places where the sky is seen in part or not at all, by day: an alley between houses, a room by its window
and deeper in, a sports or dance hall. Common practice, no source, from memory: wide, since walls decide."""

PLACE_WORDS = {
    "alley between houses": "alley",
    "alleyway": "alley",
    "narrow street": "alley",
    "trees": "under trees",
    "wood": "under trees",
    "forest": "under trees",
    "doorway": "porch",
    "veranda": "porch",
    "church porch": "church door",
    "window": "by a window",
    "window light": "by a window",
    "room by a window": "by a window",
    "room by its window": "by a window",
    "inside": "room",
    "indoors": "room",
    "dance hall": "hall",
    "sports hall": "hall",
    "nave": "church",
}
"""Other words for them."""

WHITE_BALANCES = {
    "tungsten": 3200.0,
    "incandescent": 3200.0,
    "fluorescent": 4000.0,
    "daylight": 5500.0,
    "sun": 5500.0,
    "sunny": 5500.0,
    "flash": 5600.0,
    "cloudy": 6500.0,
    "shade": 7500.0,
}
"""What cameras' settings of white balance come to, kelvin. Common practice, from memory, ±500 K."""


@dataclass(frozen=True)
class Lamps:
    """What lamps give the side they light: what they are called, and EV100."""

    label: str
    ev: EV100


LAMPS = {
    "street": Lamps("street lamps", 2.0),
    "fairy": Lamps("fairy lights, lanterns", 4.0),
    "shop": Lamps("bright shop front", 6.0),
}
"""The floor that lamps give. Common practice, no source, ±1.5 stops."""

LAMPS_UNCERTAINTY: Stops = 1.5

LANTERN: EV100 = 12.0
"""What the face of a lantern or a frosted bulb of a few watts is itself: some 500 cd/m². Common practice,
no source, ±2 stops."""

LAMP_WORDS = {
    "street lamps": "street",
    "street lights": "street",
    "street": "street",
    "fairy lights": "fairy",
    "lanterns": "fairy",
    "candles": "fairy",
    "shop front": "shop",
    "shop window": "shop",
}
"""What people call them."""

TOWARD_SUN_DEG = 30.0
TOWARD_SUN: tuple[Stops, Stops] = (1.0, 3.0)
"""Within so many degrees of the sun the sky is brighter by this: at the edge, and at the sun itself. Common
practice, no source, ±1.5 stops."""

WORD_UNCERTAINTY: Stops = 1.0
"""± of a light named by a word. Common practice, no source."""

FRAMINGS = {
    "head": ("head and shoulders", 0.7),
    "half": ("half length", 1.1),
    "full": ("full length", 2.1),
    "couple": ("couple, three-quarter", 1.6),
    "group": ("group, full length", 2.8),
}
"""Framings by name, and the height of the frame at the subject in metres. Common practice, no source."""

OPEN_SHADE: Stops = 2.75
"""Open shade under full sun, middle of 2.5 to 3 stops. Common practice, no source."""

SUNLIT: EV100 = 13.6
"""EV100 from which a surface is in direct sun, hazy sun included (full sun is 14.6). Common
practice, no source."""

SCRIM: Stops = 1.5
"""What a scrim over the subject takes off its daylight, middle of 1 to 2 stops. Common practice."""

REFLECTOR: Stops = 1.0
"""What a reflector in the sun adds to a shaded face, held at arm's length. Common practice, no
source."""


@dataclass(frozen=True)
class Sky:
    """One kind of sky: direct normal illuminance falls by exp(-extinction · air mass), None without
    direct sun; horizontal sky illuminance is a + b·sin^c(h), klx. `diffuse` is the share of it that a
    vertical surface sees, `horizon` the sky's luminance near the horizon over its mean. `dusk` are the
    stops by which its twilight is under the clear one; `uncertainty` is the estimate's own."""

    label: str
    extinction: float | None
    a: float
    b: float
    c: float
    diffuse: float
    horizon: float
    dusk: Stops
    uncertainty: Stops


SKIES = {
    "clear": Sky("clear", 0.21, 0.8, 15.5, 0.5, 0.5, 1.0, 0.0, 0.5),
    "partly": Sky("partly cloudy", 0.80, 0.3, 45, 1, 0.5, 1.0, 1.34, 1.0),
    "overcast": Sky("overcast", None, 0.3, 21, 1, 0.396, 0.65, 1.34, 1.0),
}
"""IES daylight availability, IESNA Lighting Handbook, daylighting chapter; IES RP-21. Vertical share and
horizon luminance under overcast: CIE overcast sky (0.65 of the mean at 15° height). Twilight offset: 300
against 759 lx at sunset, so that the curve has no jump. ±: common practice, no source."""

SOLAR_NORMAL_KLX = 127.5
"""Direct normal illuminance outside the atmosphere. IES RP-21."""

TWILIGHT = (
    (-0.8, (2.88, 22.26, -207.64, 1034.30)),
    (-5.0, (2.88, 21.81, -258.11, -858.36)),
    (-12.0, (2.70, 12.17, -431.69, -1899.83)),
    (-18.0, (13.84, 262.72, 1447.42, 2797.93)),
)
"""Down to a sun height in degrees: l0 … l3 of log10 E = Σ l·x^n, x = height/90, E in lux. Twilight fits
of the Explanatory Supplement to the Astronomical Almanac (1992); from memory, anchored by tests."""


@dataclass(frozen=True)
class Ground:
    """What is in front of the subject: the share of light it throws back."""

    label: str
    reflectance: float


GROUNDS = {
    "grass": Ground("grass", 0.2),
    "sand": Ground("sand", 0.4),
    "paving": Ground("paving", 0.4),
    "snow": Ground("snow", 0.8),
}
"""Reflectance of the ground. IESNA Lighting Handbook, daylighting chapter; from memory."""

STUDENT_T = (
    12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228,
    2.201, 2.179, 2.160, 2.145, 2.131, 2.120, 2.110, 2.101, 2.093, 2.086,
    2.080, 2.074, 2.069, 2.064, 2.060, 2.056, 2.052, 2.048, 2.045, 2.042,
)  # fmt: skip
"""Two-sided 95 % points of Student's t for 1 to 30 degrees of freedom. Handbook of statistics; a test
compares them with a reference library."""


def student_t(free: int) -> float:
    """Two-sided 95 % point of Student's t for `free` degrees of freedom, 1 or more; 1.96 from 31 up.

    >>> student_t(3), student_t(100)
    (3.182, 1.96)
    """
    if free < 1:
        raise ValueError("no degree of freedom is left")
    return STUDENT_T[free - 1] if free <= len(STUDENT_T) else 1.96


GRID_LOSS: Stops = 0.7
"""What a honeycomb or cloth grid takes in the middle of its beam. Common practice, no source."""

BAFFLES = {"both": 0.0, "outer": 0.4, "none": 1.0}
"""What a softbox gives back, in stops, without its inner baffle (the outer one alone) and without either,
against both. Common practice, no source, ±0.3: it gets harder, and hotter in the middle."""

BAFFLE_WORDS = {"both": "both baffles", "outer": "outer baffle alone", "none": "no baffle"}

MOUNTS = {
    "stand": "on a stand",
    "pole": "on a pole that somebody holds",
    "pack": "head on a stand, its pack on the ground",
}
"""What a light is on."""

GRID_BEAM = 15.0
BOX_BEAM = 1.5
"""Exponents n of a beam that falls off as cos^n of the angle off its aim: behind a grid, and of a softbox.
Class figures, from memory."""

BACKLIT: Stops = 2.0
"""Background this much over the subject's shaded side: the sun is behind. Common practice, no source."""
