"""The figures of daylight and lamps as they are typed on the Bench."""

from collections.abc import Callable
from datetime import date, datetime, timedelta
from typing import Any, Literal, cast

from noggin.core.errors import Unreadable
from noggin.core.physics.flash import FLASH_K
from noggin.core.setup.setup import SetUp
from noggin.core.tables import (
    GROUNDS,
    LAMPS,
    LAMPS_UNCERTAINTY,
    SKIES,
    SOURCES,
)
from noggin.core.typed import parse_quantities, parse_scene
from noggin.core.typed.parse_dates import read_date, with_year_of
from noggin.core.typed.parse_places import read_clock, show_coordinates
from noggin.core.wording import date_words, listed, number, plain
from noggin.documents.fields import uncertainty_of
from noggin.documents.written import PlaceWritten, SetUpWritten, set_up_copy
from noggin.forms.change import follow_forecast
from noggin.forms.entry import (
    Document,
    Entry,
    ev_step,
    kelvin_step,
)
from noggin.forms.places import Whereabouts, near_words, read_place, read_zone


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


def at_place(document: Document, where: str) -> SetUpWritten:
    """A copy at a place and a time, said in one line as one would type it."""
    copy = set_up_copy(document)
    _puts_of_moment(_put_where)(copy, read_place(where))
    return copy


def _puts_of_moment(change: Callable[[dict[str, Any], Any], None]) -> Callable[[SetUpWritten, Any], None]:
    """A change of where and when, after which daylight that nobody read is that of the forecast there and
    then."""

    def puts(document: SetUpWritten, read: Any) -> None:
        scene = document["scene"]
        before: dict[str, Any] = {**(scene.get("place") or {})}
        place = dict(before)
        change(place, read)
        scene["place"] = cast(PlaceWritten, place)
        follow_forecast(scene, before)

    return puts


def _put_where(place: dict[str, Any], read: Whereabouts) -> None:
    place |= {"lat": round(read.lat, 5), "lon": round(read.lon, 5), "tz": read.local_zone}
    if read.date:
        _put_day(place, read.date)
    if read.clock:
        _put_clock(place, read.clock)


def _put_day(place: dict[str, Any], read: str) -> None:
    earlier, _, clock = place.get("time", "").partition("T")
    place["time"] = f"{with_year_of(read, earlier)}T{clock[:5]}"


def _put_clock(place: dict[str, Any], read: str) -> None:
    place["time"] = f"{place.get('time', '').partition('T')[0]}T{read}"


def _put_zone(place: dict[str, Any], read: str) -> None:
    place["tz"] = read


def _lacks(document: Document) -> str:
    """What where and when lack together."""
    place = document["scene"].get("place")
    if not place:
        return ""
    day, _, clock = place.get("time", "").partition("T")
    lacking = [
        words
        for words, given in (("a place", "lat" in place), ("a date", day), ("a time", clock))
        if not given
    ]
    return f"Give {listed(lacking)} too." if lacking else ""


def _put_nowhere_or(change: Callable[[SetUpWritten, Any], None]) -> Callable[[SetUpWritten, Any], None]:
    """Left empty, nothing is said of where and when."""

    def puts(document: SetUpWritten, read: Any) -> None:
        if read is None:
            document["scene"]["place"] = None
        else:
            change(document, read)

    return puts


def _of_moment(part: Callable[[str], str]) -> Callable[[Document], Any]:
    def gives(document: Document) -> Any:
        place = document["scene"].get("place")
        return part(place["time"]) if place else None

    return gives


def _stepped_from(value: Any) -> str:
    if not isinstance(value, str):
        raise Unreadable("give a place and a time first")
    return value


def _shift_day(_: SetUp, value: Any, by: int) -> str:
    value = _stepped_from(value)
    return (date.fromisoformat(value) + timedelta(days=by)).isoformat()


STEP_MIN = 15
"""Step of the time of day, minutes."""


def _shift_clock(_: SetUp, value: Any, by: int) -> str:
    hours, minutes = map(int, _stepped_from(value).split(":"))
    moved = (round((60 * hours + minutes) / STEP_MIN) + by) * STEP_MIN
    moved = max(0, min(moved, 24 * 60 - STEP_MIN))
    return f"{moved // 60:02}:{moved % 60:02}"


def _of_place(name: str) -> Callable[[Document], Any]:
    return lambda document: (document["scene"].get("place") or {}).get(name)


def _put_of_place(name: Literal["sky", "ground", "facing_deg"]) -> Callable[[SetUpWritten, Any], None]:
    def puts(document: SetUpWritten, value: Any) -> None:
        place = document["scene"].get("place")
        if not place:
            raise Unreadable("give a place and a time first")
        before = {**place}
        place[name] = value
        follow_forecast(document["scene"], before)

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
        "Place",
        ("scene", "place"),
        read_place,
        lambda place: show_coordinates(place["lat"], place["lon"]),
        blank="not given; a town or coordinates, with a date and a time, allow a forecast",
        says=lambda document: near_words(
            document["scene"]["place"]["lat"], document["scene"]["place"]["lon"]
        ),
        puts=_put_nowhere_or(_puts_of_moment(_put_where)),
        lacks=_lacks,
        finds="towns",
    ),
    Entry(
        "day",
        "Date",
        ("scene", "place", "time"),
        read_date,
        date_words,
        stepped=_shift_day,
        says=lambda document: f"{datetime.fromisoformat(document['scene']['place']['time']):%A}",
        gives=_of_moment(lambda time: time[:10]),
        puts=_puts_of_moment(_put_day),
        lacks=_lacks,
    ),
    Entry(
        "clock",
        "Time",
        ("scene", "place", "time"),
        read_clock,
        str,
        stepped=_shift_clock,
        gives=_of_moment(lambda time: time[11:16]),
        puts=_puts_of_moment(_put_clock),
        lacks=_lacks,
    ),
    Entry(
        "tz",
        "Time zone",
        ("scene", "place", "tz"),
        read_zone,
        str,
        gives=_of_place("tz"),
        puts=_puts_of_moment(_put_zone),
        lacks=_lacks,
        suggests="zones",
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
