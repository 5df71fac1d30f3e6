"""From a power to an aperture: which aperture is right for a picture when the key fires at a stated
power."""

from dataclasses import dataclass, replace
from math import log2

from noggin.core import limits
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

NEAR: Stops = 1 / 3
"""So near the stated power an aperture is the answer. Common practice, no source."""


@dataclass(frozen=True)
class ApertureForPower:
    """The aperture whose recommended way asks for the stated power: that way, and by how many stops its
    power is over the stated one."""

    way: Way
    over: Stops

    @property
    def near(self) -> bool:
        """Whether the power is the stated one, within a third of a stop."""
        return abs(self.over) <= NEAR + 1e-6


def aperture_for(setup: SetUp, power: float) -> ApertureForPower | None:
    """The aperture for a power (a fraction of full, 1/8192 to 1), by planning the picture at every aperture
    of the lens: of those at which it is right within a third of a stop the one nearest the wanted one, else
    the one that comes nearest to it; None where no flash is needed at any, or none works. Raises
    OutOfRange."""
    limits.LEAST_POWER.check("power", power)
    found = []
    for step in setup.apertures:
        nominal = min(max(float(step.label), setup.lens.widest), setup.lens.smallest)
        ways = plan(replace(setup, intent=replace(setup.intent, aperture=nominal))).ways
        way = next((way for way in ways if way.feasible), None)
        down = way.lighting.key.down if way and way.settings.aperture == step else None
        if way is not None and down is not None:
            found.append(ApertureForPower(way, -down - log2(power)))
    near = [one for one in found if one.near]
    if near:
        wanted = setup.wanted_aperture.stops
        return min(near, key=lambda one: (abs(one.way.settings.aperture.stops - wanted), abs(one.over)))
    return min(found, key=lambda one: round(abs(one.over), 6), default=None)
