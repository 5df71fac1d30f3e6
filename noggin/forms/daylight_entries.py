"""The figures of daylight and lamps as they are typed on the Bench."""

from collections.abc import Callable, Mapping
from typing import Any, Literal, cast

from noggin.core.errors import Unreadable
from noggin.core.physics.flash import FLASH_K
from noggin.core.tables import (
    GROUNDS,
    LAMPS,
    LAMPS_UNCERTAINTY,
    SKIES,
    SOURCES,
)
from noggin.core.typed import parse_quantities, parse_scene
from noggin.core.typed.parse_places import read_where
from noggin.core.wording import number, plain
from noggin.documents.fields import uncertainty_of
from noggin.documents.written import PlaceWritten, SetUpWritten
from noggin.forms.entry import (
    Document,
    Entry,
    ev_step,
    kelvin_step,
)


def _zone(zone: str, label: str, blank: str = "") -> Entry:
    """How bright one zone is: assumed until it is typed, read or estimated. A word of the trade is an
    estimate."""

    def gives(document: Document) -> Any:
        return document["scene"]["ev100"].get(zone)

    def puts(document: SetUpWritten, read: Any) -> None:
        scene = document["scene"]
        level, uncertainty = (None, None) if read is None else read
        scene["ev100"][zone] = None if level is None else round(level, 2)
        known = scene.setdefault("uncertainty", {})
        known[zone] = "measured" if uncertainty in (MEASURED, None) else uncertainty
        moved = scene.get("moved_from")
        if moved:
            moved["ev100"].pop(zone, None)

    def known(document: Document) -> str:
        stated = document["scene"].get("uncertainty", {}).get(zone, "measured")
        uncertainty = uncertainty_of(stated)
        how = "read" if uncertainty <= MEASURED else "estimated"
        return f"{'assumed' if stated == 'assumed' else how} ± {plain(uncertainty)}"

    return Entry(
        f"ev_{zone}",
        label,
        ("scene", "ev100", zone),
        parse_scene.read_zone,
        plain,
        "EV",
        ev_step,
        blank=blank,
        start=lambda setup: setup.scene.background,
        says=known,
        gives=gives,
        puts=puts,
    )


def _lamps(zone: str, label: str) -> Entry:
    """What lamps alone give a zone: by day they do not count, by night they are what is there."""

    def puts(document: SetUpWritten, lamps: float | None) -> None:
        scene = document["scene"]
        scene["lamps"] = {**(scene.get("lamps") or {}), zone: lamps}

    return Entry(
        f"lamps_{zone}",
        label,
        ("scene", "lamps", zone),
        parse_scene.read_lamps,
        plain,
        "EV",
        ev_step,
        blank="none said",
        start=lambda _: LAMPS["fairy"].ev,
        hint=lambda _: f"± {plain(LAMPS_UNCERTAINTY)}; the zone's own figure holds them",
        gives=lambda document: (document["scene"].get("lamps") or {}).get(zone),
        puts=puts,
    )


MEASURED = SOURCES["measured"].uncertainty


def _show_where(place: Mapping[str, Any]) -> str:
    day, clock = place["time"][:10], place["time"][11:16]
    return f"{number(place['lat'], 4)}, {number(place['lon'], 4)} {day} {clock} {place['tz']}"


def _put_where(document: SetUpWritten, read: Any) -> None:
    scene = document["scene"]
    if read is None:
        scene["place"] = None
        return
    lat, lon, time, zone = read
    earlier: Mapping[str, Any] = scene.get("place") or {}
    place = {**earlier, "lat": lat, "lon": lon, "time": time, "tz": zone}
    scene["place"] = cast(PlaceWritten, place)


def _of_place(name: str) -> Callable[[Document], Any]:
    return lambda document: (document["scene"].get("place") or {}).get(name)


def _put_of_place(name: Literal["sky", "ground", "facing_deg"]) -> Callable[[SetUpWritten, Any], None]:
    def puts(document: SetUpWritten, value: Any) -> None:
        place = document["scene"].get("place")
        if not place:
            raise Unreadable("give a place and a time first")
        place[name] = value

    return puts


DAYLIGHT_ENTRIES = (
    _zone("background", "Background"),
    _zone("subject", "Faces, in shade"),
    _zone("sky", "Sky", blank="not in frame"),
    _zone("rim", "Sunlit rim", blank="no direct sun"),
    _lamps("background", "Lamps on the background"),
    _lamps("subject", "Lamps on the faces"),
    Entry(
        "daylight_colour",
        "Colour of daylight",
        ("scene", "daylight_k"),
        parse_quantities.read_kelvin,
        number,
        "K",
        kelvin_step,
        blank="estimated from sun and sky",
        start=lambda _: float(FLASH_K),
    ),
    Entry(
        "where",
        "Where and when",
        ("scene", "place"),
        read_where,
        _show_where,
        blank="not given; coordinates, date, time and zone allow a forecast",
        puts=_put_where,
    ),
    Entry(
        "sky_kind",
        "Sky",
        ("scene", "place"),
        str,
        str,
        choices={key: sky.label for key, sky in SKIES.items()},
        gives=_of_place("sky"),
        puts=_put_of_place("sky"),
    ),
    Entry(
        "ground",
        "Ground",
        ("scene", "place"),
        str,
        str,
        choices={key: ground.label for key, ground in GROUNDS.items()},
        gives=_of_place("ground"),
        puts=_put_of_place("ground"),
    ),
    Entry(
        "facing",
        "Camera looks toward",
        ("scene", "place"),
        parse_quantities.read_degrees,
        lambda value: number(value, 1),
        "°",
        lambda _, value, by: (value + 5 * by) % 360,
        blank="not given: the sunlit side faces the sun",
        gives=_of_place("facing_deg"),
        puts=_put_of_place("facing_deg"),
    ),
)
"""Every one of them."""
