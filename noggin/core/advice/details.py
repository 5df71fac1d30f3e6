"""What else there is to know about one way, a label and its answer in words.

The figures come from the rooms of the core they belong to; a row without an answer is not shown.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from noggin.core.advice.coverage import cover
from noggin.core.physics import curtains, flash, optics
from noggin.core.physics.appearance import CLOTHES, JPEG_LOSES, SKINS, Surface, clips
from noggin.core.physics.filters import gelled
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.planning.lighting import FACES_AT, Firing
from noggin.core.planning.motion import longest_sharp, motion
from noggin.core.planning.way import Way
from noggin.core.setup.layout import light_names
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GELS
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import duration, metres, metres_span, percent, plain, signed, stops


@dataclass(frozen=True)
class Detail:
    """One more thing to know of a way: its label, and its answer in words; None where it does not arise."""

    key: str
    label: str
    answer: Callable[[SetUp, Way], str | None]


def clipping_level(setup: SetUp, way: Way) -> Stops:
    """Stops over mid-tone at which the sensor is full in this way."""
    return setup.camera.clipping_level(way.settings.iso)


def surfaces(setup: SetUp) -> tuple[Surface, ...]:
    """What of the people light falls on, brightest first; a white dress and a dark suit where nothing is
    said of them."""
    said = {surface for person in setup.scene.people for surface in person.surfaces}
    found = said or {CLOTHES["white dress"], CLOTHES["dark suit"]}
    return tuple(sorted(found, key=lambda surface: -surface.reflectance))


def zones(setup: SetUp, way: Way) -> dict[str, Stops]:
    """Level of each zone that can clip, by its name: what people wear and are at the sunlit rim and at the
    faces' level, each by its own reflectance."""
    levels, brightest = way.lighting.levels, surfaces(setup)[0]
    found = {
        "sky": levels.sky,
        "background": levels.background,
        f"{brightest.label} at the rim": None if levels.rim is None else levels.rim + brightest.offset,
        brightest.label: levels.subject + brightest.offset,
    }
    return {name: level for name, level in found.items() if level is not None}


def clipping_skin(setup: SetUp, way: Way) -> Stops | None:
    """Where the brightest skin of the people lands, where it clips; None where it does not. Skin that
    nobody described counts as medium."""
    skins = [SKINS[person.skin] for person in setup.scene.people if person.skin] or [SKINS["medium"]]
    level = way.lighting.levels.subject + max(skin.offset for skin in skins)
    return level if clips(level, clipping_level(setup, way)) else None


def first_to_clip(setup: SetUp, way: Way) -> tuple[str, Stops]:
    """The brightest zone, which clips first, and its level."""
    return max(zones(setup, way).items(), key=lambda item: item[1])


def black_part(setup: SetUp, way: Way) -> float | None:
    """Part of the frame (0 to 1) that stays black, at the bottom of a landscape frame, when a light is
    fired past sync without high-speed sync; None within sync, and where the whole frame opens at once."""
    if not way.lighting.hss or not setup.camera.has_curtains:
        return None
    return 1 - curtains.lit_part(way.settings.shutter.value, setup.camera.travel_s)


def _worn(setup: SetUp, way: Way) -> str:
    full, faces = clipping_level(setup, way), way.lighting.levels.subject
    found = []
    for surface in surfaces(setup):
        level = faces + surface.offset
        left = f"{stops(full - level)} under clipping"
        state = "clips" if clips(level, full) else left if surface.reflectance > 0.5 else ""
        found.append(f"{surface.label} {signed(level)}" + (f" ({state})" if state else ""))
    return ", ".join(found)


def _clipping(setup: SetUp, way: Way) -> str:
    full, (name, level) = clipping_level(setup, way), first_to_clip(setup, way)
    jpeg = full - JPEG_LOSES
    if clips(level, full):
        where = "clips"
    elif clips(level, jpeg):
        where = "clips in a JPEG, raw holds it"
    else:
        where = f"{stops(full - level)} under clipping"
    return f"{name} at {signed(level)}, {where} (raw is full at {signed(full)}, JPEG at {signed(jpeg)})"


def _movement(setup: SetUp, way: Way) -> str | None:
    longest = longest_sharp(setup)
    if longest is None:
        return None
    found = motion(setup, way.lighting)
    if found.frozen_by == "shutter":
        return f"frozen by the shutter (sharp up to {duration(longest)})"
    if found.frozen_by == "flash":
        stated = all(light.pulse for light in setup.lights if light.lights_subject)
        kind = "" if stated else "; duration not given, typical for this kind"
        return f"frozen by the flash (t0.1 {duration(found.pulse_s or 0.0)}{kind})"
    if found.ghosts:
        return "the flash freezes it, but the bright background burns through its edges"
    sharp = f"sharp at {duration(longest)} or shorter"
    return f"smears over {plain(found.points)} times the sharp limit; {sharp}"


def _hand(setup: SetUp, way: Way) -> str | None:
    if setup.hand_stops is None:
        return None
    limit = 2**-setup.hand_stops
    if way.settings.shutter.stops >= setup.hand_stops - TOLERANCE:
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
    """Words for each light that has some, behind its role, numbered where several have the same."""
    firings = way.lighting.firings
    names = light_names(tuple(firing.light.role for firing in firings))
    found = [(name, words(firing)) for name, firing in zip(names, firings, strict=True)]
    return "; ".join(f"{name} {text}" for name, text in found if text) or None


def _across(_: SetUp, way: Way) -> str | None:
    def spread(firing: Firing) -> str | None:
        return f"{stops(firing.light.spread)} from near to far" if firing.light.faces_m else None

    return _each(way, spread)


def _softness(_: SetUp, way: Way) -> str | None:
    def wide(firing: Firing) -> str | None:
        light = firing.light
        return f"{flash.angular_size(light.distance_m, light.radius_m):.0f}°" if light.radius_m else None

    return _each(way, wide)


def _covers(setup: SetUp, way: Way) -> str | None:
    def size(firing: Firing) -> str | None:
        if not firing.light.lights_subject:
            return None
        found = cover(setup, firing.light)
        return f"{metres(found.across)} × {metres(found.up)}"

    return _each(way, size)


def _pulses(_: SetUp, way: Way) -> str | None:
    def pulse(firing: Firing) -> str | None:
        if not firing.power or firing.hss:
            return None
        kind, own = "" if firing.light.pulse else ", typical for this kind", firing.light.flash_pulse
        shown = duration(own.t05_at(firing.power))
        return f"{duration(own.t01_s(firing.power))} (t0.1{kind}); a display that shows t0.5 has {shown}"

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
        light, own = firing.light, PULSE_CLASSES[firing.light.head].colour_k
        if light.gel is None:
            return None if own == flash.FLASH_K else f"about {own:.0f} K in its fast mode"
        row = GELS[light.gel]
        return f"{row.label}, about {round(gelled(own, row.mired), -2):.0f} K"

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


def _droop(_: SetUp, way: Way) -> str | None:
    def edges(firing: Firing) -> str | None:
        light = firing.light
        if not firing.hss or not light.hss_droop:
            return None
        top, faces, bottom = (signed(light.droop_at(height)) for height in (0.0, FACES_AT, 1.0))
        return f"{top} at the top, {faces} at the faces, {bottom} at the bottom, against mid-frame"

    return _each(way, edges)


DETAILS = (
    Detail("worn", "skin and clothes", _worn),
    Detail("clipping", "first to clip", _clipping),
    Detail("movement", "movement", _movement),
    Detail("hand", "hand-holding", _hand),
    Detail("faces", "faces", _faces),
    Detail("across", "light across faces", _across),
    Detail("softness", "apparent size of the light", _softness),
    Detail("cover", "covers within a stop", _covers),
    Detail("pulse", "flash duration", _pulses),
    Detail("droop", "gradient of high-speed sync", _droop),
    Detail("charge", "shots per charge", _charge),
    Detail("colour", "colour of the flash", _colour),
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
