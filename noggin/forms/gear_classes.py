"""Gear to start with, by class: a name and a class make a piece of gear whose figures are class defaults,
marked so until something better is known. No brands, no models.

Figures are those of `class_figures.py` and the trade's usual ones: common practice, no source.
"""

from collections.abc import Mapping
from copy import deepcopy
from typing import Any, cast

from noggin.core.tables import TOLLS
from noggin.documents.written import GearWritten
from noggin.forms.class_figures import CAMERAS, CLASS_SYNC_S, CLASS_UNCERTAINTY, LENSES, LIGHTS, MODIFIERS

GearPart = dict[str, Any]


SHOE, RADIO = "own flash system", "own radio"
"""The system that gear by class works together with, until its owner says otherwise."""


def _by_class(value: Any) -> GearPart:
    return {"value": value, "source": "class"}


def _body(row: Mapping[str, Any]) -> GearPart:
    body = {"kind": "body", **row, "sync_s": _by_class(row["sync_s"]), "system": SHOE}
    return {**body, "weight_kg": 0.8}


def _lens(row: Mapping[str, Any]) -> GearPart:
    focal = row["focal_mm"]
    weight = {24: 0.5, 35: 0.5, 50: 0.4, 85: 0.5, 135: 0.9, 200: 1.5}
    return {
        "kind": "lens",
        **row,
        "focal_mm": [focal, focal],
        "thread_mm": None,
        "weight_kg": weight.get(focal, 0.6),
    }


def _light(key: str, row: Mapping[str, Any], *others: Mapping[str, Any]) -> GearPart:
    """A light of a class with its heads, each with its own guide number."""
    toll = row["hss_toll"]
    known = TOLLS.get("large" if key in ("large", "medium") else key, TOLLS["unknown"])
    light = {
        "kind": "light",
        "name": row["name"].split(", narrow")[0],
        "light_class": key,
        "reflectors": [_head(one, several=bool(others)) for one in (row, *others)],
        "hss_toll": None,
        "power_min": row["power_min"],
        "system": "" if key == "studio" else RADIO,
        "head": row["head"],
        "weight_kg": row["weight_kg"],
    }
    if row["energy_ws"]:
        light["energy_ws"] = row["energy_ws"]
    if toll is not None:
        light["hss_toll"] = {**_by_class(toll), "plus_minus": known.uncertainty, "sync_s": CLASS_SYNC_S}
    if row["battery"]:
        light["battery"] = dict(row["battery"])
    return light


def _head(row: Mapping[str, Any], *, several: bool) -> GearPart:
    own = {"narrow": "narrow head", "bare": "bare tube"}[row["beam"]]
    usual = "standard zoom" if row["beam"] == "narrow" else "standard reflector"
    number = {**_by_class(row["gn_m"]), "plus_minus": CLASS_UNCERTAINTY["gn_m"]}
    return {"name": own if several else usual, "gn_m": number, "beam": row["beam"]}


def _modifier(row: Mapping[str, Any]) -> GearPart:
    return {
        "kind": "modifier",
        "name": row["label"][:1].upper() + row["label"][1:],
        "shape": row["shape"],
        "across_m": 2 * row["radius_m"],
        "loss": _by_class(row["loss"]),
        "narrow": _by_class(row["narrow"]),
        "weight_kg": row["weight_kg"],
    }


def _filter(name: str, least: float, most: float, kind: str) -> GearPart:
    part: GearPart = {"kind": "filter", "name": name, "type": kind, "stops": [least, most]}
    return {**part, "thread_mm": 82, "weight_kg": 0.06}


def _accessory(kind: str, name: str, weight_kg: float) -> GearPart:
    return {"kind": "accessory", "type": kind, "name": name, "weight_kg": weight_kg}


GEAR_CLASSES: Mapping[str, Mapping[str, GearPart]] = {
    "body": {key: _body(one) for key, one in CAMERAS.items()},
    "lens": {key: _lens(one) for key, one in LENSES.items()}
    | {
        "zoom": {
            "kind": "lens",
            "name": "24–70 mm",
            "focal_mm": [24, 70],
            "widest": 2.8,
            "smallest": 22,
            "thread_mm": None,
        }
    },
    "filter": {
        "nd3": _filter("3-stop ND", 3, 3, "fixed"),
        "nd6": _filter("6-stop ND", 6, 6, "fixed"),
        "nd10": _filter("10-stop ND", 10, 10, "fixed"),
        "variable": _filter("Variable ND, 2–5 stops", 2, 5, "variable"),
        "polariser": _filter("Polariser", 1.5, 1.5, "polariser"),
    },
    "ring": {
        f"{one}-{other}": {
            "kind": "ring",
            "name": f"Ring {one} → {other} mm",
            "lens_mm": one,
            "filter_mm": other,
        }
        for one, other in ((67, 82), (72, 82), (77, 82), (67, 77))
    },
    "light": {
        key: _light(key, one, *((LIGHTS["pocket_bare"],) if key == "pocket" else ()))
        for key, one in LIGHTS.items()
        if key != "pocket_bare"
    },
    "modifier": {key: _modifier(one) for key, one in MODIFIERS.items()},
    "trigger": {
        "full": {"kind": "trigger", "name": "Radio trigger", "system": RADIO, "shoe": SHOE},
        "simple": {
            "kind": "trigger",
            "name": "Simple radio trigger, middle contact only",
            "part": "transmitter",
            "system": "another radio",
            "hss": False,
            "groups": 1,
            "channels": 16,
        },
        "receiver": {"kind": "trigger", "name": "Receiver", "part": "receiver", "system": RADIO},
    },
    "stand": {
        "light": {
            "kind": "stand",
            "name": "Light stand",
            "height_m": 2.2,
            "footprint_m": 0.5,
            "weight_kg": 1.6,
        },
        "boom": {
            "kind": "stand",
            "name": "Heavy stand with boom",
            "height_m": 2.8,
            "footprint_m": 0.65,
            "weight_kg": 6.5,
        },
    },
    "sandbag": {"usual": {"kind": "sandbag", "name": "Sandbag, 6 kg", "kg": 6, "count": 1, "weight_kg": 6}},
    "accessory": {
        kind: _accessory(kind, name, weight_kg)
        for kind, name, weight_kg in (
            ("grid", "Grid", 0.3),
            ("snoot", "Snoot", 0.4),
            ("gel", "Gels, CTO", 0.05),
            ("flag", "Flag", 0.4),
            ("reflector", "Reflector, five in one", 0.8),
            ("scrim", "Scrim, 1 × 1.5 m", 1.2),
            ("boom", "Boom arm", 1.6),
            ("pole", "Pole for a helper", 0.9),
            ("bracket", "Bracket", 0.5),
            ("adapter", "Mount adapter", 0.2),
            ("battery", "Spare battery", 0.9),
            ("meter", "Light meter", 0.2),
            ("tripod", "Tripod", 2.0),
        )
    },
}
"""Classes of every kind of gear, each a whole piece of gear."""


def gear_by_class(kind: str, key: str, name: str) -> GearWritten:
    """A new piece of gear from its class, under a name of its own where one is given.

    Raises KeyError where there is no such class.
    """
    found = {"source": "class", **deepcopy(GEAR_CLASSES[kind][key])}
    return cast(GearWritten, {**found, "name": name or found["name"]})
