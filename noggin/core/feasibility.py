"""Whether settings make the picture that is meant, and what they lack in stops when they do not."""

from collections.abc import Iterator

from noggin.core.candidates import background_error, reaches_background
from noggin.core.lighting import Firing, Lighting
from noggin.core.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import signed, stops

POWER_MISS: Stops = 1 / 3
"""How far a dialled light may miss its needed level."""

NOTHING_TO_TAKE_AWAY = "nothing to take away"


def shortcomings(setup: SetUp, lighting: Lighting) -> Iterator[str]:
    """What these settings lack, one line each; none at all means that they are feasible.

    The background must land within half a dial step of where it is meant, every light must take part
    with a reserve of 0 or more, and come within a third of a stop of its needed level when dialled.
    """
    if not reaches_background(setup, lighting.settings):
        yield _background_off(setup, lighting)
    for firing in lighting.firings:
        yield from _light_lacks(setup, firing)


def way_lacks(setup: SetUp, way: str, lighting: Lighting, surplus: Stops) -> Iterator[str]:
    """What a way lacks as such, then what its settings lack."""
    if way != "within_sync" and not surplus:
        yield NOTHING_TO_TAKE_AWAY
        return
    camera = setup.camera
    if way in ("nd", "mixed") and not setup.filters:
        yield f"a filter: {stops(surplus)} to take away, and the bag has none"
        return
    if way in ("stop_down", "mixed") and setup.apertures[-1] == setup.wanted_aperture:
        yield f"a smaller aperture: f/{setup.wanted_aperture.label} is the lens's last"
        return
    if way == "hss" and camera.fastest == camera.sync:
        yield f"a time past sync: {camera.sync.label} is the fastest already"
    yield from shortcomings(setup, lighting)


def in_short(lack: str) -> str:
    """What is lacking in a few words, for where there is little room.

    >>> in_short("0.3 stops of flash: Speedlight falls short at full power")
    '0.3 stops of flash short'
    >>> in_short("less light: Speedlight is 1 stop too strong at 1/128"), in_short("a filter: …")
    ('too strong', 'lacks a filter')
    """
    brief = lack.partition(":")[0]
    if brief == "less light":
        return "too strong"
    if brief.endswith("of flash"):
        return f"{brief} short"
    return brief if "too" in brief else f"lacks {brief}"


def _background_off(setup: SetUp, lighting: Lighting) -> str:
    error = background_error(setup, lighting.settings)
    reached = signed(lighting.levels.background_ambient)
    meant = signed(setup.intent.background_level)
    side = "too bright" if error > 0 else "too dark"
    return f"{stops(abs(error))} {side}: the background lands at {reached}, meant {meant}"


def _light_lacks(setup: SetUp, firing: Firing) -> Iterator[str]:
    name = firing.light.says
    if firing.full is None:
        who = f"{name} has none" if setup.camera.hss else "camera and trigger cannot do it"
        yield f"high-speed sync: {who}"
        return
    if firing.reserve is None or firing.level is None or firing.needed is None:
        return
    miss = firing.level - firing.needed
    if firing.reserve < -TOLERANCE:
        yield f"{stops(-firing.reserve)} of flash: {name} falls short at full power"
    elif miss > POWER_MISS + TOLERANCE:
        yield f"less light: {name} is {stops(miss)} too strong at {firing.power_label}"
    elif miss < -POWER_MISS - TOLERANCE:
        yield f"finer power steps: {name} misses by {stops(-miss)} at {firing.power_label}"
