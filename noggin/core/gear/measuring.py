"""What a few readings say about gear other than a light's guide number: modifier loss, toll, filter
strength and colour, sync speed, power scale.

A difference between two heaps of readings is the difference of their means; its ± is two-sided 95 % by
Student's t from their pooled scatter. A lone reading on each side says nothing of its scatter: each then
counts with `LONE`. Source: handbook of statistics.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import hypot, log2, sqrt

import numpy as np

from noggin.core.errors import Refused
from noggin.core.gear.calibrate import ODD, Measured, Reading
from noggin.core.physics.filters import mired_shift
from noggin.core.tables import student_t
from noggin.core.units import Metres, Seconds, Stops
from noggin.core.wording import number, plain, shutter_time, stops

LONE: Stops = 0.2
"""± of a single reading: a meter shows tenths, and a pop varies. Common practice, no source."""

FINEST: Stops = 0.05
"""No ± is finer: a meter is read to a tenth of a stop."""

FIRM: Stops = 0.3
"""A power step this far from a stop is pointed out: it is as much as the dial's own third."""

WHOLE = 99.5
"""Per cent of the frame from which it counts as whole."""


@dataclass(frozen=True)
class Said:
    """A figure from readings, and doubts and findings in words."""

    figure: Measured
    words: tuple[str, ...] = ()
    questions: tuple[str, ...] = ()


def difference(more: Sequence[float], less: Sequence[float]) -> Measured:
    """By how much one heap of readings is above another, in their unit.

    >>> difference([3.0], [2.0]).value
    1.0
    >>> difference([3.0, 3.0], [1.5, 1.5])
    Measured(value=1.5, uncertainty=0.05)
    """
    if not more or not less:
        raise Refused("readings", "write readings both with and without it")
    value = float(np.mean(more) - np.mean(less))
    free = len(more) + len(less) - 2
    if free == 0:
        return Measured(value, hypot(LONE, LONE))
    left = sum(float(np.sum((np.array(heap) - np.mean(heap)) ** 2)) for heap in (more, less))
    scatter = sqrt(left / free) * sqrt(1 / len(more) + 1 / len(less))
    return Measured(value, max(scatter * student_t(free), FINEST))


def modifier_loss(bare: Sequence[Reading], through: Sequence[Reading], radius_m: Metres) -> Said:
    """What a modifier of a face takes, from readings of the same light without and with it.

    loss = F_without - F_with, each raised by log2(d² + r²) and by its power. Source: ISO 1230 and the disc
    law. Raises Refused where one side is missing.
    """

    def at_infinity(reading: Reading, radius: Metres) -> Stops:
        return reading.level + log2(reading.distance_m**2 + radius**2) - log2(reading.power)

    loss = difference(
        [at_infinity(one, 0.0) for one in bare], [at_infinity(one, radius_m) for one in through]
    )
    questions = []
    if loss.value + loss.uncertainty < 0:
        questions.append(
            f"It is {stops(-loss.value)} brighter with the modifier on: a deep mirrored one can gain,"
            " most cannot. Were the two mixed up?"
        )
    return Said(loss, questions=tuple(questions))


def toll(readings: Sequence[Reading], sync_s: Seconds, radius_m: Metres = 0.0) -> Said:
    """The high-speed toll from pops at sync and past it: at sync, less past it with the stops past sync put
    back. Two frames are enough. With three times or more the fall is looked at: it should be one stop a
    stop; a droop or a break is said.

    Source: definition of the toll; F_hss(t) = F_full - toll - log2(t_sync/t).
    """
    plain_pops = [_near(reading, radius_m) for reading in readings if reading.shutter_s is None]
    past = sorted(
        (_past(reading, sync_s), _near(reading, radius_m))
        for reading in readings
        if reading.shutter_s is not None
    )
    found = difference(plain_pops, [level + stops_past for stops_past, level in past])
    words, questions = [], []
    if len({stops_past for stops_past, _ in past}) >= 3:
        slope, middle = np.polyfit([past_sync for past_sync, _ in past], [level for _, level in past], 1)
        droop = -slope - 1
        fall = f"The level falls by {plain(-slope, 2)} stops for a stop of time"
        words.append(f"{fall}: {'a droop' if droop > 0.05 else 'as it should'}.")
        off = [(level - (slope * past_sync + middle), past_sync) for past_sync, level in past]
        worst, past_sync = max(off, key=lambda reading: abs(reading[0]))
        if abs(worst) > ODD / 2:
            time = shutter_time(sync_s / 2**past_sync)
            questions.append(f"At {time} it breaks from the line by {plain(worst)} stops: take it again.")
    if found.value + found.uncertainty < 0:
        questions.append(
            "High-speed sync cannot give more than a full pop: was the first one fired at sync?"
        )
    return Said(found, tuple(words), tuple(questions))


def _near(reading: Reading, radius_m: Metres) -> Stops:
    """A reading brought to full power and to 1 m from a point."""
    return reading.level + log2(reading.distance_m**2 + radius_m**2) - log2(reading.power)


def _past(reading: Reading, sync_s: Seconds) -> Stops:
    return log2(sync_s / reading.shutter_s) if reading.shutter_s else 0.0


def filter_strength(without: Sequence[float], through: Sequence[float], marked: Stops) -> Said:
    """True stops of a filter, from EV readings without and through it, beside what is marked."""
    found = difference(without, through)
    questions = []
    if found.value <= 0:
        questions.append(
            "It is brighter through the filter: were the two mixed up, or did the light change?"
        )
    elif abs(found.value - marked) > max(1.0, found.uncertainty):
        questions.append(f"It is marked {stops(marked)}: did the light change between the readings?")
    off = found.value - marked
    agrees = abs(off) <= max(found.uncertainty, 0.1)
    words = (
        "as marked" if agrees else f"{stops(abs(off))} {'stronger' if off > 0 else 'weaker'} than marked"
    )
    return Said(found, (f"It takes {stops(found.value)}: {words}.",), tuple(questions))


SHIFTS = ((10, "not to be seen"), (25, "slight"), (60, "plain to see"), (10_000, "strong"))
"""Shifts of colour in mired up to which they are called so. A usual colour-compensating step is some 10
mired. Common practice, no source."""


def colour_words(mired: float) -> str:
    """A shift of colour in words.

    >>> colour_words(4), colour_words(-30)
    ('4 mired warmer, not to be seen', '30 mired cooler, plain to see')
    """
    size = next(word for most, word in SHIFTS if abs(mired) < most)
    return f"{plain(abs(mired), 0)} mired {'warmer' if mired >= 0 else 'cooler'}, {size}"


def colour_shift(without_k: Sequence[float], through_k: Sequence[float]) -> Said:
    """Mired by which a filter warms (positive) or cools, from white balances that made a card neutral: a
    picture that needs a lower balance through the glass was warmed."""
    value = mired_shift(float(np.mean(without_k)), float(np.mean(through_k)))
    # A camera's balance is set in steps of 100 K or so: some 3 mired in daylight, on both sides.
    return Said(Measured(value, 5.0), (f"Colour: {colour_words(value)}.",))


@dataclass(frozen=True)
class Curtains:
    """What a series of frames says: the fastest time with the whole frame lit (None: none was), and the
    curtains' travel time from the frames that were cut (None: none was)."""

    sync_s: Seconds | None
    travel_s: Measured | None
    questions: tuple[str, ...] = ()


def sync_of_frames(frames: Mapping[Seconds, float]) -> Curtains:
    """Sync speed and curtain travel from frames of one plain pop: time in s to per cent of the frame lit.

    The lit part is t/T on a focal-plane shutter, so every cut frame gives T.
    """
    slow_first = sorted(frames.items(), reverse=True)
    whole = [time for time, lit in slow_first if lit >= WHOLE]
    cut = [100 * time / lit for time, lit in slow_first if 0 < lit < WHOLE]
    questions = []
    for (slow, more), (fast, less) in pairwise(slow_first):
        if less > more + 3:
            questions.append(
                f"{shutter_time(fast)} shows more of the frame than {shutter_time(slow)}: were they mixed"
                " up?"
            )
    if whole and not cut:
        questions.append("Every frame was whole: go on to faster times until a band begins.")
    if not whole:
        questions.append("No frame was whole: begin with slower times.")
    travel = None
    if cut:
        off = float(np.std(cut, ddof=1)) * student_t(len(cut) - 1) / sqrt(len(cut)) if len(cut) > 1 else 0.0
        travel = Measured(float(np.mean(cut)), off or 0.1 * float(np.mean(cut)))
    return Curtains(min(whole) if whole else None, travel, tuple(questions))


@dataclass(frozen=True)
class PowerScale:
    """How true a power scale is: for each power, stops off from full power less the dialled stops, and the
    step from the power before."""

    powers: tuple[float, ...]
    off: tuple[Stops, ...]
    steps: tuple[Stops | None, ...]
    worst: Measured
    questions: tuple[str, ...] = ()


def power_scale(readings: Mapping[float, Sequence[Stops]]) -> PowerScale:
    """Linearity of a power scale: levels metered at each power, at one distance.

    Raises Refused for fewer than two powers.
    """
    powers = sorted(readings, reverse=True)
    if len(powers) < 2:
        raise Refused("readings", "write at least two powers")
    levels = [float(np.mean(readings[power])) for power in powers]
    off = [level - levels[0] - log2(power / powers[0]) for power, level in zip(powers, levels, strict=True)]
    steps: list[Stops | None] = [None]
    questions = []
    for before, after in pairwise(range(len(powers))):
        step, meant = levels[before] - levels[after], log2(powers[before] / powers[after])
        steps.append(step)
        if abs(step - meant) > FIRM:
            first, second = (f"1/{number(1 / powers[index], 1)}" for index in (before, after))
            questions.append(f"From {first} to {second} it is {stops(step)}, not {stops(meant)}.")
    worst = max(off, key=abs)
    return PowerScale(
        tuple(powers), tuple(off), tuple(steps), Measured(abs(worst), hypot(LONE, LONE)), tuple(questions)
    )
