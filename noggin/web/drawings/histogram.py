"""How a frame's tones are spread, on the scale of stops."""

from collections.abc import Sequence
from dataclasses import dataclass

from noggin.core.physics.appearance import CLIP
from noggin.core.units import Stops
from noggin.core.wording import percent, signed

WIDTH, HEIGHT, FOOT = 560.0, 96.0, 16.0
LOW: Stops = -8.0
HIGH: Stops = CLIP
"""From where to where a histogram reaches; the last bar is what is full."""


@dataclass(frozen=True)
class Histogram:
    """A path in units of the drawing, stops along its foot, and the same in words."""

    width: int
    height: int
    path: str
    ticks: tuple[tuple[float, str], ...]
    words: str


def histogram(parts: Sequence[float]) -> Histogram:
    """The drawing of parts of a frame from black to full; as high as the highest bar but the last one."""
    most = max([*parts[:-1], 0.01])
    step = WIDTH / len(parts)
    tall = HEIGHT - FOOT
    path = f"M0 {tall:.0f}"
    for index, part in enumerate(parts):
        y = tall * (1 - min(part / most, 1.0))
        path += f"V{y:.1f}H{(index + 1) * step:.1f}"
    ticks = tuple((WIDTH * (level - LOW) / (HIGH - LOW), signed(level, 0)) for level in range(-6, 3, 2))
    full = f"{percent(parts[-1])} of the frame is full" if parts[-1] >= 0.005 else "nothing is full"
    return Histogram(
        int(WIDTH), int(HEIGHT), f"{path}V{tall:.0f}Z", ticks, f"Tones of the whole frame: {full}"
    )
