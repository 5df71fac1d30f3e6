"""One picture to be lit: what is there, what is meant, and what is in the bag.

Value objects are frozen and check themselves; a refusal names the figure as the document does.
"""

from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise
from math import log2

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics import dials, exposure, optics
from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import Filter, Ring, Stack, stacks_on
from noggin.core.setup.agreement import check_agreement
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.light import Light
from noggin.core.setup.scene import Scene
from noggin.core.units import EV100, Metres, Stops
from noggin.core.wording import metres, number


@dataclass(frozen=True)
class SetUp:
    """Everything one plan is computed from."""

    name: str
    scene: Scene
    intent: Intent
    camera: Camera
    lens: Lens
    lights: tuple[Light, ...]
    filters: tuple[Filter, ...] = ()
    rings: tuple[Ring, ...] = ()
    key: Light = field(init=False)

    def __post_init__(self) -> None:
        if len(self.lights) > limits.LIGHTS_MOST:
            raise Refused("lights", f"{len(self.lights)} are more than {limits.LIGHTS_MOST}")
        if len(self.filters) > limits.FILTERS_MOST:
            raise Refused("filters", f"{len(self.filters)} are more than {limits.FILTERS_MOST}")
        if len(self.rings) > limits.RINGS_MOST:
            raise Refused("rings", f"{len(self.rings)} are more than {limits.RINGS_MOST}")
        keys = [light for light in self.lights if light.role == "key"]
        if len(keys) != 1:
            raise Refused("lights", f"exactly one key light is needed, not {len(keys)}")
        object.__setattr__(self, "key", keys[0])
        self._check_filter_names()
        self._check_lens()
        if self.scene.layout is not None:
            check_agreement(self.scene.layout, self.scene, self.lights, self.behind_m)

    def _check_filter_names(self) -> None:
        names = sorted(item.name for item in self.filters)
        for before, after in pairwise(names):
            if before == after:
                raise Refused("filters", f"two filters are named '{before}'")

    def _check_lens(self) -> None:
        lens, aperture = self.lens, self.intent.aperture
        if self.scene.subject_distance_m * 1000 <= lens.focal_mm:
            raise Refused(
                "scene.subject_distance_m",
                f"{metres(self.scene.subject_distance_m)} is not beyond the focal length",
            )
        if not self.apertures:
            raise Refused("lens.widest", "the lens reaches no step of this camera's aperture dial")
        if not lens.widest <= aperture <= lens.smallest:
            raise Refused(
                "intent.aperture",
                f"f/{number(aperture)} is outside what the lens reaches,"
                f" f/{number(lens.widest)} … f/{number(lens.smallest)}",
            )

    @cached_property
    def apertures(self) -> tuple[DialStep, ...]:
        """Every aperture of this lens on this camera's dial, widest first."""
        return self.lens.apertures(self.camera.dial_steps).steps

    @cached_property
    def wanted_aperture(self) -> DialStep:
        """The dial step nearest the aperture meant, inside what the lens reaches."""
        stops = dials.aperture_stops(self.intent.aperture)
        return self.lens.apertures(self.camera.dial_steps).nearest(stops)

    @cached_property
    def stacks(self) -> tuple[Stack, ...]:
        """What the filters can be put together to on this lens, fewest filters first."""
        return stacks_on(self.lens.thread_mm, self.filters, self.rings)

    @cached_property
    def key_and_fill(self) -> Stops:
        """By how much key and fill together exceed the key alone."""
        levels = (light.relative for light in self.lights if light.lights_subject)
        return exposure.mix(*levels) or 0.0

    @cached_property
    def wall_ev(self) -> EV100:
        """EV100 at mid-tone with the wanted aperture, the lowest ISO and sync speed."""
        camera = self.camera
        return exposure.settings_ev(camera.sync.stops, self.wanted_aperture.stops, camera.iso_low.stops)

    @cached_property
    def hand_stops(self) -> Stops | None:
        """The slowest time that is safe by hand, in stops on the shutter dial; None on a tripod."""
        if self.camera.support == "tripod":
            return None
        return -log2(optics.handheld_limit(self.lens.focal_mm, self.camera.sensor_mm))

    @property
    def behind_m(self) -> Metres:
        """How far the background is behind the subject."""
        return self.scene.background_distance_m - self.scene.subject_distance_m

    def in_light(self, scene: Scene) -> "SetUp":
        """The same with a scene that differs in its light alone: whatever was checked or worked out without
        the light is taken along, for a day asks for the same picture in a thousand lights."""
        _ = self.apertures, self.wanted_aperture, self.stacks, self.key_and_fill, self.wall_ev
        other = object.__new__(SetUp)
        vars(other).update(vars(self), scene=scene)
        return other

    @cached_property
    def without_layout(self) -> "SetUp":
        """The same where nobody said where things stand: its figures can be changed one by one."""
        return self if self.scene.layout is None else replace(self, scene=replace(self.scene, layout=None))

    @property
    def dial_step(self) -> Stops:
        """One step of the camera's dials."""
        return 1 / self.camera.dial_steps

    def shows(self, light: Light) -> bool:
        """Whether a light on the subject would show at the edge of the frame where it is."""
        scene = self.scene
        return light.lights_subject and optics.light_in_frame(
            light.distance_m,
            light.radius_m,
            light.angle_deg,
            scene.subject_distance_m,
            self.lens.focal_mm,
            self.camera.sensor_mm[0],
        )
