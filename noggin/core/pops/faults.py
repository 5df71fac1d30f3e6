"""What went wrong with a frame: every story that would explain it, by how likely it is, and the check that
tells."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import exp, log

from noggin.core.errors import Refused
from noggin.core.limits import check_choice
from noggin.core.physics import dials
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.pops.actual import ActualFrame, Unknown, as_dialled, light_uncertainty
from noggin.core.pops.estimate import Estimate, SettledFrames, Stories
from noggin.core.pops.frame import BandSeen, Frame
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops


@dataclass(frozen=True)
class Mishap:
    """A kind of thing that goes wrong: how often it does for a frame, the check that tells, what the frame
    was then taken with, and how it is asked for where that is not by its name."""

    key: str
    label: str
    often: float
    check: str
    stories: Callable[[SetUp, Frame], Iterator[ActualFrame]]
    question: str = ""


@dataclass(frozen=True)
class Suspected:
    """A fault with its probability for the last frame."""

    fault: Mishap
    probability: float

    @property
    def question(self) -> str:
        """What to ask first, as it is said aloud."""
        return self.fault.question or f"Check first: {self.fault.label}."


SHOWN = 0.1
"""Faults that are less likely are not named."""

EASY = 0.8
"""A frame within so many standard deviations of what was believed is taken as it is."""

AMISS = 0.85
"""How probable it must be that anything went wrong for the likeliest fault to be taken as what happened,
until a check says otherwise: more than even chances, since faults are taken to be frequent."""

ASKED = 0.5
"""The same for what is asked for and not told: whether the flash fired, and of the first look whether the
filter is on the lens. A face that is under may be lit by a weak light, and nobody dials before that is
known."""

WEAK_OFTEN, WEAK_OFTEN_MEASURED = 0.13, 0.002
"""How often lights are much weaker than their class says, and how often they are than was measured. Common
practice, no source; as high as it takes for a weak light to be taken for none in under one of twenty, by
words (benchmarks/at_the_spot)."""

MEASURED: Stops = 0.5
"""Gear that is known to this or better was measured."""

DOUBTFUL = 0.5
"""From here on what may have gone wrong is worth a word."""

FREE = {"auto_iso": (3.0, 1.5), "auto_flash": (4.0, 0.0), "cloud": (3.0, 0.0)}
"""± and mean, in stops, of what automatic ISO, automatic flash and the sky do. Common practice, no source:
automatic ISO seldom goes down."""

SLIP: Stops = 1.0
"""A label beside the one that was meant, as it is read in whole stops: 1/2 for 1/4, f/2 for f/2.8."""


def _past_sync(setup: SetUp, frame: Frame) -> bool:
    return frame.dialled.settings.shutter.stops > setup.camera.sync.stops + TOLERANCE


def _no_flash(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if frame.flash:
        yield ActualFrame(frame.dialled, frozenset(range(len(setup.lights))))


def _group_asleep(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if not frame.flash:
        return
    groups = {light.group or light.says for light in setup.lights}
    for group in sorted(groups):
        off = frozenset(i for i, light in enumerate(setup.lights) if (light.group or light.says) == group)
        if len(off) < len(setup.lights):
            yield ActualFrame(frame.dialled, off)


def _sync_fallback(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if _past_sync(setup, frame):
        yield as_dialled(frame, setup).changed(shutter=setup.camera.sync)


def _hss_off(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if frame.flash and _past_sync(setup, frame):
        story = as_dialled(frame, setup)
        yield replace(story, flash_shutter=setup.camera.sync, band=True)
        yield replace(story, off=frozenset(range(len(setup.lights))), band=True)


def _hss_left_on(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if frame.flash and not _past_sync(setup, frame) and setup.key.hss_toll is not None:
        yield replace(as_dialled(frame, setup), taken_toll=True)


def _filter_left_off(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if frame.dialled.settings.stack.stops:
        yield as_dialled(frame, setup).changed(stack=NO_FILTER)


def _filter_left_on(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    if not frame.dialled.settings.stack.stops:
        for place, one in enumerate(setup.filters):
            yield as_dialled(frame, setup).changed(stack=Stack((one.name,), one.least, (place,)))


def _free(key: str, part: str) -> Callable[[SetUp, Frame], Iterator[ActualFrame]]:
    def stories(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
        if part != "flash" or frame.flash:
            uncertainty, mean = FREE[key]
            yield replace(as_dialled(frame, setup), free=(part, Unknown(key, uncertainty, mean)))

    return stories


def _wrong_light(_: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    powers = frame.dialled.powers
    for one, other in combinations(sorted(powers), 2):
        swapped = {**powers, one: powers[other], other: powers[one]}
        if frame.flash and abs(powers[one] - powers[other]) > TOLERANCE:
            yield ActualFrame(replace(frame.dialled, powers=swapped))


def _typing_slip(setup: SetUp, frame: Frame) -> Iterator[ActualFrame]:
    story, settings = as_dialled(frame, setup), frame.dialled.settings
    for by in (-SLIP, SLIP):
        yield story.changed(shutter=setup.camera.shutters.nearest(settings.shutter.stops + by))
        aperture = setup.lens.apertures(setup.camera.dial_steps).nearest(settings.aperture.stops + by)
        yield story.changed(aperture=aperture)
        yield story.changed(iso=dials.iso_dial().nearest(settings.iso.stops + by))
        for index, down in frame.dialled.powers.items() if frame.flash else ():
            powers = {**frame.dialled.powers, index: max(down + by, 0.0)}
            yield replace(story, dialled=replace(frame.dialled, powers=powers))


FAULTS = (
    Mishap(
        "no_flash",
        "no flash fired",
        0.08,
        "Is the face lit at all: a shadow side, a catchlight, brighter than the frame without flash? If"
        " not: group, channel, receiver mode; asleep, recycling, an optical slave in the sun.",
        _no_flash,
        "Did the flash fire?",
    ),
    Mishap(
        "group_asleep",
        "a light did not fire",
        0.05,
        "Look at each light while you fire a test pop: group, channel, asleep?",
        _group_asleep,
    ),
    Mishap(
        "sync_fallback",
        "the camera fell back to sync speed",
        0.04,
        "Read the shutter speed off the camera: is the trigger's high-speed sync on?",
        _sync_fallback,
    ),
    Mishap(
        "hss_off",
        "high-speed sync was off",
        0.04,
        "Look for a dark band across the frame, and at the trigger's high-speed sync.",
        _hss_off,
    ),
    Mishap(
        "hss_left_on",
        "high-speed sync was left on within sync",
        0.06,
        "Switch high-speed sync off at trigger and head: within sync it only takes power.",
        _hss_left_on,
    ),
    Mishap(
        "filter_left_off",
        "the filter is not on the lens",
        0.04,
        "Look at the front of the lens.",
        _filter_left_off,
        "Is the filter on the lens?",
    ),
    Mishap(
        "filter_left_on",
        "a filter is still on the lens",
        0.02,
        "Look at the front of the lens.",
        _filter_left_on,
    ),
    Mishap(
        "auto_iso",
        "automatic ISO",
        0.02,
        "Read ISO off the frame: is it what you dialled?",
        _free("auto_iso", "all"),
    ),
    Mishap(
        "auto_flash",
        "automatic flash",
        0.065,
        "Is the trigger on manual power, or on automatic?",
        _free("auto_flash", "flash"),
    ),
    Mishap(
        "wrong_light", "power went to another light", 0.025, "Read the power off each head.", _wrong_light
    ),
    Mishap(
        "cloud",
        "the daylight changed",
        0.055,
        "Look up: has a cloud come or gone? Take the frame again.",
        _free("cloud", "daylight"),
    ),
    Mishap(
        "typing_slip",
        "a neighbouring label was dialled or typed",
        0.085,
        "Read time, aperture, ISO and power again.",
        _typing_slip,
    ),
)
"""Every fault. How often: no source, and taken high, since a look at what is named costs little; as high as
benchmarks/at_the_spot lets it be before healthy frames are suspected."""

BY_KEY = {fault.key: fault for fault in FAULTS}


@dataclass(frozen=True)
class Diagnosis:
    """What the last frame says: the estimate by the likeliest story, the one where nothing went wrong,
    the faults that are suspected, likeliest first, and how probable it is that any of them happened. `asks`
    is from how probable on the likeliest is asked for before anything is changed."""

    estimate: Estimate
    plain: Estimate
    suspected: tuple[Suspected, ...]
    amiss: float = 0.0
    asks: float = AMISS

    @property
    def story(self) -> ActualFrame:
        """What happened in the last frame."""
        return self.estimate.actual[-1]

    @property
    def likely(self) -> Suspected | None:
        """The likeliest fault where one probably happened; None where all is probably well."""
        return self.suspected[0] if self.suspected and self.amiss > self.asks else None

    @property
    def others(self) -> tuple[Suspected, ...]:
        """What else may have gone wrong, where there is reason to think of it."""
        if self.likely:
            return self.suspected[1:]
        return self.suspected if self.amiss > DOUBTFUL else ()


ONE_BY_ONE, SETTLED_AT_ONCE = 12, 6
"""So many frames at most are judged one by one; when there are more, the first so many of them are settled:
what they say together is kept, so that the hundredth frame costs what the twelfth does."""


@dataclass(frozen=True)
class Told:
    """What is settled of the frames so far: the story of each, and what those that are not judged one by
    one any more say together, also where the lights are weak."""

    stories: tuple[ActualFrame, ...] = ()
    known: SettledFrames | None = None
    known_weak: SettledFrames | None = None

    def of(self, setup: SetUp, frames: tuple[Frame, ...], *, weak: bool = False) -> Stories:
        """The last of some frames, to be explained after the others."""
        known = self.known_weak if weak else self.known
        before = self.stories[: len(frames) - 1]
        if known is None:
            return Stories(setup, frames, before, weak)
        start = known.frames - 1
        first = replace(frames[start], seen=())
        window = (replace(before[start], free=None), *before[start + 1 :])
        return Stories(setup, (first, *frames[start + 1 :]), window, weak, known)

    def after(self, setup: SetUp, frames: tuple[Frame, ...], story: ActualFrame) -> "Told":
        """The same with one more frame, the last of these, whose story is known now."""
        told = replace(self, stories=(*self.stories, story))
        settled = self.known.frames if self.known else 0
        if len(frames) - settled < ONE_BY_ONE:
            return told
        part = frames[: settled + SETTLED_AT_ONCE]

        def together(*, weak: bool) -> SettledFrames:
            stories = told.of(setup, part, weak=weak)
            return stories.estimate(told.stories[len(part) - 1]).settled(len(part), stories.known)

        return replace(told, known=together(weak=False), known_weak=together(weak=True))


def diagnose(setup: SetUp, frames: Sequence[Frame]) -> Diagnosis:
    """What went wrong, frame after frame: what was the likeliest story of a frame is taken so for those
    that follow. A fault that was found explains its frame, and one that was ruled out is not named again.
    Raises Refused for a fault that was found where it cannot happen, and where there is no frame."""
    if not frames:
        raise Refused("frames", "there is no frame yet to say anything")
    told = Told()
    for count in range(1, len(frames) + 1):
        so_far = tuple(frames[:count])
        found = diagnose_last(setup, so_far, told)
        told = told.after(setup, so_far, found.story)
    return found


def diagnose_last(setup: SetUp, frames: tuple[Frame, ...], before: Told) -> Diagnosis:
    """What went wrong with the last of some frames, where it is known what those before it told (see
    `diagnose`)."""
    stories, last = before.of(setup, frames), frames[-1]
    weak = before.of(setup, frames, weak=True)
    if last.fault:
        return max((_as_found(one) for one in (stories, weak)), key=lambda one: _evidence(setup, one))
    plain = stories.estimate(stories.plain)
    told: list[tuple[Mishap | None, Estimate, float]] = []
    often = 1 - sum(fault.often for fault in FAULTS)
    told.append((None, plain, log(often) + plain.evidence))
    # What fits well needs no other story.
    amiss = last.seen and (plain.strain > EASY or _unexplained_band(stories))
    if amiss and any(frame.flash for frame in frames):
        weaker = weak.estimate(weak.plain)
        told.append((None, weaker, log(often) + log(weak_often(setup)) + weaker.evidence))
    for fault in FAULTS if amiss else ():
        if fault.key in last.ruled_out:
            continue
        actual = list(fault.stories(setup, last))
        for story in actual:
            found = stories.estimate(story)
            told.append((fault, found, log(fault.often / len(actual)) + found.evidence))
    most = max(weight for _, _, weight in told)
    total = sum(exp(weight - most) for _, _, weight in told)
    chances: dict[str, float] = {}
    for of, _, weight in told:
        if of is not None:
            chances[of.key] = chances.get(of.key, 0.0) + exp(weight - most) / total
    ranked = sorted(chances.items(), key=lambda one: -one[1])
    suspected = tuple(Suspected(BY_KEY[key], chance) for key, chance in ranked if chance > SHOWN)
    asked = _names(suspected, "no_flash") or (_first_look(frames) and _names(suspected, "filter_left_off"))
    # Who wants a frame as it came out has looked at it, and is asked nothing.
    asks = 1.0 if last.wanted else ASKED if asked else AMISS
    plain = _best(told, None)
    said = Diagnosis(plain, plain, suspected, sum(chances.values()), asks)
    return replace(said, estimate=_best(told, said.likely.fault if said.likely else None))


def _best(told: Sequence[tuple[Mishap | None, Estimate, float]], fault: Mishap | None) -> Estimate:
    """The estimate of the likeliest story of one fault, or of none."""
    _, place = max((weight, place) for place, (of, _, weight) in enumerate(told) if of is fault)
    return told[place][1]


def _names(suspected: Sequence[Suspected], key: str) -> bool:
    """Whether a fault is the likeliest."""
    return bool(suspected) and suspected[0].fault.key == key


def _first_look(frames: tuple[Frame, ...]) -> bool:
    """Whether the last frame is the first look without flash."""
    return len(frames) == 1 and not frames[0].flash


def _unexplained_band(stories: Stories) -> bool:
    """Whether a band was seen in the last frame that nothing would make."""
    seen = any(isinstance(one, BandSeen) for one in stories.frames[-1].seen)
    return seen and not stories.plain.band


def weak_often(setup: SetUp) -> float:
    """How often the lights of a set-up are much weaker than they are taken for."""
    known = max(light_uncertainty(light) for light in setup.lights)
    return WEAK_OFTEN if known > MEASURED else WEAK_OFTEN_MEASURED


def _evidence(setup: SetUp, found: Diagnosis) -> float:
    weak = found.estimate.unknowns.weak
    return found.estimate.evidence + (log(weak_often(setup)) if weak else 0.0)


def _as_found(stories: Stories) -> Diagnosis:
    """What the frames say where the photographer found what went wrong with the last one."""
    last = stories.frames[-1]
    check_choice("fault", last.fault, BY_KEY)
    fault = BY_KEY[last.fault]
    told = [stories.estimate(story) for story in fault.stories(stories.setup, last)]
    if not told:
        raise Refused("fault", f"{fault.label}: that cannot happen to this frame")
    best = max(told, key=lambda found: found.evidence)
    return Diagnosis(best, best, ())


def possible(setup: SetUp, frame: Frame) -> tuple[Mishap, ...]:
    """Every fault that can happen to a frame."""
    return tuple(fault for fault in FAULTS if next(iter(fault.stories(setup, frame)), None))
