"""Gear to start with, by class: a name and a class make a piece of gear whose figures are class defaults,
marked so until something better is known. No brands, no models.

Figures are those of `classes.py` and the trade's usual ones: common practice, no source.
"""

from collections.abc import Mapping
from copy import deepcopy
from typing import Any

from noggin.core.tables import TOLLS
from noggin.forms.classes import CAMERAS, LENSES, LIGHTS, MODIFIERS

GearPart = dict[str, Any]


SHOE, RADIO = "own flash system", "own radio"
"""The system that gear by class works together with, until its owner says otherwise."""


def _by_class(value: Any) -> GearPart:
    return {"value": value, "source": "class"}


def _body(row: Mapping[str, Any]) -> GearPart:
    return {"kind": "body", **row, "sync_s": _by_class(row["sync_s"]), "system": SHOE}


def _lens(row: Mapping[str, Any]) -> GearPart:
    focal = row["focal_mm"]
    return {"kind": "lens", **row, "focal_mm": [focal, focal], "thread_mm": None}


def _light(key: str, row: Mapping[str, Any]) -> GearPart:
    toll = row["hss_toll"]
    known = TOLLS.get("large" if key in ("large", "medium") else key, TOLLS["unknown"])
    light = {
        "kind": "light",
        "name": row["name"],
        "light_class": key,
        "reflectors": [{"name": "standard reflector", "gn_m": _by_class(row["gn_m"])}],
        "hss_toll": None,
        "power_min": row["power_min"],
        "system": "" if key == "studio" else RADIO,
    }
    if toll is not None:
        light["hss_toll"] = {**_by_class(toll), "plus_minus": known.uncertainty, "sync_s": 1 / 200}
    if row["battery"]:
        light["battery"] = dict(row["battery"])
    return light


_SHAPES = {"bare": "reflector", "umbrella": "shoot_through", "small_box": "softbox", "box": "softbox"}


def _modifier(key: str, row: Mapping[str, Any]) -> GearPart:
    return {
        "kind": "modifier",
        "name": row["label"][:1].upper() + row["label"][1:],
        "shape": _SHAPES.get(key, "deep"),
        "across_m": 2 * row["radius_m"],
        "loss": _by_class(row["loss"]),
    }


def _glass(name: str, least: float, most: float, kind: str) -> GearPart:
    return {"kind": "filter", "name": name, "type": kind, "stops": [least, most], "thread_mm": 82}


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
        "nd3": _glass("3-stop ND", 3, 3, "fixed"),
        "nd6": _glass("6-stop ND", 6, 6, "fixed"),
        "nd10": _glass("10-stop ND", 10, 10, "fixed"),
        "variable": _glass("Variable ND, 2–5 stops", 2, 5, "variable"),
        "polariser": _glass("Polariser", 1.5, 1.5, "polariser"),
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
    "light": {key: _light(key, one) for key, one in LIGHTS.items()},
    "modifier": {key: _modifier(key, one) for key, one in MODIFIERS.items()},
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
        "light": {"kind": "stand", "name": "Light stand", "height_m": 2.2, "footprint_m": 0.5},
        "boom": {"kind": "stand", "name": "Heavy stand with boom", "height_m": 2.8, "footprint_m": 0.65},
    },
    "sandbag": {"usual": {"kind": "sandbag", "name": "Sandbag, 6 kg", "kg": 6, "count": 1}},
}
"""Classes of every kind of gear, each a whole piece of gear."""


def gear_by_class(kind: str, key: str, name: str) -> GearPart:
    """A new piece of gear from its class, under a name of its own where one is given.

    Raises KeyError where there is no such class.
    """
    found = {"source": "class", **deepcopy(GEAR_CLASSES[kind][key])}
    return {**found, "name": name or found["name"]}
