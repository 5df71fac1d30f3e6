"""One frame as it was dialled, and what was seen in it."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from math import log

from noggin.core.errors import Refused
from noggin.core.limits import check_choice
from noggin.core.planning.lighting import Settings
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.units import Metres, Stops


@dataclass(frozen=True)
class Trust:
    """A way of seeing a level: what it is called, and its ± in stops (two standard deviations)."""

    label: str
    uncertainty: Stops


TRUST = {
    "words": Trust("a look at the screen", 0.7),
    "jpeg": Trust("a JPEG's patch", 0.6),
    "jpeg_fitted": Trust("a JPEG's patch, its curve fitted", 0.3),
    "raw": Trust("a raw file's patch", 0.2),
    "meter": Trust("a flash meter", 0.2),
    "histogram": Trust("a histogram or a blinking highlight", 0.2),
}
"""Common practice, no source. A histogram says only that a zone lies at clipping or over it."""

SHARE_UNCERTAINTY = 0.05
"""± of a flash share that a meter reads, as a part of all light. Common practice, no source."""

SAID = {
    "far under": -1.5,
    "under": -2 / 3,
    "a little under": -1 / 3,
    "right": 0.0,
    "a little over": 1 / 3,
    "over": 2 / 3,
    "far over": 1.5,
}
"""What people say of a zone, in stops from what they mean. Common practice, no source."""


@dataclass(frozen=True)
class LevelSeen:
    """A zone's level in stops from mid-tone, of the light on it."""

    zone: str
    level: Stops
    by: str

    def __post_init__(self) -> None:
        check_choice("zone", self.zone, dict.fromkeys(ZONES))
        check_choice("by", self.by, TRUST)


@dataclass(frozen=True)
class ClippedSeen:
    """A zone that has lost its detail to white."""

    zone: str

    def __post_init__(self) -> None:
        check_choice("zone", self.zone, dict.fromkeys(ZONES))


@dataclass(frozen=True)
class MeterSeen:
    """What a flash meter at the face reads of one light alone: an aperture, in stops over f/1, at the
    ISO that is dialled. No filter is before a meter."""

    light: str
    aperture: Stops


@dataclass(frozen=True)
class ShareSeen:
    """The part of flash in all light on the subject, between 0 and 1."""

    share: float

    def __post_init__(self) -> None:
        if not 0 < self.share < 1:
            raise Refused("flash_share", f"{self.share:g} is not between 0 and 1")

    @property
    def odds(self) -> Stops:
        """By how many stops flash exceeds daylight: log2(p/(1 - p)).

        >>> ShareSeen(0.5).odds, round(ShareSeen(0.8).odds, 3)
        (0.0, 2.0)
        """
        return log(self.share / (1 - self.share), 2)

    @property
    def uncertainty(self) -> Stops:
        """± of those stops, by the slope of the odds: ±0.05 / (p (1 - p) ln 2)."""
        return SHARE_UNCERTAINTY / (self.share * (1 - self.share) * log(2))


@dataclass(frozen=True)
class BandSeen:
    """A part of the frame that the flash did not reach: a band across it."""


Seen = LevelSeen | ClippedSeen | MeterSeen | ShareSeen | BandSeen


@dataclass(frozen=True)
class Dialled:
    """Camera, filters and every light's power (stops under full, by its place in the set-up; a light
    that is left out is off), whether high-speed sync is switched on, where lights stand that were moved
    since the set-up was written, and on automatic flash its compensation in stops (None: by hand); it then
    takes the place of the powers."""

    settings: Settings
    powers: Mapping[int, Stops]
    hss: bool
    distances: Mapping[int, Metres] = field(default_factory=dict)
    compensation: Stops | None = None

    @property
    def lit(self) -> bool:
        """Whether any light is to fire."""
        return bool(self.powers) or self.compensation is not None


@dataclass(frozen=True)
class Meant:
    """What a frame is meant to be: levels of background and subject, and the look they belong to. Where a
    level was taken as it came out, `as_it_is` names its zone: it then counts whatever the school of flash
    says."""

    background_level: Stops
    subject_level: Stops
    look: str = ""
    as_it_is: frozenset[str] = frozenset()

    def of(self, setup: SetUp) -> SetUp:
        """The set-up with this for what is meant."""
        intent = setup.intent
        school, share = intent.school, intent.share
        if "subject" in self.as_it_is and school != "auto":
            school, share = "total", None
        changed = replace(
            intent,
            background_level=self.background_level,
            subject_level=self.subject_level,
            school=school,
            share=share,
        )
        return setup if changed == intent else replace(setup, intent=changed)


WANTED_ZONES = ("background", "subject")
"""Zones of which a level is meant."""


def meant_of(setup: SetUp) -> Meant:
    """What a set-up means."""
    return Meant(setup.intent.background_level, setup.intent.subject_level)


@dataclass(frozen=True)
class Frame:
    """One frame: minutes since the first one, whether the flash was on, what was dialled, what was seen.
    `fault` is what the photographer found had gone wrong (a key of FAULTS), `ruled_out` what they found
    had not. `meant` is what it was to be (None: what the set-up says), `wanted` are zones that are right as
    they came out, from then on."""

    minute: float
    flash: bool
    dialled: Dialled
    seen: tuple[Seen, ...] = ()
    fault: str = ""
    ruled_out: frozenset[str] = frozenset()
    meant: Meant | None = None
    wanted: frozenset[str] = frozenset()


def place_of(setup: SetUp, name: str) -> int:
    """The place of the light of a name, or of a role that one light has, in a set-up. Raises Refused."""
    known = [light.name for light in setup.lights]
    if name in known:
        return known.index(name)
    roles = [light.role for light in setup.lights]
    if roles.count(name.lower()) == 1:
        return roles.index(name.lower())
    raise Refused(
        "light", f"there is no light ‘{name}’; there are {', '.join(light.says for light in setup.lights)}"
    )
