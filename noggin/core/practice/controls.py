"""Questions about two pictures: which control was turned, and what comes of turning it."""

from dataclasses import dataclass, replace
from random import Random

from noggin.core.physics import dials
from noggin.core.physics.filters import Stack
from noggin.core.physics.power import dialled_down
from noggin.core.planning.lighting import Settings, full_level
from noggin.core.planning.plan import way_at
from noggin.core.practice.scenes import LIGHTS, portrait
from noggin.core.practice.task import Drill, DrillQuestion, TaskPicture
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import signed, stops

TURNED: Stops = 2.0
"""By so much a control is turned: it is seen at a glance."""

ROOM: Stops = 7.5
"""Stops between full and the least power that any of these lights has, and a third."""


@dataclass(frozen=True)
class Dials:
    """A set-up as it is dialled: settings, and the key's power in stops under full."""

    setup: SetUp
    settings: Settings
    down: Stops

    def turned(self, **settings: object) -> "Dials":
        """The same with other settings."""
        return replace(self, settings=replace(self.settings, **settings))  # type: ignore[arg-type]

    @property
    def words(self) -> str:
        """The camera as it is read off."""
        shown = self.settings
        return f"{shown.shutter.label} s, f/{shown.aperture.label}, ISO {shown.iso.label}"

    def picture(self, caption: str) -> TaskPicture:
        """What comes of it."""
        way = way_at(self.setup, self.settings, {0: self.down})
        levels = way.lighting.levels
        words = f"Background {signed(levels.background)}, flash on the face {signed(levels.flash)}"
        return TaskPicture(caption, words, self.setup, way)


def _dialled(chance: Random, shutter: str, *, past: bool) -> Dials:
    """A portrait at a time (1/s): the background about mid-tone and the flash right on the face, with room
    on every dial to turn it by TURNED."""
    times = {step.label: step for step in dials.shutter_dial(3).steps}
    while True:
        setup = portrait(
            chance, chance.choice(["noon"] if past else ["late", "dusk", "hall"]), chance.choice([*LIGHTS])
        )
        time = times[shutter]
        iso = dials.iso_dial().nearest(0.0 if past else max(9.0 - setup.scene.background, 0.0) + 2.0)
        wanted = setup.scene.background - chance.choice([0.0, 0.3, -0.3]) - time.stops + iso.stops
        if not setup.apertures[0].stops <= wanted <= setup.apertures[-1].stops - TURNED:
            continue
        settings = Settings(time, setup.lens.apertures(3).nearest(wanted), iso)
        full = full_level(setup, setup.key, settings)
        if full is not None and (1.0 if past else 0.0) <= full <= ROOM - TURNED - 1.0:
            down = dialled_down(full, setup.key.power_step, setup.key.power_min)
            return Dials(setup, settings, down)


def _asked(now: Dials) -> str:
    sync = now.setup.camera.sync.label
    return (
        f"Sync speed {sync} s. The first picture was made at {now.words}, within sync. One thing was"
        " turned for the second. Which?"
    )


def _slower(chance: Random) -> Dials:
    return _dialled(chance, chance.choice(["1/30", "1/40", "1/50"]), past=False)


def _pictures(before: Dials, after: Dials) -> tuple[TaskPicture, ...]:
    return before.picture("First"), after.picture("Second")


SHORTER = "a shorter time, within sync"
FILTER = "an ND filter on the lens"
LOWER = "a lower ISO"
SMALLER = "a smaller aperture"
WEAKER = "less power"
FARTHER = "the light farther away, at more power"


def _daylight_fell(chance: Random) -> DrillQuestion:
    before = _slower(chance)
    time = dials.shutter_dial(3).nearest(before.settings.shutter.stops + TURNED)
    after = before.turned(shutter=time)
    return DrillQuestion(
        _asked(before),
        SHORTER,
        ((FILTER, "nd_daylight"), (LOWER, "iso_daylight"), (FARTHER, "closer_brightens")),
        f"Only daylight fell, by {stops(TURNED)}: {before.settings.shutter.label} to {time.label} s. A"
        " filter, ISO or aperture would have taken as much from the flash, and a light that stands"
        " farther away leaves more behind the face, not less.",
        pictures=_pictures(before, after),
        seen={"shutter": "focal_plane", "mode": "pop", "time": time.label},
    )


def _flash_fell(chance: Random) -> DrillQuestion:
    before = _slower(chance)
    after = replace(before, down=before.down + TURNED)
    return DrillQuestion(
        _asked(before),
        WEAKER,
        ((SHORTER, "time_dims_flash"), (SMALLER, "iso_daylight"), (FILTER, None)),
        f"Only the flash fell, by {stops(TURNED)}; the background stayed. Power does that, or distance."
        " Time within sync leaves the flash as it is; aperture and filter move both.",
        pictures=_pictures(before, after),
    )


def _both_fell(chance: Random) -> DrillQuestion:
    before = _slower(chance)
    settings = before.settings
    right, after = chance.choice(
        [
            (LOWER, before.turned(iso=dials.iso_dial().nearest(settings.iso.stops - TURNED))),
            (
                SMALLER,
                before.turned(
                    aperture=before.setup.lens.apertures(3).nearest(settings.aperture.stops + TURNED)
                ),
            ),
            (FILTER, before.turned(stack=Stack(("2-stop ND",), TURNED, (0,)))),
        ]
    )
    return DrillQuestion(
        _asked(before),
        right,
        ((SHORTER, "time_dims_flash"), (WEAKER, None), (FARTHER, None)),
        f"Daylight and flash fell alike, by {stops(TURNED)}. ISO, aperture and filters do that. Time"
        " within sync would have left the flash, power the background.",
        pictures=_pictures(before, after),
    )


def _in_high_speed(chance: Random) -> DrillQuestion:
    """Three pictures that might come of a shorter time past sync; one does."""
    before = _dialled(chance, chance.choice(["1/500", "1/640", "1/800"]), past=True)
    time = dials.shutter_dial(3).nearest(before.settings.shutter.stops + TURNED)
    after = before.turned(shutter=time)
    found = [
        (after, None),
        (replace(after, down=before.down - TURNED), "iso_daylight"),
        (replace(after, down=before.down - 2 * TURNED), "hss_power"),
    ]
    found = [one for one in found if one[0].down >= -4 * TURNED]
    chance.shuffle(found)
    names = dict(zip((belief for _, belief in found), ("A", "B", "C"), strict=True))
    sync, toll = before.setup.camera.sync.label, before.setup.key.hss_toll
    return DrillQuestion(
        f"Sync speed {sync} s. The first picture was made in high-speed sync at {before.words}. You go"
        f" to {time.label} s and change nothing else. Which of the others comes out?",
        names[None],
        tuple((name, belief) for belief, name in names.items() if belief is not None),
        f"Past sync the light pulses as long as the slit travels, so {stops(TURNED)} of shorter time"
        f" take {stops(TURNED)} of daylight and of flash alike; the toll of {stops(toll or 0.0)} was"
        " paid already.",
        in_order=True,
        pictures=(before.picture("First"), *(_unbounded(one, names[belief]) for one, belief in found)),
        seen={"shutter": "focal_plane", "mode": "hss", "time": time.label, "sync": sync},
    )


def _unbounded(shown: Dials, caption: str) -> TaskPicture:
    """A picture of what somebody may expect, with more flash than the light has where that is it."""
    if shown.down >= 0:
        return shown.picture(caption)
    brighter = replace(shown.setup.key, gn_m=shown.setup.key.gn_m * 2 ** (-shown.down / 2))
    return replace(shown, setup=replace(shown.setup, lights=(brighter,)), down=0.0).picture(caption)


MOVED = (
    Drill(
        "daylight_fell",
        "Daylight",
        ("nd_daylight", "iso_daylight", "closer_brightens"),
        _daylight_fell,
    ),
    Drill("flash_fell", "The flash", ("time_dims_flash", "iso_daylight"), _flash_fell),
    Drill("both_fell", "Both", ("time_dims_flash",), _both_fell),
    Drill("in_high_speed", "Past sync", ("hss_power", "iso_daylight"), _in_high_speed),
)
"""Every question about what moved."""
