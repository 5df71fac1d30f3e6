"""Gear as the kit document describes it: one model for each kind of thing in the bag.

A figure that can be measured is an object: its value, where it comes from, its ± and, once measured, when
and how, with the figure it replaced.
"""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BeforeValidator, Field, StringConstraints, WithJsonSchema

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.gear import compatibility
from noggin.core.physics import filters
from noggin.core.physics.wind import Stand
from noggin.core.pops import tone_curve
from noggin.core.setup import camera
from noggin.core.tables import SOURCES
from noggin.core.wording import shutter_time
from noggin.documents.fields import LeastPower, Name, Part, PowerStep, Time, Within, added, own_words, pair
from noggin.documents.lights import BatteryDocument, PulseDocument
from noggin.documents.problems import shown

SourceKey = Literal["measured", "class", "brochure"]
UncertaintyStops = Annotated[float, Within(limits.UNCERTAINTY)]


def _day(text: str) -> str:
    try:
        date.fromisoformat(text)
    except ValueError:
        raise own_words(f"{shown(text)} is not a date like 2027-06-19") from None
    return text


DateText = Annotated[str, AfterValidator(_day), WithJsonSchema({"type": "string", "format": "date"})]
OwnName = Annotated[
    str,
    StringConstraints(
        strict=True, min_length=1, max_length=limits.NAME_LENGTH, pattern=r"^[^\x00-\x1f\x7f-\x9f]*$"
    ),
]
System = Name
"""What a flash or radio system is called by its owner; the same word means that two things understand one
another."""


class Earlier(Part):
    """The figure that a measured one replaced; a value of null: there was none."""

    value: Annotated[float, Within(limits.ANY_FIGURE)] | None
    source: SourceKey = "brochure"
    plus_minus: UncertaintyStops | None = added(None)
    on: DateText | None = added(None)
    how: Name = added("")


class Figure(Part):
    """A figure with where it comes from; its ± is the usual one of its source unless stated."""

    value: float
    source: SourceKey = "brochure"
    plus_minus: UncertaintyStops | None = added(None)
    on: DateText | None = added(None)
    how: Name = added("")
    before: Earlier | None = added(None)


def uncertainty_of_figure(figure: Any) -> float:
    """± of a figure of a gear document, in stops."""
    stated = figure.get("plus_minus")
    return float(SOURCES[figure["source"]].uncertainty if stated is None else stated)


class GuideNumberFigure(Figure):
    """Metres, ISO 100, full power, one bare head, for infinite distance; ± in stops."""

    value: Annotated[float, Within(limits.GUIDE_NUMBER)]


class LossFigure(Figure):
    """Stops."""

    value: Annotated[float, Within(limits.LOSS)]


class TollFigure(Figure):
    """Stops, with the sync speed it was measured at."""

    value: Annotated[float, Within(limits.TOLL)]
    sync_s: Time = 1 / 200


class StrengthFigure(Figure):
    """Stops of a filter."""

    value: Annotated[float, Within(limits.FILTER)]


class ShiftFigure(Figure):
    """Mired, warm is positive."""

    value: Annotated[float, Within(limits.MIRED)]


class PowerOffFigure(Figure):
    """Largest departure of the power scale from whole stops, in stops."""

    value: Annotated[float, Within(limits.POWER_OFF)]


class TimeFigure(Figure):
    """Seconds, or as on a dial."""

    value: Time


class Item(Part):
    """What every piece of gear has. `source` says where figures come from that do not say it themselves."""

    name: OwnName
    count: Annotated[int, Within(limits.OWNED)] = 1
    source: SourceKey = "brochure"
    weight_kg: Annotated[float, Within(limits.WEIGHT)] | None = added(None)
    notes: Annotated[str, Field(max_length=2000)] = added("")

    def check(self) -> None:
        """Raise Refused where figures do not go together."""


SensorSide = Annotated[float, Within(limits.SENSOR_SIDE)]


_CAMERA_FIGURES = {
    "fastest_s",
    "slowest_s",
    "iso_lowest",
    "iso_highest",
    "dial_steps",
    "sensor_mm",
    "shutter",
    "hss",
    "name",
}


CurveLevel = Annotated[float, Field(ge=-20, le=20)]


class JpegCurve(Part):
    """A camera's own JPEG curve, fitted from frames of a card: the body as its files name it, levels as
    they read by sRGB, rising, and what they really are."""

    body: Annotated[str, Field(max_length=120)]
    reads: Annotated[list[CurveLevel], Field(min_length=2, max_length=100)]
    really: Annotated[list[CurveLevel], Field(min_length=2, max_length=100)]

    def core(self) -> tone_curve.ToneCurve:
        return tone_curve.ToneCurve(tuple(self.reads), tuple(self.really))


class BodyItem(Item):
    """A camera body: limits of its shutter and ISO, and the flash system of its shoe."""

    kind: Literal["body"]
    sync_s: TimeFigure
    fastest_s: Time = 1 / 8000
    slowest_s: Time = 1 / 60
    iso_lowest: Annotated[float, Within(limits.ISO)] = 100
    iso_base: Annotated[float, Within(limits.ISO)] | None = added(None)
    iso_highest: Annotated[float, Within(limits.ISO)] = 6400
    dial_steps: Literal[1, 2, 3] = 3
    sensor_mm: Annotated[tuple[SensorSide, SensorSide], BeforeValidator(pair)] = (36, 24)
    shutter: Literal["focal_plane", "leaf", "global", "rolling"] = "focal_plane"
    curtain_s: TimeFigure | None = added(None)
    hss: bool = True
    system: System = ""
    jpeg_curve: JpegCurve | None = added(None)

    def check(self) -> None:
        if self.jpeg_curve:
            self.jpeg_curve.core()
        camera.Camera(
            self.sync_s.value,
            iso_base=self.iso_base,
            curtain_s=self.curtain_s.value if self.curtain_s else None,
            **self.model_dump(include=_CAMERA_FIGURES),
        )

    def core(self) -> compatibility.Body:
        return compatibility.Body(self.name, shutter_time(self.sync_s.value), self.hss, self.system)


Thread = Annotated[float, Within(limits.THREAD)]
Focal = Annotated[float, Within(limits.FOCAL)]


class LensItem(Item):
    """A lens as mounted: `focal_mm` is one length or the ends of a zoom."""

    kind: Literal["lens"]
    focal_mm: Annotated[tuple[Focal, Focal], BeforeValidator(pair)]
    widest: Annotated[float, Within(limits.APERTURE)]
    smallest: Annotated[float, Within(limits.APERTURE)] = 16
    thread_mm: Thread | None = None

    def check(self) -> None:
        for focal in self.focal_mm:
            camera.Lens(focal, self.widest, self.smallest, self.name)
        if self.focal_mm[1] < self.focal_mm[0]:
            raise Refused("focal_mm", "give the shorter end of a zoom first")

    def core(self) -> camera.Lens:
        """The lens at the shorter end of its zoom."""
        return camera.Lens(self.focal_mm[0], self.widest, self.smallest, self.name, self.thread_mm)


Marked = Annotated[float, Within(limits.FILTER)]


class FilterItem(Item):
    """A filter: marked stops (the ends of a variable one), what they were measured to be, its colour."""

    kind: Literal["filter"]
    type: Literal["fixed", "variable", "polariser"] = "fixed"
    stops: Annotated[tuple[Marked, Marked], BeforeValidator(pair)]
    least: StrengthFigure | None = added(None)
    most: StrengthFigure | None = added(None)
    colour: ShiftFigure | None = added(None)
    thread_mm: Thread | None = None

    def check(self) -> None:
        filters.Filter(self.name, *self.stops)
        if self.type != "variable" and self.stops[0] != self.stops[1]:
            raise Refused("stops", "only a variable filter has two strengths")

    def core(self) -> filters.Filter:
        """The filter as measured where it was, else as marked."""
        least = self.least.value if self.least else self.stops[0]
        most = self.most.value if self.most else self.stops[1]
        ends = (least, most) if self.type == "variable" else (least, least)
        return filters.Filter(
            self.name, *ends, polariser=self.type == "polariser", thread_mm=self.thread_mm
        )


class RingItem(Item):
    """A step-up or step-down ring."""

    kind: Literal["ring"]
    lens_mm: Thread
    filter_mm: Thread

    def core(self) -> filters.Ring:
        return filters.Ring(self.name, self.lens_mm, self.filter_mm)


class Reflector(Part):
    """A head, reflector or zoom position of a light with its guide number, and what it throws."""

    name: OwnName
    gn_m: GuideNumberFigure
    beam: Literal["bare", "narrow"] = added("bare")


class LightItem(Item):
    """A light without its modifier. `system` is the radio built in; `power_off` how far its power scale
    strays from whole stops."""

    kind: Literal["light"]
    light_class: Literal["large", "medium", "pocket", "speedlight", "studio", "other"] = "other"
    reflectors: Annotated[list[Reflector], Field(min_length=1, max_length=limits.REFLECTORS_MOST)]
    hss_toll: TollFigure | None = None
    power_min: LeastPower = 1 / 128
    power_step: PowerStep = 1 / 3
    scale: Literal["fraction", "decimal"] = "fraction"
    full_mark: Annotated[float, Within(limits.FULL_MARK)] = 10.0
    power_off: PowerOffFigure | None = added(None)
    head: Literal["cut", "cut_fast", "speedlight", "voltage"] = added("cut")
    energy_ws: Annotated[float, Within(limits.ENERGY)] | None = added(None)
    pulse: PulseDocument | None = added(None)
    battery: BatteryDocument | None = added(None)
    system: System = ""

    def check(self) -> None:
        if self.pulse:
            self.pulse.core()
        if self.battery:
            self.battery.core()
        names = [reflector.name for reflector in self.reflectors]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice:
            raise Refused("reflectors", f"{twice} is listed twice")

    def core(self) -> compatibility.Head:
        return compatibility.Head(self.name, self.hss_toll is not None, self.system)


class LossOn(Part):
    """What a modifier takes from one light, by that light's name."""

    light: OwnName
    loss: LossFigure


Shape = Literal[
    "reflector",
    "zoom",
    "softbox",
    "deep",
    "octa",
    "strip",
    "umbrella",
    "shoot_through",
    "covered_umbrella",
    "dish",
    "parabolic",
    "lantern",
    "other",
]


class ModifierItem(Item):
    """A modifier: shape, size of its face, what it takes in general, from narrow heads and from single
    lights, its sail area, and what its grid takes on top."""

    kind: Literal["modifier"]
    shape: Shape = "softbox"
    across_m: Annotated[float, Within(limits.ACROSS)]
    loss: LossFigure
    narrow: LossFigure | None = added(None)
    losses: Annotated[list[LossOn], Field(max_length=limits.GEAR_MOST)] = added([])
    sail_m2: Annotated[float, Within(limits.SAIL)] | None = added(None)
    grid: LossFigure | None = added(None)


class TriggerItem(Item):
    """A transmitter or a receiver. `shoe` is the flash system it is made for, `system` its radio."""

    kind: Literal["trigger"]
    part: Literal["transmitter", "receiver"] = "transmitter"
    system: System
    shoe: System = ""
    hss: bool = True
    groups: Annotated[int, Within(limits.GROUPS)] = 5
    channels: Annotated[int, Within(limits.CHANNELS)] = 32

    def core(self) -> compatibility.Trigger | compatibility.Receiver:
        if self.part == "receiver":
            return compatibility.Receiver(self.name, self.system, self.hss)
        return compatibility.Trigger(
            self.name, self.system, self.shoe, self.hss, self.groups, self.channels
        )


class StandItem(Item):
    """A light stand: height of the tube with the stand up, radius of its feet."""

    kind: Literal["stand"]
    height_m: Annotated[float, Within(limits.STAND_HEIGHT)] = Stand.height_m
    footprint_m: Annotated[float, Within(limits.FOOTPRINT)] = Stand.footprint_m


class SandbagItem(Item):
    """Weight for a stand."""

    kind: Literal["sandbag"]
    kg: Annotated[float, Within(limits.SANDBAG)] = 5.0


class AccessoryItem(Item):
    """Something else that goes along. `for_gear` names what it belongs to, such as the light of a
    battery."""

    kind: Literal["accessory"]
    type: Literal[
        "grid",
        "snoot",
        "gel",
        "flag",
        "reflector",
        "scrim",
        "boom",
        "pole",
        "bracket",
        "adapter",
        "battery",
        "meter",
        "tripod",
    ]
    for_gear: Name = added("")


GEAR_KINDS: dict[str, tuple[type[Item], str, str]] = {
    "light": (LightItem, "Light", "Lights"),
    "modifier": (ModifierItem, "Modifier", "Modifiers"),
    "trigger": (TriggerItem, "Trigger or receiver", "Triggers and receivers"),
    "body": (BodyItem, "Camera body", "Camera bodies"),
    "lens": (LensItem, "Lens", "Lenses"),
    "filter": (FilterItem, "Filter", "Filters"),
    "ring": (RingItem, "Step ring", "Step rings"),
    "stand": (StandItem, "Stand", "Stands"),
    "sandbag": (SandbagItem, "Sandbag", "Sandbags"),
    "accessory": (AccessoryItem, "Accessory", "Accessories"),
}
"""Every kind of gear: its model, and what one and several are called.
The order is that of lists: lights first."""

Gear = Annotated[
    BodyItem
    | LensItem
    | FilterItem
    | RingItem
    | LightItem
    | ModifierItem
    | TriggerItem
    | StandItem
    | SandbagItem
    | AccessoryItem,
    Field(discriminator="kind"),
]
AnyGear = (
    BodyItem
    | LensItem
    | FilterItem
    | RingItem
    | LightItem
    | ModifierItem
    | TriggerItem
    | StandItem
    | SandbagItem
    | AccessoryItem
)
