"""What the battery gives: pops, recycle time, and what high-speed sync draws."""

from dataclasses import dataclass

from noggin.core import limits
from noggin.core.units import Seconds

OVERHEAD = 0.02
"""Energy of a pop on top of the flash, in full pops, unless measured. Common practice, no source."""

HSS_DRAW = 1.3
"""What a frame in high-speed sync draws against one within sync, unless measured. Common practice."""

LONG_BURST = 20
"""Frames in high-speed sync at half power or more after which a head needs a pause. Common practice,
no source; the light's own manual decides."""


@dataclass(frozen=True)
class Battery:
    """A light's supply: full pops from one charge, recycle time in seconds after a full pop, the
    overhead of a pop in full pops and the draw of high-speed sync."""

    pops: float
    recycle_s: Seconds
    overhead: float = OVERHEAD
    hss_draw: float = HSS_DRAW

    def __post_init__(self) -> None:
        limits.POPS.check("pops", self.pops)
        limits.RECYCLE.check("recycle_s", self.recycle_s)
        limits.OVERHEAD.check("overhead", self.overhead)
        limits.HSS_DRAW.check("hss_draw", self.hss_draw)

    def frames(self, power: float, hss: bool) -> int:
        """Frames from one charge at a power (0 to 1): pops · (1 + o) / ((power + o) · draw).

        Common practice, no source: energy goes with power, plus a little for each pop.

        >>> Battery(220, 1.5, overhead=0).frames(0.5, hss=False)
        440
        >>> Battery(220, 1.5).frames(1 / 128, hss=False)
        8068
        """
        draw = self.hss_draw if hss else 1.0
        return int(self.pops * (1 + self.overhead) / ((power + self.overhead) * draw))

    def recycles_in(self, power: float) -> Seconds:
        """Seconds until the next pop: proportional to power. Common practice, no source.

        >>> Battery(220, 1.5).recycles_in(0.5)
        0.75
        """
        return self.recycle_s * power
