"""Reach: how far away a light may stand, for many lights, modifiers and moments at once, in sync and in
high-speed sync.

The sums are those of `lighting` solved for the distance, on one array; a test holds them together.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noggin.core import flash
from noggin.core.columns import needed_flash
from noggin.core.setup import SetUp
from noggin.core.units import EV100, TOLERANCE, Metres, Stops

Grid = NDArray[np.float64]
"""Metres, with axes lights × modifiers × modes (sync, high-speed sync) × moments. NaN: cannot take part;
0: too weak at any distance; infinity: no flash is needed."""


@dataclass(frozen=True)
class Source:
    """A light without its modifier: guide number (m, ISO 100, full power, one head) and toll in stops
    (None: no high-speed sync)."""

    gn_m: Metres
    hss_toll: Stops | None


@dataclass(frozen=True)
class Shaper:
    """A modifier: what it takes in stops, and the radius of its face in metres (0 for a point)."""

    loss: Stops
    radius_m: Metres


def farthest(
    setup: SetUp,
    sources: Sequence[Source],
    shapers: Sequence[Shaper],
    moments: Sequence[tuple[EV100, EV100]],
) -> Grid:
    """Farthest distance at which each light through each modifier makes the picture that is meant.

    `moments` are EV100 of background and subject. The picture (levels, school, wanted aperture, camera)
    is that of the set-up; the key carries it alone with any fill as stated. At sync the surplus is taken
    by glass of just the right strength, past sync by the shutter. From the level a full pop leaves,
    F = 2·log2 GN - loss - log2(d² + r²) - settings - toll, and F = needed: d² = 2^… - r².
    """
    background, subject = np.array(moments, dtype=np.float64).reshape(-1, 2).T
    camera, wanted = setup.camera, setup.wanted_aperture.stops - setup.camera.iso_low.stops
    meant = background - setup.intent.background_level
    # Stops that flash loses to aperture, ISO and glass when the background lands where it is meant.
    settings = np.maximum(meant - camera.sync.stops, wanted)
    past = meant - camera.sync.stops > wanted + TOLERANCE
    ambient = subject - meant
    key_needs = needed_flash(setup.intent, ambient) - setup.key_and_fill
    shape = (len(sources), len(shapers), 1)
    full = np.array([flash.at_one_metre(one.gn_m) for one in sources]).reshape(-1, 1, 1)
    loss = np.array([one.loss for one in shapers]).reshape(1, -1, 1)
    radius = np.array([one.radius_m for one in shapers]).reshape(1, -1, 1)
    toll = np.array([_toll(setup, one) for one in sources]).reshape(-1, 1, 1)
    at_sync = np.broadcast_to(full - loss, shape) - settings - key_needs
    at_speed = at_sync - np.where(past, toll, 0.0)
    square = np.exp2(np.stack([at_sync, at_speed], axis=2)) - radius[:, :, np.newaxis] ** 2
    distances: Grid = np.sqrt(np.maximum(square, 0.0))
    return np.where(np.isnan(key_needs), np.inf, distances)


def _toll(setup: SetUp, source: Source) -> float:
    return source.hss_toll if source.hss_toll is not None and setup.camera.hss else float("nan")
