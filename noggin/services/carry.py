"""How bright a light of the kit is over distance, through every modifier, within sync and in high-speed
sync: what its page shows."""

from collections.abc import Iterator
from dataclasses import dataclass

from noggin.core.physics import dials, flash
from noggin.core.units import Metres, Stops
from noggin.demo import starting_document
from noggin.services.bags import choices_for
from noggin.store.store import Store

SPAN: tuple[Metres, Metres] = (0.5, 16.0)
"""From the nearest to the farthest distance that is shown."""

TABLED: tuple[Metres, ...] = (1.0, 2.0, 4.0, 8.0)
"""Distances whose apertures are written out."""

SAMPLES = 26


@dataclass(frozen=True)
class Carried:
    """A light through one modifier at full power and ISO 100: levels in stops of aperture (0 is f/1) over
    distances, what high-speed sync takes from all of them (None: none), and how much the modifier takes."""

    modifier: str
    loss: Stops
    levels: tuple[tuple[Metres, Stops], ...]
    toll: Stops | None
    gn_m: Metres
    radius_m: Metres

    def level(self, distance_m: Metres, *, hss: bool) -> Stops | None:
        """The level at a distance; None in high-speed sync where there is none."""
        if hss and self.toll is None:
            return None
        level = level_at(self.gn_m, self.loss, self.radius_m, distance_m)
        return level - (self.toll or 0.0) if hss else level

    def aperture(self, distance_m: Metres, *, hss: bool) -> str:
        """The aperture that is right for a face there, on a third-stop dial; a dash where there is none."""
        level = self.level(distance_m, hss=hss)
        if level is None:
            return "—"
        dial = dials.aperture_dial(3)
        first, last = dial.steps[0], dial.steps[-1]
        if level < first.stops - 1 / 6:
            return f"under f/{first.label}"
        if level > last.stops + 1 / 6:
            return f"over f/{last.label}"
        return f"f/{dial.nearest(level).label}"


def level_at(gn_m: Metres, loss: Stops, radius_m: Metres, distance_m: Metres) -> Stops:
    """The level of a full pop in stops of aperture: 2·log2 GN - loss - log2(d² + r²), see `flash`.

    >>> level_at(32, 0.0, 0.0, 2.0)
    8.0
    """
    return (
        flash.at_one_metre(gn_m)
        - loss
        + flash.by_distance(distance_m)
        + flash.near_source(distance_m, radius_m)
    )


def carried(store: Store, light: str) -> tuple[Carried, ...]:
    """A light of the kit by its name through everything in the kit that fits it, the least loss first;
    empty where it is not there."""
    document = starting_document()
    along = choices_for(store, document)
    choice = next((choice for choice in along.lights.values() if choice.label == light), None)
    if choice is None:
        return ()
    part = choice.part(document, {})
    found = []
    for modifier in along.modifiers.values():
        made = modifier.part(document, part)
        levels = tuple(
            (distance, level_at(part["gn_m"], made["loss"], made["radius_m"], distance))
            for distance in _distances()
        )
        found.append(
            Carried(
                modifier.label,
                made["loss"],
                levels,
                part["hss_toll"],
                part["gn_m"],
                made["radius_m"],
            )
        )
    return tuple(sorted(found, key=lambda one: one.loss))


def _distances() -> Iterator[Metres]:
    near, far = SPAN
    for index in range(SAMPLES):
        yield near * (far / near) ** (index / (SAMPLES - 1))
