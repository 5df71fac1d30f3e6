"""How bright a light is over distance, through a modifier, within sync and in high-speed sync."""

from collections.abc import Iterator
from dataclasses import dataclass

from noggin.core.physics import dials, flash
from noggin.core.units import Metres, Stops
from noggin.core.wording import NONE

SPAN: tuple[Metres, Metres] = (0.5, 16.0)
"""From the nearest to the farthest distance that is drawn."""

SAMPLES = 26


def level_at(gn_m: Metres, loss: Stops, radius_m: Metres, distance_m: Metres) -> Stops:
    """Level of a full pop at ISO 100, in stops of aperture (0 is f/1): 2·log2 GN - loss - log2(d² + r²),
    see `flash`.

    >>> level_at(32, 0.0, 0.0, 2.0)
    8.0
    """
    bare = flash.at_one_metre(gn_m) + flash.by_distance(distance_m)
    return bare + flash.near_source(distance_m, radius_m) - loss


@dataclass(frozen=True)
class Carried:
    """A light through one modifier: guide number in metres, what the modifier takes in stops, the radius of
    its face in metres, and the toll of high-speed sync in stops (None: it has none)."""

    modifier: str
    gn_m: Metres
    loss: Stops
    radius_m: Metres
    toll: Stops | None

    def level(self, distance_m: Metres, *, hss: bool) -> Stops | None:
        """The level at a distance; None in high-speed sync where there is none."""
        level = level_at(self.gn_m, self.loss, self.radius_m, distance_m)
        if not hss:
            return level
        return None if self.toll is None else level - self.toll

    def levels(self, *, hss: bool) -> tuple[tuple[Metres, Stops], ...]:
        """Distances from the nearest to the farthest with their levels; empty where there are none."""
        found = ((distance, self.level(distance, hss=hss)) for distance in _distances())
        return tuple((distance, level) for distance, level in found if level is not None)

    def aperture(self, distance_m: Metres, *, hss: bool) -> str:
        """The aperture that is right for a face there, on a third-stop dial; a dash where there is none."""
        level = self.level(distance_m, hss=hss)
        if level is None:
            return NONE
        dial = dials.aperture_dial(3)
        first, last = dial.steps[0], dial.steps[-1]
        if level < first.stops - 1 / 6:
            return f"under f/{first.label}"
        if level > last.stops + 1 / 6:
            return f"over f/{last.label}"
        return f"f/{dial.nearest(level).label}"


def _distances() -> Iterator[Metres]:
    near, far = SPAN
    for index in range(SAMPLES):
        yield near * (far / near) ** (index / (SAMPLES - 1))
