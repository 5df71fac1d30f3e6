"""Flash first: a power gives the aperture, whatever the daylight; the shutter then places the daylight."""

from dataclasses import dataclass
from math import log2

from noggin.core import limits
from noggin.core.physics import exposure
from noggin.core.physics.dials import DialStep
from noggin.core.planning.verdicts import JUST_MISSES, PASSED_BY
from noggin.core.setup.setup import SetUp
from noggin.core.units import FNumber, Stops
from noggin.core.wording import signed, stops


@dataclass(frozen=True)
class FlashFirst:
    """What a power of the key gives at the lowest ISO: the aperture that a flash meter at the face shows
    (`metered`, exact), the one to dial for what the face is meant to be (None where the lens has none so
    wide or so small), by how much the meter's is beyond the lens then, the time that places the background
    (within sync), where daylight alone then lands it, and by how many stops it would still have to be
    shorter than sync."""

    metered: FNumber
    aperture: DialStep | None
    beyond_lens: Stops
    shutter: DialStep | None = None
    background: Stops = 0.0
    past_sync: Stops = 0.0


def flash_first(setup: SetUp, power: float) -> FlashFirst:
    """The aperture for a power (a fraction of full, 1/8192 to 1) and the time that follows from it. Key and
    fill count, as a flash meter at the face sees them. Raises OutOfRange.

    `N = 2·log2(GN/d) + log2(power) − losses + log2(ISO/100)` in stops over f/1 (ISO 1230); what the face is
    meant to be over or under mid-tone opens or closes it.
    """
    limits.LEAST_POWER.check("power", power)
    camera, key = setup.camera, setup.key
    metered = key.reach + log2(power) + camera.iso_low.stops + setup.key_and_fill
    wanted = metered - setup.intent.subject_level
    nearest = setup.lens.apertures(camera.dial_steps).nearest(wanted)
    beyond = wanted - nearest.stops
    exact = float(2 ** (metered / 2))
    if abs(beyond) > setup.dial_step / 2 + PASSED_BY:
        return FlashFirst(exact, None, beyond)
    time = setup.scene.background - setup.intent.background_level - nearest.stops + camera.iso_low.stops
    past = time - camera.sync.stops
    within = [step for step in camera.times_to_sync if step.stops <= time + setup.dial_step / 2]
    shutter = within[-1] if within else camera.slowest
    ev = exposure.settings_ev(shutter.stops, nearest.stops, camera.iso_low.stops)
    lands = exposure.ambient_level(setup.scene.background, ev, 0.0)
    return FlashFirst(exact, nearest, 0.0, shutter, lands, max(past, 0.0))


def daylight_words(setup: SetUp, found: FlashFirst) -> str:
    """Where the shutter then places the daylight, as a sentence or two; empty where no aperture serves."""
    if found.aperture is None or found.shutter is None:
        return ""
    time = found.shutter.label
    meant = setup.intent.background_level
    if found.past_sync <= max(JUST_MISSES, setup.dial_step / 2) + PASSED_BY:
        off = found.background - meant
        said = f"{time} s then places the background at {signed(found.background)}."
        if off >= -JUST_MISSES:
            return said
        return f"{said} For more, ISO rises by {stops(-off)} and the power falls with it."
    return (
        f"At {time} s, the sync speed, the background lands at {signed(found.background)}:"
        f" {stops(found.past_sync)} too bright. A filter takes that from both, and then wants a wider"
        " aperture or more power; high-speed sync takes it with the shutter, and the toll from the flash."
    )


def lens_words(found: FlashFirst) -> str:
    """What to do where the lens has no such aperture; empty where it has."""
    if found.aperture is not None:
        return ""
    if found.beyond_lens < 0:
        return (
            f"The lens does not open that far: the light is {stops(-found.beyond_lens)} short."
            " More power, or closer."
        )
    return (
        f"The lens does not close that far: the light is {stops(found.beyond_lens)} too strong."
        " Less power, farther away, or a filter."
    )
