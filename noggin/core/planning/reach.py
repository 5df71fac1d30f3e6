"""Reach: how far away a light can be, through a modifier, in sync and in high-speed sync.

The sums are those of `lighting` solved for the distance; a test holds them together.
"""

from dataclasses import dataclass
from math import inf, sqrt

from noggin.core.physics import flash
from noggin.core.planning.candidates import least_surplus, over_at_the_wall
from noggin.core.planning.lighting import needed_flash
from noggin.core.setup.setup import SetUp
from noggin.core.units import EV100, Metres, Stops


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


@dataclass(frozen=True)
class FlashNeed:
    """What flash must come to before aperture, ISO and filter, for a picture at a moment (None: none is
    needed), and whether that picture is past sync."""

    level: Stops | None
    past_sync: bool


@dataclass(frozen=True)
class Farthest:
    """How far away a light can be at sync speed and in high-speed sync. 0: too weak at any distance;
    infinity: no flash is needed; None: it cannot take part."""

    sync_m: Metres
    hss_m: Metres | None


def flash_need(setup: SetUp, background: EV100, subject: EV100) -> FlashNeed:
    """What the picture that is meant (levels, school, wanted aperture, camera: the set-up's) asks of the
    key, which carries it alone with any fill as stated, where background and subject have so much light.

    At sync the surplus is taken by a filter of just the right strength, in high-speed sync by the shutter;
    whether there is any is the rule of the plan, `candidates.surplus`.
    """
    camera, wanted = setup.camera, setup.wanted_aperture.stops - setup.camera.iso_low.stops
    meant, over = background - setup.intent.background_level, over_at_the_wall(setup, background)
    past = over > least_surplus(setup)
    # Stops that flash loses to aperture, ISO and filter; a background that is a little over stays so.
    settings = meant - camera.sync.stops if past else wanted
    needed = needed_flash(setup, subject - (setup.wall_ev if over > 0 and not past else meant))
    return FlashNeed(None if needed is None else needed - setup.key_and_fill + settings, past)


def farthest(setup: SetUp, need: FlashNeed, source: BareLight, shaper: ModifierFigures) -> Farthest:
    """Farthest distance at which a light through a modifier gives what is needed.

    From the level a full pop leaves, F = 2·log2 GN - loss - log2(d² + r²) - settings - toll, and F =
    needed: d² = 2^… - r².
    """
    toll = source.hss_toll if setup.camera.hss else None
    if need.level is None:
        return Farthest(inf, inf)
    at_sync = flash.at_one_metre(source.gn_m) - shaper.loss - need.level
    if not need.past_sync:
        toll = 0.0
    return Farthest(_away(at_sync, shaper), None if toll is None else _away(at_sync - toll, shaper))


def _away(level: Stops, shaper: ModifierFigures) -> Metres:
    return sqrt(max(2.0**level - shaper.radius_m**2, 0.0))
