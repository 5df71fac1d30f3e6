"""Gear as the kit document describes it: one model for each kind of thing in the bag.

A figure that can be measured is an object: its value, where it comes from, its ± and, once measured, when
and how, with the figure it replaced.
"""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BeforeValidator, Field, StringConstraints, WithJsonSchema

from noggin.core import camera, filters, fitting, limits
from noggin.core.errors import Refused
from noggin.core.quantities import show_shutter
from noggin.core.rigging import Stand
from noggin.core.tables import TRUST
from noggin.documents.faults import shown
from noggin.documents.fields import LeastPower, Name, Part, PowerStep, Time, Within, added, own_words, pair
from noggin.documents.light import BatteryDocument, PulseDocument

Source = Literal["measured", "class", "brochure"]
PlusMinus = Annotated[float, Within(limits.UNCERTAINTY)]


def _day(text: str) -> str:
    try:
        date.fromisoformat(text)
    except ValueError:
        raise own_words(f"{shown(text)} is not a date like 2027-06-19") from None
    return text


Day = Annotated[str, AfterValidator(_day), WithJsonSchema({"type": "string", "format": "date"})]
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
    source: Source = "brochure"
    plus_minus: PlusMinus | None = added(None)
    on: Day | None = added(None)
    how: Name = added("")


class Figure(Part):
    """A figure with where it comes from; its ± is the usual one of its source unless stated."""

    value: float
    source: Source = "brochure"
    plus_minus: PlusMinus | None = added(None)
    on: Day | None = added(None)
    how: Name = added("")
    before: Earlier | None = added(None)


def off_by(figure: Any) -> float:
    """± of a figure of a gear document, in stops."""
    stated = figure.get("plus_minus")
    return float(TRUST[figure["source"]].plus_minus if stated is None else stated)


class GuideNumber(Figure):
    """Metres, ISO 100, full power, one bare head, for infinite distance; ± in stops."""

    value: Annotated[float, Within(limits.GUIDE_NUMBER)]


class Loss(Figure):
    """Stops."""

    value: Annotated[float, Within(limits.LOSS)]


class Toll(Figure):
    """Stops, with the sync speed it was measured at."""

    value: Annotated[float, Within(limits.TOLL)]
    sync_s: Time = 1 / 200


class Strength(Figure):
    """Stops of a filter."""

    value: Annotated[float, Within(limits.FILTER)]


class Shift(Figure):
    """Mired, warm is positive."""

    value: Annotated[float, Within(limits.MIRED)]


class PowerOff(Figure):
    """Largest departure of the power scale from whole stops, in stops."""

    value: Annotated[float, Within(limits.POWER_OFF)]


class ShutterTime(Figure):
    """Seconds, or as on a dial."""

    value: Time


class Item(Part):
    """What every piece of gear has. `source` says where figures come from that do not say it themselves."""

    name: OwnName
    count: Annotated[int, Within(limits.OWNED)] = 1
    source: Source = "brochure"
    notes: Annotated[str, Field(max_length=2000)] = added("")

    def check(self) -> None:
        """Raise Refused where figures do not go together."""


Side = Annotated[float, Within(limits.SENSOR_SIDE)]


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


class Body(Item):
    """A camera body: limits of its shutter and ISO, and the flash system of its shoe."""

    kind: Literal["body"]
    sync_s: ShutterTime
    fastest_s: Time = 1 / 8000
    slowest_s: Time = 1 / 60
    iso_lowest: Annotated[float, Within(limits.ISO)] = 100
    iso_base: Annotated[float, Within(limits.ISO)] | None = added(None)
    iso_highest: Annotated[float, Within(limits.ISO)] = 6400
    dial_steps: Literal[1, 2, 3] = 3
    sensor_mm: Annotated[tuple[Side, Side], BeforeValidator(pair)] = (36, 24)
    shutter: Literal["focal_plane", "leaf", "global", "rolling"] = "focal_plane"
    curtain_s: ShutterTime | None = added(None)
    hss: bool = True
    system: System = ""

    def check(self) -> None:
        camera.Camera(
            self.sync_s.value,
            iso_base=self.iso_base,
            curtain_s=self.curtain_s.value if self.curtain_s else None,
            **self.model_dump(include=_CAMERA_FIGURES),
        )

    def fit(self) -> fitting.Body:
        return fitting.Body(self.name, show_shutter(self.sync_s.value), self.hss, self.system)


Thread = Annotated[float, Within(limits.THREAD)]
Focal = Annotated[float, Within(limits.FOCAL)]


class Lens(Item):
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
            raise Refused("focal_mm", "the longer end of a zoom stands second")

    def fit(self) -> fitting.Mount:
        return fitting.Mount(self.name, self.thread_mm)


Marked = Annotated[float, Within(limits.FILTER)]


class Filter(Item):
    """A filter: marked stops (the ends of a variable one), what they were measured to be, its colour."""

    kind: Literal["filter"]
    type: Literal["fixed", "variable", "polariser"] = "fixed"
    stops: Annotated[tuple[Marked, Marked], BeforeValidator(pair)]
    least: Strength | None = added(None)
    most: Strength | None = added(None)
    colour: Shift | None = added(None)
    thread_mm: Thread | None = None

    def check(self) -> None:
        filters.Filter(self.name, *self.stops)
        if self.type != "variable" and self.stops[0] != self.stops[1]:
            raise Refused("stops", "only a variable filter has two strengths")

    def fit(self) -> fitting.Glass:
        return fitting.Glass(self.name, self.type, self.thread_mm)


class Ring(Item):
    """A step-up or step-down ring."""

    kind: Literal["ring"]
    lens_mm: Thread
    filter_mm: Thread

    def fit(self) -> fitting.Ring:
        return fitting.Ring(self.name, self.lens_mm, self.filter_mm)


class Reflector(Part):
    """A reflector or zoom position of a light with its guide number."""

    name: OwnName
    gn_m: GuideNumber


class Light(Item):
    """A light without its modifier. `system` is the radio built in; `power_off` how far its power scale
    strays from whole stops."""

    kind: Literal["light"]
    light_class: Literal["large", "medium", "pocket", "speedlight", "studio", "other"] = "other"
    reflectors: Annotated[list[Reflector], Field(min_length=1, max_length=limits.REFLECTORS_MOST)]
    hss_toll: Toll | None = None
    power_min: LeastPower = 1 / 128
    power_step: PowerStep = 1 / 3
    scale: Literal["fraction", "decimal"] = "fraction"
    full_mark: Annotated[float, Within(limits.FULL_MARK)] = 10.0
    power_off: PowerOff | None = added(None)
    pulse: PulseDocument | None = added(None)
    battery: BatteryDocument | None = added(None)
    system: System = ""

    def check(self) -> None:
        if self.pulse:
            self.pulse.core()
        if self.battery:
            self.battery.core()
        names = [one.name for one in self.reflectors]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice:
            raise Refused("reflectors", f"{twice} stands twice")

    def fit(self) -> fitting.Head:
        return fitting.Head(self.name, self.hss_toll is not None, self.system)


class LossOn(Part):
    """What a modifier takes from one light, by that light's name."""

    light: OwnName
    loss: Loss


Shape = Literal[
    "reflector", "softbox", "deep", "octa", "strip", "umbrella", "shoot_through", "dish", "other"
]


class Modifier(Item):
    """A modifier: shape, size of its face, what it takes in general and from single lights, its sail
    area, and what its grid takes besides."""

    kind: Literal["modifier"]
    shape: Shape = "softbox"
    across_m: Annotated[float, Within(limits.ACROSS)]
    loss: Loss
    losses: Annotated[list[LossOn], Field(max_length=limits.GEAR_MOST)] = added([])
    sail_m2: Annotated[float, Within(limits.SAIL)] | None = added(None)
    grid: Loss | None = added(None)


class Trigger(Item):
    """A transmitter or a receiver. `shoe` is the flash system it is made for, `system` its radio."""

    kind: Literal["trigger"]
    part: Literal["transmitter", "receiver"] = "transmitter"
    system: System
    shoe: System = ""
    hss: bool = True
    groups: Annotated[int, Within(limits.GROUPS)] = 5
    channels: Annotated[int, Within(limits.CHANNELS)] = 32

    def fit(self) -> fitting.Trigger | fitting.Receiver:
        if self.part == "receiver":
            return fitting.Receiver(self.name, self.system, self.hss)
        return fitting.Trigger(self.name, self.system, self.shoe, self.hss, self.groups, self.channels)


class StandGear(Item):
    """A light stand: height of the tube with the stand up, radius of its feet."""

    kind: Literal["stand"]
    height_m: Annotated[float, Within(limits.STAND_HEIGHT)] = Stand.height_m
    footprint_m: Annotated[float, Within(limits.FOOTPRINT)] = Stand.footprint_m


class Sandbag(Item):
    """Weight for a stand."""

    kind: Literal["sandbag"]
    kg: Annotated[float, Within(limits.SANDBAG)] = 5.0


KINDS: dict[str, tuple[type[Item], str, str]] = {
    "body": (Body, "Camera body", "Camera bodies"),
    "lens": (Lens, "Lens", "Lenses"),
    "filter": (Filter, "Filter", "Filters"),
    "ring": (Ring, "Step ring", "Step rings"),
    "light": (Light, "Light", "Lights"),
    "modifier": (Modifier, "Modifier", "Modifiers"),
    "trigger": (Trigger, "Trigger or receiver", "Triggers and receivers"),
    "stand": (StandGear, "Stand", "Stands"),
    "sandbag": (Sandbag, "Sandbag", "Sandbags"),
}
"""Every kind of gear: its model, and what one and several are called."""

Gear = Annotated[
    Body | Lens | Filter | Ring | Light | Modifier | Trigger | StandGear | Sandbag,
    Field(discriminator="kind"),
]
AnyGear = Body | Lens | Filter | Ring | Light | Modifier | Trigger | StandGear | Sandbag
