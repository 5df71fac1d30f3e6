"""What the Bench offers to choose from: a bag's gear, the whole kit, or classes where there is no kit.

A choice is a part of the set-up document. Gear is recognised in a set-up by its figures, and among pieces
with the same figures by its name.
"""

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from math import hypot
from typing import Any, TypeVar

from noggin.core.gear import compatibility
from noggin.core.physics import flash
from noggin.core.physics.filters import Filter
from noggin.core.typed.parse_quantities import read_fraction
from noggin.core.wording import shutter_time
from noggin.documents import gear as kit
from noggin.documents.kit import written_gear
from noggin.documents.written import FilterWritten, RingWritten
from noggin.forms.class_figures import (
    CAMERAS,
    CLASS_SYNC_S,
    CLASS_UNCERTAINTY,
    LENSES,
    LIGHTS,
    MODIFIERS,
    ModifierClass,
    modifier_loss,
)
from noggin.forms.entry import Document

SetUpPart = dict[str, Any]
Made = Callable[[Document, Document], SetUpPart]
"""A part of the set-up document, from the whole one and from the light it is for."""

Kind = TypeVar("Kind", bound=kit.Item)
Known = TypeVar("Known")


@dataclass(frozen=True)
class Choice:
    """One thing that can be chosen: what it is called, and the part it makes."""

    label: str
    part: Made


ChoiceMap = Mapping[str, Choice]


@dataclass(frozen=True, eq=False)
class GearAlong:
    """The gear that is packed, and what it makes together."""

    gear: tuple[kit.AnyGear, ...] = ()
    _found: dict[tuple[str, ...], Any] = field(default_factory=dict)

    def _once(self, question: tuple[str, ...], answer: Callable[[], Known]) -> Known:
        """What is asked again and again, and depends on the gear alone."""
        if question not in self._found:
            self._found[question] = answer()
        known: Known = self._found[question]
        return known

    def all(self, kind: type[Kind]) -> list[Kind]:
        """Every piece of a kind."""
        return [item for item in self.gear if isinstance(item, kind)]

    def named(self, kind: type[Kind], name: str) -> Kind | None:
        """The piece of this name, or with a number behind it for one of several."""
        plain = name.rstrip("0123456789").rstrip()
        own = [item for item in self.all(kind) if item.name in (name, plain)]
        return max(own, key=lambda item: item.name == name) if own else None

    def receivers(self) -> list[compatibility.Receiver]:
        """Receivers that are packed."""
        found = (item.core() for item in self.all(kit.TriggerItem))
        return [item for item in found if isinstance(item, compatibility.Receiver)]

    def filters_for(self, lens_name: str, *, polarisers: bool = False) -> list[FilterWritten]:
        """The filters that go on a lens with the rings there are, as a set-up's filters. A polariser counts
        only where it is asked for: it changes what shines as well as taking light."""
        fitting = (item for item in self.all(kit.FilterItem) if self._goes_on(item, lens_name))
        wanted = (item for item in fitting if polarisers or item.type != "polariser")
        return [_filter(item.core()) for item in wanted]

    def _goes_on(self, item: kit.FilterItem, lens_name: str) -> bool:
        def does() -> bool:
            lens = self.named(kit.LensItem, lens_name)
            rings = [ring.core() for ring in self.all(kit.RingItem)]
            return lens is None or compatibility.screws_on(item.core(), lens.core(), rings).grade != "not"

        return self._once(("goes on", item.name, lens_name), does)

    def rings(self) -> list[RingWritten]:
        """The step rings that are packed, as a set-up's rings."""
        return [
            {"name": ring.name, "lens_mm": ring.lens_mm, "filter_mm": ring.filter_mm}
            for ring in self.all(kit.RingItem)
        ]

    def fires(self, document: Document, head: kit.LightItem) -> compatibility.Compatibility | None:
        """How a light is fired from the set-up's body by its trigger; None where one is not of the kit."""
        camera = document["camera"]
        body_name, trigger_name = camera["name"], camera.get("trigger", "")

        def found() -> compatibility.Compatibility | None:
            body = self.named(kit.BodyItem, body_name)
            trigger = self.named(kit.TriggerItem, trigger_name)
            way = trigger.core() if trigger else None
            if body is None or not isinstance(way, compatibility.Trigger):
                return None
            return compatibility.fires(body.core(), way, head.core(), self.receivers())

        return self._once(("fires", body_name, trigger_name, head.name), found)

    def toll(self, document: Document, head: kit.LightItem) -> float | None:
        """A light's toll on the set-up's body; None where body, trigger and light cannot do it together."""
        fit = self.fires(document, head)
        if head.hss_toll is None or (fit and not fit.clean):
            return None
        return round(flash.toll_on(head.hss_toll.value, head.hss_toll.sync_s, sync_of(document)), 3)

    def hss(self, document: Document) -> bool | None:
        """Whether body and trigger can do high-speed sync; None where the body is not of the kit."""
        camera = document["camera"]
        body = self.named(kit.BodyItem, camera["name"])
        trigger = self.named(kit.TriggerItem, camera.get("trigger", ""))
        if body is None:
            return None
        return body.hss and (trigger is None or (trigger.hss and trigger.shoe == body.system != ""))


@dataclass(frozen=True, eq=False)
class Choices:
    """Everything that can be chosen, from the gear along or by class. `bags` are the names of the bags."""

    cameras: ChoiceMap
    lenses: ChoiceMap
    lights: ChoiceMap
    modifiers: ChoiceMap
    triggers: ChoiceMap = field(default_factory=dict)
    along: GearAlong = field(default_factory=GearAlong)
    bags: tuple[str, ...] = ()


def chosen(choices: ChoiceMap, part: Document, document: Document, light: Document) -> str:
    """The key of the choice that a part of a set-up is; empty for one of one's own."""
    same = [
        key
        for key, choice in choices.items()
        if _is(part, choice.part(document, light), ("name", *_BESIDE))
    ]
    by_name = (key for key in same if choices[key].part(document, light).get("name") == part.get("name"))
    return next(by_name, same[0] if same else "")


_BESIDE = ("uncertainty", "battery", "pulse", "hss", "stand", "thread_mm", "head", "energy_ws", "beam")
"""Figures that do not decide what a part is."""


def _is(part: Document, made: SetUpPart, beside: Sequence[str]) -> bool:
    return all(_same(part.get(name), value) for name, value in made.items() if name not in beside)


def _same(kept: Any, other: Any) -> bool:
    """Whether two figures are the same; a default is not written."""
    return kept == other or (kept is None and other in _NOT_WRITTEN)


_NOT_WRITTEN = ("focal_plane", None, "")


def _fixed(part: Mapping[str, Any]) -> Made:
    return lambda *_: deepcopy(dict(part))


def _class_light(row: Mapping[str, Any]) -> Made:
    """A light of a class; its toll is that on the set-up's body."""

    def made(document: Document, _: Document) -> SetUpPart:
        toll = row["hss_toll"]
        on_body = None if toll is None else round(flash.toll_on(toll, CLASS_SYNC_S, sync_of(document)), 3)
        known = {**CLASS_UNCERTAINTY, "loss": None}
        light = {name: deepcopy(value) for name, value in row.items() if name != "weight_kg"}
        return {**light, "hss_toll": on_body, "pulse": None, "uncertainty": known}

    return made


def _class_modifier(row: ModifierClass) -> Made:
    """A modifier of a class; what it takes goes by the head that is in it."""

    def made(_: Document, light: Document) -> SetUpPart:
        loss = modifier_loss(row, light.get("beam", "bare"))
        return {"loss": loss, "radius_m": row["radius_m"], "uncertainty": {"loss": None}}

    return made


def sync_of(document: Document) -> float:
    """A set-up's sync speed in seconds."""
    sync = document["camera"]["sync_s"]
    return read_fraction(sync) if isinstance(sync, str) else float(sync)


def _by_class(
    classes: Mapping[str, Any], label: Callable[[Any], str], make: Callable[[Any], Made]
) -> ChoiceMap:
    return {key: Choice(label(one), make(one)) for key, one in classes.items()}


BY_CLASS = Choices(
    _by_class(CAMERAS, lambda one: str(one["name"]), _fixed),
    _by_class(LENSES, lambda one: f"{one['name']} f/{one['widest']}", _fixed),
    _by_class(LIGHTS, lambda one: str(one["name"]), _class_light),
    _by_class(MODIFIERS, lambda one: str(one["label"]), _class_modifier),
)
"""What is offered while there is no kit."""


def choices_of(gear: Sequence[kit.AnyGear], bags: Sequence[str] = (), *, only: bool = False) -> Choices:
    """What a kit offers, or with `only` a bag and nothing else; without `only`, a kind that the kit lacks
    is offered by class."""
    along = GearAlong(tuple(gear))
    classes = Choices({}, {}, {}, {}) if only else BY_CLASS
    cameras = {_key(item): Choice(item.name, _body(item)) for item in along.all(kit.BodyItem)}
    lenses = {_key(item): Choice(_lens_label(item), _lens(item)) for item in along.all(kit.LensItem)}
    lights = {
        f"{_key(item)}:{item.reflectors[index].name}": Choice(
            _light_label(item, index), _light(along, item, index)
        )
        for item in along.all(kit.LightItem)
        for index in range(len(item.reflectors))
    }
    modifiers = {
        key: choice
        for item in along.all(kit.ModifierItem)
        for key, choice in _modifier_choices(_key(item), item).items()
    }
    transmitters = (item for item in along.all(kit.TriggerItem) if item.part == "transmitter")
    # A head that is hired for the day stays choosable beside those that are owned.
    hired = {key: Choice(f"{one.label}, hired", one.part) for key, one in classes.lights.items()}
    return Choices(
        cameras or classes.cameras,
        lenses or classes.lenses,
        lights | hired if lights else classes.lights,
        {"bare": BY_CLASS.modifiers["bare"]} | (modifiers or dict(classes.modifiers)),
        {_key(item): Choice(item.name, _fixed({"trigger": item.name})) for item in transmitters},
        along,
        tuple(bags),
    )


def measured_for(choices: Choices, light_class: str) -> tuple[str, str, float] | None:
    """A light of the kit of this class whose guide number was measured: its key among the choices, what it
    is called, and its guide number; None where none was."""
    for item in choices.along.all(kit.LightItem):
        if item.light_class != light_class:
            continue
        for reflector in item.reflectors:
            if reflector.gn_m.source == "measured":
                return f"{_key(item)}:{reflector.name}", item.name, reflector.gn_m.value
    return None


def _key(item: kit.Item) -> str:
    return f"kit:{item.name}"


def _body(item: kit.BodyItem) -> Made:
    figures = written_gear(item)
    part = {
        name: figures.get(name)
        for name in (
            "name",
            "fastest_s",
            "slowest_s",
            "iso_lowest",
            "iso_highest",
            "iso_base",
            "dial_steps",
            "sensor_mm",
            "shutter",
            "hss",
        )
    }
    part["sync_s"] = shutter_time(item.sync_s.value)
    part["curtain_s"] = item.curtain_s.value if item.curtain_s else None
    return _fixed(part)


def _lens_label(item: kit.LensItem) -> str:
    return f"{item.name} f/{item.widest:g}"


def _lens(item: kit.LensItem) -> Made:
    """A zoom keeps the focal length it is at where it reaches it, else goes to the nearer end."""

    def part(document: Document, _: Document) -> SetUpPart:
        focal = min(max(document["lens"]["focal_mm"], item.focal_mm[0]), item.focal_mm[1])
        made: SetUpPart = {
            "name": item.name,
            "focal_mm": focal,
            "widest": item.widest,
            "smallest": item.smallest,
        }
        return made | ({} if item.thread_mm is None else {"thread_mm": item.thread_mm})

    return part


def _filter(item: Filter) -> FilterWritten:
    part: FilterWritten = {
        "name": item.name,
        "stops": [item.least, item.most] if item.variable else item.least,
    }
    if item.polariser:
        part["polariser"] = True
    if item.thread_mm is not None:
        part["thread_mm"] = item.thread_mm
    return part


def _light_label(item: kit.LightItem, index: int) -> str:
    return item.name if len(item.reflectors) == 1 else f"{item.name}, {item.reflectors[index].name}"


def _light(along: GearAlong, item: kit.LightItem, index: int) -> Made:
    """A light with one of its reflectors. How far its power scale strays adds to the ± of its guide
    number, as squares."""
    figures = written_gear(item)
    number = figures["reflectors"][index]["gn_m"]
    strays = item.power_off.value if item.power_off else 0.0
    names = ("name", "power_min", "power_step", "scale", "full_mark")
    part: SetUpPart = {name: value for name, value in figures.items() if name in names}
    part |= {"gn_m": number["value"], "battery": figures.get("battery"), "pulse": figures.get("pulse")}
    part |= {
        "beam": item.reflectors[index].beam,
        "head": item.head,
        "energy_ws": item.energy_ws,
    }
    trust = {"gn_m": round(hypot(kit.uncertainty_of_figure(number), strays), 3)}
    if figures["hss_toll"]:
        trust["hss_toll"] = kit.uncertainty_of_figure(figures["hss_toll"])

    def made(document: Document, _: Document) -> SetUpPart:
        return {**deepcopy(part), "hss_toll": along.toll(document, item), "uncertainty": trust}

    return made


def _modifier_choices(key: str, item: kit.ModifierItem) -> ChoiceMap:
    found = {key: Choice(item.name, _modifier(item, 0.0, 0.0))}
    if item.grid:
        off = kit.uncertainty_of_figure(item.grid.model_dump())
        found[f"{key}:grid"] = Choice(f"{item.name}, with its grid", _modifier(item, item.grid.value, off))
    return found


def _modifier(item: kit.ModifierItem, more: float, off: float) -> Made:
    """A modifier on a light; what it takes from that very light, where that was found out."""
    figures = written_gear(item)
    by_light = {loss["light"]: loss["loss"] for loss in figures.get("losses", ())}

    def made(_: Document, light: Document) -> SetUpPart:
        general = figures.get("narrow") if light.get("beam") == "narrow" else None
        loss = by_light.get(light.get("name", ""), general or figures["loss"])
        part: SetUpPart = {
            "loss": round(loss["value"] + more, 3),
            "radius_m": item.across_m / 2,
            "uncertainty": {"loss": round(hypot(kit.uncertainty_of_figure(loss), off), 3)},
        }
        if item.sail_m2 is not None:
            part["stand"] = {"sail_m2": item.sail_m2}
        return part

    return made
