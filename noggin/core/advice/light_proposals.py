"""What is proposed for lights that are short, too strong or spill: changed set-ups, in closed form."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from math import ceil, floor
from typing import Any

from noggin.core import limits
from noggin.core.advice.remedy_case import LEAST_GAIN, Case, LightOff, Proposal, planned
from noggin.core.layout.findings import light_shows, stays_out_from
from noggin.core.physics import flash
from noggin.core.planning.mend import NEAREST, rounded_closer
from noggin.core.setup.light import Light
from noggin.core.units import TOLERANCE, Metres, Stops
from noggin.core.wording import listed, metres, number, plain, stops

CLOSER_PARTS = (0.8, 0.65, 0.5)
"""Parts of its distance at which a light that spills is tried."""


ROOM_TRIED: tuple[Metres, ...] = (1.5, 2, 2.5, 3, 4, 5, 6, 8, 10)
"""Distances from the wall that are tried. Common practice, no source."""


HEADS_MORE = 3
"""At most so many more heads are proposed. Common practice, no source."""


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
        setup = case.stands or case.setup
        enters = _comes_in(case, replace(light, distance_m=to), light)
        out = stays_out_from(setup, light) if enters else None
        where = ", where it shows at the edge of the frame" if enters else ""
        where += f" (out of it from {metres(out)} on)" if out else ""
        return "distance_m", to, f"move {light.says} to {metres(to)}{where}"

    yield from _relit(case, "closer", case.short, act)


def _comes_in(case: Case, moved: Light, light: Light) -> bool:
    """Whether a light that was out of the frame shows in it once it is moved."""
    setup = case.stands or case.setup
    return light_shows(setup, moved) and not light_shows(setup, light)


def _closer_for_the_wall(case: Case) -> Iterator[Proposal]:
    """The light that spills moved in, so that it falls off more before it reaches the wall."""
    index = case.setup.lights.index(case.setup.key)
    for part in CLOSER_PARTS:
        key = case.setup.key
        to = rounded_closer(key.distance_m * part)
        moved = replace(key, distance_m=max(to, NEAREST))
        if moved.distance_m >= key.distance_m or (
            light_shows(case.setup, moved) and not light_shows(case.setup, key)
        ):
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
        if planned(setup, case.way.kind).feasible or part == CLOSER_PARTS[-1]:
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
        if planned(setup, case.way.kind).feasible or room == ROOM_TRIED[-1]:
            words = f"bring them to {metres(room)} from the wall (now {metres(case.setup.behind_m)})"
            yield Proposal("away_from_wall", words, setup, {"scene.background_distance_m": distance})
            return


def _farther(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = _place(light, -by)
        return None if to is None else ("distance_m", to, f"move {light.says} to {metres(to)}")

    yield from _until_enough(case, lambda off: _relit(case, "farther", off, act))


MORE_TRIED: tuple[Stops, ...] = (0.0, 1 / 3, 2 / 3, 1.0)
"""A light that is turned down lets ISO rise within sync, and is too strong again: so much more is tried."""


def _until_enough(
    case: Case, propose: Callable[[Sequence[LightOff]], Iterator[Proposal]]
) -> Iterator[Proposal]:
    """The least of what is proposed for lights that are too strong that is enough, else the least."""
    found: list[Proposal] = []
    for more in MORE_TRIED:
        off = [replace(one, stops=one.stops + more) for one in case.strong]
        for proposal in propose(off):
            if planned(proposal.setup, case.way.kind).feasible:
                yield proposal
                return
            found.append(proposal)
    yield from found[:1]


def _place(light: Light, more: Stops) -> Metres | None:
    """Where a light gives so many stops more, rounded toward it; None where its face is too big."""
    wanted = flash.distance_for(light.distance_m, light.radius_m, more)
    return None if wanted is None else rounded_closer(wanted)


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
        yield from _until_enough(case, lambda off: _relit(case, "modifier", off, lossier))


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
        return "gn_m", to, f"a light of guide number {number(to)} (metres) or more ({has})"

    yield from _relit(case, "bigger_light", case.short, act)


ON_LIGHTS: tuple[Callable[[Case], Iterator[Proposal]], ...] = (
    _closer,
    _farther,
    _modifier,
    _another_head,
    _bigger_light,
    _grid,
    _away_from_wall,
)
"""Everything that is proposed for lights."""
