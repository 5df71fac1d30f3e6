"""Questions about a whole case: which method, and what went wrong with a frame."""

from collections.abc import Iterator
from dataclasses import replace
from random import Random

from noggin.core.advice.reasons import verdict
from noggin.core.advice.verdict_words import first_lack
from noggin.core.physics.curtains import lit_part
from noggin.core.planning.plan import plan, way_at, way_with
from noggin.core.planning.verdicts import HOLDS, NOT_NEEDED, SHORT
from noggin.core.planning.way import Way
from noggin.core.planning.ways import WAYS
from noggin.core.pops.actual import ActualFrame, Lit, Unknowns
from noggin.core.pops.faults import BY_KEY, FAULTS, diagnose
from noggin.core.pops.frame import BandSeen, Frame, LevelSeen
from noggin.core.pops.judging import begun
from noggin.core.practice.scenes import LIGHTS, SCENES, portrait
from noggin.core.practice.task import Drill, DrillQuestion, TaskPicture
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import listed, metres, number, plain, signed, stops

HIDDEN_LEAST: Stops = 1.2
"""What nobody knows of a fault is at least so much: it is noticed."""

SURE, UNLIKELY = 0.6, 0.05
"""A fault is asked about where the frame alone tells it: so probable it is at least, and so improbable is
every other answer that is offered."""


FACES_LIT = 0.45
"""So much of the frame at least a bar leaves lit: faces are in it."""


LIT_AT_ALL: Stops = 1 / 3
"""A face that is brighter than daylight by so much was lit."""

JUST_PAST = 0.3
"""How often a frame just past sync is tried: the one in which a bar leaves the faces lit."""


def _just_past_sync(setup: SetUp, chance: Random) -> Way | None:
    """The picture in high-speed sync at a time just past the sync speed; None where the lens does not
    close so far."""
    wanted, camera = plan(setup).by_key["hss"].settings, setup.camera
    time = camera.shutters.nearest(camera.sync.stops + chance.choice([2 / 3, 1.0]))
    aperture = wanted.aperture.stops + wanted.shutter.stops - time.stops
    if not setup.apertures[0].stops <= aperture <= setup.apertures[-1].stops:
        return None
    settings = replace(
        wanted, shutter=time, aperture=setup.lens.apertures(camera.dial_steps).nearest(aperture)
    )
    return way_with(setup, WAYS["hss"], settings)


def _scene_words(setup: SetUp) -> str:
    scene, key = setup.scene, setup.key
    toll = f"high-speed toll {stops(key.hss_toll)}" if key.hss_toll is not None else "no high-speed sync"
    return (
        f"{setup.name}: background EV {plain(scene.background)}, face EV {plain(scene.subject)}. The"
        f" background is meant at {signed(setup.intent.background_level)}, the aperture"
        f" f/{number(setup.intent.aperture)}. Sync speed {setup.camera.sync.label} s. A {key.says},"
        f" {metres(key.distance_m)} away, {toll}; in the bag a 3-stop and a 6-stop ND."
    )


TO_PICK_IN = ("noon", "noon", "noon", "cloud", "late", "dusk")
MOSTLY = 0.85
"""Scenes for picking a method: most are past the sync wall, and of those within it so many are left out."""


def _pick_way(chance: Random) -> DrillQuestion:
    while True:
        setup = portrait(chance, chance.choice(TO_PICK_IN), chance.choice([*LIGHTS]))
        found = plan(setup)
        chosen = found.ways[0]
        wrong = [way for way in found.ways if way.verdict in (SHORT, NOT_NEEDED)]
        if chosen.key == "within_sync" and chance.random() < MOSTLY:
            continue
        if chosen.verdict == HOLDS and len(wrong) >= 2:
            break
    wrong = wrong[:3]
    as_good = [way.label for way in found.ways[1:] if way.verdict == HOLDS][: 4 - len(wrong) - 1]
    picture = TaskPicture("As it is meant", _meant_words(chosen), setup, chosen)
    return DrillQuestion(
        f"{_scene_words(setup)} Which method makes this picture?",
        chosen.label,
        tuple((way.label, "hss_power" if way.key == "hss" else None) for way in wrong),
        f"{verdict(found)} {_lacking(wrong)}",
        as_good=tuple(as_good),
        pictures=(picture,),
    )


def _meant_words(way: Way) -> str:
    levels = way.lighting.levels
    return f"Background {signed(levels.background)}, face {signed(levels.subject)}"


def _lacking(ways: list[Way]) -> str:
    short = [f"{way.label}: {first_lack(way)}" for way in ways if way.verdict == SHORT]
    unneeded = [way.label for way in ways if way.verdict == NOT_NEEDED]
    said = [f"{one}." for one in short]
    if unneeded:
        said.append(f"{listed(unneeded)}: not needed here.")
    return " ".join(said)


def _find_fault(chance: Random) -> DrillQuestion:
    while True:
        setup = portrait(chance, chance.choice([*SCENES]), chance.choice([*LIGHTS]))
        just_past = chance.random() < JUST_PAST
        chosen = _just_past_sync(setup, chance) if just_past else plan(setup).ways[0]
        if chosen is None or chosen.verdict != HOLDS or chosen.lighting.key.down is None:
            continue
        dialled = begun(setup, chosen)
        frame = Frame(0.0, True, dialled)
        fault = BY_KEY["hss_off"] if just_past else chance.choice(FAULTS)
        stories = list(fault.stories(setup, frame))
        if not stories:
            continue
        actual = chance.choice(stories)
        shutter = actual.dialled.settings.shutter.value
        if actual.band and lit_part(shutter, setup.camera.travel_s) < FACES_LIT:
            continue
        off = chance.choice([-1, 1]) * chance.uniform(HIDDEN_LEAST, 2.0)
        levels, daylight = _levels(setup, actual, off)
        if actual.band and levels["subject"] <= daylight + LIT_AT_ALL:
            continue  # the faces are in the part that is lit
        seen = tuple(LevelSeen(zone, level, "raw") for zone, level in levels.items())
        taken = Frame(0.0, True, dialled, (*seen, BandSeen()) if actual.band else seen)
        suspected = {one.fault.key: one.probability for one in diagnose(setup, [taken]).suspected}
        others = [one.key for one in FAULTS if suspected.get(one.key, 0.0) < UNLIKELY and one is not fault]
        if suspected.get(fault.key, 0.0) >= SURE and len(others) >= 3:
            break
    wrong: list[tuple[str, str | None]] = [
        (BY_KEY[key].label, None) for key in chance.sample(others, 2 if actual.band else 3)
    ]
    if actual.band:
        wrong.append(("the flash is too weak for the whole frame", "weak_flash_bar"))
    planned = chosen.lighting.levels
    picture = TaskPicture(
        "The frame",
        "; ".join(_came_out(levels, actual)),
        setup,
        way_at(setup, actual.dialled.settings, _fired(actual), hss=not actual.band),
        levels,
        daylight,
    )
    settings = dialled.settings
    filters = f", {settings.stack.words}" if settings.stack.stops else ""
    return DrillQuestion(
        f"Planned: {settings.shutter.label} s, f/{settings.aperture.label}, ISO"
        f" {settings.iso.label}{filters}, {chosen.label}; background {signed(planned.background)}, face"
        f" {signed(planned.subject)}. This came out: {'; '.join(_came_out(levels, actual))}. What went"
        " wrong?",
        fault.label,
        tuple(wrong),
        f"It fits this frame best. {fault.check}",
        pictures=(picture,),
    )


def _fired(actual: ActualFrame) -> dict[int, Stops]:
    return {index: down for index, down in actual.dialled.powers.items() if index not in actual.off}


def _came_out(levels: dict[str, Stops], actual: ActualFrame) -> Iterator[str]:
    yield f"background {signed(levels['background'])}"
    yield f"face {signed(levels['subject'])}"
    if actual.band:
        yield "a dark band at the foot of the frame"


def _levels(setup: SetUp, actual: ActualFrame, off: Stops) -> tuple[dict[str, Stops], Stops]:
    """Where zones come out when a frame was really taken so, and what the face then has of daylight; what
    nobody knows of it is off by so much."""
    unknowns = Unknowns(setup, (0.0,), {0: actual.free} if actual.free else {})
    offsets = [0.0] * len(unknowns.all)
    if actual.free:
        offsets[unknowns.place[actual.free[1].key]] = off
    lit = Lit(unknowns, 0, actual)
    return {zone: lit.zone(zone).level(offsets)[0] for zone in unknowns.zones}, lit.daylight(
        "subject"
    ).level(offsets)[0]


CASES = (
    Drill("pick_way", "Pick the method", ("hss_power",), _pick_way),
    Drill("find_fault", "Find the fault", ("weak_flash_bar",), _find_fault),
)
"""Every question about a whole case."""
