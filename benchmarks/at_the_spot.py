"""How a set-up comes right at the spot: hidden gear and daylight within their ±, frames seen through a
meter, a raw file or words, advice followed until it says done.

Each trial is a whole set-up through the core that the pages use: one frame with the flash off, then pops.
Printed are pops until face and background really are within a third of a stop, how often "done" is true,
whether a probability holds what it says, whether the ± cover the truth, and which faults are named. Run:
python -m benchmarks.at_the_spot [TRIALS]
"""

import sys
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, fields, replace
from datetime import UTC, datetime
from functools import partial
from itertools import groupby
from random import Random
from statistics import median, quantiles

from noggin.core.daylight.place import Moment, Place
from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.pops.actual import as_dialled
from noggin.core.pops.faults import AMISS, BY_KEY, diagnose
from noggin.core.pops.frame import SAID, BandSeen, Dialled, Frame
from noggin.core.pops.judging import with_flash
from noggin.core.pops.next_change import Advice, advise
from noggin.core.pops.target import expected
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.light import Light, LightUncertainty
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from noggin.devices.simulated_spot import SimulatedSpot

POPS_MOST = 8
APART_MIN = 0.5
"""Minutes from one frame to the next: fire, look, dial. Common practice, no source."""
NOON = Moment(Place(42.46, 0.71, "clear"), datetime(2027, 6, 19, 13, tzinfo=UTC))
CLASS = LightUncertainty(0.8, 0.8, 0.4)
MEASURED = LightUncertainty(0.15, 0.15, 0.15)


@dataclass
class Outcome:
    """What a run of trials came to."""

    pops: list[int] = field(default_factory=list)
    done: list[bool] = field(default_factory=list)
    said: list[tuple[float, bool]] = field(default_factory=list)
    covered: list[bool] = field(default_factory=list)
    alarms: list[bool] = field(default_factory=list)

    @classmethod
    def of_all(cls, outcomes: Iterable["Outcome"]) -> "Outcome":
        """What several runs came to together."""
        total = cls()
        for outcome in outcomes:
            for one in fields(cls):
                getattr(total, one.name).extend(getattr(outcome, one.name))
        return total


def a_setup(chance: Random, known: LightUncertainty) -> SetUp:
    """A backlit face outdoors and a light that can do it."""
    background = chance.uniform(9, 15)
    return SetUp(
        "any",
        Scene(
            3.0,
            chance.uniform(6, 40),
            background,
            background - chance.uniform(1.5, 3.5),
            background_uncertainty=0.8,
            subject_uncertainty=0.8,
            moment=NOON,
        ),
        Intent(chance.choice([-1.0, -1.5, -2.0]), chance.choice([2.0, 2.8, 4.0])),
        Camera(1 / 200),
        Lens(85, 1.8, 16),
        (Light(chance.uniform(36, 60), 2.0, name="Key", loss=1.5, hss_toll=1.1, uncertainty=known),),
        (Filter("3-stop ND", 3, 3), Filter("6-stop ND", 6, 6)),
    )


def trial(setup: SetUp, way: Way, by: str, chance: Random, outcome: Outcome) -> None:
    """One set-up until it is right and said to be so; at most so many pops."""
    spot, frames = SimulatedSpot(setup, chance), list[Frame]()
    dialled = with_flash(setup, way, Dialled(way.settings, {}, way.lighting.hss))
    right_after, told_done = None, False
    for number in range(POPS_MOST + 1):
        frames.append(spot.frame(number * APART_MIN, number > 0, dialled, by))
        found = diagnose(setup, frames)
        outcome.alarms.append(found.likely is not None)
        advice = advise(setup, way, found.plain)
        if number:
            right = spot.right(dialled)
            outcome.said.append((advice.probability, right))
            for key in ("background", "subject", "light 0"):
                value, uncertainty = found.plain.offset(key)
                outcome.covered.append(abs(value - spot.truth[key]) <= uncertainty)
            right_after = number if right and right_after is None else right_after
            if advice.done and not told_done:
                told_done = True
                outcome.done.append(right)
        if right_after is not None and told_done:
            break
        dialled = _next(setup, way, dialled, advice)
    outcome.pops.append(right_after or POPS_MOST + 1)


def _next(setup: SetUp, way: Way, dialled: Dialled, advice: Advice) -> Dialled:
    if advice.change is None:
        return with_flash(setup, way, dialled)
    return advice.change.dialled


def healthy(by: str, known: LightUncertainty, seed: int) -> Outcome:
    """A set-up where nothing goes wrong."""
    chance, outcome = Random(seed), Outcome()  # noqa: S311 - repeatable, not secret
    while not outcome.pops:
        setup = a_setup(chance, known)
        way = plan(setup).chosen
        if way is not None and way.lighting.key.down is not None:
            trial(setup, way, by, chance, outcome)
    return outcome


def weak(by: str, seed: int) -> tuple[str, int]:
    """A light that is two stops weaker than its class: whether its first pop is called one without flash
    (by name, or asked for), and after how many pops the picture is right."""
    chance = Random(seed)  # noqa: S311 - repeatable, not secret
    while True:
        setup = a_setup(chance, CLASS)
        way = plan(setup).chosen
        if way is not None and way.lighting.key.down is not None:
            break
    spot = SimulatedSpot(setup, chance)
    spot.truth["light 0"] = -WEAK_BY
    frames, called = list[Frame](), ""
    dialled = with_flash(setup, way, Dialled(way.settings, {}, way.lighting.hss))
    for number in range(POPS_MOST + 1):
        frames.append(spot.frame(number * APART_MIN, number > 0, dialled, by))
        found = diagnose(setup, frames)
        if number and spot.right(dialled):
            return called, number
        # Who is asked whether the flash fired looks, and sees that it did.
        while found.likely and found.likely.fault.key == "no_flash" and number:
            called = called or ("asked" if found.amiss <= AMISS else "named")
            frames[-1] = replace(frames[-1], ruled_out=frames[-1].ruled_out | {"no_flash"})
            found = diagnose(setup, frames)
        dialled = _next(setup, way, dialled, advise(setup, way, found.plain))
    return called, POPS_MOST + 1


WEAK_BY = 2.0
"""Stops by which it is weaker."""


def named(trials: int, by: str, fault: str) -> list[int]:
    """At which place a fault is named in so many frames where it moves a zone by a stop or more; faults
    that give the same frame count as one."""
    chance, ranks = Random(fault), list[int]()  # noqa: S311 - repeatable, not secret
    for _ in range(TRIED_MOST * trials):
        rank = _rank(fault, by, chance)
        if rank is not None:
            ranks.append(rank)
        if len(ranks) == trials:
            break
    return ranks


def _rank(fault: str, by: str, chance: Random) -> int | None:
    """At which place a fault is named, or one that gives the same frame; None where it cannot happen, or
    moves nothing by a stop."""
    setup = a_setup(chance, CLASS)
    if chance.random() < 0.5:
        role, under = chance.choice([("fill", -1.0), ("fill", -2.0), ("rim", 0.5)])
        other = Light(
            chance.uniform(20, 60),
            chance.uniform(1.2, 4),
            name="Other",
            role=role,
            group="B",
            relative_level=under,
            loss=chance.uniform(0.5, 1.5),
            hss_toll=1.1,
            uncertainty=CLASS,
        )
        scene = replace(setup.scene, rim=setup.scene.background) if role == "rim" else setup.scene
        setup = replace(setup, scene=scene, lights=(setup.key, other))
    way = plan(setup).chosen
    if way is None or way.lighting.key.down is None:
        return None
    spot = SimulatedSpot(setup, chance)
    dialled = with_flash(setup, way, Dialled(way.settings, {}, way.lighting.hss))
    frames = [spot.frame(0, False, dialled, by), spot.frame(1, True, dialled, by)]
    before = spot.levels(as_dialled(frames[1], setup))
    try:
        frames.append(spot.frame(1.5, True, dialled, by, fault))
    except LookupError:
        return None
    moved = max(abs(level - before[zone]) for zone, level in spot.levels(spot.actual).items())
    if moved < 1:
        return None
    for place, one in enumerate(diagnose(setup, frames).suspected):
        if one.fault.key == fault or _gives_the_same(spot, frames[2], one.fault.key, by):
            return place
    return 9


TRIED_MOST = 40
"""So many frames are tried for each that a fault really moves."""

TELLS = 0.3
"""Frames whose zones all lie nearer than this are one frame to who reads them off raw files, in stops."""


def _gives_the_same(spot: SimulatedSpot, frame: Frame, fault: str, by: str) -> bool:
    """Whether another fault gives the frame that was really taken: the same levels, or the same words for
    them, and a band where one is, unless nobody noticed it; what tells them apart is asked."""
    really = spot.levels(spot.actual)
    meant = expected(spot.setup, frame.dialled, not frame.flash)
    truth = dict(spot.truth)
    bands = {spot.actual.band, any(isinstance(one, BandSeen) for one in frame.seen)}
    for story in BY_KEY[fault].stories(spot.setup, frame):
        for step in [step / 4 for step in range(-12, 13)] if story.free else [0.0]:
            if story.free:
                spot.truth[story.free[1].key] = step
            found = spot.levels(story)
            same = (_alike(found[zone], really[zone], meant[zone], by) for zone in really)
            if story.band in bands and all(same):
                spot.truth = truth
                return True
    spot.truth = truth
    return False


def _alike(level: float, other: float, meant: float, by: str) -> bool:
    if by == "words":
        return _word(level - meant) == _word(other - meant)
    return abs(max(level, -8) - max(other, -8)) <= TELLS


def _word(off: float) -> float:
    return min(SAID.values(), key=lambda said: abs(said - off))


def main(arguments: list[str]) -> None:
    """Print everything."""
    trials = int(arguments[0]) if arguments else 500
    with ProcessPoolExecutor() as pool:
        _print_healthy(pool, trials)
        _print_weak(pool, trials)
        _print_named(pool, max(2 * trials // 5, 10))


def _print_healthy(pool: ProcessPoolExecutor, trials: int) -> None:
    for words, by, known in (
        ("class defaults, words alone", "words", CLASS),
        ("class defaults, raw frames", "raw", CLASS),
        ("measured kit, words alone", "words", MEASURED),
        ("measured kit, raw frames", "raw", MEASURED),
    ):
        found = Outcome.of_all(pool.map(partial(healthy, by, known), range(trials), chunksize=5))
        most = quantiles(found.pops, n=20)[-1]
        print(f"{words}: pops until right: median {median(found.pops):.0f}, 95th percentile {most:.0f}")
        if found.done:
            print(f"  said done in {len(found.done)} of {trials}, true in {_share(found.done)}")
        alarms = f"false alarms {_share(found.alarms)} of {len(found.alarms)}"
        print(f"  ± covers the truth in {_share(found.covered)}; {alarms}")
        for tenth, some in groupby(sorted(found.said), key=lambda one: min(int(10 * one[0]), 9)):
            hits = [right for _, right in some]
            if len(hits) >= 30:
                print(f"  said {10 * tenth}-{10 * tenth + 10} %: true in {_share(hits)} of {len(hits)}")


def _print_weak(pool: ProcessPoolExecutor, trials: int) -> None:
    for by in ("raw", "words"):
        found = list(pool.map(partial(weak, by), range(trials), chunksize=5))
        called, pops = [one for one, _ in found], [one for _, one in found]
        most = quantiles(pops, n=20)[-1]
        named_so = _share([one == "named" for one in called])
        asked = _share([one == "asked" for one in called])
        print(f"weak light, {by}: no flash named in {named_so}, asked for in {asked} of {len(called)};")
        print(f"  pops until right: median {median(pops):.0f}, 95th percentile {most:.0f}")


def _print_named(pool: ProcessPoolExecutor, trials: int) -> None:
    for by in ("raw", "words"):
        for fault, ranks in zip(BY_KEY, pool.map(partial(named, trials, by), BY_KEY), strict=True):
            first, second = ([rank <= most for rank in ranks] for most in (0, 1))
            if ranks:
                print(
                    f"{fault}, by {by}: named first in {_share(first)}, "
                    f"first or second in {_share(second)} of {len(ranks)}"
                )
            else:
                print(f"{fault}, by {by}: it moves no zone by a stop here")


def _share(hits: list[bool]) -> str:
    return f"{100 * sum(hits) / len(hits):.1f} %"


if __name__ == "__main__":
    main(sys.argv[1:])
