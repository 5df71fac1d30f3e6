"""What is proposed when a way is short or lacks something: changed set-ups, worked out in closed form.

Whether a proposal helps, and by how much, is the business of `remedies`, which plans it again.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil, floor
from typing import Any

from noggin.core import candidates, flash, limits
from noggin.core.daylight import instants
from noggin.core.dials import iso_dial
from noggin.core.exposure import flash_share
from noggin.core.feasibility import POWER_MISS
from noggin.core.filters import Filter
from noggin.core.light import Light
from noggin.core.lighting import Firing, needed_flash
from noggin.core.plan import Way
from noggin.core.setup import ZONES, SetUp
from noggin.core.spot import Outlook, Spot, outlook
from noggin.core.tables import OPEN_SHADE, REFLECTOR, SCRIM, SUNLIT
from noggin.core.units import EV100, TOLERANCE, Metres, Stops
from noggin.core.ways import work_out
from noggin.core.wording import metres, number, plain, signed, stops

NEAREST: Metres = 0.5
"""Nearest a light is proposed to stand. Common practice, no source."""

PLACE_STEP: Metres = 0.05
"""To what a proposed distance is rounded, toward more help."""

LEAST_GAIN: Stops = 0.05
"""What helps by less is not proposed."""

HEADS_MORE = 3
"""At most so many more heads are proposed. Common practice, no source."""

SMALL_SHARE = 0.5
"""Share of flash up to which a reflector may take its place. Common practice, no source."""

BRIGHTEST: Stops = 2.0
"""Level up to which a background still shows what it is. Common practice, no source."""

BRIGHTEST_STEPS: Stops = 8.0
"""At most so much brighter is looked for."""

EVERY_MIN = 15
"""Step of the clock when waiting, minutes."""


WAITS_TRIED = 4
"""Quarter-hours that are planned before waiting is given up."""


@dataclass(frozen=True)
class Proposal:
    """A changed set-up before it is planned; `way` where it is to be planned another way."""

    remedy: str
    to: str
    setup: SetUp
    change: Mapping[str, Any]
    way: str = ""


@dataclass(frozen=True)
class Case:
    """A way that lacks something, and what its lights are off by."""

    setup: SetUp
    way: Way

    @property
    def error(self) -> Stops:
        """Stops by which the background comes out brighter than meant, beyond the tolerance; 0 within."""
        settings = self.way.settings
        if candidates.reaches_background(self.setup, settings):
            return 0.0
        return candidates.background_error(self.setup, settings)

    @property
    def short(self) -> list[tuple[int, Firing, Stops]]:
        """Lights that give too little at full power: place, firing, by how much."""
        return [(at, f, -r) for at, f, r in self._reserves() if r < -TOLERANCE]

    @property
    def strong(self) -> list[tuple[int, Firing, Stops]]:
        """Lights that give too much as dialled: place, firing, by how much."""
        found = []
        for at, firing, _ in self._reserves():
            over = (firing.level or 0.0) - (firing.needed or 0.0)
            if over > POWER_MISS + TOLERANCE:
                found.append((at, firing, over))
        return found

    @property
    def excluded(self) -> bool:
        """Whether a light cannot take part."""
        return any(firing.full is None for firing in self.way.lighting.firings)

    @property
    def too_bright(self) -> Stops:
        """Stops by which daylight alone takes the subject over what is meant, beyond a third."""
        over = self.way.lighting.levels.subject_ambient - self.setup.intent.subject_level
        return over if over > POWER_MISS else 0.0

    @property
    def reserve(self) -> Stops:
        """The least reserve of any light; 0 where a light cannot take part."""
        reserves = [reserve for _, _, reserve in self._reserves()]
        return 0.0 if self.excluded or not reserves else min(reserves)

    def _reserves(self) -> Iterator[tuple[int, Firing, Stops]]:
        for at, firing in enumerate(self.way.lighting.firings):
            if firing.reserve is not None:
                yield at, firing, firing.reserve


@lru_cache(maxsize=256)
def planned(setup: SetUp, key: str) -> Way:
    """A way of the changed set-up; within sync where the way has nothing left to take away."""
    if key != "within_sync" and not candidates.surplus(setup):
        return planned(setup, "within_sync")
    return work_out(setup, key)


def most_too_strong(case: Case) -> Stops:
    """Stops by which the strongest light is too strong."""
    return max((over for _, _, over in case.strong), default=0.0)


# Nearer, farther, stronger, weaker: what is done to the lights.


Act = Callable[[Light, Stops], tuple[str, float, str] | None]
"""What is done to a light that is off by so many stops: the field, its new value and words for it; None
where nothing can be."""


def _relit(
    case: Case, remedy: str, off: Sequence[tuple[int, Firing, Stops]], act: Act
) -> Iterator[Proposal]:
    """One proposal that does the same to every light that is off. Fields are called alike in the core and
    in documents."""
    lights, words, change = list(case.setup.lights), [], {}
    for at, firing, by in off:
        found = act(firing.light, by)
        if found:
            field, value, said = found
            lights[at] = replace(firing.light, **{field: value})  # type: ignore[arg-type]
            change[f"lights[{at}].{field}"] = value
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
        where = ", where it shows in the frame" if enters else ""
        return "distance_m", to, f"{light.says} to {metres(to)}{where}"

    return _relit(case, "closer", case.short, act)


def _farther(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = _place(light, -by)
        return None if to is None else ("distance_m", to, f"{light.says} to {metres(to)}")

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
        what = f"one that takes {stops(to)}, not {stops(light.loss)}" if to else "none, the bare head"
        return "loss", to, f"{light.says}: {what}"

    def lossier(light: Light, by: Stops) -> tuple[str, float, str]:
        to = floor((light.loss + by) * 10 + TOLERANCE) / 10
        return "loss", to, f"{light.says}: a diffuser or ND gel that takes {stops(to - light.loss)} more"

    if case.short:
        return _relit(case, "modifier", case.short, leaner)
    return _relit(case, "modifier", case.strong, lossier)


def _another_head(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        wanted = ceil(light.count * 2**by - TOLERANCE)
        count = min(wanted, light.count + HEADS_MORE, int(limits.HEADS.most))
        if count == light.count:
            return None
        return "count", count, f"{count} heads like {light.says} together"

    return _relit(case, "another_head", case.short, act)


def _bigger_light(case: Case) -> Iterator[Proposal]:
    def act(light: Light, by: Stops) -> tuple[str, float, str] | None:
        to = float(ceil(light.gn_m * 2 ** (by / 2) - TOLERANCE))
        if to > limits.GUIDE_NUMBER.most:
            return None
        return "gn_m", to, f"guide number {number(to)} m in place of {light.says}, {number(light.gn_m)}"

    return _relit(case, "bigger_light", case.short, act)


# Glass, aperture, ISO and intention: what is done to the camera.


def _filter_instead(case: Case) -> Iterator[Proposal]:
    """Past sync or without the right filter: ND at sync, with what the bag has or one it lacks."""
    over = candidates.surplus(case.setup)
    missing = case.way.way in ("nd", "mixed") and case.error
    if not over or not (case.way.way == "hss" or missing):
        return
    if case.setup.filters and case.way.way == "hss" and planned(case.setup, "nd").feasible:
        yield Proposal("nd_not_hss", "the filters of the bag at sync speed", case.setup, {}, "nd")
        return
    strength = float(max(1, ceil(over - case.setup.dial_step / 2 - TOLERANCE)))
    name = f"{plain(strength, 0)}-stop ND"
    bag = (*case.setup.filters, Filter(_unused(name, case.setup), strength, strength))
    written = [{"name": f.name, "stops": [f.least, f.most] if f.variable else f.least} for f in bag]
    setup = replace(case.setup, filters=bag)
    yield Proposal("nd_not_hss", f"a {name} at sync speed", setup, {"filters": written}, "nd")


def _unused(name: str, setup: SetUp) -> str:
    return f"{name}, new" if any(one.name == name for one in setup.filters) else name


def _stop_down(case: Case) -> Iterator[Proposal]:
    """A smaller aperture as the wanted one: at sync instead of past it, or against too much light."""
    if case.way.way == "stop_down" or not (case.error > 0 or case.excluded or case.short or case.strong):
        return
    closing = max(candidates.surplus(case.setup), most_too_strong(case))
    if closing <= 0:
        return
    wanted = case.setup.wanted_aperture.stops + closing - case.setup.dial_step / 2
    aperture = next((s for s in case.setup.apertures if s.stops >= wanted - TOLERANCE), None)
    if aperture is None:
        return
    nominal = float(aperture.label)
    setup = replace(case.setup, intent=replace(case.setup.intent, aperture=nominal))
    words = f"f/{aperture.label} as the wanted aperture"
    yield Proposal("stop_down", words, setup, {"intent.aperture": nominal})


def _raise_iso(case: Case) -> Iterator[Proposal]:
    """Within sync, past the highest ISO that was allowed: the shutter shortens with it, up to sync."""
    camera = case.setup.camera
    if case.way.way != "within_sync" or case.way.settings.iso != camera.iso_high:
        return
    if not (case.short or case.error < 0):
        return
    more = max([-case.error, *(by for _, _, by in case.short)])
    to = iso_dial().at_least(camera.iso_high.stops + more)
    if to.stops <= camera.iso_high.stops:
        return
    nominal = float(to.label)
    setup = replace(case.setup, camera=replace(camera, iso_highest=nominal))
    yield Proposal("raise_iso", f"up to ISO {to.label}", setup, {"camera.iso_highest": nominal})


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
        if planned(setup, case.way.way).feasible:
            words = f"{stops(more)} brighter, at {signed(level)}"
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
        if need is None or max(_shortages(case)) <= gained + lighting.needed_flash - need + TOLERANCE:
            return more
    return 0.0


# Shade, scrim, reflector, time: what is done to daylight.


def _with_daylight(case: Case, remedy: str, to: str, **zones: EV100 | None) -> Proposal:
    """Zones of other brightness; those that stay as they are are not in the change."""
    scene = case.setup.scene
    change = {f"scene.ev100.{zone}": v for zone, v in zones.items() if v != getattr(scene, zone)}
    return Proposal(remedy, to, replace(case.setup, scene=replace(scene, **zones)), change)  # type: ignore[arg-type]


def _scrim(case: Case) -> Iterator[Proposal]:
    """Less daylight on the subject, where there is too much or the flash is a share of it."""
    if not case.too_bright and case.setup.intent.school != "share":
        return
    scene = case.setup.scene
    words = f"takes {stops(SCRIM)} of daylight off the subject"
    yield _with_daylight(case, "scrim", words, subject=scene.subject - SCRIM)


def _reflector(case: Case) -> Iterator[Proposal]:
    """Sun thrown back on the shaded side, where the flash is a small part of the light."""
    scene, levels = case.setup.scene, case.way.lighting.levels
    sunlit = scene.background >= SUNLIT or scene.rim is not None
    needed = case.way.lighting.needed_flash
    if not sunlit or needed is None or not case.short:
        return
    if flash_share(levels.subject_ambient, needed) > SMALL_SHARE:
        return
    words = f"gives the shaded side {stops(REFLECTOR)}, and the flash less to do"
    yield _with_daylight(case, "reflector", words, subject=scene.subject + REFLECTOR)


def _shade(case: Case) -> Iterator[Proposal]:
    """Subject and what is behind it moved out of the sun; nothing to gain where they stand in shade."""
    scene = case.setup.scene
    if scene.background < SUNLIT:
        return
    background = round(scene.background - OPEN_SHADE, 2)
    subject = round(scene.subject - OPEN_SHADE, 2) if scene.subject >= SUNLIT else scene.subject
    words = f"subject and background out of the sun, there about EV {plain(background)}"
    yield _with_daylight(
        case, "shade", words, background=background, subject=min(subject, background), rim=None
    )


def _wait(case: Case) -> Iterator[Proposal]:
    """The first quarter-hour later that day at which the way works, by the day's light shifted to what
    was read."""
    moment = case.setup.scene.moment
    if moment is None:
        return
    zone = moment.time.tzinfo
    assert zone is not None  # noqa: S101 - a moment's time knows its zone
    now = outlook(moment.place, moment.time, Spot())
    darker = max([_most_error(case), candidates.surplus(case.setup) * case.excluded, *_shortages(case)])
    tried = 0
    for time in instants(moment.time.date(), zone, EVERY_MIN):
        if time <= moment.time or tried == WAITS_TRIED:
            continue
        then = outlook(moment.place, time, Spot())
        if now.background - then.background < darker:
            continue
        tried += 1
        proposal = _later(case, now, then)
        if proposal and planned(proposal.setup, case.way.way).feasible:
            yield proposal
            return


def _most_error(case: Case) -> Stops:
    return max(case.error - case.setup.dial_step / 2, 0.0)


def _shortages(case: Case) -> list[Stops]:
    return [by for _, _, by in case.short]


def _later(case: Case, now: Outlook, then: Outlook) -> Proposal | None:
    """The set-up at a later time: each zone moves with its forecast; the rim goes with the sun."""
    scene, moment = case.setup.scene, case.setup.scene.moment
    assert moment is not None  # noqa: S101 - asked before
    moved: dict[str, Any] = {}
    for zone in ZONES:
        own, before, after = getattr(scene, zone), getattr(now, zone), getattr(then, zone)
        if own is not None:
            gone = before is not None and after is None
            moved[zone] = None if gone else own if before is None else round(own + after - before, 2)
    if not all(value is None or value in limits.EV for value in moved.values()):
        return None
    changed = replace(scene, moment=replace(moment, time=then.time), **moved)
    change: dict[str, Any] = {f"scene.ev100.{zone}": value for zone, value in moved.items()}
    change["scene.place.time"] = then.time.isoformat(timespec="minutes")
    words = f"until {then.time:%H:%M}, the background then at about EV {plain(moved['background'])}"
    return Proposal("wait", words, replace(case.setup, scene=changed), change)


PROPOSERS: tuple[Callable[[Case], Iterator[Proposal]], ...] = (
    _closer,
    _farther,
    _modifier,
    _another_head,
    _bigger_light,
    _filter_instead,
    _stop_down,
    _raise_iso,
    _brighter_background,
    _scrim,
    _reflector,
    _shade,
    _wait,
)
"""Everything that is proposed."""
