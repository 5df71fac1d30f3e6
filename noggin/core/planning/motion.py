"""A subject that moves: what the shutter smears, and what the flash freezes."""

from dataclasses import dataclass
from math import log2

from noggin.core.physics import optics
from noggin.core.planning.lighting import Lighting
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Millimetres, Seconds, Stops

GHOST_FREE: Stops = 3.0
"""Daylight this far under the subject's level leaves no ghost beside what flash froze. Common
practice, no source."""

EDGES_HOLD: Stops = -2.0
"""A background over this level burns through moving edges, whatever froze the subject. Common practice,
no source."""


@dataclass(frozen=True)
class Motion:
    """What movement does to the subject in one way.

    `smear_mm` is the image's path on the sensor while the shutter is open, `point_mm` the largest disc
    that reads as a point, `pulse_s` the longest t0.1 of the lights on the subject as they are dialled
    (None: none fires), `frozen_by` "shutter", "flash" or "" (it smears), and `ghosts` says that flash would
    freeze it but for a background that burns through its edges.
    """

    smear_mm: Millimetres
    point_mm: Millimetres
    pulse_s: Seconds | None
    frozen_by: str
    ghosts: bool = False

    @property
    def points(self) -> float:
        """How many points long the smear is."""
        return self.smear_mm / self.point_mm


def longest_sharp(setup: SetUp) -> Seconds | None:
    """Longest time that keeps the moving subject a point: c · (s - f)/(f · v); None if it stands."""
    speed = _image_speed(setup)
    return optics.circle_of_confusion(setup.camera.sensor_mm) / speed if speed else None


def still_time(setup: SetUp) -> Stops | None:
    """`longest_sharp` in stops on the shutter dial; None if the subject stands."""
    longest = longest_sharp(setup)
    return None if longest is None else -log2(longest)


def asks_for_speed(setup: SetUp) -> bool:
    """Whether the subject moves too fast for the sync speed, so that a shorter time has its use."""
    still = still_time(setup)
    return still is not None and still > setup.camera.sync.stops + TOLERANCE


def motion(setup: SetUp, lighting: Lighting) -> Motion:
    """Whether the subject comes out sharp, and what makes it so.

    The shutter freezes when the smear is no longer than a point. The flash does within sync when
    daylight is GHOST_FREE under the subject's level, the background reaches no more than EDGES_HOLD and
    t0.1 of every light on the subject is short enough at its dialled power. In high-speed sync the flash
    is continuous and freezes nothing.
    """
    speed, point = _image_speed(setup), optics.circle_of_confusion(setup.camera.sensor_mm)
    smear = speed * lighting.settings.shutter.value
    pulse = _pulse(lighting)
    levels = lighting.levels
    frozen_by, ghosts = "", False
    if smear <= point * (1 + TOLERANCE):
        frozen_by = "shutter"
    elif pulse is not None and not lighting.hss:
        dark = levels.subject_ambient <= levels.subject - GHOST_FREE + TOLERANCE
        if dark and speed * pulse <= point * (1 + TOLERANCE):
            ghosts = levels.background > EDGES_HOLD + TOLERANCE
            frozen_by = "" if ghosts else "flash"
    return Motion(smear, point, pulse, frozen_by, ghosts)


def _image_speed(setup: SetUp) -> float:
    scene = setup.scene
    return optics.smear_speed(scene.subject_speed_m_s, scene.subject_distance_m, setup.lens.focal_mm)


def _pulse(lighting: Lighting) -> Seconds | None:
    """Longest t0.1 among the lights on the subject that fire; that of its class where a light has no table
    of its own."""
    times = [
        firing.light.flash_pulse.t01_s(firing.power)
        for firing in lighting.firings
        if firing.light.lights_subject and firing.power
    ]
    return max(times, default=None)
