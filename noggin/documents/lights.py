"""The part of a set-up document that describes one light."""

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

from pydantic import BeforeValidator, Field

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.physics.battery import Battery
from noggin.core.physics.pulse import Pulse
from noggin.core.physics.wind import Stand
from noggin.core.setup import light
from noggin.documents.fields import (
    Duration,
    GroupLetter,
    LeastPower,
    Level,
    Name,
    Part,
    PowerStep,
    UncertaintyField,
    Within,
    WrittenDown,
    added,
    pair,
    uncertainty_of,
)

Built = TypeVar("Built")

PulseRow = Annotated[tuple[LeastPower, Duration], BeforeValidator(pair)]


class PulseDocument(Part):
    """How long the light flashes: its kind, t0.5 at full power, and its own table of power and t0.1."""

    head: Literal["cut", "voltage"]
    t05_s: Duration
    table: list[PulseRow] = Field(default_factory=list, max_length=limits.PULSE_ROWS_MOST)

    def core(self) -> Pulse:
        return Pulse(self.head, self.t05_s, tuple(self.table))


class BatteryDocument(Part):
    """What the light is fed from: full pops from one charge and seconds after one."""

    pops: Annotated[float, Within(limits.POPS)]
    recycle_s: Annotated[float, Within(limits.RECYCLE)]
    overhead: Annotated[float, Within(limits.OVERHEAD)] = Battery.overhead
    hss_draw: Annotated[float, Within(limits.HSS_DRAW)] = Battery.hss_draw

    def core(self) -> Battery:
        return Battery(**self.model_dump())


class StandDocument(Part):
    """What the light stands on, and the area that catches wind."""

    height_m: Annotated[float, Within(limits.STAND_HEIGHT)] = Stand.height_m
    footprint_m: Annotated[float, Within(limits.FOOTPRINT)] = Stand.footprint_m
    sail_m2: Annotated[float, Within(limits.SAIL)] | None = None

    def core(self) -> Stand:
        return Stand(**self.model_dump())


class LightUncertaintyDocument(Part):
    """Where the light's figures come from, or their ± in stops."""

    gn_m: UncertaintyField = "brochure"
    loss: UncertaintyField = "class"
    hss_toll: UncertaintyField = light.LightUncertainty.toll

    def core(self) -> light.LightUncertainty:
        return light.LightUncertainty(
            uncertainty_of(self.gn_m), uncertainty_of(self.loss), uncertainty_of(self.hss_toll)
        )


FacesFromLight = Annotated[
    list[Annotated[float, Within(limits.LIGHT_DISTANCE)]], Field(max_length=limits.FACES_MOST)
]


class LightDocument(Part):
    name: Name = ""
    role: Literal["key", "fill", "rim", "background"]
    gn_m: Annotated[float, Within(limits.GUIDE_NUMBER)]
    loss: Annotated[float, Within(limits.LOSS)] = 0.0
    radius_m: Annotated[float, Within(limits.RADIUS)] = 0.0
    distance_m: Annotated[float, Within(limits.LIGHT_DISTANCE)]
    count: Annotated[int, Within(limits.HEADS)] = 1
    power_min: LeastPower = 1 / 128
    power_step: PowerStep = 1 / 3
    scale: Literal["fraction", "decimal"] = "fraction"
    full_mark: Annotated[float, Within(limits.FULL_MARK)] = 10.0
    hss_toll: Annotated[float, Within(limits.TOLL)] | None = None
    relative_level: Level | None = None
    hss_droop: Annotated[float, Within(limits.DROOP)] = added(0.0)
    gel: Literal["full_cto", "half_cto", "quarter_cto"] | None = added(None)
    group: GroupLetter = added("")
    channel: Annotated[int, Within(limits.CHANNEL)] | None = added(None)
    angle_deg: Annotated[float, Within(limits.ANGLE)] = added(45.0)
    face_distances_m: FacesFromLight = added([])
    grid: bool = added(False)
    head: Literal["cut", "cut_fast", "speedlight", "voltage"] = added("cut")
    beam: Literal["bare", "narrow"] = added("bare")
    energy_ws: Annotated[float, Within(limits.ENERGY)] | None = added(None)
    zoom_mm: Annotated[float, Within(limits.ZOOM)] | None = added(None)
    upright: bool = added(False)
    baffles: Literal["both", "outer", "none"] = added("both")
    mount: Literal["stand", "pole", "pack"] = added("stand")
    pulse: PulseDocument | None = added(None)
    battery: BatteryDocument | None = added(None)
    stand: StandDocument = added(StandDocument())
    uncertainty: LightUncertaintyDocument = added(LightUncertaintyDocument())
    readings: WrittenDown = added("")

    def core(self) -> light.Light:
        parts = {"face_distances_m", "pulse", "battery", "stand", "uncertainty", "readings"}
        return light.Light(
            **self.model_dump(exclude=parts),
            faces_m=tuple(self.face_distances_m),
            pulse=_part("pulse", self.pulse.core) if self.pulse else None,
            battery=self.battery.core() if self.battery else None,
            stand=self.stand.core(),
            uncertainty=self.uncertainty.core(),
        )


def _part(owner: str, make: Callable[[], Built]) -> Built:
    """A part of a light; what it refuses is named under it."""
    try:
        return make()
    except Refused as refusal:
        raise Refused(f"{owner}.{refusal.name}", refusal.problem) from None
