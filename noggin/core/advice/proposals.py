"""What is proposed when a way is short or lacks something: changed set-ups, worked out in closed form. Here
what is done to the lights and to the camera; `daylight_proposals` has what is done to daylight.

Whether a proposal helps, and by how much, is the business of `remedies`, which plans it again.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from math import ceil, floor
from typing import Any

from noggin.core import limits
from noggin.core.advice.remedy_case import LEAST_GAIN, Case, LightOff, Proposal, planned
from noggin.core.physics import flash
from noggin.core.physics.dials import iso_dial
from noggin.core.physics.filters import Filter
from noggin.core.planning import candidates
from noggin.core.planning.lighting import needed_flash
from noggin.core.planning.methods import ND, STOP_DOWN, WITHIN_SYNC
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Metres, Stops
from noggin.core.wording import metres, number, plain, signed, stops

NEAREST: Metres = 0.5
"""Nearest a light is proposed to stand. Common practice, no source."""

PLACE_STEP: Metres = 0.05
"""To what a proposed distance is rounded, toward more help."""

HEADS_MORE = 3
"""At most so many more heads are proposed. Common practice, no source."""

BRIGHTEST: Stops = 2.0
"""Level up to which a background still shows what it is. Common practice, no source."""

BRIGHTEST_STEPS: Stops = 8.0
"""At most so much brighter is looked for."""

Act = Callable[[Light, Stops], tuple[str, float, str] | None]
"""What is done to a light that is off by so many stops: the field, its new value and words for it; None
where nothing can be."""


def _relit(case: Case, remedy: str, lights_off: Sequence[LightOff], act: Act) -> Iterator[Proposal]:
    """One proposal that does the same to every light that is off. Fields are called alike in the core and
    in documents."""
    lights, words, change = list(case.setup.lights), [], {}
    for off in lights_off:
        found = act(off.firing.light, off.stops)
        if found:
            field, value, said = found
            lights[off.index] = replace(off.firing.light, **{field: value})  # type: ignore[arg-type]
            change[f"lights[{off.index}].{field}"] = value
            words.append(said)
    if change:
        yield Proposal(remedy, "; ".join(words), replace(case.setup, lights=tuple(lights)), change)


def _closer(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = max(_place(light, by) or 0.0, NEAREST)
        if to >= light.distance_m:
            return None
        setup = case.setup
        enters = setup.shows(replace(light, distance_m=to)) and not setup.shows(light)
        where = ", where it shows at the edge of the frame" if enters else ""
        return "distance_m", to, f"move {light.says} to {metres(to)}{where}"

    return _relit(case, "closer", case.short, act)


def _farther(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = _place(light, -by)
        return None if to is None else ("distance_m", to, f"move {light.says} to {metres(to)}")

    return _relit(case, "farther", case.strong, act)


def _place(light: Light, more: Stops) -> Metres | None:
    """Where a light gives so many stops more, rounded toward it; None where its face is too big."""
    wanted = flash.distance_for(light.distance_m, light.radius_m, more)
    return None if wanted is None else round(floor(wanted / PLACE_STEP + TOLERANCE) * PLACE_STEP, 2)


def _modifier(case: Case) -> Iterator[Proposal]:
    def leaner(light: Light, by: Stops) -> tuple[str, float, str] | None:
        if light.loss < LEAST_GAIN:
            return None
        to = max(floor((light.loss - by) * 10 + TOLERANCE) / 10, 0.0)
        now = f"(now {plain(light.loss)})"
        if not to:
            return "loss", to, f"{light.says}: take the modifier off {now}"
        return "loss", to, f"{light.says}: swap for a modifier that loses {stops(to)} {now}"

    def lossier(light: Light, by: Stops) -> tuple[str, float, str]:
        to = floor((light.loss + by) * 10 + TOLERANCE) / 10
        return "loss", to, f"{light.says}: add a diffuser or ND gel that loses {stops(to - light.loss)}"

    if case.short:
        return _relit(case, "modifier", case.short, leaner)
    return _relit(case, "modifier", case.strong, lossier)


def _another_head(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        wanted = ceil(light.count * 2**by - TOLERANCE)
        count = min(wanted, light.count + HEADS_MORE, int(limits.HEADS.most))
        if count == light.count:
            return None
        return "count", count, f"put {count} heads like {light.says} together"

    return _relit(case, "another_head", case.short, act)


def _bigger_light(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = float(ceil(light.gn_m * 2 ** (by / 2) - TOLERANCE))
        if to > limits.GUIDE_NUMBER.most:
            return None
        return (
            "gn_m",
            to,
            (f"a light of guide number {number(to)} or more ({light.says} has {number(light.gn_m)})"),
        )

    return _relit(case, "bigger_light", case.short, act)


# Filter, aperture, ISO and intention: what is done to the camera.


def _filter_instead(case: Case) -> Iterator[Proposal]:
    """Past sync or without the right filter: ND at sync, with what the bag has or one it lacks."""
    method, over = case.way.method, candidates.surplus(case.setup)
    missing = method.uses_filters and case.error
    if not over or not (method.past_sync or missing):
        return
    if case.setup.filters and method.past_sync and planned(case.setup, ND).feasible:
        yield Proposal("nd_not_hss", "use the filters in the bag at sync speed", case.setup, {}, ND)
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
    if case.way.method is STOP_DOWN or not (case.error > 0 or case.excluded or case.short or case.strong):
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
    words = f"make f/{aperture.label} the wanted aperture"
    yield Proposal("stop_down", words, setup, {"intent.aperture": nominal})


def _raise_iso(case: Case) -> Iterator[Proposal]:
    """Within sync, past the highest ISO that was allowed: the shutter shortens with it, up to sync."""
    camera = case.setup.camera
    if case.way.method is not WITHIN_SYNC or case.way.settings.iso != camera.iso_high:
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
        if planned(setup, case.way.method).feasible:
            words = f"let it go {stops(more)} brighter, to {signed(level)}"
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


ON_LIGHTS_AND_CAMERA: tuple[Callable[[Case], Iterator[Proposal]], ...] = (
    _closer,
    _farther,
    _modifier,
    _another_head,
    _bigger_light,
    _filter_instead,
    _stop_down,
    _raise_iso,
    _brighter_background,
)
"""Everything that is proposed for lights and camera."""
