"""One light as it stands, and what is known about it.

Value objects are frozen and check themselves; a refusal names the figure as the document does.
"""

from dataclasses import dataclass, field
from functools import cached_property

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics import flash
from noggin.core.physics.battery import Battery
from noggin.core.physics.power import SCALES
from noggin.core.physics.pulse import PULSE_CLASSES, Pulse
from noggin.core.physics.wind import Stand, face_area
from noggin.core.tables import BAFFLES, BOX_BEAM, GELS, GRID_BEAM, GRID_LOSS, MOUNTS, SOURCES, TOLLS
from noggin.core.units import Metres, Stops


@dataclass(frozen=True)
class Role:
    """What a light is for; `lights_subject` says whether it counts toward the subject's level."""

    label: str
    relative_level: Stops
    lights_subject: bool


ROLES = {
    "key": Role("Key", 0.0, True),
    "fill": Role("Fill", -1.5, True),
    "rim": Role("Rim", 0.5, False),
    "background": Role("Background", 0.0, False),
}


BEAMS = {"bare": "bare tube: wide", "narrow": "narrow head or zoom"}
"""What a head throws without a modifier; what a modifier takes from it goes by this."""


@dataclass(frozen=True)
class LightUncertainty:
    """± of a light's figures in stops, two standard deviations."""

    gn: Stops = SOURCES["brochure"].uncertainty
    loss: Stops = SOURCES["class"].uncertainty
    toll: Stops = TOLLS["unknown"].uncertainty

    def __post_init__(self) -> None:
        for name, figure in (("gn_m", self.gn), ("loss", self.loss), ("hss_toll", self.toll)):
            limits.UNCERTAINTY.check(name, figure)


@dataclass(frozen=True)
class Light:
    """One light as it stands: guide number (m, ISO 100, full power, one head, at infinite distance),
    losses in stops, distance in metres from its reference point to what it lights.

    `faces_m` are the distances of several faces from the light, `angle_deg` is where it is off the line
    from subject to lens, `grid` says that one narrows its beam, `hss_droop` what high-speed sync loses
    along the curtains' travel, `head` its kind (a key of PULSE_CLASSES), whose pulse counts where `pulse`
    is not stated, `beam` what it throws without a modifier (a key of BEAMS), `energy_ws` its energy in
    watt-seconds, `zoom_mm` the position of a zoom head (None: it has none) and `upright` that it stands on
    its side, `baffles` those that are in a softbox (a key of BAFFLES), `mount` what it is on (a key of
    MOUNTS).
    """

    gn_m: Metres
    distance_m: Metres
    role: str = "key"
    name: str = ""
    loss: Stops = 0.0
    radius_m: Metres = 0.0
    count: int = 1
    power_min: float = 1 / 128
    power_step: Stops = 1 / 3
    scale: str = "fraction"
    full_mark: float = 10.0
    hss_toll: Stops | None = None
    relative_level: Stops | None = None
    hss_droop: Stops = 0.0
    gel: str | None = None
    group: str = ""
    channel: int | None = None
    angle_deg: float = 45.0
    faces_m: tuple[Metres, ...] = ()
    pulse: Pulse | None = None
    battery: Battery | None = None
    stand: Stand = field(default_factory=Stand)
    uncertainty: LightUncertainty = field(default_factory=LightUncertainty)
    head: str = "cut"
    grid: bool = False
    beam: str = "bare"
    energy_ws: float | None = None
    zoom_mm: float | None = None
    upright: bool = False
    baffles: str = "both"
    mount: str = "stand"

    def __post_init__(self) -> None:
        limits.check_choice("role", self.role, ROLES)
        limits.check_choice("head", self.head, PULSE_CLASSES)
        limits.check_choice("beam", self.beam, BEAMS)
        limits.check_choice("baffles", self.baffles, BAFFLES)
        limits.check_choice("mount", self.mount, MOUNTS)
        if self.zoom_mm is not None:
            limits.ZOOM.check("zoom_mm", self.zoom_mm)
        if self.energy_ws is not None:
            limits.ENERGY.check("energy_ws", self.energy_ws)
        limits.check_choice("scale", self.scale, SCALES)
        limits.GUIDE_NUMBER.check("gn_m", self.gn_m)
        limits.LIGHT_DISTANCE.check("distance_m", self.distance_m)
        limits.LOSS.check("loss", self.loss)
        limits.RADIUS.check("radius_m", self.radius_m)
        limits.HEADS.check("count", self.count)
        limits.LEAST_POWER.check("power_min", self.power_min)
        limits.POWER_STEP.check("power_step", self.power_step)
        limits.FULL_MARK.check("full_mark", self.full_mark)
        limits.DROOP.check("hss_droop", self.hss_droop)
        limits.ANGLE.check("angle_deg", self.angle_deg)
        if self.gel is not None:
            limits.check_choice("gel", self.gel, GELS)
        if self.channel is not None:
            limits.CHANNEL.check("channel", self.channel)
        for index, distance in enumerate(self.faces_m):
            limits.LIGHT_DISTANCE.check(f"face_distances_m[{index}]", distance)
        if self.hss_toll is not None:
            limits.TOLL.check("hss_toll", self.hss_toll)
        if self.relative_level is not None:
            limits.LEVEL.check("relative_level", self.relative_level)
            if self.role == "key" and self.relative_level != 0:
                raise Refused(
                    "relative_level",
                    "the key has no relative level: the other lights are set relative to it",
                )

    @cached_property
    def reach(self) -> Stops:
        """Level of a full pop where it falls, at f/1 and ISO 100 within sync. Source: ISO 1230."""
        return (
            flash.at_one_metre(self.gn_m)
            + flash.by_distance(self.distance_m)
            + flash.near_source(self.distance_m, self.radius_m)
            + flash.by_heads(self.count)
            - self.loss
            - self.gel_loss
            - (GRID_LOSS if self.grid else 0.0)
            + BAFFLES[self.baffles]
        )

    @property
    def flash_pulse(self) -> Pulse:
        """Its pulse as stated, else that of its kind."""
        return self.pulse or PULSE_CLASSES[self.head].pulse

    @property
    def tops_up(self) -> bool:
        """Whether it brings the background to what is meant, having no level of its own."""
        return self.role == "background" and self.relative_level is None

    def kept_off(self, behind_m: Metres) -> Stops:
        """What a grid keeps off a background `behind_m` behind the subject: the cosine beam of a grid
        against that of a box, at the angle at which the background is off the light's aim."""
        if not self.grid:
            return 0.0
        return flash.beam_loss(self.distance_m, self.angle_deg, behind_m, GRID_BEAM - BOX_BEAM)

    def droop_at(self, height: float) -> Stops:
        """What the droop of high-speed sync adds, against mid-frame, at a height of the frame from its top
        (0) to its bottom (1): the picture stands upside down in the camera, so that the curtains begin at
        its bottom and end at its top.

        >>> Light(40, 2, hss_droop=0.6).droop_at(0.0), Light(40, 2, hss_droop=0.6).droop_at(1.0)
        (-0.3, 0.3)
        """
        return self.hss_droop * (height - 0.5)

    @property
    def gel_loss(self) -> Stops:
        """What its gel takes."""
        return 0.0 if self.gel is None else GELS[self.gel].loss

    @property
    def says(self) -> str:
        """What it is called: its name, else its role."""
        return self.name or self.role

    @property
    def sail_m2(self) -> float:
        """Area that catches wind."""
        stated = self.stand.sail_m2
        return face_area(self.radius_m) if stated is None else stated

    @property
    def spread(self) -> Stops:
        """Spread in stops from the nearest to the farthest face."""
        return flash.across(self.faces_m, self.radius_m)

    @property
    def relative(self) -> Stops:
        """Level relative to the key: as stated, else the role's usual one."""
        return ROLES[self.role].relative_level if self.relative_level is None else self.relative_level

    @property
    def lights_subject(self) -> bool:
        """Whether it counts toward the subject's level (key and fill)."""
        return ROLES[self.role].lights_subject
