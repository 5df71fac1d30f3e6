"""Changes to a set-up document: a remedy's fields, lights added and taken away, a day's estimate taken."""

import re
from collections.abc import Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from pydantic import ValidationError

from noggin.core.daylight.forecast import Forecast, Surroundings, forecast, with_lamps
from noggin.core.errors import Refused
from noggin.core.pops.corrections import Correction
from noggin.core.setup.light import ROLES
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.units import EV100, Metres
from noggin.documents.lights import LightUncertaintyDocument
from noggin.documents.paths import owner_of
from noggin.documents.setup import PlaceDocument, ZoneUncertaintyDocument, setup_of
from noggin.documents.written import LightWritten, SceneWritten, SetUpWritten, set_up_copy
from noggin.forms.entry import Document


def changed(document: Document, change: Mapping[str, Any]) -> SetUpWritten:
    """A copy with fields set by their paths: `{"lights[0].distance_m": 1.9}`."""
    copy = set_up_copy(document)
    for path, value in change.items():
        owner, last = owner_of(copy, path)
        owner[last] = deepcopy(value)
    return copy


def with_light(document: Document, role: str, like: int | None = None) -> SetUpWritten:
    """A copy with one more light in a role: a bare copy of light number `like`, else of the key.

    Raises Refused for the key's own role, of which there is one, and for a light that is not there.
    """
    if role == "key" or role not in ROLES:
        raise Refused("role", "a picture has one key light: choose fill, rim or background")
    copy = set_up_copy(document)
    lights = copy["lights"]
    if like is not None and not 0 <= like < len(lights):
        raise Refused("lights", f"there is no light {like + 1}")
    keys = [index for index, light in enumerate(lights) if light["role"] == "key"]
    light = deepcopy(lights[keys[0] if like is None else like])
    light["role"], light["relative_level"] = role, None
    light["name"] = _unused(light["name"], lights)
    light.pop("group", None)
    lights.append(light)
    return copy


def without_light(document: Document, index: int) -> SetUpWritten:
    """A copy without light number `at`. Raises Refused for the key."""
    copy = set_up_copy(document)
    if not 0 <= index < len(copy["lights"]):
        raise Refused("lights", f"there is no light {index + 1}")
    if copy["lights"][index]["role"] == "key":
        raise Refused("lights", "the key light cannot go: the others are set relative to it")
    del copy["lights"][index]
    return copy


def _unused(name: str, lights: list[LightWritten]) -> str:
    """The name with a number that no other light has."""
    plain = re.sub(r" \d+$", "", name)
    taken = {light["name"] for light in lights}
    numbers = (f"{plain} {number}".strip() for number in range(2, len(lights) + 3))
    return next(free for free in numbers if free not in taken)


def with_estimate(document: Document) -> SetUpWritten:
    """A copy with every zone as the day's light gives it at place and time, marked as estimated.

    On open ground; rim and sky only where they are in the picture, and the rim only
    where the sun reaches it. Raises Refused where place and time are not known.
    """
    copy = set_up_copy(document)
    moment = setup_of(copy).scene.moment
    if moment is None:
        raise Refused("scene.place", "give a place and a time first")
    light = forecast(moment.place, moment.time, Surroundings())
    zones, scene = copy["scene"]["ev100"], copy["scene"]
    scene.pop("moved_from", None)
    for zone in ZONES:
        level = getattr(light, zone)
        if zones.get(zone) is not None:
            zones[zone] = _with_lamps(scene, zone, level)
    scene["uncertainty"] = dict.fromkeys(ZONES, light.uncertainty)
    return copy


def follow_forecast(scene: SceneWritten, before: Mapping[str, Any]) -> None:
    """Zones of a scene that nobody read, and those that are as the forecast gave them where and when the
    scene was `before`, as it gives them now; the scene itself is changed. Nothing is, until place and time
    are whole."""
    now = _forecast_of(scene.get("place") or {})
    if now is None:
        return
    then, zones = _forecast_of(before), scene["ev100"]
    known = scene.setdefault("uncertainty", {})
    for zone in ZONES:
        was = then and _with_lamps(scene, zone, getattr(then, zone))
        stated, level = known.get(zone, _ZONES_USUAL[zone]), getattr(now, zone)
        forecast_before = then and (zones.get(zone), stated) == (was, then.uncertainty)
        in_picture = zones.get(zone) is not None or forecast_before
        if in_picture and (stated == "assumed" or forecast_before):
            zones[zone] = _with_lamps(scene, zone, level)
            known[zone] = now.uncertainty
            moved = scene.get("moved_from")
            if moved:
                moved["ev100"].pop(zone, None)


def _with_lamps(scene: SceneWritten, zone: str, level: EV100 | None) -> EV100 | None:
    lamps = (scene.get("lamps") or {}).get(zone)
    return None if level is None else round(with_lamps(level, lamps), 1)


def _forecast_of(place: Mapping[str, Any]) -> Forecast | None:
    """The forecast for a place as it is written; None until it is whole."""
    try:
        moment = PlaceDocument(**place).core()
    except (ValidationError, Refused, ValueError):
        return None
    return forecast(moment.place, moment.time, Surroundings())


@dataclass(frozen=True)
class ShotSo:
    """What was shot in the end: in words, and how far lights stood that were moved (metres, by their place
    among the lights)."""

    words: str = ""
    distances: Mapping[int, Metres] = field(default_factory=dict)


def with_frames(
    document: Document,
    begun: Document,
    found: Sequence[Correction],
    frames: int,
    at: datetime,
    shot: ShotSo | None = None,
) -> SetUpWritten:
    """A copy corrected by what some frames say of the set-up as it was when they were `begun`, with lights
    where they stood when it was `shot`. A figure that somebody has changed since stays as they want it."""
    copy, start = _with_uncertainties(document), _with_uncertainties(begun)
    mark, earlier = copy.pop("corrected", None), start.get("corrected")
    if mark and mark != earlier:
        _put_back(copy, {row["path"]: _figure(start, row["path"]) for row in mark["figures"]}, mark)
    figures = {row["path"]: row for row in (earlier["figures"] if earlier else ())}
    shot = shot or ShotSo()
    stood = {f"lights[{index}].distance_m": far for index, far in shot.distances.items()}
    for path, now in {**_moved(start, found), **stood}.items():
        before = _figure(start, path)
        if before is _GONE or _figure(copy, path) != before:
            continue
        owner, last = owner_of(copy, path)
        owner[last] = now
        figures[path] = {
            "path": path,
            "before": figures.get(path, {"before": before})["before"],
            "now": now,
        }
    if figures:
        copy["corrected"] = {
            "frames": frames,
            "at": at.isoformat(timespec="minutes"),
            "figures": list(figures.values()),
            "shot": shot.words,
        }
    return copy


def without_frames(document: Document) -> SetUpWritten:
    """A copy with every figure that frames corrected as it was before them, unless it was changed since."""
    copy = _with_uncertainties(document)
    mark = copy.pop("corrected", None)
    if mark:
        _put_back(copy, {row["path"]: row["before"] for row in mark["figures"]}, mark)
    return copy


def _with_uncertainties(document: Document) -> SetUpWritten:
    """A copy with every ± written out, also where it is the usual one."""
    copy = set_up_copy(document)
    scene = copy["scene"]
    scene["uncertainty"] = _ZONES_USUAL | scene.get("uncertainty", {})
    for light in copy["lights"]:
        light["uncertainty"] = _LIGHT_USUAL | light.get("uncertainty", {})
    return copy


_ZONES_USUAL = {zone: getattr(ZoneUncertaintyDocument(), zone) for zone in ZONES}
_LIGHT_USUAL = LightUncertaintyDocument().model_dump()

_GONE = object()


def _figure(document: Document, path: str) -> Any:
    try:
        owner, last = owner_of(document, path)
        return owner[last]
    except (Refused, KeyError, IndexError, TypeError):
        return _GONE


def _put_back(document: SetUpWritten, figures: Mapping[str, Any], mark: Mapping[str, Any]) -> None:
    for row in mark["figures"]:
        before = figures[row["path"]]
        if before is not _GONE and _figure(document, row["path"]) == row["now"]:
            owner, last = owner_of(document, row["path"])
            owner[last] = before


def _moved(begun: SetUpWritten, found: Sequence[Correction]) -> dict[str, float]:
    """Every figure by its path, as corrections make it. A light's whole offset goes to its guide number:
    frames do not tell it from the loss before it."""
    scene, figures = begun["scene"], dict[str, float]()
    for one in found:
        uncertainty = round(one.uncertainty, 2)
        ev = scene["ev100"].get(one.of)
        if one.of in ZONES and ev is not None:
            figures[f"scene.ev100.{one.of}"] = round(ev + one.offset, 2)
            figures[f"scene.uncertainty.{one.of}"] = uncertainty
        elif one.of.startswith("light "):
            index = int(one.of.removeprefix("light "))
            light = begun["lights"][index]
            figures[f"lights[{index}].gn_m"] = round(light["gn_m"] * 2 ** (one.offset / 2), 2)
            figures[f"lights[{index}].uncertainty.gn_m"] = uncertainty
            figures[f"lights[{index}].uncertainty.loss"] = 0.0
        elif one.of == "toll":
            for index, light in enumerate(begun["lights"]):
                toll = light["hss_toll"]
                if light["role"] == "key" and toll is not None:
                    figures[f"lights[{index}].hss_toll"] = round(toll + one.offset, 2)
                    figures[f"lights[{index}].uncertainty.hss_toll"] = uncertainty
    return figures


def with_light_of(document: Document, then: SetUp) -> SetUpWritten:
    """A copy with the zones, their ±, place and time of a core set-up whose moment is known."""
    copy = set_up_copy(document)
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
