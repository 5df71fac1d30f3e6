"""What is proposed for daylight when a way is short or lacks something: scrim, reflector, shade, time."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from noggin.core import limits
from noggin.core.advice.remedy_case import Case, Proposal, planned
from noggin.core.clock import instants
from noggin.core.daylight.forecast import Forecast, Surroundings, forecast, with_lamps, without_lamps
from noggin.core.physics.exposure import flash_share
from noggin.core.planning import candidates
from noggin.core.setup.scene import ZONES, Scene
from noggin.core.tables import OPEN_SHADE, REFLECTOR, SCRIM, SUNLIT
from noggin.core.units import EV100, Stops
from noggin.core.wording import plain, stops

SMALL_SHARE = 0.5
"""Share of flash up to which a reflector may take its place. Common practice, no source."""

EVERY_MIN = 15
"""Step of the clock when waiting, minutes."""

WAITS_TRIED = 4
"""Quarter-hours that are planned before waiting is given up."""


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
    piece = case.spares.piece("scrim", "one")
    words = f"hold {piece} over them: it takes {stops(SCRIM)} of daylight off"
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
    piece = case.spares.piece("reflector", "one")
    words = f"with {piece} throw {stops(REFLECTOR)} back on the shaded side: less is left for the flash"
    yield _with_daylight(case, "reflector", words, subject=scene.subject + REFLECTOR)


def _shade(case: Case) -> Iterator[Proposal]:
    """Subject and what is behind it moved out of the sun; nothing to gain where they are in shade."""
    scene = case.setup.scene
    if scene.background < SUNLIT:
        return
    background = round(scene.background - OPEN_SHADE, 2)
    subject = round(scene.subject - OPEN_SHADE, 2) if scene.subject >= SUNLIT else scene.subject
    words = f"take the picture out of the sun, where it is about EV {plain(background)}"
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
    now = forecast(moment.place, moment.time, Surroundings())
    darker = max([_most_error(case), candidates.surplus(case.setup) * case.excluded, *case.shortages])
    tried = 0
    for time in instants(moment.time.date(), zone, EVERY_MIN):
        if time <= moment.time or tried == WAITS_TRIED:
            continue
        then = forecast(moment.place, time, Surroundings())
        if now.background - then.background < darker:
            continue
        tried += 1
        proposal = _later(case, now, then)
        if proposal and planned(proposal.setup, case.way.kind).feasible:
            yield proposal
            return


def _moved(scene: Scene, zone: str, by: Stops) -> EV100:
    """A zone whose daylight has changed; its lamps stay."""
    lamps = scene.lamps(zone)
    return round(with_lamps(without_lamps(getattr(scene, zone), lamps) + by, lamps), 2)


def _most_error(case: Case) -> Stops:
    return max(case.error - case.setup.dial_step / 2, 0.0)


def _later(case: Case, now: Forecast, then: Forecast) -> Proposal | None:
    """The set-up at a later time: each zone moves with its forecast; the rim goes with the sun."""
    scene, moment = case.setup.scene, case.setup.scene.moment
    assert moment is not None  # noqa: S101 - asked before
    moved: dict[str, Any] = {}
    for zone in ZONES:
        own, before, after = getattr(scene, zone), getattr(now, zone), getattr(then, zone)
        if own is not None:
            gone = before is not None and after is None
            moved[zone] = None if gone else own if before is None else _moved(scene, zone, after - before)
    if not all(value is None or value in limits.EV for value in moved.values()):
        return None
    changed = replace(scene, moment=replace(moment, time=then.time), **moved)
    change: dict[str, Any] = {f"scene.ev100.{zone}": value for zone, value in moved.items()}
    change["scene.place.time"] = then.time.isoformat(timespec="minutes")
    words = f"until {then.time:%H:%M}, when the background is at about EV {plain(moved['background'])}"
    return Proposal("wait", words, replace(case.setup, scene=changed), change)


ON_DAYLIGHT: tuple[Callable[[Case], Iterator[Proposal]], ...] = (_scrim, _reflector, _shade, _wait)
"""Everything that is proposed for daylight."""
