"""What to go through before the first frame, made from this very set-up and the way it is taken."""

from collections.abc import Iterator
from dataclasses import dataclass

from noggin.core.advice.caution_conditions import LEAPING, shakes
from noggin.core.physics.wind import ballast
from noggin.core.planning.lighting import Firing
from noggin.core.planning.plan import where_it_works
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.tables import GELS, MOUNTS
from noggin.core.wording import plain, said_distance, signed

FRAMES_USUAL = 100
"""Frames of a set-up where nothing is said of how many. Common practice, no source."""


@dataclass(frozen=True)
class ToCheck:
    """One thing to look at: its key, what to do, and why (empty where it goes without saying)."""

    key: str
    does: str
    why: str = ""


def preflight(setup: SetUp, way: Way) -> tuple[ToCheck, ...]:
    """Every check of a way, in the order of the hands: camera, lens, trigger, each light, people. Where one
    move mends the way, lights are where that puts them."""
    if way.mend:
        return preflight(way.mend.setup, where_it_works(way))
    return (
        *_camera(setup, way),
        *_trigger(setup, way),
        *(
            check
            for index, firing in enumerate(way.lighting.firings)
            for check in _light(setup, index, firing)
        ),
        *_spare(setup, way),
        *_jump(setup),
        *_people(setup),
    )


def _camera(setup: SetUp, way: Way) -> Iterator[ToCheck]:
    iso = way.settings.iso.label
    lowest = way.settings.iso.stops <= setup.camera.iso_low.stops
    yield ToCheck(
        "manual",
        f"Camera on manual, ISO {iso}{', the lowest' if lowest else ''}; automatic ISO off",
        "Automatic ISO undoes every change you make.",
    )
    stack = way.settings.stack
    if stack.stops:
        yield ToCheck(
            "filter",
            f"Compose and focus, then filter on: {stack.words}",
            "Finder and autofocus fail behind a dense filter.",
        )
    elif setup.filters:
        yield ToCheck("filter", "No filter on the lens")
    if setup.camera.support == "tripod":
        yield ToCheck("hold", "Tripod stands firm, stabiliser off")
    elif shakes(setup, way):
        yield ToCheck(
            "hold",
            f"Something to hold still with: {way.settings.shutter.label} s is too slow by hand",
            "Tripod, stabiliser or a wall to lean on.",
        )


def _trigger(setup: SetUp, way: Way) -> Iterator[ToCheck]:
    if not any(firing.down is not None for firing in way.lighting.firings):
        yield ToCheck("trigger", "No flash in this way: trigger off")
        return
    if setup.intent.school == "auto":
        set_to = signed(way.compensation(setup) or 0.0)
        yield ToCheck(
            "trigger",
            f"Trigger on automatic flash, compensation {set_to}",
            "It meters for itself: look at the picture, the camera does not say what it gave.",
        )
    else:
        yield ToCheck("trigger", "Trigger on manual power, automatic flash off")
    if way.lighting.hss:
        yield ToCheck(
            "hss",
            "High-speed sync on, at trigger and head",
            f"Else the camera falls back to {setup.camera.sync.label} s, or a band stays dark.",
        )
    elif setup.camera.hss:
        yield ToCheck("hss", "High-speed sync off, at trigger and head", "Within sync it only takes power.")


def _light(setup: SetUp, index: int, firing: Firing) -> Iterator[ToCheck]:
    light, name = firing.light, firing.light.says
    title = name[:1].upper() + name[1:]
    if firing.down is None:
        yield ToCheck(f"light-{index}", f"{title} stays off in this way")
        return
    address = [
        f"group {light.group}" if light.group else "",
        f"channel {light.channel}" if light.channel else "",
    ]
    told = ", ".join(part for part in address if part) or "group and channel as on the trigger"
    if light.mount != "stand":
        yield ToCheck(f"mount-{index}", f"{title} is {MOUNTS[light.mount]}", MOUNT_CHECKS[light.mount])
    yield ToCheck(
        f"light-{index}",
        f"{title} {_power(setup, firing)}, {said_distance(light.distance_m)} away; receiver mode, {told}",
        "A head in slave mode does not see a pop in the sun.",
    )
    if light.gel is not None:
        yield ToCheck(f"gel-{index}", f"{title}: {GELS[light.gel].label} gel on, white balance to match")
    if light.battery is not None:
        yield _battery(setup, index, firing, title)
    if setup.scene.gust_m_s and light.sail_m2:
        kilograms = ballast(light.stand, light.sail_m2, setup.scene.gust_m_s)
        yield ToCheck(
            f"ballast-{index}",
            f"{title}: {kilograms:.0f} kg on its stand, or someone who holds it",
            "For the gust of this set-up, with a factor of 2. Local rules come first.",
        )


def _power(setup: SetUp, firing: Firing) -> str:
    return "on automatic" if setup.intent.school == "auto" else f"at {firing.power_words}"


MOUNT_CHECKS = {
    "pole": "Say how far from the face, and who holds it.",
    "pack": "The pack hangs low on the stand or lies beside it, its cable out of the way.",
}
"""What to see to, by what a light is on."""


def _battery(setup: SetUp, index: int, firing: Firing, title: str) -> ToCheck:
    battery, hss = firing.light.battery, firing.hss
    assert battery is not None  # noqa: S101 - asked before
    wanted = setup.intent.frames or FRAMES_USUAL
    lasts = battery.frames(firing.power or 1.0, hss)
    recycles = f"recycles in {plain(battery.recycles_in(firing.power or 1.0))} s"
    if lasts < wanted:
        return ToCheck(
            f"battery-{index}",
            f"{title}: spare battery at hand",
            f"A charge gives {lasts} of {wanted} frames.",
        )
    return ToCheck(
        f"battery-{index}", f"{title}: battery charged", f"A charge gives {lasts:,} frames; {recycles}."
    )


def _spare(setup: SetUp, way: Way) -> Iterator[ToCheck]:
    """What goes wrong once on every wedding."""
    if any(firing.down is not None for firing in way.lighting.firings) and setup.scene.moment is not None:
        yield ToCheck(
            "spare", "A spare head and a spare trigger in the bag", "The day does not wait for one."
        )


def _jump(setup: SetUp) -> Iterator[ToCheck]:
    """What a leap or a run wants besides."""
    if setup.scene.subject_speed_m_s < LEAPING:
        return
    yield ToCheck(
        "mark", "Mark where they leave the ground, and focus on it", "Lock the focus, or track them."
    )
    yield ToCheck(
        "landing",
        "Even ground to land on, clear of stands and cables, and a spotter",
        "A safe landing comes before the picture.",
    )
    yield ToCheck(
        "tries", "Agree on five tries, then a rest", "Fire at the top: one frame a leap, no burst."
    )


def _people(setup: SetUp) -> Iterator[ToCheck]:
    held = [light.says for light in setup.lights if light.stand.height_m > HIGH_M]
    if held:
        yield ToCheck("helper", f"Someone stands at {held[0]}", "A high stand is not left alone.")
    yield ToCheck("people", "Say where they stand and look, and who holds what")


HIGH_M = 2.5
"""From this height on a light is not left alone. Common practice, no source."""
