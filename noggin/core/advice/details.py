"""What else there is to know about one way, a label and its answer in words.

The figures come from the rooms of the core they belong to; a row without an answer is not shown.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from noggin.core.physics import curtains, flash, optics
from noggin.core.physics.filters import gelled
from noggin.core.physics.tones import DARK_SUIT, WHITE_DRESS, clips
from noggin.core.planning.lighting import Firing
from noggin.core.planning.motion import longest_sharp, motion
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GELS
from noggin.core.units import Stops
from noggin.core.wording import duration, metres_span, percent, plain, signed, stops

HAND_TOLERANCE = 1.01
"""By how much a time may exceed the limit of the hand and still count as it: labels are rounded."""


@dataclass(frozen=True)
class Detail:
    """One more thing to know of a way: its label, and its answer in words; None where it does not arise."""

    key: str
    label: str
    answer: Callable[[SetUp, Way], str | None]


def clipping_level(setup: SetUp, way: Way) -> Stops:
    """Stops over mid-tone at which the sensor is full in this way."""
    return setup.camera.clipping_level(way.settings.iso)


def zones(way: Way) -> dict[str, Stops]:
    """Level of each zone that can clip, by its name; the dress at the faces' level."""
    levels = way.lighting.levels
    found = {
        "sky": levels.sky,
        "sunlit rim": levels.rim,
        "background": levels.background,
        "white dress": levels.subject + WHITE_DRESS,
    }
    return {name: level for name, level in found.items() if level is not None}


def first_to_clip(way: Way) -> tuple[str, Stops]:
    """The brightest zone, which clips first, and its level."""
    return max(zones(way).items(), key=lambda item: item[1])


def black_part(setup: SetUp, way: Way) -> float | None:
    """Part of the frame (0 to 1) that stays black, at the bottom of a landscape frame, when a light is
    fired past sync without high-speed sync; None within sync and on leaf and global shutters."""
    if not way.lighting.hss or setup.camera.shutter != "focal_plane":
        return None
    return 1 - curtains.lit_part(way.settings.shutter.value, setup.camera.travel_s)


def _worn(setup: SetUp, way: Way) -> str:
    full, faces = clipping_level(setup, way), way.lighting.levels.subject
    dress = faces + WHITE_DRESS
    state = "clips" if clips(dress, full) else f"{stops(full - dress)} under clipping"
    return f"white dress {signed(dress)} ({state}), dark suit {signed(faces + DARK_SUIT)}"


def _clipping(setup: SetUp, way: Way) -> str:
    full, (name, level) = clipping_level(setup, way), first_to_clip(way)
    where = "clips" if clips(level, full) else f"{stops(full - level)} under clipping"
    return f"{name} at {signed(level)}, {where} ({signed(full)})"


def _movement(setup: SetUp, way: Way) -> str | None:
    longest = longest_sharp(setup)
    if longest is None:
        return None
    found = motion(setup, way.lighting)
    if found.frozen_by == "shutter":
        return f"frozen by the shutter (sharp up to {duration(longest)})"
    if found.frozen_by == "flash":
        if found.pulse_s is None:
            return "frozen by the flash (duration not given; typical for this kind)"
        return f"frozen by the flash (t0.1 {duration(found.pulse_s)})"
    sharp = f"sharp at {duration(longest)} or shorter"
    return f"smears over {plain(found.points)} times the sharp limit; {sharp}"


def _hand(setup: SetUp, way: Way) -> str:
    limit = optics.handheld_limit(setup.lens.focal_mm, setup.camera.sensor_mm)
    if way.settings.shutter.value <= limit * HAND_TOLERANCE:
        return f"hand-held is fine (limit {duration(limit)})"
    return f"{way.settings.shutter.label} s is too slow to hand-hold (limit {duration(limit)})"


def _faces(setup: SetUp, way: Way) -> str | None:
    faces = setup.scene.faces_m
    if not faces:
        return None
    sharp = sum(optics.all_sharp([face], way.focus.near_m, way.focus.far_m) for face in faces)
    where = metres_span(min(faces), max(faces))
    return f"{'all' if sharp == len(faces) else f'{sharp} of {len(faces)}'} sharp, at {where}"


def _each(way: Way, words: Callable[[Firing], str | None]) -> str | None:
    """Words for each light that has some, behind its role."""
    found = [(firing.light.role, words(firing)) for firing in way.lighting.firings]
    return "; ".join(f"{role} {text}" for role, text in found if text) or None


def _across(_: SetUp, way: Way) -> str | None:
    def spread(firing: Firing) -> str | None:
        return f"{stops(firing.light.spread)} from near to far" if firing.light.faces_m else None

    return _each(way, spread)


def _softness(_: SetUp, way: Way) -> str | None:
    def wide(firing: Firing) -> str | None:
        light = firing.light
        return f"{flash.angular_size(light.distance_m, light.radius_m):.0f}°" if light.radius_m else None

    return _each(way, wide)


def _pulses(_: SetUp, way: Way) -> str | None:
    def pulse(firing: Firing) -> str | None:
        if firing.light.pulse is None or not firing.power or firing.hss:
            return None
        return f"{duration(firing.light.pulse.t01_s(firing.power))} (t0.1)"

    return _each(way, pulse)


def _charge(_: SetUp, way: Way) -> str | None:
    def frames(firing: Firing) -> str | None:
        battery = firing.light.battery
        if battery is None or not firing.power:
            return None
        recycles_in = battery.recycles_in(firing.power)
        ready = "at once" if recycles_in < 0.1 else f"in {plain(recycles_in)} s"
        return f"{battery.frames(firing.power, firing.hss):,} shots, recycles {ready}"

    return _each(way, frames)


def _colour(_: SetUp, way: Way) -> str | None:
    def gel(firing: Firing) -> str | None:
        if firing.light.gel is None:
            return None
        row = GELS[firing.light.gel]
        return f"{row.label}, about {round(gelled(flash.FLASH_K, row.mired), -2):.0f} K"

    return _each(way, gel)


def _remote(_: SetUp, way: Way) -> str | None:
    def address(firing: Firing) -> str | None:
        light = firing.light
        channel = "" if light.channel is None else f"channel {light.channel}"
        group = f"group {light.group}" if light.group else ""
        return ", ".join(filter(None, (group, channel))) or None

    return _each(way, address)


def _unsynchronised(setup: SetUp, way: Way) -> str | None:
    black = black_part(setup, way)
    return f"the bottom {percent(black)} of the frame stays black" if black else None


DETAILS = (
    Detail("worn", "dress and suit", _worn),
    Detail("clipping", "first to clip", _clipping),
    Detail("movement", "movement", _movement),
    Detail("hand", "hand-holding", _hand),
    Detail("faces", "faces", _faces),
    Detail("across", "light across faces", _across),
    Detail("softness", "apparent size of the light", _softness),
    Detail("pulse", "flash duration", _pulses),
    Detail("charge", "shots per charge", _charge),
    Detail("colour", "gel", _colour),
    Detail("remote", "trigger", _remote),
    Detail("unsynchronised", "if high-speed sync is off", _unsynchronised),
)
"""Every question, in the order they are shown."""


def details(setup: SetUp, way: Way) -> Iterator[tuple[str, str]]:
    """Label and answer of every question that arises for a way."""
    for row in DETAILS:
        answer = row.answer(setup, way)
        if answer is not None:
            yield row.label, answer
