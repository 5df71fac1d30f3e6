"""The limits of every figure, once: validation, schema and wording read these rows."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import isnan
from typing import Any

from noggin.core.errors import OutOfRange, Refused
from noggin.core.wording import number


@dataclass(frozen=True)
class Range:
    """Closed range of a figure, in its unit. `open_ends` shuts out the ends themselves; `words` say
    the range where plain figures would not be read as on a dial."""

    least: float
    most: float
    unit: str = ""
    open_ends: bool = False
    words: str = ""

    def __contains__(self, value: float) -> bool:
        if self.open_ends:
            return self.least < value < self.most
        return self.least <= value <= self.most

    def problem(self, value: float) -> str | None:
        """What is wrong with `value`, or None. NaN is in no range."""
        if value in self:
            return None
        if isnan(value):
            return "NaN is not a number"
        return f"{number(value)} is outside {self}"

    def __str__(self) -> str:
        if self.words:
            return self.words
        ends = ", ends excluded" if self.open_ends else ""
        space = "" if self.unit == "%" else " "
        unit = f"{space}{self.unit}" if self.unit else ""
        return f"{number(self.least)} … {number(self.most)}{unit}{ends}"

    def check(self, name: str, value: float) -> None:
        """Raise OutOfRange naming the figure when `value` is outside."""
        problem = self.problem(value)
        if problem:
            raise OutOfRange(name, problem)


def check_choice(name: str, value: object, choices: Mapping[Any, object]) -> None:
    """Raise Refused naming the figure when `value` is none of the choices."""
    if value not in choices:
        raise Refused(name, f"{value!r} is not one of {', '.join(map(str, choices))}")


EV = Range(-10, 20)
LEVEL = Range(-10, 10, "stops")
SUBJECT_DISTANCE = Range(0.1, 1_000, "m")
BACKGROUND_DISTANCE = Range(0.1, 1_000_000, "m")
LIGHT_DISTANCE = Range(0.1, 200, "m")
SUBJECT_SPEED = Range(0, 50, "m/s")
SHARE = Range(0, 1, open_ends=True)
APERTURE = Range(0.95, 32)
METERED_APERTURE = Range(0.5, 256)
SHUTTER = Range(1 / 8192, 32, words="1/8000 … 30 s")
ISO = Range(25, 102_400)
SENSOR_SIDE = Range(1, 200, "mm")
FOCAL = Range(1, 2_000, "mm")
FILTER = Range(0.1, 20, "stops")
GUIDE_NUMBER = Range(0.5, 1_000, "m")
LOSS = Range(-1, 8, "stops")
RADIUS = Range(0, 3, "m")
HEADS = Range(1, 16)
LEAST_POWER = Range(1 / 8192, 1, words="1/8192 … 1/1")
POWER_STEP = Range(0.1, 1, "stops")
FULL_MARK = Range(1, 20)
TOLL = Range(-1, 8, "stops")
DROOP = Range(0, 6, "stops")
METERED = Range(0.1, 256, words="f/0.1 … f/256")
PULSE = Range(1e-6, 1, "s")
TRAVEL = Range(0, 1, "s")
DELAY = Range(0, 0.1, "s")
POPS = Range(1, 100_000)
RECYCLE = Range(0.01, 120, "s")
OVERHEAD = Range(0, 1)
HSS_DRAW = Range(0.5, 5)
STAND_HEIGHT = Range(0.1, 10, "m")
FOOTPRINT = Range(0.1, 3, "m")
SAIL = Range(0, 10, "m²")
GUST = Range(0, 40, "m/s")
ANGLE = Range(0, 180, "°")
CHANNEL = Range(1, 99)
UNCERTAINTY = Range(0, 5, "stops")
BLUR = Range(0, 100, "% of frame")
FRAMES = Range(1, 100_000)
LATITUDE = Range(-90, 90, "°")
LONGITUDE = Range(-180, 180, "°")
AZIMUTH = Range(0, 360, "°")
FIELD_ACROSS = Range(2, 150, "°")
HORIZON = Range(-2, 3)
THREAD = Range(20, 150, "mm")
MIRED = Range(-300, 300, "mired")
ACROSS = Range(0, 6, "m")
POWER_OFF = Range(0, 3, "stops")
GROUPS = Range(1, 26)
CHANNELS = Range(1, 99)
ENERGY = Range(1, 10_000, "Ws")
ZOOM = Range(10, 300, "mm")
WEIGHT = Range(0.01, 200, "kg")
SANDBAG = Range(0.5, 50, "kg")
ANY_FIGURE = Range(-1_000_000, 1_000_000)
OWNED = Range(1, 99)
LIT = Range(0, 100, "%")
KELVIN = Range(1_500, 20_000, "K")
EVERY = Range(1, 720, "minutes")
ELEVATION = Range(0, 9_000, "m")
ON_PLAN = Range(-2_000, 2_000, "m")
PLAN_HEIGHT = Range(0.05, 30, "m")
AIM_HEIGHT = Range(-5, 60, "m")
TURN = Range(-180, 180, "°")
REFLECTANCE = Range(0.01, 0.98)
SCRIM_RADIUS = Range(0.2, 3, "m")
SCRIM_LOSS = Range(0.3, 5, "stops")
SLOT = Range(5, 720, "minutes")

NAME_LENGTH = 120
READINGS_LENGTH = 8_000
FACES_MOST = 40
SURFACES_MOST = 12
PULSE_ROWS_MOST = 24
FILTERS_MOST = 12
RINGS_MOST = 12
LIGHTS_MOST = 16
REFLECTORS_MOST = 12
GEAR_MOST = 200
BAGS_MOST = 50
MEASUREMENTS_MOST = 400
SLOTS_MOST = 60
CAUTIONS_MOST = 100
DAY_READINGS_MOST = 40
