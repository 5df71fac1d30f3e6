"""Changes to a set-up document: a remedy's fields, lights added and taken away, a day's estimate taken."""

import re
from collections.abc import Mapping
from copy import deepcopy
from typing import Any

from noggin.core.daylight.forecast import Surroundings, forecast, with_lamps
from noggin.core.errors import Refused
from noggin.core.setup.light import ROLES
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.documents.paths import owner_of
from noggin.documents.setup import setup_of
from noggin.forms.entry import Document


def changed(document: Document, change: Mapping[str, Any]) -> dict[str, Any]:
    """A copy with fields set by their paths: `{"lights[0].distance_m": 1.9}`."""
    copy: dict[str, Any] = deepcopy(dict(document))
    for path, value in change.items():
        owner, last = owner_of(copy, path)
        owner[last] = deepcopy(value)
    return copy


def with_light(document: Document, role: str, like: int | None = None) -> dict[str, Any]:
    """A copy with one more light in a role: a bare copy of light number `like`, else of the key.

    Raises Refused for the key's own role, of which there is one, and for a light that is not there.
    """
    if role == "key" or role not in ROLES:
        raise Refused("role", "a picture has one key light: choose fill, rim or background")
    copy: dict[str, Any] = deepcopy(dict(document))
    lights = copy["lights"]
    if like is not None and not 0 <= like < len(lights):
        raise Refused("lights", f"there is no light {like + 1}")
    keys = [index for index, light in enumerate(lights) if light["role"] == "key"]
    light = deepcopy(lights[keys[0] if like is None else like])
    light.update(role=role, relative_level=None, name=_unused(light["name"], lights))
    light.pop("group", None)
    lights.append(light)
    return copy


def without_light(document: Document, index: int) -> dict[str, Any]:
    """A copy without light number `at`. Raises Refused for the key."""
    copy: dict[str, Any] = deepcopy(dict(document))
    if not 0 <= index < len(copy["lights"]):
        raise Refused("lights", f"there is no light {index + 1}")
    if copy["lights"][index]["role"] == "key":
        raise Refused("lights", "the key light cannot go: the others are set relative to it")
    del copy["lights"][index]
    return copy


def _unused(name: str, lights: list[dict[str, Any]]) -> str:
    """The name with a number that no other light has."""
    plain = re.sub(r" \d+$", "", name)
    taken = {light["name"] for light in lights}
    numbers = (f"{plain} {number}".strip() for number in range(2, len(lights) + 3))
    return next(free for free in numbers if free not in taken)


def with_estimate(document: Document) -> dict[str, Any]:
    """A copy with every zone as the day's light gives it at place and time, marked as estimated.

    On open ground; rim and sky only where they are in the picture, and the rim only
    where the sun reaches it. Raises Refused where place and time are not known.
    """
    copy: dict[str, Any] = deepcopy(dict(document))
    moment = setup_of(copy).scene.moment
    if moment is None:
        raise Refused("scene.place", "give a place and a time first")
    light = forecast(moment.place, moment.time, Surroundings())
    zones, scene = copy["scene"]["ev100"], copy["scene"]
    scene.pop("moved_from", None)
    for zone in ZONES:
        level = getattr(light, zone)
        if zones.get(zone) is not None:
            lamps = (scene.get("lamps") or {}).get(zone)
            zones[zone] = None if level is None else round(with_lamps(level, lamps), 1)
    scene["uncertainty"] = dict.fromkeys(ZONES, light.uncertainty)
    return copy


def with_light_of(document: Document, then: SetUp) -> dict[str, Any]:
    """A copy with the zones, their ±, place and time of a core set-up whose moment is known."""
    copy: dict[str, Any] = deepcopy(dict(document))
    scene, moment, before = then.scene, then.scene.moment, then.scene.baseline
    assert moment is not None  # noqa: S101 - it was placed on a day
    zones = {zone: getattr(scene, zone) for zone in ZONES}
    copy["scene"]["ev100"] = {zone: None if ev is None else round(ev, 2) for zone, ev in zones.items()}
    off = {
        "background": round(scene.background_uncertainty, 2),
        "subject": round(scene.subject_uncertainty, 2),
    }
    copy["scene"]["uncertainty"] = {**off, "sky": off["background"], "rim": off["background"]}
    if before is not None:
        copy["scene"]["moved_from"] = {
            "time": before.time.isoformat(timespec="minutes"),
            "sky": before.sky_then,
            "ev100": {zone: getattr(before, zone) for zone in zones},
            "uncertainty": {
                "background": before.background_uncertainty,
                "subject": before.subject_uncertainty,
            },
        }
    place = moment.place
    copy["scene"]["place"] = {
        "lat": place.lat,
        "lon": place.lon,
        "time": moment.time.isoformat(timespec="minutes"),
        "tz": str(moment.time.tzinfo),
        "sky": place.sky,
        "ground": place.ground,
        "facing_deg": place.facing_deg,
    }
    return copy
