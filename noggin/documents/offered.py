"""What the Bench offers to choose from: a bag's gear, the whole kit, or classes where there is no kit.

A choice is a part of the set-up document. Gear is recognised in a set-up by its figures, and among pieces
with the same figures by its name.
"""

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from math import hypot
from typing import Any, TypeVar

from noggin.core import fitting, flash
from noggin.core.quantities import read_fraction, show_shutter
from noggin.documents import gear as kit
from noggin.documents.classes import CAMERAS, CLASS_TRUST, LENSES, LIGHTS, MODIFIERS
from noggin.documents.entry import Document
from noggin.documents.kit import written_gear

Part = dict[str, Any]
Made = Callable[[Document, Document], Part]
"""A part of the set-up document, from the whole one and from the light it is for."""

Kind = TypeVar("Kind", bound=kit.Item)


@dataclass(frozen=True)
class Choice:
    """One thing that can be chosen: what it is called, and the part it makes."""

    label: str
    part: Made


Choices = Mapping[str, Choice]


@dataclass(frozen=True, eq=False)
class Along:
    """The gear that goes along, and what it makes together."""

    gear: tuple[kit.AnyGear, ...] = ()

    def all(self, kind: type[Kind]) -> list[Kind]:
        """Every piece of a kind."""
        return [one for one in self.gear if isinstance(one, kind)]

    def named(self, kind: type[Kind], name: str) -> Kind | None:
        """The piece of this name, or with a number behind it for one of several."""
        plain = name.rstrip("0123456789").rstrip()
        own = [one for one in self.all(kind) if one.name in (name, plain)]
        return max(own, key=lambda one: one.name == name) if own else None

    def receivers(self) -> list[fitting.Receiver]:
        """Receivers that go along."""
        found = (one.fit() for one in self.all(kit.Trigger))
        return [one for one in found if isinstance(one, fitting.Receiver)]

    def filters_for(self, lens_name: str) -> list[Part]:
        """The ND filters that go on a lens, with the rings there are, as a set-up's filters. A polariser is
        not counted on: it changes what shines, and takes what it happens to take."""
        lens = self.named(kit.Lens, lens_name)
        mount = lens.fit() if lens else fitting.Mount(lens_name, None)
        rings = [one.fit() for one in self.all(kit.Ring)]
        glasses = [one for one in self.all(kit.Filter) if one.type != "polariser"]
        fitted = (one for one in glasses if fitting.screws_on(one.fit(), mount, rings).grade != "not")
        return [_filter(one) for one in fitted]

    def fires(self, document: Document, head: kit.Light) -> fitting.Fit | None:
        """How a light is fired from the set-up's body by its trigger; None where one is not of the kit."""
        camera = document["camera"]
        body = self.named(kit.Body, camera["name"])
        trigger = self.named(kit.Trigger, camera.get("trigger", ""))
        way = trigger.fit() if trigger else None
        if body is None or not isinstance(way, fitting.Trigger):
            return None
        return fitting.fires(body.fit(), way, head.fit(), self.receivers())

    def toll(self, document: Document, head: kit.Light) -> float | None:
        """A light's toll on the set-up's body; None where body, trigger and light cannot do it together."""
        fit = self.fires(document, head)
        if head.hss_toll is None or (fit and not fit.clean):
            return None
        sync = document["camera"]["sync_s"]
        sync_s = read_fraction(sync) if isinstance(sync, str) else sync
        return round(flash.toll_on(head.hss_toll.value, head.hss_toll.sync_s, sync_s), 3)

    def hss(self, document: Document) -> bool | None:
        """Whether body and trigger can do high-speed sync; None where the body is not of the kit."""
        camera = document["camera"]
        body = self.named(kit.Body, camera["name"])
        trigger = self.named(kit.Trigger, camera.get("trigger", ""))
        if body is None:
            return None
        return body.hss and (trigger is None or (trigger.hss and trigger.shoe == body.system != ""))


@dataclass(frozen=True, eq=False)
class Offered:
    """Everything that can be chosen, from the gear along or by class. `bags` are the names of the bags."""

    cameras: Choices
    lenses: Choices
    lights: Choices
    modifiers: Choices
    triggers: Choices = field(default_factory=dict)
    along: Along = field(default_factory=Along)
    bags: tuple[str, ...] = ()


def chosen(choices: Choices, part: Document, document: Document, light: Document) -> str:
    """The key of the choice that a part of a set-up is; empty for one of one's own."""
    same = [
        key
        for key, choice in choices.items()
        if _is(part, choice.part(document, light), ("name", *_BESIDE))
    ]
    by_name = (key for key in same if choices[key].part(document, light).get("name") == part.get("name"))
    return next(by_name, same[0] if same else "")


_BESIDE = ("uncertainty", "battery", "pulse", "hss", "stand")
"""Figures that do not decide what a part is."""


def _is(part: Document, made: Part, beside: Sequence[str]) -> bool:
    return all(_same(part.get(name), value) for name, value in made.items() if name not in beside)


def _same(one: Any, other: Any) -> bool:
    """Whether two figures are the same; a default is not written."""
    return one == other or (one is None and other in _NOT_WRITTEN)


_NOT_WRITTEN = ("focal_plane", None, "")


def _fixed(part: Mapping[str, Any]) -> Made:
    return lambda *_: deepcopy(dict(part))


def _class_light(one: Mapping[str, Any]) -> Part:
    return {**one, "pulse": None, "uncertainty": {**CLASS_TRUST, "loss": None}}


def _class_modifier(one: Mapping[str, Any]) -> Part:
    return {"loss": one["loss"], "radius_m": one["radius_m"], "uncertainty": {"loss": None}}


def _by_class(
    classes: Mapping[str, Any], label: Callable[[Any], str], make: Callable[[Any], Part]
) -> Choices:
    return {key: Choice(label(one), _fixed(make(one))) for key, one in classes.items()}


BY_CLASS = Offered(
    _by_class(CAMERAS, lambda one: str(one["name"]), dict),
    _by_class(LENSES, lambda one: f"{one['name']} f/{one['widest']}", dict),
    _by_class(LIGHTS, lambda one: str(one["name"]), _class_light),
    _by_class(MODIFIERS, lambda one: str(one["label"]), _class_modifier),
)
"""What is offered while there is no kit."""


def offered_of(gear: Sequence[kit.AnyGear], bags: Sequence[str] = (), *, only: bool = False) -> Offered:
    """What a kit offers, or with `only` a bag and nothing else; without `only`, a kind that the kit lacks
    is offered by class."""
    along = Along(tuple(gear))
    classes = Offered({}, {}, {}, {}) if only else BY_CLASS
    cameras = {_key(one): Choice(one.name, _body(one)) for one in along.all(kit.Body)}
    lenses = {_key(one): Choice(_lens_label(one), _lens(one)) for one in along.all(kit.Lens)}
    lights = {
        f"{_key(one)}:{one.reflectors[at].name}": Choice(_light_label(one, at), _light(along, one, at))
        for one in along.all(kit.Light)
        for at in range(len(one.reflectors))
    }
    modifiers = {
        key: choice
        for one in along.all(kit.Modifier)
        for key, choice in _modifier_choices(_key(one), one).items()
    }
    transmitters = (one for one in along.all(kit.Trigger) if one.part == "transmitter")
    return Offered(
        cameras or classes.cameras,
        lenses or classes.lenses,
        lights or classes.lights,
        {"bare": BY_CLASS.modifiers["bare"]} | (modifiers or dict(classes.modifiers)),
        {_key(one): Choice(one.name, _fixed({"trigger": one.name})) for one in transmitters},
        along,
        tuple(bags),
    )


def _key(one: kit.Item) -> str:
    return f"kit:{one.name}"


def _body(one: kit.Body) -> Made:
    figures = written_gear(one)
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
    part["sync_s"] = show_shutter(one.sync_s.value)
    part["curtain_s"] = one.curtain_s.value if one.curtain_s else None
    return _fixed(part)


def _lens_label(one: kit.Lens) -> str:
    return f"{one.name} f/{one.widest:g}"


def _lens(one: kit.Lens) -> Made:
    """A zoom keeps the focal length it stands at where it reaches it, else goes to the nearer end."""

    def part(document: Document, _: Document) -> Part:
        focal = min(max(document["lens"]["focal_mm"], one.focal_mm[0]), one.focal_mm[1])
        return {"name": one.name, "focal_mm": focal, "widest": one.widest, "smallest": one.smallest}

    return part


def _filter(one: kit.Filter) -> Part:
    """As measured where it was, else as marked."""
    least = one.least.value if one.least else one.stops[0]
    most = one.most.value if one.most else one.stops[1]
    return {"name": one.name, "stops": least if one.type != "variable" else [least, most]}


def _light_label(one: kit.Light, at: int) -> str:
    return one.name if len(one.reflectors) == 1 else f"{one.name}, {one.reflectors[at].name}"


def _light(along: Along, one: kit.Light, at: int) -> Made:
    """A light with one of its reflectors. How far its power scale strays adds to the ± of its guide
    number, as squares."""
    figures = written_gear(one)
    number = figures["reflectors"][at]["gn_m"]
    strays = one.power_off.value if one.power_off else 0.0
    part = {name: figures[name] for name in ("name", "power_min", "power_step", "scale", "full_mark")}
    part |= {"gn_m": number["value"], "battery": figures.get("battery"), "pulse": figures.get("pulse")}
    trust = {"gn_m": round(hypot(kit.off_by(number), strays), 3)}
    if figures["hss_toll"]:
        trust["hss_toll"] = kit.off_by(figures["hss_toll"])

    def made(document: Document, _: Document) -> Part:
        return {**deepcopy(part), "hss_toll": along.toll(document, one), "uncertainty": trust}

    return made


def _modifier_choices(key: str, one: kit.Modifier) -> Choices:
    found = {key: Choice(one.name, _modifier(one, 0.0, 0.0))}
    if one.grid:
        off = kit.off_by(one.grid.model_dump())
        found[f"{key}:grid"] = Choice(f"{one.name}, with its grid", _modifier(one, one.grid.value, off))
    return found


def _modifier(one: kit.Modifier, more: float, off: float) -> Made:
    """A modifier on a light; what it takes from that very light, where that was found out."""
    figures = written_gear(one)
    by_light = {loss["light"]: loss["loss"] for loss in figures.get("losses", ())}

    def made(_: Document, light: Document) -> Part:
        loss = by_light.get(light.get("name", ""), figures["loss"])
        part: Part = {
            "loss": round(loss["value"] + more, 3),
            "radius_m": one.across_m / 2,
            "uncertainty": {"loss": round(hypot(kit.off_by(loss), off), 3)},
        }
        if one.sail_m2 is not None:
            part["stand"] = {"sail_m2": one.sail_m2}
        return part

    return made
