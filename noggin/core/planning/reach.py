"""Reach: how far away a light can be, for many lights, modifiers and moments at once, in sync and in
high-speed sync.

The sums are those of `lighting` solved for the distance, on one array; a test holds them together.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics import flash
from noggin.core.planning.candidates import least_surplus, over_at_the_wall
from noggin.core.planning.vectorized import needed_flash
from noggin.core.setup.setup import SetUp
from noggin.core.units import EV100, Metres, Stops

DistanceGrid = NDArray[np.float64]
"""Metres, with axes lights × modifiers × modes (sync, high-speed sync) × moments. NaN: cannot take part;
0: too weak at any distance; infinity: no flash is needed."""


@dataclass(frozen=True)
class BareLight:
    """A light without its modifier: guide number (m, ISO 100, full power, one head) and toll in stops
    (None: no high-speed sync)."""

    gn_m: Metres
    hss_toll: Stops | None


@dataclass(frozen=True)
class ModifierFigures:
    """A modifier: what it takes in stops, and the radius of its face in metres (0 for a point)."""

    loss: Stops
    radius_m: Metres


def farthest(
    setup: SetUp,
    sources: Sequence[BareLight],
    shapers: Sequence[ModifierFigures],
    moments: Sequence[tuple[EV100, EV100]],
) -> DistanceGrid:
    """Farthest distance at which each light through each modifier makes the picture that is meant.

    `moments` are EV100 of background and subject. The picture (levels, school, wanted aperture, camera) is
    that of the set-up; the key carries it alone with any fill as stated. At sync the surplus is taken by a
    filter of just the right strength, in high-speed sync by the shutter; whether there is any is the rule
    of the plan, `candidates.surplus`. From the level a full pop leaves, F = 2·log2 GN - loss - log2(d² +
    r²) - settings - toll, and F = needed: d² = 2^… - r².
    """
    background, subject = np.array(moments, dtype=np.float64).reshape(-1, 2).T
    camera, wanted = setup.camera, setup.wanted_aperture.stops - setup.camera.iso_low.stops
    meant, over = background - setup.intent.background_level, over_at_the_wall(setup, background)
    past = over > least_surplus(setup)
    # Stops that flash loses to aperture, ISO and filter; a background that is a little over stays so.
    settings = np.where(past, meant - camera.sync.stops, wanted)
    ambient = subject - np.where((over > 0) & ~past, setup.wall_ev, meant)
    key_needs = needed_flash(setup.intent, ambient) - setup.key_and_fill
    shape = (len(sources), len(shapers), 1)
    full = np.array([flash.at_one_metre(source.gn_m) for source in sources]).reshape(-1, 1, 1)
    loss = np.array([shaper.loss for shaper in shapers]).reshape(1, -1, 1)
    radius = np.array([shaper.radius_m for shaper in shapers]).reshape(1, -1, 1)
    toll = np.array([_toll(setup, source) for source in sources]).reshape(-1, 1, 1)
    at_sync = np.broadcast_to(full - loss, shape) - settings - key_needs
    at_speed = at_sync - np.where(past, toll, 0.0)
    square = np.exp2(np.stack([at_sync, at_speed], axis=2)) - radius[:, :, np.newaxis] ** 2
    distances: DistanceGrid = np.sqrt(np.maximum(square, 0.0))
    return np.where(np.isnan(key_needs), np.inf, distances)


def _toll(setup: SetUp, source: BareLight) -> float:
    return source.hss_toll if source.hss_toll is not None and setup.camera.hss else float("nan")
