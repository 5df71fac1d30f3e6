"""Inside the shutter: when each row is open, the light of the flash, and what each row gets of it."""

from dataclasses import dataclass
from functools import cached_property

from noggin.core.advice.inside_shutter import InsideShutter

LEFT, RIGHT = 56.0, 470.0
"""From where to where time runs."""

LIGHT_TOP, LIGHT_FOOT = 22.0, 92.0
"""Between which heights the light of the flash is drawn."""

ROWS_TOP, ROWS_FOOT = 118.0, 288.0
"""Where the last row and the first are: the picture's foot opens first."""

SHARE_LEFT, SHARE_RIGHT = 492.0, 620.0
"""Between which what each row gets of the flash is drawn."""

POINTS = 48
"""Points of the light's curve."""

TICKS_MS = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0)
"""How far apart marks of time are: the first that gives at most eight."""


@dataclass(frozen=True)
class ShutterDrawing:
    """An exposure as geometry: time to the right, rows from the foot of the picture up."""

    inside: InsideShutter

    def x(self, at_s: float) -> float:
        """Where a moment is."""
        return LEFT + (RIGHT - LEFT) * at_s / self.inside.ends_s

    @staticmethod
    def y(row: float) -> float:
        """Where a row is."""
        return ROWS_FOOT - (ROWS_FOOT - ROWS_TOP) * row

    @property
    def open(self) -> str:
        """The outline of what is open, as points of a polygon."""
        opening = self.inside.opening
        corners = (
            (opening.opens_s(0), 0),
            (opening.opens_s(1), 1),
            (opening.closes_s(1), 1),
            (opening.closes_s(0), 0),
        )
        return _points([(self.x(at), self.y(row)) for at, row in corners])

    @property
    def fully_open(self) -> str:
        """The same of what is open wholly, where blades take time to open; empty where none do."""
        opening = self.inside.opening
        if not opening.ramp_s:
            return ""
        left, right = self.x(opening.ramp_s), self.x(opening.time_s)
        return _points([(left, ROWS_FOOT), (left, ROWS_TOP), (right, ROWS_TOP), (right, ROWS_FOOT)])

    @property
    def light(self) -> str:
        """The light of the flash against time, as points of a polygon."""
        inside = self.inside
        begins, ends = 0.0, inside.opening.whole_s
        if inside.mode == "pop":
            begins = inside.pop.starts_s
            ends = min(begins + inside.pop.lasts_s, inside.ends_s)
        moments = [begins + (ends - begins) * index / POINTS for index in range(POINTS)]
        tops = [(self.x(at), self._height(inside.light(at))) for at in moments]
        return _points(
            [(tops[0][0], LIGHT_FOOT), *tops, (self.x(ends), tops[-1][1]), (self.x(ends), LIGHT_FOOT)]
        )

    @staticmethod
    def _height(light: float) -> float:
        return LIGHT_FOOT - (LIGHT_FOOT - LIGHT_TOP) * light

    @property
    def shares(self) -> str:
        """What each row gets of the flash, against the most that it could, as points of a polygon."""
        most = max(self.inside.power, 1e-9)
        inside = self.inside
        found = [(self._share(inside.flash(row) / most), self.y(row)) for row in inside.rows]
        return _points([(SHARE_LEFT, self.y(0)), *found, (SHARE_LEFT, self.y(1))])

    @staticmethod
    def _share(share: float) -> float:
        return SHARE_LEFT + (SHARE_RIGHT - SHARE_LEFT) * min(share, 1.0)

    @property
    def ticks(self) -> list[tuple[float, str]]:
        """Marks of time, with their milliseconds."""
        whole = 1000 * self.inside.ends_s
        step = next((step for step in TICKS_MS if whole / step <= 8), 200.0)
        return [
            (self.x(index * step / 1000), f"{index * step:g}")
            for index in range(int(whole / step + 1e-9) + 1)
        ]

    @cached_property
    def passed(self) -> list[tuple[float, float]]:
        """How far both curtains are at every moment that is shown, 0 to 1 each."""
        return [self.inside.opening.passed(at) for at in self.inside.moments]

    @property
    def cursors(self) -> list[float]:
        """Where every moment that is shown is."""
        return [self.x(at) for at in self.inside.moments]


def _points(found: list[tuple[float, float]]) -> str:
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in found)


def shutter(inside: InsideShutter) -> ShutterDrawing:
    """The drawing of an exposure."""
    return ShutterDrawing(inside)
