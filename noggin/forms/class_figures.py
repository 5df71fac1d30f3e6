"""Gear by class, to choose from instead of typing: parts of a set-up document. No brands, no models.

Figures are class defaults: common practice, no source. They are offered until a kit holds what one owns.
"""

from collections.abc import Mapping
from typing import Any, TypedDict


class LightClass(TypedDict):
    """A light as it comes: guide number, its beam, joules at full power, how its pulse is cut, its toll,
    its least power, its battery, and kilograms with that."""

    name: str
    gn_m: float
    beam: str
    energy_ws: float | None
    head: str
    hss_toll: float | None
    power_min: str
    battery: dict[str, float] | None
    weight_kg: float


class ModifierClass(TypedDict):
    """A modifier: what it takes in stops from a bare tube and from a narrow head, the radius of its face,
    its shape, and kilograms with its ring."""

    label: str
    loss: float
    narrow: float
    radius_m: float
    shape: str
    weight_kg: float


CAMERAS: dict[str, Mapping[str, Any]] = {
    "full_frame": {
        "name": "Full-frame body",
        "sync_s": "1/200",
        "fastest_s": "1/8000",
        "sensor_mm": [36, 24],
        "hss": True,
        "shutter": "focal_plane",
    },
    "crop": {
        "name": "1.5 crop body",
        "sync_s": "1/250",
        "fastest_s": "1/4000",
        "sensor_mm": [23.5, 15.6],
        "hss": True,
        "shutter": "focal_plane",
    },
    "leaf": {
        "name": "Leaf-shutter camera",
        "sync_s": "1/2000",
        "fastest_s": "1/2000",
        "sensor_mm": [23.5, 15.6],
        "hss": False,
        "shutter": "leaf",
    },
    "medium": {
        "name": "Medium-format body",
        "sync_s": "1/125",
        "fastest_s": "1/4000",
        "sensor_mm": [43.8, 32.9],
        "hss": True,
        "shutter": "focal_plane",
    },
    "global": {
        "name": "Global-shutter body",
        "sync_s": "1/8000",
        "fastest_s": "1/8000",
        "sensor_mm": [36, 24],
        "hss": True,
        "shutter": "global",
    },
}
"""Bodies; what is not said here stays as it was."""

LENSES: dict[str, Mapping[str, Any]] = {
    f"{focal}": {"name": f"{focal} mm", "focal_mm": focal, "widest": widest, "smallest": smallest}
    for focal, widest, smallest in (
        (24, 1.4, 16),
        (35, 1.4, 16),
        (50, 1.4, 16),
        (85, 1.8, 16),
        (135, 2.0, 22),
        (200, 2.8, 32),
    )
}
"""Lenses by focal length, with the usual widest aperture."""

LIGHTS: dict[str, LightClass] = {
    "large": {
        "name": "Large head, 600 Ws class",
        "gn_m": 40,
        "beam": "bare",
        "energy_ws": 600,
        "head": "cut",
        "hss_toll": 1.1,
        "power_min": "1/256",
        "battery": {"pops": 400, "recycle_s": 1.2},
        "weight_kg": 3.0,
    },
    "medium": {
        "name": "Medium head, 400 Ws class",
        "gn_m": 36,
        "beam": "bare",
        "energy_ws": 400,
        "head": "cut",
        "hss_toll": 1.1,
        "power_min": "1/256",
        "battery": {"pops": 400, "recycle_s": 1.0},
        "weight_kg": 2.6,
    },
    "pocket": {
        "name": "Pocket strobe, 200 Ws class, narrow head",
        "gn_m": 45,
        "beam": "narrow",
        "energy_ws": 200,
        "head": "cut",
        "hss_toll": 2.0,
        "power_min": "1/256",
        "battery": {"pops": 450, "recycle_s": 1.2},
        "weight_kg": 0.9,
    },
    "pocket_bare": {
        "name": "Pocket strobe, 200 Ws class, bare tube",
        "gn_m": 22,
        "beam": "bare",
        "energy_ws": 200,
        "head": "cut",
        "hss_toll": 2.0,
        "power_min": "1/256",
        "battery": {"pops": 450, "recycle_s": 1.2},
        "weight_kg": 0.9,
    },
    "speedlight": {
        "name": "Speedlight",
        "gn_m": 29,
        "beam": "narrow",
        "energy_ws": None,
        "head": "speedlight",
        "hss_toll": 2.4,
        "power_min": "1/128",
        "battery": {"pops": 180, "recycle_s": 2.5},
        "weight_kg": 0.5,
    },
    "studio": {
        "name": "Studio head, 500 Ws class",
        "gn_m": 44,
        "beam": "bare",
        "energy_ws": 500,
        "head": "voltage",
        "hss_toll": None,
        "power_min": "1/32",
        "battery": None,
        "weight_kg": 2.5,
    },
}
"""Lights as they come, with their usual reflector or zoom; place, role, modifier and address stay as they
were, and the figures count as class defaults. A toll is that at CLASS_SYNC_S. A test holds guide numbers,
losses and tolls together against `reach.csv`. Weights are with the battery, from memory."""

CLASS_SYNC_S = 1 / 200
"""Sync speed at which the tolls of classes were met."""

CLASS_UNCERTAINTY = {"gn_m": 1.0, "loss": "class", "hss_toll": 0.4}
"""How far a class's figures are trusted."""

MODIFIERS: dict[str, ModifierClass] = {
    "bare": {
        "label": "bare head or reflector",
        "loss": 0.0,
        "narrow": 0.0,
        "radius_m": 0.0,
        "shape": "reflector",
        "weight_kg": 0.3,
    },
    "umbrella": {
        "label": "shoot-through umbrella, 0.8 m",
        "loss": 0.7,
        "narrow": 1.3,
        "radius_m": 0.4,
        "shape": "shoot_through",
        "weight_kg": 0.4,
    },
    "small_box": {
        "label": "softbox, 0.6 m",
        "loss": 0.4,
        "narrow": 1.3,
        "radius_m": 0.3,
        "shape": "softbox",
        "weight_kg": 0.7,
    },
    "box": {
        "label": "softbox, 0.9 m",
        "loss": 0.5,
        "narrow": 1.3,
        "radius_m": 0.45,
        "shape": "softbox",
        "weight_kg": 1.1,
    },
    "deep": {
        "label": "deep softbox, 1.1 m",
        "loss": 0.0,
        "narrow": 0.9,
        "radius_m": 0.55,
        "shape": "deep",
        "weight_kg": 1.8,
    },
    "dish": {
        "label": "beauty dish, 0.55 m",
        "loss": 0.3,
        "narrow": 1.2,
        "radius_m": 0.27,
        "shape": "dish",
        "weight_kg": 1.2,
    },
    "strip": {
        "label": "strip box, 0.3 × 1.2 m",
        "loss": 0.7,
        "narrow": 1.6,
        "radius_m": 0.34,
        "shape": "strip",
        "weight_kg": 1.1,
    },
    "parabolic": {
        "label": "parabolic reflector, 1.2 m",
        "loss": -0.3,
        "narrow": 0.6,
        "radius_m": 0.6,
        "shape": "parabolic",
        "weight_kg": 2.2,
    },
    "zoom": {
        "label": "zoom reflector",
        "loss": -1.0,
        "narrow": 0.0,
        "radius_m": 0.0,
        "shape": "zoom",
        "weight_kg": 0.6,
    },
    "lantern": {
        "label": "lantern, 0.65 m",
        "loss": 1.2,
        "narrow": 1.9,
        "radius_m": 0.32,
        "shape": "lantern",
        "weight_kg": 0.6,
    },
    "big_umbrella": {
        "label": "large umbrella with cover, 1.6 m",
        "loss": 0.9,
        "narrow": 1.5,
        "radius_m": 0.8,
        "shape": "covered_umbrella",
        "weight_kg": 0.9,
    },
}
"""Modifiers: what they take in stops from a bare tube's light, and from a narrow head's or a zoom's, and
the radius of their face (for a strip that of a disc as large). Umbrella, small and deep box: common
practice, from what was met with whole heads; the others from memory, ±0.5 stop. Weights are with the
ring, from memory."""


def modifier_loss(row: ModifierClass, beam: str) -> float:
    """What a modifier takes from a head: from a bare tube's light, or from a narrow one's."""
    return float(row["narrow" if beam == "narrow" else "loss"])
