"""Curtains and flash: what of the frame is lit past sync, and what a pulse loses to them."""

from noggin.core.physics.pulse import Pulse
from noggin.core.units import Seconds, Stops

TRAVEL_OVER_SYNC = 0.85
"""Curtain travel time over the sync time, unless known. Common practice, no source."""

SHUTTERS = {
    "focal_plane": "focal plane",
    "leaf": "leaf",
    "global": "global",
    "rolling": "electronic, rolling",
}
"""Kinds of shutter. Sync speed belongs to the shutter, not to the flash."""


def opens_by_rows(kind: str) -> bool:
    """Whether parts of the frame open one after another: curtains, or the rows of a rolling readout.

    >>> opens_by_rows("focal_plane"), opens_by_rows("leaf")
    (True, False)
    """
    return kind in ("focal_plane", "rolling")


def curtain_travel(sync_s: Seconds) -> Seconds:
    """Time a curtain of a focal-plane shutter takes across the frame.

    >>> curtain_travel(1 / 250) == 0.85 / 250
    True
    """
    return TRAVEL_OVER_SYNC * sync_s


def lit_part(time_s: Seconds, travel_s: Seconds) -> float:
    """Part of the frame (0 to 1) that one pop at full opening lights past sync without high-speed
    sync: min(1, t/T). The rest is black, at the bottom of a landscape frame.

    >>> lit_part(1 / 500, 1 / 250), lit_part(1 / 60, 1 / 250)
    (0.5, 1.0)
    """
    return min(1.0, time_s / travel_s)


def edge_loss(pulse: Pulse, time_s: Seconds, travel_s: Seconds, power: float = 1.0) -> Stops:
    """By how much the edge that closes first is darker than the one that closes last, for a slow
    pulse fired at full opening; negative stops, 0 where the curtains leave it time enough.

    The first edge sees the pulse for t - T, the last one for t.

    >>> round(edge_loss(Pulse("voltage", 1 / 500), 1 / 200, 0.85 / 200), 2)
    -1.85
    """
    return pulse.caught(time_s - travel_s, power) - pulse.caught(time_s, power)
