"""Cautions raised by rule. The whole list is `RULES`; each row has its condition and its words.

They inform; local codes and licensed practice decide.
"""

from collections.abc import Callable
from dataclasses import dataclass

from noggin.core import optics
from noggin.core.lighting import Firing
from noggin.core.plan import Way
from noggin.core.setup import Light, SetUp
from noggin.core.tones import BLACK, WHITE_DRESS, clips
from noggin.core.units import EV100, Metres, Stops
from noggin.core.wording import listed, metres, plain, signed, stops

FILTER_BLINDS: Stops = 6
"""From this strength up the finder is too dim in any light. Common practice, no source."""

FINDER_NEEDS: EV100 = 2
"""EV100 behind the filter under which autofocus fails. Common practice, no source."""

MISS_WORTH_SAYING: Stops = 1 / 3
"""Subject off its meant level by more than this is said aloud."""

CLOSE_TO_EYES: Metres = 1.0
"""A light this near is close to the eyes. Common practice, no source."""

BIG_FACE: Metres = 0.3
"""Radius of a modifier from which wind matters. Common practice, no source."""

BACKLIT: Stops = 2.0
"""Background this much over the subject's shaded side: the sun is behind. Common practice."""


@dataclass(frozen=True)
class Rule:
    """One caution: when it stands, and what it says. `when` and `say` see the set-up and the way."""

    key: str
    when: Callable[[SetUp, Way], bool]
    say: Callable[[SetUp, Way], str]


def _miss(setup: SetUp, way: Way) -> Stops:
    return way.lighting.levels.subject - setup.intent.subject_level


def _finder_fails(setup: SetUp, way: Way) -> bool:
    nd = way.settings.stack.stops
    return nd > 0 and (nd >= FILTER_BLINDS or setup.scene.subject - nd < FINDER_NEEDS)


def _diffracts(setup: SetUp, way: Way) -> bool:
    return optics.airy_disc(way.settings.aperture.value) > optics.circle_of_confusion(
        setup.camera.sensor_mm
    )


def _strong(way: Way) -> list[Firing]:
    """Lights that fire at half power or more."""
    return [firing for firing in way.lighting.firings if (firing.power or 0) >= 0.5]


def _strong_near_eyes(way: Way) -> list[Light]:
    near = (f.light for f in _strong(way) if f.light.lights_subject)
    return [light for light in near if light.distance_m <= CLOSE_TO_EYES]


def _strong_in_hss(way: Way) -> list[Firing]:
    return [firing for firing in _strong(way) if firing.hss]


def _sails(setup: SetUp) -> list[Light]:
    return [light for light in setup.lights if light.radius_m >= BIG_FACE]


RULES = (
    Rule(
        "finder",
        _finder_fails,
        lambda _, way: (
            "Focus before the filter goes on: the finder and autofocus lose"
            f" {stops(way.settings.stack.stops)}."
        ),
    ),
    Rule(
        "power_follows",
        lambda _, way: way.settings.stack.stops > 0,
        lambda *_: "Set flash power anew when the filter comes off: it dims flash and daylight alike.",
    ),
    Rule(
        "hss_mode",
        lambda _, way: way.lighting.hss,
        lambda setup, _: (
            "Set high-speed sync on trigger and light, or the camera falls back to"
            f" {setup.camera.sync.label}. Flash meters misread it."
        ),
    ),
    Rule(
        "heat",
        lambda _, way: bool(_strong_in_hss(way)),
        lambda _, way: (
            f"At {listed([f.power_words for f in _strong_in_hss(way)])} in high-speed sync a head heats"
            " and its battery drains: short bursts."
        ),
    ),
    Rule(
        "diffraction",
        _diffracts,
        lambda _, way: f"f/{way.settings.aperture.label} softens everything by diffraction.",
    ),
    Rule(
        "sky_clips",
        lambda _, way: way.lighting.levels.sky is not None and clips(way.lighting.levels.sky),
        lambda _, way: f"The sky clips at {signed(way.lighting.levels.sky)}.",
    ),
    Rule(
        "rim_clips",
        lambda _, way: way.lighting.levels.rim is not None and clips(way.lighting.levels.rim),
        lambda _, way: f"The sunlit rim clips at {signed(way.lighting.levels.rim)}.",
    ),
    Rule(
        "dress_clips",
        lambda _, way: clips(way.lighting.levels.subject + WHITE_DRESS),
        lambda _, way: (
            "A white dress clips: with faces at"
            f" {signed(way.lighting.levels.subject)} it lands at"
            f" {signed(way.lighting.levels.subject + WHITE_DRESS)}."
        ),
    ),
    Rule(
        "black_background",
        lambda _, way: way.lighting.levels.background <= BLACK,
        lambda _, way: f"The background reads as black at {signed(way.lighting.levels.background)}.",
    ),
    Rule(
        "subject_missed",
        lambda setup, way: abs(_miss(setup, way)) > MISS_WORTH_SAYING,
        lambda setup, way: (
            f"The subject comes out {stops(abs(_miss(setup, way)))}"
            f" {'over' if _miss(setup, way) > 0 else 'under'} what is meant"
            f" ({signed(way.lighting.levels.subject)})."
        ),
    ),
    Rule(
        "auto_drifts",
        lambda setup, _: setup.intent.school == "auto",
        lambda *_: "Automatic flash meters for itself: the first frame can drift, so look at it.",
    ),
    Rule(
        "eyes",
        lambda _, way: bool(_strong_near_eyes(way)),
        lambda _, way: (
            "Strong flash close to the eyes"
            f" ({listed([metres(light.distance_m) for light in _strong_near_eyes(way)])}): ask first, and"
            " keep it from infants and animals."
        ),
    ),
    Rule(
        "wind",
        lambda setup, _: bool(_sails(setup)),
        lambda setup, _: (
            f"A face {listed([plain(2 * light.radius_m) for light in _sails(setup)])} m across is a sail:"
            " sandbag the stand and have someone hold it."
        ),
    ),
    Rule(
        "sun_behind",
        lambda setup, _: setup.scene.background - setup.scene.subject >= BACKLIT,
        lambda *_: (
            "If the sun is in the frame, compose on the screen: never look at it through an optical finder."
        ),
    ),
)
"""Every caution there is, in the order they are shown."""


def cautions(setup: SetUp, way: Way) -> tuple[str, ...]:
    """The cautions that stand for one way."""
    return tuple(rule.say(setup, way) for rule in RULES if rule.when(setup, way))
