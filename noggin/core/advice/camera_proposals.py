"""What is proposed for filter, aperture, ISO, time and intention: changed set-ups, in closed form."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from math import ceil
from typing import Any

from noggin.core import limits
from noggin.core.advice.remedy_case import Case, Proposal, planned
from noggin.core.physics.dials import iso_dial
from noggin.core.physics.filters import Filter
from noggin.core.planning import candidates
from noggin.core.planning.lighting import needed_flash
from noggin.core.planning.ways import ND, STOP_DOWN, WITHIN_SYNC
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import plain, signed, stops

BRIGHTEST: Stops = 2.0
"""Level up to which a background still shows what it is. Common practice, no source."""


BRIGHTEST_STEPS: Stops = 8.0
"""At most so much brighter is looked for."""


def _filter_instead(case: Case) -> Iterator[Proposal]:
    """Past sync or without the right filter: ND at sync, with what the bag has or one it lacks."""
    kind, over = case.way.kind, candidates.surplus(case.setup)
    missing = kind.uses_filters and case.error
    if not over or not (kind.past_sync or missing):
        return
    if case.setup.filters and kind.past_sync:
        by_filter = planned(case.setup, ND)
        if by_filter.feasible:
            words = f"use the {by_filter.settings.stack.words} at sync speed"
            yield Proposal("nd_not_hss", words, case.setup, {}, ND)
            return
    for spare in case.spares.filters:
        with_spare = replace(case.setup, filters=(*case.setup.filters, spare.filter))
        if planned(with_spare, ND).feasible:
            change = {"filters": [_written(item) for item in with_spare.filters]}
            yield Proposal(
                "nd_not_hss",
                f"use the {spare.filter.name} {spare.where} at sync speed",
                with_spare,
                change,
                ND,
            )
            return
    strength = float(max(1, ceil(over - case.setup.dial_step / 2 - TOLERANCE)))
    name = f"{plain(strength, 0)}-stop ND"
    bag = (*case.setup.filters, Filter(_unused(name, case.setup), strength, strength))
    change = {"filters": [_written(item) for item in bag]}
    setup = replace(case.setup, filters=bag)
    yield Proposal("nd_not_hss", f"use a {name} at sync speed", setup, change, ND)


def _written(item: Filter) -> dict[str, Any]:
    """A filter as the set-up document has it."""
    found: dict[str, Any] = {"name": item.name, "stops": item.least}
    if item.variable:
        found["stops"] = [item.least, item.most]
    if item.polariser:
        found["polariser"] = True
    if item.thread_mm is not None:
        found["thread_mm"] = item.thread_mm
    return found


def _unused(name: str, setup: SetUp) -> str:
    return f"{name}, new" if any(item.name == name for item in setup.filters) else name


def _stop_down(case: Case) -> Iterator[Proposal]:
    """A smaller aperture as the wanted one: at sync instead of past it, or against too much light."""
    if case.way.kind is STOP_DOWN or not (case.error > 0 or case.excluded or case.short or case.strong):
        return
    closing = max(candidates.surplus(case.setup), case.most_too_strong)
    if closing <= 0:
        return
    wanted = case.setup.wanted_aperture.stops + closing - case.setup.dial_step / 2
    aperture = next((step for step in case.setup.apertures if step.stops >= wanted - TOLERANCE), None)
    if aperture is None:
        return
    nominal = float(aperture.label)
    setup = replace(case.setup, intent=replace(case.setup.intent, aperture=nominal))
    words = f"stop down to f/{aperture.label}"
    yield Proposal("stop_down", words, setup, {"intent.aperture": nominal})


def _raise_iso(case: Case) -> Iterator[Proposal]:
    """Within sync, past the highest ISO that was allowed: the shutter shortens with it, up to sync."""
    camera = case.setup.camera
    if case.way.kind is not WITHIN_SYNC or case.way.settings.iso != camera.iso_high:
        return
    if not (case.short or case.error < 0):
        return
    more = max([-case.error, *case.shortages])
    to = iso_dial().at_least(camera.iso_high.stops + more)
    if to.stops <= camera.iso_high.stops:
        return
    nominal = float(to.label)
    setup = replace(case.setup, camera=replace(camera, iso_highest=nominal))
    yield Proposal("raise_iso", f"allow ISO up to {to.label}", setup, {"camera.iso_highest": nominal})


def _longer_time(case: Case) -> Iterator[Proposal]:
    """A time longer than was allowed, on a tripod, where daylight is too little."""
    camera = case.setup.camera
    if case.error >= 0 or case.way.kind.past_sync:
        return
    wanted = case.way.settings.shutter.stops + case.error + case.setup.dial_step / 2
    slowest = camera.shutters.at_most(max(wanted, camera.shutters.steps[0].stops))
    if slowest.stops >= camera.slowest.stops and camera.support == "tripod":
        return
    to = min(slowest, camera.slowest, key=lambda step: step.stops)
    change = {"camera.support": "tripod", "camera.slowest_s": to.value}
    setup = replace(case.setup, camera=replace(camera, support="tripod", slowest_s=to.value))
    yield Proposal("longer_time", f"put the camera on a tripod and allow {slowest.label} s", setup, change)


def _wider_aperture(case: Case) -> Iterator[Proposal]:
    """A wider aperture within sync: the time shortens to match, and flash gains."""
    if case.way.kind is not WITHIN_SYNC or not (case.short or case.error < 0):
        return
    more = max([-case.error, *case.shortages])
    wider = [step for step in case.setup.apertures if step.stops < case.setup.wanted_aperture.stops]
    if not wider:
        return
    enough = [step for step in wider if step.stops <= case.setup.wanted_aperture.stops - more + TOLERANCE]
    aperture = enough[-1] if enough else wider[0]
    nominal = max(float(aperture.label), case.setup.lens.widest)
    setup = replace(case.setup, intent=replace(case.setup.intent, aperture=nominal))
    words = f"open up to f/{aperture.label} (now f/{case.setup.wanted_aperture.label})"
    yield Proposal("wider_aperture", words, setup, {"intent.aperture": nominal})


def _darker_background(case: Case) -> Iterator[Proposal]:
    """The background taken as dark as it comes."""
    if case.error < 0:
        yield from _meant_as_it_is(case, "darker_background")


def _meant_as_it_is(case: Case, remedy: str) -> Iterator[Proposal]:
    """The background's level made the one that is meant."""
    step = case.setup.dial_step
    level = round(round((case.setup.intent.background_level + case.error) / step) * step, 6)
    if level in limits.LEVEL and level <= BRIGHTEST:
        setup = replace(case.setup, intent=replace(case.setup.intent, background_level=level))
        words = f"take the background as it comes, at {signed(level)}"
        yield Proposal(remedy, words, setup, {"intent.background_level": level})


def _brighter_background(case: Case) -> Iterator[Proposal]:
    """The background left brighter, by its error or until no light is short, as long as it shows what
    it is."""
    intent, step = case.setup.intent, case.setup.dial_step
    if case.error > 0:
        starts = [ceil((case.error - step / 2) / step - TOLERANCE) * step]
    elif case.short:
        starts = [_brighter_by(case, flash_gains=True), _brighter_by(case, flash_gains=False)]
    else:
        return
    for more in (start + extra * step for start in starts if start for extra in range(2)):
        level = round(intent.background_level + more, 6)
        if level > BRIGHTEST:
            return
        setup = replace(case.setup, intent=replace(intent, background_level=level))
        if planned(setup, case.way.kind).feasible:
            lands = case.way.lighting.levels.background
            words = f"let the background go {stops(more)} brighter, to {signed(level)}"
            if abs(level - lands) <= step / 2:
                words = f"take the background as it comes, at {signed(lands)}"
            yield Proposal("brighter_background", words, setup, {"intent.background_level": level})
            return


def _brighter_by(case: Case, flash_gains: bool) -> Stops:
    """Whole dial steps of background after which no light would be short; 0 where none help. Each lets
    daylight on the subject gain a step, and the flash too where less is taken from both."""
    step, lighting = case.setup.dial_step, case.way.lighting
    if lighting.needed_flash is None:
        return 0.0
    for steps in range(1, ceil(BRIGHTEST_STEPS / step)):
        more = steps * step
        need = needed_flash(case.setup, lighting.levels.subject_ambient + more)
        gained = more if flash_gains else 0.0
        if need is None or max(case.shortages) <= gained + lighting.needed_flash - need + TOLERANCE:
            return more
    return 0.0


ON_CAMERA: tuple[Callable[[Case], Iterator[Proposal]], ...] = (
    _filter_instead,
    _stop_down,
    _raise_iso,
    _longer_time,
    _wider_aperture,
    _brighter_background,
    _darker_background,
)
"""Everything that is proposed for the camera and for what is meant."""
