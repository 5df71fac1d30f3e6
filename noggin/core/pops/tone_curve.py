"""From what a file holds to levels in stops: undone transfer curves, averages in linear light."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import log2

import numpy as np
from numpy.typing import NDArray

from noggin.core.errors import Refused
from noggin.core.physics.appearance import CLIP, MID_GREY
from noggin.core.physics.colour import LUMINANCE, Values
from noggin.core.physics.srgb import linear_of_bytes
from noggin.core.units import Stops

DARKEST: Stops = -12.0
"""What is darker is taken as this: it is nothing but noise."""

FRAMES_LEAST = 5
"""Frames of a card that a curve is fitted from, at least."""

SPAN_LEAST: Stops = 2.0
"""So far apart must they be exposed."""


def luminance(rgb: NDArray[np.uint8]) -> Values:
    """Linear luminance (height, width), mid-tone at 0.18, of an 8-bit sRGB picture (height, width, 3)."""
    table = linear_of_bytes()
    red, green, blue = (table[rgb[..., channel]] for channel in range(3))
    found: Values = LUMINANCE[0] * red + LUMINANCE[1] * green + LUMINANCE[2] * blue
    return found


def raw_luminance(
    counts: NDArray[np.float32], black: float, white: float, headroom: Stops = CLIP
) -> Values:
    """The same of a sensor's counts: the sensor is full `headroom` stops over mid-tone (ISO 12232).

    Raises Refused where white is not over black.

    >>> full = raw_luminance(np.array([16383.0], np.float32), 512, 16383, 3.0)
    >>> round(float(full[0]), 2)
    1.44
    """
    if white <= black:
        raise Refused("white", f"{white:g} is not over the black of {black:g}")
    part = np.clip((counts - black) / (white - black), 0.0, None)
    found: Values = (part * MID_GREY * 2**headroom).astype(np.float32)
    return found


def level_of_luminance(light: float) -> Stops:
    """Stops from mid-tone of linear light: log2(Y/0.18).

    >>> level_of_luminance(0.18), round(level_of_luminance(0.09), 1), level_of_luminance(0.0)
    (0.0, -1.0, -12.0)
    """
    return max(log2(light / MID_GREY), DARKEST) if light > 0 else DARKEST


@dataclass(frozen=True)
class ToneCurve:
    """A camera's own JPEG curve: levels as they read by sRGB, rising, and the levels that they really are.
    Between them in straight lines, past their ends on by the last ones."""

    reads: tuple[Stops, ...]
    really: tuple[Stops, ...]

    def __post_init__(self) -> None:
        if len(self.reads) != len(self.really) or len(self.reads) < 2:
            raise Refused("curve", "needs as many levels as it reads, and two at least")
        for row in (self.reads, self.really):
            if any(after <= before for before, after in pairwise(row)):
                raise Refused("curve", "does not rise from step to step")

    def level(self, reads: Stops) -> Stops:
        """What a level that reads so really is.

        >>> ToneCurve((-2.0, 0.0, 1.0), (-3.0, 0.0, 2.0)).level(0.5)
        1.0
        """
        at = int(np.clip(np.searchsorted(self.reads, reads), 1, len(self.reads) - 1))
        low, high = self.reads[at - 1], self.reads[at]
        slope = (self.really[at] - self.really[at - 1]) / (high - low)
        return self.really[at - 1] + slope * (reads - low)


def fit_curve(card: Sequence[tuple[Stops, Stops]]) -> ToneCurve:
    """A curve from frames of one card in one light: how each was exposed against the others, in stops, and
    how it reads. Mid-tone is where it reads as mid-tone (ISO 12232, standard output sensitivity).

    Raises Refused for fewer than five frames, or where they lie within two stops, or do not cross mid-tone.
    """
    if len(card) < FRAMES_LEAST:
        raise Refused("frames", f"{len(card)} are too few. Take {FRAMES_LEAST} or more of one card")
    exposed = np.array([one for one, _ in sorted(card)])
    reads = np.array([one for _, one in sorted(card)])
    if exposed[-1] - exposed[0] < SPAN_LEAST:
        raise Refused("frames", f"span less than {SPAN_LEAST:g} stops. Expose them farther apart")
    reads, kept = _rising(reads)
    exposed = exposed[kept]
    if not reads[0] <= 0 <= reads[-1]:
        raise Refused("frames", "all come out on one side of mid-tone. Expose some darker, some brighter")
    really = exposed - np.interp(0.0, reads, exposed)
    return ToneCurve(tuple(float(one) for one in reads), tuple(float(one) for one in really))


def _rising(reads: NDArray[np.float64]) -> tuple[NDArray[np.float64], list[int]]:
    """Only what reads brighter than everything before it: noise, and white that is full, tell nothing."""
    kept = [0]
    for index in range(1, len(reads)):
        if reads[index] > reads[kept[-1]] + 0.02:
            kept.append(index)
    if len(kept) < 2:
        raise Refused("frames", "all read the same: they are too dark or too bright")
    return reads[kept], kept
