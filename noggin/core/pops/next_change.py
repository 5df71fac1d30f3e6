"""The one thing to change before the next frame: every dial is tried in thought, and the one that brings
every zone nearest to what is meant wins."""

from collections.abc import Collection
from dataclasses import dataclass

from noggin.core.physics.power import power_label
from noggin.core.planning.plan import work_out
from noggin.core.planning.way import Way
from noggin.core.pops.actual import ActualFrame
from noggin.core.pops.corrections import learned_setup
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.frame import Dialled, Meant, meant_of
from noggin.core.pops.judging import NEAR, begun, belongs, errors, level, right, with_flash
from noggin.core.pops.prospects import Change, Prospects
from noggin.core.setup.setup import SetUp
from noggin.core.wording import signed, stops

SURE = 0.9
"""How probable it must be that face and background are right, to call a picture done."""


WORTH = 0.01
"""What a change must bring, in stops², to be advised. Of 0.01 and 0.05 this came to the fewest pops in
benchmarks/at_the_spot."""


@dataclass(frozen=True)
class Advice:
    """What to do next: a change, or none where nothing brings the picture nearer; how probable it is that
    face and background are right as dialled; whether the picture is done: right as far as can be known,
    with the flash where it needs any; whether it is `near`: close enough to shoot, though one more look
    would make it surer; and whether all of it is dialled `anew`, for another way or another look."""

    change: Change | None
    probability: float
    why: str
    done: bool = False
    near: bool = False
    anew: bool = False


def advise(
    setup: SetUp,
    way: Way,
    estimate: Estimate,
    left_alone: Collection[tuple[str, int | None]] = (),
    meant: Meant | None = None,
) -> Advice:
    """What to do after the last frame of an estimate, for a picture that is `meant` so (None: as the set-up
    says). The way stays: its filter, its high-speed sync, its aperture. Controls that are `left_alone`
    (each with its light's place, None for the camera's) are not proposed: the photographer has overruled
    them."""
    last = estimate.frames[-1]
    meant, was = meant or meant_of(setup), last.meant or meant_of(setup)
    setup = meant.of(setup)
    if not belongs(setup, way, last.dialled) or was.look != meant.look:
        return _dialled_anew(setup, way, estimate)
    dialled = with_flash(setup, way, last.dialled)
    probability = right(setup, estimate, dialled)
    if probability >= SURE and (last.flash or not dialled.lit):
        return Advice(None, probability, "Face and background are within a third of a stop.", done=True)
    fresh = not any(frame.flash for frame in estimate.frames)
    prospects = Prospects(setup, way, estimate, fresh, frozenset(left_alone))
    near_wall = prospects.away_from_the_wall(last, dialled)
    if near_wall is not None:
        return Advice(near_wall, probability, TOO_NEAR_SYNC)
    changes = list(prospects.changes(dialled))
    now = prospects.stays(dialled, changes)
    ranked = [(prospects.worth(one), place, one) for place, one in enumerate(changes)]
    if not ranked:
        return Advice(None, probability, "Everything that could be changed stays as you want it.")
    worth, _, found = min(ranked)
    why = _why(setup, estimate, dialled, last.flash)
    if not last.flash and now - worth < WORTH:
        return Advice(None, probability, _of_daylight(setup, estimate, dialled, why))
    if last.flash and (now - worth < WORTH or prospects.is_near(dialled)):
        better = found if worth < now else None
        if max(map(abs, errors(setup, estimate, estimate.lit(ActualFrame(dialled))))) > NEAR:
            return Advice(better, probability, why if SPILLS in why else f"{why} {NOTHING_LEFT}")
        return Advice(better, probability, CLOSE_ENOUGH, near=True)
    follows = found.light is None and not fresh and prospects.light_brings(found) > WORTH
    words = [why, _takes_from_flash(dialled, found), "Then the light follows." if follows else ""]
    return Advice(found, probability, " ".join(filter(None, words)))


CLOSE_ENOUGH = "Close enough: shoot."
NOTHING_LEFT = "This method has nothing left for it: take another method, or what would help on the Bench."


TOO_NEAR_SYNC = (
    "A dark band at this time: it is too near the sync speed. A longer time opens the whole frame."
)


def _dialled_anew(setup: SetUp, way: Way, estimate: Estimate) -> Advice:
    """The settings of a way as they are best by all that is known, where the last frame was of another way
    or another look."""
    last = estimate.frames[-1].dialled
    known = learned_setup(setup, estimate)
    planned = work_out(known, way.kind)
    dialled = begun(known, planned, last.distances)
    lit = estimate.lit(ActualFrame(dialled))
    landing = {zone: level(estimate, lit.zone(zone)) for zone in estimate.unknowns.zones}
    control, to = _main_control(setup, last, dialled)
    probability = right(setup, estimate, dialled)
    change = Change(control, None, to, dialled, landing, 0.0, 1 - probability, 0.0)
    off = _off_in_words(setup, estimate, dialled)
    left = f" Even so you would have {off}." if off else ""
    return Advice(change, probability, f"{way.label}: dial all of it as shown.{left}", anew=True)


def _main_control(setup: SetUp, last: Dialled, now: Dialled) -> tuple[str, str]:
    """The control that makes the difference, and where it goes."""
    was, is_now = last.settings, now.settings
    if was.stack != is_now.stack:
        return "filter", is_now.stack.words or "no filter"
    if was.shutter != is_now.shutter:
        return "shutter", is_now.shutter.label
    if was.aperture != is_now.aperture:
        return "aperture", f"f/{is_now.aperture.label}"
    if was.iso != is_now.iso:
        return "iso", f"ISO {is_now.iso.label}"
    if now.compensation is not None:
        return "power", signed(now.compensation)
    light = setup.lights[setup.lights.index(setup.key)]
    down = now.powers.get(setup.lights.index(setup.key))
    return "power", "off" if down is None else power_label(down, light.scale, light.full_mark)


def _of_daylight(setup: SetUp, estimate: Estimate, dialled: Dialled, why: str) -> str:
    """What is said of daylight where nothing brings it nearer."""
    background, _ = errors(setup, estimate, estimate.lit(ActualFrame(dialled)))
    if abs(background) <= NEAR:
        return "Daylight is as planned: fire the flash."
    return f"{why} This method has nothing left for it: fire the flash, or take another method."


def _takes_from_flash(dialled: Dialled, change: Change) -> str:
    """What a shorter time in high-speed sync takes from the flash."""
    shorter = change.dialled.settings.shutter.stops - dialled.settings.shutter.stops
    if not dialled.hss or change.control != "shutter" or shorter <= 0:
        return ""
    return f"In high-speed sync it takes {stops(shorter)} from the flash too."


def _why(setup: SetUp, estimate: Estimate, dialled: Dialled, lit: bool) -> str:
    background, _ = errors(setup, estimate, estimate.lit(ActualFrame(dialled)))
    off = _off_in_words(setup, estimate, dialled)
    if not off:
        words = "As dialled it comes near."
    elif lit:
        words = f"You have {off}."
    else:
        words = f"With the planned flash you would have {off}."
    return f"{words} {SPILLS}" if background > NEAR and _spills(estimate, dialled) else words


def _off_in_words(setup: SetUp, estimate: Estimate, dialled: Dialled) -> str:
    """By how much background and face are off what is meant; empty where they are near."""
    found = errors(setup, estimate, estimate.lit(ActualFrame(dialled)))
    off = zip(("background", "face"), found, strict=True)
    said = [
        f"the {zone} {abs(by):.1f} {'over' if by > 0 else 'under'}"
        for zone, by in off
        if abs(by) > NEAR / 2
    ]
    return " and ".join(said)


SPILLS = "The flash lights the background: take them farther from it, or put a grid on the light."


def _spills(estimate: Estimate, dialled: Dialled) -> bool:
    """Whether a background that is too bright is so by the flash: it adds a stop and more."""
    lit = estimate.lit(ActualFrame(dialled))
    adds = level(estimate, lit.zone("background")) - level(estimate, lit.daylight("background"))
    return adds > 1.0
