"""What is proposed when a way is short or lacks something: changed set-ups, worked out in closed form. Here
what is done to the lights and to the camera; `daylight_proposals` has what is done to daylight.

Whether a proposal helps, and by how much, is the business of `remedies`, which plans it again.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
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
from noggin.core.wording import listed, metres, number, plain, signed, stops

NEAREST: Metres = 0.5
"""Nearest a light is proposed to stand. Common practice, no source."""

PLACE_STEP: Metres = 0.05
"""To what a proposed distance is rounded, toward more help."""

CLOSER_PARTS = (0.8, 0.65, 0.5)
"""Parts of its distance at which a light that spills is tried."""

ROOM_TRIED: tuple[Metres, ...] = (1.5, 2, 2.5, 3, 4, 5, 6, 8, 10)
"""Distances from the wall that are tried. Common practice, no source."""

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
    if case.spilt and not case.short:
        yield from _closer_for_the_wall(case)
        return

    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = max(_place(light, by) or 0.0, NEAREST)
        if to >= light.distance_m:
            return None
        setup = case.setup
        enters = setup.shows(replace(light, distance_m=to)) and not setup.shows(light)
        where = ", where it shows at the edge of the frame" if enters else ""
        return "distance_m", to, f"move {light.says} to {metres(to)}{where}"

    yield from _relit(case, "closer", case.short, act)


def _closer_for_the_wall(case: Case) -> Iterator[Proposal]:
    """The light that spills moved in, so that it falls off more before it reaches the wall."""
    index = case.setup.lights.index(case.setup.key)
    for part in CLOSER_PARTS:
        key = case.setup.key
        to = round(floor(key.distance_m * part / PLACE_STEP) * PLACE_STEP, 2)
        moved = replace(key, distance_m=max(to, NEAREST))
        if moved.distance_m >= key.distance_m or (case.setup.shows(moved) and not case.setup.shows(key)):
            return
        lights = tuple(moved if light is key else light for light in case.setup.lights)
        setup, change = (
            replace(case.setup, lights=lights),
            {f"lights[{index}].distance_m": moved.distance_m},
        )
        words = (
            f"move {key.says} to {metres(moved.distance_m)} and turn it down: less of it reaches the wall"
        )
        proposal = Proposal("closer", words, setup, change)
        if planned(setup, case.way.method).feasible or part == CLOSER_PARTS[-1]:
            yield proposal
            return


def _grid(case: Case) -> Iterator[Proposal]:
    """A grid on every light on the subject that has none, where flash spills on the background."""
    if not case.spilt:
        return
    lights, change, said = list(case.setup.lights), {}, []
    for index, light in enumerate(lights):
        if light.lights_subject and not light.grid:
            lights[index] = replace(light, grid=True)
            change[f"lights[{index}].grid"] = True
            said.append(light.says)
    if change:
        words = f"put {case.spares.piece('grid', 'a grid')} on {listed(said)}"
        yield Proposal("grid", words, replace(case.setup, lights=tuple(lights)), change)


def _away_from_wall(case: Case) -> Iterator[Proposal]:
    """More room between the subject and what is behind it, where flash spills on it."""
    if not case.spilt:
        return
    scene = case.setup.scene
    for room in ROOM_TRIED:
        if room <= case.setup.behind_m:
            continue
        distance = round(scene.subject_distance_m + room, 2)
        setup = replace(case.setup, scene=replace(scene, background_distance_m=distance))
        if planned(setup, case.way.method).feasible or room == ROOM_TRIED[-1]:
            words = f"bring them to {metres(room)} from the wall (now {metres(case.setup.behind_m)})"
            yield Proposal("away_from_wall", words, setup, {"scene.background_distance_m": distance})
            return


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
        yield from _owned_modifiers(case)
        yield from _relit(case, "modifier", case.short, leaner)
    else:
        yield from _relit(case, "modifier", case.strong, lossier)


def _owned_modifiers(case: Case) -> Iterator[Proposal]:
    """Modifiers that are owned and lose less on a light that is short, the softest first that is enough."""
    for off in case.short:
        light = off.firing.light
        better = [
            spare
            for spare in case.spares.modifiers
            if spare.light_index == off.index and spare.light.reach > light.reach + LEAST_GAIN
        ]
        enough = [spare for spare in better if spare.light.reach >= light.reach + off.stops]
        spares = sorted(enough or better, key=lambda spare: -spare.light.radius_m)
        for spare in spares[:1]:
            words = f"put {light.says} into {spare.name} {spare.where}"
            yield _with_light(case, "modifier", words, off.index, spare.light, spare.change)


def _with_light(
    case: Case, remedy: str, words: str, index: int, light: Light, change: Mapping[str, Any]
) -> Proposal:
    lights = list(case.setup.lights)
    lights[index] = light
    fields = {f"lights[{index}].{name}": value for name, value in change.items()}
    return Proposal(remedy, words, replace(case.setup, lights=tuple(lights)), fields)


def _another_head(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        wanted = ceil(light.count * 2**by - TOLERANCE)
        count = min(wanted, light.count + HEADS_MORE, int(limits.HEADS.most))
        if count == light.count:
            return None
        return "count", count, f"put {count} heads like {light.says} together{_owned_of(case, light)}"

    return _relit(case, "another_head", case.short, act)


def _owned_of(case: Case, light: Light) -> str:
    """How many more of a light are owned, to follow a sentence with."""
    same = [spare for spare in case.spares.lights if spare.light.says == light.says]
    return f" ({same[0].left} more {same[0].where})" if same else ""


def _in_place_of(light: Light, spare: Light) -> Light:
    """A spare light where another stands."""
    return replace(
        spare,
        role=light.role,
        distance_m=light.distance_m,
        angle_deg=light.angle_deg,
        relative_level=light.relative_level,
        faces_m=light.faces_m,
        gel=light.gel,
        grid=light.grid,
        group=light.group,
        channel=light.channel,
    )


def _bigger_light(case: Case) -> Iterator[Proposal]:
    """The smallest light that is owned and is enough for one that is short, else the biggest; where none is
    bigger, what to look for."""
    for off in case.short:
        light = off.firing.light
        placed = [(spare, _in_place_of(light, spare.light)) for spare in case.spares.lights]
        bigger = [pair for pair in placed if pair[1].reach > light.reach + LEAST_GAIN]
        enough = [pair for pair in bigger if pair[1].reach >= light.reach + off.stops - TOLERANCE]
        if bigger:
            by_reach = sorted(enough or bigger, key=lambda pair: pair[1].reach)
            spare, there = by_reach[0 if enough else -1]
            words = f"use {spare.name} {spare.where} in place of {light.says}"
            yield _with_light(case, "bigger_light", words, off.index, there, spare.change)

    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = float(ceil(light.gn_m * 2 ** (by / 2) - TOLERANCE))
        if to > limits.GUIDE_NUMBER.most:
            return None
        has = f"{light.says} has {number(light.gn_m)}"
        return "gn_m", to, f"a light of guide number {number(to)} or more ({has})"

    yield from _relit(case, "bigger_light", case.short, act)


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


def _longer_time(case: Case) -> Iterator[Proposal]:
    """A time longer than was allowed, on a tripod, where daylight is too little."""
    camera = case.setup.camera
    if case.error >= 0 or case.way.method.past_sync:
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
    if case.way.method is not WITHIN_SYNC or not (case.short or case.error < 0):
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
        if planned(setup, case.way.method).feasible:
            words = f"let the background go {stops(more)} brighter, to {signed(level)}"
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
    _longer_time,
    _wider_aperture,
    _brighter_background,
    _darker_background,
    _grid,
    _away_from_wall,
)
"""Everything that is proposed for lights and camera."""
