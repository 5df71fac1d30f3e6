"""The limits of every figure, once: validation, schema and wording read these rows."""

from dataclasses import dataclass
from math import isnan

from noggin.core.errors import OutOfRange
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
        """What is wrong with `value`, or None. NaN lies in no range."""
        if value in self:
            return None
        if isnan(value):
            return "NaN is not a number"
        return f"{number(value)} is outside {self}"

    def __str__(self) -> str:
        if self.words:
            return self.words
        ends = ", ends excluded" if self.open_ends else ""
        unit = f" {self.unit}" if self.unit else ""
        return f"{number(self.least)} … {number(self.most)}{unit}{ends}"

    def check(self, name: str, value: float) -> None:
        """Raise OutOfRange naming the figure when `value` is outside."""
        problem = self.problem(value)
        if problem:
            raise OutOfRange(name, problem)


EV = Range(-10, 20)
LEVEL = Range(-10, 10, "stops")
SUBJECT_DISTANCE = Range(0.1, 1_000, "m")
BACKGROUND_DISTANCE = Range(0.1, 1_000_000, "m")
LIGHT_DISTANCE = Range(0.1, 200, "m")
SUBJECT_SPEED = Range(0, 50, "m/s")
SHARE = Range(0, 1, open_ends=True)
APERTURE = Range(0.95, 32)
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

NAME_LENGTH = 120
FILTERS_MOST = 12
LIGHTS_MOST = 16
